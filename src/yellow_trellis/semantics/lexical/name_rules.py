"""The rules by which a language names what other files define."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping
from typing import Literal

from msgspec import Struct, field

from yellow_trellis.semantics.lexical.scope_rules import ScopeRules
from yellow_trellis.semantics.renaming import Renaming
from yellow_trellis.semantics.scope import Binding, Occurrence
from yellow_trellis.syntax import Node, Tree


def _no_names(tree: Tree) -> str:
    return ""


def _no_fault(binding: Binding, new: str) -> str:
    return ""


def write_plain(item: Occurrence, new: str, done: Renaming) -> None:
    """Write a new name over an old one."""
    done.put(item.span, new)


class ImportStyle(Struct, frozen=True):
    """The form of the statements that import."""

    kinds: frozenset[str]
    """Kinds of the statements."""
    write: Callable[[str, str | None, Tree], str]
    """Writes the statement that imports a dotted name, under another name if one is given."""
    items: frozenset[str] = frozenset()
    """Kinds of what stands in a list of several imports in one statement."""
    behind: frozenset[str] = frozenset()
    """Kinds of statements that the first import stands behind, such as that of the package."""
    removable: Callable[[Node], bool] = lambda statement: True
    """Tells whether a statement brings one name only, so that it may go with that."""


class NameRules(Struct, frozen=True):
    """The rules of one language."""

    language: str
    scopes: ScopeRules
    name: re.Pattern[str]
    """What a name looks like."""
    reserved: frozenset[str]
    """Words that are no names."""
    leaves: frozenset[str] = frozenset()
    """Kinds of names that may refer to what another file defines."""
    chains: frozenset[str] = frozenset()
    """Kinds of names with several parts."""
    joint: str = "."
    """What stands between the parts."""
    rooted: str = ""
    """What stands before a name that is whole: a backslash in PHP."""
    is_whole: bool = True
    """Whether code may say a whole name with neither import nor mark."""
    namespace: Callable[[Tree], str] = _no_names
    """Gives the dotted name of the package or namespace that a file is in."""
    own_first: bool = True
    """Whether a name that nothing imports is one of the file's own namespace."""
    known: Mapping[str, str] = field(default_factory=dict)
    """By name: the dotted names of what needs no import."""
    is_hidden_by_all: bool = True
    """Whether a namespace that is imported whole hides what needs no import."""
    always: frozenset[str] = frozenset()
    """Namespaces of which all names are known without an import."""
    imports: ImportStyle | None = None
    """None where imports name no single thing."""
    brings: Literal["name", "package", "all"] = "name"
    """What an import brings: the thing itself, the package that has it, or all of its namespace."""
    member: re.Pattern[str] | None = None
    """What the whole name of a member of a type looks like: it is said by its type, as imports
    bring types only. None where an import can bring it."""
    declared: re.Pattern[bytes] | None = None
    """Finds the types that a file declares, by their names as first group."""
    is_file_local: bool = False
    """Whether variables outside of all functions are seen in their file only."""
    fault: Callable[[Binding, str], str] = _no_fault
    """Says why a local name cannot be another, for reasons that only this language has."""
    write: Callable[[Occurrence, str, Renaming], None] = write_plain
    """Adds the edit for one place of a name that gets another."""
