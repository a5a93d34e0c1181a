"""Measure a survey, as ratios to the bare parse of the same files in the same run.

Usage: python benchmarks/ratios.py FOLDER [--workers N] [--repeat N] [--grow FROM TO] [--into PAGE]

Every figure is the best of the repeats, measured in this process with as many worker processes.
"""

from __future__ import annotations

import argparse
import gc
import hashlib
import multiprocessing
import os
import platform
import shutil
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable, Iterator
from concurrent.futures import ProcessPoolExecutor
from functools import partial
from pathlib import Path

import yellow_trellis
from yellow_trellis.languages import language
from yellow_trellis.plans import make_plan
from yellow_trellis.project.discovery import discover
from yellow_trellis.runs.processes.crew import settle_in
from yellow_trellis.runs.rule_source import RulesSpec
from yellow_trellis.runs.run_options import RunOptions
from yellow_trellis.runs.runner import run
from yellow_trellis.semantics import facts_of
from yellow_trellis.source import Source
from yellow_trellis.syntax import Tree

HERE = Path(__file__).parent
LIBRARY_RULES = str(HERE / "rules_library.py")
MIXED_RULES = str(HERE / "rules_mixed.py")
STORM_RULES = str(HERE / "rules_storm.py")
FORTY_RULES = str(HERE / "rules_forty.py")
SHAPES_RULES = str(HERE / "rules_shapes.py")
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


DENSEST = {"counted", "equal", "marked", "traced"}
"""The rules of the storm without which it has about 100,000 fixes in the library, not 270,000."""


def planned(paths: list[str], without: set[str], most: int = 100_000) -> tuple[int, float, float]:
    """Plan and render up to `most` fixes of the storm; return how many, and two times in seconds.

    The times are those of the bare parse of the same files, and of planning and rendering.
    """
    rules = RulesSpec((STORM_RULES,)).ruleset()
    rules = rules.only(rule.name for rule in rules if rule.name not in without)
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
        del plan
        gc.collect(1)
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


def grown(folder: Path, target: Path, least: int) -> int:
    """Copy files of `folder` to `target`, again and again, up to `least` lines; return how many."""
    lines = turn = 0
    while lines < least:
        for found in discover([folder], frozenset({"python"})):
            copy = target / f"turn_{turn}" / Path(found.path).relative_to(folder)
            copy.parent.mkdir(parents=True, exist_ok=True)
            raw = Path(found.path).read_bytes()
            copy.write_bytes(raw)
            lines += raw.count(b"\n")
            if lines >= least:
                break
        turn += 1
    return lines


def growth(folder: Path, workers: int, lines: tuple[int, int]) -> Iterator[tuple[str, float, str]]:
    """Yield what a line costs in a large code base, as a ratio to a small one."""
    with tempfile.TemporaryDirectory() as name:
        sizes = [(Path(name) / str(least), least) for least in lines]
        counts = [grown(folder, target, least) for target, least in sizes]
        for what, rules, only in (
            ("one rule, commonest name", MIXED_RULES, ("is-instance",)),
            ("ten mixed rules", MIXED_RULES, ()),
        ):
            spec = RulesSpec((rules,), only)
            costs = [
                best(2, partial(run, [target], spec, workers=workers)) / count
                for (target, _), count in zip(sizes, counts, strict=True)
            ]
            told = f"{counts[0]:,} to {counts[1]:,} lines: {costs[1] * 1e6:.2f} s a million lines"
            yield f"growth, {what}", costs[1] / costs[0], told
        small, large = (largest_worker(target, workers) for target, _ in sizes)
        told = f"{small:,.0f} and {large:,.0f} MB"
        yield "growth, memory of the largest worker", large / small, told


def largest_worker(folder: Path, workers: int) -> float:
    """Return the memory of the largest worker of a survey in a process of its own, in MB."""
    program = (
        "import resource, sys\n"
        "from yellow_trellis import RulesSpec, RunOptions, run\n"
        "options = RunOptions(workers=int(sys.argv[3]))\n"
        "run([sys.argv[1]], RulesSpec((sys.argv[2],)), options)\n"
        "print(resource.getrusage(resource.RUSAGE_CHILDREN).ru_maxrss)\n"
    )
    words = [sys.executable, "-c", program, str(folder), MIXED_RULES, str(workers)]
    return int(subprocess.run(words, capture_output=True, check=True).stdout) / 1024


