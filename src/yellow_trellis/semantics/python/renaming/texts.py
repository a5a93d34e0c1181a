"""Strings that may name what is renamed: names asked for, dotted names, formats, code.

A string is data, and nobody can tell from the string alone what reads it. So where it stands
counts, and what the file asks for by text, or one beside it. What cannot be told is a doubt. A
sentence that says the word is none.
"""

from __future__ import annotations

import ast
import re
import textwrap
from collections.abc import Callable
from functools import cached_property

from yellow_trellis.semantics.python.asked_names import asked_patterns
from yellow_trellis.semantics.python.renaming.goal import IT, OTHER, Goal
from yellow_trellis.semantics.python.semantic_model import PythonFacts
from yellow_trellis.semantics.python.unseen import TAKE_TYPES
from yellow_trellis.syntax import Node

_ASKING = frozenset(
    {
        *("attrgetter", "create_autospec", "delattr", "getattr", "getattr_static", "hasattr"),
        *("methodcaller", "setattr", "spy"),
    }
)
"""Functions that a string tells what to ask for."""
_BY_NAME = ("globals()", "locals()", "vars(", ".__dict__", "__members__", "sys.modules")
_RUNNING = frozenset({"compile", "eval", "exec", "repeat", "runcode", "runsource", "timeit"})
"""Functions that run a string."""
_LISTING = frozenset({"Enum", "Flag", "make_dataclass", "namedtuple", "split"})
"""Functions of which a string may list names."""
_AROUND_LISTS = frozenset(
    {"argument_list", "attribute", "concatenated_string", "list", "tuple"}
)
_CONSTRUCTIONS = frozenset(
    {
        *("default_parameter", "dictionary", "keyword_argument", "list", "pair", "set", "tuple"),
        *("argument_list", "assignment", "comparison_operator", "list_comprehension"),
        *("return_statement", "typed_default_parameter"),
    }
)
"""Kinds of places from which a string may come to where a name is asked for by text."""
_DOTTED = re.compile(r"[\w.:]*[\w]")
_EXAMPLE = re.compile(rb"[^\n]*?(?:>>>|\.\.\.)")
_NAMES = re.compile(r"\s*[^\W\d]\w*(?:[\s,]+[^\W\d]\w*)*[\s,]*")
_MAPPINGS = re.compile(rb"__dict__|\b(?:vars|locals|globals|asdict|_asdict|model_dump)\b")
_MOCKS = re.compile(rb"\b[Mm]ock")
_LONGEST = 20_000
"""The longest string that is read as code, in characters."""


