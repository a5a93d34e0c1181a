"""Places where a program sees names as it runs, without saying the one that is renamed.

``getattr(self, f"on_{event}")`` calls `on_halt`; ``dataclasses.asdict(tram)`` makes texts of the
names of fields; a decorator registers a function under its name; a test runner passes arguments by
theirs. Nothing is edited at such a place: it is shown to a person.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from functools import cached_property
from typing import Literal

from yellow_trellis.semantics import Scope
from yellow_trellis.semantics.python.asked_names import ANY, lookups
from yellow_trellis.semantics.python.code_base.loading import loaded_with
from yellow_trellis.semantics.python.definitions import marks_of
from yellow_trellis.semantics.python.renaming.goal import Goal
from yellow_trellis.semantics.python.semantic_model import PythonFacts
from yellow_trellis.semantics.python.test_files import is_of_tests
from yellow_trellis.source import Span
from yellow_trellis.syntax import Node

Relation = Literal["it", "another", "not known"]

_LISTING_FIELDS = frozenset({"asdict", "fields", "fields_dict", "get_type_hints"})
"""Functions that list the fields of what they are given."""
_OWN_FIELDS = frozenset({"_asdict", "_field_defaults", "_fields", "__dataclass_fields__"})
_OWN_NAMES = frozenset({"__annotations__", "__dict__", "__match_args__", "__members__"})
_ENUM_NAMES = frozenset({"_member_map_", "_member_names_", "_name_", "name"})
_SHOWN_BY = frozenset({"__name__", "__qualname__"})
_SIGNATURES = frozenset({"getcallargs", "getfullargspec", "signature"})
_TRANSPARENT = re.compile(
    r"abc\.abstract\w+|atexit\.register|builtins\.(?:classmethod|property|staticmethod)"
    r"|contextlib\.\w+|dataclasses\.dataclass|enum\.\w+|functools\.\w+|runpy\.\w+"
    r"|types\.coroutine|typing(?:_extensions)?\.\w+|warnings\.deprecated"
    r"|attrs?\.(?:define|frozen|mutable|s)|unittest\.mock\.patch.*|pytest\.mark\..*"
)
"""Decorators that neither keep the name of what they are given nor pass it arguments by name."""
_RUNNER_NAMES = re.compile(
    r"pytest\w*|collect_ignore\w*|load_tests|(?:set|tear)_?(?:up|down|Up|Down)"
    r"(?:_?(?:class|method|function|module|Class|Module|TestData))?"
)
"""Names that test runners look for."""
_CALLED_TEST = re.compile(r"test\w*|Test\w*")


class RunTime:
    """The places of one file that may see the name of `goal` as it runs.

    Arguments: `new` is the name that it gets.
    """

    def __init__(self, facts: PythonFacts, goal: Goal, new: str) -> None:
        self.facts = facts
        self.goal = goal
        self.new = new

    def places(self) -> Iterator[tuple[Span, str]]:
        """Yield the places with the reasons of the doubts."""
        if self.goal.role == "argument":
            yield from self._passed_by_name()
            yield from self._asked_for_signature()
            return
        yield from self._looked_up()
        yield from self._listed_members()
        yield from self._defined_for_others()
        yield from self._shown()
        if self.goal.is_in_class:
            yield from self._listed_attributes()
            yield from self._stand_ins()
        if self.goal.is_in_enum:
            yield from self._enum_names()

    # ------------------------------------------------------------------ names asked for by text

    def _looked_up(self) -> Iterator[tuple[Span, str]]:
        for lookup in lookups(self.facts.tree):
            if not lookup.may_ask_for(self.goal.word):
                continue
            if lookup.receiver is None:
                own = self.goal.role == "name" and self.facts.place.module in self.goal.owners
                unknown: Relation = "not known" if lookup.pattern != ANY else "another"
                relation: Relation = "it" if own and lookup.in_module else unknown
            else:
                relation = self._relation(lookup.receiver)
            if relation == "it" or (relation == "not known" and lookup.pattern != ANY):
                yield lookup.node.span, "a name that is put together may be it"

    def _relation(self, node: Node) -> Relation:
        """Return whether the value of `node` has what is renamed."""
        graph = self.facts.graph
        kind = self.facts.type_of(node)
        name = self.facts.meaning(node) if kind is None else kind
        if name is None:
            return "not known"
        if self.goal.has(name):
            return "it"
        entry = graph.entry(name)
        if entry is not None and entry.kind == "class":
            known = None not in set(graph.bases(name))
            return "another" if known else "not known"
        if self.goal.role == "name" and graph.holds(name):
            return "another"
        if entry is not None or name.partition(".")[0] in ("builtins", "copy"):
            return "not known"
        return "another"  # what is of another code base has none of the names of this one

    def _listed_members(self) -> Iterator[tuple[Span, str]]:
        """Yield where all names of a module or class are listed: ``dir(clock)``."""
        for call, argument in self._calls_of({"dir", "getmembers"}):
            if self._relation(argument) == "it":
                yield call.span, "all names are listed"

    # ------------------------------------------------------------------ attributes as a mapping

    def _listed_attributes(self) -> Iterator[tuple[Span, str]]:
        functions = {"vars", *(_LISTING_FIELDS if self.goal.role == "field" else ())}
        for call, argument in self._calls_of(functions):
            if self._lists_it(argument):
                yield call.span, "what it makes of an object has the names of its attributes"
        attributes = set(_OWN_NAMES) | (_OWN_FIELDS if self.goal.role == "field" else set())
        for attribute in self._attributes_called(attributes):
            if self._lists_it(attribute.items[0]):
                yield attribute.span, "it has the names of the attributes of an object"

    def _lists_it(self, node: Node) -> bool:
        """Return whether the attributes of an object have the name, or may have it.

        An object does not have the methods of its class as its own.
        """
        relation = self._relation(node)
        return relation == "it" or (relation == "not known" and not self.goal.is_method)

    def _attributes_called(self, words: set[str] | frozenset[str]) -> Iterator[Node]:
        """Yield the attributes of the file whose last name is one of `words`."""
        for node in self._said(words):
            above = node.parent
            if above is not None and above.kind == "attribute" and above.children[-1] is node:
                yield above

    def _calls_of(self, words: set[str] | frozenset[str]) -> Iterator[tuple[Node, Node]]:
        """Yield the calls of functions whose last name is one of `words`, with what they take."""
        for node in self._said(words):
            call = _called(node)
            items = [item for item in call.items[-1].items if item.named] if call else []
            if call is not None and items:
                yield call, items[0]

    def _said(self, words: set[str] | frozenset[str]) -> Iterator[Node]:
        """Yield the names of the file that are one of `words`, strings and comments aside."""
        for word in sorted(words):
            for at in self.facts.tree.hits(word.encode("ascii"), whole_word=True):
                leaf = self.facts.tree.leaf_at(at)
                if leaf is not None and leaf.kind == "identifier" and leaf.text == word:
                    yield leaf

    # ------------------------------------------------------------------ enumerations

    def _enum_names(self) -> Iterator[tuple[Span, str]]:
        if not self.goal.is_near(self.facts.tree.source.data):
            return
        lasts = {owner.rpartition(".")[2] for owner in self.goal.owners}
        for attribute in self._attributes_called(_ENUM_NAMES):
            if self._relation(attribute.items[0]) != "another":
                yield attribute.span, "a member of an enumeration may tell its name here"
        for node in self.facts.tree.of_kinds(frozenset({"subscript"})):
            if self.facts.meaning(node.items[0]) not in self.goal.owners:
                continue
            keys = [item for item in node.items[1:] if item.named]
            if keys and keys[0].bare.kind != "string":
                yield node.span, "a member is asked for by its name"
        for node in self._said(lasts):
            if self._is_listed(node):
                yield node.outermost.span, "the members of the enumeration are listed"
        for node in self.facts.tree.of_kinds(frozenset({"call", "interpolation"})):
            shown = self._shown_values(node)
            if any(self.facts.type_of(value) in self.goal.owners for value in shown):
                yield node.span, "a member of the enumeration is shown by its name"
        for node in self._said({"auto"}):
            if self._gives_names(node):
                yield node.span, "the name of the member is its value"

    def _is_listed(self, node: Node) -> bool:
        """Return whether all members are made a list or a text of: ``list(Mode)``."""
        if self.facts.meaning(node) not in self.goal.owners:
            return False
        above = node.parent
        if above is None:
            return False
        if above.kind == "argument_list" and above.parent is not None:
            return above.parent.items[0].text in ("dict", "list", "print", "repr", "str", "tuple")
        return False

    def _shown_values(self, node: Node) -> list[Node]:
        if node.kind == "interpolation":
            return [item for item in node.items if item.named][:1]
        last = node.items[0].text.rpartition(".")[2]
        if last not in ("debug", "error", "format", "info", "print", "repr", "str", "warning"):
            return []
        return [item for item in node.items[-1].items if item.named]

    def _gives_names(self, node: Node) -> bool:
        listing = next((a for a in node.ancestors() if a.kind == "class_definition"), None)
        bases = listing.child("superclasses") if listing is not None else None
        if listing is None or bases is None:
            return False
        by_name = "StrEnum" in bases.text or "_generate_next_value_" in listing.text
        statement = next((a for a in node.ancestors() if a.kind == "assignment"), None)
        target = statement.child("left") if statement is not None else None
        return by_name and target is not None and target.text == self.goal.word

    # ------------------------------------------------------------------ definitions for others

    def _defined_for_others(self) -> Iterator[tuple[Span, str]]:
        """Yield where the thing is defined and something else finds it by its name."""
        facts = self.facts
        for binding in facts.names.bindings:
            if binding.name != self.goal.word or not self._is_own(binding.scope):
                continue
            for definition in binding.definitions:
                if definition.how == "import":
                    continue
                reason = self._found_by_runner() or self._copied()
                if reason:
                    yield definition.span, reason
                scope = self._defined_by(definition.node)
                if scope is not None and (reason := self._marked(scope)):
                    yield definition.span, reason

    def _is_own(self, scope: Scope) -> bool:
        place = self.facts.place
        path = place.module if scope.parent is None else self.facts.paths.of_scope(scope)
        return path.replace(":", ".") in self.goal.owners

    def _defined_by(self, node: Node) -> Scope | None:
        above = node.parent
        if above is None or above.kind not in ("class_definition", "function_definition"):
            return None
        scopes = self.facts.names.scopes
        return next((s for s in scopes if (s.start, s.end) == above.span and s.name), None)

    def _found_by_runner(self) -> str:
        names = (self.goal.word, self.new)
        if any(_RUNNER_NAMES.fullmatch(name) for name in names):
            return "a test runner looks for it by its name"
        if not self._is_of_tests:
            return ""
        are_tests = [_CALLED_TEST.match(name) for name in names]
        kinds = {match[0][:4] if match is not None else "" for match in are_tests}
        return "a test runner finds tests by their names" if len(kinds) > 1 else ""

    def _copied(self) -> str:
        """Return why it is not known which of several modules is imported; empty if it is."""
        parts = self.facts.place.module.split(".")
        names = (".".join(parts[:n]) for n in range(1, len(parts) + 1))
        copy = next((name for name in names if name in self.facts.graph.copies), "")
        return f"there is another `{copy}`, and which one is imported is not known" if copy else ""

    @cached_property
    def _is_of_tests(self) -> bool:
        """Return whether the file holds tests, or what they share."""
        path = str(self.facts.tree.source.path or "")
        return is_of_tests(path, (item.module for _, item in self.facts.names.imports))

    def _marked(self, scope: Scope) -> str:
        """Return why what decorates a definition may use its name; empty if it does not."""
        for mark in marks_of(self.facts.names.node_of(scope)):
            if self._is_fixture(mark):
                return "tests ask for a fixture by its name"
            if self._may_see_names(mark):
                return f"the decorator `{mark.text}` may use its name"
        return ""

    def _is_fixture(self, mark: Node) -> bool:
        return "fixture" in (self.facts.meaning(mark) or mark.text)

    def _may_see_names(self, mark: Node) -> bool:
        if mark.text.rpartition(".")[2] in ("setter", "getter", "deleter"):
            return False
        name = self.facts.meaning(mark)
        if name is None:
            return True
        if _TRANSPARENT.fullmatch(name):
            return False
        graph = self.facts.graph
        entry = graph.entry(name)
        if entry is None:
            return True
        summary = graph.summary(name.rpartition(".")[0])
        home = name.rpartition(".")[0]
        while summary is None and "." in home:
            home = home.rpartition(".")[0]
            summary = graph.summary(home)
        own = self.facts.summary if home == self.facts.place.module else summary
        inside = name[len(home) + 1 :]
        return own is None or inside in own.name_readers

    # ------------------------------------------------------------------ arguments

    def _passed_by_name(self) -> Iterator[tuple[Span, str]]:
        """Yield the parameters that a runner or decorator passes by their names."""
        for scope in self.facts.names.scopes:
            if scope.kind != "function" or not scope.binds(self.goal.word):
                continue
            path = self.facts.paths.of_scope(scope)
            result = self.facts.graph.resolve(path)
            if result is None or not self.goal.means(result):
                continue
            binding = self.facts.names.bound(scope, self.goal.word)
            first = next((d for d in binding.definitions if d.how == "argument"), None)
            if first is None:
                continue
            marks = marks_of(self.facts.names.node_of(scope))
            by_runner = scope.name.startswith("test") and self._is_of_tests
            if by_runner or scope.name.startswith("pytest_") or any(map(self._is_fixture, marks)):
                yield first.span, "a test runner passes it by its name"
            for mark in marks:
                name = self.facts.meaning(mark)
                if name is None or self._may_see_names(mark) or self._says_name(mark):
                    yield first.span, f"the decorator `{mark.text}` may pass it by its name"

    def _says_name(self, mark: Node) -> bool:
        """Return whether the arguments of a decorator say the name in a text: ``"--dry-run"``."""
        call = mark.parent
        if call is None or call.kind != "call":
            return False
        words = re.split(r"[\s,/]+", re.sub(r"[\"'()\[\]]", " ", call.items[-1].text))
        return self.goal.word in {word.lstrip("-").replace("-", "_").lower() for word in words}

    def _asked_for_signature(self) -> Iterator[tuple[Span, str]]:
        for call, argument in self._calls_of(_SIGNATURES):
            meaning = self.facts.meaning(argument)
            if meaning is not None and self.goal.means(meaning):
                yield call.span, "its signature tells the name"

    # ------------------------------------------------------------------ names shown, stand-ins

    def _shown(self) -> Iterator[tuple[Span, str]]:
        """Yield where the name of the thing itself is read: ``stamp.__name__``."""
        for above in self._attributes_called(_SHOWN_BY):
            receiver = above.items[0]
            meaning = self.facts.meaning(receiver)
            if meaning is not None and self.goal.means(meaning):
                yield above.span, "the name itself is read"
            elif self.goal.is_class and self._is_class_of_own(receiver):
                yield above.span, "the name of a class is read"

    def _is_class_of_own(self, receiver: Node) -> bool:
        """Return whether `receiver` is the class of an object of the class that is renamed."""
        if not re.fullmatch(r"type\(.*\)|.*\.__class__|cls", receiver.text):
            return False
        graph = self.facts.graph
        name = self.facts.meaning(receiver)
        line = {name, *graph.bases(name)} if name is not None else set()
        below = {base for target in self.goal.targets for base in graph.bases(target)}
        return bool(line & self.goal.targets) or name in below

    def _stand_ins(self) -> Iterator[tuple[Span, str]]:
        """Yield the members of classes in tests that may stand in for the class."""
        if not self._is_of_tests:
            return
        summary = self.facts.summary
        for scope in self.facts.names.scopes:
            path = self.facts.paths.of_scope(scope).replace(":", ".")
            entry = summary.names.get(path[len(summary.module) + 1 :])
            if scope.kind != "class" or entry is None or self.goal.word not in entry.members:
                continue
            if scope.name.startswith("Test") or self.goal.has(path) or not self._loads_owner:
                continue
            node = self.facts.names.node_of(scope).child("name")
            if node is not None:
                yield node.span, f"`{scope.name}` has it too, and may stand in for it in tests"

    @cached_property
    def _loads_owner(self) -> bool:
        graph = self.facts.graph
        modules = loaded_with(graph, (self.facts.place.module,))
        return any(owner.rpartition(".")[0] in modules for owner in self.goal.owners)


def _called(function: Node) -> Node | None:
    """Return the call of which a name is the function, or its last name."""
    above = function.parent
    if above is not None and above.kind == "attribute" and above.children[-1] is function:
        function, above = above, above.parent
    is_call = above is not None and above.kind == "call" and function.field == "function"
    return above if is_call else None
