"""Loading the compiled ride loop on a worker thread, so that the window does not feel it."""

from __future__ import annotations

import gc
import subprocess
import sys
import threading
from pathlib import Path

_LOCK = threading.Lock()
_READY = threading.Event()


def load_loop() -> None:
    """Load the compiler and the loop once; call it from a worker before the first ride.

    The compiler brings hundreds of thousands of objects that stay: a round of garbage collection over them would hold the window
    for 70 ms, so they are set aside.
    """
    if _READY.is_set():
        return
    with _LOCK:
        if _READY.is_set():
            return
        gc.disable()
        try:
            if not _cached():
                # compiling holds the window for a fifth of a second now and then: another process does it and leaves its cache
                subprocess.run([sys.executable, "-c", "from wattagon.physics.ride.ride import warm_up; warm_up()"], check=False)
            from wattagon.physics.ride.ride import warm_up

            warm_up()
            gc.freeze()
        finally:
            gc.enable()
        _READY.set()


def _cached() -> bool:
    """Whether compiled code seems to be on disk beside the loop."""
    import wattagon.physics.ride as room

    return any((Path(room.__file__).parent / "__pycache__").glob("loop.ride_loop-*.nbi"))
