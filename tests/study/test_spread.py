"""Bands by derivatives against bands by sampling through the same physics, and where the straight line does not hold."""

import math
import random
import unittest

import numpy as np

from tests.logs import STOCK, demo
from wattagon.design.paths import put
from wattagon.design.quantity import Known, Quantity
from wattagon.exchange.why.answers import gather, why_data
from wattagon.exchange.why.sampled import goal_of, sampled
from wattagon.study.bands.bands import band, goal_bands
from wattagon.study.bands.errors import Wide
from wattagon.study.why.spread import spread
from wattagon.traced import GIVEN, Traced, of_math

FORCE = "states.nominal.standstill_force_n"


def smooth(resolved):
    """Numbers of a resolved drive that are smooth in their inputs."""
    train, load = resolved.train, resolved.load
    return [
        float(train.motor.torque_constant_nm_per_a),
        float(train.motor.resistance_ohm),
        float(load.wheel_radius_m),
        float(load.mass_kg),
        float(train.pack.capacity_ah * train.pack.series),
    ]


NAMES = ("motor.kt_dc_nm_per_a", "motor.resistance_ohm", "wheel_radius_m", "mass_kg")


class AgainstSamplingTest(unittest.TestCase):
    def test_derivatives_and_samples_agree_where_it_is_smooth(self):
        for vehicle in ("dunlin", "bittern", "corncrake"):
            design = demo(vehicle)
            by_samples = band(design, STOCK, lambda batch, _: np.array([smooth(one) for one in batch]), samples=2048).bands
            found = gather(design, STOCK)
            for name, one in zip(NAMES, by_samples, strict=False):
                slope = found.spread(name)
                self.assertTrue(slope.whole, name)
                self.assertAlmostEqual(
                    2.0 * slope.width, one.high - one.low, delta=0.1 * (one.high - one.low) + 1e-12, msg=f"{vehicle} {name}"
                )

    def test_the_pull_at_rest_is_as_wide_by_both(self):
        design = demo("dunlin")

        def pull(batch, _):
            from wattagon.study.drive.study import point_at

            return np.array([[point_at(one, speed_m_s=0.0, charge=0.5, throttle=1.0).thrust_n] for one in batch])

        by_samples = band(design, STOCK, pull, samples=1024).bands[0]
        slope = gather(design, STOCK).spread(FORCE)
        self.assertTrue(slope.whole, slope)
        self.assertAlmostEqual(2.0 * slope.width, by_samples.high - by_samples.low, delta=0.1 * (by_samples.high - by_samples.low))

    def test_shares_of_the_variance_add_up_and_freezing_the_largest_leaves_the_rest(self):
        design = demo("dunlin")
        found = gather(design, STOCK)
        one = found.spread(FORCE)
        self.assertAlmostEqual(sum(share for _, share in one.shares), 1.0)
        path, share = one.shares[0]
        exact = put(design, path, Quantity(value=found.inputs[path].value, known=Known.MEASURED, tolerance=1e-9))
        left = gather(exact, STOCK).spread(FORCE).width
        self.assertAlmostEqual(left, one.width * math.sqrt(1.0 - share), delta=0.03 * one.width)

    def test_every_study_has_numbers_with_a_band_of_their_own(self):
        found = gather(demo("dunlin"), STOCK, ("", "layout", "strength", "pack", "wiring", "settings", "commission", "ride"))
        for head in ("layout", "strength", "pack", "wiring", "settings", "commission", "ride"):
            wide = [name for name in found.results if name.startswith(f"{head}.") and (one := found.spread(name)).whole and one.width > 0.0]
            self.assertGreater(len(wide), 0 if head == "ride" else 2, head)  # a ride's sums are steps: its figures are few


