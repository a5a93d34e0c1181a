"""Codemods as people write them first: what is valid code somewhere is read as that."""

import pytest

from yellow_trellis import Rule

NATURAL = [  # language, pattern, template, code, what becomes of it
    ("java", "catch (E e) {}", "catch (E ignored) {}",
     "class A { void f() { try { a(); } catch (E e) {} } }",
     "class A { void f() { try { a(); } catch (E ignored) {} } }"),
    ("csharp", "catch (E e) {}", "catch (E) {}",
     "class A { void F() { try { a(); } catch (E e) {} } }",
     "class A { void F() { try { a(); } catch (E) {} } }"),
    ("cpp", "catch (E& e) {}", "catch (...) {}",
     "void f() { try { a(); } catch (E& e) {} }", "void f() { try { a(); } catch (...) {} }"),
    ("swift", "catch {}", "catch { log() }",
     "func f() { do { try a() } catch {} }", "func f() { do { try a() } catch { log() } }"),
    ("java", "@Test", "@Check",
     "class A { @Test public void f() {} @Test void g() {} }",
     "class A { @Check public void f() {} @Check void g() {} }"),
    ("csharp", "[Obsolete(@{s})]", "[Old(@{s})]",
     'class A { [Obsolete("x")] void F() {} }', 'class A { [Old("x")] void F() {} }'),
    ("typescript", "Array<@{T}>", "@{T}[]", "let a: Array<string>;", "let a: string[];"),
    ("javascript", "switch (a) { @{c*} }", "switch (go(a)) { @{c*} }",
     "switch (a) { case 1: b(); }", "switch (go(a)) { case 1: b(); }"),
    # functions that get another form, their parameters with types
    ("java", "new F() { public @{T} apply(@{p*}) { return @{x}; } }", "(@{p*}) -> @{x}",
     "class A { F f = new F() { public int apply(int a, String b) { return a; } }; }",
     "class A { F f = (int a, String b) -> a; }"),
    ("csharp", "delegate (@{p*}) { @{b*} }", "(@{p*}) => { @{b*} }",
     "class A { F f = delegate (int a, string b) { go(a); }; }",
     "class A { F f = (int a, string b) => { go(a); }; }"),
    ("ruby", "@{x}.each do |@{v}|\n  @{b+}\nend", "for @{v} in @{x}\n  @{b+}\nend",
     "a.each do |q|\n  go(q)\nend\n", "for q in a\n  go(q)\nend\n"),
    ("csharp", "namespace @{N} { @{b*} }", "namespace @{N};\n@{b*}",
     "namespace A.B\n{\n    // why\n    class C\n    {\n        int x;\n    }\n}\n",
     "namespace A.B;\n// why\nclass C\n{\n    int x;\n}\n"),
    # a word in a comment or a text is no name that is taken
    ("go", "@<io/ioutil.ReadAll>(@{r})", "@<io.ReadAll>(@{r})",
     'package a\n\n// io, in short\nimport "io/ioutil"\n\nfunc f() { ioutil.ReadAll(x) }\n',
     'package a\n\n// io, in short\nimport "io"\n\nfunc f() { io.ReadAll(x) }\n'),
]  # rows


@pytest.mark.parametrize(("language", "find", "put", "code", "result"), NATURAL)
def test_what_people_write_first_matches(
    language: str, find: str, put: str, code: str, result: str
) -> None:
    done = Rule("r", summary="s", find=find, put=put, language=language).fix(code)
    assert (done.code, [refused.reason for refused in done.refused]) == (result, [])
