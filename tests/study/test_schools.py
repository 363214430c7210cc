"""Schools of drive: each one what the finder has, what it asks of its maker, beside a ready-made vehicle."""

import contextlib
import io
import json
import unittest
from dataclasses import replace

from tests.design.malformed import DEMO
from tests.logs import STOCK, demo
from wattagon.cli import main
from wattagon.design import file
from wattagon.design.tree import ReadyMade, ReductionKind, StageChoice
from wattagon.errors import InputError
from wattagon.exchange.units import say
from wattagon.study.compare.compare import compare, design_of, runs_for
from wattagon.study.compare.schools import SCHOOLS, schools
from wattagon.study.compare.schools_words import heads, school_rows
from wattagon.study.compare.words import rows
from wattagon.study.drive.study import study_drive


class SchoolsTest(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.design = demo("bittern")
        cls.found = {one.school.code: one for one in schools(cls.design, STOCK, say)}

    def test_each_school_is_of_its_kind(self):
        self.assertEqual(list(self.found), [*(one.code for one in SCHOOLS), "roller"])
        stages = {code: one.side.design.variant().stages for code, one in self.found.items() if one.side is not None}
        self.assertEqual(stages["direct"], ())
        self.assertEqual([stage.kind for stage in stages["belt"]], [ReductionKind.BELT])
        self.assertEqual([stage.kind for stage in stages["chain"]], [ReductionKind.CHAIN])
        self.assertEqual(len(stages["two"]), 2)

    def test_each_meets_the_brief_by_the_drive_study_and_costs_what_that_says(self):
        for one in self.found.values():
            if one.side is None:
                self.assertTrue(one.why_not, one.school.code)
                continue
            solved = study_drive(one.side.design, STOCK)
            self.assertTrue(all(result.met for result in solved.goals) or one.misses, one.school.code)
            self.assertAlmostEqual(one.money, solved.resolved.cost)
            self.assertAlmostEqual(one.mass_kg, solved.resolved.drive_mass_kg)

    def test_a_hub_is_heavy_on_the_axle_and_asks_for_little_care(self):
        hub, chain = self.found["direct"], self.found["chain"]
        self.assertGreater(hub.unsprung_kg, 3.0 * chain.unsprung_kg)
        self.assertLess(hub.care_h, chain.care_h)
        self.assertEqual(hub.wear, 0.0)
        self.assertLess(hub.hours[1], chain.hours[1])
        for one in (hub, chain):
            self.assertLess(one.hours[0], one.hours[1])
            self.assertLess(one.hours[1], one.hours[2])
            self.assertLessEqual(set(one.lacking), set(one.tools))

    def test_a_middle_drive_needs_pedals_and_a_roller_a_variant_of_ones_own(self):
        board = {one.school.code: one for one in schools(demo("dunlin"), STOCK, say)}
        self.assertIn("pedals", board["middle"].why_not)
        self.assertIn("does not search rollers", board["roller"].why_not)
        for diameter, drives in ((0.04, True), (None, False)):
            stage = StageChoice(kind=ReductionKind.FRICTION, roller_diameter=diameter)
            own = replace(self.design.variant(), id="R", stages=(stage,))
            last = schools(replace(self.design, variants=(*self.design.variants, own)), STOCK, say)[-1]
            self.assertEqual(last.side is not None, drives, last.why_not)
            self.assertEqual("roller" in last.why_not, not drives)

    def test_a_boat_is_refused_in_a_sentence(self):
        with self.assertRaises(InputError) as refused:
            schools(demo("garganey"), STOCK, say)
        self.assertIn("compare variants", str(refused.exception))

    def test_giving_up_gives_nothing(self):
        self.assertEqual(schools(self.design, STOCK, say, cancelled=lambda: True), ())

    def test_a_ready_made_one_stands_last_with_what_was_stated_and_no_more(self):
        ready = ReadyMade(name="shop bike", price=1900.0, mass=24.0, hours=3600.0)
        found = list(self.found.values())
        told = {row.name: row for row in school_rows(found, ready, STOCK, say)}
        self.assertEqual(heads(found, ready)[-1], "shop bike")
        self.assertEqual(told["still to buy"].cells[-1], "1900 EUR")
        self.assertEqual(told["the vehicle alone"].cells[-1], "24 kg")
        self.assertEqual(told["starts on"].cells[-1], "")
        self.assertNotEqual(told["still to buy"].best, len(found))
        without = {row.name: row for row in school_rows(found, None, STOCK, say)}
        self.assertEqual(len(without["still to buy"].cells), len(found))

    def test_it_is_kept_in_the_file(self):
        ready = ReadyMade(name="shop bike", price=1900.0, wet="nothing told")
        design = replace(self.design, brief=replace(self.design.brief, ready=ready))
        self.assertEqual(file.from_json(file.to_json(design)).brief.ready, ready)

    def test_the_terminal_prints_both_ways_and_refuses_sides_beside(self):
        out, err = io.StringIO(), io.StringIO()
        path = str(DEMO / "corncrake.json")
        with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
            self.assertEqual(main(["compare", path, "--schools", "--json"]), 0)
            self.assertEqual(main(["compare", path, "A", "--schools"]), 2)
        data = json.loads(out.getvalue())
        self.assertEqual([one["code"] for one in data["schools"]], ["direct", "belt", "two", "chain", "middle", "roller"])
        belt = data["schools"][1]
        self.assertGreater(belt["cost"], 100.0)
        self.assertIn("--schools", err.getvalue())


class RidesTest(unittest.TestCase):
    def sides(self, run):
        board = demo("dunlin")
        return compare([(name, design_of(board, name)) for name in ("B", "C")], STOCK, say, run=run)

    def test_rides_are_of_the_same_run_and_the_best_is_only_marked_where_both_ended_alike(self):
        found = self.sides("stop-go")
        self.assertTrue(all(side.ride is not None for side in found.sides))
        alike = len({side.ride.run.end for side in found.sides}) == 1
        lines = {line.code: line for line in found.ridden}
        self.assertEqual(lines["ride_energy"].best >= 0, alike)
        self.assertAlmostEqual(lines["ride_time"].values[0], found.sides[0].ride.time_s)
        hill = self.sides("hill")
        self.assertGreater(len({side.ride.run.end for side in hill.sides}), 1)
        self.assertTrue(all(line.best == -1 for line in hill.ridden))
        self.assertIn("how it ended", [row.name for row in rows(hill, say)])

    def test_without_a_run_there_is_none_and_an_unknown_one_is_refused(self):
        self.assertEqual(self.sides("").ridden, ())
        self.assertEqual(self.sides(" Hill ").run, self.sides("hill").run)
        with self.assertRaises(InputError) as refused:
            self.sides("round the house")
        self.assertIn("stop-go", str(refused.exception))

    def test_courses_of_the_brief_are_among_them(self):
        board = demo("dunlin")
        self.assertLessEqual({course.id for course in board.brief.courses}, set(runs_for(board)))
