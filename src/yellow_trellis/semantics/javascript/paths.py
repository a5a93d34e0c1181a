"""Paths of what names and members of a JavaScript file are, through imports and constants.

A path is what `ModuleGraph` resolves: ``fares/ticket:price``. What is assigned anew, bound twice or
reached through an object that is not known has none.
"""

from __future__ import annotations

from yellow_trellis.languages.language import kinds
from yellow_trellis.semantics.graph import ModuleGraph
from yellow_trellis.semantics.imports import Import
from yellow_trellis.semantics.javascript.module_names import module_of
from yellow_trellis.semantics.lexical.names import LexicalNames
from yellow_trellis.semantics.lexical.scope_reader import LexicalScope
from yellow_trellis.semantics.scope import Binding, Occurrence, Scope
from yellow_trellis.syntax import Node

GLOBAL = "globalThis"
"""What is bound nowhere is a name of the global object."""

MEMBERS = kinds("member_expression nested_identifier nested_type_identifier")
"""Nodes that say a member of what stands before their dot."""

_NAMES = kinds(
    "identifier shorthand_property_identifier shorthand_property_identifier_pattern "
    "type_identifier"
)
_DEEPEST = 50


class NamePaths:
    """The paths of one file, `module` in the folder `folder`; None for a file alone."""

    def __init__(
        self, names: LexicalNames, module: str, folder: str | None, graph: ModuleGraph
    ) -> None:
        self.names = names
        self.module = module
        self.folder = folder
        self._graph = graph
        self._known: dict[Binding, str | None] = {}

    def of(self, node: Node, depth: int = 0) -> str | None:
        """Return the path of what an expression or type says; None where it is not certain."""
        node = node.bare
        if depth > _DEEPEST:
            return None
        if node.kind in MEMBERS:
            holder, member = node.items[0], node.items[-1]
            path = self.of(holder, depth + 1)
            return None if path is None or member.children else f"{path}.{member.text}"
        if node.kind in _NAMES:
            return self._of_name(node, depth)
        if node.kind == "await_expression":
            return self._of_module(node.items[-1].bare, "import")
        return self._of_module(node, "require")

    def _of_name(self, node: Node, depth: int) -> str | None:
        site = self.names.sites.get(node.start)
        if site is None or is_dynamic(site[0], site[1]):
            return None
        binding = self.names.binding(node)
        if binding is not None:
            return self.of_binding(binding, depth)
        return path_of_global(node.text)

    def _of_module(self, call: Node, function: str) -> str | None:
        """Return the module that ``require("m")`` or ``import("m")`` gives."""
        if call.kind != "call_expression" or len(call.items) != 2:
            return None
        called, arguments = call.items
        items = [item for item in arguments.items if item.named]
        if called.text != function or len(items) != 1 or items[0].kind != "string":
            return None
        if function == "require" and self.names.binding(called) is not None:
            return None
        module = self.resolved(items[0].text[1:-1])
        return None if module is None else f"{module}:"

    def of_binding(self, binding: Binding, depth: int = 0) -> str | None:
        """Return the path of what a binding is."""
        if binding not in self._known:
            self._known[binding] = None  # what leads back to itself is not known
            self._known[binding] = self._of_binding(binding, depth)
        return self._known[binding]

    def _of_binding(self, binding: Binding, depth: int) -> str | None:
        if binding.reassigned or not binding.definitions:
            if not self._is_declared_anew(binding):
                return None
        definition = binding.definitions[0]
        imported = self.names.import_of(definition)
        if imported is not None:
            return self._of_import(imported)
        value = self._of_value(definition, depth)
        if value is not None:
            return value
        if binding.scope is self.names.module and "import" not in binding.hows:
            return f"{self.module}:{binding.name}"
        return None

    @staticmethod
    def _is_declared_anew(binding: Binding) -> bool:
        """Return whether several declarations are one thing: overloads, merged types."""
        writes = any(item.use in ("write", "update") for item in binding.occurrences)
        return not writes and binding.hows <= _MERGED

    def _of_import(self, imported: Import) -> str | None:
        module = self.resolved(imported.module)
        if module is None:
            return None
        return f"{module}:{imported.name or ''}"

    def resolved(self, specifier: str) -> str | None:
        """Return the name of the module that an import says; None where it is not known."""
        return module_of(specifier, self.folder, self._graph)

    def _of_value(self, definition: Occurrence, depth: int) -> str | None:
        """Return the path of what a constant is another name of, by its pattern and value."""
        if definition.how not in ("const", "let", "var"):
            return None
        outer = [definition.node, *definition.node.ancestors()]
        if any(node.kind in _DEFAULTS for node in outer[: _pattern_depth(outer)]):
            return None  # it may be the default
        return self.of_key(definition.node, depth)

    def of_key(self, name: Node, depth: int = 0) -> str | None:
        """Return the path of what a declaration takes for `name`, a name in its pattern.

        That is so whether a default stands beside it or not.
        """
        steps: list[str] = []
        outer = [name, *name.ancestors()]
        count = _pattern_depth(outer)
        if count == len(outer):
            return None
        for node in outer[:count]:
            if node.kind == "pair_pattern" and not node.items[0].children:
                steps.append(node.items[0].text)
            elif node.kind == "shorthand_property_identifier_pattern":
                steps.append(node.text)
            elif node.kind not in _THROUGH:
                return None
        value = outer[count].child("value")
        path = self.of(value, depth + 1) if value is not None else None
        return None if path is None else ".".join([path, *reversed(steps)])


def _pattern_depth(outer: list[Node]) -> int:
    """Return how many nodes, from a name outwards, stand in the declaration around it."""
    for count, node in enumerate(outer):
        if node.kind == "variable_declarator":
            return count
        if node.kind in node.tree.language.bodies:
            break
    return len(outer)


_DEFAULTS = kinds("assignment_pattern object_assignment_pattern")
_THROUGH = _DEFAULTS | kinds("identifier object_pattern")
_MERGED = frozenset({"class", "enum", "function", "namespace", "type"})


def path_of_global(name: str) -> str:
    """Return the path of a name that no code binds."""
    return name if name == GLOBAL else f"{GLOBAL}.{name}"


def is_dynamic(scope: Scope, name: str) -> bool:
    """Return whether code at a scope may mean something else by a name than its binding."""
    owner = scope.owner(name)
    for above in (scope, *scope.around()):
        if above is owner:
            return False
        if isinstance(above, LexicalScope) and above.dynamic:
            return True
    return False
