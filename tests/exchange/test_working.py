"""Lines of a working in other units: every value is turned, nothing else is."""

import re
import unittest

from tests.design.malformed import DEMO
from wattagon.design import catalogue, file
from wattagon.design.tree import Joint
from wattagon.exchange.working import in_units
from wattagon.study.drive.study import study_drive
from wattagon.study.strength.kinds import BEARS
from wattagon.study.strength.study import study_strength


class WorkingTest(unittest.TestCase):
    def test_values_by_hand(self):
        self.assertEqual(in_units("M = 400 N x 25.4 mm = 10.16 N m", "imperial"), "M = 89.9 lbf x 1 in = 7.49 lbf·ft")
        self.assertEqual(in_units("240 MPa at 50 C", "imperial"), "34.8 ksi at 122 °F")
        self.assertEqual(in_units("240 MPa, 3 N m at 50 C", "metric"), "240 MPa, 3 N·m at 50 °C")

    def test_names_and_counts_stay(self):
        for line in ("4 x M5 8.8", "Steel C45, normalised", "C0 is not 1460", "12 teeth", "2000 h of a bike", "M = 3"):
            self.assertEqual(in_units(line, "imperial"), line)

    def test_no_line_of_any_element_keeps_a_metric_value(self):
        stock = catalogue.load()
        for name in ("corncrake", "garganey", "bittern"):
            design = file.read(DEMO / f"{name}.json").design
            study = study_strength(design, stock, study_drive(design, stock))
            at = next(one.at for one in study.elements if one.at is not None and one.at.torque_nm > 0.0)
            for kind, judge in BEARS.items():
                for line in judge(at._replace(pull_n=300.0, beyond_m=0.02), Joint(kind=kind), stock).working:
                    turned = in_units(line, "imperial")
                    self.assertIsNone(re.search(r"\d (N m|MPa|mm|N|C)\b|mm2", turned), turned)
                    self.assertEqual(turned.count("x"), line.count("x"), line)


if __name__ == "__main__":
    unittest.main()
