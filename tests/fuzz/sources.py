"""Mutated files and twenty rules: no file is made worse, whatever it holds."""

from __future__ import annotations

import random
from functools import cache
from pathlib import Path

from tests.conftest import DEMO
from tests.laws.code import compiles
from yellow_trellis import Ruleset, Tree, load_rules
from yellow_trellis.languages import language, language_of
from yellow_trellis.runs.pipeline import process_file
from yellow_trellis.runs.processes.deadlines import limited
from yellow_trellis.runs.run_options import RunOptions
from yellow_trellis.source import Source, UnreadableError

_PIECES = [
    *(b"(", b")", b"[", b"]", b"{", b"}", b":", b",", b"\n", b"    ", b"\t", b"\\\n", b"#", b"'"),
    *(b'"""', b"f'{", b"lambda: ", b"not ", b"async ", b"await ", b"yield ", b"*", b"**", b"@", b";"),
    *(b"\r", b"\r\n", b"\x0c", b"\x00", b"\xff", b"\xe2\x80\xa8", b"\xef\xbb\xbf", b"=", b":=", b"->"),
    *(b"else:\n", b"try:\n", b"if x:\n", b"def f():\n", b"class A:\n", b"# -*- coding: latin-1 -*-\n"),
    *(b"None is x", b"x == None", b"print(x)", b"stamp(1)", b"has_key(1)", b"import a\n", b"..."),
]


@cache
def _given() -> tuple[Ruleset, list[bytes]]:
    rules = [r for r in load_rules([DEMO / "rules"]) if r.language == "python"]
    shipped = load_rules(["python-names"])
    files = sorted(p for p in DEMO.rglob("*.py") if language_of(p.name) == "python")
    texts = [path.read_bytes() for path in files if 200 < path.stat().st_size < 8_000]
    named = {rule.name: rule for rule in (*rules, *shipped) if rule.across is None}
    return Ruleset.of(list(named.values())[:20]), texts


def fault_of_source(seed: int, folder: Path) -> str:
    """Mutate a file of the demo, apply rules to it, and return what is wrong; else nothing."""
    dice = random.Random(seed)
    ruleset, texts = _given()
    raw = _mutated(dice.choice(texts), dice)
    with limited(20):
        options = RunOptions(mode="rework", with_review=True)
        report = process_file(raw, "a.py", "python", ruleset, options)
    for problem in report.problems:
        is_syntax = problem.place is not None and not compiles(raw)
        if problem.rule or not (is_syntax or _is_unreadable(raw)):
            return f"source {seed}: {problem.rule}: {problem.reason}"
    if report.change is None:
        return ""
    after = report.change.raw
    if compiles(raw) and not compiles(after):
        return f"source {seed}: it compiled, and does not any more"
    errors = len(_tree(after).errors) - len(_tree(raw).errors)
    return f"source {seed}: it has {errors} more syntax errors" if errors > 0 else ""


def _mutated(data: bytes, dice: random.Random) -> bytes:
    for _ in range(dice.choice([1, 1, 2, 3, 5, 20])):
        at = dice.randrange(len(data) + 1)
        size = dice.choice([0, 0, 1, 1, 3, 20, 200])
        put = dice.choice([*_PIECES, b"", data[at : at + size] * 2, bytes([dice.randrange(256)])])
        data = data[:at] + put + data[at + size :]
    return data


def _tree(raw: bytes) -> Tree:
    return Tree(Source.read(raw), language("python"))


def _is_unreadable(raw: bytes) -> bool:
    try:
        Source.read(raw)
    except UnreadableError:
        return True
    return False
