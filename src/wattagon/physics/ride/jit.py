"""How the ride loop is compiled.  Loading this module loads the compiler."""

from __future__ import annotations

from pathlib import Path

import numba

from wattagon.compiled import drop_stale

drop_stale(Path(__file__).parent)
jit = numba.njit(nogil=True, cache=True, error_model="numpy", fastmath=True)
