"""Rules that hang, grow, end their process or write to the tree cost themselves, and are told."""

import os
import subprocess
import sys
import time
from collections.abc import Callable, Iterable, Iterator
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import pytest

from yellow_trellis import Tree, run
from yellow_trellis.findings.timing import OutOfTime
from yellow_trellis.languages import Language, language
from yellow_trellis.runs.file_report import Run
from yellow_trellis.runs.processes.deadlines import limited
from yellow_trellis.runs.rule_source import PatternSpec, RulesSpec
from yellow_trellis.runs.run_options import Limits, Mode, RunOptions
from yellow_trellis.source import Source

pytestmark = pytest.mark.skipif(sys.platform != "linux", reason="needs processes that are copies")

HEAD = "import ctypes, os, signal, sys\nfrom yellow_trellis import rule\n"
RULE = """
@rule({name!r}, summary='s', find='{name}()')
def {name}(match, code):
    {body}
    yield code.finding(match)
"""
DEEDS = {
    "leaves": ("os._exit(0)", "its worker ended itself, with status 0"),
    "crashes": ("ctypes.string_at(0)", "its worker was ended by the system with SIGSEGV"),
    "kills": ("os.kill(os.getpid(), signal.SIGKILL)", "SIGKILL, as it does for want of memory"),
    "computes": ("sum(range(10**12))", "stopped after 1 s, the limit for one rule"),
    "loops": ("while True: pass", "stopped after 1 s, the limit for one rule"),
    "grows": ("big = [bytes(10**7) for _ in range(10**4)]", "MemoryError"),
    "exits": ("sys.exit(0)", "SystemExit: 0"),
    "moves": ("match.node.start = 0", "it has changed the tree of the file"),
    "renames": ("match.node.kind = 'other'", "it has changed the tree of the file"),
    "swaps": ("code.tree.source = None", "it has changed the tree of the file"),
}


def looked(folder: Path, deeds: list[str], workers: int | None, mode: Mode = "survey") -> Run:
    """Look at a file for each deed, in which another rule finds something too, and at others."""
    rules = folder / "rules"
    rules.mkdir()
    told = [RULE.format(name=name, body=DEEDS[name][0]) for name in deeds]
    (rules / "r.py").write_text(HEAD + "".join(told) + RULE.format(name="fine", body="pass"))
    code = folder / "code"
    code.mkdir()
    for name in deeds:
        (code / f"{name}.py").write_text(f"fine()\n{name}()\n")
    for number in range(5):
        (code / f"other{number}.py").write_text("fine()\n")
    limits = Limits(rule=1, memory=400 * 1024 * 1024)
    spec = RulesSpec((str(rules / "r.py"),))
    return run([code], spec, RunOptions(mode=mode, limits=limits, workers=workers))


@pytest.mark.parametrize(("workers", "mode"), [(None, "survey"), (1, "rework"), (2, "survey")])
def test_a_rule_costs_itself_on_its_file(tmp_path: Path, workers, mode) -> None:
    deeds = list(DEEDS)
    done = looked(tmp_path, deeds, workers, mode=mode)
    assert len(done.reports) == len(deeds) + 5
    assert [f.rule for f in done.findings] == ["fine"] * (len(deeds) + 5)
    told = {(Path(p.path).stem, p.rule): p.reason for p in done.problems}
    assert set(told) == {(name, name) for name in deeds}
    for name, (_, reason) in DEEDS.items():
        assert reason in told[name, name]


def test_two_rules_that_end_their_process_are_both_told(tmp_path: Path) -> None:
    rules = tmp_path / "r.py"
    rules.write_text(
        HEAD
        + "".join(RULE.format(name=n, body="os._exit(3)") for n in ("one", "two"))
        + RULE.format(name="fine", body="pass")
    )
    (tmp_path / "code").mkdir()
    (tmp_path / "code/a.py").write_text("one()\ntwo()\nfine()\n")
    done = run([tmp_path / "code"], RulesSpec((str(rules),)))
    assert [f.rule for f in done.findings] == ["fine"]
    assert {p.rule for p in done.problems} == {"one", "two"}


