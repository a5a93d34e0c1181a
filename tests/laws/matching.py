"""Where patterns match, worked out on the standard `ast`: a matcher that shares nothing with ours."""

from __future__ import annotations

import ast
import copy
import re
import sys
from collections.abc import Iterator

PATTERNS = [
    *("f(@{x})", "print(@{a*})", "len(@{x})", "isinstance(@{x}, @{y})", "super().@{m}(@{a*})"),
    *("@{x}.append(@{y})", "@{x}.format(@{a*})", "open(@{p}, @{a*})", "@{x}[@{i}]", "@{x}[0]"),
    *("@{x} == None", "@{x} is None", "not @{x}", "not @{a} in @{b}", "@{x} in @{y}", "-@{x}"),
    *("@{x} + @{y}", "@{x} % @{y}", "@{x} * @{x}", "@{x} and @{y}", "@{x} or @{y}", "@{x} == @{x}"),
    *("@{a} < @{b}", "@{a} < @{b} < @{c}", "@{x} if @{c} else @{y}", "lambda: @{x}", "[@{a*}]"),
    *("[]", "{}", "{@{a}, @{b}}", "(@{a+})", "@{a}, @{b}", "(@{a}, @{b}, @{c})", "*@{x}, @{y}"),
    *("any(@{x} for @{v} in @{s})", "@{e} for @{v} in @{s}", "[@{e} for @{v} in @{s}]"),
    *("[@{e} for @{v} in @{s} if @{c}]", "@{x}.@{y}", "self.@{x}", "@{x}.strip().@{y}"),
    *("1", "'utf-8'", "0.5", "True", "@{n} = @{v}", "@{n} = @{m} = @{v}", "@{a}, @{b} = @{c}"),
    *("@{n} += 1", "self.@{n} = @{v}", "@{n}: @{t} = @{v}", "return @{x}", "return @{x}, @{y}"),
    *("raise @{e}(@{a*})", "assert @{x}", "assert @{x}, @{m}", "del @{x}", "import @{m}"),
    *("if @{t}:\n    return @{x}", "if @{t}: @{b+}\nelse: @{c+}", "for @{i} in range(@{a*}): @{b+}"),
    *("while True: @{b+}", "with @{x} as @{n}: @{b+}", "with @{x}: @{b+}", "f(@{a*}, @{k}=@{v})"),
    *("try: @{b+}\nfinally: @{c+}", "@{x}(*@{a})", "@{x}(**@{k})", "await @{x}", "yield @{x}"),
    *("@{x} = @{x} + @{y}", "dict(@{k}=@{v})", "@{x}.get(@{k}, None)", "if not @{x}: @{b+}"),
    *("sorted(@{x}, key=@{k})", "@{f}(@{x}, @{x})", "(@{n} := @{v})", "@{x} ** 2", "~@{x}"),
]
"""Patterns of all kinds. In these a hole for any number is at the end of its list, or alone."""

_HOLE = re.compile(r"@\{(\w+)([?*+]?)\}")
_STEM = "hole_"


class _Elif(ast.AST):
    """An `if` that is written as `elif`: it is a clause, and no statement."""

    _fields = ("test", "body", "orelse")


