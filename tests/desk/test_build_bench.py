"""Parts and steps in the real window: ticked, split, moved, ordered through the gate, water and dirt told, saved and undone."""

import datetime
from unittest import mock

from PySide6.QtCore import QPointF, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QComboBox, QFileDialog, QInputDialog, QLabel, QLineEdit, QPushButton

from tests.desk.case import DeskTestCase
from wattagon.design.paths import Edit
from wattagon.design.quantity import Known, Quantity
from wattagon.design.tree import PartState, StepState
from wattagon.study.build.gathered import unbuilt


class BuildBenchTest(DeskTestCase):
    runs = frozenset({"build", "cures"})

    def setUp(self):
        super().setUp()
        self.show("Dunlin", "B")

    def show(self, vehicle, variant, *, bare=True):
        self.bench = self.bring(vehicle, variant, "build")
        if bare:
            plain = unbuilt(self.session.design)
            self.session.apply(Edit(label="nothing done yet", changes=(("variants", plain.variants),)))
        self.arrived()

    def arrived(self):
        stale = self.session.schedule.stale
        self.wait_until(lambda: self.bench.found is not None and "build" not in stale)
        self.app.processEvents()
        self.bench.picture.grab()

    @property
    def build(self):
        return self.session.design.variant().build

    def task(self, code):
        return self.bench.found.task(code)

    def field(self, name, kind=QLineEdit):
        found = self.bench.findChild(kind, name)
        self.assertIsNotNone(found, name)
        return found

    def type(self, name, text):
        field = self.field(name)
        self.type_into(field, text)
        return field

    # steps

    def test_a_step_is_chosen_by_a_click_and_ticked_by_space(self):
        calendar = self.bench.calendar
        self.click_on("set-rehearse")
        self.assertIn("Rehearse", self.bench.step_tab.name.text())
        QTest.keyClick(calendar, Qt.Key.Key_Space)
        self.app.processEvents()
        self.assertIs(self.task("set-rehearse").state, StepState.DONE)
        self.assertEqual(self.build.step("set-rehearse").date, datetime.date.today().isoformat())
        self.assertIn("1 of", self.bench.headline.text())
        self.session.undo()
        self.app.processEvents()
        self.assertIs(self.task("set-rehearse").state, StepState.OPEN)

    def click_on(self, code):
        """A click on what can be done today."""
        calendar = self.bench.calendar
        calendar.grab()
        for y in range(4, 46, 6):
            for x in range(10, calendar.width() - 10, 12):
                QTest.mouseClick(calendar, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, QPointF(x, y).toPoint())
                if calendar.chosen == code:
                    return
        self.fail(f"{code} is not among what can be done today")

    def test_arrows_walk_the_calendar_and_the_words_follow(self):
        calendar = self.bench.calendar
        calendar.setFocus()
        seen = {calendar.chosen}
        for _ in range(8):
            QTest.keyClick(calendar, Qt.Key.Key_Up)
        for _ in range(40):
            QTest.keyClick(calendar, Qt.Key.Key_Down)
            self.app.processEvents()
            seen.add(calendar.chosen)
            self.assertEqual(self.bench.step_tab.name.text(), self.task(calendar.chosen).step.title)
        self.assertEqual(seen | {calendar.shown[0].step.id}, {task.step.id for task in calendar.shown})
        self.assertIn("could roll on", calendar.spoken())

    def test_states_by_buttons(self):
        self.bench.show_target("pack-check")
        self.click(self.field("step-begun", QPushButton))
        self.assertIs(self.task("pack-check").state, StepState.BEGUN)
        self.click(self.field("step-done", QPushButton))
        self.assertIs(self.task("pack-check").state, StepState.DONE)
        self.click(self.field("step-open", QPushButton))
        self.assertIs(self.task("pack-check").state, StepState.OPEN)

    def test_a_measure_is_not_ticked_but_taken(self):
        self.bench.show_target("measure-vehicle-hub-bolt-circle")
        told = []
        self.session.told.connect(lambda words, refused: told.append((words, refused)))
        self.click(self.field("step-done", QPushButton))
        self.assertIn("entered as measured", told[-1][0])
        self.assertIsNone(self.build)
        asked = []
        self.bench.asked.connect(lambda bench, what: asked.append((bench, what)))
        self.click(self.field("step-bench", QPushButton))
        self.assertEqual(asked, [("brief", "vehicle.hub_bolt_circle")])

    def test_times_are_typed_carelessly(self):
        self.bench.show_target("mount-wheels")
        self.type("step-likely", "2,5")
        self.assertEqual(self.build.step("mount-wheels").likely, 2.5)
        self.type("step-high", "240 min")
        self.assertEqual(self.build.step("mount-wheels").high, 4.0)
        told = []
        self.session.told.connect(lambda words, refused: told.append(words))
        field = self.type("step-low", "often")
        self.assertTrue(field.property("refused"))
        self.assertIn("often", told[-1])
        self.type("step-low", "9 h")
        self.assertIn("rising", told[-1])
        self.type("step-low", "")
        self.assertIsNone(self.build.step("mount-wheels").low)
        self.type("step-by", "Ines")
        self.type("step-not_before", "2026-12-24")
        self.assertEqual((self.build.step("mount-wheels").by, self.build.step("mount-wheels").not_before), ("Ines", "2026-12-24"))
        self.type("step-not_before", "Christmas")
        self.assertIn("Christmas", told[-1])
        self.assertEqual(self.build.step("mount-wheels").not_before, "2026-12-24")

    def test_hours_a_week_and_printers_move_the_end(self):
        before = self.bench.found.calendar.finish
        self.type("hours-a-week", "16")
        self.assertEqual(self.session.design.brief.workshop.hours_a_week, 16.0)
        self.assertLess(self.bench.found.calendar.finish, before)
        self.type("printers", "2")
        self.assertEqual(self.build.printers, 2)
        self.click(self.field("nights", QPushButton))
        self.assertFalse(self.build.nights)
        self.type("printers", "many")
        self.assertEqual(self.build.printers, 2)

    def test_split_rework_own_move_and_leave_out(self):
        tab = self.bench.step_tab
        self.bench.show_target("mount-wheels")
        self.assertTrue(tab.split("Left\nRight\n"))
        self.assertEqual([one.title for one in self.build.own_steps], ["Left", "Right"])
        self.assertFalse(tab.split("alone"))
        self.bench.show_target("print-guard")
        self.assertTrue(tab.rework("warped; 2 h; 1.50"))
        self.assertEqual((self.build.reworks[0].hours, self.build.reworks[0].cost), (2.0, 1.5))
        self.assertIn("warped", self.session.design.history[-1].text)
        self.assertFalse(tab.rework("warped; long; 1.50"))
        self.assertTrue(tab.own("paint the deck; 3 h"))
        self.assertEqual(self.build.own_steps[-1].after, ("print-guard",))
        self.bench.show_target("pack-check")
        self.assertTrue(tab.move_behind("cut-motor-plate"))
        self.assertIn("cut-motor-plate", self.task("pack-check").after)
        self.bench.show_target("cut-motor-plate")
        self.assertFalse(tab.move_behind("pack-wrap"))  # it would wait for itself
        tab.leave_out()
        self.assertNotIn("cut-motor-plate", [task.step.id for task in self.bench.found.tasks])
        tab.all_back()
        self.assertIn("cut-motor-plate", [task.step.id for task in self.bench.found.tasks])

    def test_another_way_is_chosen_where_the_tool_is_missing(self):
        self.session.apply(Edit(label="shop", changes=(("brief.workshop.stated", True),)))
        self.arrived()
        self.bench.show_target("cut-motor-plate")
        before = self.task("cut-motor-plate").hours[1]
        self.assertIn("tool:mill", self.task("cut-motor-plate").blocked)
        box = self.field("step-way", QComboBox)
        box.setCurrentIndex(box.findData("other"))
        box.activated.emit(box.currentIndex())
        self.assertGreater(self.task("cut-motor-plate").hours[1], before)
        self.assertNotIn("tool:mill", self.task("cut-motor-plate").blocked)

    def test_a_conversion_begins_with_what_is_taken_out(self):
        self.bench.takes_out("engine")
        self.arrived()
        self.assertIn("out-fuel", [task.step.id for task in self.bench.found.tasks])

    # parts

    def test_the_gate_asks_for_a_measure_or_a_reason(self):
        self.bench.show_target("driven-pulley-5m-72-wheel")
        tab = self.bench.parts_tab
        self.assertEqual(tab.part.row.id, "driven-pulley-5m-72-wheel")
        self.assertIn("hub bolt circle", self.field("part-measure", QPushButton).text())
        asked = []
        self.bench.asked.connect(lambda bench, what: asked.append((bench, what)))
        self.click(self.field("part-measure", QPushButton))
        self.assertEqual(asked, [("brief", "vehicle.hub_bolt_circle")])
        self.assertEqual(self.window.work.current, "brief")
        self.assertEqual(self.brief.measures.path, "vehicle.hub_bolt_circle")
        self.window.show_bench("build")
        with mock.patch.object(QInputDialog, "getText", return_value=("", False)):
            tab.mark(PartState.ORDERED)
        self.assertIsNone(self.build)
        told = []
        self.session.told.connect(lambda words, refused: told.append(words))
        with mock.patch.object(QInputDialog, "getText", return_value=("   ", True)):
            tab.mark(PartState.ORDERED)
        self.assertIn("hub_bolt_circle", told[-1])
        self.assertIsNone(self.build)
        with mock.patch.object(QInputDialog, "getText", return_value=("by the drawing", True)):
            tab.mark(PartState.ORDERED)
        self.assertEqual(self.build.part("driven-pulley-5m-72-wheel").reason, "by the drawing")
        self.assertIn("by the drawing", self.field("part-reason", QLabel).text())
        self.session.undo()
        self.assertIsNone(self.build)
        measured = Quantity(value=0.06, known=Known.MEASURED, date="2026-11-29")
        self.session.apply(Edit(label="measured", changes=(("vehicle.hub_bolt_circle", measured),)))
        self.arrived()
        self.bench.show_target("driven-pulley-5m-72-wheel")
        tab.mark(PartState.ORDERED)
        self.assertIs(self.build.part("driven-pulley-5m-72-wheel").state, PartState.ORDERED)

    def test_an_edit_by_path_does_not_pass_the_gate_either(self):
        from wattagon.design.tree import Build, PartMark

        mark = PartMark(id="driven-pulley-5m-72-wheel", state=PartState.ORDERED)
        self.assertFalse(self.session.try_apply(Edit(label="forged", changes=(("variant.build", Build(parts=(mark,))),))))
        self.assertIsNone(self.build)

    def test_money_moves_with_what_is_ordered_and_paid(self):
        self.bench.show_target("parts")
        row = next(part.row.id for part in self.bench.found.parts if part.row.kind == "controller")
        self.bench.parts_tab.choose(row)
        self.bench.parts_tab.mark(PartState.ORDERED)
        spent = self.bench.found.spent
        self.assertGreater(spent, 0.0)
        self.type("part-price", "100 EUR")
        self.assertAlmostEqual(self.bench.found.spent, 200.0)
        self.type("part-lead_days", "20")
        self.type("part-seller", "the shop by the canal")
        self.assertEqual(self.build.part(row).seller, "the shop by the canal")
        self.assertEqual(self.bench.found.part(row).lead_days, 20)
        self.type("part-price", "cheap")
        self.assertEqual(self.build.part(row).price, 100.0)
        self.assertIn("200 EUR spent", self.bench.purse.spoken())

    def test_a_row_of_ones_own(self):
        tab = self.bench.parts_tab
        self.assertTrue(tab.own("Basket; 1; 30; 0.8 kg"))
        own = self.session.design.variant().own_parts[0]
        self.assertEqual((own.id, own.price, own.mass), ("basket", 30.0, 0.8))
        self.arrived()
        self.assertIn("own-basket", [part.row.id for part in self.bench.found.parts])
        self.assertFalse(tab.own(" ; 1"))
        self.assertFalse(tab.own("Lamp; few"))

    # water and dirt

    def test_places_are_told_and_judged(self):
        self.show("Garganey", "A")
        self.bench.show_target("wet")
        tab = self.bench.wet_tab
        self.bench.wet.choose("box")
        box = self.field("wet-seal", QComboBox)
        box.setCurrentIndex(box.findData("no"))
        box.activated.emit(box.currentIndex())
        self.assertEqual(self.session.design.variant().wet.place("box").seal, "no")
        self.assertIn("no seal", tab.said.text())
        self.type("wet-squeeze", "20 %")
        self.assertAlmostEqual(self.session.design.variant().wet.place("box").squeeze.value, 0.2)
        self.type("wet-squeeze", "hard")
        self.assertAlmostEqual(self.session.design.variant().wet.place("box").squeeze.value, 0.2)
        box = self.field("wet-tested", QComboBox)
        box.setCurrentIndex(box.findData("air"))
        box.activated.emit(box.currentIndex())
        for name, text in (("volume", "2"), ("drop", "20 mbar"), ("seconds", "60 s")):
            self.type(f"wet-{name}", text)
        place = next(one for one in tab.wet.places if one.code == "box")
        self.assertAlmostEqual(place.leak, 39.48, delta=0.02)
        self.assertIn("39.5 ml/min", tab.said.text())
        self.assertIn("not charged", tab.after.text())
        QTest.keyClick(self.bench.wet, Qt.Key.Key_Down)
        self.assertNotEqual(self.bench.wet.chosen, "box")

    # paper

    def test_saved_as_paper_table_and_calendar(self):
        for name, begins in (("a.pdf", b"%PDF"), ("a.csv", b"id,name"), ("a.ics", b"BEGIN:VCALENDAR")):
            with mock.patch.object(QFileDialog, "getSaveFileName", return_value=(str(self.folder / name), "")):
                self.bench.ask_save()
            self.assertTrue((self.folder / name).read_bytes().startswith(begins))
        told = []
        self.session.told.connect(lambda words, refused: told.append(words))
        self.bench.save(self.folder / "a.doc")
        self.assertIn(".pdf, .csv, .ics", told[-1])
        self.assertGreater(len(self.bench.table()), 20)
        self.bench.show_target("parts")
        self.assertEqual(len(self.bench.table()), 1 + len(self.bench.found.parts))

    def test_a_mark_does_not_wait_for_the_gathering(self):
        """What a hand does shows at once, from what was gathered before."""
        base = self.bench.found.base
        self.bench.show_target("pack-check")
        self.bench.step_tab.mark(StepState.DONE)
        self.assertIs(self.bench.found.base, base)
        self.assertIs(self.task("pack-check").state, StepState.DONE)

    def test_it_looks_well_in_every_size_and_scheme(self):
        for theme in ("light", "dark"):
            for size in ((1100, 700), (1280, 800)):
                self.session.set_looks(theme=theme, unit_set="imperial" if theme == "dark" else "metric")
                self.window.resize(*size)
                self.arrived()
                for page in ("steps", "parts", "wet"):
                    self.bench.show_target(page)
                    self.app.processEvents()
                    self.assertFalse(self.bench.picture.grab().isNull())
                    self.assertLessEqual(self.bench.width(), size[0])


class DoubtTest(DeskTestCase):
    runs = frozenset({"build", "bands"})

    def test_what_to_measure_stands_before_the_orders_where_a_goal_is_doubtful(self):
        bench = self.bring("Dunlin", "B", "build")
        self.wait_until(lambda: bench.found is not None and "bands" not in self.session.schedule.stale)
        self.assertFalse(bench.doubt.isVisible(), "all of its parts are here")
        self.session.try_apply(Edit(label="A", changes=(("active", "A"), ("brief.goals.cruise.speed", 16.1))))
        self.wait_until(lambda: bench.doubt.isVisible(), 60.0)
        self.assertRegex(bench.doubt.text(), r"Before you order: measure .+, \d+ min")
        asked = []
        bench.asked.connect(lambda code, what: asked.append((code, what)))
        bench.doubt.click()
        self.assertEqual(len(asked), 1)
