"""The documentation is run: every command in it prints what the page says."""

import re
import time
from pathlib import Path

import pytest

from tests.conftest import DEMO, reworked, text_of
from yellow_trellis.plans.conflict import EXPLAINED
from yellow_trellis.project.trust import set_trusted

ROOT = Path(__file__).parents[1]
BLOCK = re.compile(
    r"[Ss]ave\s+this\s+as\s+`(?P<file>[^`]+)`:\n\n```(?:python|toml)\n(?P<code>.*?)```"
    r"|```console\n\$ ytr (?P<call>.*?)\n(?P<output>.*?)```"
    r"(?:\n\nIt exits with (?P<status>\d))?",
    re.DOTALL,
)
PAGES = [
    *("README.md", "docs/first-rule.md", "docs/patterns.md", "docs/names.md", "docs/rules.md"),
    *("docs/running.md", "docs/configuration.md", "docs/sharing.md", "docs/testing.md"),
    *("docs/keeping.md", "docs/whole-way.md", "docs/ci.md"),
]


def words_of(call: str) -> list[str]:
    import shlex

    return shlex.split(call)


@pytest.mark.parametrize("page", PAGES)
def test_what_a_page_shows_is_what_comes(page: str, ytr, trams: Path, home: Path) -> None:
    set_trusted(trams, None)
    text = (ROOT / page).read_text("utf-8")
    blocks = list(BLOCK.finditer(text))
    assert blocks
    if any(block["call"] == "cache" for block in blocks):
        time.sleep(2.1)  # nothing is kept of files that have just been written
    for block in blocks:
        if block["file"]:
            (trams / block["file"]).parent.mkdir(exist_ok=True)
            (trams / block["file"]).write_text(block["code"], "utf-8")
            continue
        told = ytr(*words_of(block["call"]))
        came = re.sub(r"\d+\.\d (s|MB)", r"0.1 \1", told.out + told.err)
        came = re.sub(r"\d{4}-\d\d-\d\d \d\d:\d\d", "2026-11-23 16:00", came)
        came = re.sub(r"\d{8}-\d{6}-\d{3}", "20261123-160000-001", came)
        assert came == block["output"], f"{page}: ytr {block['call']}"
        if block["status"]:
            assert told.status == int(block["status"]), f"{page}: ytr {block['call']}"


ROW = re.compile(
    r"^\| `(?P<pattern>[^`]+)` \| `(?P<yes>[^`]+)` \| `(?P<no>[^`]+)` \|", re.MULTILINE
)


def test_every_row_of_the_pattern_reference_holds() -> None:
    from tests.patterns.test_match import matches

    rows = list(ROW.finditer((ROOT / "docs/patterns.md").read_text("utf-8")))
    assert len(rows) > 20
    for row in rows:
        pattern, yes, no = (row[name].replace("⏎", "\n") for name in ("pattern", "yes", "no"))
        assert matches(pattern, yes), f"{pattern} must match {yes}"
        assert not matches(pattern, no), f"{pattern} must not match {no}"


SAME = re.compile(r"^\| [^|`]+ \| `(?P<pattern>[^`]+)` \| `(?P<code>[^`]+)` \|", re.MULTILINE)


def test_every_row_of_what_does_not_count_holds() -> None:
    from tests.patterns.test_match import matches

    text = (ROOT / "docs/patterns.md").read_text("utf-8").split("## What does not count")[1]
    rows = list(SAME.finditer(text))
    assert len(rows) == 9
    for row in rows:
        code = row["code"].replace("⏎", "\n")
        assert matches(row["pattern"], code), f"{row['pattern']} must match {code}"


RECIPE = re.compile(r"^```(toml|python)\n(.*?)^```", re.DOTALL | re.MULTILINE)


def test_every_recipe_of_the_cookbook_holds(tmp_path: Path) -> None:
    from yellow_trellis import load_rules
    from yellow_trellis.authoring.example_runner import prove_rule

    recipes = RECIPE.findall((ROOT / "docs/cookbook.md").read_text("utf-8"))
    assert len(recipes) == 20
    for number, (language, code) in enumerate(recipes, 1):
        file = tmp_path / f"recipe_{number}.{'py' if language == 'python' else 'toml'}"
        file.write_text(code, "utf-8")
        for rule in load_rules([file]):
            verdicts = prove_rule(rule)
            assert verdicts, f"recipe {number} has no examples"
            for verdict in verdicts:
                assert verdict.passed, f"recipe {number}: {verdict.reason}\n{verdict.got}"


def test_links_lead_somewhere() -> None:
    for page in (ROOT / "README.md", *(ROOT / "docs").glob("*.md")):
        prose = re.sub(r"`[^`]*`", "", page.read_text("utf-8"))
        for target in re.findall(r"\]\((?!https?:)([^)#]+)", prose):
            assert (page.parent / target).exists(), f"{page.name} links to {target}"


def test_the_demo_is_as_large_as_it_says() -> None:
    files = list((DEMO / "alder").rglob("*.py"))
    assert len(files) >= 40
    assert sum(file.read_bytes().count(b"\n") for file in files) >= 6000
    raw = b"".join(file.read_bytes() for file in files)
    assert b"\r\n" in raw
    assert b"coding: latin-1" in raw


CLASH = re.compile(r"```clash (?P<kind>[\w -]+)\n(?P<body>.*?)```", re.DOTALL)
CLASHES = list(CLASH.finditer((ROOT / "docs/fixes.md").read_text("utf-8")))


def test_every_kind_of_conflict_has_its_example() -> None:
    assert {block["kind"] for block in CLASHES} == set(EXPLAINED)


@pytest.mark.parametrize("block", CLASHES, ids=lambda block: block["kind"])
def test_a_conflict_is_what_its_example_says(block: re.Match[str]) -> None:
    lines = [line.split(None, 1) for line in block["body"].splitlines()]
    pairs = [re.split(r"\s+becomes\s*", text, maxsplit=1) for word, text in lines if word == "rule"]
    code, gives = (next(t for w, t in lines if w == word) for word in ("code", "gives"))
    done = reworked(code + "\n", *((find, put) for find, put in pairs))
    assert block["kind"] in {conflict.kind for conflict in done.conflicts}
    assert text_of(done) == gives + "\n"
