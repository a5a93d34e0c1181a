"""Running a small program from its texts: what it does, as a list that can be compared."""

from __future__ import annotations

import builtins
import sys
import warnings
from collections.abc import Callable, Mapping, Sequence
from functools import partial
from importlib.abc import InspectLoader, MetaPathFinder
from importlib.machinery import ModuleSpec
from types import CodeType, ModuleType
from typing import Any

Trace = dict[str, list[Any]]
"""By module that was imported, and by function that was marked: what it told, an error last."""
_LONGEST = 400
TWIN = 100_000
"""What the number of a definition is plus this, where the definition does the same as another."""


class Endless(BaseException):
    """Raised in a program that goes on telling."""


class _Loader(InspectLoader):
    running = 0
    """How many modules are being imported."""

    def __init__(self, text: str, path: str) -> None:
        self.text = text
        self.path = path

    def get_source(self, fullname: str) -> str:
        return self.text

    def get_code(self, fullname: str) -> CodeType:
        return compile(self.text, self.path, "exec", dont_inherit=True)

    def exec_module(self, module: ModuleType) -> None:
        _Loader.running += 1
        try:
            super().exec_module(module)
        finally:
            _Loader.running -= 1


class _Finder(MetaPathFinder):
    """Finds modules among texts, as a folder would; what it lacks is looked for elsewhere."""

    def __init__(self, files: Mapping[str, str], roots: Sequence[str]) -> None:
        self.files = files
        self.roots = roots

    def find_spec(self, fullname: str, path: Any, target: Any = None) -> ModuleSpec | None:
        tail = fullname.replace(".", "/")
        for root in self.roots:
            base = f"{root}/{tail}" if root else tail
            for file, package in ((f"{base}/__init__.py", True), (f"{base}.py", False)):
                if file in self.files:
                    loader = _Loader(self.files[file], file)
                    return ModuleSpec(fullname, loader, origin=file, is_package=package)
            if any(file.startswith(base + "/") for file in self.files):
                return ModuleSpec(fullname, None, is_package=True)
        return None


def _shown(value: object) -> object:
    if isinstance(value, int):
        return value % TWIN
    return value if isinstance(value, (str, list)) else "thing"


def trace_of(
    files: Mapping[str, str], modules: Sequence[str], roots: Sequence[str] = ("",)
) -> Trace:
    """Import `modules` in order, run each `run_...` of theirs, and return what they told.

    What is told while any module is imported is left out, as one more import may change their
    order; errors are not. Functions of other modules are not run: they may not be imported any more.
    """
    trace: Trace = {}
    told: list[Any] = []
    left = _LONGEST

    def hit(*values: object) -> object:
        nonlocal left
        left -= 1
        if left < 0:
            raise Endless
        if not _Loader.running:
            told.append(tuple(map(_shown, values)))
        return values[0]

    def fell_back() -> None:
        trace["fallback"] = []

    def noted(name: str, run: Callable[[], object]) -> None:
        nonlocal left
        left = _LONGEST
        told.clear()
        try:
            run()
        except (Exception, Endless) as wrong:
            told.append(type(wrong).__name__)
        trace[name] = [*told]

    before = set(sys.modules)
    finder = _Finder(files, roots)
    given = {"hit": hit, "entry": _unchanged, "fell_back": fell_back}
    vars(builtins).update(given)
    sys.meta_path.insert(0, finder)
    writes, sys.dont_write_bytecode = sys.dont_write_bytecode, True
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            for name in modules:
                noted(name, partial(__import__, name))
            for module in sorted(set(modules) & set(sys.modules)):
                for name, value in sorted(vars(sys.modules[module]).items()):
                    if name.startswith("run_") and value.__module__ == module:
                        noted(f"{module}.{name}", value)
    finally:
        sys.meta_path.remove(finder)
        sys.dont_write_bytecode = writes
        for name in given:
            del vars(builtins)[name]
        for name in set(sys.modules) - before:
            del sys.modules[name]
    return trace


def _unchanged(run: Callable[[], object]) -> Callable[[], object]:
    return run


def failed(told: list[Any]) -> bool:
    """Return whether what was told ends with an error."""
    return bool(told) and isinstance(told[-1], str)
