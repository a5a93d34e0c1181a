"""An import that loses its last use goes by itself: no branch, no condition, no comment with it.

YTR_CASES=100000 is the long run.
"""

from __future__ import annotations

import ast
import os
import random

from tests.conftest import rules_of, tree_of
from tests.laws import oracle
from yellow_trellis.plans import make_plan
from yellow_trellis.plans.proof.validation import prove

CASES = int(os.environ.get("YTR_CASES", "800"))
IMPORTS = [
    "from m import g", "from m import g, k", "import g", "from m import (\n    g,\n)", "import os, g",
    "from m import x as g",
]


def random_code(dice: random.Random) -> str:
    """Return code with an import of `g` somewhere, of which the only use is a call that goes."""

    def comment() -> str:
        return dice.choice(["", "", "", f"  # c{dice.randrange(99)}"])

    def body(indent: str, depth: int, lines: int) -> list[str]:
        made: list[str] = []
        for _ in range(lines):
            kind = dice.randrange(8 if depth else 2)
            if kind == 0:
                made.append(f"{indent}run({dice.randrange(9)}){comment()}")
            elif kind == 1:
                text = dice.choice(IMPORTS).replace("\n", "\n" + indent)
                made.append(f"{indent}{text}{comment()}")
            else:
                made += compound(indent, depth, kind)
        return made

    def compound(indent: str, depth: int, kind: int) -> list[str]:
        def inner() -> list[str]:
            return body(indent + "    ", depth - 1, dice.choice([1, 1, 2]))

        heads = {
            2: ["if a():", "elif b():", "else:"], 3: ["if TYPE_CHECKING:", "else:"],
            4: ["while a():", "else:"], 5: ["for i in a():", "else:"], 6: ["with a():"],
            7: ["if (n := a()):", "elif c:"],
        }[kind]
        made: list[str] = []
        for head in heads[: dice.randrange(1, len(heads) + 1)]:
            made += [f"{indent}{head}{comment()}", *inner()]
        return made

    lines = ["from typing import TYPE_CHECKING", *body("", 2, dice.randrange(1, 4)), "g(1)"]
    return "\n".join(lines) + "\n"


def shape(text: str) -> str:
    """Return the tree of a text without imports, and what is left empty by that."""
    tree = oracle.without_pass(oracle.without_imports(oracle.tree_of(text)))
    return oracle.shape(_Without().visit(tree))


class _Without(ast.NodeTransformer):
    """Takes out blocks for type checkers in which nothing is left."""

    def visit_If(self, node: ast.If) -> ast.AST | None:
        self.generic_visit(node)
        is_types = isinstance(node.test, ast.Name) and node.test.id == "TYPE_CHECKING"
        return None if is_types and not node.body and not node.orelse else node


def test_an_import_goes_by_itself() -> None:
    dropped = 0
    for seed in range(CASES):
        dice = random.Random(seed)
        text = random_code(dice)
        tree = tree_of(text)
        findings, _ = rules_of(("g(@{x})", "h(@{x})")).look(tree)
        plan = make_plan(tree, findings, with_review=True)
        new = prove(plan).tree.source.data.decode()
        told = f"seed {seed}:\n{text}--- became\n{new}{plan.outcomes}"
        assert shape(new) == shape(text.replace("g(1)", "h(1)")), told
        assert oracle.comments_of(new) == oracle.comments_of(text), told
        dropped += new.count("import") < text.count("import")
    assert dropped > CASES / 8
