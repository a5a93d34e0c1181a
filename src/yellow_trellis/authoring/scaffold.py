"""The start of a rule: a file with a pattern, a message and one example, and where to go on."""

from __future__ import annotations

import json
from typing import NamedTuple


class Skeleton(NamedTuple):
    """What is known of a rule to be."""

    name: str
    find: str
    code: str
    """The example: code that the pattern finds."""
    origin: str = ""
    """Where the example comes from."""
    summary: str = ""
    put: str | None = None
    becomes: str | None = None
    language: str = "python"


def rule_file(made: Skeleton) -> str:
    """Return the text of a TOML file with the rule."""
    put = (
        f"put = {_text(made.put)}"
        if made.put is not None
        else _comment(f"put = {_text(made.find)}")
    )
    becomes = f"becomes = {_text(made.becomes)}\n" if made.becomes is not None else ""
    origin = f"  # from {made.origin}" if made.origin else ""
    language = f'language = "{made.language}"\n' if made.language != "python" else ""
    summary = made.summary or "Say in one sentence what is wrong with it, and what is right."
    return f"""[[rule]]
name = "{made.name}"
summary = {_text(summary)}
{language}level = "warning"

# Code with holes: @{{x}} takes one thing, @{{x*}} any number; a name twice is the same code twice.
# `ytr seek` tries a pattern, `ytr why` says where pattern and code part.
find = {_text(made.find)}

# What stands there afterwards; with it the rule offers a fix.
{put}

# What must hold of what a hole took, or of the code around it.
# where = [{{ hole = "x", kind = "call" }}, {{ inside = "class @{{_}}: @{{_*}}" }}]

# Code that the rule finds, and beside it what becomes of it. `ytr prove` runs them.
[[rule.examples]]{origin}
code = {_text(made.code)}
{becomes}
# Code that it must leave alone.
# [[rule.examples]]
# code = ""
# stays = true
"""


def _comment(text: str) -> str:
    return "\n".join(f"# {line}".rstrip() for line in text.split("\n"))


def _text(text: str) -> str:
    if "\n" not in text or "'''" in text or "\r" in text:
        return json.dumps(text, ensure_ascii=False)
    return f"'''\n{text}\n'''"
