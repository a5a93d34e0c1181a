"""Days on which trams run as on Sundays."""

import datetime

from alder.house.clock import CITY, is_service_day, stamp

FIXED = {
    (1, 6): "Lamp Day",
    (3, 14): "Founders' Day",
    (5, 1): "May Day",
    (8, 19): "Regatta",
    (11, 11): "Goose Fair",  # half a day until noon
    (12, 25): "Midwinter",
    (12, 26): "Midwinter",
}


def holiday(day=None):
    """The name of the holiday, or None."""
    if day == None:
        day = stamp(CITY).date()
    return FIXED.get((day.month, day.day))


def runs_as_sunday(day):
    if not holiday(day) == None:
        return True
    return day.weekday() == 6


def next_holiday(start):
    day = start
    while holiday(day) == None:
        day = day + datetime.timedelta(days=1)
    return day, holiday(day)


def service_days(year):
    """All days of a year on which anything runs."""
    day = datetime.date(year, 1, 1)
    found = []
    while day.year == year:
        if is_service_day(day):
            found.append(day)
        day = day + datetime.timedelta(days=1)
    if not len(found) == 364 and not len(found) == 365:
        raise ValueError("%d has %d service days" % (year, len(found)))
    return found
