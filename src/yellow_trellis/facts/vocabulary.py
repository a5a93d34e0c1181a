"""By which words a code base knows what is defined under a dotted name."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import cached_property


@dataclass(frozen=True)
class Vocabulary:
    """The words under which things are offered: their own names, and those of re-exports.

    A file that refers to a thing holds one of its words.
    """

    words: Mapping[str, frozenset[str]] = field(default_factory=dict)
    """By dotted name."""
    alone: bool = False
    """Whether there are no other files: then the last part of its name is the word for all."""

    def of(self, name: str) -> frozenset[str] | None:
        """Return the words for what is defined under `name`; None where nobody has looked."""
        if name not in self.words and self.alone:
            return frozenset({name.rpartition(".")[2]})
        return self.words.get(name)

    def bytes_of(self, name: str) -> tuple[bytes, ...]:
        """Return the words in UTF-8; where nobody has looked, what is in every file."""
        if name not in self._bytes:
            words = self.of(name)
            self._bytes[name] = (
                (b"",) if words is None else tuple(w.encode("utf-8") for w in sorted(words))
            )
        return self._bytes[name]

    @cached_property
    def _bytes(self) -> dict[str, tuple[bytes, ...]]:
        return {}


SPELLED = Vocabulary(alone=True)
"""For a file of which nothing is known but itself."""
