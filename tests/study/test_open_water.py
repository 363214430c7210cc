"""A propeller by the user's own table of coefficients."""

import unittest
from dataclasses import replace

import numpy as np

from tests.judging import judged_all
from wattagon.design import catalogue, file
from wattagon.design.boats import new_boat
from wattagon.design.parts import PropellerPart
from wattagon.design.paths import apply, put
from wattagon.design.tree import OpenWaterRow, VehicleKind
from wattagon.errors import InputError
from wattagon.physics.water.propeller import open_water_of
from wattagon.study.drive.levers import levers
from wattagon.study.drive.study import study_drive
from wattagon.study.findings.status import Status
from wattagon.study.resolve import resolve

STOCK = catalogue.load()
PUNT = new_boat(VehicleKind.FLAT_BOTTOMED, "Punt")
TABLE = ((0.1, 0.28, 0.033), (0.3, 0.20, 0.026), (0.5, 0.11, 0.018), (0.65, 0.03, 0.010))


def with_rows(rows, design=PUNT):
    return put(design, "variant.propeller.open_water", tuple(OpenWaterRow(advance=j, thrust=t, torque=q) for j, t, q in rows))


def finding(design):
    return next((f for f in judged_all(design, STOCK) if f.code == "prop.open_water"), None)


class TestTable(unittest.TestCase):
    def test_points_are_met_and_its_ends_go_on(self):
        own = open_water_of(tuple(reversed(TABLE)))
        for advance, thrust, torque in TABLE:
            np.testing.assert_allclose(own.at(advance), (thrust, torque), rtol=1e-12)
        self.assertAlmostEqual(own.no_thrust, 0.65 + 0.15 * 0.03 / 0.08)
        self.assertAlmostEqual(float(own.at(0.0)[0]), 0.32)

    def test_both_sides_of_every_bound(self):
        row = lambda k, **new: tuple(
            tuple(new.get(name, value) for name, value in zip("jtq", line, strict=True)) if n == k else line for n, line in enumerate(TABLE)
        )
        open_water_of(row(0, j=0.2))
        open_water_of(row(3, t=0.098, q=0.0175))
        for wrong, words in (
            (TABLE[:3], "4 rows"),
            (row(0, j=0.21), "J 0.2 or below"),
            (row(1, j=0.5, t=0.15), "twice"),
            (row(2, t=0.21), "rises"),
            (row(3, t=0.0981), "near no thrust"),
            (row(1, q=0.0), "K_Q 0"),
            (row(3, q=0.0012), "lasts"),
        ):
            with self.subTest(words), self.assertRaisesRegex(InputError, words):
                open_water_of(wrong)


class TestBoat(unittest.TestCase):
    def test_its_own_shape_as_a_table_gives_the_same_boat(self):
        screw = resolve(PUNT, STOCK).load.screw
        advance = np.linspace(0.0, float(screw.no_thrust), 60)
        same = with_rows(zip(advance.tolist(), screw.thrust.at(advance).tolist(), screw.torque.at(advance).tolist(), strict=True))
        one, other = (study_drive(design, STOCK) for design in (PUNT, same))
        for name in ("full", "nominal"):
            self.assertAlmostEqual(one.docks[name].pull_n / other.docks[name].pull_n, 1.0, 3)
            self.assertAlmostEqual(one.states[name].top_speed_m_s / other.states[name].top_speed_m_s, 1.0, 3)
        self.assertIs(finding(same).status, Status.CLEAR)
        self.assertIn("open_water", " ".join(other.resolved.inputs))

    def test_more_thrust_in_the_table_is_more_at_the_dock(self):
        weak, strong = (study_drive(with_rows([(j, f * t, q) for j, t, q in TABLE]), STOCK) for f in (0.9, 1.0))
        self.assertAlmostEqual(weak.docks["nominal"].pull_n / strong.docks["nominal"].pull_n, 0.9, 2)

    def test_a_table_that_cannot_be_is_told_and_its_shape_counts(self):
        few = with_rows(TABLE[:2])
        self.assertIs(finding(few).status, Status.NOT_CHECKED)
        self.assertIn("4 rows", finding(few).title)
        self.assertIsNone(finding(PUNT))
        self.assertEqual(study_drive(few, STOCK).docks["full"].pull_n, study_drive(PUNT, STOCK).docks["full"].pull_n)

    def test_a_row_left_out_does_not_count(self):
        rows = list(with_rows((*TABLE, (0.4, 0.9, 0.02))).variant().propeller.open_water)
        self.assertIs(finding(put(PUNT, "variant.propeller.open_water", tuple(rows))).status, Status.NOT_CHECKED)
        rows[-1] = replace(rows[-1], out=True)
        self.assertIs(finding(put(PUNT, "variant.propeller.open_water", tuple(rows))).status, Status.CLEAR)

    def test_it_stays_in_the_file_and_goes_with_its_propeller(self):
        own = with_rows(TABLE)
        self.assertEqual(file.from_json(file.to_json(own)), own)
        lever = next(one for one in levers(own, STOCK) if one.code == "propeller_diameter")
        moved = apply(own, lever.up or lever.down)
        self.assertEqual(moved.variant().propeller.open_water, ())
        self.assertIs(own.variant().propeller.other(own.variant().propeller.part), own.variant().propeller)
        other = next(p.id for p in STOCK.all(PropellerPart) if p.id != own.variant().propeller.part)
        self.assertEqual(own.variant().propeller.other(other).open_water, ())


if __name__ == "__main__":
    unittest.main()
