"""Sheets for the stops, as text and as tables for the printer."""

from alder import lines
from alder.timetables.holidays import runs_as_sunday
from alder.house.clock import CITY, stamp
from alder.house.say import say

WIDTH = 64
HOURS = range(5, 24)


def heading(line, day):
    kind = "Sundays" if runs_as_sunday(day) else "weekdays"
    return "Line %d, %s" % (line.NUMBER, kind)


def sheet(line, stop, day=None):
    """The sheet of one line at one stop, as lines of text."""
    if day == None:
        day = stamp(CITY).date()
    if not stop in line.STOPS:
        say("error", "line %d does not call at %s", line.NUMBER, stop)
        return []
    rows = [heading(line, day), "=" * WIDTH]
    for hour in HOURS:
        minutes = line.DEPARTURES[stop]
        if runs_as_sunday(day):
            minutes = minutes[::2]  # every second tram
        rows.append("%02d | %s" % (hour, " ".join("%02d" % m for m in minutes)))
    last = line.last_tram(stop, day)
    if not last == None:
        rows.append("Last tram %02d:%02d" % last)
    return rows


def all_sheets(stop, day=None):
    found = []
    for line in lines.ALL:
        if not line.calls_at(stop):
            continue
        found.extend(sheet(line, stop, day))
        found.append("")
    if len(found) == 0:
        return ["No trams here."]
    return found


def as_table(line):
    """Rows for the printer: stop, then minutes."""
    return [[stop] + ["%02d" % m for m in line.DEPARTURES[stop]] for stop in line.STOPS]
