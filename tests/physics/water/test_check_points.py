"""Worked check points of boats: hulls, planing, tow tests, propellers, limits, shafts."""

import math
import unittest

import numpy as np

from wattagon.errors import InputError
from wattagon.physics.water import limits
from wattagon.physics.water.hull import (
    air_n,
    floating_n,
    friction_coefficient,
    slenderness,
    transom_n,
    wall_speed_m_s,
    wave_factor,
    wetted_surface_m2,
)
from wattagon.physics.water.planing import blend, planing, planing_at
from wattagon.physics.water.propeller import (
    Blades,
    blade_drag,
    chord_ratio,
    disc_loading,
    ideal_bollard_n,
    ideal_efficiency,
    open_water,
    outline_factor,
    sections,
    slip,
    thickness_ratio,
    thrust_n,
    torque_nm,
)
from wattagon.physics.water.tow import fit_tow, other_load
from wattagon.physics.water.water import water

FRESH = water()
KAYAK = {"mass_kg": 112.0, "length_m": 4.9, "surface_factor": 2.65, "form": 0.10, "hull_factor": 1.0, "medium": FRESH}
LAUNCH = {
    "mass_kg": 27215.54,
    "beam_m": 4.2672,
    "deadrise_deg": 10.0,
    "lcg_m": 8.8392,
    "vcg_m": 0.6096,
    "medium": FRESH,
    "shaft_deg": 4.0,
    "thrust_below_m": 0.1524,
}
SKIFF = {"mass_kg": 250.0, "beam_m": 1.3, "deadrise_deg": 10.0, "lcg_m": 1.1, "vcg_m": 0.0, "medium": FRESH}


