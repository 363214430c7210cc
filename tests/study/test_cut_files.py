"""Every part of every demo variant, written and read back: closed, of the right pitch, area and volume."""

import io
import math
import struct
import unittest
import xml.etree.ElementTree as ET
from dataclasses import replace

import ezdxf
import numpy as np

from tests.design.malformed import DEMO
from tests.study.test_aboard import laid, of
from wattagon.design import catalogue, file
from wattagon.design.paths import put
from wattagon.design.tree.workshop import Printer
from wattagon.errors import InputError
from wattagon.exchange.cut import part_bytes
from wattagon.exchange.cut.stl import solid
from wattagon.physics.outline import area, gaps, polyline
from wattagon.study.layout.sheets import Options, offset, refused, sheet, sheets

STOCK = catalogue.load()
BOARD, KART, BIKE = (file.read(DEMO / f"{name}.json").design for name in ("dunlin", "corncrake", "bittern"))


class CutTest(unittest.TestCase):
    def all_sheets(self):
        for design in (BOARD, KART, BIKE):
            for variant in design.variants:
                found = laid(of(design, variant.id))
                for one in sheets(found):
                    yield f"{design.vehicle.name} {variant.id} {one.id}", one

    def test_every_part_of_every_demo_variant_is_closed_and_does_not_cross_itself(self):
        count = 0
        for name, one in self.all_sheets():
            count += 1
            for outline in one.cut:
                self.assertLess(gaps(outline), 1e-6, name)
            self.assertGreater(area(one.outer), 0.0, name)
            for hole in one.holes:
                self.assertLess(area(hole), 0.0, name)
            points = polyline(one.outer, 0.05)
            self.assertFalse(_crosses(points), name)
        self.assertGreater(count, 20)

    def test_dxf_read_back(self):
        for name, one in self.all_sheets():
            document = ezdxf.read(io.StringIO(part_bytes(one, "dxf").decode()))
            self.assertEqual(document.units, 4)
            cut = [entity for entity in document.modelspace() if entity.dxf.layer == "cut"]
            self.assertEqual(len(cut), len(one.cut), name)
            for entity, outline in zip(cut, one.cut, strict=True):
                if entity.dxftype() == "CIRCLE":
                    self.assertAlmostEqual(math.pi * entity.dxf.radius**2, abs(area(outline)), 6)
                else:
                    self.assertTrue(entity.closed, name)
                    self.assertAlmostEqual(_bulged_area(entity), area(outline), delta=1e-6 * abs(area(outline)))

    def test_pitch_over_all_teeth(self):
        one = sheet(laid(of(BOARD, "B")), "pulley-driven")
        document = ezdxf.read(io.StringIO(part_bytes(one, "dxf").decode()))
        line = next(entity for entity in document.modelspace().query("LWPOLYLINE") if entity.dxf.layer == "cut")
        points = np.array([point[:2] for point in line.get_points()])
        radius = np.hypot(points[:, 0], points[:, 1])
        outside = 72 * 5.0 / (2.0 * math.pi) - 0.5715
        self.assertAlmostEqual(float(radius.max()), outside, delta=0.001)
        per = len(points) // 72
        turns = np.unwrap(np.arctan2(points[::per, 1], points[::per, 0]))
        pitches = np.diff(turns) * (outside + 0.5715)
        self.assertLess(float(np.max(np.abs(pitches - 5.0))), 0.01)

    def test_svg_and_pdf(self):
        one = sheet(laid(of(BOARD, "B")), "motor-plate")
        root = ET.fromstring(part_bytes(one, "svg").decode())
        self.assertTrue(root.attrib["width"].endswith("mm"))
        groups = {group.attrib["id"]: group for group in root if "id" in group.attrib}
        self.assertEqual(len(list(groups["cut"])), len(one.cut))
        self.assertTrue(part_bytes(one, "pdf").startswith(b"%PDF"))
        wide = sheet(laid(of(BOARD, "A")), "drill-template")
        self.assertGreater(len(part_bytes(wide, "pdf", "Letter")), 800)
        with self.assertRaises(InputError):
            part_bytes(one, "pdf", "B9")
        with self.assertRaises(InputError):
            part_bytes(one, "doc")

    def test_solids_are_watertight_and_as_large_as_they_should_be(self):
        for name, one in self.all_sheets():
            if one.made == "paper":
                continue
            triangles = solid(one)
            volume = float(np.sum(np.einsum("ij,ij->i", triangles[:, 0], np.cross(triangles[:, 1], triangles[:, 2]))) / 6.0)
            self.assertAlmostEqual(volume / (one.area_mm2 * one.thickness_mm), 1.0, delta=2e-3, msg=name)
            edges: dict[tuple[bytes, bytes], int] = {}
            for triangle in triangles:
                for k in range(3):
                    a, b = triangle[k].round(6).tobytes(), triangle[(k + 1) % 3].round(6).tobytes()
                    edges[(a, b)] = edges.get((a, b), 0) + 1
            self.assertTrue(all(edges.get((b, a), 0) == many for (a, b), many in edges.items()), name)
            raw = part_bytes(one, "stl")
            self.assertEqual(len(raw), 84 + 50 * struct.unpack("<I", raw[80:84])[0])

    def test_kerf_moves_outlines_away_from_the_material(self):
        found = laid(of(BOARD, "B"))
        plain, wide = sheet(found, "motor-plate"), sheet(found, "motor-plate", Options(kerf_mm=0.3))
        around = sum(piece.length for piece in plain.outer)
        self.assertAlmostEqual(area(wide.outer) - area(plain.outer), 0.15 * around, delta=0.01 * around)
        for before, after in zip(plain.holes, wide.holes, strict=True):
            self.assertLess(abs(area(after)), abs(area(before)))
        for one in sheets(found, Options(kerf_mm=0.2)):
            for outline in one.cut:
                self.assertLess(gaps(outline), 1e-6, one.id)
        with self.assertRaises(InputError):
            offset(plain.holes[0], 50.0)

    def test_what_a_coupon_told_of_the_printer_counts(self):
        shop = replace(BOARD.brief.workshop, printer=Printer(bed_x=0.1, bed_y=0.1, loose=0.0002, holes_by=0.0004))
        told = put(of(BOARD, "B"), "brief.workshop", shop)
        plain, asked = sheet(laid(of(BOARD, "B")), "pulley-driver"), sheet(laid(told), "pulley-driver")
        self.assertLess(asked.area_mm2, plain.area_mm2)
        self.assertAlmostEqual(dict(asked.figures)["bore"] - dict(plain.figures)["bore"], 0.2, 6)
        own = sheet(laid(told), "pulley-driver", Options(holes_by_mm=0.0))
        self.assertAlmostEqual(dict(own.figures)["bore"], dict(plain.figures)["bore"] - 0.2, 6)
        self.assertIn("larger than the printer's bed", " ".join(sheet(laid(told), "pulley-driven").notes))

    def test_what_cannot_be_made_says_why(self):
        few = put(of(BOARD, "B"), "vehicle.hub_bolt_circle", None)
        told = dict(refused(laid(few)))
        self.assertIn("not measured", told["drill-template"])
        with self.assertRaises(InputError) as caught:
            sheet(laid(BOARD), "wheel")
        self.assertIn("pulley-driver", str(caught.exception))


