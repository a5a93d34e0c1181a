"""Random rules: all of the notation in find and put, and chains of verbs in one fix."""

from __future__ import annotations

import random

HOLES = {name: f"hole_{name}" for name in ("a", "b", "c", "i", "m", "n", "r", "t", "x", "y")}

# Each: a pattern, the holes for one expression, for several, and for statements.
EXPRESSIONS = [
    ("f(@{x})", "x", "", ""),
    ("f(@{x}, @{y})", "xy", "", ""),
    ("f(@{a*})", "", "a", ""),
    ("f(@{x}, @{a*})", "x", "a", ""),
    ("g(@{a+}, @{x})", "x", "a", ""),
    ("@{x} + @{y}", "xy", "", ""),
    ("@{x} * @{y}", "xy", "", ""),
    ("@{x} and @{y}", "xy", "", ""),
    ("@{x} or @{y}", "xy", "", ""),
    ("not @{x}", "x", "", ""),
    ("-@{x}", "x", "", ""),
    ("@{x} in @{y}", "xy", "", ""),
    ("@{x} < @{y}", "xy", "", ""),
    ("@{x}.m(@{a*})", "x", "a", ""),
    ("@{x}[@{i}]", "xi", "", ""),
    ("@{x} if @{t} else @{y}", "xty", "", ""),
    ("[@{a*}]", "", "a", ""),
    ("(@{a+})", "", "a", ""),
    ("[*@{x}, @{y}]", "xy", "", ""),
    ("{@{x}: @{y}}", "xy", "", ""),
    ("lambda: @{x}", "x", "", ""),
    ("(@{n} := @{x})", "x", "", ""),
    ("g(@{x} for @{n} in @{y})", "xy", "", ""),
    ("h(@{x}, k=@{y})", "xy", "", ""),
    ("@{x: call}.m(@{a*})", "x", "a", ""),
]
STATEMENTS = [
    ("if @{t}:\n    @{b+}", "t", "", "b"),
    ("if @{t}:\n    @{b+}\nelse:\n    @{c+}", "t", "", "bc"),
    ("for @{n} in @{x}:\n    @{b+}", "x", "", "b"),
    ("while @{t}:\n    @{b+}", "t", "", "b"),
    ("with @{x}:\n    @{b+}", "x", "", "b"),
    ("with @{x} as @{n}:\n    @{b+}", "x", "", "b"),
    ("try:\n    @{b+}\nfinally:\n    @{c+}", "", "", "bc"),
    ("try:\n    @{b+}\nexcept @{x} as @{n}:\n    @{c+}", "x", "", "bc"),
    ("if @{t}:\n    @{n} = @{x}\n    @{b*}", "tx", "", "b"),
    ("def @{n}(self):\n    @{m} = @{x}\n    @{b*}", "x", "", "b"),
    ("with @{x}:\n    @{b*}\n    @{n} = @{y}", "xy", "", "b"),
    ("@{n} = @{x}", "nx", "", ""),
    ("@{n} = @{x}\n@{m} = @{y}", "xynm", "", ""),
    ("@{n} += @{x}", "nx", "", ""),
    ("return @{x}", "x", "", ""),
    ("assert @{x}, @{y}", "xy", "", ""),
    ("raise @{x}", "x", "", ""),
    ("del @{x}", "x", "", ""),
    ("f(@{x})\ng(@{y})", "xy", "", ""),
]
_PLAIN = [
    *("{x}", "({x}, 1)", "{x}, 1", "new or {x}", "{x} and new", "new := {x}", "{x}.attr", "-{x}"),
    *("lambda: {x}", "lambda q: {x}", "{x} if new else 2", "new if {x} else 3", "g({x})"),
    *("(yield {x})", "f'{{{x}}}'", "not {x}", "{x} in new", "{x}[0]", "new[{x}]", "{{{x}: 1}}"),
    *("[{x}, 2]", "{x} + 1", "2 * {x}", "{x} ** 2", "2 ** {x}", "{x} < new", "new({x}, k={x})"),
    *("({x})", "new(*{x})", "{x}.m()", "{x}[1:2]", "[q for q in {x}]", "new(q for q in {x})"),
    *("new is {x}", "~{x}", "await_({x})", "'a' 'b' + {x}", "({x} for q in new)", "new(k={x})"),
    *("new(\n    {x},\n)", ""),
]
_SEVERAL = [
    *("new({r})", "[{r}]", "({r}, 1)", "new(1, {r})", "new({r}, 1)", "new({r}, k=1)", "[1, {r}]"),
    "{{{r}, 1}}",
]
_BLOCKS = [
    *("{b}", "if new:\n    {b}", "new()\n{b}", "{b}\nnew()", "while new:\n    {b}\n    new()"),
    *("try:\n    {b}\nfinally:\n    new()", "with new as q:\n    {b}", "if not new: pass\nelse:\n    {b}"),
    "for q in new:\n    new(q)\n    {b}",
    "if new:\n    with new as q:\n        {b}",
    "class new:\n    def q(self): ...\n    while new:\n        {b}",
]
_HEADS = ["with {}", "with {} as q", "for q in {}", "while {}", "if {}", "with new, {}"]
_SIMPLE = [
    *("new({x})", "new = {x}", "new({x})\nnew2 = 1", "if {x}:\n    new()", "{x}", "return {x}"),
    *("assert {x}", "new += {x}", "new: int = {x}", "raise {x}", "yield {x}", "del {x}, new"),
    "# told\nnew({x})",
]


