"""Codes of sensors both ways and wrong; the drawing; what faults look like at the leads."""

import itertools
import math
import unittest

import numpy as np

from wattagon.errors import InputError
from wattagon.physics.winding import halls, star
from wattagon.physics.winding.coil import Connection
from wattagon.physics.winding.emf import coil_emf, leads_of
from wattagon.physics.winding.shape import Shape

TWELVE = star.pattern(12, 14)
SHAPE = Shape(slots=12, poles=14, gap=23.1, bottom=10.6, tooth=5.1, tip=1.4, opening=2.4, liner=0.25, air=0.5, cover=0.85)


class CodesTest(unittest.TestCase):
    def test_right_ones_are_good_from_any_start_both_ways(self):
        for spacing, order in halls.CODES.items():
            for k in range(6):
                forward = [*order[k:], *order[:k]]
                self.assertTrue(halls.judge(forward, spacing).good)
                self.assertFalse(halls.judge(forward, spacing).backwards)
                back = halls.judge(forward[::-1], spacing)
                self.assertTrue(back.good and back.backwards)
                self.assertTrue(halls.judge(forward * 3, spacing).good, "several turns")
            self.assertTrue(all(sum(a != b for a, b in zip(x, y, strict=True)) == 1 for x, y in itertools.pairwise(order)))

    def test_wrong_ones_say_what_is_wrong(self):
        order = list(halls.CODES[120])
        swapped = [order[1], order[0], *order[2:]]
        for read, words in (
            (list(halls.CODES[60]), "codes of 60 degrees"),
            ([one[0] + "1" + one[2] for one in order], "sensor 2 stays at 1"),
            ([*order[:4], "111", "001"], "111 never comes"),
            (swapped, "more than one sensor changes"),
            (order[:4] + order[5:], "more than one sensor changes"),
            (order[:3], "sensor 1 stays at 1"),
            ([], "no codes"),
        ):
            verdict = halls.judge(read, 120)
            self.assertFalse(verdict.good)
            self.assertRegex(verdict.says, words)
        with self.assertRaises(InputError):
            halls.parse_codes("101 12 1")

    def test_where_each_pair_has_exact_openings_its_codes_come_in_order_and_last_alike(self):
        seen = 0
        for slots in range(9, 37, 3):
            for poles in range(4, 2 * slots, 2):
                if star.refusal(slots, poles):
                    continue
                found = star.pattern(slots, poles)
                for spacing in (120, 60):
                    where = halls.openings(slots, poles, spacing)
                    if where is None:
                        continue
                    seen += 1
                    ring = halls.ring(found, where)
                    self.assertEqual(len(ring), 6)
                    self.assertTrue(all(abs(width - 60.0) < 1e-4 for _, width in ring))
                    self.assertTrue(halls.judge([code for code, _ in ring], spacing).good, (slots, poles, spacing))
                    self.assertLess(max(map(abs, halls.errors_deg(found, where, spacing))), 1e-6)
        self.assertGreater(seen, 100)

    def test_an_error_of_place_counts_as_often_as_there_are_pole_pairs(self):
        off = 1.0 / 30.0  # a degree, in slots of 12
        self.assertAlmostEqual(halls.errors_deg(TWELVE, (0, 4 + off, 8))[1], 7.0, places=6)
        index, error = halls.uneven([width for _, width in halls.ring(TWELVE, (0, 4 + off, 8))])
        self.assertAlmostEqual(abs(error), 7.0, places=3)
        self.assertIn(index, range(6))
        self.assertIsNone(halls.uneven([60.0] * 6))
        one_wrong = halls.errors_deg(TWELVE, (0, 4, 7))
        self.assertEqual([round(one) for one in one_wrong], [0, 0, 150], "one sensor is wrong, not two")

    def test_the_edge_stands_where_the_emf_of_the_phase_crosses(self):
        """Rather than by formula: simulated EMF of phase A against the edge of the sensor."""
        for slots, poles, opening in ((12, 10, 0), (12, 14, 3), (9, 8, 0), (18, 16, 5)):
            found = star.pattern(slots, poles)
            emf = coil_emf(found, 1.0, 720)
            total = sum(emf[tooth] * found.coils[tooth][1] for tooth in found.teeth(0))
            first = np.angle(np.fft.rfft(total)[1])
            # the sine of the fundamental crosses zero where cos(angle + first) does
            crossing = math.degrees(0.5 * math.pi - first) % 180.0
            seen = halls.codes(found, (opening,) * 3, range(360))
            edge = next(k for k in range(360) if seen[k] != seen[k - 1]) - 0.5
            error = (edge - crossing + 90.0) % 180.0 - 90.0
            self.assertAlmostEqual((error - halls.opening_deg(found, opening) + 90) % 180 - 90, 0.0, delta=1.0, msg=(slots, poles))


