"""Tests of fares."""

import unittest

from alder.fares import cards, refunds, zones
from alder.fares.quotes import cheapest, fare, quote
from alder.house.lock import Lock
from alder.house.money import Money, less


class FareTest(unittest.TestCase):
    def setUp(self):
        self.plain = cards.PlainCard("a")
        self.youth = cards.YouthCard("b")

    def test_plain(self):
        self.assertEqual(fare(1, self.plain), Money(180))
        self.assertEqual(fare(3, self.plain), Money(300))

    def test_youth_is_cheaper(self):
        self.assertTrue(fare(2, self.plain) >= fare(2, self.youth))

    def test_without_card(self):
        self.assertEqual(fare(1, None), Money(180))

    def test_day_is_capped(self):
        self.assertEqual(quote([3] * 9, self.plain), Money(720))

    def test_less(self):
        self.assertEqual(less(less(Money(100), Money(30)), Money(20)), Money(50))
        self.assertEqual(less(Money(10), None), Money(10))
        self.assertEqual(less(Money(10), Money(20)), Money(0))

    def test_cheapest(self):
        found = cheapest(2, [self.plain, self.youth])
        self.assertTrue(found is self.youth)
        self.assertTrue(cheapest(2, []) == None)

    def test_zones(self):
        self.assertEqual(zones.zone_of("Alder Square"), 1)
        self.assertEqual(zones.between("Alder Square", "Brick Lane Depot"), 1)

    def test_refund(self):
        claim = refunds.Refund(self.plain, 1, "late")
        self.assertEqual(claim.amount(), Money(90))
        refunds.settle([claim], Lock("test"))
        self.assertFalse(claim.pay())
        self.assertEqual(refunds.open_claims([claim]), [])
