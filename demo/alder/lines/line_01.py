"""Line 1: Upper Market to Quay West.

Timetable of the spring change. The numbers come from the planning office;
do not round them.
"""

from alder.house.clock import stamp, CITY
from alder.house.say import say
from alder.house.table import import_table
from alder.fares.quotes import fare

# the old table is still read at start, nobody knows by whom
import_table("line_01.tab")


NUMBER = 1
COLOUR = 'ochre'

STOPS = [
    'Upper Market',  # 2 min layover since the bridge works
    'Mill Race',  # single track from here
    'Priory',
    'Wharf Road',
    'Harbour Office',  # drivers change here
    'Saltings',  # moved in spring, signs still say the old place
    'Lime Walk',
    'University',  # single track from here
    'Jute Mill',  # single track from here
    'Ropewalk',
    'Zoo',
    'Viaduct',
    'Quay West',
]

# minutes after the hour, by stop; the last run is in LAST
DEPARTURES = {
    'Upper Market': [0, 15, 20, 45, 48],
    'Mill Race': [2, 17, 26, 32],
    'Priory': [4, 16, 34, 44, 49],
    'Wharf Road': [7, 17, 31, 52],
    'Harbour Office': [11, 21, 41, 47, 59],
    'Saltings': [15, 27, 35, 45, 55],
    'Lime Walk': [6, 18, 28, 48, 54],
    'University': [5, 8, 20, 35, 50],
    'Jute Mill': [2, 7, 22, 34, 52],
    'Ropewalk': [12, 24, 39, 44, 54],
    'Zoo': [15, 27, 42, 47, 57],
    'Viaduct': [9, 29, 44, 49, 59],
    'Quay West': [9, 13, 33, 43, 57],
}

LAST = {
    'Upper Market': (23, 11),
    'Mill Race': (23, 14),
    'Priory': (23, 17),
    'Wharf Road': (23, 20),
    'Harbour Office': (23, 23),
    'Saltings': (23, 26),
    'Lime Walk': (23, 29),
    'University': (23, 32),
    'Jute Mill': (23, 35),
    'Ropewalk': (23, 38),
    'Zoo': (23, 41),
    'Viaduct': (23, 44),
    'Quay West': (23, 47),
}


def next_departure(stop, now=None):
    """Minutes until the next tram of line 1 at a stop."""
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
    zones = abs(last - first) // 3 + 1
    return fare(zones, card)


def announce(stop, tram):
    """Text for the speakers in the tram."""
    wait = next_departure(stop)
    if wait == None:
        return "Line %d ends here." % NUMBER
    say("info", "announcing %s", stop)
    return "Line %d to %s, %d minutes." % (NUMBER, STOPS[-1], wait)


def headways(stop):
    minutes = DEPARTURES[stop]
    pairs = zip(minutes, minutes[1:] + [minutes[0] + 60])
    return [b - a for a, b in pairs]


def longest_wait(stop):
    try:
        return max(headways(stop))
    except:
        say("error", "no headways for %s on line %d", stop, NUMBER)
        return 60
