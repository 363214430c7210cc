"""The search against brute force on smaller stocks: the best, near misses, fronts and counts."""

import math
import random
import unittest
from dataclasses import replace
from unittest import mock

from tests.design.malformed import DEMO
from tests.study.finder.thinned import brute, thin
from wattagon.design import catalogue, file
from wattagon.design.parts import ToothedPart
from wattagon.design.quantity import Quantity
from wattagon.design.tree import Goal, GoalKind, ShelfItem
from wattagon.study.finder import columns as col
from wattagon.study.finder.hits import judged_hits
from wattagon.study.finder.passes import Search, asked_for
from wattagon.study.finder.space import make_space
from wattagon.study.finder.wishes import Wishes

SMALL = (("dunlin", 49), ("corncrake", 51), ("bittern", 41))  # with the seeds of stocks of which something fits


class BruteForceTest(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.stock = catalogue.load()
        cls.fleet = {name: file.read(DEMO / f"{name}.json").design for name, _ in SMALL}
        cls.small = {
            name: thin(make_space(cls.fleet[name], cls.stock, Wishes(climb_time=90.0)), random.Random(seed), 3, 3, 4, 4)
            for name, seed in SMALL
        }
        cls.every = {name: list(brute(space, cls.stock)) for name, space in cls.small.items()}

    def agree(self, space, what, every=None):
        """The search and brute force find the same; how many clusters fit and how many near misses there are."""
        run = Search(space, self.stock)
        best, near = {}, {}
        for hit, fails in every or brute(space, self.stock):
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

    def test_the_same_best_and_the_same_near_misses(self):
        seen = missed = 0
        for name, space in self.small.items():
            fits, near = self.agree(space, name, self.every[name])
            seen, missed = seen + fits, missed + near
        self.assertGreaterEqual(seen, 10, "the small stocks hold hits at all")
        self.assertGreaterEqual(missed, 2)

    def test_they_agree_in_a_tailwind(self):
        windy = lambda design: replace(
            design, brief=replace(design.brief, conditions=replace(design.brief.conditions, headwind=Quantity(value=-6.0)))
        )
        seen = 0
        for name, seed in (("dunlin", 25), ("corncrake", 8)):
            space = thin(make_space(windy(self.fleet[name]), self.stock, Wishes(climb_time=120.0)), random.Random(seed), 3, 3, 5, 4)
            seen += sum(self.agree(space, f"{name} {seed}"))
        self.assertGreaterEqual(seen, 2)

    def test_they_agree_with_wheels_margins_power_limit_and_shelf(self):
        seen = 0
        limit = Goal(id="power", kind=GoalKind.POWER_LIMIT, amount=1800.0)
        wishes = Wishes(wheels=True, volts=0.1, amps=0.1, rpm=0.05, pull=0.1, goals=0.02, climb_time=60.0, schools=("belt", "chain", "two"))
        # one of every pulley is there: a pair that wants two of the same has to buy one
        shelf = tuple(ShelfItem(part=part_id) for part_id in self.stock.rows(ToothedPart))
        for name, seed in (("dunlin", 43), ("bittern", 17)):
            design = self.fleet[name]
            goals = (*(goal for goal in design.brief.goals if goal.kind is not GoalKind.BUDGET), limit)
            space = make_space(replace(design, brief=replace(design.brief, goals=goals, shelf=shelf)), self.stock, wishes)
            few = replace(space, wheels=space.wheels[:2], roads=space.roads[:2], stages=replace(space.stages, fits=space.stages.fits[:2]))
            seen += self.agree(thin(few, random.Random(seed), 4, 2, 4, 4), name)[0]
        self.assertGreaterEqual(seen, 8)

    def test_every_point_of_a_front_is_the_cheapest_that_reaches_it(self):
        points = 0
        for name, others in (("dunlin", ("range", "lasting", "grade")), ("bittern", ("margin", "mass")), ("corncrake", ("speed",))):
            run = Search(self.small[name], self.stock)
            every = [hit for hit, fails in self.every[name] if not fails]
            known = judged_hits(self.small[name], self.stock, run.clusters())
            for other in others:
                for hit in run.front(known, "cost", other):
                    points += 1
                    better = [one.cost for one in every if one.rank(other) <= hit.rank(other) + 1e-9]
                    self.assertAlmostEqual(hit.cost, min(better), places=6, msg=f"{name} {other}")
                self.assertIsNotNone(asked_for(run, other, 0.5))
        self.assertGreaterEqual(points, 3)

    def test_counts_from_the_sample_are_those_of_brute_force(self):
        self.enterContext(mock.patch("wattagon.study.finder.passes.SAMPLE", 120_000))
        for name, space in self.small.items():
            run = Search(space, self.stock)
            shares = run.count()
            fits, alone, climb = 0, {}, next(g.id for g in space.design.brief.goals if g.kind is GoalKind.CLIMB)
            for _, fails in self.every[name]:
                fits += not fails
                if len(fails) == 1 and fails[0] != climb:
                    alone[fails[0]] = alone.get(fails[0], 0) + 1
            self.assertAlmostEqual(shares.feasible, fits, delta=max(5.0 * shares.error, 1.0), msg=name)
            for k, goal in enumerate(run.ids):
                many = alone.get(goal, 0)
                if goal != climb:
                    self.assertAlmostEqual(float(shares.removed[k]), many, delta=0.1 * many + 12.0, msg=f"{name} {goal}")
