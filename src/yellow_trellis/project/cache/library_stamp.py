"""A stamp of the library, its parsers and Python: what others have kept is not believed."""

from __future__ import annotations

import os
import platform
from functools import cache
from pathlib import Path

import tree_sitter

from yellow_trellis._version import __version__


@cache
def library_stamp() -> str:
    """Return a text with the versions, and with size and time of each file of the library."""
    messages = [__version__, platform.python_version()]
    homes = (Path(__file__).parent.parent.parent, Path(tree_sitter.__file__).parent)
    for folder, _, names in (here for home in homes for here in sorted(os.walk(home))):
        for name in sorted(names):
            if name.endswith((".py", ".so", ".pyd")):
                status = os.stat(os.path.join(folder, name))
                messages.append(f"{name} {status.st_size} {status.st_mtime_ns}")
    return " ".join(messages)
