"""Names put by meaning: how each file spells them, what is imported for them, what goes."""

from __future__ import annotations

import pytest

from tests.conftest import rules_of
from yellow_trellis import Rule, Ruleset, Tree, fix, named, rule
from yellow_trellis.languages import language
from yellow_trellis.plans import rework
from yellow_trellis.runs.pipeline import process_file
from yellow_trellis.runs.run_options import RunOptions
from yellow_trellis.semantics import ModuleGraph, ProjectContext
from yellow_trellis.source import Source

STAMP = ("@<tramline.clock.stamp>(@{z}, @{r*})", "@<tramline.timeline.tick>(zone=@{z}, @{r*})")
TRAM = ("@<tramline.depot.Tram>", "@<tramline.cars.Car>")


def after(code: str, *pairs: tuple[str, str], path: str = "a.py", package: str = "alder"):
    """Apply declared rules to one file; return its text and the rework."""
    place = ProjectContext(ModuleGraph(), f"{package}.a", package)
    tree = Tree(Source(code.encode(), path=path), language("python"), lambda: place)
    rules = Ruleset.of(
        Rule(f"rule-{n}", summary="s", find=find, put=put) for n, (find, put) in enumerate(pairs)
    )
    done = rework(tree, lambda now: rules.look(now)[0])
    return done.tree.source.data.decode(), done


# Each: what it shows, the code before, the code after.
CASES = {
    "by name": (
        "from tramline.clock import stamp\n\nx = stamp(HOME)\n",
        "from tramline.timeline import tick\n\nx = tick(zone=HOME)\n",
    ),
    "by module": (
        "from tramline import clock, depot\nclock.stamp(1)\n",
        "from tramline import depot, timeline\ntimeline.tick(zone=1)\n",
    ),
    "by dotted module, the old one still in use": (
        "import os\n\nimport tramline.clock\ntramline.clock.stamp(tramline.clock.HOME)\n",
        "import os\n\nimport tramline.clock\nimport tramline.timeline\n"
        "tramline.timeline.tick(zone=tramline.clock.HOME)\n",
    ),
    "by alias of the module": (
        "import tramline.clock as c\nc.stamp(1)\n",
        "from tramline import timeline\ntimeline.tick(zone=1)\n",
    ),
    "already there, under another name": (
        "from tramline.clock import stamp\nfrom tramline.timeline import tick as t\nstamp(1)\n",
        "from tramline.timeline import tick as t\nt(zone=1)\n",
    ),
    "already there, by its module": (
        "import tramline.timeline as tl\nfrom tramline.clock import stamp\nstamp(1)\n",
        "import tramline.timeline as tl\ntl.tick(zone=1)\n",
    ),
    "joins the names of its module, in their order": (
        "from tramline.clock import a, stamp, z\nfrom tramline.timeline import alpha, zeta\nstamp(1)\n",
        "from tramline.clock import a, z\nfrom tramline.timeline import alpha, tick, zeta\ntick(zone=1)\n",
    ),
    "joins a list of one name a line": (
        "from tramline.timeline import (\n    alpha,  # first\n    ruler  # last\n)\n"
        "from tramline.clock import stamp\nstamp(1)\n",
        "from tramline.timeline import (\n    alpha,  # first\n    ruler,  # last\n    tick\n)\n"
        "tick(zone=1)\n",
    ),
    "joins behind a last comma": (
        "from tramline.timeline import (\n    alpha,\n)\nfrom tramline.clock import stamp\nstamp(1)\n",
        "from tramline.timeline import (\n    alpha,\n    tick,\n)\ntick(zone=1)\n",
    ),
    "a line that would get too long": (
        "from tramline.timeline import alpha_beta_gamma_delta_epsilon, zeta_eta_theta_iota\n"
        "from tramline.clock import stamp\nstamp(1)\n",
        "from tramline.timeline import alpha_beta_gamma_delta_epsilon, zeta_eta_theta_iota\n"
        "from tramline.timeline import tick\ntick(zone=1)\n",
    ),
    "many uses share one import": (
        "from tramline.clock import stamp\nstamp(1)\nstamp(stamp(2))\n",
        "from tramline.timeline import tick\ntick(zone=1)\ntick(zone=tick(zone=2))\n",
    ),
    "a local import stays local": (
        "def f():\n    from tramline.clock import stamp\n    return stamp(1)\n",
        "def f():\n    from tramline.timeline import tick\n    return tick(zone=1)\n",
    ),
    "the name is taken in the function": (
        "from tramline.clock import stamp\ndef f(tick):\n    return stamp(tick)\n",
        "from tramline.timeline import tick as timeline_tick\n"
        "def f(tick):\n    return timeline_tick(zone=tick)\n",
    ),
    "the name is taken at the top": (
        "from tramline.clock import stamp\ntick = 1\nstamp(tick)\n",
        "from tramline.timeline import tick as timeline_tick\ntick = 1\ntimeline_tick(zone=tick)\n",
    ),
    "an import with a comment stays": (
        "from tramline.clock import stamp  # for its effect\nstamp(1)\n",
        "from tramline.clock import stamp  # for its effect\n"
        "from tramline.timeline import tick\ntick(zone=1)\n",
    ),
    "what __all__ lists stays": (
        "from tramline.clock import stamp\n__all__ = ['stamp']\nstamp(1)\n",
        "from tramline.clock import stamp\nfrom tramline.timeline import tick\n"
        "__all__ = ['stamp']\ntick(zone=1)\n",
    ),
    "what says it is for others stays": (
        "from tramline.clock import stamp as stamp\nstamp(1)\n",
        "from tramline.clock import stamp as stamp\nfrom tramline.timeline import tick\ntick(zone=1)\n",
    ),
    "an import nobody used before stays": (
        "import json\nfrom tramline.clock import stamp, other\nstamp(1)\n",
        "import json\nfrom tramline.clock import other\nfrom tramline.timeline import tick\ntick(zone=1)\n",
    ),
    "groups and blank lines": (
        "import os\nimport sys\n\nimport aaa\nfrom tramline.clock import stamp\nimport zzz\n\nfrom . import b\n\nstamp(b, o=os, s=sys, a=aaa, z=zzz)\n",
        "import os\nimport sys\n\nimport aaa\nfrom tramline.timeline import tick\nimport zzz\n\nfrom . import b\n\ntick(zone=b, o=os, s=sys, a=aaa, z=zzz)\n",
    ),
    "a group of its own goes with its blank line": (
        "import os\n\nfrom tramline.clock import stamp\n\nfrom alder.x import tick as tock\n\nstamp(os, t=tock)\n",
        "import os\n\nfrom tramline.timeline import tick\n\nfrom alder.x import tick as tock\n\ntick(zone=os, t=tock)\n",
    ),
}  # rows


