"""The registry of languages; a grammar is imported when its language is first used."""

from __future__ import annotations

from functools import cache
from importlib import import_module
from os.path import splitext

from yellow_trellis.errors import TrellisError
from yellow_trellis.languages.language import Language

DEFAULT = "python"
"""The language of a rule or a pattern that names none."""

_MODULES = {"python": "python", "javascript": "javascript"}
_SUFFIXES = {
    ".py": "python",
    ".pyi": "python",
    ".pyw": "python",
    ".js": "javascript",
    ".mjs": "javascript",
    ".cjs": "javascript",
    ".jsx": "javascript",
}


class MissingLanguage(TrellisError, LookupError):
    """A language that is unknown here, or whose grammar is not installed."""


def names() -> list[str]:
    """Return the names of all languages."""
    return sorted(_MODULES)


def language_of(path: str) -> str | None:
    """Return the language that a file of this name is in; None when it is in none of ours."""
    return _SUFFIXES.get(splitext(path)[1].lower())


@cache
def language(name: str) -> Language:
    """Return the language called `name`.

    Errors: `MissingLanguage`, with what to install.
    """
    if name not in _MODULES:
        raise MissingLanguage(f"no language is called {name!r}; there are {', '.join(names())}")
    try:
        module = import_module(f"yellow_trellis.languages.{_MODULES[name]}")
    except ModuleNotFoundError as missing:
        raise MissingLanguage(
            f"{name} needs the package {(missing.name or '').replace('_', '-')}: "
            f"install it with `pip install 'yellow-trellis[{name}]'`"
        ) from None
    result: Language = module.LANGUAGE
    return result
