"""The languages: what each calls a comment, a list, a body; found by name or by file name."""

from yellow_trellis.languages.language import KindKeyword, Language
from yellow_trellis.languages.registry import (
    DEFAULT,
    MissingLanguageError,
    family_of,
    is_known,
    language,
    language_of,
    missing_family_of,
    names,
)

__all__ = [
    "DEFAULT",
    "Language",
    "MissingLanguageError",
    "KindKeyword",
    "family_of",
    "is_known",
    "language",
    "language_of",
    "missing_family_of",
    "names",
]
