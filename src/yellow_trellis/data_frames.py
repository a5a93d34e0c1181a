"""Data frames, for those who have pandas installed."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import TYPE_CHECKING

from yellow_trellis.errors import TrellisError

if TYPE_CHECKING:
    import pandas


class DataFrameError(TrellisError, ImportError):
    """A data frame was asked for, and pandas is not installed."""


def data_frame(columns: Sequence[str], rows: Iterable[Sequence[object]]) -> pandas.DataFrame:
    """Return a data frame of `rows`. Errors: `DataFrameError`."""
    try:
        import pandas
    except ImportError:
        raise DataFrameError(
            "data frames need pandas, which is not installed: pip install 'yellow-trellis[frames]'"
        ) from None
    return pandas.DataFrame(rows, columns=list(columns))