class CheckPointsTest(unittest.TestCase):
    def near(self, value, wanted, share=0.005):
        self.assertLessEqual(abs(float(value) - wanted), share * abs(wanted) + 1e-12, f"{float(value):.6g} is not {wanted:g}")

    def test_friction_waves_and_the_wall(self):
        for reynolds, wanted in ((1e6, 0.004687), (1e7, 0.003), (3e7, 0.0025)):
            self.near(friction_coefficient(reynolds), wanted)
        self.assertEqual(friction_coefficient(10.0), friction_coefficient(1e5))
        self.near(wall_speed_m_s(4.0), 2.5052)
        for froude, wanted in ((0.3, 0.00262), (0.4, 0.01384), (0.5, 0.02897), (0.6, 0.03663)):
            self.near(wave_factor(froude, 7.0), wanted)

    def test_kayak(self):
        volume = 112.0 / FRESH.kg_m3
        self.near(wetted_surface_m2(2.65, volume, 4.9), 1.9640)
        self.near(slenderness(4.9, volume), 10.162)
        skin, waves, transom = floating_n(2.0, **KAYAK)
        self.near(skin, 13.296)
        self.near(waves, 0.942)
        self.assertEqual(transom, 0.0)
        for speed, wanted in ((1.0, 3.778), (1.5, 8.004), (2.0, 14.238), (2.5, 23.768), (3.0, 36.848)):
            self.near(sum(floating_n(speed, **KAYAK)), wanted)
        speeds = np.array([1.0, 2.5])
        self.near(sum(floating_n(speeds, **KAYAK))[1], 23.768)

    def test_twin_hull_transom_and_air(self):
        twin = {**KAYAK, "mass_kg": 300.0, "length_m": 4.5}
        skin, waves, _ = floating_n(2.5, **twin, hulls=2, interference=1.15)
        self.near(skin, 44.981)
        self.near(waves, 22.361)
        self.near(transom_n(2.0, 0.05, 1.0, FRESH), 9.1533)
        self.assertEqual(float(transom_n(30.0, 0.05, 1.0, FRESH)), 0.0, "dry from a speed on")
        self.near(air_n(2.0, 6.0, 0.6), 23.52)
        self.assertLess(air_n(2.0, -6.0, 0.6), 0.0)

    def test_planing_held_at_a_trim(self):
        for trim, ratio, pressure, skin, drag in ((2.0, 3.8373, 0.5825, 32564.0, 41904.0), (3.0, 2.5799, 0.6530, 22672.0, 36691.0)):
            found = planing_at(20.57776, trim, **LAUNCH)
            self.near(found.lift0, 0.08400)
            for value, wanted in zip(
                (found.wetted_ratio, found.pressure_at, found.friction_n, found.drag_n), (ratio, pressure, skin, drag), strict=True
            ):
                self.near(value, wanted)

    def test_planing_in_balance(self):
        found = planing(20.57776, **LAUNCH)
        for value, wanted in zip((found.trim_deg, found.wetted_ratio, found.drag_n), (2.2650, 3.4389, 40053.0), strict=True):
            self.near(value, wanted)
        skiff = planing(7.0, **SKIFF)
        for value, wanted in zip(
            (skiff.trim_deg, skiff.wetted_ratio, skiff.bottom_m_s, skiff.drag_n), (4.0317, 1.2288, 6.8574, 342.654), strict=True
        ):
            self.near(value, wanted)

    def test_the_hump_and_what_moves_it(self):
        speeds = np.array([2.0, 3.0, 4.0, 5.0, 6.0, 7.0, 9.0])
        curves = {0.8: (61.2, 212.9, 359.8, 408.3, 366.5, 342.2, 346.2), 1.1: (61.2, 212.9, 303.3, 341.6, 337.8, 342.7, 388.2)}
        hull = {"mass_kg": 250.0, "length_m": 3.2, "surface_factor": 3.2, "form": 0.15, "hull_factor": 1.0, "medium": FRESH}
        for weight, wanted in curves.items():
            share = blend(speeds, 250.0 / FRESH.kg_m3)
            total = (1.0 - share) * sum(floating_n(speeds, **hull)) + share * planing(speeds, **{**SKIFF, "lcg_m": weight}).drag_n
            for value, figure in zip(total, wanted, strict=True):
                self.near(value, figure)

    def test_tow(self):
        tow = fit_tow([2.0, 1.0, 2.5, 1.5], [17.5, 4.2, 33.0, 9.0])
        self.near(tow.factor, 3.9573)
        self.near(tow.exponent, 2.2278)
        self.near(tow.worst, 0.085, 0.01)
        self.assertTrue(tow.by_curve and tow.usual)
        for value, wanted in zip(tow.pull([0.5, 1.25, 1.75, 2.25, 2.75]), (1.05, 6.3581, 12.6445, 24.2474, 43.2690), strict=True):
            self.near(value, wanted)
        self.near(tow.trusted_m_s, 2.75)
        self.near(other_load(10.0, 110.0, 100.0), 10.0 * 1.1**0.8)

    def test_a_tow_through_noise_finds_its_law(self):
        draw, missed = np.random.default_rng(3), 0
        for _ in range(60):
            speeds = np.sort(draw.uniform(1.0, 3.0, 3))
            if np.diff(speeds).min() < 0.15:
                continue
            tow = fit_tow(speeds, 5.0 * speeds**2.2 * (1.0 + 0.02 * draw.standard_normal(3)))
            missed += abs(float(tow.law_n(2.0)) / (5.0 * 2.0**2.2) - 1.0) > 0.04
            rises = np.diff(tow.pull(np.linspace(0.1, 3.5, 80)))
            self.assertTrue((rises > 0.0).all(), "more speed, more pull")
        self.assertLess(missed, 6)

    def test_tows_that_are_refused(self):
        for speeds, pulls in (([1.0], [4.0]), ([1.0, 1.0], [4.0, 5.0]), ([1.0, 0.0], [4.0, 1.0]), ([1.0, 2.0], [4.0, -1.0])):
            with self.assertRaises(InputError):
                fit_tow(speeds, pulls)

    def test_blades(self):
        self.near(outline_factor(0.2), 2.36095, 1e-5)
        self.near(outline_factor(0.3), 2.67147, 1e-5)
        shape = Blades(diameter_m=1.0, pitch_m=1.0, blades=3, area_ratio=0.5)
        self.near(chord_ratio(shape, 0.7), 0.37389)
        self.near(thickness_ratio(shape, 0.7), 0.01710)
        at = sections(shape, 0.0085, np.array([0.7]), np.array([0.7]))
        for value, wanted in zip((np.degrees(at.phi), at.lift, at.speed, at.loading), (22.7127, 0.23675, 2.28607, 0.37579), strict=True):
            self.near(value[0, 0], wanted)
        two = Blades(diameter_m=0.20, pitch_m=0.15, blades=2, area_ratio=0.35)
        reynolds, drag = blade_drag(two, 15.0, 1.8, FRESH, 1.15)
        self.near(reynolds, 471407.0)
        self.near(drag, 0.012784)

    def test_open_water(self):
        rows = (
            (2, 0.30, 0.60, (0.2004, 0.1899, 0.1258, 0.1358, 0.0790, 0.0953), 0.6659, 0.624, 0.53),
            (2, 0.35, 0.75, (0.2612, 0.2897, 0.1624, 0.2059, 0.0987, 0.1395), 0.8084, 0.666, 0.65),
            (3, 0.50, 0.60, (0.2395, 0.2329, 0.1470, 0.1650, 0.0898, 0.1156), 0.6523, 0.569, 0.50),
            (3, 0.50, 0.80, (0.3255, 0.3834, 0.2023, 0.2741, 0.1221, 0.1857), 0.8558, 0.654, 0.69),
            (3, 0.50, 1.00, (0.4005, 0.5547, 0.2529, 0.4061, 0.1520, 0.2718), 1.0601, 0.705, 0.87),
            (3, 0.65, 1.20, (0.4947, 0.7883, 0.3124, 0.5857, 0.1831, 0.3849), 1.2460, 0.713, 1.03),
            (4, 0.55, 0.80, (0.3464, 0.4107, 0.2171, 0.2964, 0.1325, 0.2032), 0.8619, 0.650, 0.69),
        )
        for blades, area, pitch, wanted, none, best, at in rows:
            found = open_water(Blades(diameter_m=1.0, pitch_m=pitch, blades=blades, area_ratio=area), 0.0085)
            values = [value for share in (0.0, 0.5, 0.75) for value in (found.at(share * pitch)[0], 10.0 * found.at(share * pitch)[1])]
            for value, figure in zip(values, wanted, strict=True):
                self.near(value, figure, 0.01)
            self.near(found.no_thrust, none)
            advance, efficiency = found.best()
            self.near(efficiency, best, 0.01)
            self.near(advance, at, 0.02)

    def test_thrust_slip_and_ideals(self):
        found = open_water(Blades(diameter_m=0.20, pitch_m=0.15, blades=2, area_ratio=0.35), 0.0125)
        thrust, torque = found.at(2.0 / (20.0 * 0.20))
        self.near(thrust_n(thrust, 20.0, 0.20, FRESH.kg_m3), 76.713, 0.01)
        self.near(torque_nm(torque, 20.0, 0.20, FRESH.kg_m3), 2.1934, 0.01)
        self.near(ideal_bollard_n(500.0, 0.25, FRESH.kg_m3), 290.52)
        self.near(slip(6.0, 2000.0 / 60.0, 9 * 0.0254), 0.2126)
        self.near(ideal_efficiency(disc_loading(76.713, 2.0, 0.20, FRESH.kg_m3)), 2.0 / (1.0 + math.sqrt(1.0 + 1.222)), 0.01)

    def test_cavitation_and_blades_that_bend(self):
        found = limits.cavitation(
            390.0, 50.0, 8.3, diameter_m=0.19, pitch_m=0.20, area_ratio=0.55, blades=3, depth_m=0.2, medium=FRESH, allowance=0.2
        )
        for value, wanted in zip(found, (0.4024, 0.1199, 0.1594, 0.4340, 30.98), strict=True):
            self.near(value, wanted)
        root = limits.blade_root(
            180.0, 4.1, 21.0, diameter_m=0.20, pitch_m=0.15, blades=2, at=0.2, chord_m=0.030, thickness_m=0.008, blade_kg=0.012
        )
        for value, wanted in zip(root, (3.9851, 18.16e6, 27.24e6, 0.0653e6), strict=True):
            self.near(value, wanted)

    def test_shafts_tails_and_how_a_boat_leans(self):
        self.near(limits.whirl_turns_s(0.010, 1.2), 13.765)
        self.near(limits.whirl_turns_s(0.010, 1.2, 300.0), 10.247)
        for value, wanted in zip(limits.long_tail(1.5, math.radians(15.0), 0.15, 200.0), (0.2382, 1.4489, 193.19, 51.76), strict=True):
            self.near(value, wanted)
        self.near(np.degrees(limits.heel_rad(8.0, 200.0, 0.25)), 0.935)
        self.near(np.degrees(limits.trim_rad(300.0, 0.4, 250.0, 3.2, 1.3, FRESH.kg_m3)), 0.359)
        self.near(limits.bearing_hours(6000.0, 400.0, 2000.0), 28125.0)
        for rpm, wanted in ((3000.0, 18.92), (6000.0, 151.35)):
            self.near(limits.wet_rotor_w(0.030, 0.030, rpm * math.tau / 60.0, FRESH.kg_m3), wanted)
        self.near(limits.foam_m3([(60.0, 2700.0), (15.0, 7000.0), (20.0, 2500.0)], FRESH.kg_m3), 0.0841)
        self.assertEqual(limits.foam_m3([(60.0, 600.0), (15.0, 7000.0), (20.0, 2500.0)], FRESH.kg_m3), 0.0)

    def test_other_waters(self):
        sea, cold = water(salt=True), water(celsius=4.0)
        self.near(sea.kg_m3, 1026.0)
        self.near(sea.m2_s, 1.188e-6)
        self.near(cold.m2_s, 1.567e-6, 0.01)  # of the ITTC's table
        self.near(water(celsius=25.0).m2_s, 0.893e-6, 0.01)
        self.near(water(celsius=25.0).kg_m3, 997.0, 0.001)
        self.near(water(celsius=25.0).vapour_pa, 3169.0, 0.01)


if __name__ == "__main__":
    unittest.main()
