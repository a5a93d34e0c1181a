"""Running a small program from its texts: what it does, as a list that can be compared."""

from __future__ import annotations

import builtins
import sys
import warnings
from collections.abc import Callable, Mapping, Sequence
from importlib.abc import InspectLoader, MetaPathFinder
from importlib.machinery import ModuleSpec
from types import CodeType, ModuleType
from typing import Any

Trace = list[Any]
_LONGEST = 400
TWIN = 100_000
"""What the number of a definition is plus this, where the definition does the same as another."""


class Endless(BaseException):
    """Raised in a program that goes on telling."""


class _Loader(InspectLoader):
    def __init__(self, text: str, path: str) -> None:
        self.text = text
        self.path = path

    def get_source(self, fullname: str) -> str:
        return self.text

    def get_code(self, fullname: str) -> CodeType:
        return compile(self.text, self.path, "exec", dont_inherit=True)


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
    """Import `modules` in order, run what they mark, and return what they told.

    What is told while modules are imported is sorted, as one more import may change their order. An
    error is told by its kind and the code goes on behind it, so that one does not hide others.
    """
    told: Trace = []
    entries: list[Callable[[], object]] = []

    def hit(*values: object) -> object:
        if len(told) > _LONGEST:
            raise Endless
        told.append(tuple(map(_shown, values)))
        return values[0]

    before = set(sys.modules)
    finder = _Finder(files, roots)
    builtins.hit, builtins.entry = hit, entries.append  # type: ignore[attr-defined]
    sys.meta_path.insert(0, finder)
    writes, sys.dont_write_bytecode = sys.dont_write_bytecode, True
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            for name in modules:
                try:
                    module: ModuleType = __import__(name)
                    assert module is not None
                except (Exception, Endless) as wrong:
                    told.append(f"import {name}: {type(wrong).__name__}")
            told.sort(key=repr)
            for one in sorted(entries, key=lambda entry: (entry.__module__, entry.__qualname__)):
                told.append(one.__qualname__)
                try:
                    one()
                except (Exception, Endless) as wrong:
                    told.append(f"run: {type(wrong).__name__}")
    finally:
        sys.meta_path.remove(finder)
        sys.dont_write_bytecode = writes
        del builtins.hit, builtins.entry  # type: ignore[attr-defined]
        for name in set(sys.modules) - before:
            del sys.modules[name]
    return told
