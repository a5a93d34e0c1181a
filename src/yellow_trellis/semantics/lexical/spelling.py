"""The spelling of a dotted name at one place, and the import that it requires."""

from __future__ import annotations

from yellow_trellis.semantics.lexical.facts import LexicalFacts, full_name
from yellow_trellis.semantics.required_import import RequiredImport
from yellow_trellis.syntax import Node


def spelled(facts: LexicalFacts, place: Node, name: str) -> tuple[str, RequiredImport | None]:
    """Return how `place` says the dotted name `name`, and the import that it needs.

    Said is the name that an import gives it, its own in the file's namespace, its last part by a
    new import where that is free, and the whole name where it is not.
    """
    rules = facts.rules
    scope = facts.names.scope_at(place)

    def means(text: str) -> bool:
        binding = facts.names.visible(text.lower() if rules.scopes.folds else text, scope)
        return binding is not None and binding.scope is facts.names.module

    for known, dotted in rules.known.items():
        if name == dotted and facts.names.visible(known, scope) is None:
            return known, None
        if name.startswith(dotted + ".") and facts.names.visible(known, scope) is None:
            return known + rules.joint + name[len(dotted) + 1 :].replace(".", rules.joint), None
    best: str | None = None
    for _, item in facts.names.imports:
        whole = full_name(item)
        if item.name == "*":
            rest = name.removeprefix(item.module + ".")
            if rest != name and "." not in rest and facts.names.visible(rest, scope) is None:
                if not facts.place.declares(facts.namespace, rest):
                    best = best or rest
        elif name == whole and means(item.bound):
            return item.bound, None
        elif name.startswith(whole + ".") and means(item.bound):
            rest = name[len(whole) + 1 :].replace(".", rules.joint)
            best = f"{item.bound}{rules.joint}{rest}"
    space, _, last = name.rpartition(".")
    if best is None and space in {facts.namespace, *rules.always} and space:
        if facts.names.visible(last, scope) is None or space == facts.namespace:
            best = last
    if best is not None:
        return best, None
    return _by_import(facts, place, name)


def _by_import(
    facts: LexicalFacts, place: Node, name: str
) -> tuple[str, RequiredImport | None]:
    rules = facts.rules
    space, _, last = name.rpartition(".")
    whole = rules.rooted + name.replace(".", rules.joint)
    if rules.imports is None:
        return whole, None
    imported = name if rules.brings == "name" else space
    bound = space.rpartition("/")[2] if rules.brings == "package" else last
    text = f"{bound}{rules.joint}{last}" if rules.brings == "package" else last
    scope = facts.names.scope_at(place)
    said = any(True for _ in facts.tree.hits(bound.encode("utf-8"), whole_word=True))
    is_free = not said and facts.names.visible(bound, scope) is None
    if is_free and not facts.place.declares(facts.namespace, bound):
        return text, RequiredImport(imported, imported, bound)
    if rules.is_whole or rules.rooted:
        return whole, None
    fault = f"`{bound}` means something else in this file"
    return text, RequiredImport(imported, imported, bound, fault=fault)
