"""The search against brute force on a smaller stock, and every hit against the drive study."""

import math
import random
import unittest
from dataclasses import replace

import numpy as np

from tests.design.malformed import DEMO
from tests.study.finder.thinned import brute, thin
from wattagon.design import catalogue, file
from wattagon.design.parts import CellPart, ControllerPart, MotorPart, ProfilePart, ToothedPart
from wattagon.design.quantity import Quantity
from wattagon.design.template import new_design
from wattagon.design.tree import Goal, GoalKind, ShelfItem, VehicleKind
from wattagon.errors import InputError, PathError
from wattagon.study.drive.study import study_drive
from wattagon.study.finder import columns as col
from wattagon.study.finder.hits import judged_hits
from wattagon.study.finder.search import Search, asked_for, find_drives
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
        cls.stock = catalogue.load()
        cls.fleet = {name: file.read(DEMO / f"{name}.json").design for name in ("dunlin", "corncrake", "bittern")}
        cls.found = {name: find_drives(design, cls.stock, limit=80) for name, design in cls.fleet.items()}

    def agree(self, space, what):
        """The search and brute force find the same; how many clusters fit and how many near misses there are."""
        run = Search(space, self.stock)
        best, near = {}, {}
        for hit, fails in brute(space, self.stock):
            cluster = (*hit.row[:3], space.packs[hit.row[5], col.P_CELL])
            if not fails:
                old = best.get(cluster, (math.inf, math.inf))
                best[cluster] = (min(old[0], hit.cost), min(old[1], hit.mass_kg))
            else:
                climb = next((g.id for g in space.design.brief.goals if g.kind is GoalKind.CLIMB), "")
                one = [fail for fail in fails if fail != "heat" or climb not in fails]
                if len(one) == 1:
                    near[one[0]] = min(near.get(one[0], math.inf), hit.cost)
        got = {}
        for hit in judged_hits(space, self.stock, run.clusters()):
            cluster = (*hit.row[:3], space.packs[hit.row[5], col.P_CELL])
            old = got.get(cluster, (math.inf, math.inf))
            got[cluster] = (min(old[0], hit.cost), min(old[1], hit.mass_kg))
        self.assertEqual(set(got), set(best), what)
        for cluster, (cost, mass) in best.items():
            self.assertAlmostEqual(got[cluster][0], cost, places=6, msg=what)
            self.assertAlmostEqual(got[cluster][1], mass, places=6, msg=what)
        least = min((cost for cost, _ in best.values()), default=math.inf)
        near = {name: cost for name, cost in near.items() if cost < least - 1e-9}
        missed = {hit.fails: hit.cost for hit in run.near(least)}
        self.assertEqual(set(missed), set(near), what)
        for name, cost in near.items():
            self.assertAlmostEqual(missed[name], cost, places=6, msg=what)
        return len(best), len(near)

    def test_brute_force_gives_the_same_best_and_the_same_near_misses(self):
        seen = missed = 0
        for name, seed in (("dunlin", 25), ("corncrake", 17), ("bittern", 8)):
            space = thin(make_space(self.fleet[name], self.stock, Wishes(climb_time=120.0)), random.Random(seed), 3, 3, 5, 5)
            fits, near = self.agree(space, f"{name} {seed}")
            seen, missed = seen + fits, missed + near
        self.assertGreaterEqual(seen, 10, "the small stocks hold hits at all")
        self.assertGreaterEqual(missed, 2)

    def test_brute_force_agrees_in_a_tailwind(self):
        windy = lambda design: replace(
            design, brief=replace(design.brief, conditions=replace(design.brief.conditions, headwind=Quantity(value=-6.0)))
        )
        seen = 0
        for name, seed in (("dunlin", 25), ("corncrake", 8)):
            space = thin(make_space(windy(self.fleet[name]), self.stock, Wishes(climb_time=120.0)), random.Random(seed), 3, 3, 5, 4)
            seen += sum(self.agree(space, f"{name} {seed}"))
        self.assertGreaterEqual(seen, 2)

    def test_brute_force_agrees_with_wheels_margins_power_limit_and_shelf(self):
        seen = 0
        limit = Goal(id="power", kind=GoalKind.POWER_LIMIT, amount=1800.0)
        wishes = Wishes(wheels=True, volts=0.1, amps=0.1, rpm=0.05, pull=0.1, goals=0.02, climb_time=60.0, schools=("belt", "chain", "two"))
        # one of every pulley is there: a pair that wants two of the same has to buy one
        shelf = tuple(ShelfItem(part=part_id) for part_id in self.stock.rows(ToothedPart))
        for name, seed in (("dunlin", 38), ("bittern", 17)):
            design = self.fleet[name]
            design = with_goals(design, *(goal for goal in design.brief.goals if goal.kind is not GoalKind.BUDGET), limit)
            space = make_space(replace(design, brief=replace(design.brief, shelf=shelf)), self.stock, wishes)
            few = replace(space, wheels=space.wheels[:2], roads=space.roads[:2], stages=replace(space.stages, fits=space.stages.fits[:2]))
            seen += self.agree(thin(few, random.Random(seed), 4, 2, 4, 4), name)[0]
        self.assertGreaterEqual(seen, 8)

    def test_every_point_of_a_front_is_the_cheapest_that_reaches_it(self):
        points = 0
        for name, other in (
            ("dunlin", "range"),
            ("bittern", "margin"),
            ("dunlin", "lasting"),
            ("corncrake", "speed"),
            ("bittern", "mass"),
            ("dunlin", "grade"),
        ):
            space = thin(
                make_space(self.fleet[name], self.stock, Wishes(climb_time=60.0)),
                random.Random(25 if name == "dunlin" else 17 if name == "corncrake" else 8),
                3,
                3,
                5,
                5,
            )
            run = Search(space, self.stock)
            every = [hit for hit, fails in brute(space, self.stock) if not fails]
            known = judged_hits(space, self.stock, run.clusters())
            for hit in run.front(known, "cost", other):
                points += 1
                better = [one.cost for one in every if one.rank(other) <= hit.rank(other) + 1e-9]
                self.assertAlmostEqual(hit.cost, min(better), places=6, msg=f"{name} {other}")
            self.assertIsNotNone(asked_for(run, other, 0.5))
        self.assertGreaterEqual(points, 3)

    def test_counts_from_the_sample_are_those_of_brute_force(self):
        for name, seed in (("dunlin", 16), ("corncrake", 17), ("bittern", 8)):
            design = self.fleet[name]
            space = thin(make_space(design, self.stock, Wishes(climb_time=120.0)), random.Random(seed), 3, 3, 5, 5)
            shares = Search(space, self.stock).count()
            fits, alone, climb = 0, {}, next(g.id for g in design.brief.goals if g.kind is GoalKind.CLIMB)
            for _, fails in brute(space, self.stock):
                fits += not fails
                if len(fails) == 1 and fails[0] != climb:
                    alone[fails[0]] = alone.get(fails[0], 0) + 1
            self.assertAlmostEqual(shares.feasible, fits, delta=max(5.0 * shares.error, 1.0), msg=name)
            for k, goal in enumerate(Search(space, self.stock).ids):
                many = alone.get(goal, 0)
                if goal != climb:
                    self.assertAlmostEqual(float(shares.removed[k]), many, delta=0.1 * many + 12.0, msg=f"{name} {goal}")

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
        space = thin(make_space(design, self.stock), random.Random(5), 8, 6, 30, 60)
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
        prefer, ignore = self.found["dunlin"].hits[0], find_drives(design, self.stock, wishes=Wishes(shelf="ignore"), limit=5)
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
        for kind in VehicleKind:
            design = new_design(kind)
            found = find_drives(design, self.stock, wishes=Wishes(schools=("direct", "belt")), limit=3)
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
            found = find_drives(one, self.stock, wishes=Wishes(schools=("belt",)), limit=2)
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
        found = find_drives(self.fleet["corncrake"], self.stock, wishes=wishes, limit=10)
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
        found = find_drives(self.fleet["dunlin"], self.stock, so_far=told.append, progress=shares.append)
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
