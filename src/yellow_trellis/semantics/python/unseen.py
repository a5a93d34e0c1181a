"""Uses of a name that no reference shows: by its text, as a type in quotes, as a parameter's name.

They are told by where the word stands, and more rather than less: an import is only without a use
where none of them can be.
"""

from __future__ import annotations

import ast
import re
from collections.abc import Iterator

from yellow_trellis.semantics.python.definitions import decorators
from yellow_trellis.semantics.python.name_resolution import PythonNames
from yellow_trellis.semantics.scope import Scope
from yellow_trellis.syntax import Node

_BY_TEXT = ("globals", "locals", "vars", "eval", "exec", "dir")
"""Functions that reach names by their text."""

TAKE_TYPES = frozenset({"ForwardRef", "NamedTuple", "NewType", "TypeVar", "TypedDict", "cast"})
"""Functions of which a string says a type."""

_ASKING = frozenset({"attrgetter", "getattr", "getfixturevalue", "hasattr", "usefixtures"})
"""Functions that a string tells what to ask for."""

_ESCAPE = re.compile(rb"\\[xuUN0-7]")


def unseen_use(names: PythonNames, scope: Scope, name: str) -> bool:
    """Return whether `name`, as `scope` binds it, may be used where no reference shows it."""
    tree = names.tree
    for at in tree.hits(name.encode("utf-8"), whole_word=True):
        leaf = tree.leaf_at(at)
        around = (leaf, *leaf.ancestors()) if leaf is not None else ()
        text = next((node for node in around if tree.language.is_literal(node.kind)), None)
        if text is not None and (_names(text, name) or _says_type(text)):
            return True
        if leaf is not None and leaf.is_comment and b"type:" in leaf.data:
            return True
        if any(node.kind == "delete_statement" for node in around):
            return True
    if any(scope.kind == "class" and _reads_own(scope, name) for scope in names.scopes):
        return True
    if _is_parameter(names, name) or name in _escaped_types(names):
        return True
    return scope.parent is None and _is_open(names)


def _names(text: Node, name: str) -> bool:
    """Return whether a string shows code with the name, or asks for what has the name."""
    inside = text.text.strip("rRbBuUfF").strip("'\"")
    if ">>>" in inside:
        return True
    arguments = text.parent
    call = arguments.parent if arguments is not None else None
    if (inside != name and not inside.startswith(name + ".")) or call is None:
        return False
    query = call.items[0].text.rpartition(".")[2] if call.kind == "call" else ""
    return query in _ASKING or "patch" in call.items[0].text


def _says_type(text: Node) -> bool:
    """Return whether a string stands where a type is read: in a subscript, in a call for types."""
    for above in text.ancestors():
        if above.kind in ("subscript", "generic_type", "type"):
            return True
        if above.kind == "call":
            return above.items[0].text.rpartition(".")[2] in TAKE_TYPES
        if above.kind in ("assignment", "block", "module"):
            kind = above.child("type")
            return kind is not None and kind.text.endswith("TypeAlias")
    return False


def _reads_own(scope: Scope, name: str) -> bool:
    """Return whether a class body reads a name that it binds as well, maybe later."""
    symbol = scope.symbols.get(name)
    return symbol is not None and bool(symbol.binds) and bool(symbol.reads)


def _is_parameter(names: PythonNames, name: str) -> bool:
    """Return whether a test or a fixture asks for the name by a parameter."""
    return any(
        how == "argument" and _is_of_tests(names, scope)
        for scope in names.scopes
        if scope.kind == "function" and (symbol := scope.symbols.get(name)) is not None
        for _, how in symbol.binds
    )


def _is_of_tests(names: PythonNames, scope: Scope) -> bool:
    if scope.name.startswith("test"):
        return True
    return any("fixture" in mark for mark in decorators(names.node_of(scope)))


def _escaped_types(names: PythonNames) -> frozenset[str]:
    """Return the words in texts that say a type, and say it with escapes."""
    tree = names.tree
    if _ESCAPE.search(tree.source.data) is None:
        return frozenset()
    results: set[str] = set()
    for text in tree.of_kinds(frozenset({"string"})):
        if _ESCAPE.search(text.data) is not None and _says_type(text):
            results.update(_words_of(text))
    return frozenset(results)


def _words_of(text: Node) -> Iterator[str]:
    try:
        value = ast.literal_eval(text.text)
    except (SyntaxError, ValueError):
        return
    if isinstance(value, str):
        yield from re.findall(r"\w+", value)


def _is_open(names: PythonNames) -> bool:
    """Return whether code of the file reaches names of its module by text."""
    data = names.tree.source.data
    if b"sys.modules" in data or b"import_module" in data or b"__import__" in data:
        return True
    module = names.module
    return any(
        word.encode() in data
        and any(user.owner(word).parent is None for user in module.users.get(word, ()))
        and not names.binds(module, word)
        for word in _BY_TEXT
    )
