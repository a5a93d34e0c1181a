"""Words by which a code base refers to a symbol under a dotted name."""

from __future__ import annotations

from collections.abc import Mapping
from functools import cached_property

from msgspec import Struct, field

from yellow_trellis.source import holds_word


class Vocabulary(Struct, frozen=True, dict=True):
    """The words under which things are offered: their own names, and those of re-exports.

    A file that refers to a thing holds one of its words.
    """

    words: Mapping[str, frozenset[str]] = field(default_factory=dict)
    """By dotted name."""
    alone: bool = False
    """Whether there are no other files: then the last part of its name is the word for all."""
    patched: Mapping[str, str] = field(default_factory=dict)
    """By dotted name: a module that gives it another value as it runs, or takes it away."""

    def of(self, name: str) -> frozenset[str] | None:
        """Return the words for what is defined under `name`; None where nobody has looked."""
        if name not in self.words and self.alone:
            return frozenset({name.rpartition(".")[2]})
        return self.words.get(name)

    def may_be_in(self, data: bytes, name: str) -> bool:
        """Return whether UTF-8 `data` holds a word for `name`; true where nobody has looked."""
        if name not in self._encoded:
            words = self.of(name)
            entry = None if words is None else tuple(sorted(w.encode("utf-8") for w in words))
            self._encoded[name] = entry
        encoded = self._encoded[name]
        return encoded is None or any(holds_word(data, word) for word in encoded)

    @cached_property
    def _encoded(self) -> dict[str, tuple[bytes, ...] | None]:
        return {}


SPELLED = Vocabulary(alone=True)
"""For a file of which nothing is known but itself."""
