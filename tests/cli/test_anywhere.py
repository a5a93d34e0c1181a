"""The same answer wherever a command is started: the root is that of the code, not of the shell."""

import json
import os
import subprocess
from pathlib import Path
from typing import Any

import pytest

COMMANDS = [  # the words of a command before the path
    ["survey", "--format", "json"],
    ["survey", "--format", "json", "--no-cache"],
    ["preview", "--format", "json"],
    ["clashes", "--format", "json"],
    ["seek", "@<alder.house.clock.stamp>(@{x*})", "--format", "json"],
    ["undo", "--list", "--format", "json"],
]


@pytest.fixture
def project(trams: Path) -> Path:
    """Return the demo as a repository with a configuration that names a rule as data."""
    subprocess.run(["git", "init", "-q", "."], cwd=trams, check=True)
    (trams / "plain").mkdir()
    (trams / "plain" / "rules.toml").write_text(
        '[[rule]]\nname = "stamp"\nsummary = "s"\nfind = "@<alder.house.clock.stamp>(@{x*})"\n'
        'put = "@<alder.house.clock.tick>(@{x*})"\n\n'
        '[[rule]]\nname = "none"\nsummary = "s"\nfind = "@{x} == None"\nput = "@{x} is None"\n'
    )
    (trams / "trellis.toml").write_text('rules = ["plain"]\nskip = ["alder/fares/"]\n')
    return trams


def _from_root(value: Any, here: Path, root: Path) -> Any:
    """Return JSON with every path as seen from the root."""
    if isinstance(value, dict):
        return {
            key: os.path.relpath(os.path.realpath(here / inner), root)
            if key == "path" and isinstance(inner, str)
            else _from_root(inner, here, root)
            for key, inner in value.items()
            if key not in ("seconds", "diff")
        }
    return [_from_root(inner, here, root) for inner in value] if isinstance(value, list) else value


@pytest.mark.parametrize("words", COMMANDS, ids=" ".join)
def test_a_command_says_the_same_from_any_folder(
    words: list[str], ytr, project: Path, tmp_path_factory: pytest.TempPathFactory
) -> None:
    root = Path(os.path.realpath(project))
    beside = tmp_path_factory.mktemp("beside")
    subprocess.run(["git", "init", "-q", "."], cwd=beside, check=True)
    link = tmp_path_factory.mktemp("links") / "link"
    link.symlink_to(root, target_is_directory=True)
    places = {
        "root": (root, "."), "inside": (root / "alder" / "depot", "../.."),
        "above": (root.parent, root.name), "another repository": (beside, str(root)),
        "the top of the disk": (Path("/"), str(root)), "a link": (link, "."),
        "beside a link": (link.parent, "link"),
    }  # fmt: rows
    answers = {}
    for name, (here, path) in places.items():
        told = ytr(*words, path, where=here)
        assert told.status in (0, 1), (name, told.err)
        answers[name] = _from_root(json.loads(told.out), Path(os.path.realpath(here)), root)
    first = answers["root"]
    assert len(first) > 1
    for name, answer in answers.items():
        assert answer == first, name
    kept = [place for place, _ in places.values() if (place / ".yellow-trellis").exists()]
    assert {os.path.realpath(place) for place in kept} <= {str(root)}


def test_the_root_is_that_of_the_code(tmp_path: Path, monkeypatch) -> None:
    from yellow_trellis.project.discovery import root_of

    package = tmp_path / "svc" / "pkg" / "inner"
    package.mkdir(parents=True)
    for folder in (package, package.parent):
        (folder / "__init__.py").write_text("")
    for here in (tmp_path, package, Path("/")):
        monkeypatch.chdir(here)
        assert root_of([package]) == tmp_path / "svc"  # what holds the package
    (tmp_path / "package.json").write_text("{}")
    assert root_of([package]) == tmp_path  # a manifest
    (tmp_path / "svc" / "trellis.toml").write_text("")
    assert root_of([package]) == tmp_path / "svc"  # a configuration
    assert root_of([package, tmp_path / "other.js"]) == tmp_path
    assert root_of([package / "gone.py"]) == tmp_path / "svc"
