"""What the search offers can be built; what cannot is a near miss with its reason."""

import random
import unittest
from dataclasses import replace
from unittest import mock

from tests.design.malformed import DEMO
from tests.study.finder.thinned import thin
from wattagon.design import catalogue, file
from wattagon.design.parts import MotorPart, ToothedPart
from wattagon.design.paths import put
from wattagon.design.quantity import Known, Quantity
from wattagon.design.tree import ReductionKind, StageChoice
from wattagon.exchange.units import say
from wattagon.study.finder.hits import failing, judged_hits
from wattagon.study.finder.passes import Search
from wattagon.study.finder.search import built_first, find_drives
from wattagon.study.finder.space import make_space
from wattagon.study.finder.wishes import Wishes
from wattagon.study.finder.words import missed_words
from wattagon.study.layout.buildable import NAMES, hindrance
from wattagon.study.resolve import resolve

STOCK = catalogue.load()
BOARD, KART = (file.read(DEMO / f"{name}.json").design for name in ("dunlin", "corncrake"))


def known(value):
    return Quantity(value=value, known=Known.MEASURED, tolerance=0.0005)


def keeps(design, stock=STOCK):
    found = hindrance(design, resolve(design, stock), stock)
    return found.code if found is not None else ""


class HindranceTest(unittest.TestCase):
    def test_each_thing_on_both_sides(self):
        board = put(replace(BOARD, active="B"), "variant.layout", None)
        for width, code in ((0.20, "build.cans"), (0.30, "")):
            self.assertEqual(keeps(put(board, "vehicle.clear_width", known(width))), code, width)
        self.assertEqual(keeps(put(board, "vehicle.clear_width", None)), "", "what nobody measured speaks against nothing")
        for tyre, code in ((0.110, "build.ground"), (0.2, "")):
            self.assertEqual(keeps(put(board, "vehicle.tyre_diameter", known(tyre))), code, tyre)
        shaft = STOCK.get(MotorPart, KART.variants[0].motor.part).shaft_mm
        for bore, code in ((shaft, ""), (shaft - 2.0, ""), (shaft + 4.0, ""), (shaft + 1.0, "build.bore")):
            rows = {part.id: replace(part, bore_mm=bore) for part in STOCK.rows(ToothedPart).values()}
            other = catalogue.Catalogue(parts={**STOCK.parts, ToothedPart: rows})
            self.assertEqual(keeps(replace(KART, active="A"), other), code, bore)
        planets = StageChoice(kind=ReductionKind.PLANETARY, driver_teeth=12, driven_teeth=61)
        self.assertEqual(keeps(put(replace(KART, active="B"), "variant.stages", (planets,))), "build.mesh")

    def test_a_loop_that_no_shop_has(self):
        third = replace(BOARD, active="C")  # drawn with 83 teeth
        self.assertEqual(keeps(third), "build.loop")
        self.assertEqual(keeps(put(third, "variant.layout", None)), "")


class BuiltFirstTest(unittest.TestCase):
    def test_hits_can_be_built_and_the_cheapest_of_each_hindrance_is_told(self):
        narrow = put(BOARD, "vehicle.clear_width", known(0.19))
        space = thin(make_space(narrow, STOCK, Wishes(climb_time=90.0)), random.Random(32), 5, 3, 4, 6)
        run = Search(space, STOCK)
        good = lambda rows: [hit for hit in judged_hits(space, STOCK, rows) if not failing(space, hit)]
        hits = good(run.clusters())
        built, kept = built_first(run, good, hits, lambda: False)
        of = lambda hit: keeps(replace(space.design, variants=(hit.variant,), active=hit.variant.id))
        self.assertTrue(all(of(hit) == "" for hit in built))
        self.assertGreaterEqual({hit.row for hit in built}, {hit.row for hit in hits if of(hit) == ""}, "none that can be built is lost")
        self.assertTrue(kept, "so narrow a board keeps some from being built")
        for hit in kept:
            alike = [other.cost for other in hits if of(other) == hit.fails]
            self.assertLessEqual(hit.cost, min(alike))
            self.assertEqual(of(hit), hit.fails)
            name, words = missed_words(space.design, mock.Mock(wishes=Wishes()), hit, say)
            self.assertEqual(name, NAMES[hit.fails])
            self.assertRegex(words, "missing|none goes")

    def test_the_whole_search_says_so(self):
        narrow = put(BOARD, "vehicle.clear_width", known(0.12))
        space = thin(make_space(narrow, STOCK, Wishes(schools=("belt",))), random.Random(32), 5, 3, 4, 6)
        self.enterContext(mock.patch("wattagon.study.finder.passes.SAMPLE", 20_000))
        found = find_drives(space.design, STOCK, wishes=space.wishes, space=space)
        for hit in found.hits:
            self.assertEqual(keeps(replace(space.design, variants=(hit.variant,), active=hit.variant.id)), "")
        least = min((hit.cost for hit in found.hits), default=float("inf"))
        self.assertTrue(all(hit.cost < least for hit in found.near_misses if hit.fails in NAMES))


if __name__ == "__main__":
    unittest.main()