def test_a_survey_in_which_a_rule_ends_its_process_does_not_pass(ytr, tmp_path: Path) -> None:
    (tmp_path / "r.py").write_text(HEAD + RULE.format(name="leaves", body="os._exit(0)"))
    (tmp_path / "code").mkdir()
    (tmp_path / "code/a.py").write_text("leaves()\n")
    (tmp_path / "code/b.py").write_text("f(1)\n")
    for words in (
        *(["survey"], ["preview"], ["apply", "--uncommitted"], ["survey", "--workers", "1"]),
        *(["clashes"], ["baseline"], ["apply", "--uncommitted", "--ask"]),
    ):
        told = ytr(*words, "--rules", "r.py", "code")
        assert told.status == 3 and "ended itself" in told.err


def test_examples_of_a_rule_that_hangs_or_ends_its_process_fail(ytr, tmp_path: Path) -> None:
    example = "examples=[Example('{0}()')]"
    text = HEAD.replace("import rule", "import Example, rule")
    for name, body in (("leaves", "os._exit(0)"), ("exits", "sys.exit(0)"), ("fine", "pass")):
        made = RULE.format(name=name, body=body)
        text += made.replace("summary='s'", f"summary='s', {example.format(name)}")
    (tmp_path / "r.py").write_text(text)
    told = ytr("prove", "--rules", "r.py")
    assert told.status == 1 and "2 of 3 examples failed" in told.out
    assert "it ended its process, with status 0" in told.out
    pages = ytr("rules", "--rules", "r.py", "--pages", "pages")
    assert pages.status == 2 and "`leaves` and `exits` fail" in pages.err


def test_a_file_without_a_report_is_told(tmp_path: Path) -> None:
    class Forgetful(ThreadPoolExecutor):
        def submit(self, work, /, task, **more):
            return super().submit(work, task._replace(files=task.files[1:]), **more)

    for name in ("a.py", "b.py", "c.py"):
        (tmp_path / name).write_text("f(1)\n")
    with Forgetful(1) as executor:
        done = run([tmp_path], PatternSpec("f(@{x})", None, "python"), executor=executor)
    assert len(done.findings) == 2 and len(done.reports) == 3
    assert [p.reason for p in done.problems] == ["no report of it came back"]


HARD = {
    "continuations": b"x = f(1) \\\n" + b"\\\n" * 100_000 + b"+ 2\n",
    "brackets": b"f(1)\n" + b"(" * 100_000,
    "stars": b"f(1)\nprint(" + b"*" * 100_000,
    "sum": b"x = f(1)" + b" + a" * 250_000 + b"\n",
    "calls": b"f(1)\nx = " + b"f(" * 50_000 + b")" * 50_000 + b"\n",
    "not": b"x = [" + b"not a, " * 200_000 + b"f(1)]\n",
    "definitions": b"".join(b" " * n + b"def f():\n" for n in range(1_000)) + b" " * 1_000 + b"f(1)\n",
    "regex": b"name('" + b"a" * 60 + b"!')\n",
    "statements": b"f(1)" + b"; f(1)" * 120_000 + b"\n",
}


@pytest.mark.parametrize("kind", HARD)
@pytest.mark.parametrize("command", ["survey", "preview"])
def test_no_file_takes_longer_than_its_limit(ytr, tmp_path: Path, kind: str, command: str) -> None:
    (tmp_path / "hard.py").write_bytes(HARD[kind])
    (tmp_path / "r.toml").write_text(
        '[[rule]]\nname = "calls"\nsummary = "s"\nfind = "f(@{x})"\nput = "g(@{x})"\n'
        '[[rule]]\nname = "wild"\nsummary = "s"\nfind = "name(@{x})"\n'
        "where = [{hole = \"x\", text = \"'(a+)+$\"}]\n"
        '[[rule]]\nname = "sums"\nsummary = "s"\nfind = "@{x} + @{x}"\nput = "2 * @{x}"\n'
    )
    limits = ("--file-seconds", "2", "--rule-seconds", "2", "--no-cache")
    before = os.times()  # the time of the command itself: others may be at work here
    told = ytr(command, "--rules", "r.toml", *limits, "hard.py")
    after = os.times()
    took = after.children_user + after.children_system
    assert took - before.children_user - before.children_system < 1 + 2 + 2  # 1 to start
    reasons = ("stopped after 2 s", "does not parse")
    assert told.status in (0, 1) or (told.status == 3 and any(one in told.err for one in reasons))


