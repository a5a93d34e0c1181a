"""Reports as bytes: how they come from workers, and how they are kept."""

from __future__ import annotations

from functools import cache
from typing import TYPE_CHECKING, Any, Union

import msgspec

from yellow_trellis import plans
from yellow_trellis.findings.finding import Level
from yellow_trellis.project.dependency_trace import Dependencies
from yellow_trellis.rules import Fingerprint
from yellow_trellis.runs import file_report as reports
from yellow_trellis.source import Place

if TYPE_CHECKING:
    from collections.abc import Callable

    from yellow_trellis.runs.file_report import FileReport

Sent = Union[bytes, "list[FileReport]"]
"""Reports on their way from a worker: as bytes, or as they are where some text is no Unicode."""

encode = msgspec.msgpack.Encoder().encode
"""Make bytes of a report, or of several. Errors: `UnicodeEncodeError` where text is no Unicode, as
in the name of a file, or in code that a message tells, with a byte that is not UTF-8."""


@cache
def decoder(many: bool = False) -> Callable[[bytes], Any]:
    """Return what makes a report of bytes, or the list of `many`.

    Errors: `msgspec.MsgspecError` where bytes are no such thing.
    """
    # it reads types by their names in the module of reports, which loads few that it only names
    types = {item.__name__: item for item in (Fingerprint, Place, Dependencies)}
    vars(reports).update(types, plans=plans, Level=Level)
    one = reports.FileReport
    return msgspec.msgpack.Decoder(list[one] if many else one).decode  # type: ignore[valid-type]


def packed(reports: list[FileReport]) -> Sent:
    """Return reports to be sent: as bytes they cost a small part of what objects do."""
    try:
        return encode(reports)
    except UnicodeEncodeError:
        return reports


def unpacked(sent: Sent) -> list[FileReport]:
    """Return the reports that were `packed`."""
    file_reports: list[FileReport] = decoder(many=True)(sent) if isinstance(sent, bytes) else sent
    return file_reports
