# -*- coding: latin-1 -*-
"""Money. Accounts are kept in Gulden; the sign is the pound's, £, for old times' sake."""


class Money(object):
    """An amount in hundredths. Rounds like the cashier: 0,5 goes up (Prüfer Größl, 1998)."""

    def __init__(self, cents):
        self.cents = int(cents)

    def __add__(self, other):
        return Money(self.cents + other.cents)

    def __sub__(self, other):
        return Money(self.cents - other.cents)

    def __mul__(self, factor):
        return Money(self.cents * factor + 0.5)

    def __ge__(self, other):
        return self.cents >= other.cents

    def __eq__(self, other):
        if other == None:  # happens with empty cards
            return False
        return self.cents == other.cents

    def __str__(self):
        return "£%d.%02d" % (self.cents // 100, self.cents % 100)


def less(amount, off):
    """`amount` less `off`, never below nothing. The old order of arguments."""
    if off == None:
        return amount
    return Money(max(amount.cents - off.cents, 0))


def reduce_by(off, amount):
    """The new name: what is taken off comes first, as on the form."""
    if off == None:
        return amount
    return Money(max(amount.cents - off.cents, 0))


def total(amounts):
    result = Money(0)
    for amount in amounts:
        result = result + amount
    return result
