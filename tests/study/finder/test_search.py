"""The search against brute force on a smaller stock, and every hit against the drive study."""

import itertools
import math
import random
import unittest
from dataclasses import replace

import numpy as np

from wattagon.design import catalogue, file
from wattagon.desk.file_actions import DEMO
from wattagon.errors import InputError
from wattagon.study.drive import results, study_drive
from wattagon.study.finder.search import find_drives, goal_rows, run_kernel
from wattagon.study.finder.space import LEVELS, make_space, settings, variant_of
from wattagon.study.finding import Status
from wattagon.study.findings import find
from wattagon.study.goals import outlook
from wattagon.study.resolve import resolve


def thin(space, rng, motors, controllers, packs, reductions):
    """A space with only some of its rows, in their order."""
    pick = lambda n, of: sorted(rng.sample(range(of), min(n, of)))
    m, c = pick(motors, len(space.motors)), pick(controllers, len(space.controllers))
    # packs that could be carried, so that something fits
    good = [k for k in range(len(space.packs)) if 0.8 < space.packs[k, 5] < 6.0 and space.packs[k, 0] < 56.0]
    p, r = sorted(rng.sample(good, packs)), pick(reductions, len(space.reductions))
    return replace(
        space, motors=space.motors[m], motor_parts=tuple(space.motor_parts[k] for k in m), controllers=space.controllers[c],
        controller_parts=tuple(space.controller_parts[k] for k in c), packs=space.packs[p], emf=space.emf[p], range_emf=space.range_emf[p],
        pack_choices=tuple(space.pack_choices[k] for k in p), reductions=space.reductions[r], stage_choices=tuple(space.stage_choices[k] for k in r),
    )  # fmt: skip


def rated(space, motor, count, controller, level, pack, reduction):
    """Whether no rating is passed, worked out from the rows alone."""
    m, c, p, r = space.motors[motor], space.controllers[controller], space.packs[pack], space.reductions[reduction]
    motor_a, _ = settings(m[8], c[1], c[2], p[1], count, LEVELS[level])
    return (
        c[12] == m[14]
        and p[0] <= min(c[0], m[9])
        and c[3] * p[0] / m[0] <= m[10]
        and m[0] * m[7] * motor_a <= r[3]
        and (r[8] == 0.0) == (m[16] > 0.0)
    )


class FinderTest(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.stock = catalogue.load()
        cls.fleet = {name: file.read(DEMO / f"{name}.json").design for name in ("dunlin", "corncrake", "bittern")}
        cls.found = {name: find_drives(design, cls.stock, limit=80) for name, design in cls.fleet.items()}

    def brute(self, space):
        """(row, goals, cost, mass) of every combination that no rating forbids, by the drive study's equations."""
        design, goals = space.design, space.design.brief.goals
        rows = [
            row for row in itertools.product(range(len(space.motors)), space.counts, range(len(space.controllers)), range(len(LEVELS)), range(len(space.packs)), range(len(space.reductions)))
            if rated(space, *row)
        ]  # fmt: skip
        for start in range(0, len(rows), 500):
            part = rows[start : start + 500]
            memo = {}
            batch = []
            for row in part:
                variant = variant_of(space, *row)
                batch.append(resolve(replace(design, variants=(variant,), active="found"), self.stock, memo=memo))
            reached = outlook(batch, goals).reached
            for row, resolved, values in zip(part, batch, reached, strict=True):
                yield row, results(design, values), resolved.cost, resolved.drive_mass_kg

    def test_brute_force_gives_the_same_best_and_the_same_near_misses(self):
        seen = missed = 0
        for name, design in self.fleet.items():
            for seed in (1, 2):
                space = thin(make_space(design, self.stock), random.Random(seed), 4, 4, 9, 14)
                raw = run_kernel(space, self.stock, design.brief.goals)
                best, near = {}, {}
                for row, judged, cost, mass in self.brute(space):
                    fails = [k for k, result in enumerate(judged) if not result.met]
                    cluster = (row[0], row[1], space.packs[row[4], 9])
                    if not fails:
                        old = best.get(cluster, (math.inf, math.inf))
                        best[cluster] = (min(old[0], cost), min(old[1], mass))
                    elif len(fails) == 1:
                        near[fails[0]] = min(near.get(fails[0], math.inf), cost)
                least = min((cost for cost, _ in best.values()), default=math.inf)
                near = {g: cost for g, cost in near.items() if cost < least}
                got = {}
                for row in raw.clusters:
                    variant = variant_of(space, *row)
                    resolved = resolve(replace(design, variants=(variant,), active="found"), self.stock)
                    cluster = (row[0], row[1], space.packs[row[4], 9])
                    old = got.get(cluster, (math.inf, math.inf))
                    got[cluster] = (min(old[0], resolved.cost), min(old[1], resolved.drive_mass_kg))
                self.assertEqual(set(got), set(best), f"{name} {seed}")
                for cluster, (cost, mass) in best.items():
                    self.assertAlmostEqual(got[cluster][0], cost, places=6)
                    self.assertAlmostEqual(got[cluster][1], mass, places=6)
                for g, row in enumerate(raw.near):
                    self.assertEqual(row is not None, g in near, f"{name} {seed} goal {g}")
                    if row is not None:
                        variant = variant_of(space, *row)
                        cost = resolve(replace(design, variants=(variant,), active="found"), self.stock).cost
                        self.assertAlmostEqual(cost, near[g], places=6)
                seen, missed = seen + len(best), missed + len(near)
        self.assertGreaterEqual(seen, 3, "the small stocks hold hits at all")
        self.assertGreaterEqual(missed, 1)

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
                    "motor.motor_amps",
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
                self.assertEqual([result.goal.id for result in hit.goals if not result.met], [hit.fails], name)

    def test_the_same_twice_and_one_worker_as_two(self):
        design = self.fleet["corncrake"]
        space = thin(make_space(design, self.stock), random.Random(5), 8, 6, 30, 60)
        one, two = (run_kernel(space, self.stock, design.brief.goals, workers=n) for n in (1, 2))
        self.assertEqual(one.clusters, two.clusters)
        self.assertEqual((one.passed, list(one.removed)), (two.passed, list(two.removed)))

    def test_shelf_only_uses_only_what_is_there(self):
        design = self.fleet["dunlin"]
        found = find_drives(design, self.stock, shelf="only")
        self.assertEqual((found.hits, found.nothing_of), ((), ("controllers",)))
        prefer, ignore = self.found["dunlin"].hits[0], find_drives(design, self.stock, shelf="ignore", limit=5)
        self.assertLess(prefer.cost, min((hit.cost for hit in ignore.hits), default=math.inf))

    def test_cancelling_ends_it(self):
        found = find_drives(self.fleet["dunlin"], self.stock, cancelled=lambda: True)
        self.assertTrue(found.cancelled)
        self.assertEqual(found.hits, ())

    def test_goals_and_objectives_are_checked(self):
        with self.assertRaises(InputError):
            find_drives(self.fleet["dunlin"], self.stock, objectives=("beauty",))
        space = make_space(self.fleet["dunlin"], self.stock)
        self.assertEqual(goal_rows(space, self.fleet["dunlin"].brief.goals).shape, (7, 5))
