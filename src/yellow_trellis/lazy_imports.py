"""Packages whose names are imported when they are first used: who asks for little loads little.

What a package offers is listed once, in the stub beside its ``__init__.py``, which type checkers
read as well. A stub is read when a name is first asked for: a library that reads it at once was
refused, as it would double what an import of the package costs.
"""

from __future__ import annotations

import sys
from importlib import import_module

TYPE_CHECKING = False  # that of `typing` takes as long to import as all of Python
if TYPE_CHECKING:
    from collections.abc import Callable


def face(package: str, file: str) -> tuple[Callable[[str], object], Callable[[], list[str]]]:
    """Return ``__getattr__`` and ``__dir__`` of a package.

    Arguments: `package` and `file` are the ``__name__`` and ``__file__`` of its ``__init__.py``.
    """
    homes: dict[str, str] = {}

    def listed() -> dict[str, str]:
        if not homes:
            homes.update(_homes(file))
        return homes

    def get(name: str) -> object:
        if name == "__all__":
            return list(listed())
        home = "" if name.startswith("__") else listed().get(name)
        if not home:
            raise AttributeError(f"module {package!r} has no attribute {name!r}")
        value = getattr(import_module(home), name)
        setattr(sys.modules[package], name, value)
        return value

    return get, lambda: sorted(listed())


def _homes(file: str) -> dict[str, str]:
    """Return by name the module that a stub imports it from."""
    import ast  # not before a name is asked for

    with open(f"{file.removesuffix('c')}i", encoding="utf-8") as stub:
        body = ast.parse(stub.read()).body
    return {
        item.asname or item.name: statement.module or ""
        for statement in body
        if isinstance(statement, ast.ImportFrom)
        for item in statement.names
    }
