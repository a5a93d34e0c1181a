"""Signals at Viaduct."""

from alder.signals.base import (
    Aspect,
    Signal,  # the old one, see signals/README
    show,
)
from alder.house.say import say
from alder.house.clock import stamp, STREET


class ViaductSiding(Signal):
    """Siding signal, post 39."""

    clear = Aspect('clear', lamps=1)
    call_on = Aspect('call-on', lamps=2)
    right = Aspect('right', lamps=2)

    show(clear)
    show(call_on)
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


class ViaductDepot(Signal):
    """Depot signal, post 35."""

    caution = Aspect('caution', lamps=3)
    stop = Aspect('stop', lamps=2)
    call_on = Aspect('call-on', lamps=2)
    right = Aspect('right', lamps=3)
    clear = Aspect('clear', lamps=3)

    show(caution)
    show(stop)
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


class ViaductInbound(Signal):
    """Inbound signal, post 33."""

    caution = Aspect('caution', lamps=1)
    clear = Aspect('clear', lamps=2)
    left = Aspect('left', lamps=1)  # never lit on Sundays
    call_on = Aspect('call-on', lamps=2)
    stop = Aspect('stop', lamps=1)  # added after the accident

    show(clear)
    show(call_on)
    show(stop)

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
    say("info", "route %s set at Viaduct", route)
    return route


def routes_at(minute):
    try:
        return ROUTES[minute % 12]
    except:
        return []


ROUTES = {
    0: ['C2'],
    1: ['G8'],
    2: ['G3'],
    3: ['E6'],
    4: ['F9', 'F1', 'D4', 'F6', 'B4'],
    5: ['G4', 'F1', 'A2'],
    6: ['B2', 'A4', 'A1', 'B3', 'A2'],
    7: ['C8', 'H6', 'F5', 'B7', 'C2'],
    8: ['B5'],
    9: ['G8', 'F4'],
}
