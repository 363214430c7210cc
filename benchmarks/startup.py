"""From starting the process to the first painted window, beside a bare PySide6 and NumPy window.

Run: .venv/bin/python benchmarks/startup.py.  Each is started in turn; medians in ms and their ratio.
"""

from __future__ import annotations

import os
import statistics
import subprocess
import sys
import tempfile
import time

ROUNDS = 15
BARE = """
import numpy
from PySide6.QtWidgets import QApplication, QMainWindow
app = QApplication([])
window = QMainWindow()
window.resize(1280, 800)
window.show()
app.processEvents()
print("shown", flush=True)
import os
os._exit(0)
"""
# the program itself, from its entry point on; the event loop is replaced by one round of it
OURS = """
from wattagon.cli import load_core, main
load_core()
import PySide6.QtWidgets
def shown(*_):
    PySide6.QtWidgets.QApplication.processEvents()
    print("shown", flush=True)
    import os
    os._exit(0)
PySide6.QtWidgets.QApplication.exec = shown
main(["--demo"])
"""


def once(code: str, folder: str) -> float:
    """Seconds until the process says that its window was painted."""
    private = dict.fromkeys(("XDG_CONFIG_HOME", "XDG_STATE_HOME", "XDG_DATA_HOME"), folder)
    environment = {**os.environ, "QT_QPA_PLATFORM": "offscreen", **private}
    environment.pop("PYTHONDONTWRITEBYTECODE", None)  # an installed program has its bytecode
    start = time.perf_counter()
    with subprocess.Popen([sys.executable, "-c", code], stdout=subprocess.PIPE, env=environment) as child:
        assert child.stdout is not None
        child.stdout.readline()
        return time.perf_counter() - start


def main() -> int:
    with tempfile.TemporaryDirectory() as folder:
        for code in (BARE, OURS):
            once(code, folder)  # warm the disk
        times: dict[str, list[float]] = {BARE: [], OURS: []}
        for _ in range(ROUNDS):
            for code, found in times.items():
                found.append(once(code, folder))
    bare, ours = (1e3 * statistics.median(found) for found in times.values())
    print(f"bare window with NumPy   {bare:6.0f} ms")
    print(f"Wattagon, demo fleet     {ours:6.0f} ms")
    pairs = statistics.median(b / a for a, b in zip(times[BARE], times[OURS], strict=True))  # a busy machine slows both
    print(f"ratio                    {pairs:6.2f} (median of neighbours; aim: at most 2)")
    return 0


if __name__ == "__main__":
    sys.exit(main())
