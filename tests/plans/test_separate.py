"""Fixes as plain edits: each for itself, and together what `apply` writes in its first round."""

from __future__ import annotations

from pathlib import Path

import pytest

from yellow_trellis.languages import language
from yellow_trellis.runs.file_report import FindingRecord
from yellow_trellis.runs.report_types import TextEdit
from yellow_trellis.runs.runner import run
from yellow_trellis.source import Source
from yellow_trellis.syntax import Tree

RULES = """\
[[rule]]
name = "call-g"
summary = "f is g."
find = "f(@{x})"
put = "@<lib.g>(@{x})"

[[rule]]
name = "twice"
summary = "Two calls are one."
find = "h(@{x}) + h(@{y})"
put = "h(@{x}, @{y})"

[[rule]]
name = "power"
summary = "p is a power."
find = "p(@{x})"
put = "@{x} ** 2"
"""


def found(folder: Path, code: str) -> list[FindingRecord]:
    """Return the findings of the rules in some code, with details."""
    (folder / "r.toml").write_text(RULES, "utf-8")
    (folder / "a.py").write_text(code, "utf-8")
    done = run(folder / "a.py", [str(folder / "r.toml")], with_details=True)
    (report,) = done.reports
    return [*report.findings, *report.suppressed]


def applied(code: str, edits: tuple[TextEdit, ...]) -> str:
    """Apply edits by their places, as a reader of a report does."""
    starts = [0]
    for line in code.splitlines(keepends=True):
        starts.append(starts[-1] + len(line))
    for edit in reversed(edits):
        begin = starts[edit.start.line - 1] + edit.start.column - 1
        end = starts[edit.end.line - 1] + edit.end.column - 1
        code = code[:begin] + edit.text + code[end:]
    return code


@pytest.mark.parametrize(
    ("code", "becomes"),
    [
        ("x = 'ä🚋', f(1)\n", ["from lib import g\n\nx = 'ä🚋', g(1)\n"]),
        ("p(a + b)\n-p(c)\n", ["(a + b) ** 2\n-p(c)\n", "p(a + b)\n-c ** 2\n"]),
        ("h(1) + h(2)\n", ["h(1, 2)\n"]),
    ],
)
def test_each_fix_stands_for_itself(tmp_path: Path, code: str, becomes: list[str]) -> None:
    assert [applied(code, one.edits) for one in found(tmp_path, code)] == becomes


def test_what_is_composed_or_left_has_no_edits_and_says_why(tmp_path: Path) -> None:
    code = "f(f(1))\nf(2)  # trellis: leave call-g because it stays\nh(1) + h(2) + h(3)\n"
    outer, inner, twice, left = found(tmp_path, code)
    assert not outer.edits and not inner.edits and "another fix" in inner.unfixed
    assert twice.edits and left.left.endswith("leaves it: it stays") and not left.edits


def test_fixes_of_the_demo_alone_and_together(trams: Path, home: Path) -> None:
    rules = [str(trams / "rules"), str(trams / "parts/rules")]
    done = run([trams / "alder", trams / "parts"], rules, with_details=True)
    alone = together = 0
    for report in done.reports:
        fixable = [one for one in report.findings if one.edits]
        if not fixable:
            continue
        source = Source.read(Path(report.path).read_bytes())
        code = source.data.decode("utf-8")
        spoken = next(one for one in (language("python"),) if report.path.endswith(".py")) if (
            report.path.endswith(".py")
        ) else None
        for one in fixable:
            alone += 1
            after = applied(code, one.edits)
            assert after != code
            if spoken is not None:
                errors = len(Tree(Source(after.encode("utf-8")), spoken).errors)
                assert errors <= len(Tree(Source(code.encode("utf-8")), spoken).errors)
        others = [one for one in report.findings if one.fixes and not one.edits]
        together += not others
    assert alone > 150 and together > 10
