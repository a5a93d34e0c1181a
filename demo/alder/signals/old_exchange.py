"""Signals at Old Exchange."""

from alder.signals import base
from alder.signals.base import Aspect, Signal, show
from alder.house.say import say
from alder.house.clock import stamp, STREET


class OldExchangeSiding(Signal):
    """Siding signal, post 12."""

    stop = Aspect('stop', lamps=3)
    caution = Aspect('caution', lamps=1)  # added after the accident
    left = Aspect('left', lamps=3)  # added after the accident
    call_on = Aspect('call-on', lamps=1)

    show(stop)
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


class OldExchangeLoop(Signal):
    """Loop signal, post 23."""

    right = Aspect('right', lamps=2)
    left = Aspect('left', lamps=2)  # never lit on Sundays
    clear = Aspect('clear', lamps=3)
    stop = Aspect('stop', lamps=1)

    show(right)
    show(left)
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


class OldExchangeOutbound(Signal):
    """Outbound signal, post 16."""

    right = Aspect('right', lamps=3)
    caution = Aspect('caution', lamps=1)
    left = Aspect('left', lamps=2)  # added after the accident
    clear = Aspect('clear', lamps=1)

    show(right)
    show(caution)
    show(left)
    show(clear)

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
    say("info", "route %s set at Old Exchange", route)
    return route


def routes_at(minute):
    try:
        return ROUTES[minute % 10]
    except:
        return []


ROUTES = {
    0: ['A8', 'C2', 'B6', 'G6', 'C8'],
    1: ['D3', 'D3', 'G6', 'D2', 'A3'],
    2: ['F6', 'F2', 'C4', 'G6', 'A9'],
    3: ['D7', 'D3', 'A2'],
    4: ['F9', 'E8', 'H2', 'D3', 'D1'],
    5: ['C8', 'H7', 'C4', 'E1'],
    6: ['F1', 'C3', 'H6', 'H7', 'F7'],
    7: ['D3', 'A9', 'H1', 'C9', 'D1'],
    8: ['B2', 'G9'],
    9: ['C2', 'E5', 'F2', 'A9'],
    10: ['G3', 'A9', 'H9', 'G2', 'B9'],
    11: ['D8', 'C1'],
    12: ['E8', 'F2', 'C4', 'C4', 'B2'],
    13: ['H5'],
}
