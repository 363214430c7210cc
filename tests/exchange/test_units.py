"""Units at the edge: what is typed, what is shown, what is refused."""

import math
import random
import time
import unittest

from tests.design.malformed import DEMO
from wattagon.design import file
from wattagon.errors import InputError, PathError
from wattagon.exchange import units
from wattagon.exchange.dates import days_until
from wattagon.exchange.set_text import set_from_text


class ParseTest(unittest.TestCase):
    def test_labels_in_any_unit(self):
        for text, dimension, si in (
            ("25 mph", "speed", 11.176),
            ("25 km/h", "speed", 6.94444),
            ("12 kn", "speed", 6.17333),
            ("8 in", "length", 0.2032),
            ('8"', "length", 0.2032),
            ("215mm", "length", 0.215),
            ("1,5 m", "length", 1.5),
            ("110 kg", "mass", 110.0),
            ("242.5 lb", "mass", 109.996),
            ("14 %", "grade", 0.14),
            ("70 f", "temperature", 21.1111),
            ("20 C", "temperature", 20.0),
            ("45 mohm", "resistance", 0.045),
            ("36 µH", "inductance", 36e-6),
            ("2 kW", "power", 2000.0),
            ("4000 mAh", "capacity", 4.0),
            ("90 min", "time", 5400.0),
            ("15 mi", "distance", 24140.16),
            ("3 lbf", "force", 13.3447),
            ("16 T", "teeth", 16.0),
            ("10S", "S", 10.0),
            ("1.2 kg m2", "inertia", 1.2),
            ("5.6 ft²", "area", 0.520257),
            ("1e3 W", "power", 1000.0),
        ):
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
                ("speed", 9.1),
                ("length", 0.2),
                ("mass", 78.0),
                ("temperature", 18.0),
                ("force", 300.0),
                ("torque", 3.2),
                ("grade", 0.14),
                ("area", 0.52),
                ("distance", 24000.0),
                ("resistance", 0.0645),
                ("power", 620.0),
                ("share", 0.95),
            ):
                text = units.full(value, dimension, unit_set)
                self.assertAlmostEqual(
                    units.parse(text.replace("−", "-"), dimension, unit_set), value, delta=1e-5 * max(1, value), msg=text
                )

    def test_refusals_name_field_value_and_what_is_accepted(self):
        for text, dimension in (
            ("fast", "speed"),
            ("", "mass"),
            ("8 in", "mass"),
            ("5 kg", "grade"),
            ("3 parsnips", "length"),
            ("4 4", "speed"),
        ):
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


