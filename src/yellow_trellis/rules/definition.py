"""A rule as it is declared: plain data, checked for contradictions."""

from __future__ import annotations

import re
import sys
from collections.abc import Callable, Iterable, Mapping, Sequence
from functools import cached_property
from typing import TYPE_CHECKING, Any, NoReturn, TypeVar

from msgspec import Struct
from msgspec.structs import force_setattr, replace

from yellow_trellis import fixes
from yellow_trellis.findings.finding import LEVELS, UNASKED, Level, Unasked
from yellow_trellis.languages import DEFAULT, family_of
from yellow_trellis.rules.compiled_rule import CompiledRule
from yellow_trellis.rules.conditions import Condition
from yellow_trellis.rules.draft import Draft
from yellow_trellis.rules.example import Example, RuleError
from yellow_trellis.rules.option import Option, OptionError, Value
from yellow_trellis.rules.override import Setting
from yellow_trellis.schema import nearest

if TYPE_CHECKING:
    from yellow_trellis.rules.project_rule import Across

Judge = Callable[..., Iterable[Draft]]
"""A function of a match (or a node) and the code, which yields what `Code.finding` returns."""

Own = TypeVar("Own", bound="RuleDefinition")

NAME = re.compile(r"[a-z][a-z0-9]*(-[a-z0-9]+)*")
"""What a rule may be called."""

_SEVERAL = ("where", "kinds", "also_in", "tags", "wins_over", "options", "examples", "settings")


class _Named(Struct, frozen=True):
    """The part of a rule that is given by position: all else is named."""

    name: str


