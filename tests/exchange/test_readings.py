"""Readings of tests as typed in a terminal and as tables of files."""

import tempfile
import unittest
from pathlib import Path

from wattagon.design.boats import new_boat
from wattagon.design.tree import DockRow, OpenWaterRow, TowRow, VehicleKind
from wattagon.errors import FileError, WattagonError
from wattagon.exchange.readings_csv import read_readings
from wattagon.exchange.set_text import set_from_text


class TestTyped(unittest.TestCase):
    def setUp(self):
        self.boat = new_boat(VehicleKind.FLAT_BOTTOMED, "Punt")

    def test_rows_in_their_order_with_units(self):
        boat = set_from_text(self.boat, 'vehicle.hull.tow.+="2 kn 3 kgf"')
        row = boat.vehicle.hull.tow[-1]
        self.assertAlmostEqual(row.speed, 2 * 1852 / 3600)
        self.assertAlmostEqual(row.pull, 3 * 9.80665)
        boat = set_from_text(boat, "variant.propeller.dock.+=80 N; 24.6 V; 12 A; 900 rpm")
        self.assertEqual(boat.variant().propeller.dock[-1], DockRow(pull=80.0, volts=24.6, amps=12.0, rpm=900.0))
        boat = set_from_text(boat, "variant.propeller.open_water.+=0.8 -0.02 4e-3")
        self.assertEqual(boat.variant().propeller.open_water[-1], OpenWaterRow(advance=0.8, thrust=-0.02, torque=0.004))

    def test_what_is_no_row_is_told_with_an_example(self):
        for text in ("1.2 m/s", "1.2 m/s 3 kgf 5", "about 1.2 m/s 3 kgf", "1.2 kg 3 kgf", ""):
            with self.subTest(text), self.assertRaises(WattagonError) as refused:
                set_from_text(self.boat, f"vehicle.hull.tow.+={text}")
            self.assertIn("tow", str(refused.exception))
        with self.assertRaisesRegex(WattagonError, "1.2 m/s 3 kgf"):
            set_from_text(self.boat, "vehicle.hull.tow.+=fast")


class TestTables(unittest.TestCase):
    def read(self, text, kind, unit_set="metric"):
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "t.csv"
            path.write_bytes(text if isinstance(text, bytes) else text.encode())
            return read_readings(path, kind, unit_set)

    def test_heads_units_and_other_columns(self):
        rows = self.read("note,pull [kgf],speed [kn]\nout,3,2\nback,4 N,1 m/s\n", TowRow)
        self.assertAlmostEqual(rows[0].pull, 29.41995)
        self.assertAlmostEqual(rows[0].speed, 2 * 1852 / 3600)
        self.assertEqual((rows[1].pull, rows[1].speed), (4.0, 1.0))

    def test_without_heads_in_the_users_units(self):
        rows = self.read("# afloat\n2,30\n4,90\n", TowRow, "nautical")
        self.assertAlmostEqual(rows[1].speed, 4 * 1852 / 3600)
        self.assertEqual(rows[1].pull, 90.0)

    def test_ten_times_the_torque_and_a_decimal_comma(self):
        rows = self.read("J;KT;10KQ\n0,1;0,25;0,3\n0,5;0,10;0,2\n", OpenWaterRow)
        self.assertEqual(rows[0].advance, 0.1)
        self.assertAlmostEqual(rows[1].torque, 0.02)

    def test_refusals_name_row_and_field(self):
        for text, words in (
            ("speed,weather\n1,2\n", "missing: pull"),
            ("speed,pull\n1,2\n1,x\n", "row 3"),
            ("speed,pull\n1\n", "row 2"),
            ("speed,pull\n", "0 readings"),
            ("", "0 readings"),
            ("speed,pull\n400,2\n", "row 2"),
            (b"\xff\xfe\x00", "CSV"),
            ("1,1\n" * 300, "300"),
        ):
            with self.subTest(words), self.assertRaises(FileError) as refused:
                self.read(text, TowRow)
            self.assertIn(words, str(refused.exception))


if __name__ == "__main__":
    unittest.main()
