"""The drive study: levers tell what steps do, cures cure, goals are judged as the equations say."""

import math
import unittest
from dataclasses import replace

import numpy as np

from tests.design.malformed import DEMO
from tests.judging import judged_all
from wattagon.design import catalogue, file
from wattagon.design.kinds import KINDS
from wattagon.design.parts import CellPart, ProfilePart
from wattagon.design.paths import apply, put
from wattagon.design.quantity import Known, Quantity
from wattagon.design.template import new_design
from wattagon.design.tree import Goal, GoalKind
from wattagon.physics.envelope import edge
from wattagon.study.drive.goals import outlook
from wattagon.study.drive.levers import levers, preview
from wattagon.study.drive.study import point_at, study_drive, winding_outlook
from wattagon.study.findings.all import find
from wattagon.study.findings.cures import drive_again, newly_over, with_cures
from wattagon.study.findings.rule import Case
from wattagon.study.findings.status import Status
from wattagon.study.resolve import resolve
from wattagon.study.say import plain

STOCK = catalogue.load()
FLEET = {path.stem: file.read(path).design for path in sorted(DEMO.glob("*.json"))}


class FleetTest(unittest.TestCase):
    def test_each_vehicle_has_a_sound_variant_and_an_instructive_one(self):
        for name, design in FLEET.items():
            over = {
                v.id: [f.code for f in judged_all(put(design, "active", v.id), STOCK) if f.status is Status.OVER] for v in design.variants
            }
            # a load that tips is the brief's own lesson, whatever drives
            counts = {ident: sum(not code.startswith("case.stands.") for code in codes) for ident, codes in over.items()}
            self.assertEqual(min(counts.values()), 0, f"{name} {counts}")
            self.assertGreaterEqual(max(counts.values()), 3, f"{name} {counts}")
            self.assertEqual(counts[design.variant().id], 0, f"{name} opens with a sound variant")

    def test_a_shared_stage_carries_the_torque_of_all_motors(self):
        design = FLEET["bittern"]
        variant = design.variant("A")
        twin = replace(variant, motor=replace(variant.motor, count=2))
        last = len(variant.stages) - 1

        def capacity(shared):
            stages = tuple(replace(stage, shared=shared and k == last) for k, stage in enumerate(variant.stages))
            one = replace(design, variants=(replace(twin, stages=stages),), active="A")
            return min(rating.rated_nm for rating in resolve(one, STOCK).ratings)

        carried, stages = 1.0, resolve(design, STOCK, "A").stages
        profile = STOCK.get(ProfilePart, variant.stages[last].profile)
        for stage in stages[:last]:
            carried *= stage.ratio * stage.efficiency
        chain = profile.breaking_n / 7.0 * profile.pitch_mm / 1e3 * variant.stages[last].driver_teeth / math.tau / carried
        self.assertAlmostEqual(capacity(True), min(chain / 2.0, capacity(False)), places=9)

    def test_designs_that_differ_only_in_current_are_judged_as_one_by_one(self):
        design = FLEET["dunlin"]
        batch = [resolve(put(design, "variant.controller.motor_current_a", amps), STOCK) for amps in (20.0, 30.0, 40.0)]
        together = outlook(batch, design.brief.goals).reached
        for one, row in zip(batch, together, strict=True):
            self.assertTrue(np.allclose(outlook([one], design.brief.goals).reached[0], row, rtol=1e-9, equal_nan=True))

    def test_new_vehicles_of_every_kind_can_be_solved_and_rest_on_assumptions(self):
        for kind in KINDS:
            study = study_drive(new_design(kind), STOCK)
            self.assertGreater(study.states["nominal"].top_speed_m_s, 3.0, kind)
            self.assertIs(study.known, Known.ASSUMED)
            self.assertIn("vehicle.wheelbase", study.assumptions)


class LeversTest(unittest.TestCase):
    def test_a_preview_says_just_what_the_step_then_does(self):
        for name, design in FLEET.items():
            edits = [e for lever in levers(design, STOCK) for e in (lever.down, lever.up) if e is not None]
            self.assertGreater(len(edits), 15)
            for shown in preview(design, STOCK, edits):
                if shown.refused:
                    continue
                done = study_drive(apply(design, shown.edit), STOCK)
                for a, b in zip(shown.goals, done.goals, strict=True):
                    if math.isfinite(b.reached):
                        self.assertAlmostEqual(
                            a.reached, b.reached, delta=2e-4 * max(1.0, abs(b.reached)), msg=f"{name} {shown.edit.label} {b.goal.id}"
                        )

    def test_steps_walk_through_stock_and_back(self):
        design = FLEET["dunlin"]
        for code in ("driver_teeth_0", "driven_teeth_0", "series", "parallel", "pack_current"):
            with self.subTest(code):
                up = next(lever.up for lever in levers(design, STOCK) if lever.code == code)
                moved = apply(design, up)
                down = next(lever.down for lever in levers(moved, STOCK) if lever.code == code)
                self.assertEqual(apply(moved, down).variant(), design.variant())

    def test_the_ends_of_stock_have_no_step(self):
        design = put(FLEET["dunlin"], "variant.pack.series", 1)
        self.assertIsNone(next(lever.down for lever in levers(design, STOCK) if lever.code == "series"))

    def test_a_value_from_elsewhere_is_marked(self):
        design = put(FLEET["dunlin"], "variant.stages.0.driver_teeth", 23)
        marks = {lever.code: lever.mark for lever in levers(design, STOCK)}
        self.assertEqual(
            (marks["driver_teeth_0"], marks["motor_kv"], marks["wheel"], marks["series"]), ("stated", "measured", "measured", "")
        )


