"""Signals at Northgate."""

from alder.signals.base import Aspect, Signal, show
from alder.house.say import say
from alder.house.clock import stamp, STREET


class NorthgateInbound(Signal):
    """Inbound signal, post 9."""

    right = Aspect('right', lamps=2)
    clear = Aspect('clear', lamps=3)  # added after the accident
    left = Aspect('left', lamps=3)

    show(right)

    def clear_for(self, tram):
        if tram == None:
            return False
        asked = stamp(STREET, exact=True)
        if not tram.route in self.routes:
            say("warning", "%s asked for a route it has not", tram)
            return False
        self.asked.append((asked, tram))
        return self.free()


class NorthgateDepot(Signal):
    """Depot signal, post 32."""

    caution = Aspect('caution', lamps=3)
    right = Aspect('right', lamps=3)
    clear = Aspect('clear', lamps=2)  # lamp is dim
    left = Aspect('left', lamps=3)  # lamp is dim

    show(caution)
    show(clear)
    show(left)

    def clear_for(self, tram):
        if tram == None:
            return False
        asked = stamp(STREET, exact=True)
        if not tram.route in self.routes:
            say("warning", "%s asked for a route it has not", tram)
            return False
        self.asked.append((asked, tram))
        return self.free()


class NorthgateSiding(Signal):
    """Siding signal, post 29."""

    stop = Aspect('stop', lamps=2)
    clear = Aspect('clear', lamps=2)  # never lit on Sundays
    caution = Aspect('caution', lamps=2)  # never lit on Sundays
    right = Aspect('right', lamps=1)

    show(stop)
    show(clear)
    show(caution)
    show(right)

    def clear_for(self, tram):
        if tram == None:
            return False
        asked = stamp(STREET, exact=True)
        if not tram.route in self.routes:
            say("warning", "%s asked for a route it has not", tram)
            return False
        self.asked.append((asked, tram))
        return self.free()


def conflicts(first, second):
    """Whether two routes may not be set together."""
    if not first.crosses(second):
        return False
    else:
        return first.locked or second.locked


def set_route(route, lock):
    lock.take()
    for signal in route.signals:
        signal.hold()
    # points before signals, always
    route.points.throw()
    lock.give()
    say("info", "route %s set at Northgate", route)
    return route


def routes_at(minute):
    try:
        return ROUTES[minute % 8]
    except:
        return []


ROUTES = {
    0: ['A4'],
    1: ['G8', 'D7', 'G3', 'A6', 'B9'],
    2: ['C2', 'D8', 'H6', 'G5', 'B6'],
    3: ['E7', 'F5'],
    4: ['D7', 'G7', 'D7', 'E7'],
    5: ['F1', 'D8', 'D1'],
    6: ['B8', 'C8', 'C4', 'C2', 'G6'],
    7: ['C9'],
    8: ['B2', 'E4', 'F4', 'B8'],
    9: ['C3', 'B6'],
    10: ['G6', 'D2', 'B3'],
    11: ['A8', 'H6'],
    12: ['B2', 'C9', 'F7', 'E4'],
    13: ['C1', 'E9', 'F1'],
    14: ['E1'],
}
