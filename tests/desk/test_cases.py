"""Load cases and modes at the window: added, drawn, judged, taken back."""

from PySide6.QtCore import QPointF
from PySide6.QtWidgets import QCheckBox, QComboBox, QLineEdit, QPushButton, QToolButton

from tests.desk.case import DeskTestCase
from wattagon.design.quantity import Known
from wattagon.desk.brief.cases import FRESH
from wattagon.desk.fields import ValueField
from wattagon.desk.in_view import InView


class CasesTest(DeskTestCase):
    def setUp(self):
        super().setUp()
        self.window.show_bench("brief")
        self.brief.side.setCurrentWidget(self.brief.cases)
        self.app.processEvents()

    @property
    def panel(self):
        return self.brief.cases

    def add(self, words):
        button = self.panel.findChild(QPushButton, "add-case")
        action = next(action for action in button.menu().actions() if action.text() == words)
        action.trigger()
        self.app.processEvents()

    def field(self, path):
        return self.panel.findChild(ValueField, path)

    def test_a_passenger_is_added_drawn_judged_and_taken_back(self):
        before = self.session.design
        usual = float(self.session.study.resolved.load.mass_kg)
        reached = {r.goal.id: r.reached for r in self.session.study.goals}
        self.add("A passenger")
        brief = self.session.design.brief
        self.assertEqual((brief.case, [case.id for case in brief.cases]), ("passenger", ["passenger"]))
        self.assertAlmostEqual(float(self.session.study.resolved.load.mass_kg), usual + 65.0)
        self.type_into(self.field("brief.cases.passenger.carried.0.mass"), "40 kg")
        item = self.session.design.brief.cases[0].carried[0]
        self.assertEqual((item.mass.value, item.mass.known), (40.0, Known.STATED))
        climb = next(r for r in self.session.study.goals if r.goal.id == "ramp")
        self.assertEqual(climb.case, "passenger")
        self.assertLess(climb.reached, reached["ramp"])
        self.assertIn("stands with", self.panel.verdict.text())
        self.assertIn("passenger", self.window.findChild(QComboBox, "in-view-case").currentText())
        # the goal's card has a choice of the case that counts
        choice = self.brief.findChild(QComboBox, "brief.goals.ramp.case")
        choice.setCurrentIndex(choice.findData("usual"))
        choice.activated.emit(choice.currentIndex())
        climb = next(r for r in self.session.study.goals if r.goal.id == "ramp")
        self.assertAlmostEqual(climb.reached, reached["ramp"], places=6)
        for _ in range(3):
            self.session.undo()
        self.assertEqual(self.session.design, before)

    def test_one_that_tips_is_said_and_the_rest_shows_the_usual_load(self):
        self.add("Cargo")
        self.type_into(self.field("brief.cases.cargo.carried.0.behind_front"), "9 m")
        self.assertIn("accepted", self.message())
        self.type_into(self.field("brief.cases.cargo.carried.0.mass"), "400 kg")
        self.type_into(self.field("brief.cases.cargo.carried.0.behind_front"), "1,6 m")
        self.assertEqual(self.session.study.resolved.case, "usual", "what is in view cannot be driven")
        self.assertIn("tips over the rear axle", self.panel.verdict.text())
        self.assertIn("usual load", self.panel.verdict.text())
        finding = next(f for f in self.session.findings if f.code == "case.stands.cargo")
        self.assertIn("tips over the rear axle", finding.title)

    def test_every_kind_of_case_is_drawn_and_removed(self):
        for words, _ in FRESH:
            self.add(words)
            self.brief.sketch.repaint()
        self.assertEqual(len(self.session.design.brief.cases), len(FRESH))
        self.session.apply(self.edit("brief.case", "without-pack"))
        self.assertIsNotNone(self.session.study)
        self.assertIn("nothing drives", self.panel.verdict.text())
        self.click(self.panel.findChild(QToolButton, "remove-case-without-pack"), QPointF(5, 5))
        self.assertEqual(self.session.design.brief.case, "")
        self.session.apply(self.edit("brief.case", "trailer"))
        self.app.processEvents()
        towed = self.panel.findChild(QCheckBox, "towed-0")
        self.click(towed, QPointF(8, 8))
        self.assertFalse(next(case for case in self.session.design.brief.cases if case.id == "trailer").carried[0].towed)
        rider = self.panel.findChild(QCheckBox, "case-rider")
        self.click(rider, QPointF(8, 8))
        self.assertFalse(next(case for case in self.session.design.brief.cases if case.id == "trailer").rider)
        self.click(self.panel.findChild(QPushButton, "add-piece"), QPointF(8, 8))
        self.assertEqual(len(next(case for case in self.session.design.brief.cases if case.id == "trailer").carried), 2)
        self.click(self.panel.findChild(QToolButton, "remove-piece-1"), QPointF(5, 5))
        self.assertEqual(len(next(case for case in self.session.design.brief.cases if case.id == "trailer").carried), 1)

    def edit(self, path, value):
        from wattagon.design.paths import Edit

        return Edit(label=path, changes=((path, value),))

    def test_a_mode_is_added_typed_seen_and_removed(self):
        self.add("A mode by place")
        self.type_into(self.field("brief.modes.public-way.top_speed"), "20 km/h")
        self.assertAlmostEqual(self.session.design.brief.modes[0].top_speed, 20 / 3.6)
        before = self.session.study.states["full"].top_speed_m_s
        view = self.panel.findChild(InView, "in-view-mode")
        self.assertTrue(view.isVisible())
        view.setCurrentIndex(1)
        view.activated.emit(1)
        self.app.processEvents()
        self.assertLess(self.session.study.states["full"].top_speed_m_s, 20 / 3.6 + 1e-6)
        self.assertGreater(before, 20 / 3.6)
        self.window.show_bench("ride")
        self.app.processEvents()
        self.assertEqual(self.window.bench("ride").mode.currentText(), "public way")
        self.window.show_bench("brief")
        self.click(self.panel.findChild(QToolButton, "remove-mode-public-way"), QPointF(5, 5))
        self.assertEqual((self.session.design.brief.modes, self.session.design.brief.mode), ((), ""))

    def test_where_pieces_sit_and_the_packed_size_are_measured_in_the_list(self):
        measures = self.brief.measures
        self.brief.side.setCurrentWidget(measures)
        for path, text in (("vehicle.load_behind_front", "70 cm"), ("vehicle.packed_length", "1,05 m")):
            measures.select(path)
            self.type_into(measures.value, text)
        vehicle = self.session.design.vehicle
        self.assertAlmostEqual(vehicle.load_behind_front.value, 0.7)
        self.assertAlmostEqual(vehicle.packed_length.value, 1.05)


