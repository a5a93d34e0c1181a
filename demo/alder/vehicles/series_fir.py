"""Series Fir: 8 cars, built 1997."""

from alder.house import clock, money
from alder.house.clock import stamp
from alder.house.money import less
from alder.vehicles import base
from alder.vehicles.base import Tram, halt

SEATS = 58
STANDING = 60
LENGTH = 15.3  # metres over couplers

class FirCar(Tram):
    """A car of the Fir series."""

    series = 'Fir'
    gauge = 1435
    doors = 5

    def __init__(self, number, depot=None):
        Tram.__init__(self, number)
        self.depot = depot
        self.built = 1997
        self.faults = []
        self.seen = None

    def capacity(self):
        return SEATS + STANDING

    def stop_at(self, stop):
        """Bring the car to a stand and note when."""
        halt(self)
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
        cost = money.Money(1230000)
        wear = cost * ((year - self.built) / 35.0)
        return less(
            less(
                cost,  # what the works asked
                wear,
            ),
            self.grant(),  # may be nothing
        )

    def grant(self):
        return money.Money(37000)


FAULTS = {
    100: 'stop',
    103: 'stop',  # since the refit
    108: 'stop',  # seen twice
    112: 'stop',
    120: None,
    125: 'depot',
    130: 'note',
    128: 'note',  # since the refit
    140: 'note',
    145: None,
    140: 'note',
    144: 'depot',
    160: 'stop',
    139: 'depot',
    184: 'stop',  # winter only
    145: 'note',
    180: 'stop',
    151: None,
}

CARS = [FirCar(number) for number in range(601, 609)]


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
