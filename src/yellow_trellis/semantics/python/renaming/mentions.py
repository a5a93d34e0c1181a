"""Mentions of a word in a file: certain, doubtful, or of something else.

Every place is accounted for. What cannot be told is a doubt, which a person has to look at: so a
renaming is never done in part without a word. Only texts that nothing reads as a name are left.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator
from functools import cached_property

from yellow_trellis.semantics import Scope
from yellow_trellis.semantics.python.renaming.goal import IT, OTHER, Goal
from yellow_trellis.semantics.python.renaming.texts import Texts, makes_class
from yellow_trellis.semantics.python.semantic_model import PythonFacts
from yellow_trellis.source import Span
from yellow_trellis.syntax import Node

_PARTIAL = ("functools.partial", "functools.partialmethod")
_REPLACE = ("dataclasses.replace", "copy.replace")
_LITERALS = frozenset({"concatenated_string", "dictionary", "float", "integer", "list", "string"})
_STAND_INS = re.compile(r"(?:unittest\.)?mock\.|types\.SimpleNamespace|argparse\.Namespace")
_STAND_IN_NAMES = frozenset(
    {
        *("AsyncMock", "MagicMock", "Mock", "Namespace", "NonCallableMock", "SimpleNamespace"),
        *("configure_mock", "create_autospec"),
    }
)
_MOCKS = re.compile(rb"\b(?:[Mm]ock|monkeypatch)")
_BY_TEXT = re.compile(rb"\b(?:import_module|importorskip|__import__|getmodule)\b|sys\.modules")
"""Ways to have a module by its name in a text."""
_READ = frozenset({"attribute", "identifier"})
_NAMING = frozenset({"aliased_import", "dotted_name", "import_from_statement"})
_LOADERS = frozenset({"importlib", "inspect", "mock", "sys"})
_HOOKS = frozenset({"__getattr__", "__getattribute__"})


class Mentions:
    """The places of one file that say the word of `goal`."""

    def __init__(self, facts: PythonFacts, goal: Goal, new: str) -> None:
        self.facts = facts
        self.goal = goal
        self._new = new
        self.texts = Texts(facts, goal, self._judged, self._takes_mappings)
        self.other: set[Span] = set()
        """Places that are known to mean another thing."""

    def elsewhere(self, entry: Callable[[Span], bool]) -> Iterator[tuple[Span, str]]:
        """Yield the places that are not `entry`, each with `IT` or the reason of a doubt."""
        tree = self.facts.tree
        for at in tree.hits(self.goal.word.encode("utf-8"), whole_word=True):
            span = Span(at, at + len(self.goal.word.encode("utf-8")))
            leaf = tree.leaf_at(at)
            if leaf is None or span in self.other or entry(span) or leaf.is_comment:
                continue
            verdict = self._verdict(leaf, at)
            if verdict != OTHER:
                yield span, verdict

    def handed_through(self) -> Iterator[Span]:
        """Yield where a call of the thing takes keywords from a mapping, ``f(**given)``."""
        if self.goal.role not in ("argument", "field"):
            return
        for node, call, verdict in self._mappings:
            function = call.child("function")
            called = function.text.rpartition(".")[2] if function is not None else ""
            if verdict == IT:
                if not self._is_accounted_for(node):
                    yield node.span
            elif verdict != OTHER and (called in self.goal.callers or self._is_value):
                yield node.span

    @cached_property
    def _is_value(self) -> bool:
        """Return whether the file hands the function on as a value."""
        for word in sorted(self.goal.callers):
            for at in self.facts.tree.hits(word.encode("utf-8"), whole_word=True):
                leaf = self.facts.tree.leaf_at(at)
                node = leaf.parent if leaf is not None and leaf.field == "attribute" else leaf
                if node is None or node.kind not in _READ or node.parent is None:
                    continue
                if node.field in ("function", "name") or node.parent.kind in _NAMING:
                    continue
                meaning = self.facts.meaning(node)
                if meaning is not None and self._is_called(meaning):
                    return True
        return False

    def calls_with(self, keyword: str) -> Iterator[Span]:
        """Yield where a call that may be one of the function gives it another keyword."""
        for at in self.facts.tree.hits(keyword.encode("utf-8"), whole_word=True):
            leaf = self.facts.tree.leaf_at(at)
            above = leaf.parent if leaf is not None and leaf.field == "name" else None
            if above is None or above.kind != "keyword_argument" or above.parent is None:
                continue
            call = above.parent.parent
            if call is not None and call.kind == "call" and self._called(call) == IT:
                yield above.span

    @cached_property
    def _mappings(self) -> list[tuple[Node, Node, str]]:
        """Mappings that give keywords, with the call and what it is."""
        results = []
        for node in self.facts.tree.of_kinds(frozenset({"dictionary_splat"})):
            call = node.parent.parent if node.parent is not None else None
            if call is not None and call.kind == "call":
                results.append((node, call, self._called(call)))
        return results

    def _takes_mappings(self) -> bool:
        """Return whether the file calls what may be the thing with keywords out of a mapping."""
        return any(verdict != OTHER for *_, verdict in self._mappings)

    def is_it(self, path: str | None) -> bool:
        """Return whether a path is the thing, under its own name.

        Its name is that from before the run: this file may have been changed by a round before.
        """
        result = self.facts.graph.resolve(path) if path is not None else None
        return result is not None and self.goal.means(result)

    # ------------------------------------------------------------------ kinds of places

    def _verdict(self, leaf: Node, at: int) -> str:
        for node in (leaf, *leaf.ancestors()):
            if node.kind == "interpolation":
                break
            if node.kind in ("string", "concatenated_string"):
                if self._is_site(at):
                    return self._of_name(leaf, at)
                if (given := self._given_to(node)) is not None:
                    return self._called(given)
                return self.texts.verdict(node, at)
        above = leaf.parent
        if above is None:
            return OTHER
        if above.kind in ("attribute", "member_type") and above.children[0] is not leaf:
            return OTHER if self.goal.role == "argument" else self._of_attribute(above)
        if above.kind == "keyword_argument" and leaf.field == "name":
            return self._of_keyword(above)
        if above.kind == "keyword_pattern" and above.children[0] is leaf:
            return self._of_class_pattern(above)
        if above.kind == "dotted_name" and above.children[0] is not leaf:
            return self._of_dotted(above, leaf)
        return self._of_name(leaf, at) if self._is_site(at) else OTHER

    def _of_attribute(self, node: Node) -> str:
        receiver = node.items[0].bare
        result = self.facts.meaning(node)
        if result is None:
            if receiver.kind in _LITERALS:
                return OTHER
            if self.goal.role != "name" or self._may_be_module(receiver) or self._is_handed_on():
                return "what it is asked of is not known"
            return "what it is asked of is not known" if self._has_modules_by_text else OTHER
        verdict = self._judged(result)
        if verdict == OTHER and self.goal.role == "name" and self._has_modules_by_text:
            if result.partition(".")[0] in _LOADERS or result.endswith("()." + self.goal.word):
                return "what it is asked of is not known"
        return verdict

    def _judged(self, state: str) -> str:
        """Return what a place means that comes down to the dotted name `state`."""
        if self.is_it(state):
            return IT
        if self.goal.role != "name" and _may_give_any(state.rpartition(".")[0]):
            return "what is called here may give any object"
        receiver = state.rpartition(".")[0]
        if self.goal.is_in_class and self._is_above(receiver):
            return "it may be asked of an instance of a class below"
        if self.goal.role != "argument" and _STAND_INS.match(state) is not None:
            return "a stand-in of tests may have it"
        if self.goal.is_in_class and self._hands_members_on(receiver, state):
            return "its class hands on what it lacks"
        if self.goal.role == "name" and self._has_hook(receiver, state):
            return "its module may hand it on by `__getattr__`"
        return OTHER

    def _hands_members_on(self, receiver: str, state: str) -> bool:
        """Return whether a class lacks a member, and may find it elsewhere as it is asked."""
        graph = self.facts.graph
        entry = graph.entry(receiver.removesuffix("()"))
        if entry is None or entry.kind != "class" or graph.entry(state) is not None:
            return False
        if self.goal.is_in_metaclass:
            return True
        line = (receiver.removesuffix("()"), *graph.bases(receiver.removesuffix("()")))
        entries = (graph.entry(name) for name in line if name is not None)
        return any(item is not None and _HOOKS & item.members.keys() for item in entries)

    def _has_hook(self, module: str, state: str) -> bool:
        """Return whether a module lacks a name and says in ``__getattr__`` where it is."""
        graph = self.facts.graph
        summary = graph.summary(module) if graph.holds(module) else None
        return (
            summary is not None
            and "__getattr__" in summary.names
            and state.rpartition(".")[2] not in summary.names
        )

    @cached_property
    def _has_modules_by_text(self) -> bool:
        """Return whether the file gets modules by their names in texts, or stand-ins for one."""
        data = self.facts.tree.source.data
        if _BY_TEXT.search(data) is not None:
            return True
        return _MOCKS.search(data) is not None and self.goal.is_near(data)

    def _is_above(self, name: str) -> bool:
        """Return whether a class of the goal comes from the class `name`, which lacks it."""
        graph = self.facts.graph
        entry = graph.entry(name)
        if entry is None or entry.kind != "class":
            return False
        return any(name in graph.bases(owner) for owner in self.goal.owners)

    def _is_handed_on(self) -> bool:
        """Return whether the module that has it is given to code which need not name it."""
        return any(map(self.facts.place.handed_on, self.goal.owners))

    def _may_be_module(self, node: Node) -> bool:
        while node.kind == "attribute":
            node = node.items[0].bare
        binding = self.facts.names.binding(node)
        return binding is not None and "import" in binding.hows

    def _of_keyword(self, keyword: Node) -> str:
        call = keyword.parent.parent if keyword.parent is not None else None
        if call is not None and call.kind == "class_definition" and self._makes_classes:
            return "a class may be made with it"
        if call is None or call.kind != "call":
            return OTHER
        if self.goal.is_in_class and makes_class(keyword):
            return "a class is made with it"
        if self.goal.role != "argument":
            last = call.items[0].text.rpartition(".")[2]
            if last in _STAND_IN_NAMES and (self.goal.is_in_class or self._has_modules_by_text):
                return "a stand-in of tests may have it"
            if last == "multiple" and "patch" in call.items[0].text:
                return "it is patched by its name"
        if self.goal.role not in ("argument", "field") or keyword in self._unnamed(call):
            return OTHER
        return self._called(self._given_to(call.items[-1]) or call)

    def _given_to(self, node: Node) -> Node | None:
        """Return the call that a key of ``**{"zone": 1}`` or ``**dict(zone=1)`` is given to."""
        if self.goal.role not in ("argument", "field"):
            return None
        inner = node.parent
        if inner is not None and inner.kind == "pair" and inner.items[0] is node:
            inner = inner.parent
        given = inner.parent if inner is not None and self._lists_keywords(inner) else None
        if given is None or given.kind != "dictionary_splat" or given.parent is None:
            return None
        call = given.parent.parent
        return call if call is not None and call.kind == "call" else None

    def _lists_keywords(self, mapping: Node) -> bool:
        """Return whether a mapping says all its keys, as texts or as keywords."""
        if mapping.kind == "call":
            items = mapping.items[-1].items
            keywords = all(i.kind == "keyword_argument" for i in items if i.named)
            return keywords and self.facts.meaning(mapping.items[0]) == "builtins.dict"
        items = tuple(item for item in mapping.items if item.named)
        return mapping.kind == "dictionary" and all(
            item.kind == "pair" and item.items[0].kind == "string" for item in items
        )

    @property
    def _makes_classes(self) -> bool:
        """Return whether it is an argument that the head of a class may give."""
        lasts = {target.rpartition(".")[2] for target in self.goal.targets}
        hooks = {"__init__", "__init_subclass__", "__new__", "__prepare__"}
        return self.goal.role == "argument" and bool(lasts & hooks)

    def _unnamed(self, call: Node) -> list[Node]:
        """Return the keywords of a call that cannot be the argument, which is given by place."""
        if self.goal.role != "argument" or not self.goal.is_by_place:
            return []
        return [item for item in call.items[-1].items if item.kind == "keyword_argument"]

    def _called(self, call: Node) -> str:
        """Return what a keyword of a call means by the word."""
        function = call.child("function")
        if function is None:
            return OTHER
        items = [item for item in call.items[-1].items if item.named]
        target = self._underlying(function, items)
        if self.goal.role == "field":
            if target in _REPLACE:
                result = self.facts.type_of(items[0]) if items else None
                return self._by_class(result)
            if function.kind == "attribute" and function.items[-1].text == "_replace":
                return self._by_class(self.facts.type_of(function.items[0]))
            result = self.facts.graph.resolve(f"{target}.__init__") if target is not None else None
            if result is not None and self.facts.graph.entry(result) is not None:
                return OTHER  # its own constructor says what it takes
            return self._by_class(target)
        if target is None:
            return "what is called here is not known"
        if self._is_called(target) or self._hands_all(target):
            return IT
        entry = self.facts.graph.entry(target)
        if entry is not None and entry.kind == "value":
            return "what is called here is not known"
        return "it may be handed on" if self._hands_on(target, items) else OTHER

    def _hands_all(self, name: str, depth: int = 0) -> bool:
        """Return whether a function hands the word to the thing, with all keywords that it takes.

        Not if it takes the old word or the new one itself: then it is not what is handed on.
        """
        entry = self.facts.graph.entry(name)
        if entry is None or entry.hands_to is None or depth > _DEEPEST:
            return False
        if self.goal.role != "argument" or {self.goal.word, self._new} & {*(entry.takes or ())}:
            return False
        target = self.facts.graph.resolve(entry.hands_to)
        if target is None:
            return False
        return self._is_called(target) or self._hands_all(target, depth + 1)

    def _is_accounted_for(self, mapping: Node) -> bool:
        """Return whether all keys of a mapping are known where it is given.

        It says them itself, or it is all keywords of the function around, which hands them on.
        """
        if self._lists_keywords(mapping.items[-1]):
            return True
        scope = self.facts.names.scope_at(mapping)
        while scope.kind != "function" and scope.parent is not None:
            scope = scope.parent
        name = self.facts.paths.of_scope(scope).replace(":", ".")
        entry = self.facts.graph.entry(name)
        if entry is None or entry.hands_to is None or not self._hands_all(name):
            return False
        binding = self.facts.names.binding(mapping.items[-1])
        return binding is not None and binding.hows == {"argument"} and binding.scope is scope

    def _underlying(self, function: Node, items: list[Node], depth: int = 0) -> str | None:
        """Return what a call calls in the end, where that is given beforehand by ``partial``.

        Arguments: `items` are the arguments of the call. None where it is not known.
        """
        target = self.facts.meaning(function)
        if target in _PARTIAL:
            if not items:
                return None
            inner = items[0].bare
            if inner.kind != "call":
                return self._underlying(inner, [], depth + 1)
            return self._underlying(inner.items[0], _arguments(inner), depth + 1)
        if self.facts.type_of(function) not in _PARTIAL:
            return target
        value = self._only_value(function)
        if value is None or value.kind != "call" or depth > _DEEPEST:
            return None
        return self._underlying(value.items[0], _arguments(value), depth + 1)

    def _only_value(self, name: Node) -> Node | None:
        """Return what a name of the file is bound to, if that is one value only."""
        binding = self.facts.names.binding(name) if name.kind == "identifier" else None
        if binding is None or len(binding.definitions) != 1:
            return None
        statement = binding.definitions[0].node.parent
        if statement is None or statement.kind != "assignment":
            return None
        value = statement.child("right")
        return value.bare if value is not None else None

    def _hands_on(self, symbol: str, arguments: list[Node]) -> bool:
        """Return whether a call takes any keywords, and may call the thing with them."""
        graph = self.facts.graph
        for name in (symbol, f"{symbol}.__init__", f"{symbol}.__call__".replace("()", "")):
            entry = graph.entry(graph.resolve(name) or "")
            if entry is not None and entry.kind == "function":
                return entry.takes is not None and self.goal.word not in entry.takes
        if graph.entry(symbol) is not None:
            return False
        meanings = (self.facts.meaning(item) for item in arguments)
        return any(meaning is not None and self._is_called(meaning) for meaning in meanings)

    def _is_called(self, symbol: str) -> bool:
        """Return whether a call of `symbol` is one of the function that has the argument."""
        graph = self.facts.graph
        if symbol.endswith("()"):
            return self.is_it(f"{symbol}.__call__")
        entry = graph.entry(symbol)
        if entry is not None and entry.kind == "class":
            return self.is_it(f"{symbol}.__init__") or self.is_it(f"{symbol}.__new__")
        return self.is_it(symbol)

    def _by_class(self, name: str | None) -> str:
        """Return what a field of the class `name` is."""
        if name is None:
            return "of which class it is is not known"
        entry = self.facts.graph.entry(name)
        if entry is None or entry.kind != "class":
            return OTHER
        result = self.facts.graph.resolve(f"{name}.{self.goal.word}")
        return "its class is not known in full" if result is None else self._judged(result)

    def _of_class_pattern(self, keyword: Node) -> str:
        pattern = next((a for a in keyword.ancestors() if a.kind == "class_pattern"), None)
        if self.goal.role in ("name", "argument") or pattern is None:
            return OTHER
        path = self._dotted_path(pattern.items[0], len(pattern.items[0].items))
        return self._by_class(self.facts.graph.resolve(path) if path is not None else None)

    def _of_dotted(self, dotted: Node, leaf: Node) -> str:
        language = self.facts.tree.language
        if any(above.kind in language.imports for above in dotted.ancestors()):
            return OTHER
        count = next(n for n, item in enumerate(dotted.items, 1) if item is leaf)
        path = self._dotted_path(dotted, count)
        result = self.facts.graph.resolve(path) if path is not None else None
        return "what it is asked of is not known" if result is None else self._judged(result)

    def _has_unknown_base(self, scope: Scope) -> bool:
        """Return whether a class comes from one that is made by a call, or that is not seen."""
        bases = self.facts.graph.bases(self.facts.paths.of_scope(scope).replace(":", "."))
        return any(base is None or base.endswith("()") for base in bases)

    def _dotted_path(self, dotted: Node, count: int) -> str | None:
        """Return the path of the first names in a dotted name of a pattern."""
        names = [item for item in dotted.items[:count] if item.kind == "identifier"]
        if dotted.kind == "identifier":
            names = [dotted]
        path = self.facts.paths.of(names[0]) if names else None
        return None if path is None else ".".join([path, *(name.text for name in names[1:])])

    def _is_site(self, at: int) -> bool:
        """Return whether a name stands at byte `at`, or a string that says one."""
        exported = self.facts.names.exported or ()
        return at in self.facts.names.sites or any(span.start == at for _, span in exported)

    def _of_name(self, leaf: Node, at: int) -> str:
        if self.goal.role == "argument":
            return OTHER
        names = self.facts.names
        inner, name = names.sites.get(at, (names.module, self.goal.word))
        binding = names.binding(leaf) if leaf.start == at else names.visible(name, inner)
        scope = binding.scope if binding is not None else names.module
        path = self.facts.paths.of_name(scope, self.goal.word)
        if self.goal.role == "name" and inner.kind == "class":
            if self.is_it(path):
                return IT  # read before the class binds the name itself
        if inner.kind == "class" and self.goal.role in ("member", "field"):
            if binding is not None and binding.scope is inner and self._has_unknown_base(inner):
                return "a base of its class is not known"
        if binding is not None and "import" not in binding.hows:
            return OTHER
        if path is not None and self.facts.graph.resolve(path) is not None:
            return OTHER  # what means the thing has been found by its binding
        if binding is not None:
            sources = [names.import_of(definition) for definition in binding.definitions]
            package = self.facts.place.package
            targets = [source.target(package) for source in sources if source is not None]
            return "it is bound in several ways" if any(map(self.is_it, targets)) else OTHER
        return "a star import may bring it" if path is not None else OTHER


def _arguments(call: Node) -> list[Node]:
    return [item for item in call.items[-1].items if item.named]


_DEEPEST = 20
_GIVING = frozenset(
    {*("eval", "getattr", "iter", "max", "min", "next", "reversed", "sum", "super", "vars")}
)
"""Built-in functions that give what they are given."""


def _may_give_any(receiver: str) -> bool:
    """Return whether a receiver is what a function from outside returns, which may be anything.

    What is written like a class is taken to be one.
    """
    if not receiver.endswith("()"):
        return False
    home, _, name = receiver[:-2].rpartition(".")
    return name in _GIVING if home == "builtins" else not name.lstrip("_")[:1].isupper()