_TOGETHER = [
    "@{n}, @{m} = @{x}, @{y}", "@{n} = @{m} = @{x}, @{y}", "@{m} = @{y}\n@{n} = @{x}",
    "new(@{x}, @{y})", "@{n} = new(\n    @{x},\n    @{y},\n)", "if new:\n    @{n} = @{x}\n    @{m} = @{y}",
]
"""What comes for two assignments in a row."""
_WHOLE = ["@{n} = @{x}", "@{n} += @{x}", "del @{x}", "assert @{x}, @{y}", "raise @{x}", "return @{x}"]
"""Statements that go."""


def _hole(name: str, pattern: str) -> str:
    for mark in ("*", "+", "?"):
        if f"@{{{name}{mark}}}" in pattern:
            return f"@{{{name}{mark}}}"
    return f"@{{{name}}}"


def random_rule(rng: random.Random) -> tuple[str, str]:
    """Return a pattern and a template for it."""
    if rng.random() < 0.05:
        return rng.choice(_WHOLE), ""
    pattern, ones, several, bodies = rng.choice(EXPRESSIONS if rng.random() < 0.7 else STATEMENTS)
    forms: list[str] = []
    if bodies:
        forms += [f.replace("{b}", _hole(rng.choice(bodies), pattern)) for f in _BLOCKS]
        if len(bodies) == 2 and rng.random() < 0.5:
            one, other = (_hole(name, pattern) for name in bodies)
            forms = [f"if new:\n    {other}\nelse:\n    {one}", f"{one}\n{other}"]
            forms += [f"try:\n    {one}\nexcept new:\n    {other}\nelse:\n    {other}"]
        if ones and rng.random() < 0.7:
            hole = _hole(rng.choice(ones), pattern)
            body = _hole(rng.choice(bodies), pattern)
            forms = [f"new({hole})\n{form}" for form in forms]
            forms += [f"{head.format(hole)}:\n    {body}" for head in _HEADS]
        return pattern, rng.choice(forms)
    if ones == "xynm" and rng.random() < 0.5:
        return pattern, rng.choice(_TOGETHER)
    is_statement = (pattern, ones, several, bodies) in STATEMENTS
    for name in ones:
        hole = _hole(name, pattern)
        forms += [f.replace("{x}", hole).replace("{{", "{").replace("}}", "}") for f in _PLAIN]
        if is_statement:
            forms += [f.replace("{x}", hole) for f in _SIMPLE] * 3
    for name in several:
        hole = _hole(name, pattern)
        forms += [f.replace("{r}", hole).replace("{{", "{").replace("}}", "}") for f in _SEVERAL] * 4
    if len(ones) > 1:
        one, other = (_hole(name, pattern) for name in rng.sample(ones, 2))
        forms += [
            *(f"{one} | {other}", f"new({other}, {one})", f"{other} if {one} else {one}"),
            *(f"{one}[{other}]", f"{one} < {other} < 1", f"[{other}, *{one}]", f"{one}, {other}"),
        ] * 3
    return pattern, rng.choice(forms)
