"""The start of a pack: a package with a rule, a ruleset and tests that pass."""
# trellis: leave short-lines in this file because examples read best as they are

from __future__ import annotations

from yellow_trellis._version import __version__

_PROJECT = """[build-system]
requires = ["hatchling>=1.24"]
build-backend = "hatchling.build"

[project]
name = "@name@"
version = "0.1.0"
description = "Rules for syntax trees."
requires-python = ">=3.10"
dependencies = ["yellow-trellis>=@version@"]

[project.optional-dependencies]
test = ["pytest>=8.0"]

# By this line an installation offers the pack: its name, and the folder of its rules.
[project.entry-points."yellow_trellis.packs"]
@name@ = "@module@"

[tool.hatch.build.targets.wheel]
packages = ["src/@module@"]

# Every example of every rule is a test.
[tool.pytest.ini_options]
testpaths = ["tests"]
trellis_examples = true
trellis_rules = ["src/@module@"]
"""

_CARD = """summary = "Say in one sentence what the rules are about."
# The versions of yellow-trellis that the rules work with.
needs = ">=@version@"
# Whether Python files in here may run. Without it the pack is data, and nothing of it ever runs.
code = false
"""

_RULES = """[[rule]]
name = "halt-by-method"
summary = "A tram is asked to halt, not told about."
find = "stop_tram(@{tram})"
put = "@{tram}.halt()"
tags = ["trams"]

[[rule.examples]]
code = "stop_tram(depot.first())  # before the gate"
becomes = "depot.first().halt()  # before the gate"

[[rule.examples]]
code = "stop_tram(tram, at=gate)"
stays = true
"""

_RULESET = """# A ruleset changes rules of others; it counts only where it is named: `@name@/strict`.
[ruleset]
summary = "The same rules, as errors."
builds-on = ["rules.toml"]

[ruleset.levels]
halt-by-method = "error"
"""

_TESTS = '''"""The rules in wholes; their examples are tests of their own."""

from pathlib import Path

from yellow_trellis import load_rules
from yellow_trellis.testing import becomes, stays

import @module@

FOLDER = Path(@module@.__file__).parent
RULES = {rule.name: rule for rule in load_rules([FOLDER])}


def test_a_tram_in_a_loop_is_halted() -> None:
    becomes(
        RULES["halt-by-method"],
        """
        for tram in trams:
            stop_tram(tram)
        """,
        """
        for tram in trams:
            tram.halt()
        """,
    )


def test_other_calls_stay() -> None:
    stays(RULES["halt-by-method"], "stop_trams()")


def test_the_strict_ruleset_makes_errors() -> None:
    levels = {rule.name: rule.level for rule in load_rules([FOLDER / "strict.toml"])}
    assert levels["halt-by-method"] == "error"
'''

_README = """# @name@

Rules for syntax trees, as a pack for yellow-trellis.

    pip install -e '.[test]'
    pytest

Where it is installed, `ytr survey --rules @name@` uses all rules, `--rules @name@/strict` the ruleset
in `strict.toml`; in a configuration it is `rules = ["@name@"]`.
"""


def pack_files(name: str) -> dict[str, str]:
    """Return the files of a new pack, by path with slashes."""
    module = name.replace("-", "_")
    files = {
        "pyproject.toml": _PROJECT,
        "README.md": _README,
        f"src/{module}/__init__.py": f'"""The pack {name}: its rules are in the files beside."""\n',
        f"src/{module}/pack.toml": _CARD,
        f"src/{module}/rules.toml": _RULES,
        f"src/{module}/strict.toml": _RULESET,
        "tests/test_rules.py": _TESTS,
    }
    statements = {"@name@": name, "@module@": module, "@version@": __version__}
    for path, text in files.items():
        for word, value in statements.items():
            text = text.replace(word, value)
        files[path] = text
    return files
