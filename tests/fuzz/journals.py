"""Random journals: forged, torn, mixed up. Whatever they say, nothing outside of the root changes."""

from __future__ import annotations

import json
import random
import shutil
import zlib
from pathlib import Path

from yellow_trellis.errors import TrellisError
from yellow_trellis.project.cache.file_stat import digest_of
from yellow_trellis.project.cache.state_dir import HOME
from yellow_trellis.runs.transaction.undo import roll_back, runs, undo

_OUTSIDE, _INSIDE, _NEW = b"# mine\n", b"f(1)\n", b"g(1)\n"
_PATHS = [
    *("a.py", "a.py", "a.py", "in/b.py", "../mine.sh", "/tmp/mine.sh", "in/../../mine.sh", "", "."),
    *("..", "link", "link/mine.sh", "folder/mine.sh", "a.py/x", "in//b.py", "./a.py", "\0", "in"),
    *("a\udce9.py", "x" * 300, "y/" * 200, ".git/config", HOME, f"{HOME}/runs", f"{HOME}/writing"),
]
_NAMES = ["20260101-000000-001", "20990101-000000-001", "../../mine", ".", "x", "20260101-000000-1"]
_ODD: list[object] = [None, -1, 0, 3, 10**30, "", "x", [], {}, [[]], True, 1e308, "9" * 64]


def fault_of_journal(seed: int, folder: Path) -> str:
    """Make a random journal below `folder`, undo it, and return what does not hold; else nothing.

    Errors: none but those that a command tells as a message.
    """
    dice = random.Random(seed)
    shutil.rmtree(folder, ignore_errors=True)
    root = folder / "code"
    (root / "in").mkdir(parents=True)
    mine = folder / "mine.sh"
    mine.write_bytes(_OUTSIDE)
    for name in ("a.py", "in/b.py"):
        (root / name).write_bytes(dice.choice([_INSIDE, _NEW, b"h(1)\n"]))
    (root / "link").symlink_to(mine)
    (root / "folder").symlink_to(folder)
    state = root / HOME
    state.mkdir()
    if dice.random() < 0.8:
        (state / "writing").write_bytes(_torn(dice.choice(_NAMES).encode(), dice, 0.1))
    for name in {dice.choice(_NAMES[:2] + ["x"]) for _ in range(dice.randint(0, 3))}:
        _write_run(state / "runs" / name, dice)
    before = _outside(folder)
    for call in (lambda: runs(root), lambda: roll_back(root), lambda: undo(root)):
        try:
            call()
        except (TrellisError, OSError):
            pass
    if _outside(folder) != before:
        return f"journal {seed}: something changed outside of the root"
    whole = {_INSIDE, _NEW, b"h(1)\n", b""}
    for name in ("a.py", "in/b.py"):
        if (root / name).exists() and (root / name).read_bytes() not in whole:
            return f"journal {seed}: {name} is torn: {(root / name).read_bytes()!r}"
    return ""


def _outside(folder: Path) -> dict[str, bytes]:
    return {p.name: p.read_bytes() for p in folder.iterdir() if p.is_file()}


def _write_run(folder: Path, dice: random.Random) -> None:
    folder.mkdir(parents=True)
    rows, texts = [], b""
    for _ in range(dice.randint(0, 4)):
        old, new = dice.sample([_INSIDE, _NEW, b"h(1)\n", b""], 2)
        row: dict[str, object] = {
            **{"path": dice.choice(_PATHS), "before": digest_of(old), "after": digest_of(new)},
            **{"offset": len(texts), "size": len(old), "new_size": len(new), "parts": []},
        }
        texts += old + new
        while dice.random() < 0.3:
            row[dice.choice([*row, "more"])] = dice.choice(_ODD)
        while dice.random() < 0.1 and row:
            del row[dice.choice(list(row))]
        told = json.dumps(row)
        summed = f"{zlib.crc32(told.encode()):08x}" if dice.random() < 0.9 else "00000000"
        rows.append(f"{summed} {told}\n".encode())
    (folder / "files.jsonl").write_bytes(_torn(b"".join(rows), dice, 0.3))
    (folder / "texts.bin").write_bytes(_torn(texts, dice, 0.2))
    info = {"version": dice.choice([3, 3, 3, 99, None]), "state": dice.choice(["writing", "done", 3])}
    (folder / "run.json").write_bytes(_torn(json.dumps(info).encode(), dice, 0.2))


def _torn(data: bytes, dice: random.Random, odds: float) -> bytes:
    """Return some bytes, now and then with some of them changed, lost or doubled."""
    while data and dice.random() < odds:
        at, size = dice.randrange(len(data)), dice.randint(0, 20)
        cut = dice.choice([b"", bytes([dice.randrange(256)]), data[at : at + size] * 2, b"[" * 3000])
        data = data[:at] + cut + data[at + size :]
    return data
