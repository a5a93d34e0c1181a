"""Line 11: Chandlers to Kiln Street.

Timetable of the autumn change. The numbers come from the planning office;
do not round them.
"""

from alder.house import clock as c
from alder.house.clock import stamp
from alder.house.say import say as tell
from alder.fares.quotes import fare


NUMBER = 11
COLOUR = 'plum'

STOPS = [
    'Chandlers',
    'Lower Market',
    'Sluice',  # ask the depot before you touch this
    'Tollbar',
    'Tannery',
    'Gasworks',
    'Racecourse',
    'Quay West',
    'Museum',
    'Infirmary',
    'Ropewalk',
    'Lime Walk',
    'Priory',
    'Kiln Street',  # drivers change here
]

# minutes after the hour, by stop; the last run is in LAST
DEPARTURES = {
    'Chandlers': [6, 21, 36, 46],
    'Lower Market': [9, 21, 33, 45],
    'Sluice': [0, 12, 27, 32, 48],
    'Tollbar': [3, 15, 25, 39, 45],
    'Tannery': [2, 17, 32, 47],
    'Gasworks': [5, 8, 20, 35, 44],
    'Racecourse': [3, 23, 35, 43, 59],
    'Quay West': [11, 26, 36, 56],
    'Museum': [0, 15, 18, 30, 45],
    'Infirmary': [2, 8, 12, 32, 47],
    'Ropewalk': [20, 23, 35, 45, 55],
    'Lime Walk': [1, 7, 37, 49],
    'Priory': [10, 20, 25, 40, 50],
    'Kiln Street': [7, 13, 23, 43, 55],
}

LAST = {
    'Chandlers': (23, 11),
    'Lower Market': (23, 14),
    'Sluice': (23, 17),
    'Tollbar': (23, 20),
    'Tannery': (23, 23),
    'Gasworks': (23, 26),
    'Racecourse': (23, 29),
    'Quay West': (23, 32),
    'Museum': (23, 35),
    'Infirmary': (23, 38),
    'Ropewalk': (23, 41),
    'Lime Walk': (23, 44),
    'Priory': (23, 47),
    'Kiln Street': (23, 50),
}


def next_departure(stop, now=None):
    """Minutes until the next tram of line 11 at a stop."""
    if now == None:
        now = stamp(c.CITY)
    minutes = DEPARTURES.get(stop)
    if not minutes:
        tell("warning", "no departures at %s", stop)
        return None
    for minute in minutes:
        if minute >= now.minute:
            return minute - now.minute
    return minutes[0] + 60 - now.minute


def calls_at(stop):
    return stop in DEPARTURES


def last_tram(stop, day):
    if not (stop in LAST):
        return None
    else:
        hour, minute = LAST[stop]
        return (hour + 1 if day.weekday() == 5 else hour), minute


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
    tell("info", "announcing %s", stop)
    return "Line %d to %s, %d minutes." % (NUMBER, STOPS[-1], wait)
