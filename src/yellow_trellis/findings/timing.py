"""Timing of the work on a file: the basis of deadlines and of `--timings`."""

from __future__ import annotations

from collections.abc import Callable
from time import perf_counter

from msgspec import Struct, field


class OutOfTime(BaseException):
    """Raised where a file or a rule is at work for longer than it may.

    It is no `Exception`, so that a rule's own code does not take it for one of its failures.
    """

    def __init__(self, rule: str, seconds: float) -> None:
        super().__init__(rule, seconds)
        self.rule = rule
        """The rule that was at work; empty when the file as a whole took too long."""
        self.seconds = seconds

    def __str__(self) -> str:
        return (
            f"stopped after {self.seconds:g} s, the limit for one {'rule' if self.rule else 'file'}"
        )


class TreeChangedError(Exception):
    """Raised where a rule has written to the tree that all rules share.

    `rule` is its name; empty where it is one of several.
    """

    def __init__(self, rule: str) -> None:
        super().__init__(rule)
        self.rule = rule

    def __str__(self) -> str:
        return "it has changed the tree of the file, which all rules share"


class Watch(Struct):
    """Follows the work on one file. Times are in seconds."""

    started: float = field(default_factory=perf_counter)
    rule: str = ""
    """The rule at work, empty between rules."""
    since: float = 0.0
    """When that rule began."""
    phases: dict[str, float] = field(default_factory=dict)
    rules: dict[str, float] = field(default_factory=dict)
    over: dict[str, str] = field(default_factory=dict)
    """Rules that took too long on this file, with what is told of it: they are not tried again."""
    is_careful: bool = False
    """Whether the tree is looked through after each rule in code, and not only after all."""
    tell: Callable[[str, float], None] | None = None
    """Told of each rule that begins, and since when; of an empty one when it is done."""

    def begin(self, rule: str) -> None:
        """Note that a rule starts."""
        self.since = perf_counter()
        self.rule = rule
        if self.tell is not None:
            self.tell(rule, self.since)

    def end(self) -> None:
        """Note that the rule is done, in one way or another."""
        rule, self.rule = self.rule, ""
        self.rules[rule] = self.rules.get(rule, 0.0) + perf_counter() - self.since
        if self.tell is not None:
            self.tell("", 0.0)

    def phase(self, name: str) -> Phase:
        """Return what times a part of the work."""
        return Phase(self.phases, name)


class Phase:
    """Times what is done in it; there are several for each file, so it is no generator."""

    __slots__ = ("_name", "_started", "_times")

    def __init__(self, times: dict[str, float], name: str) -> None:
        self._times = times
        self._name = name
        self._started = 0.0

    def __enter__(self) -> None:
        self._started = perf_counter()

    def __exit__(self, *_: object) -> None:
        took = perf_counter() - self._started
        self._times[self._name] = self._times.get(self._name, 0.0) + took
