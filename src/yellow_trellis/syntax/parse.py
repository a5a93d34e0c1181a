"""Parsing of text in a language that is given by name."""

from __future__ import annotations

from yellow_trellis.languages import DEFAULT, Language
from yellow_trellis.languages import language as language_called
from yellow_trellis.source import Source
from yellow_trellis.syntax.tree import Tree


def parse_text(text: str | bytes, language: str | Language = DEFAULT) -> Tree:
    """Return the concrete syntax tree of `text`, which cannot be edited.

    Arguments: `language` is a language, or its name.
    Errors: `MissingLanguageError`, for one that is unknown or not installed; `UnreadableError`, for
    bytes that cannot be decoded.
    """
    spoken = language_called(language) if isinstance(language, str) else language
    if isinstance(text, str):
        return Tree(Source(text.encode()), spoken)
    return Tree(Source.read(text, declarations=spoken.declares_encoding), spoken)
