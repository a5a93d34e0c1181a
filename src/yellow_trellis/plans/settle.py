"""What a rewritten file needs beside its fixes: bodies that are not empty, the right imports."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Iterable, Iterator, Mapping

from yellow_trellis.facts import facts_of
from yellow_trellis.fixes import Edit, New, Wanted, add_imports, drop_imports, lost_words
from yellow_trellis.fixes.lists import broken
from yellow_trellis.plans.primitive import Primitive
from yellow_trellis.plans.render import Rendered
from yellow_trellis.source import Span
from yellow_trellis.syntax import Node, Tree


def settle(
    before: Tree,
    rendered: Rendered,
    after: Tree,
    wanted: Iterable[tuple[int, Wanted]],
    written: Iterable[Primitive],
    widths: Mapping[int, int],
) -> tuple[Rendered, Tree]:
    """Return the text with bodies and imports put right, and its tree.

    Arguments: `rendered` is the text that the fixes made of `before`, and `after` its tree;
    `wanted` are the imports that fixes need, each with the number of its fix; `written` is what
    the fixes have written over; `widths` says by number of a fix how long its lines may get.
    Imports are added first, so that a statement which loses a name and gets another stays.
    """
    written = list(written)
    if any(not one.pieces for one in written):
        rendered, after = _edited(rendered, after, _fillers(before, after))
    needed = [
        (one, rendered.extents[number][0].start)
        for number, one in wanted
        if rendered.extents.get(number)
    ]
    if needed:
        rendered, after = _edited(rendered, after, add_imports(after, needed))
    if after.language.references and lost_words(before, after, (one.span for one in written)):
        edits = drop_imports(before, after, facts_of(before).place.gives)
        rendered, after = _edited(rendered, after, edits)
    for _ in range(_DEEPEST if widths else 0):
        edits = list(_narrower(rendered, after, widths))
        if not edits:
            break
        rendered, after = _edited(rendered, after, edits)
    return rendered, after


_DEEPEST = 3
"""How many lists inside each other are broken for the sake of one line."""


def _narrower(rendered: Rendered, tree: Tree, widths: Mapping[int, int]) -> Iterator[Edit]:
    """Yield what breaks the outermost list on each line that a fix has made too long."""
    lines = tree.source.lines
    done = -1
    for span, width in sorted(
        (span, widths[number]) for number in widths for span in rendered.extents.get(number, ())
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
    stack = [leaf] if leaf is not None else []
    while stack:
        node = stack.pop()
        if node.end <= span.start or node.start >= span.end or language.is_literal(node.kind):
            continue
        is_list = node.kind in language.lists and node.kind in language.enclosures
        if is_list and span.holds(node.span) and b"\n" not in node.data:
            yield node
        stack.extend(reversed(node.children))


def _fillers(before: Tree, after: Tree) -> list[Edit]:
    """Return what stands in the bodies that the fixes together have left without a statement."""
    filler = after.language.empty_body
    hollow = _hollow(after) if filler else []
    if not hollow or len(hollow) <= len(_hollow(before)):
        return []
    edits = []
    for body in hollow:
        header = body.previous_token
        if header is not None and header.end <= body.start:
            indent = after.source.indent_at(header.start) + after.source.indent_unit
            text = "\n" + indent.decode("utf-8", "replace") + filler
            edits.append(Edit.after(header.span, New(text)))
    return edits


def _hollow(tree: Tree) -> list[Node]:
    """Return the bodies without a statement."""
    return [node for node in tree.of_kinds(tree.language.filled) if not node.items]


def _edited(rendered: Rendered, tree: Tree, edits: list[Edit]) -> tuple[Rendered, Tree]:
    """Apply edits of new text that lie apart from each other."""
    if not edits:
        return rendered, tree
    data = rendered.data
    parts: list[bytes] = []
    ends: list[int] = []
    shifts = [0]
    pos = 0
    for edit in sorted(edits, key=lambda e: e.span):
        start, end = max(edit.span.start, pos), max(edit.span.end, pos)
        text = "".join(piece.text for piece in edit.pieces if isinstance(piece, New)).encode()
        new = text.replace(b"\n", tree.source.newline_at(start))
        parts += [data[pos:start], new]
        ends.append(end)
        shifts.append(shifts[-1] + len(new) - (end - start))
        pos = end
    parts.append(data[pos:])

    def moved(at: int) -> int:
        return at + shifts[bisect_right(ends, at)]

    made = rendered.carried(b"".join(parts), moved)
    return made, tree.with_data(made.data)
