"""One file of tests in the process that it was given."""

from __future__ import annotations

import faulthandler
import os
import sys
import unittest
import warnings


class _Counting(unittest.TextTestResult):
    """Counts what passed; a subtest that fails fails its test."""

    passed = 0

    def addSuccess(self, test: unittest.TestCase) -> None:
        super().addSuccess(test)
        type(self).passed += 1


def _one(name: str) -> tuple[int, int]:
    """(passed, failed) of one file, in this process."""
    warnings.simplefilter("error")
    suite = unittest.TestLoader().loadTestsFromName(name)
    result = unittest.TextTestRunner(resultclass=_Counting, stream=sys.stderr, verbosity=1).run(suite)
    failed = {str(test).split(" (", 1)[0] + str(getattr(test, "id", lambda: "")()) for test, _ in result.failures + result.errors}
    return _Counting.passed, len(failed) + len(result.unexpectedSuccesses)


def within(name: str, said: str, patience_s: float) -> None:
    """One file in a process made for it; what it says goes into a file, and what every thread waits for when it hangs."""
    with open(said, "w", buffering=1, encoding="utf-8") as to:
        os.dup2(to.fileno(), 1)
        os.dup2(to.fileno(), 2)
        faulthandler.dump_traceback_later(patience_s, file=to)
        passed, failed = _one(name)
        sys.stdout.flush()
        sys.stderr.flush()
        os.write(2, f"\n{passed} passed, {failed} failed\n".encode())
    os._exit(0)  # threads that still work end with it