class LimitsTest(unittest.TestCase):
    def test_a_limit_that_may_change_its_place_is_told_and_sampled_instead(self):
        design = demo("dunlin")
        found = gather(design, STOCK)
        one = found.spread("states.nominal.max_grade")
        self.assertTrue(one.switches)
        data = why_data(found, "goals.start.reached")
        by_goals, _ = goal_bands(design, STOCK)["start"]
        self.assertAlmostEqual(data["band"][0], by_goals.low, delta=0.02)
        self.assertAlmostEqual(data["band"][1], by_goals.high, delta=0.02)

    def test_what_rests_on_steps_says_which(self):
        data = why_data(gather(demo("dunlin"), STOCK), "states.nominal.power_at_top_w")
        self.assertIsNone(data["band"])
        self.assertIn("search", data["band_why_not"])

    def test_only_what_a_drive_reaches_is_sampled(self):
        design = demo("dunlin")
        self.assertIsNone(goal_of(design, "mass_kg"))
        self.assertIsNone(goal_of(design, "goals.nothing.reached"))
        self.assertIsNone(sampled(design, STOCK, "mass_kg"))
        top = sampled(design, STOCK, "states.full.top_speed_m_s")
        self.assertLess(top.low, top.value)
        self.assertGreater(top.high, top.value)

    def test_far_apart_a_minimum_is_smooth(self):
        import operator

        widths = {"a": Wide("a", 1.0, 0.1, False, math.inf), "b": Wide("b", 9.0, 0.1, False, math.inf)}.get
        a, b = Traced(1.0, GIVEN, (), "a"), Traced(9.0, GIVEN, (), "b")
        least = np.minimum(a, b)
        one = spread(operator.mul(least, 2.0), widths)
        self.assertFalse(one.switches)
        self.assertAlmostEqual(one.width, 0.2)
        near = Traced(1.05, GIVEN, (), "b")
        self.assertTrue(spread(np.minimum(a, near), {"a": widths("a"), "b": Wide("b", 1.05, 0.1, False, math.inf)}.get).switches)


class TurnedTest(unittest.TestCase):
    def test_the_field_that_turns_a_verdict_does_so_in_the_study(self):
        from wattagon.study.resolve import resolve

        design = put(demo("dunlin"), "brief.goals.mass.amount", 7.1)
        found = gather(design, STOCK)
        path, value = found.turned("goals.mass.margin")
        self.assertLess(found.working("goals.mass.margin").value, 0.0)
        self.assertAlmostEqual(resolve(design, STOCK, shift={path: value}).drive_mass_kg, 7.1, delta=1e-3)

    def test_far_from_the_bound_nothing_turns_it_and_other_numbers_have_no_verdict(self):
        found = gather(demo("dunlin"), STOCK)
        self.assertIsNone(found.turned("goals.mass.margin"))
        self.assertIsNone(found.turned("mass_kg"))


class SlopesTest(unittest.TestCase):
    def test_each_operation_against_a_small_step(self):
        rng = random.Random(7)
        for name in ("sqrt", "sin", "cos", "tan", "atan", "asin", "acos", "exp", "log", "log10", "log1p", "expm1"):
            work = of_math(name)
            x = rng.uniform(0.2, 0.8)
            one = spread(work(Traced(x, GIVEN, (), "x")), lambda path: Wide(path, 1.0, 1e-3, False, math.inf))
            step = 1e-6
            slope = (getattr(math, name)(x + step) - getattr(math, name)(x - step)) / (2.0 * step)
            self.assertAlmostEqual(one.width, abs(slope) * 1e-3, delta=1e-8, msg=name)

    def test_random_expressions_against_small_steps(self):
        rng = random.Random(11)

        def made(values):
            a, b, c = values
            return (a * b + c) / (abs(a - 2.0 * c) + 1.0) - b**2 * of_math("sqrt")(c) + of_math("hypot")(a, b) + of_math("atan2")(a, c)

        for _ in range(50):
            values = [rng.uniform(0.5, 3.0) for _ in range(3)]
            leaves = [Traced(value, GIVEN, (), name) for value, name in zip(values, "abc", strict=True)]
            one = spread(made(leaves), lambda path: Wide(path, 1.0, 1e-3, False, math.inf))
            square = 0.0
            for k in range(3):
                up, down = list(values), list(values)
                up[k], down[k] = values[k] + 1e-6, values[k] - 1e-6
                square += ((made(up) - made(down)) / 2e-6 * 1e-3) ** 2
            self.assertAlmostEqual(one.width, math.sqrt(square), delta=1e-4 * one.width + 1e-9)
