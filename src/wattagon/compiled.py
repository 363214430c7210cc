"""Compiled code on disk is kept by the file it was written in: this drops what was compiled before a file that it calls has changed."""

from __future__ import annotations

import contextlib
from pathlib import Path


def drop_stale(folder: Path) -> None:
    """Remove compiled code in a package's cache that is older than any source of the package."""
    newest = max((source.stat().st_mtime for source in folder.glob("*.py")), default=0.0)
    for item in (folder / "__pycache__").glob("*.nb[ic]"):
        with contextlib.suppress(OSError):  # another process may have been quicker, or the folder be read-only
            if item.stat().st_mtime < newest:
                item.unlink()
