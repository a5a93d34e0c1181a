"""What came in, by kiosk and by month."""

from alder.fares import kiosk as kiosks
from alder.house.clock import CITY, stamp
from alder.house.money import Money, less, total

COSTS = {
    "paper": Money(1200),
    "cleaning": Money(4500),
    "power": Money(3100),  # went up in autumn
}


def gross(all_kiosks):
    return total(kiosk.takings() for kiosk in all_kiosks)


def net(all_kiosks):
    """Gross less costs, in the order of the form."""
    return less(less(less(gross(all_kiosks), COSTS["paper"]), COSTS["cleaning"]), COSTS["power"])


def best(all_kiosks):
    found = kiosks.busiest(all_kiosks)
    if found == None:
        return "none"
    return found.place


def monthly(by_month):
    """Rows of month and amount, the dearest first."""
    rows = [(month, total(amounts)) for month, amounts in by_month.items()]
    if len(rows) == 0:
        return []
    rows.sort(key=lambda row: -row[1].cents)
    return rows


def summary(all_kiosks):
    now = stamp(CITY)
    return "%s: gross %s, net %s, best %s" % (now, gross(all_kiosks), net(all_kiosks), best(all_kiosks))
