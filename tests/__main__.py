"""Run every test, each file in a process of its own, one more at once than there are cores; closes with one line: N passed, N failed.

The processes are forked from one that has loaded what nearly all of them need, but nothing of the window.
"""

from __future__ import annotations

import multiprocessing
import os
import re
import sys
import tempfile
import time
from concurrent.futures import ThreadPoolExecutor, as_completed
from pathlib import Path

from tests.alone import within

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
ROOT = Path(__file__).resolve().parent.parent
FOLDER = ROOT / "tests"
LONGEST_S = 900.0
FIRST = (
    "test_search",
    "test_finder_bench",
    "test_keeping",
    "test_brute_force",
    "test_middle",
    "test_first_minute",
    "test_log_hidden_one",
    "test_log_hidden_two",
    "test_surroundings",
    "test_ride_bench",
)  # take longest
SHARED = ["tests.alone", "numba", "tests.warm"]
SERVER = multiprocessing.get_context("forkserver")
_LAST = re.compile(r"^(\d+) passed, (\d+) failed$", re.MULTILINE)


def _apart(name: str, folder: Path) -> tuple[str, int, int, str, float]:
    """(name, passed, failed, what it said, seconds) of one file, in a process of its own; a crash or a hang is a failure."""
    start, path = time.monotonic(), folder / name
    process = SERVER.Process(target=within, args=(name, str(path), LONGEST_S - 20.0))
    process.start()
    process.join(LONGEST_S)
    hangs = process.is_alive()
    if hangs:
        process.kill()
        process.join()
    said = path.read_text(errors="replace") if path.exists() else ""
    passed, failed = (int(last[1]), int(last[2])) if (last := _LAST.search(said)) else (0, 1)
    if hangs:
        said, failed = f"{said}\n{name} was not done after {LONGEST_S:.0f} s", max(failed, 1)
    elif process.exitcode or not passed:
        said, failed = f"{said}\n{name} ended with code {process.exitcode}", max(failed, 1)
    return name, passed, failed, said if failed else "", time.monotonic() - start


def main(patterns: list[str]) -> int:
    """All tests, or those whose file has a pattern in its name, such as test_file."""
    files = [path for path in FOLDER.rglob("test_*.py") if not patterns or any(pattern in path.stem for pattern in patterns)]
    files.sort(key=lambda path: (FIRST.index(path.stem) if path.stem in FIRST else len(FIRST), str(path)))
    names = [".".join(path.relative_to(ROOT).with_suffix("").parts) for path in files]
    passed = failed = 0
    SERVER.set_forkserver_preload(SHARED)
    with tempfile.TemporaryDirectory() as folder, ThreadPoolExecutor(min((os.cpu_count() or 1) + 1, 4)) as pool:
        for work in as_completed([pool.submit(_apart, name, Path(folder)) for name in names]):
            name, good, bad, said, seconds = work.result()
            passed, failed = passed + good, failed + bad
            sys.stderr.write(f"{name:44} {good:4} passed {bad:3} failed {seconds:6.1f} s\n{said}")
            sys.stderr.flush()
    sys.stdout.write(f"{passed} passed, {failed} failed\n")
    return 1 if failed or not passed else 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
