"""Units at the edge: what is typed, what is shown, what is refused."""

import unittest

from tests.design.malformed import DEMO
from wattagon.design import file
from wattagon.errors import InputError, PathError
from wattagon.exchange import units
from wattagon.exchange.set_text import set_from_text


class ParseTest(unittest.TestCase):
    def test_labels_in_any_unit(self):
        for text, dimension, si in (
            ("25 mph", "speed", 11.176), ("25 km/h", "speed", 6.94444), ("12 kn", "speed", 6.17333), ("8 in", "length", 0.2032),
            ('8"', "length", 0.2032), ("215mm", "length", 0.215), ("1,5 m", "length", 1.5), ("110 kg", "mass", 110.0),
            ("242.5 lb", "mass", 109.996), ("14 %", "grade", 0.14), ("70 f", "temperature", 21.1111), ("20 C", "temperature", 20.0),
            ("45 mohm", "resistance", 0.045), ("36 µH", "inductance", 36e-6), ("2 kW", "power", 2000.0), ("4000 mAh", "capacity", 4.0),
            ("90 min", "time", 5400.0), ("15 mi", "distance", 24140.16), ("3 lbf", "force", 13.3447), ("16 T", "teeth", 16.0),
            ("10S", "S", 10.0), ("1.2 kg m2", "inertia", 1.2), ("5.6 ft²", "area", 0.520257), ("1e3 W", "power", 1000.0),
        ):  # fmt: skip
            with self.subTest(text):
                self.assertAlmostEqual(units.parse(text, dimension), si, delta=2e-5 * max(1.0, abs(si)))

    def test_a_bare_number_is_in_the_users_unit(self):
        self.assertAlmostEqual(units.parse("10", "speed", "imperial"), 4.4704)
        self.assertAlmostEqual(units.parse("200", "length", "metric"), 0.2)
        self.assertAlmostEqual(units.parse("68", "temperature", "imperial"), 20.0)
        self.assertAlmostEqual(units.parse("12", "speed"), 12.0)

    def test_what_is_shown_can_be_typed_back(self):
        for unit_set in units.SETS:
            for dimension, value in (
                ("speed", 9.1), ("length", 0.2), ("mass", 78.0), ("temperature", 18.0), ("force", 300.0), ("torque", 3.2),
                ("grade", 0.14), ("area", 0.52), ("distance", 24000.0), ("resistance", 0.0645), ("power", 620.0), ("share", 0.95),
            ):  # fmt: skip
                text = units.full(value, dimension, unit_set)
                self.assertAlmostEqual(units.parse(text.replace("−", "-"), dimension, unit_set), value, delta=1e-5 * max(1, value), msg=text)

    def test_refusals_name_field_value_and_what_is_accepted(self):
        for text, dimension in (("fast", "speed"), ("", "mass"), ("8 in", "mass"), ("5 kg", "grade"), ("3 parsnips", "length"), ("4 4", "speed")):
            with self.subTest(text), self.assertRaisesRegex(InputError, "wheel is .*accepted"):
                units.parse(text, dimension, field="wheel")

    def test_figures_and_large_values(self):
        self.assertEqual(units.say(9.16667, "speed"), "33 km/h")
        self.assertEqual(units.say(9.16667, "speed", "imperial"), "20.5 mph")
        self.assertEqual(units.say(12345.0, "power"), "12.3 kW")
        self.assertEqual(units.say(818.0, "time"), "14 min")
        self.assertEqual(units.say(-0.05, "grade"), "−5 %")
        self.assertEqual(units.significant(float("inf")), "∞")
        self.assertEqual(units.difference(10.0, "temperature", "imperial"), "+18")


class SetTest(unittest.TestCase):
    def setUp(self):
        self.design = file.read(DEMO / "dunlin.json").design

    def test_values_with_units_go_in(self):
        self.assertAlmostEqual(set_from_text(self.design, 'vehicle.tyre_diameter="215 mm"').vehicle.tyre_diameter.value, 0.215)
        self.assertEqual(set_from_text(self.design, "variant.pack.series=12").variant().pack.series, 12)
        self.assertTrue(set_from_text(self.design, "variant.stages.0.freewheel=yes").variant().stages[0].freewheel)
        self.assertIsNone(set_from_text(self.design, "vehicle.clear_width=none").vehicle.clear_width)
        self.assertEqual(set_from_text(self.design, "variant.motor.part=outrunner-63x74-150").variant().motor.part, "outrunner-63x74-150")

    def test_what_does_not_fit_is_refused(self):
        for text, kind in (
            ("vehicle.tyre_diameter", InputError), ("variant.pack.series=12.5", InputError), ("variant.pack=3", InputError),
            ("vehicle.whels=3", PathError), ("variant.stages.0.freewheel=maybe", InputError), ("vehicle.wheelbase=9 m", InputError),
        ):  # fmt: skip
            with self.subTest(text), self.assertRaises(kind):
                set_from_text(self.design, text)

    def test_per_distance_in_every_set(self):
        for unit_set, metres, unit in (("metric", 1000.0, "km"), ("imperial", 1609.344, "mi"), ("nautical", 1852.0, "NM")):
            value, text = units.per_distance(10.0, unit_set)
            self.assertAlmostEqual(value, 10.0 * metres / 1000.0)
            self.assertEqual(text, unit)
