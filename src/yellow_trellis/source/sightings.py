"""Where tokens that stand next to each other are seen in the bytes of a file, before any parse."""

from __future__ import annotations

import re
from collections import defaultdict
from collections.abc import Iterable
from typing import NamedTuple

from yellow_trellis.source.words import OF_WORDS


class Chain(NamedTuple):
    """Neighbouring tokens, as a regular expression for bytes.

    It takes the first token, looks at the others ahead, and ends with an empty group behind them.
    """

    form: re.Pattern[bytes]
    word: bytes = b""
    """The first token, if it is a word of ASCII letters."""
    like: bytes = b""
    """What the first token looks like where any of several words may stand, as an expression."""


class Lookout:
    """What is looked for in many files: the words that chains start with, in one pass for all."""

    def __init__(self, chains: Iterable[Chain]) -> None:
        chains = list(chains)
        self.words = frozenset(chain.word for chain in chains if chain.word)
        self.likes = {one.like: re.compile(one.like) for one in chains if one.like}
        parts = [_one_of(self.words), *sorted(self.likes)] if self.words else sorted(self.likes)
        self._form = re.compile(rb"\b(?:%s)(?!\w)" % b"|".join(parts))

    def places(self, data: bytes) -> dict[bytes, list[int]]:
        """Return by word where those that are looked for start in `data`, in bytes, ascending."""
        found: dict[bytes, list[int]] = defaultdict(list)
        for one in self._form.finditer(data):
            found[one[0]].append(one.start())
        return found


def _one_of(words: Iterable[bytes]) -> bytes:
    """Return an expression for any of `words` that tries each letter once."""
    rest: dict[bytes, list[bytes]] = defaultdict(list)
    ends = False
    for word in words:
        rest[word[:1]].append(word[1:])
    ends = bool(rest.pop(b"", None))
    parts = [first + _one_of(rest[first]) for first in sorted(rest)]
    if not parts:
        return b""
    return (parts[0] if len(parts) == 1 and not ends else b"(?:%s)" % b"|".join(parts)) + (
        b"?" if ends else b""
    )


class Sightings:
    """What the bytes of one file hold; each question is answered once, whoever asks it.

    Arguments: `lookout` has found the words that it looks for when the first of them is asked for.
    """

    def __init__(self, data: bytes, lookout: Lookout | None = None) -> None:
        self.data = data
        self._lookout = lookout
        self._places: dict[bytes, list[int]] | None = None
        self._held: dict[bytes, bool] = {}
        self._seen: dict[bytes, list[tuple[int, int]]] = {}

    @property
    def _known(self) -> dict[bytes, list[int]]:
        assert self._lookout is not None
        if self._places is None:
            self._places = self._lookout.places(self.data)
        return self._places

    def holds(self, token: bytes) -> bool:
        """Tell whether `token` stands anywhere, be it within a word."""
        known = self._held.get(token)
        if known is None:
            known = self._held[token] = token in self.data
        return known

    def holds_word(self, word: bytes) -> bool:
        """Tell whether `word` may stand anywhere as a word of its own; a False is certain."""
        if self._lookout is not None and word in self._lookout.words:
            return word in self._known
        return self.holds(word)

    def of(self, chain: Chain) -> list[tuple[int, int]]:
        """Return start and end of every place that looks like `chain`, in bytes, ascending."""
        key = chain.form.pattern
        known = self._seen.get(key)
        if known is None:
            known = self._seen[key] = self._all(chain)
        return known

    def _all(self, chain: Chain) -> list[tuple[int, int]]:
        starts = self._starts(chain)
        if starts is not None:
            match, data = chain.form.match, self.data
            return [(at, one.end(1)) for at in starts if (one := match(data, at)) is not None]
        found = [(one.start(), one.end(1)) for one in chain.form.finditer(self.data)]
        if chain.like:  # it may have started in the midst of a word
            found = [one for one in found if not one[0] or self.data[one[0] - 1] not in OF_WORDS]
        return found

    def _starts(self, chain: Chain) -> list[int] | None:
        """Return where the first word of a chain stands, if that is known."""
        if self._lookout is None:
            return None
        if chain.word in self._lookout.words:
            return self._known.get(chain.word, [])
        like = self._lookout.likes.get(chain.like)
        if like is None:
            return None
        words = [word for word in self._known if like.fullmatch(word)]
        return sorted(at for word in words for at in self._known[word])
