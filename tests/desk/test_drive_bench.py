"""The drive bench, worked with mouse and keys."""

from unittest import mock

import numpy as np
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtGui import QImage
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QCheckBox, QComboBox, QLineEdit, QPushButton

from tests.desk.case import DeskTestCase
from wattagon.design.parts import MotorPart
from wattagon.design.paths import Edit, put
from wattagon.desk.drive.lever_words import effect
from wattagon.desk.drive.pull_map import flags
from wattagon.desk.fields import ValueField


class StaleTest(DeskTestCase):
    """What is left of steps that were worked out for a design that is another by now."""

    def test_a_step_of_other_goals_is_not_laid_beside_these(self):
        self.settle()
        levers, goals = self.drive.levers, self.drive.goals
        old = self.session.previews[self.session.levers[0].code][1]
        brief = self.session.design.brief
        for kept in (brief.goals[:-1], brief.goals[1:], (), tuple(reversed(brief.goals))):
            self.session.apply(Edit(label="goals", changes=(("brief.goals", kept),)))
            goals.point(old)
            goals.grab()
            self.assertNotIn("→", " ".join(text for _, text in goals.words()))
            levers.grab()
            levers.tip(0, 1)
            self.session.undo()
        self.settle()
        goals.point(self.session.previews[self.session.levers[0].code][1])
        self.assertIn("→", " ".join(text for _, text in goals.words()))

    def test_another_vehicle_begins_without_the_steps_of_the_last(self):
        self.settle()
        self.session.activate(1)
        self.assertEqual(self.session.previews, {})
        self.window.grab()


class MapTest(DeskTestCase):
    def test_a_press_sets_the_moment_and_the_ribbon_follows(self):
        axes = self.drive.map.axes
        before = [link.values for link in self.window.ribbon.links()]
        at = axes.point(20.0, 150.0)  # km/h, N
        self.click(self.drive.map, at)
        self.assertAlmostEqual(self.session.moment.speed_m_s, 20 / 3.6, delta=0.1)
        self.assertAlmostEqual(self.session.point.load_n, 150.0, delta=3.0)
        self.assertNotEqual([link.values for link in self.window.ribbon.links()], before)
        self.assertIn("20", self.window.status.facts.text())

    def test_what_a_belt_is_rated_for_is_a_line_where_the_edge_goes_over_it(self):
        def line():
            chart = self.drive.map
            with mock.patch.object(type(chart), "rated", autospec=True, side_effect=type(chart).rated) as drawn:
                made = []
                drawn.side_effect = lambda *a, original=rated: made.append(original(*a)) or made[-1]
                chart.grab()
            return made[-1]

        rated = type(self.drive.map).rated
        self.session.apply(Edit(label="narrow", changes=(("variant.stages.0.width_mm", 9.0),)))
        words, points = line()
        self.assertRegex(words, r"belt rated \d+ N")
        force = float(words.split()[2])
        self.assertAlmostEqual(self.drive.map.at(self.drive.map.axes, 0.0, force).y(), points[0][1], delta=1.5)
        self.assertGreater(self.session.study.states["nominal"].edge.force_n.max(), force, "nothing stops at it")
        self.session.apply(Edit(label="wide", changes=(("variant.stages.0.width_mm", 60.0),)))
        self.assertIsNone(line())

    def test_drawn_lines_catch_the_pointer(self):
        road = self.session.study.resolved.load
        for grade in (0.0, 0.14):
            force = float(road.resistance_n(6.0, grade, 0.0))
            at = self.drive.map.at(self.drive.map.axes, 6.0, force) + QPointF(0, 4)
            self.click(self.drive.map, at)
            self.assertEqual(self.session.moment.grade, grade)

    def test_a_drag_moves_along_and_keys_go_finely(self):
        chart, axes = self.drive.map, self.drive.map.axes
        start, end = axes.point(10.0, 100.0).toPoint(), axes.point(30.0, 200.0).toPoint()
        QTest.mousePress(chart, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, start)
        QTest.mouseMove(chart, (start + end) / 2)
        QTest.mouseMove(chart, end)
        QTest.mouseRelease(chart, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, end)
        speed = self.session.moment.speed_m_s
        self.assertAlmostEqual(speed * 3.6, 30.0, delta=0.5)
        chart.setFocus()
        QTest.keyClick(chart, Qt.Key.Key_Right)
        self.assertAlmostEqual((self.session.moment.speed_m_s - speed) * 3.6, 0.5, places=6)
        QTest.keyClick(chart, Qt.Key.Key_0)
        self.assertEqual(self.session.moment.grade, 0.0)
        QTest.keyClick(chart, Qt.Key.Key_Up, Qt.KeyboardModifier.ShiftModifier)
        self.assertAlmostEqual(self.session.moment.grade, 0.025)

    def test_charge_buttons_choose_the_edge_and_the_point(self):
        volts = self.session.point.bus_v
        self.click(self.drive.findChild(type(self.drive.states.buttons()[0]), "charge-full"), QPointF(8, 8))
        self.assertEqual(self.session.state.name, "full")
        self.assertGreater(self.session.point.bus_v, volts)
        self.assertTrue(self.drive.states.buttons()[0].isChecked())

    def test_goals_are_flags_where_the_goal_is(self):
        marks = flags(self.session.study)
        self.assertEqual([m.result.goal.id for m in marks], ["cruise", "ramp", "start"])
        self.assertAlmostEqual(marks[0].speed_m_s * 3.6, 33.0)
        self.assertEqual(marks[2].speed_m_s, 0.0)

    def test_the_same_design_and_moment_paint_the_same_picture(self):
        self.settle()

        def picture() -> QImage:
            return self.drive.map.grab().toImage()

        picture()
        first = picture()
        self.session.set_moment(speed_m_s=3.0)
        self.assertNotEqual(picture(), first)
        self.session.set_moment(speed_m_s=33 / 3.6)
        self.assertEqual(picture(), first)

    def test_a_click_on_the_flows_sets_the_speed(self):
        flows = self.drive.flows
        self.click(flows, QPointF(flows.axes.x(15.0), flows.axes.rect.center().y()))
        self.assertAlmostEqual(self.session.moment.speed_m_s * 3.6, 15.0, delta=0.3)
        strips = {s.title: s for s in flows.strips()}
        self.assertAlmostEqual(strips["Pack amps, in all"].now, self.session.point.pack_a)
        self.assertEqual(strips["Motor amps, each"].limit, 65.0)


