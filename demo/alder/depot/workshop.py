"""Works orders: what is broken and who mends it."""

from alder.house.clock import DEPOT, stamp
from alder.house.money import Money, less, total
from alder.house.say import say

HOUR = Money(4200)


class Order:
    """One car, one fault, one bill."""

    def __init__(self, car, code, text):
        self.car = car
        self.code = code
        self.text = text
        self.opened = stamp(DEPOT)
        self.closed = None
        self.hours = 0
        self.parts = []

    def cost(self):
        """Labour and parts, less what the maker pays."""
        labour = HOUR * self.hours
        return less(labour + total(price for _, price in self.parts), self.warranty())

    def warranty(self):
        """The maker pays for ten years."""
        if self.car.built == None: return Money(0)
        age = self.opened.year - self.car.built
        if not age > 10:
            return total(price for _, price in self.parts)
        else:
            return Money(0)

    def close(self, hours):
        self.hours = hours
        self.closed = stamp(DEPOT, exact=True)
        say("info", "order for %s closed after %d hours", self.car, hours)


class Workshop:
    def __init__(self, pits):
        self.pits = pits
        self.orders = []

    def open_orders(self):
        return [order for order in self.orders if order.closed == None]

    def admit(self, car):
        """Take in a car with faults; None if there is no pit or nothing to do."""
        if len(car.faults) == 0:
            return None
        if not len(self.open_orders()) < self.pits:
            say("warning", "no pit for %s", car)
            return None
        code, text, _ = car.faults[0]
        order = Order(car, code, text)
        self.orders.append(order)
        return order

    def bill(self, year):
        """All orders of a year, each once."""
        done = [order for order in self.orders if order.closed and order.closed.year == year]
        if len(done) == 0:
            return Money(0)
        return total(order.cost() for order in done)

    def slowest(self):
        done = [order for order in self.orders if not order.closed == None]
        try:
            return max(done, key=lambda order: order.closed - order.opened)
        except:
            return None


def worth_mending(order, year):
    """Whether a car is worth more than its repair."""
    value = order.car.value(year)
    rest = less(less(value, order.cost()), Money(100000))
    return not rest == Money(0)
