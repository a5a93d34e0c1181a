"""Patterns match in real code where a matcher on the standard `ast` says that they do."""

from __future__ import annotations

import sysconfig
import warnings
from pathlib import Path

import pytest

from tests.conftest import tree_of
from tests.laws.matching import PATTERNS, differences, places, standard_tree
from yellow_trellis import compile_pattern
from yellow_trellis.languages import language
from yellow_trellis.patterns import seek

STDLIB = Path(sysconfig.get_path("stdlib"))
FILES = ("argparse", "ast", "calendar", "dataclasses", "fractions", "inspect", "statistics", "tokenize")


@pytest.mark.parametrize("name", FILES)
def test_nothing_is_missed_and_nothing_is_made_up(name: str) -> None:
    text = (STDLIB / f"{name}.py").read_text("utf-8").replace("\x0c", "")
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        standard = standard_tree(text)
    tree = tree_of(text)
    assert not tree.errors
    lines = tree.source.lines
    matches = 0
    for pattern in PATTERNS:
        starts = [m.node.start for m in seek(compile_pattern(pattern, language("python")), tree)]
        ours = {(lines.number(start), start - lines.start(start)) for start in starts}
        assert differences(ours, places(pattern, standard)) == (set(), set()), pattern
        matches += len(ours)
    assert matches > 200