@pytest.mark.parametrize("case", CASES)
def test_a_name_is_spelled_as_the_file_does(case: str) -> None:
    before, wanted = CASES[case]
    got, done = after(before, STAMP)
    assert got == wanted
    assert after(got, STAMP)[0] == got
    assert all(o.state in ("applied", "composed") for _, o in done.outcomes)


# Rules whose pattern is no import at all: what is added to a file without such an import.
FRESH = {
    "no imports": ("print(1)\n", "from tramline.log import note\n\nnote(1)\n"),
    "a docstring": ('"""Doc."""\n\nprint(1)\n', '"""Doc."""\n\nfrom tramline.log import note\n\nnote(1)\n'),
    "a comment at the top": (
        "# of the house\nprint(1)\n", "# of the house\n\nfrom tramline.log import note\n\nnote(1)\n"
    ),
    "before a definition": (
        "def f():\n    print(1)\n", "from tramline.log import note\n\n\ndef f():\n    note(1)\n"
    ),
    "from the future": (
        "from __future__ import annotations\n\nprint(1)\n",
        "from __future__ import annotations\n\nfrom tramline.log import note\n\nnote(1)\n",
    ),
    "behind the language's own": (
        "import os\nimport sys\n\nprint(os, sys)\n",
        "import os\nimport sys\n\nfrom tramline.log import note\n\nnote(os, sys)\n",
    ),
    "before the project's own": (
        "from . import b\n\nprint(b)\n", "from tramline.log import note\n\nfrom . import b\n\nnote(b)\n"
    ),
    "behind plain imports": (
        "import alpha\nimport zulu\n\nprint(alpha, zulu)\n",
        "import alpha\nimport zulu\nfrom tramline.log import note\n\nnote(alpha, zulu)\n",
    ),
    "beside its package": (
        "import os\nimport tramline.cars\nfrom zulu import z\nprint(os, z, tramline.cars)\n",
        "import os\nimport tramline.cars\nimport tramline.log\nfrom zulu import z\ntramline.log.note(os, z, tramline.cars)\n",
    ),
    "two lines, windows": (
        "import os\r\nprint(os)\r\n", "import os\r\n\r\nfrom tramline.log import note\r\nnote(os)\r\n"
    ),
    "one line with others": (
        "import os; import sys\nprint(os, sys)\n",
        "import os; import sys\n\nfrom tramline.log import note\nnote(os, sys)\n",
    ),
}  # rows


