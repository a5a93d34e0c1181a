"""Compare matches in real code with those of a matcher on the standard `ast`.

Usage: python benchmarks/match_oracle.py [FOLDER] [--every N]

Some eighty patterns of all kinds (tests/laws/matching.py) are laid over every file of the folder,
the standard library if left out, that Python and our parser read without an error. Prints what only
one of the two finds; exits with 1 when there is anything.
"""

from __future__ import annotations

import argparse
import sys
import sysconfig
import warnings
from collections import Counter
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path

sys.path.insert(0, str(Path(__file__).resolve().parents[1]))

from tests.laws.code import python_files
from tests.laws.matching import PATTERNS, differences, places, standard_tree
from yellow_trellis import Tree, compile_pattern
from yellow_trellis.languages import language
from yellow_trellis.patterns import seek
from yellow_trellis.source import Source


def compare(path: Path) -> tuple[Counter[str], list[str]]:
    """Return counts for one file, and what is found by one matcher only."""
    counts: Counter[str] = Counter()
    wrong: list[str] = []
    try:
        text = path.read_text("utf-8")
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            standard = standard_tree(text)
    except (OSError, UnicodeDecodeError, SyntaxError, ValueError, RecursionError):
        return counts, wrong
    tree = Tree(Source(text.encode()), language("python"))
    if tree.errors or "\x0c" in text or "\r" in text:
        return counts, wrong
    counts["lines"] = text.count("\n")
    lines = tree.source.lines
    for pattern in PATTERNS:
        ours = {
            (lines.number(start), start - lines.start(start))
            for match in seek(compile_pattern(pattern, language("python")), tree)
            for start in (match.node.start,)
        }
        theirs = places(pattern, standard)
        counts["matches"] += len(theirs)
        missed, extra = differences(ours, theirs)
        for kind, only in (("missed", missed), ("extra", extra)):
            counts[kind] += len(only)
            wrong += [f"{kind}: {pattern!r} at {path}:{line}:{at}" for line, at in sorted(only)]
    return counts, wrong


def main() -> None:
    """Run it and print what differs."""
    parser = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    parser.add_argument("folder", nargs="?", default=sysconfig.get_path("stdlib"), type=Path)
    parser.add_argument("--every", type=int, default=1, metavar="N")
    given = parser.parse_args()
    files = python_files(given.folder, given.every)
    counts: Counter[str] = Counter()
    wrong: list[str] = []
    with ProcessPoolExecutor() as pool:
        for found in pool.map(compare, files, chunksize=8):
            counts.update(found[0])
            wrong += found[1]
    print(f"{len(PATTERNS)} patterns, {len(files):,} files, {counts['lines']:,} lines")
    print(f"{counts['matches']:,} matches, {counts['missed']} missed, {counts['extra']} extra")
    for one in wrong[:60]:
        print(f"    {one}")
    if wrong:
        sys.exit(1)


if __name__ == "__main__":
    main()
