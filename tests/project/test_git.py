"""What git is asked: it answers or nothing is written, and runs no program of the repository."""

import os
import shutil
import subprocess
import sys
from pathlib import Path

import pytest

from yellow_trellis.project.git import RevisionError, Repository, uncommitted_of

pytestmark = pytest.mark.skipif(
    sys.platform == "win32" or shutil.which("git") is None, reason="needs git and a shell"
)

RULE = '[[rule]]\nname = "x"\nsummary = "s"\nfind = "f(@{x})"\nput = "g(@{x})"\n'


def git(folder: Path, *words: str) -> None:
    who = ("-c", "user.name=Ann", "-c", "user.email=ann@alder.example")
    subprocess.run(["git", *who, *words], cwd=folder, check=True, capture_output=True)


@pytest.fixture
def base(tmp_path: Path) -> Path:
    """Return a repository with one commit."""
    (tmp_path / "a.py").write_text("f(1)\n")
    (tmp_path / "r.toml").write_text(RULE)
    git(tmp_path, "init", "-q")
    git(tmp_path, "add", ".")
    git(tmp_path, "commit", "-qm", "one")
    return tmp_path


def break_config(base: Path) -> None:
    (base / ".git/config").write_text("[core\n")


def break_head(base: Path) -> None:
    (base / ".git/HEAD").write_text("no ref\n")


def break_file(base: Path) -> None:
    shutil.rmtree(base / ".git")
    (base / ".git").write_text("gitdir: nowhere\n")


@pytest.mark.parametrize("harm", [break_config, break_head, break_file])
def test_where_git_cannot_answer_nothing_is_written(base: Path, ytr, harm) -> None:
    harm(base)
    told = ytr("apply", "-r", "r.toml", "a.py")
    assert told.status == 2 and "nothing was written" in told.err, told
    assert (base / "a.py").read_text("utf-8") == "f(1)\n"
    assert ytr("apply", "-r", "r.toml", "a.py", "--uncommitted").status == 0


def test_without_git_nothing_is_written(base: Path, ytr, monkeypatch) -> None:
    monkeypatch.setenv("PATH", str(base))
    told = ytr("apply", "-r", "r.toml", "a.py")
    assert told.status == 2 and "install it" in told.err
    assert (base / "a.py").read_text("utf-8") == "f(1)\n"


def test_a_repository_named_by_a_variable_is_not_asked(base: Path, tmp_path_factory, monkeypatch) -> None:
    other = tmp_path_factory.mktemp("other")
    git(other, "init", "-q")
    monkeypatch.setenv("GIT_DIR", str(other / ".git"))
    monkeypatch.setenv("GIT_WORK_TREE", str(other))
    (base / "a.py").write_text("f(2)\n")
    assert uncommitted_of([str(base / "a.py")]) == [str(base / "a.py")]


def test_what_is_in_no_commit_is_uncommitted_wherever_it_lies(base: Path) -> None:
    (base / ".gitignore").write_text("ignored.py\n")
    (base / "ignored.py").write_text("f(1)\n")
    (base / "new.py").write_text("f(1)\n")
    inner = base / "inner"
    inner.mkdir()
    (inner / "b.py").write_text("f(1)\n")
    (inner / "c.py").write_text("f(1)\n")
    git(inner, "init", "-q")
    git(inner, "add", "b.py", "c.py")
    git(inner, "commit", "-qm", "one")
    (inner / "c.py").write_text("f(2)\n")
    git(base, "-c", "protocol.file.allow=always", "submodule", "add", "-q", "./inner", "sub")
    git(base, "commit", "-qam", "two")
    (base / "sub/b.py").write_text("f(3)\n")
    names = ("a.py", "ignored.py", "new.py", "inner/b.py", "inner/c.py", "sub/b.py", "sub/c.py")
    found = uncommitted_of([str(base / name) for name in names])
    wanted = ("ignored.py", "inner/c.py", "new.py", "sub/b.py")
    assert found == sorted(str(base / name) for name in wanted)


