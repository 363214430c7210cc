"""The controller bench in the real window: settings dragged to their bounds, typed carelessly, the throttle's handles, failures, sheets."""

import json
from pathlib import Path
from unittest import mock

from PySide6.QtCore import QPointF, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QComboBox, QFileDialog, QInputDialog, QLineEdit, QPushButton

from tests.desk.case import DeskTestCase
from wattagon.design.paths import Edit


class ControllerBenchTest(DeskTestCase):
    runs = frozenset({"controller"})

    def setUp(self):
        super().setUp()
        self.show("Dunlin", "B")

    def show(self, vehicle, variant):
        self.bench = self.bring(vehicle, variant, "controller")
        self.drawing = self.bench.drawing
        self.arrived()

    def arrived(self):
        stale = self.session.schedule.stale
        self.wait_until(lambda: self.bench.found is not None and "controller" not in stale)
        self.app.processEvents()
        self.drawing.grab()

    @property
    def choice(self):
        return self.session.design.variant().controller

    @property
    def control(self):
        return self.session.design.variant().control

    def drag(self, start, end):
        QTest.mousePress(self.drawing, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, start.toPoint())
        for share in (0.3, 0.6, 1.0):
            QTest.mouseMove(self.drawing, (start + share * (end - start)).toPoint())
            self.app.processEvents()
        QTest.mouseRelease(self.drawing, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, end.toPoint())
        self.app.processEvents()

    def field(self, name, kind=QLineEdit):
        found = self.bench.findChild(kind, name)
        self.assertIsNotNone(found, name)
        return found

    def test_a_setting_is_dragged_to_the_first_bound_and_says_whose(self):
        limits = self.drawing.limits
        start = limits.handles["pack"]
        self.drag(start, QPointF(limits.x_of(45.0), start.y()))
        self.assertAlmostEqual(self.choice.pack_current_a, 45.0, delta=1.0)
        self.drawing.grab()
        start = limits.handles["pack"]
        self.drag(start, QPointF(limits.x_of(100.0), start.y()))
        self.assertEqual(self.choice.pack_current_a, 56.0)
        self.assertIn("board", self.message())
        self.session.doc.undo.undo()
        self.assertAlmostEqual(self.choice.pack_current_a, 45.0, delta=1.0)
        self.session.doc.undo.undo()
        self.assertEqual(self.choice.pack_current_a, 30.0)

    def test_keys_choose_an_axis_and_step_it(self):
        self.drawing.setFocus()
        QTest.keyClick(self.drawing, Qt.Key.Key_Left)
        self.assertEqual(self.choice.motor_current_a, 64.0)
        QTest.keyClick(self.drawing, Qt.Key.Key_Down)
        QTest.keyClick(self.drawing, Qt.Key.Key_Right)
        self.assertEqual((self.drawing.chosen, self.choice.regen_motor_current_a), ("motor_brake", 29.0))
        QTest.keyClick(self.drawing, Qt.Key.Key_Right, Qt.KeyboardModifier.ShiftModifier)
        self.assertEqual(self.choice.regen_motor_current_a, 32.0, "it stops where the wheels slip")
        self.assertIn("wheels slip", self.message())

    def test_the_curve_is_bent_by_its_handles(self):
        curve = self.drawing.curve
        at = curve.handles[0]
        self.drag(at, QPointF(at.x(), curve.axes.y(0.12)))
        throttle = self.control.throttle
        self.assertEqual(throttle.curve, "points")
        self.assertAlmostEqual(throttle.points[0][1], 0.12, delta=0.02)
        self.arrived()
        at = curve.handles[1]
        self.drag(at, QPointF(at.x(), curve.axes.y(0.02)))
        points = self.control.throttle.points
        self.assertLessEqual(points[0][1], points[1][1], "it never falls")
        self.session.doc.undo.undo()
        self.session.doc.undo.undo()
        self.assertIsNone(self.control)

    def test_another_gesture_and_what_it_says(self):
        for _ in range(2):
            QTest.keyClick(self.drawing, Qt.Key.Key_G)
        self.assertEqual(self.drawing.gesture, "brake")
        box = next(box for box, name in self.drawing.felt.names if name == "release")
        self.click(self.drawing, box.center())
        self.assertEqual(self.drawing.gesture, "release")
        said = self.drawing.spoken()
        self.assertIn("Motor amps 65 A, at most 73 A by motor, for seconds", said)
        self.assertIn("full lever from rest: 2.8", said)

    def test_lines_are_typed_carelessly(self):
        field = self.field("set-absolute_a")
        self.type_into(field, "ninety")
        self.assertIn("accepted", self.message())
        self.assertIsNone(self.control)
        self.assertEqual(field.text(), "ninety")
        self.type_into(field, "90,5 A")
        self.assertEqual(self.control.absolute_a, 90.5)
        self.arrived()
        self.type_into(self.field("set-poles"), "20")
        self.arrived()
        self.assertTrue(any(f.code == "settings.wrong.poles" for f in self.session.findings))
        self.click(self.field("back-poles", QPushButton))
        self.assertEqual(self.control.poles, 14.0)
        self.arrived()
        motor = self.field("set-motor_a")
        motor.setFocus()
        motor.selectAll()
        QTest.keyClick(motor, Qt.Key.Key_Delete)
        QTest.keyClick(motor, Qt.Key.Key_Return)
        self.assertIn("has to be there", self.message())
        self.type_into(self.field("set-motor_a"), "60")
        self.assertEqual(self.choice.motor_current_a, 60.0)
        self.arrived()
        self.type_into(self.field("set-reversed"), "2 x")
        self.assertIn("numbers of motors", self.message())
        self.type_into(self.field("set-reversed"), "2")
        self.assertEqual(self.control.reversed, (2,))
        self.arrived()
        self.type_into(self.field("set-duty"), "90 %")
        self.assertAlmostEqual(self.choice.overrides["duty_max"].value, 0.9, msg=self.message())

    def test_a_school_lacks_lines_and_says_what_to_do(self):
        box = self.field("school", QComboBox)
        box.setCurrentIndex(box.findData("model"))
        box.activated.emit(box.currentIndex())
        self.arrived()
        self.assertEqual(self.control.school, "model")
        self.assertIsNone(self.bench.findChild(QLineEdit, "set-pack_a"))
        self.assertIn("trusts that the pilot lets go", self.bench.found.school.words)

    def test_the_levers_readings(self):
        self.bench.show_target("throttle")
        self.type_into(self.field("lever-low"), "1010 µs")
        self.type_into(self.field("lever-centre"), "1498")
        self.type_into(self.field("lever-high"), "900")
        self.assertIn("rising order", self.message())
        self.type_into(self.field("lever-high"), "1985")
        lever = self.control.throttle.lever
        self.assertEqual((lever.low, lever.centre, lever.high), (1010.0, 1498.0, 1985.0))
        self.type_into(self.field("lever-drift"), "60")
        self.arrived()
        self.assertIn("it creeps", self.bench.pages[1].words.text())
        self.type_into(self.field("shape-dead"), "15 %")
        self.assertAlmostEqual(self.control.throttle.dead, 0.15)
        self.assertNotIn("it creeps", self.bench.pages[1].words.text())
        self.type_into(self.field("ramp-ramp_up_s"), "0.6 s")
        self.assertEqual(self.choice.ramp_up_s, 0.6)

    def test_a_second_lever_and_a_converter(self):
        self.bench.show_target("throttle")
        for which, kind in (("brake", "hall"), ("gives", "pulse")):
            box = self.field(f"throttle-{which}", QComboBox)
            box.setCurrentIndex(box.findData(kind))
            box.activated.emit(box.currentIndex())
            self.app.processEvents()
        self.type_into(self.field("brake-high"), "3,7 V")
        self.type_into(self.field("gives-high"), "1900 µs")
        throttle = self.control.throttle
        self.assertEqual((throttle.brake.kind, throttle.brake.high, throttle.gives.high), ("hall", 3.7, 1900.0))
        self.type_into(self.field("brake-low"), "lots")
        self.assertIn("accepted", self.message())
        self.assertIsNone(self.control.throttle.brake.low)

    def test_own_points_and_a_potentiometer_are_typed(self):
        self.bench.show_target("throttle")
        for name, value in (("curve", "points"), ("kind", "pot")):
            box = self.field(f"throttle-{name}", QComboBox)
            box.setCurrentIndex(box.findData(value))
            box.activated.emit(box.currentIndex())
            self.app.processEvents()
        self.type_into(self.field("shape-points"), "0.3 0.1; 0.7")
        self.assertIn("pairs of lever and command", self.message())
        self.type_into(self.field("shape-points"), "0,3 0,1; 0.7 0.05")
        self.assertIn("never falling", self.message())
        self.type_into(self.field("shape-points"), "0,3 0,1; 0.7 0.5")
        self.assertEqual(self.control.throttle.points, ((0.3, 0.1), (0.7, 0.5)))
        self.type_into(self.field("lever-ohms"), "100 kohm")
        self.assertIn("1 to 20 kΩ", self.bench.pages[1].words.text())

    def test_what_was_seen_when_it_failed(self):
        self.bench.show_target("when")
        box = self.field("seen-lost", QComboBox)
        box.setCurrentIndex(box.findData("drives"))
        box.activated.emit(box.currentIndex())
        self.arrived()
        finding = next(f for f in self.session.findings if f.code == "throttle.fails.lost")
        self.assertEqual(finding.status.value, "over")

    def test_sheets_out_and_back(self):
        for name in ("s.json", "s.csv", "s.pdf", "s.txt", "s.c"):
            self.bench.save(Path(self.folder) / name)
            self.assertTrue((self.folder / name).stat().st_size > 50, name)
        self.bench.save(Path(self.folder) / "s.doc")
        self.assertIn("accepted", self.message())
        data = json.loads((self.folder / "s.json").read_text())
        next(line for line in data["settings"] if line["key"] == "motor_a")["value"] = 70.0
        (self.folder / "s.json").write_text(json.dumps(data))
        with mock.patch.object(QFileDialog, "getOpenFileName", lambda *a, **k: (str(self.folder / "s.json"), "")):
            self.bench.ask_compare()
        self.wait_until(lambda: not self.bench.busy and self.bench.compare.differences != ())
        self.assertEqual([d.key for d in self.bench.compare.differences], ["motor_a"])
        self.click(self.field("take-motor_a", QPushButton))
        self.assertEqual(self.choice.motor_current_a, 70.0)

    def test_a_sheet_with_other_heads_asks_for_them_once(self):
        path = self.folder / "other.csv"
        path.write_text("Name;Wert\nmotor amps;60\n")
        asked = []

        def item(_parent, _title, words, heads, *_more):
            asked.append(words)
            return ("Name" if "names" in words else "Wert"), True

        with mock.patch.object(QInputDialog, "getItem", item):
            self.bench.compare.read(path)
            self.bench.compare.read(path)
        self.assertEqual(len(asked), 2)
        self.wait_until(lambda: not self.bench.busy)
        self.assertIn("motor_a", [d.key for d in self.bench.compare.differences])

    def test_the_ribbon_leads_here_and_a_mark_tells_its_reason(self):
        self.window.show_bench("drive")
        self.window.ribbon.asked.emit("controller")
        self.app.processEvents()
        self.assertTrue(self.bench.isVisible())
        box, bound = next((box, one) for box, one in self.drawing.limits.marks if one.code == "board.trip")
        self.assertIs(self.drawing.limits.mark_at(box.center()), bound)
        self.assertIn("four fifths", bound.because)

    def test_a_mode_in_view_holds_back_neither_sheet_nor_stand(self):
        self.show("Bittern", "A")
        whole = self.bench.found.setting("erpm").value
        self.session.try_apply(Edit(label="mode", changes=(("brief.mode", "path"),)))
        self.arrived()
        self.assertEqual(self.bench.found.setting("erpm").value, whole)
        self.assertEqual(self.bench.found.drive.states["full"].top_speed_m_s > 25 / 3.6, True)
        self.bench.show_target("test")
        self.assertEqual(self.bench.stand.stand.settings["motor_a"], 55.0)

    def test_boats_have_settings_and_no_rider_to_throw(self):
        self.show("Garganey", "A")
        self.assertIsNone(self.bench.found.feel)
        self.drawing.grab()
        self.assertIn("Motor amps 60 A", self.drawing.spoken())
        self.assertGreater(len(self.bench.table()), 15)