class CuresTest(unittest.TestCase):
    def test_a_cure_leaves_its_finding_better_and_breaks_no_other_rating(self):
        tried = 0
        for design in (put(FLEET["dunlin"], "active", "A"), put(FLEET["corncrake"], "active", "B"), put(FLEET["bittern"], "active", "C")):
            study = study_drive(design, STOCK)
            found = find(design, STOCK, study)
            over = {f.code for f in found if f.status is Status.OVER}
            for finding in found:
                for cure in with_cures(finding, Case(design, STOCK, study, plain), found, drive_again).cures:
                    tried += 1
                    after = {f.code: f for f in find(apply(design, cure.edit), STOCK, study_drive(apply(design, cure.edit), STOCK))}
                    self.assertIs(after[finding.code].status, cure.status)
                    self.assertGreater(after[finding.code].margin, finding.margin, cure.text)
                    newly = {c for c, f in after.items() if f.status is Status.OVER and not c.startswith("goal.")} - over
                    self.assertEqual(newly, set(), cure.text)
        self.assertGreater(tried, 12)

    def test_steps_that_break_a_rating_are_told(self):
        design = put(FLEET["dunlin"], "variant.controller.voltage_max_v", 43.0)
        found = find(design, STOCK, study_drive(design, STOCK))
        edits = [
            next(x for x in levers(design, STOCK) if x.code == "series").up,
            next(x for x in levers(design, STOCK) if x.code == "series").down,
        ]
        broken = newly_over(Case(design, STOCK, study_drive(design, STOCK), plain), edits, found)
        self.assertEqual(broken[0].code, "controller.pack_volts")
        self.assertIsNone(broken[1])


