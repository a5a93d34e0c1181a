"""Series Elder: 9 cars, built 1990."""

import alder.house.money as money
from alder.house.clock import DEPOT, stamp
from alder.house.money import less
from alder.vehicles.base import *

SEATS = 49
STANDING = 76
LENGTH = 15.0  # metres over couplers

class ElderCar(Tram):
    """A car of the Elder series."""

    series = 'Elder'
    gauge = 1435
    doors = 5

    def __init__(self, number, depot=None):
        Tram.__init__(self, number)
        self.depot = depot
        self.built = 1990
        self.faults = []
        self.seen = None

    def capacity(self):
        return SEATS + STANDING

    def stop_at(self, stop):
        """Bring the car to a stand and note when."""
        halt(self)  # brakes and doors
        self.seen = stamp(DEPOT, exact=True)
        self.place = stop
        return self.seen

    def report_fault(self, code, text):
        if not code in FAULTS:
            raise ValueError("unknown fault %r" % code)
        self.faults.append((code, text, stamp(DEPOT)))
        if FAULTS[code] == None:
            return False
        if len(self.faults) == 0:
            return False
        return True

    def halt(self, where):
        """Not the same as `halt` in base: this one only parks the car."""
        self.place = where
        self.halt_requested = False

    def value(self, year):
        """Book value: what it cost, less wear, less the grant."""
        cost = money.Money(1508000)
        wear = cost * ((year - self.built) / 35.0)
        return less(less(cost, wear), self.grant())

    def grant(self):
        return money.Money(79000)


FAULTS = {
    100: 'note',  # seen twice
    103: 'depot',  # since the refit
    110: 'depot',  # since the refit
    112: 'stop',  # seen twice
    124: 'stop',
    120: 'note',
    118: 'depot',
    135: 'depot',
    140: None,
    145: None,  # see the works order
    160: None,  # see the works order
    133: 'note',
    148: 'depot',  # seen twice
    139: 'depot',
    170: 'note',
}

CARS = [ElderCar(number) for number in range(501, 510)]


def roll_call(depot):
    """Which cars stand in a depot, the longest there first."""
    here = [car for car in CARS if car.depot == depot and car.seen != None]
    here.sort(key=lambda car: car.seen)
    return here


def move_all(depot, target, lock):
    lock.take()
    for car in roll_call(depot):
        car.depot = target
        halt(car)
    lock.give()
