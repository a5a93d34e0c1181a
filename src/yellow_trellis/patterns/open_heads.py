"""A pattern of a head with everything left open that it does not say.

A pattern without `async`, a modifier or a result type passes over every head that has one, and one
of an `if` over those with an `else`, which is seldom meant. Where the same pattern with `@{~}` in
its heads, and behind its bodies, finds more, its author is told so, with the pattern to write.
"""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterator
from functools import lru_cache

from yellow_trellis.languages import Language
from yellow_trellis.patterns.compile import compile_pattern
from yellow_trellis.patterns.head_parts import has_body, may_have_more
from yellow_trellis.patterns.match import Match
from yellow_trellis.patterns.notation import PatternError, read_notation
from yellow_trellis.patterns.pattern import Pattern
from yellow_trellis.patterns.pattern_parse import parse_pattern
from yellow_trellis.syntax import Node


class OpenHead:
    """A pattern with its heads left open, each gap by a name of its own."""

    def __init__(self, pattern: Pattern, places: tuple[int, ...]) -> None:
        self._text = pattern.text
        self._places = places
        self._stem = "gap"
        while self._stem in pattern.text:
            self._stem += "_"
        self.text = self._with({at: f"{self._stem}{at}" for at in places})
        """The pattern with a named part at each place where something else may stand."""
        self.pattern = compile_pattern(
            self.text, pattern.language, part=pattern.part, any_order=pattern.any_order
        )

    def needed(self, names: Collection[str]) -> str:
        """Return the pattern with those parts alone, left open, whose `names` took something."""
        return self._with({at: "" for at in self._places if f"{self._stem}{at}" in names})

    def opened_in(self, match: Match) -> str:
        """Return the pattern with those parts alone that `match`, one of `pattern`, asks for."""
        return self.needed([name for name in self.pattern.open_keys if match.taken(name)])

    def _with(self, names: dict[int, str]) -> str:
        text = self._text
        for at in sorted(names, reverse=True):
            part = f"@{{{names[at]}~}}"
            if text[at:].strip():
                after = " " if not text[:at].strip() or text[at - 1].isspace() else ""
                text = f"{text[:at]}{part}{after}{text[at:]}"
            else:  # what follows a body that its indentation ends is on a line of its own
                *_, line = text.rstrip().split("\n")
                text = text[:at] + ("\n" if line[:1].isspace() else " ") + part
        return text


_OPENING, _CLOSING = frozenset("([{"), frozenset(")]}")


def fits_open(pattern: Pattern, match_of: Callable[[Pattern], Match | None]) -> str:
    """Return the pattern with its heads left open that fits; empty where none does.

    Arguments: `match_of` gives the match of a pattern at the place in question, if it has one.
    """
    opened = open_head(pattern)
    match = match_of(opened.pattern) if opened is not None else None
    return opened.opened_in(match) if opened is not None and match is not None else ""


@lru_cache(maxsize=256)
def open_head(pattern: Pattern) -> OpenHead | None:
    """Return `pattern` with its heads left open; None where it has none, or says so itself."""
    if pattern.parts:
        return None
    language: Language = pattern.language
    notation = read_notation(pattern.text)
    parsed = parse_pattern(pattern.text, notation, language, pattern.part)
    chars = {
        parsed.byte_of(notation.code[:at]): notation.origin(at)
        for at in range(len(notation.code), -1, -1)
    }
    heads = {gap for node in pattern.nodes if _is_head(node) for gap in _gaps(node)}
    for gaps in (heads.union(*map(_clause_gaps, pattern.nodes)), heads):
        places = tuple(dict.fromkeys(chars[gap] for gap in sorted(gaps) if gap in chars))
        try:
            if places:
                return OpenHead(pattern, places)
        except PatternError:  # no grammar has more clauses there
            continue
    return None


def _is_head(node: Node) -> bool:
    """Return whether a node of a pattern defines something that may carry more than is said."""
    language = node.tree.language
    if node.kind in language.heads:
        return True
    fields = {item.field for item in node.items}
    is_named = not fields.isdisjoint({"name", "type"}) and has_body(node)
    return may_have_more(node) and (is_named or "declarator" in fields)


def _gaps(node: Node) -> Iterator[int]:
    """Yield the bytes in front of the items of a head, and of those of the heads in it.

    Nothing else than is said may stand in brackets and behind the start of a body.
    """
    depth = 0
    for item in node.core.items:
        depth -= item.text in _CLOSING
        if depth <= 0 and item.text not in _CLOSING and not _is_bare_body(item):
            yield item.outermost.start
        depth += item.text in _OPENING
        if item.field == "body" or item.kind in item.tree.language.bodies:
            return
        if may_have_more(item.core) and item.field in ("declarator", "name"):
            yield from _gaps(item)


def _clause_gaps(node: Node) -> Iterator[int]:
    """Yield the byte at which a statement with a body may have one more clause, such as `else`."""
    node = node.core
    language = node.tree.language
    last = node.items[-1] if node.items else node
    if node.kind in language.clauses and not has_body(node):  # the `if` behind an `else`
        yield from _clause_gaps(last)
    elif has_body(node) and may_have_more(node) and not _is_head(node):
        yield last.start if last.text == "end" else node.end


def _is_bare_body(item: Node) -> bool:
    """Return whether an item is a body, or statements of one, without a bracket to open it."""
    language = item.tree.language
    is_body = item.field == "body" or item.kind in language.bodies
    return is_body and item.text[:1] not in _OPENING
