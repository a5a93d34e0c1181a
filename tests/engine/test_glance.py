"""A look at a few files finds what a run finds, or says that it takes a run."""

from pathlib import Path

import pytest

from yellow_trellis import compile_pattern, language
from yellow_trellis.engine import PatternSpec, run
from yellow_trellis.engine.glance import glance

PATTERNS = (
    "stamp(@{zone}, @{rest*})",
    "less(@{a}, @{b})",
    "@{x} == None",
    "class @{name}: @{body*}",
    "def @{name}(@{_*}): @{_*}",
    "@{x}.halt()",
    "not @{a} < @{b}",
    "import @{x}",
    "except @{e}: @{body*}",
    "'@{_*}'",
)


@pytest.mark.parametrize("pattern", PATTERNS)
def test_it_finds_what_a_run_finds(trams: Path, monkeypatch, pattern: str) -> None:
    monkeypatch.chdir(trams)
    try:
        compiled = compile_pattern(pattern, language("python"))
    except ValueError:
        pytest.skip("not a pattern")
    files = sorted(str(path) for path in Path("alder").rglob("*.py"))
    glanced = 0
    for at in range(0, len(files), 3):
        some = files[at : at + 3]
        seen = glance(some, compiled)
        if seen is None:
            continue
        glanced += 1
        told = run(some, PatternSpec(pattern, None, "python"), with_holes=True, workers=1)
        assert [(r.path, r.lines) for r in seen.reports] == [
            (r.path, r.lines) for r in told.reports
        ]
        assert [(f.path, f.start, f.end, f.line, f.holes) for f in seen.findings] == [
            (f.path, f.start, f.end, f.line, f.holes) for f in told.findings
        ]
    assert glanced > 20


@pytest.mark.parametrize(
    ("pattern", "paths"),
    [
        ("f(@{x})", []),
        ("f(@{x})", ["."]),
        ("f(@{x})", ["../a.py"]),
        ("f(@{x})", ["a.py", "b.py", "c.py", "d.py"]),
        ("f(@{x})", ["gone.py"]),
        ("f(@{x})", ["a.js"]),
        ("f(@{x})", ["made.py"]),
        ("f(@{x})", ["left.py"]),
        ("f(@{x ~ (a+)+b})", ["a.py"]),
        ("@<a.f>(@{x})", ["a.py"]),
    ],
)
def test_what_takes_a_run_is_left_to_it(tmp_path: Path, monkeypatch, pattern, paths) -> None:
    monkeypatch.chdir(tmp_path)
    for name in ("a.py", "b.py", "c.py", "d.py", "a.js"):
        Path(name).write_text("f(1)\n")
    Path("made.py").write_text("# Generated: do not edit.\nf(1)\n")
    Path("left.py").write_text("f(1)  # trellis: leave seek -- why\n")
    assert glance(paths, compile_pattern(pattern, language("python"))) is None
