"""The layout of boats: where propeller and motor stand by their place, gaps around them, what rides along in the hull."""

import math
import unittest
from dataclasses import replace

from tests.design.malformed import DEMO
from tests.judging import judged_all
from tests.study.test_aboard import body, known, laid, of, with_bodies
from wattagon.design import catalogue, file
from wattagon.design.parts import CarrierPart
from wattagon.design.paths import put
from wattagon.design.template import new_design
from wattagon.design.tree import Layout, Place, ReductionKind, StageChoice, VehicleKind
from wattagon.exchange.layout_json import layout_data
from wattagon.study.findings.status import Status
from wattagon.study.layout.boat import works

STOCK = catalogue.load()
PUNT = file.read(DEMO / "garganey.json").design


def gaps(design):
    return {gap.code: gap for gap in laid(design).gaps}


class BoatTest(unittest.TestCase):
    def test_every_boat_is_laid_out_with_things_that_lie_in_its_hull(self):
        for kind in (kind for kind in VehicleKind if kind.floats):
            found = laid(new_design(kind))
            berth = found.scene.berth
            self.assertEqual([shaft.name for shaft in found.shafts][-1], "propeller")
            for one in found.scene.bodies:
                (x0, x1), _, (z0, _) = one.box
                self.assertTrue(0.0 < x0 < x1 < berth.length, f"{kind}: {one.name}")
                self.assertGreater(z0, berth.floor_m(one.x), f"{kind}: {one.name}")
            self.assertTrue(all(math.isfinite(value) for value in (*berth.propeller, *berth.motor)))

    def test_a_long_tail_by_its_geometry(self):
        found = laid(of(PUNT, "C"))
        berth, choice = found.scene.berth, found.resolved.variant.propeller
        x, _, z = berth.propeller
        reach = choice.tail_length.value * math.cos(choice.tilt.value)
        self.assertAlmostEqual(x, -reach, delta=0.01)
        depth = choice.tail_length.value * math.sin(choice.tilt.value) - choice.pivot_height.value
        self.assertAlmostEqual(berth.draught - z, depth, 6)
        self.assertGreater(berth.motor[2], berth.draught + choice.pivot_height.value)
        self.assertAlmostEqual(works(choice, depth, 4.0).tilt, choice.tilt.value)

    def test_tip_to_hull_and_surface_on_both_sides(self):
        size = laid(of(PUNT, "A")).scene.berth.diameter
        for room, status in ((0.09 * size, Status.TIGHT), (0.12 * size, Status.CLEAR)):
            self.assertIs(gaps(put(of(PUNT, "A"), "vehicle.hull.tip_gap", known(room)))["tip.hull"].status, status)
        for depth, status in ((0.4 * size, Status.OVER), (0.9 * size, Status.TIGHT), (1.15 * size, Status.CLEAR)):
            found = gaps(put(of(PUNT, "A"), "vehicle.hull.propeller_depth", known(depth)))["tip.surface"]
            self.assertIs(found.status, status, depth)
            self.assertAlmostEqual(found.nominal, depth - 0.5 * size)
        unmeasured = gaps(put(put(of(PUNT, "A"), "vehicle.hull.tip_gap", None), "vehicle.hull.propeller_depth", None))
        for code in ("tip.hull", "tip.surface"):
            self.assertIs(unmeasured[code].status, Status.NOT_CHECKED)
            self.assertIn("not measured", unmeasured[code].because)

    def test_a_pivot_under_the_transoms_edge_and_a_motor_near_the_water(self):
        for pivot, status in ((0.20, Status.OVER), (0.252, Status.TIGHT), (0.28, Status.CLEAR)):
            design = put(of(PUNT, "C"), "variant.propeller.pivot_height", known(pivot, 0.003))
            self.assertIs(gaps(design)["pivot.transom"].status, status, pivot)
        wet = put(of(PUNT, "C"), "variant.propeller.pivot_height", known(-0.0 + 0.02))
        self.assertIs(gaps(wet)["motor.water"].status, Status.TIGHT)

    def test_a_legs_length_tells_how_deep_it_brings_the_propeller(self):
        leg = next(part for part in STOCK.all(CarrierPart) if part.kind == "leg")
        choice = replace(PUNT.variants[0].propeller, place=Place.LEG, carrier=leg.id)
        for over, status in ((leg.length_m, Status.OVER), (leg.length_m - 0.15, Status.TIGHT), (leg.length_m - 0.3, Status.CLEAR)):
            design = put(put(of(PUNT, "A"), "variant.propeller", choice), "vehicle.hull.transom_height", known(over + 0.11))
            found = gaps(design)["leg.depth"]
            self.assertIs(found.status, status, over)
            self.assertAlmostEqual(found.nominal, leg.length_m - over - 0.5 * laid(design).scene.berth.diameter, 6)

    def test_who_sits_aft_keeps_away_from_a_tails_motor(self):
        for sits, status in ((0.85, Status.OVER), (0.98, Status.TIGHT), (1.3, Status.CLEAR)):
            design = put(of(PUNT, "C"), "vehicle.hull.crew_forward", known(sits))
            self.assertIs(gaps(design)["motor.crew"].status, status, sits)

    def test_a_pack_stands_over_the_bilge_and_inside_the_side(self):
        floor = laid(of(PUNT, "A")).scene.berth.floor_m(1.5)
        for over, status in ((-0.01, Status.OVER), (0.02, Status.TIGHT), (0.04, Status.CLEAR)):
            pack = body("pack", x=1.5, z=floor + over + 0.05, size=(0.02, 0.2, 0.1))
            self.assertIs(gaps(with_bodies(of(PUNT, "A"), pack))["body.pack.bottom"].status, status, over)
        half = laid(of(PUNT, "A")).scene.berth.half_beam_m(1.5)
        for aside, status in ((0.01, Status.OVER), (-0.015, Status.TIGHT), (-0.06, Status.CLEAR)):
            pack = body("pack", x=1.5, y=half + aside - 0.1, z=floor + 0.1, size=(0.02, 0.2, 0.1))
            self.assertIs(gaps(with_bodies(of(PUNT, "A"), pack))["body.pack.side"].status, status, aside)

    def test_a_belt_before_the_shaft_runs_as_on_wheels(self):
        belt = StageChoice(kind=ReductionKind.BELT, profile="5M", driver_teeth=20, driven_teeth=32, width_mm=15.0)
        design = put(put(of(PUNT, "C"), "variant.stages", (belt,)), "variant.layout", Layout())
        found = laid(design)
        self.assertEqual(len(found.stages), 1)
        self.assertTrue(found.stages[0].path.loop.real)
        self.assertTrue(any(one.code == "layout.loop.0" and one.status is Status.CLEAR for one in judged_all(design, STOCK)))

    def test_json_tells_where_the_drive_stands(self):
        data = layout_data(laid(of(PUNT, "A")))
        self.assertEqual(data["boat"]["place"], "pod")
        self.assertAlmostEqual(data["boat"]["draught_mm"], 110.0)
        self.assertAlmostEqual(data["boat"]["propeller_mm"][2], 110.0 - 240.0)
        self.assertEqual(data["stages"], [])

    def test_the_flawed_variant_shows_its_flaws(self):
        found = gaps(of(PUNT, "B"))
        self.assertIs(found["body.pack.bottom"].status, Status.OVER)
        title = next(one.title for one in judged_all(of(PUNT, "B"), STOCK) if one.code == "layout.gap.body.pack.bottom")
        self.assertTrue(title.startswith("Pack over the bottom: 0 m of room"), title)
        self.assertIs(found["tip.surface"].status, Status.TIGHT)
        for variant in ("A", "C"):
            bad = [gap.code for gap in laid(of(PUNT, variant)).gaps if gap.status in (Status.OVER, Status.TIGHT)]
            self.assertEqual(bad, [], variant)


if __name__ == "__main__":
    unittest.main()
