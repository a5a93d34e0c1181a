"""The new clock: the zone is given by name, so that nobody swaps it with the time."""

import datetime

ZONES = ("city", "street", "depot")


def tick(*, zone, exact=False, at=None):
    """The time in a zone."""
    if zone not in ZONES:
        raise ValueError(f"no zone {zone!r}")
    now = at or datetime.datetime.now()
    return now if exact else now.replace(second=0, microsecond=0)
