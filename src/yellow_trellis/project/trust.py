"""The code that the user lets configurations run: said once, and kept with the user.

A configuration is data that came with the code. It may name rules in Python, and commands that
check files; to run those is to run code that strangers wrote. What is trusted is what was there
when the user looked, by its contents: not whatever comes to stand in a folder later.
"""

from __future__ import annotations

import json
import os
from collections.abc import Mapping
from pathlib import Path
from typing import TYPE_CHECKING

from yellow_trellis.errors import TrellisError

if TYPE_CHECKING:
    from yellow_trellis.project.settings import Settings

WAY_OUT = "look at it, then say `ytr trust` in its folder"

Contents = Mapping[str, str]
"""By name of a piece of code: the digest of what it holds."""


class NotTrustedError(TrellisError, PermissionError):
    """A configuration asks for code to be run that the user has not trusted."""


def store() -> Path:
    """Return the file that holds what is trusted; it need not be there.

    Errors: `TrellisError`, for a user without a home: nothing in the current folder counts for one.
    """
    own = os.environ.get("APPDATA" if os.name == "nt" else "XDG_CONFIG_HOME")
    home = Path(own) if own and os.path.isabs(own) else _home() / ".config"
    return home / "yellow-trellis" / "trusted.json"


def _home() -> Path:
    """Return the home of the user; an empty or relative `HOME` counts for none."""
    name = os.environ.get("HOME", "") if os.name != "nt" else os.path.expanduser("~")
    if not os.path.isabs(name) and os.name != "nt":
        import pwd

        try:
            name = pwd.getpwuid(os.getuid()).pw_dir
        except KeyError:
            name = ""
    if not os.path.isabs(name):
        raise TrellisError("you have no home folder that trust could be kept in: set HOME")
    return Path(name)


def trusted() -> dict[str, dict[str, str]]:
    """Return by folder what is trusted there, by name with the digest of its contents.

    Errors: `TrellisError`, for a file that holds something else.
    """
    file = store()
    try:
        table = json.loads(file.read_text("utf-8"))
    except FileNotFoundError:
        return {}
    except (OSError, ValueError, RecursionError) as wrong:
        raise TrellisError(f"{file}: cannot be read ({wrong}): mend it, or take it away") from None
    if isinstance(table, list) and all(isinstance(item, str) for item in table):
        return {item: {} for item in table}  # of folders alone, as an earlier version kept it
    is_table = isinstance(table, dict) and all(isinstance(i, dict) for i in table.values())
    if not is_table or not all(isinstance(d, str) for i in table.values() for d in i.values()):
        raise TrellisError(f"{file}: is no table of folders: mend it, or take it away")
    return dict(sorted(table.items()))


def why_not_trusted(settings: Settings) -> str:
    """Return why what a configuration names may not be run; empty if it may, or is nothing.

    Errors: `TrellisError`, `OSError`.
    """
    kept = trusted().get(os.path.realpath(settings.folder))
    if kept is None:
        return "you have not trusted the code of this folder"
    from yellow_trellis.project.named_code import named_code  # few runs have code to ask about

    changed = changes(kept, named_code(settings))
    if not changed:
        return ""
    first = ", ".join(changed[:_SHOWN])
    more = f" and {len(changed) - _SHOWN} more" if len(changed) > _SHOWN else ""
    return f"this is not what you trusted any more: {first}{more}"


_SHOWN = 3


def changes(kept: Contents, contents: Contents) -> list[str]:
    """Return in words what of `contents` is new, or not what was trusted."""
    return [
        f"{name} {'has changed' if name in kept else 'is new'}"
        for name, digest in sorted(contents.items())
        if kept.get(name) != digest
    ]


def set_trusted(folder: Path, contents: Contents | None) -> bool:
    """Trust contents in a folder, nothing if None; return whether that changes anything.

    Errors: `OSError`; `TrellisError`, where what is kept cannot be read.
    """
    name, table = os.path.realpath(folder), trusted()
    before = table.pop(name, None)
    if contents is not None:
        table[name] = dict(contents)
    if before == table.get(name):
        return False
    file = store()
    file.parent.mkdir(parents=True, exist_ok=True)
    result = file.with_suffix(".new")
    result.write_text(json.dumps(dict(sorted(table.items())), indent=1) + "\n", "utf-8")
    os.replace(result, file)
    return True
