"""From the scopes of a file to what its module offers to others."""

from __future__ import annotations

import re
from functools import cached_property

from msgspec.structs import replace

from yellow_trellis.semantics.imports import Import, types_only
from yellow_trellis.semantics.module_interface import CONTEXT, RECEIVER, NameEntry, Summary
from yellow_trellis.semantics.python.asked_names import asked_patterns
from yellow_trellis.semantics.python.container_contents import NOTHING, Contents, agreed
from yellow_trellis.semantics.python.definitions import decorators, marks_of
from yellow_trellis.semantics.python.patches import patches_in
from yellow_trellis.semantics.python.type_inference import TypeInference
from yellow_trellis.semantics.scope import Scope
from yellow_trellis.syntax import Node


def summarize(paths: TypeInference) -> Summary:
    """Return what the module of a file offers."""
    return _Summarizer(paths).summary()


class _Summarizer:
    def __init__(self, paths: TypeInference) -> None:
        self.paths = paths
        self.names = paths.names

    def summary(self) -> Summary:
        module = self.names.module
        names = {name: self.entry(module, name) for name in self._bound_in_module(module)}
        for scope in self.names.scopes:
            if scope.kind in ("class", "function") and "<locals>" in scope.qualified:
                names[scope.qualified] = self._definition(scope)
        stars: list[str] = []
        imports: set[str] = set()
        loads: set[str] = set()
        for scope, item in self.names.imports:
            source = item.source(self.paths.package)
            if source is None:
                continue
            if item.name == "*":
                stars.append(source)
            capture = {source} if item.name in (None, "*") else {source, f"{source}.{item.name}"}
            imports |= capture
            if _runs_with_module(scope) and not self._is_for_types(item):
                loads |= capture
        reaches = self._reaches()
        stores = [(name, path) for name, _, path in self._stores]
        return Summary(
            self.paths.module,
            names,
            tuple(stars),
            tuple(name for name in names if stars and self._is_starred(module, name)),
            self._exported(module),
            module.binds("__all__") and self.names.exported is None,
            tuple(sorted(imports)),
            tuple(sorted(loads)),
            tuple(sorted(self._runs())),
            tuple(sorted({name for name, _ in reaches})),
            tuple(sorted(self._hands())),
            tuple(sorted(name for name, at_once in reaches if at_once)),
            asked_patterns(self.names.tree),
            tuple(sorted(self._name_readers())),
            tuple(sorted(patches_in(self.names.tree, stores, self._path_of))),
        )

    def _name_readers(self) -> set[str]:
        """Return the functions and classes that say a name may be read, those around them too."""
        tree = self.names.tree
        found = [at for word in _READS_NAMES for at in tree.hits(word, whole_word=True)]
        return {
            scope.qualified
            for scope in self.names.scopes
            if scope.kind in ("class", "function")
            and any(scope.start <= at < scope.end for at in found)
        }

    def _hands(self) -> set[str]:
        """Return the imported names that are read as values, those of functions called aside."""
        data = self.names.tree.source.data
        results: set[str] = set()
        for scope, item in self.names.imports:
            base = item.target(self.paths.package)
            if base is None or item.name == "*" or not item.bound.islower():
                continue
            for user in scope.users.get(item.bound, ()):
                symbol = user.symbols[item.bound]
                ends = (start + len(symbol.spelled) for start in symbol.reads)
                if any(_BEHIND.match(data, end) is None for end in ends):
                    results.add(base.replace(":", "."))
        return results

    def _reaches(self) -> set[tuple[str, bool]]:
        """Return what is said behind names that may be those of modules, and whether at once."""
        data = self.names.tree.source.data
        results: set[tuple[str, bool]] = set()
        for scope, item in self.names.imports:
            base = item.target(self.paths.package)
            if base is None or item.name == "*":
                continue
            for user in scope.users.get(item.bound, ()):
                for _, end, use, _ in user.symbols[item.bound].places():
                    chain = _CHAIN.match(data, end) if use in ("read", "annotation") else None
                    if chain is not None:
                        dotted = b"".join(chain[0].split()).decode("utf-8", "replace")
                        dotted = base.replace(":", ".") + dotted
                        covered = _covered(dotted, base.replace(":", "."), item.bound, scope)
                        whole = f"{covered}:{dotted[len(covered) + 1 :]}"
                        results.add((whole, _runs_with_module(user)))
        return results

    def _is_starred(self, module: Scope, name: str) -> bool:
        """Return whether a star import stands behind what binds a name."""
        if not self.names.binds(module, name):
            return False
        last = max(
            definition.span.start for definition in self.names.bound(module, name).definitions
        )
        return any(item.name == "*" and item.statement.start > last for item in module.imports)

    def _is_for_types(self, item: Import) -> bool:
        """Return whether an import is done for type checkers only."""
        in_use = b"TYPE_CHECKING" in self.names.tree.source.data
        return in_use and types_only(self.names.item_of(item))

    def _runs(self) -> set[str]:
        """Return the words before brackets, and of decorators, outside of functions."""
        data = self.names.tree.source.data
        results: set[str] = set()
        at = 0
        for scope in sorted(self.names.scopes, key=lambda item: item.start):
            if scope.kind == "function" and scope.end > at:
                results |= _called(data[at : scope.start])
                at = scope.end
        return results | _called(data[at:])

    def _bound_in_module(self, module: Scope) -> list[str]:
        return [name for name in module.users if self.names.binds(module, name)]

    def entry(self, scope: Scope, name: str) -> NameEntry:
        """Return what `name` is in a module or class."""
        hows = {definition.how for definition in self.names.bound(scope, name).definitions}
        if hows == {"class"} or hows == {"function"}:
            children = [s for s in _children(scope) if s.name == name and s.kind in hows]
            if hows == {"function"} and len(children) > 1:
                children = [child for child in children if not self._is_accessor(child)] or children
            entries = [self._definition(child) for child in children]
            if hows == {"class"} and len(entries) > 1:
                return _merged(entries)
            if len(entries) == 1 or (entries and hows == {"function"} and _alike(entries)):
                return entries[-1]
            return NameEntry("value")
        path = self.paths.value(scope, name)
        if path is None or path.startswith("<"):
            return NameEntry("value")
        if path.endswith("()") or "argument" in hows:
            return NameEntry("value", path, contents=self._contents(scope, name))
        return NameEntry("alias", path)

    def _contents(self, scope: Scope, name: str) -> Contents | None:
        """Return what the container holds that all annotations of a name declare."""
        kinds = [
            kind
            for definition in self.names.bound(scope, name).definitions
            if (above := definition.node.parent) is not None
            and above.kind == "assignment"
            and (kind := above.child("type")) is not None
        ]
        return self.paths.containers.contained(kinds[0]) if len(kinds) == 1 else None

    def _is_accessor(self, scope: Scope) -> bool:
        """Return whether a function adds to a property: ``@line.setter``."""
        marks = decorators(self.names.node_of(scope))
        return any(mark.rpartition(".")[2] in ("setter", "deleter", "getter") for mark in marks)

    def _definition(self, scope: Scope) -> NameEntry:
        node = self.names.node_of(scope)
        return self._class(scope, node) if scope.kind == "class" else self._function(scope, node)

    def _function(self, scope: Scope, node: Node) -> NameEntry:
        marks = decorators(node)
        returns = node.child("return_type")
        path = self.paths.annotation(returns) if returns is not None else None
        if returns is not None and self._is_self(returns):
            path = RECEIVER
        if path is None and returns is None and scope.name in ("__enter__", "__aenter__"):
            path = self._self_returned(scope, node)
        if path is None and returns is None:
            path = self._made(scope, node, marks)
        awaited = None
        if any(child.kind == "async" for child in node.children):
            path, awaited = None, path
        is_property = any(mark.rpartition(".")[2] in _PROPERTIES for mark in marks)
        contents = self.paths.containers.contained(returns) if returns is not None else None
        if contents is not None and self._is_context(node):
            takes, by_place = _takes(node), _by_place(node)
            return NameEntry("function", CONTEXT, takes=takes, by_place=by_place, contents=contents)
        entry = is_property or all(mark.rpartition(".")[2] in _PLAIN for mark in marks)
        return NameEntry(
            "function",
            path if entry else None,
            property=is_property,
            awaited=awaited if entry else None,
            takes=_takes(node),
            hands_to=self._hands_to(scope, node) if entry else None,
            by_place=_by_place(node),
            contents=contents if entry else None,
        )

    def _made(self, scope: Scope, node: Node, marks: frozenset[str]) -> str | None:
        """Return the path of what a function makes and returns each time; None for no such thing.

        A method may do it otherwise in a class below, unless it is one of a class.
        """
        body = node.child("body")
        is_of_class = bool(marks & {"classmethod", "staticmethod"})
        if body is None or (scope.holder is not None and not is_of_class):
            return None
        if _MAKES.search(body.data) is None or b"yield" in body.data:
            return None
        results: set[str | None] = set()
        for statement in (n for n in body.walk() if n.kind == "return_statement"):
            around = (a for a in statement.ancestors() if a.kind == "function_definition")
            if next(around, None) is node:
                value = next((item for item in statement.items if item.named), None)
                results.add(self.paths.of(value) if value is not None else NOTHING)
        path = agreed(results)
        if path is None or not path.endswith("()"):
            return None
        own = scope.holder is not None and path == self.paths.of_scope(scope.holder) + "()"
        return RECEIVER if own and "classmethod" in marks else path

    def _self_returned(self, scope: Scope, node: Node) -> str | None:
        """Return the class of ``self`` where a method returns nothing else."""
        holder = scope.holder
        body = node.child("body")
        if holder is None or body is None:
            return None
        nodes = [n for n in body.walk() if n.kind == "return_statement"]
        if nodes and all(n.text == "return self" for n in nodes):
            return RECEIVER
        return None

    def _hands_to(self, scope: Scope, node: Node) -> str | None:
        """Return the path of what a function hands all of its other keywords to, and nobody else.

        A method may be another one in a class below.
        """
        parameters = node.child("parameters")
        splat = next((i for i in parameters.items if _splat(i)), None) if parameters else None
        if splat is None or scope.holder is not None:
            return None
        binding = self.names.bound(scope, splat.text.lstrip("* ").partition(":")[0].strip())
        if len(binding.definitions) != 1 or len(binding.references) != 1:
            return None
        (use,) = binding.references
        given = use.node.parent
        call = given.parent.parent if given is not None and given.parent is not None else None
        if use.scope is not scope or given is None or given.kind != "dictionary_splat":
            return None
        function = call.child("function") if call is not None and call.kind == "call" else None
        return self.paths.of(function) if function is not None else None

    def _is_context(self, node: Node) -> bool:
        """Return whether a generator is made a context by its only decorator."""
        marks = [self.paths.of(mark) for mark in marks_of(node)]
        return len(marks) == 1 and (marks[0] or "").replace(":", ".") in _CONTEXTS

    def _is_self(self, returns: Node) -> bool:
        """Return whether an annotation is `Self`: the class of the receiver."""
        core = returns.core
        path = self.paths.of(core) if core.kind in ("identifier", "attribute") else None
        return path is not None and path.endswith((".Self", ":Self"))

    def _class(self, scope: Scope, node: Node) -> NameEntry:
        bases: list[str | None] = []
        arguments = node.child("superclasses")
        for item in arguments.items if arguments is not None else ():
            if item.named and item.kind != "keyword_argument":
                base = item.items[0] if item.kind in ("subscript", "generic_type") else item
                bases.append(self.paths.of(base))
        members = {name: self.entry(scope, name) for name in scope.users if scope.binds(name)}
        if any(re.split(r"[.:]", base or "")[-1] in _ENUMS for base in bases):
            made_of = self.paths.of_scope(scope) + "()"
            members = {
                name: NameEntry(
                    "value", made_of
                ) if member.kind == "value" and name[0] != "_" else member
                for name, member in members.items()
            }
        for name in self._slots(scope):
            members.setdefault(name, NameEntry("value"))
        common = {
            name: replace(member, shared=member.kind == "value") for name, member in members.items()
        }
        members = common
        for name, path in self._instance_attributes(scope).items():
            entry = members.get(name)
            if entry is None:
                members[name] = NameEntry("value", path, contents=self._held(scope, name))
            elif entry.kind == "value" and _declares(scope, name):
                contents = entry.contents or self._held(scope, name)
                members[name] = NameEntry("value", entry.path or path, contents=contents)
            elif entry.kind != "value" or entry.path != path:
                members[name] = NameEntry("alias")  # an instance may have another one of its own
        statements = [*decorators(node), *(base or "" for base in bases)]
        by_fields = any(re.split(r"[.:]", name)[-1] in _BY_FIELDS for name in statements)
        children = [s for s in _children(scope) if s.name == "__new__" and s.kind == "function"]
        made_by_new = not all(self._makes_own(child) for child in children)
        return NameEntry(
            "class",
            None,
            tuple(bases),
            members,
            made_by_new=made_by_new,
            by_fields=by_fields,
        )

    def _slots(self, scope: Scope) -> list[str]:
        """Return the attributes that ``__slots__`` gives the instances of a class."""
        listed = self.names.texts_of(scope, "__slots__") if scope.binds("__slots__") else ()
        return [name for name, _ in listed or ()]

    def _instance_attributes(self, scope: Scope) -> dict[str, str | None]:
        """Return what the methods of a class assign to their instance, ``self.line = ...``."""
        table: dict[str, set[str | None]] = {}
        own = self.paths.of_scope(scope) + "()"
        for name, node, path in self._stores:
            if path in (own, own[:-2]):
                table.setdefault(name, set()).add(self._stored(node))
        return {name: agreed(paths) for name, paths in table.items()}

    def _held(self, scope: Scope, name: str) -> Contents | None:
        """Return what the container holds that methods of a class declare as an attribute."""
        own = self.paths.of_scope(scope) + "()"
        kinds = [
            kind
            for said, node, path in self._stores
            if said == name and path in (own, own[:-2]) and (above := node.parent) is not None
            and (kind := above.child("type")) is not None
        ]
        return self.paths.containers.contained(kinds[0]) if len(kinds) == 1 else None

    @cached_property
    def _stores(self) -> list[tuple[str, Node, str | None]]:
        """The attributes that the file assigns: name, node, and the path of what they are of."""
        return [
            (node.items[-1].text, node, self._path_of(node.items[0])) for node in self.names.stores
        ]

    def _path_of(self, node: Node) -> str | None:
        """Return the path of what an attribute is of; of a module's name what it is bound to."""
        path = self.paths.of(node)
        module = self.names.module
        if node.kind == "identifier" and path == f"{self.paths.module}:{node.text}":
            return self.paths.value(module, node.text) or path
        return path

    def _makes_own(self, scope: Scope) -> bool:
        """Return whether a ``__new__`` returns what the one of its bases makes."""
        body = self.names.node_of(scope).child("body")
        argument = [
            n for n in body.walk() if n.kind == "return_statement"
        ] if body is not None else []
        return bool(argument) and all(map(self._returns_own, argument))

    def _returns_own(self, statement: Node) -> bool:
        value = next((item for item in statement.items if item.named), None)
        binding = self.names.binding(value) if value is not None else None
        results = [statement]
        if binding is not None:
            results = [
                definition.node.parent or definition.node for definition in binding.definitions
            ]
        return all("super()" in result.text or "__new__" in result.text for result in results)

    def _stored(self, node: Node) -> str | None:
        statement = node.parent
        if statement is None or statement.kind != "assignment" or node.field != "left":
            return None
        annotation = statement.child("type")
        if annotation is not None:
            return self.paths.annotation(annotation)
        value = statement.child("right")
        path = self.paths.of(value) if value is not None else None
        return path

    def _exported(self, module: Scope) -> tuple[str, ...] | None:
        exported = self.names.exported
        return None if exported is None else tuple(name for name, _ in exported)


