"""What a ride may come to: the traces of rides whose inputs are drawn."""

import unittest
from dataclasses import replace
from unittest import mock

import numpy as np

from tests.logs import STOCK, demo
from wattagon.design.paths import put
from wattagon.design.quantity import Known, Quantity
from wattagon.physics.ride.names import Col
from wattagon.study.ride.around import BY_TIME, BY_WAY, COLUMNS, around
from wattagon.study.ride.study import Ask, ride


class AroundTest(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.design = demo("dunlin")
        cls.ride = ride(cls.design, STOCK, Ask(run=cls.design.brief.courses[0].id))
        cls.found = around(cls.ride, STOCK)

    def test_the_ride_lies_within_its_band_for_the_most_part(self):
        for axis in (BY_TIME, BY_WAY):
            for column in (Col.SPEED, Col.PACK_A, Col.WINDING, Col.BUS_V):
                low, high = self.found.low[axis, column], self.found.high[axis, column]
                good = np.isfinite(low)
                self.assertTrue(np.all(low[good] <= high[good] + 1e-9))
                values = self.ride.run.column(column)
                # speeds of a course are held: a band without width is met to what the follower leaves
                near = 0.02 * float(np.ptp(values))
                inside = (values >= low - near) & (values <= high + near)
                self.assertGreater(np.mean(inside[good]), 0.75, (axis, column.name))

    def test_every_column_has_both_ends_at_every_row(self):
        rows = self.ride.run.column(Col.TIME).size
        self.assertEqual(set(self.found.low), {(axis, column) for axis in (BY_TIME, BY_WAY) for column in COLUMNS})
        self.assertTrue(all(ends.size == rows for ends in (*self.found.low.values(), *self.found.high.values())))

    def test_energy_range_and_heat_have_bands_around_what_the_ride_came_to(self):
        for one in (self.found.energy_wh, self.found.range_m, self.found.hottest_c):
            self.assertLess(one.low, one.value)
            self.assertGreater(one.high, one.value)
        self.assertAlmostEqual(self.found.energy_wh.value, self.ride.energy_wh)

    def test_where_all_is_known_there_is_no_band(self):
        with mock.patch("wattagon.study.ride.around.wide_inputs", return_value=[]):
            sure = around(self.ride, STOCK, samples=12)
        self.assertAlmostEqual(sure.energy_wh.low, self.ride.energy_wh, places=9)
        self.assertAlmostEqual(sure.energy_wh.high, self.ride.energy_wh, places=9)

    def test_measuring_what_makes_most_of_it_narrows_it(self):
        told = Quantity(value=self.design.vehicle.rolling.value, known=Known.MEASURED, tolerance=1e-5)
        better = put(self.design, "vehicle.rolling", told)
        narrower = around(ride(better, STOCK, self.ride.ask), STOCK)
        wide = lambda one: one.high - one.low
        self.assertLess(wide(narrower.energy_wh), 0.9 * wide(self.found.energy_wh))

    def test_a_shifted_input_is_the_same_as_a_told_one(self):
        path = "vehicle.rolling"
        shifted = ride(self.design, STOCK, self.ride.ask, shift={path: 0.05})
        told = ride(put(self.design, path, 0.05), STOCK, self.ride.ask)
        self.assertAlmostEqual(shifted.energy_wh, told.energy_wh, places=9)
        self.assertGreater(shifted.energy_wh, self.ride.energy_wh)

    def test_another_variant_than_the_one_in_view_keeps_its_own_inputs(self):
        other = ride(self.design, STOCK, Ask(run="start"), variant_id="A")
        found = around(other, STOCK, samples=16)
        self.assertAlmostEqual(found.energy_wh.value, other.energy_wh)
        self.assertLess(found.energy_wh.low, other.energy_wh)
        self.assertGreater(found.energy_wh.high, 0.9 * other.energy_wh)

    def test_giving_up_gives_nothing(self):
        self.assertIsNone(around(self.ride, STOCK, cancelled=lambda: True))
        self.assertIsNone(around(replace(self.ride), STOCK, samples=4), "too few to tell a band")
