"""Random small code bases of several modules, which can be run: what a program does is its trace.

Few words serve for everything, so that look-alikes are everywhere: functions, methods, fields,
parameters and local variables share them. Each definition tells of itself with `hit(number)` when
it runs. What is called `run_...` is run once all is imported; some of it is decorated with `entry`,
of which nothing is known, and `fell_back` is called where an import failed. All three are given
by who runs the program.

Half of the programs are ordinary: nothing looks names up by their text, no module relies on what
another one imports, no name means two things. There is little reason to refuse a change to them.
"""

from __future__ import annotations

import unicodedata
from collections.abc import Callable
from dataclasses import dataclass, field
from random import Random

FUNCTIONS = ("stamp", "tick", "größte", "halt")
CLASSES = ("Tram", "Line", "Depot")
MEMBERS = ("halt", "stamp", "zone", "speed", "wake")
PARAMETERS = ("zone", "speed", "rate")
VALUES = ("zone", "LIMIT", "rate")
_ALIASES = ("other", "again", "tick_", "stamp", "Car", "rate")
_STANDARD = ("json", "os", "os.path", "math", "string", "xml.dom")


@dataclass
class RenameTarget:
    """What a module defines."""

    kind: str
    module: str
    name: str
    parameters: tuple[str, ...] = ()
    members: dict[str, str] = field(default_factory=dict)
    """Of a class, its own and those of its bases: what each is."""
    fields: tuple[str, ...] = ()
    """Of a class, what its constructor takes."""
    own: tuple[str, ...] = ()
    """Of a class: the members that it defines itself."""

    @property
    def path(self) -> str:
        """Return its dotted name."""
        return f"{self.module}.{self.name}"


@dataclass
class Module:
    """A module while it is written."""

    name: str
    path: str
    is_package: bool
    things: list[RenameTarget] = field(default_factory=list)
    reached: list[tuple[str, RenameTarget]] = field(default_factory=list)
    """What can be said at the top of the module, with what it means."""
    lines: list[str] = field(default_factory=list)
    taken: set[str] = field(default_factory=set)

    @property
    def package(self) -> str:
        """Return the package that relative imports start from."""
        return self.name if self.is_package else self.name.rpartition(".")[0]


@dataclass
class Program:
    """A code base: its files, and what is defined where."""

    files: dict[str, str]
    modules: list[Module]
    roots: tuple[str, ...] = ("",)
    """The folders from which modules are imported."""
    is_ordinary: bool = False

    @property
    def things(self) -> list[RenameTarget]:
        """Return all that is defined at the top of modules."""
        return [thing for module in self.modules for thing in module.things]


_LAYOUTS: tuple[tuple[tuple[str, bool], ...], ...] = (
    (("alder", True), ("alder.clock", False), ("alder.fares", False), ("tool", False)),
    (
        ("alder", True),
        ("alder.depot", True),
        ("alder.depot.yard", False),
        ("alder.clock", False),
        ("alder.lines", False),
    ),
    (("clock", False), ("fares", False), ("lines", False)),
    (("rails.clock", False), ("rails.depot", True), ("rails.depot.yard", False), ("tool", False)),
)


ClassMaker = Callable[["Maker", Module, str, RenameTarget], list[str]]


def _of_class(make: ClassMaker) -> Callable[[Maker, Module], list[str]]:
    """Give `make` one of the classes that a module knows; without any there is nothing to make."""

    def made(maker: Maker, module: Module) -> list[str]:
        known = maker._class_in(module)
        return [] if known is None else make(maker, module, *known)

    return made


