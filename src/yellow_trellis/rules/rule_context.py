"""The context of a code rule: one file's tree, to search in and to report on."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from types import MappingProxyType
from typing import Any, Union

from yellow_trellis.fixes import FixBuilder
from yellow_trellis.patterns import Match, PatternError, compile_pattern, seek
from yellow_trellis.rules.conditions import Condition, all_of
from yellow_trellis.rules.draft import Draft
from yellow_trellis.semantics import Binding, Facts, Occurrence, Scope, UnusedImport, facts_of
from yellow_trellis.source import Span
from yellow_trellis.syntax import Node, Tree, attached

Subject = Union[Node, Match, tuple[Node, ...]]
"""A place in the code: a node, a match, or what a hole of several took."""


class Code:
    """One file, as a rule sees it."""

    def __init__(self, tree: Tree, options: Mapping[str, Any] = MappingProxyType({})) -> None:
        self.tree = tree
        self.options = options
        """The values that the options of the rule have here, by name."""

    @property
    def root(self) -> Node:
        """The node of the whole file."""
        return self.tree.root

    @property
    def path(self) -> str:
        """The file's path, for messages."""
        return self.tree.source.path

    def seek(self, where: Subject | None, pattern: str, *conditions: Condition) -> Iterator[Match]:
        """Yield the matches of `pattern` inside `where`, or in the whole file for None.

        Arguments: `conditions` must all be met, as in a declared rule.

        Errors: `PatternError`.
        """
        compiled = compile_pattern(pattern, self.tree.language)
        if isinstance(where, tuple) and not where:
            return iter(())
        span = None if where is None else span_of(where)
        met = all_of(*conditions).compile(compiled).met
        return filter(met, seek(compiled, self.tree, span))

    def contains(self, where: Subject | None, pattern: str, *conditions: Condition) -> bool:
        """Return whether `pattern` matches anywhere inside `where`, `conditions` met."""
        return next(self.seek(where, pattern, *conditions), None) is not None

    def walk(self, *kinds: str, where: Node | None = None) -> Iterator[tuple[Node, bool]]:
        """Yield nodes of the given kinds or families twice: True on entry, False on exit.

        Arguments: `where` is the node to walk, the file if left out.
        Errors: `PatternError` for a kind that the language does not have.
        """
        results: set[str] = set()
        for kind in kinds:
            result = self.tree.language.family(kind)
            if result is None:
                raise PatternError(f"{self.tree.language.name} has no kind or family `{kind}`")
            results |= result
        return (where or self.root).events(frozenset(results) if kinds else None)

    def comments(self, node: Node) -> tuple[Node, ...]:
        """Return the comments that belong to `node`: above it, and behind it on its line."""
        own = attached(node)
        return (*own.before, *own.after)

    # ------------------------------------------------------------------ what names mean

    @property
    def facts(self) -> Facts:
        """All that is known of the names in the file; the methods below ask it.

        It is worked out when first asked for, once for all rules.
        Errors, here and below: `ValueError` for a language whose names are not understood.
        """
        return facts_of(self.tree)

    def scope(self, node: Node) -> Scope:
        """Return the scope in which `node` runs; of a definition, the one around it."""
        return self.facts.names.scope_at(node)

    def refers_to(self, node: Node) -> Binding | None:
        """Return what the name `node` refers to, or binds; None for what this file does not bind.

        The binding knows its scope, its definitions and all its references.
        """
        return self.facts.names.binding(node)

    def references(self, binding: Binding) -> tuple[Node, ...]:
        """Return the nodes that refer to `binding`, in source order, those that bind it aside."""
        return tuple(reference.node for reference in binding.references)

    def meaning(self, node: Node) -> str | None:
        """Return the dotted name under which what `node` refers to is defined.

        Imports, aliases and re-exports are followed, and methods through what they are asked of.
        None where that is not certain.
        """
        return self.facts.meaning(node)

    def type_of(self, node: Node) -> str | None:
        """Return the dotted name of the class that the value of `node` is an instance of.

        None where that is not certain.
        """
        return self.facts.type_of(node)

    @property
    def package(self) -> str | None:
        """The dotted name of the package that relative imports of the file start from, if known."""
        return self.facts.place.package

    @property
    def imports(self) -> tuple[str, ...]:
        """The dotted names of what the file imports, sorted: modules, and what is taken of them."""
        return self.facts.summary.imports

    @property
    def importers(self) -> frozenset[str]:
        """The dotted names of the modules of the code base that import this one."""
        place = self.facts.place
        return place.importers(place.module)

    def gives(self, name: str) -> bool:
        """Return whether another file of the code base takes `name` from this module, or may."""
        return self.facts.place.gives(self.facts.place.module, name)

    def unused_imports(self) -> Iterator[UnusedImport]:
        """Yield the imports that nothing in the file refers to; see `usage.unused_imports`."""
        return self.facts.unused_imports()

    def unused_bindings(self) -> Iterator[Binding]:
        """Yield the variables of functions that nothing refers to."""
        return self.facts.unused_bindings()

    def redefinitions(self) -> Iterator[tuple[Occurrence, Occurrence]]:
        """Yield definitions that are replaced before they are used, with what replaces them."""
        return self.facts.redefinitions()

    def used_before_bound(self) -> Iterator[Occurrence]:
        """Yield where a function's variable is read before anything can have bound it."""
        return self.facts.used_before_bound()

    # ------------------------------------------------------------------ writing

    def indented(self, text: str, node: Node, depth: int = 0) -> str:
        """Return `text` with its lines after the first indented as `node` is, in the file's steps.

        Arguments: `depth` are further steps. Steps of four spaces in `text` become the file's own.
        """
        source = self.tree.source
        base = source.indent_at(node.start).decode() + source.indent_unit.decode() * depth
        lines = text.split("\n")
        for at, line in enumerate(lines[1:], 1):
            body = line.lstrip(" ")
            steps, tail = divmod(len(line) - len(body), 4)
            lines[at] = base + source.indent_unit.decode() * steps + " " * tail + body
        return "\n".join(lines)

    def quoted(self, text: str) -> str:
        """Return `text` as a string in the quotes that the file uses most."""
        data = self.tree.source.data
        quote = "'" if data.count(b"'") > data.count(b'"') else '"'
        body = text.replace("\\", "\\\\").replace(quote, "\\" + quote).replace("\n", "\\n")
        return f"{quote}{body}{quote}"

    def finding(
        self, at: Subject, message: str | None = None, fixes: Iterable[FixBuilder] = ()
    ) -> Draft:
        """Report `at`.

        Arguments: `message` says what is wrong there (the rule's summary if left out); `fixes`
        are offered to choose from, the best first.
        Errors: `TypeError`, for a message that is no text.
        """
        if message is not None and not isinstance(message, str):
            raise TypeError(f"a message is a string, not {type(message).__name__}")
        return Draft(span_of(at), message, tuple(fixes))


def span_of(where: Subject) -> Span:
    """Return the bytes of a place.

    Errors: `ValueError` for an empty run, which is nowhere.
    """
    if isinstance(where, tuple):
        if not where:
            raise ValueError("an empty run of nodes is no place")
        return Span(where[0].start, where[-1].end)
    return where.span
