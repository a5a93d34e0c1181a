"""Options of rules: typed by their default, held to bounds, used by conditions and functions."""

from pathlib import Path

import pytest

from tests.conftest import tree_of
from yellow_trellis import (
    Example,
    Option,
    Rule,
    RuleError,
    Ruleset,
    chosen,
    count,
    load_rules,
    rule,
)
from yellow_trellis.authoring.example_runner import prove_rule
from yellow_trellis.rules import OptionError, Setting


@pytest.mark.parametrize(
    ("option", "good", "bad", "told"),
    [
        (Option("n", 3, least=1, most=9), 9, 10, "`n` must be at least 1, at most 9, not 10"),
        (Option("n", 3), 0, 1.5, "`n` must be a whole number"),
        (Option("n", 3), -1, True, "`n` must be a whole number"),
        (Option("n", 0.5), 2, "2", "`n` must be a number"),
        (Option("on", False), True, 1, "`on` must be true or false"),
        (Option("to", "a", one_of=("a", "b")), "b", "c", "`to` must be one of a, b, not c"),
        (Option("kept", ()), ["x", "y"], ["x", 1], "`kept` must be a list of strings"),
        (Option("kept", ["x"], one_of=["x"]), ["x"], ["z"], "`kept` must be one of x, not"),
    ],
)
def test_a_value_fits_its_option_or_is_refused(option, good, bad, told) -> None:
    assert option.accept(good) == (tuple(good) if isinstance(good, list) else good)
    with pytest.raises(OptionError) as wrong:
        option.accept(bad)
    assert told in str(wrong.value)


def test_a_default_out_of_bounds_is_refused() -> None:
    with pytest.raises(OptionError, match="`n` must be at least 5, not 3"):
        Option("n", 3, least=5)


def found(one: Rule, code: str) -> list[str]:
    return [finding.message for finding in Ruleset.of([one]).look(tree_of(code))[0]]


def test_conditions_messages_and_functions_take_the_value() -> None:
    declared = Rule(
        "few",
        summary="Few.",
        find="line(@{stops*})",
        where=[count("stops", least=chosen("most"))],
        message="@{stops}: @{most} are too many",
        options=[Option("most", 3)],
    )

    @rule("coded", summary="Coded.", find="line(@{stops*})", options=[Option("most", 3)])
    def coded(match, code):
        if len(match.run_of("stops")) >= code.options["most"]:
            yield code.finding(match, f"{code.options['most']} are too many")

    fewer = Setting("few", "option", 2, "most", "t.toml:1:1")
    assert found(declared, "line(a, b)\nline(a, b, c)") == ["a, b, c: 3 are too many"]
    assert found(declared.under(fewer), "line(a, b)") == ["a, b: 2 are too many"]
    assert found(coded, "line(a, b)") == []
    assert found(coded.under(fewer), "line(a, b)") == ["2 are too many"]
    assert found(declared, "line(a, b)") == []  # the rule itself is as it was
    with pytest.raises(RuleError, match=r"t.toml:1:1: the rule `few` has no option `least`: there"):
        declared.under(Setting("few", "option", 2, "least", "t.toml:1:1"))
    with pytest.raises(RuleError, match="of the rule `few` the option `most` must be a whole"):
        declared.under(Setting("few", "option", "2", "most", "t.toml:1:1"))


def test_examples_have_the_defaults_or_their_own_values() -> None:
    examples = [
        Example("line(a, b, c)"),
        Example("line(a, b)", options={"most": 2}),
        Example("line(a, b, c)", stays=True, options={"most": 4}),
    ]
    where = [count("stops", least=chosen("most"))]
    options = [Option("most", 3)]
    few = {"summary": "s", "find": "line(@{stops*})", "where": where, "options": options}
    one = Rule("few", **few, examples=examples).under(Setting("few", "option", 9, "most"))
    assert [verdict.reason for verdict in prove_rule(one)] == ["", "", ""]
    with pytest.raises(RuleError, match="the rule `few` has no option `mast`: did you mean `most`"):
        Ruleset.of([Rule("few", **few, examples=[Example("line()", options={"mast": 2})])])


def test_an_option_that_is_nowhere_or_twice_is_refused() -> None:
    where = [count("stops", least=chosen("more"))]
    with pytest.raises(RuleError, match="its conditions cannot be read: there is no option `more`"):
        Ruleset.of([Rule("few", summary="Few.", find="line(@{stops*})", where=where)])
    with pytest.raises(RuleError, match="`stops` is both an option and a hole"):
        options = [Option("stops", 3)]
        Ruleset.of([Rule("few", summary="Few.", find="line(@{stops*})", options=options)])


TOML = """
[[rule]]
name = "few"
summary = "Few."
find = "line(@{stops*})"
where = [{ count = "stops", least = { option = "most" } }]
options = { most = { default = 3, least = 1 } }
"""


@pytest.mark.parametrize(
    ("old", "new", "told"),
    [
        ("", "", ""),
        ("default = 3, ", "", "7:13: the option `most` has no `default`"),
        ("default = 3", "default = 0", "7:13: the default of `most` must be at least 1, not 0"),
        ("least = 1", "lest = 1", "7:35: an option has no key `lest`: did you mean `least`?"),
        ("{ default = 3, least = 1 }", "3", "7:13: the option `most` is a table, such as"),
        ('{ option = "most" }', '{ opt = "m" }', "6:29: `least` must be a number, or { option"),
    ],
)
def test_options_in_toml(tmp_path: Path, old: str, new: str, told: str) -> None:
    file = tmp_path / "few.toml"
    file.write_text(TOML.replace(old, new, 1) if old else TOML)
    if not told:
        assert found(load_rules([file])[0], "line(a, b, c)") == ["Few."]
        return
    with pytest.raises(RuleError) as wrong:
        load_rules([file])
    assert told in str(wrong.value)
