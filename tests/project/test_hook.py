"""Hooks of git: what is staged is looked at and fixed, what is not staged stays as it was."""

from __future__ import annotations

import os
import random
import shutil
import subprocess
from collections.abc import Callable
from pathlib import Path

import pytest

from tests.conftest import Answer
from yellow_trellis.project.git import Repository
from yellow_trellis.project.staging import staged_files, unlike_disk
from yellow_trellis.runs.run_options import RunOptions
from yellow_trellis.runs.runner import run
from yellow_trellis.runs.staged_fixes import NotStagedError, fix_staged

pytestmark = pytest.mark.skipif(shutil.which("git") is None, reason="needs git")

RULE = '[[rule]]\nname = "call-g"\nsummary = "f is g."\nfind = "f(@{x})"\nput = "g(@{x})"\n'


def git(folder: Path, *words: str, fails: bool = False) -> str:
    done = subprocess.run(["git", *words], cwd=folder, capture_output=True, text=True)
    assert (done.returncode != 0) is fails, done.stderr
    return done.stdout + done.stderr


@pytest.fixture
def folder(tmp_path: Path, home: Path) -> Path:
    git(tmp_path, "init", "-q", "-b", "main")
    git(tmp_path, "config", "user.name", "Ann")
    git(tmp_path, "config", "user.email", "ann@alder.example")
    (tmp_path / "rules.toml").write_text(RULE)
    (tmp_path / "trellis.toml").write_text('rules = ["rules.toml"]\n')
    git(tmp_path, "add", ".")
    git(tmp_path, "commit", "-qm", "one")
    return tmp_path


def staged(folder: Path, name: str) -> str:
    return git(folder, "show", f":{name}")


def test_a_commit_is_stopped_by_what_is_staged_and_not_by_the_rest(
    folder: Path, ytr: Callable[..., Answer]
) -> None:
    ytr("hook", "install")
    file = folder / "a.py"
    file.write_text("f(1)\n")
    git(folder, "add", "a.py")
    file.write_text("g(1)\n")  # mended, and not staged
    told = git(folder, "commit", "-m", "two", fails=True)
    assert "a.py:1:1" in told and "Fails: 1 finding" in told and "--no-verify" in told
    git(folder, "add", "a.py")
    file.write_text("f(2)\n")
    git(folder, "commit", "-qm", "two")
    assert git(folder, "show", "HEAD:a.py") == "g(1)\n" and file.read_text("utf-8") == "f(2)\n"


def test_fixes_go_into_the_commit_and_the_tree_and_leave_what_is_not_staged(
    folder: Path, ytr: Callable[..., Answer]
) -> None:
    ytr("hook", "install", "--fix")
    file = folder / "a.py"
    lines = ["f(1)\n", *(f"x{number} = {number}\n" for number in range(8)), "f(2)\n"]
    file.write_text("".join(lines))
    git(folder, "add", "a.py")
    lines[4] = "f(3)  # not staged\n"
    file.write_text("".join(lines))
    told = git(folder, "commit", "-m", "two")
    assert "Fixed 1 file" in told
    lines[0], lines[9] = "g(1)\n", "g(2)\n"
    assert file.read_text("utf-8") == "".join(lines)
    lines[4] = "x3 = 3\n"
    assert git(folder, "show", "HEAD:a.py") == "".join(lines)
    assert "1 file restored" in ytr("undo").out and file.read_text("utf-8").startswith("f(1)\n")


def test_fixes_meet_line_ends_of_the_tree_and_commits_of_all_that_is_tracked(
    folder: Path, ytr: Callable[..., Answer]
) -> None:
    ytr("hook", "install", "--fix")
    git(folder, "config", "core.autocrlf", "true")
    file = folder / "a.py"
    file.write_bytes(b"g(1)\r\nx = 1\r\n")
    git(folder, "add", "a.py")
    git(folder, "commit", "-qm", "two")
    file.write_bytes(b"f(1)\r\nx = 1\r\n")
    git(folder, "commit", "-qam", "three")
    assert file.read_bytes() == b"g(1)\r\nx = 1\r\n" and staged(folder, "a.py") == "g(1)\nx = 1\n"
    file.write_bytes(b"f(1)\r\nx = 1\r\n")
    git(folder, "add", "a.py")
    file.write_bytes(b"f(1)\r\nx = 1\r\n\r\n\r\nf(2)\r\n")
    git(folder, "commit", "-qm", "four")
    assert file.read_bytes() == b"g(1)\r\nx = 1\r\n\r\n\r\nf(2)\r\n"
    assert git(folder, "show", "HEAD:a.py") == "g(1)\nx = 1\n"


