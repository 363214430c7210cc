"""Parts to cut: flanges, adapters, guards, slits, tabs, fits and edges; prints in pieces; cards and what a shop is told."""

import math
import unittest
from dataclasses import replace

import numpy as np
from shapely import Polygon, box
from shapely.ops import unary_union

from tests.design.malformed import DEMO
from tests.study.test_aboard import laid, of
from wattagon.design import file
from wattagon.design.paths import put
from wattagon.design.tree.workshop import Printer, PrintMaterial
from wattagon.errors import InputError
from wattagon.exchange.cut import part_bytes
from wattagon.exchange.cut.stl import solid
from wattagon.physics.outline import area, circle, gaps, polyline
from wattagon.study.layout.cut.card import h7_um, nearest_edge, outside_mm, polygon
from wattagon.study.layout.cut.sheet import SCREWS_MM, Sheet
from wattagon.study.layout.cut.split import PLAY_MM, TAIL_MM, split
from wattagon.study.layout.sheets import Options, sheet, sheets

BOARD, BIKE = (file.read(DEMO / f"{name}.json").design for name in ("dunlin", "bittern"))
LAID = laid(of(BOARD, "B"))
CHAINED = laid(of(BIKE, "A"))


def round_sheet(radius, *holes, thickness=4.0, made="mill"):
    inside = tuple(circle(*hole, hole=True) for hole in holes)
    return Sheet(id="disc", name="Disc", made=made, thickness_mm=thickness, outer=circle(0.0, 0.0, radius), holes=inside)


class PartsTest(unittest.TestCase):
    def test_a_flange_stands_over_its_pulley_and_has_its_bore(self):
        wheel, flange = sheet(LAID, "pulley-driver"), sheet(LAID, "pulley-driver-flange")
        self.assertAlmostEqual(dict(flange.figures)["outside"], dict(wheel.figures)["outside"] + 3.0)
        self.assertAlmostEqual(area(flange.outer), math.pi * (0.5 * dict(flange.figures)["outside"]) ** 2, 6)
        self.assertEqual(flange.holes[0], wheel.holes[0])
        self.assertEqual(dict(flange.card)["how many"], "4", "two motors, two sides")

    def test_an_adapter_holds_hub_and_pulley_on_one_circle(self):
        made = sheet(LAID, "hub-adapter")
        middles = [hole[0].middle for hole in made.holes[1:]]
        self.assertEqual(len(middles), 10)
        for x, y in middles:
            self.assertAlmostEqual(math.hypot(x, y), 30.0)
        apart = sorted(math.dist(a, b) for k, a in enumerate(middles) for b in middles[k + 1 :])
        self.assertAlmostEqual(apart[0], 2 * 30.0 * math.sin(math.pi / 10))
        for circle_m, words in ((0.02, "so that metal stays"), (None, "not measured")):
            measured = replace(BOARD.vehicle.hub_bolt_circle, value=circle_m) if circle_m else None
            with self.assertRaisesRegex(InputError, words):
                sheet(laid(put(of(BOARD, "B"), "vehicle.hub_bolt_circle", measured)), "hub-adapter")

    def test_a_guard_covers_all_that_turns(self):
        made, run = sheet(LAID, "guard"), LAID.stages[0]
        cover = Polygon(polyline(made.outer, 0.01))
        for shaft, wheel in ((LAID.shafts[1], run.made.driven_m), (LAID.shafts[0], run.made.driver_m)):
            x, y = 1e3 * (shaft.x - LAID.shafts[1].x), 1e3 * (shaft.z - LAID.shafts[1].z)
            turn, radius = np.linspace(0.0, 2.0 * math.pi, 90), 500.0 * run.made.outside_m(wheel)
            swept = Polygon(np.column_stack([x + radius * np.cos(turn), y + radius * np.sin(turn)]))
            self.assertTrue(cover.contains(swept.buffer(5.9)))

    def test_a_slit_opens_the_seat_and_takes_its_own_width(self):
        whole, open_ = sheet(LAID, "motor-plate"), sheet(LAID, "motor-plate", Options(clamp=True))
        self.assertLess(gaps(open_.outer), 1e-9)
        self.assertEqual(len(open_.holes), len(whole.holes) - 1)
        self.assertTrue(polygon(open_).is_valid)
        seat = 0.5 * dict(whole.figures)["axle"]
        lost = polygon(whole).area - polygon(open_).area
        self.assertAlmostEqual(lost, 2.0 * 10.0, delta=0.3)  # 2 mm wide through 10 mm of rim
        self.assertGreater(seat, 3.0)

    def test_screw_holes_by_what_holds_the_screw(self):
        for fit, size in ((fit, sizes[5]) for fit, sizes in SCREWS_MM.items()):
            made = sheet(LAID, "hub-adapter", Options(fit=fit))
            self.assertAlmostEqual(2.0 * made.holes[1][0].radius, size)
        with self.assertRaisesRegex(InputError, "fit is loose"):
            Options(fit="loose")

    def test_tabs_cross_the_outline_and_are_not_cut(self):
        made = sheet(LAID, "motor-plate", Options(tabs=4))
        self.assertEqual(len(made.marks), 4)
        ring = Polygon(polyline(made.outer, 0.01)).exterior
        from shapely import LineString

        for mark in made.marks:
            self.assertTrue(LineString([mark[0].begin, mark[0].end]).crosses(ring))
        self.assertEqual(made.cut, sheet(LAID, "motor-plate").cut)
        self.assertIn("LWPOLYLINE", part_bytes(made, "dxf").decode())


