"""Heads with anything in them: what a pattern leaves open, and what code may lack."""

import random
from collections.abc import Iterator
from pathlib import Path

import pytest

from yellow_trellis import Example, Rule
from yellow_trellis.authoring.example_runner import prove_rule
from yellow_trellis.patterns import PatternError, compile_pattern, explain
from yellow_trellis.patterns.match import Match
from yellow_trellis.patterns.open_heads import open_head

HEADS = {  # by language: pattern, template that has another body, body it gets, what heads carry
    "python": (
        "def @{f}(@{p*}): @{b*}", "def @{f}(@{p*}): done()", "pass", "done()",
        ("", "async "), "def f", ("", "[T]", "[T: int, *U]"), "(a, b=1)", ("", " -> int"), ": ",
    ),
    "rust": (
        "fn @{f}(@{p*}) { @{b*} }", "fn @{f}(@{p*}) { done(); }", " go(); ", " done(); ",
        ("", "pub ", "pub(crate) async ", "unsafe extern \"C\" "), "fn f", ("", "<'a, T: X>"),
        "(a: u8)", ("", " -> T", " -> T where T: X", " where T: X,"), " {",
    ),
    "java": (
        "void @{f}(@{p*}) { @{b*} }", "void @{f}(@{p*}) { done(); }", " go(); ", " done(); ",
        ("", "public static ", "@A @B(c = 1) final ", "<T> ", "protected <T> "), "void f", ("",),
        "(int a)", ("", " throws E, F"), " {",
    ),
    "csharp": (
        "void @{f}(@{p*}) { @{b*} }", "void @{f}(@{p*}) { done(); }", " go(); ", " done(); ",
        ("", "public static ", "[A] [B(1)] override ", "internal async "), "void f",
        ("", "<T>", "<T, U>"), "(int a)", ("", " where T : X"), " {",
    ),
    "typescript": (
        "function @{f}(@{p*}) { @{b*} }", "function @{f}(@{p*}) { done(); }", " go(); ", " done(); ",
        ("", "async "), "function f", ("", "<T>", "<T extends X>"), "(a: T)",
        ("", ": void", ": asserts a is T"), " {",
    ),
    "cpp": (
        "int @{f}(@{p*}) { @{b*} }", "int @{f}(@{p*}) { done(); }", " go(); ", " done(); ",
        ("", "static ", "virtual inline ", "[[nodiscard]] constexpr "), "int f", ("",), "(int a)",
        ("", " const", " noexcept override", " const final"), " {",
    ),
    "swift": (
        "func @{f}(@{p*}) { @{b*} }", "func @{f}(@{p*}) { done() }", " go() ", " done() ",
        ("", "public static ", "@objc private ", "mutating "), "func f", ("", "<T>"), "(a: Int)",
        ("", " throws", " async throws -> Int", " -> T where T: X"), " {",
    ),
    "go": (
        "func @{f}(@{p*}) { @{b*} }", "func @{f}(@{p*}) { done() }", " go1() ", " done() ",
        ("",), "func f", ("", "[T any]"), "(a T)", ("", " int", " (int, error)"), " {",
    ),
    "php": (
        "function @{f}(@{p*}) { @{b*} }", "function @{f}(@{p*}) { done(); }", " go(); ", " done(); ",
        ("", "#[A] "), "function f", ("",), "($a)", ("", ": int", " : ?T"), " {",
    ),
}  # rows


def _heads(language: str) -> Iterator[tuple[str, str, list[str]]]:
    """Yield code with a head, the same with another body, and what the head carries."""
    _, _, body, other, before, name, behind, parameters, results, start = HEADS[language]
    lead = {"php": "<?php\n", "go": "package a\n"}.get(language, "")
    inside = language in ("java", "csharp", "cpp")
    for first in before:
        for second in behind:
            for third in results:
                head = f"{first}{name}{second}{parameters}{third}{start}"
                code, changed = ((head + b) for b in (body, other))
                end = "" if language == "python" else "}"
                opening, closing = ("class A { ", " }") if inside else ("", "")
                opening, closing = lead + opening, end + closing + (";" if language == "cpp" else "")
                carried = [part.strip() for part in (first, second, third) if part.strip()]
                yield f"{opening}{code}{closing}\n", f"{opening}{changed}{closing}\n", carried


@pytest.mark.parametrize("language", HEADS)
def test_a_pattern_left_open_finds_every_head_and_its_fix_keeps_them(language: str) -> None:
    find, put, *_ = HEADS[language]
    plain = compile_pattern(find, language)
    opened = open_head(plain)
    assert opened is not None
    names = frozenset(opened.pattern.open_keys)
    rule = Rule("r", summary="s", find=opened.needed(names), put=put, language=language, once=True)
    for code, changed, carried in _heads(language):
        (match,) = opened.pattern.search(code)
        taken = "".join("".join(_text(match, name)) for name in sorted(names, key=_number))
        assert _bare("".join(carried)) == _bare(taken), code
        assert len(plain.search(code)) == (not carried), code
        done = rule.fix(code)
        assert (done.code, [refused.reason for refused in done.refused]) == (changed, []), code


