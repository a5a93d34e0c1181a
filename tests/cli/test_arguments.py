"""Calls as people type them: options anywhere, mistakes told with what to do."""

from pathlib import Path

import pytest


def test_options_may_stand_before_between_and_behind_paths(ytr, trams: Path) -> None:
    pattern = "stamp(@{x*})"
    calls = (
        ("seek", pattern, "alder/depot", "alder/lines", "--count"),
        ("seek", pattern, "alder/depot", "--count", "alder/lines"),
        ("seek", "--count", pattern, "alder/depot", "alder/lines"),
        ("seek", "--count", "--", pattern, "alder/depot", "alder/lines"),
    )
    told = {ytr(*call).out for call in calls}
    assert len(told) == 1 and "14 matches" in told.pop()


def test_a_pattern_may_start_with_a_hyphen(ytr, tmp_path: Path) -> None:
    (tmp_path / "a.py").write_text("x = -y\n")
    assert "1 match" in ytr("seek", "--", "-@{x}", "a.py").out
    assert "(put -- before arguments" in ytr("seek", "-@{x}", "a.py").err


@pytest.mark.parametrize(
    ("words", "message"),
    [
        (("seek",), "missing argument: PATTERN"),
        (("seek", "f(@{x})", "--cuont"), "unknown option --cuont (did you mean `--count`?)"),
        (("seek", "f(@{x})", "--around", "few"), "--around: 'few' is no whole number"),
        (("seek", "f(@{x})", "--workers", "0"), "--workers: it takes 1 or more"),
        (("survey", "--largest", "1x"), "'1x' is no size; say for instance 800k or 4M"),
        (("survey", "--rule-seconds", "-1"), "'-1' is no number of seconds"),
        (
            ("seek", "f(@{x})", "--put", "-@{x}"),
            "starts with a hyphen goes behind `--put=`",
        ),
        (("survey", "--baseline", "gone.json"), "gone.json: there is no such file"),
        (("survey", "--format", "xml"), "--format: invalid choice: 'xml'"),
        (("undo", "gone"), "gone: there is no such folder"),
        (("undo", ".", "more"), "'more' is one word too many"),
        (("--verbose",), "there is no option --verbose before the command"),
    ],
)
def test_a_wrong_call_says_what_to_do(ytr, words: tuple[str, ...], message: str) -> None:
    wrong = ytr(*words)
    assert (wrong.status, wrong.out) == (2, "")
    assert message in wrong.err and "--help`." in wrong.err.splitlines()[-1]
