"""Random rules over real code, each fix judged by Python's own compiler and `ast`.

Usage: python benchmarks/proof_trials.py [FOLDER] [--rules N] [--every N] [--seed N]

Each rule is a random pattern with a random template (see tests/laws). It is applied for one round
to every file of the folder (the standard library if left out; --every takes only each Nth) that has
a match. A file must compile as before, keep its comments, and become just the tree that the oracle
of tests/laws works out without our matcher. Exits with 1 when one does not.
"""

from __future__ import annotations

import argparse
import random
import sys
import sysconfig
import time
from collections import Counter
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path

sys.path.insert(0, str(Path(__file__).resolve().parents[1]))

from tests.laws import oracle
from tests.laws.code import compiles, python_files
from tests.laws.rules import HOLES, random_rule
from yellow_trellis import Rule, Ruleset, Tree
from yellow_trellis.languages import language
from yellow_trellis.plans import make_plan
from yellow_trellis.plans.proof.validation import prove
from yellow_trellis.rules import RuleError
from yellow_trellis.source import Source


def rules_of(count: int, seed: int) -> list[tuple[str, str]]:
    """Return so many random rules that can be used."""
    rng = random.Random(seed)
    made: list[tuple[str, str]] = []
    while len(made) < count:
        find, put = random_rule(rng)
        try:
            Rule("trial", summary="s", find=find, put=put).prepare()
        except RuleError:
            continue
        made.append((find, put))
    return made


def judge(path: Path, pairs: list[tuple[str, str]]) -> tuple[Counter[str], list[str], Counter[str]]:
    """Apply each rule to a file; return counts, what is wrong, and the reasons of refusals."""
    counts: Counter[str] = Counter()
    wrong: list[str] = []
    reasons: Counter[str] = Counter()
    try:
        text = path.read_text("utf-8")
    except (OSError, UnicodeDecodeError):
        return counts, wrong, reasons
    if not compiles(text):
        return counts, wrong, reasons
    counts["lines"] += text.count("\n")
    tree = Tree(Source(text.encode(), path=str(path)), language("python"))
    if tree.errors:
        return counts, wrong, reasons
    for find, put in pairs:
        rule = Rule("trial", summary="s", find=find, put=put)
        findings, _ = Ruleset.of([rule]).look(tree)
        if not findings:
            continue
        told = f"{path}: {find!r} => {put!r}"
        try:
            plan = make_plan(tree, findings, with_review=True)
            new = prove(plan).tree.source.data.decode()
        except Exception as error:
            counts["crashes"] += 1
            wrong.append(f"{told}: raised {error!r}")
            continue
        counts["files"] += 1
        states = Counter(outcome.state for outcome in plan.outcomes)
        counts.update(states)
        reasons.update(
            f"{outcome.reason.partition(': it wanted')[0]}  ({find!r} => {put!r})"
            for outcome in plan.outcomes
            if outcome.state == "refused"
        )
        if not compiles(new):
            counts["broken"] += 1
            wrong.append(f"{told}: does not compile any more")
            continue
        if oracle.comments_of(text) - oracle.comments_of(new):
            counts["comments lost"] += 1
            wrong.append(f"{told}: lost a comment")
        applied = [
            oracle.Applied(outcome.finding.match, put)
            for outcome in plan.outcomes
            if outcome.state in ("applied", "composed")
        ]
        try:
            tree_wanted = oracle.expected(text, applied, HOLES)
            wanted = oracle.shape(oracle.without_imports(tree_wanted))
        except (oracle.Unclear, SyntaxError, ValueError, RecursionError):
            counts["unclear to the oracle"] += 1
            continue
        if oracle.shape(oracle.without_imports(oracle.tree_of(new))) != wanted:
            counts["other tree"] += 1
            wrong.append(f"{told}: becomes another tree")
    return counts, wrong, reasons


def main() -> None:
    """Run it and print what was counted."""
    parser = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    parser.add_argument("folder", nargs="?", default=sysconfig.get_path("stdlib"), type=Path)
    parser.add_argument("--rules", type=int, default=40, metavar="N")
    parser.add_argument("--every", type=int, default=1, metavar="N")
    parser.add_argument("--seed", type=int, default=1, metavar="N")
    given = parser.parse_args()
    started = time.perf_counter()
    pairs = rules_of(given.rules, given.seed)
    files = python_files(given.folder, given.every)
    counts: Counter[str] = Counter()
    reasons: Counter[str] = Counter()
    wrong: list[str] = []
    with ProcessPoolExecutor() as pool:
        for found in pool.map(judge, files, [pairs] * len(files), chunksize=8):
            counts.update(found[0])
            wrong += found[1]
            reasons.update(found[2])
    print(f"{len(pairs)} rules, {len(files):,} files, {time.perf_counter() - started:.0f} s")
    print(", ".join(f"{count:,} {what}" for what, count in counts.most_common()))
    for reason, count in reasons.most_common(12):
        print(f"    {count:,} refused: {reason}")
    for one in wrong[:40]:
        print(one)
    if wrong:
        sys.exit(1)


if __name__ == "__main__":
    main()
