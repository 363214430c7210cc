"""Random boats are solved: no exception, nothing that is not a number, no equilibrium that is none.  `benchmarks/robust.py` does 500."""

import unittest

from tests.random_boats import faults_afloat, random_boat
from wattagon.design import catalogue


class RandomBoatsTest(unittest.TestCase):
    def test_they_are_solved(self):
        stock = catalogue.load()
        for seed in range(80):
            with self.subTest(seed=seed):
                self.assertEqual(list(faults_afloat(random_boat(seed, stock), stock)), [])


if __name__ == "__main__":
    unittest.main()
