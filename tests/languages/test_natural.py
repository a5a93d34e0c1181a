"""Codemods as people write them first: what is valid code somewhere is read as that."""

import random

import pytest

from yellow_trellis import Rule
from yellow_trellis.languages import language as language_called
from yellow_trellis.languages.rust.macros import shown_as_calls
from yellow_trellis.patterns import PatternError, compile_pattern

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
    # brackets that are never needed are meant
    ("c", "return (@{x});", "return @{x};",
     "int f() { if (a) return (a);\n  return(b + 1); }", "int f() { if (a) return a;\n  return b + 1; }"),
    ("tsx", "return (<@{T}>@{k*}</@{T}>);", "return <@{T}>@{k*}</@{T}>;",
     "function F() { return (<a>b</a>); }", "function F() { return <a>b</a>; }"),
    ("python", "go((@{x}))", "go(@{x})", "go((a))\ngo(b)\n", "go(a)\ngo(b)\n"),
    ("c", "if (@{p} != NULL) { @{b*} }", "if (@{p}) { @{b*} }",
     "void f() { if ((a = b()) != NULL) { g(); } }", "void f() { if ((a = b())) { g(); } }"),
    # parts of statements, of lists and of elements
    ("c", "else if (@{c}) { @{b*} }", "else if (likely(@{c})) { @{b*} }",
     "void f() { if (a) { g(); } else if (b) { h(); } }",
     "void f() { if (a) { g(); } else if (likely(b)) { h(); } }"),
    ("rust", "else { @{b*} }", "else { say(); @{b*} }",
     "fn f() { if a { b(); } else { c(); } }", "fn f() { if a { b(); } else { say(); c(); } }"),
    ("java", "finally { @{b*} }", "finally { say(); @{b*} }",
     "class A { void f() { try { a(); } finally { b(); } } }",
     "class A { void f() { try { a(); } finally { say(); b(); } } }"),
    ("cpp", "const std::string& @{p}", "std::string_view @{p}",
     "int f(const std::string& a, int b);", "int f(std::string_view a, int b);"),
    ("go", "case @{x}: return @{r}", "case @{x}: return same(@{r})",
     "package a\n\nfunc f() int {\n\tswitch x {\n\tcase 1:\n\t\treturn 2\n\t}\n}\n",
     "package a\n\nfunc f() int {\n\tswitch x {\n\tcase 1:\n\t\treturn same(2)\n\t}\n}\n"),
    ("swift", "case .@{c}: return @{r}", "case .@{c}: return same(@{r})",
     "switch x {\ncase .a: return 1\n}\n", "switch x {\ncase .a: return same(1)\n}\n"),
    ("ruby", "rescue @{e}\n  @{b+}", "rescue Known, @{e}\n  @{b+}",
     "begin\n  a\nrescue E\n  b\nend\n", "begin\n  a\nrescue Known, E\n  b\nend\n"),
    ("tsx", "onClick={() => @{e}}", "onPress={() => @{e}}",
     "x = <y onClick={() => a()} />;", "x = <y onPress={() => a()} />;"),
    ("tsx", "{@{c} && <@{E} />}", "{@{c} ? <@{E} /> : null}",
     "x = <y>{a && <b />}</y>;", "x = <y>{a ? <b /> : null}</y>;"),
    ("pascal", "procedure @{p}(@{a*}); begin @{b*} end;", "procedure @{p}(@{a*}); begin Say; @{b*} end;",
     "procedure F(x: T);\nbegin\n  G;\nend;\n", "procedure F(x: T);\nbegin\n  Say;\n  G;\nend;\n"),
    # what is written is a type, a module's names, a class, where it comes to stand
    ("go", "map[string]@{T}", "Names[@{T}]",
     "package a\n\nvar x map[string]int\nvar y = make(map[string]bool)\n",
     "package a\n\nvar x Names[int]\nvar y = make(Names[bool])\n"),
    ("javascript", "const @{x} = require(@{m})", "import @{x} from @{m}",
     "const a = require('a')\nconst { b, c } = require('b')\n",
     "import a from 'a'\nimport { b, c } from 'b'\n"),
    ("swift", "class @{C}: @{B} { @{m*} }", "final class @{C}: @{B} { @{m*} }",
     "class A: B {\n  let x = 1\n}\n", "final class A: B {\n  let x = 1\n}\n"),
    ("typescript", "Array<@{T}>", "@{T}[]",
     "let a: Array<string | null>;\nlet b: Array<() => void>;\nlet c: Array<A>;\n",
     "let a: (string | null)[];\nlet b: (() => void)[];\nlet c: A[];\n"),
    # a statement ends once
    ("pascal", "if Assigned(@{x}) then @{s}", "if @{x} <> nil then @{s}",
     "procedure F;\nbegin\n  if Assigned(a) then Go;\n  x := 1;\nend;\n",
     "procedure F;\nbegin\n  if a <> nil then Go;\n  x := 1;\nend;\n"),
    ("rust", "go((@{a}, end,))", "go((end, @{a}))", "fn f() { go((a.b, end,)); }",
     "fn f() { go((end, a.b)); }"),
    # what comes into a body on lines of its own is on one, and so are the braces around it
    ("java", "void @{m}() { @{b*} }", "void @{m}() { go(); @{b*} done(); }",
     "class A {\n    void f() {\n        g(a);\n        h(); // x\n    }\n    void g() { h(); }\n}\n",
     "class A {\n    void f() {\n        go();\n        g(a);\n        h(); // x\n        done();\n    }\n"
     "    void g() { go(); h(); done(); }\n}\n"),
    ("go", "if @{c} { return @{x} }", "if @{c} { log(); return @{x} }",
     "package a\n\nfunc f() int {\n\tif c {\n\t\treturn 1\n\t}\n\treturn 2\n}\n",
     "package a\n\nfunc f() int {\n\tif c {\n\t\tlog()\n\t\treturn 1\n\t}\n\treturn 2\n}\n"),
    ("java", "if (@{c}) @{s} else @{t}", "if (@{c}) { @{s} } else { @{t} }",
     "class A {\n    void f() {\n        if (a)\n            g(a); // why\n        else // or\n"
     "            h();\n    }\n}\n",
     "class A {\n    void f() {\n        if (a) {\n            g(a); // why\n        } else { // or\n"
     "            h();\n        }\n    }\n}\n"),
    ("pascal", "if @{c} then @{s}", "if @{c} then begin @{s} end",
     "procedure F;\nbegin\n  if a then\n    Go;\n  x := 1;\nend;\n",
     "procedure F;\nbegin\n  if a then begin\n    Go;\n  end;\n  x := 1;\nend;\n"),
    ("ruby", "@{x}.each { |@{v}| @{b*} }", "@{x}.each do |@{v}| @{b*} end",
     "a.each { |q|\n  go(q)\n  say\n}\n", "a.each do |q|\n  go(q)\n  say\nend\n"),
    # what a macro is called with is code
    ("rust", "assert_eq!(@{a}, @{b});", "check_eq!(@{b}, @{a});",
     "fn f() {\n    assert_eq!(a.b(c), vec![1]);\n    assert_eq(1, 2);\n}\n",
     "fn f() {\n    check_eq!(vec![1], a.b(c));\n    assert_eq(1, 2);\n}\n"),
    ("rust", "println!(@{a*})", "say!(@{a*})",
     'fn f() { println!("{}", a); println!(); }', 'fn f() { say!("{}", a); say!(); }'),
    ("rust", "@{x}.unwrap()", "@{x}?",
     'fn f() { println!("{}", g(a.unwrap())); }', 'fn f() { println!("{}", g(a?)); }'),
    ("rust", "return Err(@{e});", "bail!(@{e});",
     "fn f() {\n    return Err(a.b(c));\n}\n", "fn f() {\n    bail!(a.b(c));\n}\n"),
    ("rust", "a == b", "c",  # tokens, patterns, named arguments, and definitions stay what they are
     'fn f() { stringify!(a == b); say!("{x}", x = a == b); }\n'
     "macro_rules! m { ($e:expr) => { assert!(a == b) } }\n",
     'fn f() { stringify!(a == b); say!("{x}", x = a == b); }\n'
     "macro_rules! m { ($e:expr) => { assert!(a == b) } }\n"),
]  # rows


