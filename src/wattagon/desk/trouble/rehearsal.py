"""A fault that hides on a stand of this design, to be found by the tests that the stand can do."""

from __future__ import annotations

import random
from collections.abc import Callable
from typing import NamedTuple

from wattagon.design.catalogue import Catalogue
from wattagon.design.tree import Design
from wattagon.standins.answers import Seen, answer_of, seen_on
from wattagon.standins.faults import FAULTS
from wattagon.standins.stand import Stand
from wattagon.study.drive.study import DriveStudy
from wattagon.study.trouble.applies import applies
from wattagon.study.trouble.causes import Cause, causes
from wattagon.study.trouble.study import symptoms_of


class Hidden(NamedTuple):
    """One fault with a symptom that it shows, and readings of its stand and of a sound one."""

    cause: Cause
    symptom: str
    seen: Seen
    sound: Seen

    def answer(self, test: str) -> str:
        """What the stand answers to a test."""
        return answer_of(test, self.seen, self.sound)

    @property
    def words(self) -> str:
        """What it was."""
        return FAULTS[self.cause.fault].words


def hide(
    design: Design, stock: Catalogue, drive: DriveStudy, chance: random.Random, cancelled: Callable[[], bool] = lambda: False
) -> Hidden | None:
    """One of the faults that this design can have, by chance; takes seconds.  None when it was cancelled."""
    shown = {one.code for one in symptoms_of(design)}
    able = [one for one in causes().values() if one.fault and applies(one, design, drive) and shown & set(one.symptoms)]
    cause = chance.choice(able)
    symptom = chance.choice([one for one in cause.symptoms if one in shown])
    sound = seen_on(Stand(design, stock, drive=drive))
    if cancelled():
        return None
    return Hidden(cause, symptom, seen_on(Stand(design, stock, drive=drive, fault=cause.fault)), sound)