def standard_tree(text: str) -> ast.Module:
    """Parse `text`, and make of the tree what docs/patterns.md says of it.

    Operators of one strength group from the left, `elif` is a clause, several indices of a subscript
    are no tuple, what `del` takes is one thing, and so is the target of a `with`; what stands in
    brackets in an annotation is the argument of a type, and a dotted name in a `case` a pattern.
    """
    tree = ast.parse(text)
    lines = [line.encode() for line in text.split("\n")]
    for node in ast.walk(tree):
        for part in (getattr(node, "annotation", None), getattr(node, "returns", None)):
            for inner in ast.walk(part) if isinstance(part, ast.AST) else ():
                inner.other = isinstance(inner, ast.Subscript)  # type: ignore[attr-defined]
        if isinstance(node, ast.pattern):
            for inner in ast.walk(node):
                inner.other = isinstance(inner, ast.Attribute)  # type: ignore[attr-defined]
        if isinstance(node, ast.BoolOp):
            _nest(node)
        if isinstance(node, ast.Subscript) and isinstance(node.slice, ast.Tuple):
            _part(node)
        if isinstance(node, ast.withitem) and isinstance(node.optional_vars, ast.Tuple):
            node.optional_vars.ctx = ast.Load()
        if isinstance(node, ast.Delete) and len(node.targets) > 1:
            several = ast.Tuple(node.targets, ast.Load())
            ast.copy_location(several, node.targets[0])
            node.targets = [several]
        if isinstance(node, ast.If) and len(node.orelse) == 1:
            (inner,) = node.orelse
            word = lines[inner.lineno - 1][inner.col_offset :]
            if isinstance(inner, ast.If) and word.startswith(b"elif"):
                clause = _Elif(test=inner.test, body=inner.body, orelse=inner.orelse)
                ast.copy_location(clause, inner)
                node.orelse = [clause]  # type: ignore[list-item]
                _clauses(clause, lines)
    return tree


def _clauses(clause: _Elif, lines: list[bytes]) -> None:
    """Make clauses of the `elif` behind one."""
    while len(clause.orelse) == 1 and isinstance(inner := clause.orelse[0], ast.If):
        if not lines[inner.lineno - 1][inner.col_offset :].startswith(b"elif"):
            return
        after = _Elif(test=inner.test, body=inner.body, orelse=inner.orelse)
        ast.copy_location(after, inner)
        clause.orelse = [after]
        clause = after


class _Indices(ast.AST):
    """Several indices of a subscript, without brackets of their own."""

    _fields = ("elts",)


def _part(node: ast.Subscript) -> None:
    indices = node.slice
    assert isinstance(indices, ast.Tuple)
    first = indices.elts[0] if indices.elts else indices
    if (first.lineno, first.col_offset) == (indices.lineno, indices.col_offset):
        bracketed = isinstance(first, ast.Tuple) and first.col_offset == indices.col_offset
        if not bracketed or indices.end_col_offset != first.end_col_offset:
            node.slice = _Indices(elts=indices.elts)  # type: ignore[assignment]


def _nest(node: ast.BoolOp) -> None:
    if len(node.values) > 2:
        first = ast.BoolOp(node.op, node.values[:-1])
        ast.copy_location(first, node)
        node.values = [first, node.values[-1]]


def places(pattern: str, tree: ast.Module) -> set[tuple[int, int]]:
    """Return line and column (in bytes) at which `pattern` matches in a `standard_tree`."""
    return set(_found(_wanted(pattern), tree))


def differences(
    ours: set[tuple[int, int]], theirs: set[tuple[int, int]]
) -> tuple[set[tuple[int, int]], set[tuple[int, int]]]:
    """Return the places that only `theirs` has, and those that only `ours` has.

    Before Python 3.12 the columns of tuples in f-strings are one less than where they are.
    """
    missed, extra = theirs - ours, ours - theirs
    if sys.version_info < (3, 12):
        shifted = {(line, at + 1) for line, at in missed} & extra
        extra -= shifted
        missed -= {(line, at - 1) for line, at in shifted}
    return missed, extra


def _wanted(pattern: str) -> ast.AST:
    if re.fullmatch(r"\(@\{\w+\+\}\)", pattern):
        pattern = pattern[:-1] + ",)"
    text = _HOLE.sub(lambda hole: f"{_STEM}{_MARKS[hole[2]]}_{hole[1]}", pattern)
    try:
        body = ast.parse(text).body
    except SyntaxError:
        body = ast.parse(f"({text})" if " for " in text else f"async def q():\n {text}").body
    if isinstance(body[0], ast.AsyncFunctionDef):
        body = body[0].body
    (node,) = body
    return node.value if isinstance(node, ast.Expr) else node


_MARKS = {"": "one", "?": "maybe", "*": "any", "+": "some"}


