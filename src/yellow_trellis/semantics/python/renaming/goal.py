"""The thing that a renaming is about, and the verdicts on a place that says its name."""

from __future__ import annotations

import re
from functools import cached_property

from msgspec import Struct

from yellow_trellis.semantics import ModuleGraph

IT, OTHER = "it", "another"
"""Verdicts on a place; any other text is the reason why it is not known."""

_ENUMS = frozenset({"Enum", "Flag", "IntEnum", "IntFlag", "ReprEnum", "StrEnum"})


class Goal(Struct, frozen=True, dict=True):
    """The thing that is sought, which may have several names: a method is that of a whole line."""

    word: str
    """Its last name."""
    targets: frozenset[str]
    """Its dotted names, or those of the functions of which it is an argument."""
    role: str
    """``name`` of a module, ``member`` of a class, ``field`` of one that is made by its fields, or
    ``argument``."""
    graph: ModuleGraph

    @cached_property
    def callers(self) -> frozenset[str]:
        """The last names by which what takes it as a keyword is called."""
        names = self.targets if self.role == "argument" else self.owners
        return frozenset(name.rpartition(".")[2] for name in names)

    @cached_property
    def owners(self) -> frozenset[str]:
        """The modules or classes that have it."""
        return frozenset(name.rpartition(".")[0] for name in self.targets)

    def means(self, name: str) -> bool:
        """Return whether a dotted name, as it is resolved, is one of those of the thing."""
        return name.replace("().", ".") in self.targets

    def is_near(self, data: bytes) -> bool:
        """Return whether UTF-8 `data` says the last name of an owner."""
        return any(name.rpartition(".")[2].encode("utf-8") in data for name in self.owners)

    @cached_property
    def is_by_place(self) -> bool:
        """Return whether it is an argument that no call can name, ``def f(zone, /)``."""
        entries = [self.graph.entry(name) for name in self.targets]
        return bool(entries) and all(
            entry is not None and self.word in entry.by_place for entry in entries
        )

    @cached_property
    def takes_any(self) -> bool:
        """Return whether it is an argument of a function that takes any keywords besides."""
        entries = (self.graph.entry(name) for name in self.targets)
        return any(entry is not None and entry.takes is not None for entry in entries)

    @cached_property
    def is_class(self) -> bool:
        """Return whether it is a class."""
        entries = (self.graph.entry(name) for name in self.targets)
        return self.role == "name" and any(e is not None and e.kind == "class" for e in entries)

    @cached_property
    def is_in_class(self) -> bool:
        """Return whether instances of classes have it."""
        return self.role in ("member", "field")

    @cached_property
    def is_method(self) -> bool:
        """Return whether it is a method of a class, or a property."""
        entries = list(map(self.graph.entry, self.targets))
        return self.is_in_class and all(e is not None and e.kind == "function" for e in entries)

    @cached_property
    def is_in_enum(self) -> bool:
        """Return whether it is a member of an enumeration, which knows it by its name."""
        if not self.is_in_class:
            return False
        entries = map(self.graph.entry, self.targets)
        is_value = any(entry is not None and entry.kind == "value" for entry in entries)
        return is_value and any(self._comes_from(owner, _ENUMS) for owner in self.owners)

    @cached_property
    def is_in_metaclass(self) -> bool:
        """Return whether classes have it, by the class that they are made by."""
        return self.is_in_class and any(
            self._comes_from(owner, frozenset({"type", "ABCMeta", "EnumMeta", "EnumType"}))
            for owner in self.owners
        )

    def has(self, name: str) -> bool:
        """Return whether `name` is one of the owners, or a class above or below one of them."""
        if name in self.owners:
            return True
        if not self.is_in_class:
            return False
        above = set(self.graph.bases(name))
        return any(o in above or name in set(self.graph.bases(o)) for o in self.owners)

    def _comes_from(self, owner: str, names: frozenset[str]) -> bool:
        bases = self.graph.bases(owner)
        return any(base is not None and re.split(r"[.:]", base)[-1] in names for base in bases)
