"""Ignore files, held against what git says of random patterns and trees."""

import os
import random
import subprocess
import time
from pathlib import Path

import pytest

from tests.conftest import rules_of
from yellow_trellis import run
from yellow_trellis.ignore_patterns import Globs
from yellow_trellis.project.discovery import discover

CASES = int(os.environ.get("YTR_EXAMPLES", "100"))
ATOMS = [
    *(b"a", b"b", b"ab", b"x.py", b".py", b"*", b"**", b"***", b"?", b"/", b"/", b"**/", b"/**"),
    *(b"/**/", b"[ab]", b"[!a]", b"[^b]", b"[a-c]", b"[]a]", b"[!]a]", b"[a-]", b"[[:alpha:]]"),
    *(b"[[:foo:]]", b"[a/b]", b"\\", b"\\*", b"\\a", b" ", b"\\ ", b"!", b"#", b"[", b"]", b"-"),
    *(b"[[:digit:]a]", b"\xc3\xa9", b"[\\]]", b"[a-\\c]", b"\\/", b"\t", b"\r", b"[[:]", b"[z-a]"),
]
NAMES = [
    *(b"a", b"b", b"ab", b"x.py", b"a.py", b"ba", b"abc", b"c", b"-", b"]", b"\xc3\xa9", b"1"),
    *(b"#a", b"!a", b"a b", b"a ", b"*", b".py", b"abx.py"),
]


def git(folder: Path, *words: str, given: bytes = b"") -> bytes:
    done = subprocess.run(["git", "-C", folder, *words], input=given, capture_output=True)
    assert done.returncode <= 1, done.stderr
    return done.stdout


def some_patterns(dice: random.Random) -> bytes:
    lines = [
        b"".join(dice.choice(ATOMS) for _ in range(dice.randint(1, 5)))
        for _ in range(dice.choice([1, 1, 2, 3, 4]))
    ]
    if dice.random() < 0.2:
        lines[:0] = [b"*", b"!*/"]
    return dice.choice([b"\n", b"\n", b"\r\n"]).join(lines) + dice.choice([b"", b"\n"])


@pytest.mark.skipif(os.name == "nt", reason="needs names of any bytes")
@pytest.mark.parametrize("seed", range(2))
def test_patterns_mean_what_they_mean_to_git(tmp_path: Path, seed: int) -> None:
    dice = random.Random(seed)
    git(tmp_path, "init", "-q")
    for _ in range(CASES):
        patterns = some_patterns(dice)
        (tmp_path / ".gitignore").write_bytes(patterns)
        paths = sorted(
            {
                b"/".join(dice.choice(NAMES) for _ in range(dice.choice([1, 1, 2, 2, 3, 4])))
                for _ in range(12)
            }
        )
        words = ("check-ignore", "--no-index", "-z", "--stdin")
        told = git(tmp_path, *words, given=b"\0".join(paths) + b"\0")
        globs = Globs.read(patterns)
        ours = [path for path in paths if globs.ignore(path)]
        assert ours == told.split(b"\0")[:-1], (patterns, paths)


FOLDERS = ["", "a", "b", "a/b", "a/c", "b/a/c"]
FILES = ["x.py", "a.py", "keep.py", "gen_a.py"]
LINES = [
    *("*", "!*/", "!*.py", "!keep.py", "*.py", "a/", "/a", "b/", "!b/", "gen_*", "/b/a", "**/c"),
    *("a/**", "!a/b/", "c/*.py", "!/a/x.py", "# a", "", "x.py ", "[ag]*.py", "b/**/keep.py"),
]


