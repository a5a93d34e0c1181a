"""How a line of a Python file goes on, and whether what stands in it surely ends with it.

What is in code at a place goes on behind the line only in brackets, behind a backslash, or in a
long string. In brackets no name follows an operand, and no statement starts. All expressions are
cautious: where they do not fit, nothing is known.
"""

from __future__ import annotations

import sys

FIRM_WORDS = (
    rb"return|def|class|import|raise|assert|del|pass|while|with|try|global|nonlocal|break|continue"
)
"""What starts statements and stands nowhere in brackets, as an expression."""


def once(form: bytes) -> bytes:
    """Return an expression in which what is repeated is never given back, where Python can.

    Arguments: `form` has repeats only of what what follows them does not start with.
    """
    if sys.version_info < (3, 11):
        return form
    return form.replace(b"]*", b"]*+").replace(b")*", b")*+")


_SIGN = rb"[^A-Za-z0-9_\x80-\xff#]*"
GAP_TO_WORD = once(rb"%s(?:#[^\n]*\n%s)*" % (_SIGN, _SIGN))
"""What may stand between a token and a word, and means nothing."""

_TO_NEXT = once(rb"\r?\n[ \t\r\n]*(?:#[^\n]*\n[ \t\r\n]*)*")
_ENDS_OPERAND = (
    rb"(?<=[\w\x80-\xff)\]}\"'])(?<!\b(?:as|if|in|is|or))(?<!\b(?:and|for|not))"
    rb"(?<!\b(?:else|from))(?<!\b(?:async|await|print|yield))(?<!\blambda)"
)
_STARTS_OPERAND = (
    rb"(?!(?:and|as|async|else|for|from|if|in|is|not|or)(?![\w\x80-\xff]))"
    rb"[A-Za-z_]\w*(?![\w\x80-\xff\"'])"
)
_STARTS_STATEMENT = rb"(?:%s|elif|except|finally)(?![\w\x80-\xff])" % FIRM_WORDS


def _without_long(but: bytes) -> bytes:
    """Return an expression for the rest of a line up to `but`, without triple quotes."""
    plain = rb"[^\"'\r\n%s]*" % but
    return once(rb"%s(?:(?:\"(?!\"\")|'(?!''))%s)*" % (plain, plain))


# a sign for a comment may stand in a string, so what stands before it need not be an operand
LINE_END = rb"%s(?:%s|%s(?<!\\)%s)" % (
    _without_long(b"#"),
    _ENDS_OPERAND + _TO_NEXT + _STARTS_OPERAND,
    _without_long(b""),
    _TO_NEXT + _STARTS_STATEMENT,
)
"""The rest of a line with the start of the next, where an expression or a simple statement that a
place in the line is in ends with the line."""

_SHORT = rb"\"(?!\"\")[^\"\\\n]*\"|'(?!'')[^'\\\n]*'"
_PLAIN = rb"[^\"'#\\()\[\]{}\n:]*"


def _in_brackets(depth: int) -> bytes:
    """Return an expression for brackets on one line, nested as deep as is told."""
    plain = _PLAIN.replace(b":", b"")
    deeper = b"|" + _in_brackets(depth - 1) if depth else b""
    return rb"[(\[{]%s(?:(?:%s%s)%s)*[)\]}]" % (plain, _SHORT, deeper, plain)


_COLON = (
    rb"(?=[^\n]*:)(?![^\n]*lambda)"
    + once(rb"%s(?:(?:%s|%s|[)\]}])%s)*" % (_PLAIN, _SHORT, _in_brackets(2), _PLAIN))
    + rb":(?!=)"
)

EXPRESSION_END = LINE_END + b"|" + _COLON
"""That, or the rest of a line up to a colon that is in no bracket opened in it, and in no
expression."""
