"""Changes of other modules and classes that a module makes as it runs: ``depot.stamp = fake``."""

from __future__ import annotations

import ast
from collections.abc import Callable, Iterable, Iterator

from yellow_trellis.syntax import Node, Tree

PathOf = Callable[[Node], "str | None"]
"""Gives the path of an expression."""


def patches_in(tree: Tree, stores: Iterable[tuple[str, str | None]], path_of: PathOf) -> set[str]:
    """Return the paths of what a file assigns to, or deletes from, modules and classes.

    Arguments: `stores` are the attributes that it assigns: the name of each, and the path of what
    it is of.
    """
    owned = {f"{path}.{name}" for name, path in stores if path and "()" not in path}
    return owned | set(_by_text(tree, path_of))


def _by_text(tree: Tree, path_of: PathOf) -> Iterator[str]:
    """Yield the paths of what ``setattr`` and ``delattr`` say by a text."""
    for word in (b"setattr", b"delattr"):
        for at in tree.hits(word, whole_word=True):
            name = tree.leaf_at(at)
            call = name.parent if name is not None else None
            if call is None or call.kind != "call" or call.items[0] is not name:
                continue
            arguments = [item for item in call.items[-1].items if item.named]
            if len(arguments) < 2 or arguments[1].bare.kind != "string":
                continue
            owner, text = path_of(arguments[0]), _value(arguments[1].bare.text)
            if owner and "()" not in owner and text:
                yield f"{owner}.{text}"


def _value(text: str) -> str:
    try:
        value = ast.literal_eval(text)
    except (SyntaxError, ValueError):
        return ""
    return value if isinstance(value, str) and value.isidentifier() else ""
