"""Scans of the bytes of a Python file for what it imports and mentions, without a parse.

A code base has thousands of files, and most questions about them need a few words of each. What is
found here is only ever too much: it decides which files to look into.
"""

from __future__ import annotations

import re
from collections.abc import Iterable
from itertools import chain

from yellow_trellis.semantics.modules import Rows, Scan

_FROM = re.compile(
    rb"^[ \t]*from[ \t]+([.\w]+)[ \t]+import[ \t]*(\([^)]*\)|(?:[^\n\\#]|\\\r?\n)*)", re.MULTILINE
)
_IMPORT = re.compile(rb"^[ \t]*import[ \t]+([^\n#;\\]*)", re.MULTILINE)
_ATTRIBUTE = re.compile(rb"\.[ \t]*(\w+)")
_DOTTED = re.compile(rb"[\"']((?:\w+\.)+\w+)[\"']")
_NAME = re.compile(rb"([^\W\d]\w*|\*)(?:\s+as\s+\w+)?\s*(?:,|$|\))|#[^\n]*")


def imports_in(data: bytes) -> Rows:
    """Return the imports of a file: of each the module as written, and the names taken from it.

    What is imported as such has no names, and stands behind an empty word.
    """
    if b"import" not in data:
        return ()
    results = []
    for match in _FROM.finditer(data):
        names = [n[1].decode("utf-8", "replace") for n in _NAME.finditer(match[2]) if n[1]]
        results.append((match[1].decode("utf-8", "replace"), *names))
    for match in _IMPORT.finditer(data):
        for part in match[1].decode("utf-8", "replace").split(","):
            results.append(("", part.split(" as ")[0].strip()))
    return tuple(dict.fromkeys(results))


def absolute(module: str, package: str) -> str:
    """Return the dotted name of a module that an import in a file of `package` says."""
    name = module.lstrip(".")
    level = len(module) - len(name)
    if not level:
        return name
    parts = package.split(".")
    above = parts[: len(parts) - level + 1]
    return ".".join([*above, *filter(None, [name])])


def scan_for_imports_of(names: Iterable[str]) -> Scan:
    """Return a scan for those of the dotted `names` that an import says, or goes through."""
    words = "|".join(re.escape(name) for name in sorted(names, key=len, reverse=True)).encode()
    # each starts with a literal, so that it is looked for as fast as one
    patterns = [re.compile(word + rb"[ \t]+(" + words + rb")\b") for word in (b"from", b"import")]

    def scan(data: bytes) -> Rows:
        matches = chain.from_iterable(pattern.finditer(data) for pattern in patterns)
        results = {match[1] for match in matches if _starts_line(data, match.start())}
        return tuple((name.decode(),) for name in sorted(results))

    return scan


def _starts_line(data: bytes, at: int) -> bool:
    """Return whether only space stands before byte `at` in its line."""
    return not data[data.rfind(b"\n", 0, at) + 1 : at].strip(b" \t")


def scan_for_attributes(words: frozenset[bytes]) -> Scan:
    """Return a scan for those of `words` that stand behind a dot."""

    def scan(data: bytes) -> Rows:
        results = words.intersection(_ATTRIBUTE.findall(data))
        return tuple((word.decode("utf-8"),) for word in sorted(results))

    return scan


def scan_for_patches(words: Iterable[str]) -> Scan:
    """Return a scan for those of `words` that may be set or deleted, as attribute or by text."""
    choice = "|".join(re.escape(word) for word in words).encode("utf-8")
    patterns = [
        re.compile(rb"\.\s*(" + choice + rb")\b(?!\s*[.(\[])"),
        re.compile(rb"\b(?:set|del)attr\([^\n]*[\"'](" + choice + rb")[\"']"),
    ]

    def scan(data: bytes) -> Rows:
        matches = chain.from_iterable(pattern.finditer(data) for pattern in patterns)
        results = {match[1] for match in matches} if choice else set()
        return tuple((word.decode("utf-8"),) for word in sorted(results))

    return scan


def quoted_names(data: bytes) -> Rows:
    """Return the dotted names in quotes, and what they start with: ``patch("a.b.c")``."""
    results: dict[tuple[str, ...], None] = {}
    for text in _DOTTED.findall(data):
        parts = text.decode("utf-8", "replace").split(".")
        results.update(((".".join(parts[:count]),), None) for count in range(2, len(parts) + 1))
    return tuple(results)


def mentions(data: bytes, name: str) -> bool:
    """Return whether `name` stands behind a dot or in quotes in code.

    The word is sought first: a pattern that begins with a dot stops at each dot of the file.
    """
    word = name.encode("utf-8")
    at = data.find(word)
    while at >= 0:
        end = at + len(word)
        if data[at - 1 : at] in (b'"', b"'") and data[end : end + 1] in (b'"', b"'"):
            return True
        before = data[max(at - _FARTHEST, 0) : at].rstrip()
        if before.endswith(b".") and not _IN_WORD.match(data, end):
            return True
        at = data.find(word, end)
    return False


_FARTHEST = 1000
"""Bytes of space that may stand between a dot and a name."""
_IN_WORD = re.compile(rb"[\w\x80-\xff]")
