"""From a match and a template to a fix that changes only the tokens that differ."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import pairwise

from msgspec.structs import replace

from yellow_trellis.edits import Edit, New, Piece, Slice
from yellow_trellis.edits.edit import joined_pieces, put_after, put_before
from yellow_trellis.edits.neighbours import is_statement
from yellow_trellis.edits.statement_insertion import between, block_around, is_alone
from yellow_trellis.edits.whitespace import (
    encloses,
    joins,
    moved_indent,
)
from yellow_trellis.fixes import Fix, Safety, TemplateUse
from yellow_trellis.fixes.comments import left_behind, move_comments
from yellow_trellis.fixes.name_capture import clash_in, patched_in
from yellow_trellis.fixes.template import Slot, Template, slots_for
from yellow_trellis.fixes.template_brackets import Brackets
from yellow_trellis.fixes.template_layout import Layout
from yellow_trellis.fixes.template_neighbours import (
    as_neighbours,
    beside_run,
    template_neighbour,
)
from yellow_trellis.fixes.template_parts import rivals_in
from yellow_trellis.fixes.template_place import (
    as_statement,
    captured,
    expression_parents,
    fitted,
    in_wrappers,
    melts_into_brace,
    needs_outer_brackets,
)
from yellow_trellis.fixes.token_alignment import line_up
from yellow_trellis.fixes.tokens import Unit, closes_body, run_span, units_of
from yellow_trellis.languages.precedence import Demand
from yellow_trellis.patterns import Match
from yellow_trellis.semantics import RequiredImport, facts_of, fault_of, require_semantics
from yellow_trellis.source import Span
from yellow_trellis.syntax import Node
from yellow_trellis.syntax.comment_ownership import reach


def fill(
    template: Template,
    match: Match,
    *,
    title: str,
    safety: Safety = "safe",
    drops_comments: bool = False,
    width: int | None = None,
) -> Fix:
    """Make the fix that puts `template` where `match` is.

    Tokens that stand in both keep their text and the space around them; what the holes took is
    kept, moved where the template has it elsewhere, bracketed where its new place asks for it.
    Arguments: `width` is how long a line may get before a list on it is broken.
    """
    holes = {**match.pattern.holes, **{part.hole.name: part.hole for part in match.pattern.parts}}
    empty = frozenset(name for name, hole in holes.items() if hole.many and not match.takes[name])
    template = template.written(match.pattern, empty)
    match = as_statement(match, template)
    job = _Job(template, match, slots_for(template, empty))
    edits = tuple(sorted(as_neighbours(job.edits()), key=lambda e: e.span))
    inside = tuple(edit for edit in edits if edit.span.end > match.span.start or edit.side)
    clash = clash_in(template.shape, match) or patched_in(match) or fault_of(job.imports)
    clash = clash or rivals_in(job.slots, match)
    return Fix(
        title,
        edits,
        match.span,
        safety,
        drops_comments,
        imports=tuple(dict.fromkeys(job.imports)),
        width=width,
        clash=clash,
        puts=(TemplateUse(match.span, template.shape, *job.keeps(), inside),),
    )


_BLOCK_STARTS = frozenset({"{", "do"})
_OPENING, _CLOSING = ("(", "[", "{"), (")", "]", "}")


class _Job:
    """One match being filled: the units of the code, the slots of the template, how they align."""

    def __init__(self, template: Template, match: Match, slots: tuple[Slot, ...]) -> None:
        self.template = template
        self.match = match
        self.imports: list[RequiredImport] = []
        self.source = match.tree.source
        self.language = match.tree.language
        parents = expression_parents(match)
        self.enclosed = any(encloses(above, match.node) for above in parents)
        self.slots = fitted(template, match, tuple(self._joined(slot) for slot in slots))
        units = units_of(match, {slot.hole.name for slot in self.slots if slot.hole is not None})
        self.lined = line_up(units, self.slots, match.tree, self.enclosed, template.kinds)
        self.units, self.pairs = self.lined.units, self.lined.pairs
        self.layout = Layout(self.template, self.match, self.lined, self.enclosed)
        self._opened = 0
        """How many blocks have been put around statements on lines of their own."""
        self._brackets = Brackets(match, self.lined, self.slots, self.enclosed)

    def _joined(self, slot: Slot) -> Slot:
        """Return a slot without the space before it, if what it took starts with a separator."""
        if not slot.is_open:
            return slot
        first = captured(self.match, slot)[0]
        return slot._replace(gap="") if first.kind in self.language.separators else slot

    def edits(self) -> Iterator[Edit]:
        """Yield the edits.

        Of several that insert at one point, an earlier one stands before a later one: indentation,
        then new text, then brackets around what a hole took; after it the other way round.
        """
        led: set[int] = set()
        between = list(self._segments(led))
        between += left_behind(self.match, between)
        brackets = [
            self.units[i].span
            for i, j in self.pairs
            if self.slots[j].hole is not None
            and self._brackets.need(self.slots[j], self.units[i].nodes)
        ]
        whole = self.match.span
        outer = needs_outer_brackets(self.template, self.match, self.slots)
        block = self._block()
        if block is not None:
            yield block[0]
        if outer:
            yield Edit.before(whole, New("("))
        elif melts_into_brace(self.match, self.slots):
            yield Edit.before(whole, New(" "))
        for i, j in self.pairs:
            if self.slots[j].plain and (unit := self.units[i]).nodes != (bare := _bare(unit.nodes)):
                span = run_span(bare)
                yield Edit(unit.span, (Slice(span),))
        for i, j in self.pairs:
            yield from self.layout.redepth(self.units[i], self.slots[j], i in led)
        yield from (Edit.after(span, New(")")) for span in brackets)
        yield from between
        yield from (Edit.before(span, New("(")) for span in brackets)
        if outer:
            yield Edit.after(whole, New(")"))
        if block is not None:
            yield block[1]
        yield from self.layout.displaced(between)

    def _block(self) -> tuple[Edit, Edit] | None:
        """Return the edits for a block, where several statements come in the place of one alone."""
        if len(self.template.shape.nodes) == 1 or not is_alone(self.match.node):
            return None
        return block_around(self.match.node)

    def keeps(self) -> tuple[tuple[Span, ...], frozenset[Span]]:
        """Return the spans of what holes took that stand in the template, and which are runs."""
        spans: dict[Span, None] = {}
        runs: set[Span] = set()
        stays = {j: self.units[i].nodes for i, j in self.pairs}
        for number, slot in enumerate(self.slots):
            if slot.hole is None:
                continue
            # of equal code in several places it is the one that stays where it is
            nodes = self._placed(slot) if slot.plain else stays.get(number, self._placed(slot))
            if nodes:
                span = run_span(nodes)
                spans[span] = None
                runs |= {span} if slot.hole.many else set()
        return tuple(spans), frozenset(runs)

    def _segments(self, led: set[int]) -> Iterator[Edit]:
        """Yield what changes between the tokens that stay, run by run.

        Arguments: `led` gets the numbers of the units whose line has been given its indentation.
        """
        ends = [(-1, -1), *self.pairs, (len(self.units), len(self.slots))]
        for (i, j), (next_i, next_j) in pairwise(ends):
            old = self.units[i + 1 : next_i]
            new = self.slots[j + 1 : next_j]
            unit = self.units[i] if i >= 0 else None
            right = self.units[next_i] if next_i < len(self.units) else None
            follow = self.slots[next_j] if next_j < len(self.slots) else None
            if old and new:
                for result in self._replace(old, new, unit, right, follow):
                    if right and not result.pieces and result.span.end == right.span.start:
                        led.add(next_i)
                    yield result
            elif new:
                result = self._insert(new, unit, right, follow)
                result = beside_run(result, unit, self.slots[j] if j >= 0 else None, is_behind=True)
                result = beside_run(result, right, follow, is_behind=False)
                if result.side == "before" or (right and result.span.end == right.span.start):
                    led.add(next_i)
                yield result
            elif old:
                result = self._remove(old, unit, right, follow)
                if right is not None and result.span.end == right.span.start:
                    led.add(next_i)
                yield result
            if right is not None and follow is not None and bool(old) == bool(new):
                if not old and (follow.is_open or (j >= 0 and self.slots[j].is_open)):
                    continue  # the line break beside what is kept is that of the code
                behind = old[-1] if old else unit
                if behind is not None and (
                    edit := self.layout.fit_break(behind, right, follow, displaces=True)
                ):
                    led.add(next_i)
                    yield edit

    # ------------------------------------------------------------------ segments

    def _replace(
        self,
        old: list[Unit],
        new: tuple[Slot, ...],
        left: Unit | None,
        right: Unit | None,
        follow: Slot | None,
    ) -> Iterator[Edit]:
        span = Span(old[0].span.start, old[-1].span.end)
        if len(old) == len(new) == 1 and new[0].hole is not None and not new[0].body:
            yield from move_comments(self.match, old[0], captured(self.match, new[0]))
        head = self.layout.on_line_before(left, old[0], new) if left is not None else 0
        if left is not None and head:
            pieces = self._pieces(new[:head], left.span.end, first_gap=new[0].gap)
            yield Edit.after(left.span, *pieces)
            new = new[head:]
        if not new:
            yield self._remove(old, left, right, follow)
            return
        pieces = self._pieces(new, span.start, first_gap="")
        if left is not None:
            if (edit := self.layout.fit_break(left, old[0], new[0])) is not None:
                pieces = [*edit.pieces, *pieces]
                span = Span(edit.span.start, span.end)
            elif (ahead := self.layout.between(left, old[0])) is not None:
                keep = self._are_alike(old[0].sign, new[0].sign)
                span, pieces = self.layout.fit_gap(span, pieces, ahead, new[0].gap, keep, lead=True)
        if right is not None and follow is not None:
            behind = self.layout.between(old[-1], right)
            if behind is not None and not self.layout.fit_break(old[-1], right, follow):
                keep = self._are_alike(old[-1].sign, new[-1].sign)
                gap = follow.gap
                span, pieces = self.layout.fit_gap(span, pieces, behind, gap, keep, lead=False)
        if left is not None and isinstance(pieces[0], New) and pieces[0].text.startswith("\n"):
            blanks = self.layout.between(left, old[0])  # which would end the line before
            span = span if blanks is None else Span(min(span.start, blanks.start), span.end)
        yield Edit(span, tuple(self._apart(span, pieces)))

    def _are_alike(self, old: str, new: str) -> bool:
        """Return whether the space beside a word may stay: both are names, or both keywords."""
        keywords = self.language.keywords
        return _is_word(old) and _is_word(new) and (old in keywords) == (new in keywords)

    def _apart(self, span: Span, pieces: list[Piece]) -> Iterator[Piece]:
        """Add a space where new text would melt into a word beside it."""
        data = self.source.data
        if (
            pieces
            and isinstance(pieces[0], New)
            and joins(data[span.start - 1 : span.start], pieces[0].text[:1].encode())
        ):
            yield New(" ")
        yield from pieces
        if (
            pieces
            and isinstance(pieces[-1], New)
            and joins(pieces[-1].text[-1:].encode(), data[span.end : span.end + 1])
        ):
            yield New(" ")

    def _insert(
        self, new: tuple[Slot, ...], left: Unit | None, right: Unit | None, follow: Slot | None
    ) -> Edit:
        whole = self.match.span
        gap_after = follow.gap if follow is not None else ""
        if "\n" in gap_after:
            gap_after = self.layout.code_gap(gap_after)
        if left is not None and self._opened and self.layout.closes_block(new[0]):
            self._opened -= 1
            new = self.layout.below_header(new)
        elif left is not None:
            new = self.layout.below_statement(new, left)
        if left is None:
            pieces = self._pieces(new, whole.start, first_gap="")
            pieces += self._text(gap_after, whole.start)
            neighbour = template_neighbour(self.template, self.match.nodes[0], pieces, [])
            return put_before(neighbour, whole, *pieces)
        if right is None:
            if self._ends_in_body(left, new[0]):
                return Edit.after(
                    left.span, *self._pieces(new, left.span.end, first_gap=new[0].gap)
                )
            pieces = self._pieces(new, whole.end, first_gap=new[0].gap)
            neighbour = template_neighbour(self.template, self.match.nodes[-1], [], pieces)
            return put_after(neighbour, whole, *pieces)
        between = self.source.data[left.span.end : right.span.start]
        gap = Span(left.span.end, right.span.start)
        lead = self.layout.own_line(right)
        if lead is not None and follow is not None and "\n" not in follow.gap:
            opens = self.layout.opens_block(new[-1])
            self._opened += opens
            heads = (left.sign, *(slot.text for slot in new))
            if opens or (follow.body and not new[0].starts and not _BLOCK_STARTS.isdisjoint(heads)):
                return Edit.after(left.span, *self._pieces(new, left.span.end, new[0].gap))
            is_statement_behind = follow.starts and not closes_body(right.nodes[0])
            if new[0].starts and (follow.body or is_statement_behind):
                pieces = self._pieces(self.layout.unended(new), right.span.start, first_gap="")
                return Edit.before(right.span, *pieces, New("\n" + lead))
        breaks = b"\n" in between and not between.strip()
        if follow is not None and breaks and self.layout.bars_break(right, follow):
            pieces = self._pieces(new, left.span.end, first_gap=new[0].gap)
            return Edit(gap, (*pieces, *self._text(follow.gap, gap.end)))
        if "\n" in new[0].gap and new[0].depth is not None and not between.strip():
            pieces = self._pieces(new, left.span.end, first_gap=new[0].gap)
            if follow is not None and follow.body and follow.depth and not breaks:
                gap_after = self.layout.code_gap(follow.gap) if self._tall(follow) else gap_after
            return Edit.at(gap, right.span, *pieces, *self._text(gap_after, gap.end))
        tight_left, tight_right = not new[0].gap, not gap_after
        closing = follow is not None and follow.closes
        if new[0].separator or closing or (tight_left and not tight_right):
            broken_out = self._broken_out(new, left, right)
            if broken_out is not new and (behind := self._comment_behind(left, right)):
                return self._below_comment(broken_out, left, behind)
            pieces = self._pieces(broken_out, left.span.end, new[0].gap)
            if left.span.end == right.span.start and gap_after:
                pieces += self._text(gap_after, right.span.start)
            return Edit.after(left.span, *pieces)
        if between and not between.strip(b" \t") and not new[0].gap and _is_word(left.sign):
            pieces = self._pieces(new, right.span.start, first_gap="")
            return Edit(gap, (*pieces, *self._text(gap_after, gap.end)))
        first_gap = new[0].gap if not between else ""
        pieces = self._pieces(new, right.span.start, first_gap=first_gap)
        return Edit.before(right.span, *pieces, *self._text(gap_after, right.span.start))

    def _ends_in_body(self, last: Unit, new: Slot) -> bool:
        """Return whether what comes last is put beside the last statement of a body."""
        node = last.nodes[-1]
        if node is self.match.nodes[-1] or not is_statement(node):
            return False
        return self.layout.code_gap(new.gap) == between(node)

    def _comment_behind(self, left: Unit, right: Unit) -> Span | None:
        """Return what stands behind an item on its line, if that ends in a comment."""
        end = min(self.source.lines.end(left.span.end), right.span.start)
        leaf = self.match.tree.leaf_at(end - 1) if end > left.span.end else None
        if leaf is None or not leaf.is_comment or leaf.end > end:
            return None
        return Span(left.span.end, leaf.end)

    def _below_comment(self, new: tuple[Slot, ...], left: Unit, behind: Span) -> Edit:
        """Put an item, and the separator before it, below the line of an item with a comment."""
        separator, tail = new[0].text, new[1:]
        has_one = self.source.data[behind.start : behind.end].lstrip().startswith(b",")
        lead = [] if has_one else [New(separator)]
        pieces = self._pieces(tail, left.span.end, tail[0].gap)
        end = [New(separator)] if has_one else []
        return Edit(behind, tuple(joined_pieces([*lead, Slice(behind), *pieces, *end])))

    def _broken_out(self, new: tuple[Slot, ...], left: Unit, right: Unit) -> tuple[Slot, ...]:
        """Give an item that joins a list of one item a line a line of its own."""
        data = self.source.data
        lead = data[self.source.lines.start(left.span.start) : left.span.start]
        if len(new) < 2 or not new[0].separator or lead.strip():
            return new
        if b"\n" not in data[left.span.end : right.span.start] or "\n" in new[1].gap:
            return new
        return (new[0], new[1]._replace(gap="\n", own_line=lead.decode()), *new[2:])

    def _remove(
        self, old: list[Unit], left: Unit | None, right: Unit | None, follow: Slot | None
    ) -> Edit:
        spans = [self._reach(unit) for unit in old]
        start = min(old[0].span.start, spans[0].start)
        end = max(span.end for span in spans)
        first, last = self.lined.every.index(old[0]), self.lined.every.index(old[-1])
        text = ""
        if left is not None and (old[0].sign in self.language.separators or right is None):
            start = self.lined.every[first - 1].span.end
            is_tight = follow is not None and not follow.gap and self._between_units(last)
            if right is not None and left is not None and left.sign in _OPENING and is_tight:
                end = right.span.start
        elif right is not None:
            goes = end
            end = max(end, self.lined.every[last + 1].span.start)
            closed = left is not None and left.sign in _OPENING and right.sign in _CLOSING
            tight = follow is not None and not follow.gap and self._between_units(first - 1)
            if left is not None and (closed or tight):
                start = left.span.end
            elif left is not None and follow is not None:
                edit = self.layout.fit_break(left, old[0], follow)
                if edit is not None:
                    start = edit.span.start
                    text = "".join(piece.text for piece in edit.pieces if isinstance(piece, New))
                elif start == left.span.end and follow.gap == " " and self._between_units(last):
                    end = goes  # the space behind what goes stays, there was none before it
        data = self.source.data
        if not text and joins(data[start - 1 : start], data[end : end + 1]):
            text = " "
        return Edit(Span(start, end), (New(text),) if text else ())

    def _between_units(self, at: int) -> bool:
        """Return whether nothing but blanks on one line stands behind unit `at` of the code."""
        return self.layout.between(self.lined.every[at], self.lined.every[at + 1]) is not None

    def _reach(self, unit: Unit) -> Span:
        """Return the span of a unit that goes, with the comments that go with it."""
        parent = unit.nodes[0].parent
        if parent is None or parent.kind not in self.language.lists:
            return unit.span
        first, last = reach(unit.nodes[0]), reach(unit.nodes[-1])
        return Span(first.start, last.end)

    # ------------------------------------------------------------------ pieces

    def _pieces(self, new: tuple[Slot, ...], at: int, first_gap: str) -> list[Piece]:
        """Make the pieces of a run of slots to stand at byte `at`, neighbouring text joined."""
        pieces: list[Piece] = []
        indent = self.source.indent_at(at).decode("utf-8", "replace")
        fresh = False
        for number, slot in enumerate(new):
            gap = first_gap if number == 0 else slot.gap
            if slot.body and "\n" not in gap and self._tall(slot) and (number or self._behind(at)):
                gap = "\n" + self.template.indent_unit
            if "\n" in gap:
                own = slot.own_line
                gap = gap + own if own is not None else self.layout.code_gap(gap)
                indent = gap.rpartition("\n")[2]
                fresh = True
            pieces += self._text(gap, at)
            if slot.hole is None:
                pieces += self._spelled(slot) if slot.meaning else (New(slot.text),)
                continue
            nodes = self._placed(slot)
            span = run_span(nodes)
            remainder = Slice(span, moved_indent(self.source, span, indent, None if fresh else at))
            if self._brackets.need(slot, nodes):
                pieces += [New("("), remainder, New(")")]
            else:
                pieces.append(remainder)
        return list(joined_pieces(pieces))

    def _spelled(self, slot: Slot) -> list[Piece]:
        """Return how the file says what the slot means, and note the import that it takes.

        Where the old code asks an instance for a member, the new one is asked of the same instance.
        """
        olds = (
            take
            for key, take in self.match.takes.items()
            if key.startswith("<") and isinstance(take, Node)
        )
        old = next(olds, None)
        receiver = facts_of(old.tree).receiver_of(old, slot.meaning) if old is not None else None
        if isinstance(receiver, Node):
            return [Slice(receiver.span), New("." + slot.meaning.rpartition(".")[2])]
        semantics = require_semantics(self.language)
        text, target = semantics.spell(self.match.node, slot.meaning, old, slot.is_called)
        if isinstance(receiver, str):
            target = RequiredImport(slot.meaning, slot.meaning, fault=receiver)
        if target is not None:
            self.imports.append(target)
        return [New(text)]

    @staticmethod
    def _text(text: str, at: int) -> list[Piece]:
        return [New(text)] if text else []

    def _behind(self, at: int) -> bool:
        """Return whether other code stands before byte `at` on its line."""
        return bool(self.source.data[self.source.lines.start(at) : at].strip())

    def _tall(self, slot: Slot) -> bool:
        if slot.hole is None:
            return False
        nodes = captured(self.match, slot)
        return len(nodes) > 1 or any("\n" in node.text for node in nodes)

    def _placed(self, slot: Slot) -> tuple[Node, ...]:
        """Return what a hole took as it is to stand there: without brackets where none may be."""
        nodes = captured(self.match, slot)
        return _bare(nodes) if slot.plain else nodes


def _bare(nodes: tuple[Node, ...]) -> tuple[Node, ...]:
    return (nodes[0].bare,) if len(nodes) == 1 else nodes


def _is_word(sign: str) -> bool:
    return sign[:1].isalnum() or sign[:1] == "_"
