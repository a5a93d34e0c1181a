"""The import that new code needs, and the form of one that is there."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Literal, NamedTuple

from yellow_trellis.semantics.imports import Import

ImportPlacement = Literal["module", "local", "types"]
"""At the top of the file, in the function around, or in the block that only type checkers read."""


class ImportForm(NamedTuple):
    """The form of the import that brought what new code replaces: the new one goes beside it."""

    module: str
    """Dots of a relative import before it."""
    name: str | None
    alias: str | None

    @classmethod
    def of(cls, item: Import) -> ImportForm:
        """Return it for an import that stands in the file."""
        return cls("." * item.level + item.module, item.name, item.alias)


class RequiredImport(NamedTuple):
    """An import that new code needs: ``import module`` or ``from module import name``."""

    meaning: str
    """The dotted name of what it brings."""
    module: str
    """As written, dots of a relative import before it."""
    name: str | None = None
    alias: str | None = None
    where: ImportPlacement = "module"
    beside: ImportForm | None = None
    """The import beside which it goes, wherever that is: there it is done before every use."""
    fault: str = ""
    """Why it cannot be done, if it cannot."""

    @property
    def bound(self) -> str:
        """The name that it binds."""
        return self.alias or self.name or self.module.partition(".")[0]

    @property
    def item(self) -> str:
        """The text that stands for it in a list of names."""
        name = self.name or self.module
        return name if self.alias is None else f"{name} as {self.alias}"

    @property
    def statement(self) -> str:
        """The import statement."""
        if self.name is None:
            return f"import {self.item}"
        return f"from {self.module} import {self.item}"


def fault_of(imports: Iterable[RequiredImport]) -> str:
    """Return why one of `imports` cannot be added; empty if all can."""
    return next((item.fault for item in imports if item.fault), "")
