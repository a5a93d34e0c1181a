"""A statement that is wrapped is in what is put around it, and one that is unwrapped is not.

Judged on the trees of Python, in random code with odd layout. YTR_CASES=100000 is the long run.
"""

from __future__ import annotations

import ast
import os
import random
from collections import Counter

from tests.conftest import tree_of
from tests.laws import oracle
from tests.laws.code import compiles, random_code
from yellow_trellis import Finding, fix
from yellow_trellis.plans import make_plan
from yellow_trellis.plans.proof.validation import prove

CASES = int(os.environ.get("YTR_CASES", "800"))
WRAPS = [
    ("if new:\n    ", ""), ("with new:\n    ", "\nnew()"), ("try:\n    ", "\nfinally:\n    new()"),
    ("for new in x:\n    if new:\n        ", ""), ("if new:\n    ", "\nelse:\n    new()"),
    ("if new: ", ""),
]


class _Replaced(ast.NodeTransformer):
    """Puts statements in the place of one."""

    def __init__(self, target: ast.stmt, nodes: list[ast.stmt]) -> None:
        self.target, self.nodes = target, nodes

    def visit(self, node: ast.AST) -> object:
        return self.nodes if node is self.target else super().visit(node)


class _Hole(ast.NodeTransformer):
    def __init__(self, node: ast.stmt) -> None:
        self.node = node

    def visit_Expr(self, node: ast.Expr) -> ast.stmt:
        is_hole = isinstance(node.value, ast.Name) and node.value.id == "hole"
        return self.node if is_hole else node


def case(seed: int) -> tuple[str, str]:
    """Return the state of a case, and what is wrong with it."""
    dice = random.Random(seed)
    text = random_code(dice)
    tree = tree_of(text)
    bodies = [node for node in tree.of_kinds(frozenset({"block", "module"})) if node.items]
    statement = dice.choice(dice.choice(bodies).items)
    places = oracle.Places(text)
    try:
        target = places.of(statement)
    except oracle.Unclear:
        return "unclear", ""
    if isinstance(target, ast.expr):
        target = next(
            (n for n in ast.walk(places.tree) if isinstance(n, ast.Expr) and n.value is target), target
        )
    if not isinstance(target, ast.stmt):
        return "unclear", ""
    unwraps = statement.kind in ("if_statement", "with_statement", "while_statement")
    if unwraps and dice.random() < 0.7:
        made = fix("Do it always").unwrap(statement)
        told, nodes = "unwrap", target.body
        if getattr(target, "orelse", None):
            return "unclear", ""
    else:
        head, tail = dice.choice(WRAPS)
        made = fix("Wrap it").wrap(statement, head, tail)
        told = f"wrap {head!r} {tail!r}"
        nodes = [_Hole(target).visit(node) for node in ast.parse(f"{head}hole{tail}").body]
    new_fix = made.made(statement.span)
    assert new_fix is not None
    finding = Finding("rule", "warning", statement.span, "m", (new_fix,))
    plan = make_plan(tree, [finding], with_review=True)
    new = prove(plan).tree.source.data.decode()
    story = f"seed {seed}: {told}: {statement.text}\n{text}\n--- became\n{new}\n{plan.outcomes[0].reason}"
    state = plan.outcomes[0].state
    if state != "applied":
        return state, "" if new == text else f"refused and changed: {story}"
    wanted = _Replaced(target, nodes).visit(places.tree)
    if not compiles(new) or oracle.shape(oracle.tree_of(new)) != oracle.shape(wanted):
        return "wrong", f"another tree: {story}"
    if oracle.comments_of(new) != oracle.comments_of(text):
        return "wrong", f"other comments: {story}"
    return state, ""


def test_wraps_hold_what_they_wrap() -> None:
    states: Counter[str] = Counter()
    for seed in range(CASES):
        state, wrong = case(seed)
        assert not wrong, wrong
        states[state] += 1
    assert states["applied"] > 2 * states["refused"] > 0, states
