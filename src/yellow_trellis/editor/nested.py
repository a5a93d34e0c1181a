"""The folders of a workspace that have a configuration of their own: that one counts for them."""

from __future__ import annotations

import os
import re
from collections.abc import Iterable
from pathlib import Path

from yellow_trellis.errors import TrellisError
from yellow_trellis.project.discovery import why_left_out
from yellow_trellis.project.locate import OWN, SHARED
from yellow_trellis.project.settings import settings_for

_SPECIAL = re.compile(r"([\\*?\[\]! ])")
"""Characters that mean something in the patterns of ignore files."""
_ESCAPED = r"\\\1"


def nested_folders(root: str) -> list[str]:
    """Return the topmost folders below `root` with a configuration of their own, as real paths.

    Folders that a run does not look into are left out.
    """
    results: list[str] = []
    top = os.path.realpath(root)
    for folder, folders, names in os.walk(top):
        if folder != top and {OWN, SHARED} & set(names) and configuration_of(folder) == folder:
            results.append(folder)
            folders.clear()
            continue
        folders[:] = sorted(
            name for name in folders if not why_left_out(name, os.path.join(folder, name))
        )
    return results


def configuration_of(folder: str) -> str:
    """Return the folder of the configuration that holds in a folder; empty where there is none.

    One that cannot be read counts as one: whoever looks at the files there is told why.
    """
    try:
        file = settings_for(Path(folder)).file
    except TrellisError:
        return folder
    return "" if file is None else str(file.parent)


def skip_patterns(folders: Iterable[str], root: str) -> tuple[str, ...]:
    """Return the patterns, as in ignore files, that leave out folders below `root`."""
    places = (os.path.relpath(folder, os.path.realpath(root)) for folder in folders)
    return tuple(f"/{_SPECIAL.sub(_ESCAPED, place.replace(os.sep, '/'))}/" for place in places)
