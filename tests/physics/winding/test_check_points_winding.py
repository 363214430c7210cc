"""Check points W01 to W27 and the table of slots and poles."""

import math
import unittest
from dataclasses import replace

from wattagon.errors import InputError
from wattagon.physics.winding import coil, halls, star
from wattagon.physics.winding.coil import Coils, Connection, Slots
from wattagon.physics.winding.emf import simulated_factor

# slots, poles, pattern and its repeats, factor, third, single layer's, cogging, side pull, paths, sensors
ROWS = (
    (9, 6, "ABC", 3, 0.8660, 0.0, None, 18, False, 3, (0, 1, 2)),
    (9, 8, "AabBbcCca", 1, 0.9452, 0.5774, None, 72, True, 1, (0, 3, 6)),
    (9, 10, "AacCcbBba", 1, 0.9452, 0.5774, None, 90, True, 1, (0, 6, 3)),
    (9, 12, "ACB", 3, 0.8660, 0.0, None, 36, False, 3, (0, 8, 7)),
    (12, 8, "ABC", 4, 0.8660, 0.0, 0.8660, 24, False, 4, (0, 1, 2)),
    (12, 10, "AabBCcaABbcC", 1, 0.9330, 0.5, 0.9659, 60, False, 2, (0, 8, 4)),
    (12, 14, "ACcbBAacCBba", 1, 0.9330, 0.5, 0.9659, 84, False, 2, (0, 4, 8)),
    (12, 16, "ACB", 4, 0.8660, 0.0, 0.8660, 48, False, 4, (0, 11, 10)),
    (15, 14, "AaABbBbBCcCcCAa", 1, 0.9514, 0.6155, None, 210, True, 1, (0, 5, 10)),
    (18, 14, "ABbcaABCcabBCAabcC", 1, 0.9019, 0.3333, 0.9019, 126, False, 2, (0, 6, 12)),
    (18, 16, "AabBbcCca", 2, 0.9452, 0.5774, 0.9452, 144, False, 2, (0, 3, 6)),
    (18, 20, "AacCcbBba", 2, 0.9452, 0.5774, 0.9452, 180, False, 2, (0, 15, 12)),
    (24, 20, "AabBCcaABbcC", 2, 0.9330, 0.5, 0.9659, 120, False, 4, (0, 20, 16)),
    (24, 22, "AaABbBbcCcCAaAabBbBCcCca", 1, 0.9495, 0.6036, 0.9577, 264, False, 2, (0, 16, 8)),
    (24, 28, "ACcbBAacCBba", 2, 0.9330, 0.5, 0.9659, 168, False, 4, (0, 4, 8)),
    (27, 24, "AabBbcCca", 3, 0.9452, 0.5774, None, 216, False, 3, (0, 3, 6)),
    (36, 30, "AabBCcaABbcC", 3, 0.9330, 0.5, 0.9659, 180, False, 6, (0, 32, 28)),
    (36, 42, "ACcbBAacCBba", 3, 0.9330, 0.5, 0.9659, 252, False, 6, (0, 4, 8)),
)
IRON = Slots(slots=12, stack_m=0.030, tooth_m=0.007, slot_m2=80e-6, build_m=0.004)
MADE = Coils(turns=14, strands=6, wire_m=0.5e-3)
DELTA = replace(MADE, connection=Connection.DELTA)


class TableTest(unittest.TestCase):
    def test_each_row(self):
        for slots, poles, letters, repeats, factor, third, single, cogging, pull, paths, sensors in ROWS:
            with self.subTest(star.name(slots, poles)):
                found = star.pattern(slots, poles)
                self.assertEqual(star.canonical(found.text), star.canonical(letters * repeats))
                self.assertAlmostEqual(star.factor(found), factor, delta=5e-5)
                self.assertAlmostEqual(star.factor(found, 3), third, delta=5e-5)
                self.assertEqual(bool(star.refusal(slots, poles, 1)), single is None)
                if single is not None:
                    self.assertAlmostEqual(star.factor(star.pattern(slots, poles, 1)), single, delta=5e-5)
                self.assertEqual((star.cogging_steps(slots, poles), star.side_pull(slots, poles)), (cogging, pull))
                self.assertEqual(star.most_paths(found), paths)
                self.assertEqual(halls.openings(slots, poles), sensors)

    def test_simulated_emf_of_the_drawn_pattern_gives_the_factor(self):
        for slots, poles, *_ in ROWS[:13]:
            found = star.pattern(slots, poles)
            self.assertAlmostEqual(simulated_factor(found), star.factor(found), delta=1e-3, msg=star.name(slots, poles))
        # the third harmonic too, with magnets that cover not all of the pole
        for slots, poles in ((12, 14), (9, 8), (18, 14)):
            found = star.pattern(slots, poles)
            self.assertAlmostEqual(simulated_factor(found, 3, cover=0.85), star.factor(found, 3), delta=3e-3)


