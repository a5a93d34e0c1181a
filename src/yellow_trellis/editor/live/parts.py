"""The parts into which a file is split for the incremental scan: statements at its top, members.

A class may be most of a file. So it is taken apart: its header, each member, what ends it.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import TYPE_CHECKING, NamedTuple

from yellow_trellis.languages import Language
from yellow_trellis.plans.incremental import units
from yellow_trellis.rules import RuleDefinition
from yellow_trellis.scan.locality import looks_around
from yellow_trellis.syntax import Tree

if TYPE_CHECKING:
    import tree_sitter


class TreePart(NamedTuple):
    """A part of a file: start and end in bytes, and the kind of what it stands in."""

    start: int
    end: int
    parent: str


def statements_of(tree: Tree) -> Iterator[TreePart]:
    """Return what stands at the top of a file."""
    top = tree.raw_root.type
    return (TreePart(start, end, top) for start, end in units(tree))


def members_of(tree: Tree) -> Iterator[TreePart]:
    """Yield what stands at the top of a file, and classes there part by part."""
    top, around = tree.raw_root.type, _around_members(tree.language)
    for raw in tree.raw_root.children:
        kind = raw.type
        body = _class_body(raw, tree.language) if kind in around else None
        if body is None:
            yield TreePart(raw.start_byte, raw.end_byte, top)
            continue
        yield TreePart(raw.start_byte, body.start_byte, kind)
        inside = body.type
        for member in body.children:
            yield TreePart(member.start_byte, member.end_byte, inside)
        if body.end_byte < raw.end_byte:
            yield TreePart(body.end_byte, raw.end_byte, kind)


def fits_in_members(rule: RuleDefinition, language: Language) -> bool:
    """Return whether all that a rule over statements looks at lies in one of the members.

    That is so unless it looks for classes, or at what is around a match.
    """
    pattern = rule.compiled.pattern
    assert pattern is not None  # it leads a rule over statements to its places
    return pattern.kinds.isdisjoint(_around_members(language)) and not looks_around(rule)


def _around_members(language: Language) -> frozenset[str]:
    return (language.family("class") or frozenset()) | language.optional_around


def _class_body(raw: tree_sitter.Node, language: Language) -> tree_sitter.Node | None:
    """Return the one body of a class, or of what is decorated; None where there is none."""
    if raw.type in language.optional_around and raw.children:
        raw = raw.children[-1]
        if raw.type not in _around_members(language):
            return None
    bodies = [child for child in raw.children if child.type in language.bodies]
    return bodies[0] if len(bodies) == 1 else None
