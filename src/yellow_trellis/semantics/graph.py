"""The modules of a code base: which file is which, and what a dotted name comes down to."""

from __future__ import annotations

import builtins
import re
from collections.abc import Callable, Iterator, Mapping, Sequence
from functools import cached_property
from typing import Literal, NamedTuple

from msgspec.structs import replace

from yellow_trellis.semantics.built_in_results import result_of
from yellow_trellis.semantics.class_order import merged
from yellow_trellis.semantics.module_interface import (
    AWAITED,
    CONTEXT,
    ITEM,
    MORE,
    OF,
    RECEIVER,
    NameEntry,
    Summary,
)
from yellow_trellis.semantics.star_imports import StarImports

Load = Callable[[str], "Summary | None"]
"""Reads the summary of a module by its name; None if it cannot be had."""

_STEP = re.compile(r"\(\)|[^.()]+")
MOST_STEPS = 200
"""The most steps that a name is followed: modules may lead back to each other."""


class Referent(NamedTuple):
    """The state of resolving a path.

    `name` is the dotted name under which it is defined; `entry` what is known of it there.
    """

    kind: Literal["module", "class", "instance", "function", "value", "awaitable", "unknown"]
    name: str
    entry: NameEntry | None = None
    behind: bool = False
    """For an instance: whether only what its bases have counts, as with ``super()``."""
    may_default: bool = False
    """For a method of a container: whether a call can say what it gives where there is nothing."""


