"""The spelling of a dotted name at one place, and the import that it requires."""

from __future__ import annotations

from yellow_trellis.semantics.imports import Import
from yellow_trellis.semantics.lexical.facts import LexicalFacts, full_name
from yellow_trellis.semantics.required_import import RequiredImport
from yellow_trellis.semantics.scope import Scope
from yellow_trellis.syntax import Node


def spell_at(
    facts: LexicalFacts, place: Node, name: str, is_called: bool = False
) -> tuple[str, RequiredImport | None]:
    """Return how `place` says the dotted name `name`, and the import that it needs.

    That is the name that needs no import, the one that an import gives it, its last part in the
    namespace of the file or by a new import where that is free, and the whole name where it is not.
    A member of a type is said by the type, where imports bring types only: it has a name as members
    have, or it is called.
    """
    holder, _, last = name.rpartition(".")
    if is_called and _through_import(facts, facts.names.scope_at(place), name) == last:
        return last, None  # the members of the type are brought whole
    member = facts.rules.member
    if "." in holder and is_called or (member is not None and member.fullmatch(name) is not None):
        said, required = spell_at(facts, place, holder)
        return f"{said}{facts.rules.joint}{last}", required
    scope = facts.names.scope_at(place)
    for spell in (_without_import, _through_import, _in_namespace):
        text = spell(facts, scope, name)
        if text is not None:
            return text, None
    return _by_import(facts, place, name)


def _without_import(facts: LexicalFacts, scope: Scope, name: str) -> str | None:
    """Return how a name is said that the language knows."""
    for word, dotted in facts.rules.known.items():
        is_it = (name + ".").startswith(dotted + ".") and facts.is_known(word)
        if is_it and _is_free(facts, scope, word):
            return (word + name[len(dotted) :]).replace(".", facts.rules.joint)
    return None


def _through_import(facts: LexicalFacts, scope: Scope, name: str) -> str | None:
    """Return how an import of the file says a name, the shortest way first."""
    longer: str | None = None
    for _, item in facts.names.imports:
        whole = full_name(item)
        if item.name == "*":
            last = name.removeprefix(item.module + ".")
            is_plain = last != name and "." not in last and _is_free(facts, scope, last)
            if is_plain and not facts.place.declares(facts.namespace, last):
                longer = longer or last
        elif (name + ".").startswith(whole + ".") and _sees_import(facts, scope, item):
            text = (item.bound + name[len(whole) :]).replace(".", facts.rules.joint)
            if name == whole:
                return text
            longer = text
    return longer


def _in_namespace(facts: LexicalFacts, scope: Scope, name: str) -> str | None:
    """Return the last part of a name of the file's own namespace, or of one always seen."""
    space, _, last = name.rpartition(".")
    if not space or space not in {facts.namespace, *facts.rules.always}:
        return None
    return last if space == facts.namespace or _is_free(facts, scope, last) else None


def _is_free(facts: LexicalFacts, scope: Scope, name: str) -> bool:
    return facts.names.visible(name, scope) is None


def _sees_import(facts: LexicalFacts, scope: Scope, item: Import) -> bool:
    name = item.bound.lower() if facts.rules.scopes.folds else item.bound
    binding = facts.names.visible(name, scope)
    return binding is not None and binding.scope is facts.names.module


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
    is_mentioned = any(facts.is_code(at) for at in facts.tree.hits(bound.encode(), whole_word=True))
    is_free = not is_mentioned and facts.names.visible(bound, scope) is None
    if is_free and not facts.place.declares(facts.namespace, bound):
        return text, RequiredImport(imported, imported, bound)
    if rules.is_whole or rules.rooted:
        return whole, None
    fault = f"`{bound}` means something else in this file"
    return text, RequiredImport(imported, imported, bound, fault=fault)
