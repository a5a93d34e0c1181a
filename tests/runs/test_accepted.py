"""Law: by whatever door fixes come, what a baseline accepts stays, and all else is fixed."""

from __future__ import annotations

import random
import subprocess
from collections.abc import Callable
from pathlib import Path

import pytest

from tests.editor.client import Client
from tests.editor.test_protocol import edited
from tests.editor.test_session import after
from tests.editor.test_workspace import files_of
from yellow_trellis.editor.session import Session

RULES = """
[[rule]]
name = "ring-to-chime"
summary = "s"
find = "ring(@{x})"
put = "chime(@{x})"
[[rule]]
name = "twice"
summary = "s"
find = "chime(@{x}, 2)"
put = "peal(@{x})"
"""
RENAME = '\n[[rule]]\nname = "till"\nsummary = "s"\nrename = "b.till"\nto = "cash"\n'


def git(folder: Path, *words: str) -> str:
    """Run git in a folder."""
    command = ["git", "-c", "user.name=A", "-c", "user.email=a@alder.example", *words]
    return subprocess.run(command, cwd=folder, check=True, capture_output=True, text=True).stdout


def line(number: int) -> str:
    """Return a statement that is known again by its number."""
    return f"    ring({number})\n"


def code(numbers: list[int]) -> str:
    """Return a file with a function around some statements."""
    return "".join(["def f():\n", *map(line, numbers)])


@pytest.fixture
def yard(tmp_path: Path, ytr, home: Path) -> tuple[Path, dict[str, str]]:
    """Return a repository in which half of the findings are accepted, and the texts to come."""
    chance = random.Random(40)
    (tmp_path / "rules.toml").write_text(RULES, "utf-8")
    (tmp_path / "trellis.toml").write_text('rules = ["rules.toml"]\nbaseline = "b.json"\n', "utf-8")
    git(tmp_path, "init", "-q")
    numbers = {f"{name}.py": chance.sample(range(100), 12) for name in "abc"}
    accepted = {name: some[:6] for name, some in numbers.items()}
    for name, some in accepted.items():
        (tmp_path / name).write_text(code(some), "utf-8")
    assert "Accepted 18 findings" in ytr("baseline", "--accept").out
    git(tmp_path, "add", ".")
    git(tmp_path, "commit", "-q", "-m", "x")
    expected = {}
    for name, some in numbers.items():
        chance.shuffle(some)
        (tmp_path / name).write_text(code(some), "utf-8")
        expected[name] = "".join(
            text.replace("ring", "chime") if at and some[at - 1] not in accepted[name] else text
            for at, text in enumerate(code(some).splitlines(keepends=True))
        )
    return tmp_path, expected


def texts(folder: Path) -> dict[str, str]:
    """Return the files of code of a folder."""
    return {file.name: file.read_text("utf-8") for file in folder.glob("*.py")}


def applied(folder: Path, ytr) -> dict[str, str]:
    ytr("apply", "--uncommitted")
    return texts(folder)


def patched(folder: Path, ytr) -> dict[str, str]:
    (folder / "p").write_text(ytr("preview", "--format", "patch").out, "utf-8")
    git(folder, "apply", "p")
    return texts(folder)


def surveyed(folder: Path, ytr) -> dict[str, str]:
    (folder / "p").write_text(ytr("survey", "--format", "patch").out, "utf-8")
    git(folder, "apply", "p")
    return texts(folder)


def surveyed_since(folder: Path, ytr) -> dict[str, str]:
    words = "survey", "--format", "patch", "--changed-since", "HEAD", "--new-only"
    (folder / "p").write_text(ytr(*words).out, "utf-8")
    git(folder, "apply", "p")
    return texts(folder)


def committed(folder: Path, ytr) -> dict[str, str]:
    git(folder, "commit", "-qam", "y")
    ytr("apply", "--commit", "--author", "A <a@alder.example>")
    return texts(folder)


def staged(folder: Path, ytr) -> dict[str, str]:
    git(folder, "add", ".")
    assert "Fixed 3 files" in ytr("hook", "run", "pre-commit", "--fix").err
    return {name: git(folder, "show", f":{name}") for name in texts(folder)}


def piped(folder: Path, ytr) -> dict[str, str]:
    return {
        name: ytr("apply", "--stdin-name", name, given=text.encode()).out
        for name, text in texts(folder).items()
    }


def saved(folder: Path, ytr) -> dict[str, str]:
    session = Session()
    results = {}
    for name, text in texts(folder).items():
        session.open(str(folder / name), text)
        results[name] = after(text, session.fix_all(str(folder / name)))
    return results


def fixed_in_the_workspace(folder: Path, ytr) -> dict[str, str]:
    client = Client(folder)
    client.open(folder / "a.py")
    place = {"line": 1, "character": 4}
    actions = client.ask(
        "textDocument/codeAction",
        textDocument={"uri": (folder / "a.py").as_uri()},
        range={"start": place, "end": place},
        context={"diagnostics": []},
    )
    wanted = next(one for one in actions if one["title"].endswith("safe fixes in this workspace"))
    edit = client.ask("codeAction/resolve", **wanted)["edit"]
    client.stop()
    before = texts(folder)
    return {name: edited(before[name], one) for name, one in files_of(edit).items()}


Door = Callable[..., dict[str, str]]
DOORS: list[Door] = [
    applied, patched, surveyed, surveyed_since, committed, staged, piped, saved,
    fixed_in_the_workspace,
]  # fmt: rows


@pytest.mark.parametrize("door", DOORS)
def test_what_is_accepted_stays_by_every_door(yard: tuple[Path, dict[str, str]], ytr, door: Door) -> None:
    folder, expected = yard
    assert door(folder, ytr) == expected


def test_what_is_accepted_is_fixed_where_it_is_asked_for(yard: tuple[Path, dict[str, str]], ytr) -> None:
    folder, _ = yard
    told = ytr("preview")
    assert "18 accepted findings not fixed: --with-accepted does." in told.err
    assert "18 applied" in told.out and "36 applied" in ytr("preview", "--with-accepted").out
    found = ytr("survey", "--format", "json").json["findings"]
    assert sum(not one.get("accepted") for one in found) == 18
    ytr("apply", "--uncommitted", "--with-accepted")
    assert not any("ring" in text for text in texts(folder).values())


def test_what_is_done_everywhere_is_not_done_around_an_accepted_place(ytr, tmp_path: Path) -> None:
    (tmp_path / "rules.toml").write_text(RENAME, "utf-8")
    (tmp_path / "trellis.toml").write_text('rules = ["rules.toml"]\nbaseline = "j.json"\n', "utf-8")
    (tmp_path / "b.py").write_text("def till(): pass\n", "utf-8")
    (tmp_path / "a.py").write_text("from b import till\n\ntill()\n", "utf-8")
    ytr("baseline", "--accept")
    (tmp_path / "a.py").write_text("from b import till\n\ntill()\nx = [till]\n", "utf-8")
    before = texts(tmp_path)
    told = ytr("apply")
    assert texts(tmp_path) == before and "the baseline accepts a place of it" in told.out, told
    ytr("apply", "--with-accepted")
    assert "till" not in texts(tmp_path)["a.py"]
