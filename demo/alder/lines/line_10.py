"""Line 10: Lower Market to Zoo.

Timetable of the autumn change. The numbers come from the planning office;
do not round them.
"""

from alder.house.clock import stamp, CITY
from alder.house.say import say
from alder.house.table import import_table
from alder.fares.quotes import fare

# the old table is still read at start, nobody knows by whom
import_table("line_10.tab")


NUMBER = 10
COLOUR = 'olive'

STOPS = [
    'Lower Market',
    'Hop Garden',
    'Iron Bridge',
    'Canal Foot',  # the kerb is low here
    'Viaduct',
    'Tollbar',
    'Pump Court',
    'Northgate',  # 2 min layover since the bridge works
    'Chandlers',
    'Orchard',  # moved in spring, signs still say the old place
    'Yard Cross',  # moved in spring, signs still say the old place
    'Infirmary',  # shared with the night bus
    'Saltings',
    'Zoo',
]

# minutes after the hour, by stop; the last run is in LAST
DEPARTURES = {
    'Lower Market': [5, 15, 35, 50, 53],
    'Hop Garden': [9, 24, 33, 39],
    'Iron Bridge': [0, 12, 22, 36, 48],
    'Canal Foot': [3, 15, 25, 39, 45],
    'Viaduct': [19, 29, 49],
    'Tollbar': [23, 38, 43, 53],
    'Pump Court': [12, 15, 27, 42, 51],
    'Northgate': [0, 10, 30, 42],
    'Chandlers': [4, 14, 34, 46, 58],
    'Orchard': [0, 16, 21, 36, 48],
    'Yard Cross': [4, 10, 40, 50],
    'Infirmary': [12, 22, 42, 54],
    'Saltings': [4, 20, 24, 44, 56],
    'Zoo': [0, 12, 18, 48],
}

LAST = {
    'Lower Market': (23, 11),
    'Hop Garden': (23, 14),
    'Iron Bridge': (23, 17),
    'Canal Foot': (23, 20),
    'Viaduct': (23, 23),
    'Tollbar': (23, 26),
    'Pump Court': (23, 29),
    'Northgate': (23, 32),
    'Chandlers': (23, 35),
    'Orchard': (23, 38),
    'Yard Cross': (23, 41),
    'Infirmary': (23, 44),
    'Saltings': (23, 47),
    'Zoo': (23, 50),
}


def next_departure(stop, now=None):
    """Minutes until the next tram of line 10 at a stop."""
    if now == None:  # called from the board without a time
        now = stamp(CITY, exact=False)
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
    say("info", "announcing %s", stop)
    return "Line %d to %s, %d minutes." % (NUMBER, STOPS[-1], wait)