def test_a_commit_of_some_paths_is_not_fixed(folder: Path, ytr: Callable[..., Answer]) -> None:
    ytr("hook", "install", "--fix")
    (folder / "a.py").write_text("g(1)\n")
    git(folder, "add", ".")
    git(folder, "commit", "-qm", "two")
    (folder / "a.py").write_text("f(1)\n")
    told = git(folder, "commit", "-m", "three", "a.py", fails=True)
    assert "Nothing was fixed: this commit takes only some paths" in told
    assert staged(folder, "a.py") == "g(1)\n" and (folder / "a.py").read_text("utf-8") == "f(1)\n"


def test_a_hook_that_is_there_stays_and_goes_first(folder: Path, ytr: Callable[..., Answer]) -> None:
    hook = folder / ".git/hooks/pre-commit"
    hook.parent.mkdir(exist_ok=True)
    hook.write_text("#!/bin/sh\necho first\n")
    hook.chmod(0o755)
    assert "The hook that was there runs first" in ytr("hook", "install", "--fix").out
    assert "applies safe fixes, behind the hook" in ytr("hook", "show").out
    ytr("hook", "install")  # anew, without fixes
    assert "installed, behind the hook" in ytr("hook", "show").out
    (folder / "a.py").write_text("g(1)\n")
    git(folder, "add", ".")
    assert "first" in git(folder, "commit", "-m", "two")
    assert "is back" in ytr("hook", "remove").out
    assert hook.read_text("utf-8") == "#!/bin/sh\necho first\n"
    told = ytr("hook", "remove")
    assert told.status == 2 and "no hook of ours" in told.err
    for words in (("--rules", "rules.toml"), ("--fail-at", "error")):
        told = ytr("hook", "install", *words)
        assert told.status == 2 and "from the configuration" in told.err


def test_without_rules_a_commit_passes_with_a_note(tmp_path: Path, ytr, home: Path) -> None:
    git(tmp_path, "init", "-q")
    (tmp_path / "a.py").write_text("f(1)\n")
    git(tmp_path, "add", ".")
    told = ytr("hook", "run")
    assert told.status == 0 and "No rules are configured here" in told.err


def test_a_merge_that_git_makes_by_itself_is_looked_at(
    folder: Path, ytr: Callable[..., Answer]
) -> None:
    git(folder, "switch", "-qc", "depot")
    (folder / "a.py").write_text("f(1)\n")
    git(folder, "add", ".")
    git(folder, "commit", "-qm", "two")
    git(folder, "switch", "-q", "main")
    (folder / "b.py").write_text("g(1)\n")
    git(folder, "add", ".")
    git(folder, "commit", "-qm", "three")
    ytr("hook", "install")
    told = git(folder, "merge", "depot", fails=True)
    assert "a.py:1:1" in told and "The merge is stopped" in told
    git(folder, "merge", "--abort")
    assert not (folder / "a.py").exists()
    ytr("hook", "install", "--fix")
    assert "The merge is stopped" in git(folder, "merge", "depot", fails=True)
    assert "git has settled" in ytr("hook", "run", "pre-merge-commit", "--fix").err
    told = git(folder, "commit", "-m", "merged", "--no-edit")  # it is an ordinary commit now
    assert "Fixed 1 file" in told and git(folder, "show", "HEAD:a.py") == "g(1)\n"
    assert git(folder, "status", "--porcelain", "-uno") == ""
    assert "Removed" in ytr("hook", "remove").out
    assert [line.split()[-2:] for line in ytr("hook", "show").out.splitlines()] == [
        ["not", "installed"]
    ] * 3


@pytest.mark.parametrize("option", ["--new-only", "--changed-lines"])
@pytest.mark.parametrize("fix", [(), ("--fix",)])
def test_what_was_there_before_stops_no_commit(
    folder: Path, ytr: Callable[..., Answer], option: str, fix: tuple[str, ...]
) -> None:
    file = folder / "a.py"
    rest = "y = 1\nz = 1\n" * 9
    file.write_text(f"f(1)\nx = 1\n{rest}")
    git(folder, "add", ".")
    git(folder, "commit", "-qm", "two")
    ytr("hook", "install", option, *fix)
    git(folder, "mv", "a.py", "b.py")
    file = folder / "b.py"
    file.write_text(f"f(1)\nx = 2\n{rest}")
    git(folder, "add", ".")
    git(folder, "commit", "-qm", "three")
    assert git(folder, "show", "HEAD:b.py") == f"f(1)\nx = 2\n{rest}"
    file.write_text(f"f(1)\nx = 2\nf(3)\n{rest}")
    told = git(folder, "commit", "-qam", "four", fails=not fix)
    assert fix or ("b.py:3:1" in told and "b.py:1:1" not in told)
    if fix:
        assert git(folder, "show", "HEAD:b.py") == f"f(1)\nx = 2\ng(3)\n{rest}"
    refused = ytr("hook", "install", "pre-push", option)
    assert refused.status == 2 and "pre-commit" in refused.err