def _number(name: str) -> int:
    return int("".join(char for char in name if char.isdigit()))


def _text(match: Match, name: str) -> Iterator[str]:
    nodes = match.taken(name)
    if nodes:
        yield match.tree.source.data[nodes[0].start : nodes[-1].end].decode()


def _bare(text: str) -> str:
    return "".join(text.split())


@pytest.mark.parametrize(("language", "find", "code", "taken"), [
    ("python", "def @{f}()@{? -> @{T}}: @{b*}", "def f() -> int: pass", {"T": ["int"]}),
    ("python", "def @{f}()@{? -> @{T}}: @{b*}", "def f(): pass", {"T": []}),
    ("python", "@{a?= async } def @{f}(): @{b*}", "async def f(): pass", {"a": ["async"]}),
    ("python", "class @{C}@{?(@{bases*})}: @{b*}", "class A(B, C): pass", {"bases": ["B", "C"]}),
    ("python", "class @{C}@{?(@{bases*})}: @{b*}", "class A: pass", {"bases": []}),
    ("java", "@{? public} @{? static} class @{C} { }", "static class A { }", {}),
    ("java", "@{? public} @{? static} class @{C} { }", "public static class A { }", {}),
    ("java", "@{? public} @{? static} class @{C} { }", "class A { }", {}),
    ("java", "@{a~} public @{b~} class @{C} { }", "@X public final class A { }",
     {"a": ["@X"], "b": ["final"]}),
    ("rust", "fn @{f}() @{? -> @{T}} @{w~} { }", "fn f() -> u8 where T: X { }",
     {"T": ["u8"], "w": ["where T: X"]}),
    ("typescript", "class @{C} @{? extends @{B}} { }", "class A extends B { }", {"B": ["B"]}),
    ("typescript", "@{~} class @{C} { }", "abstract class A { }", {}),
    ("javascript", "function @{~} @{f}() { }", "function* f() { }", {}),
    ("go", "func @{f}() { @{b*} }", "package a\nfunc f() {}", {"b": []}),
    ("swift", "func @{f}() { @{b*} }", "func f() {}", {"b": []}),
])  # fmt: rows
def test_code_that_may_be_missing(
    language: str, find: str, code: str, taken: dict[str, list[str]]
) -> None:
    (match,) = compile_pattern(find, language).search(code)
    assert {name: [node.text for node in match.run_of(name)] for name in taken} == taken


def test_a_part_that_may_be_missing_finds_what_the_patterns_with_and_without_it_find() -> None:
    chance = random.Random(4)
    parts = ["@{? async }", "@{?[@{t+}]}", "@{? -> @{r}}"]
    heads = [
        f"{a}def f{t}(x){r}: pass\n"
        for a in ("", "async ") for t in ("", "[T]") for r in ("", " -> int", " -> str")
    ]
    for _ in range(60):
        keep = [chance.choice(("both", "with", "without")) for _ in parts]
        texts = [_written(part, how) for part, how in zip(parts, keep, strict=True)]
        pattern = "{}def f{}(x){}: pass".format(*texts)
        code = "".join(chance.sample(heads, 7))
        found = {match.span for match in compile_pattern(pattern).search(code)}
        apart = set()
        for number in range(8):
            ways = [
                how if how != "both" else ("with", "without")[number >> at & 1]
                for at, how in enumerate(keep)
            ]
            texts = [_written(part, how) for part, how in zip(parts, ways, strict=True)]
            single = "{}def f{}(x){}: pass".format(*texts)
            apart |= {match.span for match in compile_pattern(single).search(code)}
        assert found == apart, pattern


def _written(part: str, how: str) -> str:
    if how == "without":
        return ""
    return part if how == "both" else part[3:-1].lstrip() if part[3] != "[" else part[3:-1]


