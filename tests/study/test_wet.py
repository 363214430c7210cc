"""Water and dirt: the leak's check point, both sides of each bound, what is not stated is not checked."""

import unittest

from tests.design.malformed import DEMO
from tests.study.rule_case import BOARD, STOCK, case, changed
from wattagon.design import file
from wattagon.design.paths import put
from wattagon.design.quantity import Known, Quantity
from wattagon.design.tree import Wet, WetPlace
from wattagon.errors import InputError
from wattagon.physics.leak import breathed_share, depth_m, leak_ml_min
from wattagon.study.drive.study import study_drive
from wattagon.study.findings.status import Status
from wattagon.study.wet.rules import RULES
from wattagon.study.wet.study import study_wet

PUNT = put(file.read(DEMO / "garganey.json").design, "variant.wet", None)
DRY = put(BOARD, "brief.conditions.wet", False)
WET = put(DRY, "brief.conditions.wet", True)


def known(value):
    return Quantity(value=value, known=Known.MEASURED)


def place(design, code, **told):
    made = put(design, "variant.wet", Wet(places=(WetPlace(id=code, **told),)))
    return next(one for one in study_wet(made, study_drive(made, STOCK)).places if one.code == code)


def status(design, code, what, **told):
    return next((one.status for one in place(design, code, **told).said if one.code == what), None)


class LeakTest(unittest.TestCase):
    def test_check_point(self):
        self.assertAlmostEqual(leak_ml_min(2.0, 2000.0, 60.0), 39.48, delta=0.02)  # g8: 2 l, 0.02 bar in 60 s

    def test_laws_and_refusals(self):
        self.assertEqual(leak_ml_min(2.0, 0.0, 60.0), 0.0)
        self.assertAlmostEqual(leak_ml_min(4.0, 1000.0, 60.0), leak_ml_min(2.0, 2000.0, 60.0))
        self.assertAlmostEqual(leak_ml_min(2.0, 2000.0, 120.0), 0.5 * leak_ml_min(2.0, 2000.0, 60.0))
        for litres, seconds in ((0.0, 60.0), (2.0, 0.0), (float("nan"), 60.0)):
            with self.assertRaises(InputError):
                leak_ml_min(litres, 100.0, seconds)
        self.assertAlmostEqual(breathed_share(30.0), 0.10, delta=0.005)  # a swing of 30 K breathes a tenth
        self.assertAlmostEqual(depth_m(10e3), 1.02, delta=0.01)  # 0.1 bar is a metre


