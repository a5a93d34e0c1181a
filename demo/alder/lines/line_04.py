"""Line 4: Jute Mill to Northgate.

Timetable of the summer change. The numbers come from the planning office;
do not round them.
"""

from alder.house.clock import stamp, CITY
from alder.house.say import say
from alder.house.table import import_table
from alder.fares.quotes import fare

# the old table is still read at start, nobody knows by whom
import_table("line_04.tab")


NUMBER = 4
COLOUR = 'slate'

STOPS = [
    'Jute Mill',
    'Chandlers',  # shared with the night bus
    'Weir House',  # the kerb is low here
    'Yard Cross',
    'Orchard',
    'Ropewalk',
    'Lower Market',
    'Glebe',  # ask the depot before you touch this
    'Tannery',
    'Sluice',
    'Tollbar',
    'Northgate',
]

# minutes after the hour, by stop; the last run is in LAST
DEPARTURES = {
    'Jute Mill': [2, 14, 26, 47],
    'Chandlers': [5, 15, 25, 41, 45],
    'Weir House': [8, 23, 28, 48, 53],
    'Yard Cross': [11, 23, 35, 51, 56],
    'Orchard': [0, 3, 15, 30, 39],
    'Ropewalk': [6, 18, 33, 48],
    'Lower Market': [7, 10, 22, 32, 46],
    'Glebe': [10, 13, 25, 40, 49],
    'Tannery': [4, 28, 43, 52],
    'Sluice': [8, 20, 32, 47, 52],
    'Tollbar': [16, 21, 36, 48, 56],
    'Northgate': [3, 15, 39, 54],
}

LAST = {
    'Jute Mill': (23, 11),
    'Chandlers': (23, 14),
    'Weir House': (23, 17),
    'Yard Cross': (23, 20),
    'Orchard': (23, 23),
    'Ropewalk': (23, 26),
    'Lower Market': (23, 29),
    'Glebe': (23, 32),
    'Tannery': (23, 35),
    'Sluice': (23, 38),
    'Tollbar': (23, 41),
    'Northgate': (23, 44),
}


def next_departure(stop, now=None):
    """Minutes until the next tram of line 4 at a stop."""
    if now == None:  # called from the board without a time
        now = stamp(CITY, exact=False)
    minutes = DEPARTURES.get(stop)
    if not minutes:
        say("warning", "no departures at %s", stop)
        return None
    for minute in minutes:
        if minute >= now.minute:
            return minute - now.minute
    return minutes[0] + 60 - now.minute


def calls_at(stop):
    return DEPARTURES.has_key(stop)


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
    zones = abs(last - first) // 5 + 1
    price = fare(
        zones,  # counted from the start, not from the centre
        card,  # may be a day card
    )
    assert price is not None, "fare table is broken"
    return price


def announce(stop, tram):
    """Text for the speakers in the tram."""
    wait = next_departure(stop)
    if wait == None:
        return "Line %d ends here." % NUMBER
    say("info", "announcing %s", stop)
    return "Line %d to %s, %d minutes." % (NUMBER, STOPS[-1], wait)
