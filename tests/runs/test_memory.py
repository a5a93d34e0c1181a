"""What is kept from run to run: believed only where it must be right, thrown away when damaged."""

import os
import sqlite3
import time
import unicodedata
from itertools import count
from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.conftest import DEMO
from yellow_trellis import RuleError, RunOptions, run
from yellow_trellis.project.cache.sqlite_cache import Store
from yellow_trellis.project.discovery import discover
from yellow_trellis.runs.file_report import Run
from yellow_trellis.runs.rule_source import PatternSpec, RulesSpec
from yellow_trellis.runs.word_index import WordIndex

TEXTS = {
    "alder/__init__.py": ["", "from .clock import stamp\n", "from .clock import *\n", None],
    "alder/clock.py": [
        "from tramline.clock import stamp\n",
        "from tramline.clock import stamp, tick\nx = stamp\n",
        "def stamp(): pass\n",
        "class Clock:\n    def now(self): return 1\n",
        None,
    ],
    "alder/uses.py": [
        "from alder import stamp\nstamp(1)\n",
        "from alder.clock import x as stamp\nstamp(2)\n",
        "import alder\nalder.stamp(3)\n",
        "from alder.clock import Clock\nClock().now()\n",
        "from alder.clock import x\nx(2)\n",
        "from alder.depot.yard import mark\nmark(3)\n",
    ],
    "alder/more.py": ["stamp(4)\n", "from tramline.clock import stamp\nif 1:\n  stamp(5)\n", None],
    "alder/depot/yard.py": [
        "from alder.clock import stamp as mark\nmark(6)\n",
        "import alder.depot.yard\npatch('alder.clock.Clock.now')\n",
        "from ..clock import stamp as tick\nnow = tick\nnow(7)\n",
        None,
    ],
    "pages/fares.ts": [
        "export function fare(x) { return x }\n",
        "export { fare as price } from './sale'\n",
        "function fare(x) { return x }\nexport { fare, fare as price }\n",
        None,
    ],
    "pages/sale.ts": [
        "import { fare as toll } from './fares'\ntoll(8)\n",
        "import { price } from './fares'\nprice(9)\nexport function fare() {}\n",
    ],
}
RULES = """
[[rule]]
name = "by-meaning"
summary = "s"
find = "@<tramline.clock.stamp>(@{x})"
put = "tick(@{x})"

[[rule]]
name = "fare-by-meaning"
summary = "s"
language = "typescript"
find = "@<pages/fares.fare>(@{x})"

[[rule]]
name = "method"
summary = "s"
find = "@{x}.now()"

[[rule]]
name = "renamed"
summary = "s"
rename = "alder.clock.Clock.now"
to = "present"
"""
_times = count(1_600_000_000)


def put(file: Path, text: str | None) -> None:
    """Write a file that seems to have been so for long."""
    file.parent.mkdir(exist_ok=True, parents=True)
    if text is None:
        file.unlink(missing_ok=True)
        return
    file.write_text(text)
    now = next(_times)
    os.utime(file, (now, now))


def told(done: Run) -> list[object]:
    return [
        (r.path, r.lines, r.findings, r.conflicts, r.fates, r.change, r.problems, r.rounds)
        for r in done.reports
    ]


def told_of(folder: Path, spec: RulesSpec, mode: str, cache: bool = False) -> list[object]:
    """Return what a run tells, or that what a rule renames is gone."""
    try:
        done = run([folder], spec, RunOptions(mode=mode, cache=cache, workers=1))
    except RuleError as wrong:
        return [str(wrong)]
    assert done.notes == []
    return told(done)


STEPS = st.lists(
    st.sampled_from(sorted(TEXTS)).flatmap(
        lambda name: st.tuples(st.just(name), st.sampled_from(TEXTS[name]))
    ),
    min_size=1,
    max_size=4,
)


def opened_from_here(monkeypatch) -> list[str]:
    """Return the names of the Python files that are opened from now on, in a list that grows."""
    opened: list[str] = []

    def noting(path, *more, kept=open, **named):
        if str(path).endswith(".py"):
            opened.append(os.path.basename(path))
        return kept(path, *more, **named)

    monkeypatch.setattr("builtins.open", noting)
    monkeypatch.setattr("io.open", noting)
    return opened


