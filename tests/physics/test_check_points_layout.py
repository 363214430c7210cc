"""Check points of belts, chains, teeth, gaps and vibration."""

import math
import unittest

import numpy as np

from wattagon.physics import belt, chain, clearance, vibration
from wattagon.physics.belt import BeltKind
from wattagon.physics.outline import area, bolt_circle, circle, gaps, slot
from wattagon.physics.path import Round, loop_around, segments_apart, take_up
from wattagon.physics.teeth import GROOVES, groove, pulley, spoke_window, sprocket, sprocket_form


def kind(pitch, line, tooth, thick, mass, tension, stiff):
    return BeltKind(
        pitch_m=pitch / 1e3,
        line_m=line / 1e3,
        tooth_m=tooth / 1e3,
        thick_m=thick / 1e3,
        mass_kg_m2=mass * 1e3,
        tension_n_m=tension * 1e3,
        stiff_n_m=stiff * 1e3,
    )


FIVE = kind(5, 0.5715, 2.06, 3.80, 0.0041, 18, 8000)
THREE = kind(3, 0.381, 1.17, 2.40, 0.0025, 11, 5000)
EIGHT = kind(8, 0.686, 3.36, 6.00, 0.0062, 35, 15000)
D15, D40 = FIVE.pitch_diameter_m(15), FIVE.pitch_diameter_m(40)
HALF_INCH = 0.0127


class Near(unittest.TestCase):
    def near(self, found, wanted, figures=4):
        """To as many figures as the check point has."""
        self.assertAlmostEqual(found / wanted, 1.0, delta=0.6 * 10.0 ** (1 - figures), msg=f"{found} beside {wanted}")


