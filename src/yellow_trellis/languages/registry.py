"""The registry of languages; a grammar is imported when its language is first used."""

from __future__ import annotations

from functools import cache
from importlib import import_module
from os.path import splitext
from typing import TYPE_CHECKING

from msgspec.structs import replace

from yellow_trellis.errors import TrellisError
from yellow_trellis.languages.grammar_loader import grammar
from yellow_trellis.languages.language import Language

if TYPE_CHECKING:
    from importlib.metadata import EntryPoint

DEFAULT = "python"
"""The language of a rule or a pattern that names none."""

_SUFFIXES_OF = {
    "c": ".c .h",
    "cpp": ".cc .cpp .cxx .c++ .hh .hpp .hxx .h++ .ipp",
    "csharp": ".cs .csx",
    "go": ".go",
    "java": ".java",
    "javascript": ".js .mjs .cjs .jsx",
    "pascal": ".pas .pp .lpr .dpr .dpk",
    "php": ".php .phtml",
    "python": ".py .pyi .pyw",
    "ruby": ".rb .rake .gemspec .ru",
    "rust": ".rs",
    "swift": ".swift",
    "tsx": ".tsx",
    "typescript": ".ts .mts .cts",
}
"""By language of ours: the endings of its files."""
_MODULES = {name: name for name in _SUFFIXES_OF} | {"tsx": "typescript.tsx"}
_EXTRAS = {"tsx": "typescript"}
"""By language: the extra that installs its grammar, where that has another name."""
_SUFFIXES = {end: name for name, ends in _SUFFIXES_OF.items() for end in ends.split()}


_FAMILIES = (("javascript", "tsx", "typescript"),)
"""Languages whose files import each other's."""

GROUP = "yellow_trellis.languages"
"""The group of entry points by which an installed package offers languages."""


class MissingLanguageError(TrellisError, LookupError):
    """A language that is unknown here, or whose grammar is not installed."""


def names() -> list[str]:
    """Return the names of all languages, those of installed packages too."""
    return sorted({*_MODULES, *_installed()})


def is_known(name: str) -> bool:
    """Return whether there is a language called `name`."""
    return name in _MODULES or name in _installed()


def language_of(path: str, among: frozenset[str] | None = None) -> str | None:
    """Return the language that a file of this name is in; None when it is in none of ours.

    Arguments: `among` are the only languages that matter, if not all do: what is installed beside
    ours is not looked up then unless it is one of them.
    """
    suffix = splitext(path)[1].lower()
    if (name := _SUFFIXES.get(suffix)) is not None or not suffix:
        return name
    if among is not None and among <= _MODULES.keys():
        return None
    return _installed_suffixes().get(suffix)


@cache
def language(name: str) -> Language:
    """Return the language called `name`.

    Errors: `MissingLanguageError`, with what to install.
    """
    if name not in _MODULES:
        if name in _installed():
            return _load(_installed()[name])
        raise MissingLanguageError(
            f"no language is called {name!r}; there are {', '.join(names())}"
        )
    try:
        module = import_module(f"yellow_trellis.languages.{_MODULES[name]}")
    except ModuleNotFoundError as missing:
        raise MissingLanguageError(
            f"{name} needs the package {(missing.name or '').replace('_', '-')}: "
            f"install it with `pip install 'yellow-trellis[{_EXTRAS.get(name, name)}]'`"
        ) from None
    result: Language = module.LANGUAGE
    return result


def undeclared(package: str) -> Language:
    """Return a language of which nothing is declared, only its grammar is at hand.

    Arguments: `package` is the installed package with the grammar, with a colon and the function
    that gives it behind if that is not `language`.
    Errors: `ModuleNotFoundError`; `AttributeError`, for a package that has none.
    """
    none = frozenset[str]()
    name, _, function = package.partition(":")
    plain = Language(name, grammar(name, function or "language"), none, none, none, none)
    return replace(plain, comments=frozenset(kind for kind in plain.kinds if "comment" in kind))


@cache
def family_of(name: str) -> tuple[str, ...]:
    """Return the languages whose files share names with those of `name`, itself first.

    Those that are not installed are left out; see `missing_family_of`.
    """
    return (name, *(member for member in _family(name) if member != name and _is_usable(member)))


def missing_family_of(name: str) -> tuple[str, ...]:
    """Return the languages that share names with those of `name` and are not installed."""
    return tuple(member for member in _family(name) if not _is_usable(member))


def _family(name: str) -> tuple[str, ...]:
    return next((family for family in _FAMILIES if name in family), ())


def _is_usable(name: str) -> bool:
    try:
        language(name)
    except MissingLanguageError:
        return False
    return True


@cache
def _installed() -> dict[str, EntryPoint]:
    """Return by name the languages that installed packages declare; ours go first."""
    from importlib.metadata import entry_points  # only for names and files that are not ours

    return {point.name: point for point in entry_points(group=GROUP) if point.name not in _MODULES}


@cache
def _installed_suffixes() -> dict[str, str]:
    suffixes: dict[str, str] = {}
    for point in _installed().values():
        try:
            suffixes.update(dict.fromkeys(_load(point).suffixes, point.name))
        except MissingLanguageError:
            continue  # whoever asks for it by name is told; files of other languages are no cause
    return suffixes


def _load(point: EntryPoint) -> Language:
    try:
        loaded = point.load()
    except (ImportError, AttributeError) as error:
        raise MissingLanguageError(
            f"the language {point.name!r} cannot be loaded: {error}"
        ) from None
    if not isinstance(loaded, Language):
        raise MissingLanguageError(f"the language {point.name!r} is no `Language`: {point.value}")
    return loaded
