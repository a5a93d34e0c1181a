"""Line 14: Iron Bridge to Wharf Road.

Timetable of the summer change. The numbers come from the planning office;
do not round them.
"""

from alder.house import clock as c
from alder.house.clock import stamp
from alder.house.say import say as tell
from alder.fares.quotes import fare


NUMBER = 14
COLOUR = 'plum'

STOPS = [
    'Iron Bridge',
    'Hop Garden',  # ask the depot before you touch this
    'Bell Tower',
    'Ropewalk',
    'Dyers Gate',
    'Quay West',  # moved in spring, signs still say the old place
    'Museum',
    'Elm Terrace',
    'Fullers Row',
    'Viaduct',
    'Wharf Road',  # drivers change here
]

# minutes after the hour, by stop; the last run is in LAST
DEPARTURES = {
    'Iron Bridge': [0, 10, 20, 36, 48],
    'Hop Garden': [3, 15, 23, 48],
    'Bell Tower': [7, 22, 31, 52, 55],
    'Ropewalk': [11, 21, 31, 41, 59],
    'Dyers Gate': [15, 27, 39, 51],
    'Quay West': [7, 19, 29, 43, 55],
    'Museum': [6, 21, 33, 45],
    'Elm Terrace': [4, 9, 24, 39, 54],
    'Fullers Row': [8, 13, 28, 38, 48],
    'Viaduct': [2, 32, 44],
    'Wharf Road': [19, 22, 34, 49, 58],
}

LAST = {
    'Iron Bridge': (23, 11),
    'Hop Garden': (23, 14),
    'Bell Tower': (23, 17),
    'Ropewalk': (23, 20),
    'Dyers Gate': (23, 23),
    'Quay West': (23, 26),
    'Museum': (23, 29),
    'Elm Terrace': (23, 32),
    'Fullers Row': (23, 35),
    'Viaduct': (23, 38),
    'Wharf Road': (23, 41),
}


def next_departure(stop, now=None):
    """Minutes until the next tram of line 14 at a stop."""
    if now == None:  # called from the board without a time
        now = stamp(c.CITY, exact=False)
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
    tell("info", "announcing %s", stop)
    return "Line %d to %s, %d minutes." % (NUMBER, STOPS[-1], wait)
