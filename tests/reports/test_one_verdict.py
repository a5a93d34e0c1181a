"""Law: screen, exit status and files say the same, whatever formats are asked for together."""

import json
import re
import xml.etree.ElementTree as xml
from itertools import combinations
from pathlib import Path

import pytest

from yellow_trellis.reports.formats import FORMATS

TELLING = ("json", "jsonl", "sarif", "junit", "markdown", "html")
"""The formats that say how a survey ends."""

MOODY = """
from pathlib import Path
from yellow_trellis import fix, rule

@rule("moody", summary="s", find="late(@{x})")
def moody(match, code):
    count = Path(__file__).with_suffix(".count")
    calls = int(count.read_text()) if count.exists() else 0
    count.write_text(str(calls + 1))
    if calls:
        raise RecursionError("again")
    yield code.finding(match, "late", [fix("Come soon").put(match, "soon(@{x})")])
"""


def verdicts(folder: Path, names: tuple[str, ...]) -> dict[str, tuple[bool, int | None]]:
    """Return by format whether the survey passes, and how many findings count, if it says so."""
    texts = {name: (folder / f"out.{name}").read_text("utf-8") for name in names}
    results: dict[str, tuple[bool, int | None]] = {}
    for name, text in texts.items():
        if name == "json":
            summary = json.loads(text)["summary"]
            results[name] = summary["passes"], summary["failing"]
        elif name == "jsonl":
            last = json.loads(text.splitlines()[-1])
            results[name] = last["passes"], last["failing"]
        elif name == "sarif":
            items = json.loads(text)["runs"][0]["results"]
            count = sum(i["level"] != "note" and "suppressions" not in i for i in items)
            results[name] = not count, count
        elif name == "junit":
            count = int(xml.fromstring(text).attrib["failures"])
            results[name] = not count, count
        else:
            pattern = r"\*\*(Passes|Fails)" if name == "markdown" else r">\s*(Passes|Fails):"
            found = re.search(pattern, text)
            assert found is not None, name
            results[name] = found[1] == "Passes", None
    return results


def survey(ytr, folder: Path, names: tuple[str, ...], *words: str) -> tuple[int, str]:
    """Survey a folder, in some formats; return the status and the last lines on the screen."""
    also = [word for name in names for word in ("--also", f"{name}=out.{name}")]
    done = ytr("survey", *words, *also)
    return done.status, "\n".join(re.sub(r", [\d.]+ s\)", ")", done.out).splitlines()[-3:])


@pytest.mark.parametrize("words", [(), ("--with-review",), ("--fail-at", "error")])
def test_all_formats_agree_on_the_demo(ytr, trams: Path, home: Path, words: tuple) -> None:
    """Alone and in pairs, the formats tell of the same end."""
    assert set(TELLING) <= set(FORMATS)
    words = ("--rules", "rules", *words)
    plain = survey(ytr, trams, (), *words)
    for names in [TELLING, *combinations(TELLING, 1)]:
        assert survey(ytr, trams, names, *words) == plain
        if "--fail-at" not in words:
            for passes, count in verdicts(trams, names).values():
                assert passes == (plain[0] == 0)
                assert count is None or f"{count:,} finding" in plain[1]


def test_what_cannot_be_tried_is_found_all_the_same(ytr, tmp_path: Path, home: Path) -> None:
    """A rule that fails while fixes are tried for a format keeps its finding and the verdict."""
    (tmp_path / "moody.py").write_text(MOODY, "utf-8")
    (tmp_path / "a.py").write_text("late(1)\n", "utf-8")
    words = ("--rules", "moody.py", "--no-cache", "a.py")
    for names in [(), ("sarif",), ("html", "json"), TELLING]:
        (tmp_path / "moody.count").unlink(missing_ok=True)
        status, screen = survey(ytr, tmp_path, names, *words)
        assert (status, "Fails: 1 finding" in screen) == (1, True), (names, screen)
        ends = verdicts(tmp_path, names)
        assert all(end in ((False, 1), (False, None)) for end in ends.values()), ends
        if "sarif" in names:
            log = json.loads((tmp_path / "out.sarif").read_text("utf-8"))
            (item,) = log["runs"][0]["results"]
            assert item["properties"]["noFixBecause"].startswith("not tried: ")