class ModuleGraph:
    """The modules of a code base by name, their summaries read when first asked for.

    What is not among them is known by its name alone: ``tramline.clock.stamp`` is itself.

    A path is a dotted name; ``:`` may say where the module ends and its names begin, and ``()``
    stands for what calling the name before it gives. ``module:*.name`` is what the star imports of
    a module bring under that name; ``module:*.name|path`` is `path`, unless they may bring it.
    """

    star_imports: type[StarImports] = StarImports
    """What the language has stars bring."""

    def __init__(
        self,
        files: Mapping[str, str] | None = None,
        load: Load | None = None,
        beside: Mapping[str, str] | None = None,
        ambiguous: frozenset[str] = frozenset(),
        copies: frozenset[str] = frozenset(),
    ) -> None:
        self.files = files or {}
        """By dotted name: the path of the file."""
        self.ambiguous = ambiguous
        """Packages and modules of which there are several: what is in them is not known."""
        self.copies = copies
        """All packages and modules of which there are several, those that are known here too."""
        self.beside = beside or {}
        """Modules that have a shorter name in this place: scripts in one folder see each other."""
        self._load = load
        self._summaries: dict[str, Summary | None] = {}
        self._reduced: dict[str, Referent | None] = {}
        self._stars = self.star_imports(self.summary, self._is_module)
        self._lines: dict[str, tuple[Referent | None, ...]] = {}

    def with_module(self, module: str, result: Callable[[], Summary]) -> ModuleGraph:
        """Return a graph that knows `module` by what `result` gives, whatever a file says."""
        files = self.files
        if module not in files:
            files = {**files, module: ""}
        graph = type(self)(
            files,
            lambda name: result() if name == module else self.summary(name),
            self.beside,
            self.ambiguous,
            self.copies,
        )
        if files is self.files:
            graph._modules_and_packages = self._modules_and_packages
        return graph

    def read_by(self, load: Load) -> ModuleGraph:
        """Return a graph of the same modules that reads them by `load`, and knows nothing yet."""
        graph = type(self)(self.files, load, self.beside, self.ambiguous, self.copies)
        graph._modules_and_packages = self._modules_and_packages
        return graph

    def holds(self, module: str) -> bool:
        """Return whether the code base has the module."""
        return module in self.files

    def summary(self, module: str) -> Summary | None:
        """Return what `module` offers; None if it is not of the code base, or cannot be read."""
        if module not in self._summaries:
            result = None
            if module in self.files and self._load is not None:
                result = self._load(module)
            self._summaries[module] = result
        return self._summaries[module]

    def importers(self, module: str) -> frozenset[str]:
        """Return the modules that import `module`, or anything of it. Reads every module."""
        return self._importers.get(module, frozenset())

    @cached_property
    def _importers(self) -> dict[str, frozenset[str]]:
        table: dict[str, set[str]] = {}
        for name in self.files:
            summary = self.summary(name)
            for imported in summary.imports if summary is not None else ():
                table.setdefault(imported, set()).add(name)
        return {name: frozenset(names) for name, names in table.items()}

    def resolve(self, path: str) -> str | None:
        """Return the dotted name under which what `path` means is defined.

        ``()`` at the end stands for an instance. None where the code base does not tell.
        """
        symbol = self._thing(path, 0)
        if symbol is None:
            return None
        return symbol.name + "()" if symbol.kind == "instance" else symbol.name

    def type_of(self, path: str) -> str | None:
        """Return the dotted name of the class that `path` is an instance of, if that is known."""
        symbol = self._thing(path, 0)
        if symbol is not None and symbol.kind == "value":
            symbol = self._value(symbol, 0)
        if symbol is None:
            return None
        if symbol.kind == "instance":
            return symbol.name
        if symbol.kind == "unknown" and symbol.name.endswith("()"):
            return symbol.name[:-2]
        return None

    def same(self, path: str | None, name: str) -> bool:
        """Return whether `path` means what is known as `name`, a dotted name."""
        if path is None:
            return False
        result, target = self.resolve(path), self.resolve(name)
        if result is None or target is None:
            return False
        return result == target or _SELF.sub(".", result) == _SELF.sub(".", target)

    def entry(self, name: str) -> NameEntry | None:
        """Return what is known of what is defined as `name`; None for what the base lacks."""
        symbol = self._thing(name, 0)
        return symbol.entry if symbol is not None and symbol.name == name else None

    def bases(self, name: str) -> Iterator[str | None]:
        """Yield the classes that the class `name` comes from, nearest first, itself aside.

        None stands for one that is not known.
        """
        for symbol in self._line(self._thing(name, 0), 0):
            if symbol is None or symbol.name != name:
                yield symbol.name if symbol is not None else None

    # ------------------------------------------------------------------ steps

    def _thing(self, path: str, depth: int) -> Referent | None:
        if depth > MOST_STEPS:
            return None
        if path not in self._reduced:
            self._reduced[path] = None  # what leads back to itself is not known
            self._reduced[path] = self._walked(path, depth)
        return self._reduced[path]

    def _walked(self, path: str, depth: int) -> Referent | None:
        guard, starred, tail = path.partition("|")
        if starred:
            module, _, name = guard.partition(":*.")
            may_bring = self._stars.may_bring(module, name)
            return None if may_bring else self._thing(tail, depth + 1)
        module, colon, tail = path.partition(":")
        module = self.beside.get(module, module)
        steps = _STEP.findall(tail if colon else path)
        if self.ambiguous and self._is_ambiguous(module if colon else path):
            return None
        symbol: Referent | None
        if colon:
            count, symbol = self._start(module, steps, depth)
        else:
            sizes = range(len(steps), 0, -1)
            count = next((n for n in sizes if ".".join(steps[:n]) in self._modules_and_packages), 0)
            if not count and steps and steps[0] in self.beside:
                return self._walked(".".join([self.beside[steps[0]], *path.split(".")[1:]]), depth)
            if count and "<locals>" in steps:
                return self._walked(".".join(steps[:count]) + ":" + ".".join(steps[count:]), depth)
            symbol = Referent("module", ".".join(steps[:count]))
            if not count:
                count, symbol = 1, Referent("unknown", steps[0] if steps else path)
        for step in steps[count:]:
            if symbol is None:
                return None
            symbol = self._called(symbol, depth) if step == "()" else self._member(
                symbol, step, depth
            )
        return symbol

    def _is_ambiguous(self, path: str) -> bool:
        names = path.partition("(")[0].split(".")
        return any(".".join(names[:n]) in self.ambiguous for n in range(1, len(names) + 1))

    def _start(self, module: str, steps: list[str], depth: int) -> tuple[int, Referent | None]:
        """Return what the first of `steps` mean in `module`, and how many those are."""
        summary = self.summary(module)
        for count in range(len(steps), 1, -1) if summary is not None else ():
            nested = ".".join(steps[:count])
            if summary is not None and (entry := summary.names.get(nested)) is not None:
                return count, self._entered(f"{module}.{nested}", entry, depth)
        if not steps:
            return 0, Referent("module", module)
        if steps[0] == "*":
            return 2, self._of_stars(module, steps[1], depth)
        return 1, self._of_module(module, steps[0], depth)

    @cached_property
    def _modules_and_packages(self) -> frozenset[str]:
        """All modules, and the folders that hold some."""
        return frozenset(self.files).union(*(packages_of(name) for name in self.files))

    def _entered(self, name: str, entry: NameEntry, depth: int) -> Referent | None:
        """Return the thing that an entry of a module or class is."""
        if entry.kind == "alias":
            return None if entry.path is None else self._thing(entry.path, depth + 1)
        return Referent(entry.kind, name, entry)

    def _value(self, symbol: Referent, depth: int) -> Referent | None:
        """Return what a value or property is; None if that is not known."""
        entry = symbol.entry
        if entry is None or entry.path is None:
            return None
        result = self._thing(entry.path, depth + 1)
        return self._value(result, depth + 1) if result and result.kind == "value" else result

    def _member(self, symbol: Referent, name: str, depth: int) -> Referent | None:
        if name == AWAITED:
            path = symbol.entry.path if symbol.kind == "awaitable" and symbol.entry else None
            return self._thing(path, depth + 1) if path is not None else None
        if name == MORE:
            return None if symbol.may_default else symbol
        if name == OF and symbol.kind == "class":
            return symbol
        contents = symbol.entry.contents if symbol.entry is not None else None
        if symbol.entry is not None and symbol.entry.path == CONTEXT:
            return _entering(symbol, name)
        if name in (ITEM, OF):
            path = contents[name == OF] if contents is not None else None
            is_there = symbol.kind == "value" or (symbol.entry and symbol.entry.property)
            return self._thing(path, depth + 1) if path is not None and is_there else None
        if contents is not None and symbol.kind == "value" and name in _CONTAINED:
            return _method_of(symbol, name, contents)
        if symbol.kind == "function" and symbol.entry is not None and symbol.entry.property:
            entry = self._value(symbol, depth)
            return self._member(entry, name, depth + 1) if entry is not None else None
        if symbol.kind == "value":
            entry = self._value(symbol, depth)
            return self._member(entry, name, depth + 1) if entry is not None else None
        if symbol.kind == "module":
            return self._of_module(symbol.name, name, depth)
        if symbol.kind in ("class", "instance"):
            return self._of_class(symbol, name, depth)
        if symbol.kind in ("function", "awaitable"):
            return None
        return Referent("unknown", f"{symbol.name}.{name}")

    def _of_module(self, module: str, name: str, depth: int) -> Referent | None:
        whole = f"{module}.{name}"
        summary = self.summary(module)
        entry = summary.names.get(name) if summary is not None else None
        if summary is not None and name in summary.starred:
            if self._stars.may_bring(module, name):
                return None  # a star import behind it may bind it anew
        itself = entry is not None and entry.path in (whole, f"{module}:{name}")
        if entry is not None and not itself:
            return self._entered(whole, entry, depth)
        stars = summary.stars if summary is not None else ()
        if whole in self.files:
            bringing = [star for star in stars if self._stars.brings(star, name)]
            if not bringing:
                return Referent("module", whole)
            if bringing[-1] != whole:
                return None  # it depends on when the module is loaded
        if stars:
            result = self._of_stars(module, name, depth)
            if result is not None or self._stars.may_bring(module, name):
                return result  # or one of them may bring it, or a module that nobody here knows
        if whole in self._modules_and_packages:
            return Referent("module", whole)
        return Referent("unknown", whole)

    def _of_stars(self, module: str, name: str, depth: int) -> Referent | None:
        """Return what a star import brings under `name`, the last one first.

        In a circle it depends on which module is loaded first what is bound last, and what is seen
        in between: then only one of them may have the name.
        """
        summary, stars = self.summary(module), self._stars
        if summary is None or depth > MOST_STEPS:
            return None
        if stars.is_circular(module):
            holders = stars.holders(module, name)
            if holders is None or len(holders) > 1:
                return None
            if holders:
                is_certain = stars.brings(module, name)
                return self._of_module(holders[0], name, depth + 1) if is_certain else None
        for star in reversed(summary.stars):
            if stars.is_hidden(star, name):
                return None
            if stars.brings(star, name):
                return self._of_module(star, name, depth + 1)
        return Referent("unknown", f"builtins.{name}") if hasattr(builtins, name) else None

    def _is_module(self, name: str) -> bool:
        return name in self._modules_and_packages

    def brings(self, module: str, name: str) -> bool:
        """Return whether a star import of `module` brings `name`, through others too."""
        return self._stars.brings(module, name)

    def _of_class(self, symbol: Referent, name: str, depth: int) -> Referent | None:
        if name == "<super>":
            return Referent("instance", symbol.name, symbol.entry, behind=True)
        lost = False
        line = self._line(symbol, depth)
        for number, holder in enumerate(line):
            if holder is None:
                lost = True
                continue
            if symbol.behind and not number:
                continue
            if holder.entry is None:  # of another code base: it may have the name or not
                lost = lost or any(
                    item is not None and item.entry is not None and name in item.entry.members
                    for item in line[number:]
                )
                return None if lost else Referent("unknown", f"{holder.name}.{name}")
            member = holder.entry.members.get(name)
            if member is not None and not lost:
                entered = self._entered(f"{holder.name}.{name}", member, depth)
                return self._had(entered, symbol, depth)
            if member is not None:
                return None
            if name in _MAKES_ANOTHER and holder.entry.by_fields and not lost:
                entry = NameEntry("function", f"{symbol.name}()")
                return Referent("function", f"{symbol.name}.{name}", entry)
        return None if lost else Referent("unknown", f"{symbol.name}.{name}")

    def _had(self, member: Referent | None, symbol: Referent, depth: int) -> Referent | None:
        """Return a member as it is when read from `symbol`, a class or an instance."""
        entry = member.entry if member is not None else None
        if member is None or entry is None:
            return member
        if entry.path == RECEIVER:
            return member._replace(entry=replace(entry, path=f"{symbol.name}()"))
        if entry.awaited == RECEIVER:
            return member._replace(entry=replace(entry, awaited=f"{symbol.name}()"))
        if member.kind == "value" and entry.shared and self._may_describe(member, depth):
            return member._replace(entry=replace(entry, path=None))
        return member

    def _may_describe(self, member: Referent, depth: int) -> bool:
        """Return whether a value of a class may be asked what it is: it has a ``__get__``."""
        value = self._value(member, depth)
        if value is None or value.kind != "instance":
            return False
        return any(
            item is not None and item.entry is not None and "__get__" in item.entry.members
            for item in self._line(value, depth)
        )

    def _line(self, symbol: Referent | None, depth: int) -> Sequence[Referent | None]:
        """Return a class and those it comes from, in the order in which they are asked for a name.

        None stands for one that is not known. The order is the C3 linearization of Python; where a
        class has none, or comes from itself, nothing above it is known.
        """
        if symbol is None or symbol.entry is None:
            return (symbol,)
        line = self._lines.get(symbol.name)
        if line is None:
            self._lines[symbol.name] = (None,)  # what comes from itself has no order
            bases = [self._base(base, depth) for base in symbol.entry.bases]
            bases = [b for b in bases if b is None or b.name != "builtins.object"]
            above = [*(self._line(base, depth + 1) for base in bases), bases]
            by_name = {item.name: item for items in above for item in items if item is not None}
            order = merged([[item and item.name for item in items] for items in above])
            line = tuple(by_name[name] if name is not None else None for name in order)
            self._lines[symbol.name] = line
        return (symbol, *line)

    def _base(self, path: str | None, depth: int) -> Referent | None:
        """Return the class that is named as a base; None if it is not known."""
        base = self._thing(path, depth + 1) if path is not None else None
        if base is not None and base.kind == "unknown":
            return Referent("class", base.name)
        return base if base is not None and base.kind == "class" else None

    def _called(self, symbol: Referent, depth: int) -> Referent | None:
        if symbol.kind == "class":
            makers = (item.entry for item in self._line(symbol, depth) if item is not None)
            if any(entry is not None and entry.made_by_new for entry in makers):
                return None
            return Referent("instance", symbol.name, symbol.entry)
        if symbol.kind == "unknown":
            given = result_of(symbol.name)
            if given is None:
                return Referent("unknown", symbol.name + "()")
            path, held = given
            if not held:
                return self._thing(path, depth + 1)
            return Referent("value", symbol.name, NameEntry("value", path, contents=(held, held)))
        if symbol.kind == "value":
            entries = self._value(symbol, depth)
            return self._called(entries, depth + 1) if entries is not None else None
        if symbol.kind == "function" and symbol.entry is not None and symbol.entry.property:
            entries = self._value(symbol, depth)
            return self._called(entries, depth + 1) if entries is not None else None
        awaited = symbol.entry.awaited if symbol.entry is not None else None
        if symbol.kind == "function" and awaited is not None:
            entry = NameEntry("value", awaited)
            return Referent("awaitable", f"{symbol.name}()", entry)
        if symbol.kind == "function" and symbol.entry is not None and symbol.entry.contents:
            entry = NameEntry("value", symbol.entry.path, contents=symbol.entry.contents)
            return Referent("value", f"{symbol.name}()", entry)
        if symbol.kind == "function" and symbol.entry is not None and symbol.entry.path is not None:
            result = self._thing(symbol.entry.path, depth + 1)
            return self._value(result, depth) if result and result.kind == "value" else result
        return None


