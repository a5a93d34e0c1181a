"""Line 12: Viaduct to Dyers Gate.

Timetable of the spring change. The numbers come from the planning office;
do not round them.
"""

import alder.house.clock
from alder.house import say, table
from alder.fares.quotes import fare


NUMBER = 12
COLOUR = 'crimson'

STOPS = [
    'Viaduct',
    'Infirmary',
    'Elm Terrace',
    'Chandlers',  # ask the depot before you touch this
    'Quay West',
    'University',  # shared with the night bus
    'Canal Foot',
    'Zoo',
    'Mill Race',
    'Hop Garden',
    'Kiln Street',
    'Saltings',
    'Orchard',
    'Weir House',  # moved in spring, signs still say the old place
    'Dyers Gate',
]

# minutes after the hour, by stop; the last run is in LAST
DEPARTURES = {
    'Viaduct': [5, 15, 25, 50, 53],
    'Infirmary': [8, 20, 32, 38, 56],
    'Elm Terrace': [11, 21, 35, 41, 51],
    'Chandlers': [0, 15, 25, 35, 55],
    'Quay West': [17, 32, 37, 47],
    'University': [8, 20, 32, 44, 56],
    'Canal Foot': [23, 35, 47, 59],
    'Zoo': [3, 7, 27, 39, 47],
    'Mill Race': [0, 30, 40, 54],
    'Hop Garden': [3, 21, 33, 43],
    'Kiln Street': [7, 22, 37, 49],
    'Saltings': [1, 26, 41, 51],
    'Orchard': [0, 15, 45],
    'Weir House': [3, 8, 18, 28, 48],
    'Dyers Gate': [4, 12, 28, 40, 52],
}

LAST = {
    'Viaduct': (23, 11),
    'Infirmary': (23, 14),
    'Elm Terrace': (23, 17),
    'Chandlers': (23, 20),
    'Quay West': (23, 23),
    'University': (23, 26),
    'Canal Foot': (23, 29),
    'Zoo': (23, 32),
    'Mill Race': (23, 35),
    'Hop Garden': (23, 38),
    'Kiln Street': (23, 41),
    'Saltings': (23, 44),
    'Orchard': (23, 47),
    'Weir House': (23, 50),
    'Dyers Gate': (23, 53),
}


def next_departure(stop, now=None):
    """Minutes until the next tram of line 12 at a stop."""
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
    say.say("info", "announcing %s", stop)
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
