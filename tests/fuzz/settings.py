"""Random configurations and rule files: each is used, or refused with a message."""

from __future__ import annotations

import random
import shutil
from pathlib import Path

from yellow_trellis.errors import TrellisError
from yellow_trellis.project.file_options import FileFilter
from yellow_trellis.project.settings import settings_for
from yellow_trellis.runs.rule_source import RulesSpec
from yellow_trellis.runs.run_options import Limits, RunOptions
from yellow_trellis.runs.runner import run

_VALUES = [
    *('"f(@{x})"', '"r"', "true", "3", "-1", "1e400", "nan", "[]", "{}", '["a", "b"]', '[{}]', "''"),
    *('{x = 1}', '[{hole = "x", text = "(a+)+$"}]', '[{hole = "x", kind = "call"}]', "2026-01-01"),
    *('"@{x"', '"@{x like (}"', '"@{x*}"', '"error"', '"never"', '"../x"', '"/etc"', '"a\\u0000b"'),
    *("9" * 30, "9" * 5000, '"' + "f(" * 400 + '"', "[" * 400 + "]" * 400, '"\\ud800"', '"é"'),
    *('[{within = "def @{f}(): @{b*}"}]', '[{none-of = [{has = "g()"}]}]', '"**/*"', '["!*", "*/"]'),
]
_FIT = {
    "find": ['"f(@{x})"', '"f(@{x*})"', '"@{x: call}"', '"@{x like f.*}"', '"f(@{_}, x=@{y})"', '"g(2)"'],
    "put": ['"g(@{x})"', '"@{x}"', '""', '"@{x}("', '"f(@{x}, @{x})"', '"(@{x})"'],
    "where": [
        '[{hole = "x", text = "[0-9]+"}]',
        '[{hole = "x", kind = "number"}]',
        '[{none-of = [{has = "g(@{_})"}]}]',
        '[{within = "f(@{a*})"}]',
        '[{count = "x", least = 1}]',
        '[{hole = "x", text = "(.*)*$"}]',
    ],
    "message": ['"no @{x}"', '"m"'],
    "level": ['"error"', '"note"', '"off"'],
    "tags": ['["a"]', "[]"],
    "examples": ['[{code = "f(1)", becomes = "g(1)"}]', '[{code = "h(", stays = true}]'],
    "any-order": ["true", "false"],
    "safety": ['"safe"', '"review"'],
    "skip": ['["*.txt"]', '["[a", "**/"]', '["!a.py"]', '["*a*a*a*b"]'],
    "rules": ['["r.toml"]', '["../x"]', '["python-names"]'],
    "paths": ['["."]', '["nowhere"]'],
    "at-most": ["3", "9223372036854775807"],
    "levels": ['{r0 = "error"}', '{x = "y"}'],
    "parts": ['[{paths = ["a*"], levels = {r0 = "off"}}]', "[{}]"],
    "check-syntax": ['{python = "true"}', '{x = "y"}'],
    "python-version": ['"3.9"', '"4"', '"3.99"'],
    "history": ['"h.jsonl"', '"a/../../h"', '"a\\\\b"'],
}
_RULE = ["name", "summary", "find", "put", "where", "message", "level", "tags", "kinds", "safety"]
_MORE = ["language", "options", "examples", "wins-over", "part", "any-order", "help", "no-such"]
_KEYS = [
    *("rules", "paths", "skip", "fail-at", "warnings-as-errors", "at-most", "baseline", "history"),
    *("reasons", "unasked", "python-version", "check-syntax", "levels", "options", "parts", "odd"),
]


def fault_of_settings(seed: int, folder: Path) -> str:
    """Make a random configuration and rule file below `folder`, use them; return what is wrong."""
    dice = random.Random(seed)
    shutil.rmtree(folder, ignore_errors=True)
    folder.mkdir(parents=True)
    (folder / "a.py").write_text("f(1)\nf(g(2), x=3)\n")
    rules = folder / f"r{seed}.toml"  # what is read of a file is kept for the process
    rules.write_bytes(_mutated(_rules(dice), dice))
    (folder / "trellis.toml").write_bytes(_mutated(_configuration(dice), dice))
    skip: tuple[str, ...] = ()
    try:
        skip = settings_for(folder).skip
    except TrellisError as wrong:
        if not str(wrong) or len(str(wrong)) > 3000:
            return f"settings {seed}: a message of {len(str(wrong))} characters"
    try:
        scope = FileFilter(skip=skip, skip_from=str(folder / "trellis.toml"))
        run([folder], RulesSpec((str(rules),)), RunOptions(mode="rework", limits=Limits(2, 5), file_filter=scope))
    except TrellisError as wrong:
        if not str(wrong) or len(str(wrong)) > 3000:
            return f"settings {seed}: a message of {len(str(wrong))} characters"
    return ""


def _rules(dice: random.Random) -> str:
    text = ""
    for number in range(dice.randint(0, 3)):
        made = {"name": f'"r{number}"', "summary": '"s"', "find": '"f(@{x})"'}
        for key in dice.sample(_RULE + _MORE, dice.randint(0, 4)):
            made[key] = _value(key, dice)
        text += "[[rule]]\n" + "".join(f"{key} = {value}\n" for key, value in made.items())
    return text


def _value(key: str, dice: random.Random) -> str:
    """Return a value for a key, more often than not one that may stand there."""
    return dice.choice(_FIT[key] if key in _FIT and dice.random() < 0.8 else _VALUES)


def _configuration(dice: random.Random) -> str:
    made = {key: _value(key, dice) for key in dice.sample(_KEYS, dice.randint(0, 4))}
    return "".join(f"{key} = {value}\n" for key, value in made.items())


def _mutated(text: str, dice: random.Random) -> bytes:
    """Return a text as bytes, now and then with some of them changed, lost or doubled."""
    data = text.encode("utf-8", "surrogatepass")
    while data and dice.random() < 0.15:
        at, size = dice.randrange(len(data)), dice.randint(0, 12)
        put = dice.choice([b"", bytes([dice.randrange(256)]), data[at : at + size] * 3, b"\n", b"[["])
        data = data[:at] + put + data[at + size :]
    return data
