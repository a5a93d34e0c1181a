"""Building the interface of a JavaScript module: its exports, and the names it has at the top."""

from __future__ import annotations

from collections.abc import Iterator

from yellow_trellis.semantics.javascript.graph import WHOLE
from yellow_trellis.semantics.javascript.paths import NamePaths
from yellow_trellis.semantics.module_interface import NameEntry, EntryKind, Summary
from yellow_trellis.semantics.scope import Binding
from yellow_trellis.syntax import Node


def summarize(paths: NamePaths) -> Summary:
    """Return the interface of the file that `paths` is about."""
    return _Builder(paths).summary()


class _Builder:
    def __init__(self, paths: NamePaths) -> None:
        self.paths = paths
        self.names = paths.names
        self.module = paths.module
        self.entries: dict[str, NameEntry] = {}
        self.exported: set[str] = set()
        self.stars: list[str] = []
        self.imports: set[str] = set()

    def summary(self) -> Summary:
        """Return it."""
        for statement in self.names.tree.root.items:
            if statement.kind == "export_statement":
                self._export(statement)
            elif statement.kind == "expression_statement":
                self._assignment(statement)
        for binding in self.names.bindings:
            if binding.scope is self.names.module and binding.name not in self.entries:
                self.entries[binding.name] = self._entry(binding, binding.name)
        for _, item in self.names.imports:
            self._import(item.module)
        imports = tuple(sorted(self.imports))
        return Summary(
            self.module,
            dict(sorted(self.entries.items())),
            tuple(dict.fromkeys(self.stars)),
            exported=tuple(sorted(self.exported)),
            imports=imports,
            loads=imports,
        )

    def _import(self, specifier: str) -> str | None:
        module = self.paths.resolved(specifier)
        if module is not None:
            self.imports.add(module)
        return module

    def _give(self, name: str, entry: NameEntry) -> None:
        if name in self.entries and self.entries[name] != entry:
            entry = NameEntry("alias")  # it is one thing or another
        self.entries[name] = entry
        self.exported.add(name)

    # ------------------------------------------------------------------ export statements

    def _export(self, statement: Node) -> None:
        source = statement.child("source")
        module = self._import(source.text[1:-1]) if source is not None else None
        clause = next((item for item in statement.items if item.kind == "export_clause"), None)
        exports = (item for item in statement.items if item.kind == "namespace_export")
        namespace = next(exports, None)
        declared = statement.child("declaration")
        words = [child.text for child in statement.children if not child.named]
        if clause is not None:
            for specifier in clause.items:
                if specifier.core.kind in ("export_specifier", *_NAMES):
                    self._specifier(specifier, source is not None, module)
        elif namespace is not None:
            path = f"{module}:" if module is not None else None
            self._give(_export_name(namespace.items[-1]), NameEntry("alias", path))
        elif source is not None:
            self.stars.append(module if module is not None else "?")
        elif "default" in words:
            self._default(statement)
        elif declared is not None:
            for binding in self._declared(declared):
                self._give(binding.name, self._entry(binding, binding.name))
        elif "=" in words:
            self._whole(statement.items[-1])

    def _specifier(self, specifier: Node, from_other: bool, module: str | None) -> None:
        parts = [item for item in specifier.items if item.named] or [specifier]
        name, alias = parts[0], parts[-1]
        if from_other:
            path = f"{module}:{_export_name(name)}" if module is not None else None
            self._give(_export_name(alias), NameEntry("alias", path))
            return
        binding = self.names.binding(name)
        entry = NameEntry("alias") if binding is None else self._entry(binding, _export_name(alias))
        self._give(_export_name(alias), entry)

    def _default(self, statement: Node) -> None:
        value = statement.child("declaration") or statement.child("value")
        if value is None:
            return
        binding = next(iter(self._declared(value)), None)
        if binding is not None and statement.child("declaration") is not None:
            self._give("default", self._entry(binding, "default"))
        else:
            self._give("default", self._of_value(value))

    def _declared(self, declaration: Node) -> Iterator[Binding]:
        """Yield what a declaration binds in the scope of the file."""
        for binding in self.names.bindings:
            if binding.scope is self.names.module and any(
                declaration.start <= d.span.start < declaration.end for d in binding.definitions
            ):
                yield binding

    # ------------------------------------------------------------------ module.exports

    def _assignment(self, statement: Node) -> None:
        """Read ``exports.a = b``, ``module.exports.a = b`` and ``module.exports = {a, b}``."""
        core = statement.core
        if core.kind != "assignment_expression":
            return
        target, value = core.items[0], core.items[-1].bare
        if value.kind == "assignment_expression":
            value = value.items[-1].bare
        holder = "".join(target.items[0].text.split()) if target.kind == _MEMBER else ""
        if target.text == "module.exports" and self._is_free("module"):
            if value.kind == "object":
                self._properties(value)
            else:
                self._whole(value)
        elif holder in ("exports", "module.exports") and self._is_free(holder.partition(".")[0]):
            self._give(target.items[-1].text, self._of_value(value))

    def _is_free(self, name: str) -> bool:
        return self.names.visible(name, self.names.module) is None

    def _properties(self, value: Node) -> None:
        for item in value.items:
            core = item.core
            if core.kind == "shorthand_property_identifier":
                self._give(core.text, self._of_value(core))
            elif core.kind == "pair" and not core.items[0].children:
                self._give(core.items[0].text, self._of_value(core.items[-1]))
            elif core.kind == "method_definition":
                name = core.child("name")
                if name is not None and not name.children:
                    self._give(name.text, NameEntry("function"))
            elif core.kind == "spread_element":
                path = self.paths.of(core.items[-1])
                self.stars.append(path[:-1] if path is not None and path.endswith(":") else "?")

    def _whole(self, value: Node) -> None:
        self._give(WHOLE, self._of_value(value))

    # ------------------------------------------------------------------ entries

    def _of_value(self, value: Node) -> NameEntry:
        """Return what a name is that is given a value."""
        core = value.bare
        if core.kind in _FUNCTIONS:
            return NameEntry("function")
        if core.kind == "class":
            return NameEntry("class", bases=() if core.child("body") is core.items[-1] else (None,))
        path = self.paths.of(core)
        return NameEntry("value") if path is None else NameEntry("alias", path)

    def _entry(self, binding: Binding, name: str) -> NameEntry:
        """Return what a name is that a binding of the file gives."""
        path = self.paths.of_binding(binding)
        if path != f"{self.module}:{binding.name}":
            return NameEntry("alias", path)
        if name != binding.name:
            return NameEntry("alias", path)
        entry_kinds: list[EntryKind] = [
            _KINDS[how] for how in sorted(binding.hows) if how in _KINDS
        ]
        kind = entry_kinds[0] if entry_kinds else "value"
        bases: tuple[str | None, ...] = ()
        if kind == "class" and any(self._is_derived(d.node) for d in binding.definitions):
            bases = (None,)
        return NameEntry(kind, bases=bases)

    @staticmethod
    def _is_derived(name: Node) -> bool:
        above = name.parent
        return above is not None and any(
            item.kind in ("class_heritage", "extends_type_clause") for item in above.items
        )


def _export_name(name: Node) -> str:
    """Return the name of an export, which may stand in quotes."""
    return name.text.strip("'\"")


_MEMBER = "member_expression"
_NAMES = ("identifier", "string", "default")
_FUNCTIONS = ("arrow_function", "function_declaration", "function_expression", "generator_function")
_KINDS: dict[str, EntryKind] = {
    "class": "class", "enum": "class", "function": "function", "namespace": "class",
    "type": "class",
}
