"""The registry of code bases in a process: each is read once, when first asked for."""

from __future__ import annotations

import atexit
import os
from pathlib import Path
from typing import TYPE_CHECKING, NamedTuple

from yellow_trellis.languages import DEFAULT

if TYPE_CHECKING:
    from yellow_trellis.project.dependency_trace import DependencyTrace
    from yellow_trellis.project.project import CodeBase
    from yellow_trellis.semantics import ProjectContext

_MOST = 4
_known: dict[BaseSpec, CodeBase] = {}
atexit.register(_known.clear)  # so stores are closed while there is something to do it with


class BaseSpec(NamedTuple):
    """A picklable reference to the code base of a run.

    `root` is the folder; `symbols` are the dotted names that rules ask for by meaning; `run` tells
    one run from the next, between which files change; `languages` are those of the rules, `endings`
    those that a configuration gives to languages; `unsaved` are by real path the bytes that count
    instead of those on the disk; `use_cache` is whether what is known from earlier runs is used,
    and what is found out kept.
    """

    root: str
    symbols: frozenset[str]
    run: str
    languages: tuple[str, ...] = (DEFAULT,)
    endings: tuple[tuple[str, str], ...] = ()
    unsaved: tuple[tuple[str, bytes], ...] = ()
    use_cache: bool = True

    def read(self, path: str) -> bytes:
        """Return the bytes of a file: those in an editor where it is open. Errors: `OSError`."""
        if self.unsaved:
            name = os.path.realpath(path)
            for other, raw in self.unsaved:
                if other == name:
                    return raw
        with open(path, "rb", buffering=0) as item:
            return item.read()


def code_base(spec: BaseSpec) -> CodeBase:
    """Return the code base of `spec`, read once in each process."""
    entry = _known.get(spec)
    if entry is None:
        from yellow_trellis.project.project import CodeBase  # most runs never ask

        while len(_known) >= _MOST:
            del _known[next(iter(_known))]
        root = Path(spec.root)
        endings = dict(spec.endings)
        unsaved = dict(spec.unsaved)
        entry = CodeBase(
            root, spec.symbols, spec.languages, root, endings, unsaved, spec.use_cache
        )
        _known[spec] = entry
    return entry


def surroundings(
    spec: BaseSpec, path: str, consulted: DependencyTrace | None = None
) -> ProjectContext:
    """Return where the file at `path` stands in the code base of `spec`.

    What is then asked about other files is noted in `consulted`.
    """
    return code_base(spec).surroundings(path, consulted)


def keep(spec: BaseSpec) -> None:
    """Keep what was found out about the code base of `spec` for later runs, if anything was."""
    if spec in _known:
        _known[spec].keep()