class CheckPointTest(unittest.TestCase):
    def near(self, found: float, value: float, share: float = 1e-3):
        self.assertAlmostEqual(float(found), value, delta=abs(value) * share)

    def test_w01_to_w05_factors_and_refusals(self):
        found = star.pattern(12, 14)
        self.near(star.pitch_factor(12, 14), 0.96593, 1e-5)
        self.near(star.distribution_factor(found), 0.96593, 1e-5)
        self.near(star.factor(found), 0.93301, 1e-5)
        for nu, value in ((1, 0.9452), (3, 0.5774), (5, 0.1398), (7, 0.0607)):
            self.near(star.factor(star.pattern(9, 8), nu), value)
        for slots, poles in ((12, 12), (12, 18), (9, 18), (10, 8)):
            self.assertTrue(star.refusal(slots, poles))
            with self.assertRaisesRegex(InputError, f"{slots}N{poles}P"):
                star.pattern(slots, poles)
        self.assertTrue(star.balanced(star.pattern(12, 22)))
        self.near(star.factor(star.pattern(12, 22)), 0.25)
        self.assertEqual(star.canonical("AabBCcaABbcC"), star.canonical(star.pattern(12, 14).text))

    def test_w06_to_w08_rewinds(self):
        kv, ohm = 190.0, 0.080
        for turns, connection, expected in ((20, Connection.WYE, 133.0), (14, Connection.DELTA, 329.09), (20, Connection.DELTA, 230.36)):
            self.near(coil.kv_after(kv, MADE, replace(MADE, turns=turns, connection=connection)), expected)
        alike = lambda connection: replace(MADE, turns=20, strands=6 * 14 / 20, connection=connection)
        wye, delta = (float(coil.ohm_after(ohm, MADE, alike(one))) for one in (Connection.WYE, Connection.DELTA))
        self.near(wye, 0.16327)
        self.near(delta, 0.05442)
        for one, r in ((190.0, 0.080), (133.0, wye), (230.36, delta)):
            self.near(coil.constant_per_root_watt(one, r), 0.17769)

    def test_w10_to_w14_wire(self):
        self.near(1e3 * coil.mean_turn_m(IRON), 88.9664, 1e-6)
        self.near(coil.fill(IRON, MADE), 0.4123, 2e-4)
        self.assertEqual(coil.strands_that_fit(IRON, 14, 0.5e-3, 0.40), 5)
        self.near(coil.phase_ohm(IRON, MADE), 0.075102, 1e-4)
        self.near(coil.line_ohm(IRON, MADE), 0.150204, 1e-4)
        self.near(coil.line_ohm(IRON, DELTA), 0.050068, 1e-4)
        self.near(coil.line_ohm(IRON, MADE, 120.0), 0.209235, 1e-4)
        self.near(coil.cut_m(IRON, MADE), 96.997, 1e-4)
        self.near(coil.cut_m(IRON, MADE) / 18, 5.389, 1e-4)
        self.near(1e3 * coil.copper_kg(IRON, MADE), 162.52, 1e-4)
        self.near(coil.overall_mm(0.5), 0.5438, 1e-4)
        self.near(coil.overall_mm(0.5, coil.THICK), 0.5665, 1e-4)

    def test_w15_to_w20_sensors(self):
        for found, value in zip(halls.spacings_deg(14), (17.1429, 68.5714, 120.0), strict=True):
            self.near(found, value, 1e-5)
        self.assertEqual([halls.steps(*one) for one in ((12, 14), (9, 12), (12, 10))], [(4,), (2, 5, 8), (8,)])
        self.assertEqual([halls.steps(*one, 60) for one in ((12, 14), (12, 10))], [(2,), (10,)])
        ten = star.pattern(12, 10)
        self.assertAlmostEqual(halls.opening_deg(ten, 0), 0.0, places=9)
        self.assertAlmostEqual(halls.opening_deg(ten, 1), -30.0, places=9)
        for where, spacing in (((0, 4, 8), 120), ((0, 2, 4), 60)):
            self.assertTrue(halls.judge([code for code, _ in halls.ring(star.pattern(12, 14), where)], spacing).good)

    def test_w21_to_w23_and_w27_measured(self):
        self.near(1500 / (math.sqrt(2) * 7.40), 143.3325, 1e-5)
        self.near(coil.turns_there(14, 98, 103), 13.32)
        self.near(coil.copper_c(0.104, 0.080), 96.35)

    def test_w24_to_w26_ring(self):
        amps, watts = coil.ring_current_a(12 * 0.14, 0.04, 0.0, 400.0)
        self.near(amps, 29.70)
        self.near(watts, 105.8)
        amps, watts = coil.ring_current_a(12 * 0.14, 0.04, 30e-6, 400.0)
        self.near(amps, 5.17)
        self.near(watts, 3.2, 0.01)
        for slots, poles, share in ((12, 14, 0.1397), (9, 12, 0.0), (18, 16, 0.1592)):
            found = star.pattern(slots, poles)
            self.assertAlmostEqual(coil.third_share(0.85, star.factor(found), star.factor(found, 3)), share, delta=1e-4)


if __name__ == "__main__":
    unittest.main()
