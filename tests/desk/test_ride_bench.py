"""The ride bench, worked with mouse and keys: runs, scrubbing, playing, laying over, conditions, courses."""

import csv
import time
from pathlib import Path

from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtGui import QImage
from PySide6.QtTest import QTest

from tests.desk.case import DeskTestCase
from wattagon.design import file
from wattagon.design.paths import Edit
from wattagon.design.tree import CourseLeg
from wattagon.desk.ride.bench import RideBench
from wattagon.physics.ride.names import Col, End, Stat
from wattagon.study.findings.status import Status
from wattagon.study.ride.study import STANDARD, Ask, ride


class RideTestCase(DeskTestCase):
    def setUp(self):
        super().setUp()
        self.window.show_bench("ride")
        self.ride_settled()

    @property
    def bench(self) -> RideBench:
        bench = self.window.bench("ride")
        assert isinstance(bench, RideBench)
        return bench

    @property
    def book(self):
        return self.bench.book

    def ride_settled(self):
        self.wait_until(lambda: not self.book.running and self.book.current is not None)
        self.app.processEvents()

    def pick(self, run):
        self.bench.runs.setFocus()
        k = self.bench.runs.findData(run)
        self.bench.runs.setCurrentIndex(k)
        self.bench.runs.activated.emit(k)
        self.ride_settled()


class GearsTest(RideTestCase):
    def test_a_course_through_the_gears_shows_which_one_and_the_ribbon_follows(self):
        self.session.activate(next(k for k, doc in enumerate(self.session.docs) if doc.design.vehicle.name == "Bittern"))
        self.session.apply(Edit(label="Show variant", changes=(("active", "D"),)))
        self.pick("hide-supply")
        shown = self.book.current
        figures = {what: value for what, value, _ in self.bench.story.figures(shown)}
        self.assertRegex(figures["Shifted"], r"\d+ times")
        gears = shown.run.column(Col.GEAR).astype(int)
        for gear in (2, 8):
            row = int((gears == gear).nonzero()[0][-1])
            self.session.scrub(shown, row)
            self.app.processEvents()
            cog = self.session.design.variant().gears.cogs[gear - 1]
            self.assertIn(f": {cog}", " ".join(link.what for link in self.window.ribbon.links()))
        wide = self.bench.fields["brief.conditions.start_charge"]
        self.assertGreaterEqual(wide.width(), 52)


