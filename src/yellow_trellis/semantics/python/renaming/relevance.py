"""A first look at the text of a file: whether a renaming has to look into it."""

from __future__ import annotations

import re
from functools import cache

from yellow_trellis.semantics import RenameTarget

_WORDS = (
    *("__annotations__", "__dict__", "__members__", "__name__", "__qualname__", "__slots__"),
    *("Namespace", "SimpleNamespace", "attrgetter", "delattr", "dir", "format", "get_type_hints"),
    *("getattr", "getfullargspec", "getmembers", "globals", "hasattr", "import_module"),
    *("methodcaller", "name", "patch", "print", "setattr", "signature", "vars"),
)
_SEES = re.compile(rf"(?<!\w)(?:{'|'.join(_WORDS)})(?!\w)|[Mm]ock".encode())
"""Words of code that may see names as it runs."""
_FIELD_WORDS = ("_?asdict", "_fields", "fields", "vars", "__dict__", "__annotations__")
_SEES_FIELDS = re.compile(rf"(?<!\w)(?:{'|'.join(_FIELD_WORDS)})(?!\w)".encode())


def may_see_name(symbol: RenameTarget, new: str, data: bytes) -> bool:
    """Return whether code that need not say a name may see it as it runs, or be in its way.

    Arguments: `data` is the text of a file in UTF-8, or the words of one.
    """
    owner = symbol.name.rpartition(".")[0] if not symbol.argument else symbol.name
    last = owner.rpartition(".")[2]
    says_owner = last.encode("utf-8") in data
    if symbol.argument:
        return says_owner and (new.encode("utf-8") in data or b"signature" in data)
    if last[:1].isupper() and _SEES_FIELDS.search(data) is not None:
        return True
    if _SEES.search(data) is None:
        # a member of an enumeration may be asked for by any text
        return says_owner and symbol.word.isupper()
    return says_owner or _piece_of(symbol.word).search(data) is not None


@cache
def _piece_of(word: str) -> re.Pattern[bytes]:
    """Return a regular expression for the beginnings and ends of a name, as words of their own.

    A program may put the name together of them.
    """
    sizes = range(2, len(word))
    pieces = [*(word[:n] for n in sizes), *(word[len(word) - n :] for n in sizes)]
    texts = "|".join(map(re.escape, pieces)) or "(?!)"
    return re.compile(rf"(?<!\w)(?:{texts})(?!\w)".encode())
