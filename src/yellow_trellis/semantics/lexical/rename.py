"""Giving a binding another name in a language with block scopes, or the reason why not."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from yellow_trellis.semantics.lexical.scope_reader import LexicalScope
from yellow_trellis.semantics.renaming import Renaming
from yellow_trellis.semantics.scope import Binding, Occurrence, Scope

Write = Callable[[Occurrence, str, Renaming], None]
"""Adds the edit that gives the name at one place, as the syntax there wants it."""


def rename_all(binding: Binding, new: str, done: Renaming, write: Write) -> None:
    """Add to `done` what gives `binding` the name `new` in its file, or why that cannot be.

    Arguments: `write` adds the edit for one place.
    """
    if reason := clash_of(binding, new):
        done.refuse(reason)
        done.put(binding.occurrences[0].span, new)  # what was wanted, to be shown
        return
    for occurrence in binding.occurrences:
        write(occurrence, new, done)


def clash_of(binding: Binding, new: str) -> str:
    """Return why `binding` cannot be called `new` for what other names mean; empty if it can.

    That is so where the new name is taken in its scope, where code inside would then reach the
    binding instead of what it means, where an inner scope would come in between, and where code
    reaches names by their texts.
    """
    home, old = binding.scope, binding.name
    if home.binds(new):
        taken = next(o for o in Binding(home, new).occurrences if o.use == "bind")
        return f"`{new}` is taken: it is bound at {taken.place}"
    for outer in _around(home):
        for user in outer.users.get(new, ()):
            if any(scope is home for scope in (user, *_around(user))):
                return f"`{new}` means something else at {_place(user, new)}"
    for user in home.users.get(old, ()):
        for between in (user, *_around(user)):
            if between is home:
                break
            if between.binds(new):
                return f"`{new}` is taken in between, at {_place(between, new)}"
    for scope in home.walk():
        if isinstance(scope, LexicalScope) and scope.dynamic:
            return f"{scope.dynamic}: {scope.tree.source.place(scope.start)}"
    tree = home.tree
    for span in tree.broken:
        for at in tree.hits(old.encode("utf-8"), span, whole_word=True):
            return f"the code at {tree.source.place(at)} does not parse and may mean it"
    return ""


def _around(scope: Scope) -> Iterator[Scope]:
    above = scope.parent
    while above is not None:
        yield above
        above = above.parent


def _place(scope: Scope, name: str) -> str:
    starts = [start for start, _, _, _ in scope.symbols[name].places()]
    return str(scope.tree.source.place(min(starts)))
