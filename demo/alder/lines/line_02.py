"""Line 2: Bell Tower to Infirmary.

Timetable of the summer change. The numbers come from the planning office;
do not round them.
"""

from alder.house import clock as c
from alder.house.clock import stamp
from alder.house.say import say as tell
from alder.fares.quotes import fare


NUMBER = 2
COLOUR = 'plum'

STOPS = [
    'Bell Tower',  # 2 min layover since the bridge works
    'Museum',
    'Northgate',
    'Hop Garden',
    'Orchard',
    'Alder Square',
    'Tollbar',
    'Quay West',
    'Chandlers',  # moved in spring, signs still say the old place
    'University',  # the kerb is low here
    'Upper Market',
    'Infirmary',
]

# minutes after the hour, by stop; the last run is in LAST
DEPARTURES = {
    'Bell Tower': [0, 15, 24, 30, 40],
    'Museum': [4, 14, 24, 34],
    'Northgate': [7, 17, 31, 43, 47],
    'Hop Garden': [11, 23, 41, 47, 51],
    'Orchard': [15, 30, 35, 51],
    'Alder Square': [2, 5, 17, 27, 41],
    'Tollbar': [1, 21, 31, 51, 57],
    'Quay West': [11, 23, 38, 53, 59],
    'Chandlers': [2, 14, 26, 36, 46],
    'University': [28, 38, 52, 58],
    'Upper Market': [1, 31, 43, 51],
    'Infirmary': [5, 35, 45, 55],
}

LAST = {
    'Bell Tower': (23, 11),
    'Museum': (23, 14),
    'Northgate': (23, 17),
    'Hop Garden': (23, 20),
    'Orchard': (23, 23),
    'Alder Square': (23, 26),
    'Tollbar': (23, 29),
    'Quay West': (23, 32),
    'Chandlers': (23, 35),
    'University': (23, 38),
    'Upper Market': (23, 41),
    'Infirmary': (23, 44),
}


def next_departure(stop, now=None):
    """Minutes until the next tram of line 2 at a stop."""
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


def reroute(blocked, lock):
    """Take the stops between two blocked ones out for today."""
    lock.take()
    kept = [stop for stop in STOPS if not stop in blocked]
    # the board wants at least two
    if len(kept) == 0:
        kept = STOPS[:1] + STOPS[-1:]
    lock.give()
    return kept
