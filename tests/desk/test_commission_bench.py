"""Commissioning in the real window: figures typed carelessly, verdicts at once, the way stopped, signed, taken, reopened."""

from unittest import mock

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QFileDialog, QInputDialog, QLineEdit, QPushButton

from tests.desk.case import DeskTestCase
from wattagon.design.paths import Edit
from wattagon.study.build.gathered import unbuilt
from wattagon.study.commission.judge import Verdict


class CommissionBenchTest(DeskTestCase):
    runs = frozenset({"commission", "cures"})

    def setUp(self):
        super().setUp()
        self.show("Dunlin", "B")

    def show(self, vehicle, variant, *, bare=True):
        self.bench = self.bring(vehicle, variant, "commission")
        if bare:
            plain = unbuilt(self.session.design)
            self.session.apply(Edit(label="nothing read yet", changes=(("variants", plain.variants), ("history", ()))))
        self.arrived()

    def arrived(self):
        stale = self.session.schedule.stale
        self.wait_until(lambda: self.bench.found is not None and "commission" not in stale)
        self.app.processEvents()
        self.bench.drawing.grab()

    def step(self, code):
        return self.bench.found.step(code)

    def go(self, code):
        self.bench.show_target(code)
        self.app.processEvents()

    def type(self, name, text):
        field = self.bench.findChild(QLineEdit, f"read-{name}")
        self.assertIsNotNone(field, name)
        self.type_into(field, text)
        return self.bench.findChild(QLineEdit, f"read-{name}")

    def button(self, name):
        return self.bench.findChild(QPushButton, name)

    def test_figures_of_all_groups_in_one_line(self):
        self.type("group", "3.84 3,85 3840mV 3.83 3.84 3.85 3.84 3.84 3.84 3.85")
        self.assertIs(self.step("A1").verdict, Verdict.HELD if self.spread() <= 0.02 else Verdict.TIGHT)
        self.assertAlmostEqual(self.step("A1").seen.value("group 3"), 3.84)
        self.assertIn("1 of", self.bench.headline.text())

    def spread(self):
        values = [one.value for one in self.step("A1").seen.values]
        return round(max(values) - min(values), 6)

    def test_careless_typing_is_told_and_nothing_is_lost(self):
        told = []
        self.session.told.connect(lambda words, refused: told.append(words))
        self.type("group", "3.84 3.85")
        for text, word in (("3.84 volts all", "volts of 10 groups"), (" ".join(["3.8"] * 11), "11 figures"), ("3.84 x 3.85", "")):
            field = self.type("group", text)
            self.assertTrue(field.property("refused"), text)
            self.assertIn(word, told[-1])
        self.assertEqual(len(self.step("A1").seen.values), 2)
        field = self.bench.findChild(QLineEdit, "read-group")
        field.selectAll()
        QTest.keyClick(field, Qt.Key.Key_Delete)
        QTest.keyClick(field, Qt.Key.Key_Return)
        self.app.processEvents()
        self.assertEqual(self.step("A1").seen.values, ())
        self.go("A7")
        self.type("away", "6 in")
        self.assertAlmostEqual(self.step("A7").seen.value("away"), 0.1524)

    def test_a_failed_step_stops_the_way_and_leads_to_its_causes(self):
        self.type("group", "3.84 3.85 3.84 3.83 3.84 3.85 3.74 3.84 3.84 3.85 V")
        self.assertIs(self.step("A1").verdict, Verdict.FAILED)
        self.assertIn("stops the way", self.bench.headline.text())
        self.go("A2")
        self.assertFalse(self.bench.findChild(QLineEdit, "read-pack").isEnabled())
        self.go("A1")
        asked = []
        self.bench.asked.connect(lambda bench, what: asked.append((bench, what)))
        self.click(self.button("commission-trouble"))
        self.assertEqual(asked, [("trouble", "range_short")])
        self.session.undo()  # the inquiry, then the reading
        self.session.undo()
        self.window.show_bench("commission")
        self.app.processEvents()
        self.assertIs(self.step("A1").verdict, Verdict.OPEN)
        self.go("A2")
        self.assertTrue(self.bench.findChild(QLineEdit, "read-pack").isEnabled())

    def test_the_causes_stand_on_the_trouble_bench(self):
        self.go("A1")
        self.type("group", "3.84 3.85 3.84 3.83 3.84 3.85 3.74 3.84 3.84 3.85 V")
        self.click(self.button("commission-trouble"))
        self.assertEqual(self.window.work.current, "trouble")
        trouble = self.window.bench("trouble")
        self.wait_until(lambda: trouble.found is not None)
        self.assertEqual(trouble.found.symptom.code, "range_short")
        weak = next(one for one in trouble.found.causes if one.cause.code == "weak_group")
        self.assertTrue(any("A1" in each.words for each in weak.evidence))

    def test_what_is_looked_at_is_said_by_two_buttons(self):
        self.go("A8")
        self.click(self.button("commission-held"))
        self.assertIs(self.step("A8").verdict, Verdict.HELD)
        self.click(self.button("commission-failed"))
        self.assertIs(self.step("A8").verdict, Verdict.FAILED)
        self.click(self.button("commission-failed"))
        self.assertIs(self.step("A8").verdict, Verdict.OPEN)

    def fill(self, stage):
        """Everything of a stage as it is expected, through the form."""
        for one in [one for one in self.bench.found.applying if one.item.stage == stage]:
            self.go(one.item.id)
            item = self.step(one.item.id).item  # A2 follows A1
            for each in item.reads:
                if each.expects == each.expects:
                    value = min(max(each.expects, each.low), each.high)
                elif each.low > -1e300 and each.high < 1e300:
                    value = each.low + 0.4 * (each.high - each.low)
                else:
                    value = 2.0 * each.low if each.low > -1e300 else 0.5 * each.high
                from wattagon.exchange.units import number_text, unit_of

                text = f"{value:.6g}" if each.unit else f"{number_text(value, each.dimension)} {unit_of(each.dimension).text}"
                if each.dimension in ("rpm", "kv", "resistance", "voltage"):
                    text = f"{value:.7g} {unit_of(each.dimension).text}" if each.dimension != "resistance" else f"{value:.7g} ohm"
                words = text.split(" ", 1)
                self.assertTrue(self.bench.form.enter(each.name, " ".join([words[0]] * each.many + words[1:])), each.name)
            if item.looked:
                self.click(self.button("commission-held"))
            self.assertTrue(self.step(one.item.id).passed, (one.item.id, self.step(one.item.id).judged))

    def test_a_stage_is_read_signed_and_reopened_by_firmware(self):
        self.bench.form.by.setText("Ines")
        self.fill("A")
        self.assertTrue(self.button("commission-sign").isEnabled())
        self.click(self.button("commission-sign"))
        self.assertEqual(self.bench.found.stages[0].signed.name, "Ines")
        self.assertIn("signed by Ines", self.bench.form.left.text())
        with mock.patch.object(QInputDialog, "getText", return_value=("6.2", True)):
            self.bench.ask_firmware()
        self.app.processEvents()
        self.assertTrue(self.bench.found.stages[0].stale)
        self.assertTrue(self.step("A5").reopened)
        self.assertEqual(self.step("A1").reopened, ())
        self.assertIn("to be done again", self.bench.headline.text())

    def test_without_a_name_nothing_is_signed(self):
        self.fill("A")
        told = []
        self.session.told.connect(lambda words, refused: told.append(words))
        self.click(self.button("commission-sign"))
        self.assertIn("who signs", told[-1])
        self.assertEqual(self.session.design.variant().commissioning.signed, ())

    def test_what_was_read_is_taken_as_measured(self):
        self.go("B3")
        for name, text in (("ohms", "0.034 0.0342 0.0339 ohm"), ("kv", "168 168.4 167.9")):
            self.type(name, text)
        self.assertTrue(self.button("commission-take").isVisible())
        self.click(self.button("commission-take"))
        overrides = self.session.design.variant().motor.overrides
        self.assertAlmostEqual(overrides["resistance_ohm"].value, 2 * (34 + 34.2 + 33.9) / 3e3)
        self.assertEqual(overrides["kv_rpm_per_v"].known.value, "measured")
        self.session.undo()
        self.assertNotEqual(self.session.design.variant().motor.overrides.get("kv_rpm_per_v"), overrides["kv_rpm_per_v"])

    def test_a_pack_that_was_read_moves_the_ranges(self):
        before = next(each for each in self.step("B6").item.reads if each.name == "rpm at 100%").expects
        self.go("A2")
        self.type("pack", "41.2")
        after = next(each for each in self.step("B6").item.reads if each.name == "rpm at 100%").expects
        self.assertGreater(after, 1.05 * before)
        self.assertIn("41.2 V", self.bench.headline.text())

    def test_arrows_go_along_the_way_past_what_does_not_apply(self):
        drawing = self.bench.drawing
        drawing.setFocus()
        seen = [drawing.chosen]
        for _ in range(40):
            QTest.keyClick(drawing, Qt.Key.Key_Right)
            self.app.processEvents()
            seen.append(drawing.chosen)
        self.assertEqual(list(dict.fromkeys(seen)), [one.item.id for one in self.bench.found.applying])
        self.assertIn("D9", drawing.spoken())

    def test_rehearsal_leads_to_the_stand(self):
        self.go("B3")
        self.click(self.button("commission-stand"))
        self.assertEqual(self.window.work.current, "controller")
        self.assertEqual(self.window.bench("controller").tabs.currentWidget().title, "Test stand")

    def test_sheets_are_saved(self):
        for name, chosen in (("sheet.pdf", ""), ("page.handover.pdf", "Hand-over page (*.handover.pdf)")):
            with mock.patch.object(QFileDialog, "getSaveFileName", return_value=(str(self.folder / name), chosen)):
                self.bench.ask_save()
            self.assertTrue((self.folder / name).read_bytes().startswith(b"%PDF"))
        self.assertGreater(len(self.bench.table()), 25)

    def test_imperial_units_and_a_boat(self):
        self.show("Garganey", "A")
        self.session.set_looks(unit_set="imperial", theme="dark")
        self.arrived()
        self.go("D4")
        field = self.bench.findChild(QLineEdit, "read-pull")
        self.assertIn("lbf", field.placeholderText())
        self.type("pull", "45")
        self.assertAlmostEqual(self.step("D4").seen.value("pull"), 45 * 4.4482216152605, places=3)
        self.window.resize(1100, 700)
        self.app.processEvents()
        self.assertFalse(self.bench.drawing.grab().isNull())