class RunTest(RideTestCase):
    def test_runs_give_what_the_terminal_gives(self):
        self.assertEqual(self.book.current.ask.run, "start")
        self.pick("levee-round")
        shown = self.book.current
        again = ride(self.session.design, self.session.stock, Ask(run="levee-round"))
        self.assertEqual(shown.energy_wh, again.energy_wh)
        self.assertIs(shown.run.end, End.ARRIVED)
        figures = {what: value for what, value, _ in self.bench.story.figures(shown)}
        self.assertEqual(figures["Distance"], self.session.say(shown.distance_m, "distance"))

    def test_an_edit_rides_again_and_shows_what_was(self):
        before = self.book.current
        self.session.apply(Edit(label="x", changes=(("variant.stages.0.driver_teeth", 18),)))
        self.assertTrue(self.book.stale)
        self.ride_settled()
        self.assertIs(self.book.before, before)
        self.assertGreater(self.book.current.run.stat(Stat.PEAK_SPEED), before.run.stat(Stat.PEAK_SPEED) + 1.0)
        self.assertTrue(any(change.startswith("was ") for _, _, change in self.bench.story.figures(self.book.current)))
        self.session.undo()
        self.ride_settled()
        self.assertEqual(self.book.current.time_s, before.time_s)

    def test_speed_and_grade_are_typed_and_refused(self):
        self.pick("hold-grade")
        held = self.book.current.run.stat(Stat.TIME)
        self.type_into(self.bench.grade, "5 %")
        self.ride_settled()
        self.assertEqual(self.book.current.grade, 0.05)
        self.assertGreater(self.book.current.run.stat(Stat.TIME), held)
        self.type_into(self.bench.grade, "80 %")
        self.assertIn("80 %", self.message())
        self.assertEqual(self.book.ask.grade, 0.05)
        self.bench.grade.selectAll()
        QTest.keyClick(self.bench.grade, Qt.Key.Key_Delete)
        QTest.keyClick(self.bench.grade, Qt.Key.Key_Return)
        self.ride_settled()
        self.assertIsNone(self.book.ask.grade)

    def test_conditions_belong_to_the_brief_and_change_the_ride(self):
        self.pick("hold-grade")
        cool = self.book.current.run.stat(Stat.TIME)
        self.type_into(self.bench.fields["brief.conditions.air_temperature"], "38")
        self.ride_settled()
        self.assertLess(self.book.current.run.stat(Stat.TIME), cool)
        self.assertEqual(self.session.design.brief.conditions.air_temperature.value, 38.0)
        self.type_into(self.bench.fields["brief.conditions.start_charge"], "20 %")
        self.ride_settled()
        self.assertAlmostEqual(float(self.book.current.run.trace[0, Col.CHARGE]), 0.20)

    def test_variants_and_kept_rides_lie_under_it(self):
        self.book.keep()
        self.book.lay_over("C")
        self.wait_until(lambda: len(self.book.kept) == 2)
        self.assertEqual([kept.ride.resolved.variant.id for kept in self.book.kept], ["B", "C"])
        self.assertEqual(len(self.bench.lanes.rides()), 3)
        self.bench.list_over()
        labels = [action.text() for action in self.bench.over.menu().actions()]
        self.assertIn("Variant A First idea", labels)
        next(action for action in self.bench.over.menu().actions() if action.text() == "All variants").trigger()
        self.wait_until(lambda: "variant A" in [kept.name for kept in self.book.kept])
        self.book.drop_kept()
        self.assertEqual(len(self.bench.lanes.rides()), 1)

    def test_the_lanes_show_what_the_ride_may_come_to(self):
        self.pick("start")
        self.ride_settled()
        book = self.book
        self.wait_until(lambda: book.around is not None)
        self.bench.lanes.repaint()
        self.assertGreaterEqual(book.around.samples, 12)
        self.session.try_apply(Edit(label="kv", changes=(("variant.motor.kv_rpm_per_v", 150.0),)))
        self.wait_until(lambda: book.around is not None and not book.running)
        self.assertIs(book.current.design, self.session.design)

    def test_another_vehicle_starts_anew(self):
        self.pick("levee-round")
        self.session.activate(1)
        self.ride_settled()
        self.assertEqual(self.book.ask.run, "start")
        self.assertEqual(self.book.current.resolved.variant.id, self.session.design.variant().id)
        self.assertGreaterEqual(self.bench.runs.findData("boardwalk"), 0)


class MenuTest(DeskTestCase):
    def test_the_ride_menu_reaches_the_bench_from_anywhere(self):
        from wattagon.desk.ride.actions import RUNS

        self.assertEqual(dict(RUNS), STANDARD)
        actions = {action.text(): action for action in self.window.commands}
        actions["&3 Hold the goal grade"].trigger()
        bench = self.window.bench("ride")
        self.assertIs(self.window.stack.currentWidget(), bench)
        self.wait_until(lambda: not bench.book.running and bench.book.current is not None)
        self.assertEqual(bench.book.current.ask.run, "hold-grade")
        actions["&Keep this ride under the next"].trigger()
        self.assertEqual(len(bench.book.kept), 1)
        actions["&New course"].trigger()
        self.assertTrue(bench.editor.isVisible())
        self.assertIn("course-1", [course.id for course in self.session.design.brief.courses])
        actions["&Play the ride"].trigger()
        self.wait_until(lambda: not bench.book.running)
        self.assertTrue(actions["Save the ride as &CSV …"].isEnabled())


