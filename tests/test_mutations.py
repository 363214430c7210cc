"""Damaged files of every kind that the program reads; the long form is in benchmarks/robust.py."""

import tempfile
import unittest
from pathlib import Path

from tests.mutations import Mutations


class MutationTest(unittest.TestCase):
    def test_each_is_met_with_a_sentence_or_opened(self):
        with tempfile.TemporaryDirectory() as folder:
            files = Mutations(Path(folder), seed=4)
            faults = [fault for k in range(280) if (fault := files.one(k))]
        self.assertEqual(faults, [])
