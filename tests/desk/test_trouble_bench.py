"""Trouble in the real window: a symptom chosen, tests answered and taken back, a cure taken as a variant, a cause into the history."""

import random
from unittest import mock

from PySide6.QtCore import QPointF, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QInputDialog, QPushButton

from tests.desk.case import DeskTestCase
from wattagon.study.trouble.study import symptoms_of


class TroubleBenchTest(DeskTestCase):
    runs = frozenset({"commission", "cures", "layout", "winding"})

    def setUp(self):
        super().setUp()
        self.show("Bittern", "A")

    def show(self, vehicle, variant):
        self.bench = self.bring(vehicle, variant, "trouble")
        self.settled()

    def settled(self):
        self.wait_until(lambda: not self.session.schedule.stale & {"layout", "commission"})
        self.app.processEvents()
        self.bench.drawing.grab()

    @property
    def inquiry(self):
        return self.session.design.variant().inquiry

    def choose(self, symptom):
        box = self.bench.symptom
        box.setCurrentIndex(box.findData(symptom))
        box.activated.emit(box.currentIndex())
        self.app.processEvents()

    def weight(self, code):
        return next(one.weight for one in self.bench.found.causes if one.cause.code == code)

    def answers(self):
        return [one for one in self.bench.findChildren(QPushButton) if one.objectName().startswith("answer-")]

    def test_before_a_symptom_is_chosen_it_says_what_to_do(self):
        self.assertIsNone(self.bench.found)
        self.assertIn("Choose what is seen", self.bench.drawing.spoken())
        self.assertGreater(self.bench.symptom.count(), 20)

    def test_a_symptom_is_chosen_in_the_picture(self):
        drawing = self.bench.drawing
        drawing.grab()
        self.assertTrue(all(drawing.where(one.code) is not None for one in symptoms_of(self.session.design)))
        self.assertIsNone(drawing.where("races_afloat"))
        self.assertIn("range a third short", drawing.spoken())
        self.click(drawing, drawing.where("range_short"))
        self.wait_until(lambda: self.bench.found is not None)
        self.assertEqual(self.inquiry.symptom, "range_short")
        self.session.undo()
        self.app.processEvents()
        self.assertIsNone(self.bench.found)

    def test_a_symptom_an_answer_and_back(self):
        self.choose("belt_skips")
        self.assertEqual(self.inquiry.symptom, "belt_skips")
        self.assertIn("causes", self.bench.headline.text())
        before = {one.cause.code: one.weight for one in self.bench.found.causes}
        test = self.bench.found.next
        button = next(one for one in self.answers() if one.objectName() == f"answer-{list(test.answers)[1]}")
        self.click(button)
        self.wait_until(lambda: self.inquiry.answers != ())
        self.app.processEvents()
        self.assertEqual(self.inquiry.answers[0].test, test.code)
        self.assertNotEqual({one.cause.code: one.weight for one in self.bench.found.causes}, before)
        self.app.processEvents()
        self.click(self.bench.findChild(QPushButton, f"back-{test.code}"))
        self.app.processEvents()
        self.assertEqual(self.inquiry.answers, ())
        self.session.undo()
        self.assertEqual(self.inquiry.answers[0].test, test.code)

    def test_what_the_layout_found_speaks(self):
        self.choose("belt_skips")
        few = next(one for one in self.bench.found.causes if one.cause.code == "few_teeth")
        self.assertTrue(any("teeth of the belt" in each.words for each in few.evidence))
        self.assertIn("teeth of the belt", self.bench.drawing.spoken())

    def test_causes_are_walked_by_arrows_and_clicked(self):
        self.choose("belt_skips")
        drawing = self.bench.drawing
        drawing.setFocus()
        first = drawing.chosen
        QTest.keyClick(drawing, Qt.Key.Key_Right)
        self.assertNotEqual(drawing.chosen, first)
        QTest.keyClick(drawing, Qt.Key.Key_Left)
        self.assertEqual(drawing.chosen, first)
        drawing.grab()
        seen = set()
        for y in range(20, drawing.height() - 20, 25):
            for x in (60, drawing.width() - 60):
                QTest.mouseClick(drawing, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, QPointF(x, y).toPoint())
                seen.add(drawing.chosen)
        self.assertGreater(len(seen), 3)

    def test_a_cure_is_taken_as_a_variant(self):
        self.choose("belt_skips")
        self.wait_until(
            lambda: self.bench.found is not None and any(self.bench.found.cures(one.cause) for one in self.bench.found.causes), 60.0
        )
        cause = next(one.cause for one in self.bench.found.causes if self.bench.found.cures(one.cause))
        self.bench.drawing.choose(cause.code)
        self.app.processEvents()
        many = len(self.session.design.variants)
        self.click(self.bench.findChild(QPushButton, "take-variant"))
        self.assertEqual(len(self.session.design.variants), many + 1)
        self.assertEqual(self.session.design.variant().based_on, "A")
        self.session.undo()
        self.assertEqual(len(self.session.design.variants), many)

    def test_a_found_cause_goes_into_the_history(self):
        self.choose("belt_skips")
        many = len(self.session.design.history)
        self.bench.drawing.choose("belt_slack")
        with mock.patch.object(QInputDialog, "getText", return_value=("tension set by its tone", True)):
            self.bench.ask_close()
        self.assertIsNone(self.inquiry)
        self.assertEqual(len(self.session.design.history), many + 1)
        self.assertIn("tension set by its tone", self.session.design.history[-1].text)
        self.assertIsNone(self.bench.found)

    def test_a_vibration_asks_for_its_speed(self):
        self.choose("vibration")
        self.assertTrue(self.bench.speed.isVisible())
        self.type_into(self.bench.speed, "12 mph")
        self.app.processEvents()
        self.assertAlmostEqual(self.inquiry.speed, 12 * 0.44704)
        self.assertTrue(self.bench.found.orders)
        told = []
        self.session.told.connect(lambda words, refused: told.append(words))
        self.type_into(self.bench.speed, "quick")
        self.assertIn("quick", told[-1])
        self.assertAlmostEqual(self.inquiry.speed, 12 * 0.44704)
        self.choose("belt_skips")
        self.assertFalse(self.bench.speed.isVisible())

    def test_boats_have_symptoms_of_their_own(self):
        self.show("Garganey", "A")
        self.assertGreater(self.bench.symptom.findData("slow_afloat"), 0)
        self.assertEqual(self.bench.symptom.findData("front_lifts"), -1)
        self.choose("slow_afloat")
        self.assertIn("weed", {one.cause.code for one in self.bench.found.causes})
        self.session.set_looks(theme="dark", unit_set="nautical")
        self.window.resize(1100, 700)
        self.app.processEvents()
        self.assertFalse(self.bench.drawing.grab().isNull())
        self.assertGreater(len(self.bench.table()), 3)

    def test_a_hidden_fault_is_found_on_the_stand_and_the_design_keeps_nothing_of_it(self):
        self.show("Dunlin", "B")
        before = self.session.design
        with mock.patch("random.Random", return_value=random.Random(4)):
            self.click(self.bench.rehearse)
        self.wait_until(lambda: self.bench.hidden is not None)
        self.app.processEvents()
        self.assertFalse(self.bench.symptom.isEnabled())
        told = []
        self.session.told.connect(lambda words, refused: told.append((words, refused)))
        wrong = next(one.cause.code for one in self.bench.found.causes if one.cause.code != self.bench.hidden.cause.code)
        self.bench.drawing.choose(wrong)
        self.bench.guess()
        self.assertEqual(told[-1], ("Not that one: ask further", True))
        for _ in range(4):
            if self.bench.found.next is None or self.bench.found.causes[0].cause.code == self.bench.hidden.cause.code:
                break
            self.bench.do_on_stand()
        self.assertEqual(self.bench.found.causes[0].cause.code, self.bench.hidden.cause.code)
        self.bench.drawing.choose(self.bench.hidden.cause.code)
        self.bench.guess()
        self.assertIn("Found after", told[-1][0])
        self.assertIsNone(self.bench.hidden)
        self.assertIs(self.session.design, before)
        self.click(self.bench.rehearse)
        self.click(self.bench.rehearse)
        self.assertIsNone(self.bench.hidden)
        self.wait_until(lambda: not self.bench.busy)
        self.assertIsNone(self.bench.hidden)
