"""Random renamings in a real package, judged by the package's own tests.

Usage: python benchmarks/rename_trials.py PACKAGE [--count N] [--seed N] [--python PATH] [--most N]

PACKAGE is the folder of an installed package with tests in it. It is copied; each renaming of a
function, class, method, field or parameter is applied to the copy, and the tests that say the word,
at most so many files, are run before and after. Prints what became of them; exits with 1 when a
test fails that passed before. PATH is the interpreter that has what the tests need.
"""

from __future__ import annotations

import argparse
import ast
import random
import re
import shutil
import subprocess
import sys
import tempfile
import time
from collections import Counter
from collections.abc import Iterator
from pathlib import Path

from yellow_trellis import Rule, RuleError, Ruleset, RunOptions, run

_SKIPPED = shutil.ignore_patterns("__pycache__", "*.pyc")


def things_in(path: Path, module: str) -> Iterator[tuple[str, str]]:
    """Yield kind and name of what a file defines, as a renaming names it."""
    try:
        tree = ast.parse(path.read_text("utf-8"))
    except (SyntaxError, UnicodeDecodeError):
        return
    for node in tree.body:
        if isinstance(node, ast.FunctionDef):
            yield "function", f"{module}.{node.name}"
            for argument in node.args.args:
                yield "parameter", f"{module}.{node.name}({argument.arg})"
        elif isinstance(node, ast.ClassDef):
            yield "class", f"{module}.{node.name}"
            for inner in node.body:
                if isinstance(inner, ast.FunctionDef) and not inner.name.startswith("__"):
                    yield "method", f"{module}.{node.name}.{inner.name}"
                elif isinstance(inner, ast.AnnAssign) and isinstance(inner.target, ast.Name):
                    yield "field", f"{module}.{node.name}.{inner.target.id}"


def is_test(path: Path) -> bool:
    """Return whether a file is one of tests."""
    return path.name.startswith("test_")


class Copy:
    """A copy of a package, with what its tests told before anything was changed."""

    def __init__(self, package: Path, python: str, most: int) -> None:
        self.root = Path(tempfile.mkdtemp()).resolve()
        shutil.copytree(package, self.root / package.name, ignore=_SKIPPED)
        self.python = python
        self.most = most
        self.before: dict[Path, str] = {}
        self.texts = {path: path.read_bytes() for path in self.root.rglob("*.py")}

    def things(self) -> list[tuple[str, str]]:
        """Return all that can be renamed."""
        found: list[tuple[str, str]] = []
        for path in sorted(self.texts):
            parts = path.relative_to(self.root).with_suffix("").parts
            module = ".".join(parts[:-1] if parts[-1] == "__init__" else parts)
            if not is_test(path) and "tests" not in parts:
                found += things_in(path, module)
        return found

    def tests_of(self, word: str, rng: random.Random) -> list[Path]:
        """Return the files of tests that say a word, some of them where there are many."""
        said = re.compile(rb"\b" + re.escape(word.encode()) + rb"\b")
        rest = sorted(path for path in self.texts if is_test(path))
        found = [path for path in rest if said.search(self.texts[path])]
        return rng.sample(found, min(len(found), self.most)) or rng.sample(rest, 1)

    def told(self, test: Path) -> str:
        """Return what a file of tests tells, without the time."""
        call = [self.python, "-m", "pytest", "-q", "--tb=no", "-rfE", "-p", "no:cacheprovider"]
        try:
            done = subprocess.run(
                [*call, "-x", str(test)],
                cwd=self.root,
                capture_output=True,
                text=True,
                check=False,
                timeout=300,
            )
        except subprocess.TimeoutExpired:
            return "too slow"
        last = (done.stdout.strip().splitlines() or [""])[-1]
        return re.sub(r" in [\d.]+s.*", "", last)

    def restore(self, paths: list[Path]) -> None:
        """Write the first texts again."""
        for path in paths:
            path.write_bytes(self.texts[path])


def tried(copy: Copy, old: str, rng: random.Random) -> tuple[str, str]:
    """Rename one thing and return the state with the story."""
    word = re.findall(r"\w+", old)[-1]
    rule = Rule("again", summary="Another name.", rename=old, to=f"{word}_anew")
    try:
        done = run([copy.root], Ruleset.of([rule]), RunOptions(mode="rework"))
    except RuleError as wrong:
        return "refused", str(wrong)
    refused = [f.reason for r in done.reports for f in r.fates if f.state == "refused"]
    if refused:
        return "refused", refused[0].replace(str(copy.root), "")
    changes = [report.change for report in done.changed if report.change is not None]
    if not changes:
        return "nothing", ""
    tests = copy.tests_of(word, rng)
    for test in tests:
        if test not in copy.before:
            copy.before[test] = copy.told(test)
    for change in changes:
        Path(change.path).write_bytes(change.raw)
    try:
        for test in tests:
            now = copy.told(test)
            if now != copy.before[test]:
                name = test.relative_to(copy.root)
                return "wrong", f"{name}: {copy.before[test]!r} became {now!r}"
    finally:
        copy.restore([Path(change.path) for change in changes])
    return "same", f"{len(changes)} files, {len(tests)} of tests"


def main() -> None:
    """Run it and print what became of the renamings."""
    parser = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    parser.add_argument("package", type=Path)
    parser.add_argument("--count", type=int, default=100)
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--python", default=sys.executable)
    parser.add_argument("--most", type=int, default=3)
    parser.add_argument("--seconds", type=float, default=3600)
    given = parser.parse_args()
    rng = random.Random(given.seed)
    copy = Copy(given.package, given.python, given.most)
    things = copy.things()
    states: Counter[tuple[str, str]] = Counter()
    began = time.monotonic()
    for _ in range(given.count):
        if time.monotonic() - began > given.seconds:
            break
        kind = rng.choice(["function", "class", "method", "field", "parameter"])
        known = [name for what, name in things if what == kind]
        if not known:
            continue
        old = rng.choice(known)
        state, story = tried(copy, old, rng)
        states[kind, state] += 1
        print(f"{state:8} {kind:9} {old}  {story[:230]}", flush=True)
    shutil.rmtree(copy.root)
    lines = sum(raw.count(b"\n") for raw in copy.texts.values())
    print(f"{len(copy.texts):,} files, {lines:,} lines, {sum(states.values())} renamings")
    for (kind, state), count in sorted(states.items()):
        print(f"    {kind:9} {state:8} {count}")
    if any(state == "wrong" for _, state in states):
        sys.exit(1)


if __name__ == "__main__":
    main()
