"""Run every test, each file in a process of its own and as many at once as there are cores; closes with one line: N passed, N failed."""

from __future__ import annotations

import os
import re
import subprocess
import sys
import time
import unittest
import warnings
from concurrent.futures import ThreadPoolExecutor, as_completed
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
ROOT = Path(__file__).resolve().parent.parent
FOLDER = ROOT / "tests"
LONGEST_S = 500.0
FIRST = (
    "test_search",
    "test_finder_bench",
    "test_keeping",
    "test_holding",
    "test_contract",
    "test_surroundings",
    "test_ride",
)  # take longest
_LAST = re.compile(r"^(\d+) passed, (\d+) failed$", re.MULTILINE)


class _Counting(unittest.TextTestResult):
    """Counts what passed; a subtest that fails fails its test."""

    passed = 0

    def addSuccess(self, test: unittest.TestCase) -> None:
        super().addSuccess(test)
        type(self).passed += 1


def one(name: str) -> tuple[int, int]:
    """(passed, failed) of one file, in this process."""
    warnings.simplefilter("error")
    suite = unittest.TestLoader().loadTestsFromName(name)
    result = unittest.TextTestRunner(resultclass=_Counting, stream=sys.stderr, verbosity=1).run(suite)
    failed = {str(test).split(" (", 1)[0] + str(getattr(test, "id", lambda: "")()) for test, _ in result.failures + result.errors}
    return _Counting.passed, len(failed) + len(result.unexpectedSuccesses)


def _apart(name: str) -> tuple[str, int, int, str, float]:
    """(name, passed, failed, what it said, seconds) of one file, in a process of its own; a crash or a hang is a failure."""
    start = time.monotonic()
    try:
        done = subprocess.run(
            [sys.executable, "-m", "tests", "--one", name], cwd=ROOT, capture_output=True, text=True, check=False, timeout=LONGEST_S
        )
    except subprocess.TimeoutExpired as hang:
        return name, 0, 1, f"{name} was not done after {LONGEST_S:.0f} s\n{hang.stderr!s:.4000}", LONGEST_S
    last = _LAST.search(done.stdout)
    passed, failed = (int(last[1]), int(last[2])) if last else (0, 1)
    if done.returncode not in (0, 1) or (not failed and not passed):
        failed = max(failed, 1)
    said = done.stderr if failed else ""
    return (
        name,
        passed,
        failed,
        said if last or not failed else f"{said}\n{name} ended with code {done.returncode}",
        time.monotonic() - start,
    )


def main(patterns: list[str]) -> int:
    """All tests, or those whose file has a pattern in its name, such as test_file."""
    files = [path for path in FOLDER.rglob("test_*.py") if not patterns or any(pattern in path.stem for pattern in patterns)]
    files.sort(key=lambda path: (FIRST.index(path.stem) if path.stem in FIRST else len(FIRST), str(path)))
    names = [".".join(path.relative_to(ROOT).with_suffix("").parts) for path in files]
    passed = failed = 0
    with ThreadPoolExecutor(min(os.cpu_count() or 1, 4)) as pool:
        for work in as_completed([pool.submit(_apart, name) for name in names]):
            name, good, bad, said, seconds = work.result()
            passed, failed = passed + good, failed + bad
            sys.stderr.write(f"{name:44} {good:4} passed {bad:3} failed {seconds:6.1f} s\n{said}")
            sys.stderr.flush()
    sys.stdout.write(f"{passed} passed, {failed} failed\n")
    return 1 if failed or not passed else 0


if __name__ == "__main__":
    if sys.argv[1:2] == ["--one"]:
        good, bad = one(sys.argv[2])
        sys.stdout.write(f"{good} passed, {bad} failed\n")
        sys.exit(1 if bad or not good else 0)
    sys.exit(main(sys.argv[1:]))
