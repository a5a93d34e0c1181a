"""Literal anchors: the bytes that any match must contain, so that most code need not be parsed.

Between two tokens that stand next to each other in a pattern the code may have space, comments,
brackets and separators, but no word. So the tokens between two holes form a chain that one regular
expression finds, and the smallest node around the chain in the code stands for the smallest shape
around it in the pattern: from there the root of the match is a known number of steps up.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator
from functools import partial

from msgspec import Struct

from yellow_trellis.languages import Language
from yellow_trellis.patterns.pattern import Anchor, Anchors, PatternNode
from yellow_trellis.source import TokenSequence, whole_word

_WORD = re.compile(rb"[\w\x80-\xff]+")
_DULL = frozenset([b"(", b")", b"[", b"]", b"{", b"}", b",", b":", b";", b"."])
"""Tokens of which every file has many: a chain of nothing else is not worth looking for."""
_CLOSING = frozenset([b")", b"]", b"}", b",", b":", b";"])
"""Tokens that may as well belong to something around, or inside: a lead does not end in them."""

_LETTERS = r"[A-Za-z_]|\[(?:[a-z]-[a-z]|[A-Z]-[A-Z]|[A-Za-z_])+\]"
_SIGNS = r"[A-Za-z0-9_]|\[(?:[a-z]-[a-z]|[A-Z]-[A-Z]|[0-9]-[0-9]|[A-Za-z0-9_])+\]"
_WORDLIKE = rf"(?:{_LETTERS})\+?(?![?*{{])(?:(?:{_SIGNS})[?*+]?|\\[wd][*+])*"
"""A regular expression for a single word that starts with some letters."""


class _Token(Struct, frozen=True):
    """One token of a pattern: its text, and the way to it from the root."""

    text: bytes
    way: tuple[int, ...]
    word: bool = False
    """Whether it is a name or keyword, so that letters beside it make it another word."""
    common: bool = True
    """Whether it is a keyword or an operator, of which a file may have many."""
    form: bytes = b""
    """For what a hole takes: the regular expression that it asks for."""

    @property
    def searchable(self) -> bool:
        """Return whether it is worth searching for by itself."""
        return len(self.text) > (0 if self.word else 1)


_Chains = list[list[_Token]]


def trail_of(roots: tuple[PatternNode, ...], language: Language) -> Anchors:
    """Return what leads to the matches of a pattern with these roots.

    A name is rarer than an operator, a long one rarer than a short one; keywords come last.
    """
    best: tuple[tuple[object, ...], Callable[[], Anchor]] | None = None
    tokens: list[_Token] = []
    for index, root in enumerate(roots):
        results = (token for token in _all_tokens(root, language) if token.searchable)
        tokens += sorted(results, key=lambda token: token.text)
        chains = _chains(root, language)
        for number, chain in enumerate(chains):
            for at, token in enumerate(chain):
                rank = _rank(chain[at:])
                if token.searchable and (best is None or rank < best[0]):
                    best = rank, partial(_clue, chains, number, at, index, root, language)
        for shape, depth in _meant_shapes(root, 0):
            if best is None or best[0] > _MEANT:
                best = _MEANT, partial(Anchor, None, depth, index, meaning=shape.meaning)
    tokens.sort(key=lambda token: (token.common, -len(token.text)))
    needs = tuple(dict.fromkeys(token.text for token in tokens))
    words = tuple(dict.fromkeys(token.text for token in tokens if token.word))
    return Anchors(needs, words, best[1]() if best is not None else None)


def led_by_hole(root: PatternNode, key: str, regex: str, language: Language) -> Anchor | None:
    """Return a clue that starts with what the hole of `key` takes, as far as `regex` tells it.

    None where the expression asks for more than some letters to start with, or nothing certain
    stands behind the hole.
    """
    if re.fullmatch(_WORDLIKE, regex) is None:
        return None
    word = regex.replace("\\w", "[0-9A-Za-z_\\x80-\\xff]").replace("\\d", "[0-9\\x80-\\xff]")
    chains = _chains(root, language, key, word.encode("ascii"))
    for number, chain in enumerate(chains):
        if chain[0].form and len(chain) > 1:
            return _clue(chains, number, 0, 0, root, language)
    return None


_MEANT = (1,)


def _rank(tokens: list[_Token]) -> tuple[object, ...]:
    first = tokens[0]
    if not first.common:
        return (0, -len(first.text), first.text)
    words = sum(token.word for token in tokens)
    return (2, -words, -len(tokens), -len(first.text), first.text)


def _clue(
    chains: _Chains, number: int, at: int, index: int, root: PatternNode, language: Language
) -> Anchor:
    """Make the clue that starts at token `at` of a chain, with what stands before and after it."""
    chain = chains[number]
    stop = len(chain)
    while stop > at + 1 and chain[stop - 1].text in _CLOSING:
        stop -= 1
    led = chain[at:stop]
    way = led[0].way
    if len(led) > 1:
        way = _common_prefix(way, led[-1].way)
    after = _forms(chains[number + 1 :], language)
    before = [*chains[:number], chain[:at]]
    return Anchor(
        _chain(led, chain[stop:], language),
        len(way),
        index,
        alone=len(led) == 1 and not led[0].form,
        before=_forms(before, language),
        after=after,
    )


def _common_prefix(results: tuple[int, ...], second: tuple[int, ...]) -> tuple[int, ...]:
    at = 0
    while at < min(len(results), len(second)) and results[at] == second[at]:
        at += 1
    return results[:at]


def _forms(chains: _Chains, language: Language) -> tuple[re.Pattern[bytes], ...]:
    return tuple(
        re.compile(_form(chain, language))
        for chain in chains
        if any(token.text not in _DULL or token.form for token in chain)
    )


def _chain(led: list[_Token], behind: list[_Token], language: Language) -> TokenSequence:
    """Return what finds a chain that `behind` follows: of two that overlap, too."""
    first = _form(led[:1], language)
    tail = _gap(language) + _form(led[1:], language) if len(led) > 1 else b""
    ahead = _gap(language) + _form(behind, language) if behind else b""
    form = re.compile(first + b"(?=%s()%s)" % (tail, ahead))
    if led[0].form:
        return TokenSequence(form, tuple(_starts(led[0].form)), loose=True)
    if not led[0].word:
        return TokenSequence(form, sign=led[0].text)
    return TokenSequence(form, (led[0].text + b" ",) if led[0].text.isascii() else ())


_MOST_STARTS = 64
_CHOICE = rb"([A-Za-z0-9_])|\[([^\]]+)\]"


def _starts(form: bytes) -> list[bytes]:
    """Return what a word that looks like `form` starts with; a space stands for its end."""
    results, at = [b""], 0
    while (choice := re.match(_CHOICE, form[at:])) is not None:
        behind = form[at + choice.end() : at + choice.end() + 1]
        letters = bytes(byte for byte in range(128) if re.match(choice[0], bytes([byte])))
        if behind in (b"?", b"*") or len(results) * len(letters) > _MOST_STARTS:
            break
        results = [start + bytes([letter]) for start in results for letter in letters]
        at += choice.end()
        if behind == b"+":
            break
    return [start + b" " for start in results] if at == len(form) else [s for s in results if s]


def _gap(language: Language) -> bytes:
    """Return what may stand between two tokens."""
    return b"(?:%s)*?" % language.gap


def _form(chain: list[_Token], language: Language) -> bytes:
    """Return what a chain looks like, as a regular expression."""
    letter = language.word
    result = b""
    for token in chain:
        part = text = token.form or re.escape(token.text)
        if token.word:
            part += b"(?!%s)" % letter
            if not token.form:
                part = whole_word(text, letter)
        result += _gap(language) + part if result else part
    return result


def _chains(root: PatternNode, language: Language, key: str = "", form: bytes = b"") -> _Chains:
    """Return the tokens of a shape, cut where code may stand that the pattern does not say.

    Arguments: what the hole of `key` takes counts as a token that looks like `form`.
    """
    results: _Chains = [[]]

    def go(shape: PatternNode, way: tuple[int, ...]) -> None:
        cut = shape.hole is not None or shape.meaning or shape.literal or shape.named
        if cut or shape.kind in language.delimiters or shape.text == b"":
            if form and shape.key == key:
                results.append([_Token(b"", way, word=True, form=form)])
            else:
                results.append([])
        elif shape.text is not None:
            results[-1].append(_token(shape, shape.text, way, language))
        else:
            for at in _in_text_order(shape, language):
                go(shape.items[at], (*way, at))

    go(root, ())
    return [chain for chain in results if chain]


def _in_text_order(shape: PatternNode, language: Language) -> list[int]:
    """Return the positions of the items of a shape as they are written.

    A separator behind the last item, where it has a meaning, is the last of them, but stands before
    the bracket that closes the list.
    """
    places = list(range(len(shape.items)))
    if shape.kind in language.counted_separators and len(places) > 1:
        if (shape.items[-1].text or b"").decode("utf-8", "replace") in language.separators:
            if shape.items[-2].text in (b")", b"]", b"}"):
                places[-2:] = places[-1], places[-2]
    return places


def _token(shape: PatternNode, text: bytes, way: tuple[int, ...], language: Language) -> _Token:
    # part of a text may have letters beside it; a name or a keyword may not
    message = text.decode("utf-8", "replace")
    names = language.family("name") or frozenset()
    own = shape.kind in names or shape.kind in (message, message.lower())
    word = own and _WORD.fullmatch(text) is not None
    return _Token(text, way, word, message in language.keywords or not word)


def _shapes(shape: PatternNode) -> Iterator[PatternNode]:
    """Yield a shape and all in it that no code lacks."""
    yield shape
    for item in () if shape.is_optional else shape.items:
        yield from _shapes(item)


def _all_tokens(shape: PatternNode, language: Language) -> Iterator[_Token]:
    """Yield all fixed tokens; the code may have other quotes than the pattern."""
    for item in _shapes(shape):
        if item.text is not None and not item.literal and item.kind not in language.delimiters:
            yield _token(item, item.text, (), language)


def _meant_shapes(shape: PatternNode, depth: int) -> Iterator[tuple[PatternNode, int]]:
    """Yield all names by meaning, each with its depth."""
    if shape.meaning:
        yield shape, depth
    for item in () if shape.is_optional else shape.items:
        yield from _meant_shapes(item, depth + 1)
