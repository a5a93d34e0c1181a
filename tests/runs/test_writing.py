"""Writing: whole files whatever happens, one writer at a time, and parts of runs taken back."""

import errno
import os
import random
import signal
import subprocess
import sys
import time
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.conftest import rules_of
from yellow_trellis import RunOptions, run, undo, write_changes
from yellow_trellis.errors import TrellisError
from yellow_trellis.project.safe_paths import Beneath
from yellow_trellis.runs.transaction import journal
from yellow_trellis.runs.transaction.lock import BusyError, locked
from yellow_trellis.runs.transaction.revert_hunks import without
from yellow_trellis.runs.transaction.undo import roll_back, runs
from yellow_trellis.source.diff import opcodes

OLD, NEW = "f(%d)\n", "g(%d)\n"
RULE = '[[rule]]\nname = "f-to-g"\nsummary = "s"\nfind = "f(@{x})"\nput = "g(@{x})"\n'


def make(folder: Path, files: int) -> None:
    (folder / "r.toml").write_text(RULE)
    for number in range(files):
        (folder / f"f{number:03}.py").write_text(OLD % number)


def texts(folder: Path) -> list[str]:
    return [file.read_text("utf-8") for file in sorted(folder.glob("f*.py"))]


def rework(folder: Path, *pairs: tuple[str, str]) -> list:
    done = run([folder], rules_of(*(pairs or [("f(@{x})", "g(@{x})")])), RunOptions(mode="rework"))
    return [report.change for report in done.changed]


def apply_in(folder: Path) -> subprocess.Popen[bytes]:
    return subprocess.Popen(
        [sys.executable, "-m", "yellow_trellis", "apply", "-r", "r.toml", "."],
        cwd=folder,
        stdout=subprocess.PIPE,
        stderr=subprocess.PIPE,
        preexec_fn=_heed_interrupts if sys.platform != "win32" else None,
    )


def _heed_interrupts() -> None:
    """Take interrupts also where the tests run in the background, which leaves them ignored."""
    signal.signal(signal.SIGINT, signal.SIG_DFL)


@pytest.mark.skipif(sys.platform == "win32", reason="needs SIGKILL")
def test_killed_at_any_moment_each_file_is_whole(tmp_path: Path) -> None:
    """The long run is benchmarks/interruptions.py."""
    make(tmp_path, 400)
    olds = [OLD % n for n in range(400)]
    dice = random.Random(4)
    between = 0
    for number in range(6):
        running = apply_in(tmp_path)
        while not (tmp_path / ".yellow-trellis/writing").exists() and running.poll() is None:
            time.sleep(0.002)
        if number > 2:  # surely in the middle
            while texts(tmp_path)[0] != NEW % 0 and running.poll() is None:
                time.sleep(0.001)
        time.sleep(dice.uniform(0, 0.06))
        running.send_signal(signal.SIGKILL)
        running.communicate()
        now = texts(tmp_path)
        assert all(text in (OLD % n, NEW % n) for n, text in enumerate(now))
        between += now != olds and any(text == OLD % n for n, text in enumerate(now))
        if number % 2:
            undo(tmp_path)
        elif (report := roll_back(tmp_path)) is not None:
            assert report.left == []
        else:
            undo(tmp_path)
        assert texts(tmp_path) == olds
        assert not list(tmp_path.glob(".*.ytr"))
    assert between


def wait_for_workers(number: int) -> None:
    """Wait until a process has started others, where the system tells of that."""
    children = Path(f"/proc/{number}/task/{number}/children")
    if not children.exists():
        time.sleep(1.5)
        return
    while not children.read_text("utf-8"):
        time.sleep(0.05)
    time.sleep(0.2)  # until they are at work


@pytest.mark.skipif(sys.platform == "win32", reason="needs SIGINT")
def test_interrupted_from_the_keyboard_it_tells_and_ends_soon(tmp_path: Path) -> None:
    make(tmp_path, 40)
    (tmp_path / "long.py").write_text(
        "".join(f"x{n} = [f(1), (2, 3), {{4: 5}}]\n" for n in range(60_000))
    )
    running = apply_in(tmp_path)
    wait_for_workers(running.pid)
    running.send_signal(signal.SIGINT)
    started = time.monotonic()
    told = running.communicate()[1].decode()
    assert time.monotonic() - started < 3
    assert running.returncode == 130
    assert "Interrupted after" in told and "nothing was written" in told
    assert texts(tmp_path) == [OLD % n for n in range(40)]


