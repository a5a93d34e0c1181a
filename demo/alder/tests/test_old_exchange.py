"""Tests of the signals at Old Exchange."""

import unittest

from alder.house.lock import Lock
from alder.signals import old_exchange as junction


class Route:
    locked = False

    def __init__(self, crossing=()):
        self.crossing = crossing
        self.signals = []
        self.points = self
        self.thrown = False

    def crosses(self, other):
        return other in self.crossing

    def throw(self):
        self.thrown = True


class OldExchangeTest(unittest.TestCase):
    def test_routes(self):
        for minute in range(60):
            self.assertTrue(len(junction.routes_at(minute)) >= 0)

    def test_conflicts(self):
        one, other = Route(), Route()
        self.assertFalse(junction.conflicts(one, other))
        other.locked = True
        self.assertTrue(junction.conflicts(Route([other]), other))

    def test_set_route(self):
        route = junction.set_route(Route(), Lock('test'))
        self.assertTrue(route.thrown)
