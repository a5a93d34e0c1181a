"""An example of a rule: code, and what becomes of it; and what is wrong with a rule."""

from __future__ import annotations

from collections.abc import Mapping

from msgspec import Struct, field

from yellow_trellis.errors import TrellisError
from yellow_trellis.rules.option import Value


class RuleError(TrellisError, ValueError):
    """A rule that is not written as it must be. The message says where, why and what to do."""


class Example(Struct, frozen=True):
    """Code that a rule changes (`becomes`), leaves alone (`stays`), or only reports (neither).

    `given` is code that stands before it in the same file, such as imports; `options` are the
    values of options of the rule for it, others have their defaults.
    """

    code: str
    becomes: str | None = None
    stays: bool = False
    given: str = ""
    options: Mapping[str, Value] = field(default_factory=dict)

    def __post_init__(self) -> None:
        if self.stays and self.becomes is not None:
            raise RuleError(f"the example {self.code!r} cannot both stay and become something")
