"""Ten rules over a copy of the running Python's standard library, and everything that must hold.

Usage: python benchmarks/library_run.py [FOLDER OF PYTHON CODE] [--sample N] [--storm]

With --storm it is 36 rules that meet and nest everywhere, with more than 100,000 fixes.
Without a folder the standard library is taken. With --sample only every Nth file is. The copy is
made in a temporary folder; survey, preview, apply, a second apply and undo run on it as commands.
Exits with 1 when anything that must hold does not.
"""

from __future__ import annotations

import argparse
import json
import os
import shutil
import subprocess
import sys
import sysconfig
import tempfile
import time
import tokenize
import warnings
from collections import Counter
from pathlib import Path

RULES = Path(__file__).with_name("rules_library.py")
STORM = Path(__file__).with_name("rules_storm.py")
SKIPPED = {"site-packages", "__pycache__", "dist-packages"}


def copy_of(origin: Path, target: Path, every: int) -> list[Path]:
    """Copy every `every`th Python file of `origin`; return the copies."""
    files = sorted(
        p for p in origin.rglob("*.py") if not SKIPPED & set(p.relative_to(origin).parts)
    )
    copies = []
    for file in files[::every]:
        copy = target / file.relative_to(origin)
        copy.parent.mkdir(parents=True, exist_ok=True)
        shutil.copyfile(file, copy)
        copies.append(copy)
    return copies


def compiles(path: Path) -> bool:
    """Return whether Python compiles the file."""
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        try:
            compile(path.read_bytes(), str(path), "exec", dont_inherit=True)
        except (SyntaxError, ValueError, RecursionError, MemoryError):
            return False
    return True


def comments(path: Path) -> Counter[str]:
    """Count the comments of a file that compiles, by Python's own tokenizer."""
    with path.open("rb") as file:
        tokens = tokenize.tokenize(file.readline)
        return Counter(t.string for t in tokens if t.type == tokenize.COMMENT)


def ytr(folder: Path, *words: str) -> tuple[float, dict]:
    """Run the command beside `folder`, whose modules it must not import; return time and output."""
    started = time.perf_counter()
    call = [sys.executable, "-m", "yellow_trellis", *words, "--format", "json"]
    done = subprocess.run(call, cwd=folder.parent, capture_output=True, text=True, check=False)
    seconds = time.perf_counter() - started
    if "Traceback" in done.stderr or not done.stdout:
        sys.exit(f"{' '.join(words)} failed:\n{done.stderr[-4000:]}")
    return seconds, json.loads(done.stdout)


def main() -> None:
    """Run it all and print what was measured."""
    parser = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    parser.add_argument("folder", nargs="?", default=sysconfig.get_path("stdlib"), type=Path)
    parser.add_argument("--sample", type=int, default=1, metavar="N")
    parser.add_argument("--storm", action="store_true")
    given = parser.parse_args()
    with tempfile.TemporaryDirectory() as place:
        target = Path(os.path.realpath(place)) / "code"
        files = copy_of(given.folder, target, given.sample)
        before = {p: p.read_bytes() for p in files}
        sound = {p for p in files if compiles(p)}
        said = {p: comments(p) for p in sound}
        rules = ("--rules", str(STORM if given.storm else RULES))
        timed = {}
        timed["survey"], survey = ytr(target, "survey", "code", *rules)
        timed["preview"], _ = ytr(target, "preview", "code", *rules)
        timed["apply"], applied = ytr(target, "apply", "code", *rules)
        changed = [p for p in files if p.read_bytes() != before[p]]
        broken = [p for p in changed if p in sound and not compiles(p)]
        silent = [p for p in changed if p in sound and p not in broken and said[p] - comments(p)]
        timed["apply again"], again = ytr(target, "apply", "code", *rules)
        timed["undo"], _ = ytr(target, "undo", "code")
        lost = [p for p in files if p.read_bytes() != before[p]]

        summary = applied["summary"]
        states = ("applied", "composed", "merged", "deferred", "refused", "left")
        counts = {state: summary.get(state, 0) for state in states}
        fixes = sum(counts[state] for state in ("applied", "composed", "merged"))
        print(f"{len(files):,} files, {summary['lines']:,} lines, {len(sound):,} compile before")
        print(f"{len(survey['findings']):,} findings; {fixes:,} fixes in {len(changed):,} files")
        print(", ".join(f"{count:,} {state}" for state, count in counts.items()))
        print(", ".join(f"{word} {seconds:.1f} s" for word, seconds in timed.items()))
        wrong = {
            "files that do not compile any more": broken,
            "files that lost a comment": silent,
            "files a second apply changes": again["files"],
            "files that undo did not bring back": lost,
        }
        for what, found in wrong.items():
            print(f"{what}: {len(found)}")
            for one in found[:10]:
                print(f"    {one}")
        kinds = Counter(conflict["kind"] for conflict in applied["conflicts"])
        if kinds:
            print("conflicts: " + ", ".join(f"{n:,} {kind}" for kind, n in sorted(kinds.items())))
        if summary["findings"] != sum(counts.values()):
            sys.exit("the states do not add up to the findings")
        if any(wrong.values()):
            sys.exit(1)


if __name__ == "__main__":
    main()
