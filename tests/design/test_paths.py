"""Paths and edits: reading, writing, refusing, near matches."""

import unittest

from wattagon.design import file
from wattagon.design.paths import Edit, apply, every_path, get, put
from wattagon.design.quantity import Known, Quantity, weakest
from wattagon.errors import InputError, PathError

from .malformed import DEMO


class PathsTest(unittest.TestCase):
    def setUp(self):
        self.design = file.read(DEMO / "dunlin.json").design

    def test_a_typed_number_becomes_a_stated_quantity(self):
        changed = put(self.design, "vehicle.tyre_diameter", 0.215)
        self.assertEqual(changed.vehicle.tyre_diameter.value, 0.215)
        self.assertIs(changed.vehicle.tyre_diameter.known, Known.STATED)
        self.assertEqual(self.design.vehicle.tyre_diameter.value, 0.2)

    def test_both_sides_of_a_bound(self):
        self.assertEqual(get(put(self.design, "vehicle.wheelbase", 5.0), "vehicle.wheelbase").value, 5.0)
        with self.assertRaisesRegex(InputError, "vehicle.wheelbase is 5.01; accepted: 0.2 to 5 m"):
            put(self.design, "vehicle.wheelbase", 5.01)
        for wrong in (float("nan"), "wide", True, None):
            with self.assertRaises(InputError):
                put(self.design, "vehicle.wheelbase", wrong)

    def test_an_unknown_path_names_near_ones(self):
        with self.assertRaisesRegex(PathError, "near: .*vehicle.tyre_diameter"):
            put(self.design, "vehicle.tire_diameter", 0.2)
        with self.assertRaisesRegex(PathError, "variant.pack.series"):
            put(self.design, "series", 12)

    def test_active_variant_by_short_path_and_others_by_id(self):
        changed = put(self.design, "variant.pack.series", 12)
        self.assertEqual(changed.variant("B").pack.series, 12)
        changed = put(changed, "variants.A.pack.series", 11)
        self.assertEqual((changed.variant("A").pack.series, changed.variant("B").pack.series), (11, 12))

    def test_an_override_is_set_and_taken_away(self):
        changed = put(self.design, "variants.C.motor.kv_rpm_per_v", 151.0)
        self.assertEqual(changed.variant("C").motor.overrides["kv_rpm_per_v"].value, 151.0)
        self.assertEqual(put(changed, "variants.C.motor.kv_rpm_per_v", None), self.design)

    def test_an_edit_is_all_or_nothing(self):
        edit = Edit(label="two", changes=(("variant.pack.series", 12), ("variant.pack.parallel", 0)))
        with self.assertRaises(InputError):
            apply(self.design, edit)
        self.assertEqual(self.design.variant().pack.series, 10)

    def test_every_listed_path_leads_somewhere(self):
        paths = list(every_path(self.design))
        self.assertGreater(len(paths), 150)
        for path in paths:
            get(self.design, path)

    def test_the_centre_of_mass_stays_between_the_axles(self):
        with self.assertRaisesRegex(InputError, "less than the wheelbase"):
            put(self.design, "vehicle.cm_behind_front", 0.95)

    def test_the_weakest_knowledge_wins(self):
        self.assertIs(weakest([Known.MEASURED, Known.STATED, Known.COMPUTED]), Known.STATED)
        self.assertIs(weakest([Known.MEASURED, Known.ASSUMED]), Known.ASSUMED)
        with self.assertRaises(InputError):
            Quantity(value=float("inf"))
