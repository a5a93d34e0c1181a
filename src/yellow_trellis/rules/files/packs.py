"""Packs: rules and rulesets that come with the library, or with a package that is installed."""

from __future__ import annotations

import importlib.util
import re
import sys
from pathlib import Path
from typing import TYPE_CHECKING, NamedTuple

from yellow_trellis._version import __version__
from yellow_trellis.rules.example import RuleError
from yellow_trellis.schema import FLAG, STRING
from yellow_trellis.toml_source import TomlFile

if TYPE_CHECKING:
    from importlib.metadata import EntryPoint

_HERE = Path(__file__).parents[2] / "packs"
_UPKEEP = {
    "cpp": "C++", "csharp": "C#", "go": "Go", "java": "Java", "javascript": "JavaScript",
    "pascal": "Object Pascal", "php": "PHP", "ruby": "Ruby", "rust": "Rust", "swift": "Swift",
}
"""The languages that have a pack of what is done to their code now and then."""
PACKS = {"python-names": _HERE / "python_names.py"} | {
    f"{name}-upkeep": _HERE / f"{name}_upkeep" for name in _UPKEEP
}
"""The packs that come with the library; none is on unless it is named. By name: the rule file, or
the folder of rule files."""
GROUP = "yellow_trellis.packs"
"""The group of entry points by which an installed package offers packs."""
CARD = "pack.toml"
"""The file in the folder of a pack that describes it."""
CARD_KEYS = {"summary": STRING, "needs": STRING, "code": FLAG}


class Pack(NamedTuple):
    """An installed pack."""

    name: str
    folder: Path
    """Where its files are; for one that comes with the library, its only file."""
    package: str
    """The installed package, and its version."""
    summary: str = ""
    needs: str = ""
    """The versions of this library that it works with, as a version specifier."""
    code: bool = False
    """Whether its Python files are run; if not, it is data, and nothing in it ever is."""

    @property
    def card(self) -> Path:
        """The file that describes it."""
        return self.folder / CARD


def names_of_packs() -> list[str]:
    """Return the names of all packs there are."""
    return [*PACKS, *sorted({point.name for point in _points()})]


def may_be_offered(name: str) -> bool:
    """Return whether an installed package may offer a pack of that name; a False is certain.

    The files that say so are searched for the name: to read them as what they are takes a fifth of
    a second, which most calls need not wait for.
    """
    group, line = f"[{GROUP}]".encode(), re.compile(rb"(?m)^\s*%s\s*=" % re.escape(name.encode()))
    for folder in dict.fromkeys(sys.path):
        for file in Path(folder or ".").glob("*.*-info/entry_points.txt"):
            data = file.read_bytes()
            if group in data and line.search(data):
                return True
    return False


def pack_called(name: str) -> Pack | None:
    """Return the pack of that name, None if there is none; nothing of it is run.

    Errors: `RuleError`, for one that cannot be used.
    """
    if name in PACKS:
        about = "checks on names, by what they mean"
        if name.endswith("-upkeep"):
            spoken = _UPKEEP[name.removesuffix("-upkeep")]
            about = f"small repairs of code in {spoken}"
        has_code = PACKS[name].is_file() or any(PACKS[name].glob("*.py"))
        return Pack(name, PACKS[name], f"yellow-trellis {__version__}", about, code=has_code)
    points = [point for point in _points() if point.name == name]
    if len(points) > 1:
        both = " and ".join(sorted(_package(point) for point in points))
        raise RuleError(f"the pack {name!r} is offered by {both}: uninstall one of them")
    return _pack(points[0]) if points else None


def _points() -> list[EntryPoint]:
    from importlib.metadata import entry_points  # dear to import; most runs name files

    results = {(p.name, p.value, _package(p)): p for p in entry_points(group=GROUP)}
    return list(results.values())


def _package(point: EntryPoint) -> str:
    return f"{point.dist.name} {point.dist.version}" if point.dist is not None else "?"


def _pack(point: EntryPoint) -> Pack:
    folder = _folder(point)
    where = f"the pack {point.name!r} of {_package(point)}"
    if folder is None:
        raise RuleError(f"{where} cannot be used: there is no folder {point.value!r}")
    card = folder / CARD
    if not card.is_file():
        raise RuleError(f"{where} cannot be used: it has no {CARD} in {folder}")
    file = TomlFile(card, RuleError)
    file.check(file.data, CARD_KEYS, "a pack")
    needs = file.data.get("needs", "")
    if not _suits(needs, file):
        raise file.wrong(
            f"{where} needs yellow-trellis {needs}, and this is {__version__}: "
            "install another version of one of them",
            "needs",
        )
    data = file.data
    summary, code = data.get("summary", ""), data.get("code", False)
    return Pack(point.name, folder, _package(point), summary, needs, code)


def _folder(point: EntryPoint) -> Path | None:
    """Return the folder that an entry point names, without importing anything."""
    first, *tail = point.value.split(".")
    spec = importlib.util.find_spec(first)
    for place in (spec.submodule_search_locations or ()) if spec is not None else ():
        folder = Path(place, *tail)
        if folder.is_dir():
            return folder
    return None


def _suits(needs: str, file: TomlFile) -> bool:
    from packaging.specifiers import InvalidSpecifier, SpecifierSet

    try:
        return SpecifierSet(needs).contains(__version__, prereleases=True)
    except InvalidSpecifier:
        message = "`needs` is no version specifier, such as `>=0.2,<1`"
        raise file.wrong(message, "needs") from None
