"""Whatever a command meets, files, folders, streams or settings, it ends in a message."""

import json
import os
import stat
import subprocess
import sys
import threading
from pathlib import Path

import pytest

from yellow_trellis.reports.markdown import pages
from yellow_trellis.rules import Rule

RULE = '[[rule]]\nname = "r"\nsummary = "s"\nfind = "f(@{x})"\n'
MAIN = "import sys; sys.argv[0] = 'ytr'; from yellow_trellis.cli import main; main()"

RULE_FILES = {
    "deep lists": (RULE + "where = " + "[" * 5000 + "]" * 5000, "nested too deeply"),
    "deep tables": (RULE + "x = " + "{a=" * 3000 + "1" + "}" * 3000, "nested too deeply"),
    "a long number": (RULE + "x = " + "9" * 5000, "invalid TOML"),
    "many groups": (RULE + f'where = [{{hole = "x", text = "{"(" * 3000}{")" * 3000}"}}]', "no regular"),
    "a large count": (RULE + 'where = [{hole = "x", text = "a{999999999999}"}]', "no regular"),
    "deep code": (RULE.replace("f(@{x})", "f(" * 2000 + ")" * 2000), "nested more than 150 deep"),
    "a deep template": (RULE + f'put = "{"f(" * 2000}@{{x}}{")" * 2000}"', "more than 150 deep"),
    "no text": (b"\xff\xfe" + RULE.encode(), "no UTF-8"),
    "an open line": (RULE + "a" + " " * 100_000, "invalid TOML"),
    "an open header": (RULE + "[" + " " * 100_000, "invalid TOML"),
}


@pytest.mark.parametrize("kind", RULE_FILES)
def test_a_rule_file_that_cannot_be_read_is_told(ytr, tmp_path: Path, kind: str) -> None:
    text, told = RULE_FILES[kind]
    (tmp_path / "r.toml").write_bytes(text if isinstance(text, bytes) else text.encode())
    (tmp_path / "a.py").write_text("f(1)\n")
    for words in (("survey", "a.py"), ("prove",), ("rules",)):
        answer = ytr(words[0], "--rules", "r.toml", *words[1:])
        assert answer.status == 2 and told in answer.err and len(answer.err) < 2000


@pytest.mark.parametrize(
    ("text", "told"),
    [
        ("rules = " + "[" * 5000 + "]" * 5000, "nested too deeply"),
        ("at-most = " + "9" * 5000, "invalid TOML"),
        ('history = "/tmp/history"', "`history` is a file below the folder"),
        ('baseline = "../b.json"', "`baseline` is a file below the folder"),
        ('baseline = "C:\\\\b.json"', "`baseline` is a file below the folder"),
        ('history = ""', "`history` is a file below the folder"),
    ],
)
def test_a_configuration_that_cannot_be_used_is_told(ytr, tmp_path: Path, text, told) -> None:
    (tmp_path / "trellis.toml").write_text(text + '\nrules = ["r.toml"]\n')
    (tmp_path / "r.toml").write_text(RULE)
    for words in (["survey"], ["baseline"], ["survey", "--record"], ["report"]):
        answer = ytr(*words)
        assert answer.status == 2 and told in answer.err
    assert not (tmp_path.parent / "b.json").exists() and not Path("/tmp/history").exists()


@pytest.mark.skipif(os.name == "nt", reason="needs links")
def test_what_we_write_goes_through_no_link(ytr, tmp_path: Path) -> None:
    mine = tmp_path / "mine"
    mine.mkdir()
    (mine / "x").write_text("mine\n")
    code = tmp_path / "code"
    code.mkdir()
    (code / "a.py").write_text("f(1)\n")
    (code / "r.toml").write_text(RULE)
    (code / "folder").symlink_to(mine)
    for name in ("trellis-history.jsonl", "base.json", "index.md", "r.md"):
        (code / name).symlink_to(mine / "x")
    keys = 'baseline = "base.json"\nhistory = "folder/h.jsonl"\nrules = ["r.toml", "folder"]\n'
    for words in (
        ["survey", "--rules", "r.toml", "--record"],
        ["rules", "--rules", "r.toml", "--pages", "."],
        ["baseline", "--rules", "r.toml"],
        ["new", "some-rule", "--find", "f(@{x})"],
    ):
        if words[0] in ("baseline", "new"):
            (code / "trellis.toml").write_text(keys)
        answer = ytr(*words, where=code)
        assert answer.status in (2, 3) and "link" in answer.err, words
    assert ytr("survey", "--record", where=code).status in (2, 3)
    (code / "trellis.toml").unlink()
    (code / "trellis.toml").symlink_to(mine / "new")
    assert "link" in ytr("init", where=code).err
    assert [p.name for p in mine.iterdir()] == ["x"] and (mine / "x").read_text("utf-8") == "mine\n"


