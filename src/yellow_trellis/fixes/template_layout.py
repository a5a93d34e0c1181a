"""Layout of what a template puts: line breaks and indentation, as the code around has them."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from itertools import takewhile

from msgspec import Struct

from yellow_trellis.edits import Edit, New, Piece, Slice
from yellow_trellis.edits.whitespace import code_gap
from yellow_trellis.fixes.template import Slot, Template
from yellow_trellis.fixes.token_alignment import LinedUp
from yellow_trellis.fixes.tokens import Unit, closes_body, depth_of, stands_in_body
from yellow_trellis.patterns import Match
from yellow_trellis.source import Span


class Layout(Struct, frozen=True):
    """The space between the tokens of a match, and what it becomes."""

    template: Template
    match: Match
    lined: LinedUp
    enclosed: bool
    """Whether brackets around the match make line breaks free."""

    def redepth(self, unit: Unit, slot: Slot, led: bool) -> Iterator[Edit]:
        """Indent a token or body that stays, but stands deeper or less deep in the template.

        Arguments: `led` tells that its first line has been given its indentation already.
        """
        source = self.match.tree.source
        line = source.lines.start(unit.span.start)
        lead = source.data[line : unit.span.start].decode("utf-8", "replace")
        if slot.depth is None or lead.strip():
            return
        indent = self.indent_of(slot)
        if self.depth(unit) == slot.depth or indent == lead:
            return
        if slot.body:
            yield Edit(unit.span, (Slice(unit.span, (lead, indent)),))
        if led:
            return
        if len(indent) >= len(lead):
            yield Edit.before(unit.span, New(indent[len(lead) :]))
        else:
            yield Edit(Span(line, unit.span.start), (New(indent),))

    def indent_of(self, slot: Slot) -> str:
        """Return the indentation of a slot that starts a line."""
        source = self.match.tree.source
        base = source.indent_at(self.match.span.start) + source.indent_unit * (slot.depth or 0)
        return base.decode("utf-8", "replace")

    def own_line(self, unit: Unit) -> str | None:
        """Return the indentation of a unit that is the first on its line; None if it is not."""
        source = self.match.tree.source
        line = source.lines.start(unit.span.start)
        if line <= self.match.span.start:
            return None  # what stands before it is the match, or the line of it
        lead = source.data[line : unit.span.start].decode("utf-8", "replace")
        return None if lead.strip() else lead

    def below_statement(self, new: tuple[Slot, ...], left: Unit) -> tuple[Slot, ...]:
        """Put a statement on a line of its own behind one of a body that has such a line."""
        ended = self.match.tree.language.line_breaks_count and new[0].text == ";" and len(new) > 1
        rest = new[1:] if ended else new
        lead = self.own_line(left)
        if lead is None or "\n" in new[0].gap + rest[0].gap or not rest[0].starts:
            return new
        if not stands_in_body(left.nodes[-1]):
            return new
        return (rest[0]._replace(gap="\n", own_line=lead), *rest[1:])

    def below_header(self, new: tuple[Slot, ...]) -> tuple[Slot, ...]:
        """Put the end of a block on a line of its own, below the header of its statement."""
        indent = self.match.tree.source.indent_at(self.match.span.start)
        return (new[0]._replace(gap="\n", own_line=indent.decode("utf-8", "replace")), *new[1:])

    def unended(self, new: tuple[Slot, ...]) -> tuple[Slot, ...]:
        """Leave out a semicolon at the end where a line break ends a statement."""
        ended = self.match.tree.language.line_breaks_count and new[-1].text == ";" and len(new) > 1
        return new[:-1] if ended else new

    def opens_block(self, slot: Slot) -> bool:
        """Return whether a slot is the token that opens a block of statements."""
        block = self.match.tree.language.block
        return block is not None and slot.text == block[0]

    def closes_block(self, slot: Slot) -> bool:
        """Return whether a slot is the token that closes a block of statements."""
        block = self.match.tree.language.block
        return block is not None and slot.text == block[1]

    def depth(self, unit: Unit) -> int:
        """Return in how many bodies of the match a unit stands."""
        return depth_of(unit.nodes[0]) - depth_of(self.match.node)

    def on_line_before(self, left: Unit, old: Unit, new: tuple[Slot, ...]) -> int:
        """Return how many slots, that come in the place of a unit, go on with the line before it.

        A comment at the end of that line stays behind them.
        """
        if b"\n" not in self.match.tree.source.data[left.span.end : old.span.start]:
            return 0
        if closes_body(old.nodes[0]):
            return 0  # a brace becomes a word: the line stays its own
        if stands_in_body(old.nodes[0]):
            return sum(1 for _ in takewhile(lambda slot: slot.depth is None, new))
        return int(new[0].separator)

    def between(self, unit: Unit, second: Unit) -> Span | None:
        """Return the space between two units, if there is nothing but blanks on one line."""
        gap = Span(unit.span.end, second.span.start)
        return None if self.match.tree.source.data[gap.start : gap.end].strip(b" \t") else gap

    @staticmethod
    def fit_gap(
        span: Span, pieces: list[Piece], gap: Span, target: str, keep: bool, *, lead: bool
    ) -> tuple[Span, list[Piece]]:
        """Make the space beside replaced tokens what the template has, where the two differ.

        Arguments: `keep` leaves space alone that the template does not have: a name that comes
        for a name changes nothing about it.
        """
        empty = gap.start == gap.end
        if empty == (not target) or "\n" in target or (keep and not empty):
            return span, pieces
        if empty:
            return span, [New(target), *pieces] if lead else [*pieces, New(target)]
        return Span(min(span.start, gap.start), max(span.end, gap.end)), pieces

    def fit_break(
        self, unit: Unit, second: Unit, slot: Slot, *, displaces: bool = False
    ) -> Edit | None:
        """Return what gives the space between two units the line break of the template, or none.

        Arguments: `slot` is what comes behind that space; `displaces` lets a comment go from it.
        A body may stand on the line of its header, and on its own, whatever the template says.
        """
        gap = Span(unit.span.end, second.span.start)
        between = self.match.tree.source.data[gap.start : gap.end]
        broken = self._has_break(between)
        starts_line = slot.depth is not None and "\n" in slot.gap
        is_line = self.match.tree.language.line_breaks_count and (not slot.body or not slot.depth)
        if starts_line and not broken and is_line:
            blank = not between.strip(b" \t")
            start = gap.start if blank else gap.end
            return Edit.at(Span(start, gap.end), second.span, New(self.code_gap(slot.gap)))
        is_moved = self.depth(second) != slot.depth
        if starts_line and is_moved and broken and not slot.body and not between.strip():
            line = self.match.tree.source.lines.start(gap.end)
            indent = self.indent_of(slot)
            if self.match.tree.source.data[line : gap.end].decode("utf-8", "replace") != indent:
                return Edit.at(Span(line, gap.end), second.span, New(indent))
        can_go = not between.strip() or (displaces and self._can_go(between))
        if broken and can_go and self.bars_break(second, slot):
            return Edit(gap, (New(slot.gap),) if slot.gap else ())
        return None

    def _can_go(self, between: bytes) -> bool:
        """Return whether what stands between two units is a comment that can go elsewhere.

        It can go to the end of the last line of the match, where nothing else stands there.
        """
        source, end = self.match.tree.source, self.match.span.end
        mark = self.match.tree.language.line_comment.encode()
        is_one_comment = between.strip().startswith(mark) and b"\n" not in between.strip()
        return is_one_comment and not source.data[end : source.lines.end(end)].strip()

    def displaced(self, edits: Sequence[Edit]) -> Iterator[Edit]:
        """Yield the edits that put comments where `_can_go` says: what took their line break."""
        language, data = self.match.tree.language, self.match.tree.source.data
        for edit in edits if language.line_breaks_count else ():
            text = data[edit.span.start : edit.span.end]
            start = edit.span.start + len(text) - len(text.lstrip())
            is_gap = b"\n" in text and not data[edit.span.start - 1 : edit.span.start].isspace()
            keeps = any(isinstance(piece, Slice) for piece in edit.pieces)
            leaf = self.match.tree.leaf_at(start) if is_gap and not keeps else None
            if leaf is not None and leaf.is_comment and leaf.end == start + len(text.strip()):
                yield Edit.after(self.match.span, New("  "), Slice(leaf.span))

    def _has_break(self, between: bytes) -> bool:
        """Return whether a line ends in what stands between two units: space and comments.

        A backslash at its end goes on with it, but for one in a comment.
        """
        mark = self.match.tree.language.comment_mark
        lines = between.split(b"\n")[:-1]
        return any(not line.rstrip(b"\r").endswith(b"\\") or mark.search(line) for line in lines)

    def bars_break(self, unit: Unit, slot: Slot) -> bool:
        """Return whether a line break before `unit` would end the new code there."""
        if not self.match.tree.language.line_breaks_count or self.enclosed:
            return False
        if slot.gap_enclosed or slot.body or "\n" in slot.gap:
            return False
        if slot.closes or slot.starts or unit.sign in ("}", "end"):
            return False  # a statement may start a line, and so may what closes a body
        at = self.lined.every.index(unit)
        return not any(a < at <= b for a, b in self.lined.staying)

    def code_gap(self, gap: str) -> str:
        """Return a line break of the template as one of the code."""
        base = self.match.tree.source.indent_at(self.match.span.start).decode("utf-8", "replace")
        return code_gap(gap, base, self.template.indent_unit, self.match.tree.source)
