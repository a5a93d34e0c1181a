"""Measure what it takes to write reports of many findings, beside the survey that finds them.

Usage: python benchmarks/reports.py [--findings N]

Files of the standard library are surveyed by rules of nothing but holes until there are so many
findings. Told are the time of the survey, of each format as a ratio to it, and the most memory that
the process has had; the details that SARIF and the page want are told as a survey of its own.
"""

from __future__ import annotations

import argparse
import resource
import sysconfig
import tempfile
import time
from pathlib import Path

from yellow_trellis.reports.formats import FORMATS
from yellow_trellis.reports.gate import GateResult
from yellow_trellis.reports.survey_report import SurveyReport
from yellow_trellis.runs.file_report import Run
from yellow_trellis.runs.rule_source import RulesSpec
from yellow_trellis.runs.run_options import RunOptions
from yellow_trellis.runs.runner import run

RULE = """\
[[rule]]
name = "call-of-one"
summary = "A call with one argument."
find = "@{f}(@{x})"

[[rule]]
name = "one-none"
summary = "There is one None: `is` asks for it."
find = "@{x} == None"
put = "@{x} is None"

[[rule]]
name = "absent-from"
summary = "`not in` is one operator."
find = "not @{x} in @{y}"
put = "@{x} not in @{y}"
"""


def chosen(library: Path, wanted: int, rules: RulesSpec) -> list[Path]:
    """Return files that have about so many findings together."""
    files: list[Path] = []
    count = 0
    for report in run(library, rules).reports:
        if count < wanted:
            files.append(Path(report.path))
            count += len(report.findings)
    return files


def written(name: str, report: SurveyReport, file: Path) -> float:
    """Write a report; return the seconds it took."""
    start = time.perf_counter()
    with file.open("wb") as out:
        for part in FORMATS[name].parts(report):
            out.write(part if isinstance(part, bytes) else part.encode("utf-8"))
    return time.perf_counter() - start


def main() -> None:
    """Measure and print."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--findings", type=int, default=100_000)
    wish = parser.parse_args()
    with tempfile.TemporaryDirectory() as place:
        file = Path(place, "rules.toml")
        file.write_text(RULE, "utf-8")
        rules = RulesSpec((str(file),))
        library = Path(sysconfig.get_paths()["stdlib"])
        files = chosen(library, wish.findings, rules)
        times: dict[str, float] = {}
        found: dict[str, Run] = {}
        for name in ("survey", "with details"):
            more = name != "survey"
            start = time.perf_counter()
            found[name] = run(files, rules, RunOptions(with_marks=more, with_details=more))
            times[name] = time.perf_counter() - start
        done = found["with details"]
        by_name = {rule.name: rule for rule in rules.ruleset()}
        report = SurveyReport(GateResult(done), by_name, times["survey"])
        print(f"{len(done.findings):,} findings in {len(files):,} files, {done.lines:,} lines")
        print(f"survey {times['survey']:.1f} s; with details {times['with details']:.1f} s, "
              f"{times['with details'] / times['survey']:.2f}")
        for name in ("sarif", "html", "junit", "jsonl", "csv", "lines", "markdown"):
            seconds = written(name, report, Path(place, name))
            size = Path(place, name).stat().st_size
            print(f"{name:<9} {seconds:6.2f} s, {seconds / times['survey']:.2f} of the survey, "
                  f"{size / 1e6:.1f} MB")
        peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
        print(f"memory at most {peak / 1024:.0f} MB")


if __name__ == "__main__":
    main()
