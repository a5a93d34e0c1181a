"""Conditions and relations: the same in Python and in TOML."""

from pathlib import Path

import pytest

from tests.conftest import tree_of
from yellow_trellis import (
    Rule,
    RuleError,
    after,
    all_of,
    any_of,
    before,
    count,
    directly_within,
    first,
    holds,
    last,
    load_rules,
    none_of,
    taken,
    within,
)

CODE = """\
def stop(car):
    first(car)
    with lock:
        halt(car, 3)
    halt(-2)
    halt(other.car, "now", car)

class Tram:
    halt(Tram, 99)
    def go(self):
        return [halt(self)]
"""
HALTS = ["halt(car, 3)", "halt(-2)", 'halt(other.car, "now", car)', "halt(Tram, 99)", "halt(self)"]


def found(find: str, *where: object) -> list[str]:
    rule = Rule("r", summary="r", find=find, where=where)
    rule.prepare()
    tree = tree_of(CODE)
    return [tree.source.text(one.span) for one in rule.compiled.look(tree)]


@pytest.mark.parametrize(
    ("conditions", "which"),
    [
        ([within("def stop(@{_*}): @{_*}")], [0, 1, 2]),
        ([directly_within("def stop(@{_*}): @{_*}")], [1, 2]),
        ([directly_within("with @{_}: @{_*}")], [0]),
        ([directly_within("return @{_}")], []),
        ([within("class @{x}: @{_*}")], [3]),
        ([none_of(within("class @{_}: @{_*}"))], [0, 1, 2]),
        ([holds("@{_}.car")], [2]),
        ([before("halt(@{_*})")], [1]),
        ([after("first(@{_})")], [1, 2]),
        ([first()], [0, 3, 4]),
        ([last()], [0, 2, 4]),
        ([taken("x", kind="name")], [0, 3, 4]),
        ([taken("x", text="[a-z]+")], [0, 4]),
        ([taken("x", one_of=["self", "Tram"])], [3, 4]),
        ([taken("x", least=-5, most=0)], [1]),
        ([taken("rest", least=1, most=10), count("rest", least=1)], [0]),
        ([count("rest", least=1, most=1)], [0, 3]),
        ([any_of(count("rest", least=2), taken("x", text="self"))], [2, 4]),
        ([all_of(first(), none_of(last()))], [3]),
        ([lambda match: len(match.text) == 8], [1]),
    ],
)
def test_conditions(conditions: list, which: list[int]) -> None:
    assert found("halt(@{x}, @{rest*})", *conditions) == [HALTS[n] for n in which]


def test_equal_holes_and_the_order_of_cost() -> None:
    assert found("halt(@{a}, @{_*}, @{b})", taken("b", equal_to="a")) == []
    assert found("halt(@{a}.car, @{_*}, @{b})", taken("b", text="car")) == [HALTS[2]]
    seen: list[str] = []

    def dear(match) -> bool:
        seen.append(match.text)
        return True

    assert found("halt(@{x}, @{_*})", dear, taken("x", text="self")) == [HALTS[4]]
    assert seen == [HALTS[4]]


def test_code_rules_seek_with_the_same_conditions() -> None:
    from yellow_trellis.rules import Code

    code = Code(tree_of(CODE))
    asked = (within("class @{_}: @{_*}"), taken("x", kind="name"))
    assert [m.text for m in code.seek(None, "halt(@{x}, @{_*})", *asked)] == HALTS[3:5]
    assert not code.contains(None, "halt(@{x})", taken("x", text="none"))


def test_walks_and_the_helpers_of_code_rules() -> None:
    from yellow_trellis.rules import Code

    code = Code(tree_of("class A:\n  def f(self):\n    # why\n    g('a')  # too\n"))
    told = [(node.kind, entering) for node, entering in code.walk("function", "class")]
    assert told == [
        ("class_definition", True),
        ("function_definition", True),
        ("function_definition", False),
        ("class_definition", False),
    ]
    (call,) = code.seek(None, "g(@{_})")
    statement = call.node.parent
    assert [c.text for c in code.comments(statement)] == ["# too"]
    assert (call.node.previous_token.text, call.node.next_token.text) == ("# why", "# too")
    assert call.node.items[0].next.kind == "argument_list"
    assert call.node.items[1].previous.text == "g"
    assert code.indented("if x:\n    y", statement) == "if x:\n      y"
    assert (code.quoted("it's"), code.quoted("b\n")) == ("'it\\'s'", "'b\\n'")


