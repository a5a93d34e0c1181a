"""The history of surveys as a table: CSV, and a data frame where pandas is installed."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Iterator
from typing import TYPE_CHECKING

from yellow_trellis.data_frames import data_frame
from yellow_trellis.reports.history import Totals

if TYPE_CHECKING:
    import pandas

COLUMNS = ("time", "revision", "folder", "lines", "rule", "level", "findings")


def rows(surveys: Iterable[Totals]) -> Iterator[tuple[object, ...]]:
    """Yield a row for each survey, folder, rule and level, with the values of `COLUMNS`.

    A folder without findings has one row with an empty rule: its lines were looked at too.
    """
    for survey in surveys:
        results = sorted(survey.findings.items())
        empty = [
            ((folder, "", ""), 0) for folder in sorted(set(survey.lines) - set(survey.by_folder()))
        ]
        for (folder, rule, level), count in [*results, *empty]:
            lines = survey.lines.get(folder, 0)
            yield survey.time.isoformat(), survey.revision, folder, lines, rule, level, count


def history_csv(surveys: Iterable[Totals]) -> str:
    """Return the rows as CSV with a header.

    A text that a spreadsheet would take for a formula has an apostrophe before it: folders are
    named by whoever wrote the code, and a history is a file in it.
    """
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(COLUMNS)
    writer.writerows(map(inert, row) for row in rows(surveys))
    return out.getvalue()


def inert(cell: object) -> object:
    """Return a cell that no spreadsheet takes for a formula."""
    return f"'{cell}" if isinstance(cell, str) and cell.startswith(_FORMULA) else cell


_FORMULA = ("=", "+", "-", "@", "\t", "\r", "\n")


def history_frame(surveys: Iterable[Totals]) -> pandas.DataFrame:
    """Return the rows as a data frame: one column for each of `COLUMNS`, times in UTC.

    Errors: `DataFrameError`.
    """
    frame = data_frame(COLUMNS, rows(surveys))
    import pandas  # it is there: a frame was made

    frame["time"] = pandas.to_datetime(frame["time"], utc=True)
    return frame
