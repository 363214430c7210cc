"""Why this number, in the real window: pointed at by key and by click, opened to the fields, followed there, copied."""

from PySide6.QtCore import QPoint, Qt
from PySide6.QtGui import QCursor, QGuiApplication
from PySide6.QtTest import QTest

from tests.desk.case import DeskTestCase
from wattagon.design.paths import Edit
from wattagon.desk.why.read import Read, number_at, numbers_of, written_on


class ReadTest(DeskTestCase):
    runs = frozenset()

    def setUp(self):
        super().setUp()
        self.bring("Dunlin", "B", "drive")
        self.app.processEvents()

    def test_labels_and_pictures_are_read_alike(self):
        texts = [one.text for one in written_on(self.window.centralWidget())]
        self.assertTrue(any("41.8 km/h" in text for text in texts), texts)
        self.assertTrue(any(text.startswith("15 : 72") for text in texts))
        self.assertIn("Vehicles", texts)

    def test_the_number_that_is_pointed_at_is_the_nearest(self):
        ribbon = self.window.ribbon
        two = next(one for one in written_on(ribbon) if one.text.count("A") and "V" in one.text)
        (left_v, right_v, volts), (left_a, right_a, amps) = numbers_of(two)[:2]
        for left, right, want in ((left_v, right_v, volts), (left_a, right_a, amps)):
            found = number_at(ribbon, QPoint(int((left + right) / 2), int(two.base) - 4))
            self.assertEqual(found.digits, want.digits)
        furthest = max(written_on(ribbon), key=lambda one: one.base)
        self.assertIsNone(number_at(ribbon, QPoint(ribbon.width() // 2, int(furthest.base) + 90)))


class WhyTest(DeskTestCase):
    runs = frozenset()

    def setUp(self):
        super().setUp()
        self.bring("Dunlin", "B", "drive")

    def open(self, name="", read=None):
        self.window.why().ask(self.window.work.current, read, name)
        view = self.window.why_window
        self.addCleanup(view.close)
        self.wait_until(lambda: view.numbers is not None and bool(view.shown))
        return view

    def rows(self, view, under=None):
        item = under or view.tree.invisibleRootItem()
        return [[item.child(k).text(column) for column in range(4)] for k in range(item.childCount())]

    def test_a_number_by_its_name_has_value_equation_terms_and_marks(self):
        view = self.open("motor.kt_dc_nm_per_a")
        self.assertIn("0.05718", view.value.text())
        self.assertEqual(view.equation.text(), "= 60 / (2π × kv)")
        self.assertEqual(self.rows(view), [["kv", "167 rpm/V", "measured", "100%"]])
        self.assertIn("between 0.0565 N m/A and 0.05786 N m/A", view.band.text())

    def test_a_band_that_no_derivative_gives_is_sampled(self):
        view = self.open("goals.cruise.reached")
        self.wait_until(lambda: "between" in view.band.text())
        low, high = (float(word) for word in view.band.text().replace("km/h", "").split("between ")[1].split(" and "))
        self.assertLess(low, 41.8)
        self.assertGreater(high, 41.8)
        view.show_number("states.nominal.no_load_speed_m_s")
        self.assertIn("no band", view.band.text())

    def test_it_opens_level_by_level_down_to_fields(self):
        view = self.open("states.nominal.top_speed_m_s")
        self.assertIn("41.8 km/h", view.value.text())
        top = view.tree.invisibleRootItem()
        volts = next(top.child(k) for k in range(top.childCount()) if "volts of the bridge" in top.child(k).text(0))
        volts.setExpanded(True)
        self.assertIn("= duty × volts at the controllers", volts.child(0).text(0))
        duty = volts.child(1)
        duty.setExpanded(True)
        self.assertGreater(duty.childCount(), 1, "a third level opens on demand")

    def test_what_is_pointed_at_is_found_by_its_digits_and_unit(self):
        view = self.open(read=Read("41.8", "km/h", "41.8 km/h"))
        told = [view.shown, *(view.others.item(k).text() for k in range(view.others.count()))]
        for name in ("states.nominal.top_speed_m_s", "goals.cruise.reached"):
            self.assertTrue(any(name in text for text in told), told)
        view.others.setCurrentRow(0)
        QTest.keyClick(view.others, Qt.Key.Key_Return)
        self.assertIn(view.shown, told[1])

    def test_a_number_that_nobody_worked_out_says_so(self):
        self.window.why().ask("drive", Read("41.83", "A", "41.83 A"))
        view = self.window.why_window
        self.addCleanup(view.close)
        self.wait_until(lambda: view.numbers is not None and "No number" in view.says.text())
        self.assertEqual(view.shown, "")
        self.assertFalse(view.copy_button.isEnabled())

    def test_a_field_leads_to_where_it_is_entered(self):
        view = self.open("wheel_radius_m")
        asked = []
        view.asked.connect(lambda bench, what: asked.append((bench, what)))
        view.tree.setCurrentItem(view.tree.topLevelItem(0))
        view.tree.setFocus()
        QTest.keyClick(view.tree, Qt.Key.Key_Return)
        self.assertEqual(asked, [("brief", "vehicle.tyre_diameter")])
        self.assertEqual(self.window.work.current, "brief")

    def test_it_follows_the_design_and_the_units(self):
        view = self.open("motor.kt_dc_nm_per_a")
        self.session.try_apply(Edit(label="kv", changes=(("variant.motor.kv_rpm_per_v", 140.0),)))
        self.wait_until(lambda: "0.06821" in view.value.text())
        self.assertEqual(self.rows(view)[0][1:3], ["140 rpm/V", "stated"])
        self.session.doc.undo.undo()
        self.wait_until(lambda: "0.05718" in view.value.text())
        view.show_number("wheel_radius_m")
        self.session.set_looks(unit_set="imperial")
        self.assertIn("in", view.value.text())

    def test_copy_gives_text_with_two_levels(self):
        view = self.open("mass_kg")
        QTest.mouseClick(view.copy_button, Qt.MouseButton.LeftButton)
        text = QGuiApplication.clipboard().text()
        self.assertIn("mass_kg = 98.2 kg", text)
        self.assertIn("vehicle.rider_mass", text)

    def test_typing_a_part_of_a_name_finds_it(self):
        view = self.open("mass_kg")
        QTest.keyClicks(view.search, "nominal.wheel torque")
        QTest.keyClick(view.search, Qt.Key.Key_Return)
        self.assertEqual(view.shown, "states.nominal.wheel_torque_nm")
        view.search.clear()
        QTest.keyClicks(view.search, "no such thing")
        QTest.keyClick(view.search, Qt.Key.Key_Return)
        self.assertIn("no such thing", view.says.text())

    def test_a_click_chooses_after_the_key_and_is_not_a_click_on_the_bench(self):
        before = self.session.moment
        QCursor.setPos(self.window.mapToGlobal(QPoint(3, 3)))
        self.window.show_why()
        self.assertTrue(self.window.pointing.going)
        ribbon = self.window.ribbon
        text = next(one for one in written_on(ribbon) if "N at the tread" in one.text)
        left, right, number = numbers_of(text)[0]
        QTest.mouseClick(ribbon, Qt.MouseButton.LeftButton, pos=QPoint(int((left + right) / 2), int(text.base) - 4))
        self.assertFalse(self.window.pointing.going)
        view = self.window.why_window
        self.addCleanup(view.close)
        self.wait_until(lambda: bool(view.shown))
        self.assertIn(number.digits, view.value.text())
        self.assertIn(view.shown, ("point.thrust_n", "point.load_n"), "at a held speed they are the same")
        self.assertEqual(self.session.moment, before)

    def test_escape_gives_pointing_up(self):
        self.window.pointing.begin()
        QTest.keyClick(self.window, Qt.Key.Key_Escape)
        self.assertFalse(self.window.pointing.going)
        self.assertIsNone(self.window.why_window)
