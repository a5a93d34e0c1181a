"""Giving a binding of JavaScript another name: every place that says it, or why that cannot be."""

from __future__ import annotations

import re
from collections.abc import Callable

from yellow_trellis.edits import Edit, New, Slice
from yellow_trellis.languages.language import kinds
from yellow_trellis.semantics.javascript.name_usage import is_script
from yellow_trellis.semantics.javascript.semantic_model import facts_of
from yellow_trellis.semantics.lexical.rename import clash_of
from yellow_trellis.semantics.renaming import Renaming
from yellow_trellis.semantics.scope import Binding, Occurrence
from yellow_trellis.source import Span
from yellow_trellis.syntax import Node

_NAME = re.compile(r"(?:[^\W\d]|\$)[\w$]*")
# Source: ECMA-262, "Keywords and Reserved Words", those of strict code among them.
_RESERVED = kinds(
    "arguments await break case catch class const continue debugger default delete do else enum "
    "eval export extends false finally for function if implements import in instanceof interface "
    "let new null package private protected public return static super switch this throw true try "
    "typeof undefined var void while with yield"
)
_ELEMENTS = kinds("jsx_closing_element jsx_opening_element jsx_self_closing_element")
_SHORTHANDS = kinds("shorthand_property_identifier shorthand_property_identifier_pattern")


def is_name(text: str) -> bool:
    """Return whether `text` can name something in JavaScript and TypeScript."""
    return _NAME.fullmatch(text) is not None and text not in _RESERVED


def rename_binding(binding: Binding, new: str, done: Renaming) -> None:
    """Add to `done` what gives `binding` the name `new` in its file, or why that cannot be.

    What other files see of it stays: an export keeps its name by ``as``.
    """
    if reason := fault_of(binding, new) or _seen_elsewhere(binding):
        done.refuse_binding(binding, new, reason)
        return
    for occurrence in binding.occurrences:
        write_within(occurrence, new, done)


def fault_of(binding: Binding, new: str) -> str:
    """Return why `binding` cannot be called `new`; empty if it can."""
    if not is_name(new):
        return f"`{new}` cannot be a name"
    if binding.hows & {"field"} or any(map(_is_member, binding.definitions)):
        return f"`{binding.name}` is a member too, and others may ask for it by name"
    for item in binding.occurrences:
        above = item.node.parent
        if above is not None and above.kind in _ELEMENTS and new[:1].islower():
            return f"an element at {item.place} has the name: it would become one of HTML"
    return clash_of(binding, new)


def _is_member(definition: Occurrence) -> bool:
    """Return whether a parameter of a constructor is a member of the class as well."""
    above = definition.node.parent
    return above is not None and any(
        child.kind in ("accessibility_modifier", "override_modifier", "readonly")
        for child in above.children
    ) and above.kind in ("optional_parameter", "required_parameter")


def _seen_elsewhere(binding: Binding) -> str:
    """Return why other files may say the name of a binding; empty if none can."""
    facts = facts_of(binding.scope.tree)
    if binding.scope.kind == "function" and any(map(is_exported, binding.definitions)):
        return f"`{binding.name}` is exported by the namespace around it"
    if binding.scope is not facts.names.module:
        return ""
    if any(map(is_exported, binding.definitions)):
        return f"`{binding.name}` is exported: a rule with `rename` renames it in all files"
    if binding.scope.tree.source.path and is_script(facts.names):
        return f"`{binding.name}` is a name of a script, which other scripts may say"
    return ""


def is_exported(definition: Occurrence) -> bool:
    """Return whether the declaration of a name exports it under that name."""
    statement = definition.node
    for above in definition.node.ancestors():
        if above.kind == "export_statement":
            words = {child.text for child in above.children if not child.named}
            return "default" not in words
        if above.kind in _INNER and above.child("name") is not statement:
            return False
        statement = above
    return False


_INNER = kinds(
    "arrow_function class class_body class_declaration function_declaration function_expression "
    "generator_function generator_function_declaration statement_block"
)


def write_within(item: Occurrence, new: str, done: Renaming) -> None:
    """Add the edit for one place, so that nothing changes for other files and objects."""
    write_in(item, new, done, lambda _: False)


def write_in(
    item: Occurrence, new: str, done: Renaming, is_source: Callable[[Occurrence], bool]
) -> None:
    """Add the edit for one place.

    Arguments: `is_source` tells whether what stands there by its own name, in an import, an export
    or an object, gets the new name as well.
    """
    node, span = item.node, item.span
    above = node.parent
    if is_source(item):
        done.put(span, new)
    elif node.kind in _SHORTHANDS:
        write_pair(node, node.text, new, done)
    elif above is not None and above.kind == "import_specifier":
        name, alias = above.child("name"), above.child("alias")
        if alias is None:
            done.edits[span] = Edit.after(span, New(f" as {new}"))
        elif name is not None and name.text == new:
            done.put(above.span, new)
        else:
            done.put(span, new)
    elif above is not None and above.kind == "export_specifier":
        _write_export(item, above, new, done)
    else:
        done.put(span, new)


def write_pair(node: Node, key: str, name: str, done: Renaming) -> None:
    """Write the name `node`, which stands for itself in an object or pattern, as key and name."""
    above = node.parent
    if above is not None and above.kind == "object_assignment_pattern":
        default = Slice(Span(node.end, above.end))
        done.edits[node.span] = Edit(above.span, (New(f"{key}: {name}"), default))
    else:
        done.put(node.span, f"{key}: {name}")


def _write_export(item: Occurrence, specifier: Node, new: str, done: Renaming) -> None:
    alias = specifier.child("alias")
    if alias is None:
        done.edits[item.span] = Edit.before(item.span, New(f"{new} as "))
    elif alias.text == new:
        done.put(specifier.span, new)
    else:
        done.put(item.span, new)
