"""Whether two drives can be told apart with what is known."""

import unittest
from dataclasses import replace

from tests.logs import STOCK, demo
from wattagon.design.paths import put
from wattagon.design.quantity import Known, Quantity
from wattagon.study.drive.words import short_goal
from wattagon.study.finder.apart import apart_words, told_apart
from wattagon.study.say import plain


def short(one):
    return short_goal(one.goal, plain)


class ApartTest(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.design = demo("dunlin")
        cls.b = cls.design.variant("B")

    def other(self, **changes):
        design = self.design
        for path, value in changes.items():
            design = put(design, path.replace("__", "."), value)
        return design.variant()

    def test_the_same_drive_twice_differs_in_nothing(self):
        self.assertEqual(told_apart(self.design, STOCK, self.b, self.b), ())

    def test_a_little_more_kv_is_told_apart_when_both_are_the_same_motor(self):
        # the same field of the same place: what is not known of it is common to both, and the difference is sure
        longer = replace(self.b, stages=(replace(self.b.stages[0], driver_teeth=self.b.stages[0].driver_teeth + 1), *self.b.stages[1:]))
        told = {one.result.goal.id: one for one in told_apart(self.design, STOCK, self.b, longer)}
        self.assertTrue(told["cruise"].apart)
        self.assertLess(told["cruise"].first_better, 0.05, "one tooth more is faster whatever the rest is")
        self.assertGreater(told["start"].first_better, 0.95)

    def test_two_motors_of_nearly_the_same_kv_cannot_be(self):
        near = self.other(variant__motor__kv_rpm_per_v=Quantity(value=167.5, known=Known.STATED))
        base = self.other(variant__motor__kv_rpm_per_v=Quantity(value=167.0, known=Known.STATED))
        # as two parts, each with its own error
        other = replace(near, motor=replace(near.motor, overrides={}, part="outrunner-63x74-190"))
        told = told_apart(self.design, STOCK, base, other)
        words = apart_words(told, ("1", "2"), short)
        self.assertIn("told apart", words)
        self.assertTrue(all(0.0 <= one.first_better <= 1.0 for one in told))

    def test_what_would_tell_most_is_a_thing_that_somebody_can_measure(self):
        a, c = self.design.variant("A"), self.design.variant("C")
        told = told_apart(self.design, STOCK, a, c)
        self.assertTrue(told)
        for one in told:
            self.assertGreaterEqual(one.by_share, 0.0)
            self.assertLessEqual(one.by_share, 1.0)
        self.assertTrue(any(one.apart for one in told))
        self.assertNotIn("budget", [one.result.goal.id for one in told])

    def test_the_other_way_round_is_the_other_share(self):
        a, b = self.design.variant("A"), self.b
        one, two = told_apart(self.design, STOCK, a, b), told_apart(self.design, STOCK, b, a)
        for first, second in zip(one, two, strict=True):
            self.assertAlmostEqual(first.first_better, 1.0 - second.first_better, delta=0.03)

    def test_giving_up_gives_nothing(self):
        self.assertIsNone(told_apart(self.design, STOCK, self.b, self.design.variant("A"), lambda: True))

    def test_words_name_the_goals(self):
        told = told_apart(self.design, STOCK, self.b, self.design.variant("A"))
        self.assertTrue(apart_words(told, ("1", "2"), short).startswith("1 and 2 can"))
        self.assertEqual(apart_words((), ("1", "2"), short), "")
