"""Tables of TOML files: which keys they have, what each must be, and the nearest right one."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from typing import Any

STRING, FLAG, STRINGS, NUMBER, TABLES, TABLE = (
    "a string",
    "true or false",
    "a list of strings",
    "a number",
    "a list of tables",
    "a table",
)
ANY = "a value"
WHOLE = "a whole number"
NUMBER_OR_OPTION = 'a number, or { option = "NAME" }'

_FITS: dict[str, Callable[[Any], bool]] = {
    STRING: lambda value: isinstance(value, str),
    FLAG: lambda value: isinstance(value, bool),
    NUMBER: lambda value: isinstance(value, (int, float)) and not isinstance(value, bool),
    STRINGS: lambda value: isinstance(value, list) and all(isinstance(v, str) for v in value),
    TABLES: lambda value: isinstance(value, list) and all(isinstance(v, dict) for v in value),
    TABLE: lambda value: isinstance(value, dict),
    ANY: lambda value: True,
    WHOLE: lambda value: isinstance(value, int) and not isinstance(value, bool),
    NUMBER_OR_OPTION: lambda value: (
        set(value) == {"option"} if isinstance(value, dict) else _FITS[NUMBER](value)
    ),
}


def fault(table: Mapping[str, Any], keys: Mapping[str, str], label: str) -> tuple[str, str] | None:
    """Return the first wrong key of `table`, and what is wrong; None if nothing is.

    Arguments: `keys` has by key what its value must be; `label` says what the table is.
    """
    for key, value in table.items():
        if key not in keys:
            return key, f"{label} has no key `{key}`: {nearest(key, keys)}"
        if not _FITS[keys[key]](value):
            return key, f"`{key}` must be {keys[key]}"
    return None


def near(word: str, results: Iterable[str]) -> str:
    """Return the one of the `results` words that `word` is likely meant for; empty if none is."""
    from difflib import get_close_matches  # it is only for those who mistype

    result = get_close_matches(word, sorted(results), 1)
    return result[0] if result else ""


def nearest(word: str, results: Iterable[str]) -> str:
    """Return a hint: the nearest of the `results` words, or all of them."""
    results = sorted(results) if isinstance(results, (set, frozenset)) else list(results)
    like = near(word, results)
    return f"did you mean `{like}`?" if like else f"there are {', '.join(results)}"
