"""The interface of a module, as plain data that can be kept and sent."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, Literal

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


class Entry(Struct, frozen=True):
    """One name of a module or class.

    `path` says what more is known: for an alias what it is another name of, for a function what
    it returns, for a value what it is. A path is a dotted name in which ``()`` stands for what
    calling the name before it gives: ``depot.Tram()`` is an instance of ``depot.Tram``.
    """

    kind: EntryKind
    path: str | None = None
    bases: tuple[str | None, ...] = ()
    """Of a class: paths of its bases, None for one that is not known."""
    members: Mapping[str, Entry] = field(default_factory=dict)
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
    names: Mapping[str, Entry] = field(default_factory=dict)
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

    def exports(self, name: str) -> bool:
        """Return whether a star import of the module brings `name`."""
        if self.exported is not None:
            return name in self.exported
        return not name.startswith("_") and name in self.names


    def may_have(self, name: str) -> bool:
        """Return whether the module has `name`, or may have it by a star or by ``__getattr__``."""
        return name in self.names or bool(self.stars) or "__getattr__" in self.names


def to_data(summary: Summary) -> dict[str, Any]:
    """Return `summary` as data for JSON."""
    return {
        "module": summary.module,
        "names": {name: _entry_data(entry) for name, entry in summary.names.items()},
        "stars": list(summary.stars),
        "starred": list(summary.starred),
        "exported": None if summary.exported is None else list(summary.exported),
        "is_open": summary.is_open,
        "imports": list(summary.imports),
        "loads": list(summary.loads),
        "runs": list(summary.runs),
        "reaches": list(summary.reaches),
        "hands": list(summary.hands),
        "touches": list(summary.touches),
        "asks": list(summary.asks),
        "name_readers": list(summary.name_readers),
    }


def _entry_data(entry: Entry) -> list[Any]:
    members = {name: _entry_data(member) for name, member in entry.members.items()}
    takes = None if entry.takes is None else list(entry.takes)
    flags = (entry.property, entry.shared, entry.made_by_new)
    return [
        *(entry.kind, entry.path, list(entry.bases), members, *flags),
        *(entry.awaited, takes, entry.hands_to, entry.by_fields, list(entry.by_place)),
        None if entry.contents is None else list(entry.contents),
    ]


def from_data(data: Mapping[str, Any]) -> Summary:
    """Return the summary that `to_data` made `data` of.

    Errors: `KeyError`, `TypeError` or `ValueError` for other data.
    """
    exported = data["exported"]
    return Summary(
        data["module"],
        {name: _entry(entry) for name, entry in data["names"].items()},
        tuple(data["stars"]),
        tuple(data["starred"]),
        None if exported is None else tuple(exported),
        data["is_open"],
        tuple(data["imports"]),
        tuple(data["loads"]),
        tuple(data["runs"]),
        tuple(data["reaches"]),
        tuple(data["hands"]),
        tuple(data["touches"]),
        tuple(data["asks"]),
        tuple(data["name_readers"]),
    )


def _entry(data: list[Any]) -> Entry:
    kind, path, bases, members, is_property, common, by_new, awaited, takes, *others = data
    hands_to, by_fields, by_place, contents = others
    inner = {name: _entry(member) for name, member in members.items()}
    capture = None if takes is None else tuple(takes)
    return Entry(
        *(kind, path, tuple(bases), inner, is_property, common, by_new, awaited, capture),
        *(hands_to, by_fields, tuple(by_place)),
        None if contents is None else (contents[0], contents[1]),
    )
