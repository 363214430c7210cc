"""Variants, versions and what-ifs side by side: what differs and nothing else, on the terminal and in its window."""

import contextlib
import io
import json
import math
import unittest
from dataclasses import replace

from tests.design.malformed import DEMO
from tests.study.rule_case import BOARD, KART, STOCK
from wattagon.cli import main
from wattagon.design.paths import put
from wattagon.errors import InputError
from wattagon.exchange.units import say
from wattagon.study.compare.compare import compare, design_of, names_of
from wattagon.study.compare.words import rows
from wattagon.study.drive.study import study_drive
from wattagon.study.findings.status import Status

DUNLIN = str(DEMO / "dunlin.json")


def sides(design, *names):
    return compare([(name, design_of(design, name)) for name in names], STOCK, say)


class CompareTest(unittest.TestCase):
    def test_alike_ones_differ_in_nothing(self):
        twice = replace(BOARD, variants=(*BOARD.variants, replace(BOARD.variant("B"), id="Z", name="B again")))
        found = sides(twice, "B", "Z")
        self.assertEqual((found.parts, found.inputs, found.findings), ((), (), ()))
        self.assertTrue(all(line.best == -1 for line in found.figures))
        self.assertEqual({row.section for row in rows(found, say)}, {"goals"})

    def test_one_change_is_the_one_line_that_differs(self):
        other = put(BOARD, "vehicle.rolling", 0.02)
        found = compare([("B", BOARD), ("what if", other)], STOCK, say)
        self.assertEqual([(line.name, line.values) for line in found.inputs], [("rolling resistance", (0.03, 0.02))])
        self.assertEqual(found.parts, ())
        top = next(line for line in found.figures if line.code == "top_speed")
        self.assertEqual(top.best, 1)

    def test_figures_are_those_of_the_drive_study(self):
        found = sides(BOARD, "A", "B", "C")
        for k, side in enumerate(found.sides):
            study = study_drive(design_of(BOARD, side.code), STOCK)
            values = {line.code: line.values[k] for line in found.figures}
            self.assertEqual(values["top_speed"], study.states["nominal"].top_speed_m_s)
            self.assertEqual(values["mass"], study.resolved.drive_mass_kg)
            self.assertEqual(values["price"], study.resolved.full_price)
            for line, goal in zip(found.goals, study.goals, strict=True):
                self.assertEqual((line.goal.id, line.results[k].reached), (goal.goal.id, goal.reached))
        mass = next(line for line in found.figures if line.code == "mass")
        self.assertEqual(mass.values[mass.best], min(mass.values), "less mass is better")

    def test_an_override_and_its_parts_own_value_are_one_line(self):
        found = sides(BOARD, "A", "B")
        kv = [line for line in found.inputs if line.name == "kv"]
        self.assertEqual([line.values for line in kv], [(190.0, 167.0)])

    def test_findings_that_appear_and_vanish(self):
        found = sides(BOARD, "B", "C")
        lines = {line.code: [one.status if one else None for one in line.found] for line in found.findings}
        self.assertIn([Status.CLEAR, Status.OVER], list(lines.values()))
        for statuses in lines.values():
            self.assertGreater(len(set(statuses)), 1)
            self.assertTrue({Status.OVER, Status.TIGHT} & set(statuses))

    def test_a_version_as_it_was_ridden(self):
        state = BOARD.variant("B")
        ridden = replace(state, motor=replace(state.motor, overrides={}))
        log = replace(BOARD.logs[0], variant="B", state=ridden, version="") if BOARD.logs else None
        self.assertIsNotNone(log)
        design = replace(BOARD, logs=(log,))
        names = names_of(design)
        version = next(name for name in names if name.startswith("B@"))
        found = sides(design, "B", version)
        self.assertIn("kv", [line.name for line in found.inputs])
        self.assertEqual(design_of(design, version[:6]).active, "B", "the beginning of a version is enough")
        same = replace(design, logs=(replace(log, state=state),))
        self.assertFalse([name for name in names_of(same) if "@" in name], "a version that is the present one is no other")

    def test_too_few_too_many_and_unknown_ones(self):
        for names, words in ((("B",), "2 to 4"), (("A",) * 5, "2 to 4")):
            with self.assertRaisesRegex(InputError, words):
                sides(BOARD, *names)
        with self.assertRaisesRegex(InputError, "A, B, C"):
            design_of(BOARD, "Q")
        with self.assertRaisesRegex(InputError, "version"):
            design_of(BOARD, "B@ffffff")
        self.assertIsNone(compare([("A", BOARD), ("B", BOARD)], STOCK, say, lambda: True))

    def test_a_goal_that_is_never_reached_and_a_drive_of_another_kind_have_rows_too(self):
        found = sides(KART, *[one.id for one in KART.variants][:3])
        told = rows(found, say)
        self.assertTrue(all(len(row.cells) == len(found.sides) for row in told))
        self.assertTrue(all(bar != bar or 0.0 <= bar <= 1.0 for row in told for bar in row.bars))
        self.assertFalse([cell for row in told for cell in row.cells if "nan" in cell or "inf" in cell])


class CommandTest(unittest.TestCase):
    def run_it(self, *arguments):
        out, err = io.StringIO(), io.StringIO()
        with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
            code = main(("compare", *arguments))
        return code, out.getvalue(), err.getvalue()

    def test_json(self):
        code, out, err = self.run_it(DUNLIN, "A", "B", "--what-if", "variant.motor.kv_rpm_per_v=150", "--json")
        self.assertEqual(code, 0, err)
        data = json.loads(out)
        self.assertEqual([one["code"] for one in data["sides"]], ["A", "B", "what if"])
        kv = next(line for line in data["differs"] if line["name"] == "kv")
        self.assertEqual((kv["unit"], kv["values"]), ("rpm/V", [190.0, 167.0, 150.0]))
        for line in (*data["differs"], *data["figures"], *data["goals"]):
            self.assertEqual(len(line.get("values") or line["reached"]), 3)
        top = next(line for line in data["figures"] if line["code"] == "top_speed")
        self.assertEqual(top["best"], max(range(3), key=lambda k: top["values"][k]))
        self.assertFalse(math.isnan(top["values"][0]))

    def test_words_and_refusals(self):
        code, out, _ = self.run_it(DUNLIN, "B", "C")
        self.assertEqual(code, 0)
        self.assertIn("Dunlin: B Levee belts | C One motor", out)
        self.assertEqual(self.run_it(DUNLIN, "b", "levee BELTS")[0], 2, "B twice")
        self.assertEqual(self.run_it(DUNLIN, "b", "c")[0], 0)
        self.assertRegex(out, r"starts on +\*30\.5 % +13\.3 %")
        for arguments, words in (
            ((DUNLIN, "A"), "2 to 4"),
            ((DUNLIN, "A", "A"), "each once"),
            ((DUNLIN, "A", "Q"), "variant is 'Q'"),
            ((DUNLIN, "A", "--what-if", "variant.motr.part=x"), "motr"),
        ):
            code, out, err = self.run_it(*arguments)
            self.assertEqual((code, out), (2, ""))
            self.assertIn(words, err)


if __name__ == "__main__":
    unittest.main()