class GearsTest(DeskTestCase):
    def test_gears_are_put_in_typed_stepped_and_taken_out(self):
        self.session.activate(next(k for k, doc in enumerate(self.session.docs) if doc.design.vehicle.name == "Bittern"))
        self.window.show_bench("drive")
        self.drive.show_side("parts")
        self.app.processEvents()
        before = self.session.design
        self.click(self.drive.parts.findChild(QPushButton, "add-gears"), QPointF(8, 8))
        self.assertEqual(self.session.design.variant().gears.ring, 38)
        self.assertIn("ring", [lever.code for lever in self.session.levers])
        cogs = self.drive.parts.findChild(QLineEdit, "gear-cogs")
        self.type_into(cogs, "11 13 200")
        self.assertIn("cogs", self.message())
        self.assertEqual(cogs.text(), "11 13 200", "nothing typed is lost")
        self.type_into(cogs, "11, 15 21 28")
        self.assertEqual(self.session.design.variant().gears.cogs, (28, 21, 15, 11))
        self.assertEqual(len(self.session.study.branches), 3)
        now = self.session.study.resolved.gear
        lever = next(lever for lever in self.session.levers if lever.code == "gear")
        self.session.apply(lever.down or lever.up)
        self.assertNotEqual(self.session.study.resolved.gear, now)
        self.drive.map.repaint()
        self.click(self.drive.parts.findChild(QPushButton, "remove-gears"), QPointF(8, 8))
        self.assertIsNone(self.session.design.variant().gears)
        for _ in range(4):
            self.session.undo()
        self.assertEqual(self.session.design, before)
