"""Why a binding cannot have another name in a language with block scopes."""

from __future__ import annotations

from yellow_trellis.semantics.lexical.scope_reader import LexicalScope
from yellow_trellis.semantics.scope import Binding


def clash_of(binding: Binding, new: str) -> str:
    """Return why `binding` cannot be called `new` for what other names mean; empty if it can.

    That is so where the new name is taken in its scope, where code inside would then reach the
    binding instead of what it means, where an inner scope would come in between, and where code
    reaches names by their texts.
    """
    home, old = binding.scope, binding.name
    if home.binds(new):
        clash = next(o for o in Binding(home, new).occurrences if o.use == "bind")
        return f"`{new}` is taken: it is bound at {clash.place}"
    for outer in home.around():
        for user in outer.users.get(new, ()):
            if user is home or home in user.around():
                return f"`{new}` means something else at {user.place_of(new)}"
    for user in home.users.get(old, ()):
        for between in (user, *user.around()):
            if between is home:
                break
            if between.binds(new):
                return f"`{new}` is taken in between, at {between.place_of(new)}"
    for scope in home.walk():
        if isinstance(scope, LexicalScope) and scope.dynamic:
            return f"{scope.dynamic}: {scope.tree.source.place(scope.start)}"
    tree = home.tree
    for span in tree.broken:
        for at in tree.hits(old.encode("utf-8"), span, whole_word=True):
            return f"the code at {tree.source.place(at)} does not parse and may mean it"
    return ""
