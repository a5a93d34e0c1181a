"""`ytr watch`, the real command: what changes is looked at, what it writes itself is not."""

from __future__ import annotations

import os
import queue
import signal
import subprocess
import sys
import threading
import time
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest

from tests.conftest import _ENTRY

RULE = '[[rule]]\nname = "call-g"\nsummary = "f is g."\nfind = "f(@{x})"\nput = "g(@{x})"\n'


class Watching:
    """A watcher in a process of its own, and the lines that it prints."""

    def __init__(self, folder: Path, *words: str) -> None:
        self.process = subprocess.Popen(
            [sys.executable, "-uc", _ENTRY, "watch", *words],
            cwd=folder, stdout=subprocess.PIPE, stderr=subprocess.STDOUT, text=True,
            env={**os.environ, "NO_COLOR": "1"},
        )
        self.lines: queue.Queue[str] = queue.Queue()
        threading.Thread(target=self._read, daemon=True).start()

    def _read(self) -> None:
        assert self.process.stdout is not None
        for line in self.process.stdout:
            self.lines.put(line)

    def until(self, text: str) -> str:
        """Return what is printed up to a line with `text`."""
        said = ""
        while text not in said:
            try:
                said += self.lines.get(timeout=30)
            except queue.Empty:
                pytest.fail(f'no {text!r} in: {said}')
        return said

    def is_silent(self, seconds: float) -> bool:
        """Return whether nothing is printed for a while."""
        time.sleep(seconds)
        return self.lines.empty()

    def stop(self) -> str:
        self.process.send_signal(signal.SIGINT)
        assert self.process.wait(30) == 0
        assert self.process.stdout is not None
        self.process.stdout.close()
        return self.until("Stopped.")


@pytest.fixture
def watching(tmp_path: Path, home: Path) -> Iterator[Callable[..., Watching]]:
    """Start watchers in the test's folder, which has a rule and a file."""
    (tmp_path / "rules").mkdir()
    (tmp_path / "rules/r.toml").write_text(RULE)
    (tmp_path / "trellis.toml").write_text('rules = ["rules"]\npaths = ["code"]\n')
    (tmp_path / "code").mkdir()
    (tmp_path / "code/a.py").write_text("f(1)\nf(2)\n")
    started: list[Watching] = []

    def start(*words: str) -> Watching:
        started.append(Watching(tmp_path, *words))
        return started[-1]

    yield start
    for one in started:
        one.process.kill()
        one.process.wait()


def test_a_file_that_changes_is_shown_with_the_total(
    tmp_path: Path, watching: Callable[..., Watching]
) -> None:
    watch = watching()
    assert "In all 2 findings in 1 file." in watch.until("In all")
    (tmp_path / "code/a.py").write_text("f(1)\n")
    said = watch.until("In all")
    assert "code/a.py:1:1  f(1)" in said and "1 finding here, 2 before. In all 1 finding" in said
    (tmp_path / "code/notes.txt").write_text("f(1)")
    for number in range(150):  # as when a branch is switched
        (tmp_path / f"code/m{number}.py").write_text("f(3)\n")
    said = watch.until("In all 151 findings in 151 files.")
    assert said.count("f(3)") < 150 * 3
    (tmp_path / "rules/r.toml").write_text(RULE.replace("f(@{x})", "k(@{x})", 1))
    assert "In all 0 findings" in watch.until("In all 0")
    (tmp_path / "rules/r.toml").write_text("[[rule]]\n")
    assert "r.toml" in watch.until("ytr:")
    assert watch.stop()


def test_fixes_are_applied_and_our_own_writing_is_no_change(
    tmp_path: Path, watching: Callable[..., Watching]
) -> None:
    watch = watching("--fix")
    watch.until("In all 2")
    (tmp_path / "code/a.py").write_text("f(1)\nh(f(2))\n")
    said = watch.until("In all")
    assert "fixed code/a.py" in said and "In all 0 findings" in said
    assert (tmp_path / "code/a.py").read_text("utf-8") == "g(1)\nh(g(2))\n"
    assert watch.is_silent(2.0)
    assert watch.stop()


def test_a_bench_for_who_writes_a_rule(tmp_path: Path, watching: Callable[..., Watching]) -> None:
    watch = watching("--rule", "rules/r.toml")
    said = watch.until("waiting for the next change")
    assert "2 matches in 1 file." in said and "-f(1)" in said and "+g(1)" in said
    example = '[[rule.examples]]\ncode = "f(1)"\nbecomes = "k(1)"\n'
    (tmp_path / "rules/r.toml").write_text(RULE.replace("f(@{x})", "f(2)", 1).replace("@{x}", "2") + example)
    said = watch.until("waiting for the next change")
    assert "1 of 1 example failed" in said and "1 match in 1 file." in said
    (tmp_path / "rules/r.toml").write_text("[[rule]\n")
    assert "invalid TOML" in watch.until("ytr:")
    assert watch.stop()
