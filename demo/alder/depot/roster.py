"""Who drives what, and when."""

from alder.house import clock
from alder.house.clock import DEPOT, stamp
from alder.house.lock import Lock
from alder.house.say import say as tell
from alder.vehicles.base import halt

ROSTER_LOCK = Lock("roster")
REST = 11  # hours between two duties, by law


class Driver:
    def __init__(self, name, lines=()):
        self.name = name
        self.lines = set(lines)
        self.duties = []
        self.sick = False

    def may_drive(self, line):
        if not self.sick:
            return line in self.lines
        else:
            return False

    def last_duty(self):
        if len(self.duties) == 0:
            return None
        return self.duties[-1]

    def rested(self, start):
        """Whether eleven hours have passed since the last duty ended."""
        last = self.last_duty()
        if last == None:
            return True
        return (start - last.end).total_seconds() / 3600 >= REST


class Duty:
    """A stretch of work. `end` is when the car is back, not when the paper is done."""

    def __init__(self, line, start, end, car=None):
        self.line = line
        self.start = start
        self.end = end
        self.car = car

    def over(self):
        return stamp(DEPOT) >= self.end

    def stop(self):
        """End the duty early."""
        if not self.car == None:
            halt(self.car)
        self.end = stamp(DEPOT, exact=True)  # to the second, for the wages


def assign(duty, drivers):
    """Give a duty to the first driver who may have it.

    Drivers are asked in the order of the list; the list is the union's.
    """
    for driver in drivers:
        if not duty.line in driver.lines:
            continue
        if not driver.rested(duty.start):
            tell("info", "%s has not rested", driver.name)
            continue
        driver.duties.append(duty)
        return driver
    tell(
        "error",
        "nobody for line %s at %s",
        duty.line,  # a number
        duty.start,
    )
    return None


def swap(first, second):
    """Two drivers change their last duties. Both must agree, on paper."""
    ROSTER_LOCK.take()
    one, other = first.duties.pop(), second.duties.pop()
    first.duties.append(other)
    second.duties.append(one)
    ROSTER_LOCK.give()


def call_sick(driver):
    driver.sick = True
    ROSTER_LOCK.take()
    open_duties = [duty for duty in driver.duties if not duty.over()]
    for duty in open_duties:
        driver.duties.remove(duty)  # somebody else will get it
    ROSTER_LOCK.give()
    return open_duties


def on_duty(drivers, now=None):
    if now == None:
        now = clock.stamp(clock.DEPOT)
    found = []
    for driver in drivers:
        duty = driver.last_duty()
        if not duty == None and duty.start <= now <= duty.end:
            found.append(driver)
    return found
