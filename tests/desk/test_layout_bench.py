"""The layout bench in the real window: drag with snapping, idlers, keys, tape, teeth, sheets, undo."""

import math
import tempfile
from dataclasses import replace
from pathlib import Path

import ezdxf
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtGui import QColor, QImage, QPainter
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QLineEdit, QPushButton

from tests.desk.layout_case import LayoutCase
from wattagon.desk.layout.gaps import SPAN_M, bar_of, smear
from wattagon.desk.layout.side import shown_gaps
from wattagon.study.findings.status import Status


class LayoutBenchTest(LayoutCase):
    def test_the_motor_is_dragged_and_snaps_where_a_loop_of_stock_lies(self):
        before = self.session.design
        self.drawing.zoom(self.motor_at(), 2.0)
        start = self.motor_at() - QPointF(8, 0)  # on the can, beside its shaft
        centre = self.drawing.found.stages[0].longer[1]  # of the next longer belt
        wanted = self.drawing.page.side(-centre - 0.0008, 0.0) - QPointF(8, 0)
        self.drag(start, wanted)
        stage = self.drawing.found.stages[0]
        self.assertEqual(stage.loop, 90)
        self.assertLess(abs(stage.off_m), 2e-4)
        self.assertLess(abs(stage.centre_m - centre), 1e-4)
        self.assertEqual(self.session.design.variant().layout.stages[0].loop, 90)
        self.session.undo()
        self.assertEqual(self.session.design, before)  # one drag is one step

    def test_between_two_loops_it_is_told_and_judged(self):
        self.drawing.move_shaft(0, -0.0985, 0.0)
        self.assertIn("would lie at", self.drawing.said)
        self.assertGreater(abs(self.drawing.found.stages[0].off_m), 0.003)
        self.wait_until(lambda: any(f.code == "layout.loop.0" and f.status is Status.OVER for f in self.session.findings))

    def test_an_idler_is_pulled_out_of_a_span_and_taken_out_again(self):
        span = self.drawing.found.stages[0].path.loop.spans[1]
        middle = QPointF(0.6 * span.begin[0] + 0.4 * span.end[0], 0.6 * span.begin[1] + 0.4 * span.end[1])
        start = self.drawing.page.side(middle.x(), middle.y())
        away = QPointF(math.sin(span.direction), math.cos(span.direction)) * 12.0  # out of the loop on the page
        self.drag(start, start + away, 6)
        stage = self.session.design.variant().layout.stages[0]
        self.assertEqual(len(stage.idlers), 1)
        self.assertEqual([wheel.what for wheel in self.drawing.found.stages[0].path.wheels].count("idler"), 1)
        self.drawing.setFocus()
        QTest.keyClick(self.drawing, Qt.Key.Key_Delete)
        self.assertEqual(self.session.design.variant().layout.stages[0].idlers, ())

    def test_keys_move_step_zoom_and_put_an_idler(self):
        self.drawing.setFocus()
        x = self.drawing.found.shafts[0].x
        QTest.keyClick(self.drawing, Qt.Key.Key_Up, Qt.KeyboardModifier.ShiftModifier)
        self.assertAlmostEqual(self.drawing.found.shafts[0].z, 0.005, 3)
        self.session.undo()
        QTest.keyClick(self.drawing, Qt.Key.Key_PageUp)
        self.assertEqual(self.session.design.variant().stages[0].driver_teeth, 16)
        self.session.undo()
        self.assertAlmostEqual(self.drawing.found.shafts[0].x, x, 6)
        scale = self.drawing.page.scale
        QTest.keyClick(self.drawing, Qt.Key.Key_Plus)
        self.assertAlmostEqual(self.drawing.page.scale / scale, 1.25, 6)
        QTest.keyClick(self.drawing, Qt.Key.Key_0)
        self.assertAlmostEqual(self.drawing.page.scale, scale, 6)
        mesh = self.drawing.found.stages[0].in_mesh
        QTest.keyClick(self.drawing, Qt.Key.Key_I)
        self.assertGreater(self.drawing.found.stages[0].in_mesh, mesh)

    def test_the_wheel_zooms_to_the_pointer_and_the_ground_pans(self):
        at = QPointF(120, 90)
        before = self.drawing.page.metres(at)
        self.drawing.zoom(at, 1.7)
        self.assertAlmostEqual(self.drawing.page.metres(at)[0], before[0], 9)
        corner = QPointF(self.drawing.width() - 20, 20)
        self.assertIsNone(self.drawing.under(corner))
        x = self.drawing.page.axle_x
        self.drag(corner, corner - QPointF(40, 0), 4)
        self.assertAlmostEqual(self.drawing.page.axle_x, x - 40, delta=1.5)

    def test_a_lever_in_the_drive_moves_the_drawing(self):
        before = self.drawing.found.stages[0].made.choice.driven_teeth
        self.window.show_bench("drive")
        self.app.processEvents()
        lever = next(one for one in self.session.levers if one.code == "driven_teeth_0")
        self.session.apply(lever.up)
        self.window.show_bench("layout")
        self.app.processEvents()
        self.assertGreater(self.drawing.found.stages[0].made.choice.driven_teeth, before)

    def test_gaps_are_listed_and_chosen(self):
        self.show("Dunlin", "A")
        rows = [self.bench.gaps.topLevelItem(k) for k in range(self.bench.gaps.topLevelItemCount())]
        first = next(row for row in rows if "two cans" in row.text(1))
        self.assertLess(rows.index(first), 2, "what is over comes first")
        self.assertIn("−2", first.text(2))
        self.bench.gaps.setCurrentItem(first)
        self.assertEqual(self.drawing.chosen, "cans.between")
        self.assertIn("two cans", self.drawing.spoken())
        self.assertEqual(self.bench.table()[0][0], "between")

    def test_a_gap_is_a_bar_that_fades_from_its_worst_to_its_best(self):
        found = next(one for one in self.drawing.found.gaps if one.code == "body.box.deck")
        bar = bar_of(found)
        self.assertAlmostEqual(bar.solid, found.worst / SPAN_M)
        self.assertAlmostEqual(bar.end - bar.solid, 2.0 * (found.nominal - found.worst) / SPAN_M)
        sure = bar_of(replace(found, worst=found.nominal))
        self.assertEqual((sure.solid, sure.end), (found.nominal / SPAN_M, found.nominal / SPAN_M))
        self.assertEqual(bar_of(replace(found, nominal=0.2, worst=0.1)), (1.0, 1.0, bar.wanted))
        self.assertEqual(bar_of(replace(found, nominal=-0.02, worst=-0.03)).end, 0.0)
        tree = self.bench.gaps
        item = next(
            one for k in range(tree.topLevelItemCount()) if (one := tree.topLevelItem(k)).data(0, Qt.ItemDataRole.UserRole) == found.code
        )
        area = tree.visualItemRect(item)
        left = tree.columnViewportPosition(2) + 6
        wide = tree.columnWidth(2) - 12
        picture = tree.viewport().grab().toImage()
        dark = lambda share: 255 - picture.pixelColor(round(left + share * wide), area.bottom() - 1).lightness()
        inks = [dark(share) for share in (0.5 * bar.solid, 0.5 * (bar.solid + bar.end), bar.end - 0.02)]
        self.assertGreater(inks[0], inks[1] + 10, inks)
        self.assertGreater(inks[1], inks[2] + 10, inks)
        self.assertIn("at worst", item.toolTip(2))

    def test_a_dimension_is_smeared_as_far_as_its_measures_are_off(self):
        self.drawing.zoom(self.motor_at(), 6.0)
        one = next(gap for gap in shown_gaps(self.drawing.found) if gap.at is not None and gap.nominal - gap.likely > 5e-4)
        a, b = (self.drawing.page.side(*one.at[k : k + 2]) for k in (0, 2))
        picture = QImage(self.drawing.size(), QImage.Format.Format_RGB32)

        def inked(gap):
            picture.fill(QColor("white"))
            painter = QPainter(picture)
            painter.translate(QPointF(60, 60) - b)
            smear(painter, a, b, self.drawing.page.scale, gap, QColor("black"))
            painter.end()
            return sum(picture.pixelColor(x, y).lightness() < 250 for x in range(10, 110) for y in range(10, 110))

        self.assertEqual(inked(replace(one, likely=one.nominal)), 0, "what is exact has none")
        narrow, wide = inked(one), inked(replace(one, likely=2.0 * one.likely - one.nominal))
        self.assertGreater(narrow, 0)
        self.assertGreater(wide, 1.5 * narrow)

    def test_stages_step_loops_and_teeth_by_buttons(self):
        self.bench.show_side("stages")
        self.app.processEvents()
        self.bench.stages.findChild(QPushButton, "loop-0-more").click()
        self.assertEqual(self.drawing.found.stages[0].loop, 90)
        self.assertLess(abs(self.drawing.found.stages[0].off_m), 2e-4)
        self.bench.stages.findChild(QPushButton, "driver-0-more").click()
        self.assertEqual(self.session.design.variant().stages[0].driver_teeth, 16)

    def test_a_sheet_is_saved_with_its_options_and_nonsense_is_told(self):
        self.bench.show_side("sheets")
        self.app.processEvents()
        parts = self.bench.sheets.parts
        self.assertGreaterEqual(parts.count(), 5)
        parts.setCurrentIndex(parts.findData("motor-plate"))
        plain = self.bench.sheets.flat.sheet.area_mm2
        field = self.bench.sheets.findChild(QLineEdit, "cut-kerf")
        self.type_into(field, "0.4")
        self.assertNotAlmostEqual(self.bench.sheets.flat.sheet.area_mm2, plain, 1)
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "plate.dxf"
            self.bench.save_sheet(path, "motor-plate")
            self.assertTrue(len(ezdxf.readfile(path).modelspace()) > 5)
        self.type_into(field, "a lot")
        self.assertIn("a lot", self.bench.sheets.notes.text())
        self.assertIsNone(self.bench.sheets.flat.sheet)

    def test_tape_measures(self):
        self.drawing.tape(True)
        a, b = QPoint(100, 100), QPoint(220, 100)
        QTest.mousePress(self.drawing, Qt.MouseButton.LeftButton, pos=a)
        QTest.mouseMove(self.drawing, b)
        long = (self.drawing.tape_ends[1].x() - self.drawing.tape_ends[0].x()) / self.drawing.page.scale
        self.assertAlmostEqual(long, 120 / self.drawing.page.scale, 6)
        QTest.mouseRelease(self.drawing, Qt.MouseButton.LeftButton, pos=b)
        self.drawing.setFocus()
        QTest.keyClick(self.drawing, Qt.Key.Key_Escape)
        self.assertIsNone(self.drawing.tape_ends)

    def test_place_anew_forgets_and_a_boat_shows_its_stern(self):
        self.bench.propose()
        self.assertIsNone(self.session.design.variant().layout)
        self.assertTrue(self.drawing.found.shafts[0].proposed)
        names = [doc.design.vehicle.name for doc in self.session.docs]
        self.session.activate(names.index("Garganey"))
        self.app.processEvents()
        self.drawing.refresh()
        self.assertEqual(self.drawing.found.scene.berth.choice.place.value, "pod")
        self.assertIn("tip to hull 50 mm", self.drawing.spoken())
        self.assertFalse(self.bench.findChild(QPushButton, "layout-idler").isVisible())
