"""No fix leaves a name without what bound it: random functions that share names, judged by Python.

YTR_CASES=100000 is the long run.
"""

from __future__ import annotations

import os
import random
import symtable
from collections import Counter

from tests.conftest import tree_of
from yellow_trellis import Rule, Ruleset
from yellow_trellis.plans import make_plan
from yellow_trellis.plans.proof.validation import prove

CASES = int(os.environ.get("YTR_CASES", "800"))
NAMES = "abcd"
RULES = [
    ("@{n: name} = @{x}", "new = @{x}"), ("@{n: name} = @{x}", "@{x}"), ("@{n: name} = @{x}", ""),
    ("a = @{x}", "b = @{x}"), ("@{n: name} = @{x}", "@{n} = f(@{x})"),
    ("for @{n: name} in @{x}:\n    @{b+}", "if @{x}:\n    @{b+}"), ("(@{n} := @{x})", "f(@{x})"),
    ("for @{n: name} in @{x}:\n    @{b+}", "for new in @{x}:\n    @{b+}"),
    ("def @{f}():\n    @{b+}", "@{b+}"), ("def @{f}():\n    @{b+}", "def new():\n    @{b+}"),
    ("with @{x} as @{n}:\n    @{b+}", "with @{x}:\n    @{b+}"), ("import @{m}", "import new"),
    ("print(@{x})", "print(new := @{x})"), ("@{n: name} += @{x}", "@{n} = @{x}"),
]


def random_code(dice: random.Random) -> str:
    """Return code whose statements share few names."""

    def lines(depth: int, indent: str) -> list[str]:
        made: list[str] = []
        for _ in range(dice.randrange(1, 4)):
            name, other = dice.choice(NAMES), dice.choice(NAMES)
            kind = dice.randrange(9 if depth else 6)
            made += {
                0: [f"{indent}{name} = {other}"], 1: [f"{indent}{name} = 1"],
                2: [f"{indent}print({name})"], 3: [f"{indent}print({name} := {other})"],
                4: [f"{indent}import {name}"], 5: [f"{indent}{name} += {other}"],
            }.get(kind, [])
            head = {6: f"def {name}():", 7: f"for {name} in {other}:", 8: f"with {other} as {name}:"}
            if kind in head:
                made += [f"{indent}{head[kind]}", *lines(depth - 1, indent + "    ")]
        return made

    return "\n".join(lines(2, "")) + "\n"


def meanings(text: str) -> Counter[tuple[str, str]]:
    """Count by name and scope kind what each scope's names are to Python: how many use each."""
    counts: Counter[tuple[str, str]] = Counter()
    todo = [symtable.symtable(text, "<case>", "exec")]
    module = {one.get_name() for one in todo[0].get_symbols() if one.is_assigned() or one.is_imported()}
    while todo:
        table = todo.pop()
        todo += table.get_children()
        for symbol in table.get_symbols():
            name = symbol.get_name()
            bound = symbol.is_assigned() or symbol.is_imported() or symbol.is_parameter()
            if symbol.is_free() or (bound and table.get_type() != "module" and symbol.is_local()):
                counts[name, "inside"] += 1
            else:
                counts[name, "module" if name in module else "nowhere"] += 1
    return counts


def test_no_fix_leaves_a_name_without_what_bound_it() -> None:
    states: Counter[str] = Counter()
    for seed in range(CASES):
        dice = random.Random(seed)
        text = random_code(dice)
        pairs = [dice.choice(RULES) for _ in range(dice.choice([1, 1, 2]))]
        rules = [Rule(f"r-{n}", summary="s", find=f, put=p) for n, (f, p) in enumerate(pairs)]
        tree = tree_of(text)
        findings, failures = Ruleset.of(rules).look(tree)
        plan = make_plan(tree, findings, with_review=True)
        new = prove(plan).tree.source.data.decode()
        told = f"seed {seed}: {pairs}\n{text}--- became\n{new}"
        assert not failures, told
        before, after = meanings(text), meanings(new)
        inner = {name for name, where in before if where == "inside"}
        for name in NAMES:
            assert after[name, "nowhere"] <= before[name, "nowhere"], f"{name}: {told}"
            if name in inner and before[name, "module"]:
                assert after[name, "module"] <= before[name, "module"], f"{name}: {told}"
        states.update(one.state for one in plan.outcomes)
    assert states["applied"] > states["refused"] > CASES / 20, states
