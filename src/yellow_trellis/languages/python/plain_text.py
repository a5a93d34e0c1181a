"""The code of a parsed tree in plain layout: a statement a line, expressions in brackets.

No comment, line break or bracket of the original decides what the plain text means, only the tree
of our parser. So where the compiler reads the original and the plain text as the same tree, it
reads the original as our parser does.
"""

from __future__ import annotations

from collections.abc import Collection, Iterator

import tree_sitter

BODIES = frozenset({"block", "module"})
_SKIPPED = frozenset({"comment", "line_continuation"})
_HEADERS = {
    "case_clause": b"case a", "class_definition": b"class a", "decorated_definition": b"class a",
    "elif_clause": b"elif a", "except_clause": b"except a", "for_statement": b"for a in a",
    "function_definition": b"def a()", "if_statement": b"if a", "match_statement": b"match a",
    "while_statement": b"while a", "with_statement": b"with a",
}
"""By kind of what has a body: a header that stands for any."""
_CLAUSES = frozenset({
    "case_clause", "elif_clause", "else_clause", "except_clause", "finally_clause",
})
_COMPOUND = frozenset({
    "attribute", "await", "binary_operator", "boolean_operator", "call", "comparison_operator",
    "conditional_expression", "lambda", "named_expression", "not_operator", "subscript",
    "unary_operator",
})
"""Expressions that hold others, and may stand in brackets wherever they stand."""
_UNBRACKETED = frozenset({"case_pattern", "dotted_name", "type_parameter"})
"""Places in which brackets would say something else."""


class PlainText:
    """The plain text of statements of a tree, and the original text of the same statements.

    In both, ``pass`` stands for other statements, one for several in a row.
    Arguments: `data` is the text of the tree, in UTF-8; `statements` and `headers` are the first
    bytes of the statements to be written, and of those things with a body of which the header is
    to be written as it is. For other headers there is one of the same kind.
    """

    def __init__(
        self, data: bytes, statements: Collection[int], headers: Collection[int]
    ) -> None:
        self._data = data
        self._statements = statements
        self._headers = headers
        self._parts: list[bytes] = []
        self._original: list[bytes] = []
        self._end = 0

    @property
    def text(self) -> bytes:
        """The plain text."""
        return b"".join(self._parts)

    @property
    def original(self) -> bytes:
        """The original text."""
        return b"".join([*self._original, self._data[self._end :]])

    def write(self, root: tree_sitter.Node) -> None:
        """Write all of a tree."""
        self._body(root, 0)

    def _body(self, body: tree_sitter.Node, depth: int) -> None:
        hides = False
        for statement in statements_in(body):
            is_shown = statement.start_byte in self._statements or statement.type in _CLAUSES
            if is_shown or not hides:
                self._parts.append(b"\n" + b" " * depth)
            if is_shown:
                self._statement(statement, depth)
            elif not hides:
                self._parts.append(b"pass")
                self._replace(statement.start_byte, b"pass")
            if not is_shown:
                self._end = statement.end_byte
            hides = not is_shown
        self._parts.append(b"\n")

    def _replace(self, start: int, text: bytes) -> None:
        """Write `text` into the original, behind what stands there up to the byte `start`."""
        self._original += [self._data[self._end : start], text]

    def _statement(self, node: tree_sitter.Node, depth: int) -> None:
        """Write a statement, or a part of one that has a body."""
        header = header_of(node)
        inner = node
        if header is not None and node.start_byte not in self._headers:
            if node.type == "decorated_definition":
                inner = node.named_children[-1]
            is_group = any(child.type == "except*" for child in node.children)
            text = b"except* a" if is_group else _HEADERS[inner.type]
            self._parts.append(text)
            self._replace(node.start_byte, text)
            self._end = header
        else:
            header = node.start_byte
        for child in inner.children:
            kind = child.type
            if child.start_byte < header or kind in _SKIPPED:
                continue
            if kind in BODIES:
                self._body(child, depth + 1)
            elif kind in _CLAUSES:
                self._parts.append(b"\n" + b" " * depth)
                self._statement(child, depth)
            elif inner.type == "decorated_definition":
                self._write(child) if kind == "decorator" else self._statement(child, depth)
                self._parts.append(b"\n" + b" " * depth)
            else:
                self._write(child)

    def _write(self, node: tree_sitter.Node) -> None:
        """Write a token, an expression or a part of a statement without a body."""
        todo: list[tuple[tree_sitter.Node, bool] | bytes] = [(node, True)]
        while todo:  # and no calls of itself: a sum may have a thousand parts
            item = todo.pop()
            if isinstance(item, bytes):
                self._parts.append(item)
                continue
            node, in_brackets = item
            kind = node.type
            if kind == "string":
                self._string(node)
                continue
            data = self._data[node.start_byte : node.end_byte]
            if not node.child_count:
                self._parts += [b" ".join(data.split()), b" "]
                continue
            in_brackets = in_brackets and kind not in _UNBRACKETED
            if in_brackets and kind in _COMPOUND and data[:1] != b"*" and not _goes_on(node):
                self._parts.append(b"(")
                todo.append(b") ")
            children = [child for child in node.children if child.type not in _SKIPPED]
            todo += [(child, in_brackets) for child in reversed(children)]

    def _string(self, node: tree_sitter.Node) -> None:
        """Write a string as it is, with the code in it in brackets."""
        self._around_fields(node, "interpolation")
        self._parts.append(b" ")

    def _around_fields(self, node: tree_sitter.Node, kind: str) -> None:
        """Write text that has fields with code in it."""
        at = node.start_byte
        for field in node.named_children:
            if field.type == kind:
                self._parts.append(self._data[at : field.start_byte])
                self._field(field)
                at = field.end_byte
        self._parts.append(self._data[at : node.end_byte])

    def _field(self, field: tree_sitter.Node) -> None:
        """Write a field of a string; one that shows its own code as it is."""
        code, ends = [], []
        for child in field.children[1:-1]:
            if child.type in ("type_conversion", "format_specifier"):
                ends.append(child)
            elif child.type not in _SKIPPED:
                code.append(child)
        if any(child.type == "=" for child in code):
            self._parts.append(self._data[field.start_byte : field.end_byte])
            return
        self._parts.append(b"{(")
        for child in code:
            self._write(child)
        self._parts.append(b")")
        for child in ends:
            self._around_fields(child, "format_expression")
        self._parts.append(b"}")


