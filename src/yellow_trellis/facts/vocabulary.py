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
    """By dotted name; one that is missing is known by its last part."""

    def of(self, name: str) -> frozenset[str]:
        """Return the words for what is defined under `name`."""
        return self.words.get(name) or frozenset({name.rpartition(".")[2]})

    def bytes_of(self, name: str) -> tuple[bytes, ...]:
        """Return the words in UTF-8."""
        if name not in self._bytes:
            self._bytes[name] = tuple(word.encode("utf-8") for word in sorted(self.of(name)))
        return self._bytes[name]

    @cached_property
    def _bytes(self) -> dict[str, tuple[bytes, ...]]:
        return {}


SPELLED = Vocabulary()
"""For a file of which nothing is known but itself."""
