"""Compiled code on disk goes when a source beside it is newer."""

import os
import tempfile
import unittest
from pathlib import Path

from wattagon.compiled import drop_stale


class CompiledTest(unittest.TestCase):
    def test_older_than_any_source_goes_and_newer_stays(self):
        with tempfile.TemporaryDirectory() as name:
            folder = Path(name)
            cache = folder / "__pycache__"
            cache.mkdir()
            for path, when in (
                (folder / "a.py", 100.0),
                (folder / "b.py", 300.0),
                (cache / "old.nbi", 200.0),
                (cache / "old.1.nbc", 200.0),
                (cache / "new.nbi", 400.0),
                (cache / "a.pyc", 1.0),
            ):
                path.write_text("")
                os.utime(path, (when, when))
            drop_stale(folder)
            self.assertEqual({path.name for path in cache.iterdir()}, {"new.nbi", "a.pyc"})
            os.utime(folder / "a.py", (500.0, 500.0))
            drop_stale(folder)
            self.assertEqual({path.name for path in cache.iterdir()}, {"a.pyc"})
            drop_stale(folder / "nowhere")
