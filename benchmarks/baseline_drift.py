"""Measure how well a baseline matches findings after random edits of a library.

Usage: python benchmarks/baseline_drift.py [FOLDER OF PYTHON CODE] [--sample N] [--seed N]

Every file is formatted anew, functions trade places and move to other files, 500 lines are inserted
per file, some findings are taken out and new ones put in, each told by a comment, which a baseline
does not see. Prints what was known again, what was wrongly taken for new, and what was hidden.
Exits with 1 when more than 1 in 200 was taken for new, or a new one was hidden.
"""

from __future__ import annotations

import argparse
import ast
import io
import random
import sys
import sysconfig
import tokenize
import warnings
from collections import Counter
from dataclasses import dataclass
from pathlib import Path

from yellow_trellis import Ruleset, load_rules
from yellow_trellis.reports.baseline import Baseline, BaselineEntry, matched
from yellow_trellis.runs.pipeline import process_file
from yellow_trellis.runs.run_options import RunOptions

RULES = Path(__file__).with_name("rules_accepted.toml")
FRESH = "# fresh"
NEW_CODE = ("pass", "fresh_things = []", "fresh = not one in two", "check(one == None)")
INSERTED = 500


@dataclass
class File:
    """One file on its way through the edits."""

    path: str
    text: str

    @property
    def lines(self) -> list[str]:
        return self.text.splitlines(keepends=True)


def statements(text: str) -> list[ast.stmt]:
    """Return the statements that start a line and end one, none of them in a one-line body."""
    lines = text.splitlines()
    found = [n for n in ast.walk(ast.parse(text)) if isinstance(n, ast.stmt)]
    return [n for n in found if not lines[first(n) - 1][: n.col_offset].strip()]


def first(node: ast.stmt) -> int:
    """Return the first line of a statement, its decorators among it."""
    return min([node.lineno, *(d.lineno for d in getattr(node, "decorator_list", ()))])


def formatted(text: str, dice: random.Random) -> str:
    """Return the code with other indents, spaces, line breaks and blank lines."""
    out: list[str] = []
    depth = level = 0
    unit = dice.choice(["  ", "    ", "\t", "        "])
    fresh_line, last = True, None
    for token in tokenize.generate_tokens(io.StringIO(text).readline):
        kind, string = token.type, token.string
        if kind == tokenize.ENDMARKER:
            break
        if kind in (tokenize.INDENT, tokenize.DEDENT):
            level += 1 if kind == tokenize.INDENT else -1
            continue
        if kind in (tokenize.NEWLINE, tokenize.NL):
            behind_comment = last is not None and last.type == tokenize.COMMENT
            if kind == tokenize.NEWLINE or depth == 0 or behind_comment:
                out.append("\n" * (dice.choice([1, 1, 2]) if kind == tokenize.NEWLINE else 1))
                fresh_line = True
            last = token
            continue
        if fresh_line:
            out.append(unit * level + ("  " if depth else ""))
        elif last is not None and (last.end != token.start or kind == tokenize.COMMENT):
            out.append(" " * dice.choice([1, 1, 2]))
        out.append(string)
        fresh_line = False
        depth += string in "([{" if kind == tokenize.OP else 0
        depth -= string in ")]}" if kind == tokenize.OP else 0
        if depth and kind == tokenize.OP and string in "([{," and dice.random() < 0.2:
            out.append("\n" + unit * (level + 2))
        last = token
    return "".join(out)


def reformatted(file: File, dice: random.Random) -> None:
    """Format a file anew."""
    file.text = formatted(file.text, dice)


def parses(text: str) -> bool:
    """Return whether some code is Python."""
    try:
        ast.parse(text)
    except (SyntaxError, ValueError):
        return False
    return True


def moved(file: File, other: File, dice: random.Random) -> None:
    """Let functions trade places inside a file, and move one to another file."""
    for _ in range(2):
        bodies = [n.body for n in ast.walk(ast.parse(file.text)) if hasattr(n, "body")]
        functions = [
            [n for n in body if isinstance(n, (ast.FunctionDef, ast.ClassDef))]
            for body in bodies
            if isinstance(body, list)
        ]
        functions = [some for some in functions if len(some) > 1]
        if not functions:
            return
        one, two = sorted(dice.sample(dice.choice(functions), 2), key=first)
        lines = file.lines
        a, b = slice(first(one) - 1, one.end_lineno), slice(first(two) - 1, two.end_lineno)
        swapped = [*lines[: a.start], *lines[b], *lines[a.stop : b.start], *lines[a]]
        file.text = "".join([*swapped, *lines[b.stop :]])
    tops = [n for n in ast.parse(file.text).body if isinstance(n, ast.FunctionDef)]
    if len(tops) > 1:
        gone = dice.choice(tops)
        lines = file.lines
        block = lines[first(gone) - 1 : gone.end_lineno]
        file.text = "".join([*lines[: first(gone) - 1], *lines[gone.end_lineno :]])
        other.text = other.text.rstrip("\n") + "\n\n\n" + "".join(block)


