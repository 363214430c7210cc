"""The terminal, as a person or a script runs it."""

import contextlib
import io
import json
import math
import os
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path
from unittest import mock

from tests.design.malformed import DEMO
from wattagon.cli import main

DUNLIN = str(DEMO / "dunlin.json")


class TerminalTest(unittest.TestCase):
    def setUp(self):
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        self.enterContext(mock.patch.dict(os.environ, {"XDG_DATA_HOME": str(self.folder)}))

    def run_it(self, *arguments: str) -> tuple[int, str, str]:
        out, err = io.StringIO(), io.StringIO()
        with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
            code = main(arguments)
        return code, out.getvalue(), err.getvalue()

    def data(self, *arguments: str):
        code, out, err = self.run_it(*arguments)
        self.assertEqual(code, 0, err)
        return json.loads(out)

    def test_solve_gives_the_keys_that_were_promised_in_si(self):
        data = self.data("solve", DUNLIN, "--json", "--envelope")
        self.assertEqual(set(data["motor"]), {"count", "kv_rpm_per_v", "kt_dc_nm_per_a", "kt_q_nm_per_a", "resistance_ohm"})
        self.assertAlmostEqual(data["motor"]["kt_q_nm_per_a"] / data["motor"]["kt_dc_nm_per_a"], math.sqrt(3) / 2)
        self.assertAlmostEqual(data["ratio"], 72 / 15)
        self.assertAlmostEqual(data["wheel_radius_m"], 0.2 * 0.955 / 2)
        for name in ("full", "nominal", "low"):
            self.assertEqual(
                set(data["states"][name]),
                {
                    "open_circuit_v",
                    "no_load_speed_m_s",
                    "top_speed_m_s",
                    "top_speed_limited_by",
                    "top_speed_duty",
                    "standstill_force_n",
                    "standstill_limited_by",
                    "wheel_torque_nm",
                    "max_grade",
                    "power_at_top_w",
                },
            )
            envelope = data["envelope"][name]
            self.assertEqual(len(envelope["speed_m_s"]), len(envelope["force_n"]))
            self.assertEqual(len(envelope["speed_m_s"]), len(envelope["limit"]))
        self.assertEqual(set(data["goals"][0]), {"code", "label", "case", "mode", "target", "reached", "unit", "met", "margin", "why"})
        self.assertEqual(
            data["inputs"]["variants.B.motor.kv_rpm_per_v"], {"value": 167.0, "unit": "rpm/V", "known": "measured", "width": 2.0}
        )
        self.assertEqual(data["inputs"]["vehicle.rolling"]["known"], "assumed")

    def test_set_overrides_any_field_for_this_run_only(self):
        before = self.data("solve", DUNLIN, "--json")
        after = self.data("solve", DUNLIN, "--json", "--set", "vehicle.tyre_diameter=215 mm", "--set", "variant.pack.series=12")
        self.assertAlmostEqual(after["wheel_radius_m"] / before["wheel_radius_m"], 215 / 200)
        self.assertGreater(after["states"]["full"]["open_circuit_v"], before["states"]["full"]["open_circuit_v"])
        self.assertEqual(self.data("solve", DUNLIN, "--json"), before)
        other = self.data("solve", DUNLIN, "--json", "--variant", "C")
        self.assertNotEqual(other, before)
        for typed in ("c", " c", "one motor"):
            self.assertEqual(self.data("solve", DUNLIN, "--json", "--variant", typed), other)

    def test_point_balances_and_knows_both_kinds_of_amps(self):
        data = self.data("point", DUNLIN, "--speed", "20 km/h", "--grade", "8 %", "--charge", "full", "--json")
        self.assertAlmostEqual(data["speed_m_s"], 20 / 3.6)
        self.assertAlmostEqual(data["dc_current_a"] / data["motor_current_a"], math.sqrt(3) / 2)
        self.assertLess(data["balance_error"], 1e-6)
        self.assertAlmostEqual(sum(v for k, v in data["losses_w"].items() if k != "total"), data["losses_w"]["total"])
        half = self.data("point", DUNLIN, "--speed", "3", "--throttle", "50 %", "--charge", "0.4", "--json")
        self.assertAlmostEqual(half["motor_current_a"], 32.5)
        self.assertEqual([s["name"] for s in half["shafts"]], ["motor", "output"])

    def test_check_lists_findings_and_its_exit_code_follows(self):
        data = self.data("check", DUNLIN, "--json")
        self.assertEqual(set(data[0]) >= {"code", "status", "margin", "title", "because", "cures"}, True)
        self.assertLessEqual({item["status"] for item in data}, {"clear", "tight", "over", "not_checked"})
        self.assertEqual(self.run_it("check", DUNLIN, "--fail-on", "over")[0], 0)
        self.assertEqual(self.run_it("check", DUNLIN, "--fail-on", "tight")[0], 1)
        self.assertEqual(self.run_it("check", DUNLIN, "--variant", "A", "--fail-on", "over")[0], 1)

    def test_new_schema_and_stock(self):
        out = self.folder / "punt.wattagon"
        self.assertEqual(self.run_it("new", "kart", str(out))[0], 0)
        self.assertEqual(self.data("solve", str(out), "--json")["variant"], "A")
        self.assertEqual(self.run_it("new", "kart", str(out))[0], 2)
        self.assertIn("$defs", self.data("schema"))
        self.assertGreaterEqual(len(self.data("stock", "motors", "--json")), 40)
        self.assertEqual(set(self.data("stock", "--json")) >= {"motors", "cells", "wheels"}, True)

    def test_text_for_people(self):
        code, out, _ = self.run_it("solve", DUNLIN)
        self.assertEqual(code, 0)
        self.assertIn("km/h", out)
        self.assertIn("assumed values", out)
        self.assertIn("thrust", self.run_it("point", DUNLIN, "--speed", "5")[1])
        self.assertIn("Levee", out)

    def test_own_parts_count_and_bad_rows_are_told(self):
        parts = self.folder / "wattagon" / "parts"
        parts.mkdir(parents=True)
        (parts / "motors.csv").write_text(
            "id,name,family,can_mm,length_mm,kv_rpm_per_v,resistance_ohm,mass_kg,price\nmine,Mine,outrunner,63,74,x,0.05,0.7,9\n"
        )
        code, _, err = self.run_it("stock", "motors")
        self.assertEqual(code, 0)
        self.assertIn("motors.csv, line 2: kv_rpm_per_v is 'x'", err)

    def test_errors_are_one_sentence_with_exit_code_2(self):
        broken = self.folder / "broken.wattagon"
        broken.write_text("{")
        for arguments, word in (
            (("solve", "nowhere.wattagon"), "not there"),
            (("solve", str(broken)), "line 1"),
            (("solve", DUNLIN, "--variant", "Z"), "variant is Z"),
            (("solve", DUNLIN, "--set", "vehicle.tire=3"), "near"),
            (("solve", DUNLIN, "--set", "vehicle.wheelbase=nine"), "wheelbase"),
            (("solve", DUNLIN, "--envelope"), "--json"),
            (("point", DUNLIN, "--speed", "fast"), "--speed"),
            (("point", DUNLIN), "--speed"),
            (("point", DUNLIN, "--speed", "5", "--charge", "2"), "--charge"),
            (("point", DUNLIN, "--speed", "5", "--throttle", "9"), "--throttle"),
            (("new", "rocket", str(self.folder / "r.wattagon")), "KIND"),
            (("stock", "spoons"), "KIND"),
            (("solve", DUNLIN, "--what"), "--what"),
            (("slove",), "did you mean the command solve"),
            (("",), "no file"),
            (("nowhere.wattagon",), "no file"),
            (("--dmeo",), "--dmeo"),
        ):
            with self.subTest(arguments):
                code, out, err = self.run_it(*arguments)
                self.assertEqual((code, out), (2, ""))
                self.assertEqual(err.count("\n"), 1, err)
                self.assertIn(word, err)
                self.assertNotIn("Traceback", err)

    def test_without_a_display_it_says_so_or_draws_a_picture(self):
        bare = {k: v for k, v in os.environ.items() if k not in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM")}
        bare |= {"XDG_CONFIG_HOME": str(self.folder), "XDG_STATE_HOME": str(self.folder)}
        told = subprocess.run([sys.executable, "-m", "wattagon.cli", "--demo"], env=bare, capture_output=True, text=True, check=False)
        self.assertEqual(told.returncode, 2)
        self.assertIn("--picture", told.stderr)
        picture = self.folder / "window.png"
        drawn = subprocess.run(
            [sys.executable, "-m", "wattagon.cli", "--demo", "--picture", str(picture)],
            env=bare,
            capture_output=True,
            text=True,
            check=False,
        )
        self.assertEqual(drawn.returncode, 0, drawn.stderr)
        self.assertEqual(picture.read_bytes()[:4], b"\x89PNG")

    def test_ride_gives_the_keys_that_were_promised(self):
        out = self.folder / "ride.csv"
        data = self.data(
            "ride", DUNLIN, "--run", "hold-grade", "--set", "brief.conditions.air_temperature=30 degC", "--csv", str(out), "--json"
        )
        keys = {
            "time_s",
            "distance_m",
            "energy_wh",
            "wh_per_km",
            "range_m",
            "peak",
            "mean",
            "temperatures",
            "time_to_limit_s",
            "events",
            "energy_balance_error",
        }
        self.assertLessEqual(keys, set(data))
        self.assertLessEqual({"motor_a", "pack_a", "power_w"}, set(data["peak"]))
        self.assertLessEqual({"winding_max_c", "case_max_c", "controller_max_c", "pack_max_c"}, set(data["temperatures"]))
        self.assertLess(data["energy_balance_error"], 1e-3)
        self.assertLessEqual({"t_s", "what"}, set(data["events"][0]))
        self.assertIn("winding [°C]", out.read_text(encoding="utf-8").splitlines()[0])
        warm = self.data("ride", DUNLIN, "--run", "hold-grade", "--json")
        self.assertGreater(warm["time_s"], data["time_s"])

    def test_ride_over_courses_and_tables_and_refusals(self):
        code, out, _ = self.run_it("ride", DUNLIN, "--run", "levee-round")
        self.assertEqual(code, 0)
        self.assertIn("arrived", out)
        table = self.folder / "dyke.csv"
        table.write_text("distance_m,elevation_m\n0,0\n400,8\n800,0\n", encoding="utf-8")
        data = self.data("ride", DUNLIN, "--run", str(table), "--speed", "15 km/h", "--charge", "0.6", "--json")
        self.assertAlmostEqual(data["distance_m"], 800.0, delta=2.0)
        self.assertLess(data["charge_end"], 0.6)
        for arguments, words in (
            (("--run", "nowhere"), "levee-round"),
            (("--run", "stop", "--speed", "900"), "--speed"),
            (("--run", "hill", "--grade", "2"), "--grade"),
            (("--run", "none.gpx"), "none.gpx"),
        ):
            code, _, err = self.run_it("ride", DUNLIN, *arguments)
            self.assertEqual(code, 2)
            self.assertIn(words, err)
            self.assertEqual(len(err.strip().splitlines()), 1)

    def test_find_gives_hits_that_solve_agrees_with(self):
        self.enterContext(mock.patch("wattagon.study.finder.passes.SAMPLE", 30_000))
        few = ("--use", "outrunner-63x74-190", "--use", "outrunner-63x64-190", "--use", "outrunner-80x85-170")
        data = self.data("find", DUNLIN, *few, "--limit", "3", "--objective", "mass", "--json")
        self.assertEqual(len(data["hits"]), 3)
        self.assertEqual(set(data["removed_by"]), {"cruise", "ramp", "start", "sprint", "round", "mass", "budget", "heat"})
        hit = data["hits"][0]
        for key in (
            "motor",
            "count",
            "stages",
            "series",
            "parallel",
            "cell",
            "controller",
            "motor_current_a",
            "pack_current_a",
            "cost",
            "mass_kg",
            "goals",
            "margin",
        ):
            self.assertIn(key, hit)
        self.assertTrue(all(goal["met"] for goal in hit["goals"]))
        self.assertEqual([h["mass_kg"] for h in data["hits"]], sorted(h["mass_kg"] for h in data["hits"]))
        code, out, _ = self.run_it("find", DUNLIN, "--limit", "2", "--school", "belt", "--use", "outrunner-63x74-190")
        self.assertEqual(code, 0)
        self.assertIn("not searched: rollers", out)
        wishes = (
            "--by",
            "14",
            "--school",
            "belt",
            "--use",
            "outrunner-63x74-190",
            "--teeth",
            "14:76",
            "--climb",
            "2 min",
            "--margin",
            "volts=10%",
        )
        data = self.data("find", DUNLIN, *wishes, "--json")
        self.assertTrue(data["hits"])
        for hit in data["hits"]:
            self.assertEqual((hit["motor"], len(hit["stages"])), ("outrunner-63x74-190", 1))
            self.assertGreaterEqual(hit["seconds_until_hot"] or 1e9, 119.0)
        for wrong, word in (
            (("--by", "soon"), "--by"),
            (("--teeth", "a"), "--teeth"),
            (("--margin", "luck=5%"), "--margin"),
            (("--school", "rope"), "school"),
            (("--use", "outrunner"), "outrunner"),
            (("--margin", "goals=3"), "margin on goals"),
        ):
            code, _, err = self.run_it("find", DUNLIN, *wrong)
            self.assertEqual((code, word in err), (2, True), err)
        code, _, err = self.run_it("find", DUNLIN, "--objective", "beauty")
        self.assertEqual((code, "cost, mass, margin, range" in err), (2, True))
