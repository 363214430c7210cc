"""The bench of logs driven as its users would: dropped files, columns corrected, the ride scrubbed, values taken and undone."""

import unittest

import numpy as np
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtTest import QTest

from tests.desk.case import DeskTestCase
from tests.logs import ROUND, demo, ride_log
from tests.test_cli_log import csv_of
from wattagon.design import file
from wattagon.design.quantity import Known


class LogBenchTests(DeskTestCase):
    runs = frozenset()

    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        cls.table = csv_of(ride_log(demo(), ROUND, {"vehicle.rolling": 0.037}))

    def setUp(self) -> None:
        super().setUp()
        data = self.folder / "data"
        import os
        from unittest import mock

        self.enterContext(mock.patch.dict(os.environ, {"XDG_DATA_HOME": str(data)}))
        self.bench = self.bring("Dunlin", "B", "log")
        self.wait_until(lambda: self.bench.book.comparison is not None and not self.bench.busy and bool(self.bench.lanes.axes))

    def brought(self, text: str, name: str = "ride.csv") -> None:
        path = self.folder / name
        path.write_text(text)
        self.bench.open_file(path)
        self.wait_until(lambda: self.bench.book.offered is not None and not self.bench.busy)

    def test_the_demo_log_is_laid_over_its_prediction(self):
        lanes = self.bench.lanes
        self.assertEqual([one.channel for one in lanes.lanes()], ["speed", "pack_a", "motor_a", "motor_c", "bus_v"])
        self.assertIn("more than predicted", self.bench.says.statement.text())
        self.assertIn("energy", self.bench.says.figures.spoken())
        self.assertEqual(self.bench.table()[0], ["of the log", "measured", "predicted", "difference"])
        picture = self.bench.grab().toImage()
        self.assertGreater(len({picture.pixel(x, y) for y in range(60, 400, 7) for x in range(60, 600, 3)}), 8)

    def test_a_press_on_the_lanes_moves_the_moment_with_what_was_measured(self):
        lanes = self.bench.lanes
        axes = lanes.axes[1]
        self.click(lanes, QPointF(axes.rect.left() + 0.62 * axes.rect.width(), axes.rect.center().y()))
        ridden = self.session.moment.ridden
        self.assertIs(ridden.ride, self.bench.book.comparison.replay.ride)
        seen = self.bench.book.comparison.replay.seen
        self.assertAlmostEqual(ridden.measured["pack_a"], float(seen.columns["pack_a"][lanes.row]), delta=2.0)
        self.assertIn("thrust", ridden.measured)
        self.assertIn("measured", lanes.spoken())
        self.assertEqual(lanes.in_hand, "pack_a")
        before = lanes.row
        QTest.keyClick(lanes, Qt.Key.Key_Right)
        self.assertGreater(lanes.row, before)
        self.window.show_bench("drive")  # the map shows the measured force as a ring
        self.app.processEvents()
        self.assertFalse(self.window.grab().isNull())

    def test_learn_take_some_and_undo(self):
        self.click(self.bench.teach.learn)
        self.wait_until(lambda: self.bench.book.fit is not None and not self.bench.busy)
        picture = self.bench.teach.picture
        paths = [one.path for one in picture.told()]
        self.assertIn("vehicle.rolling", paths)
        self.assertIn("rolling resistance", picture.spoken())
        self.assertIn("not told", picture.spoken())
        self.app.processEvents()
        for k, path in enumerate(paths):
            if path != "vehicle.rolling":
                self.click(picture, picture.places[k][0].center())
        self.assertEqual(picture.chosen(), ["vehicle.rolling"])
        before = self.session.design
        self.click(self.bench.teach.take)
        self.assertEqual(self.session.design.vehicle.rolling.known, Known.FITTED)
        self.assertGreater(self.session.design.vehicle.rolling.value, before.vehicle.rolling.value)
        self.assertEqual(self.session.design.vehicle.drag_area, before.vehicle.drag_area)
        self.wait_until(lambda: not self.bench.busy and not self.bench.book.stale)
        self.assertLess(abs(self.bench.book.comparison.figure("energy").off), 0.08)
        self.session.undo()
        self.assertEqual(self.session.design, before)

    def test_a_file_is_looked_over_corrected_taken_in_saved_and_undone(self):
        self.brought(self.table.replace("speed [km/h]", "zzz", 1))
        columns = self.bench.columns
        self.assertIs(self.bench.tabs.currentWidget(), columns)
        row = next(k for k, one in enumerate(columns.columns) if one.head == "zzz")
        box = columns.table.cellWidget(row, 1)
        box.setCurrentIndex(box.findData("speed"))
        box.activated.emit(box.currentIndex())
        unit = columns.table.cellWidget(row, 2)
        unit.setCurrentIndex(unit.findData("km/h"))
        unit.activated.emit(unit.currentIndex())
        self.assertAlmostEqual(float(np.nanmax(self.bench.book.offered.data.column("speed"))), 8.5, delta=0.4)
        before = self.session.design
        self.click(columns.take)
        self.wait_until(lambda: not self.bench.busy and self.bench.book.comparison is not None)
        log = self.session.design.logs[-1]
        self.assertEqual((log.source, log.variant, self.bench.book.log_id), ("ride.csv", "B", log.id))
        self.assertEqual(self.session.design.history[-1].version, log.version)
        target = self.folder / "with.wattagon"
        self.session.save(target)
        self.assertIn(log.member, file.read(target).members)
        self.session.undo()
        self.assertEqual(self.session.design, before)
        self.brought(self.table.replace("speed [km/h]", "zzz", 1), "again.csv")  # what was told is remembered
        self.assertEqual(self.bench.columns.columns[row].channel, "speed")

    def test_a_wrong_unit_is_said_and_cleared_up_in_the_columns(self):
        self.brought(self.table.replace("speed [km/h]", "speed [m/s]", 1))
        self.click(self.bench.columns.take)
        self.wait_until(lambda: not self.bench.busy and self.bench.book.data is not None)
        self.assertIn("contradict", self.bench.says.statement.text())
        self.click(self.bench.teach.learn)
        self.wait_until(lambda: bool(self.bench.book.fit_problem) and not self.bench.busy)
        self.assertIn("3.6", self.bench.book.fit_problem)
        self.bench.columns.told_as(1, "speed", "km/h")
        self.wait_until(lambda: not self.bench.busy and not self.bench.book.stale)
        self.assertNotIn("contradict", self.bench.says.statement.text())

    def test_a_dropped_table_of_a_ride_goes_to_the_logs_and_a_course_to_the_ride(self):
        ride = self.folder / "ride.csv"
        ride.write_text(self.table)
        course = self.folder / "course.csv"
        course.write_text("distance_m,elevation_m\n0,3\n100,4\n200,3\n")
        self.window.show_bench("drive")
        self.window.take_files([ride])
        self.wait_until(lambda: self.bench.book.offered is not None)
        self.assertEqual(self.window.work.current, "log")
        self.window.show_bench("drive")
        self.window.take_files([course])
        self.assertEqual(self.window.work.current, "ride")
        self.all_settled()

    def test_what_is_no_log_is_refused_and_nothing_is_lost(self):
        path = self.folder / "bad.csv"
        path.write_text("words\nand\nwords\n")
        before = self.session.design
        self.bench.open_file(path)
        self.wait_until(lambda: "no row of numbers" in self.message())
        self.assertIs(self.session.design, before)
        self.assertIsNone(self.bench.book.offered)

    def test_the_stretch_is_drawn_by_hand(self):
        lanes = self.bench.lanes
        axes = lanes.axes[0]
        y = int(axes.rect.center().y())
        begin, end = QPoint(int(axes.rect.left() + 60), y), QPoint(int(axes.rect.left() + 260), y)
        QTest.mousePress(lanes, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.ShiftModifier, begin)
        lanes.mouseMoveEvent(_move(end))
        QTest.mouseRelease(lanes, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.ShiftModifier, end)
        learn = self.session.design.logs[0].learn
        self.assertEqual(len(learn), 1)
        self.assertGreater(learn[0].end - learn[0].begin, 100.0)
        self.bench.learn_from_all()
        self.assertEqual(self.session.design.logs[0].learn, ())

    def test_pack_and_wiring_are_loaded_by_it(self):
        self.click(self.bench.load)
        self.assertEqual(self.session.design.variant().measured_load.log, "l1")
        self.assertTrue(self.bench.load.isChecked())
        self.click(self.bench.load)
        self.assertIsNone(self.session.design.variant().measured_load)

    def test_conditions_are_typed_with_units_and_refused_in_a_sentence(self):
        self.bench.tabs.setCurrentWidget(self.bench.conditions)
        field = self.bench.conditions.fields["l1.headwind"]
        self.type_into(field, "5 mph")
        self.assertAlmostEqual(self.session.design.logs[0].headwind.value, 2.2352)
        self.type_into(field, "fresh")
        self.assertIn("Headwind", self.message())
        self.assertAlmostEqual(self.session.design.logs[0].headwind.value, 2.2352)

    def test_typed_runs_and_charges(self):
        self.assertTrue(self.bench.take_runs("0 to 20 km/h in 7 s, twice"))
        self.assertIn("20 km/h", self.bench.lanes.words())
        self.assertFalse(self.bench.take_runs("quickly"))
        self.assertTrue(self.bench.take_charge("0.52 kWh"))
        self.assertEqual(self.session.design.logs[-1].energy_wh, 520.0)

    def test_versions_are_told_when_they_are_looked_at(self):
        self.bench.tabs.setCurrentWidget(self.bench.versions)
        self.wait_until(lambda: bool(self.bench.book.versions) and not self.bench.busy)
        self.assertEqual(self.bench.book.versions[0].logs, ("l1",))
        self.assertFalse(self.bench.versions.picture.grab().isNull())

    def test_a_track_lies_along_and_is_moved_by_hand(self):
        bench = self.bring("Bittern", "A", "log")
        self.wait_until(lambda: bench.book.comparison is not None and not bench.busy and bench.book.log_id == "l1")
        self.assertEqual(len(bench.book.tracks), 1)
        self.assertEqual(bench.book.comparison.replay.seen.grades_from, "heights")
        offset = self.session.design.logs[1].offset
        bench.move_track(2.5)
        self.assertAlmostEqual(self.session.design.logs[1].offset, offset + 2.5)

    def test_a_vehicle_without_logs_says_what_to_do(self):
        bench = self.bench
        from wattagon.design.paths import Edit

        self.session.apply(Edit(label="none", changes=(("logs", ()),)))
        self.wait_until(lambda: not bench.busy)
        self.assertIn("Drop a table", bench.lanes.words())
        self.assertFalse(bench.teach.learn.isEnabled())
        self.assertFalse(self.window.grab().isNull())


def _move(at: QPoint):
    from PySide6.QtCore import QEvent
    from PySide6.QtGui import QMouseEvent

    buttons = Qt.MouseButton.LeftButton
    return QMouseEvent(QEvent.Type.MouseMove, QPointF(at), QPointF(at), buttons, buttons, Qt.KeyboardModifier.ShiftModifier)


if __name__ == "__main__":
    unittest.main()
