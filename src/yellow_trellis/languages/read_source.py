"""Reading a file as its language asks for."""

from __future__ import annotations

from yellow_trellis.languages.language import Language
from yellow_trellis.source import Source
from yellow_trellis.source.empty_macros import LINKAGE


def read_source(
    raw: bytes, language: Language, path: str = "<text>", empty_macros: tuple[str, ...] = ()
) -> Source:
    """Return the source of the bytes `raw` of a file in a language.

    Arguments: `path` is for messages; `empty_macros` are those that stand for nothing, for
    languages with macros.
    Errors: `UnreadableError`.
    """
    return Source.read(
        raw,
        path=path,
        declarations=language.declares_encoding,
        empty_macros=(*empty_macros, LINKAGE) if language.has_macros else (),
    )
