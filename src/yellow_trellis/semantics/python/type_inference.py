"""From code to a path: what an expression is, in terms of imports and definitions.

A path is a dotted name with ``()`` for a call; see `ModuleGraph`. It is made from one file alone.
What is not certain from the code has none.
"""

from __future__ import annotations

import ast
import builtins
from collections.abc import Iterator

from yellow_trellis.semantics.module_interface import AWAITED, OF
from yellow_trellis.semantics.python.container_contents import (
    NOTHING,
    TYPED,
    Containers,
    agreed,
    expression_in,
    type_arguments,
)
from yellow_trellis.semantics.python.definitions import (
    is_async,
    is_of_group,
    is_property,
    marks_of,
)
from yellow_trellis.semantics.python.flow import last_binding
from yellow_trellis.semantics.python.name_resolution import PythonNames
from yellow_trellis.semantics.python.narrowing import narrowed
from yellow_trellis.semantics.scope import Binding, Occurrence, Scope, binds_of
from yellow_trellis.syntax import Node

_BUILTINS = frozenset(dir(builtins))
_DEEPEST = 50
_LOOPS = ("for_statement", "for_in_clause")
_COPIES = frozenset({"copy.copy", "copy.deepcopy", "copy.replace", "dataclasses.replace"})
"""Functions that give another of what they are given."""
_NEWS = ("builtins.object.__new__", "().<super>.__new__")
"""Methods that make an instance of the class that they are given, unless a base makes another."""