class TypedTest(unittest.TestCase):
    """What people type by mistake, and what someone may type to hang a program."""

    GOOD = (
        ("1500 m", "distance", 1500.0),
        ("25km/h", "speed", 25 / 3.6),
        ("25 km / h", "speed", 25 / 3.6),
        ("9,81 m/s²", "acceleration", 9.81),
        ("9.81 m/s^2", "acceleration", 9.81),
        ("9.81 m/s**2", "acceleration", 9.81),
        ("0.2 kg m²", "inertia", 0.2),
        ("0.2 kg*m^2", "inertia", 0.2),
        ("3 N·m", "torque", 3.0),
        ("3 N m", "torque", 3.0),
        ("2 lbf ft", "torque", 2.711636),
        ('8"', "length", 0.2032),
        ("8 in", "length", 0.2032),
        ("20 mΩ", "resistance", 0.02),
        ("20 °C", "temperature", 20.0),
        ("68 °F", "temperature", 20.0),
        ("-5", "temperature", -5.0),
        ("\N{MINUS SIGN}5 °C", "temperature", -5.0),
        ("1e-3", "number", 0.001),
        ("14 %", "grade", 0.14),
        ("40 µH", "inductance", 40e-6),
        ("5 W/m²", "irradiance", 5.0),
        ("90 rpm/V", "kv", 90.0),
    )
    BAD = (
        "12 mm (about",
        "1 9**9**9",
        "1 m**9**9**9",
        "1e999",
        "-1e999",
        "1e9999999",
        "²",
        "1²",
        "²³",
        "١٢",
        "12 m # note",
        "12 m\0",
        "1 m;import os",
        "1 __class__",
        "1 m**-2**8",
        "((((1))))",
        "nan",
        "inf",
        "0x10",
        "1 m m m m m m m",
        "12 m\n12 m",
        "1 m" + " " * 500,
        "9" * 20000,
        "1 " + "m*" * 9000 + "m",
        "--5",
        "5..5",
        "1 m//s",
        "1 m/",
        "1 /s",
        "1 m^4",
        "12 mm)",
        "1 \ud800",
        "\N{FULLWIDTH DIGIT ONE}",
    )

    def test_money_ends_at_cents(self):
        for value, said in ((4.6971, "4.70 EUR"), (598.168, "598.17 EUR"), (620.0, "620 EUR"), (-3.5, "\N{MINUS SIGN}3.50 EUR")):
            self.assertEqual(units.say(value, "money"), said)
        self.assertEqual(units.say(0.17812, "money"), "0.178 EUR")  # of a kilowatt-hour
        self.assertEqual(units.say(1234.56, "money", currency="NOK"), "1235 NOK")
        self.assertEqual(units.say(0.0, "money"), "0 EUR")

    def test_units_as_people_write_them(self):
        for text, dimension, value in self.GOOD:
            with self.subTest(text):
                self.assertAlmostEqual(units.parse(text, dimension), value, delta=1e-5 * max(1.0, abs(value)))

    def test_fractions_as_inches_are_written(self):
        for text, value in (("1/4 in", 0.00635), ("5 1/4 in", 0.13335), ("5-1/2 in", 0.1397), ('3/8"', 0.009525), ("-1/2 mm", -0.0005)):
            self.assertAlmostEqual(units.parse(text, "length", "metric"), value, 12, text)
        self.assertAlmostEqual(units.parse("1/4", "length", "imperial"), 0.00635, 12)
        self.assertAlmostEqual(units.parse("20 km/h", "speed", "metric"), 20.0 / 3.6, 12)
        for text in ("1/0 in", "2/3/4 in", "1/ in", "/4 in"):
            with self.assertRaises(InputError, msg=text):
                units.parse(text, "length", "metric")

    def test_anything_else_is_a_sentence_at_once(self):
        units.warm()
        start = time.process_time()
        for text in self.BAD:
            for dimension in ("length", "speed", "acceleration", "number", "count", "share", "temperature"):
                with self.subTest(text[:20], dimension=dimension), self.assertRaises(InputError) as caught:
                    units.parse(text, dimension, "metric", field="wheel")
                words = str(caught.exception)
                self.assertTrue(words.startswith("wheel is "))
                self.assertLess(len(words), 200)
        self.assertLess(time.process_time() - start, 3.0)

    def test_whole_numbers(self):
        self.assertEqual(units.whole("12"), 12)
        self.assertEqual(units.whole("12 teeth", "teeth"), 12)
        for text in (*self.BAD, "12.5", "1e200", "1e16"):
            with self.subTest(text[:20]), self.assertRaises(InputError):
                units.whole(text)

    def test_random_texts_are_numbers_or_sentences(self):
        r = random.Random(3)
        pieces = [
            "1",
            "12.5",
            ",",
            "e",
            "9",
            "-",
            "+",
            " ",
            "m",
            "km",
            "/",
            "*",
            "**",
            "^",
            "(",
            ")",
            "²",
            "h",
            "s",
            "°",
            "C",
            "%",
            "'",
            '"',
            "kg",
            "N",
            "·",
            "__",
            "\t",
            "é",
            "degC",
            "delta_",
            "=",
            "@",
            "[",
            "lambda",
        ]
        taken = 0
        for _ in range(4000):
            text = "".join(r.choice(pieces) for _ in range(r.randrange(1, 9)))
            try:
                value = units.parse(
                    text, r.choice(("length", "speed", "temperature", "acceleration", "number", "torque")), r.choice((None, *units.SETS))
                )
            except InputError:
                continue
            taken += 1
            self.assertTrue(math.isfinite(value))
        self.assertGreater(taken, 50)

    def test_days_are_bounded(self):
        self.assertEqual(days_until("14", "by"), 14)
        self.assertEqual(days_until("3650", "by"), 3650)
        for text in ("3651", "²", "1e999", "9" * 5000, "9999-12-31", "tomorrow", "-3"):
            with self.subTest(text[:9]), self.assertRaisesRegex(InputError, "by is"):
                days_until(text, "by")


class SetTest(unittest.TestCase):
    def setUp(self):
        self.design = file.read(DEMO / "dunlin.json").design

    def test_values_with_units_go_in(self):
        self.assertAlmostEqual(set_from_text(self.design, 'vehicle.tyre_diameter="215 mm"').vehicle.tyre_diameter.value, 0.215)
        self.assertEqual(set_from_text(self.design, "variant.pack.series=12").variant().pack.series, 12)
        self.assertEqual(set_from_text(self.design, "variant.control.throttle.lever.low=1010").variant().control.throttle.lever.low, 1010.0)
        with self.assertRaises(PathError):
            set_from_text(self.design, "variant.control.nonsense=1")
        self.assertIsNone(self.design.variant().control)
        self.assertTrue(set_from_text(self.design, "variant.stages.0.freewheel=yes").variant().stages[0].freewheel)
        self.assertIsNone(set_from_text(self.design, "vehicle.clear_width=none").vehicle.clear_width)
        self.assertEqual(set_from_text(self.design, "variant.motor.part=outrunner-63x74-150").variant().motor.part, "outrunner-63x74-150")

    def test_what_does_not_fit_is_refused(self):
        for text, kind in (
            ("vehicle.tyre_diameter", InputError),
            ("variant.pack.series=12.5", InputError),
            ("variant.pack=3", InputError),
            ("vehicle.whels=3", PathError),
            ("variant.stages.0.freewheel=maybe", InputError),
            ("vehicle.wheelbase=9 m", InputError),
        ):
            with self.subTest(text), self.assertRaises(kind):
                set_from_text(self.design, text)

    def test_per_distance_in_every_set(self):
        for unit_set, metres, unit in (("metric", 1000.0, "km"), ("imperial", 1609.344, "mi"), ("nautical", 1852.0, "NM")):
            value, text = units.per_distance(10.0, unit_set)
            self.assertAlmostEqual(value, 10.0 * metres / 1000.0)
            self.assertEqual(text, unit)


class NothingTest(unittest.TestCase):
    def test_what_differences_leave_of_nothing_is_nothing(self):
        for unit_set in ("metric", "imperial"):
            self.assertEqual(units.say(-2.082e-16, "length", unit_set), units.say(0.0, "length", unit_set))
        self.assertNotEqual(units.say(1e-12, "capacitance"), units.say(0.0, "capacitance"))
