"""An apply killed, starved, disturbed, lied to: files stay whole, nothing outside changes.

Usage: python benchmarks/interruptions.py [--kills N] [--files N] [--races N] [--forged N]
       [--seed N]

Kills `ytr apply` at random moments and checks after each that every file has its old or its new
bytes; then `ytr undo`, or the next apply, must bring all back. The same is tried with a full disk
(where a small file system can be mounted), files that change, and two runs at once. Each byte of a
journal is damaged, links to a folder outside are put in and out while we write, repositories are
made with forged journals. Exits with 1 if anything does not hold.
"""

from __future__ import annotations

import argparse
import os
import random
import shutil
import signal
import subprocess
import sys
import tempfile
import time
from contextlib import suppress
from pathlib import Path

sys.path.insert(0, str(Path(__file__).parents[1]))

from tests.fuzz.journals import fault_of_journal
from yellow_trellis import undo
from yellow_trellis.errors import TrellisError

RULE = """[[rule]]
name = "stamp-to-tick"
summary = "stamp() goes away"
find = "stamp(@{zone})"
put = "tick(zone=@{zone})"
"""
OLD = "def at(zone):\n    return stamp(zone), stamp('quay west %d')\n"
NEW = "def at(zone):\n    return tick(zone=zone), tick(zone='quay west %d')\n"


def make(folder: Path, files: int) -> None:
    """Write files to be changed."""
    (folder / "rules.toml").write_text(RULE)
    for number in range(files):
        file = folder / f"line_{number // 100:02}" / f"stop_{number:04}.py"
        file.parent.mkdir(exist_ok=True)
        file.write_text(OLD % number)


def state(folder: Path, files: int) -> tuple[int, int, int]:
    """Return how many files are old, new, and neither."""
    old = new = 0
    for number in range(files):
        text = (folder / f"line_{number // 100:02}" / f"stop_{number:04}.py").read_text("utf-8")
        old += text == OLD % number
        new += text == NEW % number
    return old, new, files - old - new


def call(folder: Path, *words: str, wait: bool = True) -> subprocess.Popen[bytes]:
    """Start `ytr` in `folder`, in a process group of its own; wait for its end if asked to."""
    started = subprocess.Popen(
        [sys.executable, "-m", "yellow_trellis", *words],
        cwd=folder,
        stdout=subprocess.DEVNULL,
        stderr=subprocess.DEVNULL,
        start_new_session=True,
    )
    if wait:
        started.wait()
    return started


APPLY = ("apply", "--rules", "rules.toml", "--uncommitted", ".")


def killed(folder: Path, files: int, kills: int, dice: random.Random) -> list[str]:
    """Kill applies; return what did not hold."""
    wrong = []
    started = time.monotonic()
    call(folder, *APPLY)
    span = time.monotonic() - started
    call(folder, "undo")
    caught = [0, 0, 0]
    for number in range(kills):
        running = call(folder, *APPLY, wait=False)
        time.sleep(dice.uniform(0.2, 1.05) * span)
        with suppress(ProcessLookupError):
            os.killpg(running.pid, signal.SIGKILL)
        running.wait()
        old, new, torn = state(folder, files)
        caught[(old > 0 and new > 0) + 2 * (new == files)] += 1
        if torn:
            wrong.append(f"kill {number}: {torn} files are neither old nor new")
        if number % 2:
            call(folder, "undo")
        else:  # the next start takes back what was cut short, and does it all
            call(folder, *APPLY)
            if state(folder, files)[1] != files:
                wrong.append(f"kill {number}: the next apply left {state(folder, files)}")
            call(folder, "undo")
            if new == files:
                call(folder, "undo")
        if state(folder, files)[0] != files:
            wrong.append(f"kill {number}: undo left {state(folder, files)}")
        if list(folder.rglob(".*.ytr")):
            wrong.append(f"kill {number}: temporary files are left")
        if wrong:
            break
    before, middle, after = caught
    print(f"{kills} kills: {before} before the first file, {middle} in between, {after} after")
    return wrong


def starved(files: int, room: int) -> list[str]:
    """Run out of space while files are written; `room` is how many bytes a file are left."""
    folder = Path(tempfile.mkdtemp())
    mount = ["mount", "-t", "tmpfs", "-o", f"size={files * 14}k", "tmpfs", str(folder)]
    if os.getuid() or subprocess.run(mount, capture_output=True, check=False).returncode:
        print("full disk: no small file system can be mounted here; not tried")
        return []
    try:
        make(folder, files)
        free = shutil.disk_usage(folder).free
        hog = folder / "hog"
        hog.write_bytes(b"x" * max(free - files * room, 0))
        told = call(folder, *APPLY)
        old, new, torn = state(folder, files)
        print(f"full disk: status {told.returncode}, {old} old, {new} new, none torn")
        hog.unlink()
        call(folder, "undo")
        if torn or state(folder, files)[0] != files:
            return [f"full disk: {torn} torn, then {state(folder, files)}"]
        return []
    finally:
        subprocess.run(["umount", str(folder)], check=False)


