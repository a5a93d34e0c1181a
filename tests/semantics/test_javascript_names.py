"""The names of JavaScript and TypeScript: scopes, modules, spellings, imports, renaming."""

from __future__ import annotations

import re
import shutil
import subprocess
import tempfile
from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.conftest import tree_of
from tests.semantics.javascript_modules import made
from yellow_trellis import Project, Rule, RunOptions, fix, rule
from yellow_trellis.languages import language
from yellow_trellis.project.project import CodeBase
from yellow_trellis.semantics import Vocabulary, facts_of
from yellow_trellis.source import Source
from yellow_trellis.syntax import Tree

_ANY = Vocabulary()
# Names with the same number behind them are one binding; those with a zero are bound nowhere.
SCOPES = {
    "hoisting": """
        use$1(x$2); var x$2 = 1;
        function use$1(a$3) { if (a$3) { var b$4 = x$2; } return b$4; }
    """,
    "blocks": """
        let x$1 = 1; { let x$2 = x$2; const y$3 = x$2; } x$1 = y$0;
        for (let x$4 = 0; x$4 < 3; x$4++) { let x$5 = 1; x$5; }
        for (const k$6 of x$1) k$6; for (var v$7 in x$1) {} v$7;
    """,
    "functions in blocks of sloppy code": "if (a$0) { function f$1() {} } f$1();",
    "functions in blocks of strict code": "'use strict'; if (a$0) { function f$1() {} } f$0();",
    "a strict function": "function g$1() { 'use strict'; { function f$2() {} } f$0(); }",
    "named expressions": "const f$1 = function g$2() { var f$3; g$2(); f$3; }; g$0(); class K$4 {}"
    "\nconst L$5 = class K$6 { m() { return K$6; } }; K$4;",
    "parameters": """
        const y$1 = 1;
        function f$2(a$3, b$4 = a$3, c$5 = y$1, {d$6, e: [g$7] = b$4, ...h$8}) {
          var y$9 = 2; var a$3; return y$9 + a$3 + d$6 + g$7 + h$8;
        }
    """,
    "destructuring": "let a$1, b$2; ({a$1, k: b$2, ['x']: a$1 = b$2} = c$0); [a$1.b, b$2] = a$1;",
    "catch and labels": "try { t$0; } catch ({m$1}) { m$1; } l: for (;;) { break l; } m$0;",
    "classes": "class A$1 extends B$0 { x = x$0; static { var v$2; v$2; } m(x$3) { x$3; v$0; } }",
    "elements": "const El$1 = 1, el$2 = 2; <El$1 a={el$2}><el/><el$2.b/></El$1>;",
    "imports": "import d$1, {a$2, b as c$3} from 'm'; import * as n$4 from 'm'; d$1(a$2, c$3, n$4.a); "
    "export {a$2 as x, c$3}; export {a} from 'k';",
}
TYPES = {
    "a type and a value": "type T$1 = 1; function f$2() { const T$3 = 2; let x$4: T$1 = T$3; }",
    "type parameters": "class K$1<T$2> { m<U$3>(t$4: T$2): U$3 { return t$4 as U$3; } } let t$5: T$0;",
    "signatures": "interface I$1<T$2> { m(a$3: T$2, b$4?: typeof a$3): void; [k$5: string]: any }",
    "conditional types": "type C$1<T$2> = T$2 extends Array<infer U$3> ? U$3 : { [P$4 in keyof T$2]: P$4 };",
    "enums": "enum E$1 { A$2 = 1, B$3 = A$2 << 1 } E$1.A; A$0;",
    "members by parameter": "class K$1 { constructor(private x$2: number) { x$2; } }",
    "tuples": "type P$1 = [x: number, y?: string]; x$0;",
    "namespaces": "namespace N$1 { export const a$2 = 1; a$2; } N$1.a; a$0;",
    "types only": "import type {T$1} from 'm'; import {type U$2} from 'm'; let x$3: T$1 | U$2 | n$0.V;",
}
_MARKED = re.compile(r"([A-Za-z_]\w*)\$(\d+)")


