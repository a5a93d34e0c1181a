"""The token index: where sequences of tokens stand in the bytes of a file, before any parse."""

from __future__ import annotations

import re
from bisect import bisect_left
from collections import defaultdict
from collections.abc import Iterable
from functools import cached_property

from msgspec import Struct

from yellow_trellis.source.words import OF_WORDS

_APART = bytes(byte if byte in OF_WORDS else 32 for byte in range(256))
"""Turns all that is no letter of a word into space."""


class TokenSequence(Struct, frozen=True):
    """Neighbouring tokens, as a regular expression for bytes.

    It takes the first token, looks at the others ahead, and ends with an empty group behind them.
    """

    form: re.Pattern[bytes]
    starts: tuple[bytes, ...] = ()
    """What the first token starts with, if it is a word: one of these, in ASCII. A space stands for
    the end of the word. None are told where there would be too many."""
    loose: bool = False
    """Whether the form may take the end of a word for a word."""
    sign: bytes = b""
    """What the first token is, if it is no word."""

    @classmethod
    def of_word(cls, word: bytes, then: bytes = b"") -> TokenSequence:
        """Return the chain of one word in ASCII; `then` is an expression for what follows it."""
        form = whole_word(word, rb"[\w\x80-\xff]")
        return cls(re.compile(form + then + b"()"), (word + b" ",))


def whole_word(text: bytes, letter: bytes) -> bytes:
    """Return an expression for `text`, one itself, where it is no part of a longer word.

    Arguments: `letter` is an expression for one byte of a word. What stands before is asked last,
    as a search is fast from a fixed text.
    """
    return text + b"(?<!%s%s)(?!%s)" % (letter, text, letter)


class MultiPatternMatcher:
    """A matcher for many words at once: those that token sequences start with."""

    def __init__(self, chains: Iterable[TokenSequence]) -> None:
        from ahocorasick_rs import BytesAhoCorasick

        chains = list(chains)
        starts = sorted({start for chain in chains for start in chain.starts})
        self.numbers = {start: number for number, start in enumerate(starts)}
        """The starts of words that are looked for, each with its number."""
        self.starts_of = {
            chain.form.pattern: tuple(self.numbers[start] for start in chain.starts)
            for chain in chains
            if chain.starts
        }
        """By the form of a chain: the numbers of what it may start with."""
        self._automaton = BytesAhoCorasick([b" " + start for start in starts])

    def places(self, data: bytes) -> dict[int, list[int]]:
        """Return by number where words start in `data`, in bytes, ascending."""
        table: dict[int, list[int]] = defaultdict(list)
        words = b" %s " % data.translate(_APART)  # so each word starts one place after its space
        for number, at, _ in self._automaton.find_matches_as_indexes(words, overlapping=True):
            table[number].append(at)
        return table


class TokenIndex:
    """The token index of one file; each question is answered once, whoever asks it.

    Arguments: `matcher` has found the words that it looks for when the first of them is asked for.
    """

    def __init__(self, data: bytes, matcher: MultiPatternMatcher | None = None) -> None:
        self.data = data
        self._lookout = matcher
        self._held: dict[bytes, bool] = {}
        self._seen: dict[bytes, list[tuple[int, int]]] = {}
        self._signs: dict[bytes, list[int]] = {}

    @cached_property
    def _places(self) -> dict[int, list[int]]:
        return self._lookout.places(self.data) if self._lookout is not None else {}

    def started(self, matcher: MultiPatternMatcher) -> Iterable[int] | None:
        """Return the numbers of what `matcher` has found; None where that was not looking out."""
        return self._places if matcher is self._lookout else None

    def may_show(self, chain: TokenSequence) -> bool:
        """Return whether there may be anything that looks like `chain`; a False is certain."""
        numbers = self._numbers(chain)
        return numbers is None or not self._places.keys().isdisjoint(numbers)

    def _numbers(self, chain: TokenSequence) -> tuple[int, ...] | None:
        """Return the numbers of what a chain may start with, if that is looked out for."""
        return None if self._lookout is None else self._lookout.starts_of.get(chain.form.pattern)

    def holds(self, token: bytes) -> bool:
        """Return whether `token` stands anywhere, be it within a word."""
        entry = self._held.get(token)
        if entry is None:
            entry = self._held[token] = token in self.data
        return entry

    def holds_word(self, word: bytes) -> bool:
        """Return whether `word` may stand anywhere as a word of its own; a False is certain."""
        if self._lookout is not None:
            number = self._lookout.numbers.get(word + b" ")
            if number is not None:
                return number in self._places
        return self.holds(word)

    def of(self, chain: TokenSequence) -> list[tuple[int, int]]:
        """Return start and end of every place that looks like `chain`, in bytes, ascending."""
        key = chain.form.pattern
        entry = self._seen.get(key)
        if entry is None:
            entry = self._seen[key] = self._all(chain)
        return entry

    def shows(self, chain: TokenSequence, start: int, end: int) -> bool:
        """Return whether anything that looks like `chain` starts in the bytes `start` to `end`."""
        places = self.of(chain)
        at = bisect_left(places, (start,))
        return at < len(places) and places[at][0] < end

    def _all(self, chain: TokenSequence) -> list[tuple[int, int]]:
        starts = self._starts(chain)
        if starts is not None:
            match, data = chain.form.match, self.data
            return [(at, result.end(1)) for at in starts if (result := match(data, at)) is not None]
        results = [(match.start(), match.end(1)) for match in chain.form.finditer(self.data)]
        if chain.loose:
            results = [
                result
                for result in results
                if not result[0] or self.data[result[0] - 1] not in OF_WORDS
            ]
        return results

    def _starts(self, chain: TokenSequence) -> list[int] | None:
        """Return where the first word of a chain may stand, if that is known."""
        if chain.sign:
            return self._places_of(chain.sign)
        numbers, places = self._numbers(chain), self._places
        if numbers is None:
            return None
        if len(numbers) == 1:
            return places.get(numbers[0], [])
        return sorted(at for number in numbers for at in places.get(number, ()))

    def _places_of(self, sign: bytes) -> list[int]:
        entries = self._signs.get(sign)
        if entries is None:
            form = re.compile(re.escape(sign))
            entries = self._signs[sign] = [match.start() for match in form.finditer(self.data)]
        return entries
