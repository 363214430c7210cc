"""Middle drives in a search: against every combination of a small stock, the gears, chain and cadence, and why there is none."""

import itertools
import random
import unittest
from dataclasses import replace

from tests.design.malformed import DEMO
from tests.study.finder.thinned import thin
from wattagon.design import catalogue, file
from wattagon.design.paths import put
from wattagon.design.template import new_design
from wattagon.design.tree import VehicleKind
from wattagon.errors import InputError
from wattagon.study.drive.study import study_drive
from wattagon.study.finder import columns as col
from wattagon.study.finder.hits import failing, judged_hits, passes_ratings, stages_words
from wattagon.study.finder.middle import middle_rows
from wattagon.study.finder.passes import Search
from wattagon.study.finder.search import find_drives
from wattagon.study.finder.space import LEVELS, THROUGH, make_space
from wattagon.study.finder.wishes import Wishes
from wattagon.study.findings.all import find
from wattagon.study.findings.status import Status
from wattagon.study.say import plain

SEEDS = (80, 124, 156)
MIDDLE = Wishes(schools=("middle",), climb_time=60.0)


class MiddleTest(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.stock = catalogue.load()
        bike = put(file.read(DEMO / "bittern.json").design, "active", "D")
        cls.bike = put(bike, "variant.gears.cadence_low", 80.0)
        cls.space = make_space(cls.bike, cls.stock, MIDDLE)

    def small(self, seed):
        """A stock of few motors, controllers and packs, and of stages that make a crank slow enough."""
        rng = random.Random(seed)
        deep = [k for k, row in enumerate(self.space.stages.table) if row[col.R_RATIO] > 3.5]
        return thin(self.space, rng, 3, 2, 4, 5, stages_of=deep)

    def test_what_is_found_is_found_by_trying_everything_too(self):
        compared = 0
        for seed in SEEDS:
            space = self.small(seed)
            rows, why = middle_rows(Search(space, self.stock), space.gears)
            n = len(space.stages.choices)
            halves = itertools.product(range(len(space.motors)), range(len(space.controllers)), range(len(LEVELS)), range(len(space.packs)))
            pairs = [(k, -1) for k in range(n)] + list(itertools.product(range(n), range(n)))
            every = [
                row
                for m, c, level, p in halves
                for first, second in pairs
                if passes_ratings(space, self.stock, row := (m, 0, 1, c, level, p, first, second, THROUGH))
            ]
            fits = [hit for hit in judged_hits(space, self.stock, every) if not failing(space, hit)]
            found = judged_hits(space, self.stock, rows)
            self.assertTrue(all(not failing(space, hit) for hit in found), seed)
            self.assertEqual(why is None, bool(rows))
            if not fits:
                continue
            compared += 1
            best = min(hit.cost for hit in fits)
            self.assertTrue(found, f"{seed}: {len(fits)} fit")
            # of reductions within 2 % of one another only the cheapest is looked at
            self.assertLessEqual(min(hit.cost for hit in found), 1.05 * best, seed)
            self.assertGreaterEqual(min(hit.cost for hit in found), best - 1e-6, seed)
        self.assertGreaterEqual(compared, 3, "some of the small stocks hold a middle drive")

    def test_hits_go_through_the_gears_and_stand_up_to_the_drive_study(self):
        few = self.bike.variant()
        wishes = replace(MIDDLE, use=(few.motor.part, few.pack.part))
        generous = put(put(self.bike, "brief.goals.mass.amount", 20.0), "brief.goals.budget.amount", 1500.0)
        found = find_drives(generous, self.stock, wishes=wishes)
        self.assertTrue(found.hits)
        self.assertIsNone(found.no_middle)
        for hit in found.hits[:6]:
            self.assertEqual(hit.variant.gears, generous.variant().gears)
            self.assertIn("then the bike's gears", stages_words(hit.variant))
            one = replace(generous, variants=(hit.variant,), active=hit.variant.id)
            study = study_drive(one, self.stock)
            self.assertTrue(all(result.met for result in study.goals), [r.goal.id for r in study.goals if not r.met])
            over = {f.code for f in find(one, self.stock, study) if f.status is Status.OVER}
            self.assertFalse(over & {"gears.assist", "gears.chain", "gears.hub", "reduction.pull", "drive.thrust_on_grade"}, over)

    def test_a_chain_that_the_climb_overloads_is_told(self):
        low = put(self.bike, "variant.gears.cadence_low", 60.0)
        found = find_drives(low, self.stock, wishes=MIDDLE)
        self.assertFalse(found.hits)
        self.assertRegex(found.no_middle(plain), r"pulls the bike's chain with 1\d{3} N .* bears 1143 N")

    def test_only_bikes_are_searched_for_it(self):
        self.assertIsNone(make_space(new_design(VehicleKind.KART), self.stock, Wishes()).gears)
        with self.assertRaisesRegex(InputError, "pedals"):
            make_space(new_design(VehicleKind.KART), self.stock, MIDDLE)
        without = make_space(self.bike, self.stock, Wishes(schools=("belt",)))
        self.assertIsNone(without.gears)
        plain_bike = replace(self.bike, active="A")
        self.assertEqual(make_space(plain_bike, self.stock, Wishes()).gears, self.bike.variant().gears)


if __name__ == "__main__":
    unittest.main()
