"""Tables that the languages with braces share: comments, spaces between tokens, and operators."""

from __future__ import annotations

import re
from typing import TypedDict

from yellow_trellis.languages.language import kinds


class Comments(TypedDict):
    """The fields of a language that say how comments are written."""

    gap: bytes
    line_comment: str
    comment_mark: re.Pattern[bytes]


INNER_STATEMENTS = (
    "break_statement continue_statement do_statement for_statement if_statement return_statement "
    "switch_statement while_statement"
)
"""Kinds of statements that stand in functions only. What looks like a call may be a macro."""


def slash_comments(word: str = "A-Za-z0-9_") -> Comments:
    """Return how ``//`` and ``/* */`` are comments, in a language of whose names `word` is a byte.

    Arguments: `word` is the inside of a class of a regular expression, without letters beyond
    ASCII, of which each may be in a name.
    """
    return {
        "gap": (
            # a comment is taken to its end: a search that may stop within does not end itself
            rf"[^{word}\x80-\xff/]|/(?![/*])|//[^\n]*(?:\n|\Z)|/\*(?:[^*]|\*(?!/))*\*/"
        ).encode("ascii"),
        "line_comment": "//",
        "comment_mark": re.compile(rb"//|/\*"),
    }


OPERATORS: dict[int, str] = {
    4: "||", 5: "&&", 6: "|", 7: "^", 8: "&", 9: "== !=", 10: "< > <= >=", 11: "<< >>",
    12: "+ -", 13: "* / %",
}
"""How strongly operators hold together in C, and in the languages that took them from it."""

ASSIGNMENT, TERNARY, UNARY, POSTFIX = 2, 3, 14, 15
"""The strengths around those."""

BRACKETED_HEADS = kinds(
    "do_statement if_statement switch_expression switch_statement synchronized_statement "
    "while_statement with_statement"
)
COMMON_WORDS = "= . , ; : ( ) { } [ ] ->"
"""Tokens that stand everywhere."""
