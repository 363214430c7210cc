"""Unions of records by their tag, and steps from one schema version to the next."""

from __future__ import annotations

import json
import unittest
from dataclasses import field
from pathlib import Path
from typing import Any, ClassVar

import jsonschema

from tests.design.malformed import DEMO
from wattagon.design import codec, file
from wattagon.design.migrations import MIGRATIONS, Migration, migrated
from wattagon.design.quantity import spec
from wattagon.design.schema import schema_of
from wattagon.design.tree import SCHEMA_VERSION
from wattagon.errors import FileError, InputError
from wattagon.record import record

OLD = Path(__file__).resolve().parent / "old"


@record(frozen=True, slots=True, kw_only=True)
class Round:
    tag: ClassVar[str] = "round"

    diameter: float = field(metadata=spec("diameter", "length", 0.0, 1.0))
    extra: dict[str, Any] = field(default_factory=dict)


@record(frozen=True, slots=True, kw_only=True)
class Square:
    tag: ClassVar[str] = "square"

    side: float = field(metadata=spec("side", "length", 0.0, 1.0))


@record(frozen=True, slots=True, kw_only=True)
class Plate:
    hole: Round | Square | None = None
    holes: tuple[Round | Square, ...] = ()


@record(frozen=True, slots=True, kw_only=True)
class Doubtful:
    what: int | str = 0


class UnionTest(unittest.TestCase):
    PLATE = Plate(hole=Square(side=0.02), holes=(Round(diameter=0.01), Square(side=0.03)))

    def test_each_record_comes_back_as_it_was(self):
        data = json.loads(json.dumps(codec.encode(self.PLATE)))
        self.assertEqual(data["hole"], {"is": "square", "side": 0.02})
        self.assertEqual(codec.decode(Plate, data), self.PLATE)
        jsonschema.validate(data, schema_of(Plate))

    def test_an_unknown_tag_or_none_is_refused_by_name(self):
        for wrong in ({"side": 0.1}, {"is": "oval", "side": 0.1}, 3):
            with self.assertRaisesRegex(InputError, r"hole\.is is .*; accepted: round, square"):
                codec.decode(Plate, {"hole": wrong})
        with self.assertRaises(jsonschema.ValidationError):
            jsonschema.validate({"hole": {"is": "oval", "side": 0.1}}, schema_of(Plate))

    def test_bounds_hold_and_unknown_fields_survive(self):
        with self.assertRaisesRegex(InputError, r"holes\.0\.diameter is 2"):
            codec.decode(Plate, {"holes": [{"is": "round", "diameter": 2.0}]})
        made = codec.decode(Plate, {"hole": {"is": "round", "diameter": 0.5, "thread": "M8"}})
        self.assertEqual(codec.encode(made)["hole"], {"is": "round", "diameter": 0.5, "thread": "M8"})

    def test_the_gate_checks_a_record_that_is_entered(self):
        item = codec.member(Plate, "hole")
        with self.assertRaises(InputError):
            codec.gated(item, Square(side=7.0), self.PLATE.hole, "hole")
        self.assertEqual(codec.gated(item, Round(diameter=0.2), self.PLATE.hole, "hole"), Round(diameter=0.2))

    def test_a_union_that_nobody_could_read_is_refused_when_it_is_written(self):
        with self.assertRaisesRegex(TypeError, "Doubtful.what"):
            codec.members(Doubtful)

    def test_a_dimension_that_is_none_is_refused_when_it_is_written(self):
        with self.assertRaisesRegex(ValueError, "'lenght'"):
            spec("diameter", "lenght", 0.0, 1.0)


class MigrationTest(unittest.TestCase):
    def test_every_old_version_has_a_saved_file_that_opens(self):
        saved = {json.loads(path.read_text())["schema_version"]: path for path in OLD.glob("*.json")}
        self.assertEqual(set(saved), set(range(1, SCHEMA_VERSION + 1)))
        for path in saved.values():
            design = file.read(path).design
            self.assertEqual(file.from_json(file.to_json(design)), design)
            self.assertTrue(design.variants)

    def test_migrations_are_one_for_each_version(self):
        self.assertEqual([migration.version for migration in MIGRATIONS], list(range(1, SCHEMA_VERSION)))

    def test_steps_run_in_order_and_leave_the_given_data(self):
        data = {"schema_version": 1, "name": "Knot"}
        steps = (
            Migration(2, lambda now: {**now, "title": now["title"].upper()}),
            Migration(1, lambda now: {"schema_version": 1, "title": now["name"]}),
        )
        self.assertEqual(migrated(data, "x", steps=steps, to=3), {"schema_version": 3, "title": "KNOT"})
        self.assertEqual(data, {"schema_version": 1, "name": "Knot"})

    def test_versions_that_cannot_be_read_are_told(self):
        for version, words in ((True, "no schema_version"), (None, "no schema_version"), (9, "newer"), (1, "cannot be read any more")):
            with self.assertRaisesRegex(FileError, words):
                migrated({"schema_version": version}, "x.json", steps=(), to=3)

    def test_the_demo_is_of_the_present_version(self):
        for path in DEMO.glob("*.json"):
            self.assertEqual(json.loads(path.read_text())["schema_version"], SCHEMA_VERSION)
