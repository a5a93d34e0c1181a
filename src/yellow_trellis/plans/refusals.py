"""Why a fix fails by itself, before its text is made: with what would help."""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Iterator

from yellow_trellis.edits import Slice
from yellow_trellis.plans.candidate import Candidate
from yellow_trellis.plans.conflict import WAYS_OUT, Kind
from yellow_trellis.plans.write_op import new_text
from yellow_trellis.source import Span, UnreadableError
from yellow_trellis.source.encoding import from_utf8
from yellow_trellis.syntax import Tree
from yellow_trellis.syntax.misgrouped import first_misgrouped, misgrouped


def refusal(
    tree: Tree, candidate: Candidate, comments: list[int], misread: list[Span]
) -> tuple[Kind, str] | None:
    """Return why a fix fails by itself, whatever others do; None when it does not.

    Arguments: `comments` are the bytes at which a comment may start; `misread` is the code that the
    compiler reads as another tree.
    """
    fix = candidate.fix
    if fix.clash:
        return "name clash", fix.clash
    if fix.fault:
        return "lost work", fix.fault
    for broken in tree.broken:
        for write in candidate.writes:
            if write.start <= broken.end and broken.start <= write.end:
                return "broken syntax", "it would touch code that does not parse; mend that first"
    if any(tree.is_misread(write.span) for write in candidate.writes):
        reason = "the parser takes several lines there for one statement"
        return "broken syntax", f"{reason}; put it in brackets, or on one line"
    if any(span.crosses(write.span) for span in misread for write in candidate.writes):
        reason = "the compiler reads the code there as another tree"
        return "broken syntax", f"{reason}; put brackets or a line break where it is read otherwise"
    spans = [fix.extent, *(write.span for write in candidate.writes)]
    if (wrong := first_misgrouped(tree, spans)) is not None:
        reason = f"our parser groups the expression at {tree.source.place(wrong.start)} otherwise"
        return "broken syntax", f"{reason} than the compiler; put brackets in it"
    start, end = fix.extent
    at = bisect_left(comments, start)
    near = at < len(comments) and comments[at] < end
    if near and not fix.drops_comments and (lost := _lost_comment(tree, candidate)):
        place = tree.source.place(lost.start)
        reason = f"the comment at {place} would be lost, `{tree.source.text(lost).strip()}`"
        return "comment loss", f"{reason}; {WAYS_OUT['comment loss']}"
    if tree.language.verbatim_mark.search(tree.source.data) and _changes_text(tree, candidate):
        reason = "the code there is shown as text when the program runs"
        return "wrong shape", f"{reason}; change it by hand"
    if tree.source.codec != "utf-8":
        try:
            from_utf8(new_text(fix).encode("utf-8"), tree.source.codec)
        except UnreadableError as wrong:
            return "broken syntax", f"{wrong}; save the file in UTF-8 first"
    return None


def may_be_refused(tree: Tree, extent: Span) -> bool:
    """Return whether `refusal` may refuse a fix for where it is: no fix has to be made to know.

    What depends on the fix itself, its clashes and the comments that it writes over, is left out.
    """
    source, lines = tree.source, tree.source.lines
    if any(broken.start <= extent.end and extent.start <= broken.end for broken in tree.broken):
        return True
    start, end = lines.start(extent.start), lines.end(extent.end)
    if source.codec != "utf-8" or tree.language.verbatim_mark.search(source.data, start, end):
        return True
    if tree.is_misread(extent):
        return True
    return bool(misgrouped(tree, [extent]))


def _changes_text(tree: Tree, candidate: Candidate) -> bool:
    """Return whether a fix writes in code that shows itself: the field of `f"{x=}"`."""
    verbatim = tree.language.verbatim
    for write in candidate.writes:
        leaf = tree.leaf_at(write.start, max(write.end, write.start + 1))
        for node in (leaf, *leaf.ancestors()) if leaf is not None else ():
            mark = verbatim.get(node.kind)
            if mark is not None and any(child.kind == mark for child in node.children):
                return True
    return False


def _lost_comment(tree: Tree, candidate: Candidate) -> Span | None:
    """Return the first comment that the fix writes over and does not keep."""
    data, mark = tree.source.code, tree.language.comment_mark
    for write in candidate.writes:
        if write.inserts or mark.search(data, write.start, write.end) is None:
            continue
        remaining = [p.span for w in candidate.writes for p in w.pieces if isinstance(p, Slice)]
        for comment in _comments_in(tree, write.span):
            if not any(content.holds(comment) for content in remaining):
                return comment
    return None


def _comments_in(tree: Tree, span: Span) -> Iterator[Span]:
    """Yield the comments that lie in `span`, in source order."""
    mark, at = tree.language.comment_mark, span.start
    while (match := mark.search(tree.source.code, at, span.end)) is not None:
        leaf = tree.leaf_at(match.start())
        at = match.end()
        if leaf is not None and leaf.is_comment:
            if leaf.end <= span.end and leaf.start >= span.start:
                yield leaf.span
            at = max(at, leaf.end)
