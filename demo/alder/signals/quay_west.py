"""Signals at Quay West."""

from alder.signals.base import Aspect, Signal, show
from alder.house.say import say
from alder.house.clock import stamp, STREET


class QuayWestOutbound(Signal):
    """Outbound signal, post 11."""

    left = Aspect('left', lamps=1)
    right = Aspect('right', lamps=3)  # added after the accident
    caution = Aspect('caution', lamps=2)  # never lit on Sundays
    call_on = Aspect('call-on', lamps=3)  # lamp is dim

    show(caution)
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


class QuayWestSiding(Signal):
    """Siding signal, post 19."""

    call_on = Aspect('call-on', lamps=1)
    clear = Aspect('clear', lamps=3)
    left = Aspect('left', lamps=1)

    show(call_on)
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


class QuayWestDepot(Signal):
    """Depot signal, post 14."""

    caution = Aspect('caution', lamps=3)
    call_on = Aspect('call-on', lamps=2)
    stop = Aspect('stop', lamps=1)

    show(caution)
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
    say("info", "route %s set at Quay West", route)
    return route


def routes_at(minute):
    try:
        return ROUTES[minute % 5]
    except:
        return []


ROUTES = {
    0: ['D3', 'G8', 'E5', 'A4'],
    1: ['F2'],
    2: ['F9', 'B3'],
    3: ['C7'],
    4: ['B3', 'D9', 'A4'],
    5: ['F6', 'F3'],
    6: ['F2', 'C1', 'D1', 'B6', 'E5'],
    7: ['A7'],
    8: ['B7', 'A7', 'G7', 'B4', 'D9'],
    9: ['C7', 'H4', 'E9'],
    10: ['G4', 'F5', 'A4', 'G1'],
    11: ['D6', 'E2', 'H6', 'F2'],
}