_READS_NAMES = (b"__name__", b"__qualname__", b"getfullargspec", b"signature", b"__annotations__")
_ENUMS = ("Enum", "Flag", "IntEnum", "IntFlag", "StrEnum")
_BY_FIELDS = ("NamedTuple", "TypedDict", "dataclass", "define", "frozen", "mutable", "BaseModel")
_CONTEXTS = ("contextlib.asynccontextmanager", "contextlib.contextmanager")
_PROPERTIES = ("property", "cached_property")
_PLAIN = (
    *("abstractmethod", "cache", "classmethod", "final", "lru_cache", "override", "staticmethod"),
)


def _declares(scope: Scope, name: str) -> bool:
    """Return whether a class only says of what kind an attribute is: ``line: Line``."""
    return all(
        occurrence.how == "declaration"
        for occurrence in scope.occurrences(name) if occurrence.use == "bind"
    )


_MAKES = re.compile(rb"\bcls\(|\breturn (?:\w+\.)*[A-Z]\w*\(")
_BEHIND = re.compile(rb"\s*[.(]")
_CHAIN = re.compile(rb"(?:\s*\.\s*\w+){1,3}")
_UNNAMED = re.compile(rb"[\])][ \t]*\(")
_WORD = re.compile(r"[^\W\d]\w*")
_CALL = re.compile(rb"(\b(?:class|def)\s+)?\b([^\W\d]\w*)\s*\(")
_DECORATOR = re.compile(rb"^[ \t]*@[ \t]*(?:\w+[ \t]*\.[ \t]*)*(\w+)", re.MULTILINE)


