"""Patterns against a search that knows nothing of belts, on all slots and poles to 36 slots; orders, paths, spellings."""

import cmath
import itertools
import math
import random
import unittest

import numpy as np

from wattagon.errors import InputError
from wattagon.physics.winding import star

PAIRS = [(slots, poles) for slots in range(3, 37) for poles in range(2, 2 * slots + 1, 2)]


def best_sum(angles: np.ndarray, many: int) -> float:
    """Longest sum of so many of these unit spokes, each of which may be turned round: the best over all axes.

    For one axis the best choice is the `many` largest projections; choices change only where two projections are equal.
    """
    both = np.concatenate([angles, angles + math.pi])
    edges = np.unique(np.round((0.5 * (both[:, None] + both[None, :])).ravel() % math.pi, 9))
    axes = np.concatenate([edges, 0.5 * (edges + np.roll(edges, -1)) + (np.arange(len(edges)) == len(edges) - 1) * 0.5 * math.pi])
    projected = np.sort(np.abs(np.cos(angles[None, :] - axes[:, None])), axis=1)
    return float(projected[:, -many:].sum(axis=1).max())


class BruteForceTest(unittest.TestCase):
    def test_no_choice_of_coils_adds_up_to_more(self):
        seen = 0
        for slots, poles in PAIRS:
            for layers in (2, 1):
                if star.refusal(slots, poles, layers):
                    continue
                seen += 1
                found = star.pattern(slots, poles, layers)
                teeth = np.arange(0, slots, 1 if layers == 2 else 2)
                many = len(teeth) // 3
                self.assertEqual([len(found.teeth(phase)) for phase in range(3)], [many] * 3)
                best = best_sum(2 * math.pi * (poles // 2) * teeth / slots, many) / many
                self.assertAlmostEqual(star.distribution_factor(found), best, places=6, msg=f"{slots}N{poles}P, {layers}")
                self.assertTrue(star.balanced(found))
                for nu in (1, 3, 5):
                    self.assertAlmostEqual(star.factor(found, nu), star.factor_by_sides(found, nu), places=9)
        self.assertGreater(seen, 250)

    def test_what_is_refused_has_no_balanced_winding_at_all(self):
        """Every way to give six coils to three phases and two directions, and nine coils in equal shares."""
        for slots in (3, 6):
            ways = np.array(list(itertools.product(range(6), repeat=slots)))
            for poles in range(2, 2 * slots + 1, 2):
                self.assertEqual(self.any_balanced(ways, slots, poles), not star.refusal(slots, poles), (slots, poles))
        nine = [
            [(owner[k], sign[k]) for k in range(9)]
            for owner in set(itertools.permutations((0, 0, 0, 1, 1, 1, 2, 2, 2)))
            for sign in random.Random(owner.__hash__()).sample(list(itertools.product((0, 1), repeat=9)), 24)
        ]
        ways = np.array([[2 * phase + sign for phase, sign in one] for one in nine])
        for poles in (18,):
            self.assertTrue(star.refusal(9, poles))
            self.assertFalse(self.any_balanced(ways, 9, poles))

    def any_balanced(self, ways: np.ndarray, slots: int, poles: int) -> bool:
        spokes = np.exp(2j * math.pi * (poles // 2) * np.arange(slots) / slots)
        signed = spokes * np.where(ways % 2 == 0, 1.0, -1.0)
        sums = np.stack([np.where(ways // 2 == phase, signed, 0.0).sum(axis=1) for phase in range(3)])
        shares = np.stack([(ways // 2 == phase).sum(axis=1) for phase in range(3)])
        third = cmath.exp(2j * math.pi / 3)
        good = np.zeros(len(ways), dtype=bool)
        for way in (third, third.conjugate()):
            good |= (np.abs(sums[1] - way * sums[0]) < 1e-9) & (np.abs(sums[2] - way * sums[1]) < 1e-9)
        return bool((good & (np.abs(sums[0]) > 1e-6) & (shares == slots // 3).all(axis=0)).any())


class SpellingTest(unittest.TestCase):
    def test_one_winding_has_one_canonical_spelling(self):
        pick = random.Random(4)
        for slots, poles in ((9, 8), (12, 14), (18, 16), (24, 22)):
            text = star.pattern(slots, poles).text
            for _ in range(20):
                k = pick.randrange(slots)
                other = text[k:] + text[:k]
                names = pick.sample("ABC", 3)
                other = other.translate(str.maketrans("ABCabc", "".join(names) + "".join(names).lower()))
                other = other.swapcase() if pick.random() < 0.5 else other
                self.assertEqual(star.canonical(other), star.canonical(text))
            wrong = text[0].swapcase() + text[1:]
            self.assertNotEqual(star.canonical(wrong), star.canonical(text))

    def test_letters_are_read_back_and_others_refused(self):
        found = star.pattern(12, 14, 1)
        self.assertEqual(found.text.count("-"), 6)
        self.assertEqual(star.read(found.text, 14), found)
        for text in ("", "ABX", "A B 1"):
            with self.assertRaises(InputError):
                star.read(text, 14)
        turned = star.read("aCcbBAacCBba", 14)
        self.assertFalse(star.balanced(turned), "one coil the wrong way round")


class OrderTest(unittest.TestCase):
    def test_each_tooth_once_a_phase_in_one_go_and_paths_alike(self):
        for slots, poles in ((12, 14), (24, 28), (36, 42), (9, 6)):
            found = star.pattern(slots, poles)
            for count in star.paths_allowed(found):
                order = star.winding_order(found, count)
                self.assertEqual(sorted(tooth for _, _, tooth, _ in order), list(range(slots)))
                self.assertEqual([phase for phase, *_ in order], sorted(phase for phase, *_ in order))
                self.assertTrue(all(found.coils[tooth] == (phase, way) for phase, _, tooth, way in order))
                sums = {}
                for phase, path, tooth, _ in order:
                    spoke = cmath.exp(1j * math.pi * found.spoke(tooth) / slots)
                    sums[phase, path] = sums.get((phase, path), 0) + spoke
                for phase in range(3):
                    lengths = [sums[phase, path] for path in range(count)]
                    self.assertTrue(all(abs(one - lengths[0]) < 1e-9 for one in lengths), "no current goes round between paths")
        with self.assertRaisesRegex(InputError, "1, 2"):
            star.paths(star.pattern(12, 14), 0, 3)

    def test_other_slots_for_a_rotor(self):
        found = star.alternatives(14)
        self.assertTrue(all(factor >= star.USEFUL for _, factor in found))
        self.assertIn(12, [slots for slots, _ in found])
        self.assertEqual([factor for _, factor in found], sorted((factor for _, factor in found), reverse=True))


if __name__ == "__main__":
    unittest.main()
