"""The calendar of a build of 150 steps with its spread, a tick of a step with its repaint, and a figure typed in commissioning.

Run: .venv/bin/python benchmarks/build.py.  Prints medians in ms, beside the 50 ms that the window may wait; all in one process.
"""

from __future__ import annotations

import os
import random
import statistics
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PySide6.QtWidgets import QApplication

from wattagon.design.tree import StepState
from wattagon.desk.app import make_window
from wattagon.desk.settings import SettingsFile
from wattagon.study.build.schedule import Job, Means, along, calendar, mean_of
from wattagon.study.build.step import Does

MOST_MS, TIMES, STEPS = 50.0, 40, 150


def told(words: str, work: Callable[[int], object], times: int = TIMES) -> None:
    """Median of a piece of work, as ms and as a share of what the window may wait."""
    took = []
    for k in range(times):
        start = time.perf_counter()
        work(k)
        took.append(1000.0 * (time.perf_counter() - start))
    middle = statistics.median(took)
    print(f"{words:44} {middle:6.2f} ms  {middle / MOST_MS:5.2f} of 50 ms")


def main() -> None:
    dice = random.Random(1)
    kinds = [Does.HAND] * 6 + [Does.PRINTER, Does.WAIT]
    jobs = [
        Job(
            f"s{k}",
            (dice.random(), 1.5, 2.0 + dice.random()),
            tuple(f"s{j}" for j in dice.sample(range(k), min(k, 3))),
            dice.choice(kinds),
            ((3.0, float(dice.randint(4, 9)), 20.0),) if dice.random() < 0.3 else (),
        )
        for k in range(STEPS)
    ]
    after, hours = {job.id: job.after for job in jobs}, {job.id: mean_of(job.hours) for job in jobs}
    told(f"longest chain of {STEPS} steps", lambda _k: along(after, hours))
    told(f"calendar of {STEPS} steps with its spread", lambda _k: calendar(jobs, Means(8.0, 2)))
    app = QApplication([])
    with tempfile.TemporaryDirectory() as folder:
        window = make_window(SettingsFile(Path(folder) / "settings.json"), None, None)
        window.open_demo()
        window.resize(1280, 800)
        window.show()

        def settled() -> None:
            end = time.monotonic() + 60.0
            while window.session.busy and time.monotonic() < end:
                app.processEvents()
                time.sleep(0.01)

        window.show_bench("build")
        settled()
        bench = window.bench("build")
        bench.show_target("proof-axle-bump")

        def tick(k: int) -> None:
            bench.step_tab.mark(StepState.DONE if k % 2 else StepState.OPEN)
            bench.calendar.repaint()

        told("a step ticked, calendar repainted", tick)
        window.show_bench("commission")
        settled()
        bench = window.bench("commission")
        bench.show_target("B6")

        def read(k: int) -> None:
            bench.form.enter("rpm at 100%", f"{6200 + k} rpm")
            bench.drawing.repaint()

        told("a figure typed, picture repainted", read)
        window.session.forget_recovery()


if __name__ == "__main__":
    main()
