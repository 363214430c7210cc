"""Shifts on rides through a bike's own gears: when, what they cost, and that the energy still balances."""

import math
import unittest
from dataclasses import replace

import numpy as np

from tests.design.malformed import DEMO
from wattagon.design import catalogue, file
from wattagon.design.paths import put
from wattagon.design.tree import Course, CourseLeg
from wattagon.errors import InputError
from wattagon.physics.ride.names import Col, Mode, Stat
from wattagon.physics.ride.ride import Rider, Start, simulate, steady_cells
from wattagon.study.drive.cases import in_gear
from wattagon.study.resolve import cadence_rpm, resolve
from wattagon.study.ride.inputs import plant_of
from wattagon.study.ride.study import Ask, point_of, ride
from wattagon.study.ride.words import gear_words

STOCK = catalogue.load()
BIKE = put(file.read(DEMO / "bittern.json").design, "active", "D")


def with_gears(**changes):
    return put(BIKE, "variant.gears", replace(BIKE.variant().gears, **changes))


def cadences(done):
    gears, radius = done.resolved.variant.gears, float(done.resolved.road.wheel_radius_m)
    run = done.run
    return np.array(
        [cadence_rpm(gears, int(g), radius, v) for g, v in zip(run.column(Col.GEAR), run.column(Col.SPEED), strict=True)], dtype=float
    )


