"""What a survey costs, as ratios to the bare parse of the same files in the same run.

Usage: python benchmarks/ratios.py FOLDER [--workers N] [--repeat N]

Every figure is the best of the repeats, measured in this process with as many worker processes.
"""

from __future__ import annotations

import argparse
import hashlib
import multiprocessing
import os
import platform
import resource
import time
from collections.abc import Callable
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path

from yellow_trellis.engine import RulesSpec, discover, run
from yellow_trellis.engine.pool import settle_in
from yellow_trellis.facts import facts_of
from yellow_trellis.languages import language
from yellow_trellis.plans import make_plan
from yellow_trellis.source import Source
from yellow_trellis.syntax import Tree

HERE = Path(__file__).parent
LIBRARY_RULES = str(HERE / "rules_library.py")
MIXED_RULES = str(HERE / "rules_mixed.py")
STORM_RULES = str(HERE / "rules_storm.py")
MEANING_RULES = str(HERE / "rules_meaning.py")


def parse_files(paths: list[str]) -> int:
    """Parse files and do nothing else."""
    tongue = language("python")
    return sum(tongue.parse(Path(path).read_bytes()).root_node.end_byte for path in paths)


def facts_of_files(paths: list[str]) -> int:
    """Parse files, read their scopes and gather every binding with its uses."""
    tongue = language("python")
    found = 0
    for path in paths:
        tree = Tree(Source(Path(path).read_bytes()), tongue)
        names = facts_of(tree).names
        found += sum(len(scope.users) for scope in names.scopes) + len(names.bindings)
        tree.release()
    return found


def planned(paths: list[str], most: int = 100_000) -> tuple[int, float, float]:
    """Plan and render up to `most` fixes of the storm; return how many, and two times in seconds.

    The times are those of the bare parse of the same files, and of planning and rendering.
    """
    rules = RulesSpec((STORM_RULES,)).ruleset()
    tongue = language("python")
    fixes, parsing, planning = 0, 0.0, 0.0
    for path in paths:
        source = Source(Path(path).read_bytes())
        started = time.perf_counter()
        tree = Tree(source, tongue)
        parsing += time.perf_counter() - started
        findings = rules.look(tree)[0]
        for finding in findings:
            finding.choice(True)
        started = time.perf_counter()
        plan = make_plan(tree, findings, with_review=True)
        plan.render()
        planning += time.perf_counter() - started
        fixes += len(plan.accepted)
        tree.release()
        if fixes >= most:
            break
    return fixes, parsing, planning


def hash_files(paths: list[str]) -> int:
    """Read and hash files and do nothing else."""
    return sum(len(hashlib.sha256(Path(path).read_bytes()).digest()) for path in paths)


def spread(work: Callable[[list[str]], int], paths: list[str], workers: int) -> None:
    """Let worker processes do `work` on all files, in batches of near size."""
    batches = [paths[start::64] for start in range(64)]
    context = multiprocessing.get_context("fork" if hasattr(os, "fork") else "spawn")
    with ProcessPoolExecutor(workers, context, initializer=settle_in) as pool:
        list(pool.map(work, filter(None, batches)))


def best(repeat: int, call: Callable[[], object]) -> float:
    """Return the least time of several calls, in seconds."""
    times = []
    for _ in range(repeat):
        started = time.perf_counter()
        call()
        times.append(time.perf_counter() - started)
    return min(times)


def main() -> None:
    """Measure and print."""
    parser = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    parser.add_argument("folder", type=Path)
    parser.add_argument("--workers", type=int, default=os.cpu_count() or 1)
    parser.add_argument("--repeat", type=int, default=3)
    given = parser.parse_args()
    files = discover([given.folder], frozenset({"python"}))
    paths = [found.path for found in sorted(files, key=lambda f: -f.size)]
    lines = sum(Path(path).read_bytes().count(b"\n") for path in paths)
    size = sum(found.size for found in files)
    print(f"{len(paths):,} files, {lines:,} lines, {size / 1e6:,.1f} MB; {given.workers} processes")
    print(f"Python {platform.python_version()}, {platform.machine()}, {os.cpu_count()} processors")

    def survey(rules: str, *only: str) -> Callable[[], object]:
        spec = RulesSpec((rules,), only)
        return lambda: run([given.folder], spec, workers=given.workers)

    bare = best(given.repeat, lambda: spread(parse_files, paths, given.workers))
    rows = {
        "bare parse": bare,
        "bare parse and facts": best(
            given.repeat, lambda: spread(facts_of_files, paths, given.workers)
        ),
        "reading and hashing": best(given.repeat, lambda: spread(hash_files, paths, given.workers)),
        "survey, one rule, a library's name": best(given.repeat, survey(MIXED_RULES, "warned")),
        "survey, one rule, commonest name": best(given.repeat, survey(MIXED_RULES, "is-instance")),
        "survey, by meaning, a library's name": best(
            given.repeat, survey(MEANING_RULES, "warned-by-meaning")
        ),
        "survey, by meaning, a name nobody says": best(
            given.repeat, survey(MEANING_RULES, "stamp-by-meaning")
        ),
        "survey, ten mixed rules": best(given.repeat, survey(MIXED_RULES)),
        "survey, ten rules that find plenty": best(given.repeat, survey(LIBRARY_RULES)),
    }
    for what, seconds in rows.items():
        rate = lines / seconds
        print(f"{what:<40} {seconds:7.2f} s  {seconds / bare:5.2f} x  {rate:>10,.0f} lines/s")
    settle_in()
    fixes, parsing, planning = planned(paths)
    print(
        f"{fixes:,} fixes planned and rendered in {planning:.2f} s, {planning / fixes * 1e6:.0f} "
        f"microseconds each; the parse of their files {parsing:.2f} s: {planning / parsing:.2f} x"
    )
    worker = resource.getrusage(resource.RUSAGE_CHILDREN).ru_maxrss / 1024
    print(f"largest worker: {worker:,.0f} MB")


if __name__ == "__main__":
    main()
