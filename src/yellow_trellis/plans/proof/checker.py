"""Making the text of some fixes of a plan, and what is wrong with it."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterable, Iterator, Sequence
from functools import cached_property
from typing import NamedTuple

from msgspec import Struct, field

from yellow_trellis.edits import New
from yellow_trellis.fixes.tokens import closes_body
from yellow_trellis.patterns import Pattern
from yellow_trellis.patterns.match import Capture, match_at
from yellow_trellis.patterns.readings import reading_as
from yellow_trellis.plans.candidate import Candidate
from yellow_trellis.plans.conflict import Kind
from yellow_trellis.plans.plan import Plan
from yellow_trellis.plans.postprocess import fill_bodies, settle
from yellow_trellis.plans.proof.amendment import ProofText, amended
from yellow_trellis.plans.proof.claims import Region
from yellow_trellis.plans.proof.jumps import captured_jumps
from yellow_trellis.plans.proof.leading import led_astray
from yellow_trellis.plans.proof.lost_names import bound_in, lost_name
from yellow_trellis.plans.proof.regions import Replacement, nested, regions_of
from yellow_trellis.plans.proof.strength import bracketed
from yellow_trellis.plans.proof.structure import differences, is_expression, without_comments
from yellow_trellis.plans.readings import misread_after
from yellow_trellis.plans.render import Rendered
from yellow_trellis.source import Span
from yellow_trellis.syntax import Node, Tree
from yellow_trellis.syntax.misgrouped import misgrouped
from yellow_trellis.syntax.queries import StructureQuery


class TextFault(NamedTuple):
    """Faults of a text as a whole."""

    kind: Kind
    reason: str
    places: tuple[int, ...] = ()
    """The bytes of the new text where it shows, as far as that is known."""
    is_exact: bool = False
    """Whether what stands there was written by the fix that is to blame."""


class Attempt(Struct):
    """The text of some fixes, and what the proof says of it."""

    draft: ProofText
    wrong: set[int] = field(default_factory=set)
    """The numbers of fixes that do not make the tree which they say."""
    doubtful: set[int] = field(default_factory=set)
    """The numbers of those that may be so for others at the same place."""
    strengthened: set[int] = field(default_factory=set)
    """The numbers of fixes whose code has been put in brackets."""
    fault: TextFault | None = None

    @property
    def tree(self) -> Tree:
        """The tree of the text."""
        return self.draft.tree


_ATTEMPTS = 3
"""How often brackets are added: those of one fix may show that another needs some, too."""

_SWALLOWS = re.compile(r"[#'\"`/\\]")
"""What new text must hold so that it can be, or swallow, a comment."""


class Checker:
    """Makes texts from one plan and checks them against its original."""

    def __init__(self, plan: Plan, version: tuple[int, int] | None = None) -> None:
        self.plan = plan
        self.version = version
        self.before = plan.tree
        self.errors = len(plan.tree.errors)
        self._bound: dict[int, frozenset[str]] = {}
        """By number of a fix: the names that are bound in what it writes over."""

    @cached_property
    def comments(self) -> Counter[bytes]:
        """The comments of the original."""
        return Counter(comment.data for comment in self.before.comments())

    @cached_property
    def compiled_before(self) -> bool:
        """Return whether the compiler of the language accepts the original."""
        before = self.before
        return not before.language.compile_errors(before.source.data, (), self.version)

    def attempt(self, chosen: list[Candidate]) -> Attempt:
        """Return the text with the fixes `chosen`, and what is wrong with it."""
        rendered = self.plan.render(chosen)
        regions = regions_of(chosen, rendered, self.before.source)
        tree = self.before.with_data(rendered.data)
        draft = ProofText(tree, dict(rendered.extents), regions, nested(regions))
        draft = amended(draft, fill_bodies(self.before, draft))
        result = self._strengthened(draft, chosen)
        result.wrong |= self._unwritten(chosen, rendered)
        result.draft = settle(
            self.before,
            result.draft,
            [(c.number, item) for c in chosen for item in c.fix.imports],
            [write.span for c in chosen for write in c.writes],
            {c.number: c.fix.width for c in chosen if c.fix.width is not None},
        )
        result.wrong |= self._misshapen(result.draft, chosen, by_meaning=True)
        result.fault = self._fault(result.draft, chosen)
        return result

    def _unwritten(self, chosen: list[Candidate], rendered: Rendered) -> set[int]:
        """Return the fixes of which something that they add is not in the text at all."""
        common = self.plan.met.shared
        return {
            candidate.number
            for candidate in chosen
            if candidate.made is None
            for write in candidate.writes
            if write.pieces and id(write) not in rendered.written and id(write) not in common
        }

    def _strengthened(self, draft: ProofText, chosen: list[Candidate]) -> Attempt:
        """Put brackets where code would be taken apart, and note which fixes are wrong even so."""
        result = Attempt(draft)
        tried: set[bytes] = set()
        for _ in range(_ATTEMPTS):
            draft = result.draft
            results = differences(self.before, draft.tree, draft.replaced, draft.added)
            misshapen = self._misshapen(draft, chosen, by_meaning=False)
            result.wrong = results.fixes | misshapen
            result.doubtful = results.shared - misshapen
            data = draft.tree.source.data
            loose = results.loose or list(_expressions(draft.replaced, misshapen, self.before))
            loose += _unbracketed(draft)
            texts = {span: data[span.start : span.end] for span in loose}
            loose = [span for span, text in texts.items() if text and text not in tried]
            if not loose:
                break
            tried |= {b"(%s)" % data[span.start : span.end] for span in loose}
            result.strengthened |= result.wrong
            result.draft = bracketed(draft, loose)
        return result

    def _misshapen(
        self, draft: ProofText, chosen: list[Candidate], *, by_meaning: bool
    ) -> set[int]:
        """Return the fixes whose template does not match where it was put.

        A hole of it must take just what the hole of the pattern took, be that changed by others.
        Arguments: `by_meaning` asks about templates with names by meaning, which match only once
        what they need is imported, or about all others.
        """
        puts = {
            (c.number, template.span): template.shape
            for c in chosen
            for template in c.fix.puts
            if bool(template.shape.meant) is by_meaning
        }
        if not puts:
            return set()
        slices: dict[int, list[Span]] = {}
        todo = list(draft.replaced)
        while todo:
            change = todo.pop()
            for remainder in change.kept:
                todo += remainder.inside
                for number in change.fixes:
                    slices.setdefault(number, []).append(remainder.new)
        return {
            region.fix
            for region in draft.regions
            if (shape := puts.get((region.fix, region.old))) is not None
            and not any(
                _is_there(
                    *(reading, draft.tree, region.new, slices.get(region.fix, ())),
                    next((new for old, new in region.kept if old == region.old), None),
                )
                for reading in _readings(shape)
            )
        }

    # ------------------------------------------------------------------ the text as a whole

    def _fault(self, draft: ProofText, chosen: list[Candidate]) -> TextFault | None:
        """Return what is wrong with the text as a whole, if anything."""
        tree = draft.tree
        if len(tree.errors) > self.errors:
            places = tuple(raw.start_byte for raw in tree.errors)
            return TextFault("broken syntax", "the new text does not parse", places)
        if newly_misread := _newly_misread(self.before, tree, draft.regions):
            reason = "the compiler would read the new text as another tree"
            return TextFault("wrong shape", reason, newly_misread, is_exact=True)
        if places := tuple(led_astray(self.before, tree, draft.regions)):
            return TextFault("wrong shape", "an attribute would speak for other code", places, True)
        for place, word in captured_jumps(self.before, tree, draft.regions):
            reason = f"`{word}` would leave another function, loop or choice than before"
            return TextFault("wrong shape", reason, (place,), is_exact=True)
        if (fault := self._comment_fault(draft, chosen)) is not None:
            return fault
        parts = (raw for raw in tree.raw_root.children if raw.is_named)
        spans = [(raw.start_byte, raw.end_byte) for raw in parts]
        wrong = tree.language.compile_errors(tree.source.data, spans, self.version)
        if wrong and self.compiled_before:
            places = tuple(item.place for item in wrong)
            reason = f"the new text does not compile ({wrong[0].reason})"
            return TextFault("broken syntax", reason, places)
        if not wrong and (misread := misread_after(self.before, tree)):
            written = [*(region.new for region in draft.regions), *draft.added]
            near = [s.start for s in written if any(span.crosses(s) for span in misread)]
            reason = "the compiler would read the new text as another tree"
            return TextFault("wrong shape", reason, tuple(near or (s.start for s in misread)))
        return self._lost_name(draft, chosen)

    def _lost_name(self, draft: ProofText, chosen: list[Candidate]) -> TextFault | None:
        """Return that a name has lost its binding and still stands somewhere."""
        for candidate in chosen:
            if candidate.number not in self._bound:
                self._bound[candidate.number] = bound_in(self.before, candidate)
        names = frozenset[str]().union(*(self._bound[c.number] for c in chosen))
        if not names:
            return None
        name = lost_name(self.before, draft.tree, names, draft.regions)
        if not name:
            return None
        guilty = {c.number for c in chosen if name in self._bound[c.number]}
        places = tuple(region.new.start for region in draft.regions if region.fix in guilty)
        reason = f"`{name}` would still be used, and be bound no more"
        return TextFault("name clash", reason, places, is_exact=True)

    def _comment_fault(self, draft: ProofText, chosen: list[Candidate]) -> TextFault | None:
        """Return what is wrong with the comments of the text: one is lost, or stands twice."""
        if any(c.fix.drops_comments for c in chosen):
            return None
        if not draft.added and not any(self.may_lose_comments(c) for c in chosen):
            return None
        tree = draft.tree
        comments = [(comment.data, comment.start) for comment in tree.comments()]
        after = Counter(text for text, _ in comments)
        if self.comments - after:
            return TextFault("comment loss", "a comment would be lost")
        pieces = [piece for c in chosen for write in c.writes for piece in write.pieces]
        written = "\n".join(piece.text for piece in pieces if isinstance(piece, New)).encode()
        twice = {text for text in after - self.comments if text not in written}
        if not twice:
            return None
        places = tuple(start for text, start in comments if text in twice)
        reason = f"the comment `{min(twice).decode('utf-8', 'replace')}` would stand twice"
        return TextFault("wrong shape", reason, places)

    def may_lose_comments(self, candidate: Candidate) -> bool:
        """Return whether a fix touches a comment, or writes what may swallow one."""
        data, mark = self.before.source.code, self.before.language.comment_mark
        for write in candidate.writes:
            line = data.rfind(b"\n", 0, write.start) + 1
            if mark.search(data, line, write.end) is not None:  # also what would run into one
                return True
            for piece in write.pieces:
                if isinstance(piece, New):
                    if _SWALLOWS.search(piece.text) is not None:
                        return True
                elif mark.search(data, *piece.span) is not None:
                    return True
        return False


def _unbracketed(draft: ProofText) -> list[Span]:
    """Return where what fixes have written needs brackets at the start of a statement."""
    spans = _spans_without_brackets(draft.tree)
    written = [change.new for change in draft.replaced]
    return [span for span in spans if any(new.crosses(span) for new in written)]


def _spans_without_brackets(tree: Tree) -> list[Span]:
    """Return the expressions that the compiler reads otherwise unless brackets stand around."""
    language = tree.language
    if language.unbracketed_in is None:
        return []
    nodes = tree.query(StructureQuery(language.ambiguous))
    return [Span(*span) for node in nodes for span in language.unbracketed_in(node)]


def _newly_misread(before: Tree, after: Tree, regions: Sequence[Region]) -> tuple[int, ...]:
    """Return the bytes at which the compiler reads another tree, where there are more than before.

    Those in lines that were there before are left out.
    """
    places = _misread(after, (region.new for region in regions))
    old = _misread(before, (region.old for region in regions)) if places else []
    if len(places) <= len(old):
        return ()
    lines = Counter(before.source.line_at(place) for place in old)
    results = []
    for place in places:
        line = after.source.line_at(place)
        if lines[line]:
            lines[line] -= 1
        else:
            results.append(place)
    return tuple(results) or tuple(places)


def _misread(tree: Tree, written: Iterable[Span]) -> list[int]:
    """Return the bytes at which the compiler of the language reads another tree than we do.

    Arguments: `written` are the spans that fixes change.
    """
    language = tree.language
    nodes = tree.query(StructureQuery(language.ambiguous))
    places = [place for node in nodes for place in language.misread_in(node)]
    places += [raw.start_byte for raw in misgrouped(tree, written).values()]
    if language.never_at_top:
        top = tree.raw_root.children
        places += [raw.start_byte for raw in top if raw.type in language.never_at_top]
    return places + [start for start, _ in _spans_without_brackets(tree)]


def _expressions(replaced: Sequence[Replacement], fixes: set[int], before: Tree) -> Iterator[Span]:
    """Yield where code is that `fixes` have put in the place of an expression."""
    todo = list(replaced) if fixes else []
    while todo:
        change = todo.pop()
        todo += [inner for remainder in change.kept for inner in remainder.inside]
        message = change.replaces and not fixes.isdisjoint(change.fixes)
        if message and is_expression(before, change.old):
            yield change.new


def _readings(shape: Pattern) -> Iterator[Pattern]:
    """Yield a template as it was read, and then as a type: `Names[int]` is either.

    Other parts are not tried: who writes an assignment means no named argument.
    """
    yield shape
    if (reading := reading_as(shape, "type", template=True)) is not None:
        yield reading


def _is_there(
    shape: Pattern, tree: Tree, span: Span, spans: Sequence[Span], whole: Span | None
) -> bool:
    """Return whether `shape` matches a node, or statements in a row, that fill `span`.

    Comments at either end do not count: whose they are changes with the code around.
    Arguments: `spans` is where the slices came to stand that its holes must take; `whole` is where
    the old code did, if it is kept as a whole.
    """
    span = without_comments(tree, span)
    if span.start == span.end:
        return not shape.text.strip()
    node = tree.leaf_at(*span)
    if node is not None and node.kind in tree.language.sole_items.values() and node.span == span:
        span = Span(node.children[1].start, node.children[-2].end)  # brackets of their own list
    if len(shape.roots) > 1:
        span = _in_block(tree, span)
    node = tree.leaf_at(span.start)
    while node is not None and node.start == span.start:
        result = match_at(shape, node, until=span.end)
        if result is None and shape.without is not None:
            result = match_at(shape.without, node)
        if (
            result is not None
            and _unended(tree, without_comments(tree, result.span)) == _unended(tree, span)
            and all(
                _is_kept(_leaves(take) if key in shape.open_keys else take, spans, whole)
                for key, take in result.takes.items()
                if key[0] != "<"
            )
        ):
            return True
        node = node.parent
    return False


def _unended(tree: Tree, span: Span) -> Span:
    """Cut off the token that ends a statement, which may stand beside its node or in it."""
    mark = tree.language.terminator.encode()
    text = tree.source.data[span.start : span.end]
    return Span(span.start, span.start + len(text.removesuffix(mark).rstrip()))


def _in_block(tree: Tree, span: Span) -> Span:
    """Return what is in the block that was put around statements; all of it if none was."""
    last = tree.leaf_at(span.end - 1) if tree.language.block is not None else None
    body = last.parent if last is not None and closes_body(last) else None
    if body is None or last is None or last.end != span.end:
        return span
    items = [item for item in body.items if item.end < body.end and item.start > body.start]
    if not items or span.start not in (body.start, items[0].start):
        return span
    return Span(items[0].start, items[-1].end)


def _in_brackets(node: Node) -> Node:
    """Return a node with the brackets around it."""
    while (above := node.parent) is not None and above.kind in node.tree.language.brackets:
        node = above
    return node


def _leaves(capture: Capture) -> Capture:
    """Return the tokens of a part of a head, in which what several parts took may stand."""
    nodes = (capture,) if isinstance(capture, Node) else capture
    return tuple(leaf for node in nodes for leaf in node.leaves() if leaf.end > leaf.start)


def _is_kept(capture: Capture, spans: Sequence[Span], whole: Span | None) -> bool:
    """Return whether what a hole takes was kept: one node has to be all of a slice.

    Arguments: `whole` is where the old code stands, if all of it was kept, with its parts in place.
    """
    nodes = (capture,) if isinstance(capture, Node) else capture
    if whole is not None and all(whole.holds(node.span) for node in nodes):
        return True
    if not isinstance(capture, Node):
        filler = capture[0].tree.language.empty_body if len(capture) == 1 else ""
        if filler and capture[0].text == filler:
            return True  # it stands for a hole that took nothing
        return all(any(slice_.holds(node.span) for slice_ in spans) for node in capture)
    inner, outer = capture.core.span, _in_brackets(capture).span
    children = capture.core.children
    if len(children) > 2 and children[0].kind == "(":  # a list that had no brackets
        inner = Span(children[1].start, children[-2].end)
    return any(slice_.holds(inner) and outer.holds(slice_) for slice_ in spans)
