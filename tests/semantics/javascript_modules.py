"""Code bases of JavaScript made at random: one thing, taken and handed on in many ways."""

from __future__ import annotations

import os
from random import Random

_DEFINITIONS = (
    "export function price(a) { return 'P' + a; }\n",
    "export const price = (a) => 'P' + a;\n",
    "function price(a) { return 'P' + a; }\nexport { price };\n",
    "const price = (a) => 'P' + a;\nexport { price, price as other };\n",
)
_OLD_DEFINITIONS = (
    "exports.price = function (a) { return 'P' + a; };\nexports.zone = exports.price(1);\n",
    "function price(a) { return 'P' + a; }\nmodule.exports = { price, zone: price(1) };\n",
    "module.exports = { price: (a) => 'P' + a, zone: 'z' };\n",
    "module.exports = { price(a) { return 'P' + a; }, zone: 'z' };\n",
    "const price = (a) => 'P' + a;\nmodule.exports.price = price;\n",
)
# By way to use what is given as {g} by {r}: lines at the top, lines below, the expression, and the
# name under which it is handed on.
_WAYS = (
    ("import {{ {g} }} from '{r}';", "", "{g}(1)", ""),
    ("import {{ {g} }} from '{r}';", "export {{ {g} }};", "{g}(1)", "{g}"),
    ("import {{ {g} as w{k} }} from '{r}';", "", "w{k}(1)", ""),
    ("import {{ {g} as w{k} }} from '{r}';", "export {{ w{k} as price }};", "w{k}(1)", "price"),
    ("import {{ {g} as w{k} }} from '{r}';", "export const price = w{k};", "w{k}(1)", "price"),
    ("import * as n{k} from '{r}';", "", "n{k}.{g}(1)", ""),
    ("import * as n{k} from '{r}';", "const {{ {g}: q{k} }} = n{k};", "q{k}(1)", ""),
    ("import * as n{k} from '{r}';", "const h{k} = () => {{ const {{ {g} }} = n{k}; return {g}(1); "
     "}};", "h{k}()", ""),
    ("import {{ {g} as w{k} }} from '{r}';", "const h{k} = (price, fare = w{k}) => fare(price);",
     "h{k}(2)", ""),
    ("import {{ {g} as w{k} }} from '{r}';", "", "({{ {g}: w{k} }}).{g}(1)", ""),
    ("", "const {{ {g}: q{k} }} = await import('{r}');", "q{k}(1)", ""),
    ("export {{ {g} }} from '{r}';", "", "'x'", "{g}"),
    ("export {{ {g} as price }} from '{r}';", "", "'x'", "price"),
    ("export * from '{r}';", "", "'x'", "{g}"),
)
_OLD_WAYS = (
    ("const {{ {g} }} = require('{r}');", "", "{g}(1)", ""),
    ("const {{ {g} }} = require('{r}');", "exports.{g} = {g};", "{g}(1)", "{g}"),
    ("const {{ {g}: w{k} }} = require('{r}');", "", "w{k}(1)", ""),
    ("const n{k} = require('{r}');", "", "n{k}.{g}(1)", ""),
    ("", "", "require('{r}').{g}(1)", ""),
    ("var n{k} = require('{r}'), o{k} = 3;", "var q{k} = n{k}.{g};", "q{k}(1)", ""),
    ("", "exports.price = require('{r}').{g};", "'x'", "price"),
    ("const n{k} = require('{r}');", "function h{k}() {{ const {{ {g} = null }} = n{k}; "
     "return {g}(1); }}", "h{k}()", ""),
    ("const n{k} = require('{r}');", "function h{k}(price) {{ return n{k}.{g}(price); }}",
     "h{k}(3)", ""),
)


def made(seed: int, *, old: bool) -> dict[str, str]:
    """Return by path the files of a code base; the thing is `price` of the first.

    Arguments: `old` makes modules of CommonJS. ``main`` prints all that the others make of it.
    """
    random = Random(seed)
    ending = ".js" if old else ".mjs"
    names = [f"m{n}" if random.random() < 0.7 else f"d{n}/index" for n in range(random.randint(3, 7))]
    names[0] = "m0"
    files = {"m0" + ending: random.choice(_OLD_DEFINITIONS if old else _DEFINITIONS)}
    gives = {"m0": "price"}
    for name in names[1:]:
        files[name + ending], given = _module(random, name, gives, old, ending)
        if given:
            gives[name] = given
    lines = []
    for number, name in enumerate(names):
        source = f"'./{name}{ending}'"
        lines.append(
            f"const x{number} = require({source});" if old else f"import * as x{number} from {source};"
        )
        lines.append(
            f"for (const k of Object.keys(x{number}).sort()) if (typeof x{number}[k] === 'string') "
            f"console.log('{name}', k, x{number}[k]);"
        )
    return {**files, "main" + ending: "\n".join(lines)}


def _module(
    random: Random, name: str, gives: dict[str, str], old: bool, ending: str
) -> tuple[str, str]:
    """Return the text of a module, and the name under which it hands the thing on."""
    top: list[str] = []
    body: list[str] = []
    bound: set[str] = set()
    given = ""
    for k in range(random.randint(1, 3)):
        other = random.choice(sorted(gives))
        path = os.path.relpath(other + ending, os.path.dirname(name) or ".")
        values = {"g": gives[other], "r": path if path.startswith(".") else "./" + path, "k": k}
        lines = random.choice(_OLD_WAYS if old else _WAYS)
        head, below, value, hands = (line.format(**values) for line in lines)
        binds = values["g"] if f"{{ {values['g']} }} " in head and "export" not in head else ""
        if (hands and given) or (binds and binds in bound):
            continue
        if hands == "price" and "price" in bound | {binds} and "const price" in below:
            continue
        bound |= {binds} if binds else set()
        given = given or hands
        top.append(head)
        body.append(below)
        body.append(f"exports.v{k} = {value};" if old else f"export const v{k} = {value};")
    return "\n".join(line for line in [*top, *body] if line) + "\n", given