class Maker:
    """Makes one program."""

    def __init__(self, seed: int) -> None:
        self.random = Random(seed)
        self.is_ordinary = Random(f"ordinary {seed}").random() < 0.5
        self.number = 0
        self.modules: list[Module] = []

    def program(self) -> Program:
        """Return a program; the same for the same seed."""
        layout = self.random.choice(_LAYOUTS)
        root = self.random.choice(("", "", "src/"))
        written = list(layout)
        # a package's face comes last, so that it can re-export; or first, and holds things itself
        if self.random.random() < 0.6:
            written.sort(key=lambda one: one[1])
        for name, is_package in written:
            tail = name.replace(".", "/") + ("/__init__.py" if is_package else ".py")
            self.modules.append(Module(name, root + tail, is_package))
        for module in self.modules:
            self._fill(module)
        files = {one.path: "\n".join(one.lines) + "\n" for one in self.modules}
        if self.random.random() < 0.05:  # Python reads names in another form than these bytes have
            path = self.random.choice(self.modules).path
            files[path] = unicodedata.normalize("NFD", files[path])
        return Program(files, self.modules, (root.rstrip("/"),), self.is_ordinary)

    # ------------------------------------------------------------------ modules

    def _fill(self, module: Module) -> None:
        later: list[str] = []
        lines = module.lines
        if self.random.random() < 0.3:
            lines.append('"""Made up."""')
        if self.random.random() < 0.3:
            lines.append("from __future__ import annotations")
        for _ in range(self.random.randint(0, 2)):
            lines.append(f"import {self.random.choice(_STANDARD)}")
        known = [one for one in self.modules if one is not module and one.things]
        for _ in range(self.random.randint(1, 4) if known else 0):
            self._import(module, self.random.choice(known), lines)
        lines.append("")
        for _ in range(self.random.randint(1, 3)):
            self._define(module)
        for _ in range(self.random.randint(2, 4)):
            target = later if self.random.random() < 0.5 else lines
            target += self._entry(module)
        if self.random.random() < 0.3 and module.reached:
            lines.append(f"hit({self._used(module)})")
        lines += later
        if self.random.random() < 0.25:
            names = [one.name for one in module.things] + [
                said for said, _ in module.reached if said.isidentifier()
            ]
            listed = self.random.sample(names, self.random.randint(min(1, len(names)), len(names)))
            lines.append(f"__all__ = {sorted(set(listed))!r}")

    def _import(self, module: Module, source: Module, lines: list[str]) -> None:
        thing = self.random.choice(source.things)
        lines += self._import_lines(module, source, thing, module.reached, module.taken)

    def _import_lines(
        self,
        module: Module,
        source: Module,
        thing: RenameTarget,
        reached: list[tuple[str, RenameTarget]],
        taken: set[str],
        star: bool = True,
    ) -> list[str]:
        """Return lines that import `thing`, and note how it can be said."""
        parent, _, leaf = source.name.rpartition(".")
        alias = self.random.choice(_ALIASES)
        written = self._written(module, source.name)
        above = self._written(module, parent) if parent else ""
        ways: list[tuple[str, str]] = [
            (f"import {source.name}", f"{source.name}.{thing.name}"),
            (f"import {source.name} as {alias}", f"{alias}.{thing.name}"),
            (f"from {written} import {thing.name}", thing.name),
            (f"from {written} import {thing.name}", thing.name),
            (f"from {written} import {thing.name} as {alias}", alias),
        ]
        if above and not self.is_ordinary:
            top = source.name.partition(".")[0]
            ways.append((f"import {top}", f"{source.name}.{thing.name}"))
        if above:
            ways.append((f"from {above} import {leaf}", f"{leaf}.{thing.name}"))
        if star and not any("__all__" in line for line in source.lines):
            ways.append((f"from {written} import *", thing.name))
        line, said = self.random.choice(ways)
        name = said.partition(".")[0]
        if name in taken and (self.is_ordinary or self.random.random() < 0.8):
            return []
        if line.endswith("*"):
            for one in source.things:
                reached.append((one.name, one))
                taken.add(one.name)
        taken.add(name)
        reached[:] = [pair for pair in reached if pair[0].partition(".")[0] != name or "." in said]
        reached.append((said, thing))
        if line.endswith(thing.name) and "." not in said and self.random.random() < 0.15:
            number = self._next()
            return [
                "try:",
                f"    {line}",
                "except ImportError:",
                "    fell_back()",
                f"    def {said}(*args, **more): return hit({number})",
            ]
        if self.random.random() < 0.08 and not line.endswith("*"):
            return ["if len('abc') == 3:", f"    {line}"]
        return [line]

    def _written(self, module: Module, source: str) -> str:
        """Return a module as an import may say it: in full, or with dots."""
        package = module.package
        if not package or self.random.random() < 0.5:
            return source
        if source == package:
            return "."
        if source.startswith(package + "."):
            return source[len(package) :]
        return source

    def _next(self) -> int:
        self.number += 1
        return self.number

    # ------------------------------------------------------------------ definitions

    def _define(self, module: Module) -> None:
        make = self.random.choice((self._function, self._function, self._class, self._value))
        thing, lines = make(module)
        if thing.name in module.taken and (self.is_ordinary or self.random.random() < 0.8):
            return
        module.taken.add(thing.name)
        module.reached[:] = [p for p in module.reached if p[0].partition(".")[0] != thing.name]
        module.things = [one for one in module.things if one.name != thing.name]
        module.things.append(thing)
        module.reached.append((thing.name, thing))
        module.lines += ["", *lines]

    def _function(self, module: Module) -> tuple[RenameTarget, list[str]]:
        name = self.random.choice(FUNCTIONS)
        parameters = tuple(self.random.sample(PARAMETERS, self.random.randint(0, 2)))
        signature = ", ".join(f"{one}={self._next()}" for one in parameters)
        lines = [f"def {name}({signature}):"]
        told = ", ".join((str(self._next()), *parameters))
        lines.append(f"    hit({told})")
        if module.reached and self.random.random() < 0.3:
            lines.append(f"    {self._used(module)}")
        if parameters:
            lines.append(f"    return {parameters[0]}")
        return RenameTarget("function", module.name, name, parameters), lines

    def _value(self, module: Module) -> tuple[RenameTarget, list[str]]:
        name = self.random.choice(VALUES)
        classes = [pair for pair in module.reached if pair[1].kind == "class"]
        if classes and self.random.random() < 0.5:
            said, made = self.random.choice(classes)
            thing = RenameTarget("value", module.name, name, members=made.members, fields=made.fields)
            return thing, [f"{name} = {said}()"]
        return RenameTarget("value", module.name, name), [f"{name} = {self._next()}"]

    def _class(self, module: Module) -> tuple[RenameTarget, list[str]]:
        name = self.random.choice(CLASSES)
        kind = self.random.random()
        fields = tuple(self.random.sample(("zone", "speed", "wake"), self.random.randint(1, 2)))
        if kind < 0.15:
            lines = ["import dataclasses", "@dataclasses.dataclass", f"class {name}:"]
            lines += [f"    {one}: int = {self._next()}" for one in fields]
            return self._class_of(module, name, dict.fromkeys(fields, "field"), fields), lines
        if kind < 0.25:
            lines = ["from typing import NamedTuple", f"class {name}(NamedTuple):"]
            lines += [f"    {one}: int = {self._next()}" for one in fields]
            return self._class_of(module, name, dict.fromkeys(fields, "field"), fields), lines
        bases = [pair for pair in module.reached if pair[1].kind == "class"]
        members: dict[str, str] = {}
        taken: tuple[str, ...] = ()
        base = ""
        if bases and self.random.random() < 0.5:
            base, above = self.random.choice(bases)
            if base.partition(".")[0] == name:
                base = ""
            else:
                members, taken = dict(above.members), above.fields
        lines = [f"class {name}({base}):" if base else f"class {name}:"]
        own: dict[str, str] = {}
        if not base and self.random.random() < 0.6:
            taken = fields
            signature = ", ".join(f"{one}={self._next()}" for one in fields)
            lines.append(f"    def __init__(self, {signature}):")
            lines += [f"        self.{one} = {one}" for one in fields]
            own |= dict.fromkeys(fields, "field")
        for member in self.random.sample(MEMBERS, self.random.randint(1, 3)):
            if member in own or members.get(member, "method") not in ("method", "class method"):
                continue
            own[member], made = self._member(module, member, members)
            lines += made
        if len(lines) == 1:
            lines.append("    pass")
        return self._class_of(module, name, {**members, **own}, taken, tuple(own)), lines

    def _class_of(
        self,
        module: Module,
        name: str,
        members: dict[str, str],
        fields: tuple[str, ...],
        own: tuple[str, ...] | None = None,
    ) -> RenameTarget:
        kept = tuple(members) if own is None else own
        return RenameTarget("class", module.name, name, (), members, fields, kept)

    def _member(
        self, module: Module, name: str, above: dict[str, str]
    ) -> tuple[str, list[str]]:
        number = self._next()
        kinds = ["method", "method", "property", "value", "class method", "static method"]
        kind = "method" if name in above else self.random.choice(kinds)
        body = [f"        hit({number})"]
        if name in above and above[name] == "method" and self.random.random() < 0.5:
            body.append(f"        super().{name}()")
        elif module.reached and self.random.random() < 0.3:
            body.append(f"        {self._used(module)}")
        if kind == "value":
            return kind, [f"    {name} = {number}"]
        if kind == "static method":
            return kind, ["    @staticmethod", f"    def {name}():", *body]
        if kind == "class method":
            return kind, ["    @classmethod", f"    def {name}(cls):", *body, "        return cls"]
        mark = ["    @property"] if kind == "property" else []
        returned = f"        return {number}" if kind == "property" else "        return self"
        return kind, [*mark, f"    def {name}(self):", *body, returned]

    # ------------------------------------------------------------------ uses

    def _used(self, module: Module) -> str:
        """Return an expression that uses something that is known at the top of the module."""
        said, thing = self.random.choice(module.reached)
        return self._use_of(said, thing)

    def _use_of(self, said: str, thing: RenameTarget) -> str:
        pick = self.random.random()
        if thing.kind == "function":
            given = ", ".join(
                f"{one}={self._next()}" for one in thing.parameters if self.random.random() < 0.5
            )
            if pick < 0.1 and not self.is_ordinary:
                return f"[{said}][0]({given})"
            if pick < 0.2 and not self.is_ordinary:
                return f"(lambda rate: rate({given}))({said})"
            return f"{said}({given})"
        if thing.kind == "class":
            given = ", ".join(
                f"{one}={self._next()}" for one in thing.fields if self.random.random() < 0.5
            )
            if not thing.members or pick < 0.1:
                return f"isinstance({said}({given}), {said})"
            return self._member_of(f"{said}({given})", thing)
        if thing.members and pick < 0.8:
            return self._member_of(said, thing)
        return f"hit({said})"

    def _member_of(self, said: str, thing: RenameTarget) -> str:
        member = self.random.choice(sorted(thing.members))
        if "method" in thing.members[member]:
            return f"{said}.{member}()"
        return f"hit({said}.{member})"

    def _entry(self, module: Module) -> list[str]:
        number = self._next()
        body = self._body(module)
        mark = ["@entry"] if self.random.random() < 0.3 and not self.is_ordinary else []
        return ["", *mark, f"def run_{number}():", *(f"    {line}" for line in body)]

    def _body(self, module: Module) -> list[str]:
        makers: list[Callable[[Module], list[str]]] = [
            self._plain,
            self._plain,
            self._plain,
            self._variable,
            self._annotated,
            self._hidden,
            self._local,
            self._loop,
            self._derived,
            self._narrow,
            self._rebound,
            self._pattern,
            self._quoted,
            self._alias,
            self._by_type,
            self._copied,
            self._set,
            self._listed,
            self._made,
            self._chosen,
            self._renewed,
            self._keyword,
        ]
        if not self.is_ordinary:
            makers += (self._reflect, self._handed, self._shown, self._by_path)
            makers += (self._function_by_text, self._member_by_text)
        found: list[str] = []
        for _ in range(self.random.randint(1, 3)):
            found += self.random.choice(makers)(module)
        return found or ["pass"]

    def _plain(self, module: Module) -> list[str]:
        return [f"hit({self._used(module)})"] if module.reached else []

    def _class_in(self, module: Module) -> tuple[str, RenameTarget] | None:
        found = [p for p in module.reached if p[1].kind == "class" and p[1].members]
        return self.random.choice(found) if found else None

    @_of_class
    def _variable(self, module: Module, said: str, thing: RenameTarget) -> list[str]:
        name = self.random.choice(("one", "stamp", "tick", "car"))
        if said.partition(".")[0] == name:
            name = "one"
        return [f"{name} = {said}()", self._member_of(name, thing)]

    @_of_class
    def _annotated(self, module: Module, said: str, thing: RenameTarget) -> list[str]:
        number = self._next()
        return [
            f"def inner_{number}(car: {said}):",
            f"    return {self._member_of('car', thing)}",
            f"inner_{number}({said}())",
        ]

    def _hidden(self, module: Module) -> list[str]:
        """Hide a name of the module by another thing."""
        names = sorted({said.partition(".")[0] for said, _ in module.reached})
        if not names:
            return []
        name, number = self.random.choice(names), self._next()
        return self.random.choice(
            (
                [f"def inner_{number}({name}=len):", f"    return hit({name}('abc'))"]
                + [f"inner_{number}()"],
                [f"hit([{name} for {name} in (1, {number})])"],
                [f"(lambda {name}: hit({name}))({number})"],
                [f"class Own_{number}:", f"    {name} = {number}", f"    hit({name})"]
                + [f"hit(Own_{number}.{name})"],
                [f"def inner_{number}():", f"    {name} = {number}", f"    hit({name})"]
                + [f"inner_{number}()"],
            )
        )

    def _local(self, module: Module) -> list[str]:
        """Import in the function itself, from any module, later ones too."""
        others = [one for one in self.modules if one is not module and one.things]
        if not others:
            return []
        source = self.random.choice(others)
        reached: list[tuple[str, RenameTarget]] = []
        number = self._next()
        lines = self._import_lines(
            module, source, self.random.choice(source.things), reached, set(), star=False
        )
        said, thing = reached[-1]
        use = self._use_of(said, thing)
        return [f"def inner_{number}():", *(f"    {one}" for one in [*lines, use])] + [
            f"inner_{number}()"
        ]

    def _loop(self, module: Module) -> list[str]:
        if (known := self._class_in(module)) is None or self.random.random() < 0.6:
            return []
        said, thing = known
        return [f"for car in [{said}()]:", f"    {self._member_of('car', thing)}"]

    @_of_class
    def _derived(self, module: Module, said: str, thing: RenameTarget) -> list[str]:
        member = self.random.choice(sorted(thing.members))
        if thing.members[member] != "method" or "NamedTuple" in "".join(module.lines):
            return []
        number = self._next()
        return [
            f"class Own_{number}({said}):",
            f"    def {member}(self):",
            f"        hit({number})",
            f"        return super().{member}()",
            f"Own_{number}().{member}()",
        ]

    @_of_class
    def _narrow(self, module: Module, said: str, thing: RenameTarget) -> list[str]:
        return [
            f"for car in [{said}()]:",
            f"    if isinstance(car, {said}):",
            f"        {self._member_of('car', thing)}",
        ]

    def _reflect(self, module: Module) -> list[str]:
        """Look a name up by its text, now and then."""
        if not module.reached or self.random.random() < 0.75:
            return []
        said, thing = self.random.choice(module.reached)
        if thing.kind == "class" and thing.members:
            member = self.random.choice(sorted(thing.members))
            return [f"hit(getattr({said}(), '{member}'))"]
        if said.isidentifier():
            return [f"hit(globals()['{said}'])"]
        return []

    @_of_class
    def _rebound(self, module: Module, said: str, thing: RenameTarget) -> list[str]:
        member = self.random.choice(sorted(thing.members))
        number = self._next()
        return [
            f"class Own_{number}:",
            f"    {member} = hit({number})",
            f"car = {said}()",
            f"car = Own_{number}()",
            f"hit(car.{member})",
        ]

    @_of_class
    def _pattern(self, module: Module, said: str, thing: RenameTarget) -> list[str]:
        values = [name for name, kind in thing.members.items() if kind in ("field", "value")]
        if not values:
            return []
        member, number = self.random.choice(values), self._next()
        return [
            f"match {said}():",
            f"    case {said}({member}=seen):",
            f"        hit({number}, seen)",
        ]

    @_of_class
    def _quoted(self, module: Module, said: str, thing: RenameTarget) -> list[str]:
        return [f"car: '{said}' = {said}()", self._member_of("car", thing)]

    @_of_class
    def _alias(self, module: Module, said: str, thing: RenameTarget) -> list[str]:
        """Derive from another name of a class, and ask the class above by name."""
        member = self.random.choice(sorted(thing.members))
        if thing.members[member] != "method" or "NamedTuple" in "".join(module.lines):
            return []
        number = self._next()
        above = self.random.choice((f"super(Own_{number}, self)", "super()"))
        return [
            f"base = {said}",
            f"class Own_{number}(base):",
            f"    def {member}(self):",
            f"        return {above}.{member}()",
            f"Own_{number}().{member}()",
            f"{said}.{member}(Own_{number}())",
        ]

    @_of_class
    def _by_type(self, module: Module, said: str, thing: RenameTarget) -> list[str]:
        member = self.random.choice(sorted(thing.members))
        if thing.members[member] != "method":
            return []
        asked = self.random.choice(("type(one)", "one.__class__"))
        return [f"one = {said}()", f"{asked}.{member}(one)"]

    @_of_class
    def _copied(self, module: Module, said: str, thing: RenameTarget) -> list[str]:
        """Change a field of a copy."""
        text = "\n".join(line for one in self.modules for line in one.lines)
        field_ = next((one for one in thing.fields), "")
        if not field_:
            return []
        if f"class {thing.name}(NamedTuple)" in text:
            return [f"hit({said}()._replace({field_}={self._next()}).{field_})"]
        if "@dataclasses.dataclass" in text:
            return ["import dataclasses"] + [
                f"hit(dataclasses.replace({said}(), {field_}={self._next()}).{field_})"
            ]
        return []

    def _handed(self, module: Module) -> list[str]:
        """Give an argument by a mapping, or beforehand."""
        known = [p for p in module.reached if p[1].parameters or p[1].fields]
        if not known or self.random.random() < 0.5:
            return []
        said, thing = self.random.choice(known)
        name, number = self.random.choice(thing.parameters or thing.fields), self._next()
        if self.random.random() < 0.7:
            return ["import functools", f"functools.partial({said}, {name}={number})()"]
        return [f"{said}(**{{'{name}': {number}}})"]

    @_of_class
    def _set(self, module: Module, said: str, thing: RenameTarget) -> list[str]:
        """Set an attribute from outside."""
        values = [name for name, kind in thing.members.items() if kind in ("field", "value")]
        if not values or "NamedTuple" in "".join(module.lines):
            return []
        member = self.random.choice(values)
        return [f"other = {said}()", f"other.{member} = {self._next()}", f"hit(other.{member})"]

    def _shown(self, module: Module) -> list[str]:
        """Show a name in a text, now and then."""
        if (known := self._class_in(module)) is None or self.random.random() < 0.7:
            return []
        said, thing = known
        values = [name for name, kind in thing.members.items() if kind in ("field", "value")]
        return [f"other = {said}()", f"hit(f'{{other.{values[0]}=}}')"] if values else []

    def _by_path(self, module: Module) -> list[str]:
        """Look a thing up by its whole name in a text, now and then."""
        things = [one for other in self.modules for one in other.things]
        if not things or self.random.random() < 0.8:
            return []
        return ["import pkgutil", f"pkgutil.resolve_name('{self.random.choice(things).path}')"]

    def _function_by_text(self, module: Module) -> list[str]:
        """Reach a function by a text that is stored or put together, or read its names."""
        known = [pair for pair in module.reached if pair[1].kind == "function"]
        if not known or self.random.random() < 0.5:
            return []
        said, thing = self.random.choice(known)
        holder, _, name = said.rpartition(".")
        number = self._next()
        ways = [
            [f"exec('{said}()', globals())"],
            ["import inspect", f"hit(sorted(inspect.signature({said}).parameters))"],
        ]
        if holder:
            ways += (
                [f"name = '{name}'", f"getattr({holder}, name)()"],
                [f"getattr({holder}, '{name[:2]}' + '{name[2:]}')()"],
                [f"end = '{name[2:]}'", f"vars({holder})[f'{name[:2]}{{end}}']()"],
                ["from importlib import import_module", f"home = import_module({holder}.__name__)"]
                + [f"home.{name}()"],
            )
        if thing.parameters:
            given = self.random.choice(thing.parameters)
            ways += (
                ["import functools", f"made = functools.partial({said})", f"made({given}={number})"],
                ["import functools", f"made = [functools.partial({said})]"]
                + [f"made[0]({given}={number})"],
                [f"given = {{'{given}': {number}}}", f"{said}(**given)"],
                [f"given = dict({given}={number})", f"{said}(**given)"],
            )
        return self.random.choice(ways)

    @_of_class
    def _member_by_text(self, module: Module, said: str, thing: RenameTarget) -> list[str]:
        """Reach a member by a text, by a stand-in or a shell, or list it."""
        if self.random.random() < 0.5:
            return []
        member = self.random.choice(sorted(thing.members))
        number = self._next()
        ways = [
            [f"for name in ['{member}']:", f"    hit(getattr({said}(), name))"],
            [f"key = '{member}'", f"hit(getattr({said}(), key))"],
            [f"hit(getattr({said}(), '{member[:2]}' + '{member[2:]}'))"],
            [f"hit(sorted(vars({said}())))"],
            [f"hit([name for name in dir({said}) if name[0] != '_'])"],
            [f"hit(eval('one().{member}', {{'one': {said}}}))"],
            ["import operator", f"hit(operator.attrgetter('{member}')({said}()))"],
            [
                f"class Shell_{number}:",
                "    def __init__(self, inner): self.inner = inner",
                "    def __getattr__(self, name): return getattr(self.inner, name)",
                f"hit(Shell_{number}({said}()).{member})",
            ],
            [
                "from types import SimpleNamespace",
                f"def inner_{number}(car: {said}): return hit(car.{member})",
                f"inner_{number}(SimpleNamespace({member}={number}))",
            ],
        ]
        if thing.members[member] in ("field", "value"):
            ways.append([f"hit('{{0.{member}}}'.format({said}()))"])
            ways.append([f"hit('%({member})s' % vars({said}()))"])
        return self.random.choice(ways)

    @_of_class
    def _listed(self, module: Module, said: str, thing: RenameTarget) -> list[str]:
        number = self._next()
        return [
            f"def inner_{number}(cars: list[{said}]):",
            "    for car in cars:",
            f"        {self._member_of('car', thing)}",
            f"inner_{number}([{said}()])",
        ]

    @_of_class
    def _made(self, module: Module, said: str, thing: RenameTarget) -> list[str]:
        number = self._next()
        return [
            f"def make_{number}() -> {said}:",
            f"    return {said}()",
            self._member_of(f"make_{number}()", thing),
        ]

    @_of_class
    def _chosen(self, module: Module, said: str, thing: RenameTarget) -> list[str]:
        return [
            f"one = {said}() if len('abc') == 3 else None",
            "if one is not None:",
            f"    {self._member_of('one', thing)}",
        ]

    def _renewed(self, module: Module) -> list[str]:
        """Bind a name of the module anew from a function."""
        values = [p for p in module.reached if p[1].kind == "value" and p[1].module == module.name]
        if not values or self.random.random() < 0.5:
            return []
        said, number = self.random.choice(values)[0], self._next()
        return [
            f"def inner_{number}():",
            f"    global {said}",
            f"    {said} = {said}",
            f"    hit({said})",
            f"inner_{number}()",
        ]

    def _keyword(self, module: Module) -> list[str]:
        """Call a function of the place itself by keywords that others have too."""
        name, number = self.random.choice(PARAMETERS), self._next()
        return [
            f"def inner_{number}({name}=0):",
            f"    return hit({name})",
            f"inner_{number}({name}={number})",
        ]
