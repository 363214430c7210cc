"""The search of boats: what the compiled search lets through against the drive study, the cheapest and lightest against brute force."""

import math
import unittest
from dataclasses import replace

import numpy as np

from tests.design.malformed import DEMO
from wattagon.design import catalogue, file
from wattagon.design.boats import new_boat
from wattagon.design.parts import PropellerPart
from wattagon.design.paths import put
from wattagon.design.quantity import Quantity
from wattagon.design.tree import Goal, GoalKind, Place, ShelfItem, VehicleKind
from wattagon.study.drive.study import study_drive
from wattagon.study.finder.freedom import freedom_of
from wattagon.study.finder.search import find_drives
from wattagon.study.finder.space import LEVELS
from wattagon.study.finder.water_search import WaterRun, failing_afloat, judged_afloat, outset_afloat
from wattagon.study.finder.water_space import make_water_space
from wattagon.study.finder.wishes import Wishes

STOCK = catalogue.load()
GARGANEY = file.read(DEMO / "garganey.json").design
FEW = Wishes(
    use=(
        *("submerged-56x58-180", "submerged-63x74-120"),
        *("prop-165x130-2-moulded", "prop-200x110-2-moulded", "prop-140x110-2-moulded"),
        *("ctrl-75v-70", "ctrl-45v-35"),
        "cell-21-4p0-power",
    )
)


def with_goals(design, *goals):
    return put(design, "brief.goals", goals)