@pytest.mark.parametrize("seed", range(max(CASES // 5, 10)))
def test_what_is_looked_at_is_what_git_lists(tmp_path: Path, seed: int, monkeypatch) -> None:
    dice = random.Random(seed)
    monkeypatch.setenv("HOME", str(tmp_path / "home"))
    monkeypatch.setenv("XDG_CONFIG_HOME", str(tmp_path / "home"))
    top = tmp_path / "code"
    for folder in FOLDERS:
        (top / folder).mkdir(parents=True, exist_ok=True)
        for file in FILES:
            (top / folder / file).touch()
    git(top, "init", "-q")

    def some() -> str:
        return "\n".join(dice.choice(LINES) for _ in range(dice.randint(1, 4)))

    for folder in dice.sample(FOLDERS, dice.randint(0, 3)):
        (top / folder / ".gitignore").write_text(some())
    if dice.random() < 0.4:
        (top / ".git/info").mkdir(exist_ok=True)
        (top / ".git/info/exclude").write_text(some())
    if dice.random() < 0.4:
        own = tmp_path / "home/git/ignore"
        if dice.random() < 0.5:
            own = tmp_path / "mine"
            git(top, "config", "core.excludesFile", str(own))
        own.parent.mkdir(parents=True, exist_ok=True)
        own.write_text(some())
    for folder in dice.sample(FOLDERS, dice.choice([0, 0, 1, 2])):  # some files are tracked anyway
        git(top, "add", "--force", str(top / folder / dice.choice(FILES)))
    words = ("ls-files", "--cached", "--others", "--exclude-standard", "-z", "--", "*.py")
    told = git(top, *words)
    theirs = {os.fsdecode(name) for name in told.split(b"\0")[:-1]}
    found = discover([top], frozenset({"python"}))
    assert {os.path.relpath(file.path, top) for file in found} == theirs


@pytest.mark.skipif(not hasattr(os, "mkfifo"), reason="needs pipes and links")
def test_an_ignore_file_that_is_none_is_passed_over(tmp_path: Path) -> None:
    (tmp_path / "a.py").touch()
    (tmp_path / "mine").write_text("*\n")
    for make in (os.mkfifo, os.mkdir, lambda path: path.symlink_to(tmp_path / "mine")):
        folder = tmp_path / f"case{make.__name__}"
        folder.mkdir()
        (folder / "a.py").touch()
        make(folder / ".gitignore")
        assert len(discover([folder], frozenset({"python"}))) == 1


def test_no_pattern_takes_long() -> None:
    started = time.monotonic()
    name = b"a" * 250
    for pattern in (b"*a" * 60 + b"b", b"**/a" * 30 + b"/b", b"*?" * 60 + b"[!a]", b"a*" * 100):
        globs = Globs.read(pattern + b"\n")
        for path in (name, b"/".join([b"a"] * 120), name + b"/" + name):
            globs.ignore(path)
    assert time.monotonic() - started < 5


@pytest.mark.skipif(not hasattr(os, "geteuid") or not os.geteuid(), reason="root reads all")
def test_a_folder_that_cannot_be_read_is_told(tmp_path: Path) -> None:
    (tmp_path / "shut").mkdir(mode=0)
    assert [p.path for p in run([tmp_path], rules_of(("f(@{x})", None))).problems] == [
        str(tmp_path / "shut")
    ]


@pytest.mark.skipif(os.name == "nt", reason="needs folders that are opened one from the other")
def test_folders_may_lie_any_number_deep(tmp_path: Path, monkeypatch) -> None:
    monkeypatch.chdir(tmp_path)
    handle = os.open(".", os.O_RDONLY)
    try:  # step by step: the whole path is longer than the system takes
        for _ in range(1_500):
            os.mkdir("aaa", dir_fd=handle)
            inner = os.open("aaa", os.O_RDONLY, dir_fd=handle)
            os.close(handle)
            handle = inner
    finally:
        os.close(handle)
    Path("aaa/b.py").write_text("f(1)\n")
    try:
        done = run(["."], rules_of(("f(@{x})", None)))
    finally:
        subprocess.run(["rm", "-rf", "aaa"], check=True)  # it is too deep for others
    assert len(done.findings) == 1
    (problem,) = done.problems
    assert "this folder cannot be read" in problem.reason