class StandTest(DeskTestCase):
    """The test stand: rehearsed with mouse and keys, refused, failed on purpose, a fault found, a recording kept."""

    runs = frozenset({"controller"})

    def setUp(self):
        super().setUp()
        self.window.show_bench("controller")
        self.bench = self.window.bench("controller")
        self.bench.show_target("test")
        self.app.processEvents()
        self.tab, self.bed = self.bench.stand, self.bench.bed

    def press(self, code):
        self.click(self.tab.buttons[code])

    def play(self, code):
        self.click(self.tab.rows[code][0])
        self.wait_until(lambda: not self.tab.busy)
        return self.tab.results[code]

    def armed(self):
        self.press("connect")
        self.wait_until(lambda: self.tab.stand.machine.seconds > 0.7)
        self.press("arm")
        self.assertTrue(self.tab.stand.armed)

    def test_wake_arm_and_push_the_lever(self):
        self.press("arm")
        self.assertIn("connect first", self.message())
        self.armed()
        self.press("low")
        self.assertEqual(self.tab.stand.settings["motor_a"], 13.0)
        self.bed.grab()
        slot = self.bed.lever_box
        top = QPointF(slot.center().x(), slot.top() + 0.2 * slot.height())
        QTest.mousePress(self.bed, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, top.toPoint())
        self.assertGreater(self.tab.stand.lever, 0.4)
        self.wait_until(lambda: self.tab.stand.machine.omega > 20.0)
        QTest.mouseRelease(self.bed, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, top.toPoint())
        self.assertEqual(self.tab.stand.lever, 0.0, "it springs back")
        self.bed.setFocus()
        for _ in range(3):
            QTest.keyClick(self.bed, Qt.Key.Key_Up)
        self.assertAlmostEqual(self.tab.stand.lever, 0.15)
        QTest.keyClick(self.bed, Qt.Key.Key_Space)
        self.assertEqual(self.tab.stand.lever, 0.0)
        self.assertIn("armed; lever", self.bed.spoken())

    def test_commissioning_from_the_first_step_to_the_last_failure(self):
        for code in self.tab.rows:
            result = self.play(code)
            self.assertTrue(result.passed, (code, result.words))
            self.assertTrue(self.tab.rows[code][1].text().startswith("○"))
        self.assertEqual(len(self.tab.results), 15)

    def test_a_fault_is_found_and_kept_for_the_person(self):
        box = self.tab.fault
        with mock.patch("random.Random.choice", lambda _self, _of: "phases_swapped"):
            box.setCurrentIndex(box.findData("by lot"))
            box.activated.emit(box.currentIndex())
        self.assertFalse(self.play("B5").passed)
        self.assertTrue(self.tab.rows["B5"][1].text().startswith("◆"))
        guess = self.tab.answer
        for code, words in (("delta", "Not kv off"), ("phases_swapped", "Yes, two phase leads swapped")):
            guess.setCurrentIndex(guess.findData(code))
            guess.activated.emit(guess.currentIndex())
            self.assertIn(words, self.tab.words.text())
        self.assertEqual(self.session.person.values.practised, ("phases_swapped",))
        self.assertNotIn("phases_swapped", repr(self.session.design))

    def test_what_may_not_be_is_refused_and_said(self):
        box = self.tab.fault
        box.setCurrentIndex(box.findData("blocked"))
        box.activated.emit(box.currentIndex())
        self.press("connect")
        self.press("detect")
        self.wait_until(lambda: not self.tab.busy)
        self.assertIn("Refused", self.tab.words.text())
        self.assertIn("free", self.tab.words.text())
        box.setCurrentIndex(0)
        box.activated.emit(0)
        self.armed()
        self.press("detect")
        self.wait_until(lambda: not self.tab.busy)
        self.assertIn("armed", self.tab.words.text())
        self.press("lanyard")
        self.assertFalse(self.tab.stand.armed)
        self.press("arm")
        self.assertIn("lanyard", self.message())

    def test_the_window_goes_on_while_the_stand_runs(self):
        self.armed()
        self.tab.push(0.5)
        before = self.tab.stand.machine.seconds
        self.wait_until(lambda: self.tab.stand.machine.seconds > before + 0.5)
        self.session.set_looks(unit_set="imperial", theme="dark")
        self.bed.grab()
        self.assertIn("°F", self.bed.spoken())
        self.window.show_bench("drive")
        self.app.processEvents()
        stood = self.tab.stand.machine.seconds
        for _ in range(20):
            self.app.processEvents()
        self.assertLess(self.tab.stand.machine.seconds, stood + 0.1, "out of sight it rests")

    def test_a_recording_is_written(self):
        self.armed()
        self.tab.push(0.3)
        self.wait_until(lambda: len(self.tab.stand.rows) > 60)
        self.tab.save(self.folder / "r.csv")
        lines = (self.folder / "r.csv").read_text().splitlines()
        self.assertTrue(lines[0].startswith("time [s],pack_v [V]"))
        self.assertGreater(len(lines), 60)

    def test_a_recording_is_scrubbed(self):
        self.armed()
        self.press("mode")
        for share in (0.4, 0.0):
            self.tab.push(share)
            self.tab.stand.run(1.5)
        self.bed.show_stand(self.tab.stand)
        self.bed.grab()
        lanes = self.bed.rect()
        self.click(self.bed, QPointF(0.80 * lanes.width(), 0.6 * lanes.height()))
        self.assertTrue(self.bed.frozen)
        shown = self.bed.last()["time"]
        self.tab.stand.run(0.5)
        self.bed.grab()
        self.assertEqual(self.bed.last()["time"], shown, "it stands still")
        self.assertLess(shown, self.tab.stand.machine.seconds - 0.4)
        self.bed.setFocus()
        QTest.keyClick(self.bed, Qt.Key.Key_Escape)
        self.assertFalse(self.bed.frozen)

    def test_the_levers_readings_are_taken_from_the_stand(self):
        self.armed()
        self.press("take")
        self.assertIn("pushed to its ends", self.message())
        for share in (1.0, 0.0, -1.0, 0.0):
            self.tab.push(share)
            self.tab.stand.run(0.4)
        self.press("take")
        lever = self.session.design.variant().control.throttle.lever
        self.assertEqual(lever.kind, "pulse")
        for value, wanted in ((lever.low, 1000), (lever.centre, 1500), (lever.high, 2000)):
            self.assertAlmostEqual(value, wanted, delta=4)

    def test_with_the_wheel_it_takes_longer(self):
        alone = self.tab.stand.machine.inertia
        self.press("coupled")
        self.assertGreater(self.tab.stand.machine.inertia, 1.05 * alone)
        self.assertEqual(self.tab.buttons["coupled"].text(), "Motor alone")

    def test_another_design_has_another_stand(self):
        first = self.tab.stand
        self.session.try_apply(Edit(label="amps", changes=(("variant.controller.motor_current_a", 50.0),)))
        self.wait_until(lambda: self.tab.stand is not first)
        self.assertEqual(self.tab.stand.settings["motor_a"], 50.0)
