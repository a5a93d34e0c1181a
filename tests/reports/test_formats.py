"""Each format of a survey, opened by a reader that is not ours, and hostile code in all of them."""

from __future__ import annotations

import json
import re
import shutil
import subprocess
from collections import Counter
from pathlib import Path

import jsonschema
import pandas
import pysarif
import pytest
import xmlschema
from junitparser import Failure, JUnitXml

from tests.conftest import DEMO, Answer, called
from yellow_trellis.reports.formats import FORMATS
from yellow_trellis.source import Source

HERE = Path(__file__).parent
HOSTILE = "</script><img src=x onerror=alert(1)>"


@pytest.fixture(scope="module")
def written(tmp_path_factory: pytest.TempPathFactory) -> tuple[Path, Answer]:
    """Return the folder of the demo, with a report of it in each format, and what was printed."""
    folder = tmp_path_factory.mktemp("formats") / "trams"
    shutil.copytree(DEMO, folder)
    odd = f"stamp('{HOSTILE}')\nstamp('=1+1 \u202e ä🚋')\nstamp(1)  # trellis: leave stamp-to-tick because it is old\n"
    (folder / "alder/odd file.py").write_text("from alder.house.clock import stamp\n" + odd, "utf-8")
    also = [word for name in FORMATS for word in ("--also", f"{name}=out.{name}")]
    answer = called(folder, "survey", "--rules", "rules", "alder", *also)
    return folder, answer


def results_of(folder: Path) -> list[dict]:
    (run,) = json.loads((folder / "out.sarif").read_text("utf-8"))["runs"]
    names = [rule["id"] for rule in run["tool"]["driver"]["rules"]]
    assert all(names[result["ruleIndex"]] == result["ruleId"] for result in run["results"])
    return run["results"]


def test_sarif_is_valid_and_has_all_findings(written: tuple[Path, Answer]) -> None:
    folder, _ = written
    results = results_of(folder)
    log = json.loads((folder / "out.sarif").read_text("utf-8"))
    # of results that are alike some are enough: those with fixes, flows and suppressions among them
    odd = [one for one in results if "suppressions" in one or "codeFlows" in one]
    log["runs"][0]["results"] = [*results[::25], *odd]
    schema = json.loads((HERE / "sarif-2.1.0.schema.json").read_text("utf-8"))
    jsonschema.Draft4Validator(schema).validate(log)
    lines = (folder / "out.lines").read_text("utf-8").splitlines()
    shown = [one for one in results if "suppressions" not in one]
    assert len(shown) == len(lines) > 500
    (left,) = [one for one in results if "suppressions" in one]
    assert "it is old" in left["suppressions"][0]["justification"]
    marks = [one["partialFingerprints"]["trellisFinding/v1"] for one in results]
    assert len(set(marks)) == len(marks)
    flows = [flow for one in results for flow in one.get("codeFlows", ())]
    assert flows and all(len(flow["threadFlows"][0]["locations"]) == 2 for flow in flows[:5])
    uris = {one["locations"][0]["physicalLocation"]["artifactLocation"]["uri"] for one in results}
    assert "alder/odd%20file.py" in uris
    loaded = pysarif.load_from_file(str(folder / "out.sarif"))
    assert len(loaded.runs[0].results) == len(results)


def test_fixes_in_sarif_do_what_they_say(written: tuple[Path, Answer]) -> None:
    folder, _ = written
    checked = 0
    for result in results_of(folder):
        for fix in result.get("fixes", ()):
            (change,) = fix["artifactChanges"]
            path = folder / change["artifactLocation"]["uri"].replace("%20", " ")
            code = Source.read(path.read_bytes()).data.decode("utf-8")
            lines = code.splitlines(keepends=True)
            for item in reversed(change["replacements"]):
                region, text = item["deletedRegion"], item["insertedContent"]["text"]
                first, last = region["startLine"] - 1, region["endLine"] - 1
                tail = lines[last][region["endColumn"] - 1 :] if last < len(lines) else ""
                lines[first : last + 1] = [lines[first][: region["startColumn"] - 1] + text + tail]
            assert "".join(lines) != code
            if result["ruleId"] == "stamp-to-tick":
                assert re.search(r"tick\(\s*zone=", "".join(lines))
                checked += 1
    assert checked > 50


def test_build_servers_can_read_junit(written: tuple[Path, Answer]) -> None:
    folder, _ = written
    file = folder / "out.junit"
    xmlschema.XMLSchema(str(HERE / "junit.xsd")).validate(str(file))
    suites = JUnitXml.fromfile(str(file))
    failures = [case for suite in suites for case in suite if any(isinstance(r, Failure) for r in case.result)]
    passes = [case for suite in suites for case in suite if case.is_passed]
    counts = [one for one in results_of(folder) if one["level"] != "note" and "suppressions" not in one]
    assert len(failures) == len(counts) == suites.failures and suites.errors == 0
    assert all(case.name == "finds nothing" for case in passes)


def test_tables_lines_and_objects_say_the_same(written: tuple[Path, Answer]) -> None:
    folder, answer = written
    frame = pandas.read_csv(folder / "out.csv")
    objects = [json.loads(line) for line in (folder / "out.jsonl").read_text("utf-8").splitlines()]
    findings = [one for one in objects if one["kind"] == "finding"]
    assert objects[-1]["kind"] == "verdict" and not objects[-1]["passes"]
    assert len(frame) == len(findings)
    lines = (folder / "out.lines").read_text("utf-8").splitlines()
    first, row = findings[0], frame.iloc[0]
    place = f"{first['path']}:{first['start']['line']}:{first['start']['column']}"
    assert lines[0] == f"{place}: {first['level']}: {first['message']} [{first['rule']}]"
    assert (row.path, row.line, row.rule) == (first["path"], first["start"]["line"], first["rule"])
    assert json.loads((folder / "out.json").read_text("utf-8"))["summary"]["findings"] == len(frame)
    assert answer.out.splitlines()[-1] == objects[-1]["text"]
    (formula,) = [code for code in frame.code if "=1+1" in code]
    assert not formula.startswith("=")


def test_version_control_applies_the_patch_to_what_apply_makes(written: tuple[Path, Answer]) -> None:
    folder, _ = written
    patch = folder / "out.patch"
    subprocess.run(["git", "apply", "--check", str(patch)], cwd=folder, check=True)
    text = patch.read_text("utf-8", "replace")
    assert text.count("\n--- a/") > 50


def test_a_summary_for_a_pull_request_is_short_and_holds_no_markup(written: tuple[Path, Answer]) -> None:
    folder, answer = written
    text = (folder / "out.markdown").read_text("utf-8")
    assert answer.out.splitlines()[-1] in text and len(text) < 65_000
    assert "<img" not in text.partition("<details>")[0]
    counts = Counter(line.count("|") for line in text.splitlines() if line.startswith("| `"))
    assert set(counts) == {7}


def test_formats_and_files_that_make_no_sense(trams: Path, ytr) -> None:
    told = ytr("survey", "-r", "rules", "--also", "sarf=x")
    assert told.status == 2 and "did you mean `sarif`" in told.err
    told = ytr("survey", "-r", "rules", "--also", "sarif=nowhere/x")
    assert told.status == 2 and "no folder" in told.err
    told = ytr("survey", "-r", "rules", "--also", "sarif")
    assert told.status == 2 and "FORMAT=FILE" in told.err
    told = ytr("survey", "-r", "rules", "alder/fares", "--format", "lines", "--output", "out.txt")
    assert told.status == 1 and told.out == "" and "Fails:" in told.err
    assert (trams / "out.txt").read_text("utf-8").startswith("alder/fares/")
