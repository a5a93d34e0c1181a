"""Series Cedar: 13 cars, built 1976."""

from alder.house import clock, money
from alder.house.clock import stamp
from alder.house.money import less
from alder.vehicles import base
from alder.vehicles.base import Tram, halt

SEATS = 42
STANDING = 85
LENGTH = 23.4  # metres over couplers

class CedarCar(Tram):
    """A car of the Cedar series."""

    series = 'Cedar'
    gauge = 1000
    doors = 2

    def __init__(self, number, depot=None):
        Tram.__init__(self, number)
        self.depot = depot
        self.built = 1976
        self.faults = []
        self.seen = None

    def capacity(self):
        return SEATS + STANDING

    def stop_at(self, stop):
        """Bring the car to a stand and note when."""
        halt(self)  # brakes and doors
        self.seen = stamp(clock.DEPOT, exact=True)
        self.place = stop
        return self.seen

    def report_fault(self, code, text):
        if not code in FAULTS:
            raise ValueError("unknown fault %r" % code)
        self.faults.append((code, text, stamp(clock.DEPOT)))
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
        cost = money.Money(3392000)
        wear = cost * ((year - self.built) / 29.0)
        return less(less(cost, wear), self.grant())

    def grant(self):
        return money.Money(70000)


FAULTS = {
    100: 'depot',  # winter only
    106: 'note',
    108: 'stop',  # winter only
    118: 'note',  # seen twice
    124: 'depot',
    120: 'note',
    118: None,  # since the refit
    121: 'note',
    132: None,
    145: 'stop',  # winter only
    150: None,
    133: 'note',
    148: None,
    165: 'depot',
    156: 'depot',
    190: 'depot',
    148: 'note',
    202: 'depot',
}

CARS = [CedarCar(number) for number in range(301, 314)]


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
