"""The interface of a module, as plain data that can be kept and sent."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Literal

from msgspec import Struct, field

RECEIVER = "<self>"
"""The path of what a method returns that returns what it is asked of."""

AWAITED, OF, ITEM = "<await>", "<of>", "<item>"
"""Steps of a path: what awaiting gives; a class with types in brackets, ``Box[int]``, or what a
container has at a place; what going through a container gives."""
CONTEXT = "<context>"
"""The path of what a function returns that is a generator made a context: its contents are what
entering it gives."""
MORE = "<more>"
"""The step of a call that says what to give where a container has nothing: ``get(1, 2)``."""

EntryKind = Literal["alias", "class", "function", "value"]


class NameEntry(Struct, frozen=True):
    """One name of a module or class.

    `path` says what more is known: for an alias what it is another name of, for a function what
    it returns, for a value what it is. A path is a dotted name in which ``()`` stands for what
    calling the name before it gives: ``depot.Tram()`` is an instance of ``depot.Tram``.
    """

    kind: EntryKind
    path: str | None = None
    bases: tuple[str | None, ...] = ()
    """Of a class: paths of its bases, None for one that is not known."""
    members: Mapping[str, NameEntry] = field(default_factory=dict)
    """Of a class: its names, and those its methods give its instances."""
    property: bool = False
    """Whether it is a function that is read like a value."""
    shared: bool = False
    """Whether it is a value that a class has, rather than its instances."""
    made_by_new: bool = False
    """Whether calling the class may make something else than an instance of it."""
    awaited: str | None = None
    """Of a function that has to be awaited: the path of what that gives."""
    takes: tuple[str, ...] | None = None
    """Of a function that takes any keywords, ``**more``: the names of its other parameters."""
    hands_to: str | None = None
    """Of a function that takes any keywords: the path of the one that it gives all of them."""
    by_fields: bool = False
    """Whether calling the class takes the values of its attributes by their names."""
    by_place: tuple[str, ...] = ()
    """Of a function: the parameters that no call can name."""
    contents: tuple[str | None, str | None] | None = None
    """Of a container, or a function that returns one: the paths of what going through it gives, and
    of what it has at a place or by a key."""


class Summary(Struct, frozen=True):
    """The interface of a module: its names, and what it imports whole."""

    module: str
    names: Mapping[str, NameEntry] = field(default_factory=dict)
    """By name, nested ones by qualified name (``f.<locals>.C``)."""
    stars: tuple[str, ...] = ()
    """Modules of which all names are imported, in order."""
    starred: tuple[str, ...] = ()
    """Names that are bound before the last of these imports, which may bind them anew."""
    exported: tuple[str, ...] | None = None
    """The names in ``__all__``; None where there is none, or it is not plain."""
    is_open: bool = False
    """Whether ``__all__`` is worked out as the module runs: what a star brings is not known."""
    imports: tuple[str, ...] = ()
    """Modules that are imported, sorted; of ``from a import b`` both ``a`` and ``a.b``."""
    loads: tuple[str, ...] = ()
    """Those of them that are imported as the module itself is, rather than by its functions."""
    runs: tuple[str, ...] = ()
    """Words that the module may call as it is imported, sorted; more rather than less."""
    reaches: tuple[str, ...] = ()
    """Dotted names that code says by way of a module that it imports, sorted.

    A colon stands behind what the import itself loads: ``a.b:c``.
    """
    hands: tuple[str, ...] = ()
    """What may be modules among the imported names that are read with nothing behind them."""
    touches: tuple[str, ...] = ()
    """Those of them that are said as the module is imported."""
    asks: tuple[str, ...] = ()
    """Regular expressions for the names that the module asks for by text."""
    name_readers: tuple[str, ...] = ()
    """Functions and classes that may read the name or the signature of what they are given."""
    patches: tuple[str, ...] = ()
    """Paths of what it assigns to or deletes from the modules and classes of others, sorted."""

    def exports(self, name: str) -> bool:
        """Return whether a star import of the module brings `name`."""
        if self.exported is not None:
            return name in self.exported
        return not name.startswith("_") and name in self.names

    def may_have(self, name: str) -> bool:
        """Return whether the module has `name`, or may have it by a star or by ``__getattr__``."""
        return name in self.names or bool(self.stars) or "__getattr__" in self.names
