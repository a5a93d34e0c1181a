"""The start of a rule: a file with a pattern, a message and one example, and where to go on."""

from __future__ import annotations

import json
from typing import NamedTuple

from yellow_trellis.languages import DEFAULT


class Skeleton(NamedTuple):
    """The data for a new rule."""

    name: str
    find: str
    code: str
    """The example: code that the pattern finds."""
    origin: str = ""
    """Where the example comes from."""
    summary: str = ""
    put: str | None = None
    becomes: str | None = None
    language: str = DEFAULT
    part: str | None = None
    """The part of the language that the pattern has to be said to be."""


def rule_file(skeleton: Skeleton) -> str:
    """Return the text of a TOML file with the rule."""
    template = (
        f"put = {_text(skeleton.put)}"
        if skeleton.put is not None
        else _comment(f"put = {_text(skeleton.find)}")
    )
    becomes = f"becomes = {_text(skeleton.becomes)}\n" if skeleton.becomes is not None else ""
    origin = f"  # from {skeleton.origin}" if skeleton.origin else ""
    language = f'language = "{skeleton.language}"\n' if skeleton.language != DEFAULT else ""
    language += f'part = "{skeleton.part}"\n' if skeleton.part is not None else ""
    summary = skeleton.summary or "Say in one sentence what is wrong with it, and what is right."
    return f"""[[rule]]
name = "{skeleton.name}"
summary = {_text(summary)}
{language}level = "warning"

# Code with holes: @{{x}} takes one thing, @{{x*}} any number; a name twice is the same code twice.
# `ytr seek` tries a pattern, `ytr why` says where pattern and code part.
find = {_text(skeleton.find)}

# What stands there afterwards; with it the rule offers a fix.
{template}

# What must hold of what a hole took, or of the code around it.
# where = [{{ hole = "x", kind = "call" }}, {{ within = "class @{{_}}: @{{_*}}" }}]

# Code that the rule finds, and beside it what becomes of it. `ytr prove` runs them.
[[rule.examples]]{origin}
code = {_text(skeleton.code)}
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
