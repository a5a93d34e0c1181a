"""Patterns cut out of real code match where they came from, and put back what was there.

YTR_CASES sets how many cases are tried with each seed: 2500 makes 10,000 of them.
"""

import os
import random
import sysconfig
import textwrap
from collections.abc import Iterator
from pathlib import Path

import pytest

from yellow_trellis import Node, Tree, compile_pattern
from yellow_trellis.edits.whitespace import bare_line_break
from yellow_trellis.fixes import compile_template, fill
from yellow_trellis.languages import language
from yellow_trellis.patterns import seek
from yellow_trellis.patterns.match import match_at
from yellow_trellis.source import Source, UnreadableError

PYTHON = language("python")
EXPRESSIONS = PYTHON.family("expression")


def fitting(tree: Tree) -> list[Node]:
    """Return nodes that a pattern can be cut from: no comments, no texts over several lines."""
    return [
        node
        for node in tree.root.walk()
        if node.named
        and node.kind in EXPRESSIONS | PYTHON.statements
        and node.kind not in PYTHON.wrappers | PYTHON.brackets | PYTHON.only_in_runs
        and 1 < len(node.data) < 400
        and not any(below.is_comment for below in node.walk())
        and not (node.kind in EXPRESSIONS and bare_line_break(node))
        and not any("string" in below.kind and "\n" in below.text for below in node.walk())
    ]


def holes_in(node: Node, chance: random.Random) -> list[Node]:
    """Choose some nodes below `node`, apart from each other, to be cut out."""
    can = [
        below
        for below in node.walk()
        if below is not node
        and below.named
        and below.kind in EXPRESSIONS | PYTHON.statements
        and below.kind not in PYTHON.only_in_runs | PYTHON.brackets
        and below.parent.kind not in PYTHON.brackets
        and below.field != "arguments"  # a generator that brings its own brackets
        and below.text not in ("print", "exec")
        and not any("string" in above.kind for above in below.ancestors())
    ]
    chosen: list[Node] = []
    for one in chance.sample(can, min(len(can), chance.randint(0, 4))):
        if not any(one.start < other.end and other.start < one.end for other in chosen):
            chosen.append(one)
    return sorted(chosen, key=lambda below: below.start)


def cut(node: Node, holes: list[Node]) -> str:
    """Return the code of `node` as a pattern, a hole for each of `holes`."""
    source, at, text = node.tree.source, node.start, ""
    for number, hole in enumerate(holes):
        text += source.text((at, hole.start)).replace("@{", "\\@{") + f"@{{hole_{number}}}"
        at = hole.end
    text += source.text((at, node.end)).replace("@{", "\\@{")
    return textwrap.dedent(source.indent_at(node.start).decode() + text) if "\n" in text else text


def cases(seed: int, count: int) -> Iterator[tuple[Node, list[Node], str]]:
    chance = random.Random(seed)
    files = sorted(Path(sysconfig.get_path("stdlib")).glob("*.py"))
    while count > 0:
        try:
            source = Source.read(chance.choice(files).read_bytes())
        except UnreadableError:
            continue
        tree = Tree(source, PYTHON)
        nodes = [] if tree.errors else fitting(tree)
        for node in chance.sample(nodes, min(len(nodes), 12)):
            holes = holes_in(node, chance)
            count -= 1
            yield node, holes, cut(node, holes)


@pytest.mark.parametrize("seed", range(4))
def test_a_pattern_matches_where_it_was_cut_out_and_is_its_own_template(seed: int) -> None:
    for node, holes, text in cases(seed, int(os.environ.get("YTR_CASES", "100"))):
        pattern = compile_pattern(text, PYTHON)
        match = match_at(pattern, node) or match_at(pattern, node.core)
        assert match is not None, text
        took = [match.node_of(f"hole_{number}").text for number in range(len(holes))]
        assert took == [hole.text for hole in holes], text
        assert any(found.span == match.span for found in seek(pattern, node.tree, node)), text
        assert fill(compile_template(text, pattern), match, title="same").edits == (), text