@pytest.mark.parametrize(("language", "find", "put", "code", "result"), NATURAL)
def test_what_people_write_first_matches(
    language: str, find: str, put: str, code: str, result: str
) -> None:
    rule = Rule("r", summary="s", find=find, put=put, language=language, once=True)
    done = rule.fix(code)
    assert (done.code, [refused.reason for refused in done.refused]) == (result, [])


@pytest.mark.parametrize("language", ["java", "csharp", "go", "swift"])
def test_an_else_without_its_if_is_refused_where_it_is_no_node(language: str) -> None:
    head = "else if (@{c})" if language in ("java", "csharp") else "else if @{c}"
    with pytest.raises(PatternError, match="write both, or only the inner `if`"):
        compile_pattern(head + " { @{b*} }", language_called(language))


@pytest.mark.parametrize("language", ["java", "ruby"])
def test_a_called_member_by_meaning_is_refused_with_what_to_write(language: str) -> None:
    with pytest.raises(PatternError, match="is not known") as caught:
        compile_pattern("f(@<a.B.c>(@{x}))", language_called(language))
    assert "@<a.B>.c(...)" in caught.value.hint and caught.value.at == 2


def test_calls_of_macros_are_shown_as_calls_by_their_own_text_alone() -> None:
    takes = language_called("rust")._takes
    pieces = [
        b"f!(a, b);", b"f!(a => b);", b"f!(x = 1);", b"(", b")", b"{", b"}", b"'a", b"'('", b'"(', b'"',
        b"f!(g!(a), h!(b;)); ", b"// f!(\n", b"/* ) */", b"\xc3\xa9!(a)", b"r#\"(\"# ", b"f!(", b"a, ",
    ]
    chance = random.Random(3)
    for _ in range(1500):
        data = b"fn a() { " + b"".join(chance.choices(pieces, k=chance.randrange(9))) + b" }"
        shown = shown_as_calls(data, takes)
        assert len(shown) == len(data)
        for at, (new, old) in enumerate(zip(shown, data, strict=True)):
            assert new == old or (chr(old), chr(new)) == ("!", "_"), (data, at)
    shown = shown_as_calls(b"fn a() { f!(b); f!(b => c); g!(f!(x)); }", takes)
    assert shown == b"fn a() { f_(b); f!(b => c); g_(f_(x)); }"


