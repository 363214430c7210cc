"""The brief bench: drawing, measures, goals and shelf."""

from PySide6.QtCore import QPointF, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QToolButton

from tests.desk.case import DeskTestCase
from wattagon.design.kinds import KINDS
from wattagon.design.paths import Edit
from wattagon.design.quantity import Known
from wattagon.design.tree import GoalKind, VehicleKind
from wattagon.desk.brief.measures import measures_for
from wattagon.desk.fields import ValueField


class BriefTest(DeskTestCase):
    def setUp(self):
        super().setUp()
        self.window.show_bench("brief")
        self.app.processEvents()

    def test_a_measure_on_the_drawing_is_clicked_and_typed_in_inches(self):
        sketch = self.brief.sketch
        self.click(sketch, sketch.hit("vehicle.wheelbase").center())
        self.assertEqual(self.brief.measures.path, "vehicle.wheelbase")
        self.type_into(self.brief.measures.value, "37 in")
        self.assertAlmostEqual(self.session.design.vehicle.wheelbase.value, 37 * 0.0254)
        self.assertIs(self.session.design.vehicle.wheelbase.known, Known.MEASURED)
        self.session.undo()
        self.assertEqual(self.brief.measures.value.text(), "940 mm")

    def test_every_measure_is_on_the_drawing_of_every_kind(self):
        for kind in KINDS:
            self.brief.set_kind(kind)
            self.brief.sketch.grab()
            for measure in measures_for(kind):
                if measure.path == "vehicle.deck_height":
                    continue  # left out where there is no room for it
                self.assertFalse(self.brief.sketch.hit(measure.path).isEmpty(), f"{kind} {measure.path}")

    def test_an_assumed_value_becomes_measured_today_with_tolerance(self):
        measures = self.brief.measures
        measures.select("vehicle.cm_height")
        self.assertIn("assumed", measures.tree.currentItem().text(2))
        count = len(self.session.study.assumptions)
        QTest.keyClick(measures.tree, Qt.Key.Key_Return)
        self.type_into(measures.value, "1010 mm")
        self.assertIs(self.session.design.vehicle.cm_height.known, Known.STATED)
        self.click(measures.findChild(type(self.brief.goals.add), "measured-today"), QPointF(5, 5))
        self.type_into(measures.tolerance, "2 cm")
        known = self.session.design.vehicle.cm_height
        self.assertEqual((known.known, known.tolerance, len(known.date)), (Known.MEASURED, 0.02, 10))
        self.assertEqual(len(self.session.study.assumptions), count - 1)

    def test_bad_entries_are_told_beside_the_field_and_nothing_is_lost(self):
        measures, before = self.brief.measures, self.session.design
        measures.select("vehicle.wheelbase")
        for text, told in (("9 m", "accepted: 0.2 to 5 m"), ("long", "'long'"), ("3 kg", "'3 kg'")):
            self.type_into(measures.value, text)
            self.assertIn(told, self.message())
            self.assertEqual(measures.value.property("refused"), True)
            self.assertEqual(self.session.design, before)
        self.type_into(measures.date, "yesterday")
        QTest.keyClick(measures.value, Qt.Key.Key_Escape)
        self.assertEqual(measures.value.text(), "940 mm")

    def test_goals_are_added_changed_and_removed(self):
        goals, n = self.brief.goals, len(self.session.design.brief.goals)
        for kind in GoalKind:
            goals.add_goal(kind)
            self.assertIsNotNone(self.session.study, kind)
        self.assertEqual(len(self.session.design.brief.goals), n + len(GoalKind))
        self.app.processEvents()
        field = goals.findChild(ValueField, "brief.goals.cruise.speed")
        self.type_into(field, "30 mph")
        goal = next(g for g in self.session.design.brief.goals if g.id == "cruise")
        self.assertAlmostEqual(goal.speed, 13.4112)
        self.assertIn("short by", goals.findChild(type(self.brief.state), "reached-cruise").text())
        self.click(goals.findChild(QToolButton, "remove-cruise"), QPointF(5, 5))
        self.assertNotIn("cruise", [g.id for g in self.session.design.brief.goals])
        self.session.undo()
        self.assertIn("cruise", [g.id for g in self.session.design.brief.goals])

    def test_a_goal_clicked_on_the_strip_is_ready_to_be_typed(self):
        self.window.show_bench("drive")
        strip = self.drive.goals
        self.click(strip, strip.columns()[1].center())
        self.assertIs(self.window.stack.currentWidget(), self.brief)
        self.assertEqual(self.window.focusWidget().objectName(), "brief.goals.ramp.speed")

    def test_the_shelf_is_free_and_numbers_can_be_changed(self):
        cost = self.session.study.resolved.cost
        tree = self.brief.shelf.tree
        self.brief.side.setCurrentIndex(1)
        tree.topLevelItem(0).setText(1, "1")
        self.app.processEvents()
        self.assertEqual(self.session.design.brief.shelf[0].count, 1)
        self.assertGreater(self.session.study.resolved.cost, cost)
        tree.topLevelItem(0).setText(1, "many")
        self.app.processEvents()
        self.assertIn("number on the shelf", self.message())
        tree.setCurrentItem(tree.topLevelItem(0))
        self.brief.shelf.remove_chosen()
        self.assertEqual(len(self.session.design.brief.shelf), 2)

    def test_a_measure_told_to_be_measured_keeps_its_day(self):
        self.brief.measures.select("vehicle.wheelbase")
        self.brief.measures.date.setText("2026-05-09")
        known = self.brief.measures.known
        known.setCurrentIndex(known.findData("measured"))
        known.activated.emit(known.currentIndex())
        made = self.session.design.vehicle.wheelbase
        self.assertEqual((made.known, made.date), (Known.MEASURED, "2026-05-09"))

    def test_a_count_that_no_file_could_hold_is_refused_on_the_shelf(self):
        tree = self.brief.shelf.tree
        self.brief.side.setCurrentIndex(1)
        before = self.session.design
        for text in ("9999999", "1e999", "²", "0", "-3", "2.5"):
            tree.topLevelItem(0).setText(1, text)
            self.app.processEvents()
            self.assertIs(self.session.design, before, text)
            self.assertEqual(tree.topLevelItem(0).text(1), str(before.brief.shelf[0].count))
            self.assertTrue(self.message())

    def test_measures_are_those_of_the_kind(self):
        tree = self.brief.measures.tree
        shown = lambda path: not self.brief.measures.items[path].isHidden()
        self.assertFalse(shown("vehicle.track"), "a board leans")
        self.assertFalse(shown("vehicle.top_gear"))
        self.assertFalse(self.brief.all_wheels.isVisible())
        self.session.activate(1)
        self.app.processEvents()
        self.assertTrue(shown("vehicle.track"))
        self.assertTrue(self.brief.all_wheels.isVisible())
        self.assertFalse(self.brief.sketch.hit("vehicle.track").isEmpty())
        self.click(self.brief.sketch, self.brief.sketch.hit("vehicle.track").center())
        self.type_into(self.brief.measures.value, "980 mm")
        self.assertEqual(self.session.design.vehicle.track.value, 0.98)
        self.assertIsNotNone(tree)

    def test_what_a_rider_bears_is_as_usual_until_somebody_says(self):
        measures = self.brief.measures
        item = measures.items["vehicle.rider_level"]
        self.assertEqual((item.text(1), item.text(2)), ("3.5 m/s²", "≈ as usual"))
        measures.select("vehicle.rider_level")
        self.type_into(measures.value, "2 m/s²")
        self.assertEqual(self.session.design.vehicle.rider_level.value, 2.0)
        self.assertEqual(item.text(2), "stated")

    def test_name_kind_and_axle(self):
        self.type_into(self.brief.name, "Second Dunlin")
        self.assertEqual(self.session.design.vehicle.name, "Second Dunlin")
        self.brief.set_kind(VehicleKind.KART)
        self.assertEqual(self.brief.kind.currentText(), "kart")

    def test_a_hidden_brief_catches_up_when_it_is_shown(self):
        self.brief.measures.select("vehicle.wheelbase")
        self.window.show_bench("drive")
        self.app.processEvents()
        self.session.apply(Edit(label="Shorter", changes=(("vehicle.wheelbase", 0.9), ("brief.goals.cruise.speed", 5.0))))
        self.window.show_bench("brief")
        self.app.processEvents()
        self.assertEqual(self.brief.measures.value.text(), "900 mm")
        self.assertEqual(self.brief.goals.findChild(ValueField, "brief.goals.cruise.speed").text(), "18 km/h")

    def test_imperial_units_are_shown_everywhere(self):
        self.window.set_looks(units="imperial")
        self.app.processEvents()
        self.brief.measures.select("vehicle.wheelbase")
        self.assertEqual(self.brief.measures.value.text(), "37.01 in")
        self.assertIn("mph", self.brief.goals.findChild(ValueField, "brief.goals.cruise.speed").text())
        self.assertIn("lb", " ".join(item.text(1) for item in self.brief.measures.items.values()))
        self.assertIn("mph", self.window.status.facts.text())
