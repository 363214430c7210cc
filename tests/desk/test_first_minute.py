"""From an empty window to a first judged drive for one's own wishes: the actions are counted."""

from __future__ import annotations

import math

from PySide6.QtCore import Qt, QTimer
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from tests.desk.case import DeskTestCase
from wattagon.design.boats import BOATS
from wattagon.design.kinds import KINDS
from wattagon.design.quantity import Known
from wattagon.design.template import FirstWishes, new_design, typical_wishes
from wattagon.design.tree import GoalKind, VehicleKind
from wattagon.desk.benches import BENCHES, keys_of
from wattagon.desk.new_vehicle import ASKED, NewVehicle
from wattagon.study.finder.first import search_first
from wattagon.study.say import plain

MOST_ACTIONS = 12


class Hand:
    """Acts in the dialog that is open, and counts: a key with its modifiers, a click, and typing into a field are one action each."""

    def __init__(self):
        self.actions = 0

    @property
    def dialog(self) -> NewVehicle:
        return QApplication.activeModalWidget()

    def key(self, widget, key, modifier=Qt.KeyboardModifier.NoModifier):
        self.actions += 1
        QTest.keyClick(widget, key, modifier)

    def click(self, widget, at=None):
        self.actions += 1
        QTest.mouseClick(widget, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, *((at,) if at is not None else ()))

    def type(self, field, text):
        self.actions += 1
        field.setFocus()
        field.selectAll()
        QTest.keyClicks(field, text)


class FirstMinuteTest(DeskTestCase):
    demo = False

    def setUp(self):
        super().setUp()
        self.hand = Hand()

    def in_dialog(self, act, then=lambda: None):
        """Open the dialog by its key, act in it, and go on once it has closed."""

        def run():
            try:
                act(self.hand.dialog)
            except AssertionError as error:
                self.problems.append(str(error))
            if self.hand.dialog is not None and not self.hand.dialog.worker.running:
                self.hand.dialog.reject()

        QTimer.singleShot(50, run)
        self.hand.key(self.window, Qt.Key.Key_N, Qt.KeyboardModifier.ControlModifier)
        then()

    def test_a_drive_is_found_for_own_wishes_in_a_dozen_actions(self):
        def act(dialog):
            item = dialog.kinds.item(3)
            self.hand.click(dialog.kinds.viewport(), dialog.kinds.visualItemRect(item).center())
            for name, text in (("rider_kg", "180 lb"), ("speed", "32 km/h"), ("grade", "12 %"), ("distance", "30 km"), ("money", "700")):
                self.hand.type(dialog.stage.fields[name], text)
            self.hand.type(dialog.name, "Curlew")
            self.hand.key(dialog, Qt.Key.Key_Return)  # the default: find a drive

        self.in_dialog(act)
        self.assertLessEqual(self.hand.actions, MOST_ACTIONS)
        session = self.session
        vehicle, goals = session.design.vehicle, {goal.kind: goal for goal in session.design.brief.goals}
        self.assertEqual((vehicle.name, vehicle.kind), ("Curlew", VehicleKind.BIKE))
        self.assertAlmostEqual(vehicle.rider_mass.value, 81.65, places=1)
        self.assertIs(vehicle.rider_mass.known, Known.STATED)
        self.assertIs(vehicle.load_mass.known, Known.ASSUMED)
        self.assertAlmostEqual(goals[GoalKind.TOP_SPEED].speed * 3.6, 32.0)
        self.assertAlmostEqual(goals[GoalKind.BUDGET].amount, 700.0)
        self.assertAlmostEqual(goals[GoalKind.RANGE].distance, 30000.0)
        self.assertEqual((session.design.variant().id, self.window.work.current), ("A", "drive"))
        self.assertTrue(all(result.met for result in session.study.goals), "judged, and every wish is met")
        self.assertIn("cheapest of", session.design.variant().note)
        self.assertIn("cheapest of", self.message())
        self.settle()
        self.assertTrue(session.findings)

    def test_the_brief_says_what_to_measure_first(self):
        self.in_dialog(lambda dialog: self.hand.click(dialog.begin))
        self.assertEqual(self.window.work.current, "brief")
        brief = self.window.bench("brief")
        self.wait_until(lambda: "measure first" in brief.state.text())
        first = brief.first()
        self.assertEqual(len(first), 3)
        self.assertIn("rider", first)
        # measured, it is not asked for any more
        self.session.apply(self.edit("vehicle.rider_mass", 75.0))
        self.wait_until(lambda: bool(brief.first()) and "rider" not in brief.first())

    def edit(self, path, value):
        from wattagon.design.paths import Edit
        from wattagon.design.quantity import Quantity

        return Edit(label=path, changes=((path, Quantity(value=value, known=Known.MEASURED)),))

    def test_a_wrong_wish_is_told_by_its_name_and_nothing_is_lost(self):
        told = []

        def act(dialog):
            self.hand.type(dialog.stage.fields["speed"], "fast")
            self.hand.type(dialog.stage.fields["grade"], "80 %")
            self.hand.click(dialog.find_button)
            told.append(dialog.note.text())
            self.hand.type(dialog.stage.fields["speed"], "20 mph")
            self.hand.click(dialog.find_button)
            told.append(dialog.note.text())
            self.assertEqual(dialog.stage.fields["speed"].text(), "20 mph")
            self.assertTrue(dialog.isVisible())

        self.in_dialog(act)
        self.assertIn("As fast as is 'fast'", told[0])
        self.assertIn("Steepest hill is 80 %", told[1])
        self.assertEqual(self.session.docs, [])

    def test_another_kind_brings_its_typical_values_and_leaves_what_was_typed(self):
        dialog = NewVehicle(self.session, self.window)
        self.addCleanup(dialog.deleteLater)
        dialog.kinds.setCurrentRow(0)
        self.hand.type(dialog.stage.fields["rider_kg"], "90 kg")
        dialog.kinds.setCurrentRow(5)
        self.assertEqual(dialog.stage.fields["rider_kg"].text(), "90 kg")
        self.assertIn("900", dialog.stage.fields["money"].text())
        wishes = dialog.wishes()
        self.assertEqual(wishes, FirstWishes(rider_kg=90.0))
        for asked in ASKED:
            field = dialog.stage.fields[asked.name]
            self.assertTrue(field.accessibleName(), asked.name)

    def test_what_cannot_be_met_says_what_gives_in_or_asks_to_ease(self):
        def act(dialog):
            self.hand.type(dialog.stage.fields["money"], "120")
            self.hand.click(dialog.find_button)

        self.in_dialog(act)
        self.assertIn("gives up one", self.message())
        self.assertIn("gives up one", self.session.design.variant().note)
        missed = [result.goal.id for result in self.session.study.goals if not result.met]
        self.assertEqual(missed, ["budget"])

    def test_kinds_have_a_drive_for_their_typical_wishes(self):
        for kind in (*list(KINDS)[::2], *BOATS):
            first = search_first(new_design(kind, wishes=FirstWishes()), self.session.stock, plain)
            self.assertIsNotNone(first, kind)
            self.assertEqual(first.gives_up, "", kind)
            self.assertTrue(all(math.isfinite(value) for value in typical_wishes(kind) if value is not None), kind)


