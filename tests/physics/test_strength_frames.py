"""Seams, corners, drilled tubes, splines, teeth, blades, spokes: against statics by hand, limits, and what must grow with what."""

import math
import unittest

from wattagon.physics.strength import frames


class FramesTest(unittest.TestCase):
    def near(self, value, wanted, share=1e-3):
        self.assertAlmostEqual(value / wanted, 1.0, delta=share)

    def test_seams_by_statics(self):
        # 60 N m as a couple 30 mm apart is 2000 N on each seam, half of 400 N beside it: 2200 N over 3 x 50 mm2
        self.near(frames.seam_pa(60.0, 400.0, 0.030, 0.050, 0.003), 2200.0 / 150.0 * 1e6)
        self.near(frames.weld_pa(360e6, 0.8), 259.8e6)

    def test_a_corner_slips_at_its_friction(self):
        self.near(frames.corner_nm(3000.0, 4, 0.02, 0.15), 36.0)

    def test_a_tube_against_the_exact_ring_and_its_hole_by_integration(self):
        outer, wall, hole = 0.032, 0.0015, 0.006
        ring = math.pi / 64.0 * (outer**4 - (outer - 2 * wall) ** 4)
        self.near(frames.tube_pa(50.0, outer, wall), 50.0 * 0.5 * outer / ring, 1e-12)
        # what a hole through one wall takes off the second moment, in thin strips
        steps, taken, middle = 2000, 0.0, 0.5 * (outer - wall)
        half = math.asin(0.5 * hole / middle)
        for k in range(steps):
            turn = -half + (k + 0.5) * 2.0 * half / steps
            taken += wall * middle * (2.0 * half / steps) * (middle * math.cos(turn)) ** 2
        self.near(frames.tube_pa(50.0, outer, wall, hole), 50.0 * 0.5 * outer / (ring - taken), 0.01)
        for wall in (0.0, -0.001, 0.02):
            with self.assertRaisesRegex(ValueError, "wall"):
                frames.tube_pa(50.0, outer, wall)

    def test_a_spline_bears_its_side_area(self):
        # 10 teeth, 20 mm: module 2, 1.6 mm high, 25 long, half of them at 100 MPa, at 10 mm
        self.near(frames.spline_nm(0.020, 10, 0.025, 100e6), 0.5 * 100e6 * 0.0016 * 0.025 * 10 * 0.010)

    def test_lewis_teeth(self):
        self.near(frames.lewis_pa(500.0, 0.002, 20, 0.015), 500.0 / (0.015 * 0.002 * (0.484 - 2.87 / 20)))
        stress = [frames.lewis_pa(500.0, 0.002, teeth, 0.015) for teeth in (9, 12, 20, 60)]
        self.assertEqual(stress, sorted(stress, reverse=True), "more teeth, broader roots")

    def test_a_blade_by_hand(self):
        # 3 blades, R 100, hub 20: 50 N each at 50 mm beyond the root
        flap = 50.0 * 0.05 / (math.pi * 0.04 * 0.008**2 / 32.0)
        edge = 4.0 / (3 * 0.07) * 0.05 / (math.pi * 0.008 * 0.04**2 / 32.0)
        self.near(frames.blade_pa(150.0, 4.0, 3, 0.1, 0.02, 0.04, 0.008), flap + edge)

    def test_torque_of_spokes_balances(self):
        each = frames.spoke_n(40.0, 36, 0.03)
        self.near(each * 36 * 0.03, 40.0)


if __name__ == "__main__":
    unittest.main()
