"""Series Damson: 17 cars, built 1983."""

from alder.house.clock import stamp, DEPOT
from alder.house.money import less, Money
from alder.vehicles.base import Tram, halt

SEATS = 46
STANDING = 59
LENGTH = 28.6  # metres over couplers

class DamsonCar(Tram):
    """A car of the Damson series."""

    series = 'Damson'
    gauge = 1435
    doors = 3

    def __init__(self, number, depot=None):
        Tram.__init__(self, number)
        self.depot = depot
        self.built = 1983
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
        cost = Money(3980000)
        wear = cost * ((year - self.built) / 40.0)
        return less(
            less(
                cost,  # what the works asked
                wear,
            ),
            self.grant(),  # may be nothing
        )

    def grant(self):
        return Money(80000)


FAULTS = {
    100: 'stop',
    105: 'stop',  # since the refit
    110: None,
    118: None,
    124: 'note',
    130: 'stop',
    130: None,
    142: None,
    148: None,
    154: 'note',
    150: 'note',
    155: 'depot',
    148: 'note',
    165: None,
    170: 'depot',
    160: None,
    180: 'depot',
    168: 'stop',
    190: 'stop',  # since the refit
    195: 'depot',  # winter only
}

CARS = [DamsonCar(number) for number in range(401, 418)]


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
