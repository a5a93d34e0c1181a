"""Scans of the bytes of a Python file for what it imports and mentions, without a parse.

A code base has thousands of files, and most questions about them need a few words of each. What is
found here is only ever too much: it decides which files to look into.
"""

from __future__ import annotations

import re
from collections.abc import Iterator

_FROM = re.compile(
    rb"^[ \t]*from[ \t]+([.\w]+)[ \t]+import[ \t]*(\([^)]*\)|(?:[^\n\\#]|\\\r?\n)*)", re.MULTILINE
)
_IMPORT = re.compile(rb"^[ \t]*import[ \t]+([^\n#;\\]*)", re.MULTILINE)
_ATTRIBUTE = re.compile(rb"\.[ \t]*(\w+)")
_DOTTED = re.compile(rb"[\"']((?:\w+\.)+\w+)[\"']")
_NAME = re.compile(rb"([^\W\d]\w*|\*)(?:\s+as\s+\w+)?\s*(?:,|$|\))|#[^\n]*")


def names_from(data: bytes, package: str) -> Iterator[tuple[str, list[str]]]:
    """Yield modules from which a file of `package` imports names, each with those names."""
    for match in _FROM.finditer(data) if b"import" in data else ():
        text = match[1].decode("utf-8", "replace")
        module = text.lstrip(".")
        level = len(text) - len(module)
        if level:
            parts = package.split(".")
            above = parts[: len(parts) - level + 1]
            module = ".".join([*above, *filter(None, [module])])
        names = [n[1].decode("utf-8", "replace") for n in _NAME.finditer(match[2]) if n[1]]
        yield module, names


def imported_modules(data: bytes) -> Iterator[str]:
    """Yield the modules that a file imports as such."""
    for match in _IMPORT.finditer(data):
        for part in match[1].decode("utf-8", "replace").split(","):
            yield part.split(" as ")[0].strip()


def attribute_words(data: bytes) -> set[bytes]:
    """Return the words that stand behind a dot."""
    return set(_ATTRIBUTE.findall(data))


def quoted_names(data: bytes) -> Iterator[str]:
    """Yield the dotted names in quotes, and what they start with: ``patch("a.b.c")``."""
    for text in _DOTTED.findall(data):
        parts = text.decode("utf-8", "replace").split(".")
        yield from (".".join(parts[:count]) for count in range(2, len(parts) + 1))


def mention_of(name: str) -> re.Pattern[bytes]:
    """Return what is found in code in which `name` stands behind a dot or in quotes."""
    escaped = re.escape(name.encode("utf-8"))
    return re.compile(rb"\.\s*" + escaped + rb"\b|[\"']" + escaped + rb"[\"']")
