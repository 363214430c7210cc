"""The file: round trips, refusals, atomic saving."""

import json
import os
import random
import signal
import subprocess
import sys
import tempfile
import time
import unittest
import zipfile
from dataclasses import replace
from pathlib import Path

from tests.design.malformed import DEMO, malformed_files, refused_well
from wattagon.design import catalogue, file
from wattagon.design.schema import schema_of
from wattagon.design.template import new_design
from wattagon.design.tree import VehicleKind
from wattagon.errors import FileError

SAVER = """
import sys
from dataclasses import replace
from pathlib import Path
from wattagon.design import file
path, k = Path(sys.argv[1]), 0
document = file.read(path)
print("ready", flush=True)
while True:
    k += 1
    file.write(path, file.Document(design=replace(document.design, note="saved " + str(k)), members=document.members))
"""


def kill_while_saving(folder: Path, count: int) -> int:
    """Kill a process that saves without pause, `count` times; how often the file could not be read afterwards."""
    path, lost = folder / "kept.wattagon", 0
    members = {"logs/a.csv": b"t,v\n0,1\n" + random.Random(1).randbytes(300_000)}  # takes a while to pack and to write
    file.write(path, file.Document(design=new_design(VehicleKind.KART), members=members))
    saves = 0
    for k in range(count):
        with subprocess.Popen([sys.executable, "-c", SAVER, str(path)], stdout=subprocess.PIPE) as saver:
            assert saver.stdout is not None
            saver.stdout.readline()
            time.sleep(0.02 + 0.013 * (k % 13))
            os.kill(saver.pid, signal.SIGKILL)
        try:
            document = file.read(path)
            lost += document.members != members
            saves = max(saves, int(document.design.note.partition(" ")[2] or 0))
        except FileError:
            lost += 1
    assert saves > 0, "nothing was ever saved, so no kill hit a save"
    return lost


class FileTest(unittest.TestCase):
    def setUp(self):
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))

    def test_demo_designs_survive_a_round_trip_in_both_forms(self):
        for source in sorted(DEMO.glob("*.json")):
            for name in ("a.wattagon", "a.json"):
                with self.subTest(source.name, form=name):
                    document = file.read(source)
                    file.write(self.folder / name, document)
                    self.assertEqual(file.read(self.folder / name).design, document.design)

    def test_unknown_fields_and_other_members_survive(self):
        data = json.loads((DEMO / "dunlin.json").read_text())
        data["from_the_future"] = {"a": [1, 2]}
        data["vehicle"]["paint"] = "grey"
        data["vehicle"]["wheelbase"]["witness"] = "a second tape"
        data["variants"][0]["motor"]["colour"] = 3
        path = self.folder / "x.wattagon"
        with zipfile.ZipFile(path, "w") as archive:
            archive.writestr("design.json", json.dumps(data))
            archive.writestr("logs/run.csv", "t,v\n0,0\n")
        file.write(path, file.read(path))
        with zipfile.ZipFile(path) as archive:
            kept = json.loads(archive.read("design.json"))
            self.assertEqual(archive.read("logs/run.csv"), b"t,v\n0,0\n")
        self.assertEqual(kept["from_the_future"], {"a": [1, 2]})
        self.assertEqual(kept["vehicle"]["paint"], "grey")
        self.assertEqual(kept["vehicle"]["wheelbase"]["witness"], "a second tape")
        self.assertEqual(kept["variants"][0]["motor"]["colour"], 3)

    def test_a_newer_file_is_refused_with_its_version_and_left_alone(self):
        data = json.loads((DEMO / "dunlin.json").read_text())
        data["schema_version"] = 7
        path = self.folder / "new.wattagon"
        path.write_text(json.dumps(data))
        with self.assertRaisesRegex(FileError, "newer Wattagon .schema version 7"):
            file.read(path)
        self.assertEqual(json.loads(path.read_text())["schema_version"], 7)

    def test_a_syntax_error_is_told_with_its_line(self):
        path = self.folder / "bad.json"
        path.write_text('{"schema_version": 1,\n "vehicle": }')
        with self.assertRaisesRegex(FileError, "line 2"):
            file.read(path)

    def test_a_wrong_value_is_told_with_its_path_and_bounds(self):
        data = json.loads((DEMO / "dunlin.json").read_text())
        data["vehicle"]["wheelbase"]["value"] = 40
        path = self.folder / "bad.json"
        path.write_text(json.dumps(data))
        with self.assertRaisesRegex(FileError, r"vehicle\.wheelbase is 40; accepted: 0\.2 to 5 m"):
            file.read(path)

    def test_values_by_names_of_their_own_are_values(self):
        data = json.loads((DEMO / "bittern.json").read_text())
        signed = next(variant["commissioning"]["signed"] for variant in data["variants"] if variant.get("commissioning", {}).get("signed"))
        path = self.folder / "named.json"
        for state in ("text", [1], {"pack": 3}, {"pack": None}, {f"p{k}": "x" for k in range(500)}):
            signed[0]["state"] = state
            path.write_text(json.dumps(data))
            document = file.read(path)
            self.assertEqual(len(document.aside), 1, state)
            self.assertIn("signed.0.state", document.aside[0])

    def test_malformed_files_are_refused_or_opened_in_part_with_a_sentence(self):
        for path in malformed_files(self.folder, 90, seed=7):
            with self.subTest(path.name):
                self.assertEqual(refused_well(path), "")

    def test_saving_keeps_one_previous_version(self):
        path, design = self.folder / "x.wattagon", new_design(VehicleKind.BIKE)
        for note in ("one", "two", "three"):
            file.write(path, file.Document(design=replace(design, note=note)))
        self.assertEqual(file.read(path).design.note, "three")
        self.assertEqual(file.read(file.previous_of(path)).design.note, "two")
        self.assertEqual(sorted(p.name for p in self.folder.iterdir()), ["x.wattagon", "x.wattagon.previous"])

    def test_a_save_that_fails_leaves_the_old_file(self):
        path = self.folder / "no" / "x.wattagon"
        with self.assertRaisesRegex(FileError, "cannot be saved"):
            file.write(path, file.Document(design=new_design(VehicleKind.BIKE)))

    def test_kills_during_a_save_lose_nothing(self):
        self.assertEqual(kill_while_saving(self.folder, 8), 0)

    def test_the_schema_describes_what_is_written_and_refuses_what_is_not(self):
        import jsonschema

        from wattagon.design.tree import Design

        schema = schema_of(Design)
        for source in sorted(DEMO.glob("*.json")):
            jsonschema.validate(json.loads(file.to_json(file.read(source).design)), schema)
        with self.assertRaises(jsonschema.ValidationError):
            jsonschema.validate({"schema_version": 1, "vehicle": {}, "variants": []}, schema)

    def test_every_part_of_the_demo_is_in_stock(self):
        stock = catalogue.load()
        for source in sorted(DEMO.glob("*.json")):
            design = file.read(source).design
            for item in design.brief.shelf:
                self.assertIsNotNone(stock.find(item.part), item.part)
