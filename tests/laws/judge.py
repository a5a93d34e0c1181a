"""One random case: code, rules or verbs, and what is wrong with what comes of them."""

from __future__ import annotations

import ast
import copy
import random
import re
from collections import Counter
from collections.abc import Sequence

from tests.conftest import tree_of
from tests.laws import oracle
from tests.laws.code import compiles, random_code
from tests.laws.rules import HOLES, random_rule
from tests.laws.verbs import random_chain
from yellow_trellis import Finding, Rule, Ruleset, Span
from yellow_trellis.plans import make_plan
from yellow_trellis.plans.proof.validation import prove
from yellow_trellis.rules import RuleError

_NAME = re.compile(r"\b(?:k?v|new)\d+\b")
_TRIES = 6
"""How many rules are tried on some code until one finds something."""


def fault_of_rules(seed: int) -> tuple[str, str]:
    """Return the state of a case of one or two rules, and what is wrong; empty if nothing is.

    A case of which some fixes are applied and some refused is in ``part``.

    Of every fourth case the text with other line endings has to become the same.
    """
    rng = random.Random(seed)
    text = random_code(rng)
    tree = tree_of(text)
    for _ in range(_TRIES):
        pairs = [random_rule(rng) for _ in range(rng.choice([1, 1, 2]))]
        try:
            rules = [
                Rule(f"rule-{n}", summary="s", find=find, put=put)
                for n, (find, put) in enumerate(pairs)
            ]
            for rule in rules:
                rule.prepare()
        except RuleError:
            continue
        findings, _ = Ruleset.of(rules).look(tree)
        if findings:
            break
    else:
        return "none", ""
    plan = make_plan(tree, findings, with_review=True)
    new = prove(plan).tree.source.data.decode()
    told = f"seed {seed}: {pairs}\n{text}\n--- became\n{new}"
    if seed % 4 == 0 and "\r" not in text:
        other = tree_of(text.replace("\n", "\r\n"))
        found, _ = Ruleset.of(rules).look(other)
        data = prove(make_plan(other, found, with_review=True)).tree.source.data
        if data != new.replace("\n", "\r\n").encode():
            return "wrong", f"another text with other line endings: {told}\n--- and\n{data!r}"
    if wrong := _wrong_with_text(text, new, [put for _, put in pairs]):
        return "wrong", f"{wrong}: {told}"
    applied = [
        oracle.Applied(one.finding.match, pairs[int(one.finding.rule[-1])][1])
        for one in plan.outcomes
        if one.state in ("applied", "composed")
    ]
    try:
        wanted = oracle.shape(oracle.without_pass(oracle.expected(text, applied, HOLES)))
    except (oracle.Unclear, SyntaxError, ValueError):
        return "unclear", ""
    if oracle.shape(oracle.without_pass(oracle.tree_of(new))) != wanted:
        return "wrong", f"another tree: {told}"
    if any(one.state == "refused" for one in plan.outcomes):
        return ("part" if applied else "refused"), ""
    return "applied", ""


def fault_of_verbs(seed: int) -> tuple[str, str]:
    """Return the state of a case of up to three verbs in one fix, and what is wrong with it."""
    rng = random.Random(seed)
    text = random_code(rng)
    tree = tree_of(text)
    chain = random_chain(rng, tree, rng.choice([1, 2, 2, 3]))
    fix = chain.builder.made(Span(0, 0))
    if fix is None:
        return "none", ""
    plan = make_plan(tree, [Finding("rule", "warning", fix.extent, "m", (fix,))], with_review=True)
    new = prove(plan).tree.source.data.decode()
    told = f"seed {seed}: {chain.told}\n{text}\n--- became\n{new}"
    if wrong := _wrong_with_text(text, new):
        return "wrong", f"{wrong}: {told}"
    state = plan.outcomes[0].state
    if state != "applied":
        return state, "" if new == text else f"a fix that is {state} changes code: {told}"
    before = Counter(name for name in _NAME.findall(text) if name not in chain.gone)
    lost, extra = _differences(before + chain.added, Counter(_NAME.findall(new)))
    if lost or extra:
        return "wrong", f"lost {lost}, too many {extra}: {told}"
    if (gone := _lost_statement(text, new, chain.touched)) is not None:
        return "wrong", f"changed `{gone}`, which no verb touches: {told}"
    return "applied", ""


def _wrong_with_text(old: str, new: str, added: Sequence[str] = ()) -> str:
    """Return what is wrong with a new text, whatever its tree: `added` is what templates add."""
    if not compiles(new):
        return "it does not compile any more"
    before, after = oracle.comments_of(old), oracle.comments_of(new)
    if gone := before - after:
        return f"comments are lost: {sorted(gone)}"
    if more := [text for text in after - before if not any(text in put for put in added)]:
        return f"comments stand twice: {more}"
    lines = set(old.splitlines())
    if trailing := [one for one in new.splitlines() if one != one.rstrip() and one not in lines]:
        return f"space ends a line: {trailing}"
    return ""


def _differences(wanted: Counter[str], there: Counter[str]) -> tuple[list[str], list[str]]:
    return sorted((wanted - there).elements()), sorted((there - wanted).elements())


def _lost_statement(old: str, new: str, touched: list[tuple[int, int]]) -> str | None:
    """Return a statement outside of all that a fix is about which is not there any more."""
    if "\r" in old:
        return None
    there = {
        oracle.shape(node) for node in ast.walk(oracle.tree_of(new)) if isinstance(node, ast.stmt)
    }
    for span, nodes in oracle.Places(old).by_span.items():
        if any(start < span[1] and span[0] < end for start, end in touched):
            continue
        for node in nodes:
            if isinstance(node, ast.stmt) and oracle.shape(copy.deepcopy(node)) not in there:
                return ast.unparse(node)
    return None