def test_interrupted_while_it_writes(tmp_path: Path, monkeypatch) -> None:
    make(tmp_path, 5)
    changes = rework(tmp_path)

    def stop(files: Beneath, name: str, data: bytes, real=Beneath.replace) -> None:
        if name == "f003.py":
            raise KeyboardInterrupt
        real(files, name, data)

    monkeypatch.setattr(Beneath, "replace", stop)
    report = write_changes(changes, tmp_path, ["f-to-g"])
    assert report.interrupted and len(report.written) == 3
    assert [Path(path).name for path, _ in report.left] == ["f003.py", "f004.py"]
    assert undo(tmp_path).restored == [f"f{n:03}.py" for n in range(5)]


@pytest.mark.parametrize("where", ["journal", "file"])
def test_a_full_disk_leaves_files_whole_and_told(tmp_path: Path, monkeypatch, where: str) -> None:
    make(tmp_path, 4)
    changes = rework(tmp_path)
    full = OSError(errno.ENOSPC, os.strerror(errno.ENOSPC))

    def fails(files: object, name: object, data: bytes = b"", real=Beneath.replace) -> None:
        if isinstance(name, str) and not name.endswith(".py"):
            return real(files, name, data)
        raise full

    if where == "journal":
        monkeypatch.setattr(journal.Journal, "record", fails)
    else:
        monkeypatch.setattr(Beneath, "replace", fails)
    report = write_changes(changes, tmp_path, ["f-to-g"])
    assert (report.written, len(report.left)) == ([], 4)
    assert all("No space left" in reason for _, reason in report.left)
    assert texts(tmp_path) == [OLD % n for n in range(4)]


def test_one_run_writes_at_a_time(tmp_path: Path) -> None:
    make(tmp_path, 2)
    changes = rework(tmp_path)
    busy = pytest.raises(BusyError, match="another run is writing here")
    with locked(tmp_path), busy, locked(tmp_path, 0.1):
        pass
    assert len(write_changes(changes, tmp_path, []).written) == 2


def test_runs_are_taken_back_by_name_by_file_and_by_rule(tmp_path: Path) -> None:
    code = "f(1)\n# 1\n# 2\n# 3\n# 4\n# 5\n# 6\n# 7\nold()\n"
    for name in "ab":
        (tmp_path / f"{name}.py").write_text(code)
    pairs = (("f(@{x})", "g(@{x})"), ("old()", "new()"))
    write_changes(rework(tmp_path, *pairs), tmp_path, ["rule-0", "rule-1"])
    first = runs(tmp_path)[0]
    assert (first.files, first.rules, first.state) == (2, ("rule-0", "rule-1"), "done")
    undo(tmp_path, rules=["rule-1"], files=["a.py"])
    assert (tmp_path / "a.py").read_text("utf-8") == code.replace("f(", "g(")
    write_changes(rework(tmp_path, ("g(@{x})", "h(@{x})")), tmp_path, ["rule-0"])
    assert (tmp_path / "b.py").read_text("utf-8").startswith("h(1)")
    report = undo(tmp_path, run=first.name)
    assert [reason for _, reason in report.left] == [
        "lines of the run, or next to them, were changed since"
    ] * 2
    assert undo(tmp_path).restored == ["a.py", "b.py"]
    middle = code.replace("# 4\n", "# mine\n")
    (tmp_path / "b.py").write_text(middle.replace("f(", "g(").replace("old", "new"))
    assert undo(tmp_path).restored == ["a.py", "b.py"]
    assert (tmp_path / "a.py").read_text("utf-8") == code
    assert (tmp_path / "b.py").read_text("utf-8") == middle
    for wrong, match in (
        ({"run": "x"}, "no run is called"),
        ({"files": ["c.py"]}, "did not write"),
        ({"rules": ["rule-2"]}, "has nothing by `rule-2`: did you mean `rule-"),
    ):
        with pytest.raises(TrellisError, match=match):
            undo(tmp_path, **{"run": first.name, **wrong})


LINES = st.lists(st.sampled_from([b"a", b"b", b"c", b"d", b""]), max_size=12)


@given(before=LINES, after=LINES, now=LINES)
def test_taking_back_is_exact_or_does_nothing(before, after, now) -> None:
    one, two = b"\n".join(before), b"\n".join(after)
    old, new = one.split(b"\n"), two.split(b"\n")
    hunks = [((i1, i2), (j1, j2)) for _, i1, i2, j1, j2 in opcodes(old, new)]
    assert without(two, one, two, hunks) == one
    above = b"top\n" * 3 + two
    assert without(above, one, two, hunks) in (b"top\n" * 3 + one, None)
    mixed = without(b"\n".join(now), one, two, hunks)
    assert mixed is None or len(mixed.split(b"\n")) - len(now or [b""]) <= len(old)
