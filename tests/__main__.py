"""Run every test and close with one line: N passed, N failed."""

from __future__ import annotations

import os
import sys
import unittest
import warnings
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
ROOT = Path(__file__).resolve().parent.parent


class _Counting(unittest.TextTestResult):
    """Counts what passed; a subtest that fails fails its test."""

    passed = 0

    def addSuccess(self, test: unittest.TestCase) -> None:
        super().addSuccess(test)
        type(self).passed += 1


def main(patterns: list[str]) -> int:
    """All tests, or those whose file matches a pattern such as test_file."""
    warnings.simplefilter("error")
    loader = unittest.TestLoader()
    if patterns:
        suite = unittest.TestSuite(
            loader.discover(str(ROOT / "tests"), pattern=f"*{pattern}*.py", top_level_dir=str(ROOT)) for pattern in patterns
        )
    else:
        suite = loader.discover(str(ROOT / "tests"), top_level_dir=str(ROOT))
    result = unittest.TextTestRunner(resultclass=_Counting, stream=sys.stderr, verbosity=1).run(suite)
    failed = len({str(test).split(" (", 1)[0] + str(getattr(test, "id", lambda: "")()) for test, _ in result.failures + result.errors})
    failed += len(result.unexpectedSuccesses)
    sys.stderr.flush()
    sys.stdout.write(f"{_Counting.passed} passed, {failed} failed\n")
    return 1 if failed or not _Counting.passed else 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
