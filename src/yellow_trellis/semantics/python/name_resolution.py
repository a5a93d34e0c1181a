"""The scopes of one file, and which binding each name in it belongs to."""

from __future__ import annotations

from functools import cached_property

from yellow_trellis.semantics.names import Names
from yellow_trellis.semantics.python.scopes import read_scopes
from yellow_trellis.semantics.scope import Binding, Scope
from yellow_trellis.source import Span
from yellow_trellis.syntax import Node, Tree


class PythonNames(Names):
    """The scopes and bindings of one file, worked out when first asked for and then kept."""

    def __init__(self, tree: Tree) -> None:
        super().__init__(tree, read_scopes)

    def binds(self, scope: Scope, name: str) -> bool:
        """Return whether `name` is bound in `scope`, the module's also by a function inside."""
        return scope.binds(name) or (scope is self.module and self.set_from_inside(name))

    def set_from_inside(self, name: str) -> bool:
        """Return whether a function declares the module's `name` and binds it."""
        users = self.module.users.get(name, ())
        symbols = (scope.symbols[name] for scope in users if scope is not self.module)
        return any(symbol.declared == "global" and symbol.bound for symbol in symbols)

    def binding(self, node: Node) -> Binding | None:
        """Return what the name `node` refers to, or binds; None for what no code here binds.

        An attribute, a keyword of a call and other names that live in no scope have none.
        """
        site = self.sites.get(node.start)
        if site is None or not node.text.isidentifier():
            return None
        scope, name = site
        if scope.kind == "class" and scope.parent is not None and _is_read_first(scope, name, node):
            return self.visible(name, scope.parent)
        return self.visible(name, scope)

    def scope_at(self, node: Node) -> Scope:
        """Return the scope in which the code `node` runs; of a definition, the one around it."""
        if (site := self.sites.get(node.start)) is not None and node.text.isidentifier():
            return site[0]
        inner = node
        for above in node.ancestors():
            scope = self._by_span.get((above.start, above.end, above.kind))
            if scope is not None:
                if _runs_inside(inner, above):
                    return scope
                if scope.parent is not None and scope.parent.kind == "types":
                    return scope.parent
            inner = above
        return self.module

    @cached_property
    def _by_span(self) -> dict[tuple[int, int, str], Scope]:
        table: dict[tuple[int, int, str], Scope] = {}
        for scope in self.scopes:
            for kind in _KINDS.get(scope.kind, ()):
                table[scope.start, scope.end, kind] = scope
        return table

    @cached_property
    def stores(self) -> tuple[Node, ...]:
        """The attributes that the file assigns to, ``self.line``, by scope."""
        nodes: list[Node] = []
        for scope in self.scopes:
            for span in scope.stores:
                node = self.tree.leaf_at(*span)
                while node is not None and node.kind != "attribute":
                    node = node.parent
                if node is not None:
                    nodes.append(node)
        return tuple(nodes)

    def node_of(self, scope: Scope) -> Node:
        """Return the node that makes `scope`."""
        node = self.tree.leaf_at(scope.start, scope.end)
        kinds = _KINDS.get(scope.kind, ())
        while node is not None and kinds and node.kind not in kinds:
            node = node.parent
        return node if node is not None else self.tree.root

    @cached_property
    def exported(self) -> tuple[tuple[str, Span], ...] | None:
        """The names in ``__all__`` with the spans of their texts; see `texts_of`."""
        return self.texts_of(self.module, "__all__")

    def texts_of(self, scope: Scope, name: str) -> tuple[tuple[str, Span], ...] | None:
        """Return the texts that `name` of `scope` lists, with the spans of what is in the quotes.

        None where it is not bound, or more is done to it than to list plain texts.
        """
        results: list[tuple[str, Span]] = []
        sites = sorted(scope.occurrences(name), key=lambda item: item.span)
        for site in sites:
            node = site.node.parent
            if site.use == "bind" and node is not None:
                value = node.child("right")
            elif node is not None and node.kind == "attribute" and node.parent is not None:
                value = node.parent.child("arguments")
            else:
                value = None
            names = _texts(value) if value is not None else None
            if names is None:
                return None
            results += names
        return tuple(results) if sites else None


def _is_read_first(scope: Scope, name: str, node: Node) -> bool:
    """Return whether a class body reads a name before it binds it: then it is that from around."""
    symbol = scope.symbols[name]
    if node.start not in symbol.reads or not symbol.binds:
        return False
    return node.start < min(start for start, _ in symbol.binds)


_KINDS = {
    "function": ("function_definition",),
    "class": ("class_definition",),
    "lambda": ("lambda",),
    "comprehension": (
        *("list_comprehension", "set_comprehension", "dictionary_comprehension"),
        "generator_expression",
    ),
}


def _runs_inside(inner: Node, maker: Node) -> bool:
    """Return whether the child `inner` of the node that makes a scope runs in that scope."""
    if maker.kind in ("function_definition", "class_definition", "lambda"):
        return inner.field == "body"
    if inner.kind == "for_in_clause":
        first = next(child for child in maker.children if child.kind == "for_in_clause")
        return inner is not first
    return True


_LISTS = frozenset({"argument_list", "dictionary", "list", "set", "tuple"})


def _texts(node: Node) -> list[tuple[str, Span]] | None:
    """Return the texts in a list of plain strings, with the spans of what is in the quotes.

    The keys of a mapping count, and one string counts as a list of it.
    """
    results: list[tuple[str, Span]] = []
    node = node.bare
    items = node.items if node.kind in _LISTS else (node,)
    for item in (item.items[0] if item.kind == "pair" else item for item in items):
        if item.kind in ("list", "tuple"):
            inner = _texts(item)
            if inner is None:
                return None
            results += inner
        elif item.kind == "string":
            body = [child for child in item.children if child.kind == "string_content"]
            if len(body) != 1:
                return None
            results.append((body[0].text, body[0].span))
        elif item.named:
            return None
    return results
