"""Reading the scopes of a Python file: one pass over the parser's tree, no node visited twice."""

from __future__ import annotations

import unicodedata
from collections.abc import Callable, Iterable
from functools import cache
from typing import TYPE_CHECKING

from yellow_trellis.semantics.imports import read_import
from yellow_trellis.semantics.python.annotations import Word, annotation_parts
from yellow_trellis.semantics.scope import How, Scope, ScopeKind, Symbol, settle
from yellow_trellis.source import Span

if TYPE_CHECKING:
    import tree_sitter

    from yellow_trellis.languages import Language
    from yellow_trellis.syntax import Tree


# Kinds below which no name stands, or none that refers to anything.
_BARREN = (
    *("integer", "float", "true", "false", "none", "ellipsis", "comment", "string_content"),
    *("pass_statement", "break_statement", "continue_statement", "import_prefix"),
    *("string_start", "string_end", "line_continuation", "escape_sequence", "type_conversion"),
    *("positional_separator", "keyword_separator", "future_import_statement"),
)
# Kinds that hold targets of an assignment and are targets themselves.
_TARGETS = frozenset(
    {
        *("tuple", "list", "pattern_list", "tuple_pattern", "list_pattern", "expression_list"),
        *("list_splat_pattern", "list_splat", "parenthesized_expression", "as_pattern_target"),
        *("dictionary_splat_pattern", "ERROR"),
    }
)


_BRACKETED = frozenset({"parenthesized_expression", "tuple_pattern"})


def read_scopes(tree: Tree) -> list[Scope]:
    """Return the scopes of `tree`, the module first, each with its names and who uses them."""
    return settle(_Reader(tree).read())


class _Names(dict[bytes, Symbol]):
    """The names of one scope by their spelling, made when first met."""

    def __missing__(self, spelled: bytes) -> Symbol:
        symbol = self[spelled] = Symbol(spelled)
        return symbol