@pytest.mark.parametrize("case", FRESH)
def test_an_import_is_added_where_the_file_keeps_them(case: str) -> None:
    before, wanted = FRESH[case]
    got, _ = after(before, ("@<builtins.print>(@{a*})", "@<tramline.log.note>(@{a*})"))
    assert got == wanted


def test_types_only_imports_serve_annotations_only() -> None:
    head = "from typing import TYPE_CHECKING\n\nif TYPE_CHECKING:\n    from tramline.depot import Tram\n"
    got, _ = after(head + "\ndef f(x: Tram) -> None: ...\n", TRAM)
    assert (
        got
        == head.replace("depot import Tram", "cars import Car") + "\ndef f(x: Car) -> None: ...\n"
    )
    got, _ = after(head + "\ndef f(x: Tram, y: 'Tram'): ...\n", TRAM)
    assert "import Tram\n    from" not in got and "x: Car, y: 'Tram'" in got
    assert "depot import Tram" in got and "cars import Car" in got


def test_relative_imports_stay_relative() -> None:
    pair = ("@<alder.house.old>", "@<alder.depot.yard.new>")
    got, _ = after("from .house import old\nold()\n", pair)
    assert got == "from .depot.yard import new\nnew()\n"
    got, _ = after("from ..house import old\nold()\n", pair, package="alder.depot")
    assert got == "from .yard import new\nnew()\n"
    got, _ = after("from alder.house import old\nold()\n", pair)
    assert got == "from alder.depot.yard import new\nnew()\n"


def test_every_kind_of_reference_is_found_and_no_other() -> None:
    code = """from tramline.depot import Tram

@Tram.mark
class Night(Tram, metaclass=Tram.meta):
    kind: Tram = Tram
    def f(self, Tram): return Tram.x, self.Tram, f(Tram=1)
def g(x: list[Tram]) -> Tram | None:
    return isinstance(x, (Tram, int)), "Tram", x.Tram
"""
    got, _ = after(code, TRAM)
    assert got == code.replace("depot import Tram", "cars import Car").replace(
        "@Tram", "@Car").replace("(Tram, metaclass=Tram", "(Car, metaclass=Car").replace(
        "kind: Tram = Tram", "kind: Car = Car").replace("list[Tram]) -> Tram", "list[Car]) -> Car").replace(
        "(Tram, int)", "(Car, int)")  # rows


def test_a_face_keeps_what_it_offers() -> None:
    code = "from tramline.clock import stamp\nstamp(1)\n"
    got, _ = after(code, STAMP, path="alder/__init__.py")
    assert got.startswith("from tramline.clock import stamp\nfrom tramline.timeline import tick\n")


def test_two_fixes_that_need_one_name_for_two_things_are_a_name_clash() -> None:
    other = ("@<tramline.clock.day>()", "@<tramline.calendar.tick>()")
    got, done = after("from tramline.clock import day, stamp\nstamp(1)\nday()\n", STAMP, other)
    assert [c.kind for c in done.conflicts] == ["name clash"]
    assert got == (
        "from tramline.calendar import tick as calendar_tick\nfrom tramline.timeline import tick\n"
        "tick(zone=1)\ncalendar_tick()\n"
    )


# Each: pattern, template, code, what the refusal says; None where nothing is in the way.
CLASHES = [
    ("len(@{x}) > 0", "any(@{x})", "any = 1\nlen(a) > 0\n", "`any` is not the built-in here: it is bound at 1:1"),
    ("len(@{x}) > 0", "any(@{x})", "def f(any):\n    return len(a) > 0\n", "bound at 1:7"),
    ("len(@{x}) > 0", "any(@{x})", "def f(any): pass\nlen(a) > 0\n", None),
    ("put(@{x})", "out = @{x}", "out = 1\nput(2)\n", "`out` is taken here, at 1:1"),
    ("put(@{x})", "out = @{x}", "def f():\n    put(2)\n    return lambda: out\n", "`out` is taken here"),
    ("put(@{x})", "out = @{x}", "def f():\n    put(2)\ndef g(out): return out\n", None),
    ("put(@{x})", "out = @{x}", "put(out)\n", None),
    ("each(@{f}, @{xs})", "[@{f}(i) for i in @{xs}]", "each(i.go, xs)\n", "what `@{f}` took says `i`"),
    ("each(@{f}, @{xs})", "[@{f}(i) for i in @{xs}]", "each(go, i.xs)\n", None),
    ("late(@{x})", "(lambda when: @{x})", "late(when + 1)\n", "what `@{x}` took says `when`"),
    ("late(@{x})", "(lambda when: @{x})", "late([when for when in y])\n", None),
    ("late(@{x})", "(lambda when: @{x})", "late(now.when)\n", None),
]  # rows


