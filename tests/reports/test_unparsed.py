"""Code that does not parse is told by every door, and so is a run that looks at no file."""

from __future__ import annotations

import json
from pathlib import Path

import pytest

from yellow_trellis.editor.session import Session

RULE = '[[rule]]\nname = "f-g"\nsummary = "f is g."\nfind = "f(@{x})"\nput = "g(@{x})"\n'
REASON = "does not parse ('(' was never closed)"


@pytest.fixture
def folder(tmp_path: Path, home: Path) -> Path:
    (tmp_path / "r.toml").write_text(RULE)
    (tmp_path / "trellis.toml").write_text('rules = ["r.toml"]\n')
    (tmp_path / "a.py").write_text("def f(x:\n")
    return tmp_path


@pytest.mark.parametrize("form", [
    "text", "json", "jsonl", "csv", "sarif", "junit", "markdown", "html",
])
def test_a_syntax_error_is_told_in_every_format(ytr, folder: Path, form: str) -> None:
    for words in ((), (), ("--no-cache",), ("--whole-files",)):  # cold, warm, without shortcuts
        told = ytr("survey", "--format", form, *words)
        text = (told.out + told.err).replace("\\u0027", "'").replace("&apos;", "'")
        assert told.status == 3 and REASON in text.replace("&#x27;", "'"), text
        assert "1 file not looked at in full" in told.out + told.err


def test_every_command_that_looks_tells_it(ytr, folder: Path) -> None:
    for words in (("preview",), ("apply",), ("clashes",), ("seek", "f(@{x})"), ("baseline",)):
        told = ytr(*words)
        assert told.status == 3 and f"a.py:1:6: {REASON}" in told.err, words


def test_what_only_our_parser_cannot_read_costs_no_status(ytr, tmp_path: Path) -> None:
    (tmp_path / "a.c").write_text("int f(int x) { return g(x) +++; }\n")
    told = ytr("seek", "g(@{x})", "a.c", "--format", "json")
    (problem,) = told.json["problems"]
    assert told.status == 0 and problem["doubtful"] and "our parser" in problem["reason"]
    assert problem["start"] == {"line": 1, "column": 16}


def test_a_run_that_looks_at_no_file_says_so(ytr, folder: Path) -> None:
    (folder / "a.py").unlink()
    for form in ("text", "junit", "sarif", "markdown"):
        told = ytr("survey", "--format", form)
        assert told.status == 0 and "no file was looked at" in told.out + told.err, form
    assert json.loads(ytr("survey", "--format", "json").out)["summary"]["files"] == 0


def test_the_editor_notes_it_at_the_place(folder: Path) -> None:
    path = str(folder / "a.py")
    session = Session(trusted=True)
    session.open(path, "def f(x:\n")
    (note,) = session.findings(path).findings
    assert note.level == "note" and "does not parse" in note.message
    assert tuple(note.range.start) == (0, 0)