_CONTAINED = frozenset({"copy", "get", "keys", "pop", "popleft", "setdefault", "values"})
"""Methods of containers that give what they hold, or another container of that."""


def _method_of(
    symbol: Referent, name: str, contents: tuple[str | None, str | None]
) -> Referent:
    """Return a method of a container as it is for what the container holds."""
    item, value = contents
    entry = NameEntry("function", value)
    if name == "copy":
        entry = NameEntry("function", "builtins.list()", contents=contents)
    elif name in ("keys", "values"):
        given = item if name == "keys" else value
        entry = NameEntry("function", "builtins.list()", contents=(given, given))
    return Referent("function", f"{symbol.name}.{name}", entry, may_default=True)


def _entering(symbol: Referent, name: str) -> Referent | None:
    """Return the method that enters a context that a generator was made; None for another one."""
    item = symbol.entry.contents[0] if symbol.entry and symbol.entry.contents else None
    if item is None or symbol.kind != "value" or name not in ("__aenter__", "__enter__"):
        return None
    is_awaited = name == "__aenter__"
    path, awaited = (None, item) if is_awaited else (item, None)
    entry = NameEntry("function", path, awaited=awaited)
    return Referent("function", f"{symbol.name}.{name}", entry)


_MAKES_ANOTHER = frozenset({"_make", "_replace"})
"""Methods that named tuples have without saying so: they return one of the same class."""

_SELF = re.compile(r"\(\)\.")
"""A member of an instance is that of its class."""


def packages_of(name: str) -> Iterator[str]:
    """Yield the packages around a module: what stands before each dot, the longest first."""
    while "." in name:
        name = name.rpartition(".")[0]
        yield name
