"""Packages whose names are imported when they are first used: who asks for little loads little."""

from __future__ import annotations

from importlib import import_module

TYPE_CHECKING = False  # that of `typing` takes as long to import as all of Python
if TYPE_CHECKING:
    from collections.abc import Callable, Mapping
    from typing import Any


def face(
    package: str, names: dict[str, Any], homes: Mapping[str, tuple[str, ...]]
) -> Callable[[str], object]:
    """Return the ``__getattr__`` of a package.

    Arguments: `names` are its globals, in which what was asked for is kept; `homes` has by module
    of the package what is offered of it.
    """
    home_of = {name: home for home, offered in homes.items() for name in offered}

    def get(name: str) -> object:
        home = home_of.get(name)
        if home is None:
            raise AttributeError(f"module {package!r} has no attribute {name!r}")
        names[name] = value = getattr(import_module(f"{package}.{home}"), name)
        return value

    return get
