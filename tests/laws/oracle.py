"""What a file must become, worked out on the standard `ast` and without our own matcher.

For each fix that was applied the match says where it was and which code its holes took. The tree of
the old text, with the template's tree in those places and the holes' trees in it, is the tree that
the new text must have: no node more, none less, none with another parent.
"""

from __future__ import annotations

import ast
import io
import tokenize
from collections import Counter
from dataclasses import dataclass

from yellow_trellis.patterns import Match
from yellow_trellis.syntax import Node

_STEM = "hole_"


class Unclear(Exception):
    """The oracle cannot tell what a fix should make: the case is passed over."""


@dataclass
class Applied:
    """A match whose fix was applied, and its template."""

    match: Match
    template: str


def tree_of(text: str) -> ast.Module:
    return ast.parse(text.replace("\r\n", "\n"))


def shape(tree: ast.AST) -> str:
    """Return a tree as text, without places and contexts."""
    for node in ast.walk(tree):
        if hasattr(node, "ctx"):
            node.ctx = ast.Load()
        if isinstance(node, ast.JoinedStr):
            _merge_constants(node)
        while isinstance(node, ast.BoolOp) and _continues(node.values[0], node):
            node.values[:1] = node.values[0].values  # `a and b and c` is one of three
    return ast.dump(tree)


def without_imports(tree: ast.Module) -> ast.Module:
    """Return a tree without its imports, which follow what the fixes leave of their uses."""
    for node in ast.walk(tree):
        for name in ("body", "orelse", "finalbody"):
            body = getattr(node, name, None)
            if isinstance(body, list):
                kept = [one for one in body if not isinstance(one, (ast.Import, ast.ImportFrom))]
                setattr(node, name, kept or ([ast.Pass()] if body else []))
    return tree


def without_pass(tree: ast.Module) -> ast.Module:
    """Return a tree without `pass`: where fixes compose one may stay that is not needed."""
    for node in ast.walk(tree):
        for name in ("body", "orelse", "finalbody"):
            if isinstance(body := getattr(node, name, None), list):
                setattr(node, name, [one for one in body if not isinstance(one, ast.Pass)])
    return tree


def _continues(first: ast.expr, node: ast.BoolOp) -> bool:
    return isinstance(first, ast.BoolOp) and type(first.op) is type(node.op)


def _merge_constants(node: ast.JoinedStr) -> None:
    values: list[ast.expr] = []
    for value in node.values:
        last = values[-1] if values else None
        if isinstance(value, ast.Constant) and isinstance(last, ast.Constant):
            values[-1] = ast.Constant(last.value + value.value)
        else:
            values.append(value)
    node.values = values


class Places:
    """The nodes of a standard tree by the bytes that they cover."""

    def __init__(self, text: str) -> None:
        self.tree = ast.parse(text)
        data = text.encode()
        starts = [0]
        for line in data.splitlines(keepends=True):
            starts.append(starts[-1] + len(line))
        self.by_span: dict[tuple[int, int], list[ast.AST]] = {}
        for node in ast.walk(self.tree):
            if hasattr(node, "lineno") and getattr(node, "end_lineno", None):
                start = starts[node.lineno - 1] + node.col_offset
                end = starts[node.end_lineno - 1] + node.end_col_offset
                self.by_span.setdefault((start, end), []).append(node)

    def of(self, node: Node) -> ast.AST:
        """Return the standard node for one of ours."""
        for one in (node.core, node.bare, node):
            for span in (one.span, _without_decorators(one)):
                found = self.by_span.get(span)
                if found:
                    wanted = [n for n in found if not isinstance(n, ast.Expr)]
                    return (wanted or found)[0]
        raise Unclear(node.kind)


def _without_decorators(node: Node) -> tuple[int, int]:
    inner = node.items[-1] if node.kind == "decorated_definition" else node
    return inner.start, inner.end


def expected(text: str, applied: list[Applied], holes: dict[str, str]) -> ast.Module:
    """Return the tree that `text` must become.

    Arguments: `holes` are the names of holes in templates, each with its stand-in there.
    """
    places = Places(text)
    wanted: dict[int, tuple[Applied, list[ast.AST]]] = {}
    skipped: set[int] = set()
    for one in applied:
        nodes = [places.of(node) for node in one.match.nodes]
        wanted[id(nodes[0])] = (one, nodes)
        skipped.update(id(node) for node in nodes[1:])
    return _Rewriter(places, wanted, skipped, holes).visit(copy_of(places.tree))


def copy_of(tree: ast.Module) -> ast.Module:
    return tree


class _Splice(ast.expr):
    """Several nodes in the place of one."""

    _fields = ("nodes",)

    def __init__(self, nodes: list[ast.AST]) -> None:
        self.nodes = nodes


