"""A pattern is read as one thing; who writes it is told what else it may be."""

from pathlib import Path

import pytest

from tests.conftest import tree_of
from yellow_trellis import Example, Rule, compile_pattern
from yellow_trellis.authoring.example_runner import prove_rule
from yellow_trellis.patterns import explain, seek
from yellow_trellis.patterns.readings import other_readings

JAVA = """class Till {
    private Fare a = new Fare(1);
    Fare b = new Fare(2);
    static final Fare c = new Fare(3);
    void f() {
        Fare d = new Fare(4);
        final Fare e = new Fare(5);
        for (Fare g = new Fare(6);;) {}
        try (Fare h = new Fare(7)) {}
    }
}
"""
CSHARP = JAVA.replace("static final", "static readonly").replace("final", "const").replace(
    "try (", "using ("
)
NEW = "@{T} @{name} = new @{T}(@{v*});"


@pytest.mark.parametrize(("name", "code"), [("java", JAVA), ("csharp", CSHARP)])
def test_a_variable_of_a_function_is_no_member_of_a_class(name: str, code: str) -> None:
    tree = tree_of(code, name)

    def lines(text: str, part: str | None = None) -> list[int]:
        pattern = compile_pattern(text, tree.language, part=part)
        return [match.node.place.line for match in seek(pattern, tree)]

    assert lines(NEW)[:1] == [6] and not {2, 3, 4} & {*lines(NEW)}
    assert lines(NEW, "member") == [3]
    assert lines(f"private {NEW}") == [2]
    assert lines("static @{_} Fare @{name} = @{v};".replace("@{_} ", "readonly " if name == "csharp" else "final ")) == [4]
    readings = other_readings(compile_pattern(NEW, tree.language))
    assert [len([*seek(it, tree)]) for part, it in readings.items() if part == "member"] == [1]


def test_what_a_pattern_may_be_besides_is_said(ytr, tmp_path: Path) -> None:
    (tmp_path / "a.py").write_text("f(zone=1)\n")
    (tmp_path / "Till.java").write_text(JAVA)
    found = ytr("seek", "zone = 1", "a.py")
    assert "No match" in found.out
    assert "Read as an assignment; read as argument it has 1 match: --part argument" in found.err
    assert "--part" not in ytr("seek", "f(@{x*})", "a.py").err
    shown = ytr("why", "zone = 1", "a.py:1:3")
    assert "read as argument it fits: --part argument" in shown.out
    assert ytr("why", "zone = 1", "a.py:1:3", "--format", "json").json["fits_as_part"] == "argument"
    local = ytr("seek", "--language", "java", NEW, "Till.java")
    assert "2 matches in" in local.out and "read as member it has 1 match" in local.err
    rule = Rule("r", summary="s", find=NEW, language="java", examples=[Example("class A { B b = new B(); }")])
    (verdict,) = prove_rule(rule)
    assert verdict.reason.endswith('local variable declaration; with `part = "member"` it matches')


def test_why_always_names_a_place() -> None:
    tree = tree_of("f(a, b)\nx = 1\ny = 2\n")
    for text in ("f(@{x}, @{x})", "@{p} = 1\n@{p} = 2", "f(@{a*}, @{a*})", "class @{_}: @{_*}"):
        for line in (1, 2, 3):
            result = explain(compile_pattern(text, tree.language), tree, line)
            assert result.match or (result.place is not None and result.reason), (text, line)


SWIFT = """func t() {
    if !till.holds(zone) { ring() }
    if fare == nil && zone == home { ring() }
    if till.holds(fare) { ring() }
}
"""


def test_what_is_grouped_otherwise_than_by_the_compiler_is_told_and_left_alone(
    ytr, tmp_path: Path
) -> None:
    (tmp_path / "Till.swift").write_text(SWIFT)
    found = ytr("seek", "@{a}.holds(@{b})", "--put", "holds(@{a}, @{b})", "Till.swift")
    assert "+    if holds(till, fare) { ring() }" in found.out and "holds(!till" not in found.out
    assert "Till.swift:2:8: our parser groups `!till.holds(zone)` otherwise than the" in found.err
    assert "and 1 more expression; rules may miss code there" in found.err
    outcome = ytr("seek", "@{f}(@{x})", "--put", "call(@{f}, @{x})", "Till.swift").out
    assert "left as it is at 2:8: our parser groups the expression at 2:8 otherwise" in outcome
    (tmp_path / "a.js").write_text("async () => { x = await (await get(zone)).text(); };\n")
    refused = ytr("seek", "@{x}.text()", "--put", "text(@{x})", "a.js")
    assert "left as it is" in refused.out and "otherwise than the compiler" in refused.out