class TypeInference:
    """The paths of one file, each worked out once.

    Arguments: `module` is the dotted name of the file, `package` that of the folder that relative
    imports start from, None where it is not known.
    """

    def __init__(self, names: PythonNames, module: str, package: str | None) -> None:
        self.names = names
        self.module = module
        self.package = package
        self._of_names: dict[tuple[int, str], str | None] = {}
        self._depth = 0
        self.containers = Containers(self)

    def of(self, node: Node) -> str | None:
        """Return the path of the expression `node`."""
        node = node.bare
        if self._depth > _DEEPEST:
            return None
        self._depth += 1
        try:
            return self._of(node)
        finally:
            self._depth -= 1

    def _of(self, node: Node) -> str | None:
        kind = node.kind
        if kind == "identifier":
            scope = self.names.scope_at(node)
            binding = self.names.binding(node)
            if binding is not None:
                path = self.of_name(binding.scope, binding.name)
                if path is None:
                    path = self._last(binding, node)
                return self._narrowed(node, path)
            return self.of_name(scope.module, node.text)
        if kind in ("attribute", "member_type"):
            inner = self.of(node.items[0])
            if inner in (None, NOTHING):
                return None
            if node.items[-1].text == "__class__":
                return self._class_of(node.items[0])
            return f"{inner}.{node.items[-1].text}"
        if kind == "call":
            function = node.child("function")
            if function is None:
                return None
            inner = self.of(function)
            starred = f"{self.module}:*."
            if inner in (starred + "super", starred + "type"):
                path = self._of_built_in(node, inner.replace(starred, "builtins."))
                return None if path is None else f"{inner}|{path}"
            if inner in ("builtins.super", "builtins.type"):
                return self._of_built_in(node, inner)
            first = next((item for item in node.items[-1].items if item.named), None)
            if inner is not None and inner.replace(":", ".") in _COPIES:
                return self.of(first) if first is not None else None
            if (given := self.containers.given(node, function, inner)) is not None:
                return given
            if (inner or "").endswith(_NEWS) and first is not None:
                result = self.of(first)
                entry = result not in (None, NOTHING) and not (result or "").endswith("()")
                return f"{result}()" if entry else None
            return None if inner in (None, NOTHING) else f"{inner}()"
        if kind == "named_expression":
            value = node.child("value")
            return self.of(value) if value is not None else None
        if kind == "conditional_expression":
            return agreed({self.of(node.items[0]), self.of(node.items[-1])})
        if kind == "boolean_operator" and node.items[1].kind == "or":
            return agreed({self.of(node.items[0]), self.of(node.items[-1])})
        if kind == "await":
            inner = self.of(node.items[-1])
            return None if inner in (None, NOTHING) else f"{inner}.{AWAITED}"
        if kind in ("subscript", "generic_type"):
            return self._of_brackets(node)
        if kind == "dotted_name":  # in a pattern of `case`
            path = self.of(node.items[0])
            names = (item.text for item in node.items[1:] if item.kind == "identifier")
            return None if path in (None, NOTHING) else ".".join([path or "", *names])
        if kind == "none":
            return NOTHING
        if kind == "binary_operator" and node.items[1].kind in ("+", "%"):
            left = self.of(node.items[0])
            return left if left in ("builtins.str()", "builtins.bytes()") else None
        return _literal(node)

    def _last(self, binding: Binding, node: Node) -> str | None:
        """Return what a name is at a place, by what has bound it last before."""
        if len(binding.definitions) < 2:
            return None
        item = last_binding(binding, node)
        if item is None:
            return None
        return self._annotated(item) or self.bound_to(item)

    def _narrowed(self, node: Node, path: str | None) -> str | None:
        """Return what a name with a path is where `node` stands, checks around counted."""
        if path is not None and not path.endswith("()"):
            return path
        if path is None and b"isinstance" not in node.tree.source.data:
            return None
        result = narrowed(node, path is not None)
        if result == "declared":
            return path
        kind = self.of(result) if isinstance(result, Node) else None
        return None if kind in (None, NOTHING) else f"{kind}()"

    def _of_brackets(self, node: Node) -> str | None:
        """Return the path of ``Box[int]``, or of an item of what is declared as ``list[Tram]``."""
        holder = node.items[0].bare
        if any(child.kind == "slice" for child in node.children):
            path = self.of(holder)
            return path if path in _SLICED else None
        if (known := self.containers.known(holder)) is not None:
            return known[1]
        path = self.of(holder)
        return None if path in (None, NOTHING) else f"{path}.{OF}"

    def _of_built_in(self, node: Node, name: str) -> str | None:
        """Return the path of ``super()``, and of ``type(x)``: the class of what ``x`` is."""
        arguments = [item for item in node.items[-1].items if item.named]
        if name == "builtins.super":
            if len(arguments) == 2:
                above = self.of(arguments[0])
                entry = above is not None and above != NOTHING and not above.endswith("()")
                return f"{above}().<super>" if entry else None
            return self._super(node) if not arguments else None
        return self._class_of(arguments[0]) if len(arguments) == 1 else None

    def _class_of(self, node: Node) -> str | None:
        """Return the path of the class that an expression is an instance of."""
        path, node = self.of(node), node.bare
        if node.kind == "identifier" and path == f"{self.module}:{node.text}":
            path = self.value(self.names.module, node.text)  # a variable of the module
        return path[:-2] if path is not None and path.endswith("()") else None

    def _super(self, node: Node) -> str | None:
        """Return the path of ``super()``: the class around, its own names aside."""
        scope: Scope | None = self.names.scope_at(node)
        while scope is not None and scope.holder is None:
            scope = scope.parent
        holder = scope.holder if scope is not None else None
        return f"{self.of_scope(holder)}().<super>" if holder is not None else None

    def of_scope(self, scope: Scope) -> str:
        """Return the path of a class or function of the file."""
        return f"{self.module}:{scope.qualified}"

    def of_name(self, owner: Scope, name: str) -> str | None:
        """Return the path of `name` as `owner` binds it."""
        key = (id(owner), name)
        if key not in self._of_names:
            self._of_names[key] = None  # a name that is itself, by a detour, is not known
            self._of_names[key] = self._of_name(owner, name)
        return self._of_names[key]

    def _of_name(self, owner: Scope, name: str) -> str | None:
        if owner.parent is None:
            if not self.names.binds(owner, name):
                return self._unbound(owner, name)
            if all(bind.how != "import" for bind in binds_of(owner, name)):
                return f"{self.module}:{name}"
            if _may_be_starred(owner, name):
                path = self.value(owner, name)
                return None if path is None else f"{self.module}:*.{name}|{path}"
        elif owner.kind == "class" and not _only_imported(owner, name):
            return f"{self.of_scope(owner)}.{name}"
        result = self.value(owner, name)
        return None if result == NOTHING else result

    def _unbound(self, module: Scope, name: str) -> str | None:
        if any(item.name == "*" for item in module.imports):
            return f"{self.module}:*.{name}"
        return f"builtins.{name}" if name in _BUILTINS else None

    def value(self, owner: Scope, name: str) -> str | None:
        """Return the path that all that binds `name` in `owner` agree on; None is no objection."""
        results: set[str | None] = set()
        messages: set[str | None] = set()
        for bind in binds_of(owner, name):
            annotated = self._annotated(bind)
            if annotated is not None:
                messages.add(annotated)
            elif bind.how != "declaration":
                results.add(self.bound_to(bind))
        if messages:
            # what is bound to the name later may be something else than was declared
            return agreed(messages | results) if len(messages) == 1 else None
        return agreed(results)

    def bound_to(self, occurrence: Occurrence) -> str | None:
        """Return the path of what the place `occurrence` binds its name to."""
        how = occurrence.how
        if how in ("function", "class"):
            scopes = (s for s in _inner(occurrence.scope) if _made_at(s, occurrence))
            scope = next(scopes, None)
            return None if scope is None else self.of_scope(scope)
        if how == "import":
            at = occurrence.span.start
            result = next((i for i in occurrence.scope.imports if i.bound_at == at), None)
            return None if result is None else result.target(self.package)
        if how == "argument":
            return self._argument(occurrence)
        statement = occurrence.node.parent
        if statement is None:
            return None
        if how in ("assignment", "walrus") and statement.kind in ("assignment", "named_expression"):
            value = statement.child("right") or statement.child("value")
            while value is not None and value.kind == "assignment":
                value = value.child("right")
            return self.of(value) if value is not None else None
        if how in ("for", "comprehension") and statement.kind in _LOOPS:
            iterated = statement.child("right")
            contents = self.containers.contents(iterated) if iterated is not None else None
            return contents[0] if contents is not None else None
        if how in ("for", "comprehension") and statement.kind in ("pattern_list", "tuple_pattern"):
            loop = statement.parent
            iterated = loop.child("right") if loop is not None and loop.kind in _LOOPS else None
            if iterated is None:
                return None
            return self.containers.part_of_item(occurrence.node, iterated)
        if how in ("with", "except") and statement.kind == "as_pattern_target":
            pattern = statement.parent
            path = self.of(pattern.items[0]) if pattern is not None else None
            if path is None or path == NOTHING or is_of_group(occurrence.node):
                return None
            if how == "except":
                return f"{path}()"
            if is_async(occurrence.node):
                return f"{path}.__aenter__().{AWAITED}"
            return f"{path}.__enter__()"
        if how == "capture" and statement.kind == "as_pattern":
            return self._of_case(statement.items[0])
        return None

    def _of_case(self, node: Node) -> str | None:
        """Return what a value is that a class pattern fits."""
        while node.kind == "case_pattern":
            node = node.items[0]
        path = self.of(node.items[0]) if node.kind == "class_pattern" else None
        return None if path in (None, NOTHING) else f"{path}()"

    def _argument(self, occurrence: Occurrence) -> str | None:
        """Return what a first parameter of a method is: an instance, or the class."""
        holder = occurrence.scope.holder
        if holder is None or occurrence.scope.kind != "function":
            return None
        definition = next(
            (a for a in occurrence.node.ancestors() if a.kind == "function_definition"), None
        )
        parameters = definition.child("parameters") if definition is not None else None
        if definition is None or parameters is None or len(parameters.items) < 3:
            return None
        if parameters.items[1].start != occurrence.span.start:
            return None
        if len(binds_of(holder, occurrence.scope.name)) > 1 and not is_property(definition):
            return None  # it may have been made something else: `f = staticmethod(f)`
        marks = {self._mark(mark) for mark in marks_of(definition)}
        if "staticmethod" in marks:
            return None
        path = self.of_scope(holder)
        if "classmethod" in marks or occurrence.scope.name in ("__new__", "__init_subclass__"):
            return path
        return path + "()"

    def _mark(self, mark: Node) -> str:
        """Return what a decorator is of those that change what a first parameter is."""
        path = self.of(mark)
        if path is not None and path.startswith(f"{self.module}:") and mark.kind == "identifier":
            path = self.value(self.names.module, mark.text) or path  # `s = staticmethod`
        if path is None:
            return mark.text
        if path.startswith(f"{self.module}:*."):
            return path.rpartition(".")[2]  # a star import may bring it, but most bring none
        return path.replace(":", ".").removeprefix("builtins.")

    def _annotated(self, occurrence: Occurrence) -> str | None:
        """Return the path that an annotation beside the name gives it."""
        above = occurrence.node.parent
        if above is not None and above.kind in ("list_splat_pattern", "dictionary_splat_pattern"):
            return None
        if above is None or occurrence.how not in ("argument", "assignment", "declaration"):
            return None
        kind = above.child("type") if above.kind in TYPED else None
        return self.annotation(kind) if kind is not None else None

    def annotation(self, node: Node) -> str | None:
        """Return the path of what an annotation says a value is: an instance of a class."""
        node = node.core
        kind = node.kind
        if kind in ("identifier", "attribute", "member_type"):
            path = self.of(node)
            if path is not None and path.endswith((".Self", ":Self")):
                return self._self(node)
            return None if path in (None, NOTHING) else path + "()"
        if kind == "string":
            return self._quoted(node)
        if kind in ("binary_operator", "union_type"):
            sides = [item for item in node.items if item.kind != "|"]
            return agreed({self._or_nothing(side) for side in sides})
        if kind in ("generic_type", "subscript"):
            head = self._typing_name(node.items[0])
            inner = [i for item in node.items[1:] for i in type_arguments(item)]
            if head in ("Optional", "Final", "ClassVar", "Annotated", "Required") and inner:
                return self.annotation(inner[0])
            if head in ("type", "Type") and inner:
                path = self.annotation(inner[0])
                return path[:-2] if path is not None and path.endswith("()") else None
            if head == "Union":
                return agreed({self._or_nothing(item) for item in inner})
            if head in ("Literal", "Callable"):
                return None
            path = self.of(node.items[0])
            return None if path in (None, NOTHING) else path + "()"
        return None

    def _typing_name(self, node: Node) -> str:
        """Return the name that `node` has in the module `typing`; empty if it is not of there."""
        path = (self.of(node) or "").replace(":", ".")
        module, _, name = path.rpartition(".")
        return name if module in ("typing", "typing_extensions", "builtins") else ""

    def _or_nothing(self, node: Node) -> str | None:
        return NOTHING if node.core.kind == "none" else self.annotation(node)

    def _self(self, node: Node) -> str | None:
        scope: Scope | None = self.names.scope_at(node)
        while scope is not None and scope.kind != "class":
            scope = scope.parent
        return self.of_scope(scope) + "()" if scope is not None else None

    def _quoted(self, node: Node) -> str | None:
        """Read an annotation in quotes."""
        tree = expression_in(node.text)
        return self.of_expression(tree, node) if tree is not None else None

    def of_expression(self, tree: ast.expr, node: Node) -> str | None:
        """Return the path of what an expression in the quotes of `node` says a value is."""
        if isinstance(tree, ast.Constant) and tree.value is None:
            return NOTHING
        if isinstance(tree, ast.BinOp) and isinstance(tree.op, ast.BitOr):
            return agreed({self.of_expression(side, node) for side in (tree.left, tree.right)})
        if isinstance(tree, ast.Subscript):
            head = self._dotted(tree.value, node)
            module, _, name = (head or "").replace(":", ".").rpartition(".")
            inner = tree.slice.elts if isinstance(tree.slice, ast.Tuple) else [tree.slice]
            if module in ("typing", "typing_extensions"):
                if name in ("Optional", "Final", "ClassVar", "Annotated", "Required"):
                    return self.of_expression(inner[0], node)
                if name == "Union":
                    return agreed({self.of_expression(item, node) for item in inner})
                if name in ("Literal", "Callable", "Type"):
                    return None
            return None if head in (None, "builtins.type") else f"{head}()"
        path = self._dotted(tree, node)
        return None if path is None else f"{path}()"

    def _dotted(self, tree: ast.expr, node: Node) -> str | None:
        """Return the path of a dotted name in the quotes of `node`."""
        names: list[str] = []
        while isinstance(tree, ast.Attribute):
            names.insert(0, tree.attr)
            tree = tree.value
        if not isinstance(tree, ast.Name):
            return None
        scope = self.names.scope_at(node)
        path = self.of_name(scope.owner(tree.id), tree.id)
        return None if path in (None, NOTHING) else ".".join([path or "", *names])