def marked(code: str) -> tuple[str, dict[int, str]]:
    """Return the code without marks, and by first byte the mark of each name."""
    marks: dict[int, str] = {}
    parts: list[str] = []
    end = size = 0
    for match in _MARKED.finditer(code):
        parts.append(code[end : match.start()])
        size += match.start() - end
        marks[size] = match[2]
        parts.append(match[1])
        size += len(match[1])
        end = match.end()
    return "".join([*parts, code[end:]]), marks


@pytest.mark.parametrize("name", [*SCOPES, *TYPES])
def test_each_name_is_of_its_own_binding(name: str) -> None:
    code, marks = marked({**SCOPES, **TYPES}[name])
    names = facts_of(tree_of(code, "typescript" if name in TYPES else "javascript")).names
    bindings: dict[str, object] = {"0": None}
    for start, mark in marks.items():
        leaf = names.tree.leaf_at(start)
        assert leaf is not None
        found = names.binding(leaf)
        assert found is bindings.setdefault(mark, found), (leaf.text, start, mark)
        assert (found is None) == (mark == "0"), (leaf.text, start, mark)
    known = [binding for binding in bindings.values() if binding is not None]
    assert len({id(binding) for binding in known}) == len(known)


FILES = {
    "fares/index.ts": 'export { price, price as cost } from "./ticket";\nexport * from "./zones";\n'
    'export * as zoning from "./zones";\n',
    "fares/ticket.ts": "export function price(z: number) {}\nexport default price;\n"
    "export class Ticket extends Base {}\nlet open = 1;\nexport { open };\n",
    "fares/zones.ts": "export const zones = [];\nexport type Zone = number;\nconst inner = 1;\n",
    "old/till.js": "module.exports = { price: require('../fares').price, ring() {} };\n",
    "old/bell.js": "module.exports = function ring() {};\n",
    "twice/a.js": "export const a = 1;\n",
    "twice/a.ts": "export const a = 1;\n",
    "both.ts": 'export * from "./left";\nexport * from "./right";\n',
    "left.ts": "export const same = 1;\nexport const own = 1;\n",
    "right.ts": "export const same = 2;\n",
    **{  # each exports all of each other
        f"ring/{one}.ts": "".join(f'export * from "./{other}";\n' for other in "abcdef" if other != one)
        + ("export const toll = 1;\n" if one == "c" else "")
        for one in "abcdef"
    },
}
MEANT = [
    ('import { price } from "./fares"; price', "fares/ticket.price"),
    ('import { cost as c } from "./fares/index.js"; c', "fares/ticket.price"),
    ('import ticket from "./fares/ticket"; ticket', "fares/ticket.price"),
    ('import * as f from "./fares"; f.zones', "fares/zones.zones"),
    ('import * as f from "./fares"; f.zoning.zones', "fares/zones.zones"),
    ('import { zoning } from "./fares"; zoning.zones', "fares/zones.zones"),
    ('const f = require("./fares"); f?.price', "fares/ticket.price"),
    ('const { price: { deep } } = require("alder"); deep', "alder.price.deep"),
    ('const { price = 1 } = require("./fares"); price', "app.price"),
    ('let f = require("./fares"); f = 1; f.price', None),
    ('async function f() { const { price } = await import("./fares"); return price }', "fares/ticket.price"),
    ('const till = require("./old/till"); till.price', "fares/ticket.price"),
    ('import { ring } from "./old/till"; ring', "old/till.ring"),
    ('const ring = require("./old/bell"); ring', "old/bell.export="),
    ('import { a } from "./twice/a"; a', None),
    ('import { same } from "./both"; same', None),
    ('import { own } from "./both"; own', "left.own"),
    ('import { toll } from "./ring/a"; toll', "ring/c.toll"),
    ('import { nothing } from "./ring/a"; nothing', "ring/a.nothing"),
    ('import { fp } from "@alder/rates/lib"; fp.map', "@alder/rates/lib.fp.map"),
    ('import * as fs from "node:fs"; fs.readFile', "fs.readFile"),
    ('import { price } from "./fares"; function f(price) { return price }', None),
    ('import { price } from "./fares"; with (x) { price }', None),
    ("console.log", "globalThis.console.log"),
    ("globalThis.console.log", "globalThis.console.log"),
    ("const console = 1; console.log", None),
    ("const own = (1, 2), again = own; again", "app.own"),
]


