"""What starting costs, and the fault of one Qt release that must not come back."""

import subprocess
import sys
import unittest

from PySide6.QtWidgets import QWidget

from tests.desk.case import DeskTestCase

HEAVY = ("scipy", "numba", "pandas", "pydantic", "pint", "matplotlib", "jsonschema", "hypothesis")


class StartTest(unittest.TestCase):
    def test_nothing_heavy_is_loaded_before_the_first_paint(self):
        code = (
            "import os, sys, tempfile, pathlib\nos.environ['QT_QPA_PLATFORM'] = 'offscreen'\nfrom PySide6.QtWidgets import QApplication\n"
            "app = QApplication([])\nfrom wattagon.desk.app import make_window\nfrom wattagon.desk.settings import SettingsFile\n"
            "folder = pathlib.Path(tempfile.mkdtemp())\n"
            "window = make_window(SettingsFile(folder / 's.json'), None, None)\nwindow.open_demo()\n"
            "window.show()\n"
            f"app.processEvents()\nprint([name for name in {HEAVY!r} if name in sys.modules])\nwindow.session.forget_recovery()\n"
        )
        done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True)
        self.assertEqual(done.stdout.strip(), "[]")

    def test_the_terminal_loads_no_qt(self):
        code = "import sys\nfrom wattagon.cli import main\nmain(['schema'])\nprint('PySide6' in sys.modules, file=sys.stderr)"
        done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True)
        self.assertEqual(done.stderr.strip(), "False")


class ReferenceTest(DeskTestCase):
    demo = False

    def test_void_calls_keep_their_references(self):
        widget = QWidget()
        before = sys.getrefcount(None)
        for _ in range(1000):
            widget.update()
        self.assertLess(abs(sys.getrefcount(None) - before), 200)
