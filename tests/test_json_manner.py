"""One manner of JSON over all commands of the terminal."""

import contextlib
import io
import json
import re
import unittest
from pathlib import Path
from unittest import mock

from tests.design.malformed import DEMO
from wattagon.cli import COMMANDS, main
from wattagon.cli.shared import finite

PUNT = str(DEMO / "garganey.json")
DUNLIN, BITTERN = str(DEMO / "dunlin.json"), str(DEMO / "bittern.json")
FEW = ("--school", "belt", "--use", "outrunner-63x74-190", "--limit", "2")
RUNS = {
    "solve": ("solve", BITTERN, "--envelope", "--bands"),
    "solve, hot": ("solve", DUNLIN, "--variant", "A"),
    "solve, case and mode": ("solve", BITTERN, "--case", "Counter", "--mode", "Path"),
    "point": ("point", DUNLIN, "--speed", "5"),
    "point, overrun": ("point", DUNLIN, "--speed", "30", "--grade", "0.2"),
    "solve, boat": ("solve", PUNT, "--bands"),
    "point, boat": ("point", PUNT, "--speed", "1.5", "--throttle", "1"),
    "check, boat": ("check", PUNT, "--no-rides"),
    "ride, gears": ("ride", BITTERN, "--variant", "D", "--run", "start"),
    "check": ("check", BITTERN, "--no-rides"),
    "ride": ("ride", DUNLIN, "--run", "hill"),
    "find": ("find", DUNLIN, *FEW),
    "layout": ("layout", BITTERN),
    "cut": ("cut", DUNLIN, "--list"),
    "strength": ("strength", DUNLIN),
    "strength, boat": ("strength", PUNT),
    "pack": ("pack", DUNLIN),
    "pack, bricks": ("pack", BITTERN, "--variant", "B"),
    "wiring": ("wiring", DUNLIN),
    "parts": ("parts", DUNLIN),
    "parts, boat": ("parts", PUNT),
    "steps": ("steps", BITTERN),
    "commission": ("commission", BITTERN),
    "commission, boat": ("commission", PUNT),
    "trouble": ("trouble", DUNLIN, "--symptom", "vibration", "--at", "5 m/s"),
    "wiring, boat": ("wiring", PUNT),
    "settings": ("settings", BITTERN),
    "settings, boat": ("settings", PUNT),
    "history": ("history", BITTERN),
    "due": ("due", BITTERN, "--on-day", "2026-11-28"),
    "log": ("log", "show", DUNLIN, "1"),
    "log, list of one that contradicts itself": ("log", "show", BITTERN, "3"),
    "log, compared": ("log", "compare", PUNT, "1"),
    "fit": ("fit", DUNLIN, "1"),
    "winding": ("winding", PUNT, "--variant", "B"),
    "winding, told": ("winding", DUNLIN, "--kv", "160"),
    "compare": ("compare", DUNLIN, "A", "B", "C", "--ride", "stop-go"),
    "compare, schools": ("compare", str(DEMO / "corncrake.json"), "--schools"),
    "compare, boat": ("compare", PUNT, "A", "B", "--what-if", "variant.motor.kv_rpm_per_v=90"),
    "why": ("why", DUNLIN, "states.nominal.top_speed_m_s"),
    "why, no equation": ("why", DUNLIN, "time_to_too_hot_s"),
    "bands": ("bands", DUNLIN),
    "bands, boat": ("bands", PUNT),
    "bands, findings": ("bands", DUNLIN, "--findings"),
    "stock": ("stock", "motors"),
}
NO_JSON = {"new", "schema", "desktop", "standin", "report"}  # write a file, print a schema, install a menu entry, speak lines
UNITS = (
    *("m", "s", "m_s", "kg", "n", "nm", "w", "v", "a", "ohm", "h", "rad_s", "kg_m2", "ah", "c", "mm", "wh", "rpm", "days", "j_per_k"),
    *(
        "a_s",
        "k_per_w",
        "w_per_k",
        "m2",
        "n_per_m",
        "share",
        "wh_per_km",
        "rpm_per_v",
        "nm_per_a",
        "v_per_v",
        "per_100_km",
        "v_low",
        "v_high",
    ),
    *("deg", "hz", "mm2", "j", "f", "l"),
    *("max_c", "max_v", "max_a", "ohm_m", "per_k"),
)
# without a unit since they have none; money; what stands under `losses_w` and its like has its unit there
BARE = {
    *("teeth", "loop", "teeth_in_mesh", "side"),
    "danger",  # of a test of trouble, 0 to 3
    *("low", "high", "likely", "minutes", "error", "refused"),  # of bands: in the unit of what is reached, of the input by its path
    *("values", "best"),  # of a comparison, with their unit beside them
    *("kv", "motor_constant"),  # of windings: rpm per volt, and N m per square root of a watt, as asked
    *(
        "turns",
        "strands",
        "paths",
        "layers",
        "fill",
        "reels",
        "winding_factor",
        "third_factor",
        "slots",
        "poles",
        "path",
        "tooth",
        "direction",
        "done",
    ),
    *("samples", "residual_rms", "held_out_rms", "rank", "asked", "condition"),  # of logs; residuals count in noises of their channel
    *("group", "place", "volts", "amps", "charge", "outlier", "cycles", "years", "joule", "settles"),  # of packs and wiring
    *("cost_per_kwh", "cost_per_100km"),
    *(
        "each",
        "owned",
        "spent",
        "to_spend",
        "limit",
        "lost",
        "hours",
        "earliest",
        "latest",
        "slack",
        "hours_a_week",
        "learned",
    ),  # of builds
    *("load", "capacity", "factor", "wanted", "band"),  # of strength, in the unit that stands beside them
    *("count", "ratio", "duty", "grade", "efficiency", "margin", "held", "burst", "erpm", "balance_error", "energy_balance_error"),
    *("max_grade", "top_speed_duty", "searched", "judged", "feasible", "feasible_error", "seconds", "non_dominated", "cost", "price"),
    *("series", "parallel", "lasting", "charge_end", "cost_of_charge", "value", "width", "target", "reached", "band", "stages", "rpm"),
    *(
        "advance",
        "slip",
        "kt",
        "kq",
        "shifts",
        "pole_pairs",
        "lead_days",
        "seconds_until_hot",
        "chemistry",
        "headroom",
        "erpm_max",
        "rpm_max",
    ),
}
GROUPS = (  # settings have their unit beside them
    "feel",
    *("figures", "channels", "parameters", "residuals", "slips", "explains"),  # of logs, in SI of the channel or the path
    "causes",  # of trouble, shares that add up to one
    "steps",  # of commissioning, with their unit beside them
    "settings",
    "differences",
    "throttle",
    "volts",
    "window",
    "drop",
    "in_gear_s",
    "losses_w",
    "limited_by",
    "energy_split_wh",
    "removed_by",
)