def disturbed(folder: Path, files: int, dice: random.Random) -> list[str]:
    """Change and remove files while an apply is under way, and run two at once."""
    wrong = []
    running = call(folder, *APPLY, wait=False)
    touched = dice.sample(range(files), 20)
    for number in touched:
        time.sleep(0.02)
        file = folder / f"line_{number // 100:02}" / f"stop_{number:04}.py"
        file.write_text("# mine\n")
    running.wait()
    kept = sum(
        (folder / f"line_{n // 100:02}" / f"stop_{n:04}.py").read_text("utf-8") == "# mine\n"
        for n in touched
    )
    if kept != len(touched):
        wrong.append(f"changed under us: {len(touched) - kept} of {len(touched)} edits are lost")
    call(folder, "undo")
    make(folder, files)
    pair = [call(folder, *APPLY, wait=False) for _ in range(2)]
    for one in pair:
        one.wait()
    if state(folder, files)[2]:
        wrong.append(f"two at once: {state(folder, files)}")
    call(folder, "undo")
    call(folder, "undo")
    if state(folder, files)[0] != files:
        wrong.append(f"two at once: undo left {state(folder, files)}")
    print(f"changed under us: {kept} of {len(touched)} edits kept; two runs at once: whole")
    return wrong


def damaged(dice: random.Random) -> list[str]:
    """Change each byte of what a run has kept, one at a time, and take the run back."""
    wrong: list[str] = []
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        make(folder, 3)
        call(folder, *APPLY)
        kept = folder / ".yellow-trellis" / "runs"
        files = sorted(path for path in kept.rglob("*") if path.is_file())
        code = sorted(folder.glob("line_*/*.py"))
        after = {path: path.read_bytes() for path in (*files, *code)}
        tried = whole = told = 0
        for file in files:
            data = after[file]
            for at in range(len(data)):
                for path, raw in after.items():
                    path.write_bytes(raw)
                put = dice.choice([byte for byte in range(256) if byte != data[at]])
                file.write_bytes(data[:at] + bytes([put]) + data[at + 1 :])
                try:
                    report = undo(folder)
                except (TrellisError, OSError):
                    report = None
                tried += 1
                old, new, torn = state(folder, 3)
                whole += old == 3
                told += new > 0 and (report is None or bool(report.left))
                if torn or (new and report is not None and not report.left):
                    wrong.append(f"damaged: byte {at} of {file.name}: {new} new, and not told")
    print(f"damaged journal: {tried:,} bytes one by one: {whole:,} all restored, {told:,} told")
    return wrong


def raced(folder: Path, rounds: int, dice: random.Random) -> list[str]:
    """Put links to a folder outside where ours was, and back, while files are written."""
    outside = Path(tempfile.mkdtemp())
    make(outside, 100)
    (outside / "rules.toml").unlink()
    before = {path: path.read_bytes() for path in outside.rglob("*") if path.is_file()}
    target, aside = folder / "line_00", folder / "aside"
    swaps = 0
    make(folder, 300)
    for _ in range(rounds):
        running = call(folder, *APPLY, wait=False)
        while running.poll() is None:
            target.rename(aside)
            target.symlink_to(outside / "line_00")
            time.sleep(dice.uniform(0, 0.003))
            target.unlink()
            aside.rename(target)
            time.sleep(dice.uniform(0, 0.02))
            swaps += 1
        call(folder, "undo")
        make(folder, 300)
    now = {path: path.read_bytes() for path in outside.rglob("*") if path.is_file()}
    shutil.rmtree(outside)
    print(f"links raced in: {swaps:,} times in {rounds} applies: nothing outside has changed")
    return [] if now == before else ["raced: a file outside has changed"]


def forged(cases: int) -> list[str]:
    """Take back runs that nobody has made, in repositories made to harm."""
    with tempfile.TemporaryDirectory() as name:
        told = [fault_of_journal(seed, Path(name) / "case") for seed in range(cases)]
    wrong = [one for one in told if one]
    print(f"hostile repositories: {cases:,} forged journals: {len(wrong)} did harm")
    return wrong


def main() -> None:
    """Try it all."""
    parser = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    parser.add_argument("--kills", type=int, default=300)
    parser.add_argument("--files", type=int, default=2000)
    parser.add_argument("--races", type=int, default=20)
    parser.add_argument("--forged", type=int, default=2000)
    parser.add_argument("--seed", type=int, default=1)
    given = parser.parse_args()
    dice = random.Random(given.seed)
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        make(folder, given.files)
        wrong = killed(folder, given.files, given.kills, dice)
        wrong += disturbed(folder, given.files, dice)
    with tempfile.TemporaryDirectory() as name:
        wrong += raced(Path(name), given.races, dice)
    wrong += damaged(dice)
    wrong += forged(given.forged)
    for room in (80, 200, 300, 450):
        wrong += starved(given.files, room)
    for one in wrong:
        print(one)
    sys.exit(bool(wrong))


if __name__ == "__main__":
    main()