class ScrubTest(RideTestCase):
    def setUp(self):
        super().setUp()
        self.pick("levee-round")

    def test_a_press_moves_the_moment_and_every_view_follows(self):
        lanes = self.bench.lanes
        plot = lanes.axes[0].rect
        self.click(lanes, QPointF(plot.left() + 0.06 * plot.width(), plot.center().y()))
        row, ride_ = lanes.row, self.book.current
        at = ride_.run.trace[row]
        self.assertAlmostEqual(self.session.moment.speed_m_s, at[Col.SPEED])
        self.assertAlmostEqual(self.session.point.pack_a, at[Col.PACK_A], delta=0.01)
        self.assertAlmostEqual(self.session.point.bus_v, at[Col.BUS_V], delta=0.001)
        self.assertGreater(self.session.moment.grade, 0.1)
        words = self.window.ribbon.heat_words(self.session.point, 6)
        self.assertIn(self.session.say(float(at[Col.WINDING]), "temperature"), words[2][0])
        start = QPoint(int(plot.left() + 20), int(plot.center().y()))
        QTest.mousePress(lanes, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, start)
        QTest.mouseMove(lanes, start + QPoint(250, 0))
        QTest.mouseRelease(lanes, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, start + QPoint(250, 0))
        self.assertGreater(lanes.row, row)

    def test_keys_step_and_space_plays(self):
        lanes = self.bench.lanes
        lanes.setFocus()
        QTest.keyClick(lanes, Qt.Key.Key_Home)
        self.assertEqual(lanes.row, 0)
        QTest.keyClick(lanes, Qt.Key.Key_Right)
        self.assertEqual(lanes.row, 4)
        QTest.keyClick(lanes, Qt.Key.Key_Space)
        self.assertTrue(lanes.playing)
        self.wait_until(lambda: lanes.row > 20)
        QTest.keyClick(lanes, Qt.Key.Key_Space)
        self.assertFalse(lanes.playing)
        QTest.keyClick(lanes, Qt.Key.Key_End)
        self.assertEqual(lanes.row, len(self.book.current.run.trace) - 1)

    def test_the_moment_leaves_the_ride_when_the_map_or_the_design_asks(self):
        self.session.scrub(self.book.current, 200)
        self.session.set_moment(speed_m_s=3.0)
        self.assertIsNone(self.session.moment.ridden)
        self.session.scrub(self.book.current, 200)
        self.session.apply(Edit(label="x", changes=(("variant.controller.motor_current_a", 60.0),)))
        self.assertIsNone(self.session.moment.ridden)
        self.assertIsNone(self.bench.lanes.row)

    def test_equal_state_paints_an_equal_picture_and_units_change_it(self):
        self.session.scrub(self.book.current, 300)
        first, second = (self.bench.lanes.grab().toImage() for _ in range(2))
        self.assertEqual(first, second)
        self.session.set_looks(unit_set="imperial")
        self.app.processEvents()
        self.assertNotEqual(self.bench.lanes.grab().toImage(), first)

    def test_export_of_the_picture_and_the_table(self):
        svg, table = self.folder / "ride.svg", self.folder / "ride.csv"
        self.assertTrue(self.window.export_to(svg))
        self.assertIn("<svg", svg.read_text(encoding="utf-8"))
        self.assertTrue(self.window.export_to(self.folder / "ride.png"))
        self.assertFalse(QImage(str(self.folder / "ride.png")).isNull())
        self.bench.write_csv(table)
        with table.open(encoding="utf-8") as stream:
            rows = list(csv.reader(stream))
        self.assertEqual(len(rows) - 1, len(self.book.current.run.trace))
        self.assertIn("speed [km/h]", rows[0])
        speed = rows[0].index("speed [km/h]")
        self.assertAlmostEqual(float(rows[400][speed]), 3.6 * self.book.current.run.trace[399, Col.SPEED], places=3)
        self.bench.write_csv(self.folder / "none" / "ride.csv")
        self.assertIn("cannot be saved", self.message())


