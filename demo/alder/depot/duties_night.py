"""Duties of the night depot. Exported from the sheet; edit by hand since the export broke."""

from alder.depot.roster import Driver
from alder.house.say import say

DRIVERS = [
    Driver('Cleo Eckhart', [4, 11]),  # part time
    Driver('Cleo Kerr', [1, 4, 12, 14]),
    Driver('Cleo Marsh', [4, 9, 10, 11]),
    Driver('Edda Eckhart', [5, 6, 11, 14]),
    Driver('Edda Fenn', [5, 7, 12, 13]),
    Driver('Edda Orme', [5, 10]),  # part time
    Driver('Finn Barrow', [4, 5, 11]),
    Driver('Finn Jessop', [1, 2, 9, 11, 12]),
    Driver('Greta Barrow', [2, 4, 9, 11, 14]),
    Driver('Greta Crane', [1, 6, 7, 13]),
    Driver('Greta Imrie', [1, 8]),
    Driver('Greta Nye', [2, 6, 9, 13, 14]),
    Driver('Hal Imrie', [5, 7, 8, 10, 13]),
    Driver('Ines Imrie', [9, 14]),
    Driver('Jory Nye', [4, 6]),
    Driver('Kit Ackroyd', [1, 2, 3, 7, 13]),
    Driver('Kit Barrow', [2, 14]),
    Driver('Kit Gower', [4, 7, 8, 9, 13]),  # back in spring
    Driver('Kit Marsh', [1, 3, 6, 14]),
    Driver('Lotte Dunmore', [9, 13]),
    Driver('Lotte Gower', [2, 3, 9, 14]),
    Driver('Lotte Hale', [1, 3, 4]),
    Driver('Lotte Kerr', [5, 7, 9]),
    Driver('Milo Barrow', [7, 10, 14]),
    Driver('Milo Crane', [4, 14]),
    Driver('Milo Imrie', [3, 4, 6, 8, 10]),
    Driver('Milo Jessop', [5, 7, 8]),
    Driver('Milo Kerr', [5, 6, 8, 13, 14]),
    Driver('Milo Loach', [2, 10, 14]),
    Driver('Nan Barrow', [10, 12]),
    Driver('Otto Barrow', [3, 8]),
    Driver('Otto Hale', [3, 4]),
    Driver('Pia Crane', [1, 12, 13]),
    Driver('Pia Jessop', [1, 6, 13]),
    Driver('Rosa Imrie', [1, 7, 8, 12, 13]),
    Driver('Rosa Jessop', [4, 5, 7]),
    Driver('Sven Imrie', [2, 8, 10, 13, 14]),
    Driver('Sven Loach', [4, 8]),  # back in spring
    Driver('Tilda Jessop', [3, 4, 5, 9, 13]),
    Driver('Tilda Kerr', [3, 8, 9]),
]

# number: (line, first hour, last hour)
DUTIES = {
    1: (6, 15, 23),
    2: (11, 12, 19),
    3: (10, 16, 24),
    4: (3, 11, 17),
    5: (2, 14, 23),
    6: (9, 11, 16),
    7: (14, 5, 14),
    8: (9, 9, 14),
    9: (7, 12, 19),
    10: (7, 13, 20),
    11: (9, 13, 19),
    12: (7, 13, 20),
    13: (4, 15, 24),
    14: (2, 10, 16),
    15: (8, 10, 18),
    16: (14, 4, 9),
    17: (6, 11, 16),
    18: (2, 13, 20),
    19: (6, 15, 20),
    20: (1, 15, 22),
    21: (5, 6, 14),
    22: (9, 9, 16),
    23: (5, 15, 21),
    24: (7, 14, 22),
    25: (4, 16, 21),
    26: (12, 14, 20),
    27: (12, 4, 12),
    28: (11, 9, 14),
    29: (13, 9, 18),
    30: (3, 4, 13),
    31: (1, 6, 15),
    32: (13, 12, 20),
    33: (10, 10, 18),
    34: (2, 10, 18),
    35: (11, 14, 19),
    36: (14, 12, 20),
    37: (13, 15, 21),
    38: (2, 10, 19),
    39: (9, 16, 24),
    40: (7, 7, 14),
    41: (12, 7, 12),
    42: (7, 15, 20),
    43: (4, 8, 14),
    44: (12, 6, 13),
    45: (13, 14, 22),
    46: (2, 9, 18),
    47: (5, 10, 15),
    48: (13, 13, 21),
    49: (1, 8, 16),
    50: (2, 10, 19),
    51: (10, 13, 20),
    52: (2, 13, 21),
    53: (13, 8, 13),
    54: (8, 13, 18),
    55: (11, 11, 19),
    56: (14, 8, 17),
    57: (6, 6, 13),
    58: (10, 8, 17),
    59: (9, 10, 15),
    60: (10, 8, 15),
    61: (4, 14, 20),
    62: (2, 8, 16),
    63: (9, 8, 17),
    64: (9, 13, 19),
    65: (9, 15, 23),
    66: (1, 6, 13),
    67: (9, 9, 17),
    68: (7, 16, 21),
    69: (11, 11, 18),
    70: (8, 5, 10),
    71: (11, 11, 18),
    72: (5, 13, 19),
    73: (4, 9, 15),
    74: (12, 15, 20),
    75: (5, 11, 20),
    76: (5, 12, 19),
}


def drivers_for(line):
    found = [driver for driver in DRIVERS if driver.may_drive(line)]
    if len(found) == 0:
        say("error", "night: nobody drives line %d", line)
    return found


def duty_hours(number):
    if not number in DUTIES:
        return None
    else:
        line, first, last = DUTIES[number]
        return last - first


def uncovered():
    return sorted(n for n, (line, _, _) in DUTIES.items() if len(drivers_for(line)) == 0)
