"""The long runs behind the short ones in the tests: 2,000 random designs, 500 rides, 500 malformed files, 100 kills during a save.

Run: .venv/bin/python benchmarks/robust.py [designs|rides|files|kills].
"""

from __future__ import annotations

import random
import sys
import tempfile
import time
from pathlib import Path

sys.path.insert(0, str(Path(__file__).resolve().parent.parent))

from tests.design.malformed import malformed_files, refused_well
from tests.design.test_file import kill_while_saving
from tests.random_designs import random_design
from tests.random_rides import check_ride, random_ride
from tests.study.test_random_designs import faults_of

from wattagon.design import catalogue


def designs(count: int = 2000) -> int:
    stock, bad = catalogue.load(), 0
    start = time.perf_counter()
    for seed in range(count):
        for fault in faults_of(random_design(seed, stock), stock):
            bad += 1
            print(f"design {seed}: {fault}")
    print(f"{count} random designs, {bad} faults, {time.perf_counter() - start:.0f} s")
    return bad


def rides(count: int = 500) -> int:
    bad = 0
    for seed in range(count):
        for fault in check_ride(*random_ride(random.Random(seed))):
            bad += 1
            print(f"ride {seed}: {fault}")
    print(f"{count} random rides, {bad} faults")
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


def kills(count: int = 100) -> int:
    with tempfile.TemporaryDirectory() as folder:
        lost = kill_while_saving(Path(folder), count)
    print(f"{count} kills during a save, {lost} lost")
    return lost


if __name__ == "__main__":
    chosen = sys.argv[1:] or ["designs", "rides", "files", "kills"]
    sys.exit(1 if sum({"designs": designs, "rides": rides, "files": files, "kills": kills}[name]() for name in chosen) else 0)