class TableTest(DeskTestCase):
    def test_more_than_nine_benches_have_keys(self):
        keys = [keys_of(k) for k in range(15)]
        self.assertEqual((keys[0], keys[8], keys[9], keys[10]), ("Ctrl+1", "Ctrl+9", "Ctrl+0", "Ctrl+B, A"))
        self.assertEqual(len(set(keys)), 15)

    def test_each_bench_keeps_the_protocol(self):
        shortcuts = [action.shortcut().toString() for action in self.window.commands if action.shortcut().toString()]
        self.assertEqual(len(shortcuts), len(set(shortcuts)), "no key twice")
        for entry in BENCHES:
            self.window.show_bench(entry.code)
            bench = self.window.bench(entry.code)
            bench.focus_first()
            self.assertTrue(entry.help(), entry.code)
            self.assertEqual(entry.why_not(self.session.design), "")
            self.assertIn(bench.busy, (True, False))
            self.assertTrue(bench.picture.accessibleName(), entry.code)

    def test_benches_go_round_by_key(self):
        self.window.show_bench("drive")
        codes = [entry.code for entry in BENCHES]
        self.assertEqual(codes[:4], ["brief", "drive", "finder", "ride"])
        for wanted in (*codes[2:], *codes[:2]):
            QTest.keyClick(self.window, Qt.Key.Key_Tab, Qt.KeyboardModifier.ControlModifier)
            self.app.processEvents()
            self.assertEqual(self.window.work.current, wanted)
