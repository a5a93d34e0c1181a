"""Law: code without brackets is grouped as the language's precedence says, or it is told.

The tables of a language say where an expression needs brackets, and its grammar says how code holds
together. They have to agree: where the grammar is wrong, `misgrouped` has to say so.
"""

import random

import pytest

from tests.conftest import tree_of
from yellow_trellis.fixes.template_place import in_wrappers
from yellow_trellis.syntax import Node, Tree
from yellow_trellis.syntax.misgrouped import misgrouped

SUMS = ("{} + {}", "{} - {}", "{} * {}", "{} / {}")
BITS = ("{} & {}", "{} | {}", "{} ^ {}")
TRUTH = ("{} == {}", "{} != {}", "{} < {}", "{} >= {}", "{} && {}", "{} || {}")
SUFFIXES = ("{}.m", "{}.m({})", "f({})", "{}[{}]")
PREFIXES = ("!{}", "-{}")
COMMON = (*SUMS, *TRUTH, *SUFFIXES, *PREFIXES)
FORMS: dict[str, tuple[str, str, tuple[str, ...]]] = {
    "c": ("void t() { x = ", "; }", (*COMMON, *BITS, "{} ? {} : {}", "*{}", "(int){}")),
    "cpp": ("void t() { x = ", "; }", (*COMMON, *BITS, "{} ? {} : {}", "*{}")),
    "csharp": (
        "class T { void t() { x = ", "; } }",
        (*COMMON, *BITS, "{} ? {} : {}", "{} ?? {}", "{} as T", "await {}"),
    ),
    "go": ("package a\nfunc t() { x = ", " }", (*COMMON, *BITS)),
    "java": (
        "class T { void t() { x = ", "; } }", (*COMMON, *BITS, "{} ? {} : {}", "(int) {}"),
    ),
    "javascript": (
        "async function t() { x = ", "; }", (*COMMON, *BITS, "{} ? {} : {}", "{} ** {}", "await {}", "typeof {}"),
    ),
    "typescript": (
        "async function t() { x = ", "; }",
        (*COMMON, *BITS, "{} ? {} : {}", "{} ?? {}", "{} as T", "{}!", "await {}", "typeof {}"),
    ),
    "pascal": (
        "procedure t; begin x := ", "; end;",
        (*SUMS, *SUFFIXES, "{} = {}", "{} < {}", "{} and {}", "{} or {}", "not {}", "-{}"),
    ),
    "php": ("<?php $x = ", ";", (*SUMS, *TRUTH, *BITS, *PREFIXES, "f({})", "{} ? {} : {}")),
    "python": (
        "x = ", "\n",
        (*SUMS, *BITS, *SUFFIXES, "{} == {}", "{} < {}", "{} and {}", "{} or {}", "not {}", "-{}",
         "{} if {} else {}", "{} ** {}", "lambda: {}"),
    ),
    "ruby": ("x = ", "\n", (*COMMON, *BITS, "{} ? {} : {}", "{} ** {}")),
    "rust": ("fn t() { x = ", "; }", (*COMMON, *BITS, "*{}", "&{}", "{} as T", "{}?")),
    "swift": (
        "x = ", "\n", (*COMMON, "{} ? {} : {}", "{} ?? {}", "{} as T", "try {}", "await {}", "{}!"),
    ),
}


def expression(rng: random.Random, forms: tuple[str, ...], depth: int, sign: str) -> str:
    """Return an expression in which each operand that is more than a name stands in brackets."""
    if not depth or rng.random() < 0.3:
        return sign + rng.choice("abcde")
    form = rng.choice(forms)
    operands = [expression(rng, forms, depth - 1, sign) for _ in range(form.count("{}"))]
    return form.format(*(it if len(it) == len(sign) + 1 else f"({it})" for it in operands))


def without_brackets(tree: Tree) -> str:
    """Return code without the brackets that its precedence does not ask for."""
    data, drops = tree.source.data, []
    for node in tree.root.walk():
        if _are_brackets(node) and _is_free(node):
            drops += [node.start, node.end - 1]
    return bytes(byte for at, byte in enumerate(data) if at not in drops).decode()


def _are_brackets(node: Node) -> bool:
    """Return whether a node is brackets around one expression."""
    if node.kind == "tuple_expression":  # that is what they are in Swift
        return len(node.items) == 3
    return node.kind in node.tree.language.brackets and len(node.items) == 1


def _is_free(brackets: Node) -> bool:
    language, above, data = brackets.tree.language, brackets.parent, brackets.tree.source.data
    if above is None:
        return False
    inner = in_wrappers(brackets.items[-2 if len(brackets.items) == 3 else 0])
    beside = data[brackets.start - 1 : brackets.start] + data[inner.start : inner.start + 1]
    if all(byte in b"!-*&+~" for byte in beside):
        return False  # two operators would become one
    return language.precedence.stands_bare(
        inner, language.precedence.demand(above, brackets.field)
    )


def grouping(node: Node) -> object:
    """Return how code holds together: its names and operators, without brackets and wrappers."""
    while _are_brackets(node):
        node = node.items[-2 if len(node.items) == 3 else 0]
    items = [grouping(item) for item in node.items]
    if len(items) == 3 and (sign := items[1]) in ("&&", "||"):  # it is all one from which side
        return tuple(
            part
            for side in (items[0], items[2])
            for part in (side if isinstance(side, tuple) and side[1:2] == (sign,) else (side, sign))
        )
    return node.text if not items else items[0] if len(items) == 1 else tuple(items)


@pytest.mark.parametrize("name", FORMS)
def test_code_is_grouped_as_the_precedence_of_the_language_says(name: str) -> None:
    before, after, forms = FORMS[name]
    rng = random.Random(name)
    sign = "$" if name == "php" else ""
    told = dropped = 0
    for _ in range(400):
        full = before + expression(rng, forms, 3, sign) + after
        tree = tree_of(full, name)
        if tree.errors or misgrouped(tree):
            continue
        bare = without_brackets(tree)
        dropped += bare != full
        second = tree_of(bare, name)
        told += bool(second.errors or misgrouped(second))
        if not second.errors and not misgrouped(second):
            assert grouping(tree.root) == grouping(second.root), f"{bare} is not {full}"
    assert dropped > 100
    assert told < dropped / 2
