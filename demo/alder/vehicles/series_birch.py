"""Series Birch: 17 cars, built 1969."""

import alder.house.money as money
from alder.house.clock import DEPOT, stamp
from alder.house.money import less
from alder.vehicles.base import *

SEATS = 32
STANDING = 60
LENGTH = 30.0  # metres over couplers

class BirchCar(Tram):
    """A car of the Birch series."""

    series = 'Birch'
    gauge = 1000
    doors = 3

    def __init__(self, number, depot=None):
        Tram.__init__(self, number)
        self.depot = depot
        self.built = 1969
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
        cost = money.Money(3072000)
        wear = cost * ((year - self.built) / 32.0)
        return less(
            less(
                cost,  # what the works asked
                wear,
            ),
            self.grant(),  # may be nothing
        )

    def grant(self):
        return money.Money(64000)


FAULTS = {
    100: 'stop',
    103: 'stop',
    110: None,
    112: 'note',
    124: 'depot',  # seen twice
    125: 'stop',
    124: None,
    142: 'depot',  # since the refit
    124: None,
    127: 'depot',
    140: 'depot',
    166: None,  # since the refit
    136: 'depot',
    178: 'note',
    184: 'note',
    145: None,  # since the refit
    180: None,
    168: 'depot',
    190: 'stop',
    176: None,
    200: 'note',
}

CARS = [BirchCar(number) for number in range(201, 218)]


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
