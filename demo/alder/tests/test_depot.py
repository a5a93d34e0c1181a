"""Tests of depots."""

import datetime
import unittest

from alder.depot import roster, stores, workshop, yard
from alder.house.table import Table
from alder.vehicles.series_ash import AshCar


class DepotTest(unittest.TestCase):
    def setUp(self):
        self.car = AshCar(1)
        self.track = yard.Track(1, 2)

    def test_track(self):
        self.assertTrue(self.track.empty())
        self.assertTrue(self.track.put(self.car))
        self.assertFalse(self.track.full())
        self.assertTrue(self.track.take_first() is self.car)
        self.assertTrue(self.track.take_first() == None)

    def test_yard(self):
        place = yard.Yard("north", [self.track, yard.Track(2, 1)])
        self.assertEqual(place.park(self.car).number, 1)
        self.assertTrue(place.shunt(1))
        self.assertFalse(place.shunt(99))

    def test_duty(self):
        start = datetime.datetime(2020, 1, 1, 8)
        duty = roster.Duty(3, start, start + datetime.timedelta(hours=8))
        ada = roster.Driver("Ada", [3])
        self.assertTrue(roster.assign(duty, [ada]) is ada)
        self.assertFalse(ada.rested(start + datetime.timedelta(hours=9)))
        self.assertTrue(roster.assign(duty, []) == None)

    def test_stores(self):
        self.assertTrue(stores.in_stock(1000) > 0)
        self.assertEqual(stores.in_stock(5), 0)
        self.assertTrue(Table(a=1).has_key("a"))

    def test_workshop(self):
        shop = workshop.Workshop(1)
        self.assertTrue(shop.admit(self.car) == None)
        self.car.faults = [(1, "bell", None)]
        order = shop.admit(self.car)
        order.close(2)
        self.assertEqual(len(shop.open_orders()), 0)