class Texts:
    """The strings of one file that say the word of `goal`.

    Arguments: `judge` gives the verdict on a dotted name; `takes_mappings` says whether the file
    calls what may be the thing with keywords out of a mapping.
    """

    def __init__(
        self,
        facts: PythonFacts,
        goal: Goal,
        judge: Callable[[str], str],
        takes_mappings: Callable[[], bool],
    ) -> None:
        self.facts = facts
        self.goal = goal
        self.word = goal.word
        self._judge = judge
        self._takes_mappings = takes_mappings

    def verdict(self, text: Node, at: int) -> str:
        """Return what the string `text` means by the word at byte `at`."""
        source = self.facts.tree.source
        content = source.data[text.start : text.end].decode("utf-8", "replace")
        line = source.data[source.lines.start(at) : source.lines.end(at)]
        if ">>>" in content and _EXAMPLE.match(line) and self._is_in_example(line, content):
            return "an example in a string says it"
        if _is_docstring(text):
            return OTHER
        inside = content.lstrip("rRbBuUfF").strip("'\"")
        if inside == self.word:
            return self._of_whole(text)
        if self.goal.is_class:
            return "a string may show the name"
        offset = len(source.data[text.start : at].decode("utf-8", "replace"))
        for verdict in (
            self._of_dotted(text, content, offset),
            self._of_format(text, content, offset),
            self._of_list(text, inside),
            self._of_code(text, inside),
        ):
            if verdict != OTHER:
                return verdict
        return OTHER

    def _is_in_example(self, line: bytes, content: str) -> bool:
        """Return whether a line of an example may mean it; an argument is said by a keyword."""
        if self.goal.role not in ("argument", "field"):
            return True
        word = re.escape(self.word.encode("utf-8"))
        if self.goal.role == "argument" and re.search(rb"\b" + word + rb"\s*=", line) is None:
            return False
        return any(caller in content for caller in self.goal.callers)

    # ------------------------------------------------------------------ strings that are the word

    def _of_whole(self, text: Node) -> str:
        above = text.parent
        if above is not None and above.kind == "keyword_argument":
            call = above.parent.parent if above.parent is not None else None
        else:
            call = above.parent if above is not None and above.kind == "argument_list" else None
        if call is not None and call.kind == "call":
            function = call.items[0].text
            last = function.rpartition(".")[2]
            if last in TAKE_TYPES and self.goal.role == "name":
                return "a string says a type"
            if last in _LISTING:
                return self._listed()
            if last in _ASKING or "patch" in function:
                return self._asked_in(call, text)
            if self.goal.role != "argument" and self._takes_owner(call, text):
                return "a string asks for a name"
        if above is not None and above.kind == "subscript":
            holder = above.items[0].text
            if self.goal.role != "argument" and any(part in holder for part in _BY_NAME):
                return "a string asks for a name"
            if self.facts.meaning(above.items[0]) in self.goal.owners:
                return IT if self.goal.is_in_enum else "a string asks for a name"
        if self.goal.role in ("argument", "field") and above is not None:
            if above.kind in ("pair", "subscript") and self._takes_mappings():
                return "it may be a keyword out of a mapping"
        if self.goal.is_in_class and makes_class(text):
            return "a class is made with it"
        if self._is_exported(text):
            return "a list of names that is worked out has it"
        if self.goal.is_class:
            return "a string may show the name"
        return self._of_stored(text)

    def _of_stored(self, text: Node) -> str:
        """Return what a string means that may be stored, and asked for elsewhere."""
        above = text.outermost.parent
        if above is None or self.goal.role == "argument":
            return OTHER
        listing = next((a for a in text.ancestors() if a.kind == "class_definition"), None)
        if listing is not None and self._is_configuration(text, listing):
            return "a class whose base is not of this code base may read it as a name"
        is_stored = above.kind in _CONSTRUCTIONS or above.outermost.kind in _CONSTRUCTIONS
        if is_stored and self._is_asked_nearby:
            return "a string may be asked for as a name"
        is_near = self.goal.is_near(self.facts.tree.source.data)
        if self.goal.is_in_enum and is_stored and is_near:
            return "a string may be asked for as a name"
        return OTHER

    @cached_property
    def _is_asked_nearby(self) -> bool:
        """Return whether this file or one beside it asks for the name by a text."""
        place, graph = self.facts.place, self.facts.graph
        summary = self.facts.summary
        if b"__getattr__" in self.facts.tree.source.data and "__getattr__" in summary.names:
            return True
        patterns = set(asked_patterns(self.facts.tree))
        for module in {*place.importers(place.module), *summary.imports}:
            nearby = graph.summary(module) if graph.holds(module) else None
            patterns.update(nearby.asks if nearby is not None else ())
        return any(re.fullmatch(pattern, self.word, re.DOTALL) for pattern in patterns)

    def _is_configuration(self, text: Node, listing: Node) -> bool:
        """Return whether a string is a value of a class that code from outside may read."""
        if any(a.kind in ("function_definition", "call") for a in _up_to(text, listing)):
            return False
        classes = [listing, *(a for a in listing.ancestors() if a.kind == "class_definition")]
        for node in classes:
            bases = node.child("superclasses")
            for base in bases.items if bases is not None else ():
                if base.kind == "keyword_argument" or not base.named:
                    continue
                name = self.facts.meaning(base)
                root = (name or "").partition(".")[0]
                if name is None or (not self.facts.graph.holds(root) and root not in _LANGUAGE):
                    return self.facts.graph.entry(name or "") is None
        return False

    def _takes_owner(self, call: Node, text: Node) -> bool:
        """Return whether a call takes what has the name beside a string."""
        for item in call.items[-1].items:
            if not item.named or item is text or item.kind == "keyword_argument":
                continue
            meaning = self.facts.meaning(item)
            if meaning in self.goal.owners or self.facts.type_of(item) in self.goal.owners:
                return True
        return False

    def _asked_in(self, call: Node, text: Node) -> str:
        items = [item for item in call.items[-1].items if item.named]
        if self.goal.role == "argument":
            return OTHER
        if items and items[0] is not text:
            path = self.facts.paths.of(items[0])
            result = self.facts.graph.resolve(f"{path}.{self.word}") if path else None
            verdict = self._judge(result) if result is not None else ""
            if verdict == IT and len(items) > 1 and items[1] is text:
                return IT
            if verdict == OTHER and not _is_of_any(result or ""):
                return OTHER
        return "a string asks for a name"

    def _is_exported(self, text: Node) -> bool:
        """Return whether a string stands in an ``__all__`` that is not plain."""
        names = self.facts.names
        if self.goal.role != "name" or names.exported is not None:
            return False
        statement = next((a for a in text.ancestors() if a.kind == "expression_statement"), None)
        return statement is not None and "__all__" in statement.text

    # ------------------------------------------------------------------ strings that hold the word

    def _of_dotted(self, text: Node, content: str, offset: int) -> str:
        """Return what a dotted name means in which the word stands, ``"alder.clock:stamp"``."""
        if self.goal.role == "argument":
            return OTHER
        chunk = next((m for m in _DOTTED.finditer(content) if m.start() <= offset < m.end()), None)
        if chunk is None:
            return OTHER
        start = chunk.start()
        before = content[max(start - 1, 0) : start]
        parts = re.split(r"[.:]", chunk[0])
        if before == "%" and len(parts) > 1 and len(parts[0]) == 1:
            parts[0] = ""  # the letter of a format
        if self.word not in parts:
            return OTHER
        at = parts.index(self.word)
        if at == 0:
            has_mock = parts[1:] and _MOCKS.search(self.facts.tree.source.data)
            return "a string may name it" if has_mock and self.goal.is_in_class else OTHER
        if not parts[at - 1]:
            return "a text that is put together may name it" if not parts[0] else OTHER
        result = self.facts.graph.resolve(".".join(parts[: at + 1]))
        if result is not None and self.goal.means(result):
            is_whole = chunk[0] == content.strip("rRbBuU\"'") and _is_patched(text)
            return IT if is_whole and parts.count(self.word) == 1 else "a string names it"
        lasts = {owner.rpartition(".")[2] for owner in self.goal.owners}
        return "a string may name it" if parts[at - 1] in lasts else OTHER

    def _of_format(self, text: Node, content: str, offset: int) -> str:
        """Return what a format asks for, ``"{tram.speed}"`` or ``"%(speed)s"``."""
        if any(child.kind == "interpolation" for child in text.children):
            return OTHER
        start, end = content.rfind("{", 0, offset), content.find("}", offset)
        if start >= 0 and end >= 0 and "}" not in content[start:offset]:
            asked = content[start + 1 : end]
            if self.goal.role != "argument" and re.search(rf"\w\.{self.word}\b", asked):
                return "a format asks for it"
            if asked.startswith(self.word) and self._formats_mappings:
                return "a format may ask for it"
        if content[:offset].endswith("%(") and self._formats_mappings:
            return "a format may ask for it"
        return OTHER

    @property
    def _formats_mappings(self) -> bool:
        if self.goal.role == "argument":
            return False
        return _MAPPINGS.search(self.facts.tree.source.data) is not None

    def _of_list(self, text: Node, inside: str) -> str:
        """Return what a list of names in a string means, ``"zone speed".split()``."""
        if _NAMES.fullmatch(inside) is None:
            return OTHER
        for above in text.ancestors():
            if above.kind == "call" and above.items[0].text.rpartition(".")[2] in _LISTING:
                return self._listed()
            if above.kind not in _AROUND_LISTS:
                break
        return OTHER

    def _listed(self) -> str:
        return OTHER if self.goal.role == "argument" else "a string lists it among names"

    def _of_code(self, text: Node, inside: str) -> str:
        """Return what a string of code means by the word."""
        call = next((a for a in text.ancestors() if a.kind in ("call", "block", "module")), None)
        if call is not None and call.kind == "call":
            if call.items[0].text.rpartition(".")[2] in _RUNNING:
                return "a string that is run says it"
        if len(inside) > _LONGEST or not re.search(r"[.(=\n]|import", inside):
            return OTHER
        try:
            tree = ast.parse(textwrap.dedent(inside.replace("\\n", "\n").replace("\\\n", "")))
        except (SyntaxError, ValueError, RecursionError, MemoryError):
            return OTHER
        nodes = ast.walk(tree)
        return "a string of code may say it" if any(map(self._says, nodes)) else OTHER

    def _says(self, node: ast.AST) -> bool:
        """Return whether a node of code says the word as a name of the goal's kind."""
        word = self.word
        if isinstance(node, ast.keyword):
            return node.arg == word and self.goal.role in ("argument", "field")
        if self.goal.role == "argument":
            return isinstance(node, ast.arg) and node.arg == word
        if isinstance(node, ast.Attribute):
            return node.attr == word
        if isinstance(node, ast.alias):
            return word in node.name.split(".")
        if isinstance(node, (ast.FunctionDef, ast.AsyncFunctionDef, ast.ClassDef)):
            return node.name == word
        if isinstance(node, ast.Call):
            return isinstance(node.func, ast.Name) and node.func.id == word
        return False


