"""The search against brute force on a smaller stock, and every hit against the drive study."""

import math
import random
import unittest
from dataclasses import replace
from unittest import mock

import numpy as np

from tests.design.malformed import DEMO
from tests.study.finder.thinned import thin
from wattagon.design import catalogue, file
from wattagon.design.kinds import KINDS
from wattagon.design.parts import CellPart, ControllerPart, MotorPart, ProfilePart
from wattagon.design.quantity import Quantity
from wattagon.design.template import new_design
from wattagon.design.tree import GoalKind, ShelfItem
from wattagon.errors import InputError, PathError
from wattagon.study.drive.study import study_drive
from wattagon.study.finder import columns as col
from wattagon.study.finder.passes import Search
from wattagon.study.finder.search import find_drives
from wattagon.study.finder.space import make_space, variant_of
from wattagon.study.finder.wishes import Wishes
from wattagon.study.findings.all import find
from wattagon.study.findings.status import Status
from wattagon.study.resolve import bill_of_parts


def with_goals(design, *goals):
    return replace(design, brief=replace(design.brief, goals=goals))


class FinderTest(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.enterClassContext(mock.patch("wattagon.study.finder.passes.SAMPLE", 30_000))  # counts have a test of their own
        cls.stock = catalogue.load()
        cls.fleet = {name: file.read(DEMO / f"{name}.json").design for name in ("dunlin", "corncrake", "bittern")}
        simple = Wishes(schools=("direct", "belt", "chain"))  # two stages are searched for one of them
        wishes = {"dunlin": None, "corncrake": simple, "bittern": simple}
        cls.found = {name: find_drives(design, cls.stock, wishes=wishes[name], limit=80) for name, design in cls.fleet.items()}

    def test_hits_solve_to_the_same_figures_and_pass_every_rating(self):
        rng = random.Random(3)
        hits = [(name, hit) for name, found in self.found.items() for hit in found.hits]
        self.assertGreaterEqual(len(hits), 200)
        for name, hit in rng.sample(hits, 200):
            design = replace(self.fleet[name], variants=(hit.variant,), active="found")
            study = study_drive(design, self.stock)
            for ours, theirs in zip(hit.goals, study.goals, strict=True):
                if math.isfinite(theirs.reached):
                    self.assertAlmostEqual(ours.reached / theirs.reached if theirs.reached else 1.0, 1.0, delta=1e-6)
            self.assertTrue(all(result.met for result in study.goals))
            self.assertAlmostEqual(hit.cost, study.resolved.cost)
            over = {f.code for f in find(design, self.stock, study) if f.status is Status.OVER}
            self.assertLessEqual(
                over
                & {
                    "controller.pack_volts",
                    "motor.pack_volts",
                    "controller.motor_amps",
                    "motor.amps",
                    "motor.heat_on_climb",
                    "controller.pack_amps",
                    "reduction.pull",
                    "controller.kind",
                },
                set(),
            )

    def test_the_front_is_not_dominated_and_comes_first(self):
        for found in self.found.values():
            front = found.hits[: found.front]
            values = np.array([[hit.cost, hit.mass_kg, -hit.margin] for hit in front])
            for k, row in enumerate(values):
                others = np.delete(values, k, axis=0)
                self.assertFalse(np.any(np.all(others <= row, axis=1) & np.any(others < row, axis=1)))
            self.assertEqual(list(values[:, 0]), sorted(values[:, 0]))

    def test_near_misses_fail_only_their_goal(self):
        for name, found in self.found.items():
            for hit in found.near_misses:
                missed = [result.goal.id for result in hit.goals if not result.met]
                self.assertEqual(missed, [] if hit.fails == "heat" else [hit.fails], name)
                if hit.fails == "heat":
                    self.assertLess(hit.heat_s, found.wishes.climb_s(found.design))
                self.assertLess(hit.cost, min(one.cost for one in found.hits))

    def test_the_same_twice_and_one_worker_as_two(self):
        design = self.fleet["corncrake"]
        space = thin(make_space(design, self.stock), random.Random(5), 8, 6, 30, 30)
        one, two = (Search(space, self.stock, workers=n) for n in (1, 2))
        self.assertEqual(one.clusters(), two.clusters())
        self.assertEqual([hit.row for hit in one.near(math.inf)], [hit.row for hit in two.near(math.inf)])
        first, second = one.count(), two.count()
        self.assertEqual((first.feasible, list(first.removed)), (second.feasible, list(second.removed)))

    def test_rows_hold_every_hit_once_and_keep_near_equal_ones_together(self):
        found = self.found["dunlin"]
        self.assertEqual(sorted(k for row in found.rows for k in row), list(range(len(found.hits))))
        self.assertLess(len(found.rows), len(found.hits))
        for row in found.rows:
            motors = {self.stock.get(MotorPart, found.hits[k].variant.motor.part) for k in row}
            self.assertEqual(len({(motor.can_mm, motor.length_mm) for motor in motors}), 1)

    def test_shelf_only_uses_only_what_is_there(self):
        design = self.fleet["dunlin"]
        found = find_drives(design, self.stock, wishes=Wishes(shelf="only"))
        self.assertEqual((found.hits, found.nothing_of), ((), ("controllers", "pulleys or sprockets")))
        prefer, ignore = (
            self.found["dunlin"].hits[0],
            find_drives(design, self.stock, wishes=Wishes(shelf="ignore", schools=("belt",)), limit=5),
        )
        self.assertLess(prefer.cost, min((hit.cost for hit in ignore.hits), default=math.inf))

    def test_what_the_shelf_alone_does_is_found_and_a_shelf_that_must_be_used_is(self):
        design = self.fleet["dunlin"]
        hit = self.found["dunlin"].hits[0]
        self.assertIsNone(self.found["dunlin"].shelf_best)
        variant = replace(hit.variant, id="found")
        bill = bill_of_parts(variant, self.stock)
        shelf = tuple(ShelfItem(part=part_id, count=count) for part_id, _, count, _, _ in bill)
        owner = replace(design, brief=replace(design.brief, shelf=shelf))
        few = Wishes(use=(variant.motor.part, variant.controller.part, variant.pack.part), schools=("belt", "chain"))
        best = find_drives(owner, self.stock, wishes=few).shelf_best
        self.assertEqual(best.cost, 0.0)
        self.assertEqual(study_drive(replace(owner, variants=(best.variant,), active="found"), self.stock).resolved.cost, 0.0)
        only = find_drives(owner, self.stock, wishes=replace(few, shelf="only"))
        self.assertTrue(only.hits)
        self.assertEqual({hit.cost for hit in only.hits}, {0.0})
        # of the kinds on the shelf nothing else: motors, cells and a pulley are there, controllers may be bought
        owned = {item.part for item in design.brief.shelf}
        for hit in find_drives(design, self.stock, wishes=Wishes(shelf="use", schools=("belt", "chain"))).hits:
            self.assertIn(hit.variant.motor.part, owned)
            self.assertIn(hit.variant.pack.part, owned)
            self.assertEqual((hit.variant.stages[0].profile, hit.variant.stages[0].driver_teeth), ("5M", 15))

    def test_odd_briefs_are_searched_without_a_fault(self):
        for kind in list(KINDS)[1::2]:
            design, wishes = new_design(kind), Wishes(schools=("direct", "belt"))
            space = thin(make_space(design, self.stock, wishes), random.Random(7), 12, 8, 60, 40)
            found = find_drives(design, self.stock, wishes=wishes, limit=3, space=space)
            self.assertTrue(found.done)
            for hit in found.hits:
                study = study_drive(replace(design, variants=(hit.variant,), active="found"), self.stock)
                self.assertTrue(all(result.met for result in study.goals), kind)
        design = self.fleet["dunlin"]
        money = next(goal for goal in design.brief.goals if goal.kind is GoalKind.BUDGET)
        windy = replace(design.brief.conditions, headwind=Quantity(value=-6.0))
        odd = (
            with_goals(design),
            with_goals(design, money),
            with_goals(replace(design, brief=replace(design.brief, conditions=windy)), *design.brief.goals),
            replace(design, vehicle=replace(design.vehicle, axle_wheels=1), variants=(replace(design.variant("C"), id="C"),), active="C"),
        )
        for one in odd:
            wishes = Wishes(schools=("belt",))
            space = thin(make_space(one, self.stock, wishes), random.Random(7), 24, 16, 120, 60)
            found = find_drives(one, self.stock, wishes=wishes, limit=2, space=space)
            self.assertTrue(found.done)
            self.assertTrue(found.hits or found.near_misses, [goal.id for goal in one.brief.goals])

    def test_wishes_are_kept(self):
        design = self.fleet["dunlin"]
        plain = self.found["dunlin"].hits
        used = plain[0].variant
        asked = Wishes(
            use=("outrunner-63x74-190", "pulley-5m-15"),
            without=(used.controller.part,),
            within_days=14,
            least_driver=14,
            most_driven=76,
            schools=("belt",),
            climb_time=120.0,
        )
        found = find_drives(design, self.stock, wishes=asked)
        self.assertTrue(found.hits)
        owned = {item.part for item in design.brief.shelf}
        for hit in found.hits:
            v = hit.variant
            self.assertEqual(v.motor.part, "outrunner-63x74-190")
            self.assertNotEqual(v.controller.part, used.controller.part)
            self.assertEqual([(s.profile, s.driver_teeth) for s in v.stages], [("5M", 15)])
            self.assertLessEqual(max(s.driven_teeth for s in v.stages), 76)
            for part in (
                self.stock.get(MotorPart, v.motor.part),
                self.stock.get(ControllerPart, v.controller.part),
                self.stock.get(CellPart, v.pack.part),
            ):
                self.assertTrue(part.lead_days <= 14 or part.id in owned)
            self.assertGreaterEqual(hit.heat_s, 119.9)

    def test_margins_leave_room_on_every_rating_and_goal(self):
        wishes = Wishes(goals=0.05, volts=0.12, amps=0.15, rpm=0.05, pull=0.2)
        space = thin(make_space(self.fleet["corncrake"], self.stock, wishes), random.Random(7), 24, 16, 120, 60)
        found = find_drives(self.fleet["corncrake"], self.stock, wishes=wishes, limit=10, space=space)
        self.assertTrue(found.hits)
        for hit in found.hits:
            self.assertGreaterEqual(hit.margin, 0.05 - 1e-9)
            resolved = study_drive(replace(self.fleet["corncrake"], variants=(hit.variant,), active="found"), self.stock).resolved
            full, part = float(resolved.train.pack.full_v), resolved.controller_part
            self.assertLessEqual(full, 0.88 * min(part.voltage_max_v, resolved.motor_part.voltage_max_v) + 1e-9)
            self.assertLessEqual(
                hit.variant.controller.motor_current_a, 0.85 * min(part.motor_current_burst_a, resolved.motor_part.current_peak_a) + 1e-9
            )
            torque = (
                resolved.train.motor.torque_constant_nm_per_a
                * resolved.train.motor.dc_per_motor_amp
                * hit.variant.controller.motor_current_a
            )
            self.assertLessEqual(torque, 0.8 * min((rating.peak_nm for rating in resolved.ratings), default=math.inf) + 1e-9)

    def test_driven_pulleys_clear_the_ground(self):
        tight, wide = (make_space(self.fleet["dunlin"], self.stock, Wishes(ground_gap=gap)) for gap in (0.040, 0.010))
        radius = float(tight.roads[0, 0, col.W_RADIUS])
        for space, gap in ((tight, 0.040), (wide, 0.010)):
            for choice, fits in zip(space.stages.choices, space.stages.fits[0], strict=True):
                profile = self.stock.get(ProfilePart, choice.profile)
                reach = (profile.pitch_mm * choice.driven_teeth / math.tau + profile.back_mm) / 1e3
                self.assertEqual(bool(fits), radius - reach >= gap)
        self.assertLess(tight.stages.fits.sum(), wide.stages.fits.sum())

    def test_two_stages_share_the_second_where_motors_drive_one_shaft(self):
        space = make_space(self.fleet["bittern"], self.stock)
        variant = variant_of(space, (0, 0, 2, 0, 0, 100, 5, 900))
        self.assertEqual([stage.shared for stage in variant.stages], [False, True])
        board = make_space(self.fleet["dunlin"], self.stock)
        self.assertEqual([stage.shared for stage in variant_of(board, (0, 0, 2, 0, 0, 100, 5, 900)).stages], [False, False])

    def test_results_come_while_it_runs_and_progress_rises(self):
        told, shares = [], []
        found = find_drives(self.fleet["dunlin"], self.stock, wishes=Wishes(schools=("belt",)), so_far=told.append, progress=shares.append)
        self.assertTrue(told)
        self.assertFalse(told[0].done)
        self.assertTrue(told[0].hits, "the first look has something to show")
        self.assertTrue(found.done)
        self.assertGreaterEqual(min(hit.cost for hit in told[0].hits), min(hit.cost for hit in found.hits))
        self.assertAlmostEqual(max(shares), 1.0)

    def test_cancelling_ends_it(self):
        found = find_drives(self.fleet["dunlin"], self.stock, cancelled=lambda: True)
        self.assertTrue(found.cancelled)
        self.assertEqual(found.hits, ())

    def test_goals_objectives_and_wishes_are_checked(self):
        design = self.fleet["dunlin"]
        bad = (
            Wishes(shelf="some"),
            Wishes(schools=("rope",)),
            Wishes(schools=()),
            Wishes(volts=1.5),
            Wishes(climb_time=-1.0),
            Wishes(use=("a-b",), without=("a-b",)),
        )
        for wishes in bad:
            with self.assertRaises((InputError, PathError)):
                find_drives(design, self.stock, wishes=wishes)
        with self.assertRaisesRegex(PathError, "near"):
            find_drives(design, self.stock, wishes=Wishes(use=("outrunner-63x74-19",)))
        with self.assertRaises(InputError):
            find_drives(design, self.stock, objectives=("beauty",))
