"""Errors of inputs and the bands that they make of results."""

import math
import unittest
from dataclasses import replace

import numpy as np

from tests.design.malformed import DEMO
from tests.logs import demo
from tests.random_designs import random_design
from wattagon.design import catalogue, file
from wattagon.design.paths import put
from wattagon.design.quantity import Known, Quantity
from wattagon.errors import WattagonError
from wattagon.study.bands.bands import SAMPLES, band, even_draws, goal_bands, goals_reached
from wattagon.study.bands.errors import OTHER, SPREADS, wide, wide_inputs
from wattagon.study.resolve import Input, resolve

STOCK = catalogue.load()
FLEET = {name: file.read(DEMO / f"{name}.json").design for name in ("dunlin", "corncrake", "bittern")}


def told(value, known, dimension="number", tolerance=None):
    return Input(value=value, known=known, dimension=dimension, tolerance=tolerance)


class ErrorsTest(unittest.TestCase):
    def test_a_tolerance_counts_where_it_was_measured_or_fitted(self):
        self.assertEqual(wide("vehicle.rolling", told(0.02, Known.MEASURED, tolerance=0.003)).width, 0.003)
        self.assertEqual(wide("vehicle.rolling", told(0.02, Known.FITTED, tolerance=0.001)).width, 0.001)
        self.assertAlmostEqual(wide("vehicle.rolling", told(0.02, Known.ASSUMED, tolerance=0.001)).width, 0.02 * 0.30)
        self.assertAlmostEqual(wide("vehicle.rolling", told(0.02, Known.MEASURED)).width, 0.02 * 0.08)

    def test_the_weaker_it_is_known_the_wider_it_is(self):
        for end, spread in {**SPREADS, "something": OTHER}.items():
            self.assertLessEqual(spread.measured, spread.stated, end)
            self.assertLessEqual(spread.stated, spread.assumed, end)

    def test_settings_and_what_follows_from_others_are_exact(self):
        for path in ("variants.A.controller.motor_current_a", "variants.A.stages.0.driver_teeth", "variants.A.motor.count"):
            self.assertIsNone(wide(path, told(30.0, Known.STATED)))
        self.assertIsNone(wide("variants.A.drive_mass", told(8.0, Known.COMPUTED)))
        self.assertIsNone(wide("brief.conditions.headwind", told(0.0, Known.MEASURED, tolerance=0.0)))

    def test_a_share_never_changes_its_sign_and_an_efficiency_stays_below_one(self):
        rolling = wide("vehicle.rolling", told(0.02, Known.ASSUMED))
        self.assertGreater(rolling.at(-8.0), 0.0)
        self.assertAlmostEqual(rolling.at(1.0), 0.02 * 1.30)
        self.assertLess(wide("variants.A.stages.0.efficiency", told(0.98, Known.ASSUMED, "share")).at(3.0), 1.0)
        wind = wide("brief.conditions.headwind", told(0.0, Known.ASSUMED))
        self.assertEqual((wind.at(1.0), wind.at(-1.0)), (1.5, -1.5))

    def test_every_input_of_the_fleet_has_a_line_of_its_own(self):
        for name, design in FLEET.items():
            ends = {one.path.rsplit(".", 1)[-1] for one in wide_inputs(resolve(design, STOCK, note=True).inputs)}
            self.assertEqual(ends - set(SPREADS), set(), name)


class ShiftTest(unittest.TestCase):
    def test_a_shift_is_the_same_as_the_value_typed_in(self):
        design = FLEET["bittern"]
        for path, value in (
            ("vehicle.rolling", 0.02),
            ("vehicle.cm_height", 1.1),
            ("brief.conditions.headwind", 3.0),
            ("vehicle.load_mass", 50.0),
        ):
            typed = put(design, path, Quantity(value=value, known=Known.MEASURED))
            shifted = resolve(design, STOCK, shift={path: value})
            wanted = goals_reached([resolve(typed, STOCK)], typed)
            self.assertTrue(np.allclose(goals_reached([shifted], design), wanted, rtol=1e-9, equal_nan=True), path)

    def test_each_input_is_noted_under_the_path_that_shifts_it(self):
        design = FLEET["dunlin"]
        plain = resolve(design, STOCK, note=True)
        for one in wide_inputs(plain.inputs):
            again = resolve(design, STOCK, note=True, shift={one.path: one.at(0.5)})
            self.assertAlmostEqual(again.inputs[one.path].value, one.at(0.5), msg=one.path)

    def test_a_batch_keeps_wind_and_air_of_each_member_apart(self):
        design = FLEET["dunlin"]
        shifts = [{"brief.conditions.headwind": wind, "brief.conditions.air_temperature": air} for wind, air in ((-3, 5), (0, 20), (4, 35))]
        batch = [resolve(design, STOCK, shift=shift) for shift in shifts]
        together = goals_reached(batch, design)
        for row, one in enumerate(batch):
            self.assertTrue(np.allclose(together[row], goals_reached([one], design)[0], rtol=1e-6), row)


