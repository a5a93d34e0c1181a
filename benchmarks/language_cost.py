"""Measure what rules cost in a language, as ratios to the bare parse of the same files.

Usage: python benchmarks/language_cost.py LANGUAGE FOLDER [--files N] [--seed N]

The rules are made of code of the folder that is not measured: 25 that rename a call of a random
name, and 15 pieces of code with up to three of their parts as holes, of which a name is left: what
is all holes matches on every line, and nobody writes such a rule. Told are the median of five rules
for a call, each alone, and all forty at once. Each figure is the best of three. Files of less than
2,000 bytes are left out: what they cost is what it costs to open a file.
"""

from __future__ import annotations

import argparse
import gc
import random
import re
import time
from collections.abc import Callable
from pathlib import Path
from statistics import median

from language_trials import cut, trees_in, with_holes

from yellow_trellis import Rule, RuleError, Ruleset, RunOptions, run
from yellow_trellis.languages import Language, language

CALLS, PIECES = 25, 15
SMALLEST = 2000


def rules_of(paths: list[Path], spoken: Language, rng: random.Random) -> list[Rule]:
    """Return forty rules made of code: those of calls first."""
    names: set[str] = set()
    pieces: list[str] = []
    for _, tree in trees_in(paths, spoken):
        for node in tree.root.walk():
            if node.kind in (spoken.family("call") or frozenset()):
                if match := re.match(r"([a-zA-Z_]\w{3,})\(", node.text):
                    names.add(match[1])
        if (node := cut(tree, rng)) is not None:
            pattern = with_holes(node, rng)
            names_there = {below.text for below in node.walk() if below.kind in names_of(spoken)}
            kept = (rf"\b{re.escape(name)}\b" for name in names_there if len(name) > 3)
            if any(re.search(name, pattern) for name in kept):
                pieces.append(pattern)
        tree.release()
    calls = [(f"{name}(@{{a*}})", f"{name}_(@{{a*}})") for name in sorted(names)]
    rng.shuffle(calls)
    rules: list[Rule] = []
    for entries, count in ((calls, CALLS), ([(piece, None) for piece in pieces], PIECES)):
        wanted = len(rules) + count
        for find, put in entries:
            if len(rules) == wanted:
                break
            name = f"rule-{len(rules)}"
            try:
                rule = Rule(name, summary="s", find=find, put=put, language=spoken.name)
                rule.prepare()
            except RuleError:
                continue
            rules.append(rule)
    return rules


def names_of(spoken: Language) -> frozenset[str]:
    """Return the kinds of names."""
    return frozenset(spoken.family("name") or ())


def best(work: Callable[[], object]) -> float:
    """Return the seconds of the best of three."""
    times = []
    for _ in range(3):
        gc.collect()
        start = time.perf_counter()
        work()
        times.append(time.perf_counter() - start)
    return min(times)


def main() -> None:
    """Measure and print."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("language")
    parser.add_argument("folder", type=Path)
    parser.add_argument("--files", type=int, default=250)
    parser.add_argument("--seed", type=int, default=1)
    wish = parser.parse_args()
    spoken, rng = language(wish.language), random.Random(wish.seed)
    paths = sorted(
        path
        for path in wish.folder.rglob("*")
        if path.suffix.lower() in spoken.suffixes and path.stat().st_size >= SMALLEST
    )
    rng.shuffle(paths)
    rules = rules_of(paths[wish.files : 2 * wish.files], spoken, rng)
    paths = paths[: wish.files]
    datas = [path.read_bytes() for path in paths]
    named = list(map(str, paths))

    def survey(some: list[Rule]) -> int:
        return len(run(named, Ruleset.of(some), RunOptions(workers=1)).findings)

    parse = best(lambda: [spoken.parse(data) for data in datas])
    one = [(survey([rule]), best(lambda rule=rule: survey([rule])) / parse) for rule in rules[:5]]
    found, forty = survey(rules), best(lambda: survey(rules)) / parse
    print(
        f"{wish.language}: {sum(data.count(10) for data in datas):,} lines, parse {parse:.2f} s; "
        f"one rule {median(ratio for _, ratio in one):.2f} "
        f"({', '.join(f'{ratio:.2f} with {n} findings' for n, ratio in one)}); "
        f"{len(rules)} rules {forty:.2f} with {found:,} findings"
    )


if __name__ == "__main__":
    main()
