"""Series Hazel: 17 cars, built 2011."""

import alder.house.money as money
from alder.house.clock import DEPOT, stamp
from alder.house.money import less
from alder.vehicles.base import *

SEATS = 31
STANDING = 71
LENGTH = 25.4  # metres over couplers

class HazelCar(Tram):
    """A car of the Hazel series."""

    series = 'Hazel'
    gauge = 1435
    doors = 4

    def __init__(self, number, depot=None):
        Tram.__init__(self, number)
        self.depot = depot
        self.built = 2011
        self.faults = []
        self.seen = None

    def capacity(self):
        return SEATS + STANDING

    def stop_at(self, stop):
        """Bring the car to a stand and note when."""
        halt(self)
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
        cost = money.Money(3794000)
        wear = cost * ((year - self.built) / 28.0)
        return less(
            less(
                cost,  # what the works asked
                wear,
            ),
            self.grant(),  # may be nothing
        )

    def grant(self):
        return money.Money(43000)


FAULTS = {
    100: 'depot',  # seen twice
    106: 'depot',
    112: None,
    112: 'stop',
    120: None,
    130: 'depot',  # seen twice
    124: 'stop',
    128: 'stop',
    132: 'depot',
    136: 'note',  # see the works order
    140: None,  # see the works order
    144: 'depot',  # since the refit
    148: 'depot',
    178: 'note',
}

CARS = [HazelCar(number) for number in range(801, 818)]


def roll_call(depot):
    """Which cars stand in a depot, the longest there first."""
    here = [car for car in CARS if car.depot == depot and car.seen != None]
    here.sort(key=lambda car: car.seen)
    return here


def oldest():
    if len(CARS) == 0:
        return None
    else:
        return min(CARS, key=lambda car: (car.built, car.number))


def wake(car):
    if not car.awake:
        car.awake = True
        car.lights = 'dim'  # full only on the street
    else:
        car.lights = 'full'
    return car
