"""Single points of the search against the drive study, over random combinations of the whole stock."""

import unittest
from dataclasses import replace

import numpy as np

from tests.design.malformed import DEMO
from tests.study.finder.thinned import random_rows
from wattagon.design import catalogue, file
from wattagon.design.tree import Goal, GoalKind
from wattagon.physics.point import steady_range_m
from wattagon.study.drive.goals import time_until_hot
from wattagon.study.finder import columns as col
from wattagon.study.finder import intervals, points
from wattagon.study.finder.exact import fails_of, reduce_with
from wattagon.study.finder.hits import failing, judged_hits, lasting_shares
from wattagon.study.finder.space import LEVELS, make_space, pack_amps, settings, variant_of
from wattagon.study.finder.tables import constraints, make_tables
from wattagon.study.finder.wishes import Wishes
from wattagon.study.resolve import resolve


class PointsTest(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.stock = catalogue.load()
        cls.spaces = {}
        for name in ("dunlin", "corncrake", "bittern"):
            design = file.read(DEMO / f"{name}.json").design
            limit = Goal(id="power", kind=GoalKind.POWER_LIMIT, amount=1500.0)
            design = replace(design, brief=replace(design.brief, goals=(*design.brief.goals, limit)))
            cls.spaces[name] = make_space(design, cls.stock, Wishes(wheels=True))
        cls.tables = {name: make_tables(space, constraints(space, space.design.brief.goals)[1]) for name, space in cls.spaces.items()}

    def parts(self, name, row):
        """(motor, controller, pack index, reduction, count, ceiling, battery, road, mass, cost) of a combination."""
        space, t = self.spaces[name], self.tables[name]
        m, wheel, n, c, level, p, first, second = row
        mo, co, pa, ci, road, red = (
            space.motors[m],
            space.controllers[c],
            space.packs[p],
            space.counts.index(n),
            None,
            np.zeros(col.R_COLUMNS),
        )
        road = t.roads[wheel, ci]
        motor_a, _ = settings(space.wishes, mo, co, pa, n, LEVELS[level])
        price, kg = reduce_with(t, ci, first, second, red)
        mass = n * (mo[col.M_MASS] + co[col.C_MASS]) + pa[col.P_MASS] + road[col.W_WHEEL_MASS] + kg
        cost = (n - min(n, mo[col.M_OWNED])) * mo[col.M_PRICE] + (n - min(n, co[col.C_OWNED])) * co[col.C_PRICE] + pa[col.P_PRICE]
        return mo, co, p, red, float(n), mo[col.M_DC] * motor_a, n * t.amps[c, p, ci], road, mass, cost + road[col.W_WHEEL_PRICE] + price

    def resolved(self, space, row):
        return resolve(replace(space.design, variants=(variant_of(space, row),), active="found"), self.stock)

    def test_verdicts_masses_and_prices_are_those_of_the_study(self):
        met = missed = 0
        for name, space in self.spaces.items():
            rows = random_rows(space, 4, 500)
            ids = constraints(space, space.design.brief.goals)[0]
            for hit in judged_hits(space, self.stock, rows):
                mo, co, p, red, n, ceiling, battery, road, mass, cost = self.parts(name, hit.row)
                self.assertAlmostEqual(mass, hit.mass_kg, places=9)
                self.assertAlmostEqual(cost, hit.cost, places=6)
                if any(abs(result.margin) < 1e-6 for result in hit.goals):
                    continue  # on the edge itself rounding decides
                wrong = failing(space, hit)
                climb = next(goal.id for goal in space.design.brief.goals if goal.kind is GoalKind.CLIMB)
                if climb in wrong:
                    continue  # heat is judged at the speed of the goal, which is not reached
                fails, _ = fails_of(self.tables[name], mo, co, p, n, ceiling, battery, road, mass, cost, red, -1, 99)
                self.assertEqual(fails, len(wrong), f"{name} {hit.row} {wrong}")
                met, missed = met + len(ids) - len(wrong), missed + len(wrong)
        self.assertGreater(min(met, missed), 200, "both verdicts are tried")

    def test_three_and_four_motors_cost_and_weigh_as_many(self):
        design = self.spaces["dunlin"].design
        space = make_space(replace(design, vehicle=replace(design.vehicle, axle_wheels=4, driven_axle="all")), self.stock)
        self.assertEqual(space.counts, (1, 2, 3, 4))
        t = make_tables(space, constraints(space, space.design.brief.goals)[1])
        rows = [row for row in random_rows(space, 5, 60) if row[2] > 2]
        self.assertGreater(len(rows), 10)
        for hit in judged_hits(space, self.stock, rows):
            m, _, n, c, _, p, first, second = hit.row
            price, kg = reduce_with(t, n - 1, first, second, np.zeros(col.R_COLUMNS))
            mo, co, pa = space.motors[m], space.controllers[c], space.packs[p]
            self.assertAlmostEqual(n * (mo[col.M_MASS] + co[col.C_MASS]) + pa[col.P_MASS] + kg, hit.mass_kg, places=9)
            bought = (n - min(n, mo[col.M_OWNED])) * mo[col.M_PRICE] + (n - min(n, co[col.C_OWNED])) * co[col.C_PRICE]
            self.assertAlmostEqual(bought + pa[col.P_PRICE] + price, hit.cost, places=6)

    def test_range_heat_and_lasting_current_are_those_of_the_study(self):
        name, hot = "bittern", 0
        space = self.spaces[name]
        for row in random_rows(space, 7, 60):
            mo, co, p, red, n, ceiling, battery, road, mass, _ = self.parts(name, row)
            resolved, pa, all_up = self.resolved(space, row), space.packs[row[5]], road[col.W_MASS] + mass
            train, ground = resolved.train, resolved.load
            theirs = float(steady_range_m(train, ground, speed_m_s=5.0, top=0.95, bottom=0.15, headwind_m_s=resolved.headwind_m_s))
            ours = points.range_m(mo, co, pa, space.range_emf[p], n, ceiling, battery, road, all_up, red, 5.0, 0.0)
            self.assertAlmostEqual(ours, theirs, delta=1e-6 * max(theirs, 1.0))
            v, grade, air = 3.0, 0.12, resolved.air_c
            until = float(time_until_hot(train, ground, np.array([v]), grade, air, resolved.headwind_m_s)[0])
            torque = points.held_torque_nm(n, road, all_up, red, v, grade)
            w = red[col.R_RATIO] * v / road[col.W_RADIUS]
            if 1.0 < until < 1e5:
                hot += 1
                self.assertLess(points.held_winding_c(mo, torque, ceiling, w, v, air, until * 0.995), mo[col.M_LIMIT_C])
                self.assertGreater(points.held_winding_c(mo, torque, ceiling, w, v, air, until * 1.005), mo[col.M_LIMIT_C])
                # the bound: cold magnets take less current, and there is no iron loss
                cold = min(torque / mo[col.M_K] + mo[col.M_A] + mo[col.M_B] * w, ceiling)
                self.assertLess(points.winding_c(mo, cold, v, air, until * 0.995), mo[col.M_LIMIT_C])
                # and it gets the hotter the more torque is held and the faster the shaft turns
                for less, slower in ((0.98, 1.0), (1.0, 0.98)):
                    cooler = points.held_winding_c(mo, torque * less, ceiling, w * slower, v, air, until)
                    self.assertLessEqual(cooler, points.held_winding_c(mo, torque, ceiling, w, v, air, until))
                self.assertGreaterEqual(points.cool_current_a(mo, v, air, until * 0.99, 1e3), cold * 0.999)
            goal = Goal(id="g", kind=GoalKind.CLIMB, speed=v, grade=grade)
            need = points.hot_current_a(mo, n, road, all_up, red, v, grade, air)
            share = points.lasting_current_a(mo, co, w, v, air) / need - 1.0
            self.assertAlmostEqual(share, lasting_shares([resolved], [goal])[0], delta=1e-6 * max(1.0, abs(share)))
        self.assertGreater(hot, 10)

    def test_no_reduction_that_holds_lies_outside_the_interval(self):
        held = inside = 0
        for name, space in self.spaces.items():
            t = self.tables[name]
            for row in random_rows(space, 11, 250):
                mo, co, p, red, n, ceiling, battery, road, mass, _ = self.parts(name, row)
                kind, ci, pa = 0 if row[6] < 0 else 1 if row[7] < 0 else 2, space.counts.index(row[2]), space.packs[p]
                _, kg = reduce_with(t, ci, row[6], row[7], red)
                bare, heavy = (road[col.W_MASS] + mass - kg + x for x in (t.least[kind, ci, 1], t.worst_mass[kind]))
                emf, x = space.emf[p, 0], red[col.R_RATIO]
                for speed, grade in ((5.0, 0.0), (8.0, 0.0), (3.0, 0.12)):
                    asked = (mo, co, pa, n, ceiling, battery, emf, road)
                    holds = points.holds(*asked, road[col.W_MASS] + mass, red, speed, grade)
                    low, high = intervals.ratio_interval(*asked, bare, speed, grade, t.kinds[kind, 0], t.kinds[kind, 2], 0.2, 60.0, False)
                    if holds:
                        held += 1
                        self.assertTrue(low * 0.9999 <= x <= high * 1.0001, f"{name} {row} {speed}")
                    low, high = intervals.ratio_interval(*asked, heavy, speed, grade, t.kinds[kind, 1], t.kinds[kind, 3], 0.2, 60.0, True)
                    if low < x < high and ceiling * mo[col.M_K] <= red[col.R_CAPACITY]:
                        inside += 1
                        self.assertTrue(holds, f"{name} {row} {speed}: all reductions in the inner interval hold it")
        self.assertGreater(min(held, inside), 60)

    def test_settings_are_those_of_the_levers_and_never_over_a_rating_or_a_power_limit(self):
        space = self.spaces["dunlin"]
        for power in (np.inf, 900.0):
            amps = pack_amps(space, power_w=power)
            for row in random_rows(space, 13, 60):
                mo, co, pa = space.motors[row[0]], space.controllers[row[3]], space.packs[row[5]]
                n = row[2]
                _, pack_a = settings(space.wishes, mo, co, pa, n, 1.0, power)
                self.assertAlmostEqual(amps[row[3], row[5], space.counts.index(n)], pack_a)
                if pack_a > 1.0:
                    self.assertLessEqual(pack_a, min(co[col.C_PACK], pa[col.P_BURST] / n, power / (n * pa[col.P_FULL])) + 1e-9)
        for amp in (0.5, 7.3, 19.9, 20.0, 39.0, 151.0, 299.0, 640.0):
            row = np.full(30, amp)
            self.assertAlmostEqual(points.setting_amps(amp), settings(Wishes(), row, row, row, 1, 1.0)[0])