def grown(file: File, dice: random.Random, fresh: int) -> None:
    """Insert lines before statements: some that no rule finds, and `fresh` ones that one does."""
    lines, found = file.lines, statements(file.text)
    if not found:
        return
    added: Counter[int] = Counter()
    news: dict[int, list[str]] = {}
    for _ in range(INSERTED // 10):  # in blocks of ten lines
        added[first(dice.choice(found)) - 1] += 10
    for _ in range(fresh):
        news.setdefault(first(dice.choice(found)) - 1, []).append(dice.choice(NEW_CODE))
    out: list[str] = []
    docstrings = {
        n.body[0].lineno - 1
        for n in ast.walk(ast.parse(file.text))
        if isinstance(n, (ast.FunctionDef, ast.ClassDef, ast.Module)) and n.body
    }
    futures = max(
        (n.end_lineno or 0 for n in ast.parse(file.text).body if _is_future(n)), default=0
    )
    for number, line in enumerate(lines):
        indent = line[: len(line) - len(line.lstrip())]
        if number >= futures and number not in docstrings:
            count = added[number]
            out += [f"{indent}inserted_{number}_{n} = inserted({n})\n" for n in range(count)]
            out += [f"{indent}{code}  {FRESH}\n" for code in news.get(number, ())]
        out.append(line)
    file.text = "".join(out)


def _is_future(node: ast.stmt) -> bool:
    return isinstance(node, ast.ImportFrom) and node.module == "__future__"


def thinned(file: File, dice: random.Random) -> None:
    """Take out one in ten of the simple statements that stand alone and do nothing much."""
    lines = file.lines
    for node in statements(file.text):
        simple = isinstance(node, (ast.Assign, ast.Expr)) and node.lineno == node.end_lineno
        if simple and dice.random() < 0.1:
            line = lines[node.lineno - 1]
            if ";" not in line and not line.rstrip().endswith("\\"):
                lines[node.lineno - 1] = line[: node.col_offset] + "gone_away\n"
    file.text = "".join(lines)


def entries(file: File, ruleset: Ruleset, folder: Baseline) -> list[tuple[BaselineEntry, bool]]:
    """Return the findings of a file, each with whether it was put in."""
    options = RunOptions(with_marks=True)
    report = process_file(file.text.encode(), file.path, "python", ruleset, options)
    fresh = [FRESH in found.line for found in report.findings]
    return list(zip(folder.entries_of(report.findings), fresh, strict=True))


def main() -> None:
    """Edit, compare, and print what came of it."""
    options = argparse.ArgumentParser()
    options.add_argument("folder", nargs="?", default=sysconfig.get_path("stdlib"))
    options.add_argument("--sample", type=int, default=3)
    options.add_argument("--seed", type=int, default=1)
    given = options.parse_args()
    warnings.simplefilter("ignore")
    dice = random.Random(given.seed)
    ruleset = Ruleset.of(load_rules([RULES]))
    files = []
    for path in sorted(Path(given.folder).rglob("*.py"))[:: given.sample]:
        try:
            text = path.read_text("utf-8")
            ast.parse(text)
            ast.parse(formatted(text, random.Random(0)))
        except (SyntaxError, ValueError, tokenize.TokenError, RecursionError):
            continue
        files.append(File(str(path), text))
    baseline = Baseline(Path(given.folder) / "accepted.json")
    known = [entry for file in files for entry, _ in entries(file, ruleset, baseline)]
    steps = (
        lambda file, other: thinned(file, dice),
        lambda file, other: moved(file, other, dice),
        lambda file, other: reformatted(file, dice),
        lambda file, other: grown(file, dice, 5),
    )
    for step in steps:
        for file in files:
            other = dice.choice(files)
            before = file.text, other.text
            step(file, other)
            if not (parses(file.text) and parses(other.text)):
                file.text, other.text = before
    found = [pair for file in files for pair in entries(file, ruleset, baseline)]
    fresh = sum(is_fresh for _, is_fresh in found)
    pairs = matched([entry for entry, _ in found], known)
    strays = Counter(_key(e) for at, (e, new) in enumerate(found) if not new and at not in pairs)
    hidden = Counter(_key(e) for at, (e, new) in enumerate(found) if new and at in pairs)
    # of equal findings in one scope, which of them is the new one cannot be told, and need not
    swapped = sum((strays & hidden).values())
    wrong, lost = strays.total() - swapped, hidden.total() - swapped
    print(f"{len(files):,} files, {len(ruleset)} rules, {len(known):,} findings accepted")
    print(f"{len(found):,} findings after the edits, {fresh:,} of them put in")
    old = len(found) - fresh
    print(f"old ones known again: {old - wrong - swapped:,} of {old:,}; {swapped:,} by a twin")
    print(f"old ones taken for new: {wrong:,} (1 in {old // max(wrong, 1):,})")
    print(f"new ones hidden: {lost:,}")
    for key, count in (strays - hidden).most_common(5):
        print("  taken for new:", count, *key)
    for key, count in (hidden - strays).most_common(5):
        print("  hidden:", count, *key)
    sys.exit(wrong * 200 > old or lost > 0)


def _key(entry: BaselineEntry) -> tuple[str, str, str, str]:
    return entry.path, entry.rule, entry.mark.scope, entry.mark.code


if __name__ == "__main__":
    main()
