"""Comment ownership: the code before a comment on its line, else the code that follows."""

from __future__ import annotations

from typing import NamedTuple

from yellow_trellis.source import Span
from yellow_trellis.syntax.node import Node


LEAVE = b"trellis:"
"""What is in every comment that leaves the place below or beside it alone."""


class Attached(NamedTuple):
    """The comments that belong to a node: those before it and those after it on its last line."""

    before: tuple[Node, ...]
    after: tuple[Node, ...]


def attached(node: Node) -> Attached:
    """Return the comments that `node` owns, looking at its siblings.

    A comment behind code on the same line belongs to that code, a separator in between
    notwithstanding. Comments directly above a node, or before it on its own line, belong to the
    node. A blank line cuts the tie.
    """
    parent = node.parent
    if parent is None:
        return Attached((), ())
    siblings = parent.children
    at = node.index
    return Attached(_before(siblings, at), _after(siblings, at))


def _after(siblings: tuple[Node, ...], at: int) -> tuple[Node, ...]:
    node = siblings[at]
    source = node.tree.source
    separators = node.tree.language.separators
    nodes: list[Node] = []
    last = node
    for sibling in siblings[at + 1 :]:
        if b"\n" in source.data[last.end : sibling.start]:
            break
        if sibling.is_comment:
            nodes.append(sibling)
        elif nodes or sibling.kind not in separators:
            # code follows on this line: what stands in between belongs to that code
            return () if sibling.kind not in separators and not _closes(sibling) else tuple(nodes)
        last = sibling
    return tuple(nodes)


def _closes(node: Node) -> bool:
    return node.kind in (")", "]", "}")


def _before(siblings: tuple[Node, ...], at: int) -> tuple[Node, ...]:
    node = siblings[at]
    source = node.tree.source
    nodes: list[Node] = []
    first = node
    for sibling in reversed(siblings[:at]):
        gap = source.data[sibling.end : first.start]
        if not sibling.is_comment or gap.count(b"\n") > 1 or _is_macro_line(sibling):
            break
        nodes.append(sibling)
        first = sibling
    # a comment that stands behind other code on its line belongs there
    while nodes and _behind_code(nodes[-1]) and b"\n" in source.data[nodes[-1].end : node.start]:
        nodes.pop()
    return tuple(reversed(nodes))


def _behind_code(comment: Node) -> bool:
    source = comment.tree.source
    return bool(source.data[source.lines.start(comment.start) : comment.start].strip())


def _is_macro_line(comment: Node) -> bool:
    """Return whether a comment is a hidden macro on lines of its own, which speaks for itself."""
    source, start = comment.tree.source, comment.start
    if source.code is source.data or source.code[start] == source.data[start]:
        return False
    end_of_line = source.data.find(b"\n", comment.end)
    behind = source.data[comment.end : end_of_line if end_of_line >= 0 else None]
    return not _behind_code(comment) and not behind.strip()


def reach(node: Node) -> Span:
    """Return the span of `node` together with the comments it owns."""
    own = attached(node)
    first = own.before[0].start if own.before else node.start
    last = own.after[-1].end if own.after else terminated_end(node)
    return Span(first, last)


def terminated_end(node: Node) -> int:
    """Return where a statement ends with the token that ends it, if that stands beside it."""
    parent, language = node.parent, node.tree.language
    if not language.terminator or parent is None or parent.kind not in language.bodies:
        return node.end
    follow = node.next
    is_ended = follow is not None and follow.kind == language.terminator
    return follow.end if follow is not None and is_ended else node.end


def run_reach(run: tuple[Node, ...]) -> Span:
    """Return the span of neighbouring statements with the comments that belong to them.

    For the statements of a whole body, comments between its header and the first statement and
    those that follow the last at the same depth belong to the body.
    """
    first, last = run[0], run[-1]
    start, end = reach(first).start, reach(last).end
    source = first.tree.source
    column = source.place(first.start).column
    for comment in _comments_around(first, backwards=True):
        line = source.lines.start(comment.start)
        if source.data[line : comment.start].strip():
            break
        start = comment.start
    for comment in _comments_around(last, backwards=False):
        line = source.lines.start(comment.start)
        if source.data[line : comment.start].strip() or source.place(comment.start).column < column:
            break
        end = comment.end
    return Span(start, end)


def _comments_around(node: Node, *, backwards: bool) -> list[Node]:
    """Return the comments next to `node` in its parent, or next to the parent if it is the edge."""
    nodes: list[Node] = []
    language = node.tree.language
    while node.parent is not None:
        siblings = node.parent.children
        at = node.index
        tail = siblings[:at][::-1] if backwards else siblings[at + 1 :]
        for sibling in tail:
            if not sibling.is_comment or _is_macro_line(sibling):
                return nodes if node.kind in language.bodies else []
            nodes.append(sibling)
        if node.parent.kind not in language.bodies:
            return nodes
        node = node.parent
    return nodes


def is_below_head(node: Node) -> bool:
    """Return whether nothing stands before a statement but comments that are about the file.

    Those that leave something alone are about the statement.
    """
    before = attached(node).before
    above = node.tree.source.data[: reach(node).start].removeprefix(b"\xef\xbb\xbf").strip()
    is_top = not above or (above.startswith(b"#!") and b"\n" not in above)
    return is_top and bool(before) and not any(LEAVE in comment.data for comment in before)
