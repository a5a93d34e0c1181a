"""The recipes for builds: each command in them is run, and what it promises is there."""

from __future__ import annotations

import json
import re
import shlex
import shutil
import subprocess
import sys
from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest

from tests.conftest import Answer

PAGE = (Path(__file__).parents[1] / "docs/ci.md").read_text("utf-8")
BLOCKS = re.findall(r"^```(\w+)\n(.*?)^```", PAGE, re.DOTALL | re.MULTILINE)
EXAMPLES = Path(__file__).parents[1] / "docs/examples"


def commands() -> list[str]:
    """Return every call of ytr in the recipes, those in YAML read as the services do."""
    import yaml

    found: list[str] = []

    def strings(value: Any) -> list[str]:
        if isinstance(value, str):
            return [value]
        items = value.values() if isinstance(value, dict) else value if isinstance(value, list) else ()
        return [text for item in items for text in strings(item)]

    for kind, text in BLOCKS:
        if kind == "console":
            continue
        texts = strings(yaml.safe_load(text)) if kind == "yaml" else text.splitlines()
        found += [match[1] for one in texts if (match := re.search(r"\b(ytr (?!demo).*)$", one))]
    return sorted(set(found))


def git(folder: Path, *words: str) -> None:
    subprocess.run(["git", *words], cwd=folder, check=True, capture_output=True)


@pytest.fixture
def repository(trams: Path, home: Path) -> Path:
    """Return the demo in a repository with a configuration, and a change since `origin/main`."""
    if shutil.which("git") is None:
        pytest.skip("needs git")
    (trams / "trellis.toml").write_text('rules = ["rules"]\npaths = ["alder"]\nlevels = { no-table-import = "off" }\n')
    git(trams, "init", "-q", "-b", "main")
    git(trams, "config", "user.name", "Ann")
    git(trams, "config", "user.email", "ann@alder.example")
    git(trams, "add", ".")
    git(trams, "commit", "-qm", "one")
    git(trams, "update-ref", "refs/remotes/origin/main", "HEAD")
    return trams


@pytest.mark.parametrize("call", commands())
def test_recipes_run_and_write_what_they_say(
    repository: Path, ytr: Callable[..., Answer], call: str
) -> None:
    words = shlex.split(call)[1:]
    told = ytr(*words)
    assert told.status in (0, 1), told.err
    for name in re.findall(r"--also \w+=(\S+)", call):
        assert (repository / name).stat().st_size > 50
    if words[0] == "survey":
        last = (told.out or told.err).splitlines()[-1]
        assert last.startswith("Fails: " if told.status else "Passes: ")


def test_only_findings_that_a_change_brings_count(
    repository: Path, ytr: Callable[..., Answer]
) -> None:
    file = repository / "alder/fares/kiosk.py"
    since = ("--changed-since", "origin/main", "--new-only")
    file.write_text("# moved down\n\n" + file.read_text("utf-8"), "utf-8")
    passes = ytr("survey", *since)
    assert (passes.status, passes.out.splitlines()[-1]) == (0, "Passes: no new finding at `warning` or above.")
    assert "accepted" not in passes.out and "there at origin/main already" in passes.out
    ytr("survey", *since, "--also", "sarif=out.sarif", "--also", "markdown=out.md", "--also", "html=out.html")
    log = json.loads((repository / "out.sarif").read_text("utf-8"))
    results = log["runs"][0]["results"]
    assert {item["baselineState"] for item in results} == {"unchanged"}
    assert not any("suppressions" in item for item in results)
    for name in ("out.md", "out.html"):
        text = (repository / name).read_text("utf-8")
        assert "origin/main" in text and "accepted by the baseline, " not in text
    file.write_text(file.read_text("utf-8") + "\n\ndef more(found):\n    return found == None\n", "utf-8")
    fails = ytr("survey", *since, "--format", "lines")
    assert fails.status == 1 and fails.out.count("\n") == 1 and "[one-none]" in fails.out
    assert "Fails: 1 new finding" in fails.err
    told = ytr("survey", "--new-only")
    assert told.status == 2 and "--changed-since" in told.err


def test_commits_want_a_clean_tree_and_take_an_author(
    repository: Path, ytr: Callable[..., Answer]
) -> None:
    only = ("--commit", "--only", "say-what-is-caught", "--author", "Trellis <t@alder.example>")
    (repository / "README.md").write_text("changed\n")
    told = ytr("apply", *only)
    assert told.status == 2 and "README.md" in told.err and "clean working tree" in told.err
    git(repository, "checkout", "-q", "README.md")
    assert "Made 1 commit." in ytr("apply", *only).out
    done = subprocess.run(
        ["git", "log", "-1", "--format=%an <%ae> %s"], cwd=repository, capture_output=True, text=True, check=True
    )
    assert done.stdout == "Trellis <t@alder.example> An except clause names what it catches\n"


def test_a_page_is_written_from_a_survey_of_now(repository: Path, ytr: Callable[..., Answer]) -> None:
    told = ytr("report", "--html", "page.html", "alder/fares")
    assert told.status == 0 and "Wrote page.html. Fails: " in told.out
    assert (repository / "page.html").read_text("utf-8").startswith("<!doctype html>")
    assert ytr("report", "alder").status == 2


def test_the_notebook_runs(trams: Path, ytr: Callable[..., Answer], home: Path) -> None:
    nbclient, nbformat = pytest.importorskip("nbclient"), pytest.importorskip("nbformat")
    ytr("demo", "trams", "--copy-only")
    ytr("survey", "--rules", "rules", "alder", "--record", where=trams / "trams")
    book = nbformat.read(EXAMPLES / "survey.ipynb", as_version=4)
    nbclient.NotebookClient(book, timeout=120, resources={"metadata": {"path": str(trams)}}).execute()
    outputs = [cell.outputs[-1].data for cell in book.cells if cell.cell_type == "code"]
    assert "<table>" in outputs[0]["text/html"] and "<ins>" in outputs[2]["text/html"]
    assert "one-none" in outputs[1]["text/plain"] and "warning" in outputs[3]["text/plain"]
    assert sys.version_info  # the kernel is this Python
