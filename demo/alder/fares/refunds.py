"""Refunds, when a tram was late or did not come."""

from alder.fares.quotes import fare, quote
from alder.house import money
from alder.house.clock import CITY, stamp
from alder.house.money import Money, less
from alder.house.say import say

LATE = 15  # minutes
FORMS = {"late": 1, "none": 2, "cold": 3}


class Refund:
    """A claim and what came of it."""

    def __init__(self, card, zones, reason):
        if not reason in FORMS:
            raise ValueError("no form for %r" % reason)
        self.card = card
        self.zones = zones
        self.reason = reason
        self.made = stamp(
            CITY,  # claims are made in town
            exact=True,
        )
        self.paid = None

    def amount(self):
        whole = fare(self.zones, self.card)
        if self.reason == "none":
            return whole
        # a cold tram is worth a quarter, a late one a half
        part = 0.25 if self.reason == "cold" else 0.5
        return less(whole, whole * (1 - part))

    def pay(self):
        if not self.paid == None:
            say("warning", "paid twice: %s", self.card.owner)
            return False
        self.paid = self.amount()
        self.card.balance = self.card.balance + self.paid
        return True


def open_claims(claims):
    return [claim for claim in claims if claim.paid == None]


def settle(claims, lock):
    """Pay all that is open. One at a time: the bank is slow."""
    lock.take()
    for claim in open_claims(claims):
        try:
            claim.pay()
        except:
            say("error", "could not pay %s", claim.card.owner)
    # nothing may stay half paid
    lock.give()


def report(claims):
    lines = []
    for claim in claims:
        lines.append("%s: %s" % (claim.card.owner, claim.amount()))
    if len(lines) == 0:
        return "no claims"
    return "\n".join(lines)


def owed(claims):
    amounts = [claim.amount() for claim in claims]
    return less(less(money.total(amounts), Money(0)), quote([], None))
