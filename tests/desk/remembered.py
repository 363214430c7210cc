"""What slow studies found, kept for the next test of the same file that asks for the same design: most begin with the same one.

The studies are the real ones and run once for each design, stock and set of units; files that test when they run remember nothing.
"""

from __future__ import annotations

import threading
from collections.abc import Callable
from typing import Any

from wattagon.study.studies import STUDIES, Pace, Task, loaded

MOST = 24  # of each study
SLOW = {study.run for study in STUDIES if study.pace is Pace.SLOW}
# a word of each kind that is worded in units or money
WORDS = ("speed", "mass", "length", "money", "temperature")
_kept: dict[str, list[tuple[tuple[object, ...], Any]]] = {}
_lock = threading.Lock()


def remembering(name: str) -> Any:
    """As `loaded`, but a slow study looks first whether it has been asked the same before."""
    return _remembered(name, loaded(name)) if name in SLOW else loaded(name)


def _remembered(name: str, run: Callable[[Task], Any]) -> Callable[[Task], Any]:
    def asked(task: Task) -> Any:
        key = (task.stock.stamp, tuple(task.say(1.0, word) for word in WORDS), task.design)
        with _lock:
            rows = list(_kept.get(name, ()))
        for known, result in rows:
            if known == key:
                return result
        result = run(task)
        if not task.cancelled():
            with _lock:
                _kept.setdefault(name, []).append((key, result))
                del _kept[name][:-MOST]
        return result

    return asked
