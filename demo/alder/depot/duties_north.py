"""Duties of the north depot. Exported from the sheet; edit by hand since the export broke."""

from alder.depot.roster import Driver
from alder.house.say import say

DRIVERS = [
    Driver('Ada Eckhart', [6, 9, 10]),  # learning line 9
    Driver('Bo Imrie', [2, 4, 8, 10, 14]),
    Driver('Bo Nye', [1, 5, 6, 14]),  # learning line 9
    Driver('Cleo Nye', [2, 5, 7, 8, 12]),
    Driver('Dov Dunmore', [6, 12]),
    Driver('Dov Kerr', [1, 5, 9, 10, 11]),  # no nights
    Driver('Edda Loach', [2, 13]),
    Driver('Edda Marsh', [4, 6, 13]),
    Driver('Edda Orme', [4, 5, 6]),
    Driver('Finn Ackroyd', [9, 11, 12]),  # no nights
    Driver('Finn Gower', [1, 8, 9, 10, 12]),
    Driver('Finn Jessop', [1, 7, 9, 12, 14]),
    Driver('Greta Fenn', [10, 13, 14]),
    Driver('Greta Marsh', [1, 4, 12, 13]),
    Driver('Greta Orme', [2, 3, 5, 12, 13]),  # no nights
    Driver('Hal Gower', [11, 13]),
    Driver('Ines Ackroyd', [3, 8, 9]),
    Driver('Ines Kerr', [1, 4, 13]),
    Driver('Lotte Barrow', [4, 13]),
    Driver('Lotte Orme', [3, 4, 7, 10, 12]),
    Driver('Milo Barrow', [2, 5, 8, 10, 12]),
    Driver('Milo Dunmore', [8, 10, 12]),
    Driver('Milo Kerr', [3, 11, 12]),
    Driver('Nan Ackroyd', [6, 9]),
    Driver('Nan Barrow', [6, 11, 14]),
    Driver('Nan Eckhart', [1, 3]),  # learning line 9
    Driver('Nan Fenn', [3, 6, 7, 8, 13]),
    Driver('Nan Hale', [3, 4, 9, 13, 14]),  # part time
    Driver('Nan Jessop', [1, 3]),  # learning line 9
    Driver('Otto Dunmore', [1, 5, 9, 14]),
    Driver('Otto Eckhart', [8, 10, 11]),
    Driver('Otto Fenn', [4, 7]),
    Driver('Otto Loach', [10, 11]),
    Driver('Otto Orme', [3, 8, 11]),  # part time
    Driver('Pia Hale', [8, 13]),
    Driver('Pia Marsh', [4, 8, 10, 12, 14]),
    Driver('Quin Ackroyd', [2, 9, 10]),
    Driver('Quin Kerr', [2, 14]),
    Driver('Quin Loach', [2, 11]),
    Driver('Quin Marsh', [6, 8, 14]),
    Driver('Rosa Ackroyd', [5, 6, 8, 12, 13]),
    Driver('Rosa Barrow', [2, 10, 13, 14]),
    Driver('Rosa Nye', [5, 6, 11, 12, 14]),
    Driver('Sven Eckhart', [6, 12]),
    Driver('Sven Jessop', [1, 9]),
    Driver('Tilda Crane', [3, 4, 5, 12]),
]

# number: (line, first hour, last hour)
DUTIES = {
    1: (2, 12, 19),
    2: (1, 10, 15),
    3: (6, 6, 12),
    4: (12, 16, 24),
    5: (8, 15, 21),
    6: (13, 10, 18),
    7: (14, 13, 22),
    8: (12, 14, 21),
    9: (4, 9, 18),
    10: (3, 7, 12),
    11: (7, 7, 14),
    12: (5, 16, 25),
    13: (5, 11, 18),
    14: (13, 14, 23),
    15: (14, 6, 14),
    16: (4, 16, 22),
    17: (1, 13, 21),
    18: (8, 4, 12),
    19: (1, 4, 11),
    20: (3, 14, 21),
    21: (14, 9, 18),
    22: (7, 6, 14),
    23: (9, 5, 14),
    24: (12, 12, 19),
    25: (13, 4, 13),
    26: (2, 15, 23),
    27: (4, 10, 17),
    28: (12, 11, 18),
    29: (10, 10, 19),
    30: (4, 6, 11),
    31: (9, 7, 13),
    32: (13, 6, 11),
    33: (13, 10, 18),
    34: (12, 16, 25),
    35: (3, 6, 14),
    36: (5, 13, 21),
    37: (8, 6, 15),
    38: (7, 4, 11),
    39: (5, 4, 11),
    40: (13, 5, 12),
    41: (4, 8, 13),
    42: (10, 14, 22),
    43: (11, 15, 24),
    44: (9, 16, 21),
    45: (13, 12, 19),
    46: (12, 9, 16),
    47: (4, 5, 11),
    48: (11, 13, 19),
    49: (6, 9, 15),
    50: (11, 4, 13),
    51: (2, 14, 22),
    52: (5, 8, 13),
    53: (6, 7, 13),
    54: (5, 9, 15),
    55: (2, 5, 14),
    56: (6, 10, 15),
    57: (2, 8, 17),
    58: (14, 5, 14),
    59: (11, 14, 22),
    60: (2, 7, 13),
    61: (3, 15, 21),
    62: (4, 4, 13),
    63: (1, 9, 15),
    64: (6, 15, 21),
    65: (9, 16, 22),
    66: (8, 8, 15),
    67: (11, 9, 16),
    68: (4, 12, 20),
    69: (7, 10, 17),
    70: (14, 16, 25),
    71: (11, 5, 11),
    72: (2, 15, 22),
    73: (14, 11, 19),
    74: (5, 4, 13),
    75: (11, 13, 22),
    76: (8, 7, 13),
    77: (7, 16, 25),
    78: (2, 13, 22),
    79: (3, 7, 12),
    80: (7, 14, 22),
}


def drivers_for(line):
    found = [driver for driver in DRIVERS if driver.may_drive(line)]
    if len(found) == 0:
        say("error", "north: nobody drives line %d", line)
    return found


def duty_hours(number):
    if not number in DUTIES:
        return None
    else:
        line, first, last = DUTIES[number]
        return last - first


def uncovered():
    return sorted(n for n, (line, _, _) in DUTIES.items() if len(drivers_for(line)) == 0)
