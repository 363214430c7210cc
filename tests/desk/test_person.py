"""A person at the window who does anything; the long form is in benchmarks/robust.py."""

import contextlib
import time

from tests.desk.case import SLOW, DeskTestCase
from tests.desk.person import Person


class PersonTest(DeskTestCase):
    """Nothing raises or is lost; what is slow is told by the benchmark."""

    runs = SLOW
    remembers = False

    def live(self, seed: int, actions: int) -> Person:
        person = Person(self.window, seed, self.folder)
        with contextlib.ExitStack() as stack:
            for patch in person.patches():
                stack.enter_context(patch)
            for k in range(actions):
                person.act()
                self.assertEqual(self.problems, [], f"seed {seed}, action {k}: {person.done[-6:]}")
                if k % 40 == 39:
                    self.assertEqual(person.faults(), [], person.done[-6:])
        return person

    def test_anything_may_be_done(self):
        for seed in (1, 2):
            with self.subTest(seed):
                self.live(seed, 80)
        end = time.monotonic() + 0.3
        while time.monotonic() < end:
            self.app.processEvents()
