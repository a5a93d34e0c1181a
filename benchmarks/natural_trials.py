"""Trials of codemods written as a practitioner would first, over real code of a language.

Usage: python benchmarks/natural_trials.py LANGUAGE FOLDER [--only N,M] [--cases N]
       [--empty-macros NAME,NAME] [--check] [--typescript PATH/TO/typescript.js] [--open-heads]

Each codemod of `natural_codemods.toml` is applied by itself to the files of the folder, in memory.
A regular expression over the same text tells about how many places there are, comments and strings
among them. Told are, for each: those places, what is found, what is applied, what is refused, and
with `--cases` the commonest reasons, and lines that the expression fits and the pattern does not.
With `--check` the compiler of the language reads the files before and after, and those that it took
before only are told. Exits with 1 if there is one. With `--open-heads` only the patterns of heads
are tried, each with its heads left open as `ytr seek` says to write it.
"""

from __future__ import annotations

import argparse
import re
import sys
import tempfile
from collections import Counter
from pathlib import Path
from typing import NamedTuple

from syntax_checkers import refused_by_checker

from yellow_trellis import Rule, Ruleset, RunOptions, compile_pattern
from yellow_trellis.errors import TrellisError
from yellow_trellis.patterns.open_heads import open_head
from yellow_trellis.project.discovery import discover
from yellow_trellis.project.file_options import FileFilter
from yellow_trellis.runs.runner import Run, run
from yellow_trellis.toml_source import TomlFile

TABLE = Path(__file__).with_name("natural_codemods.toml")


class Codemod(NamedTuple):
    """A pattern, its template, and what fits about the same places in the text of a file."""

    find: str
    put: str
    text: str = ""


APPLIED = ("applied", "composed", "merged")


def applied(codemod: Codemod, language: str, folder: Path, macros: tuple[str, ...]) -> Run:
    """Return the run that applies a codemod once; nothing is written."""
    rule = Rule(
        "natural", summary="As it is written first.", find=codemod.find, put=codemod.put,
        language=language, once=True,
    )
    files = FileFilter(empty_macros=macros)
    options = RunOptions(mode="rework", with_review=True, workers=1, file_filter=files)
    return run(str(folder), Ruleset((rule,)), options)


def _open(codemod: Codemod, language: str, folder: Path, macros: tuple[str, ...]) -> str:
    """Return the pattern of a codemod with its heads left open, as far as they carry more."""
    pattern = compile_pattern(codemod.find, language)
    opened = open_head(pattern)
    if opened is None:
        return codemod.find
    options = RunOptions(file_filter=FileFilter(empty_macros=macros), workers=1, with_holes=True)
    rule = Rule("open", summary="It is left open.", find=opened.text, language=language)
    findings = run(str(folder), Ruleset((rule,)), options).findings
    return opened.needed({name for found in findings for name, text in found.holes if text})


def fits(codemod: Codemod, texts: dict[str, str]) -> list[tuple[str, int, str]]:
    """Return path, line and text of the places that the regular expression of a codemod fits."""
    places = []
    for path, text in texts.items():
        for match in re.finditer(codemod.text, text, re.MULTILINE) if codemod.text else ():
            start = match.start() + len(match[0]) - len(match[0].lstrip())
            number = text.count("\n", 0, start) + 1
            places.append((path, number, match[0].strip().split("\n")[0][:90]))
    return places


def newly_refused(report: Run, language: str, typescript: str) -> list[str]:
    """Return the changed files that the compiler took before, and takes no more."""
    with tempfile.TemporaryDirectory() as place, tempfile.TemporaryDirectory() as scratch:
        results: list[set[str]] = []
        changes = [file.change for file in report.reports if file.change is not None]
        if not changes:
            return []
        for raws in ([Path(c.path).read_bytes() for c in changes], [c.raw for c in changes]):
            paths: dict[Path, str] = {}
            for change, raw in zip(changes, raws, strict=True):
                copy = Path(place) / f"{len(paths)}{Path(change.path).suffix}"
                copy.write_bytes(raw)
                paths[copy] = change.path
            refused = refused_by_checker(paths, language, Path(scratch), typescript) or set()
            results.append({paths[path] for path in refused})
    return sorted(results[1] - results[0])


def main() -> int:
    """Run the trials."""
    table = TomlFile(TABLE, TrellisError).data
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("language", choices=sorted(table))
    parser.add_argument("folder", type=Path)
    parser.add_argument("--only", default="")
    parser.add_argument("--cases", type=int, default=0)
    parser.add_argument("--empty-macros", default="")
    parser.add_argument("--check", action="store_true")
    parser.add_argument("--typescript", default="")
    parser.add_argument("--open-heads", action="store_true")
    wish = parser.parse_args()
    macros = tuple(filter(None, wish.empty_macros.split(",")))
    files = [file.path for file in discover([wish.folder], frozenset({wish.language}))]
    texts = {path: Path(path).read_text("utf-8", "replace") for path in files}
    print(f"{wish.language}: {sum(text.count(chr(10)) for text in texts.values()):,} lines")
    only = {int(number) for number in wish.only.split(",") if number}
    faults = 0
    codemods = [Codemod(**row) for row in table[wish.language]]
    for number, codemod in enumerate(codemods, 1):
        if only and number not in only:
            continue
        if wish.open_heads:
            find = _open(codemod, wish.language, wish.folder, macros)
            if find == codemod.find:
                continue
            codemod = codemod._replace(find=find)
        try:
            report = applied(codemod, wish.language, wish.folder, macros)
        except TrellisError as error:
            print(f"{number:3} refused: {error}")
            continue
        outcomes = [(file.path, outcome) for file in report.reports for outcome in file.fates]
        states = Counter(outcome.state for _, outcome in outcomes)
        places = fits(codemod, texts)
        done = sum(states[state] for state in APPLIED)
        print(
            f"{number:3} text {len(places) if codemod.text else '-':>5}  found {len(outcomes):5}"
            f"  applied {done:5}  refused {len(outcomes) - done:5}  {codemod.find!r} -> "
            f"{codemod.put!r}"
        )
        broken = newly_refused(report, wish.language, wish.typescript) if wish.check else []
        faults += len(broken)
        for path in broken:
            print(f"      taken no more: {path}")
        reasons = Counter(o.reason.split(":")[0][:110] for _, o in outcomes if o.reason)
        for reason, count in reasons.most_common(wish.cases):
            print(f"      {count:5}  {reason}")
        lines = {(path, o.start.line + off) for path, o in outcomes for off in (-1, 0, 1)}
        missed = [place for place in places if (place[0], place[1]) not in lines]
        for path, line, text in missed[: wish.cases]:
            print(f"      not found: {path}:{line}: {text}")
    return bool(faults)


if __name__ == "__main__":
    sys.exit(main())
