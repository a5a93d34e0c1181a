"""Scopes and the names in them: what is bound where, and what each name refers to."""

from __future__ import annotations

from collections.abc import Iterator
from functools import cached_property
from typing import TYPE_CHECKING, Literal

from msgspec import Struct

from yellow_trellis.semantics.imports import Import
from yellow_trellis.source import Place, Span

if TYPE_CHECKING:
    from yellow_trellis.syntax import Node, Tree

ScopeKind = Literal[
    "module", "class", "function", "lambda", "comprehension", "types", "block", "body"
]
"""``types`` is the scope of type parameters, around a class, function or alias that has some;
``body`` that of a function whose parameters have one of their own."""

Use = Literal[
    "bind", "read", "write", "update", "delete", "annotation", "quoted", "declare", "export"
]
"""What an occurrence of a name does.

``annotation``: read, where a type is meant. ``quoted``: named in an annotation that is a string.
``declare``: in a ``global`` or ``nonlocal`` statement. ``write``: given a value, in a language in
which that binds no name; ``update``: read and given one. ``export``: handed to other files.
"""

How = Literal[
    "argument",
    "assignment",
    "augmented",
    "capture",
    "catch",
    "class",
    "comprehension",
    "const",
    "declaration",
    "enum",
    "except",
    "field",
    "for",
    "function",
    "import",
    "let",
    "namespace",
    "type",
    "var",
    "walrus",
    "with",
]
"""What binds a name; ``declaration`` is an annotation without a value."""


Site = tuple[int, How]
"""Where a name is bound: the first byte, and what binds it."""


class Symbol:
    """One name in one scope: every place in that scope, inner scopes aside, where it stands."""

    __slots__ = ("also", "binds", "declared", "implicit", "implied", "others", "reads", "spelled")

    def __init__(self, spelled: bytes) -> None:
        self.spelled = spelled
        self.reads: list[int] = []
        """First bytes of where it is read."""
        self.binds: list[Site] = []
        self.others: dict[Use, list[int]] | None = None
        """By any other use: first bytes."""
        self.declared: Literal["", "global", "nonlocal"] = ""
        self.implied = False
        """Whether a comprehension inside binds it here: with a walrus."""
        self.implicit = False
        """Whether code reads it that does not say it."""
        self.also: Symbol | None = None
        """The same name in other letters, which the language takes for these."""

    def add(self, use: Use, start: int) -> None:
        """Note one more place."""
        if self.others is None:
            self.others = {}
        self.others.setdefault(use, []).append(start)

    def starts(self, use: Use) -> list[int]:
        """Return where the name stands with this use, other than to read or bind it."""
        return self.others.get(use, []) if self.others is not None else []

    @property
    def bound(self) -> bool:
        """Return whether the scope itself binds the name, so that it is local unless declared."""
        if self.binds or self.implied:
            return True
        if self.others is not None and "delete" in self.others:
            return True
        return self.also is not None and self.also.bound

    @property
    def used(self) -> bool:
        """Return whether the scope reads, binds or declares the name, beyond text in quotes."""
        statement = self.reads or self.declared or self.starts("annotation") or self.implicit
        return bool(statement or self.bound or (self.also is not None and self.also.used))

    def places(self) -> Iterator[tuple[int, int, Use, How | None]]:
        """Yield first and last byte, use and way of binding of each place."""
        size = len(self.spelled)
        for start in self.reads:
            yield start, start + size, "read", None
        for start, how in self.binds:
            yield start, start + size, "bind", how
        for use, starts in (self.others or {}).items():
            for start in starts:
                yield start, start + size, use, None
        if self.also is not None:
            yield from self.also.places()


