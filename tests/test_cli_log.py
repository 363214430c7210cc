"""The terminal: logs brought in, looked at, held against their prediction; what is learnt from them."""

import contextlib
import io
import json
import tempfile
import unittest
from pathlib import Path
from unittest import mock

import numpy as np

from tests.logs import ROUND, STEADY, STOCK, demo, ride_log
from wattagon.cli import main
from wattagon.design import file
from wattagon.design.quantity import Known


def csv_of(data, heads=None) -> str:
    """A log as a table."""
    heads = heads or {"speed": ("speed [km/h]", 3.6), "motor_a": ("motor A", 1.0), "pack_a": ("pack A", 1.0), "bus_v": ("pack V", 1.0)}
    heads |= {"duty": ("duty %", 100.0), "erpm": ("erpm", 1.0), "motor_c": ("motor C", 1.0), "grade": ("grade %", 100.0)}
    rows = np.column_stack([data.time * 1000.0, *(data.column(name) * factor for name, (_, factor) in heads.items())])
    lines = [";".join(["ms", *(head for head, _ in heads.values())])]
    return "\n".join(lines + [";".join(f"{value:.5g}" if k else f"{value:.0f}" for k, value in enumerate(row)) for row in rows]) + "\n"


class LogCommandTests(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        hidden = {"vehicle.rolling": 0.037, "vehicle.drag_area": 0.61}
        cls.table = csv_of(ride_log(demo(), ROUND * 2, hidden))
        cls.steady = csv_of(ride_log(demo(), STEADY, {"vehicle.rolling": 0.036}))

    def setUp(self):
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        self.enterContext(mock.patch.dict("os.environ", {"XDG_DATA_HOME": str(self.folder / "data")}))
        self.file = self.folder / "dunlin.wattagon"
        file.write(self.file, file.Document(design=demo()))
        self.ride = self.folder / "ride.csv"
        self.ride.write_text(self.table)

    def run_it(self, *arguments: str, code: int = 0) -> str:
        out, err = io.StringIO(), io.StringIO()
        with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
            found = main([*arguments])
        self.assertEqual(found, code, err.getvalue())
        return err.getvalue() if code else out.getvalue()

    def json(self, *arguments: str):
        return json.loads(self.run_it(*arguments, "--json"))

    def test_add_show_compare_fit_and_take(self):
        added = self.json("log", "add", str(self.file), str(self.ride), "--charge", "93 %", "--date", "2026-10-10")
        self.assertEqual((added["source"], added["kind"]), ("ride.csv", "telemetry"))
        shown = self.json("log", "show", str(self.file), "1")
        self.assertEqual(shown["hash"], added["hash"])
        self.assertEqual(shown["samples"], self.table.count("\n") - 1)
        self.assertAlmostEqual(shown["distance_m"], sum(leg.length_m for leg in ROUND) * 2, delta=15.0)
        self.assertIn({"head": "duty %", "channel": "duty", "unit": "%", "how": "told"}, shown["columns"])
        self.assertEqual(shown["told"], [])
        compared = self.json("log", "compare", str(self.file), "1")
        names = {one["name"] for one in compared["channels"]}
        self.assertLessEqual({"pack_a", "motor_a", "bus_v", "motor_c"}, names)
        self.assertGreater(compared["energy"]["measured_wh"], 1.1 * compared["energy"]["predicted_wh"])
        before = file.read(self.file).design
        told = self.json("fit", str(self.file), "1")
        self.assertEqual(file.read(self.file).design, before)
        rolling = next(one for one in told["parameters"] if one["path"] == "vehicle.rolling")
        self.assertTrue(rolling["identifiable"])
        self.assertAlmostEqual(rolling["after"], 0.037, delta=3.0 * rolling["error"])
        self.run_it("fit", str(self.file), "1", "--take")
        after = file.read(self.file).design
        self.assertEqual(after.vehicle.rolling.known, Known.FITTED)
        loose = [one["path"] for one in told["parameters"] if not one["identifiable"]]
        self.assertTrue(loose)
        again = self.json("log", "compare", str(self.file), "1")["energy"]
        self.assertAlmostEqual(again["measured_wh"] / again["predicted_wh"], 1.0, delta=0.03)
        self.assertIn("rolling resistance", self.run_it("fit", str(self.file), "l1"))

    def test_an_unidentifiable_set_is_refused_with_its_reason_and_nothing_is_written(self):
        self.ride.write_text(self.steady)
        self.run_it("log", "add", str(self.file), str(self.ride), "--charge", "0.93")
        before = self.file.read_bytes()
        said = self.run_it("fit", str(self.file), "1", "--only", "vehicle.rolling", "--only", "vehicle.drag_area", "--take", code=2)
        self.assertIn("accepted", said)
        self.assertRegex(said, "ride|coast")
        self.assertEqual(self.file.read_bytes(), before)

    def test_columns_are_mapped_and_remembered_by_their_layout(self):
        self.ride.write_text(self.table.replace("speed [km/h]", "zzz", 1))
        self.run_it("log", "add", str(self.file), str(self.ride), "--map", "speed:km/h=zzz")
        other = self.folder / "other.wattagon"
        file.write(other, file.Document(design=demo()))
        shown = self.json("log", "add", str(other), str(self.ride))
        self.assertIn({"head": "zzz", "channel": "speed", "unit": "km/h", "how": "remembered"}, shown["columns"])

    def test_a_wrong_unit_is_told_mapped_and_learnt_from_only_then(self):
        self.ride.write_text(self.table.replace("speed [km/h]", "speed [m/s]", 1))
        self.assertIn("km/h where m/s is told", self.run_it("log", "add", str(self.file), str(self.ride)))
        self.assertIn("nothing was changed", self.run_it("fit", str(self.file), "1", code=2))
        self.run_it("log", "map", str(self.file), "1", "--map", "speed:km/h=speed [m/s]")
        self.assertEqual(self.json("log", "show", str(self.file), "1")["told"], [])
        self.json("fit", str(self.file), "1")

    def test_typed_runs_and_charges(self):
        self.run_it("log", "add", str(self.file), "0 to 20 km/h in 7 s, three times, up and down")
        found = self.json("log", "compare", str(self.file), "1")
        self.assertAlmostEqual(found["runs"][0]["measured_s"], 7.0)
        self.run_it("log", "add", str(self.file), "october", "--wall", "520 Wh")
        self.assertEqual(file.read(self.file).design.logs[-1].energy_wh, 520.0)
        self.assertIn("a table", self.run_it("fit", str(self.file), "2", code=2))

    def test_a_bare_design_keeps_its_logs_beside_it(self):
        bare = self.folder / "plain" / "design.json"
        bare.parent.mkdir()
        file.write(bare, file.Document(design=demo()))
        self.run_it("log", "add", str(bare), str(self.ride))
        self.assertTrue(list((bare.parent / "logs").glob("*.csv.gz")))
        self.assertGreater(self.json("log", "show", str(bare), "1")["samples"], 100)

    def test_careless_typing_gets_a_sentence(self):
        self.run_it("log", "add", str(self.file), str(self.ride))
        for arguments in (
            ("log", "add", str(self.file)),
            ("log", "add", str(self.file), str(self.ride)),
            ("log", "add", str(self.file), "nowhere.csv"),
            ("log", "add", str(self.file), str(self.file)),
            ("log", "add", str(self.file), str(self.ride), "--kind", "video"),
            ("log", "add", str(self.file), str(self.ride), "--map", "warp=ms"),
            ("log", "add", str(self.file), str(self.ride), "--variant", "Q"),
            ("log", "add", str(self.file), str(self.ride), "--charge", "300 %"),
            ("log", "add", str(self.file), str(self.ride), "--date", "tomorrow"),
            ("log", "add", str(self.file), str(self.ride), "--course", "moon"),
            ("log", "show", str(self.file), "7"),
            ("log", "compare", str(self.file), "1", "--way", "luck"),
            ("log", "compare", str(self.file), "1", "--way", "command"),
            ("log", "remove", str(self.file)),
            ("fit", str(self.file), "one"),
            ("fit", str(self.file), "1", "--only", "vehicle.colour"),
            ("fit", str(self.file), "1", "--held-out", "2"),
        ):
            with self.subTest(arguments=arguments[2:] if len(arguments) > 2 else arguments):
                self.assertTrue(self.run_it(*arguments, code=2).startswith("wattagon: "))

    def test_the_demo_fleet_has_logs_and_their_hidden_values_are_not_in_it(self):
        demo_folder = Path(file.__file__).parent.parent / "stock" / "demo"
        for name in ("dunlin", "corncrake", "bittern", "garganey"):
            shown = self.json("log", "show", str(demo_folder / f"{name}.json"), "1")
            self.assertGreater(shown["samples"], 1000)
        told = self.json("log", "show", str(demo_folder / "bittern.json"), "3")["told"]
        self.assertTrue(any("km/h where m/s" in words for words in told))
        self.assertNotIn("0.0352", (demo_folder / "dunlin.json").read_text())
        self.assertTrue(STOCK)


if __name__ == "__main__":
    unittest.main()