@pytest.mark.parametrize(
    ("condition", "reason"),
    [
        (taken("y", kind="name"), "asks for the hole `y`, which the pattern does not have"),
        (taken("x", kind="nam"), "no kind or family `nam`"),
        (taken("x", text="["), "no regular expression"),
        (within("def f("), "does not parse"),
        (any_of(none_of(count("z"))), "asks for the hole `z`"),
        ("within", "is no condition"),
    ],
)
def test_a_wrong_condition_is_refused_before_anything_runs(condition, reason: str) -> None:
    with pytest.raises(RuleError, match=reason):
        found("halt(@{x}, @{_*})", condition)


TOML = """\
# rules of the trams
[[rule]]
name = "halt-in-time"
summary = "A tram halts in time."
find = "halt(@{x}, @{rest*})"
put = "@{x}.halt_now(@{rest*})"
tags = ["trams"]
level = "error"
where = [
    { within = "def stop(@{_*}): @{_*}" },
    { hole = "x", kind = "name", one_of = ["car"] },
    { none_of = [{ first = true }, { count = "rest", least = 2 }] },
]

[[rule.examples]]
given = "x = 1"
code = "def stop(car):\\n    pass\\n    halt(car, 1)"
becomes = "def stop(car):\\n    pass\\n    car.halt_now(1)"

[[rule.examples]]
code = "halt(car)"
stays = true
"""


def write(folder: Path, text: str) -> Path:
    path = folder / "rules.toml"
    path.write_text(text, "utf-8")
    return path


def test_a_rule_in_toml_says_all_that_a_declared_rule_can(tmp_path: Path) -> None:
    from yellow_trellis.authoring.example_runner import prove_rule

    (rule,) = load_rules([write(tmp_path, TOML)])
    assert (rule.name, rule.level, rule.tags, rule.line) == ("halt-in-time", "error", ("trams",), 2)
    verdicts = prove_rule(rule)
    assert [v.reason for v in verdicts] == ["", ""]
    assert load_rules([tmp_path])[0].name == "halt-in-time"


@pytest.mark.parametrize(
    ("old", "new", "place", "reason"),
    [
        ("summary", "sumary", "4:1", "no key `sumary`: did you mean `summary`?"),
        ('level = "error"', "level = 3", "8:1", "`level` must be a string"),
        ('tags = ["trams"]', 'tags = "trams"', "7:1", "`tags` must be a list of strings"),
        ("within =", "withi =", "10:7", "no condition `withi`: did you mean `within`?"),
        ('kind = "name"', 'knd = "name"', "11:19", "no key `knd`: did you mean `kind`?"),
        ("least = 2", 'least = "2"', "12:54", "`least` must be a number"),
        ("stays = true", 'stay = "yes"', "22:1", "no key `stay`: did you mean `stays`?"),
        ('find = "halt(@{x}, @{rest*})"\n', "", "2:1", "the rule has no `find`"),
        ("[[rule]]", "[[rules]]", "1:1|2:3", "no key `rules`: did you mean `rule`?"),
        ("# rules", "rules", "", "invalid TOML"),
        ('level = "error"', 'level = "fatal"', "2", "there is no level 'fatal'"),
        ("@{x}.halt", "@{y}.halt", "2", "the hole `y`, which the pattern does not have"),
        ('hole = "x"', 'hole = "z"', "2", "asks for the hole `z`"),
    ],
)
def test_a_wrong_toml_rule_is_told_at_its_place(
    tmp_path: Path, old: str, new: str, place: str, reason: str
) -> None:
    assert old in TOML
    path = write(tmp_path, TOML.replace(old, new, 1))
    with pytest.raises(RuleError, match=reason.replace("?", r"\?")) as wrong:
        load_rules([path])
    assert any(f"rules.toml:{where}" in str(wrong.value) for where in place.split("|"))