def _called(data: bytes) -> set[str]:
    """Return the words that code may call, all of them where what it calls has no name."""
    if _UNNAMED.search(data) is not None:
        return set(_WORD.findall(data.decode("utf-8", "replace")))
    words = [match[2] for match in _CALL.finditer(data) if match[1] is None]
    return {word.decode("utf-8", "replace") for word in (*words, *_DECORATOR.findall(data))}


def _covered(name: str, base: str, bound: str, scope: Scope) -> str:
    """Return how much of a dotted name the imports load that bind its first name in a scope."""
    whole = (item.module for item in scope.imports if item.name is None and item.bound == bound)
    entries = [module for module in whole if f"{name}.".startswith(f"{module}.")]
    return max([base, *entries], key=len)


def _runs_with_module(scope: Scope) -> bool:
    """Return whether the code of a scope runs as its module is imported."""
    above: Scope | None = scope
    while above is not None and above.kind in ("class", "types"):
        above = above.parent
    return above is not None and above.kind == "module"


def _children(scope: Scope) -> list[Scope]:
    scopes: list[Scope] = []
    for child in scope.children:
        scopes += child.children if child.kind == "types" else [child]
    return scopes


def _takes(node: Node) -> tuple[str, ...] | None:
    """Return the parameters of a function that takes any keywords besides."""
    parameters = node.child("parameters")
    if parameters is None or b"**" not in parameters.data:
        return None
    items = parameters.items
    if not any(_splat(item) for item in items):
        return None
    names = (item.child("name") or item for item in items if item.named and not _splat(item))
    return tuple(name.text.partition(":")[0].strip() for name in names)


