"""Reading the scopes of a file by the rules of its language, in one pass in source order."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import TYPE_CHECKING, NamedTuple

from yellow_trellis.semantics.lexical.scope_rules import Action, Bind, NodeRule, ScopeRules
from yellow_trellis.semantics.scope import How, Occurrence, Scope, ScopeKind, Symbol, Use

if TYPE_CHECKING:
    import tree_sitter

    from yellow_trellis.syntax import Tree


class LexicalScope(Scope):
    """A scope whose names are seen in all scopes inside it, unless those bind them again."""

    __slots__ = ("continues", "dynamic", "rules", "through")

    rules: ScopeRules
    dynamic: str
    """Why names here may mean what no reader can tell; empty where that is not so."""
    continues: bool
    """Whether it is what is left of the scope around it."""
    through: set[str]
    """Variables of the scopes around that are seen in a closed one."""

    def owner(self, name: str, use: Use = "read") -> Scope:
        """Return the scope whose name it is when code of this scope says `name`.

        That is the outermost for what no scope binds.
        Arguments: `use` tells a type from a value, in languages where both may have one name.
        """
        scope: LexicalScope = self
        while scope.parent is not None and not scope.gives(name, use):
            if scope.kind in self.rules.sealed:
                return scope
            if scope.kind in self.rules.closed and name not in scope.through:
                if use in _OF_VARIABLES and name.startswith(self.rules.sigil):
                    return scope
            assert isinstance(scope.parent, LexicalScope)
            scope = scope.parent
        return scope

    def owners(self, name: str) -> tuple[Scope, ...]:
        """Return the scopes whose name it is where this one says `name`, in any use."""
        results: dict[int, Scope] = {}
        for use in {use for _, _, use, _ in self.symbols[name].places()}:
            scope = self if use == "bind" else self.owner(name, use)
            results[id(scope)] = scope
        return tuple(results.values())

    def occurrences(self, name: str, owner: Scope | None = None) -> Iterator[Occurrence]:
        """Yield every place in the scope itself where `name` stands for that of `owner`."""
        for item in super().occurrences(name):
            home = self if item.use == "bind" else self.owner(name, item.use)
            if owner is None or home is owner:
                yield item

    def gives(self, name: str, use: Use) -> bool:
        """Return whether the scope itself binds `name` for code that uses it so."""
        symbol = self.symbols.get(name)
        if symbol is None or not symbol.binds:
            return False
        if use == "export":
            return True
        space = self.rules.values if use == "annotation" else self.rules.types
        return not space or any(how not in space for _, how in symbol.binds)


_VARIABLES = frozenset({"argument", "let"})
_OF_VARIABLES = frozenset({"read", "update", "write"})


class ReaderTask(NamedTuple):
    """A node, and what is to be done with it."""

    raw: tree_sitter.Node
    action: Action
    label: str | None = None
    """The field of the node in that around it."""
    after: int = 0
    """First byte behind the declaration that it is of."""


class Opening(NamedTuple):
    """The opening of a scope over some bytes, and what is read in it."""

    kind: ScopeKind
    start: int
    end: int
    name: str
    dynamic: str
    tasks: list[ReaderTask | Opening]


class _Closing(NamedTuple):
    """The end of a scope; `scope` is the one around it."""

    scope: LexicalScope


def tasks_of(raws: Iterable[tree_sitter.Node | None], action: Action = "read") -> list[ReaderTask]:
    """Return the tasks to do `action` with nodes."""
    return [ReaderTask(raw, action) for raw in raws if raw is not None]


def scoped(
    kind: ScopeKind,
    raw: tree_sitter.Node,
    tasks: Iterable[ReaderTask | Opening],
    name: str = "",
    dynamic: str = "",
) -> Opening:
    """Return the task to open a scope, do `tasks` in it, and close it.

    Arguments: `raw` is the node in which the scope is, from the first of the tasks on; `name` is
    what it is called; `dynamic` says why its names may mean what no reader can tell.
    """
    items = list(tasks)
    starts = (item.raw.start_byte if isinstance(item, ReaderTask) else item.start for item in items)
    return Opening(kind, min(starts, default=raw.end_byte), raw.end_byte, name, dynamic, items)


class ScopeReader:
    """One pass over one tree; the hooks of a language call its methods."""

    def __init__(self, tree: Tree, rules: ScopeRules) -> None:
        self.tree = tree
        self.rules = rules
        self.data = tree.source.data
        self.scope = self._scope("module", "", None, 0, len(self.data))
        self.module = self.scope
        self._stack: list[ReaderTask | Opening | _Closing] = []
        self._mentions: dict[str, int] = {}

    def read(self) -> LexicalScope:
        """Read the tree. Returns the outermost scope, all others in it."""
        self.push(self.tree.raw_root.named_children)
        stack = self._stack
        while stack:
            task = stack.pop()
            if isinstance(task, _Closing):
                self.scope = task.scope
            elif isinstance(task, Opening):
                stack.append(_Closing(self.scope))
                scope = self._scope(task.kind, task.name, self.scope, task.start, task.end)
                scope.dynamic = task.dynamic
                self.scope = scope
                stack.extend(reversed(task.tasks))
            elif task.action == "read":
                self._visit(task.raw)
            elif task.action != "skip":
                self.take(task.raw, task.action, task.after)
        return self.module

    # ------------------------------------------------------------------ for hooks

    def do(self, *tasks: ReaderTask | Opening) -> None:
        """Do `tasks` next, in their order, before what waits already."""
        self._stack.extend(reversed(tasks))

    def push(self, raws: Iterable[tree_sitter.Node | None], action: Action = "read") -> None:
        """Do `action` with nodes next, in their order, before what waits already."""
        self.do(*tasks_of(raws, action))

    def take(self, raw: tree_sitter.Node, action: Action, after: int = 0) -> None:
        """Bind or assign the names in a node, a pattern of any depth; what it reads is read.

        Arguments: `after` is the first byte behind the declaration, for names of what is left.
        """
        rule = self.rules.patterns.get(raw.type)
        if rule is not None:
            for task in reversed(self._tasks(raw, rule)):
                entry = action if task.action == "same" else task.action
                self._stack.append(task._replace(action=entry, after=after))
        elif raw.type in self.rules.names:
            self.note(raw, action, after)
        else:
            self._visit(raw)

    def note(self, raw: tree_sitter.Node, action: Action, after: int = 0) -> None:
        """Note one name, whatever its kind; see `take`."""
        constants = self.rules.constants
        if isinstance(action, Bind):
            if constants and action.how in _VARIABLES and constants.match(self.text(raw)):
                self.refer(raw, "read")
                return
            spelled = self.data[raw.start_byte : raw.end_byte]
            self.bind(raw, action.how, self._home(spelled, action, after or raw.end_byte))
        elif action in ("annotation", "write", "update"):
            self.refer(raw, action)
        elif action != "skip":
            self.refer(raw, self.rules.names.get(raw.type, "read"))

    def bind(self, raw: tree_sitter.Node, how: How, scope: Scope) -> None:
        """Note that `scope` binds the name `raw`."""
        start = raw.start_byte
        self._symbol(scope, self.data[start : raw.end_byte], start).binds.append((start, how))

    def bind_at(self, start: int, end: int, how: How, scope: Scope) -> None:
        """Note that `scope` binds the name that the bytes from `start` to `end` spell."""
        self._symbol(scope, self.data[start:end], start).binds.append((start, how))

    def is_bound(self, raw: tree_sitter.Node, *, here: bool = False) -> bool:
        """Return whether a name is bound by now where the reader stands.

        Arguments: `here` asks for the block that the reader is in only.
        """
        name = self.text(raw)
        scope: Scope | None = self.scope
        while isinstance(scope, LexicalScope):
            if scope.binds(name):
                return True
            if (here and not scope.continues) or scope.kind in self.rules.closed:
                return False
            scope = scope.parent
        return False

    def refer(self, raw: tree_sitter.Node, use: Use) -> None:
        """Note that the name `raw` is used, in the present scope."""
        start = raw.start_byte
        symbol = self._symbol(self.scope, self.data[start : raw.end_byte], start)
        if use == "read":
            symbol.reads.append(start)
        else:
            symbol.add(use, start)

    def text(self, raw: tree_sitter.Node | None) -> str:
        """Return the code of a node; empty for None."""
        if raw is None:
            return ""
        return self.data[raw.start_byte : raw.end_byte].decode("utf-8", "surrogateescape")

    # ------------------------------------------------------------------ inside

    def _scope(
        self, kind: ScopeKind, name: str, parent: Scope | None, start: int, end: int
    ) -> LexicalScope:
        scope = LexicalScope(self.tree, kind, name, parent, start, end)
        scope.rules = self.rules
        scope.dynamic = ""
        scope.continues = False
        scope.through = set()
        return scope

    def _symbol(self, scope: Scope, spelled: bytes, start: int) -> Symbol:
        name = spelled.decode("utf-8", "surrogateescape")
        if self.rules.folds:
            name = name.lower()
        self._mentions[name] = max(start, self._mentions.get(name, -1))
        symbol = scope.symbols.get(name)
        if symbol is None:
            symbol = scope.symbols[name] = Symbol(spelled)
        return symbol

    def hoisted(self) -> Scope:
        """Return the scope around that has what is bound for all of a function."""
        scope: Scope = self.scope
        while scope.kind not in self.rules.hoists and scope.parent is not None:
            scope = scope.parent
        return scope

    def _home(self, spelled: bytes, action: Bind, end: int) -> Scope:
        """Return the scope to which a new name belongs; for what is left of one, open that."""
        scope: Scope = self.scope
        if action.where == "function":
            scope = self.hoisted()
            if scope.kind == "body" and scope.parent is not None:
                # a body that declares a parameter once more has that
                name = spelled.decode("utf-8", "surrogateescape")
                scope = scope.parent if scope.parent.binds(name) else scope
        elif action.where == "rest" and scope.kind not in ("class", "module"):
            name = spelled.decode("utf-8", "surrogateescape")
            name = name.lower() if self.rules.folds else name
            if self._mentions.get(name, -1) >= scope.start:
                # closed with the scope around it, whose end goes back to the one around that
                self.scope = self._scope("block", "", scope, end, scope.end)
                self.scope.continues = True
                return self.scope
        return scope

    def _visit(self, raw: tree_sitter.Node) -> None:
        kind = raw.type
        hook = self.rules.hooks.get(kind)
        if hook is not None:
            hook(self, raw)
        elif (rule := self.rules.nodes.get(kind)) is not None:
            self.apply(raw, rule)
        elif kind in self.rules.names:
            self.refer(raw, self.rules.names[kind])
        else:
            self.push(raw.named_children)

    def apply(self, raw: tree_sitter.Node, rule: NodeRule) -> None:
        """Read a node by a rule."""
        tasks = self._tasks(raw, rule)
        if rule.scope is None:
            self.do(*tasks)
            return
        outside = [task for task in tasks if task.label in rule.outside]
        inside = [task for task in tasks if task.label not in rule.outside]
        name = self.text(raw.child_by_field_name(rule.named)) if rule.named else ""
        self.do(*outside, scoped(rule.scope, raw, inside, name))

    def _tasks(self, raw: tree_sitter.Node, rule: NodeRule) -> list[ReaderTask]:
        """Return what is to be done with the children of a node, in the order to do it in.

        A name whose scope begins behind its declaration is bound when the rest of that is read.
        """
        now: list[ReaderTask] = []
        last: list[ReaderTask] = []
        for at, child in enumerate(raw.children):
            if not child.is_named:
                continue
            label = raw.field_name_for_child(at)
            if label is None:
                action = rule.others
            else:
                action = rule.outside.get(label) or rule.fields.get(label, "read")
            waits = isinstance(action, Bind) and action.where == "rest"
            task = ReaderTask(child, action, label, raw.end_byte if waits else 0)
            (last if waits else now).append(task)
        return now + last