class GoalsTest(unittest.TestCase):
    def reached(self, design, **goal):
        return study_drive(put(design, "brief.goals", (Goal(id="g", **goal),)), STOCK).goals[0]

    def test_every_kind_against_the_study_it_rests_on(self):
        design = FLEET["dunlin"]
        study = study_drive(design, STOCK)
        nominal = study.states["nominal"]
        self.assertAlmostEqual(self.reached(design, kind=GoalKind.TOP_SPEED, speed=5.0).reached, nominal.top_speed_m_s, places=5)
        self.assertAlmostEqual(
            self.reached(design, kind=GoalKind.TOP_SPEED, speed=5.0, charge=1.0).reached, study.states["full"].top_speed_m_s, places=5
        )
        self.assertAlmostEqual(self.reached(design, kind=GoalKind.START, grade=0.1).reached, nominal.max_grade, places=9)
        self.assertAlmostEqual(
            self.reached(design, kind=GoalKind.SPEED_LIMIT, speed=5.0).reached, study.states["full"].top_speed_m_s, places=5
        )
        self.assertAlmostEqual(
            self.reached(design, kind=GoalKind.POWER_LIMIT, amount=500.0).reached, max(study.states["full"].pack_w), delta=3.0
        )
        climb = self.reached(design, kind=GoalKind.CLIMB, speed=4.0, grade=0.2)
        train, road = study.resolved.train, study.resolved.load
        thrust = float(edge(train, road, climb.reached, nominal.open_circuit_v, grade=0.2).force_n)
        self.assertAlmostEqual(thrust, float(road.resistance_n(climb.reached, 0.2, 0.0)), delta=0.01)

    def test_mass_and_cost_count_what_is_not_on_the_shelf(self):
        design = FLEET["dunlin"]
        cost = self.reached(design, kind=GoalKind.BUDGET, amount=500.0).reached
        bare = put(design, "brief.shelf", ())
        self.assertGreater(self.reached(bare, kind=GoalKind.BUDGET, amount=500.0).reached, cost)
        mass = self.reached(design, kind=GoalKind.ADDED_MASS, amount=5.0)
        self.assertEqual(mass.reached, study_drive(design, STOCK).resolved.drive_mass_kg)
        self.assertEqual(mass.met, mass.reached <= 5.0)

    def test_a_goal_that_is_never_reached_says_so(self):
        slow = self.reached(FLEET["dunlin"], kind=GoalKind.SPRINT, speed=40.0, time=9.0)
        self.assertTrue(math.isinf(slow.reached))
        self.assertFalse(slow.met)

    def test_two_motors_pull_twice_one(self):
        design = FLEET["dunlin"]
        one = apply(design, next(x for x in levers(design, STOCK) if x.code == "motor_count").down)
        pull = [study_drive(d, STOCK).states["nominal"].edge.drive_n[0] for d in (design, one)]
        self.assertAlmostEqual(pull[0] / pull[1], 2.0, places=6)

    def test_a_headwind_slows_and_a_cold_pack_sags(self):
        design = FLEET["dunlin"]
        base = study_drive(design, STOCK).states["nominal"]
        windy = study_drive(put(design, "brief.conditions.headwind", 6.0), STOCK).states["nominal"]
        cold = study_drive(put(design, "brief.conditions.pack_temperature", -10.0), STOCK).states["nominal"]
        self.assertLess(windy.top_speed_m_s, base.top_speed_m_s)
        self.assertLess(cold.top_speed_m_s, base.top_speed_m_s)

    def test_overrides_count_and_the_weakest_knowledge_is_told(self):
        design = FLEET["dunlin"]
        kv = Quantity(value=100.0, known=Known.MEASURED)
        slow = study_drive(put(design, "variant.motor.kv_rpm_per_v", kv), STOCK)
        self.assertEqual(slow.resolved.inputs["variants.B.motor.kv_rpm_per_v"].value, 100.0)
        self.assertLess(slow.states["full"].no_load_speed_m_s, study_drive(design, STOCK).states["full"].no_load_speed_m_s)

    def test_the_point_beyond_the_drive_is_not_held_and_draws_nothing(self):
        resolved = study_drive(FLEET["dunlin"], STOCK).resolved
        point = point_at(resolved, speed_m_s=12.6)  # past full duty, not yet past the volts of the pack
        self.assertFalse(point.held)
        self.assertEqual(point.motor_current_a, 0.0)
        self.assertLess(point.thrust_n, 0.0)
        self.assertLess(point.balance_error, 1e-9)

    def test_a_motor_that_outruns_its_pack_charges_it_in_the_point_as_in_the_ride(self):
        resolved = study_drive(FLEET["dunlin"], STOCK).resolved
        point = point_at(resolved, speed_m_s=15.0)
        self.assertEqual((point.limit, point.duty), ("overspeed", 0.0))
        train = resolved.train
        shaft = float(train.reduction.ratio) * 15.0 / float(resolved.load.wheel_radius_m)
        ohm = float(train.motor.resistance_ohm + train.controller.bridge_ohm + 2.0 * train.pack_ohm(True))
        by_hand = (float(train.motor.torque_constant_nm_per_a) * shaft - resolved.emf_v(0.5) - 1.6) / ohm
        self.assertAlmostEqual(-point.dc_current_a, by_hand, places=6)
        self.assertLess(point.pack_a, -0.9 * 2 * by_hand)
        self.assertGreater(point.bus_v, point.emf_v)
        self.assertLess(point.balance_error, 1e-9)

    def test_a_moment_that_lasts_settles_or_gets_too_hot(self):
        resolved = study_drive(FLEET["dunlin"], STOCK).resolved
        settles, seconds = winding_outlook(resolved, point_at(resolved, speed_m_s=6.0))
        self.assertTrue(resolved.air_c < settles < 120.0 and math.isinf(seconds))
        settles, seconds = winding_outlook(resolved, point_at(resolved, speed_m_s=3.0, grade=0.25))
        self.assertTrue(math.isnan(settles) and 10.0 < seconds < 600.0)

    def test_bricks_come_whole(self):
        from wattagon.errors import InputError

        brick = next(c for c in STOCK.all(CellPart) if c.brick_series > 1)
        design = FLEET["dunlin"]
        broken = put(design, "variant.pack", replace(design.variant().pack, part=brick.id, series=brick.brick_series + 1, overrides={}))
        with self.assertRaisesRegex(InputError, "multiples of"):
            study_drive(broken, STOCK)

    def test_the_edge_falls_where_limits_bind_and_grades_follow_it(self):
        state = study_drive(FLEET["corncrake"], STOCK).states["nominal"]
        self.assertTrue(np.all(np.diff(state.grade_held) <= 1e-9))
        self.assertEqual(state.standstill_limited_by, "motor_current")


class TemplateTest(unittest.TestCase):
    def test_a_new_vehicle_begins_without_anything_over(self):
        for kind in KINDS:
            over = [f.title for f in judged_all(new_design(kind), STOCK) if f.status is Status.OVER]
            self.assertEqual(over, [], kind)
