"""Check that the laws notice each part of the planner: take it out, and look.

Usage: python benchmarks/law_mutants.py [--cases N] [--only NAME]

Runs the random cases of tests/laws with one part taken out at a time, and prints after how many
cases of each kind a law is broken. What one check lets through another one may refuse: then so many
good fixes more are refused. Exits with 1 if neither shows in N cases of both kinds.
"""

from __future__ import annotations

import argparse
import sys
import time
from collections import Counter
from collections.abc import Callable, Iterable
from contextlib import AbstractContextManager, ExitStack
from pathlib import Path
from unittest.mock import patch

sys.path.insert(0, str(Path(__file__).resolve().parents[1]))

from tests.laws import (
    test_bound_names,
    test_dropped_imports,
    test_evaluated,
    test_javascript,
    test_jumps,
    test_neighbours,
    test_pairs,
    test_string_values,
    test_wraps,
)
from tests.laws.judge import fault_of_rules, fault_of_verbs
from tests.names.judge import judged
from yellow_trellis.edits.edit import Neighbour
from yellow_trellis.fixes import builder, template_rewrite
from yellow_trellis.fixes.template_layout import Layout
from yellow_trellis.fixes.template_rewrite import _Job
from yellow_trellis.languages.precedence import Precedence
from yellow_trellis.plans import overlap, plan, refusals, render
from yellow_trellis.plans.candidate import Candidate
from yellow_trellis.plans.proof import checker, validation
from yellow_trellis.plans.proof.amendment import ProofText
from yellow_trellis.plans.proof.checker import Attempt, Checker
from yellow_trellis.plans.proof.structure import Differences
from yellow_trellis.semantics.python import import_removal
from yellow_trellis.semantics.python.renaming import run_time, texts
from yellow_trellis.syntax import Node


Law = Callable[[], None]


def _block_around(statement: Node) -> Node | None:
    """Return any block that holds nothing but a statement."""
    body = statement.parent
    return body.parent if body is not None and len(body.items) == 1 else None


def _lost_only(
    self: Checker, draft: ProofText, chosen: list[Candidate]
) -> checker.TextFault | None:
    """Find only the comments that are lost."""
    after = Counter(comment.data for comment in draft.tree.comments())
    return checker.TextFault("comment loss", "lost") if self.comments - after else None


MUTANTS: dict[str, Callable[[], Iterable[AbstractContextManager[object]]]] = {
    "the compiler": lambda: [patch.object(Checker, "compiled_before", False)],
    "the tree outside": lambda: [patch.object(checker, "differences", lambda *_: Differences())],
    "the template's tree": lambda: [patch.object(Checker, "_misshapen", lambda *_, **__: set())],
    "comments": lambda: [
        patch.object(Checker, "_comment_fault", lambda *_: None),
        patch.object(refusals, "_lost_comment", lambda *_: None),
    ],
    "what is added": lambda: [patch.object(Checker, "_unwritten", lambda *_: set())],
    "two readings": lambda: [patch.object(checker, "_misread", lambda _: [])],
    "text that is shown": lambda: [patch.object(refusals, "_changes_text", lambda *_: False)],
    "verbs of one fix": lambda: [patch.object(overlap, "_compare_own", lambda *_: None)],
    "fixes that meet": lambda: [patch.object(overlap, "_compare", lambda *_: None)],
    "brackets afterwards": lambda: [patch.object(checker, "bracketed", lambda draft, _: draft)],
    "brackets": lambda: [
        patch.object(_Job, "_needs_brackets", lambda *_: False),
        patch.object(Layout, "bars_break", lambda *_: False),
        patch.object(checker, "bracketed", lambda draft, _: draft),
    ],
    "indentation": lambda: [patch.object(Layout, "redepth", lambda *_: ())],
    "the compiler's tree": lambda: [
        patch.object(checker, "misread_after", lambda *_: []),
        patch.object(plan, "misread_before", lambda *_: []),
    ],
    "comments that stand twice": lambda: [
        patch.object(template_rewrite, "left_behind", lambda *_: ()),
        patch.object(Checker, "_comment_fault", _lost_only),
    ],
    "empty bodies": lambda: [patch.object(checker, "fill_bodies", lambda *_: [])],
}


def _fault_of_all(
    dropped: list[Candidate], failed: Attempt, _: Checker
) -> dict[int, tuple[str, str]]:
    """Blame the fault of the whole text on each fix."""
    assert failed.fault is not None
    return {c.number: (failed.fault.kind, failed.fault.reason) for c in dropped}


def _jump_cases() -> None:
    """Put code with jumps into functions and loops of each language."""
    for case in test_jumps.CASES:
        test_jumps.test_a_jump_leaves_what_it_left(case)


def _renamed(most: int) -> None:
    """Rename in so many random programs, which do the same after it."""
    for seed in range(most):
        assert judged("rename", seed).state != "wrong"


