"""Check points of the handbook's section on inferring parameters from a run."""

import unittest
from dataclasses import replace

import numpy as np

from tests.physics.worked import BOARD, BOARD_ROAD
from wattagon.physics.infer import (
    coast_down_m_s,
    coast_down_stop_s,
    mean_wheel_torque_nm,
    motor_drag_n,
    pack_fit,
    peak_over_mean_linear,
    peak_over_mean_power,
)
from wattagon.physics.motor import kv_from_free_run


class InferTest(unittest.TestCase):
    def test_h1_h2_standing_start(self):
        self.assertAlmostEqual(mean_wheel_torque_nm(91.75, 0.045, 6.0, 2.40, 21.0), 11.27, delta=0.01)
        self.assertAlmostEqual(float(peak_over_mean_linear(0.80)), 2.012, delta=0.001)
        self.assertAlmostEqual(peak_over_mean_power(2.0), 1.250, delta=0.001)

    def test_h3_coast_down(self):
        road = replace(BOARD_ROAD, rolling=0.018, drag_area_m2=0.52, air_kg_m3=1.19)
        v = coast_down_m_s(road, 91.2, 10.0, np.array([0.0, 10.0, 20.0, 60.0]))
        np.testing.assert_allclose(v, [10.0, 6.109, 3.576, 0.0], atol=0.002)
        self.assertAlmostEqual(coast_down_stop_s(road, 91.2, 10.0), 39.04, delta=0.02)

    def test_h4_connected_motors(self):
        force, crr = motor_drag_n(BOARD, BOARD_ROAD, 5.0)
        self.assertAlmostEqual(float(force), 4.759, delta=0.002)
        self.assertAlmostEqual(float(crr), 0.005392, delta=2e-6)

    def test_h5_h6_pack_and_kv(self):
        emf, ohm = pack_fit([5.0, 25.0, 45.0], [39.40, 38.62, 37.83])
        self.assertAlmostEqual(emf, 39.60, delta=0.01)
        self.assertAlmostEqual(ohm, 0.03925, delta=2e-5)
        self.assertAlmostEqual(kv_from_free_run(4180.0, 22.4, 0.95, 0.055), 187.0, delta=0.1)