def remembered(folder: Path, workers: int, hashing: float) -> Iterator[tuple[str, float, str]]:
    """Yield what a survey costs when nothing, or one file, has changed since the last."""
    spec = RulesSpec((MIXED_RULES,))
    with tempfile.TemporaryDirectory() as name:
        base = Path(name)
        grown(folder, base, 800_000)
        for file in base.rglob("*.py"):
            os.utime(file, (1_700_000_000, 1_700_000_000))
        by_size = sorted(base.rglob("*.py"), key=lambda file: (file.stat().st_size, str(file)))
        some = by_size[len(by_size) // 2]

        def again() -> object:  # as many workers if it pays: a file or two are looked at by none
            usual = workers == os.cpu_count()
            return run([base], spec, RunOptions(workers=None if usual else workers, cache=True))

        again()
        warm = best(3, again)
        times = []
        for turn in range(3):
            some.write_bytes(some.read_bytes() + b"x = None == y\n")
            os.utime(some, (1_700_000_001 + turn, 1_700_000_001 + turn))
            times.append(best(1, again))
        changed = min(times)
    yield "nothing changed: to reading and hashing", warm / hashing, f"{warm:.2f} s"
    yield "one file changed: to nothing changed", changed / warm, f"{changed:.2f} s"


def with_staged_file(folder: Path) -> str:
    """Make a repository of the demo, in which a change of one file is staged; return its path."""
    demo = Path(__file__).parent.parent / "demo"
    for part in ("alder", "rules"):
        shutil.copytree(demo / part, folder / part)

    def git(*words: str) -> None:
        who = ("-c", "user.name=Fern Alder", "-c", "user.email=fern@alder.example")
        subprocess.run(["git", *who, *words], cwd=folder, capture_output=True, check=True)

    git("init", "--quiet")
    git("add", ".")
    git("commit", "--quiet", "--message", "Open the line")
    with (folder / "alder" / "__init__.py").open("a") as file:
        file.write("\nLINES = 4\n")
    git("add", ".")
    return str(folder)


def started() -> Iterator[tuple[str, float, str]]:
    """Yield what starting the command costs, as a ratio to the bare interpreter."""
    with tempfile.TemporaryDirectory() as name:
        copy = Path(name) / "yellow_trellis"
        shutil.copytree(Path(yellow_trellis.__file__).parent, copy)  # with its compiled files
        env = {**os.environ, "PYTHONPATH": name}
        env.pop("PYTHONDONTWRITEBYTECODE", None)
        (Path(name) / "small.py").write_text("x = stamp(HOME)\n")

        def call(*words: str, folder: str = name) -> float:
            command = [sys.executable, *words]
            return best(
                9, lambda: subprocess.run(command, env=env, cwd=folder, capture_output=True)
            )

        bare = call("-c", "pass")
        start = Path(name) / "ytr"  # as an installation writes it
        start.write_text("import re, sys\nfrom yellow_trellis.cli import main\nsys.exit(main())\n")
        demo = with_staged_file(Path(name) / "trams")
        staged = ("hook", "run", "--rules", "rules")
        for what, words, folder in (
            ("`ytr --version`", ("--version",), name),
            ("`ytr seek` on a small file", ("seek", "stamp(@{zone})", "small.py"), name),
            ("`ytr hook run` on the demo, one file staged", staged, demo),
        ):
            took = call(str(start), *words, folder=folder)
            yield f"{what}: to the bare interpreter", took / bare, f"{took * 1000:.0f} ms"


def main() -> None:
    """Measure and print."""
    parser = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    parser.add_argument("folder", type=Path)
    parser.add_argument("--workers", type=int, default=os.cpu_count() or 1)
    parser.add_argument("--repeat", type=int, default=3)
    parser.add_argument("--grow", type=int, nargs=2, metavar=("FROM", "TO"), help="lines")
    parser.add_argument("--into", type=Path, help="a page whose table is written anew")
    given = parser.parse_args()
    table = list(measured(given.folder, given.workers, given.repeat, given.grow))
    if given.into is None:
        return
    page = given.into.read_text("utf-8")
    start, end = "<!-- ratios -->\n", "<!-- end of ratios -->"
    before, rest = page.split(start)
    rows = "".join(f"| {what} | {ratio:.2f} | {told} |\n" for what, ratio, told in table[1:])
    head = f"{table[0][0]}\n\n| | ratio | |\n|---|---|---|\n"
    given.into.write_text(before + start + head + rows + end + rest.split(end)[1], "utf-8")


def measured(
    folder: Path, workers: int, repeat: int, grow: tuple[int, int] | None
) -> Iterator[tuple[str, float, str]]:
    """Measure, print, and yield rows: what, ratio, and what else there is to tell."""
    for what, ratio, told in _rows(folder, workers, repeat, grow):
        print(f"{what:<48} {ratio:6.2f} x  {told}" if ratio else what, flush=True)
        yield what, ratio, told


def _rows(
    folder: Path, workers: int, repeat: int, grow: tuple[int, int] | None
) -> Iterator[tuple[str, float, str]]:
    files = discover([folder], frozenset({"python"}))
    paths = [found.path for found in sorted(files, key=lambda f: -f.size)]
    lines = sum(Path(path).read_bytes().count(b"\n") for path in paths)
    size = sum(found.size for found in files) / 1e6
    machine = f"{workers} processes on {os.cpu_count()} processors ({platform.machine()})"
    yield (
        f"{len(paths):,} files, {lines:,} lines, {size:,.1f} MB; {machine}, "
        f"Python {platform.python_version()}.",
        0.0,
        "",
    )

    def survey(rules: str, *only: str) -> Callable[[], object]:
        spec = RulesSpec((rules,), only)
        return lambda: run([folder], spec, RunOptions(workers=workers))

    bare = "bare parse"
    calls = {
        bare: lambda: spread(parse_files, paths, workers),
        "reading and hashing": lambda: spread(hash_files, paths, workers),
        "bare parse and facts": lambda: spread(facts_of_files, paths, workers),
        "one rule, a library's name": survey(MIXED_RULES, "warned"),
        "one rule, commonest name": survey(MIXED_RULES, "is-instance"),
        "by meaning, a library's name": survey(MEANING_RULES, "warned-by-meaning"),
        "by meaning, a name nobody says": survey(MEANING_RULES, "stamp-by-meaning"),
        "ten mixed rules": survey(MIXED_RULES),
        "ten rules with 47,700 findings": survey(LIBRARY_RULES),
        "forty rules": survey(FORTY_RULES),
        "one pattern of holes, calls": survey(SHAPES_RULES, "call-same-twice"),
        "one pattern of holes, slices": survey(SHAPES_RULES, "slice-from-zero"),
        "forty rules of holes, never tuned on": survey(SHAPES_RULES),
    }
    times: dict[str, list[float]] = {what: [] for what in calls}
    for _ in range(repeat):  # in turns, as the machine is not the same all the time
        for what, call in calls.items():
            times[what].append(best(1, call))
    for what, took in times.items():
        told = f"{min(took):.2f} s, {lines / min(took):,.0f} lines a second"
        yield f"{what}: to the bare parse", min(took) / min(times[bare]), told
    yield from remembered(folder, workers, min(times["reading and hashing"]))
    yield from started()
    settle_in()
    for how, without in (("all over the library", DENSEST), ("one every three lines", set())):
        fixes, parsing, planning = min(
            (planned(paths, without) for _ in range(repeat)), key=lambda told: told[2] / told[1]
        )
        each = f"{planning / fixes * 1e6:.0f} microseconds each"
        what = f"planning and rendering 100,000 fixes, {how}: to the parse of the same files"
        yield what, planning / parsing, f"{fixes:,} fixes in {planning:.2f} s, {each}"
    if grow is not None:
        yield from growth(folder, workers, grow)


if __name__ == "__main__":
    main()
