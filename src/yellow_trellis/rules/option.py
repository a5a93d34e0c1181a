"""Options of a rule: what a code base may set, typed by the default, held within bounds."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, NamedTuple, TypeVar, Union

from msgspec import Struct
from msgspec.structs import force_setattr, replace

from yellow_trellis.errors import TrellisError

Value = Union[bool, int, float, str, tuple[str, ...]]

T = TypeVar("T")


class OptionError(TrellisError, ValueError):
    """An option, or a value for one, that cannot be. The message says why."""


class Option(Struct, frozen=True):
    """One option; its type is that of its default.

    Arguments:
        name: lower-case words joined by hyphens or underscores.
        default: what holds where nothing is said: a flag, a number, a string or a list of strings.
        help: one sentence for those who may set it.
        least, most: the bounds of a number, both included.
        one_of: the texts there are to choose from.

    Errors: `OptionError`.
    """

    name: str
    default: Value
    help: str = ""
    least: float | None = None
    most: float | None = None
    one_of: tuple[str, ...] = ()

    def __post_init__(self) -> None:
        for name in ("default", "one_of"):
            if isinstance(getattr(self, name), list):
                force_setattr(self, name, tuple(getattr(self, name)))
        self.accept(self.default)

    @property
    def kind(self) -> str:
        """The requirement on a value, in words."""
        if isinstance(self.default, bool):
            return "true or false"
        if isinstance(self.default, int):
            return "a whole number"
        if isinstance(self.default, float):
            return "a number"
        return "a string" if isinstance(self.default, str) else "a list of strings"

    @property
    def bounds(self) -> str:
        """The bounds in words; empty where there are none."""
        messages = []
        if self.least is not None:
            messages.append(f"at least {self.least:g}")
        if self.most is not None:
            messages.append(f"at most {self.most:g}")
        if self.one_of:
            messages.append(f"one of {', '.join(self.one_of)}")
        return ", ".join(messages)

    def accept(self, value: Any) -> Value:
        """Return `value` as the option holds it. Errors: `OptionError`."""
        if isinstance(value, list):
            value = tuple(value)
        if not _is_like(value, self.default):
            raise OptionError(f"`{self.name}` must be {self.kind}")
        below = self.least is not None and value < self.least
        above = self.most is not None and value > self.most
        texts = value if isinstance(value, tuple) else (value,)
        if below or above or (self.one_of and not set(texts) <= set(self.one_of)):
            raise OptionError(f"`{self.name}` must be {self.bounds}, not {value}")
        accepted: Value = value
        return accepted


def _is_like(value: object, default: Value) -> bool:
    if isinstance(default, bool) or isinstance(value, bool):
        return isinstance(value, bool) and isinstance(default, bool)
    if isinstance(default, float):
        return isinstance(value, (int, float))
    if isinstance(default, tuple):
        return isinstance(value, tuple) and all(isinstance(item, str) for item in value)
    return isinstance(value, type(default))


class Chosen(NamedTuple):
    """Stands in a condition for the value that an option of the rule has."""

    option: str

    def __str__(self) -> str:
        return f"as `{self.option}` says"


def chosen(option: str) -> Any:
    """Return what stands for the value of an option in a condition, such as ``least=``."""
    return Chosen(option)


def or_option(value: Any) -> Any:
    """Return a value of a rule file: ``{ option = "most" }`` is that of an option."""
    return Chosen(value["option"]) if isinstance(value, dict) else value


def settled(condition: T, values: Mapping[str, Value]) -> T:
    """Return a condition with the values of options in it. Errors: `OptionError`."""
    value: Any = condition
    if isinstance(value, Chosen):
        if value.option not in values:
            raise OptionError(f"there is no option `{value.option}`")
        return values[value.option]  # type: ignore[return-value]
    if isinstance(value, Struct):
        new = {name: settled(getattr(value, name), values) for name in value.__struct_fields__}
        changed: Any = replace(value, **new)
        return changed  # type: ignore[no-any-return]
    if isinstance(value, tuple):
        return tuple(settled(item, values) for item in value)  # type: ignore[return-value]
    return condition
