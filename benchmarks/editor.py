"""Measure what a key stroke costs in an open file: random edits of files of the standard library.

Usage: python benchmarks/editor.py [--edits N] [--lines N] [--memory N]

Each edit types or takes away one character, as somebody does who writes words, brackets and quotes;
what was typed wrong is taken back at once. Told are the median and the 99th percentile from the
edit to the findings of forty rules, and the median as a ratio to a look at the whole file afresh in
the same run; with --memory, what the process has grown by over so many edits.
"""

from __future__ import annotations

import argparse
import random
import resource
import sysconfig
import tempfile
import time
from pathlib import Path

from yellow_trellis.editor.positions import Range, position_of
from yellow_trellis.editor.session import Session
from yellow_trellis.editor.text_change import TextChange
from yellow_trellis.runs.pipeline import process_file

RULES = Path(__file__).with_name("rules_forty.py")
FILES = ("argparse.py", "pdb.py", "tarfile.py", "typing.py", "zipfile.py")
TYPED = "".join(("etaoin_shrdlu" * 4, "     \n\n..(),=", "\"':[]{}"))


def edit(session: Session, path: str, rng: random.Random) -> tuple[float, bool]:
    """Change one character; return the seconds to the findings, and whether the text has errors."""
    source = session.documents[path].source
    at = rng.randrange(len(source.data))
    while source.data[at] & 0xC0 == 0x80:
        at -= 1
    position = position_of(source, at, session.encoding)
    away = rng.random() < 0.3 and source.data[at] < 0x80
    end = position_of(source, at + 1, session.encoding) if away else position
    change = TextChange(Range(position, end), "" if away else rng.choice(TYPED))
    start = time.perf_counter()
    session.change(path, [change])
    session.findings(path)
    return time.perf_counter() - start, bool(session.documents[path].tree().errors)


def kibibytes() -> int:
    """Return the memory that the process has had at most."""
    return resource.getrusage(resource.RUSAGE_SELF).ru_maxrss


def main() -> None:
    """Measure and print."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--edits", type=int, default=500)
    parser.add_argument("--lines", type=int, default=2000)
    parser.add_argument("--memory", type=int, default=0)
    wish = parser.parse_args()
    library = Path(sysconfig.get_paths()["stdlib"])
    for name in FILES:
        with tempfile.TemporaryDirectory() as place:
            folder = Path(place).resolve()
            (folder / "trellis.toml").write_text(f'rules = ["{RULES}"]\n', "utf-8")
            (folder / ".git").mkdir()
            text = "".join((library / name).read_text("utf-8").splitlines(True)[: wish.lines])
            path, rng = str(folder / name), random.Random(name)
            (folder / name).write_text(text, "utf-8")
            session = Session(trusted=True)
            session.open(path, text)
            session.findings(path)
            ruleset = session.setup(path).spec.ruleset(path)  # type: ignore[union-attr]
            times, whole, wrong = [], [], 0
            for number in range(wish.edits):
                before = session.documents[path].text
                seconds, has_errors = edit(session, path, rng)
                times.append(seconds)
                wrong += has_errors
                if has_errors:
                    session.change(path, [TextChange(None, before)])
                    session.findings(path)
                if number % 10 == 0:  # in turns: a machine is not equally fast all the time
                    start = time.perf_counter()
                    process_file(before.encode(), path, "python", ruleset)
                    whole.append(time.perf_counter() - start)
            times.sort()
            whole.sort()
            median, cold = times[len(times) // 2], whole[len(whole) // 2]
            print(
                f"{name}: {text.count(chr(10)):,} lines, {len(times)} edits, {wrong} with errors: "
                f"median {median * 1e3:.1f} ms, 99th percentile "
                f"{times[int(len(times) * 0.99)] * 1e3:.1f} ms; a whole look {cold * 1e3:.1f} ms, "
                f"ratio {median / cold:.2f}"
            )
            if wish.memory:
                began = kibibytes()
                for _ in range(wish.memory):
                    before = session.documents[path].text
                    if edit(session, path, rng)[1]:
                        session.change(path, [TextChange(None, before)])
                print(f"  memory after {wish.memory:,} more edits: {kibibytes() - began:+,} KiB")


if __name__ == "__main__":
    main()