LAWS: dict[str, tuple[Law, Callable[[], Iterable[AbstractContextManager[object]]]]] = {
    "names that are still in use": (
        test_bound_names.test_no_fix_leaves_a_name_without_what_bound_it,
        lambda: [patch.object(checker, "lost_name", lambda *_: "")],
    ),
    "jumps": (
        _jump_cases,
        lambda: [patch.object(checker, "captured_jumps", lambda *_: ())],
    ),
    "values of strings": (
        test_string_values.test_what_is_put_into_a_string_is_its_value,
        lambda: [patch.object(builder, "in_string", lambda *_: False)],
    ),
    "values of strings that move": (
        test_string_values.test_what_is_put_into_a_string_is_its_value,
        lambda: [patch.object(render.Renderer, "_is_code", lambda *_: True)],
    ),
    "imports that go by themselves": (
        test_dropped_imports.test_an_import_goes_by_itself,
        lambda: [patch.object(import_removal, "_block_for_types", _block_around)],
    ),
    "comments of imports": (
        test_dropped_imports.test_an_import_goes_by_itself,
        lambda: [
            patch.object(import_removal, "attached", lambda _: ()),
            patch.object(Checker, "_comment_fault", lambda *_: None),
        ],
    ),
    "depth of what is wrapped": (
        test_wraps.test_wraps_hold_what_they_wrap,
        lambda: [patch.object(builder, "moved_indent", lambda *_: None)],
    ),
    "fixes that spoil each other": (
        test_neighbours.test_two_fixes_that_are_right_alone_are_never_both_refused,
        lambda: [patch.object(validation, "first_touching", lambda *_: {})],
    ),
    "ties of statements": (
        test_pairs.test_a_conflict_is_told_where_the_order_matters_and_nowhere_else,
        lambda: [patch.object(overlap, "_compare_neighbours", lambda *_: None)],
    ),
    "what stands outside": (
        test_pairs.test_a_conflict_is_told_where_the_order_matters_and_nowhere_else,
        lambda: [patch.object(Neighbour, "level", 0)],
    ),
    "fixes beside one that fails": (
        test_neighbours.test_a_fix_that_fails_takes_no_other_with_it,
        lambda: [patch.object(validation, "_own_faults", _fault_of_all)],
    ),
    "chains that end early": (
        test_javascript.test_what_is_written_does_what_it_does_in_brackets,
        lambda: [patch.object(Precedence, "_is_marked", lambda *_: False)],
    ),
    "operators that do not chain": (
        lambda: test_evaluated.test_what_is_written_gives_what_it_gives_in_brackets("php"),
        lambda: [patch.object(template_rewrite, "in_wrappers", lambda node: node)],
    ),
    "a brace behind a command": (
        lambda: test_evaluated.test_what_is_written_gives_what_it_gives_in_brackets("ruby"),
        lambda: [
            patch.object(checker, "_unbracketed", lambda _: []),
            patch.object(checker, "_newly_misread", lambda *_: ()),
        ],
    ),
    "starts of statements": (
        test_javascript.test_what_is_written_does_what_it_does_in_brackets,
        lambda: [
            patch.object(checker, "_unbracketed", lambda _: []),
            patch.object(checker, "_newly_misread", lambda *_: ()),
        ],
    ),
    "names that a program reaches by text": (
        lambda: _renamed(2400),
        lambda: [
            patch.object(run_time.RunTime, "places", lambda _: iter(())),
            patch.object(texts.Texts, "_is_asked_nearby", False),
        ],
    ),
}
"""Laws with random cases of their own, each with what is taken out of what it holds."""


def told(most: int) -> tuple[Counter[str], dict[str, int]]:
    """Return the states of so many cases, and by kind after how many of them a law is broken."""
    states: Counter[str] = Counter()
    broken: dict[str, int] = {}
    for name, fault in (("rules", fault_of_rules), ("verbs", fault_of_verbs)):
        for seed in range(most):
            state, wrong = fault(seed)
            states[f"{name} {state}"] += 1
            if wrong:
                broken[name] = seed + 1
                break
    return states, broken


def main() -> None:
    """Run it and print a line for each part."""
    parser = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    parser.add_argument("--cases", type=int, default=4000)
    parser.add_argument("--only", choices=sorted([*MUTANTS, *LAWS]))
    given = parser.parse_args()
    whole, broken = told(given.cases)
    print(f"{'nothing taken out':22} {dict(whole)} {broken}", flush=True)
    missed = 0
    for name, mutants in MUTANTS.items():
        if given.only not in (None, name):
            continue
        began = time.monotonic()
        with ExitStack() as stack:
            for mutant in mutants():
                stack.enter_context(mutant)
            states, broken = told(given.cases)
        signs = [f"broken after {after} cases of {kind}" for kind, after in broken.items()]
        for state in ("rules refused", "rules part", "verbs refused"):
            kind, _, how = state.partition(" ")
            if kind not in broken and states[state] != whole[state]:
                signs.append(f"{kind}: {whole[state]} {how} became {states[state]}")
        missed += not signs
        print(f"{name:22} {', '.join(signs) or 'NOT NOTICED'}  ({time.monotonic() - began:.0f} s)")
    for name, (law, mutants) in LAWS.items():
        if given.only not in (None, name):
            continue
        with ExitStack() as stack:
            for mutant in mutants():
                stack.enter_context(mutant)
            is_noticed = _fails(law)
        missed += not is_noticed
        print(f"{name:28} {'noticed' if is_noticed else 'NOT NOTICED'}", flush=True)
    sys.exit(1 if missed else 0)


def _fails(law: Law) -> bool:
    try:
        law()
    except AssertionError:
        return True
    return False


if __name__ == "__main__":
    main()
