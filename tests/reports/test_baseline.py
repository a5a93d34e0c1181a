"""A baseline: what is accepted stays accepted through edits, what is new is told."""

import json
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.conftest import rules_of
from yellow_trellis.reports.baseline import Baseline, BaselineError
from yellow_trellis.rules.fingerprint import _WIDER
from yellow_trellis.rules.known_findings import KnownFinding, matched
from yellow_trellis.runs.pipeline import process_file
from yellow_trellis.runs.run_options import RunOptions

RULES = rules_of(("f(@{x})", "g(@{x})"), ("def @{name}(@{many*}): @{body*}", None))

BODY = """\
class Yard:
    def add(self, car):
        self.count += 1
        f(car)
        return self.count


    def drop(self, car):
        if f(car):
            f(car)
        self.count -= 1


def room(yard):
    f( yard )
    f(yard)
    return [f(yard.size)]
"""


def entries(code: str, path: str = "a.py") -> list[KnownFinding]:
    found = process_file(code.encode(), path, "python", RULES, RunOptions(with_marks=True)).findings
    return [KnownFinding(path, one.rule, one.mark, one.line) for one in found]


def new(before: list[KnownFinding], after: list[KnownFinding]) -> list[str]:
    pairs = matched(after, before)
    assert len(set(pairs.values())) == len(pairs)
    return [entry.code.strip() for at, entry in enumerate(after) if at not in pairs]


@pytest.mark.parametrize(
    "edit",
    [
        lambda code: "import os\n" * 500 + code,
        lambda code: code.replace("    ", "\t").replace("f(yard)", "f(\n  yard,  # still\n )"),
        lambda code: code.replace("self.count += 1", "self.count = self.count + 1\n        log()"),
        lambda code: code[code.index("def room") :] + "\n\n" + code[: code.index("def room")],
        lambda code: code.replace("def room(yard)", "def space(yard)"),
        lambda code: "if x:\n" + "".join(f"    {line}\n" for line in code.splitlines()),
    ],
    ids=["shifted", "formatted", "edited", "moved", "renamed", "indented"],
)
def test_what_was_accepted_is_known_again(edit) -> None:
    after = entries(edit(BODY))
    # renaming a function makes the finding about the function itself another one, and only that
    assert new(entries(BODY), after) in ([], ["def space(yard):"])


def test_a_function_that_moved_to_another_file_takes_its_findings_along() -> None:
    start = BODY.index("def room")
    before = [*entries(BODY), *entries("x = 1\n", "b.py")]
    after = [*entries(BODY[:start]), *entries("x = 1\n\n\n" + BODY[start:], "b.py")]
    assert new(before, after) == []


PUT_IN = st.tuples(st.integers(0, 16), st.sampled_from(["f(car)", "h()", "f(yard)"]))


@given(st.lists(PUT_IN, max_size=_WIDER - 1))
def test_as_many_are_new_as_came(added: list[tuple[int, str]]) -> None:
    """Of lines put in anywhere, exactly those with a finding are new: none hides behind another.

    Behind more lines than it looks around, an accepted one is not known again, and is told as new.
    """
    lines = BODY.splitlines()
    for at, code in sorted(added, reverse=True):
        line = lines[at]
        lines.insert(at, line[: len(line) - len(line.lstrip())] + code)
    before, after = entries(BODY), entries("\n".join(lines))
    came = sum("f(" in code for _, code in added)
    assert len(new(before, after)) == came == len(after) - len(before)


def test_one_fixed_and_another_one_made_is_new() -> None:
    after = BODY.replace("f(car)\n        return", "g(car)\n        return")
    after = after.replace(
        "self.count -= 1", "self.count -= 1\n        for c in self:\n            f(c)"
    )
    assert new(entries(BODY), entries(after)) == ["f(c)"]
    elsewhere = BODY.replace("        f(car)\n        return", "        return") + "f(car)\n"
    assert new(entries(BODY), entries(elsewhere)) == ["f(car)"]


def test_many_equal_findings_are_matched_in_time() -> None:
    code = "f(1)\n" * 3000
    assert new(entries(code), entries(code + "f(1)\n")) == ["f(1)"]


def test_the_file_comes_back_as_it_was_written_one_line_each(tmp_path: Path) -> None:
    made = Baseline(tmp_path / "b.json", tuple(entries(BODY, "ä b/c.py")))
    made.write()
    text = made.file.read_text("utf-8")
    again = Baseline.read(made.file)
    assert len(again.entries) == len(made.entries) == text.count('["rule-')
    assert new(list(again.entries), list(made.entries)) == []
    again.write()
    assert made.file.read_text("utf-8") == text
    assert json.loads(text)["version"] == 1


@pytest.mark.parametrize(
    ("text", "told"),
    [
        (None, "there is no baseline yet: `ytr baseline` makes one"),
        ("{}", "this is no baseline ('version')"),
        ("<<<<<<< ours", "after a merge, settle it and run `ytr baseline`"),
        (
            '{"version": 9, "findings": {}}',
            "the baseline is of version 9, and this library knows 1",
        ),
        ('{"version": 1, "findings": {"a": [["r"]]}}', "this is no baseline"),
    ],
)
def test_what_is_no_baseline_is_told(tmp_path: Path, text: str | None, told: str) -> None:
    file = tmp_path / "b.json"
    if text is not None:
        file.write_text(text)
    with pytest.raises(BaselineError) as wrong:
        Baseline.read(file)
    assert told in str(wrong.value)


def test_the_command_lets_the_count_only_go_down(ytr, trams: Path) -> None:
    ytr("init", "--paths", "alder")
    assert "Accepted 578 findings in 79 files" in ytr("baseline").out
    with (trams / "trellis.toml").open("r+") as file:
        text = file.read()
        file.seek(0)
        file.write('baseline = "trellis-baseline.json"\n' + text)
    assert ytr("survey").status == 0
    yard = trams / "alder/depot/yard.py"
    yard.write_text(yard.read_text("utf-8") + "\n\ndef more(x):\n    return x == None\n")
    told = ytr("survey", "--format", "json").json
    assert told["summary"]["accepted"] == 578 and told["summary"]["failing"] == 1
    assert [one["rule"] for one in told["findings"] if not one["accepted"]] == ["one-none"]
    assert ytr("survey", "--only", "say-what-is-caught", "alder/depot").status == 0
    part = ytr("baseline", "--staged", "--changed-lines")
    assert part.status == 2 and "a baseline is about whole files" in " ".join(part.err.split())
    refused = ytr("baseline")
    assert (refused.status, "0 dropped, 578 findings accepted now" in refused.out) == (1, True)
    assert "1 new finding not accepted: `ytr survey` shows" in refused.out
    assert "taken in, 579" in ytr("baseline", "--accept").out
    ytr("apply", "--only", "one-none", "--with-accepted")
    partly = ytr("baseline", "alder/depot").out
    whole = ytr("baseline").out
    assert "of one-none gone" in partly and "of one-none gone" in whole
    # all that is new is what a fix has made: `not x == None` has become `not x is None`
    new = [f for f in ytr("survey", "--format", "json").json["findings"] if not f["accepted"]]
    assert {one["rule"] for one in new} == {"not-none"}