@pytest.mark.parametrize(("language", "find", "put", "code", "result"), [
    # a part of the template is written where what is in it was taken
    ("python", "def @{f}()@{? -> @{T}}: @{b*}", "def @{f}()@{? -> Maybe[@{T}]}: @{b*}",
     "def f() -> int:  # why\n    go()\n\n\ndef g(): pass\n",
     "def f() -> Maybe[int]:  # why\n    go()\n\n\ndef g(): pass\n"),
    ("typescript", "@{a?= async} function @{f}() { @{b*} }",
     "@{a?= async} function @{f}() { @{a?= await} go(); @{b*} }",
     "async function f() { x(); }\nfunction g() { y(); }\n",
     "async function f() { await go(); x(); }\nfunction g() { go(); y(); }\n"),
    # a part moves with its name, and stays by itself without
    ("java", "@{a~} public @{m~} class @{C} { @{b*} }", "@{a~} @{m~} class @{C} { @{b*} }",
     "/** Why. */\n@X\npublic  final class A { int y; }\npublic class B {}\n",
     "/** Why. */\n@X\nfinal class A { int y; }\nclass B {}\n"),
    ("rust", "@{~} fn @{f}@{~}(@{p*}) @{? -> @{T}} @{~} { @{b*} }",
     "fn @{f}(@{p*}) @{? -> Option<@{T}>} { log(); @{b*} }",
     "#[x]\npub async fn f<T>(x: T) -> u8\nwhere\n    T: X, // why\n{\n    y()\n}\n",
     None),
    ("csharp", "class @{C} @{? : @{B}} { @{b*} }", "class @{C} { int x; @{b*} }",
     "class A : B { int y; }\nclass D { int y; }\n",
     "class A : B { int x; int y; }\nclass D { int x; int y; }\n"),
    ("ruby", "class @{C} @{~}\n  @{b*}\nend", "class @{C}\n  include Log\n  @{b*}\nend",
     "class B < C # why\n  x\nend\nclass D\n  y\nend\n",
     "class B < C # why\n  include Log\n  x\nend\nclass D\n  include Log\n  y\nend\n"),
    ("python", "@{~} def @{f}(@{p*}) @{~}: @{b*}", "def @{f}(self, @{p*}): @{b*}",
     "@x\nasync def f(a) -> int:  # why\n    return 1\n\ndef g(): pass\n",
     "@x\nasync def f(self, a) -> int:  # why\n    return 1\n\ndef g(self): pass\n"),
])  # fmt: rows
def test_templates_of_heads(
    language: str, find: str, put: str, code: str, result: str | None
) -> None:
    if result is None:
        with pytest.raises(Exception, match="no certain place for what `@{~}` takes"):
            Rule("r", summary="s", find=find, put=put, language=language).fix(code)
        return
    done = Rule("r", summary="s", find=find, put=put, language=language, once=True).fix(code)
    assert (done.code, [refused.reason for refused in done.refused]) == (result, [])


@pytest.mark.parametrize(("language", "code", "reason"), [
    ("php", "<?php\nfinal class A { }", "the head has `final` already, at 2:1"),
    ("php", "<?php\nabstract class A { }", "`final` does not go with `abstract`, at 2:1"),
    ("java", "public abstract class A { }", "`final` does not go with `abstract`, at 1:8"),
    ("java", "@X final class A { }", "the head has `final` already, at 1:4"),
    ("swift", "open class A { }", "`final` does not go with `open`, at 1:1"),
    ("swift", "public final class A { }", "the head has `final` already, at 1:8"),
])  # fmt: rows
def test_a_head_gets_no_word_that_does_not_go_with_what_it_keeps(
    language: str, code: str, reason: str
) -> None:
    rule = Rule(
        "r", summary="s", find="@{~} class @{C} { @{b*} }", put="final class @{C} { @{b*} }",
        language=language, once=True,
    )
    done = rule.fix(code)
    assert (done.code, [refused.reason for refused in done.refused]) == (code, [reason])


@pytest.mark.parametrize(("language", "code", "result"), [
    ("swift", "public class A: String, C { }", "public class A: Text, C { }"),
    ("swift", "@objc(X) class A: String { }", "@objc(X) class A: Text { }"),
    ("csharp", "class A : String, C { }", "class A : Text, C { }"),
])  # fmt: rows
def test_a_comma_between_what_is_said_and_what_is_left_open_stays(
    language: str, code: str, result: str
) -> None:
    find = "@{~} class @{C}: String @{~} { @{b*} }"
    rule = Rule("r", summary="s", find=find, put="class @{C}: Text { @{b*} }", language=language)
    done = rule.fix(code)
    assert (done.code, [refused.reason for refused in done.refused]) == (result, [])


@pytest.mark.parametrize(("find", "put", "reason"), [
    ("def @{f}(@{? a @{~}}): @{b*}", None, "stands in another"),
    ("def @{f}()@{? }: @{b*}", None, "has no code"),
    ("@{f~} def @{f}(): @{b*}", None, "has the name of another hole"),
    ("f(@{x}@{~})", None, "nothing else can stand here"),
    ("@{x~: call} def f(): pass", None, "asks for nothing"),
    ("a @{? + b * c} * d", None, "no whole part"),
    ("x = @{? await} go()", None, "read as something else"),
    ("def @{f}()@{? -> int: @{b*}", None, "is never closed"),
    ("@{~} def f(): @{b*}", "@{~} def g(): @{b*}", "says nothing in a template"),
    ("@{~} def f(): @{b*}", "@{m~} def g(): @{b*}", "the pattern does not have"),
    ("def f() @{~}: @{b*}", "def f() -> int: @{b*}", "no certain place"),
])  # fmt: rows
def test_mistakes_are_told_with_their_place(find: str, put: str | None, reason: str) -> None:
    if put is None:
        with pytest.raises(PatternError, match=reason) as caught:
            compile_pattern(find)
        assert caught.value.text == find
    else:
        with pytest.raises(Exception, match=reason):
            Rule("r", summary="s", find=find, put=put).fix("")


