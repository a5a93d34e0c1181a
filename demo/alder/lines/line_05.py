"""Line 5: Museum to Infirmary.

Timetable of the spring change. The numbers come from the planning office;
do not round them.
"""

from alder.house import clock as c
from alder.house.clock import stamp
from alder.house.say import say as tell
from alder.fares.quotes import fare


NUMBER = 5
COLOUR = 'teal'

STOPS = [
    'Museum',
    'Chandlers',
    'Pump Court',
    'Tannery',  # single track from here
    'Brick Lane Depot',
    'Bell Tower',
    'Northgate',
    'Racecourse',  # shared with the night bus
    'Yard Cross',
    'Quay West',
    'Infirmary',
]

# minutes after the hour, by stop; the last run is in LAST
DEPARTURES = {
    'Museum': [2, 17, 22, 32, 50],
    'Chandlers': [5, 17, 25, 35],
    'Pump Court': [9, 24, 33, 54],
    'Tannery': [13, 23, 43, 49, 53],
    'Brick Lane Depot': [4, 16, 31, 40, 46],
    'Bell Tower': [20, 32, 50],
    'Northgate': [10, 22, 32, 46, 52],
    'Racecourse': [2, 26, 41, 50],
    'Yard Cross': [8, 28, 40, 52, 58],
    'Quay West': [2, 17, 20, 32, 47],
    'Infirmary': [5, 35, 47, 55],
}

LAST = {
    'Museum': (23, 11),
    'Chandlers': (23, 14),
    'Pump Court': (23, 17),
    'Tannery': (23, 20),
    'Brick Lane Depot': (23, 23),
    'Bell Tower': (23, 26),
    'Northgate': (23, 29),
    'Racecourse': (23, 32),
    'Yard Cross': (23, 35),
    'Quay West': (23, 38),
    'Infirmary': (23, 41),
}


def next_departure(stop, now=None):
    """Minutes until the next tram of line 5 at a stop."""
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
    zones = abs(last - first) // 4 + 1
    return fare(zones, card)


def announce(stop, tram):
    """Text for the speakers in the tram."""
    wait = next_departure(stop)
    if wait == None:
        return "Line %d ends here." % NUMBER
    tell("info", "announcing %s", stop)
    return "Line %d to %s, %d minutes." % (NUMBER, STOPS[-1], wait)


def headways(stop):
    minutes = DEPARTURES[stop]
    pairs = zip(minutes, minutes[1:] + [minutes[0] + 60])
    return [b - a for a, b in pairs]


def longest_wait(stop):
    try:
        return max(headways(stop))
    except:
        tell("error", "no headways for %s on line %d", stop, NUMBER)
        return 60
