"""The trace says why, on the topics that are asked for, and nothing without them."""

import os
import subprocess
import sys
from pathlib import Path


def traced(topics: str, folder: Path, *words: str) -> tuple[int, str]:
    env = {**os.environ, "YTR_TRACE": topics}
    call = [sys.executable, "-m", "yellow_trellis", *words, "--no-cache", "a.py"]
    done = subprocess.run(call, cwd=folder, env=env, capture_output=True, text=True)
    return done.returncode, done.stderr


def test_topics(tmp_path: Path) -> None:
    code = "def h():\n    x = f(1)\n    return 2  # why\n\n" * 40
    (tmp_path / "a.py").write_text(code, "utf-8")
    (tmp_path / "r.toml").write_text(
        '[[rule]]\nname = "calls"\nsummary = "s"\nfind = "f(@{x})"\nput = "g(@{x})"\n'
        'safety = "review"\n',
        "utf-8",
    )
    _, told = traced("scan,rules", tmp_path, "survey", "--rules", "r.toml")
    assert "rules: a.py: candidates: calls" in told
    size = 40 * len("x = f(1)\n")
    assert f"scan: {size} of {len(code)} bytes are parsed" in told
    _, told = traced("scan", tmp_path, "seek", "@{x} + @{x}")
    assert f"all of {len(code)} bytes are parsed: the rule seek may look at any of it" in told
    _, told = traced("plan", tmp_path, "preview", "--rules", "r.toml")
    assert "plan: round 1: a.py:2:9: calls left: its fix asks for review" in told
    assert "scan:" not in told


def test_a_topic_that_there_is_not(tmp_path: Path) -> None:
    (tmp_path / "a.py").write_text("f(1)\n", "utf-8")
    status, told = traced("scan,plans", tmp_path, "seek", "f(@{x})")
    assert status == 2
    assert told == "ytr: YTR_TRACE: there is no topic 'plans'; there are scan, rules, plan\n"
