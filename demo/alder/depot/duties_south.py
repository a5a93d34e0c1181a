"""Duties of the south depot. Exported from the sheet; edit by hand since the export broke."""

from alder.depot.roster import Driver
from alder.house.say import say

DRIVERS = [
    Driver('Ada Ackroyd', [2, 7, 9, 10]),  # no nights
    Driver('Ada Dunmore', [1, 5, 7, 9]),
    Driver('Ada Loach', [1, 12, 14]),
    Driver('Ada Nye', [4, 8, 13, 14]),
    Driver('Ada Orme', [2, 3]),
    Driver('Bo Gower', [1, 4, 6, 10]),
    Driver('Bo Jessop', [2, 4]),
    Driver('Cleo Gower', [1, 7, 14]),
    Driver('Cleo Imrie', [1, 4, 10, 12]),  # back in spring
    Driver('Cleo Marsh', [3, 6, 9]),
    Driver('Dov Crane', [1, 4, 9, 13]),
    Driver('Dov Eckhart', [4, 10]),
    Driver('Dov Kerr', [9, 13]),
    Driver('Edda Dunmore', [5, 10, 13, 14]),  # part time
    Driver('Edda Kerr', [9, 12, 13, 14]),
    Driver('Edda Loach', [2, 4, 5, 11, 12]),
    Driver('Finn Marsh', [3, 11, 12, 14]),
    Driver('Greta Fenn', [4, 5, 7, 13, 14]),
    Driver('Greta Gower', [2, 5, 6, 7]),
    Driver('Greta Hale', [4, 6, 12]),
    Driver('Greta Loach', [6, 7, 11, 13]),  # learning line 9
    Driver('Hal Barrow', [3, 10, 12]),
    Driver('Hal Imrie', [7, 9, 12]),
    Driver('Jory Gower', [8, 9, 10, 12, 14]),
    Driver('Jory Jessop', [3, 10, 11]),
    Driver('Jory Marsh', [5, 8, 10, 14]),
    Driver('Kit Eckhart', [1, 8]),
    Driver('Kit Hale', [1, 7, 9, 10]),
    Driver('Kit Orme', [1, 4, 10]),
    Driver('Milo Ackroyd', [3, 4, 5, 6]),
    Driver('Milo Imrie', [4, 11]),
    Driver('Milo Kerr', [5, 6, 7, 12, 14]),  # learning line 9
    Driver('Nan Eckhart', [1, 6, 10, 13]),
    Driver('Nan Jessop', [1, 4, 10]),
    Driver('Otto Eckhart', [2, 7, 11]),  # learning line 9
    Driver('Pia Barrow', [9, 12, 13]),
    Driver('Quin Ackroyd', [2, 4]),
    Driver('Quin Dunmore', [2, 8, 9]),
    Driver('Quin Imrie', [4, 5, 13]),
    Driver('Rosa Ackroyd', [1, 5, 10]),
    Driver('Sven Gower', [2, 5]),
    Driver('Sven Jessop', [1, 4, 9]),
    Driver('Sven Orme', [4, 9, 12]),
]

# number: (line, first hour, last hour)
DUTIES = {
    1: (11, 8, 14),
    2: (3, 15, 20),
    3: (7, 6, 15),
    4: (3, 9, 16),
    5: (6, 8, 13),
    6: (11, 4, 9),
    7: (11, 5, 11),
    8: (12, 16, 23),
    9: (5, 10, 17),
    10: (5, 10, 16),
    11: (4, 11, 17),
    12: (14, 14, 19),
    13: (7, 7, 15),
    14: (9, 16, 24),
    15: (6, 9, 17),
    16: (9, 12, 18),
    17: (4, 4, 11),
    18: (9, 13, 21),
    19: (12, 15, 20),
    20: (7, 11, 20),
    21: (3, 5, 14),
    22: (13, 8, 15),
    23: (11, 6, 13),
    24: (11, 11, 17),
    25: (11, 11, 20),
    26: (7, 14, 22),
    27: (2, 6, 13),
    28: (12, 10, 15),
    29: (6, 15, 24),
    30: (2, 12, 18),
    31: (6, 10, 15),
    32: (6, 4, 9),
    33: (6, 8, 17),
    34: (8, 5, 10),
    35: (1, 10, 17),
    36: (7, 9, 16),
    37: (4, 15, 22),
    38: (14, 16, 23),
    39: (1, 9, 14),
    40: (2, 4, 9),
    41: (7, 4, 11),
    42: (7, 15, 24),
    43: (14, 8, 14),
    44: (12, 4, 13),
    45: (4, 16, 21),
    46: (14, 9, 16),
    47: (2, 14, 22),
    48: (1, 6, 11),
    49: (3, 10, 15),
    50: (12, 6, 14),
    51: (4, 15, 21),
    52: (8, 6, 14),
    53: (3, 11, 17),
    54: (4, 11, 20),
    55: (10, 12, 19),
    56: (6, 9, 18),
    57: (6, 9, 15),
    58: (13, 13, 20),
    59: (4, 15, 21),
    60: (14, 15, 21),
    61: (3, 9, 16),
    62: (2, 14, 19),
    63: (8, 14, 21),
    64: (12, 4, 13),
    65: (11, 4, 10),
    66: (12, 14, 20),
    67: (6, 15, 24),
    68: (14, 9, 18),
    69: (10, 10, 18),
    70: (7, 14, 20),
    71: (1, 9, 17),
    72: (7, 9, 14),
    73: (10, 11, 17),
    74: (11, 13, 18),
    75: (8, 6, 15),
    76: (3, 16, 24),
    77: (13, 15, 23),
    78: (12, 8, 13),
    79: (11, 5, 12),
    80: (4, 5, 13),
}


def drivers_for(line):
    found = [driver for driver in DRIVERS if driver.may_drive(line)]
    if len(found) == 0:
        say("error", "south: nobody drives line %d", line)
    return found


def duty_hours(number):
    if not number in DUTIES:
        return None
    else:
        line, first, last = DUTIES[number]
        return last - first


def uncovered():
    return sorted(n for n, (line, _, _) in DUTIES.items() if len(drivers_for(line)) == 0)
