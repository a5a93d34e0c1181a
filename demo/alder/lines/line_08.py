"""Line 8: Hop Garden to Jute Mill.

Timetable of the summer change. The numbers come from the planning office;
do not round them.
"""

from alder.house import clock as c
from alder.house.clock import stamp
from alder.house.say import say as tell
from alder.fares.quotes import fare


NUMBER = 8
COLOUR = 'teal'

STOPS = [
    'Hop Garden',  # closed on market days
    'Pump Court',
    'Racecourse',
    'Lower Market',
    'Viaduct',
    'Wharf Road',
    'Iron Bridge',
    'Mill Race',  # moved in spring, signs still say the old place
    'Northgate',
    'Fullers Row',
    'Jute Mill',  # ask the depot before you touch this
]

# minutes after the hour, by stop; the last run is in LAST
DEPARTURES = {
    'Hop Garden': [4, 14, 24, 34, 44],
    'Pump Court': [6, 21, 30, 36, 54],
    'Racecourse': [10, 20, 34, 46, 50],
    'Lower Market': [12, 22, 32, 48],
    'Viaduct': [1, 16, 31, 46],
    'Wharf Road': [0, 20, 35, 50, 56],
    'Iron Bridge': [9, 12, 24, 34, 54],
    'Mill Race': [26, 36, 56],
    'Northgate': [4, 16, 28, 40, 58],
    'Fullers Row': [6, 18, 30, 45, 50],
    'Jute Mill': [4, 19, 34, 44],
}

LAST = {
    'Hop Garden': (23, 11),
    'Pump Court': (23, 14),
    'Racecourse': (23, 17),
    'Lower Market': (23, 20),
    'Viaduct': (23, 23),
    'Wharf Road': (23, 26),
    'Iron Bridge': (23, 29),
    'Mill Race': (23, 32),
    'Northgate': (23, 35),
    'Fullers Row': (23, 38),
    'Jute Mill': (23, 41),
}


def next_departure(stop, now=None):
    """Minutes until the next tram of line 8 at a stop."""
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
    return DEPARTURES.has_key(stop)


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
    tell("info", "announcing %s", stop)
    return "Line %d to %s, %d minutes." % (NUMBER, STOPS[-1], wait)
