"""Files found, looked at by any number of workers, written in one step, taken back."""

import os
import stat
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import pytest

from tests.conftest import DEMO, rules_of
from yellow_trellis import Rule, Ruleset, RunOptions, run, undo, write_changes
from yellow_trellis.project.discovery import MissingPathError, discover
from yellow_trellis.project.graph_builder import module_graph
from yellow_trellis.runs.rule_source import RulesSpec
from yellow_trellis.runs.transaction.journal import Journal

BOTH = frozenset({"python", "javascript"})


def make(folder: Path, **files: str) -> None:
    for name, text in files.items():
        path = folder / name.replace("__", "/").replace("_py", ".py")
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_text(text)


def found(folder: Path, *paths: Path) -> list[str]:
    files = discover(paths or [folder], BOTH)
    return [Path(f.path).relative_to(folder).as_posix() for f in files]


def test_ignore_files_count(tmp_path: Path) -> None:
    make(tmp_path, a_py="", lib__b_py="", lib__gen__c_py="", out__d_py="", node_modules__e_py="")
    make(tmp_path, lib__keep_py="", lib__x_txt="")
    (tmp_path / ".gitignore").write_text("out/\n*keep.py\n")
    (tmp_path / "lib/.gitignore").write_text("gen/\n!keep.py\n")
    (tmp_path / "lib/link.py").symlink_to(tmp_path / "a.py")
    assert found(tmp_path) == ["a.py", "lib/b.py", "lib/keep.py"]
    assert found(tmp_path, tmp_path / "out/d.py", tmp_path / "lib/gen") == [
        "lib/gen/c.py",
        "out/d.py",
    ]
    (tmp_path / ".git").mkdir()
    assert found(tmp_path, tmp_path / "lib") == ["lib/b.py", "lib/keep.py"]
    with pytest.raises(MissingPathError, match="no such file"):
        found(tmp_path, tmp_path / "nowhere")


def test_results_are_the_same_with_any_workers() -> None:
    spec = RulesSpec((str(DEMO / "rules"),))
    alone = run([DEMO / "alder"], spec, RunOptions(mode="rework", workers=1))
    assert len(alone.findings) > 500
    assert run([DEMO / "alder"], spec, RunOptions(mode="rework", workers=2)).reports == alone.reports
    with ThreadPoolExecutor(1) as pool:
        lent = run([DEMO / "alder"], spec, RunOptions(mode="rework"), executor=pool)
    assert lent.reports == alone.reports


CODE = {"a_py": "f(1)\n", "b__c_py": "x = f(2)\n", "d_py": "pass\n"}


def rework(folder: Path) -> list:
    done = run([folder], rules_of(("f(@{x})", "g(@{x})")), RunOptions(mode="rework"))
    return [report.change for report in done.reports if report.change is not None]


def test_apply_and_undo_bring_back_every_byte(tmp_path: Path) -> None:
    make(tmp_path, **CODE)
    (tmp_path / "a.py").chmod(0o750)
    report = write_changes(rework(tmp_path), tmp_path, ["rule-0"])
    assert len(report.written) == 2
    assert (tmp_path / "a.py").read_text("utf-8") == "g(1)\n"
    assert stat.S_IMODE((tmp_path / "a.py").stat().st_mode) == 0o750
    assert not list(tmp_path.rglob("*.ytr"))
    back = undo(tmp_path)
    assert back is not None
    assert (back.restored, back.left) == (["a.py", "b/c.py"], [])
    assert (tmp_path / "b/c.py").read_text("utf-8") == "x = f(2)\n"
    assert undo(tmp_path) is None


def test_undo_goes_back_run_by_run(tmp_path: Path) -> None:
    make(tmp_path, a_py="f(1)\n")
    write_changes(rework(tmp_path), tmp_path, ["rule-0"])
    (tmp_path / "a.py").write_text("g(1)\nf(2)\n")
    write_changes(rework(tmp_path), tmp_path, ["rule-0"])
    undo(tmp_path)
    assert (tmp_path / "a.py").read_text("utf-8") == "g(1)\nf(2)\n"
    second = undo(tmp_path)
    assert second.left == [("a.py", "lines of the run, or next to them, were changed since")]


def test_files_that_changed_or_vanished_are_left_alone_and_told(tmp_path: Path) -> None:
    make(tmp_path, **CODE, e_py="f(3)\n")
    changes = rework(tmp_path)
    (tmp_path / "a.py").write_text("f(1)  # edited meanwhile\n")
    (tmp_path / "e.py").unlink()
    report = write_changes(changes, tmp_path, ["rule-0"])
    assert [Path(path).name for path in report.written] == ["c.py"]
    reasons = {Path(path).name: reason for path, reason in report.left}
    assert "changed while" in reasons["a.py"]
    assert "cannot be read any more" in reasons["e.py"]
    assert (tmp_path / "a.py").read_text("utf-8") == "f(1)  # edited meanwhile\n"