_LANGUAGE = frozenset({"abc", "builtins", "collections", "enum", "typing", "typing_extensions"})
"""Modules whose classes read no names out of the values of a class."""


def _up_to(node: Node, end: Node) -> list[Node]:
    nodes = []
    for above in node.ancestors():
        if above is end:
            break
        nodes.append(above)
    return nodes


def _is_patched(text: Node) -> bool:
    """Return whether a string is the first argument of what replaces the thing of that name."""
    call = text.parent.parent if text.parent is not None else None
    if call is None or call.kind != "call":
        return False
    first = next((item for item in call.items[-1].items if item.named), None)
    if first is not text:
        return False
    last = call.items[0].text.rpartition(".")[2]
    return last in ("delattr", "patch", "setattr")


def _is_of_any(name: str) -> bool:
    """Return whether a dotted name is of what a function from outside of the code base gives."""
    holder = name.rpartition(".")[0]
    return holder.endswith("()") and not holder.rpartition(".")[2][:1].isupper()


def makes_class(text: Node) -> bool:
    """Return whether a string or keyword is a key of what ``type`` makes a class of."""
    calls = (ancestor for ancestor in text.ancestors() if ancestor.kind == "call")
    return any(call.items[0].text == "type" for call in calls)


def _is_docstring(text: Node) -> bool:
    """Return whether a string is a statement of its own."""
    return text.outermost.parent is not None and text.outermost.kind == "expression_statement"
