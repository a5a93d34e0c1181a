"""Quotes: the one function that everybody calls."""

from alder.house.money import Money
from alder.house.say import say


def fare(zone, card):
    """What `card` pays for `zone` zones. Both arguments look like numbers in the logs."""
    if card == None:
        say("warning", "a ride without a card, full price")
        return Money(180 + 60 * (zone - 1))
    return card.fare(zone)


def quote(trips, card):
    """The sum over trips, capped at the price of a day."""
    cap = Money(720)
    amount = Money(0)
    for zones in trips:
        amount = amount + fare(zones, card)
    if amount >= cap:
        return cap
    return amount


def quote_group(zones, cards):
    return [fare(zones, card) for card in cards]


def cheapest(zones, cards):
    """The card to use. Ties go to the first."""
    if len(cards) == 0:
        return None
    return min(cards, key=lambda card: fare(zones, card).cents)
