"""Manners of a desktop: what is dropped, copied, printed, remembered, and told to a screen reader."""

from __future__ import annotations

import contextlib
import io
import os
import shutil
import xml.etree.ElementTree as ElementTree
from pathlib import Path
from unittest import mock

from PySide6.QtCore import QMimeData, QPoint, QPointF, Qt, QUrl
from PySide6.QtGui import QAccessible, QDragEnterEvent, QDropEvent, QGuiApplication
from PySide6.QtPrintSupport import QPrinter
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QWidget

from tests.desk.case import SLOW, DeskTestCase
from wattagon.cli import main
from wattagon.desk.app import make_window
from wattagon.desk.benches import BENCHES
from wattagon.desk.chart.painted import tell
from wattagon.desk.file_actions import DEMO
from wattagon.desk.settings import SettingsFile


class DropTest(DeskTestCase):
    def drop(self, *paths: Path) -> None:
        data = QMimeData()
        data.setUrls([QUrl.fromLocalFile(str(path)) for path in paths])
        keys = (Qt.DropAction.CopyAction, data, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier)
        enter = QDragEnterEvent(QPoint(200, 300), *keys)
        self.window.dragEnterEvent(enter)
        self.assertTrue(enter.isAccepted())
        self.window.dropEvent(QDropEvent(QPointF(200, 300), *keys))
        self.app.processEvents()

    def test_vehicles_open_beside_those_that_are_open(self):
        copies = [Path(shutil.copy(DEMO / f"{name}.json", self.folder / f"my-{name}.json")) for name in ("dunlin", "bittern")]
        before = len(self.session.docs)
        self.drop(*copies)
        self.assertEqual([doc.path for doc in self.session.docs[before:]], copies)

    def test_a_track_becomes_a_course_on_the_ride_bench(self):
        table = self.folder / "levee.csv"
        table.write_text("distance_m,height_m\n" + "\n".join(f"{k * 100},{k * 2}" for k in range(40)), encoding="utf-8")
        before = len(self.session.design.brief.courses)
        self.drop(table)
        self.assertEqual(self.window.work.current, "ride")
        self.wait_until(lambda: len(self.session.design.brief.courses) == before + 1)
        self.session.undo()
        self.assertEqual(len(self.session.design.brief.courses), before)

    def test_a_table_of_parts_goes_into_the_own_stock(self):
        table = self.folder / "motors.csv"
        table.write_text(
            "id,name,family,mass_kg,price,can_mm,length_mm,kv_rpm_per_v,resistance_ohm\nmine-7,My motor,outrunner,1,9,50,50,200,0.05\n"
        )
        self.drop(table)
        self.assertEqual(self.session.stock.find("mine-7").name, "My motor")
        self.drop(table)
        self.assertIn("there already", self.message())

    def test_what_cannot_be_opened_says_what_can(self):
        other = self.folder / "song.ogg"
        other.write_bytes(b"x")
        self.drop(other)
        self.assertRegex(self.message(), r"song\.ogg cannot be opened here; accepted: \.wattagon, \.json, \.gpx")


