"""Which findings may turn, and by which field: proved in the studies themselves."""

import contextlib
import io
import json
import unittest
from dataclasses import replace

from tests.design.malformed import DEMO
from tests.logs import STOCK, demo
from wattagon.cli import main
from wattagon.design import paths
from wattagon.design.paths import put
from wattagon.design.quantity import Known, Quantity
from wattagon.exchange.units import say
from wattagon.exchange.why.turns import turns
from wattagon.study.bands.turn import turn_of
from wattagon.study.drive.study import study_drive
from wattagon.study.findings.all import check, judge
from wattagon.study.findings.rule import Case
from wattagon.study.findings.status import Status


def margins(design):
    return {one.code: one.margin for one in judge(Case(design, STOCK, study_drive(design, STOCK), say))}


def told(design, path, value):
    """With a field at a value, known as well as before."""
    before = paths.place(design, path).value
    return put(design, path, replace(before, value=value) if isinstance(before, Quantity) else value)


class TurnsTest(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.designs = {name: demo(name) for name in ("dunlin", "bittern")}
        cls.found = {name: {one.code: one for one in turns(design, STOCK)} for name, design in cls.designs.items()}

    def test_at_the_value_that_is_told_the_verdict_turns(self):
        tried = 0
        for name, found in self.found.items():
            for one in found.values():
                if not one.exact:
                    continue
                at = margins(told(self.designs[name], one.path, one.value))[one.code]
                self.assertLess(abs(at), 2e-3, (one.code, one.margin, at))
                tried += 1
        self.assertGreaterEqual(tried, 4)

    def test_just_beyond_it_is_past_its_limit_and_just_before_not(self):
        design, one = self.designs["dunlin"], self.found["dunlin"]["brake.grip"]
        now = paths.place(design, "vehicle.grip").value
        now = now.value if now is not None else study_drive(design, STOCK).resolved.inputs["vehicle.grip"].value
        step = 0.02 * (one.value - now)
        put_at = lambda value: margins(put(design, "vehicle.grip", Quantity(value=value, known=Known.MEASURED)))["brake.grip"]
        self.assertLess(put_at(one.value + step), 0.0)
        self.assertGreater(put_at(one.value - step), 0.0)

    def test_one_that_is_over_may_be_cleared(self):
        one = self.found["bittern"]["case.stands.two-helpers"]
        self.assertLess(one.margin, 0.0)
        self.assertGreater(one.high, 0.0)
        self.assertRegex(one.text(say), r"weight behind the front axle of 78\d\.?\d* mm alone would clear it")

    def test_a_measured_value_holds_the_verdict(self):
        design = put(self.designs["dunlin"], "vehicle.grip", Quantity(value=0.65, known=Known.MEASURED, tolerance=0.001))
        self.assertNotIn("brake.grip", [one.code for one in turns(design, STOCK)])

    def test_goals_are_left_to_the_bands_and_margins_are_those_of_the_check(self):
        for name, found in self.found.items():
            self.assertFalse([code for code in found if code.startswith("goal.")])
            now = margins(self.designs[name])
            for code, one in found.items():
                self.assertAlmostEqual(one.margin, now[code], places=6)
                self.assertLessEqual(one.low, one.margin)
                self.assertGreaterEqual(one.high, one.margin)

    def test_judging_finds_what_check_finds(self):
        design = self.designs["bittern"]
        self.assertEqual(
            {one.code: one.status for one in check(design, STOCK, say)},
            {one.code: one.status for one in judge(Case(design, STOCK, study_drive(design, STOCK), say))},
        )
        self.assertIn(Status.OVER, {one.status for one in check(design, STOCK, say)})

    def test_there_and_back_as_json(self):
        for one in self.found["dunlin"].values():
            self.assertEqual(turn_of(json.loads(json.dumps(one.row))), one)
        with self.assertRaises(KeyError):
            turn_of({"code": "x"})

    def test_the_terminal_tells_it(self):
        out = io.StringIO()
        with contextlib.redirect_stdout(out):
            self.assertEqual(main(("bands", str(DEMO / "bittern.json"), "--findings")), 0)
        self.assertRegex(out.getvalue(), r"case\.stands\.two-helpers: margin -1% .*alone would clear it")


if __name__ == "__main__":
    unittest.main()
