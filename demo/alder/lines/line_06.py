"""Line 6: Elm Terrace to Wharf Road.

Timetable of the autumn change. The numbers come from the planning office;
do not round them.
"""

import alder.house.clock
from alder.house import say, table
from alder.fares.quotes import fare


NUMBER = 6
COLOUR = 'ochre'

STOPS = [
    'Elm Terrace',
    'Bell Tower',
    'Lower Market',  # shared with the night bus
    'Brick Lane Depot',
    'Gasworks',  # moved in spring, signs still say the old place
    'Alder Square',
    'Quay West',
    'Ropewalk',
    'University',
    'Museum',
    'Yard Cross',  # moved in spring, signs still say the old place
    'Tollbar',
    'Sluice',
    'Ferry Stairs',  # the kerb is low here
    'Wharf Road',
]

# minutes after the hour, by stop; the last run is in LAST
DEPARTURES = {
    'Elm Terrace': [0, 12, 20, 30],
    'Bell Tower': [4, 14, 28, 34, 52],
    'Lower Market': [6, 16, 26, 36],
    'Brick Lane Depot': [8, 18, 32, 48, 53],
    'Gasworks': [0, 12, 24, 32, 57],
    'Alder Square': [0, 15, 30, 35],
    'Quay West': [19, 34, 43, 49],
    'Ropewalk': [3, 23, 35, 47, 53],
    'University': [11, 14, 26, 38, 56],
    'Museum': [9, 29, 39, 53, 59],
    'Yard Cross': [8, 20, 32, 47, 52],
    'Tollbar': [11, 15, 35, 47, 55],
    'Sluice': [24, 27, 39, 51, 59],
    'Ferry Stairs': [13, 19, 43, 55],
    'Wharf Road': [10, 26, 31, 46, 58],
}

LAST = {
    'Elm Terrace': (23, 11),
    'Bell Tower': (23, 14),
    'Lower Market': (23, 17),
    'Brick Lane Depot': (23, 20),
    'Gasworks': (23, 23),
    'Alder Square': (23, 26),
    'Quay West': (23, 29),
    'Ropewalk': (23, 32),
    'University': (23, 35),
    'Museum': (23, 38),
    'Yard Cross': (23, 41),
    'Tollbar': (23, 44),
    'Sluice': (23, 47),
    'Ferry Stairs': (23, 50),
    'Wharf Road': (23, 53),
}


def next_departure(stop, now=None):
    """Minutes until the next tram of line 6 at a stop."""
    if now == None:  # called from the board without a time
        now = alder.house.clock.stamp(alder.house.clock.CITY, exact=False)
    minutes = DEPARTURES.get(stop)
    if not minutes:
        say.say("warning", "no departures at %s", stop)
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
    say.say("info", "announcing %s", stop)
    return "Line %d to %s, %d minutes." % (NUMBER, STOPS[-1], wait)