def laid_out(root: Path, files: dict[str, str]) -> CodeBase:
    """Write files below a folder and return the code base that they are."""
    for name, text in files.items():
        (root / name).parent.mkdir(parents=True, exist_ok=True)
        (root / name).write_text(text)
    return CodeBase(root, languages=("typescript",))


@pytest.mark.parametrize(("code", "meaning"), MEANT)
def test_names_come_down_to_what_they_are(tmp_path: Path, code: str, meaning: str | None) -> None:
    base = laid_out(tmp_path, FILES)
    place = str(tmp_path / "app.js")
    tree = Tree(Source(code.encode()), language("javascript"), lambda: base.surroundings(place))
    last = re.findall(r"[\w?.]+", code)[-1]
    node = next(
        n for n in reversed(list(tree.root.walk()))
        if n.text == last and n.kind in ("identifier", "member_expression")
    )
    assert facts_of(tree).meaning(node) == meaning
    if meaning is not None:
        assert node in facts_of(tree).places(meaning)


SPELLED = [  # code, its path, what is put, what comes out
    ("import { a } from 'm';\n\nold();\n", "app.ts", "@alder/rates.rate",
     "import { a } from 'm';\nimport { rate } from '@alder/rates';\n\nrate();\n"),
    ('import { a } from "@alder/rates";\n\nold();\n', "app.ts", "@alder/rates.rate",
     'import { a, rate } from "@alder/rates";\n\nrate();\n'),
    ('import * as rates from "@alder/rates"\n\nold()\n', "app.ts", "@alder/rates.rate",
     'import * as rates from "@alder/rates"\n\nrates.rate()\n'),
    ("// till\n\nold();\n", "old/x.ts", "fares/ticket.price",
     '// till\n\nimport { price } from "../fares/ticket";\n\nprice();\n'),
    ('import { b } from "./b.js";\nold();\n', "fares/x.ts", "fares/ticket.price",
     'import { b } from "./b.js";\nimport { price } from "./ticket.js";\nprice();\n'),
    ("'use strict';\nconst m = require('m');\n\nold();\n", "x.js", "@alder/rates.rate",
     "'use strict';\nconst m = require('m');\nconst { rate } = require('@alder/rates');\n\nrate();\n"),
    # a module of CommonJS, by its ending or by what it gives
    ("old();\n", "x.cjs", "@alder/rates.rate", 'const { rate } = require("@alder/rates");\n\nrate();\n'),
    ("module.exports = () => old();\n", "x.js", "@alder/rates.rate",
     'const { rate } = require("@alder/rates");\n\nmodule.exports = () => rate();\n'),
    ("exports.f = () => old();\n", "x.js", "@alder/rates.rate",
     'const { rate } = require("@alder/rates");\n\nexports.f = () => rate();\n'),
    ("const module = {};\nmodule.exports = old();\n", "x.js", "@alder/rates.rate",
     'import { rate } from "@alder/rates";\n\nconst module = {};\nmodule.exports = rate();\n'),
    # what a block imports is said in it, once it is there
    ('if (a) { const r = require("@alder/rates"); old(); }\nmodule.exports = 1;\n', "x.js", "@alder/rates.rate",
     'if (a) { const r = require("@alder/rates"); r.rate(); }\nmodule.exports = 1;\n'),
    ('if (a) { old(); const r = require("@alder/rates"); r.b(); }\nmodule.exports = 1;\n', "x.js", "@alder/rates.rate",
     'const { rate } = require("@alder/rates");\n\n'
     'if (a) { rate(); const r = require("@alder/rates"); r.b(); }\nmodule.exports = 1;\n'),
    ("export function f(rate) { old(rate); }\n", "x.js", "@alder/rates.rate",
     'import { rate as ratesRate } from "@alder/rates";\n\nexport function f(rate) { ratesRate(rate); }\n'),
    ("export function f() { old(1); }\n", "x.js", "globalThis.fetch",
     "export function f() { fetch(1); }\n"),
    ("export function f(fetch) { old(1); }\n", "x.js", "globalThis.fetch",
     "export function f(fetch) { globalThis.fetch(1); }\n"),
]


