"""Hooks that several languages have in common: what tables over fields cannot say."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from yellow_trellis.semantics.lexical.scope_reader import ScopeReader, tasks_of
from yellow_trellis.semantics.lexical.scope_rules import Action

if TYPE_CHECKING:
    import tree_sitter

Hook = Callable[[ScopeReader, "tree_sitter.Node"], None]


def first(action: Action, rest: Action = "read") -> Hook:
    """Return a hook that does `action` with the first named child, and `rest` with the others."""

    def hook(reader: ScopeReader, raw: tree_sitter.Node) -> None:
        children = raw.named_children
        reader.do(*tasks_of(children[:1], action), *tasks_of(children[1:], rest))

    return hook


def last(action: Action, rest: Action = "read") -> Hook:
    """Return a hook that does `action` with the last named child, after `rest` with the others."""

    def hook(reader: ScopeReader, raw: tree_sitter.Node) -> None:
        children = raw.named_children
        reader.do(*tasks_of(children[:-1], rest), *tasks_of(children[-1:], action))

    return hook


def assignment(reader: ScopeReader, raw: tree_sitter.Node) -> None:
    """Read an assignment: with an operator before its sign, it reads what it writes."""
    left = raw.child_by_field_name("left")
    rest = [child for child in raw.named_children if child != left]
    sign = next((child.type for child in raw.children if not child.is_named), "=")
    reader.do(*tasks_of([left], "write" if sign in ("=", ":=") else "update"), *tasks_of(rest))
