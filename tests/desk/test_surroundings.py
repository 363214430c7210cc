"""Odd surroundings: settings, homes and folders that are not what they should be; small screens; long names; terminals without Unicode."""

import json
import os
import subprocess
import sys
import tempfile
import unittest
from dataclasses import replace
from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QScrollArea

from tests.desk.busy_window import surroundings
from tests.desk.case import DeskTestCase
from wattagon.design import file
from wattagon.design.paths import Edit
from wattagon.design.template import new_design
from wattagon.design.tree import VehicleKind
from wattagon.desk.settings import Settings, SettingsFile

PROBE = """
import sys
from PySide6.QtCore import QTimer
from wattagon.desk import app
make = app.make_window
def watched(*arguments):
    window = make(*arguments)
    def look():
        print(len(window.session.docs), window.status.message.text(), flush=True)
        window.going = True
        window.close()
    QTimer.singleShot(700, look)
    return window
app.make_window = watched
sys.exit(app.run(None))
"""


class StartTest(unittest.TestCase):
    """The program starts whatever it finds, and says what it could not use."""

    def setUp(self):
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))

    def start(self, **changes: str) -> str:
        environment = {**surroundings(self.folder), **changes}
        done = subprocess.run([sys.executable, "-c", PROBE], env=environment, capture_output=True, text=True, check=False, timeout=240)
        self.assertEqual((done.returncode, done.stderr), (0, ""))
        docs, _, words = done.stdout.strip().partition(" ")
        self.assertGreaterEqual(int(docs), 0)
        return words

    def settings(self) -> Path:
        folder = self.folder / "xdg_config_home" / "wattagon"
        folder.mkdir(parents=True, exist_ok=True)
        return folder / "settings.json"

    def test_a_clean_start_says_nothing(self):
        self.assertEqual(self.start(), "")

    def test_a_settings_file_that_is_damaged_or_no_file(self):
        self.settings().write_text("{")
        self.assertIn("settings are not used", self.start())
        self.settings().unlink()
        os.mkfifo(self.settings())
        self.assertIn("a pipe", self.start())
        self.settings().unlink()
        self.settings().mkdir()
        self.assertIn("a folder", self.start())

    def test_homes_that_are_files_or_cannot_exist(self):
        (self.folder / "file").write_text("")
        a_file, nowhere, long = str(self.folder / "file"), "/proc/nothing/here", "n" * 300
        for name, value in (
            ("XDG_CONFIG_HOME", a_file),
            ("XDG_CONFIG_HOME", long),
            ("XDG_STATE_HOME", a_file),
            ("XDG_STATE_HOME", nowhere),
            ("XDG_DATA_HOME", nowhere),
        ):
            with self.subTest(name, value=value[:30]):
                words = self.start(**{name: value})
                self.assertEqual(bool(words), name != "XDG_DATA_HOME", words)

    def test_recovery_files_that_are_rubbish(self):
        folder = self.folder / "xdg_state_home" / "wattagon" / "recovery"
        folder.mkdir(parents=True)
        (folder / "aaaa-doc1.wattagon").write_bytes(b"PK\x03\x04rubbish")
        (folder / "bbbb-doc1.wattagon").mkdir()
        os.mkfifo(folder / "cccc-doc1.wattagon")
        (folder / "dddd-doc1.json").write_text("[" * 3000)
        (folder / "eeee.lock").mkdir()
        self.start()


class SettingsTest(unittest.TestCase):
    def test_odd_values_count_as_absent_one_by_one(self):
        folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        path = folder / "settings.json"
        for data, wanted in (
            ({"units": "imperial", "theme": 7, "recent": 5}, Settings("imperial", "light", ())),
            ({"units": ["metric"], "theme": "dark", "recent": ["/a", 3, None, "b\0c", "/d"]}, Settings("metric", "dark", ("/a", "/d"))),
            ({"recent": {"a": 1}, "more": [1]}, Settings()),
            ({"recent": ["/x"] * 500}, Settings(recent=("/x",) * 8)),
        ):
            path.write_text(json.dumps(data))
            with self.subTest(data):
                read = SettingsFile(path)
                self.assertEqual((read.values, read.trouble), (wanted, ""))
        for text in ("[]", "null", "[" * 100_000, "{'a': 1}", "1e999"):
            path.write_text(text)
            with self.subTest(text[:9]):
                read = SettingsFile(path)
                self.assertEqual(read.values, Settings())
                self.assertIn("not used", read.trouble)

    def test_settings_that_cannot_be_kept_are_still_used(self):
        folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        (folder / "file").write_text("")
        kept = SettingsFile(folder / "file" / "settings.json")
        kept.change(theme="dark")
        self.assertEqual(kept.values.theme, "dark")
        self.assertIn("not kept", kept.trouble)