@pytest.mark.parametrize(("code", "path", "name", "result"), SPELLED)
def test_a_template_says_a_name_as_the_file_does(
    tmp_path: Path, code: str, path: str, name: str, result: str
) -> None:
    laid_out(tmp_path, {**FILES, path: code})
    lang = "javascript" if path.endswith("js") else "typescript"
    one = Rule("one", summary="one", language=lang, find="old(@{a*})", put=f"@<{name}>(@{{a*}})")
    Project(tmp_path).apply([one])
    assert (tmp_path / path).read_text("utf-8") == result


def test_an_import_without_a_use_left_goes(tmp_path: Path) -> None:
    code = 'import d, { old, b } from "m";\nimport { only } from "n";\n\nold(only(b(d)));\n'
    laid_out(tmp_path, {"x.ts": code})
    one = Rule("one", summary="one", language="typescript", find="@<m.old>(@<n.only>(@{a}))", put="@{a}")
    Project(tmp_path).apply([one])
    assert (tmp_path / "x.ts").read_text("utf-8") == 'import d, { b } from "m";\n\nb(d);\n'


def test_what_a_variable_of_a_function_requires_is_used_anywhere_in_it(tmp_path: Path) -> None:
    code = (
        "module.exports = function (x) {\n"
        "  if (x) { var a = require('a'); a(); }\n"
        "  for (;;) { var b = require('b'); }\n  b();\n"
        "  { const c = require('c'); c(); }\n  { const d = require('d'); }\n  d();\n};\n"
    )
    tree = Tree(Source(code.encode()), language("javascript"))
    assert [unused.imported.bound for unused in facts_of(tree).unused_imports()] == ["d"]


def test_what_is_called_gives_no_other_name(tmp_path: Path) -> None:
    code = (
        "const a = Math.floor(1), b = Math.floor.name, c = [Math.floor];\n"
        "const d = Math.floor || e, f = Math.floor;\nconst { floor: g } = Math;\n"
    )
    laid_out(tmp_path, {"x.js": code})
    base = CodeBase(tmp_path, frozenset({"globalThis.Math.floor"}), ("javascript",))
    assert base.vocabulary.words["globalThis.Math.floor"] == {"floor", "d", "f"}


def renamed(code: str, old: str, new: str) -> tuple[str, str]:
    """Return the code in which the first binding `old` is called `new`, or why it cannot be."""

    @rule("one", summary="one", kinds=("program",), language="typescript")
    def one(node, code):
        binding = next(b for b in code.facts.names.bindings if b.name == old)
        yield code.finding(node, fixes=[fix("rename").rename(binding, new)])

    done = one.fix(code)
    return done.code, "; ".join(item.reason for item in done.refused)


@pytest.mark.parametrize(("code", "result"), [
    ("function f(x) { return { x, y: x, z: { x } }; }", "function f(w) { return { x: w, y: w, z: { x: w } }; }"),
    ("function f() { const { x, y = x } = o; ({ x } = o); }", "function f() { const { x: w, y = w } = o; ({ x: w } = o); }"),
    ("function f() { const { x = 1 } = o; return x; }", "function f() { const { x: w = 1 } = o; return w; }"),
    ('import { x } from "m"; x();', 'import { x as w } from "m"; w();'),
    ('import { y as x } from "m"; x();', 'import { y as w } from "m"; w();'),
    ('import { w as x } from "m"; x();', 'import { w } from "m"; w();'),
    ('const x = 1; export { x, x as q };', 'const w = 1; export { w as x, w as q };'),
    ("function f(x: number): x is string { let y: typeof x; }", "function f(w: number): w is string { let y: typeof w; }"),
])  # fmt: skip
def test_a_binding_gets_another_name_and_nothing_else_changes(code: str, result: str) -> None:
    assert renamed(code, "x", "w") == (result, "")


