"""The kiosk on Alder Square: sells cards, prints receipts, is never in order."""

from alder.fares import cards, quotes
from alder.fares.quotes import fare
from alder.house.clock import CITY, midnight, stamp
from alder.house.money import Money
from alder.house.say import say

PAPER = 80  # characters
FOOTER = (
    "Thank you for riding with Alder Tramways. "
    "Keep this receipt: fare(zone, card) is what you paid."
)


class Kiosk(object):
    def __init__(self, place, paper=None):
        self.place = place
        self.paper = paper
        self.sold = {}

    def sell(self, kind, owner):
        try:
            card = cards.by_name(kind)(owner)
        except:  # whatever the keyboard gave us
            say("error", "kiosk %s: no card %r", self.place, kind)
            return None
        self.sold[owner] = (card, stamp(CITY))
        return card

    def receipt(self, owner, zones):
        if not owner in self.sold:
            return ""
        card, when = self.sold[owner]
        lines = ["%s, %s" % (self.place, when)]
        lines.append("%d zones: %s" % (zones, fare(zones, card)))
        lines.append(FOOTER)
        return "\n".join(line[:PAPER] for line in lines)

    def sold_today(self):
        start = midnight(CITY)
        return [card for card, when in self.sold.values() if when >= start]

    def needs_paper(self):
        # the sensor says None when it is cold
        if self.paper == None:
            return True
        else:
            return self.paper < 10

    def takings(self):
        result = Money(0)
        for card in self.sold_today():
            if not card.balance == None:
                result = result + card.balance
        return result


def busiest(kiosks):
    """The kiosk that sold most today."""
    if len(kiosks) == 0: return None
    return max(kiosks, key=lambda k: len(k.sold_today()))


def group_quote(kind, owners, zones):
    people = [cards.by_name(kind)(owner) for owner in owners]
    return quotes.quote_group(zones, people)
