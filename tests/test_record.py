"""Records: the shared methods behave as generated ones do."""

import copy
import dataclasses
import pickle
import unittest

from wattagon.record import record


@record(frozen=True, slots=True, kw_only=True)
class Pair:
    a: float
    b: str = "x"


@record(frozen=True, slots=True)
class Single:
    a: tuple[int, ...]


@record(slots=True)
class Loose:
    a: int


@record(frozen=True, slots=True, kw_only=True)
class Partly:
    a: int
    how: object = dataclasses.field(default=None, compare=False, repr=False)


class RecordTest(unittest.TestCase):
    def test_compared_and_hashed_by_fields(self):
        self.assertEqual(Pair(a=1.0), Pair(a=1.0, b="x"))
        self.assertNotEqual(Pair(a=1.0), Pair(a=2.0))
        self.assertNotEqual(Single((1,)), (1,))
        self.assertEqual({Pair(a=1.0): 3}[Pair(a=1.0)], 3)
        self.assertEqual(len({Single((1,)), Single((1,)), Single((2,))}), 2)

    def test_a_field_that_is_not_compared_counts_neither_for_equality_nor_text(self):
        one, other = Partly(a=1, how=lambda: 1), Partly(a=1, how=lambda: 2)
        self.assertEqual(one, other)
        self.assertEqual(hash(one), hash(other))
        self.assertNotEqual(one, Partly(a=2, how=one.how))
        self.assertEqual(repr(one), "Partly(a=1)")

    def test_frozen_stays_frozen_and_loose_has_no_hash(self):
        with self.assertRaises(dataclasses.FrozenInstanceError):
            Pair(a=1.0).a = 2.0
        with self.assertRaises(TypeError):
            hash(Loose(1))

    def test_text_replace_copy_and_pickle(self):
        pair = Pair(a=1.0)
        self.assertEqual(repr(pair), "Pair(a=1.0, b='x')")
        self.assertEqual(dataclasses.replace(pair, b="y"), Pair(a=1.0, b="y"))
        self.assertEqual(copy.deepcopy(pair), pair)
        self.assertEqual(pickle.loads(pickle.dumps(pair)), pair)