class CourseTest(RideTestCase):
    def setUp(self):
        super().setUp()
        self.pick("levee-round")
        self.click(self.bench.courses, QPointF(8, 8))

    @property
    def course(self):
        return self.bench.editor.strip.course()

    def test_the_end_of_a_leg_is_dragged_as_one_undo_step(self):
        strip = self.bench.editor.strip
        before = self.course
        self.app.processEvents()
        strip.repaint()
        end = strip.ends[3].toPoint()
        QTest.mousePress(strip, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, end)
        for k in range(1, 6):
            QTest.mouseMove(strip, end + QPoint(6 * k, -3 * k))
        QTest.mouseRelease(strip, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, end + QPoint(30, -15))
        self.assertGreater(self.course.legs[2].length, before.legs[2].length)
        self.assertGreater(self.course.legs[2].grade, before.legs[2].grade)
        self.session.undo()
        self.assertEqual(self.course, before)

    def test_legs_are_typed_added_and_removed(self):
        strip = self.bench.editor.strip
        strip.choose(2)
        self.app.processEvents()
        field = self.bench.editor.findChild(type(self.bench.fields["brief.conditions.sun"]), "brief.courses.levee-round.legs.2.speed")
        self.type_into(field, "15 km/h")
        self.assertAlmostEqual(self.course.legs[2].speed, 15 / 3.6)
        n = len(self.course.legs)
        self.click(self.bench.editor.buttons["add"], QPointF(8, 8))
        self.assertEqual(len(self.course.legs), n + 1)
        self.assertEqual(strip.leg, 3)
        self.click(self.bench.editor.buttons["cut"], QPointF(8, 8))
        self.assertEqual(len(self.course.legs), n)
        strip.setFocus()
        grade = self.course.legs[strip.leg].grade
        QTest.keyClick(strip, Qt.Key.Key_Up)
        self.assertAlmostEqual(self.course.legs[strip.leg].grade, grade + 0.005)

    def test_a_new_course_a_track_and_a_deletion(self):
        editor = self.bench.editor
        editor.new_course()
        self.ride_settled()
        self.assertEqual(self.book.current.ask.run, "course-1")
        table = self.folder / "dyke.csv"
        table.write_text("distance_m,elevation_m\n0,0\n300,6\n600,0\n", encoding="utf-8")
        self.bench.import_course(table)
        self.wait_until(lambda: not self.bench.importing)
        self.ride_settled()
        self.assertEqual(self.book.ask.run, "dyke")
        self.assertAlmostEqual(self.book.current.distance_m, 600.0, delta=2.0)
        editor.show_course("dyke")
        editor.drop_course()
        self.assertNotIn("dyke", [course.id for course in self.session.design.brief.courses])
        self.session.undo()
        self.assertIn("dyke", [course.id for course in self.session.design.brief.courses])
        self.bench.import_course(Path(self.folder / "nothing.gpx"))
        self.wait_until(lambda: not self.bench.importing)
        self.assertIn("nothing.gpx", self.message())

    def test_a_track_that_is_given_up_changes_nothing(self):
        table = self.folder / "dyke.csv"
        table.write_text("distance_m,elevation_m\n0,0\n300,6\n600,0\n", encoding="utf-8")
        before = self.session.design
        self.bench.import_course(table)
        QTest.keyClick(self.bench, Qt.Key.Key_Escape)
        self.assertFalse(self.bench.importing)
        self.ride_settled()
        self.assertIs(self.session.design, before)
        self.assertIn("given up", self.message())

    def test_a_track_is_not_brought_into_another_vehicle(self):
        table = self.folder / "dyke.csv"
        table.write_text("distance_m,elevation_m\n0,0\n300,6\n600,0\n", encoding="utf-8")
        self.bench.import_course(table)
        self.session.activate(1)
        self.wait_until(lambda: not self.bench.importing)
        self.assertNotIn("dyke", [c.id for doc in self.session.docs for c in doc.design.brief.courses])
        self.assertIn("another vehicle", self.message())

    def test_the_ends_of_legs_and_grades_stay_within_what_a_file_holds(self):
        self.bench.editor.new_course()
        self.app.processEvents()
        strip = self.bench.editor.strip
        strip.setFocus()
        for key, presses, grade in ((Qt.Key.Key_Up, 105, 0.5), (Qt.Key.Key_Down, 185, -0.4)):
            for _ in range(presses):
                QTest.keyClick(strip, key)
            self.assertAlmostEqual(self.course.legs[0].grade, grade)
        self.session.undo()
        self.app.processEvents()
        for _ in range(12):
            end = strip.ends[1].toPoint()
            QTest.mousePress(strip, Qt.MouseButton.LeftButton, pos=end)
            QTest.mouseMove(strip, end + QPoint(20000, 0))
            QTest.mouseRelease(strip, Qt.MouseButton.LeftButton, pos=end + QPoint(20000, 0))
            self.app.processEvents()
        self.assertLessEqual(self.course.legs[0].length, 1e6)
        path = self.folder / "far.wattagon"
        self.session.save(path)
        self.assertEqual(file.read(path).design, self.session.design)

    def test_a_drag_goes_on_in_peace_when_its_leg_is_gone(self):
        strip = self.bench.editor.strip
        end = strip.ends[-1].toPoint()
        QTest.mousePress(strip, Qt.MouseButton.LeftButton, pos=end)
        self.session.apply(Edit(label="one leg", changes=((f"brief.courses.{strip.course_id}.legs", self.course.legs[:1]),)))
        QTest.mouseMove(strip, end + QPoint(-20, 3))
        QTest.mouseRelease(strip, Qt.MouseButton.LeftButton, pos=end)
        self.assertEqual(len(self.course.legs), 1)

    def test_a_course_of_thousands_of_legs_is_drawn_within_a_frame_or_two(self):
        legs = tuple(CourseLeg(length=25.0, grade=0.02 * ((k % 7) - 3)) for k in range(4000))
        self.session.apply(Edit(label="long", changes=((f"brief.courses.{self.bench.editor.strip.course_id}.legs", legs),)))
        strip = self.bench.editor.strip
        strip.grab()
        start = time.process_time()
        strip.grab()
        self.assertLess(time.process_time() - start, 0.5)  # generous: 4,000 single legs took longer by far


