"""A drive on a boat: worked matches, what every boat keeps to, and batches against one by one."""

import math
import unittest
from dataclasses import replace

import numpy as np

from wattagon.physics.arrays import stack
from wattagon.physics.controller import Controller
from wattagon.physics.curves import Curve
from wattagon.physics.envelope import edge, top_speed
from wattagon.physics.held import holding
from wattagon.physics.load import Load
from wattagon.physics.motor import Motor
from wattagon.physics.pack import Pack
from wattagon.physics.powertrain import LIMITS, Powertrain
from wattagon.physics.reduction import Stage, combine
from wattagon.physics.water.boat import SPEEDS, Boat, screw_of
from wattagon.physics.water.hull import floating_n
from wattagon.physics.water.planing import blend, planing
from wattagon.physics.water.propeller import Blades, open_water
from wattagon.physics.water.water import water

FRESH = water()
FASTEST = 12.0
SPEED = np.linspace(0.0, FASTEST, SPEEDS)
SEAL = [Stage(kind="direct", ratio=1.0, efficiency=1.0, drag_nm=0.02)]
GEARED = [Stage(kind="gear", ratio=1.6, efficiency=0.95, drag_nm=0.0)]


def curve(values):
    return Curve(FASTEST / (SPEEDS - 1), values)


def screw(diameter, pitch, drag, **shape):
    return screw_of(diameter, pitch, open_water(Blades(diameter_m=diameter, pitch_m=pitch, **shape), drag))


def kayak(propeller, **changes):
    moving = np.maximum(SPEED, 1e-6)
    hull = sum(floating_n(moving, mass_kg=112.0, length_m=4.9, surface_factor=2.65, form=0.10, hull_factor=1.0, medium=FRESH))
    boat = Boat(mass_kg=112.0, hull=curve(hull), screw=propeller, wake=0.05, deduction=0.05, drag_area_m2=0.35)
    return replace(boat, **changes)


def skiff():
    moving, share = np.maximum(SPEED, 1e-6), blend(SPEED, 250.0 / FRESH.kg_m3)
    floats = sum(floating_n(moving, mass_kg=250.0, length_m=3.2, surface_factor=3.2, form=0.15, hull_factor=1.0, medium=FRESH))
    planes = planing(np.maximum(SPEED, 0.5), mass_kg=250.0, beam_m=1.3, deadrise_deg=10.0, lcg_m=0.8, vcg_m=0.0, medium=FRESH).drag_n
    propeller = screw(0.19, 0.20, 0.0089, blades=3, area_ratio=0.55, hub_ratio=0.3)
    hull = curve((1.0 - share) * floats + share * planes)
    return Boat(mass_kg=250.0, hull=hull, screw=propeller, wake=0.05, deduction=0.05, drag_area_m2=0.6)


def drive(kv, ohm, bridge, idle, pack, limit, stages, duty):
    return Powertrain(
        motor=Motor(kv_rpm_per_v=kv, resistance_ohm=ohm, no_load_a=idle, magnet_per_k=0.0),
        controller=Controller(motor_current_a=limit / (math.sqrt(3.0) / 2.0), duty_max=duty, bridge_ohm=bridge),
        pack=Pack(chemistry="nmc_energy", series=1, parallel=1, cell_ah=10.0, cell_r0_ohm=1e-9, wiring_ohm=pack),
        reduction=combine(stages),
    )


def first(duty):
    return drive(90.0, 0.12, 0.01, 1.0, 0.03, 40.0, SEAL, duty)


SMALL = screw(0.20, 0.15, 0.0125, blades=2, area_ratio=0.35)
BIG = screw(0.28, 0.21, 0.0125, blades=2, area_ratio=0.35)


