"""Half of two hundred logs with hidden values: errors are what they say."""

import unittest

import numpy as np

from tests.logs import hidden_offs


class HiddenCase(unittest.TestCase):
    seeds = range(0)

    def test_errors_are_what_they_say(self):
        if not self.seeds:
            self.skipTest("its kinds have seeds")
        offs = np.abs(hidden_offs(self.seeds))
        self.assertGreater(offs.size, 5 * len(self.seeds))
        within_one, within_two = float(np.mean(offs < 1.0)), float(np.mean(offs < 2.0))
        self.assertGreaterEqual(within_two, 0.93)
        self.assertGreaterEqual(within_one, 0.62)
        self.assertLessEqual(within_one, 0.75)