class _Rewriter:
    def __init__(self, places, wanted, skipped, holes) -> None:
        self.places, self.wanted, self.skipped, self.holes = places, wanted, skipped, holes

    def visit(self, node: ast.AST) -> ast.AST:
        """Return `node` rewritten; nodes of the old tree are copied, not changed."""
        if id(node) in self.wanted:
            one, _ = self.wanted[id(node)]
            return self.filled(one)
        return self.copied(node)

    def copied(self, node: ast.AST) -> ast.AST:
        made = type(node)()
        for name, value in ast.iter_fields(node):
            if isinstance(value, list):
                row = self.row(value)
                if value and not row and name in ("orelse", "finalbody"):
                    row = [ast.Pass()]
                setattr(made, name, row)
            elif isinstance(value, ast.AST):
                setattr(made, name, _single(self.visit(value)))
            else:
                setattr(made, name, value)
        return _settled(made)

    def row(self, values: list) -> list:
        out: list = []
        for value in values:
            if id(value) in self.skipped:
                continue
            if not isinstance(value, ast.AST):
                out.append(value)
                continue
            made = self.visit(value)
            nodes = made.nodes if isinstance(made, _Splice) else [made]
            for one in nodes:
                is_statement = isinstance(value, ast.stmt)
                if is_statement and isinstance(one, ast.expr):
                    one = ast.Expr(one)
                out.append(one)
        return out

    # ------------------------------------------------------------------ templates

    def filled(self, one: Applied) -> ast.AST:
        text = one.template
        for name, stand_in in self.holes.items():
            for mark in ("", "?", "*", "+"):
                text = text.replace(f"@{{{name}{mark}}}", stand_in)
        tree = ast.parse(text)
        inner = _Filler(self, one.match)
        body = inner.row(tree.body)
        if len(body) == 1 and isinstance(body[0], ast.Expr):
            return body[0].value
        return _Splice(body) if len(body) != 1 else body[0]


class _Filler:
    """Puts what holes took into the tree of a template."""

    def __init__(self, rewriter: _Rewriter, match: Match) -> None:
        self.rewriter, self.match = rewriter, match
        self.names = {stand_in: name for name, stand_in in rewriter.holes.items()}

    def taken(self, name: str) -> list[ast.AST]:
        out: list[ast.AST] = []
        nodes = [
            self.rewriter.places.of(node)
            for node in self.match.run_of(name)
            if node.named and not node.is_comment
        ]
        for node in nodes:
            if id(node) in self.rewriter.skipped:
                continue
            made = self.rewriter.visit(node)
            out += made.nodes if isinstance(made, _Splice) else [made]
        return out

    def visit(self, node: ast.AST) -> ast.AST:
        if isinstance(node, ast.Name) and node.id in self.names:
            nodes = self.taken(self.names[node.id])
            return nodes[0] if len(nodes) == 1 else _Splice(nodes)
        made = type(node)()
        for name, value in ast.iter_fields(node):
            if isinstance(value, list):
                setattr(made, name, self.row(value))
            elif isinstance(value, ast.AST):
                setattr(made, name, _single(self.visit(value)))
            elif isinstance(value, str) and value in self.names:
                (inner,) = self.match.run_of(self.names[value])
                setattr(made, name, inner.core.text)
            else:
                setattr(made, name, value)
        return _settled(made)

    def row(self, values: list) -> list:
        out: list = []
        for value in values:
            if isinstance(value, ast.Expr) and isinstance(value.value, ast.Name):
                name = self.names.get(value.value.id)
                if name is not None:
                    for one in self.taken(name):
                        out.append(ast.Expr(one) if isinstance(one, ast.expr) else one)
                    continue
            if isinstance(value, str):
                if value in self.names:
                    value = self.match.run_of(self.names[value])[0].core.text
                out.append(value)
                continue
            if not isinstance(value, ast.AST):
                out.append(value)
                continue
            made = self.visit(value)
            out += made.nodes if isinstance(made, _Splice) else [made]
        return out


def _single(node: ast.AST) -> ast.AST:
    if isinstance(node, _Splice):
        if len(node.nodes) != 1:
            raise Unclear("several nodes in the place of one")
        return node.nodes[0]
    return node


def _settled(node: ast.AST) -> ast.AST:
    """Put the arguments of a call by name where the standard tree has them."""
    if isinstance(node, (ast.Call, ast.ClassDef)):
        field = "args" if isinstance(node, ast.Call) else "bases"
        values = getattr(node, field)
        names = [value for value in values if isinstance(value, ast.keyword)]
        setattr(node, field, [value for value in values if not isinstance(value, ast.keyword)])
        node.keywords = [*names, *node.keywords] if names else node.keywords
    if getattr(node, "body", None) == [] and not isinstance(node, ast.Module):
        node.body = [ast.Pass()]
    return node


def comments_of(text: str) -> Counter[str]:
    """Count the comments of a text, by Python's own tokenizer."""
    tokens = tokenize.generate_tokens(io.StringIO(text.replace("\r\n", "\n")).readline)
    return Counter(token.string for token in tokens if token.type == tokenize.COMMENT)


def names_of(text: str) -> Counter[str]:
    """Count the names of a text, by Python's own tokenizer; those in f-strings too."""
    found: Counter[str] = Counter()
    for node in ast.walk(tree_of(text)):
        for _, value in ast.iter_fields(node):
            for one in value if isinstance(value, list) else [value]:
                if isinstance(one, str) and one.isidentifier():
                    found[one] += 1
    return found
