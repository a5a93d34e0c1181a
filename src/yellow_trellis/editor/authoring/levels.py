"""The change of a configuration that gives a rule another level."""

from __future__ import annotations

import re

from yellow_trellis.findings.finding import Level
from yellow_trellis.project.locate import OWN, TOOL


def with_level(text: str, file_name: str, rule: str, level: Level) -> tuple[int, int, str]:
    """Return where the text of a configuration changes, in characters, and the new text.

    Arguments: `file_name` tells ``trellis.toml`` from ``pyproject.toml``.
    """
    top = "" if file_name == OWN else f"tool.{TOOL}."
    entry = f'{rule} = "{level}"'
    header = re.search(rf"^\[{re.escape(top)}levels\][ \t]*(?:#.*)?$", text, re.MULTILINE)
    if header is not None:
        end = re.compile(r"^\[", re.MULTILINE).search(text, header.end())
        body = text[header.end() : end.start() if end is not None else len(text)]
        there = re.search(rf"^{re.escape(rule)}[ \t]*=.*$", body, re.MULTILINE)
        if there is not None:
            return header.end() + there.start(), header.end() + there.end(), entry
        return header.end(), header.end(), f"\n{entry}"
    inline = re.search(r"^levels[ \t]*=[ \t]*\{", text, re.MULTILINE)
    if inline is not None:
        there = re.compile(rf'(?<=[{{,\s]){re.escape(rule)}[ \t]*=[ \t]*"[^"]*"').search(
            text, inline.end() - 1, text.find("}", inline.end())
        )
        if there is not None:
            return there.start(), there.end(), entry
        separator = "" if text[inline.end() :].lstrip().startswith("}") else ","
        return inline.end(), inline.end(), f" {entry}{separator}"
    before = "" if not text or text.endswith("\n") else "\n"
    return len(text), len(text), f"{before}\n[{top}levels]\n{entry}\n"
