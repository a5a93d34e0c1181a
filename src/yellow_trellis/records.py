"""Records: classes that are their fields, and cost next to nothing to define.

Those of the standard library need over a millisecond a class and import a good deal of it, which
every start of the command would pay for. Here a constructor is written when the first record of
its class is made.
"""

from __future__ import annotations

TYPE_CHECKING = False
if TYPE_CHECKING:
    from collections.abc import Callable, Iterator
    from typing import Any, TypeVar

    from typing_extensions import dataclass_transform

    T = TypeVar("T")
else:

    def dataclass_transform(**_):
        return lambda made: made


_NOTHING: Any = object()
_FEW = 6
"""How many records are made before it pays to write a constructor."""


class Field:
    """What is said of a field beside its name."""

    __slots__ = ("compare", "default", "default_factory", "init", "repr")

    def __init__(
        self, default: Any, default_factory: Any, init: bool, repr: bool, compare: bool
    ) -> None:
        self.default = default
        self.default_factory = default_factory
        self.init = init
        self.repr = repr
        self.compare = compare


def field(
    *,
    default: Any = _NOTHING,
    default_factory: Any = _NOTHING,
    init: bool = True,
    repr: bool = True,
    compare: bool = True,
) -> Any:
    """Say of a field what its default is, or what makes it, and what it takes no part in."""
    return Field(default, default_factory, init, repr, compare)


@dataclass_transform(field_specifiers=(field,))
def record(
    cls: type[T] | None = None, /, *, frozen: bool = False, eq: bool = True, slots: bool = False
) -> Any:
    """Make a class a record of the names that it annotates.

    Arguments: `frozen` refuses to set a field later; with `eq`, records with equal fields are
    equal (and, being frozen, one key of a dictionary); with `slots` they hold nothing else.
    A method ``__post_init__`` is called when a record is made. Fields are not inherited.
    """
    if cls is None:
        return lambda made: _made(made, frozen, eq, slots)
    return _made(cls, frozen, eq, slots)


def replace(one: T, **changes: Any) -> T:
    """Return a record like `one` with other values for some fields."""
    kind: Any = type(one)
    kept = {name: getattr(one, name) for name, told in kind.__fields__.items() if told.init}
    made: T = kind(**{**kept, **changes})
    return made


def _made(cls: type[Any], frozen: bool, eq: bool, slots: bool) -> Any:
    fields: dict[str, Field] = {}
    for name in vars(cls).get("__annotations__", ()):  # as written: they are not evaluated
        told = vars(cls).get(name, _NOTHING)
        fields[name] = told if isinstance(told, Field) else Field(told, _NOTHING, True, True, True)
    more: dict[str, Any] = {"__fields__": fields, "__match_args__": tuple(fields)}
    more["__replace__"] = replace  # for `copy.replace`
    if "__repr__" not in vars(cls):
        more["__repr__"] = _repr
    if eq:
        more |= {"__eq__": _eq, "__hash__": _hash if frozen else None}
    if frozen:
        more |= {"__setattr__": _refuse, "__delattr__": _refuse}
    if frozen and slots:  # copies, and records from other processes, are set field by field too
        more |= {"__getstate__": _state, "__setstate__": _take_state}
    made: Any = cls
    if slots:
        apart = {*fields, "__dict__", "__weakref__"}
        body = {name: value for name, value in vars(cls).items() if name not in apart}
        made = type(cls.__name__, cls.__bases__, {**body, "__slots__": tuple(fields)})
    else:
        for name, told in fields.items():
            if told.default is not _NOTHING:
                setattr(made, name, told.default)
            elif name in vars(made):
                delattr(made, name)
    for name, value in more.items():
        setattr(made, name, value)

    made.__init__ = _first(made, frozen, slots)
    return made


def _first(cls: Any, frozen: bool, slots: bool) -> Callable[..., None]:
    """Return what makes the first records of `cls`: of many classes there are only a few."""
    fields: dict[str, Field] = cls.__dict__["__fields__"]
    plain = not any(told.default_factory is not _NOTHING for told in fields.values())
    plain = plain and not hasattr(cls, "__post_init__")
    left = _FEW if plain else 0

    def first(self: Any, *values: Any, **named: Any) -> None:
        nonlocal left
        left -= 1
        given = dict(zip(fields, values, strict=False)) | named
        for name, told in fields.items():
            if name not in given and told.default is not _NOTHING:
                given[name] = told.default
        if left < 0 or given.keys() != fields.keys() or len(values) > len(fields):
            cls.__init__ = constructor = _constructor(cls, frozen, slots)
            constructor(self, *values, **named)
            return
        for name, value in given.items():
            object.__setattr__(self, name, value)

    return first


def _constructor(cls: type[Any], frozen: bool, slots: bool) -> Callable[..., None]:
    """Write the function that makes a record of `cls`."""
    known: dict[str, Any] = {"_nothing": _NOTHING}
    takes, lines = ["self"], []
    if frozen and not slots:
        lines.append("_own = self.__dict__")
    for name, told in cls.__dict__["__fields__"].items():
        value = name
        if told.default_factory is not _NOTHING:
            known[f"_made_{name}"] = told.default_factory
            takes.append(f"{name}=_nothing")
            value = f"_made_{name}() if {name} is _nothing else {name}"
        elif told.default is not _NOTHING:
            known[f"_usual_{name}"] = told.default
            takes.append(f"{name}=_usual_{name}")
        elif told.init:
            takes.append(name)
        else:
            continue
        if frozen and slots:
            known[f"_set_{name}"] = getattr(cls, name).__set__
            lines.append(f"_set_{name}(self, {value})")
        elif frozen:
            lines.append(f"_own[{name!r}] = {value}")
        else:
            lines.append(f"self.{name} = {value}")
    if hasattr(cls, "__post_init__"):
        lines.append("self.__post_init__()")
    text = f"def __init__({', '.join(takes)}):\n " + "\n ".join(lines or ["pass"])
    made: dict[str, Any] = {}
    exec(text, known, made)
    constructor: Callable[..., None] = made["__init__"]
    constructor.__qualname__ = f"{cls.__qualname__}.__init__"
    return constructor


def _values(one: Any) -> tuple[Any, ...]:
    return tuple(getattr(one, name) for name, told in one.__fields__.items() if told.compare)


def _eq(self: Any, other: object) -> Any:
    return _values(self) == _values(other) if other.__class__ is self.__class__ else NotImplemented


def _hash(self: Any) -> int:
    return hash(_values(self))


def _repr(self: Any) -> str:
    told: Iterator[str] = (
        f"{name}={getattr(self, name)!r}" for name, told in self.__fields__.items() if told.repr
    )
    return f"{type(self).__qualname__}({', '.join(told)})"


def _refuse(self: object, name: str, value: object = None) -> None:
    raise AttributeError(f"{type(self).__name__} is frozen: `{name}` stays as it is")


def _state(self: Any) -> tuple[Any, ...]:
    return tuple(getattr(self, name) for name in self.__slots__)


def _take_state(self: Any, state: tuple[Any, ...]) -> None:
    for name, value in zip(self.__slots__, state, strict=True):
        object.__setattr__(self, name, value)