def statements_in(body: tree_sitter.Node) -> Iterator[tree_sitter.Node]:
    """Yield the statements of a body, or the cases of a `match`."""
    return (node for node in body.children if node.is_named and node.type not in _SKIPPED)


def parts_with_bodies(node: tree_sitter.Node) -> Iterator[tree_sitter.Node]:
    """Yield what of a statement has a body or is one: clauses, definitions, blocks."""
    return (
        child
        for child in node.named_children
        if child.type in BODIES or child.type in _CLAUSES or child.type in _HEADERS
    )


def header_of(node: tree_sitter.Node) -> int | None:
    """Return the byte of the colon that ends the header of `node`; None if it has none.

    That of a definition starts with its decorators.
    """
    if node.type not in _HEADERS:
        return None
    if node.type == "decorated_definition":
        return header_of(node.named_children[-1])
    colon = None
    for child in node.children:
        if child.type in BODIES:
            return colon
        if child.type == ":":
            colon = child.start_byte
    return colon


def _goes_on(node: tree_sitter.Node) -> bool:
    """Return whether an expression is the beginning of one that leaves no doubt about it.

    `a - b` in `a - b + c` is, and `a.b` in `a.b(c)`. Brackets around each would soon be more than
    the compiler takes; those of `a and b` in `a and b and c` would say something else.
    """
    around = node.parent
    if around is None or around.child(0) != node:
        return False
    if node.type in _POSTFIX:
        return around.type in _POSTFIX
    operators = [item.child_by_field_name("operator") for item in (node, around)]
    groups = [_SAME_STRENGTH.get(item.type) for item in operators if item is not None]
    return len(groups) == 2 and groups[0] == groups[1] is not None


_POSTFIX = frozenset({"attribute", "call", "subscript"})
_SAME_STRENGTH = {
    operator: number
    for number, group in enumerate(("+ -", "* / // % @", "<< >>", "&", "^", "|", "and", "or"))
    for operator in group.split()
}
"""By operator that is read from the left: a number for all that hold together as strongly."""
