"""Import statements of Python as they are written, name by name."""

from __future__ import annotations

from collections.abc import Iterator
from typing import TYPE_CHECKING, NamedTuple

from yellow_trellis.source import Span

if TYPE_CHECKING:
    import tree_sitter

    from yellow_trellis.syntax import Node


class Import(NamedTuple):
    """One name that an import statement binds, as it is written."""

    statement: Span
    item: Span
    """What of the statement is about this name: ``b as c`` in ``from a import b as c``."""
    bound_at: int
    """First byte of the name as it is bound; of the star for a star import."""
    level: int
    """How many dots stand before the module: 0 for an absolute import."""
    module: str
    """The module as written, without dots before it."""
    name: str | None = None
    """What is taken from the module; ``*`` for all; None in ``import module``."""
    alias: str | None = None

    @property
    def bound(self) -> str:
        """The name that is bound."""
        return self.alias or self.name or self.module.partition(".")[0]

    def source(self, package: str | None) -> str | None:
        """Return the full dotted name of the module meant; None if `package` is too shallow.

        Arguments: `package` is that of the file, None if it is not known.
        """
        if not self.level:
            return self.module
        if package is None:
            return None
        parts = package.split(".") if package else []
        if self.level > len(parts):
            return None
        parts = parts[: len(parts) - self.level + 1]
        return ".".join([*parts, *filter(None, [self.module])])

    def target(self, package: str | None) -> str | None:
        """Return the path of what is bound, the star aside; see `ModuleGraph`."""
        if self.name is None:
            return self.module if self.alias else self.bound
        source = self.source(package)
        return None if source is None else f"{source}:{self.name}"


def relative_module(module: str, package: str) -> str:
    """Return how a file of `package` writes `module`, of the same top package, with dots."""
    here, there = package.split("."), module.split(".")
    same = 0
    while same < min(len(here), len(there)) and here[same] == there[same]:
        same += 1
    return "." * (len(here) - same + 1) + ".".join(there[same:])


def read_import(raw: tree_sitter.Node, data: bytes) -> Iterator[Import]:
    """Yield what the import statement `raw`, of any form, binds."""
    source = raw.child_by_field_name("module_name")
    level, module = 0, ""
    if source is not None:
        text = _text(source, data)
        module = text.lstrip(". \t\\\r\n")
        level = text[: len(text) - len(module)].count(".")
        module = _undotted(module)
    elif raw.type == "future_import_statement":
        module = "__future__"
    whole = Span(raw.start_byte, raw.end_byte)
    plain = raw.type == "import_statement"
    for item in raw.named_children:
        if item == source or item.has_error:
            continue  # an import that says no name binds none
        alias = None
        bound = item
        if item.type == "aliased_import":
            names, bound = item.named_children[0], item.named_children[-1]
            name, alias = _undotted(_text(names, data)), _text(bound, data)
        elif item.type == "dotted_name":
            bound = item.named_children[0]
            name = _undotted(_text(item, data))
        elif item.type == "wildcard_import":
            name = "*"
        else:
            continue
        span = Span(item.start_byte, item.end_byte)
        start = bound.start_byte
        if plain:
            yield Import(whole, span, start, 0, name, None, alias)
        else:
            yield Import(whole, span, start, level, module, name, alias)


def _text(raw: tree_sitter.Node, data: bytes) -> str:
    return data[raw.start_byte : raw.end_byte].decode("utf-8", "surrogateescape")


def _undotted(text: str) -> str:
    """Return a dotted name without the space that may stand around its dots."""
    return text if text.isidentifier() else "".join(text.replace("\\", "").split())


_TYPES_ONLY = frozenset({"TYPE_CHECKING", "typing.TYPE_CHECKING", "t.TYPE_CHECKING"})


def types_only(statement: Node) -> bool:
    """Return whether a statement stands in a block that only type checkers read."""
    node = statement
    for above in statement.ancestors():
        if above.kind == "if_statement" and node.field == "consequence":
            condition = above.child("condition")
            if condition is not None and condition.text in _TYPES_ONLY:
                return True
        node = above
    return False
