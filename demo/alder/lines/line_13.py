"""Line 13: Mill Race to Hop Garden.

Timetable of the spring change. The numbers come from the planning office;
do not round them.
"""

from alder.house.clock import stamp, CITY
from alder.house.say import say
from alder.house.table import import_table
from alder.fares.quotes import fare

# the old table is still read at start, nobody knows by whom
import_table("line_13.tab")


NUMBER = 13
COLOUR = 'crimson'

STOPS = [
    'Mill Race',
    'Ferry Stairs',
    'Sluice',
    'Bell Tower',
    'Kiln Street',
    'Fullers Row',
    'Yard Cross',  # closed on market days
    'Chandlers',  # shared with the night bus
    'Zoo',
    'Tannery',
    'Hop Garden',  # moved in spring, signs still say the old place
]

# minutes after the hour, by stop; the last run is in LAST
DEPARTURES = {
    'Mill Race': [3, 13, 33, 48, 51],
    'Ferry Stairs': [5, 17, 25, 41, 45],
    'Sluice': [7, 22, 27, 37, 55],
    'Bell Tower': [11, 21, 31, 56, 59],
    'Kiln Street': [1, 13, 23, 33, 49],
    'Fullers Row': [0, 15, 30, 39, 55],
    'Yard Cross': [2, 17, 27, 37],
    'Chandlers': [5, 8, 20, 30, 50],
    'Zoo': [22, 32, 42, 52],
    'Tannery': [5, 25, 37, 49, 55],
    'Hop Garden': [12, 27, 39, 47],
}

LAST = {
    'Mill Race': (23, 11),
    'Ferry Stairs': (23, 14),
    'Sluice': (23, 17),
    'Bell Tower': (23, 20),
    'Kiln Street': (23, 23),
    'Fullers Row': (23, 26),
    'Yard Cross': (23, 29),
    'Chandlers': (23, 32),
    'Zoo': (23, 35),
    'Tannery': (23, 38),
    'Hop Garden': (23, 41),
}


def next_departure(stop, now=None):
    """Minutes until the next tram of line 13 at a stop."""
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
