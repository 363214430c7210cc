"""The strength bench in the real window: choosing, other ways taken, how it is made, proofs, undo."""

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QLineEdit, QPushButton

from tests.desk.case import DeskTestCase
from wattagon.desk.fields import ChoiceField
from wattagon.study.findings.status import Status
from wattagon.study.ride.study import Ask, ride


class StrengthBenchTest(DeskTestCase):
    runs = frozenset({"strength", "layout", "cures"})

    def setUp(self):
        super().setUp()
        self.show("Corncrake", "B")

    def show(self, vehicle, variant):
        self.bench = self.bring(vehicle, variant, "strength")

    def hub(self):
        return self.bench.found.element("motor.hub")

    def test_the_weakest_is_in_hand_and_arrows_go_along_the_path(self):
        self.assertEqual(self.bench.path.chosen, "motor.hub")
        self.assertIn("set screws", self.bench.path.spoken())
        self.bench.path.setFocus()
        QTest.keyClick(self.bench.path, Qt.Key.Key_Home)
        self.assertEqual(self.bench.path.chosen, self.bench.found.elements[0].code)
        QTest.keyClick(self.bench.path, Qt.Key.Key_Down)
        self.assertEqual(self.bench.path.chosen, self.bench.found.elements[1].code)
        self.assertIn("C0", self.bench.words.text())
        self.assertIn("mm", self.bench.sketch.spoken())

    def test_another_way_is_offered_with_where_the_bar_would_end_and_taken(self):
        before = self.session.design
        self.wait_until(lambda: self.bench.others.findChild(QPushButton, "way-0") is not None)
        button = self.bench.others.findChild(QPushButton, "way-0")
        self.assertRegex(button.text(), r"→ [\d.,]+")
        self.click(button)
        self.assertIs(self.hub().status, Status.CLEAR)
        self.session.undo()
        self.assertEqual(self.session.design, before)

    def test_an_element_of_ones_own_is_added_changed_moved_and_undone(self):
        before = self.session.design
        menus = {action.text(): action.menu() for action in self.bench.more.menu().actions()}
        next(action for action in menus["Of the mount"].actions() if action.text() == "drilled tube").trigger()
        tube = self.bench.found.element(self.bench.path.chosen)
        self.assertEqual((tube.kind, tube.side), ("tube", "mount"))
        base = f"variant.strength.joints.{tube.own}"
        self.type_into(self.bench.made.findChild(QLineEdit, f"{base}.inner"), "14 mm")
        holed = self.bench.found.element(self.bench.path.chosen)
        self.assertLess(holed.factor, tube.factor)
        self.assertIn("hole of 14 mm", self.bench.words.text())
        kinds = self.bench.made.findChild(ChoiceField, f"{base}.kind")
        kinds.setFocus()
        kinds.setCurrentIndex(kinds.findData("weld"))
        kinds.activated.emit(kinds.currentIndex())
        self.assertEqual(self.bench.found.element(self.bench.path.chosen).kind, "weld")
        self.assertIn("two seams", self.bench.words.text())
        for _ in range(3):
            self.session.undo()
        self.assertEqual(self.session.design, before)

    def test_how_it_is_made_is_typed_and_forgotten(self):
        self.show("Garganey", "A")
        self.bench.path.choose("propeller.pin")
        self.bench.tabs.setCurrentIndex(1)
        self.click(self.bench.made.findChild(QPushButton, "tell-joint"))
        before = self.bench.found.element("propeller.pin").factor
        self.type_into(self.bench.made.findChild(QLineEdit, "variant.strength.joints.0.diameter"), "6 mm")
        self.assertGreater(self.bench.found.element("propeller.pin").factor, before)
        self.type_into(self.bench.made.findChild(QLineEdit, "variant.strength.joints.0.diameter"), "thick")
        self.assertIn("thick", self.message())
        self.click(self.bench.made.findChild(QPushButton, "forget-joint"))
        self.assertEqual(self.session.design.variant().strength.joints, ())

    def test_a_proof_is_recorded_with_its_date_and_changes_the_verdict(self):
        self.show("Corncrake", "A")
        self.bench.path.choose("motor.hub")
        self.bench.tabs.setCurrentIndex(2)
        self.assertIn("level arm", self.bench.proof.hang.text())
        self.assertIs(self.hub().status, Status.CLEAR)
        self.bench.proof.mass.setFocus()
        QTest.keyClicks(self.bench.proof.mass, "20 lb")
        self.click(self.bench.proof.results["moved"])
        proof = self.session.design.variant().strength.proofs[-1]
        self.assertAlmostEqual(proof.mass, 9.072, 2)
        self.assertRegex(proof.date, r"^\d{4}-\d\d-\d\d$")
        self.assertIs(self.hub().status, Status.OVER)
        self.assertIn("moved at", self.bench.proof.done.text())
        entry = self.session.design.history[-1]
        self.assertEqual((entry.kind, entry.date, entry.variant), ("proof", proof.date, "A"))
        self.assertIn("calculated to give way at", entry.text)
        self.session.undo()
        self.assertIs(self.hub().status, Status.CLEAR)
        QTest.keyClicks(self.bench.proof.warm, "113 F")
        self.click(self.bench.proof.results["held"])
        self.assertAlmostEqual(self.session.design.variant().strength.proofs[-1].temperature, 45.0, 6)
        self.session.undo()
        QTest.keyClicks(self.bench.proof.mass, "some")
        self.click(self.bench.proof.results["held"])
        self.assertIn("some", self.message())
        self.assertEqual(self.session.design.variant().strength.proofs, ())

    def test_the_ride_in_view_is_a_line_of_its_own(self):
        self.assertNotIn("ride ", self.bench.path.spoken())
        done = ride(self.session.design, self.session.stock, Ask(run="start"))
        self.session.scrub(done, 20)
        self.app.processEvents()
        self.assertIn("ride ", self.bench.path.spoken())
        self.assertIn("start", self.bench.found.load("ride").source.lower())

    def test_values_of_the_working_lead_to_where_they_are_entered(self):
        for code, words, link, bench in (
            ("motor.hub", "motor amps", "drive:controller", "drive"),
            ("axle.bump", "rider", "brief:", "brief"),
        ):
            self.window.show_bench("strength")
            self.bench.path.choose(code)
            self.assertRegex(self.bench.words.text(), f'<a href="{link}">{words}[^<]*</a>')
            self.bench.words.linkActivated.emit(link)
            self.assertEqual(self.window.work.current, bench)
        self.window.show_bench("strength")
        self.bench.path.choose("motor.hub")
        self.assertIn('href="strength:made"', self.bench.words.text())
        self.bench.words.linkActivated.emit("strength:made")
        self.assertEqual(self.bench.tabs.currentIndex(), 1)

    def test_the_card_is_a_page_in_the_users_units(self):
        card = self.folder / "card.pdf"
        self.bench.proof.save_card(card)
        self.assertEqual(card.read_bytes()[:5], b"%PDF-")
        self.assertIn(str(card), self.message())
        self.bench.proof.save_card(card.parent / "none" / "card.pdf")
        self.assertIn("none", self.message())
        self.bench.path.choose("axle.bump")
        self.assertFalse(self.bench.proof.print_card.isEnabled(), "no torque loads it")

    def test_a_fuse_is_named_and_judged(self):
        self.show("Corncrake", "A")
        self.bench.path.choose("stage.0")
        self.bench.tabs.setCurrentIndex(2)
        self.click(self.bench.proof.fuse)
        self.assertEqual(self.session.design.variant().strength.fuse, "stage.0")
        self.wait_until(lambda: any(f.code == "strength.fuse" for f in self.session.findings))
        self.assertIs(next(f for f in self.session.findings if f.code == "strength.fuse").status, Status.OVER)
        self.assertEqual(self.bench.table()[0][0], "element")
