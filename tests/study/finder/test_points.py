"""Single points of the search against the drive study, over random combinations of the whole stock."""

import unittest
from dataclasses import replace

import numpy as np

from wattagon.design import catalogue, file
from wattagon.desk.file_actions import DEMO
from wattagon.physics.point import steady_range_m
from wattagon.study.drive import results
from wattagon.study.finder import points
from wattagon.study.finder.kernel import fails_of
from wattagon.study.finder.search import _pack_amps, goal_rows
from wattagon.study.finder.space import LEVELS, make_space, road_row, settings, variant_of
from wattagon.study.goals import outlook
from wattagon.study.resolve import resolve


class PointsTest(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.stock = catalogue.load()
        cls.spaces = {
            name: make_space(file.read(DEMO / f"{name}.json").design, cls.stock) for name in ("dunlin", "corncrake", "bittern")
        }

    def picks(self, space, seed, n):
        """Random rows whose kinds fit together."""
        rng = np.random.default_rng(seed)
        light = np.flatnonzero((space.packs[:, 5] < 9.0) & (space.packs[:, 0] < 60.0))
        made = []
        while len(made) < n:
            m, c, r = (int(rng.integers(len(rows))) for rows in (space.motors, space.controllers, space.reductions))
            if space.motors[m, 14] == space.controllers[c, 12] and (space.reductions[r, 8] == 0) == (space.motors[m, 16] > 0):
                made.append((m, int(rng.choice(space.counts)), c, int(rng.integers(len(LEVELS))), int(rng.choice(light)), r))
        return made

    def parts(self, space, row):
        """(rows, count, ceiling, battery, road, mass, cost, all up) of a combination."""
        m, n, c, level, p, r = row
        mo, co, pa, red = space.motors[m], space.controllers[c], space.packs[p], space.reductions[r]
        motor_a, pack_a = settings(mo[8], co[1], co[2], pa[1], n, LEVELS[level])
        road = road_row(space.design, self.stock, n)
        mass = n * (mo[11] + co[9]) + pa[5] + red[4 if n == 1 else 6]
        cost = (n - min(n, mo[13])) * mo[12] + (n - min(n, co[11])) * co[10] + pa[6] + red[5 if n == 1 else 7]
        return mo, co, pa, red, float(n), mo[7] * motor_a, n * pack_a, road, mass, cost, road[0] + mass

    def test_verdicts_masses_and_prices_are_those_of_the_study(self):
        met = missed = 0
        for name, space in self.spaces.items():
            goals = space.design.brief.goals
            table = goal_rows(space, goals)
            rows = self.picks(space, 4, 150)
            batch = [
                resolve(replace(space.design, variants=(variant_of(space, *row),), active="found"), self.stock) for row in rows
            ]
            reached = outlook(batch, goals).reached
            for row, resolved, values in zip(rows, batch, reached, strict=True):
                mo, co, _, red, n, ceiling, battery, road, mass, cost, all_up = self.parts(space, row)
                self.assertAlmostEqual(mass, resolved.drive_mass_kg, places=9)
                self.assertAlmostEqual(cost, resolved.cost, places=6)
                judged = results(space.design, values)
                if any(abs(result.margin) < 1e-6 for result in judged):
                    continue  # on the edge itself rounding decides
                wrong = sum(not result.met for result in judged)
                fails, _ = fails_of(
                    mo, co, space.packs, row[4], n, ceiling, battery, space.emf, space.range_emf, road, mass, cost, all_up, red, table, 99
                )  # fmt: skip
                self.assertEqual(fails, wrong, f"{name} {row}")
                met, missed = met + len(judged) - wrong, missed + wrong
        self.assertGreater(min(met, missed), 300, "both verdicts are tried")

    def test_range_is_that_of_the_study(self):
        space = self.spaces["bittern"]
        for row in self.picks(space, 7, 40):
            mo, co, pa, red, n, ceiling, battery, road, _, _, all_up = self.parts(space, row)
            resolved = resolve(replace(space.design, variants=(variant_of(space, *row),), active="found"), self.stock)
            theirs = float(
                steady_range_m(
                    resolved.train, resolved.road, speed_m_s=5.0, top=0.95, bottom=0.15, headwind_m_s=resolved.headwind_m_s
                )
            )
            ours = points.range_m(mo, co, pa, space.range_emf[row[4]], n, ceiling, battery, road, all_up, red, 5.0)
            self.assertAlmostEqual(ours, theirs, delta=1e-6 * max(theirs, 1.0))

    def test_no_reduction_that_holds_lies_outside_the_interval(self):
        held = 0
        for space in self.spaces.values():
            best = (space.reductions[:, 1].max(), space.reductions[:, 2].min())
            lightest = min(space.reductions[:, 4].min(), space.reductions[:, 6].min())
            for row in self.picks(space, 11, 120):
                mo, co, pa, red, n, ceiling, battery, road, _mass, _, all_up = self.parts(space, row)
                bare = all_up - red[4 if n == 1 else 6] + lightest
                for speed, grade in ((5.0, 0.0), (8.0, 0.0), (3.0, 0.12)):
                    emf = space.emf[row[4], 0]
                    if points.holds(mo, co, pa, n, ceiling, battery, emf, road, all_up, red, speed, grade):
                        held += 1
                        low, high = points.ratio_interval(mo, co, pa, n, ceiling, battery, emf, road, bare, speed, grade, *best)
                        self.assertLessEqual(low * 0.9999, red[0])
                        self.assertGreaterEqual(high * 1.0001, red[0])
        self.assertGreater(held, 100)

    def test_settings_are_those_of_the_levers_and_never_over_a_rating(self):
        space = self.spaces["dunlin"]
        amps = _pack_amps(space)
        for row in self.picks(space, 13, 60):
            _, n, c, _, p, _ = row
            _, pack_a = settings(100.0, 100.0, space.controllers[c, 2], space.packs[p, 1], n, 1.0)
            self.assertAlmostEqual(amps[c, p, space.counts.index(n)], pack_a)
            if pack_a > 1.0:
                self.assertLessEqual(pack_a, min(space.controllers[c, 2], space.packs[p, 1] / n) + 1e-9)
        for amp in (0.5, 7.3, 19.9, 20.0, 39.0, 151.0, 299.0, 640.0):
            self.assertAlmostEqual(points.setting_amps(amp), settings(amp, amp, 500.0, 500.0, 1, 1.0)[0])
