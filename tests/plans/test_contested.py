"""A survey tells of a fix that the plan refuses by itself, as preview and apply do."""

from __future__ import annotations

from pathlib import Path

import pytest

RULE = '[[rule]]\nname = "f-g"\nsummary = "s"\nfind = "f(@{x})"\nput = "g(@{x}, \'\u20ac\')"\n'
CODED = """
from yellow_trellis import fix, rule

@rule("f-g", summary="s", find="f(@{x})")
def f_to_g(match, code):
    scope = code.scope(match.node)
    binding = code.facts.names.visible("y", scope)
    yield code.finding(match.node, fixes=[fix("Rename it").rename(binding, "z")])
"""
CASES = {
    "text that is shown": (RULE, 'x = f"{f(1)=}"\n', "utf-8", "shown as text"),
    "an encoding without the character": (RULE, "# coding: latin-1\nx = f(1)\n", "latin-1", "has no character"),
    "a comment": (RULE.replace("f(@{x})", "f(@{x} + @{y})", 1).replace("g(@{x}, ", "g("), "x = f(1 +  # why\n2)\n", "utf-8", "would be lost"),
    "a name that is taken": (CODED, "def g():\n    y, z = 1, 2\n    f(y)\n", "utf-8", "`z`"),
    "a name of a template that means another thing": (
        RULE.replace(", '\u20ac'", ""), "def h(g):\n    return f(g)\n", "utf-8", "`g`",
    ),
    "a name that is bound no more": (
        RULE.replace("f(@{x})", "y = @{x}").replace("g(@{x}, '\u20ac')", "z = @{x}"),
        "def h():\n    y = 1\n    return y\n", "utf-8", "`y` would still be used",
    ),
    "what may stand in some places only": (
        RULE.replace("g(@{x}, '\u20ac')", "await g(@{x})"), "def h():\n    x = f(1)\n", "utf-8",
        "does not compile",
    ),
    "a name by meaning that is not there": (
        RULE.replace("g(@{x}, '\u20ac')", "@<b.gone>(@{x})"), "import b\nf(1)\n", "utf-8", "no `gone`",
    ),
    "code that the parser groups wrongly": (
        RULE.replace("f(@{x})", "@{x} ^ @{y}").replace("g(@{x}, '\u20ac')", "g(@{x}, @{y})"),
        "x = 1 ^ 2 & 3\n", "utf-8", "the compiler reads the code there as another",
    ),
    "code that does not parse": (RULE, "def h(:\n    f(1)\n", "utf-8", "does not parse"),
}


@pytest.mark.parametrize("kind", CASES)
def test_a_survey_tells_what_a_preview_refuses(tmp_path: Path, ytr, kind: str) -> None:
    rule, code, codec, reason = CASES[kind]
    name = "r.py" if rule is CODED else "r.toml"
    (tmp_path / name).write_text(rule, "utf-8")
    (tmp_path / "a.py").write_bytes(code.encode(codec))
    (tmp_path / "b.py").write_text("", "utf-8")
    preview, survey = (
        ytr(command, "--rules", name, "--format", "json", "--with-review", "a.py").json
        for command in ("preview", "survey")
    )
    (fate,) = preview["fates"]
    assert fate["state"] == "refused" and reason in fate["reason"]
    assert [one["reason"] for one in survey["conflicts"]] == [
        one["reason"] for one in preview["conflicts"]
    ]
    assert reason in survey["conflicts"][0]["reason"]