class Scope:
    """A stretch of code with names of its own.

    `start` and `end` are the bytes of the node that makes the scope; `name` is that of the class
    or function.
    """

    __slots__ = (
        *("children", "end", "imports", "kind", "name", "parent", "private", "start", "stores"),
        *("symbols", "tree", "users"),
    )

    def __init__(
        self, tree: Tree, kind: ScopeKind, name: str, parent: Scope | None, start: int, end: int
    ) -> None:
        self.tree = tree
        self.kind: ScopeKind = kind
        self.name = name
        self.parent = parent
        self.start = start
        self.end = end
        self.private: str = parent.private if parent is not None else ""
        """What the language puts before names here that start with two underscores."""
        if kind == "class":
            self.private = "_" + stem if (stem := name.lstrip("_")) else ""
        self.imports: list[Import] = []
        """What is imported here, in no order."""
        self.stores: list[Span] = []
        """Attributes that are assigned to here, such as ``self.line``."""
        self.children: list[Scope] = []
        self.symbols: dict[str, Symbol] = {}
        self.users: dict[str, list[Scope]] = {}
        """For names bound here: the scopes that mention them, this one too."""
        if parent is not None:
            parent.children.append(self)

    def release(self) -> None:
        """Cut the ties to other scopes and to the tree."""
        self.parent = None
        self.children.clear()
        self.users.clear()
        self.symbols.clear()
        del self.tree

    def __repr__(self) -> str:
        return f"<scope {self.kind} {self.name or '-'} {self.tree.source.place(self.start)}>"

    @property
    def module(self) -> Scope:
        """The scope of the whole file."""
        scope = self
        while scope.parent is not None:
            scope = scope.parent
        return scope

    @property
    def holder(self) -> Scope | None:
        """The class this scope is the body of a method of, if it is one."""
        above = self.parent
        while above is not None and above.kind == "types":
            above = above.parent
        return above if above is not None and above.kind == "class" else None

    def around(self) -> Iterator[Scope]:
        """Yield the scopes around this one, from the inside out: the module last."""
        scope = self.parent
        while scope is not None:
            yield scope
            scope = scope.parent

    def place_of(self, name: str) -> str:
        """Return where `name` first stands in the scope itself, to be shown."""
        starts = [start for start, _, _, _ in self.symbols[name].places()]
        return str(self.tree.source.place(min(starts))) if starts else "an inner scope"

    def walk(self) -> Iterator[Scope]:
        """Yield this scope and all inside it, in source order."""
        stack = [self]
        while stack:
            scope = stack.pop()
            yield scope
            stack.extend(reversed(scope.children))

    def owner(self, name: str, use: Use = "read") -> Scope:
        """Return the scope whose name it is when code of this scope says `name`.

        That is the module for what no scope binds; see `binds` for whether the module does.
        Arguments: `use` matters where a type and a value may have the same name.
        Source: the language reference of Python, "Naming and binding".
        """
        symbol = self.symbols.get(name)
        if symbol is not None:
            if symbol.declared == "global":
                return self.module
            if symbol.declared != "nonlocal" and symbol.bound:
                return self
        direct = self.kind == "types"
        scope = self.parent
        while scope is not None and scope.parent is not None:
            if scope.kind == "class":
                if name == "__class__" or (direct and scope.binds(name)):
                    return scope
                direct = False
            elif (theirs := scope.symbols.get(name)) is not None:
                if theirs.declared == "global":
                    break
                if theirs.declared != "nonlocal" and theirs.bound:
                    return scope
            direct = direct and scope.kind == "types"
            scope = scope.parent
        return self.module

    def binds(self, name: str) -> bool:
        """Return whether the scope itself binds `name` as its own."""
        symbol = self.symbols.get(name)
        return symbol is not None and symbol.bound and not symbol.declared

    def owners(self, name: str) -> tuple[Scope, ...]:
        """Return the scopes whose name it is where this one says `name`, one in most languages."""
        symbol = self.symbols[name]
        return (self if symbol.binds and not symbol.declared else self.owner(name),)

    def occurrences(self, name: str, owner: Scope | None = None) -> Iterator[Occurrence]:
        """Yield every place in the scope itself where `name` stands.

        Arguments: `owner` is the scope whose name is meant, any if left out.
        """
        symbol = self.symbols.get(name)
        if symbol is not None:
            for start, end, use, how in symbol.places():
                yield Occurrence(self, name, Span(start, end), use, how)

    @property
    def qualified(self) -> str:
        """The dotted name of the scope inside its module, as the interpreter would tell it."""
        parts: list[str] = []
        scope: Scope | None = self
        while scope is not None and scope.parent is not None:
            if scope.kind == "types":
                scope = scope.parent
                continue
            if parts and scope.kind not in ("class", "module"):
                parts.append("<locals>")
            parts.append(scope.name or f"<{scope.kind}>")
            scope = scope.parent
        return ".".join(reversed(parts))


class Occurrence(Struct, frozen=True):
    """One place where a name stands."""

    scope: Scope
    name: str
    span: Span
    use: Use
    how: How | None = None
    """What binds the name, where `use` is ``bind``."""

    @property
    def place(self) -> Place:
        """Line and column, from 1."""
        return self.scope.tree.source.place(self.span.start)

    @property
    def node(self) -> Node:
        """The node of the name; for a name in quotes, the string's text."""
        node = self.scope.tree.leaf_at(*self.span)
        assert node is not None
        return node


class Binding(Struct, frozen=True, eq=False, dict=True):
    """A name of one scope, with every place that binds it and every place that refers to it."""

    scope: Scope
    name: str

    def __repr__(self) -> str:
        return f"<binding {self.name} of {self.scope!r}>"

    @cached_property
    def occurrences(self) -> tuple[Occurrence, ...]:
        """All places where the name stands for this binding, in source order."""
        results: list[Occurrence] = []
        for scope in self.scope.users.get(self.name, ()):
            results += scope.occurrences(self.name, self.scope)
        return tuple(sorted(results, key=lambda item: item.span))

    @property
    def definitions(self) -> tuple[Occurrence, ...]:
        """The places that bind it."""
        return tuple(occurrence for occurrence in self.occurrences if occurrence.use == "bind")

    @property
    def references(self) -> tuple[Occurrence, ...]:
        """The places that refer to it: all but those that only bind, delete or declare."""
        return tuple(
            occurrence
            for occurrence in self.occurrences
            if occurrence.use in _REFERRING or occurrence.how == "augmented"
        )

    @property
    def reassigned(self) -> bool:
        """Return whether it may be given another value after it is declared.

        So it is where code assigns to it, or where two places bind it.
        """
        writes = [item for item in self.occurrences if item.use in ("write", "update")]
        return bool(writes) or len(self.definitions) > 1

    @property
    def hows(self) -> frozenset[How]:
        """The ways in which it is bound."""
        return frozenset(
            definition.how for definition in self.definitions if definition.how is not None
        )


_REFERRING = frozenset({"read", "annotation", "quoted", "update", "export"})


def settle(module: Scope) -> list[Scope]:
    """Link each scope to the users of its names; return all scopes, in source order."""
    scopes = list(module.walk())
    for scope in scopes:
        for name in scope.symbols:
            for owner in scope.owners(name):
                if name in owner.users:
                    owner.users[name].append(scope)
                else:
                    owner.users[name] = [scope]
    return scopes


def binds_of(owner: Scope, name: str) -> list[Occurrence]:
    """Return all places that bind the `name` of `owner`, from inside it too."""
    return [
        occurrence
        for user in owner.users.get(name, [owner])
        for occurrence in user.occurrences(name)
        if occurrence.use == "bind"
    ]
