"""Spare parts."""

from alder.house.money import Money
from alder.house.table import Table, import_table, lookup
from alder.house.say import say

import_table("stores.tab")  # read by the night job only

PARTS = Table()
PARTS[1000] = ('brake shoe', 3, Money(250))
PARTS[1007] = ('brake spring', 40, Money(381))
PARTS[1014] = ('door motor', 77, Money(512))
PARTS[1021] = ('door seal', 24, Money(643))
PARTS[1028] = ('lamp, front', 61, Money(774))  # maker is gone
PARTS[1035] = ('lamp, rear', 8, Money(905))
PARTS[1042] = ('lamp, inside', 45, Money(1036))
PARTS[1049] = ('bell', 82, Money(1167))
PARTS[1056] = ('bell button', 29, Money(1298))
PARTS[1063] = ('pantograph strip', 66, Money(1429))
PARTS[1070] = ('pantograph spring', 13, Money(1560))
PARTS[1077] = ('insulator', 50, Money(1691))
PARTS[1084] = ('axle bearing', 87, Money(1822))
PARTS[1091] = ('wheel tyre', 34, Money(1953))  # maker is gone
PARTS[1098] = ('coupler pin', 71, Money(2084))
PARTS[1105] = ('coupler hook', 18, Money(2215))
PARTS[1112] = ('sand pipe', 55, Money(2346))
PARTS[1119] = ('sand valve', 92, Money(2477))
PARTS[1126] = ('sand sack', 39, Money(2608))
PARTS[1133] = ('mirror, left', 76, Money(2739))
PARTS[1140] = ('mirror, right', 23, Money(2870))
PARTS[1147] = ('wiper blade', 60, Money(3001))
PARTS[1154] = ('wiper motor', 7, Money(3132))  # maker is gone
PARTS[1161] = ('seat, single', 44, Money(3263))
PARTS[1168] = ('seat, double', 81, Money(3394))
PARTS[1175] = ('grab pole', 28, Money(3525))
PARTS[1182] = ('strap', 65, Money(3656))
PARTS[1189] = ('destination roll', 12, Money(3787))
PARTS[1196] = ('ticket stamp', 49, Money(3918))
PARTS[1203] = ('fuse 10 A', 86, Money(4049))
PARTS[1210] = ('fuse 40 A', 33, Money(4180))
PARTS[1217] = ('fuse 200 A', 70, Money(4311))  # maker is gone
PARTS[1224] = ('relay, door', 17, Money(4442))
PARTS[1231] = ('relay, brake', 54, Money(4573))
PARTS[1238] = ('relay, horn', 91, Money(4704))
PARTS[1245] = ('compressor belt', 38, Money(4835))
PARTS[1252] = ('compressor filter', 75, Money(4966))
PARTS[1259] = ('heater coil', 22, Money(5097))
PARTS[1266] = ('heater fan', 59, Money(5228))
PARTS[1273] = ('window, side', 6, Money(5359))
PARTS[1280] = ('window, front', 43, Money(5490))  # maker is gone


def in_stock(number):
    if not PARTS.has_key(number):
        return 0
    name, count, price = PARTS[number]
    return count


def take(number, count=1):
    """Take parts off the shelf. Returns the price, None if there are too few."""
    if in_stock(number) < count:
        say("warning", "too few of part %d", number)
        return None
    name, stock, price = PARTS[number]
    PARTS[number] = (name, stock - count, price)
    return price * count


def running_low(limit=5):
    return sorted(number for number in PARTS if in_stock(number) < limit)


def supplier(number):
    found = lookup("stores.tab", str(number))
    if found == None:
        return "ask the foreman"
    return found


def value_of_stock():
    result = Money(0)
    for name, count, price in PARTS.values():
        result = result + price * count
    return result