def test_a_question_runs_no_program_of_the_repository(base: Path, ytr) -> None:
    ran = base.parent / "ran"
    program = base / "program.sh"
    program.write_text(f"#!/bin/sh\necho \"$0 $@\" >> {ran}\ncat\n")
    program.chmod(0o755)
    hooks = base / "hooks"
    hooks.mkdir()
    for name in ("post-index-change", "pre-commit", "post-checkout", "reference-transaction"):
        shutil.copy(program, hooks / name)
    (base / ".gitattributes").write_text("*.py filter=evil diff=evil\n")
    for key in (
        *("core.fsmonitor", "core.pager", "diff.external", "filter.evil.clean"),
        *("filter.evil.smudge", "filter.evil.process", "diff.evil.textconv", "diff.evil.command"),
    ):
        git(base, "config", key, str(program))
    git(base, "config", "core.hooksPath", str(hooks))
    git(base, "config", "filter.evil.required", "true")
    os.utime(base / "a.py", (1, 1))
    for call in (
        ("survey", "-r", "r.toml", "."),
        ("survey", "-r", "r.toml", ".", "--changed-since", "HEAD", "--changed-lines"),
        ("survey", "-r", "r.toml", ".", "--staged"),
        ("survey", "-r", "r.toml", ".", "--record"),
        ("preview", "-r", "r.toml", "."),
        ("apply", "-r", "r.toml", "a.py"),
    ):
        answer = ytr(*call)
        assert answer.status in (0, 1), (call, answer)
    assert not ran.exists(), ran.read_text("utf-8")
    assert (base / "a.py").read_text("utf-8") == "g(1)\n"


def test_what_a_clone_lacks_is_not_fetched_by_a_program(base: Path, ytr) -> None:
    ran = base.parent / "ran"
    program = base / "program.sh"
    program.write_text(f"#!/bin/sh\necho ran >> {ran}\n")
    program.chmod(0o755)
    for key, value in (
        *(("extensions.partialClone", "evil"), ("remote.evil.promisor", "true")),
        *(("remote.evil.url", f"ext::{program}"), ("protocol.ext.allow", "always")),
        ("core.repositoryFormatVersion", "1"),
    ):
        git(base, "config", key, value)
    for kept in (base / ".git/objects").glob("??/*"):
        kept.unlink()
    for call in (
        ("survey", "-r", "r.toml", ".", "--changed-since", "HEAD", "--changed-lines"),
        ("survey", "-r", "r.toml", ".", "--staged"),
        ("preview", "-r", "r.toml", "."),
    ):
        assert ytr(*call).status in (0, 1, 2), call
    assert not ran.exists()


def test_a_repository_without_a_working_tree_below_is_not_asked(base: Path, ytr) -> None:
    ran = base.parent / "ran"
    program = base / "program.sh"
    program.write_text(f"#!/bin/sh\necho ran >> {ran}\ncat\n")
    program.chmod(0o755)
    below = base / "below"
    below.mkdir()
    git(below, "init", "-q", "--bare", ".")
    for key in ("core.fsmonitor", "filter.evil.clean", "core.alternateRefsCommand"):
        git(below, "config", key, str(program))
    (below / "b.py").write_text("f(2)\n")
    (below / ".gitattributes").write_text("*.py filter=evil\n")
    rules = str(base / "r.toml")
    for call in (
        ("survey", "-r", rules, str(below)),
        ("survey", "-r", rules, str(below), "--changed-since", "HEAD"),
        ("apply", "-r", rules, str(below), "--uncommitted"),
    ):
        answer = ytr(*call)
        assert answer.status in (0, 1), (call, answer)
    assert Repository(below).top == base.resolve()
    assert not ran.exists()


def test_hooks_run_where_a_commit_is_asked_for(base: Path) -> None:
    hook = base / ".git/hooks/pre-commit"
    hook.parent.mkdir(exist_ok=True)
    hook.write_text("#!/bin/sh\necho 'the depot is closed' >&2\nexit 1\n")
    hook.chmod(0o755)
    (base / "a.py").write_text("f(2)\n")
    with pytest.raises(RevisionError, match="git commit: the depot is closed"):
        Repository(base).commit([str(base / "a.py")], "two")


def test_a_commit_runs_the_filters_of_the_repository(base: Path) -> None:
    (base / ".gitattributes").write_text("*.py filter=tidy\n")
    git(base, "config", "filter.tidy.clean", "sed s/2/3/")
    for key, value in (("user.name", "Ann"), ("user.email", "ann@alder.example")):
        git(base, "config", key, value)
    (base / "a.py").write_text("f(2)\n")
    repository = Repository(base)
    repository.commit([str(base / "a.py")], "two")
    assert repository.text("HEAD", str(base / "a.py")) == b"f(3)\n"
