"""What surveys found over time: recorded, compared, as a table."""

import csv
import io
import sys
from datetime import datetime, timedelta, timezone
from pathlib import Path

import pytest
from msgspec.structs import replace

from yellow_trellis import DataFrameError
from yellow_trellis.reports.csv import COLUMNS, history_csv, history_frame
from yellow_trellis.reports.history import HistoryError, Totals, progress, read, record

START = datetime(2026, 11, 1, 6, tzinfo=timezone.utc)
FIRST = Totals(
    START,
    "abc123",
    ("alder",),
    ("one", "two"),
    3,
    {"alder/depot": 200, "alder/signals": 100, "alder/fares": 50},
    {("alder/depot", "one", "error"): 4, ("alder/signals", "two", "warning"): 2},
)


def later(days: int, rules: tuple[str, ...] = ("one", "two"), **findings: int) -> Totals:
    """Return a survey some days later; `depot_one=3` are three findings of `one` in the depot."""
    levels = {"one": "error", "two": "warning", "three": "note"}
    keys = {name: name.split("_") for name in findings}
    found = {
        (f"alder/{keys[n][0]}", keys[n][1], levels[keys[n][1]]): c for n, c in findings.items()
    }
    time = START + timedelta(days=days)
    return replace(FIRST, time=time, revision=f"rev{days}", rules=rules, findings=found)


def test_what_was_fixed_what_is_new_and_what_came_back() -> None:
    gone = later(1, depot_one=1)
    back = later(2, ("one", "two", "three"), depot_one=2, signals_two=1, fares_three=5)
    found = progress([FIRST, gone])
    assert (found.fixed, found.new, found.came_back) == (5, 0, {})
    found = progress([FIRST, gone, back])
    assert (found.fixed, found.new) == (0, 2)
    assert found.came_back == {("alder/signals", "two"): 1}
    assert found.new_rules == {"three": 5}
    since = progress([FIRST, gone, back], "2026-11-01")
    assert since.before is FIRST and (since.fixed, since.new) == (3, 0)
    assert progress([FIRST, gone, back], "rev1").before is gone
    with pytest.raises(HistoryError, match="no earlier survey is of 2027-01-01 or later; the last"):
        progress([FIRST, gone, back], "2027-01-01")


def test_a_rule_that_is_off_now_fixed_nothing_and_other_paths_are_not_compared() -> None:
    assert progress([FIRST, later(1, ("two",), signals_two=2)]).fixed == 0
    assert progress([replace(FIRST, paths=("other",)), later(1)]).before is None


def test_what_is_recorded_comes_back(tmp_path: Path) -> None:
    file = tmp_path / "h.jsonl"
    second = later(1, depot_one=1)
    for one in (second, FIRST):
        record(one, file)
    assert read(file) == [FIRST, second]
    assert len(file.read_text("utf-8").splitlines()) == 2
    with file.open("a") as more:
        more.write("{}\n")
    with pytest.raises(HistoryError, match=r"h.jsonl:3: this line is no survey \('version'\)"):
        read(file)
    with pytest.raises(HistoryError, match="there is no history yet: `ytr survey --record`"):
        read(tmp_path / "none.jsonl")


def test_the_table_has_a_row_for_every_count_and_every_folder() -> None:
    rows = list(csv.DictReader(io.StringIO(history_csv([FIRST]))))
    assert tuple(rows[0]) == COLUMNS
    assert sum(int(row["findings"]) for row in rows) == FIRST.count == 6
    assert {row["folder"]: int(row["lines"]) for row in rows} == FIRST.lines
    pytest.importorskip("pandas")
    frame = history_frame([FIRST, later(1, depot_one=1)])
    assert list(frame.columns) == list(COLUMNS)
    assert frame.groupby("time")["findings"].sum().tolist() == [6, 1]


def test_the_command_records_and_reports(ytr, trams: Path) -> None:
    ytr("init", "--paths", "alder")
    assert "there is no history yet" in ytr("report").err
    refused = ytr("survey", "--record", "--only", "absent-from")
    assert refused.status == 2 and "leave out --only" in " ".join(refused.err.split())
    ytr("survey", "--record")
    first = ytr("report").out
    assert first.startswith("578 findings on ") and "It is the first survey" in first
    ytr("apply", "--only", "absent-from")
    ytr("survey", "--record", "alder")
    told = ytr("report", "--format", "json").json
    counts = (told["before"]["findings"], told["now"]["findings"])
    assert "absent-from" not in told["now"]["rules"] and told["new"] == 0
    assert counts[0] - counts[1] == told["fixed"] > told["before"]["rules"]["absent-from"]
    assert told["now"]["per_thousand_lines"] == pytest.approx(1000 * counts[1] / 6382, abs=0.001)
    assert ytr("report", "--format", "csv").out.startswith(",".join(COLUMNS))
    pytest.importorskip("matplotlib")
    assert "Drew h.svg." in ytr("report", "--picture", "h.svg").out
    assert (trams / "h.svg").read_text("utf-8").startswith("<?xml")
    assert "a picture is one of .png, .svg, .pdf" in ytr("report", "--picture", "h.gif").err


def test_a_frame_without_pandas_says_what_to_install(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setitem(sys.modules, "pandas", None)
    with pytest.raises(DataFrameError, match=r"yellow-trellis\[frames\]"):
        history_frame([])
