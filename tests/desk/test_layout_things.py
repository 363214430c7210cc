"""What rides along, shafts, sweeps and a photo under the drawing, in the real window."""

import math
from unittest import mock

from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QColor, QImage
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QComboBox, QInputDialog, QLineEdit, QPushButton, QToolButton

from tests.desk.layout_case import LayoutCase
from wattagon.desk.layout.bodies import box_in_plan, box_in_side
from wattagon.study.findings.status import Status


class ThingsTest(LayoutCase):
    def body(self, name):
        return next(k for k, one in enumerate(self.drawing.found.scene.bodies) if one.name == name)

    def test_a_body_is_dragged_in_both_views_and_comes_back(self):
        self.show("Corncrake", "A")
        self.bench.show_side("aboard")
        self.app.processEvents()
        self.assertTrue(self.drawing.whole)
        before = self.session.design
        one = self.drawing.found.scene.bodies[self.body("pack")]
        centre = box_in_side(self.drawing.page, one).center()
        self.drag(centre, centre + QPointF(20, -12))
        moved = self.drawing.found.scene.bodies[self.body("pack")]
        self.assertAlmostEqual(moved.x - one.x, 20 / self.drawing.page.scale, delta=0.002)
        self.assertAlmostEqual(moved.z - one.z, 12 / self.drawing.page.scale, delta=0.002)
        self.assertEqual(moved.y, one.y)
        centre = box_in_plan(self.drawing.page, moved).center()
        self.drag(centre, centre + QPointF(0, -15))
        again = self.drawing.found.scene.bodies[self.body("pack")]
        self.assertAlmostEqual(again.y - moved.y, 15 / self.drawing.page.scale, delta=0.002)
        self.assertEqual((again.x, again.z), (moved.x, moved.z))
        self.session.undo()
        self.session.undo()
        self.assertEqual(self.session.design, before, "a drag is one step")

    def test_keys_take_and_nudge_what_rides_along(self):
        self.show("Corncrake", "A")
        self.drawing.setFocus()
        QTest.keyClick(self.drawing, Qt.Key.Key_B)
        self.assertEqual(self.drawing.found.scene.bodies[self.drawing.body].name, "pack")
        x, y, z = (getattr(self.drawing.found.scene.bodies[0], name) for name in "xyz")
        self.drawing.setFocus()
        QTest.keyClick(self.drawing, Qt.Key.Key_Right)
        QTest.keyClick(self.drawing, Qt.Key.Key_Up, Qt.KeyboardModifier.ShiftModifier)
        QTest.keyClick(self.drawing, Qt.Key.Key_Up, Qt.KeyboardModifier.ControlModifier)
        now = self.drawing.found.scene.bodies[0]
        for got, wanted in zip((now.x, now.y, now.z), (x + 0.001, y + 0.001, z + 0.010), strict=True):
            self.assertAlmostEqual(got, wanted, 6)
        QTest.keyClick(self.drawing, Qt.Key.Key_Escape)
        self.assertEqual(self.drawing.body, -1)

    def test_a_proposal_is_taken_corrected_and_removed(self):
        self.show("Bittern", "B")
        self.bench.show_side("aboard")
        panel = self.bench.aboard
        panel.rows.setCurrentItem(panel.rows.topLevelItem(0))
        self.assertTrue(panel.take_button.isEnabled())
        self.click(panel.take_button)
        layout = self.session.design.variant().layout
        self.assertEqual([body.kind for body in layout.bodies], ["pack"])
        field = panel.findChild(QLineEdit, "variant.layout.bodies.0.length")
        self.type_into(field, "31 cm")
        self.assertAlmostEqual(self.session.design.variant().layout.bodies[0].length.value, 0.31)
        self.type_into(field, "wide")
        self.assertIn("wide", self.message())
        self.assertAlmostEqual(self.session.design.variant().layout.bodies[0].length.value, 0.31, msg="nothing is lost")
        held = panel.findChild(QComboBox, "variant.layout.bodies.0.held")
        held.setFocus()
        QTest.keyClick(held, Qt.Key.Key_Down)
        held.activated.emit(held.currentIndex())
        self.assertEqual(self.session.design.variant().layout.bodies[0].held, "strap")
        self.click(panel.remove_button)
        self.assertEqual(self.session.design.variant().layout.bodies, ())

    def test_one_more_is_added_from_the_menu(self):
        self.show("Bittern", "A")
        self.bench.show_side("aboard")
        menu = self.bench.aboard.findChild(QToolButton, "add-body").menu()
        next(action for action in menu.actions() if action.text() == "Light").trigger()
        self.app.processEvents()
        self.assertEqual(self.session.design.variant().layout.bodies[-1].kind, "light")
        self.assertEqual(self.drawing.found.scene.bodies[self.drawing.body].kind, "light")
        self.session.undo()
        self.session.undo()
        self.assertNotIn("light", [body.kind for body in self.session.design.variant().layout.bodies])

    def test_shafts_are_taken_measured_and_run_out_of_thread(self):
        self.show("Corncrake", "A")
        self.bench.show_side("shafts")
        panel = self.bench.shafts
        names = [one.stack.shaft for one in panel.picture.stacks()]
        self.assertEqual(names, ["motor", "axle"])
        panel.picture.setFocus()
        QTest.keyClick(panel.picture, Qt.Key.Key_Down)
        self.click(panel.take_button)
        stack = self.session.design.variant().layout.stacks[0]
        self.assertEqual(stack.shaft, "axle")
        total = sum(item.width.value for item in stack.items)
        self.type_into(panel.findChild(QLineEdit, "variant.layout.stacks.0.length"), f"{1e3 * total - 3:.2f} mm")
        gap = next(one for one in self.drawing.found.gaps if one.code == "stack.axle.length")
        self.assertIs(gap.status, Status.OVER)
        self.assertIn("axle", panel.picture.spoken())
        count = len(stack.items)
        panel.findChild(QToolButton, f"drop-{count - 2}").click()
        self.assertEqual(len(self.session.design.variant().layout.stacks[0].items), count - 1)
        self.click(panel.forget_button)
        self.assertEqual(self.session.design.variant().layout.stacks, ())

    def test_the_sweep_tells_the_gap_there_and_the_least_on_the_way(self):
        self.assertEqual(self.bench.sweep_kind.currentData(), "truck")
        self.bench.sweep.setValue(50)
        self.assertIn("truck 9°: can to deck end", self.drawing.swept_words)
        self.assertIn("at 18°", self.drawing.swept_words)
        self.assertEqual(self.drawing.swept[0], "truck")
        self.assertAlmostEqual(self.drawing.swept[1], math.radians(9.0))
        before = self.drawing.grab().toImage()
        self.bench.sweep.setValue(0)
        self.assertEqual(self.drawing.swept_words, "")
        self.assertNotEqual(before, self.drawing.grab().toImage())
        self.show("Bittern", "A")
        self.assertEqual(self.bench.sweep_kind.currentData(), "lean")
        self.show("Corncrake", "A")
        self.assertFalse(self.bench.sweep.isVisible())

    def test_measures_of_the_layout_are_typed_where_they_apply(self):
        self.bench.show_side("frame")
        measures = self.bench.frame.measures
        shown = lambda: {path for path, (_, field) in measures.fields.items() if field.isVisible()}
        self.assertEqual(shown(), {"plate", "pulley_gap", "flex"})
        self.type_into(measures.fields["flex"][1], "0.6 cm")
        self.assertAlmostEqual(self.session.design.variant().layout.flex.value, 0.006)
        self.type_into(measures.fields["plate"][1], "9 m")
        self.assertIn("motor plate is 9", self.message())
        self.assertAlmostEqual(self.session.design.variant().layout.plate.value, 0.008)
        self.session.undo()
        self.assertAlmostEqual(self.session.design.variant().layout.flex.value, 0.004)
        self.show("Bittern", "D")
        self.assertEqual(shown(), {"plate", "pulley_gap", "beside", "tread", "crank_length", "crank.x", "crank.z"})
        self.assertIsNone(self.session.design.variant().layout)
        self.type_into(measures.fields["crank.z"][1], "40 mm")
        self.assertAlmostEqual(self.session.design.variant().layout.crank.z.value, 0.04)

    def test_a_boats_stern_and_its_flaw(self):
        self.show("Garganey", "B")
        self.assertIn("pack over the bottom", self.drawing.spoken())
        rows = [self.bench.gaps.topLevelItem(k).text(1) for k in range(self.bench.gaps.topLevelItemCount())]
        self.assertEqual(rows[0], "pack over the bottom")
        self.assertIn("measured in the Brief", self.bench.hint.text())
        colours = lambda: len({self.drawing.grab().toImage().pixel(x, 200) for x in range(0, self.drawing.width(), 3)})
        self.assertGreater(colours(), 3)

    def test_a_photo_is_scaled_by_two_points_and_traced(self):
        image = QImage(800, 500, QImage.Format.Format_RGB32)
        image.fill(QColor("#dd8833"))
        file = str(self.folder / "side.png")
        image.save(file)
        self.bench.show_side("frame")
        under = self.drawing.underlay
        with self.assertRaisesRegex(Exception, "accepted: a picture"):
            under.put(str(self.folder / "none.png"), "side")
        under.put(file, "side")
        self.app.processEvents()
        self.assertIn("Not to scale yet", self.bench.frame.photo.text())
        self.click(self.bench.frame.findChild(QPushButton, "picture-trace"))
        self.assertIn("Scale a picture", self.message())
        page = self.drawing.page
        for place, text in (((-0.08, 0.0), "-80 mm, 0 mm"), ((0.09, 0.02), "9 cm; 2 cm")):
            if place[0] < 0:
                self.click(self.bench.frame.findChild(QPushButton, "picture-scale"))
            with mock.patch.object(QInputDialog, "getText", return_value=(text, True)):
                QTest.mouseClick(self.drawing, Qt.MouseButton.LeftButton, pos=page.side(*place).toPoint())
        picture = self.session.design.variant().layout.picture
        self.assertEqual([(pin.ahead, pin.other) for pin in picture.pins], [(-0.08, 0.0), (0.09, 0.02)])
        self.assertIn("right within", self.bench.frame.photo.text())
        many = len(self.drawing.found.layout.obstacles)
        self.click(self.bench.frame.findChild(QPushButton, "picture-trace"))
        for place in ((-0.05, 0.06), (0.05, 0.07)):
            QTest.mouseClick(self.drawing, Qt.MouseButton.LeftButton, pos=self.drawing.page.side(*place).toPoint())
        edge = self.session.design.variant().layout.obstacles[many]
        self.assertAlmostEqual(edge.x, -0.05, delta=0.003)
        self.assertAlmostEqual(edge.z2, 0.07, delta=0.003)
        self.assertGreater(edge.tolerance, 0.001)
        self.assertIn("perspective", self.message())
        with mock.patch.object(QInputDialog, "getText", return_value=("somewhere", True)):
            self.click(self.bench.frame.findChild(QPushButton, "picture-scale"))
            QTest.mouseClick(self.drawing, Qt.MouseButton.LeftButton, pos=self.drawing.page.side(0.0, 0.0).toPoint())
        self.assertIn("two lengths with a comma", self.message())
        self.assertEqual(under.wants, "")
        self.click(self.bench.frame.findChild(QPushButton, "picture-remove"))
        self.assertIsNone(self.session.design.variant().layout.picture)
