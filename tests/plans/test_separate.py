"""Fixes as plain edits: each for itself, and together what `apply` writes in its first round."""

from __future__ import annotations

from pathlib import Path

import pytest

from yellow_trellis.languages import language
from yellow_trellis.plans import make_plan, separate_fixes
from yellow_trellis.plans.proof.validation import prove
from yellow_trellis.runs.file_report import FindingRecord
from yellow_trellis.runs.report_types import TextEdit
from yellow_trellis.runs.rule_source import RulesSpec
from yellow_trellis.runs.run_options import RunOptions
from yellow_trellis.runs.runner import run
from yellow_trellis.source import Source
from yellow_trellis.syntax import Tree

ROOT = Path(__file__).parents[2]
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
    done = run(folder / "a.py", [str(folder / "r.toml")], RunOptions(with_details=True))
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


def test_each_fix_is_what_the_proof_makes_of_it_alone() -> None:
    """Only an import that nothing uses any more stays, where `apply` would take it out."""
    ruleset = RulesSpec((str(ROOT / "benchmarks/rules_mixed.py"),)).ruleset()
    python = language("python")
    same = 0
    for file in sorted((ROOT / "demo/alder").rglob("*.py"))[::3]:
        source = Source.read(file.read_bytes(), path=str(file))
        tree = Tree(source, python)
        tree.token_index = ruleset.token_index(source.data, "python")
        found = [one for one in ruleset.look(tree)[0] if one.choice(with_review=False)]
        fixes = separate_fixes(tree, found, ruleset.preferences())
        for finding, fix in list(zip(found, fixes, strict=True))[:8]:
            data = source.data
            for edit in reversed(fix.edits):
                data = data[: edit.span.start] + edit.data + data[edit.span.end :]
            if not fix.edits:
                assert fix.reason
                continue
            alone = prove(make_plan(tree, [finding])).tree.source.data
            gone = [line for line in data.splitlines() if line not in alone.splitlines()]
            assert all(b"import" in line for line in gone), (file, finding.rule)
            same += data == alone
    assert same > 60


def test_fixes_of_the_demo_change_their_files_and_break_none(trams: Path, home: Path) -> None:
    rules = [str(trams / "rules"), str(trams / "parts/rules")]
    done = run([trams / "alder", trams / "parts"], rules, RunOptions(with_details=True))
    fixable = 0
    for report in done.reports:
        source = Source.read(Path(report.path).read_bytes())
        code = source.data.decode("utf-8")
        for one in report.findings:
            if not one.edits:
                assert one.unfixed or not one.fixes
                continue
            fixable += 1
            after = applied(code, one.edits)
            assert after != code
            if report.path.endswith(".py"):
                compile(after, report.path, "exec")
    assert fixable > 150