def test_what_a_head_carries_besides_is_told_wherever_a_pattern_is_tried(
    ytr, tmp_path: Path
) -> None:
    (tmp_path / "a.py").write_text("class A(B):\n    pass\n\n\nclass C:\n    x = 1\n")
    open_class = "class @{C}@{~}: @{b*}"
    found = ytr("seek", "class @{C}: @{b*}", "a.py")
    assert "1 match in" in found.out
    assert found.err == f"1 more place with more than the pattern says: {open_class}\n"
    for pattern in (open_class, "class @{C}@{rest~}: @{b*}", "f(@{x})", "@{x} = 1"):
        assert ytr("seek", pattern, "a.py").err == ""
    shown = ytr("why", "class @{C}: @{b*}", "a.py:1")
    assert f"Where more may stand it fits: {open_class}\n" in shown.out
    told = ytr("why", "class @{C}: @{b*}", "a.py:1", "--format", "json").json
    assert told["fits_left_open"] == open_class and not told["matches"]
    assert "They fit." in ytr("why", open_class, "a.py:1").out
    assert open_class in ytr("new", "bare-class", "--find", "class @{C}: @{b*}", "a.py").err
    rule = Rule("r", summary="s", find="class @{C}: @{b*}", examples=[Example("class A(B): pass")])
    (verdict,) = prove_rule(rule)
    assert verdict.reason.endswith(f"where more may stand it matches: {open_class}")


@pytest.mark.parametrize(("pattern", "code", "reason"), [
    ("def f()@{? -> int}: @{b*}", "async def f() -> int: pass", "has `async` where"),
    ("@{~} def f() @{~}: pass", "def f() -> int: go()", "the pattern has"),
    ("@{~} def f(a) @{~}: pass", "def f(b) -> int: pass", "the pattern says `a`"),
])  # fmt: rows
def test_why_tells_what_parts_a_head_that_is_open_from_code(
    pattern: str, code: str, reason: str
) -> None:
    compiled = compile_pattern(pattern)
    told = explain(compiled, compiled.tree.like(code), 1)
    assert told.match is None and reason in told.reason


BRACES = (
    "if (%s) {\n    ring();\n}\n", "if (%s) {\n    ring();\n} else {\n    stop();\n}\n",
    "if (%s) { @{b*} }",
)
BARE = (
    "if %s {\n    ring()\n}\n", "if %s {\n    ring()\n} else {\n    stop()\n}\n", "if %s { @{b*} }",
)
CLAUSES = {  # by language: what is around, an `if` without and with an `else`, the pattern
    "c": ("void f() {\n", "}\n", *BRACES),
    "cpp": ("void f() {\n", "}\n", *BRACES),
    "csharp": ("class A { void F() {\n", "} }\n", *BRACES),
    "go": ("package a\n\nfunc f() {\n", "}\n", *BARE),
    "java": ("class A { void f() {\n", "} }\n", *BRACES),
    "javascript": ("", "", *BRACES),
    "php": ("<?php\n", "", *BRACES),
    "python": (
        "", "", "if %s:\n    ring()\n",
        "if %s:\n    ring()\nelif b:\n    go()\nelse:\n    stop()\n", "if %s:\n    @{b*}",
    ),
    "ruby": (
        "", "", "if %s\n  ring\nend\n", "if %s\n  ring\nelse\n  stop\nend\n",
        "if %s\n  @{b*}\nend",
    ),
    "rust": ("fn f() {\n", "}\n", *BARE),
    "swift": ("func f() {\n", "}\n", *BARE),
    "typescript": ("", "", *BRACES),
}  # fmt: rows


@pytest.mark.parametrize("language", CLAUSES)
def test_what_may_follow_a_body_is_left_open_and_kept_as_it_stands(language: str) -> None:
    before, after, plain, longer, pattern = CLAUSES[language]
    opened = open_head(compile_pattern(pattern % "@{c}", language))
    assert opened is not None
    put = pattern % "x(@{c})"
    rule = Rule("r", summary="s", language=language, once=True, find=opened.text, put=put)
    name = "$a" if language == "php" else "a"
    code = before + plain % name + longer % name + after
    fixed = before + plain % f"x({name})" + longer % f"x({name})" + after
    assert rule.fix(code).code == fixed