def leaves(value, path=()):
    """(path of keys, value) of everything that is no object or list."""
    if isinstance(value, dict):
        for key, item in value.items():
            yield from leaves(item, (*path, key))
    elif isinstance(value, list):
        for item in value:
            yield from leaves(item, path)
    else:
        yield path, value


def objects(value):
    if isinstance(value, dict):
        yield value
    for item in value.values() if isinstance(value, dict) else value if isinstance(value, list) else ():
        yield from objects(item)


class MannerTest(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.enterClassContext(mock.patch("wattagon.study.finder.passes.SAMPLE", 20_000))
        cls.printed = {}
        for name, arguments in RUNS.items():
            out, err = io.StringIO(), io.StringIO()
            with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
                code = main((*arguments, "--json"))
            assert code in (0, 1), (name, err.getvalue())
            cls.printed[name] = json.loads(out.getvalue(), parse_constant=lambda text: self_fail(text))

    def test_every_command_that_prints_json_is_among_them(self):
        self.assertEqual({command.name for command in COMMANDS} - NO_JSON, {arguments[0] for arguments in RUNS.values()})

    def test_a_number_is_in_si_or_its_key_tells_the_unit(self):
        for name, data in self.printed.items():
            for path, value in leaves(data):
                if isinstance(value, bool) or not isinstance(value, (int, float)) or not path:
                    continue
                key = path[-1]
                told = (
                    key in BARE or any(key == unit or key.endswith(f"_{unit}") for unit in UNITS) or any(group in path for group in GROUPS)
                )
                self.assertTrue(told, f"{name}: {'.'.join(path)} = {value}")

    def test_what_is_null_says_why(self):
        seen = 0
        for name, data in self.printed.items():
            for one in objects(data):
                for key, value in one.items():
                    if value is None or (isinstance(value, list) and None in value):
                        seen += 1
                        self.assertTrue(one.get("why", {}).get(key), f"{name}: {key}")
        self.assertGreater(seen, 10)

    def test_bands_margins_and_inputs(self):
        data = self.printed["solve"]
        for goal in data["goals"]:
            low, high = goal["band"]
            self.assertLessEqual(low, high)
            self.assertTrue(0.0 <= goal["met_share"] <= 1.0)
            self.assertEqual(goal["met"], goal["margin"] >= 0.0)
        for path, item in data["inputs"].items():
            self.assertEqual(set(item), {"value", "unit", "known", "width"}, path)
            self.assertGreaterEqual(item["width"], 0.0)
        self.assertEqual(data["inputs"]["vehicle.wheelbase"]["unit"], "m")
        self.assertEqual(data["inputs"]["vehicle.wheelbase"]["width"], 0.005, "its own tolerance")

    def test_reasons_by_what_a_number_is(self):
        data = finite({"a": float("inf"), "b": float("nan"), "c": None, "d": 1.0, "e": [1.0, float("inf")], "f": {"g": None}})
        self.assertEqual(data["why"], {"a": "without end", "b": "not known", "c": "not stated", "e": "without end"})
        self.assertEqual(data["f"]["why"], {"g": "not stated"})
        self.assertEqual((data["a"], data["e"]), (None, [1.0, None]))

    def test_the_page_names_what_is_printed(self):
        page = (Path(__file__).resolve().parent.parent / "docs" / "terminal-json.md").read_text()
        told = set(re.findall(r"`([a-z_0-9]+)`", page))
        for word in ("why", "band", "margin", "met_share", "unit", "known", "width", "value", "cost", "count"):
            self.assertIn(word, told)


def self_fail(text):
    raise AssertionError(f"{text} is no JSON")