def _by_place(node: Node) -> tuple[str, ...]:
    """Return the parameters of a function that stand before a slash."""
    parameters = node.child("parameters")
    items = parameters.items if parameters is not None else ()
    at = next((n for n, item in enumerate(items) if item.text == "/"), 0)
    names = (item.child("name") or item for item in items[:at] if item.named)
    return tuple(name.text.partition(":")[0].strip() for name in names)


def _splat(item: Node) -> bool:
    return item.text.startswith("**")


def _merged(entries: list[NameEntry]) -> NameEntry:
    """Return what is known of a class whichever of its definitions holds."""
    first, *others = entries
    members = {
        name: member
        if all(member == second.members[name] for second in others)
        else NameEntry("alias")
        for name, member in first.members.items()
        if all(name in second.members for second in others)
    }
    lost = {name for entry in entries for name in entry.members} - members.keys()
    members.update(dict.fromkeys(lost, NameEntry("alias")))
    bases = first.bases if all(second.bases == first.bases for second in others) else (None,)
    made_by_new = any(entry.made_by_new for entry in entries)
    by_fields = any(entry.by_fields for entry in entries)
    return NameEntry("class", None, bases, members, made_by_new=made_by_new, by_fields=by_fields)


def _alike(entries: list[NameEntry]) -> bool:
    return len({(entry.path, entry.property, entry.awaited) for entry in entries}) == 1
