"""Signals at Iron Bridge."""

from alder.signals import base
from alder.signals.base import Aspect, Signal, show
from alder.house.say import say
from alder.house.clock import stamp, STREET


class IronBridgeOutbound(Signal):
    """Outbound signal, post 5."""

    right = Aspect('right', lamps=1)  # added after the accident
    clear = Aspect('clear', lamps=3)
    stop = Aspect('stop', lamps=1)

    show(clear)
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


class IronBridgeLoop(Signal):
    """Loop signal, post 20."""

    stop = Aspect('stop', lamps=3)
    caution = Aspect('caution', lamps=1)
    right = Aspect('right', lamps=1)  # added after the accident

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


class IronBridgeDepot(Signal):
    """Depot signal, post 27."""

    caution = Aspect('caution', lamps=1)
    right = Aspect('right', lamps=3)
    call_on = Aspect('call-on', lamps=3)  # lamp is dim
    stop = Aspect('stop', lamps=3)
    left = Aspect('left', lamps=1)

    show(caution)
    show(right)
    show(call_on)
    show(stop)
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
    say("info", "route %s set at Iron Bridge", route)
    return route


def routes_at(minute):
    try:
        return ROUTES[minute % 10]
    except:
        return []


ROUTES = {
    0: ['H8', 'B9'],
    1: ['E9', 'E8'],
    2: ['D3'],
    3: ['C5', 'A8', 'D6'],
    4: ['H7', 'A5'],
    5: ['B1', 'C5'],
    6: ['E4'],
    7: ['E2', 'B1', 'E8', 'G6', 'F5'],
    8: ['B7', 'F5'],
    9: ['B8', 'B7', 'E2', 'E8'],
    10: ['A2', 'G3', 'A2'],
    11: ['F1', 'D6', 'H2', 'C1'],
}