class MatchTest(unittest.TestCase):
    def near(self, value, wanted, share=0.01):
        self.assertLessEqual(abs(float(value) - wanted), share * abs(wanted), f"{float(value):.6g} is not {wanted:g}")

    def match(self, train, boat, emf, wanted, limit):
        """wanted: speed [m/s], rpm of the propeller, motor current [A], power of the pack's terminals [W]."""
        found = top_speed(train, boat, emf)
        speed = float(found.speed_m_s)
        held = holding(train, boat, speed)
        volts, amps, _, _ = train.bus(held.current_a, held.shaft_rad_s, emf, train.pack_ohm(True))
        rpm = float(held.shaft_rad_s) / float(train.reduction.ratio) * 60.0 / math.tau
        for value, figure in zip((speed, rpm, float(held.current_a), float(volts * amps)), wanted, strict=True):
            self.near(value, figure)
        self.assertEqual(LIMITS[int(found.limit)], limit)

    def test_worked_matches(self):
        for duty, wanted in (
            (0.5, (2.317, 971.3, 8.78, 104.8)),
            (0.75, (3.259, 1388.3, 17.53, 310.3)),
            (1.0, (4.192, 1770.4, 27.05, 627.3)),
        ):
            self.match(first(duty), kayak(SMALL), 24.0, wanted, "duty")
        slow = drive(60.0, 0.12, 0.01, 0.8, 0.03, 40.0, SEAL, 0.75)
        self.match(slow, kayak(BIG), 24.0, (3.242, 909.8, 19.32, 341.4), "duty")
        self.match(first(0.75), kayak(BIG), 24.0, (3.880, 1086.0, 40.0, 690.7), "motor_current")

    def test_what_clears_the_top_speed_may_not_clear_the_hump(self):
        for amps, wanted, limit in (
            (90.0, (3.760, 1960.6, 90.0, 2842.0), "motor_current"),
            (150.0, (8.719, 3004.5, 116.6, 5559.0), "duty"),
        ):
            self.match(drive(110.0, 0.03, 0.004, 3.0, 0.02, amps, GEARED, 1.0), skiff(), 50.0, wanted, limit)
        weak, over = drive(110.0, 0.03, 0.004, 3.0, 0.02, 112.0, GEARED, 1.0), np.linspace(5.5, 8.5, 60)
        self.assertLess(float(top_speed(weak, skiff(), 50.0).speed_m_s), 5.0)
        spare = edge(weak, skiff(), over, 50.0).force_n - skiff().resistance_n(over)
        self.assertGreater(float(spare.max()), 0.0, "beyond the hump it would pull again")

    def test_dock(self):
        found = edge(first(0.5), kayak(SMALL, deduction=0.03), np.array([0.0]), 24.0)
        self.near(found.force_n[0], 80.10)
        self.near(found.dc_current_a[0], 18.93)

    def test_the_drive_alone(self):
        train = first(0.6)
        current, _ = train.largest_current(100.0, train.supply(24.0))
        self.near(current, 26.9153)
        volts, amps, _, _ = train.bus(current, 100.0, 24.0, 0.03)
        self.near(amps, 16.1492)
        self.near(volts, 23.5155)
        self.near(train.motor.shaft_torque_nm(current, 100.0), 2.74970)
        full = first(1.0)
        current, limit = full.largest_current(60.0, full.supply(24.0))
        _, amps, duty, _ = full.bus(current, 60.0, 24.0, 0.03)
        for value, wanted in (
            (current, 40.0),
            (duty, 0.49413),
            (amps, 19.7653),
            (Motor(kv_rpm_per_v=1.0, resistance_ohm=1.0).dc_per_motor_amp * 50.0, 43.3013),
        ):
            self.near(value, wanted)
        self.assertEqual(LIMITS[int(limit)], "motor_current")

    def test_thrust_torque_and_turns_agree(self):
        boat, draw = kayak(SMALL, propellers=2.0), np.random.default_rng(1)
        self.assertIsInstance(boat, Load)
        speed, thrust = draw.uniform(0.0, 5.0, 400), 10.0 ** draw.uniform(-1.0, 3.0, 400)
        turning, torque = boat.shaft_speed_rad_s(speed, thrust), boat.shaft_torque_nm(speed, thrust)
        taken, given = boat.turned(speed, turning)
        self.assertTrue(np.allclose(given, thrust, rtol=2e-3, atol=0.01))
        self.assertTrue(np.allclose(taken, torque, rtol=2e-3, atol=1e-3))
        self.assertTrue(np.allclose(boat.thrust_n(speed, torque), thrust, rtol=5e-3, atol=0.05))
        self.assertTrue(np.allclose(boat.turned(boat.speed_at_shaft(turning), turning)[1], 0.0, atol=1e-3 * float(given.max())))
        # useful power is less than what the shafts give
        self.assertTrue((thrust * speed < torque * turning).all())

    def test_500_random_boats_come_to_an_equilibrium(self):
        draw = np.random.default_rng(12)
        for _ in range(500):
            diameter, factor = draw.uniform(0.12, 0.40), draw.uniform(2.0, 40.0)
            shape = {"blades": int(draw.integers(2, 5)), "area_ratio": draw.uniform(0.25, 0.7)}
            boat = Boat(
                mass_kg=draw.uniform(60.0, 500.0),
                hull=curve(factor * SPEED ** draw.uniform(1.6, 3.0)),
                screw=screw(diameter, diameter * draw.uniform(0.45, 1.3), draw.uniform(0.008, 0.018), **shape),
                propellers=float(draw.integers(1, 3)),
                wake=draw.uniform(0.0, 0.15),
                deduction=draw.uniform(0.0, 0.15),
                drag_area_m2=draw.uniform(0.2, 1.0),
            )
            stages = [Stage(kind="gear", ratio=draw.uniform(1.0, 5.0), efficiency=draw.uniform(0.9, 1.0), drag_nm=draw.uniform(0.0, 0.1))]
            train = drive(
                10 ** draw.uniform(1.5, 3.0), 10 ** draw.uniform(-2.0, -0.8), 0.004, draw.uniform(0.3, 3.0), 0.03, 60.0, stages, 0.95
            )
            emf = draw.uniform(12.0, 60.0)
            speed = float(top_speed(train, boat, emf).speed_m_s)
            self.assertTrue(math.isfinite(speed) and speed >= 0.0)
            if speed == 0.0:
                self.assertLessEqual(float(edge(train, boat, np.array([0.0]), emf).force_n[0]), 1e-6)
                continue
            spare = float(edge(train, boat, np.array([speed]), emf).force_n[0]) - float(boat.resistance_n(speed))
            self.assertLess(abs(spare), 2e-4 * float(boat.resistance_n(speed)) + 1e-6)

    def test_a_batch_is_what_each_is_alone(self):
        boats = [kayak(SMALL), kayak(BIG, mass_kg=130.0), skiff()]
        trains = [first(0.75), first(1.0), drive(110.0, 0.03, 0.004, 3.0, 0.02, 90.0, GEARED, 1.0)]
        emf = np.array([[24.0, 22.0], [24.0, 23.0], [50.0, 47.0]])
        together = top_speed(stack(trains, 1), stack(boats, 1), emf).speed_m_s
        for k, (train, boat) in enumerate(zip(trains, boats, strict=True)):
            self.assertTrue(np.allclose(together[k], top_speed(train, boat, emf[k]).speed_m_s, rtol=1e-6))


if __name__ == "__main__":
    unittest.main()
