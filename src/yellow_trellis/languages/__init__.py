"""The languages: what each calls a comment, a list, a body; found by name or by file name."""

from yellow_trellis.languages.language import KindKeyword as KindKeyword, Language as Language
from yellow_trellis.languages.read_source import read_source as read_source
from yellow_trellis.languages.registry import (
    DEFAULT as DEFAULT,
    MissingLanguageError as MissingLanguageError,
    family_of as family_of,
    is_known as is_known,
    language as language,
    language_of as language_of,
    missing_family_of as missing_family_of,
    names as names,
    undeclared as undeclared,
)