@settings(max_examples=int(os.environ.get("YTR_EXAMPLES", "100")) // 4)
@given(steps=STEPS, index=st.booleans())
def test_what_is_known_gives_what_looking_gives(tmp_path_factory, steps, index: bool) -> None:
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr("yellow_trellis.project.cache.file_stat._SETTLED", 0)
        _compare_known_with_looked(tmp_path_factory.mktemp("base"), steps, index)


def _compare_known_with_looked(folder: Path, steps, index: bool) -> None:
    """Change files step by step, and compare runs that know what was with runs that do not."""
    (folder / "r.toml").write_text(RULES)
    for name, texts in TEXTS.items():
        put(folder / name, texts[0])
    spec = RulesSpec((str(folder / "r.toml"),))
    if index:
        WordIndex(Store(folder)).add(discover([folder], frozenset({"python"})))
    for name, text in [*steps, ("alder/uses.py", TEXTS["alder/uses.py"][0])]:
        for mode in ("survey", "rework"):
            told_of(folder, spec, mode, cache=True)
        put(folder / name, text)
        for mode in ("survey", "rework"):
            kept = told_of(folder, spec, mode, cache=True)
            assert kept == told_of(folder, spec, mode), (name, text, mode)


@pytest.mark.parametrize("mode", ["survey", "rework"])
def test_a_run_without_a_cache_leaves_nothing_behind(tmp_path, mode: str) -> None:
    (tmp_path / "r.toml").write_text(RULES)
    for name, texts in TEXTS.items():
        put(tmp_path / name, texts[0])
    told_of(tmp_path, RulesSpec((str(tmp_path / "r.toml"),)), mode)
    assert not (tmp_path / ".yellow-trellis").exists()


@pytest.fixture
def at_once(monkeypatch) -> None:
    """Let files count as settled as soon as they are written."""
    monkeypatch.setattr("yellow_trellis.project.cache.file_stat._SETTLED", 0)


@pytest.mark.usefixtures("at_once")
def test_files_that_have_not_changed_are_not_read(tmp_path: Path, monkeypatch) -> None:
    for number in range(4):
        put(tmp_path / f"f{number}.py", f"f({number})\n")
    spec = PatternSpec("f(@{x})", None, "python")
    first = run([tmp_path], spec, RunOptions(cache=True))
    assert (first.known, len(first.findings)) == (0, 4)
    put(tmp_path / "f1.py", "f(1); f(2)\n")
    opened = opened_from_here(monkeypatch)
    again = run([tmp_path], spec, RunOptions(cache=True))
    assert (again.known, len(again.findings)) == (3, 5)
    assert set(opened) == {"f1.py"}
    assert run([tmp_path], PatternSpec("f(0)", None, "python"), RunOptions(cache=True)).known == 0


@pytest.mark.skipif(os.name == "nt", reason="Windows keeps no time of the last change of a status")
def test_a_change_shows_that_keeps_size_and_time(tmp_path: Path) -> None:
    file = tmp_path / "a.py"
    put(file, "f(1)\n")
    spec = PatternSpec("f(@{x})", None, "python")
    time.sleep(2.1)
    assert len(run([tmp_path], spec, RunOptions(cache=True)).findings) == 1
    assert run([tmp_path], spec, RunOptions(cache=True)).known == 1
    before = file.stat()
    file.write_bytes(b"g(1)\n")
    os.utime(file, ns=(before.st_atime_ns, before.st_mtime_ns))
    after = file.stat()
    assert (after.st_size, after.st_mtime_ns, after.st_ino) == (5, before.st_mtime_ns, before.st_ino)
    assert not run([tmp_path], spec, RunOptions(cache=True)).findings


@pytest.mark.usefixtures("at_once")
def test_a_word_index_says_which_files_are_opened(tmp_path: Path, monkeypatch) -> None:
    for number in range(4):
        put(tmp_path / f"f{number}.py", f"def go_{number}():\n    call(1)\n")
    index = WordIndex(Store(tmp_path))
    assert index.add(discover([tmp_path], frozenset({"python"}))) == 4 * 3
    opened = opened_from_here(monkeypatch)
    done = run([tmp_path], PatternSpec("def go_2(): @{b*}", None, "python"), RunOptions(cache=True))
    assert (opened, len(done.findings), done.lines) == (["f2.py"], 1, 8)
    put(tmp_path / "f3.py", "def go_2(): pass\n")
    assert (
        len(run([tmp_path], PatternSpec("def go_2(): @{b*}", None, "python"), RunOptions(cache=True)).findings)
        == 2
    )
    assert not index.missing(discover([tmp_path], frozenset({"python"})))


def test_a_word_index_reads_words_as_the_language_does(tmp_path: Path) -> None:
    (tmp_path / "a.py").write_bytes("# coding: latin-1\ngröße(1)\n".encode("latin-1"))
    put(tmp_path / "b.py", unicodedata.normalize("NFD", "größe(1)\n"))
    put(tmp_path / "c.pas", "begin\n  WriteLn(1);\nend.\n")
    WordIndex(Store(tmp_path)).add(discover([tmp_path], frozenset({"python", "pascal"})))
    done = run([tmp_path], PatternSpec("größe(@{x})", None, "python"), RunOptions(cache=True))
    assert [Path(one.path).name for one in done.findings] == ["a.py"]
    (problem,) = done.problems  # to the parser it is another name: told, and never passed over
    assert problem.path.endswith("b.py") and "at 1:1 is 'gr\\xf6\\xdfe' to python" in problem.reason
    done = run([tmp_path], PatternSpec("writeln(@{x})", None, "pascal"), RunOptions(cache=True))
    assert len(done.findings) == 1


@pytest.mark.parametrize("damage", ["garbage", "middle", "table", "body"])
def test_a_damaged_store_is_rebuilt_and_told(tmp_path: Path, damage: str) -> None:
    for number in range(40):
        put(tmp_path / f"f{number}.py", f"f({number})\n" * 30)
    spec = PatternSpec("f(@{x})", None, "python")
    right = told(run([tmp_path], spec, RunOptions(cache=True)))
    store = Store(tmp_path)
    raw = bytearray(store.path.read_bytes())
    if damage == "garbage":
        store.path.write_bytes(b"no store at all" * 400)
    elif damage == "middle":
        raw[4096:] = os.urandom(len(raw) - 4096)
        store.path.write_bytes(raw)
    else:
        change = "seal = seal + 1" if damage == "table" else "body = substr(body, 1, 50)"
        with sqlite3.connect(store.path) as database:
            database.execute(f"update entries set {change} where kind = 'reports'")
        database.close()
    hurt = run([tmp_path], spec, RunOptions(cache=True))
    assert told(hurt) == right
    assert hurt.notes == ["what was kept of earlier runs was damaged: it was thrown away"]
    assert run([tmp_path], spec, RunOptions(cache=True)).known == 40


def test_other_rules_or_a_changed_helper_are_another_kind_of_run(tmp_path: Path) -> None:
    put(tmp_path / "code/a.py", "f(1)\ng(2)\n")
    (tmp_path / "rules").mkdir()
    rule = '[[rule]]\nname = "one"\nsummary = "s"\nfind = "{}(@{{x}})"\n'
    (tmp_path / "rules/r.toml").write_text(rule.format("f"))
    spec = RulesSpec((str(tmp_path / "rules"),))
    assert run([tmp_path / "code"], spec, RunOptions(cache=True)).findings[0].start.line == 1
    assert run([tmp_path / "code"], spec, RunOptions(cache=True)).known == 1
    identity = spec.identity()
    (tmp_path / "rules/r.toml").write_text(rule.format("g"))
    assert spec.identity() != identity


def test_the_demo_is_the_same_with_and_without_what_is_known(trams: Path) -> None:
    spec = RulesSpec((str(DEMO / "rules"),))
    anew = run([trams / "alder"], spec, RunOptions(mode="rework", workers=1))
    for workers in (1, 2, 8):
        kept = run([trams / "alder"], spec, RunOptions(mode="rework", cache=True, workers=workers))
        assert told(kept) == told(anew)
    assert kept.known == len(anew.reports)