class EdgeTest(unittest.TestCase):
    def test_the_nearest_edge_of_all_holes(self):
        made = round_sheet(30.0, (0.0, 0.0, 4.0), (22.0, 0.0, 3.0))
        self.assertAlmostEqual(nearest_edge(made)[0], 5.0, 2)
        self.assertAlmostEqual(nearest_edge(made)[1], 6.0)
        self.assertIsNone(nearest_edge(round_sheet(30.0)))

    def test_tolerances_of_bores_and_outsides(self):
        self.assertEqual([h7_um(d) for d in (3.0, 3.1, 8.0, 12.0, 25.0)], [10, 12, 15, 18, 21])  # ISO 286
        self.assertEqual([outside_mm(d) for d in (25.0, 26.0, 60.0, 115.0)], [0.05, 0.08, 0.10, 0.13])  # handbook, d


class SplitTest(unittest.TestCase):
    def test_pieces_lie_on_the_bed_fit_each_other_and_leave_only_play(self):
        whole = round_sheet(150.0, (0.0, 0.0, 30.0), (90.0, 20.0, 8.0), made="print")
        pieces = split(whole, 220.0, 320.0)
        self.assertEqual(len(pieces), 2)
        shapes = [polygon(piece) for piece in pieces]
        for piece, shape in zip(pieces, shapes, strict=True):
            self.assertTrue(shape.is_valid)
            self.assertGreater(area(piece.outer), 0.0)
            left, low, right, high = shape.bounds
            self.assertLessEqual(min(right - left, high - low), 220.0)
            self.assertLessEqual(max(right - left, high - low), 320.0)
            self.assertLess(gaps(piece.outer), 1e-9)
        self.assertAlmostEqual(shapes[0].intersection(shapes[1]).area, 0.0, 6)
        together, lost = unary_union(shapes), polygon(whole).area - sum(shape.area for shape in shapes)
        self.assertGreater(lost, 0.0)
        self.assertLess(lost, 2.5 * PLAY_MM * 300.0)
        self.assertTrue(polygon(whole).buffer(0.02).contains(together))
        # a tail cannot be drawn out straight: moved by less than its depth it meets its socket
        from shapely import affinity

        self.assertGreater(affinity.translate(shapes[1], 0.5 * TAIL_MM, 0.0).intersection(shapes[0]).area, 1.0)
        self.assertIn("epoxy there bears about", pieces[0].notes[-1])

    def test_what_fits_stays_whole_and_what_never_fits_says_so(self):
        small = round_sheet(50.0, made="print")
        self.assertEqual(split(small, 200.0, 200.0), [small])
        huge = split(round_sheet(900.0, made="print"), 200.0, 200.0)
        self.assertEqual(len(huge), 1)
        self.assertIn("larger than the printer's bed", huge[0].notes[-1])

    def test_a_long_guard_of_the_demo_comes_in_pieces_and_whole_by_its_own_id(self):
        ids = [one.id for one in sheets(CHAINED)]
        self.assertIn("guard-2-1of3", ids)
        self.assertNotIn("guard-2", ids)
        left, low, right, high = polygon(sheet(CHAINED, "guard-2")).bounds
        pieces = unary_union([polygon(one) for one in sheets(CHAINED) if one.id.startswith("guard-2-")])
        self.assertTrue(box(left - 1, low - 1, right + 1, high + 1).contains(pieces))


class CardTest(unittest.TestCase):
    def test_a_prints_card_follows_its_volume_and_the_printers_plastics(self):
        made = dict(sheet(LAID, "pulley-driven").card)
        self.assertEqual((made["how many"], made["walls"], made["infill"]), ("2", "6", "60%"))
        printer = Printer(bed_x=0.3, bed_y=0.3, materials=(PrintMaterial.PLA, PrintMaterial.NYLON))
        tough = sheet(laid(put(of(BOARD, "B"), "brief.workshop.printer", printer)), "pulley-driven")
        self.assertEqual(dict(tough.card)["material"], "nylon")
        hours = lambda one: float(dict(one.card)["time"].split()[1])
        thick = sheet(LAID, "pulley-driven", Options(thickness_mm=53.0))
        self.assertAlmostEqual(hours(thick) / hours(sheet(LAID, "pulley-driven")), 2.0, delta=0.1)

    def test_a_shop_is_told_tolerances(self):
        made = dict(sheet(CHAINED, "sprocket-2-driver").card)
        self.assertIn("12.000 mm H7, +18 / 0 um", made["bore"])
        self.assertIn("0 / -0.1 mm", made["roots"])
        self.assertNotIn("walls", made)

    def test_the_card_has_a_page_of_its_own(self):
        self.assertEqual(part_bytes(sheet(LAID, "motor-plate"), "pdf").count(b"/Type /Page\n"), 2)

    def test_a_chamfered_foot_is_watertight_and_smaller_by_a_triangle_around_it(self):
        plain, cut = (solid(sheet(LAID, "spacer", Options(chamfer_mm=c))) for c in (0.0, 0.4))
        volume = lambda faces: float(np.einsum("ij,ij->i", faces[:, 0], np.cross(faces[:, 1], faces[:, 2])).sum() / 6.0)
        rim = sum(piece.length for outline in sheet(LAID, "spacer").cut for piece in outline)
        self.assertAlmostEqual((volume(plain) - volume(cut)) / (0.5 * 0.4 * 0.4 * rim), 1.0, delta=0.05)
        edges = {}
        for face in np.round(cut, 6):
            for k in range(3):
                key = (tuple(face[k]), tuple(face[(k + 1) % 3]))
                edges[key] = edges.get(key, 0) + 1
        self.assertTrue(all(edges.get((b, a), 0) == count for (a, b), count in edges.items()))
        self.assertAlmostEqual(float(cut[:, :, 2].min()), 0.0)


if __name__ == "__main__":
    unittest.main()
