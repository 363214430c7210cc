"""Memory that is free again goes back to the system, where the C library can be asked for it."""

from __future__ import annotations

import contextlib
import ctypes

_ARENA_MAX = -8  # of mallopt in the GNU C library


def _library() -> ctypes.CDLL | None:
    with contextlib.suppress(OSError):
        return ctypes.CDLL(None)
    return None


def few_arenas() -> None:
    """Threads share two arenas: each of their own would keep what one search needed for ever."""
    library = _library()
    if library is not None and hasattr(library, "mallopt"):
        library.mallopt(_ARENA_MAX, 2)


def give_back() -> None:
    """Hand unused memory back; lets go of the interpreter lock meanwhile."""
    library = _library()
    if library is not None and hasattr(library, "malloc_trim"):
        library.malloc_trim(0)