@pytest.mark.parametrize(("find", "put", "code", "reason"), CLASHES)
def test_new_names_that_would_mean_another_thing_are_refused(find, put, code, reason) -> None:
    got, done = after(code, (find, put))
    if reason is None:
        assert got != code and not done.conflicts
        return
    assert got == code
    assert [c.kind for c in done.conflicts] == ["name clash"]
    assert reason in done.conflicts[0].explained


def test_a_rule_in_code_says_names_by_meaning_too() -> None:
    @rule("r", summary="s", find="old(@{x})")
    def check(match, code):
        yield code.finding(
            match, fixes=[fix("f").replace(match.node, named("a.b.new"), "(", match["x"], ")")]
        )

    tree = Tree(Source(b"import os\n\nold(old(1))\n"), language("python"))
    rules = Ruleset.of([check])
    done = rework(tree, lambda now: rules.look(now)[0])
    assert done.tree.source.data == b"import os\n\nfrom a.b import new\n\nnew(new(1))\n"


TICK = ("@<tramline.clock.stamp>(@{z})", "@<tramline.timeline.tick>(@{z})")
@pytest.mark.parametrize(
    ("code", "wanted"),
    [
        # bound before the first use, whatever is imported behind it
        (
            "from tramline import clock\nx = clock.stamp(1)\nimport zzz\nfrom tramline.a import b\n",
            "from tramline import timeline\nx = timeline.tick(1)\nimport zzz\nfrom tramline.a import b\n",
        ),
        # what binds a package stays as long as anything goes through it
        (
            "import tramline.clock\ny = tramline.clock.stamp(1)\nz = tramline.other\n",
            "import tramline.clock\nimport tramline.timeline\n"
            "y = tramline.timeline.tick(1)\nz = tramline.other\n",
        ),
        # and so does what is deleted, or reached by its text
        (
            "from tramline.clock import stamp\ny = stamp(1)\ndel stamp\n",
            "from tramline.clock import stamp\nfrom tramline.timeline import tick\ny = tick(1)\ndel stamp\n",
        ),
        (
            "from tramline.clock import stamp\ny = stamp(1)\nz = cast('stamp', y)\n",
            "from tramline.clock import stamp\nfrom tramline.timeline import tick\n"
            "y = tick(1)\nz = cast('stamp', y)\n",
        ),
        (
            "from tramline.clock import stamp\ny = stamp(1)\nprint(globals())\n",
            "from tramline.clock import stamp\nfrom tramline.timeline import tick\n"
            "y = tick(1)\nprint(globals())\n",
        ),
    ],
)
def test_imports_follow_only_where_that_is_sure(code: str, wanted: str) -> None:
    assert after(code, TICK)[0] == wanted


def test_an_import_with_a_fallback_is_not_pulled_out() -> None:
    code = (
        "try:\n    from tramline.clock import stamp\nexcept ImportError:\n    stamp = None\n"
        "y = stamp(1)\n"
    )
    got, done = after(code, TICK)
    assert got == code
    told = "the import of `stamp` is guarded: it is bound at 4:5 as well"
    assert [o.reason for _, o in done.outcomes] == [told]


@pytest.mark.parametrize(
    "code",
    [
        "if NEW:\n    from tramline.clock import stamp\ny = stamp(1)\n",
        "if NEW: from tramline.clock import stamp\ny = stamp(1)\n",
        "with quiet:\n    import os\n    from tramline.clock import stamp\ny = stamp(1)\n",
        "x = run()\nfrom tramline.clock import stamp\ny = stamp(1)\n",
    ],
)
def test_the_new_import_takes_the_place_of_the_old(code: str) -> None:
    wanted = code.replace("clock import stamp", "timeline import tick").replace("stamp(", "tick(")
    assert after(code, TICK)[0] == wanted


def test_the_old_import_is_that_of_the_place_and_not_one_of_a_function_inside() -> None:
    code = (
        "if NEW:\n    import tramline.clock as c\n\ndef f():\n    def g():\n"
        "        import tramline.clock as c\n        c.start()\n    return c.stamp(1)\n"
    )
    got, _ = after(code, TICK)
    assert "import tramline.clock as c\n    from tramline import timeline\n\ndef f():" in got
    assert got.endswith("        c.start()\n    return timeline.tick(1)\n")


