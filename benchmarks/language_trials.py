"""Trials of a language over real code: trees, patterns cut out of the code, a storm of rules.

Usage: python benchmarks/language_trials.py LANGUAGE FOLDER [--patterns N] [--storm] [--seed N]
       [--typescript PATH/TO/typescript.js]

Three things are tried, and told with the first cases that fail:

trees       The leaves of each tree, with what is between them, are the file byte for byte, and what
            is between them is space.
patterns    Code cut out of a file is a pattern that matches where it was cut, and that changes
            nothing as its own template; so is the same code with some of its parts as holes.
storm       Rules that rename, swap, wrap, unwrap, remove, insert, and turn conditions, all at once:
            no file has more syntax errors than before, no comment is lost, a second run has nothing
            to do, and taking it back restores every byte.

Exits with 1 when a trial fails.
"""

from __future__ import annotations

import argparse
import random
import re
import sys
import tempfile
import time
from collections import Counter
from collections.abc import Iterator
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path

from syntax_checkers import CHECKERS, refused_by_checker

from yellow_trellis import Project, Rule, RuleError, RulesSpec, RunOptions, load_rules
from yellow_trellis.languages import Language, language
from yellow_trellis.patterns import PatternError, compile_pattern
from yellow_trellis.patterns.generalize import part_of, plain
from yellow_trellis.project.discovery import discover
from yellow_trellis.source import Source, UnreadableError
from yellow_trellis.syntax import Node, Tree

MOST_LINES = 12
"""Lines of code that is cut out."""


def trees_in(paths: list[Path], spoken: Language) -> Iterator[tuple[Path, Tree]]:
    """Yield the trees of files that can be read."""
    for path in paths:
        try:
            source = Source.read(path.read_bytes(), path=str(path))
            source.data.decode("utf-8")  # a pattern is text
        except (UnreadableError, UnicodeDecodeError):
            continue
        yield path, Tree(source, spoken)


def lost_text(tree: Tree) -> list[str]:
    """Return the pieces of text between leaves that are more than space."""
    data, end = tree.source.data, 0
    space = re.compile(f"(?:{tree.language.space})*")
    lost = []
    for leaf in tree.root.leaves():
        if leaf.start < end:
            lost.append(f"overlap at {leaf.start}")
        between = data[end : leaf.start].decode("utf-8", "surrogateescape")
        if not space.fullmatch(between) and tree.is_parsed(end, leaf.start):
            lost.append(between[:60])
        end = max(end, leaf.end)
    return lost


def cut(tree: Tree, rng: random.Random) -> Node | None:
    """Return a node to cut out: any that is named, not too long, and without an error."""
    nodes = [
        node
        for node in tree.root.walk()
        if node.named and node.parent is not None and not node.is_comment and not node.has_error
    ]
    rng.shuffle(nodes)
    expressions, statements = tree.language.expressions, tree.language.statements
    for node in nodes[:200]:
        fits = node.kind in expressions or node.kind in statements
        fits = fits or (node.parent is not None and node.parent.kind in tree.language.bodies)
        literals = tree.language.family("literal") or frozenset()
        text = any("\n" in below.text and below.kind in literals for below in node.walk())
        if node.kind in tree.language.bodies and not node.text.startswith("{"):
            continue
        if fits and not text and node.text.count("\n") < MOST_LINES and len(node.items) > 1:
            return node
    return None


def escaped(text: str) -> str:
    """Return code as a pattern says it."""
    return re.sub(r"@[{<]", r"\\\g<0>", text)


def with_holes(node: Node, rng: random.Random) -> str:
    """Return the code of a node with up to three of its parts as holes."""
    spoken = node.tree.language
    parts = [
        below
        for below in node.walk()
        if below is not node
        and below.kind in spoken.expressions | (spoken.family("name") or frozenset())
        and below.core is below
        and below.kind not in ("super", "this", "self")
        and not below.has_error
    ]
    rng.shuffle(parts)
    taken: list[Node] = []
    for part in parts:
        if all(part.end <= other.start or part.start >= other.end for other in taken):
            taken.append(part)
        if len(taken) == 3:
            break
    text, at = "", node.start
    for number, part in enumerate(sorted(taken, key=lambda part: part.start)):
        data = node.tree.source.data
        text += escaped(data[at : part.start].decode("utf-8", "surrogateescape"))
        text += "\\" * text.endswith("\\") + f"@{{h{number}}}"
        at = part.end
    text += escaped(node.tree.source.data[at : node.end].decode("utf-8", "surrogateescape"))
    line = node.tree.source.data[node.tree.source.lines.start(node.start) : node.start].decode()
    indent = line[: len(line) - len(line.lstrip())]
    return re.sub(rf"\r?\n(?:{re.escape(indent)})?", "\n", text) if indent else text