class _Reader:
    """One pass over one tree.

    Names that are read are by far the most: they are taken in one loop. What binds, or opens a
    scope, has a method of its own, which puts back on the loop's stack what is only read.
    """

    def __init__(self, tree: Tree) -> None:
        self.tree = tree
        self.data = tree.source.data
        self.methods = _methods(tree.language)
        self.pending: list[tuple[Scope, list[tree_sitter.Node]]] = []
        self.names: dict[Scope, _Names] = {}
        self.scope = Scope(tree, "module", "", None, 0, len(self.data))
        self.found = _Names()
        self.stack: list[tree_sitter.Node] = []

    def read(self) -> Scope:
        module = self.scope
        self.names[module] = self.found
        self.pending.append((module, [self.tree.raw_root]))
        while self.pending:
            self.scope, self.stack = self.pending.pop()
            self.found = self.names[self.scope]
            self._loop()
        for scope, names in self.names.items():
            _put_in_order(scope, names)
            if len(scope.children) > 1:
                scope.children.sort(key=_by_place)
        return module

    def _loop(self) -> None:
        data, methods, names, stack = self.data, self.methods, self.found, self.stack
        pop, push, extend = stack.pop, stack.append, stack.extend
        while stack:
            raw = pop()
            method = methods.get(raw.kind_id)
            if method is _READ:
                start = raw.start_byte
                names[data[start : raw.end_byte]].reads.append(start)
            elif method is None:
                extend(raw.named_children)
            elif method is _FIRST:
                push(raw.named_children[0])
            elif method is _LAST:
                push(raw.named_children[-1])
            elif method is _STRING:
                if data[raw.start_byte] not in b"'\"":
                    self.string(raw)
            elif method is not _BARE:
                method(self, raw)

    # ------------------------------------------------------------------ helpers

    def open(
        self, kind: ScopeKind, raw: tree_sitter.Node, name: str = "", parent: Scope | None = None
    ) -> Scope:
        start, end = raw.start_byte, raw.end_byte
        scope = Scope(self.tree, kind, name, parent or self.scope, start, end)
        self.names[scope] = _Names()
        return scope

    def later(self, scope: Scope, raws: Iterable[tree_sitter.Node | None]) -> None:
        """Read `raws` in `scope`, when this one is done."""
        self.pending.append((scope, [raw for raw in raws if raw is not None]))

    def now(self, raw: tree_sitter.Node | None) -> None:
        """Read `raw` in this scope."""
        if raw is not None:
            self.stack.append(raw)

    def bind(self, raw: tree_sitter.Node, how: How, scope: Scope | None = None) -> None:
        """Note that the name `raw` is bound."""
        names = self.found if scope is None else self.names[scope]
        start = raw.start_byte
        names[self.data[start : raw.end_byte]].binds.append((start, how))

    def target(self, raw: tree_sitter.Node | None, how: How, scope: Scope | None = None) -> None:
        """Bind every name in a target; what a target reads (`a` of `a.b`) is read."""
        if raw is None:
            return
        if raw.type == "identifier":
            self.bind(raw, how, scope)
        elif raw.type in _TARGETS:
            for child in raw.named_children:
                self.target(child, how, scope)
        elif scope is None:
            self.stack.append(raw)
            if raw.type == "attribute":
                self.scope.stores.append(Span(raw.start_byte, raw.end_byte))
        else:
            self.later(scope, [raw])

    def annotation(self, raw: tree_sitter.Node | None, scope: Scope | None = None) -> None:
        """Read an annotation, whose strings are code too."""
        if raw is None:
            return
        names = self.found if scope is None else self.names[scope]
        for use, part in annotation_parts(raw, self.data, self.tree.language):
            if isinstance(part, Word):
                names[part.spelled].add(use, part.start)
            elif scope is None:
                self.stack.append(part)
            else:
                self.later(scope, [part])

    # ------------------------------------------------------------------ definitions

    def function_definition(self, raw: tree_sitter.Node) -> None:
        name = raw.child_by_field_name("name")
        text = ""
        if name is not None:
            self.bind(name, "function")
            text = _decoded(name, self.data)
        around = self.types(raw, text)
        scope = self.open("function", raw, text, around)
        self.parameters(raw.child_by_field_name("parameters"), scope, around)
        self.annotation(raw.child_by_field_name("return_type"), around)
        self.later(scope, [raw.child_by_field_name("body")])

    def class_definition(self, raw: tree_sitter.Node) -> None:
        name = raw.child_by_field_name("name")
        text = ""
        if name is not None:
            self.bind(name, "class")
            text = _decoded(name, self.data)
        around = self.types(raw, text)
        bases = raw.child_by_field_name("superclasses")
        if around is None:
            self.now(bases)
        else:
            self.later(around, [bases])
        scope = self.open("class", raw, text, around)
        self.later(scope, [raw.child_by_field_name("body")])

    def types(self, raw: tree_sitter.Node, name: str) -> Scope | None:
        """Open the scope of type parameters, if there are any."""
        parameters = raw.child_by_field_name("type_parameters")
        if parameters is None:
            return None
        scope = self.open("types", raw, name)
        self._type_parameters(parameters, scope)
        return scope

    def _type_parameters(self, parameters: tree_sitter.Node, scope: Scope) -> None:
        for parameter in parameters.named_children:
            inner = parameter.named_children[0] if parameter.named_children else None
            if inner is None:
                continue
            if inner.type == "constrained_type":
                name, *bounds = inner.named_children
                for bound in bounds:
                    self.annotation(bound, scope)
                inner = name
            while inner.named_children:
                inner = inner.named_children[0]
            if inner.type == "identifier":
                self.bind(inner, "type", scope)

    def type_alias_statement(self, raw: tree_sitter.Node) -> None:
        left, right = raw.child_by_field_name("left"), raw.child_by_field_name("right")
        if not self.data[raw.start_byte + 4 : raw.start_byte + 5].isspace():
            self._misread(raw)
            return
        while left is not None and left.type in ("type", "generic_type") and left.named_children:
            if left.type == "generic_type":
                name, *parameters = left.named_children
                self.bind(name, "type")
                scope = self.open("types", raw, _decoded(name, self.data))
                for parameter in parameters:
                    self._type_parameters(parameter, scope)
                self.annotation(right, scope)
                return
            left = left.named_children[0]
        self.target(left, "type")
        self.annotation(right)

    def _misread(self, raw: tree_sitter.Node) -> None:
        """Read ``type(x).y = z``, which the grammar takes for an alias: all its names are read."""
        self.found[b"type"].reads.append(raw.start_byte)
        stack = list(raw.named_children)
        while stack:
            node = stack.pop()
            if node.type in ("type", "generic_type", "type_parameter"):
                stack.extend(node.named_children)
            elif node.type == "member_type":
                stack.append(node.named_children[0])
            else:
                self.stack.append(node)

    def parameters(
        self, raw: tree_sitter.Node | None, scope: Scope, around: Scope | None = None
    ) -> None:
        """Bind parameters in `scope`; defaults are read outside, annotations in `around`."""
        names, data = self.names[scope], self.data
        for named_child in raw.named_children if raw is not None else ():
            kind = named_child.type
            if kind == "identifier":
                start = named_child.start_byte
                names[data[start : named_child.end_byte]].binds.append((start, "argument"))
            elif kind in ("default_parameter", "typed_default_parameter"):
                self.target(named_child.child_by_field_name("name"), "argument", scope)
                self.now(named_child.child_by_field_name("value"))
                self.annotation(named_child.child_by_field_name("type"), around)
            elif kind == "typed_parameter":
                self.target(named_child.named_children[0], "argument", scope)
                self.annotation(named_child.child_by_field_name("type"), around)
            else:
                self.target(named_child, "argument", scope)

    def lambda_(self, raw: tree_sitter.Node) -> None:
        scope = self.open("lambda", raw)
        self.parameters(raw.child_by_field_name("parameters"), scope)
        self.later(scope, [raw.child_by_field_name("body")])

    def comprehension(self, raw: tree_sitter.Node) -> None:
        scope = self.open("comprehension", raw)
        inside: list[tree_sitter.Node | None] = []
        first = True
        for child in raw.named_children:
            if child.type != "for_in_clause":
                inside.append(child)
                continue
            self.target(child.child_by_field_name("left"), "comprehension", scope)
            for right in child.children_by_field_name("right"):
                if first:
                    self.now(right)
                else:
                    inside.append(right)
            first = False
        self.later(scope, inside)

    # ------------------------------------------------------------------ statements

    def assignment(self, raw: tree_sitter.Node) -> None:
        remainder, *tail = raw.named_children
        how: How = "declaration"
        if remainder.type in _BRACKETED and tail[-1].type == "type":
            self.annotation(tail[-1])  # `(x): int` binds nothing, and reads nothing either
            return
        for child in tail:
            if child.type == "type":
                self.annotation(child)
            else:
                self.stack.append(child)
                how = "assignment"
        self.target(remainder, how)

    def augmented_assignment(self, raw: tree_sitter.Node) -> None:
        remainder = raw.child_by_field_name("left")
        self.target(remainder, "augmented")
        self.now(raw.child_by_field_name("right"))

    def named_expression(self, raw: tree_sitter.Node) -> None:
        """Bind outside of comprehensions: a walrus in one binds in what is around it."""
        name = raw.child_by_field_name("name")
        self.now(raw.child_by_field_name("value"))
        if name is None:
            return
        self.bind(name, "walrus")
        scope = self.scope
        while scope.kind == "comprehension" and scope.parent is not None:
            self.names[scope][_text(name, self.data)].declared = (
                "global" if scope.parent.kind == "module" else "nonlocal"
            )
            scope = scope.parent
        if scope is not self.scope:
            self.names[scope][_text(name, self.data)].implied = True

    def for_statement(self, raw: tree_sitter.Node) -> None:
        self.target(raw.child_by_field_name("left"), "for")
        for field in ("right", "body", "alternative"):
            self.now(raw.child_by_field_name(field))

    def as_pattern(self, raw: tree_sitter.Node) -> None:
        """Bind what follows ``as``, in a with item, an except clause or a case."""
        children = [child for child in raw.named_children if child.type != "comment"]
        above = raw.parent.type if raw.parent is not None else ""
        if above == "except_clause":
            self.target(children[-1], "except")
        elif children[0].type == "case_pattern":
            self.target(children[-1], "capture")
        else:
            self.target(children[-1], "with")
        for child in children[:-1]:
            self.now(child)

    def dotted_name(self, raw: tree_sitter.Node) -> None:
        """Read the first name of a dotted one; alone in a case, it is a capture."""
        names = raw.named_children
        if len(names) > 1 or not _captures(raw):
            self.stack.append(names[0])
        elif _text(names[0], self.data) != b"_":
            self.bind(names[0], "capture")

    def splat_pattern(self, raw: tree_sitter.Node) -> None:
        for child in raw.named_children:
            if child.type == "identifier" and _text(child, self.data) != b"_":
                self.bind(child, "capture")

    def keyword_pattern(self, raw: tree_sitter.Node) -> None:
        for child in raw.named_children[1:]:
            if child.type == "identifier":
                self.bind(child, "capture")
            else:
                self.stack.append(child)

    def string(self, raw: tree_sitter.Node) -> None:
        start = raw.start_byte
        if b"f" in self.data[start : start + 2].lower() or b"t" in self.data[start : start + 2]:
            self.stack.extend(raw.named_children)

    def typed(self, raw: tree_sitter.Node) -> None:
        self.annotation(raw)

    def import_(self, raw: tree_sitter.Node) -> None:
        for item in read_import(raw, self.data):
            self.scope.imports.append(item)
            if item.name != "*":
                spelled = item.bound.encode("utf-8", "surrogateescape")
                self.found[spelled].binds.append((item.bound_at, "import"))

    def declare(self, raw: tree_sitter.Node) -> None:
        for child in raw.named_children:
            if child.type == "identifier":
                symbol = self.found[_text(child, self.data)]
                symbol.add("declare", child.start_byte)
                symbol.declared = "global" if raw.type == "global_statement" else "nonlocal"

    def delete_statement(self, raw: tree_sitter.Node) -> None:
        stack = list(raw.named_children)
        while stack:
            node = stack.pop()
            if node.type == "identifier":
                self.found[_text(node, self.data)].add("delete", node.start_byte)
            elif node.type in _TARGETS:
                stack.extend(node.named_children)
            else:
                self.stack.append(node)
                if node.type == "attribute":
                    self.scope.stores.append(Span(node.start_byte, node.end_byte))


