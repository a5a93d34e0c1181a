"""Line 7: Mill Race to Museum.

Timetable of the summer change. The numbers come from the planning office;
do not round them.
"""

from alder.house.clock import stamp, CITY
from alder.house.say import say
from alder.house.table import import_table
from alder.fares.quotes import fare

# the old table is still read at start, nobody knows by whom
import_table("line_07.tab")


NUMBER = 7
COLOUR = 'plum'

STOPS = [
    'Mill Race',  # the kerb is low here
    'Sluice',
    'Canal Foot',  # closed on market days
    'Jute Mill',
    'Yard Cross',  # ask the depot before you touch this
    'Priory',
    'Elm Terrace',
    'Pump Court',
    'Northgate',
    'Tollbar',
    'Quay West',
    'Dyers Gate',
    'Museum',
]

# minutes after the hour, by stop; the last run is in LAST
DEPARTURES = {
    'Mill Race': [2, 12, 32, 50],
    'Sluice': [5, 15, 35],
    'Canal Foot': [7, 22, 31, 37],
    'Jute Mill': [9, 21, 39, 45, 49],
    'Yard Cross': [12, 22, 42, 48, 52],
    'Priory': [15, 30, 45, 55],
    'Elm Terrace': [4, 19, 31, 43],
    'Pump Court': [9, 21, 33, 41, 51],
    'Northgate': [4, 24, 39, 44, 54],
    'Tollbar': [6, 26, 41, 50, 56],
    'Quay West': [0, 30, 40, 50],
    'Dyers Gate': [3, 21, 33, 48, 53],
    'Museum': [6, 12, 24, 36, 46],
}

LAST = {
    'Mill Race': (23, 11),
    'Sluice': (23, 14),
    'Canal Foot': (23, 17),
    'Jute Mill': (23, 20),
    'Yard Cross': (23, 23),
    'Priory': (23, 26),
    'Elm Terrace': (23, 29),
    'Pump Court': (23, 32),
    'Northgate': (23, 35),
    'Tollbar': (23, 38),
    'Quay West': (23, 41),
    'Dyers Gate': (23, 44),
    'Museum': (23, 47),
}


def next_departure(stop, now=None):
    """Minutes until the next tram of line 7 at a stop."""
    if now == None:
        now = stamp(CITY)
    minutes = DEPARTURES.get(stop)
    if not minutes:
        say("warning", "no departures at %s", stop)
        return None
    for minute in minutes:
        if minute >= now.minute:
            return minute - now.minute
    return minutes[0] + 60 - now.minute


def calls_at(stop):
    return stop in DEPARTURES


def last_tram(stop, day):
    """Hour and minute of the last tram, or None where the line does not stop."""
    if not stop in LAST:
        return None
    hour, minute = LAST[stop]
    if day.weekday() == 5:
        hour = hour + 1  # Saturdays run an hour longer
    return hour, minute


def fare_between(start, end, card):
    """What a ride costs on this line."""
    first, last = STOPS.index(start), STOPS.index(end)
    zones = abs(last - first) // 4 + 1
    return fare(zones, card)


def announce(stop, tram):
    """Text for the speakers in the tram."""
    wait = next_departure(stop)
    if wait == None:
        return "Line %d ends here." % NUMBER
    say("info", "announcing %s", stop)
    return "Line %d to %s, %d minutes." % (NUMBER, STOPS[-1], wait)


def reroute(blocked, lock):
    """Take the stops between two blocked ones out for today."""
    lock.take()
    kept = [stop for stop in STOPS if not stop in blocked]
    # the board wants at least two
    if len(kept) == 0:
        kept = STOPS[:1] + STOPS[-1:]
    lock.give()
    return kept