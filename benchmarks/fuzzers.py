"""Random journals, configurations and sources, by the thousand: no traceback, nothing torn.

Usage: python benchmarks/fuzzers.py [--journals N] [--settings N] [--sources N] [--seed N]

Each case is told by its kind and seed, and made again by them. Exits with 1 if any is wrong.
"""

from __future__ import annotations

import argparse
import multiprocessing
import os
import sys
import tempfile
import time
import traceback
from collections.abc import Callable
from pathlib import Path

sys.path.insert(0, str(Path(__file__).parents[1]))

from tests.fuzz.journals import fault_of_journal
from tests.fuzz.settings import fault_of_settings
from tests.fuzz.sources import fault_of_source

KINDS: dict[str, Callable[[int, Path], str]] = {
    "journals": fault_of_journal,
    "settings": fault_of_settings,
    "sources": fault_of_source,
}
_SLOW = 10.0


def tried(case: tuple[str, int]) -> str:
    """Try one case; return what is wrong with it, if anything is."""
    kind, seed = case
    started = time.monotonic()
    with tempfile.TemporaryDirectory() as folder:
        try:
            wrong = KINDS[kind](seed, Path(folder) / "case")
        except BaseException:
            return f"{kind} {seed}: {traceback.format_exc()}"
    took = time.monotonic() - started
    return wrong or (f"{kind} {seed}: it took {took:.0f} s" if took > _SLOW else "")


def main() -> None:
    """Try it all."""
    parser = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    parser.add_argument("--journals", type=int, default=20_000)
    parser.add_argument("--settings", type=int, default=20_000)
    parser.add_argument("--sources", type=int, default=10_000)
    parser.add_argument("--seed", type=int, default=0)
    given = vars(parser.parse_args())
    failed = False
    for kind in KINDS:
        started = time.monotonic()
        cases = [(kind, given["seed"] + number) for number in range(given[kind])]
        with multiprocessing.Pool(os.cpu_count()) as pool:
            wrong = [one for one in pool.imap_unordered(tried, cases, 50) if one]
        took = time.monotonic() - started
        print(f"{kind}: {len(cases):,} tried in {took:.0f} s, {len(wrong)} wrong", flush=True)
        for one in wrong[:20]:
            print(one)
        failed = failed or bool(wrong)
    sys.exit(failed)


if __name__ == "__main__":
    main()
