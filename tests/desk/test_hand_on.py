"""The bundle and the workshop set from the window: ticks, a file, the program in the background."""

import tempfile
import zipfile
from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from tests.desk.case import DeskTestCase


class HandOnTest(DeskTestCase):
    runs = frozenset()

    def setUp(self):
        super().setUp()
        self.bring("Dunlin", "B", "brief")
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))

    def made(self, path):
        dialog = self.window.handing_on
        dialog.make(path)
        self.assertTrue(dialog.busy)
        self.assertFalse(dialog.save.isEnabled())
        self.wait_until(lambda: not dialog.busy and dialog.save.isEnabled())
        return dialog

    def test_a_bundle_of_what_is_open_with_what_was_ticked(self):
        self.window.make_bundle()
        dialog = self.window.handing_on
        self.addCleanup(dialog.reject)
        self.assertEqual([box.isChecked() for box in dialog.boxes.values()], [False] * 5)
        dialog.boxes["logs"].setFocus()
        QTest.keyClick(dialog.boxes["logs"], Qt.Key.Key_Space)
        self.assertTrue(dialog.boxes["logs"].isChecked())
        self.made(self.folder / "mine")
        with zipfile.ZipFile(self.folder / "mine.zip") as archive:
            self.assertIn("dunlin-report.html", archive.namelist())
        self.assertIn("Written", dialog.says.text())
        self.assertIn("left out", dialog.says.text())

    def test_a_workshop_set(self):
        self.window.make_workshop_set()
        dialog = self.window.handing_on
        self.addCleanup(dialog.reject)
        self.assertEqual(dialog.boxes, {})
        self.made(self.folder / "set.pdf")
        self.assertTrue((self.folder / "set.pdf").read_bytes().startswith(b"%PDF"))

    def test_a_place_that_cannot_be_written_says_so(self):
        self.window.make_workshop_set()
        dialog = self.window.handing_on
        self.addCleanup(dialog.reject)
        self.made(self.folder / "nowhere" / "set.pdf")
        self.assertNotIn("Written", dialog.says.text())
        self.assertIn("set.pdf", dialog.says.text())