class BandTest(unittest.TestCase):
    def test_one_in_six_lies_below_and_above(self):
        design = FLEET["corncrake"]
        few = band(design, STOCK)
        rng = np.random.default_rng(5)
        many = band(design, STOCK, draws=rng.standard_normal((2000, len(few.inputs)))).samples
        for k, one in enumerate(few.bands):
            if one.high - one.low < 1e-6 * max(one.high, 1.0):
                continue
            below, above = float(np.mean(many[:, k] < one.low)), float(np.mean(many[:, k] > one.high))
            self.assertAlmostEqual(below, 1 / 6, delta=0.03, msg=design.brief.goals[k].id)
            self.assertAlmostEqual(above, 1 / 6, delta=0.03, msg=design.brief.goals[k].id)

    def test_designs_drawn_from_the_errors_lie_inside_at_the_stated_share(self):
        inside, many = 0, 0
        for design in (*FLEET.values(), demo("garganey")):
            told = band(design, STOCK)
            # true designs: each input somewhere in its error, as if somebody had measured all of them afterwards
            true = band(design, STOCK, draws=np.random.default_rng(23).standard_normal((400, len(told.inputs)))).samples
            for k, one in enumerate(told.bands):
                if one.high - one.low > 1e-6 * max(abs(one.high), 1.0) and math.isfinite(one.high):
                    inside += int(np.sum((true[:, k] >= one.low) & (true[:, k] <= one.high)))
                    many += len(true)
        self.assertGreater(many, 4000)
        self.assertAlmostEqual(inside / many, 2.0 / 3.0, delta=0.03)

    def test_random_designs_within_a_tenth_of_the_width(self):
        errors = []
        for seed in range(1, 7):
            design = random_design(seed, STOCK)
            try:
                few = band(design, STOCK)
            except WattagonError:
                continue
            rng = np.random.default_rng(seed)
            many = band(design, STOCK, draws=rng.standard_normal((1500, len(few.inputs)))).samples
            for k, one in enumerate(few.bands):
                values = many[:, k][~np.isnan(many[:, k])]
                if values.size and np.isfinite(values).all():
                    low, high = np.quantile(values, (1 / 6, 5 / 6))
                    if high - low > 1e-6 * max(abs(high), 1e-9):
                        errors += [abs(one.low - low) / (high - low), abs(one.high - high) / (high - low)]
        self.assertGreater(len(errors), 25)
        # the comparison itself is good to a few hundredths of the width
        self.assertLess(float(np.quantile(errors, 0.95)), 0.1)

    def test_what_rests_on_one_input_stays_together(self):
        """Two goals of one speed on one grade: equal in every sample, not only in their bands."""
        design = FLEET["dunlin"]
        goal = next(goal for goal in design.brief.goals if goal.id == "ramp")
        twice = replace(design, brief=replace(design.brief, goals=(goal, replace(goal, id="again"))))
        found = band(twice, STOCK, samples=64)
        self.assertTrue(np.array_equal(found.samples[:, 0], found.samples[:, 1]))

    def test_known_exactly_there_is_no_band_and_measuring_narrows_it(self):
        design = FLEET["corncrake"]
        budget = [goal.id for goal in design.brief.goals].index("budget")
        found = band(design, STOCK)
        self.assertEqual(found.bands[budget].low, found.bands[budget].high)
        day = [goal.id for goal in design.brief.goals].index("day")
        measured = put(design, "vehicle.rolling", Quantity(value=design.vehicle.rolling.value, known=Known.MEASURED, tolerance=0.0005))
        narrow = band(measured, STOCK).bands[day]
        self.assertLess(narrow.high - narrow.low, 0.97 * (found.bands[day].high - found.bands[day].low))

    def test_the_same_twice_and_how_likely_a_goal_is_met(self):
        design = FLEET["dunlin"]
        self.assertEqual(goal_bands(design, STOCK), goal_bands(design, STOCK))
        likely = goal_bands(design, STOCK)
        self.assertEqual(likely["budget"][1], 1.0)
        tight = replace(
            design,
            brief=replace(
                design.brief,
                goals=tuple(replace(goal, speed=likely["cruise"][0].value) if goal.id == "cruise" else goal for goal in design.brief.goals),
            ),
        )
        self.assertTrue(0.2 < goal_bands(tight, STOCK)["cruise"][1] < 0.8)

    def test_inputs_that_contradict_are_left_out_and_counted(self):
        design = put(FLEET["dunlin"], "vehicle.cm_behind_front", Quantity(value=0.93, known=Known.MEASURED, tolerance=0.2))
        found = band(design, STOCK, samples=128)
        self.assertGreater(found.refused, 10)
        self.assertEqual((len(found.samples) + found.refused) % 128, 0)

    def test_a_drive_that_may_not_move_at_all_is_drawn_for_longer(self):
        """Its top speed is nought in some samples: the end beside that is thin, and rough in a thousand of them."""
        self.assertEqual(len(band(demo(), STOCK).samples), SAMPLES)
        design = random_design(124, STOCK)
        inputs = len(wide_inputs(resolve(design, STOCK, note=True).inputs))
        few, found = band(design, STOCK, draws=even_draws(SAMPLES, inputs)), band(design, STOCK)
        self.assertEqual(len(few.samples), SAMPLES)
        self.assertGreater(len(found.samples), SAMPLES)
        self.assertEqual(len(found.samples) % SAMPLES, 0)
        self.assertEqual(len(found.draws), len(found.samples))
        rng = np.random.default_rng(1)
        many = band(design, STOCK, draws=rng.standard_normal((8000, len(found.inputs))))
        for one, true in zip(found.bands, many.bands, strict=True):
            if math.isfinite(true.high) and true.high > true.low:
                self.assertLess(abs(one.high - true.high), 0.1 * (true.high - true.low))
                self.assertLess(abs(one.low - true.low), 0.1 * (true.high - true.low))
        self.assertFalse(math.isnan(found.bands[0].low))