def fault_of(text: str, node: Node) -> str:
    """Return what is wrong with a pattern that was made of a node; empty if nothing is."""
    spoken = node.tree.language
    try:
        compile_pattern(text, spoken)
        _, part = part_of(node, text)
        pattern = compile_pattern(text, spoken, part=part)
        rule = Rule("trial", summary="s", find=text, put=text, language=spoken.name, part=part)
        rule.prepare()
    except PatternError as error:
        return f"refused: {error.reason[:70]}"
    except RuleError as error:
        return f"refused as a rule: {str(error)[:80]}"
    spans = {match.span for match in pattern.search(node.tree)}
    if not any(span in spans for span in (node.span, node.core.span, node.outermost.span)):
        return "no match where it was cut"
    if any(node.start <= error.start_byte < node.end for error in node.tree.errors):
        return ""
    around = node.tree.source.text(node.tree.root.span)
    if not around.isprintable() and any('\udc80' <= char <= '\udcff' for char in around):
        return ""
    if not node.tree.errors and len(around) < 60_000:
        for outcome in rule.fix(around).outcomes:
            finding = outcome.finding
            if finding.span in (node.span, node.core.span, node.outermost.span):
                fix = finding.choice(with_review=True)
                if outcome.reason != "its fix changes nothing" and fix is not None and fix.edits:
                    return f"its own template changes code: {fix.edits}"
    return ""