class OldRideTest(DeskTestCase):
    """A ride belongs to its design."""

    def setUp(self):
        super().setUp()
        self.window.show_bench("ride")
        self.bench = self.window.bench("ride")
        self.wait_until(lambda: self.bench.book.current is not None and not self.bench.book.running, 60)
        self.app.processEvents()

    def test_it_cannot_be_ridden_along_once_the_design_is_another(self):
        old, lanes = self.bench.book.current, self.bench.lanes
        lanes.step(40)
        self.assertEqual(lanes.row, 40)
        self.session.apply(Edit(label="direct", changes=(("variant.stages", ()),)))
        self.bench.book.cancel()
        for act in (
            lambda: lanes.step(10),
            lanes.play,
            lambda: lanes.seek(200.0),
            lambda: QTest.keyClick(lanes, Qt.Key.Key_End),
            lanes.tick,
        ):
            act()
            self.window.grab()
            self.assertIsNone(self.session.moment.ridden)
        self.assertFalse(lanes.playing)
        self.assertFalse(self.bench.play.isEnabled())
        self.session.scrub(old, 10)
        self.assertIsNone(self.session.moment.ridden)

    def test_undo_brings_back_the_design_and_its_ride(self):
        lanes = self.bench.lanes
        self.session.apply(Edit(label="x", changes=(("variant.pack.series", 9),)))
        self.session.undo()
        self.bench.book.cancel()
        lanes.step(10)
        self.assertEqual(lanes.row, 10)
        self.window.grab()

    def test_play_stops_at_an_edit(self):
        lanes = self.bench.lanes
        lanes.play()
        self.assertTrue(lanes.playing)
        self.session.apply(Edit(label="x", changes=(("variant.pack.series", 9),)))
        self.wait_until(lambda: not lanes.playing)
        self.assertEqual(self.session.moment.ridden, None)


class FindingTest(DeskTestCase):
    runs = frozenset({"ride", "cures"})

    def test_ride_findings_arrive_with_cures_that_were_ridden(self):
        self.all_settled()
        found = {f.code: f for f in self.session.findings}
        self.assertIn("ride.climb", found)
        self.assertNotIn("motor.heat_on_climb", found, "the ride answers the same question better")
        climb = found["ride.hot_day"]
        self.assertIs(climb.status, Status.TIGHT)
        self.assertTrue(climb.cures)
        self.assertIs(self.window.work.status_of("ride"), Status.TIGHT)
        self.session.apply(climb.cures[0].edit)
        self.all_settled()
        after = next(f for f in self.session.findings if f.code == "ride.hot_day")
        self.assertIs(after.status, climb.cures[0].status)