def _hole(node: object) -> tuple[str, str] | None:
    if isinstance(node, ast.Expr):
        node = node.value
    name = node.id if isinstance(node, ast.Name) else node
    if isinstance(node, ast.keyword):
        return None
    if isinstance(name, str) and name.startswith(_STEM):
        mark, _, rest = name.removeprefix(_STEM).partition("_")
        return mark, rest
    return None


def _found(wanted: ast.AST, tree: ast.Module) -> Iterator[tuple[int, int]]:
    for node in ast.walk(tree):
        if type(node) is not type(wanted) or _is_target(node):
            continue
        if _fits(wanted, node, {}):
            yield node.lineno, node.col_offset  # type: ignore[attr-defined]


def _is_target(node: ast.AST) -> bool:
    """Return whether a tuple or list is what is assigned to, or a node is none by itself."""
    if getattr(node, "other", False):
        return True
    return isinstance(node, (ast.Tuple, ast.List)) and isinstance(node.ctx, ast.Store)


def _fits(wanted: object, node: object, taken: dict[str, str]) -> bool:
    hole = _hole(wanted)
    if hole is not None and hole[0] == "one":
        return _takes(hole[1], node, taken)
    if isinstance(wanted, list):
        return isinstance(node, list) and _fits_row(wanted, node, taken)
    if isinstance(wanted, ast.AST):
        if type(wanted) is not type(node):
            return False
        if isinstance(wanted, ast.Call) and any(_is_many(one) for one in wanted.args):
            return _fits_call(wanted, node, taken)
        return all(
            _fits(getattr(wanted, name), getattr(node, name), taken)
            for name in wanted._fields
            if name not in ("ctx", "type_comment", "kind", "simple")
        )
    return type(wanted) is type(node) and wanted == node


def _takes(name: str, node: object, taken: dict[str, str]) -> bool:
    if node is None or isinstance(node, (ast.Starred, ast.keyword, _Indices)):
        return False
    code = node if isinstance(node, str) else ast.dump(_plain(node))
    return name == "_" or taken.setdefault(name, code) == code


def _plain(node: object) -> ast.AST:
    """Return a node in which it does not matter whether something is read or written."""
    assert isinstance(node, ast.AST)
    node = copy.deepcopy(node)
    for inner in ast.walk(node):
        if hasattr(inner, "ctx"):
            inner.ctx = ast.Load()
    return node


def _is_many(node: object) -> bool:
    hole = _hole(node)
    return hole is not None and hole[0] != "one"


def _fits_row(wanted: list[object], nodes: list[object], taken: dict[str, str]) -> bool:
    """Match a list; a hole for any number is its last item."""
    if wanted and _is_many(wanted[-1]):
        ahead = len(wanted) - 1
        hole = _hole(wanted[-1])
        assert hole is not None
        least = ahead + (hole[0] == "some")
        if len(nodes) < least or any(isinstance(node, _Elif) for node in nodes):
            return False
        nodes = nodes[:ahead]
        wanted = wanted[:-1]
    return len(wanted) == len(nodes) and all(
        _fits(one, node, taken) for one, node in zip(wanted, nodes, strict=True)
    )


def _fits_call(wanted: ast.Call, node: object, taken: dict[str, str]) -> bool:
    """Match a call with a hole for any number of arguments, those by name among them."""
    assert isinstance(node, ast.Call)
    if not _fits(wanted.func, node.func, taken):
        return False
    given = sorted([*node.args, *node.keywords], key=lambda one: (one.lineno, one.col_offset))
    return _fits_row([*wanted.args, *wanted.keywords], given, taken) if not (
        wanted.keywords
    ) else _fits_last_by_name(wanted, given, taken)


def _fits_last_by_name(wanted: ast.Call, given: list, taken: dict[str, str]) -> bool:
    """Match `f(@{a*}, @{k}=@{v})`: whatever is ahead, the last argument is one by name."""
    last = given[-1] if given else None
    if not isinstance(last, ast.keyword) or last.arg is None:
        return False
    (by_name,) = wanted.keywords
    return _fits(by_name.arg, last.arg, taken) and _fits(by_name.value, last.value, taken)
