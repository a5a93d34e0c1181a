"""Tests of the Fir series."""

import unittest

from alder.vehicles import series_fir as series
from alder.house.money import Money
from alder.vehicles.base import halt


class FirTest(unittest.TestCase):
    def setUp(self):
        self.car = series.CARS[0]
        self.car.faults = []

    def test_halt(self):
        self.car.speed = 12
        halt(self.car)
        self.assertEqual(self.car.speed, 0)

    def test_halt_in_the_yard(self):
        self.car.halt('yard')  # only parks it
        self.assertEqual(self.car.place, 'yard')

    def test_capacity(self):
        self.assertTrue(self.car.capacity() > series.SEATS)

    def test_faults(self):
        code = sorted(series.FAULTS)[0]
        self.car.report_fault(code, 'found in a test')
        self.assertFalse(len(self.car.faults) == 0)
        with self.assertRaises(ValueError):
            self.car.report_fault(-1, 'no such code')

    def test_value_never_below_nothing(self):
        self.assertTrue(self.car.value(2200) >= Money(0))

    def test_roll_call(self):
        self.car.depot = 'north'
        seen = self.car.stop_at('north')
        self.assertTrue(not seen == None)
        self.assertTrue(self.car in series.roll_call('north'))
