"""What a fix puts into a string is its value, wherever the string stands and whatever moves it."""

from __future__ import annotations

import ast
import random

from tests.conftest import tree_of
from yellow_trellis import Finding, fix
from yellow_trellis.plans import make_plan
from yellow_trellis.plans.proof.validation import prove

LINES = ["a", "  b", "", "\tc", "    d", "e #", "f: {", "if g:"]
WRAPS = [
    "{}", "if a:\n    {}", "def f():\n    if a:\n        {}", "class A:\n\tdef f(self):\n\t\t{}",
    "f(\n    b,\n    {},\n)",
]


def test_what_is_put_into_a_string_is_its_value() -> None:
    for seed in range(300):
        dice = random.Random(seed)
        wrap, quote = dice.choice(WRAPS), dice.choice(['"""', "'''"])
        value = "\n".join(dice.choices(LINES, k=dice.randrange(1, 5)))
        code = wrap.format(f"{quote}old\n  text{quote}") + "\n"
        code = code.replace("\n", "\r\n") if dice.random() < 0.3 else code
        tree = tree_of(code)
        (content,) = tree.of_kinds(frozenset({"string_content"}))
        fixes = [fix("Say it").replace(content, value)]
        if "if a" in wrap and dice.random() < 0.5:
            (condition,) = tree.of_kinds(frozenset({"if_statement"}))
            fixes.append(fix("Do it always").unwrap(condition))
        if "f(\n" in wrap and dice.random() < 0.5:
            (items,) = tree.of_kinds(frozenset({"argument_list"}))
            fixes.append(fix("In a call").wrap(items.parent, "g(\n    ", ",\n)"))
        findings = [
            Finding("rule", "warning", made.extent, "m", (made,))
            for one in fixes
            if (made := one.made(content.span)) is not None
        ]
        plan = make_plan(tree, findings, with_review=True)
        new = prove(plan).tree.source.data.decode()
        told = f"seed {seed}: {value!r}\n{code}\n--- became\n{new}\n{plan.outcomes}"
        assert [one.state for one in plan.outcomes].count("refused") == 0, told
        values = [n.value for n in ast.walk(ast.parse(new)) if isinstance(n, ast.Constant)]
        assert values == [value], told
