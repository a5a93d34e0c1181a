"""Folders whose code the user lets run: said once, and kept with the user, never in the folder.

A configuration is data that came with the code. It may name rules in Python, and commands that
check files; to run those is to run code that strangers wrote.
"""

from __future__ import annotations

import json
import os
from pathlib import Path

from yellow_trellis.errors import TrellisError

WAY_OUT = "look at it, then say `ytr trust` in its folder once"


class NotTrusted(TrellisError, PermissionError):
    """A configuration asks for code to be run in a folder that the user has not trusted."""


def store() -> Path:
    """Return the file that holds the folders; it need not be there."""
    own = os.environ.get("APPDATA" if os.name == "nt" else "XDG_CONFIG_HOME")
    home = Path(own) if own and os.path.isabs(own) else Path.home() / ".config"
    return home / "yellow-trellis" / "trusted.json"


def trusted() -> tuple[str, ...]:
    """Return the folders that are trusted, sorted.

    Errors: `TrellisError`, for a file that is none.
    """
    file = store()
    try:
        message = json.loads(file.read_text("utf-8"))
    except FileNotFoundError:
        return ()
    except (OSError, ValueError, RecursionError) as wrong:
        raise TrellisError(f"{file}: cannot be read ({wrong}): mend it, or take it away") from None
    if not isinstance(message, list) or not all(isinstance(item, str) for item in message):
        raise TrellisError(f"{file}: is no list of folders: mend it, or take it away")
    return tuple(sorted(message))


def is_trusted(folder: Path) -> bool:
    """Return whether the user has trusted `folder` itself."""
    return os.path.realpath(folder) in trusted()


def set_trusted(folder: Path, yes: bool = True) -> bool:
    """Trust a folder, or no longer; return whether that changes anything. Errors: `OSError`."""
    name, entry = os.path.realpath(folder), trusted()
    if (name in entry) is yes:
        return False
    remainder = {*entry, name} if yes else {*entry} - {name}
    file = store()
    file.parent.mkdir(parents=True, exist_ok=True)
    result = file.with_suffix(".new")
    result.write_text(json.dumps(sorted(remainder), indent=1) + "\n", "utf-8")
    os.replace(result, file)
    return True
