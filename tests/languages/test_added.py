"""The example of the documentation for a language that a package adds."""

from __future__ import annotations

import importlib.util
from pathlib import Path

import pytest

from yellow_trellis import compile_pattern
from yellow_trellis.languages import Language
from yellow_trellis.plans import rework
from yellow_trellis.rules import Rule, Ruleset
from yellow_trellis.source import Source
from yellow_trellis.syntax import Tree

pytest.importorskip("tree_sitter_lua")
FILE = Path(__file__).parents[2] / "docs" / "examples" / "lua.py"


@pytest.fixture(scope="module")
def lua() -> Language:
    spec = importlib.util.spec_from_file_location("lua_example", FILE)
    assert spec is not None and spec.loader is not None
    module = importlib.util.module_from_spec(spec)
    spec.loader.exec_module(module)
    return module.LANGUAGE


CASES = [
    ("old(@{a}, @{b})", "fresh(@{b}, @{a})", "x = old(1, 2)\n", "x = fresh(2, 1)\n"),
    ("#@{a} == 0", "empty(@{a})", "if #t == 0 then ring() end\n", "if empty(t) then ring() end\n"),
    ("double(@{a})", "@{a} * 2", "x = double(a + b)\n", "x = (a + b) * 2\n"),
    ("log(@{_*})", "", "-- said\nring()\nlog(1, 2)\n", "-- said\nring()\n"),
    ("if not @{t} then @{a*} else @{b*} end", "if @{t} then\n  @{b*}\nelse\n  @{a*}\nend",
     "if not late then\n  ring() -- twice\nelse\n  wait()\nend\n",
     "if late then\n  wait()\nelse\n  ring()  -- twice\nend\n"),
    ("local @{n} = require(@{m})", "local @{n} = load_part(@{m})", 'local f = require("fares")\n',
     'local f = load_part("fares")\n'),
]


@pytest.mark.parametrize(("find", "put", "code", "result"), CASES)
def test_rules_work_in_an_added_language(
    lua: Language, monkeypatch: pytest.MonkeyPatch, find: str, put: str, code: str, result: str
) -> None:
    from yellow_trellis.languages import registry

    known = registry.language
    monkeypatch.setattr(
        "yellow_trellis.rules.compiled_rule.language_called",
        lambda name: lua if name == "lua" else known(name),
    )
    monkeypatch.setattr(
        "yellow_trellis.languages.language", lambda name: lua if name == "lua" else known(name)
    )
    rules = Ruleset.of([Rule("one", summary="one", language="lua", find=find, put=put)])
    done = rework(Tree(Source(code.encode()), lua), lambda tree: rules.look(tree)[0], with_review=True)
    assert done.tree.source.data.decode() == result, [o.reason for _, o in done.outcomes]


def test_the_example_is_short_and_knows_its_families(lua: Language) -> None:
    assert len(FILE.read_text("utf-8").splitlines()) < 150
    assert compile_pattern("@{x: call}", lua).holes
