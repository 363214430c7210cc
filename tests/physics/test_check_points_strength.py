"""Check points of the handbook's sections on shafts, hubs, bearings (e), and on brackets, wheels, materials (f)."""

import math
import random
import unittest

from wattagon.physics.strength import joints, mounts, prints, shafts


class ShaftTest(unittest.TestCase):
    def near(self, got, wanted, share=6e-4):
        self.assertLess(abs(got / wanted - 1.0), share, f"{got} is not {wanted}")

    def test_e1_e2_stress_round_and_with_a_flat(self):
        found = shafts.round_stress(0.008, 6.0, 3.0)
        for got, wanted in zip(found, (119.4e6, 29.84e6, 130.1e6), strict=True):
            self.near(got, wanted)
        flat = shafts.flat_section(0.008, 0.0008)
        self.near(flat.area, 47.65e-6)
        self.near(flat.along, 166.7e-12)
        self.near(flat.modulus, 43.79e-9)
        self.near(shafts.flat_stress(0.008, 0.0008, 6.0, 3.0).mises, 154.3e6)

    def test_e3_fatigue(self):
        self.near(shafts.endurance_pa(1000e6), 363.4e6)
        self.near(shafts.fatigue_factor(0.008, 6.0, 3.0, 1000e6), 1.495)
        self.near(shafts.fatigue_factor(0.008, 6.0, 3.0, 1000e6, swing=0.5), 1.474)

    def test_e4_to_e10_what_holds_a_wheel(self):
        key = joints.key_nm(0.008, 0.014, 100e6)
        self.near(key.shear, 6.720)
        self.near(key.pressure, 5.600)
        for size, wanted in ((3, 0.6), (4, 1.36), (5, 1.92), (6, 3.2)):
            self.near(joints.set_screw_usable_nm(size, 0.008), wanted)
        for size, wanted in ((3, 1.545), (4, 3.539), (5, 5.827), (6, 9.799)):
            self.near(joints.set_screw_usable_nm(size, 0.008, flat_m=0.0008), wanted, 2e-3)
        self.near(joints.set_screw_usable_nm(5, 0.008, 2), 3.840)
        self.near(joints.set_screw_nm(4, 0.008), 6.800)
        self.near(joints.preload_n(6), 8744.0)
        self.near(joints.tightening_nm(6, joints.preload_n(6)), 10.49)
        each = joints.preload_of_torque_n(5, 5.0)
        self.near(each, 5000.0)
        pressed = joints.slit_force_n(each, 2)
        self.near(joints.clamp_nm(pressed, 0.015, contact="line"), 31.50)
        self.near(joints.clamp_nm(pressed, 0.015), 40.11)
        self.near(joints.pin_nm(0.003, 0.012, 250e6), 21.21)
        self.near(joints.d_bore_nm(0.008, 0.0008, 0.012, 60e6), 1.382)

    def test_e11_to_e15_bearings(self):
        found = shafts.overhung(400.0, 0.025, 0.050)
        self.near(found.front, 600.0)
        self.near(found.rear, -200.0)
        self.near(found.bending, 10.0)
        self.near(shafts.sag_m(400.0, 0.025, 0.050, 0.008), 0.1516e-3)
        self.near(shafts.slope_rad(400.0, 0.025, 0.050, 0.008), 4.044e-3)
        both = shafts.straddled(400.0, 0.02, 0.02)
        for got, wanted in zip((both.front, both.outboard, both.bending), (200.0, 200.0, 4.0), strict=True):
            self.near(got, wanted)
        three = shafts.three_bearings(400.0, 0.02, 0.02, 0.05)
        for got, wanted in zip(three, (260.0, -26.67, 166.7, 3.333), strict=True):
            self.near(got, wanted)
        for rating, wanted in ((3300.0, 924.3), (4550.0, 2423.0), (1250.0, 50.23)):
            self.near(shafts.life_h(rating, 600.0, 3000.0), wanted)
        self.near(shafts.mean_load_n((600.0, 250.0), (3000.0, 4000.0), (0.1, 0.9)), 314.3)


