"""Edits of a tree by hand, which go through the same proof as the fixes of rules.

The edits of a tree are one fix: all of them are applied, or none is and the reason is raised. A
script that edits by hand has nobody who would read what was left out.
"""

from __future__ import annotations

from msgspec.structs import replace

from yellow_trellis.errors import TrellisError
from yellow_trellis.findings.finding import Finding
from yellow_trellis.fixes.builder import FixBuilder
from yellow_trellis.languages import DEFAULT, Language
from yellow_trellis.plans.code_result import CodeResult
from yellow_trellis.plans.fixpoint import rework
from yellow_trellis.plans.outcome import WRITTEN
from yellow_trellis.source import Span
from yellow_trellis.syntax import Tree, parse_text

_TITLE = "edit-by-hand"


class EditError(TrellisError, ValueError):
    """Edits by hand that cannot be proved right, or that exclude each other."""


def parse(text: str | bytes, language: str | Language = DEFAULT) -> Tree:
    """Return the concrete syntax tree of `text`, whose nodes can be edited.

    Arguments: `text` is code, bytes in UTF-8 or in the encoding that they declare; `language` is a
    language or its name.
    Errors: `MissingLanguageError`, for one that is unknown or not installed; `UnreadableError`, for
    bytes that cannot be decoded.
    """
    tree = parse_text(text, language)
    tree.editor = FixBuilder(_TITLE)
    return tree


def apply_edits(tree: Tree, *, drops_comments: bool = False) -> CodeResult:
    """Return the text with the edits that were made to nodes of `tree`; the tree stays as it is.

    Arguments: `drops_comments` allows that comments in replaced code go.
    Errors: `EditError` with the place and the reason, where the edits as a whole cannot be proved
    right: then none of them is applied. `TrellisError`, for a tree that is not from `parse`.
    """
    builder = tree.editor
    if not isinstance(builder, FixBuilder):
        raise TrellisError("this tree has no edits: make it by `parse`")
    builder.drops_comments = drops_comments
    before = tree.source.data.decode()
    fix = builder.made(Span(0, 0))
    if fix is None:
        return CodeResult(before, before, ())
    start = min((edit.span.start for edit in fix.edits), default=0)
    end = max((edit.span.end for edit in fix.edits), default=0)
    extent = Span(start, end)
    finding = Finding(_TITLE, "note", extent, "edited by hand", (replace(fix, extent=extent),))
    done = rework(tree, lambda text: [finding] if text is tree else [])
    result = CodeResult.of(before, done, [], [])
    for failure in result.failures:
        raise EditError(failure.reason)
    for outcome in result.outcomes:
        if outcome.state not in WRITTEN:
            raise EditError(f"{outcome.place}: {outcome.reason}")
    return result