_SLICED = frozenset(f"builtins.{name}()" for name in ("bytes", "list", "str", "tuple"))
_LITERALS = {
    **{"concatenated_string": "str", "dictionary": "dict", "dictionary_comprehension": "dict"},
    **{"false": "bool", "float": "float", "integer": "int", "list": "list"},
    **{"list_comprehension": "list", "set": "set", "set_comprehension": "set", "string": "str"},
    **{"true": "bool", "tuple": "tuple"},
}


def _literal(node: Node) -> str | None:
    """Return the path of the class of a literal; None for other code."""
    name = _LITERALS.get(node.kind)
    first = node.items[0] if name == "str" and node.kind == "concatenated_string" else node
    if name == "str" and "b" in first.text.partition(first.text.rstrip()[-1])[0].lower():
        name = "bytes"
    if name == "int" and node.text[-1:] in "jJ":
        name = "complex"
    return f"builtins.{name}()" if name is not None else None


def _may_be_starred(module: Scope, name: str) -> bool:
    """Return whether a star import behind the last that binds `name` may bind it again."""
    last = max(bind.span.start for bind in binds_of(module, name))
    return any(item.name == "*" and item.statement.start > last for item in module.imports)


def _only_imported(owner: Scope, name: str) -> bool:
    return all(bind.how == "import" for bind in binds_of(owner, name))


def _inner(scope: Scope) -> Iterator[Scope]:
    for child in scope.children:
        yield child
        if child.kind == "types":
            yield from child.children


def _made_at(scope: Scope, occurrence: Occurrence) -> bool:
    return scope.kind in ("class", "function") and scope.start <= occurrence.span.start < scope.end