def _never(reader: _Reader, raw: tree_sitter.Node) -> None:
    raise AssertionError("the loop does this itself")


Method = Callable[[_Reader, "tree_sitter.Node"], None]

# What the loop does itself, as a call for each name would cost more than all the rest.
_READ: Method = lambda reader, raw: _never(reader, raw)
_FIRST: Method = lambda reader, raw: _never(reader, raw)
_LAST: Method = lambda reader, raw: _never(reader, raw)
_STRING: Method = lambda reader, raw: _never(reader, raw)
_BARE: Method = lambda reader, raw: _never(reader, raw)

_METHODS: dict[str, Method] = {
    **dict.fromkeys(_BARREN, _BARE),
    "identifier": _READ,
    "as_pattern": _Reader.as_pattern,
    "assignment": _Reader.assignment,
    "attribute": _FIRST,
    "augmented_assignment": _Reader.augmented_assignment,
    "class_definition": _Reader.class_definition,
    "delete_statement": _Reader.delete_statement,
    "dictionary_comprehension": _Reader.comprehension,
    "dotted_name": _Reader.dotted_name,
    "for_statement": _Reader.for_statement,
    "function_definition": _Reader.function_definition,
    "future_import_statement": _Reader.import_,
    "generator_expression": _Reader.comprehension,
    "global_statement": _Reader.declare,
    "import_from_statement": _Reader.import_,
    "import_statement": _Reader.import_,
    "keyword_argument": _LAST,
    "keyword_pattern": _Reader.keyword_pattern,
    "lambda": _Reader.lambda_,
    "list_comprehension": _Reader.comprehension,
    "named_expression": _Reader.named_expression,
    "nonlocal_statement": _Reader.declare,
    "set_comprehension": _Reader.comprehension,
    "splat_pattern": _Reader.splat_pattern,
    "string": _STRING,
    "type": _Reader.typed,
    "type_alias_statement": _Reader.type_alias_statement,
}