class AfloatSearchTest(unittest.TestCase):
    def test_what_passes_is_what_the_drive_study_says(self):
        from wattagon.study.finder.water_kernel import missed

        skiff = with_goals(new_boat(VehicleKind.PLANING_SKIFF), Goal(id="top", kind=GoalKind.TOP_SPEED, speed=5.0))
        tail = put(GARGANEY, "active", "C")
        draw = np.random.default_rng(3)
        for design in (GARGANEY, tail, skiff):
            space = make_water_space(design, STOCK, Wishes())
            run = WaterRun(space, STOCK, lambda: False, lambda _share: None)
            rows, told = [], []
            while len(rows) < 120:
                head = run.heads[draw.integers(len(run.heads))]
                level = int(draw.integers(len(LEVELS)))
                row = (*(int(x) for x in head), int(draw.integers(len(space.controllers))), level, int(draw.integers(len(space.packs))))
                found = int(missed(run.tables, run.wishes, (*row[:5], LEVELS[level], row[6]), -1))
                if found < 1000 and (found < 0 or len(rows) % 3):  # ratings and mass are judged elsewhere
                    rows.append(row)
                    told.append(found)
            wrong = 0
            for found, hit in zip(told, judged_afloat(space, STOCK, rows), strict=True):
                fails = failing_afloat(space, STOCK, hit)
                near = any(abs(result.margin) < 4e-3 for result in hit.goals) or not hit.speed_m_s > 0.0
                budget = [result.goal.id for result in hit.goals if result.goal.kind is GoalKind.BUDGET]
                fails = [name for name in fails if name not in budget]
                if (found < 0) != (not fails) and not near and fails != ["match"] and found != 0:
                    wrong += 1
            self.assertEqual(wrong, 0, design.vehicle.name)

    def test_cheapest_and_lightest_against_brute_force(self):
        design = with_goals(
            GARGANEY,
            Goal(id="cruise", kind=GoalKind.CRUISE, speed=1.9),
            Goal(id="pull", kind=GoalKind.BOLLARD, pull=100.0),
            Goal(id="home", kind=GoalKind.THERE_AND_BACK, distance=4000.0, speed=1.5, current=0.4),
            Goal(id="limit", kind=GoalKind.SPEED_LIMIT, speed=2.8),
        )
        wishes = replace(FEW, use=tuple(part for part in FEW.use if part != "prop-140x110-2-moulded"))
        space = make_water_space(design, STOCK, wishes)
        # packs that are near the least that could do: of those far above it none is cheaper or lighter
        rows = [
            (*head, c, level, k)
            for head in space.heads
            for c in range(len(space.controllers))
            for level in range(len(LEVELS))
            for k in range(len(space.packs))
            if space.pack_choices[k].parallel <= 3 and space.pack_choices[k].series <= 14
        ]
        good = [hit for hit in judged_afloat(space, STOCK, rows) if not failing_afloat(space, STOCK, hit)]
        self.assertGreater(len(good), 10)
        found = find_drives(design, STOCK, wishes=wishes, limit=200)
        for value in (lambda hit: hit.cost, lambda hit: hit.mass_kg):
            best = min(good, key=value)
            self.assertAlmostEqual(min(map(value, found.hits)), value(best), delta=1e-6 * value(best))

    def test_hits_hold_what_they_promise(self):
        found = find_drives(GARGANEY, STOCK)
        self.assertTrue(found.hits and found.done)
        self.assertGreater(found.feasible, len(found.hits))
        for hit in found.hits[:12]:
            one = replace(GARGANEY, variants=(hit.variant,), active=hit.variant.id)
            study = study_drive(one, STOCK)
            self.assertTrue(all(result.met for result in study.goals), hit.variant)
            self.assertAlmostEqual(study.resolved.cost, hit.cost)
            self.assertIs(hit.variant.propeller.place, Place.POD)
            self.assertLessEqual(STOCK.get(PropellerPart, hit.variant.propeller.part).diameter_m, 0.24)
        for miss in found.near_misses:
            one = replace(GARGANEY, variants=(miss.variant,), active=miss.variant.id)
            missed = [result.goal.id for result in study_drive(one, STOCK).goals if not result.met]
            self.assertEqual(missed, [miss.fails])
            self.assertLess(miss.cost, min(hit.cost for hit in found.hits))

    def test_wishes_count(self):
        plain = min(hit.cost for hit in find_drives(GARGANEY, STOCK, wishes=FEW).hits)
        beaten = find_drives(GARGANEY, STOCK, wishes=replace(FEW, goals=0.15)).hits
        self.assertGreater(min(hit.cost for hit in beaten), plain)
        self.assertTrue(all(result.margin >= 0.15 for hit in beaten for result in hit.goals if result.goal.kind is GoalKind.CRUISE))
        shelf = (ShelfItem(part="submerged-63x74-120", count=2), ShelfItem(part="ctrl-75v-70", count=2))
        owned = find_drives(put(GARGANEY, "brief.shelf", shelf), STOCK, wishes=FEW)
        self.assertLess(min(hit.cost for hit in owned.hits), plain)
        large = replace(FEW, use=(*FEW.use[:2], *FEW.use[5:], "prop-280x210-2-moulded"))
        none = find_drives(GARGANEY, STOCK, wishes=large)
        self.assertEqual(none.nothing_of, ("propellers",))  # the only one left is too large for the depth
        deep = put(GARGANEY, "vehicle.hull.propeller_depth", Quantity(value=0.5))
        deep = put(deep, "vehicle.hull.tip_gap", None)
        some = find_drives(deep, STOCK, wishes=large)
        self.assertEqual(some.nothing_of, ())

    def test_outset_freedom_and_giving_up(self):
        found = find_drives(GARGANEY, STOCK, wishes=FEW)
        places = {sieve.name: sieve for sieve in outset_afloat(GARGANEY, STOCK, FEW).places}
        self.assertEqual((places["Motors"].left, places["Propellers"].left, places["Controllers"].left), (2, 3, 2))
        hit = found.hits[0]
        offers = {offer.name: offer for offer in freedom_of(GARGANEY, STOCK, FEW, hit)}
        self.assertTrue({"Motor", "Propeller", "In series", "In parallel", "Controller"} <= set(offers))
        for offer in offers.values():
            self.assertEqual(sum(step.present for step in offer.steps), 1, offer.name)
            self.assertTrue(next(step for step in offer.steps if step.present).keeps, offer.name)
        given_up = find_drives(GARGANEY, STOCK, wishes=FEW, cancelled=lambda: True)
        self.assertTrue(given_up.cancelled)
        self.assertFalse(math.isnan(given_up.seconds))


if __name__ == "__main__":
    unittest.main()
