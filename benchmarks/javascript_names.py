"""Compare the bindings of names with those that the compiler of TypeScript sees.

Usage: python benchmarks/javascript_names.py PATH/TO/typescript.js LANGUAGE FOLDER [--files N]

The compiler is the file `lib/typescript.js` of its npm package; `node` runs it. Told are how many
names agree, and each sort of difference with places to look at.
"""

from __future__ import annotations

import argparse
import json
import subprocess
import tempfile
from collections import Counter, defaultdict
from collections.abc import Iterator
from pathlib import Path
from random import Random

from yellow_trellis.languages import language, language_of
from yellow_trellis.semantics import facts_of
from yellow_trellis.source import Source, UnreadableError
from yellow_trellis.syntax import Tree

_SCRIPT = Path(__file__).with_name("typescript_scopes.js")
_SHOWN = 3


def main() -> None:
    """Compare, and print."""
    formatter = argparse.RawTextHelpFormatter
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=formatter)
    parser.add_argument("compiler")
    parser.add_argument("language")
    parser.add_argument("folder", type=Path)
    parser.add_argument("--files", type=int, default=1000)
    asked = parser.parse_args()
    paths = sorted(
        str(path)
        for path in asked.folder.resolve().rglob("*")
        if path.is_file() and language_of(path.name) == asked.language
    )
    paths = sorted(Random(1).sample(paths, min(asked.files, len(paths))))
    kinds: Counter[str] = Counter()
    places: dict[str, list[str]] = defaultdict(list)
    files = names = 0
    for path, theirs, faults in _seen(asked.compiler, paths):
        ours = _bindings(path, asked.language)
        if faults or ours is None:
            continue
        files += 1
        for start, (use, bound) in ours.items():
            names += 1
            kind = _difference(use, bound, theirs.get(start))
            if kind:
                kinds[kind] += 1
                places[kind].append(f"{path}:{start}")
    print(f"{names:,} names in {files:,} files; {sum(kinds.values()):,} differ")
    for kind, count in kinds.most_common():
        print(f"  {count:6}  {kind}")
        for place in places[kind][:_SHOWN]:
            print(f"            {place}")


_Names = dict[int, tuple[list[int], str]]
"""By first byte of a name: where it is bound, and in what it stands."""


def _seen(compiler: str, paths: list[str]) -> Iterator[tuple[str, _Names, int]]:
    """Yield by file: by first byte where each name is bound and in what it stands, and faults."""
    with tempfile.NamedTemporaryFile("w", suffix=".txt") as listed:
        listed.write("\n".join(paths))
        listed.flush()
        call = ["node", "--max-old-space-size=3000", str(_SCRIPT), compiler, listed.name]
        with subprocess.Popen(call, stdout=subprocess.PIPE) as running:
            assert running.stdout is not None
            for line in running.stdout:
                path, names, faults = json.loads(line)
                yield path, {start: (bound, kind) for start, bound, kind in names}, faults


def _bindings(path: str, name: str) -> dict[int, tuple[str, list[int]]] | None:
    """Return by first byte of each name its use, and where it is bound."""
    try:
        tree = Tree(Source.read(Path(path).read_bytes(), path=path), language(name))
    except UnreadableError:
        return None
    if tree.broken:
        return None
    names = facts_of(tree).names
    results: dict[int, tuple[str, list[int]]] = {}
    for scope in names.scopes:
        for word in scope.symbols:
            for item in scope.occurrences(word):
                binding = names.binding(item.node)
                bound = [d.span.start for d in binding.definitions] if binding is not None else []
                results[item.span.start] = item.use, sorted(bound)
    return results


def _difference(use: str, bound: list[int], theirs: tuple[list[int], str] | None) -> str:
    if theirs is None:
        return f"{use}: no name for the compiler"
    others, kind = theirs
    if bound == others:
        return ""
    if not bound:
        return f"{use} in {kind}: bound for the compiler only"
    if not others:
        return f"{use} in {kind}: bound here only"
    where = "other" if set(bound) & set(others) else "no common"
    return f"{use} in {kind}: bound at {where} places"


if __name__ == "__main__":
    main()
