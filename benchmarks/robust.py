"""The long runs behind the short ones in the tests.

2,000 random designs, strength of 1,000, pack and wiring of 1,000, settings of 1,000, 500 boats, 500 rides, 500 crossings,
500 malformed and 3,000 mutated files, 200 comparisons of heat, 100 kills during a save and 200 of a busy window in four rhythms,
10,000 actions of a person on the real window.

Run: .venv/bin/python benchmarks/robust.py [how many]
[designs|strengths|wirings|controllers|boats|rides|crossings|heat|files|mutations|saves|kills|person].
"""

from __future__ import annotations

import contextlib
import os
import random
import signal
import sys
import tempfile
import time
import traceback
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
sys.path.insert(0, str(Path(__file__).resolve().parent.parent))

import numpy as np
from tests.design.malformed import malformed_files, refused_well
from tests.design.test_file import kill_while_saving
from tests.desk.busy_window import RHYTHMS_MS, end_it
from tests.mutations import Mutations
from tests.random_boats import faults_afloat, random_boat
from tests.random_designs import random_design
from tests.random_heat import times_until_hot
from tests.random_rides import check_ride, random_ride
from tests.study.test_controller import faults_of as weak_sheets
from tests.study.test_random_designs import faults_of
from tests.study.test_random_wiring import faults_of as weak_paths
from tests.study.test_strength import faults_of as weak_spots

from wattagon.design import catalogue
from wattagon.study.ride.study import Ask, ride, runs_of


def designs(count: int = 2000) -> int:
    stock, bad = catalogue.load(), 0
    start = time.perf_counter()
    for seed in range(count):
        for fault in faults_of(random_design(seed, stock), stock):
            bad += 1
            print(f"design {seed}: {fault}")
    print(f"{count} random designs, {bad} faults, {time.perf_counter() - start:.0f} s")
    return bad


def strengths(count: int = 1000) -> int:
    stock, bad = catalogue.load(), 0
    for seed in range(count):
        for fault in weak_spots(random_design(seed, stock), seed):
            bad += 1
            print(f"design {seed}: {fault}")
    print(f"strength of {count} random designs, {bad} faults")
    return bad


def wirings(count: int = 1000, first: int = 0) -> int:
    """Packs and power paths with all their findings; every tenth is a boat's."""
    stock, bad = catalogue.load(), 0
    for seed in range(first, first + count):
        make = random_boat if seed % 10 == 9 else random_design
        try:
            faults = weak_paths(make(seed, stock))
        except Exception:  # noqa: BLE001 - any of them is a fault
            faults = [traceback.format_exc()]
        for fault in faults:
            bad += 1
            print(f"{make.__name__} {seed}: {fault}", flush=True)
    print(f"packs and paths of {count} random designs, {bad} faults")
    return bad


def controllers(count: int = 1000) -> int:
    """Settings sheets with all their findings; every tenth is a boat's."""
    stock, bad = catalogue.load(), 0
    for seed in range(count):
        make = random_boat if seed % 10 == 9 else random_design
        for fault in weak_sheets(make(seed, stock)):
            bad += 1
            print(f"{make.__name__} {seed}: {fault}", flush=True)
    print(f"settings of {count} random designs, {bad} faults")
    return bad


def boats(count: int = 500) -> int:
    stock, bad = catalogue.load(), 0
    for seed in range(count):
        for fault in faults_afloat(random_boat(seed, stock), stock):
            bad += 1
            print(f"boat {seed}: {fault}")
    print(f"{count} random boats, {bad} faults")
    return bad


def rides(count: int = 500) -> int:
    bad = 0
    for seed in range(count):
        for fault in check_ride(*random_ride(random.Random(seed))):
            bad += 1
            print(f"ride {seed}: {fault}")
    print(f"{count} random rides, {bad} faults")
    return bad


def crossings(count: int = 500) -> int:
    """A run of each random boat: the energy balance of the whole, no refusal, nothing that is not a number."""
    stock, bad, worst = catalogue.load(), 0, 0.0
    for seed in range(count):
        design = random_boat(seed, stock)
        names = list(runs_of(design))
        done = ride(design, stock, Ask(run=names[seed % len(names)], start_charge=(0.9, 0.5, 0.2)[seed % 3]), step_s=0.02)
        worst = max(worst, done.run.balance_error)
        if done.run.balance_error > 1e-6 or not np.isfinite(done.run.trace).all():
            bad += 1
            print(f"crossing {seed} ({done.ask.run}): balance {done.run.balance_error:.1e}, {done.run.end}")
    print(f"{count} random crossings, {bad} faults, worst balance {worst:.1e}")
    return bad


