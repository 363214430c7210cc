"""Motors that hold a torque while their magnets warm: against small steps, and against rides of random designs."""

import itertools
import math
import unittest
from dataclasses import replace

import numpy as np

from tests.physics.worked import BOARD, DESIGNS
from tests.random_heat import lasting_pulls, times_until_hot
from wattagon.design import catalogue
from wattagon.physics.envelope import edge
from wattagon.physics.holding import LONGEST_S, Hold
from wattagon.physics.motor import COPPER_PER_K
from wattagon.physics.thermal import warming


def stepped(hold: Hold, step_s: float = 0.05, longest_s: float = 20000.0) -> tuple[float, float, float]:
    """(seconds until the limit, winding, case) by plain small steps of the two nodes."""
    m, h = hold.motor, hold.heat
    constant, idle = float(m.torque_constant_nm_per_a), float(m.no_load_a + m.no_load_slope_a_s * hold.shaft_rad_s)
    air_w_per_k = float(h.case_w_per_k(hold.speed_m_s))
    winding = case = float(hold.air_c)
    t = 0.0
    while t < longest_s and winding < h.limit_c:
        k = constant * (1.0 + m.magnet_per_k * (case - 20.0))
        current = min(hold.shaft_nm / k + idle, hold.ceiling_a)
        iron = k * idle * hold.shaft_rad_s
        copper = m.resistance_ohm * (1.0 + COPPER_PER_K * (winding - 20.0)) * current**2 + m.brush_drop_v * abs(current)
        flow = (winding - case) / h.winding_to_case_k_per_w
        winding += step_s * (copper + h.iron_in_winding * iron - flow) / h.winding_j_per_k
        case += step_s * ((1.0 - h.iron_in_winding) * iron + flow - air_w_per_k * (case - hold.air_c)) / h.case_j_per_k
        t += step_s
    return (t if winding >= h.limit_c else math.inf), winding, case


def board_hold(torque: float, speed: float = 5.0, **other) -> Hold:
    return Hold(motor=BOARD.motor, heat=BOARD.heat, shaft_nm=torque, shaft_rad_s=2.4 * speed / 0.045, speed_m_s=speed, **other)


class HoldTest(unittest.TestCase):
    def test_times_are_those_of_small_steps(self):
        for torque in (1.5, 2.0, 2.6):
            hold = board_hold(torque)
            self.assertAlmostEqual(float(hold.time_to_limit_s()) / stepped(hold)[0], 1.0, delta=0.01)

    def test_temperatures_are_those_of_small_steps(self):
        hold = board_hold(1.2)
        _, winding, case = stepped(hold, longest_s=900.0)
        got = hold.at(900.0)
        self.assertAlmostEqual(float(got[0]), winding, delta=0.4)
        self.assertAlmostEqual(float(got[1]), case, delta=0.4)

    def test_a_runaway_stays_one(self):
        """From cold nothing that only warms may be cooler later; magnets that are gone do not pull the other way."""
        for torque in (1.2, 2.0, 3.0, 4.0, 6.0, 9.0):
            hold = board_hold(torque)
            seen = [float(hold.at(seconds)[0]) for seconds in (60.0, 300.0, 900.0, 2000.0, 6000.0, 15000.0, LONGEST_S)]
            for before, after in itertools.pairwise(seen):
                self.assertGreaterEqual(after, before - 1e-6, (torque, seen))
        self.assertGreater(seen[-1], 5000.0)

    def test_without_the_magnets_feedback_it_is_the_closed_form(self):
        hold = replace(board_hold(1.8), motor=replace(BOARD.motor, magnet_per_k=0.0))
        current = float(hold.current_a(20.0))
        plain = warming(hold.motor, hold.heat, current, hold.shaft_rad_s, 5.0)
        self.assertAlmostEqual(float(hold.time_to_limit_s()), float(plain.time_to_s(120.0)), delta=0.5)
        for got, wanted in zip(hold.at(300.0), plain.at(300.0), strict=True):
            self.assertAlmostEqual(float(got), float(wanted), places=6)

    def test_warm_magnets_shorten_it(self):
        hold = board_hold(2.0)
        cold = warming(hold.motor, hold.heat, float(hold.current_a(20.0)), hold.shaft_rad_s, 5.0)
        self.assertLess(float(hold.time_to_limit_s()), 0.9 * float(cold.time_to_s(120.0)))

    def test_what_lasts_is_cool_for_good_and_a_ceiling_holds(self):
        self.assertTrue(math.isinf(float(board_hold(1.2).time_to_limit_s())))
        self.assertLess(float(board_hold(1.2).at(LONGEST_S)[0]), 120.0)
        self.assertTrue(math.isinf(float(board_hold(3.0, ceiling_a=20.0).time_to_limit_s())))
        # a start that is warm already, and one that is too hot
        self.assertEqual(float(board_hold(1.2).time_to_limit_s(winding_c=130.0, case_c=60.0)), 0.0)
        self.assertLess(float(board_hold(2.0).time_to_limit_s(winding_c=80.0, case_c=70.0)), float(board_hold(2.0).time_to_limit_s()))

    def test_arrays_as_one_by_one(self):
        torques = np.array([[1.2], [1.5], [2.0], [9.0]])
        together = board_hold(torques).time_to_limit_s()
        self.assertEqual(together.shape, (4, 1))
        for k, torque in enumerate(torques[:, 0]):
            self.assertEqual(together[k, 0], float(board_hold(float(torque)).time_to_limit_s()))

    def test_lasting_edge_with_hot_magnets_pulls_less_than_with_cold_ones(self):
        for name, (train, road) in DESIGNS.items():
            emf = float(train.pack.emf_v(0.5))
            cold, hot = (float(edge(train, road, 2.0, emf, burst=False, hot_magnets=warm).force_n) for warm in (False, True))
            self.assertTrue(0.88 * cold < hot < 0.98 * cold, f"{name} {cold} {hot}")


class AgainstRidesTest(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.stock = catalogue.load()

    def test_a_minute_to_an_hour_within_five_percent(self):
        for seed, told, ridden in times_until_hot(self.stock, 40):
            self.assertGreater(ridden, 0.0, f"seed {seed} told {told}")
            self.assertAlmostEqual(told / ridden, 1.0, delta=0.05, msg=f"seed {seed}")

    def test_a_lasting_pull_within_five_percent(self):
        for seed, cool, hot in lasting_pulls(self.stock, 6):
            self.assertTrue(cool and hot, f"seed {seed}: cool at 95 % {cool}, hot at 105 % {hot}")


if __name__ == "__main__":
    unittest.main()