class LeversTest(DeskTestCase):
    def test_a_click_on_a_step_takes_it_and_one_undo_takes_it_back(self):
        self.settle()
        levers, k, before = self.drive.levers, self.lever("driver_teeth_0"), self.session.design
        promised = self.session.previews["driver_teeth_0"][1].goals[0].reached
        self.click(levers, levers.half(k, 1).center())
        self.assertEqual(self.session.design.variant().stages[0].driver_teeth, 16)
        self.assertAlmostEqual(self.session.study.goals[0].reached, promised, places=3)
        self.assertEqual(self.session.doc.undo.undoText(), "Motor pulley 15 to 16 teeth")
        QTest.keyClick(self.window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
        self.assertEqual(self.session.design, before)

    def test_every_lever_can_be_stepped_with_keys(self):
        self.settle()
        levers, before = self.drive.levers, self.session.design
        levers.setFocus()
        for k, lever in enumerate(list(self.session.levers)):
            with self.subTest(lever.code):
                while levers.focused != k:
                    QTest.keyClick(levers, Qt.Key.Key_Right)
                taken = lever.up or lever.down
                QTest.keyClick(levers, Qt.Key.Key_Up if lever.up is not None else Qt.Key.Key_Down)
                self.assertEqual(self.session.doc.undo.undoText(), taken.label)
                self.session.undo()
                self.assertEqual(self.session.design, before)

    def test_pointing_shows_the_trial_and_what_each_goal_becomes(self):
        self.settle()
        levers, k = self.drive.levers, self.lever("series")
        QTest.mouseMove(levers, levers.half(k, 1).center().toPoint())
        self.app.processEvents()
        self.assertEqual(self.session.trial[0], "Pack 10S to 11S")
        self.assertIn("→", self.drive.goals.words()[0][1])
        self.assertIn("top speed 33 km/h", levers.tip(k, 1))
        QTest.mouseMove(levers, QPoint(2, levers.height() - 2))
        levers.leaveEvent(None)
        self.assertIsNone(self.session.trial)

    def test_a_dragged_value_is_one_step_of_undo_and_keeps_a_ghost_until_let_go(self):
        self.settle()
        levers, k, before = self.drive.levers, self.lever("driven_teeth_0"), self.session.design
        start = levers.cell(k).center().toPoint() - QPoint(0, 14)
        QTest.mousePress(levers, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, start)
        for dx in (30, 60, 90):
            QTest.mouseMove(levers, start + QPoint(dx, 0))
        self.assertIsNotNone(self.session.ghost)
        self.assertGreater(self.session.design.variant().stages[0].driven_teeth, 76)
        QTest.mouseRelease(levers, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, start + QPoint(90, 0))
        self.assertIsNone(self.session.ghost)
        self.session.undo()
        self.assertEqual(self.session.design, before)

    def test_a_typed_value_takes_any_unit_and_a_refusal_stays(self):
        self.settle()
        levers = self.drive.levers
        levers.edit(self.lever("wheel"))
        entry = levers.findChild(QLineEdit, "lever-entry")
        self.type_into(entry, "8.5 in")
        self.assertAlmostEqual(self.session.design.vehicle.tyre_diameter.value, 8.5 * 0.0254)
        levers.edit(self.lever("motor_kv"))
        self.type_into(levers.editor, "fast")
        self.assertIn("Motor kv is 'fast'", self.message())
        self.assertIsNotNone(levers.editor)
        self.type_into(levers.editor, "155")
        self.assertEqual(self.session.levers[self.lever("motor_kv")].mark, "stated")

    def test_effects_name_the_goal_that_changes_and_the_rating_that_breaks(self):
        self.session.put(self.session.doc, put(self.session.design, "variant.controller.voltage_max_v", 43.0), frozenset())
        self.settle()
        series = self.session.levers[self.lever("series")]
        self.assertEqual(effect(self.session, series, 1).words, "over: controller")
        self.assertEqual(len(effect(self.session, series, 1).bars), len(self.session.study.goals))
        self.assertIn("range", effect(self.session, series, 0).words)

    def test_the_panel_tells_a_screen_reader_what_steps_would_do(self):
        self.settle()
        self.drive.levers.setFocus()
        self.drive.levers.refresh()
        self.assertRegex(self.drive.levers.accessibleDescription(), r"^Motor kv 167 rpm/V; down to 150 rpm/V: ")


class PartsTest(DeskTestCase):
    def open_parts(self):
        self.drive.show_side("parts")
        self.app.processEvents()
        return self.drive.parts

    def test_a_measured_value_overrides_stock_and_empties_again(self):
        field = self.open_parts().findChild(QLineEdit, "variant.motor.no_load_a")
        self.assertIn("stock", field.placeholderText())
        self.type_into(field, "1.2 A")
        self.assertEqual(self.session.design.variant().motor.overrides["no_load_a"].value, 1.2)
        self.type_into(field, "")
        QTest.keyClick(field, Qt.Key.Key_Backspace)
        QTest.keyClick(field, Qt.Key.Key_Return)
        self.assertNotIn("no_load_a", self.session.design.variant().motor.overrides)

    def test_stages_are_added_changed_and_removed(self):
        parts = self.open_parts()
        self.click(parts.findChild(QPushButton, "add-stage"), QPointF(5, 5))
        self.assertEqual(len(self.session.design.variant().stages), 2)
        self.app.processEvents()
        from wattagon.design.tree import ReductionKind

        for kind in ReductionKind:
            parts.set_kind(1, kind)
            self.assertIs(self.session.design.variant().stages[1].kind, kind, self.message())
            self.assertIsNotNone(self.session.study)
        self.app.processEvents()
        self.click(parts.findChild(QPushButton, "remove-stage-1"), QPointF(5, 5))
        self.assertEqual(len(self.session.design.variant().stages), 1)

    def test_a_roller_has_its_press_its_grips_and_its_ground(self):
        from wattagon.design.tree import ReductionKind, StageChoice

        parts = self.open_parts()
        self.session.apply(
            Edit(label="roller", changes=(("variant.stages", (StageChoice(kind=ReductionKind.FRICTION, roller_diameter=0.05),)),))
        )
        self.app.processEvents()
        press = parts.findChild(ValueField, "variant.stages.0.press_force")
        self.assertEqual((press.text(), press.placeholderText()), ("", "≈ 150 N"))
        self.type_into(press, "220 N")
        self.assertEqual(self.session.design.variant().stages[0].press_force.value, 220.0)
        self.type_into(parts.findChild(ValueField, "variant.stages.0.arm_angle"), "50 °")
        self.assertAlmostEqual(self.session.design.variant().stages[0].arm_angle.value, 0.8727, places=4)
        for name in ("dusty", "rain_excluded"):
            box = parts.findChild(QCheckBox, f"brief.conditions.{name}")
            box.click()
            self.assertTrue(getattr(self.session.design.brief.conditions, name))
            self.app.processEvents()

    def test_ramps_and_release_are_settings_with_what_is_taken_when_empty(self):
        parts = self.open_parts()
        ramp = parts.findChild(ValueField, "variant.controller.ramp_up_s")
        self.assertEqual(ramp.placeholderText(), "≈ 0.4 s")
        self.type_into(ramp, "0.8")
        self.type_into(parts.findChild(ValueField, "variant.controller.release_current_a"), "6 A")
        choice = self.session.design.variant().controller
        self.assertEqual((choice.ramp_up_s, choice.release_current_a), (0.8, 6.0))

    def choose_in(self, box, key, times=1):
        """Choose from an open list, as a mouse or the keys do: the choice is told while the list is still on its way."""
        box.showPopup()
        for _ in range(times):
            QTest.keyClick(box.view(), key)
        QTest.keyClick(box.view(), Qt.Key.Key_Return)
        self.app.processEvents()
        self.app.sendPostedEvents(None, 52)  # DeferredDelete

    def test_another_family_of_belt_is_chosen_in_its_own_list(self):
        parts = self.open_parts()
        before = self.session.design.variant().stages[0].profile
        for _ in range(4):
            self.choose_in(parts.findChild(QComboBox, "variant.stages.0.profile"), Qt.Key.Key_Down)
        self.choose_in(parts.findChild(QComboBox, "variant.stages.0.profile"), Qt.Key.Key_Home)
        self.assertNotEqual(self.session.design.variant().stages[0].profile, before)
        self.assertEqual(
            parts.findChild(QComboBox, "variant.stages.0.profile").currentData(), self.session.design.variant().stages[0].profile
        )

    def test_another_kind_of_reduction_is_chosen_in_its_own_list(self):
        from wattagon.design.tree import ReductionKind

        parts = self.open_parts()
        seen = []
        self.choose_in(parts.findChild(QComboBox, "variant.stages.0.kind"), Qt.Key.Key_Home)
        for _ in ReductionKind:
            kind = self.session.design.variant().stages[0].kind
            self.assertIs(type(kind), ReductionKind)
            self.assertEqual(parts.findChild(QComboBox, "variant.stages.0.kind").currentData(), kind.value)
            seen.append(kind)
            self.choose_in(parts.findChild(QComboBox, "variant.stages.0.kind"), Qt.Key.Key_Down)
        self.assertEqual(set(seen), set(ReductionKind))

    def test_the_view_is_drawn_when_no_speed_can_be_held(self):
        self.drive.show_side("flows")
        self.session.apply(Edit(label="leads", changes=(("variant.pack.wiring_ohm", 0.5),)))
        self.session.set_moment(grade=0.9, charge=0.0)
        self.assertTrue(np.isnan(self.session.needed["pack_a"]).all())
        self.app.processEvents()
        self.assertFalse(self.window.grab().isNull())
        self.assertEqual(self.problems, [])

    def test_a_painter_ends_when_its_drawing_fails(self):
        with (
            mock.patch.object(type(self.drive.map), "paint_on", side_effect=ValueError("drawing")),
            self.assertRaisesRegex(ValueError, "drawing"),
        ):
            self.drive.map.grab()
        self.assertFalse(self.drive.map.grab().isNull())

    def test_a_link_of_the_ribbon_opens_its_parts(self):
        area, link = next((area, link) for area, link in self.window.ribbon.places if link.code == "motor")
        self.click(self.window.ribbon, area.center())
        self.assertIs(self.drive.side.currentWidget(), self.drive.parts)
        self.assertEqual(link.name, "Motors")

    def test_the_picker_searches_and_takes(self):
        from wattagon.desk.picker import PartPicker

        picker = PartPicker(self.session, MotorPart, "outrunner-63x74-170", parent=self.window)
        self.assertEqual(picker.list.currentItem().text(0), "Outrunner 63x74, 170 rpm/V")
        QTest.keyClicks(picker.search, "80x100 95")
        QTest.keyClick(picker.search, Qt.Key.Key_Return)
        self.assertEqual(picker.chosen, "outrunner-80x100-95")
