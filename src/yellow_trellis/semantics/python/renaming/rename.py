"""Giving a binding another name: every place that says it, or the reason why that cannot be."""

from __future__ import annotations

import keyword
from collections.abc import Iterator

from msgspec import field

from yellow_trellis.edits import Edit, New
from yellow_trellis.semantics import Binding, Occurrence, Renaming, Scope
from yellow_trellis.semantics.python.semantic_model import PythonFacts, facts_of
from yellow_trellis.syntax import Node


def is_name(text: str) -> bool:
    """Return whether `text` can name something in Python."""
    return text.isidentifier() and not keyword.iskeyword(text)


def rename_binding(
    binding: Binding,
    new: str,
    done: Renaming,
    sources: frozenset[int] = frozenset(),
) -> None:
    """Add to `done` what gives `binding` the name `new` in its file.

    Arguments: `sources` are the first bytes of imported names that have the new name where they
    come from: their import says it without ``as``.
    """
    facts = facts_of(binding.scope.tree)
    reason = clash_of(binding, new)
    if reason:
        done.refuse_binding(binding, new, reason)
        return
    for occurrence in binding.occurrences:
        if occurrence.how == "import":
            _rename_import(facts, occurrence, new, done, occurrence.span.start in sources)
        else:
            if _shown(occurrence):
                done.refuse(f"the text at {occurrence.place} shows the name itself")
            done.put(occurrence.span, new)
    if binding.scope is facts.names.module:
        for name, span in facts.names.exported or ():
            if name == binding.name:
                done.put(span, new)
    if "argument" in binding.hows:
        _rename_keywords(facts, binding, new, done)


def _rename_import(
    facts: PythonFacts, occurrence: Occurrence, new: str, done: Renaming, at_source: bool
) -> None:
    result = facts.names.import_of(occurrence)
    if result is None:
        return
    if result.alias is not None and new == (result.name or result.module):
        done.put(result.item, new)
    elif at_source or result.alias is not None:
        done.put(occurrence.span, new)
    elif result.name is None and "." in result.module:
        done.refuse(f"`import {result.module}` at {occurrence.place} binds the name of a package")
    else:
        done.edits[result.item] = Edit.after(result.item, New(f" as {new}"))


def _rename_keywords(facts: PythonFacts, binding: Binding, new: str, done: Renaming) -> None:
    """Rename an argument where calls of the file name it."""
    if any(_is_by_place(definition.node) for definition in binding.definitions):
        return  # a keyword of that name is another argument
    function = facts.paths.of_scope(binding.scope)
    for node in keywords_of(facts, facts.graph.resolve(function), binding.name):
        done.put(node.span, new)


def _is_by_place(name: Node) -> bool:
    """Return whether a parameter stands before a slash, so that no call can name it."""
    parameters = next((a for a in name.ancestors() if a.kind == "parameters"), None)
    items = parameters.items if parameters is not None else ()
    return any(item.text == "/" and item.start > name.start for item in items)


def keywords_of(facts: PythonFacts, function: str | None, name: str) -> Iterator[Node]:
    """Yield the names of keyword arguments `name` in calls of what is known as `function`."""
    if function is None:
        return
    holder, _, method = function.rpartition(".")
    for start in facts.tree.hits(name.encode("utf-8"), whole_word=True):
        leaf = facts.tree.leaf_at(start)
        keyword_ = leaf.parent if leaf is not None else None
        if leaf is None or keyword_ is None or keyword_.kind != "keyword_argument":
            continue
        arguments = keyword_.parent
        call = arguments.parent if arguments is not None else None
        if leaf.field != "name" or call is None or call.kind != "call":
            continue
        called = call.child("function")
        if called is None:
            continue
        target = facts.meaning(called)
        if target == function or (method == "__init__" and target == holder):
            yield leaf


def clash_of(binding: Binding, new: str) -> str:
    """Return why `binding` cannot be called `new`; empty if it can.

    That is so where the new name is taken in its scope, where code inside would then reach the
    binding instead of what it means, and where an inner scope would come in between.
    """
    if not is_name(new):
        return f"`{new}` cannot be a name"
    home, old = binding.scope, binding.name
    if (old.startswith("__") or new.startswith("__")) and home.private:
        return "names that start with two underscores mean something else in a class"
    if old.startswith("_") and home.private and old.startswith(home.private + "__"):
        return "names that start with two underscores mean something else in a class"
    capture = next(_sites(home, new, "bind"), None) if home.binds(new) else None
    if capture is not None:
        return f"`{new}` is taken: it is bound at {capture.place}"
    if home.binds(new):
        return f"`{new}` is taken in the same scope"
    for outer in (home, *home.around()):
        for user in outer.users.get(new, ()):
            if user is home or (home.kind != "class" and home in user.around()):
                return f"`{new}` means something else at {user.place_of(new)}"
    for user in home.users.get(old, ()):
        for between in (user, *user.around()):
            if between is home:
                break
            symbol = between.symbols.get(new)
            if symbol is not None and (symbol.bound or symbol.declared):
                return f"`{new}` is taken in between, at {between.place_of(new)}"
        for seeing in _SEEING if home.parent is not None else ():
            symbol = user.symbols.get(seeing)
            if symbol is not None and symbol.reads:
                return f"`{seeing}()` at {user.place_of(seeing)} may see the name itself"
    return ""


_SEEING = ("locals", "vars", "eval", "exec", "dir")
"""Built-in functions that see names as text."""


def _sites(scope: Scope, name: str, use: str) -> Iterator[Occurrence]:
    return (occurrence for occurrence in Binding(scope, name).occurrences if occurrence.use == use)


def _shown(occurrence: Occurrence) -> bool:
    return occurrence.use == "read" and shows_name(occurrence.node)


def shows_name(node: Node) -> bool:
    """Return whether a string shows the name of what it shows: ``f"{x=}"``."""
    for above in node.ancestors():
        if above.kind == "interpolation":
            return any(child.kind == "=" for child in above.children)
        if above.kind in above.tree.language.statements:
            return False
    return False
