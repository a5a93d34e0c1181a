"""Series Ash: 15 cars, built 1962."""

from alder.house.clock import stamp, DEPOT
from alder.house.money import less, Money
from alder.vehicles.base import Tram, halt

SEATS = 54
STANDING = 43
LENGTH = 18.3  # metres over couplers

class AshCar(Tram):
    """A car of the Ash series."""

    series = 'Ash'
    gauge = 1435
    doors = 2

    def __init__(self, number, depot=None):
        Tram.__init__(self, number)
        self.depot = depot
        self.built = 1962
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
        cost = Money(3743000)
        wear = cost * ((year - self.built) / 28.0)
        return less(less(cost, wear), self.grant())

    def grant(self):
        return Money(5000)


FAULTS = {
    100: 'depot',  # winter only
    105: 'stop',  # winter only
    106: None,  # seen twice
    109: 'stop',
    112: 'depot',
    125: 'depot',
    118: 'stop',
    135: None,  # winter only
    140: 'stop',
    127: 'depot',
    140: 'stop',
    144: None,
    136: None,
    152: 'stop',
    156: None,  # winter only
    160: None,  # see the works order
    148: 'depot',  # see the works order
}

CARS = [AshCar(number) for number in range(101, 116)]


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