def try_files(
    paths: list[Path], name: str, count: int, seed: int
) -> tuple[Counter[str], list[str]]:
    """Try trees and patterns on some files; return counts, and cases that fail."""
    spoken, rng = language(name), random.Random(seed)
    counts: Counter[str] = Counter()
    cases: list[str] = []
    each = max(1, -(-count // max(len(paths), 1)))
    for path, tree in trees_in(paths, spoken):
        counts["files"] += 1
        counts["lines"] += tree.source.data.count(b"\n")
        counts["files with errors"] += bool(tree.errors)
        for text in lost_text(tree)[:1]:
            counts["trees: text lost"] += 1
            cases.append(f"{path}: text lost: {text!r}")
        for _ in range(each):
            if counts["patterns"] >= count or (node := cut(tree, rng)) is None:
                break
            counts["patterns"] += 1
            for form, text in (("code", escaped(plain(node))), ("holes", with_holes(node, rng))):
                if fault := fault_of(text, node):
                    counts[f"{form}: {fault.split(':')[0]}"] += 1
                    place = f"{path}:{node.place[0]}"
                    cases.append(f"{place}: {form} [{node.kind}]: {fault}\n{text}")
        tree.release()
    return counts, cases


STORMS = Path(__file__).with_name("rules_languages.py")


def state_of(path: Path, spoken: Language) -> tuple[int, Counter[str]]:
    """Return the number of syntax errors of a file, and its comments without their space."""
    tree = Tree(Source.read(path.read_bytes(), path=str(path)), spoken)
    comments = Counter(re.sub(r"\s+", " ", comment.text) for comment in tree.comments())
    errors = len(tree.errors)
    tree.release()
    return errors, comments


def storm(
    paths: list[Path], folder: Path, spoken: Language, typescript: str
) -> tuple[Counter[str], list[str]]:
    """Let the storm of the language loose on a copy of some files; return counts and faults.

    Arguments: `typescript` is the file of the compiler of TypeScript, empty for none.
    """
    counts: Counter[str] = Counter()
    cases: list[str] = []
    scratch_folder = tempfile.TemporaryDirectory(prefix="trial-")
    with tempfile.TemporaryDirectory(prefix="trial-") as place, scratch_folder as trash:
        copies: dict[Path, bytes] = {}
        before = {}
        for path in paths:
            copy = Path(place) / path.relative_to(folder)
            copy.parent.mkdir(parents=True, exist_ok=True)
            try:
                Source.read(path.read_bytes())
            except UnreadableError:
                continue
            copy.write_bytes(path.read_bytes())
            copies[copy] = path.read_bytes()
            before[copy] = state_of(copy, spoken)
        scratch = Path(trash)
        refused = refused_by_checker(copies, spoken.name, scratch, typescript)
        rules = [rule.name for rule in load_rules([STORMS]) if rule.language == spoken.name]
        project = Project(place)
        spec = RulesSpec((str(STORMS),), only=tuple(rules))
        first = project.preview(spec, RunOptions(with_review=True))
        for report in first.reports:
            counts.update(f"storm: {fate.state}" for fate in report.fates)
            cases += [f"{report.path}: {problem.reason}" for problem in report.problems]
        counts["storm: files written"] = len(project.apply(first).written)
        if not counts["storm: files written"]:
            cases.append(f"the storm wrote nothing: {len(rules)} rules are for {spoken.name}")
        for copy in copies:
            errors, comments = state_of(copy, spoken)
            if errors > before[copy][0]:
                cases.append(f"{copy}: {errors} syntax errors, {before[copy][0]} before")
                counts["storm: new syntax errors"] += 1
            if lost := before[copy][1] - comments:
                cases.append(f"{copy}: lost comments: {list(lost)[:3]}")
                counts["storm: lost comments"] += 1
            if cases and cases[-1].startswith(f"{copy}: "):
                keep = Path(tempfile.gettempdir()) / "language-trials" / copy.name
                keep.parent.mkdir(exist_ok=True)
                keep.write_bytes(copy.read_bytes())
        after = refused_by_checker(copies, spoken.name, scratch, typescript)
        for copy in (after or set()) - (refused or set()):
            counts["storm: not taken by the checker"] += 1
            cases.append(f"{copy}: {CHECKERS[spoken.name].command[0]} does not take it")
            keep = Path(tempfile.gettempdir()) / "language-trials" / copy.name
            keep.parent.mkdir(exist_ok=True)
            keep.write_bytes(copy.read_bytes())
        if refused is not None:
            counts["storm: taken by the checker"] = len(copies) - len(refused)
        second = project.preview(spec, RunOptions(with_review=True))
        for report in second.reports:
            applied = [fate for fate in report.fates if fate.state == "applied"]
            counts["storm: changed by a second run"] += bool(applied)
            if applied:
                cases.append(f"{report.path}: a second run applies {applied[0]}")
        project.undo()
        counts["storm: not restored"] += sum(c.read_bytes() != d for c, d in copies.items())
    return counts, cases


def main() -> int:
    """Run the trials."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("language")
    parser.add_argument("folder", type=Path)
    parser.add_argument("--patterns", type=int, default=2000)
    parser.add_argument("--files", type=int, default=1000)
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--storm", action="store_true")
    parser.add_argument("--typescript", default="")
    parser.add_argument("--cases", type=int, default=10)
    wish = parser.parse_args()
    files = discover([wish.folder], frozenset({wish.language}))
    paths = [Path(file.path) for file in files]
    random.Random(wish.seed).shuffle(paths)
    paths = paths[: wish.files]
    start = time.perf_counter()
    total: Counter[str] = Counter()
    cases: list[str] = []
    parts = [paths[at::8] for at in range(8)]
    with ProcessPoolExecutor(2) as pool:
        jobs = [
            pool.submit(try_files, part, wish.language, wish.patterns // 8, wish.seed + at)
            for at, part in enumerate(parts)
        ]
        for job in jobs:
            counts, found = job.result()
            total.update(counts)
            cases += found
    if wish.storm:
        counts, found = storm(paths, wish.folder, language(wish.language), wish.typescript)
        total.update(counts)
        cases += found
    print(f"{wish.language}: {time.perf_counter() - start:.0f} s")
    for name, number in sorted(total.items()):
        print(f"  {name:40} {number:,}")
    random.Random(wish.seed).shuffle(cases)
    for case in cases[: wish.cases]:
        print("-", case)
    return bool(cases)


if __name__ == "__main__":
    sys.exit(main())