@pytest.mark.parametrize("is_shared", [False, True])
def test_a_shared_folder_of_hooks_is_told_before_anything_is_written(
    folder: Path, ytr: Callable[..., Answer], tmp_path_factory, is_shared: bool
) -> None:
    hooks = tmp_path_factory.mktemp("hooks") if is_shared else folder / "hooks"
    git(folder, "config", "core.hooksPath", str(hooks))
    told = ytr("hook", "install")
    assert told.status == 2 and str(hooks) in told.err and "--in-hooks-path" in told.err
    assert not (hooks / "pre-commit").exists()
    assert ytr("hook", "install", "--in-hooks-path").status == 0
    assert (hooks / "pre-commit").is_file()
    git(folder, "config", "core.hooksPath", ".git/hooks")
    assert ytr("hook", "install").status == 0


@pytest.mark.parametrize("seed", range(20))
def test_lines_of_other_people_stay(folder: Path, ytr: Callable[..., Answer], seed: int) -> None:
    """Law: installing again and removing keep each line that is not ours, in its order."""
    chance = random.Random(seed)
    ytr("hook", "install")
    file = folder / ".git/hooks/pre-commit"
    lines = file.read_text("utf-8").splitlines()
    added = [f"echo line {number} >> said.txt" for number in range(chance.randint(1, 5))]
    for line, at in zip(added, sorted(chance.sample(range(1, len(lines) + 1), len(added)))):
        lines.insert(at + added.index(line), line)
    file.write_text("".join(f"{line}\n" for line in lines), "utf-8")
    for words in (("install", "--fix"), ("install", "--new-only"), ("remove",)):
        assert ytr("hook", *words).status == 0
        text = file.read_text("utf-8")
        assert [line for line in text.splitlines() if line in added] == added
    assert "ytr" not in text
    (folder / "a.py").write_text("g(1)\n")
    git(folder, "add", ".")
    git(folder, "commit", "-qm", "two")
    assert (folder / "said.txt").read_text("utf-8").count("line") == len(added)


def test_a_push_is_stopped_by_what_it_brings(folder: Path, ytr: Callable[..., Answer]) -> None:
    ytr("hook", "install", "pre-push")
    git(folder.parent, "init", "-q", "--bare", "far.git") if not (folder.parent / "far.git").exists() else None
    far = folder.parent / "far.git"
    git(folder, "remote", "add", "far", str(far))
    git(folder, "push", "-q", "far", "main")
    (folder / "a.py").write_text("f(1)\n")
    git(folder, "add", ".")
    git(folder, "commit", "-qm", "two")
    told = git(folder, "push", "far", "main", fails=True)
    assert "a.py:1:1" in told and "The push is stopped" in told
    (folder / "a.py").write_text("g(1)\n")
    git(folder, "commit", "-qam", "three")
    git(folder, "push", "-q", "far", "main")
    shutil.rmtree(far)


@pytest.mark.parametrize("seed", range(int(os.environ.get("YTR_SHARE", "12"))))
def test_index_and_tree_both_have_the_fixes_or_neither(folder: Path, seed: int) -> None:
    rng = random.Random(seed)
    end = rng.choice(["\n", "\n", "\r\n"])
    pieces = ("f(1)", "g(2)", "x = 1", "f(f(3))", "# f(4)", "", "def k(): return f(5)")

    def edited(lines: list[str]) -> list[str]:
        lines = list(lines)
        for _ in range(rng.randrange(4)):
            at = rng.randrange(len(lines) + 1)
            lines[at : at + rng.randrange(3)] = rng.choices(pieces, k=rng.randrange(3))
        return lines

    first = rng.choices(pieces, k=12)
    second = edited(first)
    third = edited(second) if rng.random() < 0.7 else second
    file = folder / "a.py"

    def written(lines: list[str]) -> bytes:
        return "".join(line + end for line in lines).encode()

    file.write_bytes(written(first))
    git(folder, "add", ".")
    git(folder, "commit", "-qm", "two")
    file.write_bytes(written(second))
    git(folder, "add", ".")
    file.write_bytes(written(third))
    repository = Repository(folder)
    before = staged_files(repository)
    texts = unlike_disk(before)
    done = run(list(texts), [str(folder / "rules.toml")], RunOptions(mode="rework"), unsaved=texts)
    tree = file.read_bytes()
    try:
        paths = fix_staged(repository, before, done)
    except NotStagedError as reason:
        assert "not staged" in str(reason) and staged_files(repository) == before
        assert file.read_bytes() == tree
        return
    after = {one.path: one.data for one in staged_files(repository)}

    def fixed(data: bytes) -> bytes:
        return b"".join(
            line if line.startswith(b"#") else line.replace(b"f(", b"g(")
            for line in data.splitlines(keepends=True)
        )

    if paths:
        assert after.get(paths[0], fixed(before[0].data)) == fixed(before[0].data)
    now = file.read_bytes()
    assert fixed(now) == fixed(tree)  # nothing but calls of f has changed
    kept = [line for line in third if line not in second and "f(" in line]
    for line in kept:
        assert line.encode() in now  # what is not staged is not fixed either
