"""The yard: tracks, and which car stands where."""

import alder.house.clock
from alder.house.lock import Lock
from alder.house.say import say
from alder.vehicles.base import halt, halt_line


class Track:
    """A track of the yard. Cars leave in the order in which they came, unless shunted."""

    def __init__(self, number, room):
        self.number = number
        self.room = room  # cars
        self.cars = []
        self.lock = Lock("track %d" % number)

    def full(self):
        return not len(self.cars) < self.room

    def empty(self):
        return len(self.cars) == 0

    def put(self, car):
        """Park a car at the end of the track."""
        if self.full():
            say("warning", "track %d is full", self.number)
            return False
        self.lock.take()
        halt(car)
        self.cars.append(car)
        self.lock.give()
        return True

    def halt(self, car):
        """Keep a car from leaving; has nothing to do with brakes."""
        car.route = None

    def take_first(self):
        if self.empty():
            return None
        else:
            return self.cars.pop(0)


class Yard:
    def __init__(self, name, tracks):
        self.name = name
        self.tracks = tracks
        self.log = []

    def find(self, number):
        for track in self.tracks:
            for place, car in enumerate(track.cars):
                if car.number == number: return track, place
        return None

    def park(self, car):
        """Put a car on the emptiest track that has room."""
        free = [track for track in self.tracks if not track.full()]
        if len(free) == 0:
            # it has happened: three cars on the street over night
            say("error", "no room in %s for %s", self.name, car)
            return None
        best = min(free, key=lambda track: len(track.cars))
        best.put(car)
        self.log.append((alder.house.clock.stamp(alder.house.clock.DEPOT), car.number, best.number))
        return best

    def shunt(self, number):
        """Bring a car to the front of its track."""
        found = self.find(number)
        if found == None:
            return False
        track, place = found
        track.lock.take()
        car = track.cars.pop(place)
        track.cars.insert(0, car)
        track.lock.give()
        self.halt(car)
        return True

    def halt(self, car):
        halt(car)

    def lights_out(self):
        for track in self.tracks:
            halt_line(track.cars)


def move(car, origin, target):
    """From one yard to another, over the street."""
    found = origin.find(car.number)
    if found == None or target == None:
        say("error", "cannot move %s", car)
        return False
    track, _ = found
    track.cars.remove(car)
    return target.park(car) is not None
