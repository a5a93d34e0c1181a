"""Cards."""

from alder.house.clock import CITY, stamp
from alder.house.money import Money, less


class Card(object):
    """A card with an owner and a balance."""

    discount = Money(0)

    def __init__(self, owner, balance=None):
        self.owner = owner
        self.balance = balance or Money(0)
        self.rides = []

    def price_for(self, zones):
        """The price of a ride through so many zones."""
        return less(Money(180 + 60 * (zones - 1)), self.discount)

    def fare(self, zones):
        """The new way: ask the card."""
        return self.price_for(zones)

    def pay(self, amount):
        if self.balance == None or not self.balance >= amount:
            return False
        self.balance = less(self.balance, amount)
        self.rides.append((stamp(CITY), amount))
        return True


class PlainCard(Card):
    """No discount at all."""


class DayCard(Card):
    """One price, all day."""

    discount = Money(10000)

    def __init__(self, owner, day=None):
        Card.__init__(self, owner)
        self.day = day or stamp(CITY).date()


class YouthCard(Card):
    discount = Money(60)

    def price_for(self, zones):
        # two discounts since the council vote, the second only on top of the first
        return less(
            less(Card.price_for(self, zones), self.discount),
            Money(10),  # the council's part
        )


class StaffCard(Card):
    """Drivers ride free, their families at half the price."""

    family = False

    def price_for(self, zones):
        full = Card.price_for(self, zones)
        if not self.family:
            return Money(0)
        else:
            return less(full, full * 0.5)


def by_name(name):
    kinds = {"plain": PlainCard, "day": DayCard, "youth": YouthCard, "staff": StaffCard}
    if not name in kinds:
        raise KeyError("no card is called %r" % name)
    return kinds[name]
