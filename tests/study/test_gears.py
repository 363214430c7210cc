"""A drive through the bike's own gears: ratios, the best gear for a goal, cadence, legs, chain and hub."""

import math
import unittest
from dataclasses import replace

import numpy as np

from tests.design.malformed import DEMO
from tests.judging import judged_all
from wattagon.design import catalogue, file
from wattagon.design.paths import put
from wattagon.design.tree import Gears, Goal, GoalKind
from wattagon.errors import InputError, WattagonError
from wattagon.study.drive.cases import in_gear
from wattagon.study.drive.levers import levers, preview
from wattagon.study.drive.study import study_drive
from wattagon.study.findings.all import check, find
from wattagon.study.findings.status import Status
from wattagon.study.resolve import cadence_rpm, development_m, resolve, ridden_gear

STOCK = catalogue.load()
BIKE = put(file.read(DEMO / "bittern.json").design, "active", "D")


def with_gears(**changes):
    return put(BIKE, "variant.gears", replace(BIKE.variant().gears, **changes))


def findings(design):
    return {f.code: f for f in find(design, STOCK, study_drive(design, STOCK))}


class GearsTest(unittest.TestCase):
    def test_the_handbook_checks(self):
        """g5: developments of a wheel of 0.69 m, cadence, and the free speed of the pedals."""
        gears = Gears(ring=32, cogs=(42, 16, 11))
        self.assertAlmostEqual(development_m(gears, 3, 0.345), 6.306, places=3)
        self.assertAlmostEqual(development_m(gears, 1, 0.345), 1.652, places=3)
        self.assertAlmostEqual(cadence_rpm(gears, 2, 0.345, 25 / 3.6), 96.11, places=2)
        self.assertAlmostEqual(60.0 * math.tau / (32 * 0.0127), 926.1, delta=2.0)
        # kv 100, 36 V, duty 0.95, 20:1
        self.assertAlmostEqual(0.95 * 36 * 100 / 20, 171.0)

    def test_each_gear_is_one_more_stage(self):
        base = resolve(with_gears(in_view=1), STOCK)
        gears = base.variant.gears
        for gear, cog in enumerate(gears.cogs, 1):
            one = resolve(with_gears(in_view=gear), STOCK)
            self.assertEqual(one.gear, gear)
            self.assertAlmostEqual(float(one.train.reduction.torque_ratio), 6.0 * 40 / 11 * cog / gears.ring)
            self.assertAlmostEqual(one.cost, base.cost, msg="the bike's own chain costs nothing")
            self.assertAlmostEqual(one.drive_mass_kg, base.drive_mass_kg)
            again = in_gear(base, gear)
            self.assertAlmostEqual(float(again.train.reduction.torque_ratio), float(one.train.reduction.torque_ratio))
            self.assertAlmostEqual(float(again.train.reduction.drag_nm), float(one.train.reduction.drag_nm))

    def test_the_gear_that_is_ridden_keeps_the_cadence(self):
        gears = Gears(ring=38, cogs=(42, 34, 28, 24, 20, 17, 14, 11))
        for speed in (0.5, 2.0, 4.0, 6.0, 9.0, 15.0):
            gear = ridden_gear(gears, 0.25, speed)
            if gear > 1:
                self.assertGreaterEqual(cadence_rpm(gears, gear, 0.25, speed), gears.cadence_low)
            if gear < len(gears.cogs):
                self.assertLess(cadence_rpm(gears, gear + 1, 0.25, speed), gears.cadence_low)

    def test_goals_are_reached_in_the_best_gear_and_limits_judged_in_the_worst(self):
        goals = (
            Goal(id="flat", kind=GoalKind.TOP_SPEED, speed=5.0, case="usual"),
            Goal(id="hill", kind=GoalKind.CLIMB, speed=3.0, grade=0.12, case="usual"),
            Goal(id="start", kind=GoalKind.START, grade=0.15, case="usual"),
            Goal(id="sprint", kind=GoalKind.SPRINT, speed=4.0, time=9.0, case="usual"),
            Goal(id="limit", kind=GoalKind.SPEED_LIMIT, speed=9.0, case="usual"),
        )
        plain = replace(BIKE, brief=replace(BIKE.brief, goals=goals, cases=()))
        reached = []
        for gear in range(1, 9):
            # one cog alone: the drive in that gear
            cog = BIKE.variant().gears.cogs[gear - 1]
            one = put(plain, "variant.gears", replace(BIKE.variant().gears, cogs=(cog,), in_view=1))
            reached.append([r.reached for r in study_drive(one, STOCK).goals])
        best = [r.reached for r in study_drive(plain, STOCK).goals]
        table = np.array(reached)
        wanted = [table[:, 0].max(), table[:, 1].max(), table[:, 2].max(), table[:, 3].min(), table[:, 4].max()]
        self.assertTrue(np.allclose(best, wanted, rtol=1e-6), (best, wanted))
        # whichever gear is looked at, and in a preview
        for gear in (1, 5, 8):
            seen = put(plain, "variant.gears.in_view", gear)
            self.assertTrue(np.allclose([r.reached for r in study_drive(seen, STOCK).goals], wanted, rtol=1e-6))
        edit = next(lever.up for lever in levers(plain, STOCK) if lever.code == "parallel")
        (step,) = preview(plain, STOCK, [edit])
        from wattagon.design.paths import apply

        theirs = [r.reached for r in study_drive(apply(plain, edit), STOCK).goals]
        self.assertTrue(np.allclose([r.reached for r in step.goals], theirs, rtol=1e-6))

    def test_the_map_has_every_other_gear_as_a_branch(self):
        study = study_drive(with_gears(in_view=3), STOCK)
        self.assertEqual([gear for gear, _, _ in study.branches], [1, 2, 4, 5, 6, 7, 8])
        for gear, speeds, thrust in study.branches:
            other = study_drive(with_gears(in_view=gear), STOCK).states["nominal"].edge
            self.assertAlmostEqual(float(thrust[0]) / float(other.force_n[0]), 1.0, places=6)
            self.assertAlmostEqual(float(speeds[-1]) / float(other.speed_m_s[-1]), 1.0, places=6)

    def test_help_that_dies_below_the_cadence_lives_with_teeth_more_on_the_motor(self):
        goal = Goal(id="legs", kind=GoalKind.CADENCE, rpm=90.0)
        design = replace(BIKE, brief=replace(BIKE.brief, goals=(goal,)))
        before = findings(design)
        self.assertIs(before["goal.legs"].status, Status.OVER)
        self.assertIs(before["gears.assist"].status, Status.TIGHT)
        self.assertIn("help", before["gears.assist"].title)
        after = findings(put(design, "variant.stages.0.driver_teeth", 17))
        self.assertIs(after["goal.legs"].status, Status.CLEAR)
        self.assertIs(after["gears.assist"].status, Status.CLEAR)
        dead = findings(put(design, "variant.stages.0.driver_teeth", 9))
        self.assertIs(dead["gears.assist"].status, Status.OVER)
        # the cadence does not depend on the gear
        reached = {round(study_drive(put(design, "variant.gears.in_view", gear), STOCK).goals[0].reached, 3) for gear in range(1, 9)}
        self.assertLess(max(reached) - min(reached), 0.5)
        belt = replace(design, active="A")
        self.assertIs(findings(belt)["goal.legs"].status, Status.NOT_CHECKED)

    def test_cranks_chain_and_hub_on_both_sides(self):
        self.assertIs(findings(BIKE)["gears.cranks"].status, Status.CLEAR)
        self.assertIs(findings(with_gears(crank_clutch=False))["gears.cranks"].status, Status.OVER)
        bounds = (
            (15.0, Status.CLEAR, Status.CLEAR),
            (30.0, Status.TIGHT, None),
            (45.0, Status.OVER, None),
            (60.0, Status.OVER, Status.OVER),
        )
        for amps, chain, hub in bounds:
            found = findings(put(BIKE, "variant.controller.motor_current_a", amps))
            self.assertIs(found["gears.chain"].status, chain, amps)
            if hub is not None:
                self.assertIs(found["gears.hub"].status, hub, amps)
        self.assertNotIn("gears.chain", findings(replace(BIKE, active="A")))

    def test_full_pull_and_starts_are_those_of_the_lowest_gear(self):
        by_gear = [findings(with_gears(in_view=gear)) for gear in (1, 8)]
        for code in ("wheel.lift", "wheel.grip", "drive.start_on_hill", "reduction.pull"):
            self.assertAlmostEqual(by_gear[0][code].margin, by_gear[1][code].margin, places=2, msg=code)

    def test_rides_are_judged_through_the_gears(self):
        codes = {f.code: f for f in judged_all(BIKE, STOCK, rides=True)}
        self.assertLess({"ride.climb", "ride.stop", "ride.course.hide-supply"}, set(codes))

    def test_hub_from_stock_is_what_it_bears_and_a_stronger_one_a_cure(self):
        hard = put(BIKE, "variant.controller.motor_current_a", 60.0)
        self.assertIn("typical", findings(hard)["gears.hub"].title)
        self.assertTrue(findings(hard)["gears.hub"].assumed)
        weak = put(hard, "variant.gears.hub", "hub-screwed-freewheel")
        strong = put(hard, "variant.gears.hub", "hub-cargo-ratchet")
        self.assertLess(findings(weak)["gears.hub"].margin, findings(hard)["gears.hub"].margin)
        self.assertIs(findings(strong)["gears.hub"].status, Status.CLEAR)
        self.assertAlmostEqual(resolve(strong, STOCK).cost - resolve(hard, STOCK).cost, 210.0)
        cures = [cure.text for finding in check(hard, STOCK) if finding.code == "gears.hub" for cure in finding.cures]
        self.assertTrue(any("ratchet" in text for text in cures), cures)
        with self.assertRaisesRegex(WattagonError, "hub-gold"):
            resolve(put(hard, "variant.gears.hub", "hub-gold"), STOCK)

    def test_what_no_cassette_has_is_refused(self):
        for bad in ({"cogs": ()}, {"cogs": (11, 42)}, {"cogs": (90, 11)}, {"cogs": (42, 11), "in_view": 3}, {"cogs": tuple([20] * 15)}):
            with self.assertRaises(InputError):
                Gears(**bad)

    def test_a_search_from_it_finds_drives_of_the_wheel(self):
        from wattagon.study.finder.space import as_searched, make_space, variant_of

        self.assertIsNone(as_searched(BIKE).variant().gears)
        space = make_space(BIKE, STOCK)
        self.assertIsNone(variant_of(space, (0, 0, 1, 0, 0, 100, 5, -1)).gears)
        self.assertIsNotNone(BIKE.variant().gears)
