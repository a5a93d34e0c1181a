"""Mentions of a word in a file: certain, doubtful, or of something else.

Every place is accounted for. What cannot be told is a doubt, which a person has to look at: so a
renaming is never done in part without a word. Only texts that nothing reads as a name are left.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator
from functools import cached_property
from typing import NamedTuple

from yellow_trellis.semantics import Scope
from yellow_trellis.semantics.python.semantic_model import PythonFacts
from yellow_trellis.semantics.python.unseen import TAKE_TYPES
from yellow_trellis.source import Span
from yellow_trellis.syntax import Node

IT, OTHER = "it", "another"
_ASKING = frozenset({"attrgetter", "delattr", "getattr", "hasattr", "methodcaller", "setattr"})
"""Functions that a string tells what to ask for."""
_BY_NAME = ("globals()", "locals()", "vars(", ".__dict__", "sys.modules")
_PARTIAL = ("functools.partial", "functools.partialmethod")
_REPLACE = ("dataclasses.replace", "copy.replace")
_DOTTED = re.compile(r"[\w.:]+")
_EXAMPLE = re.compile(rb"[^\n]*?(?:>>>|\.\.\.)")
_LITERALS = frozenset({"concatenated_string", "dictionary", "float", "integer", "list", "string"})


class Goal(NamedTuple):
    """The thing that is sought, which may have several names: a method is that of a whole line."""

    word: str
    """Its last name."""
    targets: frozenset[str]
    """Its dotted names, or those of the functions of which it is an argument."""
    role: str
    """``name`` of a module, ``member`` of a class, ``field`` of one that is made by its fields, or
    ``argument``."""

    @property
    def callers(self) -> frozenset[str]:
        """The last names by which what takes it as a keyword is called."""
        names = self.targets if self.role == "argument" else self.owners
        return frozenset(name.rpartition(".")[2] for name in names)

    @property
    def owners(self) -> frozenset[str]:
        """The modules or classes that have it."""
        return frozenset(name.rpartition(".")[0] for name in self.targets)


class Mentions:
    """The places of one file that say the word of `goal`."""

    def __init__(self, facts: PythonFacts, goal: Goal) -> None:
        self.facts = facts
        self.goal = goal
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
            if verdict == IT or (verdict != OTHER and called in self.goal.callers):
                yield node.span

    @cached_property
    def _mappings(self) -> list[tuple[Node, Node, str]]:
        """Mappings that give keywords, with the call and what it is."""
        results = []
        for node in self.facts.tree.of_kinds(frozenset({"dictionary_splat"})):
            call = node.parent.parent if node.parent is not None else None
            if call is not None and call.kind == "call":
                results.append((node, call, self._called(call)))
        return results

    def is_it(self, path: str | None) -> bool:
        """Return whether a path is the thing, under its own name.

        Its name is that from before the run: this file may have been changed by a round before.
        """
        result = self.facts.graph.resolve(path) if path is not None else None
        return result is not None and result.replace("().", ".") in self.goal.targets

    # ------------------------------------------------------------------ kinds of places

    def _verdict(self, leaf: Node, at: int) -> str:
        for node in (leaf, *leaf.ancestors()):
            if node.kind == "interpolation":
                break
            if node.kind in ("string", "concatenated_string"):
                return self._of_name(leaf, at) if self._is_site(at) else self._of_text(node, at)
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
            return OTHER
        return self._judged(result)

    def _judged(self, state: str) -> str:
        """Return what a place means that comes down to the dotted name `state`."""
        if self.is_it(state):
            return IT
        if self.goal.role != "name" and _may_give_any(state.rpartition(".")[0]):
            return "what is called here may give any object"
        if self.goal.role != "name" and self._is_above(state.rpartition(".")[0]):
            return "it may be asked of an instance of a class below"
        return OTHER

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
        if self.goal.role not in ("argument", "field"):
            return OTHER
        call = keyword.parent.parent if keyword.parent is not None else None
        if call is None or call.kind != "call":
            return OTHER
        return self._called(call)

    def _called(self, call: Node) -> str:
        """Return what a keyword of a call means by the word."""
        function = call.child("function")
        if function is None:
            return OTHER
        items = [item for item in call.items[-1].items if item.named]
        target = self.facts.meaning(function)
        if target in _PARTIAL:
            target = self.facts.meaning(items[0]) if items else None
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
        if self._is_called(target):
            return IT
        return "it may be handed on" if self._hands_on(target, items) else OTHER

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

    # ------------------------------------------------------------------ texts

    def _of_text(self, text: Node, at: int) -> str:
        source = self.facts.tree.source
        content = source.data[text.start : text.end].decode("utf-8", "replace")
        line = source.data[source.lines.start(at) : source.lines.end(at)]
        if ">>>" in content and _EXAMPLE.match(line) and self._is_in_example(line, content):
            return "an example in a string says it"
        inside = content.lstrip("rRbBuUfF").strip("'\"")
        if inside == self.goal.word:
            return self._of_whole_text(text)
        if self._is_class() and not _is_docstring(text):
            return "a string may show the name"
        if _DOTTED.fullmatch(inside):
            return self._of_dotted_text(inside)
        return OTHER

    def _is_in_example(self, line: bytes, content: str) -> bool:
        """Return whether a line of an example may mean it; an argument is said by a keyword."""
        if self.goal.role not in ("argument", "field"):
            return True
        word = re.escape(self.goal.word.encode("utf-8"))
        if self.goal.role == "argument" and re.search(rb"\b" + word + rb"\s*=", line) is None:
            return False
        return any(caller in content for caller in self.goal.callers)

    def _of_whole_text(self, text: Node) -> str:
        above = text.parent
        call = above.parent if above is not None and above.kind == "argument_list" else None
        if call is not None and call.kind == "call":
            query = call.items[0].text
            if query.rpartition(".")[2] in TAKE_TYPES and self.goal.role == "name":
                return "a string says a type"
            if query.rpartition(".")[2] in _ASKING or "patch" in query:
                return self._asked_by_text(call, text)
            return OTHER
        if above is not None and above.kind == "subscript":
            holder = above.items[0].text
            if self.goal.role != "argument" and any(part in holder for part in _BY_NAME):
                return "a string asks for a name"
            if self.facts.meaning(above.items[0]) in self.goal.owners:
                return "a string asks for a name"
        if self.goal.role in ("argument", "field") and above is not None:
            if above.kind in ("pair", "subscript") and any(v != OTHER for *_, v in self._mappings):
                return "it may be a keyword out of a mapping"
        if self.goal.role in ("member", "field") and _makes_class(text):
            return "a class is made with it"
        if self._is_listed(text):
            return "a list of names that is worked out has it"
        return "a string may show the name" if self._is_class() else OTHER

    def _is_class(self) -> bool:
        entries = (self.facts.graph.entry(name) for name in self.goal.targets)
        return any(entry is not None and entry.kind == "class" for entry in entries)

    def _asked_by_text(self, call: Node, text: Node) -> str:
        items = [item for item in call.items[-1].items if item.named]
        if self.goal.role == "argument":
            return OTHER
        if items and items[0] is not text:
            path = self.facts.paths.of(items[0])
            result = self.facts.graph.resolve(f"{path}.{self.goal.word}") if path else None
            if result is not None and self._judged(result) == OTHER:
                return OTHER
        return "a string asks for a name"

    def _is_listed(self, text: Node) -> bool:
        """Return whether a string stands in an ``__all__`` that is not plain."""
        names = self.facts.names
        if self.goal.role != "name" or names.exported is not None:
            return False
        statement = next((a for a in text.ancestors() if a.kind == "expression_statement"), None)
        return statement is not None and "__all__" in statement.text

    def _of_dotted_text(self, text: str) -> str:
        if self.goal.role == "argument":
            return OTHER
        parts = text.replace(":", ".").split(".")
        at = len(parts) - 1 - parts[::-1].index(self.goal.word) if self.goal.word in parts else 0
        if not at:
            return OTHER
        result = self.facts.graph.resolve(".".join(parts[: at + 1]))
        if result is not None and self.is_it(result):
            return "a string names it"
        lasts = {owner.rpartition(".")[2] for owner in self.goal.owners}
        return "a string may name it" if parts[at - 1] in lasts else OTHER


def _makes_class(text: Node) -> bool:
    """Return whether a string is a key of what ``type`` makes a class of."""
    calls = (ancestor for ancestor in text.ancestors() if ancestor.kind == "call")
    return any(call.items[0].text == "type" for call in calls)


def _is_docstring(text: Node) -> bool:
    """Return whether a string is a statement of its own."""
    return text.outermost.parent is not None and text.outermost.kind == "expression_statement"


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
