"""HTML fragments for notebooks: tables, and diffs with their lines marked."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from itertools import islice

_MOST = 100
"""Rows of a table that are shown."""


class Diff(str):
    """A unified diff: a string, shown with its lines marked in a notebook."""

    __slots__ = ()

    def _repr_html_(self) -> str:
        return f"<pre>{''.join(map(_line, self.splitlines(keepends=True)))}</pre>"


def _escaped(text: str) -> str:
    from html import escape  # a module with all entities in it, which few runs need

    return escape(text)


def _line(line: str) -> str:
    text = _escaped(line)
    if line.startswith("+") and not line.startswith("+++"):
        return f"<ins>{text}</ins>"
    if line.startswith("-") and not line.startswith("---"):
        return f"<del>{text}</del>"
    return text


def table(header: Sequence[str], rows: Iterable[Sequence[object]]) -> str:
    """Return an HTML table of at most a hundred rows; all text is escaped."""
    cells = iter(rows)
    body = "".join(_row("td", row) for row in islice(cells, _MOST))
    extra = sum(1 for _ in cells)
    tail = f"<p>and {extra:,} more</p>" if extra else ""
    return f"<table>{_row('th', header)}{body}</table>{tail}"


def _row(tag: str, cells: Sequence[object]) -> str:
    return f"<tr>{''.join(f'<{tag}>{_escaped(str(cell))}</{tag}>' for cell in cells)}</tr>"
