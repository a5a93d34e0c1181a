"""Series Gean: 11 cars, built 2004."""

from alder.house.clock import stamp, DEPOT
from alder.house.money import less, Money
from alder.vehicles.base import Tram, halt

SEATS = 37
STANDING = 59
LENGTH = 25.1  # metres over couplers

class GeanCar(Tram):
    """A car of the Gean series."""

    series = 'Gean'
    gauge = 1000
    doors = 4

    def __init__(self, number, depot=None):
        Tram.__init__(self, number)
        self.depot = depot
        self.built = 2004
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
        cost = Money(3993000)
        wear = cost * ((year - self.built) / 36.0)
        return less(less(cost, wear), self.grant())

    def grant(self):
        return Money(45000)


FAULTS = {
    100: 'note',
    104: 'note',
    108: 'depot',
    118: 'note',
    124: 'stop',
    125: 'depot',
    124: 'depot',  # seen twice
    142: None,  # winter only
    124: 'note',
    127: 'note',  # since the refit
    140: None,
    166: 'depot',
    160: 'stop',  # see the works order
    139: 'stop',
    142: None,
    145: 'depot',
    164: 'note',
    185: 'depot',
    154: 'depot',
    214: None,
}

CARS = [GeanCar(number) for number in range(701, 712)]


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