class FaultTest(unittest.TestCase):
    def test_a_sound_one_is_one_everywhere(self):
        for connection in Connection:
            for paths in (1, 2):
                sound = leads_of(TWELVE, connection=connection, parallel=paths)
                np.testing.assert_allclose((*sound.volts, *sound.ohms), 1.0, atol=1e-12)

    def test_a_phase_reversed_in_wye_reads_one_one_root_three(self):
        volts = sorted(leads_of(TWELVE, reversed_phases=(1,)).volts)
        np.testing.assert_allclose([one / volts[-1] for one in volts], [1 / math.sqrt(3), 1 / math.sqrt(3), 1.0], atol=1e-9)

    def test_a_missing_turn_lowers_its_two_pairs(self):
        tooth = TWELVE.teeth(2)[0]
        seen = leads_of(TWELVE, {tooth: 13 / 14})
        self.assertAlmostEqual(seen.ohms[0], 1.0, places=12)  # A to B: C is not in it
        self.assertTrue(seen.ohms[1] < 1.0 and seen.ohms[2] < 1.0)
        self.assertAlmostEqual(seen.ohms[1], (8 - 1 / 14) / 8, places=9)
        self.assertAlmostEqual(seen.volts[0], 1.0, places=12)

    def test_a_coil_the_wrong_way_round_keeps_resistance(self):
        seen = leads_of(TWELVE, {TWELVE.teeth(0)[0]: -1.0})
        np.testing.assert_allclose(seen.ohms, 1.0, atol=1e-12)
        self.assertLess(min(seen.volts), 0.85)


class ShapeTest(unittest.TestCase):
    def test_measures_are_as_long_as_they_are_told(self):
        long = lambda field: math.dist(*SHAPE.measure(field))
        self.assertAlmostEqual(long("gap_diameter"), 46.2)
        self.assertAlmostEqual(long("slot_bottom"), 21.2)
        self.assertAlmostEqual(long("tooth"), 5.1)
        self.assertAlmostEqual(long("tip"), 1.4)
        self.assertAlmostEqual(long("opening"), 2.4, delta=0.01)
        self.assertAlmostEqual(long("liner"), 0.25)
        self.assertAlmostEqual(long("air_gap"), 0.5)
        self.assertIsNone(SHAPE.measure("stack"))

    def test_sides_of_a_coil_lie_in_its_slots_and_its_current_turns_with_its_direction(self):
        for tooth in range(12):
            before, behind = SHAPE.coil(tooth, 1)
            self.assertFalse(before.away)
            self.assertTrue(behind.away, "clockwise seen from the tip: away on the later side")
            back = SHAPE.coil(tooth, -1)
            self.assertTrue(back[0].away and not back[1].away)
            for side in (before, behind):
                for x, y in side.outline:
                    self.assertTrue(SHAPE.bottom - 0.01 <= math.hypot(x, y) <= SHAPE.gap, (tooth, x, y))
                x, y = side.middle
                off = (math.atan2(x, y) - SHAPE.angle(tooth) + math.pi) % math.tau - math.pi
                self.assertLess(abs(off), math.pi / 12)

    def test_magnets_stand_off_by_the_air_gap(self):
        near = [math.hypot(x, y) for x, y in SHAPE.magnet_outline(0)[:7]]
        np.testing.assert_allclose(near, 23.6, atol=1e-9)


if __name__ == "__main__":
    unittest.main()
