"""Loading compiled code on a worker thread, so that the window does not feel it."""

from __future__ import annotations

import gc
import importlib
import subprocess
import sys
import threading
from pathlib import Path

from wattagon.compiled import drop_stale

_LOCK = threading.Lock()
_READY: set[str] = set()
RIDE = ("wattagon.physics.ride.ride", "", "loop.ride_loop-*.nbi")
AFLOAT = ("wattagon.study.finder.water_search", "catalogue.load()", "water_kernel.search_heads-*.nbi")
SEARCH = ("wattagon.study.finder.search", "catalogue.load()", "kernel.search_motor-*.nbi")


def load_loop() -> None:
    """Load the compiler and the ride's loop once; call it from a worker before the first ride."""
    _load(*RIDE)


def load_search(*, afloat: bool = False) -> None:
    """Load the compiled search, of boats or of wheels, once; call it from a worker before the first search."""
    _load(*(AFLOAT if afloat else SEARCH))


def _load(module: str, argument: str, cache: str) -> None:
    """Run a module's `warm_up` once.

    The compiler brings hundreds of thousands of objects that stay: a round of garbage collection over them would hold the window
    for 70 ms, so they are set aside.
    """
    if module in _READY:
        return
    with _LOCK:
        if module in _READY:
            return
        gc.disable()
        try:
            if not _cached(module, cache):
                # compiling holds the window for a fifth of a second now and then: another process does it and leaves its cache
                code = f"from wattagon.design import catalogue; from {module} import warm_up; warm_up({argument})"
                subprocess.run([sys.executable, "-c", code], check=False)
            from wattagon.design import catalogue

            importlib.import_module(module).warm_up(*((catalogue.load(),) if argument else ()))
            gc.freeze()
        finally:
            gc.enable()
        _READY.add(module)


def _cached(module: str, pattern: str) -> bool:
    """Whether compiled code seems to be on disk beside a module."""
    place = importlib.import_module(module.rpartition(".")[0]).__file__
    if place is None:
        return False
    drop_stale(Path(place).parent)
    return any((Path(place).parent / "__pycache__").glob(pattern))
