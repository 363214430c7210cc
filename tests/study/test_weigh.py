"""What makes a band, and what measuring leaves of it: against freezing inputs one by one, and against measuring them."""

import contextlib
import io
import json
import math
import unittest
from dataclasses import replace
from types import SimpleNamespace

import numpy as np

from tests.design.malformed import DEMO
from tests.study.rule_case import BOARD, STOCK
from wattagon.cli import main
from wattagon.design import file
from wattagon.design.paths import put
from wattagon.design.quantity import Known, Quantity
from wattagon.exchange.units import say
from wattagon.study.bands.bands import band
from wattagon.study.bands.edges import edges, speeds_of
from wattagon.study.bands.errors import SPREADS
from wattagon.study.bands.taking import TAKING, name_of, taking, target
from wattagon.study.bands.weigh import run, shares_of, weigh
from wattagon.study.drive.study import study_drive
from wattagon.study.studies import Task

FLEET = {name: file.read(DEMO / f"{name}.json").design for name in ("dunlin", "garganey", "corncrake", "bittern")}


class SharesTest(unittest.TestCase):
    def test_of_a_sum_they_are_the_squares_of_its_parts(self):
        z = np.random.default_rng(3).standard_normal((4000, 4))
        found = shares_of(5.0 + 3.0 * z[:, 0] - 2.0 * z[:, 1] + 1.0 * z[:, 2], z)
        np.testing.assert_allclose(found, [9 / 14, 4 / 14, 1 / 14, 0.0], atol=0.02)

    def test_noise_gives_nobody_a_share_and_what_is_not_finite_is_left_out(self):
        rng = np.random.default_rng(4)
        z = rng.standard_normal((1000, 20))
        self.assertLess(float(shares_of(rng.standard_normal(1000), z).sum()), 0.03)
        values = z[:, 2].copy()
        values[:100] = math.inf
        self.assertGreater(shares_of(values, z)[2], 0.97)
        self.assertTrue(np.isnan(shares_of(np.full(1000, 4.0), z)).all())
        values[:600] = math.inf
        self.assertTrue(np.isnan(shares_of(values, z)).all())

    def test_freezing_an_input_takes_its_share_away(self):
        """By the samples themselves: without the one input's draws the variance falls by its share."""
        design = FLEET["dunlin"]
        k = [one.id for one in design.brief.goals].index("round")
        found = weigh(design, STOCK)
        shares = found.goals[k].shares
        draws = np.random.default_rng(9).standard_normal((1000, len(found.found.inputs)))
        whole = np.nanvar(band(design, STOCK, draws=draws).samples[:, k])
        for at in np.argsort(shares)[-2:]:
            frozen = draws.copy()
            frozen[:, at] = 0.0
            left = np.nanvar(band(design, STOCK, draws=frozen).samples[:, k])
            self.assertAlmostEqual(1.0 - left / whole, float(shares[at]), delta=0.06, msg=found.found.inputs[at].path)


class NextTest(unittest.TestCase):
    def test_measuring_the_first_leaves_what_was_told(self):
        design = FLEET["dunlin"]
        found = weigh(design, STOCK)
        first = found.next[0]
        self.assertEqual(first.path, "vehicle.rolling")
        k = [one.id for one in design.brief.goals].index(first.goal)
        value = design.vehicle.rolling.value
        measured = put(design, "vehicle.rolling", Quantity(value=value, known=Known.MEASURED))
        before, after = found.goals[k].band, weigh(measured, STOCK).goals[k].band
        self.assertAlmostEqual((after.high - after.low) / (before.high - before.low), first.leaves, delta=0.08)
        self.assertNotIn("vehicle.rolling", [one.path for one in weigh(measured, STOCK).next[:1]])

    def test_a_goal_in_doubt_counts_more_than_sure_ones(self):
        design = FLEET["dunlin"]
        sure = weigh(design, STOCK)
        mass = next(one.share for one in sure.next if one.path.endswith("pack.mass"))
        reached = next(one.band.value for one in sure.goals if one.result.goal.id == "mass")
        goals = tuple(replace(goal, amount=reached) if goal.id == "mass" else goal for goal in design.brief.goals)
        doubtful = weigh(put(design, "brief.goals", goals), STOCK)
        likely = next(one.likely for one in doubtful.goals if one.result.goal.id == "mass")
        self.assertTrue(0.3 < likely < 0.7)
        self.assertGreater(next(one.share for one in doubtful.next if one.path.endswith("pack.mass")), 2.0 * mass)

    def test_shares_are_in_order_and_no_more_than_all(self):
        for design in (FLEET["garganey"], FLEET["bittern"]):
            found = weigh(design, STOCK)
            shares = [one.share for one in found.next]
            self.assertEqual(shares, sorted(shares, reverse=True))
            self.assertLessEqual(sum(shares), 1.02)
            for one in found.next:
                self.assertTrue(0.0 <= one.leaves < 1.0)
                self.assertTrue(one.how.endswith(".") and one.minutes > 0 and one.tool)

    def test_what_varies_has_a_way_to_be_taken_or_nobody_can(self):
        nobody = {"limit_c", "pack.mass"}
        for end in SPREADS:
            if SPREADS[end].assumed > 0.0 and end not in nobody:
                self.assertIsNotNone(taking(f"x.{end}"), end)
        self.assertEqual(taking("variants.B.pack.mass").name, "pack's mass")
        self.assertIsNone(taking("variants.B.motor.limit_c"))
        self.assertEqual([name_of(f"variants.A.stages.{k}.drag") for k in (0, 1)], ["drag of the stage 1", "drag of the stage 2"])
        self.assertEqual([name_of(path) for path in ("vehicle.rolling", "x.no_such_end")], ["rolling resistance", "no such end"])
        for end in TAKING:
            bench, _ = target(f"variants.B.motor.{end}", "B")
            self.assertIn(bench, ("drive", "winding"))
        self.assertEqual(target("vehicle.rolling", "B"), ("brief", "vehicle.rolling"))


