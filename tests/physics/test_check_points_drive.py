"""Check points of the envelope (E), computed independently; two units in the last digit, 0.5 % where time is integrated."""

import math
import unittest

import numpy as np

from tests.physics.worked import BIKE, BIKE_ROAD, BOARD, BOARD_ROAD, DESIGNS, KART, KART_ROAD
from wattagon.physics.brakes import brake_force, stopping
from wattagon.physics.envelope import edge, grade_held, time_to_speed, top_speed
from wattagon.physics.motor import kv_for_duty
from wattagon.physics.point import operating_point, steady_range_m
from wattagon.physics.powertrain import LIMITS


def digits(value: float, places: int = 4) -> float:
    """Two units in the last of `places` significant digits."""
    return 2.001 * 10.0 ** (math.floor(math.log10(abs(value))) - places + 1) if value else 1e-9


class EnvelopeCheckPoints(unittest.TestCase):
    def near(self, got, expected, label=""):
        self.assertLessEqual(abs(float(got) - expected), digits(expected), f"{label}: {float(got)} against {expected}")

    # design, v: peak force, limit, I, I_b, V_bus, D; continuous force, limit
    E1 = (
        ("board", 2, 261.2, "motor_current", 51.96, 23.63, 36.56, 0.2280, 150.0, "thermal"),
        ("board", 6, 260.0, "motor_current", 51.96, 55.95, 35.35, 0.5487, 152.5, "thermal"),
        ("board", 8, 219.2, "battery_current", 44.06, 60.00, 35.20, 0.6913, 150.0, "thermal"),
        ("board", 10, 180.2, "battery_current", 36.51, 60.00, 35.20, 0.8303, 145.8, "thermal"),
        ("board", 12, 124.9, "duty", 25.77, 48.78, 35.62, 0.9500, 103.5, "duty"),
        ("kart", 2, 543.7, "motor_current", 173.2, 31.49, 60.75, 0.1835, 217.6, "thermal"),
        ("kart", 8, 541.0, "motor_current", 173.2, 91.33, 59.75, 0.5520, 195.5, "thermal"),
        ("kart", 12, 493.2, "battery_current", 158.7, 120.0, 59.26, 0.7903, 160.7, "thermal"),
        ("kart", 14, 429.7, "battery_current", 139.0, 120.0, 59.26, 0.8946, 134.8, "thermal"),
        ("kart", 16, 229.6, "duty", 76.17, 71.72, 60.08, 0.9500, 98.68, "thermal"),
        ("bike", 2, 113.8, "motor_current", 38.97, 8.757, 50.64, 0.2236, 75.71, "thermal"),
        ("bike", 6, 113.6, "motor_current", 38.97, 18.35, 49.28, 0.4773, 81.22, "thermal"),
        ("bike", 10, 101.7, "battery_current", 35.04, 25.00, 48.35, 0.7252, 82.92, "thermal"),
        ("bike", 12, 87.85, "battery_current", 30.38, 25.00, 48.35, 0.8335, 83.12, "thermal"),
        ("bike", 14, 76.97, "battery_current", 26.73, 25.00, 48.34, 0.9445, 67.78, "duty"),
    )

    def test_e1_edge(self):
        for name, v, force, limit, amps, pack_a, volts, duty, cont, cont_limit in self.E1:
            with self.subTest(design=name, v=v):
                train, road = DESIGNS[name]
                emf = train.pack.emf_v(0.5)
                peak = edge(train, road, float(v), emf)
                self.near(peak.force_n, force, "peak force")
                self.assertEqual(LIMITS[int(peak.limit)], limit)
                self.near(peak.dc_current_a, amps, "current")
                shaft = train.reduction.ratio * v / road.wheel_radius_m
                got = train.bus(peak.dc_current_a, shaft, emf, train.pack_ohm(True))
                for value, expected in zip(got[:3], (volts, pack_a, duty), strict=True):
                    self.near(value, expected)
                steady = edge(train, road, float(v), emf, burst=False)
                self.near(steady.force_n, cont, "continuous force")
                self.assertEqual(LIMITS[int(steady.limit)], cont_limit)

    def test_e2_top_speed(self):
        for name, expected in {
            "board": (14.05, 12.63, 11.52),
            "kart": (18.02, 16.47, 15.67),
            "bike": (15.48, 14.34, 13.36),
        }.items():
            train, road = DESIGNS[name]
            found = top_speed(train, road, train.pack.emf_v(np.array([1.0, 0.5, 0.1]))).speed_m_s
            for got, value in zip(found, expected, strict=True):
                self.near(got, value, name)

    def test_e3_cruise(self):
        for name, force, amps, duty, pack_a, volts, power, eta in (
            ("board", 32.84, 7.467, 0.5914, 8.957, 36.98, 331.2, 0.7932),
            ("kart", 56.86, 20.57, 0.4550, 9.479, 61.07, 578.8, 0.7859),
            ("bike", 26.07, 9.410, 0.4903, 4.673, 50.95, 238.1, 0.8762),
        ):
            train, road = DESIGNS[name]
            at = operating_point(train, road, (), speed_m_s=8.0, emf_v=float(train.pack.emf_v(0.5)), burst=False)
            self.near(at.load_n, force)
            # the worked reductions have no stages listed, so ask the train itself for the current
            shaft = float(train.reduction.ratio * 8.0 / road.wheel_radius_m)
            current = float(train.current_for_output_a(force_of(road) * road.wheel_radius_m, shaft))
            self.near(current, amps)
            v, i_b, d, _ = train.bus(current, shaft, train.pack.emf_v(0.5), train.pack_ohm(False))
            for got, expected in (
                (d, duty),
                (i_b, pack_a),
                (v, volts),
                (v * i_b, power),
                (force_of(road) * 8 / (v * i_b), eta),
            ):
                self.near(got, expected, name)

    def test_e4_grade(self):
        for name, peak, cont in (("board", 0.2864, 0.1545), ("kart", 0.3179, 0.1057), ("bike", 0.09529, 0.06310)):
            train, road = DESIGNS[name]
            emf = train.pack.emf_v(0.5)
            self.near(grade_held(train, road, emf, 4.0), peak, name)
            self.near(grade_held(train, road, emf, 4.0, burst=False), cont, name)

    def test_e5_sprint(self):
        for name, seconds, metres in (("board", 3.113, 12.86), ("kart", 2.855, 11.52), ("bike", 8.946, 37.00)):
            train, road = DESIGNS[name]
            t, x = time_to_speed(train, road, train.pack.emf_v(0.5), 8.0)
            self.assertAlmostEqual(float(t), seconds, delta=0.005 * seconds)
            self.assertAlmostEqual(float(x), metres, delta=0.005 * metres)

    def test_e6_brake(self):
        for name, force, limit, seconds, metres in (
            ("board", 112.2, "battery_regen", 3.866, 16.91),
            ("kart", 327.3, "motor_regen", 3.668, 15.42),
            ("bike", 62.51, "battery_regen", 10.71, 43.91),
        ):
            train, road = DESIGNS[name]
            emf = float(train.pack.emf_v(0.5))
            got, which = brake_force(train, road, 8.0, emf)
            self.near(got, force, name)
            self.assertEqual(which, limit)
            t, x = stopping(train, road, emf, 8.0)
            self.assertAlmostEqual(t, seconds, delta=0.005 * seconds)
            self.assertAlmostEqual(x, metres, delta=0.005 * metres)

    def test_e7_e8_closed_forms(self):
        self.near(BOARD.current_at_pack_limit_a(60.0, 533.3, BOARD.pack.emf_v(0.5), BOARD.pack_ohm(True)), 36.51)
        from dataclasses import replace

        bare = replace(BOARD, motor=replace(BOARD.motor, inductance_h=0.0), controller=replace(BOARD.controller, idle_w=0.0))
        self.near(bare.current_at_full_duty_a(1e3, 640.0, bare.pack.emf_v(0.5), bare.pack_ohm(True)), 27.78)

    def test_e9_soft_duty(self):
        from dataclasses import replace

        soft = replace(BOARD, controller=replace(BOARD.controller, duty_soft=0.85))
        emf = soft.pack.emf_v(0.5)
        got = edge(soft, BOARD_ROAD, 12.0, emf)
        self.near(got.force_n, 81.82)
        shaft = 2.4 * 12.0 / 0.045
        self.near(soft.bus(got.dc_current_a, shaft, emf, soft.pack_ohm(True))[2], 0.9167)
        self.near(top_speed(soft, BOARD_ROAD, emf).speed_m_s, 12.32)

    def test_e10_lift(self):
        from dataclasses import replace

        strong = replace(BOARD, controller=replace(BOARD.controller, motor_current_a=80.0))
        level = edge(strong, BOARD_ROAD, 2.0, strong.pack.emf_v(0.5))
        self.near(level.force_n, 308.9)
        self.assertEqual(LIMITS[int(level.limit)], "wheel_lift")
        self.near(edge(strong, BOARD_ROAD, 2.0, strong.pack.emf_v(0.5), grade=0.15).force_n, 305.5)

    def test_e11_low_voltage(self):
        emf = BOARD.pack.emf_v(0.02)
        got = edge(BOARD, BOARD_ROAD, 8.0, emf)
        self.assertEqual(LIMITS[int(got.limit)], "low_voltage")
        self.near(got.force_n, 68.65)
        volts, amps, _, _ = BOARD.bus(got.dc_current_a, 2.4 * 8.0 / 0.045, emf, BOARD.pack_ohm(True))
        self.near(volts, 30.71)
        self.near(amps, 21.18)

    def test_e12_sizing(self):
        self.near(kv_for_duty(0.82, 36.5, 533.3, 0.49, 0.04593), 173.6)

    def test_g1_range_at_a_steady_speed(self):
        for (train, road), km in (((BOARD, BOARD_ROAD), 47.84), ((KART, KART_ROAD), 54.15), ((BIKE, BIKE_ROAD), 82.26)):
            got = steady_range_m(train, road, speed_m_s=7.0, top=0.95, bottom=0.15) / 1e3
            self.assertAlmostEqual(got, km, delta=0.002 * km)
        got = steady_range_m(BIKE, BIKE_ROAD, speed_m_s=7.0, top=0.95, bottom=0.15, rider_w=100.0) / 1e3
        self.assertAlmostEqual(got, 207.7, delta=0.4)


def force_of(road) -> float:
    return float(road.resistance_n(8.0))


if __name__ == "__main__":
    unittest.main()