TOPS = [  # language, pattern, template, code that is right at the top, code that is not
    ("go", "var @{n} []@{T}", "@{n} := []@{T}{}", "package a\n\nfunc f() {\n\tvar x []int\n}\n",
     "package a\n\nvar x []int\n"),
    ("c", "int @{x} = @{v};", "if (@{v}) go(@{x});", "void f() { int x = 1; }", "int x = 1;\n"),
    ("rust", "go!(@{v});", "let a = @{v};", "fn f() { go!(b); }", "go!(b);\n"),
    ("javascript", "go(@{x})", "import @{x} from 'x'", "go(a)\n", "function f() { go(a) }\n"),
    ("typescript", "const @{x} = 1;", "export const @{x} = 1;", "namespace A { const b = 1; }\n",
     "function f() { const b = 1; }\n"),
]


@pytest.mark.parametrize(("language", "find", "put", "right", "wrong"), TOPS)
def test_what_stands_in_functions_or_at_the_top_only_is_not_put_elsewhere(
    language: str, find: str, put: str, right: str, wrong: str
) -> None:
    rule = Rule("r", summary="s", find=find, put=put, language=language, once=True)
    done = rule.fix(right)
    assert done.code != right and not done.refused
    done = rule.fix(wrong)
    assert done.code == wrong
    assert "the compiler would read the new text as another tree" in done.refused[0].reason