def test_a_group_of_its_own_in_a_block_has_the_indent_of_the_block() -> None:
    code = (
        "from __future__ import annotations\nfrom typing import TYPE_CHECKING\n\n"
        "if TYPE_CHECKING:\n    from .here import x\n    from tramline.depot import Tram\n"
        "\ndef f(x: Tram): ...\n"
    )
    got, _ = after(code, ("@<tramline.depot.Tram>", "@<os.PathLike>"))
    compile(got, "a.py", "exec", dont_inherit=True)
    assert "    from os import PathLike\n" in got and "Tram" not in got


def test_two_fixes_that_empty_a_block_leave_it_a_body() -> None:
    code = "if A:\n    import b\n    import c\nelse:\n    pass\n"

    @rule("r", summary="s", find="import @{m}")
    def check(match, code):
        yield code.finding(match, fixes=[fix("f").unimport(match.node)])

    tree = Tree(Source(code.encode()), language("python"))
    done = rework(tree, lambda now: Ruleset.of([check]).look(now)[0])
    compile(done.tree.source.data, "a.py", "exec", dont_inherit=True)
    assert b"import" not in done.tree.source.data


FILE_HEADS = {
    "python": [
        "#!/usr/bin/env python\n", "# -*- coding: latin-1 -*-\n", "# (c) Älder\n",
        "#!/bin/sh\n# vim: set fileencoding=latin-1 :\n# (c) Älder\n", "#\n# (c) Alder\n#\n",
    ],
    "javascript": ["// @ts-check\n", "#!/usr/bin/env node\n// @ts-check\n", "/* (c) Alder */\n", "// a\n// b\n"],
}
FILE_HEADS["typescript"] = FILE_HEADS["javascript"]
FIRST_LINES = {
    "python": [
        "from . import x\n", "import alder\n", "import zlib\n", "from __future__ import annotations\n",
        '"""Doc."""\n', "def g():\n    pass\n", "x = 1\n", "import alder, zlib\nfrom . import y\n", "",
    ],
    "javascript": ["import {x} from './x.js';\n", "import {x} from 'zlib';\n", "'use strict';\n", "let x = 1;\n", ""],
}
FIRST_LINES["typescript"] = FIRST_LINES["javascript"]
HEAD_CASES = [
    (name, head + gap, first)
    for name, heads in FILE_HEADS.items()
    for head in heads
    for gap in ("", "\n")
    for first in FIRST_LINES[name]
]


@pytest.mark.parametrize(("name", "head", "first"), HEAD_CASES)
def test_an_import_goes_below_the_head_of_a_file(name: str, head: str, first: str) -> None:
    code = f"{head}{first}f(1)\n"
    raw = code.encode("latin-1" if "latin-1" in head else "utf-8")
    put = "@<os.path.join>(@{x})" if name == "python" else "@<depot.join>(@{x})"
    rules = rules_of(("f(@{x})", put), language=name)
    report = process_file(raw, "a", name, rules, RunOptions(mode="rework"))
    assert report.change is not None and not report.problems
    new = report.change.raw.decode("latin-1" if "latin-1" in head else "utf-8")
    assert new.startswith(head.rstrip("\n") + "\n") and "import" in new[len(head) :]
    assert new.index("join") < new.index("join(1)")


@pytest.mark.parametrize(("code", "put", "wanted"), [
    ("import zlib\n\nimport alder\n\nfrom . import x\n\nf(1)\n", "os.path.join", "import zlib\nfrom os.path import join\n\nimport alder"),
    ("import zlib\n\nimport alder\n\nfrom . import x\n\nf(1)\n", "birch.join", "import alder\nfrom birch import join\n\nfrom . import x"),
    ("import zlib\n\nfrom . import x\n\nf(1)\n", "birch.join", "import zlib\n\nfrom birch import join\n\nfrom . import x"),
    ("from . import x\n\nf(1)\n", "birch.join", "from birch import join\n\nfrom . import x"),
    ("import zlib\n\nf(1)\n", "birch.join", "import zlib\n\nfrom birch import join\n\njoin(1)"),
])
def test_an_import_goes_into_the_group_of_its_kind(code: str, put: str, wanted: str) -> None:
    text, _ = after(code, ("f(@{x})", f"@<{put}>(@{{x}})"))
    assert wanted in text
