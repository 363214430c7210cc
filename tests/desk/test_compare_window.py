"""Compare in its window: chips, what if, copy, work on another."""

from PySide6.QtCore import Qt
from PySide6.QtGui import QGuiApplication
from PySide6.QtTest import QTest

from tests.desk.case import DeskTestCase
from wattagon.design.paths import Edit


class CompareWindowTest(DeskTestCase):
    held = frozenset(
        {"pack", "wiring", "controller", "build", "strength", "ride", "commission", "layout", "winding", "log", "cures", "bands"}
    )

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
