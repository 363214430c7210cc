"""Compare in its window: chips, what if, copy, work on another."""

from dataclasses import replace

from PySide6.QtCore import Qt
from PySide6.QtGui import QGuiApplication
from PySide6.QtTest import QTest

from tests.desk.case import DeskTestCase
from wattagon.design.paths import Edit
from wattagon.desk.fields import ValueField


class CompareWindowTest(DeskTestCase):
    runs = frozenset()

    def setUp(self):
        super().setUp()
        self.bring("Dunlin", "B", "drive")
        self.window.compare_variants()
        self.view = self.window.comparing
        self.addCleanup(self.view.close)
        self.settled()

    def settled(self):
        self.wait_until(lambda: not self.view.worker.running)
        self.app.processEvents()

    def codes(self):
        return [one.code for one in self.view.found.sides]

    def rows(self):
        return {row[0]: row[1:] for row in self.view.table_view.table()}

    def test_the_active_one_and_its_neighbours_stand_there_first(self):
        self.assertEqual(self.codes(), ["B", "A", "C"])
        self.assertEqual(self.rows()["starts on"], ["30.5 %", "22.6 %", "13.3 %"])
        self.assertIn("B: top speed 41.8 km/h", self.view.edges.spoken())

    def test_chips_choose_and_too_few_say_so(self):
        self.click(self.view.chips["C"], self.view.chips["C"].rect().center().toPointF())
        self.settled()
        self.assertEqual(self.codes(), ["B", "A"])
        self.click(self.view.chips["A"], self.view.chips["A"].rect().center().toPointF())
        self.settled()
        self.assertIsNone(self.view.found)
        self.assertIn("Choose two to four", self.view.edges.spoken())

    def test_what_if_is_kept_nowhere(self):
        before = self.session.design
        self.view.what_if.setFocus()
        QTest.keyClicks(self.view.what_if, "variant.motor.kv_rpm_per_v=150; vehicle.rolling=0.02")
        QTest.keyClick(self.view.what_if, Qt.Key.Key_Return)
        self.settled()
        self.assertEqual(self.codes(), ["B", "A", "C", "what if"])
        self.assertEqual(self.rows()["kv"][-1], "150 rpm/V")
        self.assertEqual(self.rows()["rolling resistance"][-1], "0.02")
        self.assertIs(self.session.design, before)
        self.view.what_if.setText("variant.motor.kv_rpm_per_v=fast")
        QTest.keyClick(self.view.what_if, Qt.Key.Key_Return)
        self.assertIn("fast", self.view.says.text())
        self.assertEqual(self.view.what_if.text(), "variant.motor.kv_rpm_per_v=fast")

    def test_it_follows_edits_units_and_takes_another(self):
        self.session.try_apply(Edit(label="x", changes=(("variant.stages.0.driver_teeth", 16),)))
        self.settled()
        self.assertEqual(self.rows()["driver teeth"][0], "16")
        self.window.set_looks(units="imperial")
        self.app.processEvents()
        self.assertIn("mph", self.rows()["top speed, half full"][0])
        take = next(button for button in self.view.takes if button.text() == "Work on C")
        take.click()
        self.wait_until(lambda: self.session.design.active == "C")
        self.settled()
        self.assertEqual(self.codes()[0], "C")
        self.session.undo()
        self.assertEqual(self.session.design.active, "B")

    def test_with_no_vehicle_open_it_says_so(self):
        while self.session.docs:
            self.session.close_doc(0)
        self.app.processEvents()
        self.session.set_looks(theme="dark")
        self.app.processEvents()
        self.assertIsNone(self.view.found)
        self.assertIn("No vehicle is open", self.view.edges.spoken())

    def test_the_table_is_copied_and_both_pictures_paint(self):
        self.view.copy()
        lines = [line.split("\t") for line in QGuiApplication.clipboard().text().splitlines()]
        self.assertTrue(all(len(line) == 4 for line in lines))
        self.session.set_looks(theme="dark")
        self.assertGreater(self.view.grab().width(), 800)

    def test_all_are_put_through_a_ride(self):
        self.assertFalse(self.view.rides.isVisible())
        self.view.run.setCurrentIndex(self.view.run.findData("hill"))
        self.view.run.activated.emit(self.view.run.currentIndex())
        self.settled()
        self.assertTrue(self.view.rides.isVisible())
        self.assertIn("the top speed was reached", self.rows()["how it ended"][0])
        self.assertIn("B ", self.view.rides.spoken())
        self.view.rides.repaint()
        self.assertEqual(self.rows()["hottest winding"][0][-2:], "°C")

    def test_found_drives_stand_beside_the_variant_and_cannot_be_worked_on(self):
        design = self.session.design
        other = replace(design, variants=(*design.variants, replace(design.variant("A"), id="F", name="found 1")), active="F")
        self.window.bench("finder").side_by_side.emit([("found 1", other)])
        self.settled()
        self.assertEqual(self.codes(), ["B", "found 1"])
        self.assertEqual([button.text() for button in self.view.takes], [])
        self.assertIn("found 1", self.view.chips)


