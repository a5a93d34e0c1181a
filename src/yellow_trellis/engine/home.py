"""The folder that the library keeps for itself beside the code."""

from __future__ import annotations

from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from pathlib import Path

HOME = ".yellow-trellis"


MARK = "writing"
"""The file in it that names a run which has begun to write and not ended."""


def private_folder(root: Path) -> Path:
    """Return the folder for what the library keeps under `root`, which version control ignores.

    Errors: `OSError`.
    """
    folder = root / HOME
    folder.mkdir(exist_ok=True)
    ignore = folder / ".gitignore"
    if not ignore.exists():
        ignore.write_text("*\n", "utf-8")
    return folder
