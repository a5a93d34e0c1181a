"""The rules by which the names of a language are read: which nodes bind, refer and open scopes.

A language declares them as tables over the kinds and fields of its grammar. What a table cannot
say, a hook does: a function that reads a node of one kind.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping
from typing import TYPE_CHECKING, Literal

from msgspec import Struct, field

from yellow_trellis.semantics.scope import How, ScopeKind, Use

if TYPE_CHECKING:
    import tree_sitter

    from yellow_trellis.semantics.lexical.scope_reader import ScopeReader

Where = Literal["here", "function", "rest"]
"""The scope of a new name: the innermost, that of the function around, or what is left of the
innermost from the end of the declaration on."""


class Bind(Struct, frozen=True):
    """The names in a node, a pattern of any depth, are bound."""

    how: How
    where: Where = "here"


Action = Bind | Literal["read", "annotation", "skip", "write", "update", "same"]
"""What is done with a child: its names are bound, read, read as types, of no scope, assigned to, or
read and assigned to; ``same``, in a pattern: what is done with all of that."""


class NodeRule(Struct, frozen=True):
    """The rule by which the names in a node of one kind are read."""

    scope: ScopeKind | None = None
    """The scope that the node opens."""
    outside: Mapping[str, Action] = field(default_factory=dict)
    """By field: children that are read before the scope opens."""
    fields: Mapping[str, Action] = field(default_factory=dict)
    """By field: what is done with a child; the others are read."""
    others: Action = "read"
    """What is done with the named children in no field."""
    named: str = ""
    """The field that names the scope."""


class ScopeRules(Struct, frozen=True):
    """The rules of one language."""

    names: Mapping[str, Use]
    """By kind of a leaf: how code that says such a name uses it."""
    nodes: Mapping[str, NodeRule]
    """By kind; children of other kinds are all read."""
    patterns: Mapping[str, NodeRule] = field(default_factory=dict)
    """By kind of a pattern: what is done with its children, where its names are not just bound."""
    constants: re.Pattern[str] | None = None
    """The names that a pattern does not bind but reads, by how they start."""
    hooks: Mapping[str, Callable[[ScopeReader, tree_sitter.Node], None]] = field(
        default_factory=dict
    )
    """By kind: what reads a node instead of its rule."""
    hoists: frozenset[ScopeKind] = frozenset({"function", "module"})
    """The kinds of scopes to which the names of a whole function belong."""
    types: frozenset[How] = frozenset()
    """What binds a name only where a type is meant."""
    values: frozenset[How] = frozenset()
    """What binds a name only where a value is meant."""
    closed: frozenset[ScopeKind] = frozenset()
    """The kinds of scopes that see no variable of those around them."""
    sealed: frozenset[ScopeKind] = frozenset()
    """The kinds of scopes that see no name at all of those around them."""
    sigil: str = ""
    """What stands before the names of variables, if anything does."""
    folds: bool = False
    """Whether names in other letter case are the same."""