class CopyTest(DeskTestCase):
    runs = SLOW

    def test_each_picture_and_table_is_copied_by_key(self):
        clipboard = QGuiApplication.clipboard()
        for entry in BENCHES:
            self.window.show_bench(entry.code)
            if entry.code == "ride":
                self.wait_until(lambda: self.window.bench("ride").book.current is not None)
            if entry.code in ("wiring", "controller", "winding"):
                self.wait_until(lambda code=entry.code: self.window.bench(code).found is not None)
            if entry.code == "log":
                self.wait_until(lambda: self.window.bench("log").book.comparison is not None)
            clipboard.clear()
            QTest.keyClick(self.window, Qt.Key.Key_C, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier)
            image = clipboard.image()
            self.assertGreater(image.width(), 500, entry.code)
            self.assertGreater(len({image.pixel(x, image.height() // 2) for x in range(0, image.width(), 3)}), 1, entry.code)
            self.assertIn("Dunlin", clipboard.text())
            QTest.keyClick(self.window, Qt.Key.Key_C, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.AltModifier)
            if entry.code == "finder":
                self.assertIn("no table to copy", self.message())
                continue
            rows = [line.split("\t") for line in clipboard.text().splitlines()]
            self.assertGreater(len(rows), 6, entry.code)
            self.assertTrue(all(len(row) == len(rows[0]) for row in rows), entry.code)

    def test_a_chart_prints_as_large_as_the_page_takes(self):
        for bench in ("drive", "brief"):
            self.window.show_bench(bench)
            printer = QPrinter(QPrinter.PrinterMode.HighResolution)
            printer.setOutputFormat(QPrinter.OutputFormat.PdfFormat)
            target = self.folder / f"{bench}.pdf"
            printer.setOutputFileName(str(target))
            self.session.theme_name = "dark"
            self.window.print_on(printer)
            self.assertEqual(self.session.theme_name, "dark")
            self.assertTrue(target.read_bytes().startswith(b"%PDF"))
            self.assertGreater(target.stat().st_size, 8000)


class ComeBackTest(DeskTestCase):
    def test_place_files_and_bench_come_back(self):
        path = self.folder / "kept.wattagon"
        self.session.save(path)
        self.window.resize(760, 540)
        self.window.show_bench("finder")
        self.app.processEvents()
        self.window.remember_place()
        with self.window_again() as again:
            self.assertEqual([doc.path for doc in again.session.docs], [path])
            self.assertEqual((again.width(), again.height(), again.work.current), (760, 540, "finder"))
        path.unlink()
        with self.window_again() as again:
            self.assertEqual(again.session.docs, [], "a file that is gone is no trouble")

    @contextlib.contextmanager
    def window_again(self):
        again = make_window(SettingsFile(self.folder / "settings.json"), None, None)
        try:
            again.come_back()
            yield again
        finally:
            self.drop(again)

    def test_odd_settings_are_no_trouble(self):
        for text in (
            '{"place": 3, "open": "x", "bench": ["a"]}',
            '{"place": "%%%", "open": ["/nowhere/x.wattagon", 4], "bench": "cellar"}',
        ):
            (self.folder / "settings.json").write_text(text)
            with self.window_again() as again:
                self.assertEqual(again.session.docs, [])


class ReaderTest(DeskTestCase):
    """Each painted view tells its name and its values."""

    runs = SLOW

    def painted(self) -> list[QWidget]:
        found = self.window.findChildren(QWidget)
        own = lambda view: [kind for kind in type(view).__mro__ if kind.__module__.startswith("wattagon.")]
        return [view for view in found if any("paintEvent" in vars(kind) for kind in own(view)) and hasattr(view, "spoken")]

    def test_every_painted_view_says_what_it_shows(self):
        seen = set()
        for entry in BENCHES:
            self.window.show_bench(entry.code)
            if entry.code == "ride":
                self.wait_until(lambda: self.window.bench("ride").book.current is not None)
            if entry.code == "finder":
                self.wait_until(lambda: self.window.bench("finder").book.outset is not None)
            if entry.code in ("wiring", "controller", "winding"):
                self.wait_until(lambda code=entry.code: self.window.bench(code).found is not None)
            self.app.processEvents()
            for view in self.painted():
                if not view.isVisible():
                    continue
                tell(view)
                seen.add(type(view).__name__)
                self.assertTrue(view.accessibleName(), type(view).__name__)
                self.assertGreater(len(view.accessibleDescription()), 8, type(view).__name__)
        self.assertLessEqual({"PullMap", "Ribbon", "WorkList", "GoalStrip", "Flows", "Sketch", "Scatter", "RideLanes", "Story"}, seen)

    def test_values_follow_the_moment(self):
        ribbon = self.window.ribbon
        before = ribbon.spoken()
        self.session.set_moment(speed_m_s=3.0, grade=0.1)
        self.assertNotEqual(ribbon.spoken(), before)
        self.assertIn(self.session.say(3.0, "speed"), self.window.bench("drive").map.spoken())

    def test_painting_hands_them_on_while_somebody_listens(self):
        self.addCleanup(QAccessible.setActive, False)
        QAccessible.setActive(True)
        strip = self.window.bench("drive").goals
        strip.setAccessibleDescription("")
        strip.repaint()
        self.assertIn("33 km/h", strip.accessibleDescription())

    def test_focus_is_visible_on_every_painted_view_that_takes_keys(self):
        for entry in BENCHES:
            self.window.show_bench(entry.code)
            if entry.code == "ride":
                self.wait_until(lambda: self.window.bench("ride").book.current is not None)
            self.app.processEvents()
            for view in self.painted():
                if not view.isVisible() or view.focusPolicy() == Qt.FocusPolicy.NoFocus:
                    continue
                view.clearFocus()
                self.window.work.setFocus() if view is not self.window.work else self.window.ribbon.setFocus()
                self.app.processEvents()
                without = view.grab().toImage()
                view.setFocus(Qt.FocusReason.TabFocusReason)
                self.app.processEvents()
                self.assertTrue(view.hasFocus(), type(view).__name__)
                self.assertNotEqual(without, view.grab().toImage(), type(view).__name__)


class DesktopTest(DeskTestCase):
    demo = False

    def test_menu_entry_icon_and_type_come_and_go(self):
        with mock.patch.dict(os.environ, {"XDG_DATA_HOME": str(self.folder / "share")}), contextlib.redirect_stdout(io.StringIO()) as out:
            self.assertEqual(main(["desktop", "--install"]), 0)
            entry = (self.folder / "share/applications/wattagon.desktop").read_text()
            self.assertRegex(entry, r'Exec=".*" (-m wattagon\.cli )?%f|Exec=".*" %f')
            self.assertIn("MimeType=application/x-wattagon;", entry)
            types = ElementTree.parse(self.folder / "share/mime/packages/wattagon.xml").getroot()
            patterns = [node.get("pattern") for node in types.iter() if node.tag.endswith("glob")]
            self.assertEqual(patterns, ["*.wattagon"])
            self.assertTrue((self.folder / "share/icons/hicolor/scalable/apps/wattagon.svg").read_bytes().lstrip().startswith(b"<"))
            self.assertIn("wrote", out.getvalue())
            self.assertEqual(main(["desktop", "--remove"]), 0)
            left = [path for path in (self.folder / "share").rglob("*wattagon*") if path.is_file()]
            self.assertEqual(left, [])

    def test_neither_or_both_is_refused(self):
        for arguments in (["desktop"], ["desktop", "--install", "--remove"]):
            with contextlib.redirect_stderr(io.StringIO()) as told:
                self.assertEqual(main(arguments), 2)
            self.assertIn("--install or --remove", told.getvalue())
