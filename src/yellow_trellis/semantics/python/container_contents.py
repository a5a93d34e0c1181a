"""The contents of containers: of ``list[Tram]``, ``sorted(trams)``, ``yard.by_line.values()``.

A container that the code of the file declares, or makes of another one, is read here; what
attributes and functions of other files hold is a step of the path, which the graph takes.
"""

from __future__ import annotations

import ast
from typing import Protocol, Union

from yellow_trellis.semantics.module_interface import ITEM, MORE, OF
from yellow_trellis.semantics.python.name_resolution import PythonNames
from yellow_trellis.syntax import Node

Contents = tuple[Union[str, None], Union[str, None]]
"""The paths of what going through a container gives, and of what it has at a place."""

NOTHING = "<nothing>"
"""The path of ``None``: it says nothing about what a name is otherwise."""
_DEEPEST = 50


class Inference(Protocol):
    """As much of the paths of a file as is asked for here."""

    names: PythonNames
    module: str

    def of(self, node: Node) -> str | None:
        """Return the path of an expression."""
        ...

    def annotation(self, node: Node) -> str | None:
        """Return the path of what an annotation says a value is."""
        ...

    def of_expression(self, tree: ast.expr, node: Node) -> str | None:
        """Return the path of what an annotation in the quotes of `node` says a value is."""
        ...


class Containers:
    """The contents of the containers of one file."""

    def __init__(self, paths: Inference) -> None:
        self._paths = paths
        self._depth = 0

    def given(self, call: Node, function: Node, path: str | None) -> str | None:
        """Return what a call gives out of a container: ``max(trams)``, ``trams.pop()``.

        What it gives where the container has nothing has to agree with that.
        """
        items = [item for item in call.items[-1].items if item.named]
        arguments = [item for item in items if item.kind != "keyword_argument"]
        named = {item.items[0].text: item.items[-1] for item in items if item not in arguments}
        defaults = {self._paths.of(named["default"])} if "default" in named else set()
        if function.kind == "identifier" and self._is_built_in(function):
            if function.text in ("max", "min") and len(arguments) > 1:
                return agreed({self._paths.of(item) for item in arguments})
            if function.text in ("max", "min", "next") and arguments:
                defaults |= {self._paths.of(item) for item in arguments[1:]}
                contents = self.contents(arguments[0])
                return agreed({contents[0] if contents is not None else None, *defaults})
            return None
        if function.kind != "attribute" or function.items[-1].text not in _GIVING:
            return None
        known = self.known(function.items[0].bare)
        if known is not None:
            return agreed({known[1], *(self._paths.of(item) for item in arguments[1:])})
        has_default = any(self._paths.of(item) != NOTHING for item in arguments[1:])
        return f"{path}.{MORE}()" if path not in (None, NOTHING) and has_default else None

    def contents(self, node: Node) -> Contents | None:
        """Return the paths of what a container holds."""
        node = node.bare
        if (known := self.known(node)) is not None:
            return known
        path = self._paths.of(node)
        if path in (None, NOTHING):
            return None
        return f"{path}.{ITEM}", f"{path}.{OF}"

    def known(self, node: Node) -> Contents | None:
        """Return what a container holds, as far as the code of the file itself says it."""
        if self._depth > _DEEPEST:
            return None
        self._depth += 1
        try:
            return self._read_contents(node.bare)
        finally:
            self._depth -= 1

    def _read_contents(self, node: Node) -> Contents | None:
        if node.kind in ("list", "tuple", "set"):
            one = agreed({self._paths.of(item) for item in node.items if item.named})
            return one, one
        if node.kind in ("list_comprehension", "set_comprehension", "generator_expression"):
            body = node.child("body")
            one = self._paths.of(body) if body is not None else None
            return one, one
        if node.kind == "subscript" and any(child.kind == "slice" for child in node.children):
            return self.contents(node.items[0])
        if node.kind == "identifier":
            return self._declared_contents(node)
        if node.kind != "call" or (function := node.child("function")) is None:
            return None
        arguments = [i for i in node.items[-1].items if i.named and i.kind != "keyword_argument"]
        if function.kind == "attribute" and function.items[-1].text in ("copy", "keys", "values"):
            known = self.known(function.items[0])
            if known is None:
                return None
            one = known[function.items[-1].text == "values"]
            return known if function.items[-1].text == "copy" else (one, one)
        if function.kind != "identifier" or not self._is_built_in(function):
            return None
        if function.text in _PASSING and arguments:
            return self.contents(arguments[0])
        return self.contents(arguments[1]) if _filters(function.text, arguments) else None

    def _is_built_in(self, name: Node) -> bool:
        names = (f"builtins.{name.text}", f"{self._paths.module}:*.{name.text}")
        return self._paths.of(name) in names

    def _declared_contents(self, name: Node) -> Contents | None:
        """Return what a variable holds that is bound once, by its annotation.

        What a list is made of says nothing: more may be put into it.
        """
        binding = self._paths.names.binding(name)
        if binding is None or len(binding.definitions) != 1:
            return None
        definition = binding.definitions[0]
        above = definition.node.parent
        kind = above.child("type") if above is not None and above.kind in TYPED else None
        return self.contained(kind) if kind is not None else None

    def contained(self, annotation: Node) -> Contents | None:
        """Return what the container that an annotation declares holds; None for no container."""
        core = annotation.core
        if core.kind == "string":
            return self._quoted_contents(core)
        if core.kind in ("binary_operator", "union_type"):
            sides = [item for item in core.items if item.named and item.core.kind != "none"]
            return self.contained(sides[0]) if len(sides) == 1 else None
        if core.kind not in ("generic_type", "subscript"):
            return None
        inner = [item for part in core.items[1:] for item in type_arguments(part)]
        head = core.items[0].text
        if head.rpartition(".")[2] in ("Optional", "Final", "ClassVar", "Annotated") and inner:
            return self.contained(inner[0])
        is_row = head.rpartition(".")[2] in ("tuple", "Tuple")
        if is_row and len(inner) == 2 and inner[1].core.kind == "ellipsis":
            one = self._paths.annotation(inner[0])
            return one, one
        places = _item_at(head, False), _item_at(head, True)
        paths = [
            self._paths.annotation(inner[at]) if at is not None and len(inner) > at else None
            for at in places
        ]
        return None if places[0] is None else (paths[0], paths[1])

    def part_of_item(self, target: Node, iterated: Node) -> str | None:
        """Return what one of several names is: ``for number, tram in enumerate(trams)``."""
        pattern = target.parent
        names = [item for item in pattern.items if item.named] if pattern is not None else []
        at = next((n for n, item in enumerate(names) if item is target), None)
        call = iterated.bare
        function = call.child("function") if call.kind == "call" else None
        if at is None or function is None or any(n.kind == "list_splat_pattern" for n in names):
            return None
        arguments = [i for i in call.items[-1].items if i.named and i.kind != "keyword_argument"]
        contents: Contents | None = None
        if function.kind == "identifier" and self._is_built_in(function):
            if function.text == "enumerate" and at == 1 and arguments:
                contents = self.contents(arguments[0])
            elif function.text == "zip" and at < len(arguments):
                contents = self.contents(arguments[at])
            return contents[0] if contents is not None else None
        if function.kind == "attribute" and function.items[-1].text == "items" and at < 2:
            contents = self.contents(function.items[0])
            return contents[at] if contents is not None else None
        return None

    def _quoted_contents(self, node: Node) -> Contents | None:
        tree = expression_in(node.text)
        if not isinstance(tree, ast.Subscript):
            return None
        inner = tree.slice.elts if isinstance(tree.slice, ast.Tuple) else [tree.slice]
        places = [_item_at(ast.unparse(tree.value), is_asked) for is_asked in (False, True)]
        paths = [
            self._paths.of_expression(inner[at], node)
            if at is not None and len(inner) > at
            else None
            for at in places
        ]
        return None if places[0] is None else (paths[0], paths[1])

