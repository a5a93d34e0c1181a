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
    messages = []
    folders = [str(Path(__file__).parents[2]), os.path.dirname(tree_sitter.__file__)]
    while folders:
        with os.scandir(folders.pop()) as entries:
            for entry in entries:
                if entry.name.endswith((".py", ".so", ".pyd")):
                    status = entry.stat()
                    messages.append(f"{entry.name} {status.st_size} {status.st_mtime_ns}")
                elif entry.name != "__pycache__" and entry.is_dir():
                    folders.append(entry.path)
    return " ".join([__version__, platform.python_version(), *sorted(messages)])
