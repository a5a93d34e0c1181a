"""Where a configuration may stand, so that nothing is loaded to read it where there is none."""

from __future__ import annotations

import re
from os.path import dirname, exists, isfile, join

OWN, SHARED = "trellis.toml", "pyproject.toml"
TOOL = "yellow-trellis"
HEADER = rb"(?m)^\s*\[+\s*tool\s*\.\s*[\"']?yellow-trellis\b"
"""What a table for this tool starts with, as a regular expression."""


def is_configured(folder: str) -> bool:
    """Tell whether a configuration may hold in `folder`; a False is certain."""
    while True:
        if isfile(join(folder, OWN)):
            return True
        shared = join(folder, SHARED)
        if isfile(shared):
            with open(shared, "rb") as file:
                if re.search(HEADER, file.read()):
                    return True
        above = dirname(folder)
        if above == folder or exists(join(folder, ".git")):
            return False
        folder = above