def test_nothing_is_written_outside_of_the_root(tmp_path: Path) -> None:
    make(tmp_path, inside__a_py="f(1)\n", outside__b_py="f(2)\n")
    changes = rework(tmp_path)
    report = write_changes(changes, tmp_path / "inside", ["rule-0"])
    assert [Path(path).name for path in report.written] == ["a.py"]
    assert (tmp_path / "outside/b.py").read_text("utf-8") == "f(2)\n"


def test_a_run_that_was_cut_short_is_taken_back(tmp_path: Path) -> None:
    """The journal is complete before a file is touched: undo restores what was written."""
    make(tmp_path, a_py="g(1)\n", b_py="f(2)\n")
    journal = Journal(tmp_path)
    journal.open(["rule-0"])
    journal.record([("a.py", b"f(1)\n", b"g(1)\n", ()), ("b.py", b"f(2)\n", b"g(2)\n", ())])
    with (journal.folder / "files.jsonl").open("a") as index:
        index.write('{"path": "c.py", "bef')
    report = undo(tmp_path)
    assert report.restored == ["a.py", "b.py"]
    assert (tmp_path / "a.py").read_text("utf-8") == "f(1)\n"


def test_what_cannot_be_read_is_a_problem_not_a_crash(tmp_path: Path) -> None:
    make(tmp_path, a_py="f(1)\n")
    (tmp_path / "b.py").write_bytes(b"# coding: nonsense\nf(1)\n")
    os.mkfifo(tmp_path / "c.py")  # reading it would wait for ever
    (tmp_path / "d.py").mkdir()
    done = run([tmp_path], rules_of(("f(@{x})", None)))
    assert [(Path(p.path).name, "unknown" in p.reason) for p in done.problems] == [("b.py", True)]
    assert len(done.findings) == 1
    with pytest.raises(MissingPathError, match="neither a file nor a folder"):
        discover([tmp_path / "c.py"], BOTH)


def test_new_text_that_the_encoding_lacks_is_refused(tmp_path: Path) -> None:
    (tmp_path / "a.py").write_bytes(b"# coding: latin-1\nf(1)  # \xfc\n")
    done = run([tmp_path], rules_of(("f(@{x})", "g('€', @{x})")), RunOptions(mode="rework"))
    assert done.changed == []
    assert "no character" in done.reports[0].fates[0].reason


def test_an_old_encoding_comes_back_as_it_was(tmp_path: Path) -> None:
    (tmp_path / "a.py").write_bytes(b"# coding: latin-1\r\nf(1)  # \xfc\r\n")
    write_changes(rework(tmp_path), tmp_path, ["rule-0"])
    assert (tmp_path / "a.py").read_bytes() == b"# coding: latin-1\r\ng(1)  # \xfc\r\n"


MODULES = {
    "alder/__init__.py": "from .clock import stamp as now\n",
    "alder/clock.py": "from tramline.clock import stamp\n",
    "alder/uses.py": "from alder import now\nnow(1)\n",
    "alder/other.py": "def stamped(): return 'stamping'\n",
    "alder/plain.py": "x = 1\n",
    "tools/go.py": "import helper\nhelper.run()\n",
    "tools/helper.py": "def run(): pass\n",
}


def laid_out(root: Path) -> Path:
    for name, code in MODULES.items():
        (root / name).parent.mkdir(exist_ok=True)
        (root / name).write_text(code)
    return root


def test_a_file_that_cannot_mention_a_name_is_not_parsed(tmp_path: Path) -> None:
    rule = Rule("r", summary="s", find="@<tramline.clock.stamp>(@{_*})")
    found = run([laid_out(tmp_path)], Ruleset.of([rule]))
    assert [f.path.endswith("uses.py") for f in found.findings] == [True]
    parsed = {Path(r.path).name for r in found.reports if r.parsed}
    assert parsed == {"__init__.py", "clock.py", "uses.py"}
    script = Rule("r", summary="s", find="@<tools.helper.run>()")
    assert len(run([tmp_path], Ruleset.of([script])).findings) == 1


def test_the_module_graph_is_the_same_however_it_is_made_and_follows_changes(
    tmp_path: Path,
) -> None:
    graph = module_graph(laid_out(tmp_path), workers=1)
    assert graph.resolve("alder.now") == "tramline.clock.stamp"
    assert graph.importers("alder.clock") == {"alder"}
    with ThreadPoolExecutor(2) as pool:
        again = module_graph(tmp_path, executor=pool)
    assert {m: again.summary(m) for m in again.files} == {m: graph.summary(m) for m in graph.files}
    (tmp_path / "alder/clock.py").write_text("def stamp(): pass\n")
    assert module_graph(tmp_path, workers=1).resolve("alder.now") == "alder.clock.stamp"