def _crosses(points):
    """Whether a closed polyline crosses itself, segment by segment."""
    p = np.array(points)
    q = np.roll(p, -1, axis=0)
    d = q - p
    n = len(p)
    for k in range(n):
        r = p - p[k]
        denominator = d[k, 0] * d[:, 1] - d[k, 1] * d[:, 0]
        with np.errstate(divide="ignore", invalid="ignore"):
            t = (r[:, 0] * d[:, 1] - r[:, 1] * d[:, 0]) / denominator
            u = (r[:, 0] * d[k, 1] - r[:, 1] * d[k, 0]) / denominator
        hit = (t > 1e-9) & (t < 1 - 1e-9) & (u > 1e-9) & (u < 1 - 1e-9) & (np.abs(denominator) > 1e-15)
        hit[[k, (k + 1) % n, k - 1]] = False
        if hit.any():
            return True
    return False


def _bulged_area(entity):
    """Area of a closed polyline with bulges."""
    total, points = 0.0, list(entity.get_points("xyb"))
    for k, (x0, y0, bulge) in enumerate(points):
        x1, y1, _ = points[(k + 1) % len(points)]
        total += 0.5 * (x0 * y1 - x1 * y0)
        if bulge:
            angle = 4.0 * math.atan(bulge)
            radius = math.dist((x0, y0), (x1, y1)) / (2.0 * math.sin(abs(angle) / 2.0))
            total += math.copysign(0.5 * radius**2 * (abs(angle) - math.sin(abs(angle))), angle)
    return total
