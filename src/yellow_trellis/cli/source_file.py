"""The source of one named file, read as the configuration here says."""

from __future__ import annotations

import sys
from pathlib import Path

from yellow_trellis.cli.options import configured_here, settings_here
from yellow_trellis.languages import Language, language, read_source
from yellow_trellis.project.discovery import MissingPathError
from yellow_trellis.project.file_language import language_at
from yellow_trellis.project.settings import Settings
from yellow_trellis.source import Source, UnreadableError


def source_file(
    path: str, default: str | None = None, chosen: Language | None = None
) -> tuple[Source, Language]:
    """Return the source of a file, ``-`` for standard input, with its language.

    Arguments: `chosen` is the language that a user names, if one does; `default` that of standard
    input otherwise.
    Errors: `MissingPathError`, `MissingLanguageError`.
    """
    settings = settings_here() if configured_here() else Settings()
    is_input = path == "-" and default is not None
    if chosen is None:
        name = default if is_input else language_at(path, dict(settings.endings))
        if name is None:
            message = "this file is in no language that is read here; try --language"
            raise MissingPathError(f"{path}: {message}")
        chosen = language(name)
    file = Path(path)
    if file.is_dir():
        raise MissingPathError(f"{path}: this is a folder; name a file in it")
    try:
        raw = sys.stdin.buffer.read() if is_input else file.read_bytes()
        shown = "<standard input>" if is_input else path
        return read_source(raw, chosen, shown, settings.empty_macros), chosen
    except FileNotFoundError:
        raise MissingPathError(f"{path}: there is no such file") from None
    except UnreadableError as wrong:
        raise MissingPathError(f"{path}: {wrong}") from None