_PASSING = frozenset({"frozenset", "iter", "list", "reversed", "set", "sorted", "tuple"})
"""Built-in functions that give another container of the same things."""
_GIVING = frozenset({"get", "pop", "popleft", "setdefault"})
"""Methods of a container that give one of the things in it."""


def _filters(name: str, arguments: list[Node]) -> bool:
    return name == "filter" and len(arguments) == 2


_MAPPINGS = frozenset({"Dict", "Mapping", "MutableMapping", "OrderedDict", "defaultdict", "dict"})


def _item_at(head: str, is_asked: bool) -> int | None:
    """Return which type in brackets is that of the items of a container; None if none is."""
    name = head.rpartition(".")[2]
    if name in _MAPPINGS:
        return 1 if is_asked else 0
    return 0 if name in _ITERABLES else None


_ITERABLES = frozenset(
    {
        *("AsyncGenerator", "AsyncIterator", "Generator"),
        *("Collection", "Iterable", "Iterator", "List", "Sequence", "Set", "frozenset", "list"),
        *("set", "FrozenSet", "MutableSequence", "AbstractSet", "deque"),
    }
)
TYPED = frozenset({"typed_parameter", "typed_default_parameter", "assignment"})
"""Kinds of what an annotation stands in."""


def agreed(paths: set[str | None]) -> str | None:
    """Return the one path among `paths`, if there is only one besides that of ``None``."""
    sure = paths - {NOTHING}
    if len(sure) == 1:
        return next(iter(sure))
    return NOTHING if paths == {NOTHING} else None


def expression_in(text: str) -> ast.expr | None:
    """Return the expression in a string with quotes; None if there is none."""
    try:
        value = ast.literal_eval(text)
        return ast.parse(value, mode="eval").body if isinstance(value, str) else None
    except (SyntaxError, ValueError):
        return None


def type_arguments(node: Node) -> tuple[Node, ...]:
    """Return the types that a part of a type in brackets gives."""
    if node.kind in ("type_parameter", "tuple"):
        return tuple(item for item in node.items if item.named)
    return (node,) if node.named else ()