@pytest.mark.parametrize(
    "line",
    [
        b"\xff",
        b"[]",
        b'{"version": 1}',
        b"[" * 5000,
        b'{"version": 1, "time": "2026-11-01T00:00:00+00:00", "revision": "", "paths": [], '
        b'"rules": [], "files": "many", "lines": {}, "findings": []}',
    ],
)
def test_a_history_that_is_none_is_told_at_its_line(ytr, tmp_path: Path, line: bytes) -> None:
    (tmp_path / "h.jsonl").write_bytes(b"\n" + line + b"\n")
    answer = ytr("report", "--history", "h.jsonl")
    assert answer.status == 2 and "h.jsonl:2: this line is no survey" in answer.err
    (tmp_path / "b.json").write_bytes(line)
    (tmp_path / "r.toml").write_text(RULE)
    answer = ytr("survey", "--rules", "r.toml", "--baseline", "b.json")
    assert answer.status == 2 and "this is no baseline" in answer.err


@pytest.mark.skipif(not hasattr(os, "mkfifo"), reason="needs pipes")
@pytest.mark.parametrize("name", [".gitignore", "till", "x.py", "notes.md", "trellis.toml"])
def test_a_pipe_is_no_file_and_nothing_waits_for_it(ytr, tmp_path: Path, name: str) -> None:
    (tmp_path / "rules").mkdir()
    (tmp_path / "rules/r.toml").write_text(
        '[[rule]]\nname = "r"\nsummary = "s"\nrename = "a.old"\nto = "new"\n'
    )
    (tmp_path / "a.py").write_text("def old(): pass\n")
    os.mkfifo(tmp_path / name)
    assert ytr("apply", "--rules", "rules", ".", where=tmp_path).status == 0
    assert (tmp_path / "a.py").read_text("utf-8") == "def new(): pass\n"


@pytest.mark.skipif(os.name == "nt", reason="needs links and shells")
def test_paths_that_lead_nowhere_are_told(ytr, tmp_path: Path) -> None:
    (tmp_path / "r.toml").write_text(RULE)
    (tmp_path / "loop").symlink_to("loop")
    (tmp_path / "loop.py").symlink_to("loop.py")
    for path in ("loop", "loop.py", "a/" * 3000, "n" * 300 + ".py", "nul", "r.toml/x"):
        for words in (["survey", "--rules", "r.toml", path], ["seek", "f()", path], ["tree", path]):
            answer = ytr(*words)
            assert answer.status in (2, 3) and answer.err.startswith("ytr: ")
        for words in (
            ["survey", "--rules", path],
            ["why", "f()", f"{path}:1"],
            ["report", "--history", path],
            ["trust", path],
        ):
            assert ytr(*words).status in (2, 3)


@pytest.mark.skipif(os.name == "nt", reason="needs a shell")
@pytest.mark.parametrize("closed", ["<&-", ">&-", "2>&-", "<&- >&- 2>&-"])
def test_closed_streams_are_none_of_our_business(tmp_path: Path, closed: str) -> None:
    (tmp_path / "a.py").write_text("f(1)\n")
    (tmp_path / "r.toml").write_text(RULE)
    for words, status in (("survey --rules r.toml a.py", 1), ("tree a.py", 0), ("--version", 0)):
        call = f'"{sys.executable}" -c "$0" {words} {closed}'
        done = subprocess.run(["sh", "-c", call, MAIN], cwd=tmp_path, capture_output=True)
        assert done.returncode == status and b"Traceback" not in done.stderr


def test_pages_hold_no_html_of_a_rule() -> None:
    made = Rule(
        "r",
        summary="a <script>x()</script> `a < b` [l](u) |",
        find="f(@{x})",
        help="See `x < y` and <img src=x> and \\`<b>\\` and `` <i> `",
    )
    for text in pages([made], lambda name: "").values():
        assert "<" not in text.replace("`a < b`", "").replace("`x < y`", "")
    assert "`a < b`" in pages([made], lambda name: "")["r.md"]


def test_a_table_holds_no_formulas() -> None:
    from datetime import datetime, timezone

    from yellow_trellis.reports.csv import history_csv
    from yellow_trellis.reports.history import Totals

    for name in ("=cmd|' /C calc'!A0", "+1", "-1", "@x", "\tx"):
        one = Totals(
            datetime(2026, 11, 1, tzinfo=timezone.utc), "", ("a",), ("r",), 1, {name: 2}, {}
        )
        row = history_csv([one]).split("\n", 1)[1]
        assert f"'{name}" in row


@pytest.mark.skipif(os.name == "nt", reason="needs pipes")
def test_output_goes_through_a_link_and_to_a_pipe(tmp_path: Path, ytr) -> None:
    (tmp_path / "a.py").write_text("f(1)\n")
    (tmp_path / "there").mkdir()
    real, link, pipe = tmp_path / "there/out.json", tmp_path / "link.json", tmp_path / "pipe"
    real.write_text("old")
    real.chmod(0o640)
    link.symlink_to(real)
    words = ("seek", "f(@{x})", "a.py", "--format", "json", "--output")
    assert ytr(*words, "link.json").status == 0
    assert link.is_symlink() and json.loads(real.read_text("utf-8"))["matches"]
    assert real.stat().st_mode & 0o777 == 0o640
    os.mkfifo(pipe)
    texts: list[str] = []
    reader = threading.Thread(target=lambda: texts.append(pipe.read_text("utf-8")))
    reader.start()
    assert ytr(*words, "pipe").status == 0
    reader.join(30)
    assert json.loads(texts[0])["matches"] and stat.S_ISFIFO(pipe.stat().st_mode)
    assert ytr(*words, "/dev/null").status == 0 and not os.path.isfile("/dev/null")
