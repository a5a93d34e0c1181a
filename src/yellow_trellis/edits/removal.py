"""Taking out statements and list items with what would be left dangling: lines and separators.

Nodes that go together are looked at together: of the last two items of a list the separator before
the first goes, of two statements on a line the line, and a body that loses all gets what it needs.
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence

from yellow_trellis.edits.edit import Edit, New
from yellow_trellis.edits.lists import is_tuple
from yellow_trellis.edits.statement_insertion import is_alone
from yellow_trellis.source import Source, Span
from yellow_trellis.syntax import Node
from yellow_trellis.syntax.comment_ownership import reach

_BRACKETS = frozenset("()[]{}")


_SEPARATOR = re.compile(rb"[ \t]*,")


def removal(node: Node) -> Edit:
    """Return the edit that takes out one node; see `removals`."""
    return removals([node])[0]


def removals(nodes: Sequence[Node], moved: Sequence[Node] = ()) -> list[Edit]:
    """Return the edits that take out `nodes`: statements, items, decorators or clauses.

    What lies in another one of them goes with that.
    Arguments: `moved` are nodes that go from where they are, and stand elsewhere.
    Errors: `ValueError` when a node cannot be left out where it stands, or goes and stays.
    """
    gone = {id(node): node for node in map(definition_of, nodes)}
    going = dict(gone)
    for node in map(definition_of, moved):
        if id(node) in going:
            message = "both removed and moved" if id(node) in gone else "moved twice"
            raise ValueError(f"the code at {node.place} is {message}")
        going[id(node)] = node
    outer = [n for n in going.values() if not any(id(above) in gone for above in n.ancestors())]
    edits: list[Edit] = []
    results: set[int] = set()
    for node in outer:
        parent, language = node.parent, node.tree.language
        kind = parent.kind if parent is not None else ""
        if parent is not None and (kind in language.bodies or kind in language.lists):
            if id(parent) not in results:
                results.add(id(parent))
                edits += _from_row(parent, [n for n in outer if n.parent is parent], gone)
        elif node.kind in language.lifted or node.kind in language.clauses:
            edits.append(_lines_of(node))
        elif is_alone(node) and language.block is not None:
            edits.append(Edit(node.span, (New(empty_block(language.block)),)))
        else:
            raise ValueError(f"a {node.kind} cannot be taken out of a {kind or 'file'}")
    return edits


def _from_row(parent: Node, going: list[Node], gone: dict[int, Node]) -> Iterator[Edit]:
    if parent.kind in parent.tree.language.bodies:
        yield from _from_body(parent, going, gone)
        return
    items = [item for item in parent.items if item.kind not in _BRACKETS]
    if (remaining := _only_one(parent, items, going)) is not None:
        yield from _to_one(items, remaining)
        return
    for first, last in _runs(items, going):
        start, end = reach(items[first]).start, reach(items[last]).end
        if last + 1 < len(items):
            yield Edit(Span(start, max(end, reach(items[last + 1]).start)))
        elif first:
            yield _last_items(items[first - 1], start, end)
        else:
            closing = parent.children[-1]
            yield Edit(Span(start, closing.start if closing.kind in _BRACKETS else end))


def _only_one(parent: Node, items: list[Node], going: list[Node]) -> Node | None:
    """Return the item that stays alone in a tuple, which is none without a separator behind it."""
    if not is_tuple(parent) or len(items) < 2:
        return None
    remaining = [item for item in items if not any(item is node for node in going)]
    return remaining[0] if len(remaining) == 1 else None


def _to_one(items: list[Node], remaining: Node) -> Iterator[Edit]:
    """Take out all items of a tuple but one, which keeps its separator, or gets one."""
    at = next(n for n, item in enumerate(items) if item is remaining)
    if at:
        yield Edit(Span(reach(items[0]).start, reach(remaining).start))
    follow = remaining.next
    separators = remaining.tree.language.separators
    if follow is None or follow.kind not in separators:
        yield Edit.after(remaining.span, New(","))
    elif at + 1 < len(items):
        yield Edit(Span(follow.end, reach(items[-1]).end))


def _last_items(before: Node, start: int, end: int) -> Edit:
    """Take out the last items of a list, from byte `start` to `end`, behind the item `before`.

    Comments in between are about what stands before: then the separator there stays as well.
    """
    source = before.tree.source
    line = source.lines.start(start)
    mark = before.tree.language.comment_mark
    if mark.search(source.code[before.end : line]) is None or source.data[line:start].strip():
        return Edit(Span(before.end, end))
    behind = _SEPARATOR.match(source.data, end)
    ended = source.lines.end(source.lines.start(line - 1))
    return Edit(Span(ended, behind.end() if behind is not None else end))


def _runs(items: Sequence[Node], going: list[Node]) -> Iterator[tuple[int, int]]:
    """Yield the positions of the first and the last of each run of items that go."""
    first: int | None = None
    for at, item in enumerate(items):
        goes = any(item is first for first in going)
        if goes and first is None:
            first = at
        if first is not None and (not goes or at + 1 == len(items)):
            yield first, at if goes else at - 1
            first = None


# ---------------------------------------------------------------------- statements


def empty_block(block: tuple[str, str]) -> str:
    """Return a block without a statement."""
    opening, closing = block
    return f"{opening} {closing}" if opening.isalpha() else opening + closing


def _from_body(body: Node, going: list[Node], gone: dict[int, Node]) -> Iterator[Edit]:
    items = [item for item in body.items if item.named]
    goes = [any(item is first for first in going) for item in items]
    filler = body.tree.language.empty_body if all(goes) and body.parent is not None else ""
    for begin, end in _lines(items):
        if all(goes[begin : end + 1]):
            if filler and not begin:
                span = Span(items[begin].start, items[end].end)
                if id(items[begin]) not in gone:  # it is moved, and takes its comments along
                    span = Span(reach(items[begin]).start, reach(items[end]).end)
                yield Edit(span, (New(filler),))
            else:
                yield _whole_lines(items, begin, end)
            continue
        row = items[begin : end + 1]
        for first, last in _runs(row, going):
            if last + 1 < len(row):
                yield Edit(Span(row[first].start, row[last + 1].start))
            else:
                yield Edit(Span(row[first - 1].end, row[last].end))


def _lines(items: Sequence[Node]) -> Iterator[tuple[int, int]]:
    """Yield the positions of the first and the last of the statements that share a line."""
    begin = 0
    for at, item in enumerate(items):
        if at + 1 < len(items):
            between = item.tree.source.code[item.end : items[at + 1].start]
            mark = item.tree.language.comment_mark.search(between)
            between = between[: mark.start() if mark is not None else None]
            if b";" in between and b"\n" not in between.replace(b"\\\n", b""):
                continue
        yield begin, at
        begin = at + 1


def _whole_lines(items: Sequence[Node], first: int, last: int) -> Edit:
    """Take out statements with their lines, and the blank lines that would be too many."""
    source = items[first].tree.source
    own = Span(reach(items[first]).start, reach(items[last]).end)
    line, line_end = source.lines.start(own.start), source.lines.end(own.end)
    if source.data[line : own.start].strip() or source.data[own.end : line_end].strip(b" \t;"):
        return Edit(Span(items[first].start, items[last].end))
    follow = source.lines.next(own.end)
    if follow is None:
        newline = source.newline_at(own.start)
        return Edit(Span(max(line - len(newline), 0), line_end))
    before, after = _blank_before(source, line), _blank_after(source, follow)
    top = items[first].parent is items[first].tree.root
    if last + 1 == len(items):
        after = 0
    elif not first and not (top and source.data[:line].strip()):
        before = 0
    elif before <= after:
        after = 0
    else:
        before = 0
    return Edit(Span(_lines_up(source, line, before), _lines_down(source, follow, after)))


def _blank_before(source: Source, line: int) -> int:
    count = 0
    while line and not source.data[(up := source.lines.start(line - 1)) : line].strip():
        line, count = up, count + 1
    return count


def _blank_after(source: Source, line: int) -> int:
    count = 0
    while (down := source.lines.next(line)) is not None and not source.data[line:down].strip():
        line, count = down, count + 1
    return count


def _lines_up(source: Source, line: int, count: int) -> int:
    for _ in range(count):
        line = source.lines.start(line - 1)
    return line


def _lines_down(source: Source, line: int, count: int) -> int:
    for _ in range(count):
        line = source.lines.next(line) or line
    return line


def _lines_of(node: Node) -> Edit:
    """Take out a decorator or a clause with its lines."""
    source = node.tree.source
    own = reach(node)
    line = source.lines.start(own.start)
    follow = source.lines.next(own.end)
    before = source.data[line : own.start]
    if before.strip() or follow is None:
        # behind other code the space before it goes too
        return Edit(Span(own.start - len(before) + len(before.rstrip(b" \t")), own.end))
    return Edit(Span(line, follow))


def definition_of(node: Node) -> Node:
    """Return a definition with its decorators, or the statement that `node` is."""
    node = node.outermost
    above = node.parent
    around = node.tree.language.optional_around
    if above is None or above.kind not in around or node.kind in node.tree.language.lifted:
        return node
    return above


def blank_lines_before(node: Node) -> int:
    """Return how many blank lines stand before a statement and its comments."""
    source = node.tree.source
    return _blank_before(source, source.lines.start(reach(node).start))