@pytest.mark.parametrize(("code", "reason"), [
    ("function f(x, w) {}", "`w` is taken"),
    ("function f(x) { return w; }", "`w` means something else"),
    ("function f(x) { { let w; x; } }", "`w` is taken in between"),
    ("function f(x) { eval('x'); }", "`eval` runs a text"),
    ("export const x = 1;", "`x` is exported"),
    ("class K { constructor(private x: number) {} }", "`x` is a member too"),
    ("enum E { x }", "`x` is a member too"),
])  # fmt: skip
def test_a_name_is_refused_where_something_would_mean_another_thing(code: str, reason: str) -> None:
    text, why = renamed(code, "x", "w")
    assert text == code
    assert reason in why


@settings(max_examples=settings.default.max_examples // 4)
@given(st.integers(0, 10**6), st.booleans())
def test_a_renaming_over_modules_changes_nothing_else(seed: int, old: bool) -> None:
    """The law: each import finds what it found, under the new name, and programs run as before."""
    with tempfile.TemporaryDirectory() as folder:
        root = Path(folder).resolve()
        ending = ".js" if old else ".mjs"
        files = made(seed, old=old)
        main = files.pop("main" + ending)
        base = laid_out(root, files)
        before = _uses(base, root, files, "m0.price")
        printed = _printed(root, main, ending)
        one = Rule("one", summary="one", language="javascript", rename="m0.price", to="fare")
        done = Project(root).preview([one], RunOptions(with_review=True))
        assert not done.problems
        Project(root).apply(done)
        base = CodeBase(root, languages=("javascript",))
        assert _uses(base, root, files, "m0.fare") == before
        assert _uses(base, root, files, "m0.price") == dict.fromkeys(files, 0)
        assert _printed(root, main, ending) == printed


def _uses(base: CodeBase, root: Path, files: dict[str, str], name: str) -> dict[str, int]:
    """Return by file how often it says what is known by a name."""
    counts: dict[str, int] = {}
    for path in files:
        place = str(root / path)
        tree = Tree(
            Source((root / path).read_bytes()), language("javascript"),
            lambda place=place: base.surroundings(place)._replace(vocabulary=_ANY),
        )
        counts[path] = len(facts_of(tree).places(name))
    return counts


def _printed(root: Path, main: str, ending: str) -> str:
    """Return what a program prints, where there is something to run it with."""
    node = shutil.which("node")
    if node is None:
        return ""
    (root / f"main{ending}").write_text(main)
    done = subprocess.run([node, f"main{ending}"], cwd=root, capture_output=True, text=True)
    (root / f"main{ending}").unlink()
    return done.stdout + str(done.returncode)



def test_a_renaming_waits_for_a_language_that_is_not_installed(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    laid_out(tmp_path, {
        "m0.js": "export function price(a) {}\n",
        "app.ts": 'import { price } from "./m0";\nprice(1);\n',
    })
    from yellow_trellis.languages import registry

    monkeypatch.setattr(registry, "_is_usable", lambda name: name == "javascript")
    registry.family_of.cache_clear()
    one = Rule("one", summary="one", language="javascript", rename="m0.price", to="fare")
    try:
        done = Project(tmp_path).preview([one], RunOptions(with_review=True, workers=1))
    finally:
        registry.family_of.cache_clear()
    assert not done.changed
    assert "app.ts may use it, and typescript is not installed" in str(done.reports)


@pytest.mark.parametrize(("tail", "changes"), [
    ("module.exports = fares;", True),
    ("if (typeof module === 'object') module.exports = fares;", False),
    ("", False),
])  # fmt: rows
def test_names_at_the_top_of_what_a_page_may_load_are_seen_by_others(
    ytr, tmp_path: Path, tail: str, changes: bool
) -> None:
    (tmp_path / "fares.js").write_text(f"var fares = 1;\n{tail}\n")
    done = ytr("preview", "--rules", "javascript-upkeep", "fares.js")
    assert ("+const fares = 1;" in done.out.replace("  +", "+")) == changes, done.out
