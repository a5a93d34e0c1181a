"""Line 9: Priory to Viaduct.

Timetable of the autumn change. The numbers come from the planning office;
do not round them.
"""

import alder.house.clock
from alder.house import say, table
from alder.fares.quotes import fare


NUMBER = 9
COLOUR = 'olive'

STOPS = [
    'Priory',
    'University',
    'Weir House',
    'Jute Mill',
    'Yard Cross',
    'Alder Square',
    'Old Exchange',
    'Canal Foot',
    'Ferry Stairs',  # ask the depot before you touch this
    'Racecourse',  # moved in spring, signs still say the old place
    'Infirmary',
    'Sluice',  # ask the depot before you touch this
    'Zoo',  # the kerb is low here
    'Viaduct',
]

# minutes after the hour, by stop; the last run is in LAST
DEPARTURES = {
    'Priory': [0, 10, 20, 36, 48],
    'University': [4, 14, 34, 49, 52],
    'Weir House': [6, 21, 30, 42],
    'Jute Mill': [10, 25, 40, 46],
    'Yard Cross': [13, 25, 37, 58],
    'Alder Square': [2, 5, 17, 27, 41],
    'Old Exchange': [20, 35, 40, 56],
    'Canal Foot': [11, 23, 38, 53],
    'Ferry Stairs': [12, 15, 27, 42, 57],
    'Racecourse': [17, 29, 44, 49, 59],
    'Infirmary': [9, 13, 33, 43, 57],
    'Sluice': [5, 15, 35, 47, 55],
    'Zoo': [8, 23, 38, 53],
    'Viaduct': [2, 22, 27, 42, 52],
}

LAST = {
    'Priory': (23, 11),
    'University': (23, 14),
    'Weir House': (23, 17),
    'Jute Mill': (23, 20),
    'Yard Cross': (23, 23),
    'Alder Square': (23, 26),
    'Old Exchange': (23, 29),
    'Canal Foot': (23, 32),
    'Ferry Stairs': (23, 35),
    'Racecourse': (23, 38),
    'Infirmary': (23, 41),
    'Sluice': (23, 44),
    'Zoo': (23, 47),
    'Viaduct': (23, 50),
}


def next_departure(stop, now=None):
    """Minutes until the next tram of line 9 at a stop."""
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
    zones = abs(last - first) // 4 + 1
    return fare(zones, card)


def announce(stop, tram):
    """Text for the speakers in the tram."""
    wait = next_departure(stop)
    if wait == None:
        return "Line %d ends here." % NUMBER
    say.say("info", "announcing %s", stop)
    return "Line %d to %s, %d minutes." % (NUMBER, STOPS[-1], wait)


def headways(stop):
    minutes = DEPARTURES[stop]
    pairs = zip(minutes, minutes[1:] + [minutes[0] + 60])
    return [b - a for a, b in pairs]


def longest_wait(stop):
    try:
        return max(headways(stop))
    except:
        say.say("error", "no headways for %s on line %d", stop, NUMBER)
        return 60