def test_the_limit_of_the_file_goes_before_that_of_a_rule(tmp_path: Path) -> None:
    (tmp_path / "r.py").write_text(
        HEAD + RULE.format(name="loops", body="while True: pass") + RULE.format(name="f", body="0")
    )
    (tmp_path / "code").mkdir()
    (tmp_path / "code/a.py").write_text("loops()\nf()\n")
    done = run([tmp_path / "code"], RulesSpec((str(tmp_path / "r.py"),)), RunOptions(limits=Limits(1, 1)))
    assert [(p.rule, p.reason) for p in done.problems] == [
        ("", "stopped after 1 s, the limit for one file")
    ]


def test_what_is_very_deep_is_found(python: Language = language("python")) -> None:
    # a query of the parser library misses what lies 65,536 deep
    data = b"x = " + b"a + (" * 40_000 + b"f(1)" + b")" * 40_000 + b"\n"
    tree = Tree(Source(data), python)
    assert len(tree.of_kinds(frozenset({"call"}))) == 1
    assert len(tree.of_kinds(frozenset({"binary_operator"}))) == 40_000


def test_the_other_commands_have_limits_too(tmp_path: Path) -> None:
    spec = PatternSpec("f(@{x})", None, "python")
    with pytest.raises(OutOfTime, match=r"stopped after 0\.5 s"), limited(0.5):
        Tree(Source(HARD["continuations"]), language("python"))
    assert Tree(Source(b"f(1)\n"), language("python")).root.items  # the parser is of use again
    (tmp_path / "a.py").write_text("f(1)\n")
    assert len(run([tmp_path], spec).findings) == 1


@pytest.fixture
def started(tmp_path: Path) -> Iterator[Callable[[str], subprocess.Popen[bytes]]]:
    """Start `ytr survey` with a rule that does something, in a folder of many files."""
    commands = []

    def start(body: str) -> subprocess.Popen[bytes]:
        head = f"import subprocess\n{HEAD}"
        (tmp_path / "r.py").write_text(head + RULE.format(name="one", body=body))
        for number in range(12):
            (tmp_path / f"code{number}.py").write_text("one()\n" * 3)
        command = [sys.executable, "-m", "yellow_trellis", "survey", "--rules", "r.py"]
        command += ["--workers", "2", "--no-cache", "--rule-seconds", "600"]
        commands.append(
            subprocess.Popen(
                command, cwd=tmp_path, stdout=subprocess.PIPE, stderr=subprocess.STDOUT
            )
        )
        return commands[-1]

    yield start
    for command in commands:
        command.kill()
        command.communicate()


def waited_for(check: Callable[[], bool], seconds: float = 20) -> bool:
    """Wait until `check` holds; return whether it does."""
    end = time.monotonic() + seconds
    while not check() and time.monotonic() < end:
        time.sleep(0.05)
    return check()


def running(pids: Iterable[int]) -> list[int]:
    """Return those processes that are there, and are not only waited for."""
    states = {pid: Path(f"/proc/{pid}/stat") for pid in pids}
    there = [pid for pid, stat in states.items() if stat.exists()]
    return [pid for pid in there if " Z " not in states[pid].read_text("utf-8")]


def test_a_worker_ends_with_the_first_process_whatever_it_is_at(tmp_path: Path, started) -> None:
    command = started(f"open({str(tmp_path)!r} + f'/at{{os.getpid()}}', 'w'); sum(range(10**13))")
    assert waited_for(lambda: list(tmp_path.glob("at*")))
    workers = [int(path.name[2:]) for path in tmp_path.glob("at*")]
    assert running(workers) == workers
    command.kill()
    assert waited_for(lambda: not running(workers))


def test_what_a_rule_leaves_running_holds_nobody_up(tmp_path: Path, started) -> None:
    path = str(tmp_path / "left")
    body = "print(subprocess.Popen(['sleep', '600']).pid, file=open({!r}, 'a'))"
    command = started(body.format(path))
    out, _ = command.communicate(timeout=60)
    assert b"36 findings" in out
    left = [int(pid) for pid in Path(path).read_text("utf-8").split()]
    assert len(left) == 36
    assert not running(left)
