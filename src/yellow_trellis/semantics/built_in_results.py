"""The results of functions and methods of the language itself that are always of one class.

Source: the documentation of the built-in functions and of the methods of texts in Python.
"""

from __future__ import annotations

import re

_TEXT = re.compile(r"builtins\.(?P<kind>str|bytes)(?:\(\))?\.(?P<method>\w+)")
_SAME = frozenset(
    """capitalize casefold center expandtabs format format_map join ljust lower lstrip removeprefix
    removesuffix replace rjust rstrip strip swapcase title translate upper zfill""".split()
)
_ROWS = frozenset({"rsplit", "split", "splitlines"})
_COUNTS = frozenset({"count", "find", "index", "rfind", "rindex"})
_FUNCTIONS = {
    **dict.fromkeys(("ascii", "bin", "chr", "format", "hex", "input", "oct", "repr"), "str"),
    **dict.fromkeys(("hash", "id", "len", "ord"), "int"),
    **dict.fromkeys(("all", "any", "callable", "hasattr", "isinstance", "issubclass"), "bool"),
    "sorted": "list",
}


def result_of(name: str) -> tuple[str, str] | None:
    """Return the paths of what calling a built-in gives, and of what that holds, which may be none.

    None for what is not always of one class. Arguments: `name` is a dotted name, in which ``()``
    stands for an instance: ``builtins.str().strip``.
    """
    module, _, last = name.rpartition(".")
    if module == "builtins" and last in _FUNCTIONS:
        return f"builtins.{_FUNCTIONS[last]}()", ""
    match = _TEXT.fullmatch(name)
    if match is None:
        return None
    kind, method = match["kind"], match["method"]
    if method in _SAME:
        return f"builtins.{kind}()", ""
    if method in _ROWS:
        return "builtins.list()", f"builtins.{kind}()"
    if method in _COUNTS:
        return "builtins.int()", ""
    if method in ("decode", "encode"):
        return ("builtins.bytes()" if method == "encode" else "builtins.str()"), ""
    return None
