"""What a code base answers rests on the bytes of all its files, however much of it is remembered."""

import os
from itertools import count
from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from yellow_trellis import run
from yellow_trellis.project.project import CodeBase
from yellow_trellis.rules import RuleDefinition
from yellow_trellis.semantics import Vocabulary, facts_of

LINES = {
    ".py": [
        "def stamp(): pass",
        "from alder.clock import stamp",
        "from alder.clock import stamp as mark",
        "from .clock import *",
        "from alder.depot.yard import *",
        "from ..clock import mark",
        "from yard import mark",
        "from alder.depot.yard import mark as tick",
        "import alder.depot.yard",
        "import alder.clock as time, yard",
        "now = stamp",
        "then = time.mark",
        "alder.depot.yard.mark(1)",
        "patch('alder.clock.stamp')",
        "class Clock:\n    now = mark",
        "class Till:\n    def __now(self): pass\n    __now = staticmethod(__now)",
        "class Tower(Clock):\n    def now(self): pass",
    ],
    ".ts": [
        "export function fare() {}",
        "export { fare as price } from './fares'",
        "export { price as cost } from './sale'",
        "import { fare as toll } from './fares'",
        "export const sum = toll",
        "export * from './fares'",
        "export * from './sale'",
    ],
    ".java": ["class Fare {}", "interface Toll {}"],
}
FILES = [
    *("alder/__init__.py", "alder/clock.py", "alder/depot/__init__.py", "alder/depot/yard.py"),
    *("src/yard.py", "tests/uses.py", "pages/fares.ts", "pages/sale.ts", "java/Fare.java"),
]
NAMES = ["stamp", "mark", "now", "tick", "fare", "Fare", "Toll"]
SYMBOLS = frozenset({"alder.clock.stamp", "alder.depot.yard.mark", "pages/fares.fare"})
LANGUAGES = ("python", "typescript", "java")

STEPS = st.lists(
    st.sampled_from(FILES).flatmap(
        lambda name: st.tuples(
            st.just(name),
            st.none() | st.lists(st.sampled_from(LINES[Path(name).suffix]), max_size=4),
        )
    ),
    min_size=3,
    max_size=12,
)


def answers(base: CodeBase, root: Path) -> list[object]:
    """Return all that is asked of a code base, as plain values."""
    modules = base.modules("python")
    names = sorted(set(modules.names.values()))
    java = base.surroundings(str(root / "java/Fare.java"))
    vocabulary: Vocabulary = base.vocabulary
    return [
        *(dict(base.modules(name).names) for name in LANGUAGES),
        dict(vocabulary.words),
        {name: modules.importers(name) for name in names},
        {name: modules.handed_on(name) for name in names},
        {name: modules.relied_on(name) for name in names},
        {(name, word): modules.gives(name, word) for name in names for word in NAMES},
        {word: java.declares("", word) for word in NAMES},
        base.outline,
    ]


@settings(max_examples=int(os.environ.get("YTR_EXAMPLES", "60")))
@given(steps=STEPS)
def test_what_is_remembered_gives_the_answers_of_a_fresh_look(tmp_path_factory, steps) -> None:
    root = tmp_path_factory.mktemp("base")
    times = count(1_600_000_000)
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr("yellow_trellis.project.cache.file_stat._SETTLED", 0)
        for name, lines in steps:
            file = root / name
            file.parent.mkdir(exist_ok=True, parents=True)
            if lines is None:
                file.unlink(missing_ok=True)
            else:
                file.write_text("".join(f"{line}\n" for line in lines))
                now = next(times)
                os.utime(file, (now, now))
            remembering = CodeBase(root, SYMBOLS, LANGUAGES)
            fresh = CodeBase(root, SYMBOLS, LANGUAGES, use_cache=False)
            assert answers(remembering, root) == answers(fresh, root)
            remembering.keep()


def test_a_module_that_we_fail_on_costs_only_what_it_offers(tmp_path, monkeypatch) -> None:
    texts = {
        "clock.py": "def stamp(): pass\n",
        "odd.py": "from clock import stamp as mark\n",
        "uses.py": "from clock import stamp\nstamp()\n",
    }
    for name, text in texts.items():
        (tmp_path / name).write_text(text)

    def failing(tree):
        if b"mark" in tree.source.data:
            raise StopIteration("a fault of ours")
        return facts_of(tree)

    monkeypatch.setattr("yellow_trellis.project.project.facts_of", failing)
    done = run([tmp_path], RuleDefinition("r", summary="r", find="@<clock.stamp>()"))
    assert [finding.path for finding in done.findings] == [str(tmp_path / "uses.py")]


def test_nothing_is_kept_where_nothing_is_to_be_kept(tmp_path) -> None:
    (tmp_path / "a.py").write_text("from alder.clock import stamp as mark\n")
    base = CodeBase(tmp_path, SYMBOLS, LANGUAGES, use_cache=False)
    answers(base, tmp_path)
    base.keep()
    assert [file.name for file in tmp_path.iterdir()] == ["a.py"]
