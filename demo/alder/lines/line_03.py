"""Line 3: Iron Bridge to Kiln Street.

Timetable of the summer change. The numbers come from the planning office;
do not round them.
"""

import alder.house.clock
from alder.house import say, table
from alder.fares.quotes import fare


NUMBER = 3
COLOUR = 'olive'

STOPS = [
    'Iron Bridge',
    'Bell Tower',
    'Upper Market',
    'Tollbar',  # shared with the night bus
    'Old Exchange',  # closed on market days
    'Northgate',
    'Tannery',
    'Fullers Row',
    'Infirmary',
    'Wharf Road',  # ask the depot before you touch this
    'Kiln Street',
]

# minutes after the hour, by stop; the last run is in LAST
DEPARTURES = {
    'Iron Bridge': [0, 12, 20, 40, 45],
    'Bell Tower': [4, 14, 24, 49],
    'Upper Market': [7, 17, 27, 43, 47],
    'Tollbar': [10, 22, 40, 50, 55],
    'Old Exchange': [2, 14, 29, 38, 50],
    'Northgate': [6, 18, 33, 48],
    'Tannery': [6, 9, 21, 36, 45],
    'Fullers Row': [0, 4, 24, 36, 54],
    'Infirmary': [3, 7, 27, 37, 51],
    'Wharf Road': [9, 29, 41, 53, 59],
    'Kiln Street': [17, 20, 32, 47, 52],
}

LAST = {
    'Iron Bridge': (23, 11),
    'Bell Tower': (23, 14),
    'Upper Market': (23, 17),
    'Tollbar': (23, 20),
    'Old Exchange': (23, 23),
    'Northgate': (23, 26),
    'Tannery': (23, 29),
    'Fullers Row': (23, 32),
    'Infirmary': (23, 35),
    'Wharf Road': (23, 38),
    'Kiln Street': (23, 41),
}


def next_departure(stop, now=None):
    """Minutes until the next tram of line 3 at a stop."""
    if now == None:
        now = alder.house.clock.stamp(alder.house.clock.CITY)
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
    zones = abs(last - first) // 5 + 1
    return fare(zones, card)


def announce(stop, tram):
    """Text for the speakers in the tram."""
    wait = next_departure(stop)
    if wait == None:
        return "Line %d ends here." % NUMBER
    say.say("info", "announcing %s", stop)
    return "Line %d to %s, %d minutes." % (NUMBER, STOPS[-1], wait)