class ShiftsTest(unittest.TestCase):
    def test_a_start_runs_up_through_the_gears_and_goes_faster_than_any_of_them(self):
        done = ride(BIKE, STOCK, Ask(run="start"))
        gears = done.run.column(Col.GEAR)
        self.assertEqual(gears[0], 1)
        self.assertTrue((np.diff(gears) >= 0).all(), "on the flat no shift is taken back")
        self.assertEqual(int(done.run.stat(Stat.SHIFTS)), int(gears[-1] - 1))
        self.assertLess(done.run.balance_error, 1e-3)
        singles = [ride(BIKE, STOCK, Ask(run="start", gear=gear)) for gear in range(1, 9)]
        self.assertGreater(done.run.stat(Stat.PEAK_SPEED), 0.99 * max(one.run.stat(Stat.PEAK_SPEED) for one in singles))
        self.assertIn("gear 3 throughout", singles[2].name)
        self.assertEqual(singles[2].run.stat(Stat.SHIFTS), 0)

    def test_motor_gives_nothing_while_it_is_shifted(self):
        done = ride(with_gears(shift_pause=0.5), STOCK, Ask(run="start"))
        time, gear, amps = (done.run.column(c) for c in (Col.TIME, Col.GEAR, Col.DC_A))
        for at in np.flatnonzero(np.diff(gear)) + 1:
            during = (time >= time[at] + 0.02) & (time < time[at] + 0.46)
            self.assertTrue(during.any())
            self.assertEqual(float(np.abs(amps[during]).max()), 0.0)

    def test_on_a_course_the_cadence_stays_in_its_window_and_the_energy_balances(self):
        legs = tuple(
            CourseLeg(length=length, grade=grade, speed=speed, stop=stop)
            for length, grade, speed, stop in ((400, 0.0, 6.0, 0), (300, 0.08, 4.0, 0), (300, -0.05, 8.0, 5), (400, 0.02, 5.0, 0))
        )
        for pause, up in ((0.0, None), (0.4, None), (0.4, 85.0), (1.0, 70.0)):
            done = ride(with_gears(shift_pause=pause, shift_up=up), STOCK, Ask(run="x", course=Course(id="x", legs=legs)))
            self.assertLess(done.run.balance_error, 1e-3, (pause, up))
            self.assertGreater(done.run.stat(Stat.SHIFTS), 5)
            # rolling, between the lowest and the highest gear, and not during a climb's pause
            gear, v = done.run.column(Col.GEAR), done.run.column(Col.SPEED)
            inner = (gear > 1) & (v > 1.0)
            self.assertGreater(float(np.quantile(cadences(done)[inner], 0.05)), 45.0)
            if up:
                time = done.run.column(Col.TIME)
                ups = [k for k in np.flatnonzero(np.diff(gear) > 0) if time[k + 1] - time[k] < 0.3]
                fast = [cadences(done)[k] for k in ups]
                self.assertGreater(np.median(fast), 0.95 * up, "shifted up at the rider's own point")

    def test_no_gear_is_hunted_for_on_any_climb(self):
        for grade in np.linspace(0.0, 0.2, 9):
            done = ride(BIKE, STOCK, Ask(run="full-climb", grade=float(grade)))
            self.assertLess(done.run.stat(Stat.SHIFTS), 12, f"on {grade:.1%}")
            self.assertLess(done.run.balance_error, 1e-3)

    def test_one_cog_is_a_drive_without_gears(self):
        one = with_gears(cogs=(20,), in_view=1)
        shifted, kept = (ride(one, STOCK, Ask(run="hold-speed", speed_m_s=4.0, gear=gear)) for gear in (None, 1))
        self.assertEqual(shifted.energy_wh, kept.energy_wh)
        self.assertEqual(shifted.run.stat(Stat.SHIFTS), 0)

    def test_holding_a_speed_is_that_of_its_gear(self):
        free = ride(BIKE, STOCK, Ask(run="hold-speed", speed_m_s=4.0))
        (gear,) = np.unique(free.run.column(Col.GEAR))
        kept = ride(BIKE, STOCK, Ask(run="hold-speed", speed_m_s=4.0, gear=int(gear)))
        self.assertAlmostEqual(free.range_m / kept.range_m, 1.0, places=6)

    def test_any_train_keeps_its_energy_through_shifts(self):
        """Random factors, rotors of any weight, with and without a freewheel: what goes in comes out."""
        draw = np.random.default_rng(7)
        resolved = in_gear(resolve(BIKE, STOCK), 1)
        for _ in range(25):
            plant, _ = plant_of(BIKE, resolved)
            factors = tuple(np.cumprod([1.0, *draw.uniform(0.6, 0.95, draw.integers(1, 9))]))
            plant = plant._replace(
                factors=factors,
                gear=0.0,
                inertia=10 ** draw.uniform(-5, -1.5),
                one_way=float(draw.integers(0, 2)),
                shift_pause=draw.uniform(0.0, 1.0),
                shift_low=draw.uniform(30.0, 80.0),
            )
            grade = draw.uniform(-0.05, 0.1)
            rider = Rider(mode=Mode.COMMAND, longest_s=60.0)
            run = simulate(plant, resolved.train.pack.chemistry, steady_cells(1.0, grade), rider, Start(speed_m_s=draw.uniform(0, 3)))
            self.assertLess(run.balance_error, 2e-3, plant)
            self.assertTrue(np.isfinite(run.trace).all())

    def test_a_moment_of_the_ride_is_in_its_gear(self):
        done = ride(BIKE, STOCK, Ask(run="start"))
        for gear in (2, 5):
            row = int(np.flatnonzero(done.run.column(Col.GEAR) == gear)[-1])
            point = point_of(done, row)
            at = done.run.trace[row]
            self.assertTrue(math.isclose(point.motor_rad_s, at[Col.MOTOR_RAD_S], rel_tol=0.02) or at[Col.DC_A] == 0.0)

    def test_words_and_refusals(self):
        self.assertRegex(gear_words(ride(BIKE, STOCK, Ask(run="start"))), r"gears 1 to \d, shifted \d times")
        self.assertEqual(gear_words(ride(BIKE, STOCK, Ask(run="start", gear=2))), "")
        with self.assertRaisesRegex(InputError, "1 to 8"):
            ride(BIKE, STOCK, Ask(run="start", gear=9))
        with self.assertRaisesRegex(InputError, "no gears"):
            ride(replace(BIKE, active="A"), STOCK, Ask(run="start", gear=1))


if __name__ == "__main__":
    unittest.main()
