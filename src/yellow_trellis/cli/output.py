"""Lines with colour where somebody sees it, and nothing but text elsewhere."""

from __future__ import annotations

import os
from typing import Union

import click

Part = Union[str, tuple[str, str]]
"""Text, or text and the style it has of its own."""


def styled(*parts: Part, style: str = "") -> str:
    """Return a text in a style, such as ``bold yellow``."""
    return "".join(
        _styled(*part) if isinstance(part, tuple) else _styled(part, style) for part in parts
    )


def _styled(text: str, style: str) -> str:
    if not style or not text:
        return text
    *weight, colour = style.split()
    if colour == "bold":
        weight, colour = ["bold"], ""
    return click.style(text, fg=colour or None, bold=bool(weight) or None)


class Output:
    """A stream for lines: results, or notes on standard error."""

    def __init__(self, *, notes: bool = False) -> None:
        self._notes = notes

    def print(self, text: str = "") -> None:
        """Print a line, without its styles where they would not show or are not wanted."""
        wanted = None
        if os.environ.get("NO_COLOR"):
            wanted = False
        elif os.environ.get("FORCE_COLOR"):
            wanted = True
        click.echo(text, err=self._notes, color=wanted)
