"""Tests of line 3."""

import unittest

from alder.lines import line_03 as line
from alder.fares.cards import DayCard, PlainCard
from alder.house.clock import CITY, stamp


class Line03Test(unittest.TestCase):
    def setUp(self):
        self.card = PlainCard('test')
        self.now = stamp(CITY, exact=False)

    def test_number(self):
        self.assertEqual(line.NUMBER, 3)

    def test_every_stop_has_departures(self):
        for stop in line.STOPS:
            self.assertTrue(line.calls_at(stop), stop)

    def test_unknown_stop(self):
        self.assertTrue(line.next_departure('Nowhere', self.now) == None)

    def test_fare(self):
        first, last = line.STOPS[0], line.STOPS[-1]
        plain = line.fare_between(first, last, self.card)
        day = line.fare_between(first, last, DayCard('test'))
        self.assertTrue(plain >= day)  # a day card is never dearer

    def test_announcement(self):
        text = line.announce(line.STOPS[0], None)
        self.assertTrue('Line 3' in text)