class TerminalTest(unittest.TestCase):
    def run_it(self, code: str, *arguments: str) -> subprocess.CompletedProcess:
        return subprocess.run(
            [sys.executable, "-m", "wattagon.cli", *arguments],
            env={**os.environ, "PYTHONIOENCODING": code},
            capture_output=True,
            check=False,
        )

    def test_any_code_of_a_terminal_prints(self):
        demo = str(Path(__file__).resolve().parents[2] / "src" / "wattagon" / "stock" / "demo" / "dunlin.json")
        commands = (
            ("solve", demo),
            ("check", demo, "--no-rides"),
            ("point", demo, "--speed", "5", "--grade=-5%"),
            ("stock", "motors"),
            ("schema",),
            ("solve", "\udcff.json"),
        )
        for code, some in (("ascii", commands), ("latin-1", commands[:1]), ("cp1252", commands[1:3]), ("utf-8", commands[::5])):
            for arguments in some:
                with self.subTest(code, command=arguments[0]):
                    done = self.run_it(code, *arguments)
                    self.assertEqual(done.returncode, 2 if arguments[-1] == "\udcff.json" else 0, done.stderr)
                    self.assertTrue((done.stdout or done.stderr).decode(code))
                    self.assertNotIn(b"Traceback", done.stderr)

    def test_json_is_json_in_every_code(self):
        demo = str(Path(__file__).resolve().parents[2] / "src" / "wattagon" / "stock" / "demo" / "dunlin.json")
        ascii_, utf = (
            json.loads(self.run_it(code, "check", demo, "--no-rides", "--json").stdout.decode(code)) for code in ("ascii", "utf-8")
        )
        self.assertEqual(ascii_, utf)


class ScreenTest(DeskTestCase):
    def inner(self):
        area = self.window.centralWidget()
        assert isinstance(area, QScrollArea)
        return area

    def test_nothing_scrolls_on_the_smallest_screen_that_is_drawn_for(self):
        self.window.resize(1100, 700)
        for code in ("brief", "drive", "finder", "ride"):
            self.window.show_bench(code)
            self.app.processEvents()
            self.assertEqual((self.window.width(), self.window.height()), (1100, 700))
            self.assertFalse(self.inner().verticalScrollBar().isVisible(), code)
            self.assertFalse(self.inner().horizontalScrollBar().isVisible(), code)

    def test_a_small_screen_is_used_by_scrolling(self):
        self.window.resize(800, 480)
        self.app.processEvents()
        self.assertEqual((self.window.width(), self.window.height()), (800, 480))
        area = self.inner()
        area.horizontalScrollBar().setValue(area.horizontalScrollBar().maximum())
        area.verticalScrollBar().setValue(area.verticalScrollBar().maximum())
        self.app.processEvents()
        levers = self.drive.levers
        corner = levers.mapTo(self.window, levers.rect().bottomLeft())
        self.assertTrue(0 < corner.y() < 480, corner)
        before = self.session.design
        levers.setFocus()
        QTest.keyClick(levers, Qt.Key.Key_Up)
        self.assertNotEqual(self.session.design, before)

    def test_long_names_leave_the_window_as_it_is(self):
        design = self.session.design
        self.session.apply(Edit(label="x", changes=(("vehicle.name", "A rather long name " * 60), ("variant.name", "very " * 200))))
        self.session.add(file.Document(design=replace(new_design(VehicleKind.KART), note=design.note)), None)
        self.app.processEvents()
        for code in ("brief", "drive", "finder", "ride"):
            self.window.show_bench(code)
            self.app.processEvents()
            self.assertEqual((self.window.width(), self.window.height()), (1280, 800))
            self.assertFalse(self.inner().horizontalScrollBar().isVisible(), code)
