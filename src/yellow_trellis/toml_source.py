"""TOML files as people wrote them: what they say, and at which line and column."""

from __future__ import annotations

import re
import sys
from bisect import bisect_right
from collections.abc import Mapping
from functools import cached_property
from itertools import islice
from pathlib import Path
from typing import Any

from yellow_trellis.errors import TrellisError
from yellow_trellis.schema import fault

Key = str | int
"""A key of a table, or the place of a table in a list of tables, from 0."""

_HEADER = re.compile(r"^[ \t]*(\[\[?)([^\[\]\n]+)\]", re.MULTILINE)
_LINE = re.compile(r"^[ \t]*([\w\"'-](?:[\w\"'. -]*[\w\"'-])?)[ \t]*=", re.MULTILINE)
_LONG = re.compile(r"(\"\"\"|''')(.*?)\1", re.DOTALL)
_PART = re.compile(r"\"([^\"]*)\"|'([^']*)'|([\w-]+)")


class TomlFile:
    """A file that was read, with the error class for faults in it."""

    def __init__(self, path: Path, error: type[TrellisError]) -> None:
        """Read the file.

        Arguments: `error` is the kind of mistake that a wrong file is.
        Errors: `error`, for what is no UTF-8 or no TOML.
        """
        if sys.version_info >= (3, 11):  # only for those who have such a file
            import tomllib
        else:
            import tomli as tomllib

        self.path = path
        self._error = error
        try:
            self.text = path.read_text("utf-8")
            self.data: dict[str, Any] = tomllib.loads(self.text)
        except UnicodeDecodeError as wrong:
            raise error(f"{path}: this is no UTF-8 (byte {wrong.start})") from None
        except ValueError as wrong:  # a number of very many digits is no other kind
            raise error(f"{path}: invalid TOML: {wrong}") from None
        except RecursionError:
            raise error(f"{path}: it is nested too deeply to be read") from None
        self._starts: dict[tuple[Key, ...], int] | None = None

    def line(self, *keys: Key) -> int:
        """Return the line, from 1, on which something stands; see `place`."""
        return self.text.count("\n", 0, self._start(keys)) + 1

    def place(self, *keys: Key) -> str:
        """Return file, line and column, from 1, of what the keys lead to from the top.

        What does not stand there itself has the place of the innermost table around it.
        """
        start = self._start(keys)
        column = start - (self.text.rfind("\n", 0, start) + 1) + 1
        return f"{self.path}:{self.line(*keys)}:{column}"

    def wrong(self, reason: str, *keys: Key) -> TrellisError:
        """Return the error about what the keys lead to."""
        return self._error(f"{self.place(*keys)}: {reason}")

    def check(
        self, table: Mapping[str, Any], entry: Mapping[str, str], label: str, *keys: Key
    ) -> None:
        """Refuse a key of `table` that is not `entry`, or whose value is of another kind.

        Arguments: `label` says what the table is, `keys` lead to it from the top.
        """
        if (result := fault(table, entry, label)) is not None:
            key, reason = result
            raise self.wrong(reason, *keys, key)

    def _start(self, keys: tuple[Key, ...]) -> int:
        """Return where something stands, in characters from 0."""
        starts = self._positions()
        entry = len(keys)
        while entry and keys[:entry] not in starts:
            entry -= 1
        start = starts.get(keys[:entry], 0)
        inner = [key for key in keys[entry:] if isinstance(key, str)]
        end = self._end(keys[:entry], start) if inner else start
        for key in inner:  # in an inline table, or nested in what this scan does not know
            word = re.compile(rf"(?<![\w\"'-])[\"']?{re.escape(key)}[\"']?\s*(?=[=.\]])")
            at = word.search(self.text, start, end)
            start = at.start() if at is not None else start
        return start

    def _end(self, table: tuple[Key, ...], start: int) -> int:
        """Return where a table ends that starts there: where one begins that is not inside."""
        if not table:
            return len(self.text)
        after = bisect_right(self._sorted, start, key=_first)
        for begin, keys in islice(self._sorted, after, None):
            if keys[: len(table)] != table:
                return begin
        return len(self.text)

    @cached_property
    def _sorted(self) -> list[tuple[int, tuple[Key, ...]]]:
        return sorted(((start, keys) for keys, start in self._positions().items()), key=_first)

    def _positions(self) -> dict[tuple[Key, ...], int]:
        """Return where headers and keys at the start of a line stand."""
        if self._starts is None:
            text = _LONG.sub(lambda long: re.sub(r"[^\n]", "_", long[0]), self.text)
            self._starts = {}
            table: tuple[Key, ...] = ()
            many: dict[tuple[Key, ...], int] = {}
            marks = [(m.start(), m) for each in (_HEADER, _LINE) for m in each.finditer(text)]
            for start, mark in sorted(marks, key=lambda item: item[0]):
                at = start + len(mark[0]) - len(mark[0].lstrip(" \t"))
                if mark.re is _LINE:
                    self._starts.setdefault((*table, *_parts(mark[1])), at)
                    continue
                table = self._table(_parts(mark[2]), many, one_of_many=mark[1] == "[[")
                self._starts.setdefault(table, at)
        return self._starts

    @staticmethod
    def _table(
        parts: list[str], many: dict[tuple[Key, ...], int], *, one_of_many: bool
    ) -> tuple[Key, ...]:
        """Return the keys that lead to the table of a header."""
        keys: tuple[Key, ...] = ()
        for number, part in enumerate(parts):
            keys = (*keys, part)
            if one_of_many and number == len(parts) - 1:
                many[keys] = many.get(keys, -1) + 1
            if keys in many:
                keys = (*keys, many[keys])
        return keys


def _first(results: tuple[int, tuple[Key, ...]]) -> int:
    return results[0]


def _parts(dotted: str) -> list[str]:
    return [a or b or c for a, b, c in _PART.findall(dotted)]
