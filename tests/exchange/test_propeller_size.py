"""Sizes of propellers as they are written: inches, millimetres, mixed, and what is none."""

import unittest

from wattagon.errors import InputError
from wattagon.exchange.propeller_size import propeller_size


class PropellerSizeTest(unittest.TestCase):
    def test_inches_and_millimetres(self):
        for text in ("8x6", "8 x 6 in", "8in x 6in", '8" x 6"', "203.2 × 152.4 mm", "8*6", " 8X6 ", "203,2x152,4"):
            diameter, pitch = propeller_size(text)
            self.assertAlmostEqual(diameter, 0.2032, 9, text)
            self.assertAlmostEqual(pitch, 0.1524, 9, text)

    def test_the_unit_of_one_holds_for_both_unless_both_have_one(self):
        self.assertEqual(propeller_size("200x15 cm"), propeller_size("200 cm x 15 cm"))
        self.assertEqual(propeller_size("20 cm x 150 mm"), propeller_size("200x150"))

    def test_what_is_no_size_is_told(self):
        for text in ("", "8", "8x", "x6", "8x6x3", "eight x six", "8 V x 6 V", "8x6 apples", "-8x6", "8x6" * 40):
            with self.assertRaises(InputError) as caught:
                propeller_size(text, "Size")
            self.assertIn("8x6", str(caught.exception))
