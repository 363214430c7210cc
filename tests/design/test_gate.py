"""One gate: what could not be read from a file again cannot be entered; what an old file has of it is set aside and told."""

import io
import json
import random
import subprocess
import sys
import tempfile
import time
import unittest
import zipfile
from dataclasses import replace
from pathlib import Path

from wattagon.design import file
from wattagon.design.paths import Edit, apply, put
from wattagon.design.quantity import Quantity
from wattagon.design.template import new_design
from wattagon.design.tree import MOST_LEGS, Course, CourseLeg, Goal, GoalKind, ShelfItem, VehicleKind
from wattagon.errors import FileError, InputError

from .malformed import DEMO


def demo(name: str = "dunlin"):
    return file.read(DEMO / f"{name}.json").design


class GateTest(unittest.TestCase):
    """Values on both sides of their bounds, entered in every shape in which the window and the terminal enter them."""

    def setUp(self):
        self.design = demo()
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))

    def legs(self, *legs: CourseLeg) -> tuple[Course, ...]:
        return (Course(id="way", legs=legs),)

    def refused(self, path: str, value: object, words: str) -> None:
        with self.assertRaisesRegex(InputError, words):
            put(self.design, path, value)

    def test_a_count_of_the_fitted_part_is_whole_by_every_door(self):
        put(self.design, "variant.motor.pole_pairs", 8)
        for value in (0.4, Quantity(value=7.5)):
            self.refused("variant.motor.pole_pairs", value, r"pole_pairs is (0\.4|7\.5); accepted: a whole number, 0 to 60")
        motor = replace(self.design.variant().motor, overrides={"pole_pairs": Quantity(value=0.4)})
        self.refused("variant.motor", motor, r"overrides\.pole_pairs is 0\.4")
        self.refused("variant.pack.series", 7.5, "a whole number")

    def test_a_leg_inside_a_tuple_of_courses_is_bounded(self):
        put(self.design, "brief.courses", self.legs(CourseLeg(length=1e6, grade=0.5)))
        self.refused("brief.courses", self.legs(CourseLeg(length=10_583_000.0)), r"brief\.courses\.0\.legs\.0\.length is 1\.0583e\+07")
        self.refused("brief.courses", self.legs(CourseLeg(length=100.0), CourseLeg(length=100.0, grade=0.65)), r"legs\.1\.grade is 0\.65")

    def test_a_leg_of_a_course_that_is_there_is_bounded(self):
        design = put(self.design, "brief.courses", self.legs(CourseLeg(length=100.0), CourseLeg(length=200.0)))
        kept = design.brief.courses[0].legs
        with self.assertRaisesRegex(InputError, r"brief\.courses\.way\.legs\.1\.length"):
            put(design, "brief.courses.way.legs", (kept[0], replace(kept[1], length=2e6)))
        with self.assertRaises(InputError):
            put(design, "brief.courses.way.legs", ())

    def test_shelf_goals_and_quantities_inside_records_are_bounded(self):
        put(self.design, "brief.shelf", (ShelfItem(part="x", count=100000),))
        self.refused("brief.shelf", (ShelfItem(part="x", count=9999999),), r"brief\.shelf\.0\.count is 1e\+07")
        self.refused("brief.goals", (Goal(id="a", kind=GoalKind.TOP_SPEED, speed=61.0),), r"brief\.goals\.0\.speed is 61")
        pack = self.design.variant().pack
        self.refused("variant.pack", replace(pack, wiring_ohm=Quantity(value=1.5)), r"variant\.pack\.wiring_ohm is 1\.5")
        self.refused(
            "variant.motor", replace(self.design.variant().motor, overrides={"kv_rpm_per_v": Quantity(value=0.5)}), "kv_rpm_per_v is 0.5"
        )
        self.refused(
            "variant.motor",
            replace(self.design.variant().motor, overrides={"colour": Quantity(value=1.0)}),
            "not a value of this kind of part",
        )

    def test_texts_that_no_file_can_hold_are_refused(self):
        self.refused("vehicle.name", "half \ud83d", "halves of characters")
        self.refused("note", "x" * 20001, "20001 characters long")
        self.assertEqual(len(put(self.design, "note", "x" * 20000).note), 20000)

    def test_numbers_that_are_none_are_refused(self):
        for wrong in (float("inf"), float("-inf"), float("nan"), 10**400):
            with self.subTest(wrong if isinstance(wrong, float) else "10**400"), self.assertRaises(InputError):
                put(self.design, "vehicle.wheelbase", wrong)
            with self.assertRaises(InputError):
                put(self.design, "variant.pack.series", wrong)
            with self.assertRaises(InputError):
                put(self.design, "variant.controller.motor_current_a", wrong)

    def test_a_file_never_grows_past_what_is_read(self):
        leg = CourseLeg(length=10.0)
        put(self.design, "brief.courses", self.legs(*[leg] * MOST_LEGS))
        with self.assertRaisesRegex(InputError, "up to 20000"):
            put(self.design, "brief.courses", (*self.legs(*[leg] * MOST_LEGS), Course(id="more", legs=(leg,))))

    def test_what_is_in_the_design_is_not_looked_at_again(self):
        long = put(self.design, "brief.courses", self.legs(*[CourseLeg(length=10.0 + k / 1000) for k in range(MOST_LEGS)]))
        legs = long.brief.courses[0].legs
        start = time.process_time()
        for k in range(20):
            long = put(long, "brief.courses.way.legs", (*legs[:k], replace(legs[k], grade=0.1), *legs[k + 1 :]))
        whole = time.process_time() - start
        start = time.process_time()
        file.from_json(file.to_json(long))
        self.assertLess(whole, 20 * (time.process_time() - start) / 4)

    def test_whatever_was_entered_can_be_saved_and_opened(self):
        r = random.Random(5)
        kinds = [new_design(kind) for kind in VehicleKind]
        tried = taken = 0
        for k in range(600):
            design = r.choice(kinds)
            path, value = r.choice(
                [
                    (
                        "brief.courses",
                        self.legs(
                            CourseLeg(
                                length=10 ** r.uniform(-1, 8),
                                grade=r.uniform(-1, 1),
                                speed=10 ** r.uniform(-2, 3),
                                stop=10 ** r.uniform(0, 7),
                            )
                        ),
                    ),
                    ("brief.shelf", (ShelfItem(part=r.choice(["a", ""]), count=r.choice([0, 1, 10**6, 10**20])),)),
                    ("vehicle.empty_mass", 10 ** r.uniform(-3, 5)),
                    ("vehicle.name", r.choice(["", "\ud800", "a\0b", "𝔘"])),
                    ("variant.controller.motor_current_a", 10 ** r.uniform(-2, 5)),
                    ("variant.motor.kv_rpm_per_v", Quantity(value=10 ** r.uniform(-2, 6), tolerance=r.choice([None, 1.0, float("inf")]))),
                    ("vehicle.rolling", Quantity(value=0.02, date=r.choice([None, "2026-05-09", "\udc00"]))),
                ]
            )
            tried += 1
            try:
                changed = apply(design, Edit(label="try", changes=((path, value),)))
            except InputError:
                continue
            taken += 1
            target = self.folder / f"{k}.wattagon"
            file.write(target, file.Document(design=changed))
            self.assertEqual(file.read(target).design, changed, (path, value))
        self.assertGreater(taken, tried // 5)
        self.assertLess(taken, tried * 4 // 5)

    def test_write_reads_back_before_it_replaces(self):
        target = self.folder / "x.wattagon"
        file.write(target, file.Document(design=self.design))
        past_the_gate = replace(self.design, brief=replace(self.design.brief, courses=self.legs(CourseLeg(length=1e9))))
        with self.assertRaisesRegex(FileError, "was not saved, since it could not be opened again: .*length is 1e.09"):
            file.write(target, file.Document(design=past_the_gate))
        self.assertEqual(file.read(target).design, self.design)
        self.assertEqual([p.name for p in self.folder.iterdir()], ["x.wattagon"])


class AsideTest(unittest.TestCase):
    """Old files with damaged parts."""

    def opened(self, change) -> file.Document:
        data = json.loads((DEMO / "dunlin.json").read_text())
        change(data)
        folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        path = folder / "old.json"
        path.write_text(json.dumps(data))
        return file.read(path)

    def test_a_sound_file_sets_nothing_aside(self):
        self.assertEqual(self.opened(lambda data: None).aside, ())

    def test_a_leg_that_is_too_long_goes_and_the_rest_of_its_course_stays(self):
        course = {"id": "way", "legs": [{"length": 100}, {"length": 10583000}, {"length": 50, "grade": 0.65}, {"length": 300}]}
        document = self.opened(lambda data: data["brief"].update(courses=[course]))
        self.assertEqual([(leg.length, leg.grade) for leg in document.design.brief.courses[0].legs], [(100, 0), (50, 0), (300, 0)])
        self.assertEqual(len(document.aside), 2)
        self.assertIn("brief.courses.0.legs.2.grade is 0.65; accepted: -0.4 to 0.5 rise per run; 0.0 taken instead", document.aside[0])
        self.assertRegex(document.aside[1], r"brief\.courses\.0\.legs\.1\.length is 1\.0583e\+07; .*; left out")

    def test_a_course_without_a_leg_left_goes_and_the_others_stay(self):
        courses = [{"id": "a", "legs": [{"length": 0}]}, {"id": "b", "legs": [{"length": 10}]}]
        document = self.opened(lambda data: data["brief"].update(courses=courses))
        self.assertEqual([course.id for course in document.design.brief.courses], ["b"])

    def test_shelf_goals_overrides_and_fields_with_a_default(self):
        def harm(data):
            data["brief"]["shelf"] = [{"part": "x", "count": 9999999}, {"part": "y", "count": 2}]
            data["brief"]["goals"].append({"id": "odd", "kind": "top_speed"})
            data["brief"].setdefault("conditions", {})["air_temperature"] = 900
            data["variants"][0]["motor"]["overrides"] = {"rolling": 0.02, "kv_rpm_per_v": 150}
            data["variants"][1]["wheel"] = {"part": "w", "overrides": {"rolling": 0.012}}
            data["active"] = "none of them"

        document = self.opened(harm)
        design = document.design
        self.assertEqual([(item.part, item.count) for item in design.brief.shelf], [("x", 1), ("y", 2)])
        self.assertEqual(len(design.brief.goals), len(demo().brief.goals))
        self.assertEqual(design.brief.conditions.air_temperature.value, 20.0)
        self.assertEqual(list(design.variants[0].motor.overrides), ["kv_rpm_per_v"])
        self.assertEqual(design.active, "")
        self.assertEqual(len(document.aside), 6)
        self.assertIn("variants.0.motor.overrides.rolling is not a value of this kind of part", " ".join(document.aside))

    def test_a_second_item_of_the_same_id_goes(self):
        document = self.opened(lambda data: data["brief"]["goals"].append(data["brief"]["goals"][0]))
        self.assertEqual(document.design.brief.goals, demo().brief.goals)
        self.assertIn("which another one has", document.aside[0])

    def test_a_variant_that_lacks_its_motor_goes_unless_it_is_the_last(self):
        document = self.opened(lambda data: data["variants"][0].pop("motor"))
        self.assertEqual(len(document.design.variants), len(demo().variants) - 1)
        self.assertIn("variants.0.motor is missing", document.aside[0])
        with self.assertRaisesRegex(FileError, r"variants\.0\.motor is missing"):
            self.opened(lambda data: data.update(variants=[{"id": "A"}], active=""))

    def test_many_are_counted_and_not_all_told(self):
        document = self.opened(lambda data: data["brief"].update(shelf=[{"part": "x", "count": -1}] * 400 + [{"part": "y"}]))
        self.assertEqual(len(document.aside), 13)
        self.assertEqual(document.aside[-1], "and 388 more")

    def test_a_measure_of_the_vehicle_is_not_guessed(self):
        with self.assertRaisesRegex(FileError, r"vehicle\.cm_height is 9; accepted: 0\.05 to 3 m"):
            self.opened(lambda data: data["vehicle"].update(cm_height=9))


class HostileTest(unittest.TestCase):
    """Texts and zips that are meant to hang or to fill the memory."""

    def setUp(self):
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        self.good = (DEMO / "dunlin.json").read_text()

    def refused(self, content: str | bytes, words: str, name: str = "x.wattagon") -> None:
        path = self.folder / name
        path.write_bytes(content if isinstance(content, bytes) else content.encode("utf-8", "surrogatepass"))
        with self.assertRaisesRegex(FileError, words):
            file.read(path)

    def test_numbers_that_json_does_not_know(self):
        for bad, words in (
            ("Infinity", "Infinity is not a number"),
            ("-Infinity", "not a number"),
            ("NaN", "NaN is not a number"),
            ("1e999", "too large"),
            ("9" * 5000, "5000 digits"),
        ):
            with self.subTest(bad[:9]):
                self.refused(self.good.replace('"schema_version": 1', f'"schema_version": 1, "later": [{bad}]', 1), words)

    def test_a_key_twice(self):
        self.refused(self.good.replace('"schema_version": 1', '"schema_version": 1, "note": "a", "note": "b"', 1), "'note' stands twice")

    def test_halves_of_characters(self):
        self.refused(self.good.replace('"schema_version": 1', '"schema_version": 1, "later": ["\\ud800"]', 1), "half of a character")
        self.refused(self.good.replace('"schema_version": 1', '"schema_version": 1, "la\\udc00ter": 1', 1), "half of a character")
        whole = self.good.replace('"schema_version": 1', '"schema_version": 1, "later": "\\ud83d\\ude80"', 1)
        self.assertEqual(file.from_json(whole).extra["later"], "\U0001f680")

    def test_deep_nesting(self):
        for depth in (200, 100_000):
            self.refused("[" * depth + "]" * depth, "no design|nested too deeply")
        deep = "[" * 300 + "]" * 300
        with self.assertRaisesRegex(FileError, "nested too deeply"):
            file.from_json(self.good.replace('"schema_version": 1', f'"schema_version": 1, "later": {deep}', 1))
        path = self.folder / "deep.json"
        path.write_text(self.good.replace('"schema_version": 1', f'"schema_version": 1, "later": {deep}', 1))
        self.assertIn("nested too deeply", file.read(path).aside[0])

    def bomb(self, names: dict[str, int], method: int = zipfile.ZIP_DEFLATED) -> bytes:
        raw = io.BytesIO()
        with zipfile.ZipFile(raw, "w", method) as archive:
            for name, size in names.items():
                with archive.open(name, "w", force_zip64=True) as member:
                    member.write(self.good.encode() if name == "design.json" else b"")
                    for _ in range(size // 1_000_000):
                        member.write(b" " * 1_000_000)
        return raw.getvalue()

    def test_members_of_great_size_are_not_unpacked(self):
        self.refused(self.bomb({"design.json": 10_000_000}), "too large for a design")
        self.refused(self.bomb({"design.json": 0, "logs/a.csv": 90_000_000}), "unpacks to more than")

    def test_ways_of_packing_that_unpack_without_bound_are_refused(self):
        for method in (zipfile.ZIP_LZMA, zipfile.ZIP_BZIP2):
            self.refused(self.bomb({"design.json": 0}, method), "packed in a way that is not read")

    def test_a_size_that_lies_is_found_out(self):
        raw = bytearray(self.bomb({"design.json": 0, "logs/a.csv": 30_000_000}))
        entry = raw.rindex(b"PK\x01\x02")
        raw[entry + 24 : entry + 28] = (1000).to_bytes(4, "little")
        self.refused(bytes(raw), "damaged")

    def test_within_two_seconds_and_two_hundred_megabytes(self):
        cases = {
            "wide.json": "[" + "{}," * 2_000_000 + "{}]",
            "long.json": '{"schema_version": 1, "note": "' + "x" * 6_200_000 + '"}',
            "zip.wattagon": self.bomb({"design.json": 200_000_000}),
        }
        for name, content in cases.items():
            path = self.folder / name
            path.write_bytes(content if isinstance(content, bytes) else content.encode())
            with self.subTest(name):
                done = subprocess.run([sys.executable, "-c", READER, str(path)], capture_output=True, text=True, check=False)
                words, memory, seconds = done.stdout.rsplit(" ", 2)
                self.assertTrue(words, done.stderr)
                self.assertLess(float(seconds), 2.0 + 1.0)  # of the processor, with the start of the interpreter in it
                self.assertLess(int(memory) / 1024, 200)


READER = """
import resource, sys, time
from pathlib import Path
from wattagon.design import file
from wattagon.errors import FileError
try:
    file.read(Path(sys.argv[1]))
    print("", end="")
except FileError as refusal:
    print(refusal, end="")
print(" ", resource.getrusage(resource.RUSAGE_SELF).ru_maxrss, " ", time.process_time(), sep="", end="")
"""