class FlipTest(unittest.TestCase):
    def judged(self, design, goal):
        return next(one for one in study_drive(design, STOCK).goals if one.goal.id == goal)

    def test_the_value_that_is_named_turns_the_verdict(self):
        design = FLEET["dunlin"]
        found = weigh(design, STOCK)
        reached = next(one.band.value for one in found.goals if one.result.goal.id == "round")
        for share, met in ((1.06, False), (0.95, True)):
            goals = tuple(replace(goal, distance=reached * share) if goal.id == "round" else goal for goal in design.brief.goals)
            asked = put(design, "brief.goals", goals)
            one = next(one for one in weigh(asked, STOCK).goals if one.result.goal.id == "round")
            self.assertIs(one.result.met, met)
            self.assertEqual(one.flip.path, "vehicle.rolling")
            self.assertLess(abs(one.flip.widths), 2.0)
            side = 0.98 if one.flip.value < design.vehicle.rolling.value else 1.02
            beyond = put(asked, "vehicle.rolling", one.flip.value * side)
            before = put(asked, "vehicle.rolling", one.flip.value / side)
            self.assertEqual((self.judged(before, "round").met, self.judged(beyond, "round").met), (met, not met))

    def test_a_sure_goal_has_none_and_a_goal_far_off_neither(self):
        design = FLEET["dunlin"]
        for one in weigh(design, STOCK).goals:
            self.assertEqual(one.flip is None or 0.0 < one.likely < 1.0, True)
        goals = tuple(replace(goal, distance=9e5) if goal.id == "round" else goal for goal in design.brief.goals)
        far = next(one for one in weigh(put(design, "brief.goals", goals), STOCK).goals if one.result.goal.id == "round")
        self.assertEqual((far.likely, far.flip), (0.0, None))


class EdgeTest(unittest.TestCase):
    def test_a_batch_of_edges_is_the_edge_of_each(self):
        for name in ("dunlin", "garganey"):
            design = FLEET[name]
            study = study_drive(design, STOCK)
            heavier = study_drive(put(design, "vehicle.rider_mass", 120.0), STOCK)
            weaker = study_drive(put(design, "variant.motor.kv_rpm_per_v", 150.0), STOCK)
            speeds = speeds_of(study)
            found = edges([one.resolved for one in (study, heavier, weaker)], speeds)
            for row, one in zip(found, (study, heavier, weaker), strict=True):
                nominal = one.states["nominal"].edge
                inside = speeds <= nominal.speed_m_s[-1]
                expected = np.interp(speeds[inside], nominal.speed_m_s, nominal.force_n)
                np.testing.assert_allclose(row[inside], expected, atol=0.02 * nominal.force_n.max())

    def test_the_band_is_round_the_edge_and_what_is_set_has_none(self):
        design = FLEET["dunlin"]
        drive = SimpleNamespace(study=study_drive(design, STOCK))
        found = run(Task(design=design, stock=STOCK, say=say, results={"drive": drive}))
        nominal = drive.study.states["nominal"].edge
        middle = np.interp(found.edge.speed_m_s, nominal.speed_m_s, nominal.force_n)
        self.assertTrue((found.edge.low_n <= middle + 1.0).all())
        self.assertTrue((found.edge.high_n >= middle - 1.0).all())
        wide = (found.edge.high_n - found.edge.low_n) / nominal.force_n.max()
        self.assertGreater(wide.max(), 0.01)
        self.assertEqual([one.result.goal.id for one in found.goals], [goal.id for goal in design.brief.goals])
        plain = weigh(design, STOCK)
        self.assertEqual([one.band for one in found.goals], [one.band for one in plain.goals])
        gone = Task(design=design, stock=STOCK, say=say, results={"drive": drive}, cancelled=lambda: True)
        self.assertIsNone(run(gone))


class BandsCommandTest(unittest.TestCase):
    def test_keys_that_were_promised(self):
        out = io.StringIO()
        with contextlib.redirect_stdout(out):
            self.assertEqual(main(("bands", str(DEMO / "dunlin.json"), "--json")), 0)
        data = json.loads(out.getvalue())
        self.assertEqual([one["code"] for one in data["goals"]], [goal.id for goal in BOARD.brief.goals])
        for one in data["goals"]:
            self.assertLessEqual(one["low"], one["high"])
            self.assertTrue(0.0 <= one["likely"] <= 1.0)
        self.assertLessEqual({"path", "share", "how", "minutes"}, set(data["next"][0]))
        rolling = next(one for one in data["inputs"] if one["path"] == "vehicle.rolling")
        self.assertEqual(set(rolling), {"path", "value", "error"})
        self.assertAlmostEqual(rolling["error"], 0.3 * rolling["value"])
        out = io.StringIO()
        with contextlib.redirect_stdout(out):
            main(("bands", str(DEMO / "garganey.json")))
        self.assertIn("measure next:", out.getvalue())
        self.assertIn("% of what may be", out.getvalue())


if __name__ == "__main__":
    unittest.main()
