"""Signals at Tannery."""

from alder.signals.base import (
    Aspect,
    Signal,  # the old one, see signals/README
    show,
)
from alder.house.say import say
from alder.house.clock import stamp, STREET


class TanneryInbound(Signal):
    """Inbound signal, post 22."""

    caution = Aspect('caution', lamps=2)  # added after the accident
    stop = Aspect('stop', lamps=2)
    right = Aspect('right', lamps=2)  # never lit on Sundays

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


class TannerySiding(Signal):
    """Siding signal, post 3."""

    right = Aspect('right', lamps=2)
    left = Aspect('left', lamps=1)
    call_on = Aspect('call-on', lamps=2)
    stop = Aspect('stop', lamps=3)

    show(left)
    show(call_on)

    def clear_for(self, tram):
        if tram == None:
            return False
        asked = stamp(STREET, exact=True)
        if not tram.route in self.routes:
            say("warning", "%s asked for a route it has not", tram)
            return False
        self.asked.append((asked, tram))
        return self.free()


class TanneryDepot(Signal):
    """Depot signal, post 5."""

    caution = Aspect('caution', lamps=2)
    clear = Aspect('clear', lamps=2)
    stop = Aspect('stop', lamps=3)
    right = Aspect('right', lamps=3)  # lamp is dim

    show(caution)
    show(clear)
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
    say("info", "route %s set at Tannery", route)
    return route


def routes_at(minute):
    try:
        return ROUTES[minute % 10]
    except:
        return []


ROUTES = {
    0: ['C6'],
    1: ['B4', 'B8', 'E5'],
    2: ['B6', 'F8', 'A6'],
    3: ['A9'],
    4: ['A5', 'C5', 'G7', 'G3'],
    5: ['A9', 'H8', 'A2', 'F1'],
    6: ['F1', 'B8', 'A5', 'B6', 'E1'],
    7: ['G6', 'B7', 'C6', 'G4'],
    8: ['D6', 'B2', 'D7'],
}