def heat(count: int = 200) -> int:
    """Time until too hot: the closed form against the ride."""
    errors = [closed / ridden - 1.0 for _, closed, ridden in times_until_hot(catalogue.load(), count)]
    worst = max(abs(error) for error in errors)
    bad = sum(abs(error) > 0.05 for error in errors)
    print(
        f"{count} comparisons of time until too hot: median "
        f"{sorted(abs(e) for e in errors)[len(errors) // 2]:.2%}, worst {worst:.2%}, {bad} beyond 5 %"
    )
    return bad


def files(count: int = 500) -> int:
    bad = 0
    with tempfile.TemporaryDirectory() as folder:
        for k, path in enumerate(malformed_files(Path(folder), count)):
            fault = refused_well(path)
            if fault:
                bad += 1
                print(f"file {k}: {fault}")
    print(f"{count} malformed files, {bad} faults")
    return bad


def mutations(count: int = 3000) -> int:
    bad = 0
    with tempfile.TemporaryDirectory() as folder:
        files = Mutations(Path(folder), seed=1)
        for k in range(count):
            fault = files.one(k)
            if fault:
                bad += 1
                print(f"mutation {k}: {fault}")
    print(f"{count} mutated files of {len(files.kinds)} kinds, {bad} faults")
    return bad


def saves(count: int = 100) -> int:
    with tempfile.TemporaryDirectory() as folder:
        lost = kill_while_saving(Path(folder), count)
    print(f"{count} kills during a save, {lost} lost")
    return lost


def kills(count: int = 200) -> int:
    """A window in which somebody edits in a rhythm is killed."""
    lost = 0
    r = random.Random(1)
    for k in range(count):
        pause = RHYTHMS_MS[k % len(RHYTHMS_MS)]
        with tempfile.TemporaryDirectory() as folder:
            fault, _ = end_it(Path(folder), pause, 2.0 + 2.5 * r.random(), signal.SIGKILL)
        if fault:
            lost += 1
            print(f"kill {k}, a pause of {pause} ms: {fault}")
    print(f"{count} kills in {len(RHYTHMS_MS)} rhythms, {lost} lost more than 2 s")
    return lost


def person(count: int = 10000, seed: int = 1) -> int:
    """Random actions on the real window; tells what was slowest and how memory went."""
    from PySide6.QtCore import qInstallMessageHandler
    from PySide6.QtWidgets import QApplication
    from tests.desk.person import SLOW_S, Person

    from wattagon.desk.app import make_window
    from wattagon.desk.memory import few_arenas
    from wattagon.desk.recovery import Recovery
    from wattagon.desk.settings import SettingsFile

    few_arenas()
    app = QApplication.instance() or QApplication([])
    problems: list[str] = []
    sys.excepthook = lambda kind, error, trace: problems.append("".join(traceback.format_exception(kind, error, trace)))
    qInstallMessageHandler(lambda kind, where, text: None if "This plugin does not support" in text else problems.append(text))
    bad, memory = 0, []
    with tempfile.TemporaryDirectory() as name, contextlib.ExitStack() as stack:
        folder = Path(name)
        window = make_window(SettingsFile(folder / "settings.json"), None, Recovery(folder / "recovery"))
        window.open_demo()
        window.resize(1280, 800)
        window.show()
        who = Person(window, seed, folder)
        for patch in who.patches():
            stack.enter_context(patch)
        for k in range(count):
            try:
                who.act()
                if k % 50 == 49:
                    problems += who.faults()
            except Exception:  # noqa: BLE001 - any of them is a fault
                problems.append(traceback.format_exc())
            if who.slowest[1] > SLOW_S:
                problems.append(f"{who.slowest[1]:.1f} s: {who.slowest[0]}")
                who.slowest = ("", 0.0)
            for problem in problems:
                bad += 1
                print(f"action {k}, after {who.done[-3:]}\n{problem[-1500:]}", flush=True)
            problems.clear()
            if k % 1000 == 999:
                memory.append(int(Path("/proc/self/statm").read_text().split()[1]) * os.sysconf("SC_PAGE_SIZE") // 2**20)
                print(f"{k + 1} actions, {bad} faults, {memory[-1]} MB, {len(window.session.docs)} vehicles open", flush=True)
        window.session.forget_recovery()
        window.hide()
        app.processEvents()
    print(f"{count} actions of a person, {bad} faults, memory after each thousand in MB: {memory}")
    return bad


RUNS = {
    "designs": designs,
    "rides": rides,
    "crossings": crossings,
    "strengths": strengths,
    "wirings": wirings,
    "controllers": controllers,
    "boats": boats,
    "heat": heat,
    "files": files,
    "mutations": mutations,
    "saves": saves,
    "kills": kills,
    "person": person,
}

if __name__ == "__main__":
    names = [name for name in sys.argv[1:] if name in RUNS] or list(RUNS)
    many = [int(text) for text in sys.argv[1:] if text.isdigit()]
    sys.exit(1 if sum(RUNS[name](*many[:1]) for name in names) else 0)