class BeltTest(Near):
    def test_b1_b2_diameters(self):
        for teeth, pitch_d, outside in ((15, 23.87, 22.73), (40, 63.66, 62.52)):
            self.near(1e3 * FIVE.pitch_diameter_m(teeth), pitch_d)
            self.near(1e3 * FIVE.outside_diameter_m(teeth), outside)
        self.near(1e3 * EIGHT.outside_diameter_m(24), 59.74)
        self.near(1e3 * THREE.outside_diameter_m(20), 18.34)

    def test_b3_b4_b5_two_pulleys(self):
        at = belt.two_pulleys(D15, D40, 0.080)
        self.near(1e3 * at.length, 302.5)
        self.near(1e3 * at.span, 77.49)
        self.near(math.degrees(at.wrap_small), 151.2)
        self.assertEqual(belt.teeth_in_mesh(15, at.wrap_small), 6)
        centre = belt.centre_for(D15, D40, 0.300)
        self.near(1e3 * centre, 78.72)
        b = 600.0 - math.pi * 1e3 * (D15 + D40)
        rough = (b + math.sqrt(b * b - 8.0 * (1e3 * (D40 - D15)) ** 2)) / 8.0
        self.near(rough - 1e3 * centre, 0.01409, 3)
        far = belt.two_pulleys(D15, FIVE.pitch_diameter_m(72), 0.100)
        self.near(math.degrees(far.wrap_small), 126.1)
        self.near(15 * far.wrap_small / math.tau, 5.252)
        self.assertEqual(belt.mesh_factor(belt.teeth_in_mesh(15, far.wrap_small)), 0.8)
        self.assertEqual(belt.teeth_in_mesh(20, math.pi), 10)

    def test_b6_b7_b8_idlers_and_take_up(self):
        self.near(1e3 * FIVE.idler_radius_m(0.011, inside=True), 13.63)
        back = FIVE.idler_radius_m(0.011, inside=False)
        self.near(1e3 * back, 12.17)

        def at(down):
            return (Round(0, 0, D15 / 2), Round(0.095, 0.005, D40 / 2), Round(0.038, 0.028 - down, back, -1))

        loop = loop_around(at(0.0))
        self.assertTrue(loop.real)
        self.near(1e3 * loop.length, 333.0)
        for found, wanted in zip(loop.wraps, (165.3, 212.8, 18.06), strict=True):
            self.near(math.degrees(found), wanted)
        for span, wanted in zip(loop.spans, (93.03, 42.92, 40.58), strict=True):
            self.near(1e3 * span.length, wanted)
        found = take_up(at, 0.335, 0.0, 0.02)
        self.near(1e3 * found.travel, 4.826)
        self.assertEqual(belt.teeth_in_mesh(15, found.loop.wraps[0]), 7)
        self.near(math.degrees(found.loop.wraps[0]), 172.4)

    def test_b9_b10_forces(self):
        pull = 3.0 / (D15 / 2)
        rest = belt.installation_n(pull)
        self.near(pull, 251.3)
        self.near(rest, 161.6)
        two = belt.strands(rest, pull, 1.0, 1.0)
        self.near(two.tight_n, 287.2)
        self.near(two.slack_n, 35.90)
        self.near(belt.shaft_load_n(two.tight_n, two.slack_n, math.radians(151.2)), 319.2)
        uneven = belt.strands(rest, pull, 0.100, 0.300)
        self.near(uneven.tight_n, 350.1)
        self.near(uneven.slack_n, 98.74)

    def test_b11_b12_b13_width_and_tone(self):
        for width, mesh, speed, wanted in ((9, 6, 0, 140.1), (15, 6, 0, 250.8), (25, 6, 0, 449.0), (15, 4, 0, 150.5), (15, 6, 20, 226.2)):
            self.near(belt.capacity_n(FIVE, width / 1e3, mesh, speed), wanted)
        pull = 3.0 / (D15 / 2)
        self.assertEqual(belt.narrowest_m(FIVE, (0.009, 0.015, 0.025), pull, pull, 7, 0.0), 0.025)
        span = belt.two_pulleys(D15, D40, belt.centre_for(D15, D40, 0.300)).span
        tone = belt.tone_hz(FIVE, 0.015, 150.0, span)
        self.near(tone, 324.2)
        self.near(belt.tension_of_tone_n(FIVE, 0.015, tone, span), 150.0)
        self.near(belt.push_n(FIVE, 0.015, 150.0, span, 0.300, span / 64.0), 10.30)

    def test_b14_to_b18_jump_slot_wind_up(self):
        short = belt.jump(FIVE, 0.015, 15, 6, 0.300, 150.0, 0.0005e-3)
        for found, wanted in zip(short, (3.581, 14.57, 9.669), strict=True):
            self.near(found, wanted)
        long = belt.jump(FIVE, 0.015, 15, 6, 1.200, 150.0, 0.002e-3, 60.0)
        self.near(long.loose_nm, 3.008)
        self.near(long.jump_nm, 5.315)
        travel = belt.slot_travel(FIVE, 0.015, 15, 40, 0.300, 150.0, 0.0015)
        for found, wanted in zip(travel, (73.61, 78.72, 79.31), strict=True):
            self.near(1e3 * found, wanted)
        self.near(belt.wind_up_nm_rad(FIVE, 0.015, 15, 0.300), 228.0)
        self.near(1e3 * FIVE.least_idler_m(18, inside=True), 63.66)
        self.near(1e3 * FIVE.least_idler_m(18, inside=False), 37.24)
        self.assertEqual(belt.most_teeth(FIVE, 0.050, 0.010), 48)


