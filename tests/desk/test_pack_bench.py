"""The pack bench in the real window: stepping on the drawing, the window dragged on the ladder, bricks, checks, schools, undo."""

import contextlib
import tempfile
from datetime import date
from pathlib import Path
from unittest import mock

from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QLineEdit, QPlainTextEdit, QPushButton

from tests.desk.case import DeskTestCase
from wattagon.design.quantity import Known
from wattagon.desk import picker


class PackBenchTest(DeskTestCase):
    runs = frozenset({"pack", "ride"})

    def setUp(self):
        super().setUp()
        self.show("Dunlin", "B")

    def show(self, vehicle, variant):
        self.bench = self.bring(vehicle, variant, "pack")
        self.drawing = self.bench.drawing
        self.drawing.grab()

    def variant(self):
        return self.session.design.variant()

    def page(self, title):
        page = next(page for page in self.bench.pages if page.title == title)
        self.bench.tabs.setCurrentWidget(page)
        self.app.processEvents()
        return page

    @contextlib.contextmanager
    def taking(self, words):
        """The list of stock is searched, and its first line taken."""

        def answer(dialog):
            QTest.keyClicks(dialog.search, words)
            QTest.keyClick(dialog.search, Qt.Key.Key_Return)
            return dialog.result()

        with mock.patch.object(picker, "ask", answer):
            yield

    def hit(self, name):
        return next(box for box, what in self.drawing.hits if what == name).center().toPoint()

    def test_cells_are_stepped_on_the_drawing_and_by_arrows(self):
        before = self.session.design
        QTest.mouseClick(self.drawing, Qt.MouseButton.LeftButton, pos=self.hit("series+"))
        self.assertEqual(self.variant().pack.series, 11)
        self.drawing.setFocus()
        QTest.keyClick(self.drawing, Qt.Key.Key_Left)
        QTest.keyClick(self.drawing, Qt.Key.Key_Up)
        self.assertEqual((self.variant().pack.series, self.variant().pack.parallel), (10, 5))
        self.app.processEvents()
        self.assertIn("10 in series, 5 in parallel", self.drawing.spoken())
        for _ in range(3):
            self.session.undo()
        self.assertEqual(self.session.design, before)

    def test_an_end_of_the_window_is_dragged_in_one_step(self):
        before, energy = self.session.design, self.bench.found.usable_wh
        grip = self.drawing.ladder.handles["top"].center()
        QTest.mousePress(self.drawing, Qt.MouseButton.LeftButton, pos=grip.toPoint())
        for down in (3, 6, 9, 12):
            QTest.mouseMove(self.drawing, grip.toPoint() + QPoint(0, down))
            self.app.processEvents()
        QTest.mouseRelease(self.drawing, Qt.MouseButton.LeftButton, pos=grip.toPoint() + QPoint(0, 12))
        top = self.variant().battery.window_top
        self.assertLess(top, 0.95)
        self.assertLess(self.bench.found.usable_wh, energy)
        self.session.undo()
        self.assertEqual(self.session.design, before)
        self.drawing.setFocus()
        QTest.keyClick(self.drawing, Qt.Key.Key_Home)
        self.assertAlmostEqual(self.variant().battery.window_bottom, 0.16)

    def test_the_ladder_and_the_marked_group(self):
        self.assertEqual(self.bench.found.outlier, 6)
        self.assertIn("controller 60 V clear", self.drawing.spoken())
        rows = self.bench.table()
        self.assertIn(["full", "42 V", ""], rows)
        self.assertIn(["cut back to nothing", "30 V", ""], rows)
        self.assertFalse([row[0] for row in rows if "_" in row[0]])
        self.show("Corncrake", "B")
        self.assertIn("full volts over: motor's label, controller", self.bench.headline.text())

    def test_a_check_is_typed_kept_and_taken_back(self):
        page, before = self.page("Cell checks"), self.session.design
        field = page.findChild(QPlainTextEdit, "cell-volts")
        field.setPlainText("3.80 3.80 nonsense")
        self.click(page.findChild(QPushButton, "keep-check"))
        self.assertIn("cell volts", self.message())
        self.assertEqual(field.toPlainText(), "3.80 3.80 nonsense")  # nothing is lost
        field.setPlainText(" ".join(["3.800"] * 9 + ["3.740"]))
        self.click(page.findChild(QPushButton, "keep-check"))
        self.assertEqual(self.variant().battery.checks[-1].date, date.today().isoformat())
        self.assertEqual(self.session.design.history[-1].kind.value, "cell_check")
        self.assertIn("stop, find the cause", page.words.text())
        self.assertEqual(field.toPlainText(), "")
        self.assertEqual(self.bench.found.outlier, 9)
        self.session.undo()
        self.assertEqual(self.session.design, before)

    def test_what_is_refused_is_marked_where_it_stands(self):
        page, before = self.page("Cell checks"), self.session.design
        page.volts.setPlainText("3.84 " * 9 + "3839 mV")
        for day, volts_bad in (("15/11/2026", False), ("2026-02-30", False), ("2026-11-15", True)):
            if volts_bad:
                page.volts.setPlainText("abc")
            page.day.setText(day)
            page.day.setModified(True)
            self.click(page.findChild(QPushButton, "keep-check"))
            self.assertEqual((bool(page.day.property("refused")), bool(page.volts.property("refused"))), (not volts_bad, volts_bad))
        self.assertEqual(self.session.design, before)

    def test_volts_from_a_file_come_into_the_field_first(self):
        page = self.page("Cell checks")
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "cells.csv"
            path.write_text("group,volts\n" + "\n".join(f"{k},{3.8 + k / 1000:.3f}" for k in range(1, 11)))
            page.read(path)
            self.assertTrue(page.volts.toPlainText().startswith("3.801 3.802"))
            path.write_text("group,volts\n1,x\n")
            page.read(path)
        self.assertIn("cells.csv", self.message())
        self.assertTrue(page.volts.toPlainText().startswith("3.801"))

    def test_two_loads_tell_the_resistance_and_it_is_taken(self):
        self.show("Corncrake", "B")
        page = self.page("Currents")
        take = page.findChild(QPushButton, "take-resistance")
        self.assertFalse(take.isEnabled())
        for amps, volts in (("5", "70.0"), ("x", "3"), ("45", "66.8")):
            page.findChild(QLineEdit, "load-amps").setText(amps)
            page.findChild(QLineEdit, "load-volts").setText(volts)
            self.click(page.findChild(QPushButton, "add-load"))
        self.assertEqual(len(self.variant().battery.loads), 2)
        self.assertTrue(take.isEnabled())
        self.click(take)
        told = self.variant().pack.overrides["cell_r0_ohm"]
        self.assertIs(told.known, Known.MEASURED)
        self.assertAlmostEqual(told.value, (3.2 / 40.0 - self.variant().pack.wiring_ohm.value) / 18.0, places=5)

    def test_a_school_is_chosen_and_asks_for_its_own(self):
        self.show("Garganey", "A")
        page = self.page("Two schools")
        self.click(page.findChild(QPushButton, "school-none"))
        self.assertEqual(self.variant().battery.school, "none")
        self.assertIn("not guarded", page.right.text())
        self.assertIn("narrow window", page.left.text())
        self.click(page.findChild(QPushButton, "school-none"))
        self.assertEqual(self.variant().battery.school, "")

    def test_a_pack_is_built_of_bricks_and_one_is_dragged(self):
        page = self.page("Cells, bricks, links")
        self.click(page.findChild(QPushButton, "add-brick"))
        bricks = self.variant().battery.bricks
        self.assertEqual([(b.place, b.series, b.parallel) for b in bricks], [(1, 10, 2), (2, 10, 2)])
        field = page.findChild(QLineEdit, "variant.battery.bricks.1.resistance")
        self.type_into(field, "0.13 ohm")
        self.app.processEvents()
        (new,), (old,) = self.bench.found.shares
        self.assertGreater(new, 1.5 * old)
        self.drawing.grab()
        start, over = self.hit("brick.1"), self.hit("brick.0")
        QTest.mousePress(self.drawing, Qt.MouseButton.LeftButton, pos=start)
        QTest.mouseMove(self.drawing, over)
        QTest.mouseRelease(self.drawing, Qt.MouseButton.LeftButton, pos=over)
        self.assertEqual([b.place for b in self.variant().battery.bricks], [1, 1])
        self.assertIn("20 in series", self.bench.found.bricks.trouble)
        self.session.undo()
        self.assertEqual([b.place for b in self.variant().battery.bricks], [1, 2])
        self.assertTrue(self.drawing.hits[0][0].contains(QPointF(self.hit("brick.0"))))

    def test_the_ribbon_leads_here_and_cells_are_taken_from_stock(self):
        self.window.show_bench("drive")
        area = next(area for area, link in self.window.ribbon.places if link.code == "pack")
        self.click(self.window.ribbon, area.center())
        self.assertTrue(self.bench.isVisible())
        page = self.page("Cells, bricks, links")
        self.assertTrue(page.isVisible())
        with self.taking("Ready 6S 12 Ah"):
            self.click(page.findChild(QPushButton, "pick-cells"))
        self.assertEqual((self.variant().pack.part, self.variant().pack.series, self.variant().pack.parallel), ("pack-6s-12", 12, 4))
        self.session.undo()
        self.click(page.findChild(QPushButton, "add-brick"))
        before = self.variant().battery.bricks
        with self.taking("Tool 5S, 2.5 Ah"):
            self.click(page.findChild(QPushButton, "pick-cells"))
        one, two = self.variant().battery.bricks
        self.assertEqual(one, before[0])
        self.assertEqual((two.part, two.series, two.parallel), ("tool-5s1p", 5, 1))
        self.assertIn("Tool pack 5S", page.findChild(QPushButton, "pick-cells").text())
        self.session.undo()
        self.assertEqual(self.variant().battery.bricks, before)

    def test_how_it_is_charged_is_told(self):
        self.show("Garganey", "A")
        page = self.page("Charging")
        self.assertIn("proposed", page.words.text())
        self.click(page.findChild(QPushButton, "tell-charging"))
        field = page.findChild(QLineEdit, "variant.battery.charging.amps")
        self.type_into(field, "1 A")
        self.assertAlmostEqual(self.variant().battery.charging.amps.value, 1.0)
        self.wait_until(lambda: self.bench.found.charged.amps == 1.0)
        self.assertIn("taper", page.line.spoken())

    def test_the_rides_come_and_the_moment_moves(self):
        self.wait_until(lambda: "pack" not in self.session.schedule.stale)
        self.app.processEvents()
        page = self.page("Currents")
        self.assertIn("rides:", page.words.text())
        now = page.curve.load.now_a
        self.session.set_moment(speed_m_s=3.0)
        self.app.processEvents()
        self.assertNotEqual(page.curve.load.now_a, now)
