"""What is new on a branch: counted from where it parted, through renames, in clones of any depth."""

import json
import subprocess
from pathlib import Path

import pytest

RULES = '[[rule]]\nname = "old-call"\nsummary = "s"\nfind = "old(@{x})"\nput = "new(@{x})"\n'


def git(folder: Path, *words: str) -> None:
    """Run git in a folder."""
    who = ("-c", "user.name=A", "-c", "user.email=a@alder.example")
    subprocess.run(["git", *who, *words], cwd=folder, check=True, capture_output=True)


def commit(folder: Path, **texts: str) -> None:
    """Commit modules with some texts, and all else that has changed."""
    for name, text in texts.items():
        (folder / f"{name}.py").write_text(text, "utf-8")
    git(folder, "add", "-A")
    git(folder, "commit", "-q", "-m", "x")


@pytest.fixture
def branch(tmp_path: Path, home: Path) -> Path:
    """Return a repository with a branch that is behind `main` and has a finding of its own."""
    folder = tmp_path / "alder"
    folder.mkdir()
    git(folder, "init", "-q", "-b", "main")
    (folder / "trellis.toml").write_text('rules = ["rules.toml"]\n', "utf-8")
    (folder / "rules.toml").write_text(RULES, "utf-8")
    commit(folder, a="old(1)\n", b="import x\n\n\ndef f(car):\n    old(2)\n    return car\n")
    git(folder, "switch", "-q", "-c", "depot")
    git(folder, "mv", "b.py", "moved.py")
    commit(folder, c="old(3)\n")
    git(folder, "switch", "-q", "main")
    commit(folder, a="new(1)\n", d="x = 1\n")
    git(folder, "switch", "-q", "depot")
    return folder


@pytest.mark.parametrize("since", ["main", "main...depot", "main...HEAD", "main...", "HEAD~1"])
@pytest.mark.parametrize("narrow", ["--new-only", "--changed-lines"])
def test_only_what_the_branch_brought_counts(ytr, branch: Path, since: str, narrow: str) -> None:
    """On the screen and in each file it is the one finding; a renamed file keeps its own."""
    also = [w for name in ("sarif", "markdown", "json") for w in ("--also", f"{name}=o.{name}")]
    done = ytr("survey", "--changed-since", since, narrow, *also, where=branch)
    assert done.status == 1 and "c.py:1:1" in done.out
    assert "a.py" not in done.out and "moved.py" not in done.out
    assert "**Fails: 1 " in (branch / "o.markdown").read_text("utf-8")
    assert json.loads((branch / "o.json").read_text("utf-8"))["summary"]["failing"] == 1
    items = json.loads((branch / "o.sarif").read_text("utf-8"))["runs"][0]["results"]
    new = [item for item in items if item.get("baselineState", "new") == "new"]
    places = [item["locations"][0]["physicalLocation"]["artifactLocation"] for item in new]
    assert [place["uri"] for place in places] == ["c.py"]


def test_staged_renames_keep_their_findings(ytr, branch: Path) -> None:
    """A file that is staged under another name has nothing new in it."""
    git(branch, "mv", "c.py", "e.py")
    assert ytr("survey", "--staged", "--new-only", where=branch).status == 0


def test_a_fingerprint_without_the_path_outlives_a_rename(ytr, branch: Path) -> None:
    """One fingerprint of a finding follows it into another file, the others do not."""
    marks = []
    for name in ("c.py", "e.py"):
        (found,) = [
            item["partialFingerprints"]
            for item in json.loads(ytr("survey", "--format", "sarif", where=branch).out)["runs"][0][
                "results"
            ]
            if item["locations"][0]["physicalLocation"]["artifactLocation"]["uri"] == name
        ]
        marks.append(found)
        git(branch, "mv", "-k", "c.py", "e.py")
    same = {name for name in marks[0] if marks[0][name] == marks[1][name]}
    assert same == {"trellisFindingInAnyFile/v1"} and len(marks[0]) == 3


def test_what_git_cannot_tell_is_said_with_the_way_out(ytr, branch: Path) -> None:
    """Shallow clones, foreign tips and histories apart are told, with a command where one helps."""
    done = ytr("survey", "--changed-since", "depot...main", where=branch)
    assert done.status == 2 and "`git switch main` first" in done.err
    shallow = branch.parent / "shallow"
    git(branch, "clone", "-q", "--depth", "1", branch.as_uri(), str(shallow))
    done = ytr("survey", "--changed-since", "origin/main", where=shallow)
    assert done.status == 2 and "git fetch --unshallow origin" in done.err
    git(shallow, "fetch", "-q", "--depth", "1", "origin", "main:main")
    done = ytr("survey", "--changed-since", "main", where=shallow)
    assert done.status == 2 and "`git fetch --unshallow`" in done.err
    git(shallow, "fetch", "-q", "--unshallow", "origin", "+refs/heads/*:refs/remotes/origin/*")
    done = ytr("survey", "--changed-since", "origin/main", "--new-only", where=shallow)
    assert done.status == 1 and "c.py:1:1" in done.out
    git(branch, "checkout", "-q", "--orphan", "apart")
    commit(branch)
    done = ytr("survey", "--changed-since", "main", where=branch)
    assert done.status == 2 and "no commit in common" in done.err and "shallow" not in done.err