class ChainTest(Near):
    def test_c1_c2_c3_length(self):
        self.near(1e3 * chain.sprocket_diameter_m(HALF_INCH, 11), 45.08)
        self.near(1e3 * chain.sprocket_diameter_m(HALF_INCH, 60), 242.7)
        found = chain.links_around(HALF_INCH, 11, 60, 0.400).links
        self.near(found, 100.4)
        self.near(found - chain.customary_links(HALF_INCH, 11, 60, 0.400), 0.01004, 3)
        self.assertEqual(chain.even(found), 102)
        centre = chain.centre_of_links_m(HALF_INCH, 11, 60, 102)
        self.near(1e3 * centre, 410.3)
        self.near(1e3 * (chain.customary_centre_m(HALF_INCH, 11, 60, 102) - centre), 0.06080, 3)

    def test_c4_to_c7_ripple_load_life(self):
        for teeth, wanted in ((9, 0.06155), (11, 0.04106), (17, 0.01712), (21, 0.01121)):
            self.near(chain.ripple(teeth), wanted)
        self.near(40.0 / (0.5 * chain.sprocket_diameter_m(HALF_INCH, 11)), 1775.0)
        pull = chain.chain_pull_n(40.0, HALF_INCH, 11, 0.60, 5.0)
        self.near(pull, 1865.0)
        self.near(13900.0 / pull, 7.455)
        strong = chain.lasting_power(HALF_INCH, 15, 1500.0)
        self.near(strong.plates_w, 5137.0)
        self.near(strong.rollers_w, 7281.0)
        quick = chain.lasting_power(0.008, 11, 6000.0, roller_factor=29.0)
        self.near(quick.plates_w, 3203.0)
        self.near(quick.rollers_w, 673.6)

    def test_c8_c9_c10_suspension_sag_tensioner(self):
        angles = [math.radians(a) for a in (-12, -6, 0, 6, 12)]
        lengths, growth = chain.growth_m(HALF_INCH, 14, 48, (0.0, 0.0), 0.420, (-0.060, 0.025), angles)
        for found, wanted in zip(lengths, (1372, 1369, 1365, 1360, 1354), strict=True):
            self.near(1e3 * found, wanted)
        self.near(1e3 * growth, 18.02)
        self.assertLess(chain.growth_m(HALF_INCH, 14, 48, (0.0, 0.0), 0.420, (0.0, 0.0), angles)[1], 1e-9)
        sag = chain.sag_m(0.004, 0.400)
        self.near(1e3 * sag, 24.49)
        self.near(chain.hanging_n(0.6, 0.400, sag), 4.804)
        radius = lambda z: 0.5 * chain.sprocket_diameter_m(HALF_INCH, z)
        fixed = Round(0.0, 0.0, radius(14)), Round(0.426, 0.0, radius(48))
        found = chain.sprung_arm(fixed, (14, 48, 11), HALF_INCH, (0.120, 0.060), 0.070, 100, 3.0, math.radians(-60), math.radians(20))
        self.near(math.degrees(found.angle), -26.77)
        self.near(math.degrees(found.loop.wraps[0]), 177.9)
        self.near(math.degrees(found.loop.wraps[2]), 29.73)
        self.near(found.slack_n, 101.3)


class TeethTest(Near):
    def test_d1_to_d4_grooves(self):
        rows = (
            ("5M", 5, 0.5715, 20, 0.00, 15.34, 14.74, 1.900, 14.82, 7.304, 0.9082, 632.6, True),
            ("5M", 5, 0.5715, 20, 0.10, 15.34, 14.74, 2.000, 14.81, 7.691, 0.7010, 620.8, True),
            ("5M", 5, 0.5715, 12, 0.00, 8.978, 8.378, 1.900, 8.365, 12.80, 0.6904, 189.4, False),
            ("8M", 8, 0.686, 24, 0.00, 29.87, 28.97, 3.300, 28.98, 6.495, 1.048, 2434, True),
        )
        for name, pitch, line, teeth, loose, outside, bottom, x, y, mouth, land, whole, straight in rows:
            found = groove(GROOVES[name], pitch, line, teeth, loose)
            pairs = ((found.outside, outside), (found.bottom_y, bottom), (found.fillet_x, x), (found.fillet_y, y), (found.land, land))
            for a, b in pairs:
                self.near(a, b)
            self.near(math.degrees(found.mouth), mouth)
            self.assertEqual(found.straight, straight)
            made = pulley(GROOVES[name], pitch, line, teeth, loose)
            self.assertLess(gaps(made), 1e-9)
            self.near(area(made), whole)

    def test_d5_d6_d7_sprockets(self):
        s = sprocket_form(12.7, 7.92, 17)
        pairs = (
            (s.seat_y, 34.62),
            (s.R, 4.018),
            (s.E, 10.35),
            (s.F, 6.568),
            (s.yz, 0.9302),
            (s.M, 4.957),
            (s.T, 3.947),
            (s.W, 10.90),
            (s.V, 2.037),
            (math.degrees(s.A), 38.53),
            (math.degrees(s.B), 14.71),
            (s.outside, 75.56),
            (s.pointed, 77.15),
            (s.least_outside, 72.70),
            (s.most_outside, 77.07),
            (s.caliper, 60.90),
        )
        for a, b in pairs:
            self.near(a, b)
        made = sprocket(12.7, 7.92, 17)
        self.assertLess(gaps(made), 1e-9)
        self.near(area(made), 3482)
        small = sprocket_form(8.0, 5.0, 9)
        for a, b in ((small.pitch_diameter, 23.39), (small.outside, 26.78), (small.caliper, 18.04)):
            self.near(a, b)
        self.near(area(sprocket(8.0, 5.0, 9)), 371.6)

    def test_d8_d9_windows_and_bolts(self):
        window = spoke_window(20.0, 50.0, 5, 10.0, 4.0)
        self.assertLess(gaps(window), 1e-9)
        self.near(-area(window), 1005)
        holes = bolt_circle(5, 30.0)
        self.near(math.dist(holes[0], holes[1]), 35.27)
        self.near(-area(circle(3, 4, 2.0, hole=True)), 4.0 * math.pi)
        self.near(-area(slot(10, 5, 12.0, 4.0, 0.3)), 48.0 + 4.0 * math.pi)