@cache
def _methods(language: Language) -> dict[int, Method]:
    """Return the methods by the number of a kind."""
    return {
        number: _METHODS[kind]
        for kind, numbers in language.kind_numbers.items()
        if kind in _METHODS
        for number in numbers
    }


def _text(raw: tree_sitter.Node, data: bytes) -> bytes:
    return data[raw.start_byte : raw.end_byte]


def _decoded(raw: tree_sitter.Node, data: bytes) -> str:
    return _text(raw, data).decode("utf-8", "surrogateescape")


def _by_place(scope: Scope) -> tuple[int, int]:
    return scope.start, -scope.end


def _captures(raw: tree_sitter.Node) -> bool:
    """Return whether a name stands where a case binds one."""
    above = raw.parent
    if above is None:
        return False
    if above.type == "keyword_pattern":
        return above.named_children[0] != raw
    return above.type in ("case_pattern", "union_pattern")


def _put_in_order(scope: Scope, names: _Names) -> None:
    """Turn what was seen into the symbols of `scope`, by the name that counts."""
    if b"super" in names and names[b"super"].reads and scope.kind not in ("class", "module"):
        names[b"__class__"].implicit = True
    symbols = scope.symbols
    private = scope.private
    for spelled, symbol in names.items():
        name = spelled.decode("utf-8", "surrogateescape")
        if not name.isascii():
            name = unicodedata.normalize("NFKC", name)
        if private and name[:2] == "__" and name[-2:] != "__":
            name = private + name
        if name in symbols:
            symbol.also = symbols[name]
        symbols[name] = symbol