class RuleDefinition(_Named, frozen=True, eq=False, dict=True, kw_only=True):
    """A rule: `find` a pattern, and `put` a template or let `function` judge.

    Arguments:
        name: lower-case words joined by hyphens.
        summary: one sentence for the catalogue, and the message where no other is given.
        find: the pattern to find.
        part: ``argument``, ``parameter`` or another part that the pattern is, where alone it
            would parse as something else.
        put: the template to put instead; an empty one takes the match out.
        rename, move: the dotted name of what gets another name, or is imported from elsewhere,
            in every file that mentions it or in none; ``function(argument)`` for an argument.
        to: its new name; for `move` the dotted name of where it is now.
        function: a function of (match, code), or of (node, code) for a rule over `kinds`.
        any_order: whether named arguments may stand in another order than in the pattern.
        where: conditions that a match must meet, all of them; see `conditions`.
        kinds: node kinds or families to visit, for a rule without a pattern.
        message: what to tell at a finding; `@{name}` shows what a hole took.
        also_in: other languages whose code it looks at, in which its pattern means the same; a
            `rename` or `move` looks at all that share modules with `language`.
        language, level, tags, safety, examples, help: as the words say; `level` and `unasked` hold
            where no setting says otherwise.
        unasked: which of the fixes are applied without asking: ``nothing``, ``safe`` or ``all``.
        options: what a code base may set; the value of one is `code.options[name]` in a function,
            ``chosen(name)`` in a condition, and `@{name}` in the message.
        wins_over: rules whose fixes yield to those of this one, although they stand earlier.
        drops_comments: whether the fix may lose comments in the code it replaces.
        once: whether its fixes are applied only to what is there when a run starts, not to what
            fixes have made: for a rule that would find its own results, such as a swap.
        width: how long a line may get, in characters, before a list that the fix wrote is broken.
        origin: file and line where it is written; those of the caller if left out.
        settings: what a configuration says of it; see `under`.

    Errors: `RuleError` with the place of the rule.
    """

    summary: str
    find: str | None = None
    put: str | None = None
    part: str | None = None
    any_order: bool = False
    where: Sequence[Condition] = ()
    rename: str | None = None
    move: str | None = None
    to: str | None = None
    function: Judge | None = None
    kinds: Sequence[str] = ()
    message: str | None = None
    language: str = DEFAULT
    also_in: Sequence[str] = ()
    level: Level = "warning"
    tags: Sequence[str] = ()
    wins_over: Sequence[str] = ()
    safety: fixes.Safety = "safe"
    unasked: Unasked = "safe"
    drops_comments: bool = False
    once: bool = False
    width: int | None = None
    options: Sequence[Option] = ()
    examples: Sequence[Example] = ()
    help: str = ""
    origin: tuple[str, int] | None = None
    settings: Sequence[Setting] = ()

    def __post_init__(self) -> None:
        for name in _SEVERAL:
            force_setattr(self, name, tuple(getattr(self, name)))
        if self.origin is None:
            force_setattr(self, "origin", _caller())
        self._refuse_contradictions()

    def __repr__(self) -> str:
        return f"<Rule {self.name} {self.place}>"

    @property
    def path(self) -> str:
        """The file in which the rule is written."""
        assert self.origin is not None  # it is set where nothing is given
        return self.origin[0]

    @property
    def line(self) -> int:
        """The line at which the rule is written, from 1."""
        assert self.origin is not None
        return self.origin[1]

    @property
    def place(self) -> str:
        """The place where the rule is written: file and line."""
        return f"{self.path}:{self.line}"

    def _refuse_contradictions(self) -> None:
        if not isinstance(self.name, str) or NAME.fullmatch(self.name) is None:
            self._refuse("its name must be lower-case words joined by hyphens")
        if self.level not in LEVELS:
            self._refuse(f"there is no level {self.level!r}; there are {', '.join(LEVELS)}")
        if self.safety not in ("safe", "review"):
            self._refuse(f"a fix is `safe` or for `review`, not {self.safety!r}")
        sought = {"find": self.find, "kinds": self.kinds, "rename": self.rename, "move": self.move}
        arguments = [f"`{name}`" for name, value in sought.items() if value]
        if not arguments:
            self._refuse("it finds nothing: give it `find`, or `kinds` to visit")
        if len(arguments) > 1:
            self._refuse(f"it has both {' and '.join(arguments)}: choose one")
        if (self.rename or self.move) and not self.to:
            self._refuse("it does not say what becomes of the thing: give it `to`")
        if self.unasked not in UNASKED:
            self._refuse(f"unasked is one of {', '.join(UNASKED)}, not {self.unasked!r}")
        if self.width is not None and self.width < 20:
            self._refuse(f"a `width` of {self.width} leaves no room for code")
        if self.to and not (self.rename or self.move):
            self._refuse("`to` goes with `rename` or `move`")
        if self.across is not None and (fault := self.across.fault()):
            self._refuse(fault)
        if self.where and self.find is None:
            self._refuse("its conditions are about a match: give it `find`")
        if self.put is not None and self.function is not None:
            self._refuse("it has both `put` and a function: let the function offer the fix")
        if self.kinds and self.function is None:
            self._refuse("a rule over `kinds` needs a function that judges each node")

    def _refuse(self, reason: str) -> NoReturn:
        raise RuleError(f"{self.place}: the rule {self.name!r} cannot be used: {reason}")

    @cached_property
    def compiled(self) -> CompiledRule:
        """The pattern, the conditions and the template, compiled when they are first asked for."""
        return CompiledRule(self)

    @cached_property
    def languages(self) -> tuple[str, ...]:
        """The languages whose code it looks at, that of its examples first."""
        if self.rename or self.move:
            return family_of(self.language)
        return tuple(dict.fromkeys((self.language, *self.also_in)))

    def in_language(self, name: str) -> RuleDefinition:
        """Return the rule for code of one of its languages, the same object each time."""
        if name == self.language:
            return self
        if name not in self._versions:
            self._versions[name] = replace(self, language=name, also_in=())
        return self._versions[name]

    @cached_property
    def _versions(self) -> dict[str, RuleDefinition]:
        return {}

    @cached_property
    def across(self) -> Across | None:
        """The change of one symbol in many files, if the rule is about that."""
        if not self.rename and not self.move:
            return None
        from yellow_trellis.rules.project_rule import Across  # few rules are of that kind

        if self.rename:
            return Across("rename", self.rename, self.to or "", self.language)
        return Across("move", self.move or "", self.to or "", self.language)

    @property
    def fixable(self) -> bool:
        """Return whether the rule can offer fixes; a rule in code may."""
        return self.put is not None or self.function is not None or self.across is not None

    @cached_property
    def values(self) -> Mapping[str, Value]:
        """The value of each option, by its name."""
        values = {option.name: option.default for option in self.options}
        values.update((s.option, s.value) for s in self.settings if s.about == "option")
        return values

    def option(self, name: str) -> Option:
        """Return the option called `name`. Errors: `RuleError`, with the nearest name."""
        for option in self.options:
            if option.name == name:
                return option
        names = [option.name for option in self.options]
        hint = nearest(name, names) if names else "it has none"
        raise RuleError(f"the rule `{self.name}` has no option `{name}`: {hint}")

    def at_level(self: Own, level: Level) -> Own:
        """Return the same rule at another level."""
        return replace(self, level=level)

    def under(self: Own, setting: Setting) -> Own:
        """Return the same rule with what `setting` says of it.

        Errors: `RuleError` for an option that it does not have, or a value that cannot be.
        """
        if setting.about == "option":
            try:
                value = self.option(setting.option).accept(setting.value)
            except OptionError as wrong:
                message = f"of the rule `{self.name}` the option {wrong}"
                raise RuleError(f"{setting.place}: {message}") from None
            except RuleError as wrong:
                raise RuleError(f"{setting.place}: {wrong}") from None
            setting = replace(setting, value=value)
            return replace(self, settings=(*self.settings, setting))
        changes: dict[str, Any] = {setting.about: setting.value}
        return replace(self, settings=(*self.settings, setting), **changes)

    def for_example(self: Own, example: Example) -> Own:
        """Return the rule as an example knows it, whatever is set elsewhere.

        Errors: `RuleError` for an option of the example that cannot be.
        """
        result = replace(self, settings=[s for s in self.settings if s.about != "option"])
        for name, value in example.options.items():
            result = result.under(Setting(self.name, "option", value, name, self.place))
        return result

    def is_set(self, about: str) -> bool:
        """Return whether a setting says the level, what is fixed unasked, or an option by name."""
        return self._last_setting(about) is not None

    def governed_by(self, about: str = "level") -> str:
        """Return the place that says the level, what is fixed unasked, or an option by its name."""
        setting = self._last_setting(about)
        return self.place if setting is None else setting.place

    def _last_setting(self, about: str) -> Setting | None:
        settings = (s for s in reversed(self.settings) if (s.option or s.about) == about)
        return next(settings, None)

    def prepare(self) -> None:
        """Compile everything now.

        Errors: `RuleError` for a pattern or template that cannot be used.
        """
        for example in self.examples:
            if example.options:
                self.for_example(example)
        for name in self.languages:
            self.in_language(name).compiled.prepare()


def _caller() -> tuple[str, int]:
    """Return the file and line outside of this module from which a rule is being made."""
    frame = sys._getframe(1)
    while frame.f_back is not None and frame.f_code.co_filename == __file__:
        frame = frame.f_back
    return frame.f_code.co_filename, frame.f_lineno
