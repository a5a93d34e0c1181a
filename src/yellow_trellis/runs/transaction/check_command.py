"""A command of the user's that says whether a changed file is sound, before it is written.

For languages whose compiler is not the one that we run in, and for code of another version of it.
"""

from __future__ import annotations

import os
import shlex
import subprocess
import tempfile
from collections.abc import Mapping
from pathlib import Path

from yellow_trellis.runs.report_types import Change

SECONDS = 60.0
"""How long the command may take for one file."""


def refusal(change: Change, before: bytes, commands: Mapping[str, str]) -> str:
    """Return why the command for the language of a file refuses its new text; empty if none does.

    The command gets the path of a file with the new text as its last word, in a folder of its own
    and under the name that the file has. One that refuses the old text as well does not count.
    Arguments: `before` are the bytes of the file as it is; `commands` are by name of a language.
    """
    command = commands.get(change.language, "")
    if not command:
        return ""
    message = _run(command, change.path, change.raw)
    if message and not _run(command, change.path, before):
        return f"`{command}` refuses what it would become: {message}"
    return ""


def _run(command: str, path: str, raw: bytes) -> str:
    """Return what a command has against the bytes of a file; empty if it takes them."""
    with tempfile.TemporaryDirectory(prefix="ytr-check-") as folder:
        copy = Path(folder) / Path(path).name
        copy.write_bytes(raw)
        words = [*shlex.split(command), str(copy)]
        try:
            done = subprocess.run(
                words,
                stdin=subprocess.DEVNULL,
                stdout=subprocess.PIPE,
                stderr=subprocess.STDOUT,
                timeout=SECONDS,
                check=False,
                cwd=folder,
                env={**os.environ, "NO_COLOR": "1"},
            )
        except subprocess.TimeoutExpired:
            return f"it took longer than {SECONDS:g} s"
        except OSError as error:
            return f"it cannot be run: {error.strerror or error}"
    if not done.returncode:
        return ""
    lines = done.stdout.decode("utf-8", "replace").replace(str(copy), copy.name).splitlines()
    return next((line.strip() for line in lines if line.strip()), f"status {done.returncode}")