class PlacesTest(unittest.TestCase):
    def test_ridden_dry_nothing_is_asked_and_ridden_wet_the_unstated_is_not_checked(self):
        dry = study_wet(put(DRY, "variant.wet", None), study_drive(DRY, STOCK))
        self.assertTrue(all(not one.said for one in dry.places if one.code in ("pack", "box")))
        for code in ("pack", "box"):
            said = place(WET, code).said
            self.assertTrue(said)
            self.assertTrue(all(one.status is Status.NOT_CHECKED for one in said))

    def test_a_boat_is_always_wet_and_its_pod_works_under_water(self):
        found = study_wet(PUNT, study_drive(PUNT, STOCK))
        self.assertTrue(found.wet)
        self.assertTrue(next(one for one in found.places if one.code == "motor").under)
        self.assertIs(status(PUNT, "motor", "shut", shut="splashes"), Status.OVER)
        self.assertIs(status(PUNT, "motor", "shut", shut="under water"), Status.CLEAR)
        self.assertIs(status(PUNT, "box", "shut", shut="splashes"), Status.CLEAR)

    def test_yes_no_and_nothing(self):
        asked = (("box", "seal"), ("box", "glands"), ("connectors", "potted"), ("belt", "kick_plate"))
        for code, what in asked:
            with self.subTest(what):
                self.assertIs(status(WET, code, what, **{what: "yes"}), Status.CLEAR)
                self.assertIn(status(WET, code, what, **{what: "no"}), (Status.OVER, Status.TIGHT))
                self.assertIs(status(WET, code, what), Status.NOT_CHECKED)

    def test_leak_on_both_sides_of_ten_and_of_two(self):
        """Of 1 l in 60 s a loss of 1013.25 Pa is 10 ml/min."""
        told = lambda drop: {"tested": "air", "volume": known(1.0), "drop": known(drop), "seconds": known(60.0)}
        self.assertIs(status(WET, "box", "leak", **told(1020.0)), Status.OVER)
        self.assertIs(status(WET, "box", "leak", **told(1000.0)), Status.TIGHT)
        self.assertIs(status(WET, "box", "leak", **told(600.0)), Status.CLEAR)
        self.assertIs(status(PUNT, "motor", "leak", **told(206.0)), Status.OVER)
        self.assertIs(status(PUNT, "motor", "leak", **told(130.0)), Status.CLEAR)
        self.assertIs(status(WET, "box", "leak", tested="air"), Status.NOT_CHECKED)
        self.assertIs(status(WET, "box", "leak", tested="dunk", dry="yes"), Status.CLEAR)
        self.assertIs(status(WET, "box", "leak", tested="dunk", dry="no"), Status.OVER)

    def test_squeeze_between_15_and_25_per_cent(self):
        for share, wanted in ((0.14, Status.TIGHT), (0.15, Status.CLEAR), (0.25, Status.CLEAR), (0.26, Status.TIGHT)):
            self.assertIs(status(WET, "box", "squeeze", squeeze=known(share)), wanted)

    def test_unlike_metals_in_salt_water(self):
        salt = changed(PUNT, vehicle__hull__salt=True)
        fresh = changed(PUNT, vehicle__hull__salt=False)
        self.assertIs(status(salt, "motor", "metals", metals="unlike"), Status.OVER)
        self.assertIs(status(fresh, "motor", "metals", metals="unlike"), Status.TIGHT)
        self.assertIs(status(salt, "motor", "metals", metals="anode"), Status.CLEAR)

    def test_dust_alone_asks_for_belt_and_bearings(self):
        dusty = put(DRY, "brief.conditions.dusty", True)
        self.assertIs(status(dusty, "belt", "kick_plate", kick_plate="no"), Status.OVER)
        self.assertIsNone(status(dusty, "box", "seal", seal="no"))

    def test_findings_say_each_unstated_place_once(self):
        findings = [finding for rule in RULES for finding in rule.findings(case(put(WET, "variant.wet", None)))]
        self.assertTrue(findings)
        self.assertTrue(all(one.status is Status.NOT_CHECKED for one in findings))
        codes = [one.code for one in findings]
        self.assertEqual(len(set(codes)), len(codes))
        told = put(WET, "variant.wet", Wet(places=(WetPlace(id="box", seal="no"),)))
        over = [one for rule in RULES for one in rule.findings(case(told)) if one.status is Status.OVER]
        self.assertEqual([one.code for one in over], ["wet.seal.box"])

    def test_what_to_do_after_a_dunking_depends_on_water_and_chemistry(self):
        salt = dict(study_wet(PUNT, study_drive(PUNT, STOCK)).dunking)["pack"]
        fresh = dict(study_wet(WET, study_drive(WET, STOCK)).dunking)["pack"]
        self.assertIn("not opened, not charged", salt)
        self.assertIn("does not burn", fresh)
        parts = dict(study_wet(WET, study_drive(WET, STOCK)).dunking)
        self.assertTrue({"controller", "motor", "wiring", "fuse"} <= set(parts))

    def test_a_place_of_ones_own(self):
        self.assertIs(status(WET, "lamp", "seal", shut="splashes", seal="no"), Status.OVER)
        with self.assertRaises(InputError):
            WetPlace(id="box", seal="perhaps")


if __name__ == "__main__":
    unittest.main()
