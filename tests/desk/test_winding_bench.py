"""Winding in the real window: a whole stator by keys with a break in between, options, readings, sensors, refusals."""

import math
import random

from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QImage
from PySide6.QtTest import QTest

from tests.desk.case import DeskTestCase
from wattagon.design.paths import Edit
from wattagon.design.quantity import Known
from wattagon.design.tree import ShelfItem
from wattagon.physics.winding.coil import Connection


class WindingBenchTest(DeskTestCase):
    runs = frozenset({"winding"})

    def setUp(self):
        super().setUp()
        self.show("Garganey", "B")

    def show(self, vehicle, variant):
        self.bench = self.bring(vehicle, variant, "winding")
        self.settled()

    def settled(self):
        self.wait_until(
            lambda: "winding" not in self.session.schedule.stale and not self.bench.busy and self.bench.drawing.found is not None
        )
        self.app.processEvents()
        self.bench.drawing.grab()

    @property
    def told(self):
        return self.session.design.variant().winding

    @property
    def picture(self):
        return self.bench.drawing

    def keys(self, *keys):
        for key in keys:
            QTest.keyClick(self.picture, key)
            self.app.processEvents()

    def type_in(self, field, text, key=Qt.Key.Key_Return):
        field.setFocus()
        field.selectAll()
        QTest.keyClick(field, Qt.Key.Key_Delete)
        QTest.keyClicks(field, text)
        QTest.keyClick(field, key)
        self.app.processEvents()

    # the work

    def test_a_whole_stator_by_keys_with_a_break_and_the_file_opened_again(self):
        order = [job.tooth for job in self.bench.found.guide.jobs]
        self.assertEqual(self.told.done, tuple(order[:6]))
        self.picture.setFocus()
        self.assertIn("Coil 7 of 12", self.picture.spoken())
        self.keys(*[Qt.Key.Key_Up] * 7)  # the rest of this coil's twelve turns
        self.assertEqual(self.told.turns_on, 12)
        self.keys(Qt.Key.Key_Up)
        self.assertEqual(self.told.turns_on, 12, "no more than there are")
        self.keys(Qt.Key.Key_Space)
        self.assertEqual((self.told.done, self.told.turns_on), (tuple(order[:7]), 0))
        self.keys(Qt.Key.Key_Space, Qt.Key.Key_Space, Qt.Key.Key_Up, Qt.Key.Key_Up, Qt.Key.Key_Up, Qt.Key.Key_Down)
        self.assertEqual((self.told.done, self.told.turns_on), (tuple(order[:9]), 2))
        # a break: the file is put away and opened again
        path = self.folder / "pod.wattagon"
        self.session.save(path)
        self.session.close_doc(self.session.docs.index(self.session.doc))
        self.app.processEvents()
        self.session.open(path)
        self.bench = self.bring("Garganey", "B", "winding")
        self.settled()
        self.assertEqual((self.told.done, self.told.turns_on), (tuple(order[:9]), 2))
        self.assertIn("Coil 10 of 12", self.picture.spoken())
        self.picture.setFocus()
        self.keys(Qt.Key.Key_Backspace)
        self.assertEqual(self.told.done, tuple(order[:8]))
        self.keys(*[Qt.Key.Key_Space] * 4)
        self.assertEqual(self.told.done, tuple(order))
        self.assertIn("All coils are wound", self.picture.spoken())
        self.assertIn("12 of 12 coils wound", self.bench.headline.text())
        self.keys(Qt.Key.Key_Space)
        self.assertEqual(self.told.done, tuple(order), "there is nothing left to tick")
        self.assertFalse(self.bench.wind.done.isEnabled())
        for _ in range(4):
            self.session.undo()
        self.assertEqual(self.told.done, tuple(order[:8]))
        self.session.redo()
        self.app.processEvents()
        self.assertEqual(self.told.done, tuple(order[:9]))
        self.assertIn("9 of 12", self.bench.headline.text())

    def test_a_tick_paints_its_coil(self):
        self.picture.setFocus()
        tooth = self.bench.found.guide.job.tooth
        spot = self.picture.spot_of(tooth)
        area = lambda: self.picture.grab().toImage().copy(int(spot.x()) - 34, int(spot.y()) - 34, 68, 68)
        before: QImage = area()
        self.keys(Qt.Key.Key_Space)
        self.assertNotEqual(before, area())

    def test_buttons_do_what_keys_do_and_random_keys_break_nothing(self):
        self.bench.tabs.setCurrentWidget(self.bench.wind)
        many = len(self.told.done)
        QTest.mouseClick(self.bench.wind.done, Qt.MouseButton.LeftButton)
        self.assertEqual(len(self.told.done), many + 1)
        QTest.mouseClick(self.bench.wind.back, Qt.MouseButton.LeftButton)
        self.assertEqual(len(self.told.done), many)
        pick = random.Random(5)
        used = (Qt.Key.Key_Space, Qt.Key.Key_Backspace, Qt.Key.Key_Up, Qt.Key.Key_Down, Qt.Key.Key_Left, Qt.Key.Key_Right)
        order = [job.tooth for job in self.bench.found.guide.jobs]
        for _ in range(60):
            self.keys(pick.choice(used))
            done = self.told.done
            self.assertEqual(done, tuple(order[: len(done)]))
            self.assertTrue(0 <= self.told.turns_on <= 12)

    def test_core_tests_are_typed_as_testers_say_them(self):
        self.bench.tabs.setCurrentWidget(self.bench.wind)
        field = self.bench.wind.tests["C", "before"]
        self.type_in(field, ">1.2 G")
        self.assertEqual([(one.phase, one.when, one.megohm) for one in self.told.tests][-1], ("C", "before", 1200.0))
        self.type_in(field, "plenty")
        self.assertIn("accepted: megohm, such as 500", self.message())
        self.assertEqual(field.text(), "plenty", "nothing is lost")
        self.type_in(field, "4")
        self.settled()
        self.wait_until(lambda: any(one.code == "winding.insulation" and "4 MΩ" in one.title for one in self.session.findings))
        self.assertIn("Caution", self.bench.wind.caution.text())

    # options

    def test_a_kv_an_option_the_drive_and_back(self):
        tab = self.bench.options
        was = self.session.design.variant().motor
        self.type_in(tab.kv, "140 rpm/V")
        self.settled()
        self.assertAlmostEqual(self.bench.found.wanted_kv, 140.0)
        rows = tab.rows
        rows.setFocus()
        rows.choose(0)
        QTest.keyClick(rows, Qt.Key.Key_Down)
        self.assertEqual(rows.at, 1)
        option = rows.option
        QTest.keyClick(rows, Qt.Key.Key_Return)
        self.settled()
        plan = self.told.plan
        self.assertEqual((plan.turns, plan.strands, plan.connection), (option.coils.turns, option.coils.strands, option.coils.connection))
        self.assertEqual(self.told.done, (), "another plan: nothing of it is wound")
        self.click(rows, QPointF(40, 18 + 19 * 0.5))
        self.assertEqual(rows.at, 0)
        tab.drive.click()
        self.settled()
        self.assertAlmostEqual(float(self.session.study.resolved.train.motor.kv_rpm_per_v), option.kv, places=6)
        self.assertEqual(self.told.was, was)
        self.assertIn("in the drive", self.bench.headline.text())
        tab.drop.click()
        self.settled()
        self.assertEqual(self.session.design.variant().motor, was)
        self.session.undo()
        self.assertEqual(self.told.was, was)

    def test_which_kv_fits_best_is_asked_from_the_finder(self):
        self.show("Dunlin", "B")
        self.assertIsNone(self.told)
        self.window.show_bench("finder")
        self.window.bench("finder").kv.click()
        self.wait_until(lambda: self.told is not None and self.told.kv is not None)
        self.assertIs(self.told.kv.known, Known.COMPUTED)
        self.settled()
        self.assertEqual(self.window.stack.currentWidget(), self.bench)
        self.assertTrue(self.bench.found.offers)
        self.assertAlmostEqual(self.bench.found.wanted_kv, self.told.kv.value)

    def test_careless_typing_is_refused_by_name_and_kept(self):
        tab = self.bench.options
        for text, words in (("fast", "wanted kv"), ("-3", "accepted: 1 to 20000 rpm/V"), ("5 kg", "wanted kv")):
            self.type_in(tab.kv, text)
            self.assertIn(words, self.message())
            self.assertEqual(tab.kv.text(), text)
        self.assertAlmostEqual(self.told.kv.value, 105.0)
        self.type_in(tab.kv, "")
        self.assertIsNone(self.told.kv)

    def test_an_owned_motor_is_looked_at_from_the_shelf(self):
        shelf = (*self.session.design.brief.shelf, ShelfItem(part="outrunner-63x74-190"))
        self.session.try_apply(Edit(label="shelf", changes=(("brief.shelf", shelf),)))
        brief = self.bring("Garganey", "B", "brief")
        tree = brief.shelf.tree
        rows = {tree.topLevelItem(k).text(0): tree.topLevelItem(k) for k in range(tree.topLevelItemCount())}
        self.assertFalse(brief.shelf.what.isEnabled())
        tree.setCurrentItem(next(row for name, row in rows.items() if name.startswith("Outrunner 63x74")))
        brief.shelf.what.click()
        self.settled()
        self.assertEqual(self.bench.found.base.part.id, "outrunner-63x74-190")
        self.assertIs(self.bench.tabs.currentWidget(), self.bench.before)
        box = self.bench.options.motor
        self.assertIn("on the shelf", box.currentText())
        self.assertEqual(self.session.design.variant().motor.part, "submerged-56x58-180")
        self.session.undo()
        self.settled()
        self.assertEqual(self.bench.found.base.part.id, "submerged-56x58-180")

    def test_any_motor_of_the_stock_can_be_looked_at(self):
        box = self.bench.options.motor
        names = [box.itemText(k) for k in range(box.count())]
        self.assertGreater(len(names), 30)
        self.assertFalse([name for name in names if "Brushed" in name])
        index = box.findData("outrunner-80x85-130")
        box.setCurrentIndex(index)
        box.activated.emit(index)
        self.settled()
        self.assertEqual(self.bench.found.base.part.id, "outrunner-80x85-130")
        self.assertEqual(self.told.done, (), "what was wound was another motor")
        self.assertEqual(box.currentData(), "outrunner-80x85-130")

    # stator, readings, sensors

    def test_a_measure_is_drawn_where_it_is_taken_and_changes_the_stator(self):
        self.bench.tabs.setCurrentWidget(self.bench.iron)
        field = self.bench.iron.iron["tooth"]
        field.setFocus()
        self.app.processEvents()
        self.assertEqual(self.picture.measure, "tooth")
        self.type_in(field, "0.25 in")
        self.settled()
        self.assertAlmostEqual(self.bench.found.base.iron.wound.tooth_m, 6.35e-3)
        self.picture.setFocus()
        self.app.processEvents()
        self.assertEqual(self.picture.measure, "")
        self.type_in(self.bench.iron.iron["slots"], "14")
        self.settled()
        self.assertIn("divide by 3", self.picture.spoken())
        self.wait_until(lambda: any(one.code == "winding.refused" and "14N14P" in one.title for one in self.session.findings), 60.0)

    def test_an_impossible_plan_leaves_the_motor_to_see_and_says_why(self):
        from wattagon.study.winding.enter import wound

        self.session.try_apply(wound(self.session.design, "plan", "strands", 60))
        self.settled()
        self.assertIn("turns and strands is 12 x 60", self.bench.headline.text())
        self.assertIsNone(self.bench.found.chosen)
        self.assertEqual(self.bench.found.base.iron.slots, 12)

    def test_readings_tell_what_it_is_and_enter_the_motor(self):
        self.bench.tabs.setCurrentWidget(self.bench.before)
        self.type_in(self.bench.before.fields["ab"], "0.42 V at 5 A")
        self.assertAlmostEqual(self.told.before.ab.value, 0.084)
        for name in ("bc", "ca"):
            self.type_in(self.bench.before.fields[name], "84 mohm")
        self.type_in(self.bench.before.fields["bc"], "0.42 V at 0 A")
        self.assertIn("above 0 A", self.message())
        self.type_in(self.bench.before.fields["bc"], "84 mohm")
        self.assertIn("between leads at 20 °C", self.bench.before.words.text())
        self.bench.before.take.click()
        self.app.processEvents()
        over = self.session.design.variant().motor.overrides
        self.assertIs(over["resistance_ohm"].known, Known.MEASURED)
        self.assertAlmostEqual(over["resistance_ohm"].value, 0.084 / (1 + 0.00393), delta=1e-5)
        self.session.undo()
        self.assertNotIn("resistance_ohm", self.session.design.variant().motor.overrides)

    def test_after_winding_a_delta_for_a_wye_is_named(self):
        tab = self.bench.after
        self.bench.tabs.setCurrentWidget(tab)
        one = self.bench.found.chosen
        self.type_in(tab.fields["rpm"], "1500")
        for name in ("v_ab", "v_bc", "v_ca"):
            self.type_in(tab.fields[name], f"{1500 / (one.kv * math.sqrt(3)) / math.sqrt(2):.3f} V")
        for name in ("ab", "bc", "ca"):
            self.type_in(tab.fields[name], f"{1e3 * one.ohm / 3:.2f} mohm")
        self.assertIn("joined in delta, not in wye", tab.words.text())
        self.assertIn("Decides: three ends in one joint are a wye", tab.words.text())
        self.wait_until(lambda: any(f.code.startswith("winding.read") and "delta" in f.because for f in self.session.findings))

    def test_sensors_by_the_teeth_they_sit_behind_and_codes_as_they_came(self):
        tab = self.bench.halls
        self.bench.tabs.setCurrentWidget(tab)
        self.assertEqual(tab.openings.text(), "1-5-9")
        self.type_in(tab.openings, "1 5 8")
        self.assertEqual(self.told.halls.openings, (0, 4, 7))
        self.assertIn("150.0 electrical degrees off", tab.words.text())
        self.type_in(tab.openings, "1-5")
        self.assertIn("three teeth, such as 1-5-9", self.message())
        self.type_in(tab.openings, "1-5-13")
        self.assertIn("1 to 12 each", self.message())
        self.type_in(tab.openings, "1, 5, 9")
        self.type_in(tab.codes, "101 100 110 010 011 001")
        self.assertIn("<b>in order</b>", tab.words.text())
        self.type_in(tab.codes, "101 100 111 010 011 001")
        self.assertIn("never comes", tab.words.text())

    def test_the_rotor_turns_by_keys_and_by_hand_and_the_code_follows(self):
        self.picture.setFocus()
        seen = []
        for _ in range(24):
            seen.append(self.picture.code())
            self.keys(Qt.Key.Key_Right)
        steps = [code for k, code in enumerate(seen) if code != seen[k - 1]]
        self.assertEqual(len(steps), 6)
        self.assertNotIn("000", steps)
        self.assertNotIn("111", steps)
        before = self.picture.turned_deg
        at = self.picture.magnet_spot
        QTest.mousePress(self.picture, Qt.MouseButton.LeftButton, pos=at(20.0).toPoint())
        for degrees in (23.0, 27.0, 30.0):
            QTest.mouseMove(self.picture, at(degrees).toPoint())
            self.app.processEvents()
        QTest.mouseRelease(self.picture, Qt.MouseButton.LeftButton, pos=at(30.0).toPoint())
        self.assertAlmostEqual((self.picture.turned_deg - before + 180) % 360 - 180, 70.0, delta=12.0)

    def test_a_tooth_is_pointed_at(self):
        self.click(self.picture, self.picture.spot_of(3))
        self.assertEqual(self.picture.tooth, 3)
        self.click(self.picture, self.picture.spot_of(3))
        self.assertEqual(self.picture.tooth, -1)

    def test_the_sheet_is_written_and_the_table_copied(self):
        for name in ("p.svg", "p.pdf"):
            self.bench.save(self.folder / name)
            self.assertGreater((self.folder / name).stat().st_size, 3000)
        table = self.bench.table()
        self.assertEqual(table[0][:4], ["turns", "strands", "wire", "connection"])
        self.assertIn(["12", "3", "0.5 mm", Connection.WYE.value], [row[:4] for row in table])
        self.show("Bittern", "A")
        self.assertEqual(self.bench.table()[0], ["what", "value"])
        self.assertGreater(len(self.bench.table()), 8)

    def test_long_names_narrow_window_imperial_and_dark_paint(self):
        self.session.set_looks(theme="dark", unit_set="imperial")
        self.window.resize(1100, 700)
        for k in range(self.bench.tabs.count()):
            self.bench.tabs.setCurrentIndex(k)
            self.app.processEvents()
            self.bench.grab()
        self.assertIn("in", self.bench.table()[1][2])
        self.assertGreater(self.bench.tabs.tabBar().height(), 20)
