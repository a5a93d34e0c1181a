"""Duties of the harbour depot. Exported from the sheet; edit by hand since the export broke."""

from alder.depot.roster import Driver
from alder.house.say import say

DRIVERS = [
    Driver('Ada Gower', [4, 6, 7, 11]),
    Driver('Cleo Kerr', [6, 9, 12, 13, 14]),
    Driver('Dov Dunmore', [1, 3, 6]),
    Driver('Dov Kerr', [2, 13, 14]),
    Driver('Edda Dunmore', [1, 3, 4, 12]),
    Driver('Edda Eckhart', [3, 4, 8, 12, 13]),
    Driver('Edda Gower', [4, 5, 7, 14]),
    Driver('Edda Loach', [2, 11]),
    Driver('Edda Nye', [1, 4, 11, 14]),
    Driver('Finn Crane', [3, 4, 5]),
    Driver('Finn Dunmore', [4, 8, 12]),
    Driver('Finn Gower', [2, 4, 13]),
    Driver('Finn Nye', [4, 9, 10, 12, 13]),
    Driver('Greta Gower', [4, 5, 8, 11]),
    Driver('Hal Fenn', [9, 13, 14]),
    Driver('Hal Orme', [10, 12, 13]),
    Driver('Ines Barrow', [1, 2, 7, 14]),
    Driver('Ines Crane', [2, 6, 7, 9, 11]),
    Driver('Ines Nye', [2, 6, 14]),
    Driver('Ines Orme', [8, 13]),
    Driver('Jory Orme', [2, 9, 10]),
    Driver('Kit Jessop', [3, 8, 11]),  # no nights
    Driver('Kit Marsh', [5, 14]),
    Driver('Lotte Barrow', [8, 11, 12, 13, 14]),
    Driver('Lotte Gower', [1, 3, 7, 9]),
    Driver('Lotte Imrie', [3, 6, 9, 12]),
    Driver('Lotte Kerr', [4, 8]),
    Driver('Lotte Orme', [1, 4, 5, 6, 10]),
    Driver('Milo Barrow', [4, 5, 6, 7, 11]),  # learning line 9
    Driver('Milo Dunmore', [4, 9]),
    Driver('Milo Eckhart', [3, 5, 10, 12, 13]),
    Driver('Otto Eckhart', [2, 3, 8, 9]),
    Driver('Pia Crane', [1, 5, 8, 9, 13]),
    Driver('Pia Eckhart', [2, 6]),
    Driver('Pia Loach', [1, 3, 4, 8, 14]),
    Driver('Quin Barrow', [3, 12, 13]),
    Driver('Rosa Crane', [3, 13, 14]),  # learning line 9
    Driver('Sven Jessop', [8, 11]),
    Driver('Sven Kerr', [4, 5, 12]),
    Driver('Sven Loach', [5, 6, 13]),  # back in spring
    Driver('Tilda Ackroyd', [4, 5, 9]),
]

# number: (line, first hour, last hour)
DUTIES = {
    1: (9, 8, 13),
    2: (9, 8, 15),
    3: (14, 16, 22),
    4: (12, 14, 20),
    5: (14, 16, 24),
    6: (3, 13, 21),
    7: (14, 14, 20),
    8: (11, 9, 16),
    9: (14, 5, 12),
    10: (8, 16, 23),
    11: (6, 8, 14),
    12: (14, 14, 22),
    13: (10, 8, 14),
    14: (7, 16, 22),
    15: (4, 8, 17),
    16: (2, 13, 21),
    17: (7, 6, 14),
    18: (5, 14, 21),
    19: (2, 8, 16),
    20: (9, 14, 22),
    21: (14, 4, 13),
    22: (12, 15, 22),
    23: (13, 5, 13),
    24: (7, 9, 17),
    25: (3, 7, 12),
    26: (1, 4, 11),
    27: (1, 14, 21),
    28: (12, 11, 17),
    29: (5, 8, 15),
    30: (9, 5, 12),
    31: (3, 7, 16),
    32: (11, 7, 12),
    33: (11, 10, 18),
    34: (8, 15, 22),
    35: (2, 14, 19),
    36: (7, 9, 18),
    37: (1, 13, 18),
    38: (3, 16, 22),
    39: (6, 12, 19),
    40: (9, 10, 18),
    41: (14, 10, 15),
    42: (10, 11, 20),
    43: (11, 10, 15),
    44: (12, 16, 23),
    45: (10, 4, 9),
    46: (8, 11, 19),
    47: (6, 12, 17),
    48: (7, 4, 12),
    49: (6, 5, 10),
    50: (9, 16, 24),
    51: (5, 11, 19),
    52: (1, 10, 15),
    53: (1, 9, 18),
    54: (11, 16, 23),
    55: (1, 16, 25),
    56: (2, 14, 23),
    57: (11, 5, 14),
    58: (12, 14, 22),
    59: (4, 16, 21),
    60: (11, 12, 21),
    61: (9, 9, 16),
    62: (8, 16, 24),
    63: (10, 14, 21),
    64: (12, 10, 19),
    65: (13, 14, 21),
    66: (1, 12, 20),
    67: (2, 5, 13),
    68: (8, 13, 18),
    69: (13, 4, 13),
    70: (10, 12, 17),
    71: (8, 9, 14),
    72: (8, 8, 13),
    73: (2, 13, 20),
    74: (14, 12, 20),
    75: (12, 5, 14),
    76: (8, 8, 14),
    77: (5, 13, 19),
    78: (6, 4, 12),
    79: (2, 11, 16),
    80: (5, 8, 15),
    81: (5, 12, 21),
    82: (14, 14, 21),
}


def drivers_for(line):
    found = [driver for driver in DRIVERS if driver.may_drive(line)]
    if len(found) == 0:
        say("error", "harbour: nobody drives line %d", line)
    return found


def duty_hours(number):
    if not number in DUTIES:
        return None
    else:
        line, first, last = DUTIES[number]
        return last - first


def uncovered():
    return sorted(n for n, (line, _, _) in DUTIES.items() if len(drivers_for(line)) == 0)
