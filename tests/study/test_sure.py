"""Between what the figures of a found drive lie."""

import unittest

from tests.logs import STOCK, demo
from wattagon.design.paths import put
from wattagon.design.quantity import Known, Quantity
from wattagon.study.bands.bands import goal_bands
from wattagon.study.drive.study import study_drive
from wattagon.study.finder.hits import OBJECTIVES, present_hit
from wattagon.study.finder.sure import sure
from wattagon.study.resolve import resolve


class SureTest(unittest.TestCase):
    def test_the_middle_is_the_hit_itself_and_money_is_sure(self):
        for name in ("dunlin", "bittern", "garganey"):
            design = demo(name)
            study = study_drive(design, STOCK)
            hit = present_hit(study.resolved, study.goals, study.design)
            found = sure(design, STOCK, design.variant())
            for code in OBJECTIVES:
                if hit.value(code) == hit.value(code):
                    self.assertAlmostEqual(found[code].value, hit.value(code), delta=1e-9 + 1e-6 * abs(hit.value(code)), msg=(name, code))
            self.assertEqual(found["cost"].low, found["cost"].high)
            self.assertLess(found["range"].low, found["range"].value)
            self.assertGreater(found["range"].high, found["range"].value)

    def test_range_is_as_sure_as_the_goal_that_asks_for_it(self):
        design = demo("dunlin")
        goal = next(one for one in design.brief.goals if one.kind.value == "range")
        whole, _ = goal_bands(design, STOCK)[goal.id]
        found = sure(design, STOCK, design.variant())["range"]
        self.assertLess(abs(found.low - whole.low), 0.1 * (whole.high - whole.low))
        self.assertLess(abs(found.high - whole.high), 0.1 * (whole.high - whole.low))

    def test_what_is_measured_makes_it_narrower(self):
        design = demo("dunlin")
        wide = sure(design, STOCK, design.variant())["range"]
        crr = resolve(design, STOCK, note=True).inputs["vehicle.rolling"].value
        told = put(design, "vehicle.rolling", Quantity(value=crr, known=Known.MEASURED))
        narrow = sure(told, STOCK, told.variant())["range"]
        self.assertLess(narrow.high - narrow.low, wide.high - wide.low)

    def test_given_up_and_a_drive_that_cannot_be_worked_out_give_none(self):
        design = demo("dunlin")
        self.assertIsNone(sure(design, STOCK, design.variant(), cancelled=lambda: True))
        broken = put(design, "variant.motor.part", "no-such-motor")
        self.assertIsNone(sure(broken, STOCK, broken.variant()))


if __name__ == "__main__":
    unittest.main()