class MountTest(unittest.TestCase):
    near = ShaftTest.near

    def test_f1_reaction_of_the_strands(self):
        found = mounts.reaction((0.0, 0.0), 0.012, (0.080, 0.010), 0.032, 300.0, 50.0)
        self.near(found.x, 344.1)
        self.near(found.y, -19.48)
        self.near(found.about_motor, 3.0)
        self.near(found.about_wheel, 8.0)

    def test_f2_f3_bolts(self):
        corners = [(0.0, 0.0), (0.040, 0.0), (0.040, 0.030), (0.0, 0.030)]
        for got, wanted in zip(mounts.bolt_loads_n(corners, (200.0, -500.0), (0.090, 0.020)), (232.6, 445.1, 491.2, 312.0), strict=True):
            self.near(got, wanted)
        for got, wanted in zip(mounts.overturning_n((0.010, 0.040), 20.0), (117.6, 470.6), strict=True):
            self.near(got, wanted)

    def test_bolts_of_any_pattern_answer_force_and_moment(self):
        rng = random.Random(11)
        for _ in range(200):
            bolts = [(rng.uniform(-0.1, 0.1), rng.uniform(-0.1, 0.1)) for _ in range(rng.randint(2, 8))]
            load, at = (rng.uniform(-900, 900), rng.uniform(-900, 900)), (rng.uniform(-0.2, 0.2), rng.uniform(-0.2, 0.2))
            found = mounts.bolt_vectors_n(bolts, load, at)
            for k in range(2):
                self.assertAlmostEqual(sum(vector[k] for vector in found), load[k], 6)
            turned = sum(x * fy - y * fx for (x, y), (fx, fy) in zip(bolts, found, strict=True))
            self.assertAlmostEqual(turned, at[0] * load[1] - at[1] * load[0], 6)

    def test_f4_f5_friction(self):
        self.near(mounts.slot_factor(4, 3000.0, 0.022, 350.0, 3.0), 4.792)
        # the screw whose shares lie in line is asked more than that mean
        around = [(0.022, 0.0), (0.0, 0.022), (-0.022, 0.0), (0.0, -0.022)]
        worst = max(mounts.bolt_loads_n(around, (350.0, 0.0), (0.0, 0.0), 3.0))
        self.near(0.15 * 3000.0 / worst, 450.0 / (350.0 / 4 + 3.0 / (4 * 0.022)))
        self.near(joints.clamp_nm(2.0 * joints.preload_n(6), 0.020, contact="line"), 52.46)

    def test_f6_dropouts(self):
        self.near(mounts.dropout_pa(0.012, 0.010, 0.006, 45.0), 1023e6)
        self.near(mounts.dropout_pa(0.014, 0.010, 0.006, 45.0), 468.8e6)
        self.near(45.0 / 0.110, 409.1)

    def test_f7_to_f10_arms(self):
        self.near(mounts.arm_force_n(60.0 * 2.5, 5, 0.105, 0.6), 476.2)
        self.near(mounts.arm_force_n(60.0 * 2.5, 5, 0.105, 1.0), 285.7)
        pair = mounts.bolt_pair_n(150.0, 0.120, 0.028, 0.046)
        self.near(pair.outer, 766.7)
        self.near(pair.inner, 616.7)
        self.near(mounts.tear_out_n(0.004, 0.009, 0.0052, 18e6), 921.6)
        self.near(mounts.net_section_n(0.016, 0.0052, 0.004, 30e6), 1296.0)
        self.near(mounts.bearing_pa(400.0, 0.0052, 0.004), 19.23e6)
        self.near(mounts.bar_pa(150.0 * 0.074, 0.008, 0.016, 0.0052), 33.68e6)
        self.near(mounts.bar_pa(150.0 * 0.074, 0.008, 0.016), 32.52e6)

    def test_f11_to_f15_prints_wood_proof_and_run(self):
        self.near(prints.allowable_pa(50e6, 4.0, 60.0), 12.5e6)
        self.near(prints.allowable_pa(50e6, 4.0, 60.0, 45.0), 5.068e6)
        self.near(prints.allowable_pa(24e6, 4.0, 80.0, 45.0), 3.684e6)
        self.near(prints.allowable_pa(45e6, 4.0, 150.0, 45.0, 0.30, 0.5), 1.395e6)
        bar = prints.printed_section(0.020, 0.012, 4 * 0.45e-3, 5 * 0.2e-3, 0.2)
        self.near(bar.area, 92.40e-6, 2e-3)
        self.near(bar.modulus, 275.0e-9, 2e-3)
        self.near(bar.solid, 480.0e-9)
        self.near(mounts.embedding_pa(0.006, 650.0), 67.21e6)
        self.near(prints.proof_kg(60.0, 2.0, 0.5, 0.8, 0.25), 24.07)
        self.near(prints.proof_kg(60.0, 2.0, 0.5, 0.8, 0.25, warm=prints.warm_share(60.0, 45.0)), 59.97)
        self.near(prints.proof_nm(prints.proof_kg(60.0, 2.0, 0.5, 0.8, 0.25), 0.5, 0.8, 0.25), 120.0)
        run = prints.timed_run(118.0, 9.0, 7.0, 0.10, 25.0, 1.8)
        self.near(run.mean, 17.67)
        self.near(run.peak, 20.37)

    def test_a_jam_runs_into_the_wind_up(self):
        self.near(prints.jam_nm(2.0, 3000 * math.pi / 30, 1.2e-4, 90.0), 34.65)  # the handbook's a9


if __name__ == "__main__":
    unittest.main()