class GapTest(Near):
    def test_g1_to_g4(self):
        self.near(1e3 * clearance.pulley_over_ground(0.045, 0.033, 0.012), 12.00)
        self.near(1e3 * clearance.pulley_over_ground(0.045, 0.033, 0.012, math.radians(10.0)), 9.734)
        self.near(math.degrees(clearance.touches_at_rad(0.045, 0.033, 0.012)), 45.0)
        left = clearance.side_by_side_m(0.178, (0.077, 0.077), 0.010)
        self.near(1e3 * left, 14.0)
        found = clearance.gap(left, (0.001, 0.0005, 0.0005, 0.0003, 0.0003))
        self.near(1e3 * found.worst_by, 2.600)
        self.near(1e3 * found.likely_by, 1.296)
        self.near(1e3 * clearance.circles_apart((0, 0), 0.032, (0.088, 0.010), 0.050), 6.566)
        self.near(1e3 * segments_apart((0, 0.020), (0.090, 0.040), (0.030, 0.045), (0.060, 0.060)), 17.90)

    def test_g5_g6_trucks(self):
        steer, turn = clearance.steer_rad(math.radians(45.0), math.radians(18.0))
        self.near(math.degrees(steer), 17.17)
        self.near(math.degrees(turn), 24.68)
        ends = np.array([[-0.070, 0.060, -0.012], [-0.070, -0.060, -0.012]])
        least = clearance.under_deck(ends, 0.025, math.radians(45.0), (0.0, 0.0, -0.030), 0.030, math.radians(18.0))
        self.near(1e3 * least, 3.304)
        self.near(1e3 * clearance.under_deck(ends, 0.025, math.radians(45.0), (0.0, 0.0, -0.030), 0.030, 0.0), 17.00)

    def test_g7_g8_g9_cases_and_cranks(self):
        angle, at = clearance.break_over_rad(0.720, 0.045, ((0.220, 0.055), (0.520, 0.055)), 1001)
        self.near(math.degrees(angle), 17.54)
        self.assertAlmostEqual(1e3 * at, 360.0, delta=0.5)
        self.near(1e3 * clearance.crest_rise_m(2.0, 0.720), 32.67)
        self.near(1e3 * clearance.inside_crank_m(0.165, 0.014, 0.055), 13.50)
        self.near(math.degrees(clearance.pedal_lean_rad(0.285, 0.170, 0.0, 0.190)), 31.18, 3)


class VibrationTest(Near):
    def test_h1_to_h7(self):
        stiff = vibration.overhung_n_m(0.008, 0.025, 0.050)
        self.near(stiff / 1e3, 2638)
        self.near(vibration.critical_rpm(stiff, 0.12), 44770)
        self.near(vibration.critical_rpm(vibration.SOFT * stiff, 0.12), 34680)
        self.near(vibration.between_n_m(0.008, 0.020, 0.020) / 1e3, 30910)
        bare = vibration.bare_rpm(0.010, 0.400)
        self.near(bare, 7525)
        self.near(vibration.together_rpm(bare, 15000.0), 6726)
        self.near(vibration.imbalance_n(0.5, 0.05e-3, 6000.0), 9.870)
        self.near(vibration.imbalance_n(0.5, 0.05e-3, 3000.0), 2.467)
        self.near(1e3 * vibration.allowed_off_m(6.3, 5000.0), 0.01203)
        self.near(vibration.imbalance_n(0.5, vibration.allowed_off_m(6.3, 5000.0), 5000.0), 1.649)
        at = vibration.orders(4200.0, 15, 40, 60)
        for found, wanted in zip(at, (70.0, 26.25, 17.5, 1050.0), strict=True):
            self.near(found, wanted)
        self.near(vibration.rings_at_rpm(180.0, 1.0), 10800)
        self.near(vibration.rings_at_rpm(180.0, 2.0), 5400)
        self.near(vibration.rings_at_rpm(180.0, 15 / 40), 28800)


if __name__ == "__main__":
    unittest.main()
