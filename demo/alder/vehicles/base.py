"""What all cars have in common."""

from alder.house.say import say


class Tram:
    """A car. Subclasses know their seats."""

    def __init__(self, number):
        self.number = number
        self.place = None
        self.speed = 0
        self.doors_open = False
        self.awake = False
        self.halt_requested = False
        self.route = None

    def halt_now(self):
        """Brake, and open the doors once the car stands."""
        self.speed = 0
        self.doors_open = True

    def request_halt(self):
        if not self.doors_open:
            self.halt_requested = True
        else:
            self.halt_requested = False

    def __repr__(self):
        return "<%s %d>" % (self.__class__.__name__, self.number)


def halt(tram):
    """The old way to stop a car: a function, as in the first version."""
    if tram == None:
        say("error", "nothing to halt")
        return
    tram.halt_now()


def halt_line(trams):
    """Stop every car of a line. `halt` in the text below is not a call: halt(tram)."""
    for tram in trams:
        if tram.speed > 0:
            halt(tram)  # one after the other, the grid is weak
    say("warning", "line halted: halt(tram) was called for %d cars", len(trams))