class SchoolsTest(DeskTestCase):
    runs = CompareWindowTest.runs

    def setUp(self):
        super().setUp()
        self.bring("Dunlin", "B", "drive")
        self.window.compare_variants()
        self.view = self.window.comparing.schools
        self.addCleanup(self.window.comparing.close)
        self.window.comparing.tabs.setCurrentWidget(self.view)

    def search(self):
        QTest.mouseClick(self.view.search, Qt.MouseButton.LeftButton)
        self.wait_until(lambda: not self.view.worker.running)
        self.app.processEvents()

    def rows(self):
        return {row[0]: row[1:] for row in self.view.table_view.table()}

    def test_they_are_searched_on_demand_and_one_is_kept_as_a_variant(self):
        self.assertEqual(self.rows(), {})
        self.search()
        self.assertIn("one belt", self.view.table_view.heads)
        self.assertIn("does not search rollers", self.rows()["drive"][5])
        before = len(self.session.design.variants)
        keep = next(button for button in self.view.keeps if button.text() == "Keep chain")
        QTest.mouseClick(keep, Qt.MouseButton.LeftButton)
        self.wait_until(lambda: len(self.session.design.variants) == before + 1)
        self.assertEqual(self.session.design.variant().name, "chain")
        self.session.doc.undo.undo()
        self.assertEqual(len(self.session.design.variants), before)

    def test_a_ready_made_one_is_told_and_stands_beside_them(self):
        self.search()
        QTest.mouseClick(self.view.fields.add, Qt.MouseButton.LeftButton)
        field = self.view.fields.findChild(ValueField, "ready-mass")
        field.setFocus()
        field.selectAll()
        QTest.keyClicks(field, "35 lb")
        QTest.keyClick(field, Qt.Key.Key_Return)
        self.assertAlmostEqual(self.session.design.brief.ready.mass, 15.8757, places=3)
        name = self.view.fields.words["name"]
        name.setText("shop board")
        name.editingFinished.emit()
        self.assertEqual(self.view.table_view.heads[-1], "shop board")
        self.assertEqual(self.rows()["the vehicle alone"][-1], "15.9 kg")
        QTest.mouseClick(self.view.fields.add, Qt.MouseButton.LeftButton)
        self.assertIsNone(self.session.design.brief.ready)
        self.assertNotIn("shop board", self.view.table_view.heads)

    def test_another_brief_makes_them_old(self):
        self.search()
        self.session.try_apply(Edit(label="goal", changes=(("brief.goals.cruise.speed", 8.0),)))
        self.assertIn("changed since", self.view.says.text())
        self.assertEqual(self.view.keeps, [])

    def test_a_boat_says_why_not(self):
        self.bring("Garganey", "A", "drive")
        self.search()
        self.assertIn("a vehicle on wheels", self.view.table_view.problem)
