"""The order in which classes are asked for a member: the C3 linearization, as Python has it."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator


def merged(lines: list[list[str | None]]) -> Iterator[str | None]:
    """Yield the classes of some lines in one order that agrees with all of them.

    The next class is the first that heads a line and stands behind the head of none. Where there is
    none, what follows is not known: None stands for that, as in `lines` for a class not known.
    Source: K. Barrett and others, A Monotonic Superclass Linearization for Dylan, 1996.
    """
    behind = Counter(name for line in lines for name in line[1:])
    while lines := [line for line in lines if line]:
        first = next((line for line in lines if line[0] is None or not behind[line[0]]), None)
        if first is None:
            yield None
            return
        name = first[0]
        yield name
        for line in [first] if name is None else [line for line in lines if line[0] == name]:
            del line[0]
            if line:
                behind[line[0]] -= 1
