"""Repairs that a rewritten file needs beside its fixes: empty bodies filled, imports adjusted."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping

from yellow_trellis.edits import Edit, New
from yellow_trellis.edits.lists import broken
from yellow_trellis.plans.proof.amendment import ProofText, amended
from yellow_trellis.semantics import RequiredImport, facts_of, semantics_of
from yellow_trellis.source import Span
from yellow_trellis.syntax import Node, Tree


def fill_bodies(before: Tree, draft: ProofText) -> list[Edit]:
    """Return what stands in the bodies that the fixes together have left without a statement."""
    after = draft.tree
    filler = after.language.empty_body
    hollow = _hollow(after) if filler else []
    if not hollow or len(hollow) <= len(_hollow(before)):
        return []
    edits = []
    for body in hollow:
        header = body.previous_token
        # brackets may be missing still: then a body may look empty far from all fixes
        if header is not None and header.end <= body.start and _is_beside_a_fix(body, draft):
            indent = after.source.indent_at(header.start) + after.source.indent_unit
            text = "\n" + indent.decode("utf-8", "replace") + filler
            edits.append(Edit.after(header.span, New(text)))
    return edits


def _is_beside_a_fix(body: Node, draft: ProofText) -> bool:
    """Return whether only space and comments are between a body and what a fix has made."""
    data, mark = body.tree.source.code, body.tree.language.comment_mark
    for region in draft.regions:
        first, last = sorted((region.new, body.span))
        between = data[first.end : last.start].splitlines()
        if not any(mark.split(line)[0].strip() for line in between):
            return True
    return False


def settle(
    before: Tree,
    draft: ProofText,
    results: Iterable[tuple[int, RequiredImport]],
    spans: Iterable[Span],
    widths: Mapping[int, int],
) -> ProofText:
    """Return the draft with the imports that it needs, and with lines of the width asked for.

    Arguments: `results` are the imports that fixes need, each with the number of its fix; `spans`
    is what the fixes have written over in `before`; `widths` says by number of a fix how long its
    lines may get, in characters.
    Imports are added first, so that a statement which loses a name and gets another stays.
    """
    needed = [
        (item, draft.extents[number][0].start)
        for number, item in results
        if draft.extents.get(number)
    ]
    semantics = semantics_of(before.language)
    if needed and semantics is not None:
        draft = amended(draft, semantics.add_imports(draft.tree, needed))
    if semantics is not None and semantics.lost_words(before, draft.tree, spans):
        gives = facts_of(before).place.gives
        draft = amended(draft, semantics.drop_imports(before, draft.tree, gives))
    for _ in range(_DEEPEST if widths else 0):
        edits = list(_narrower(draft, widths))
        if not edits:
            break
        draft = amended(draft, edits)
    return draft


_DEEPEST = 3
"""How many lists inside each other are broken for the sake of one line."""


def _narrower(draft: ProofText, widths: Mapping[int, int]) -> Iterator[Edit]:
    """Yield what breaks the outermost list on each line that a fix has made too long."""
    tree = draft.tree
    lines = tree.source.lines
    done = -1
    for span, width in sorted(
        (span, widths[number]) for number in widths for span in draft.extents.get(number, ())
    ):
        for node in _lists_in(tree, span):
            start = lines.start(node.start)
            text = tree.source.data[start : lines.end(start)].decode("utf-8", "replace")
            if len(text) > width and node.start >= done:
                edits = broken(node)
                yield from edits
                done = node.end if edits else done


def _lists_in(tree: Tree, span: Span) -> Iterator[Node]:
    """Yield the lists in `span` that are in brackets and on one line, outer before inner."""
    language = tree.language
    leaf = tree.leaf_at(span.start, max(span.end, span.start + 1))
    around = (leaf, *leaf.ancestors()) if leaf is not None else ()
    if any(language.is_literal(node.kind) for node in around):
        return  # not every version may break lines in a string
    stack = [leaf] if leaf is not None else []
    while stack:
        node = stack.pop()
        if node.end <= span.start or node.start >= span.end or language.is_literal(node.kind):
            continue
        is_list = node.kind in language.lists and node.kind in language.enclosures
        if is_list and span.holds(node.span) and b"\n" not in node.data:
            yield node
        stack.extend(reversed(node.children))


def _hollow(tree: Tree) -> list[Node]:
    """Return the bodies without a statement."""
    return [node for node in tree.of_kinds(tree.language.filled) if not node.items]
