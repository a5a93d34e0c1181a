"""Rules about lengths in Rust that only tell whether there is anything."""

from __future__ import annotations

from collections.abc import Iterator

from yellow_trellis.fixes import fix
from yellow_trellis.patterns import Match
from yellow_trellis.rules.decorator import rule
from yellow_trellis.rules.draft import Draft
from yellow_trellis.rules.example import Example
from yellow_trellis.rules.rule_context import Code

_HELP = "A type of the code base may have a length and no `is_empty`."


@rule(
    "nothing-by-length",
    summary="Whether something is empty is asked by name.",
    language="rust",
    find="@{all}.len() == 0",
    help=_HELP,
    examples=[
        Example(
            "fn f() -> bool { lamps.len() == 0 }", becomes="fn f() -> bool { lamps.is_empty() }"
        ),
        Example("impl Row { pub fn is_empty(&self) -> bool { self.len() == 0 } }", stays=True),
    ],
)
def nothing_by_length(match: Match, code: Code) -> Iterator[Draft]:
    """Ask for review, and leave alone what says itself whether it is empty."""
    if not _is_in_is_empty(match):
        offered = fix("ask by name", safety="review").put(match, "@{all}.is_empty()")
        yield code.finding(match, fixes=[offered])


@rule(
    "something-by-length",
    summary="Whether there is something is asked by name.",
    language="rust",
    find="@{all}.len() > 0",
    help=_HELP,
    examples=[
        Example(
            "fn f() -> bool { a || lamps.len() > 0 }",
            becomes="fn f() -> bool { a || !lamps.is_empty() }",
        ),
        Example("fn is_empty(&self) -> bool { !(self.len() > 0) }", stays=True),
    ],
)
def something_by_length(match: Match, code: Code) -> Iterator[Draft]:
    """Ask for review, and leave alone what says itself whether it is empty."""
    if not _is_in_is_empty(match):
        offered = fix("ask by name", safety="review").put(match, "!@{all}.is_empty()")
        yield code.finding(match, fixes=[offered])


def _is_in_is_empty(match: Match) -> bool:
    """Return whether a match is in the function that the fix would call: it would not end."""
    for node in match.node.ancestors():
        name = node.child("name") if node.kind == "function_item" else None
        if name is not None:
            return name.text == "is_empty"
    return False
