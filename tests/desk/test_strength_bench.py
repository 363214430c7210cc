"""The strength bench in the real window: choosing, other ways taken, how it is made, proofs, undo."""

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QLineEdit, QPushButton

from tests.desk.case import DeskTestCase
from wattagon.design.paths import Edit
from wattagon.study.findings.status import Status


class StrengthBenchTest(DeskTestCase):
    def setUp(self):
        super().setUp()
        self.show("Corncrake", "B")

    def show(self, vehicle, variant):
        names = [doc.design.vehicle.name for doc in self.session.docs]
        self.session.activate(names.index(vehicle))
        if self.session.design.active != variant:
            self.session.try_apply(Edit(label="variant", changes=(("active", variant),)))
        self.window.show_bench("strength")
        self.app.processEvents()
        self.bench = self.window.bench("strength")

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
        self.wait_until(lambda: self.bench.others.findChild(QPushButton, "way-0") is not None, 10.0)
        button = self.bench.others.findChild(QPushButton, "way-0")
        self.assertRegex(button.text(), r"→ [\d.,]+")
        self.click(button)
        self.assertIs(self.hub().status, Status.CLEAR)
        self.session.undo()
        self.assertEqual(self.session.design, before)

    def test_how_it_is_made_is_typed_and_forgotten(self):
        self.show("Garganey", "C")
        self.bench.path.choose("propeller.pin")
        self.bench.tabs.setCurrentIndex(1)
        self.click(self.bench.made.findChild(QPushButton, "tell-joint"))
        before = self.bench.found.element("propeller.pin").factor
        self.type_into(self.bench.made.findChild(QLineEdit, "variant.strength.joints.0.diameter"), "4 mm")
        self.assertGreater(self.bench.found.element("propeller.pin").factor, before)
        self.type_into(self.bench.made.findChild(QLineEdit, "variant.strength.joints.0.diameter"), "thick")
        self.assertIn("thick", self.message())
        self.click(self.bench.made.findChild(QPushButton, "forget-joint"))
        self.assertEqual(self.session.design.variant().strength.joints, ())

    def test_a_proof_is_recorded_with_its_date_and_changes_the_verdict(self):
        self.show("Corncrake", "A")
        self.bench.path.choose("motor.hub")
        self.bench.tabs.setCurrentIndex(2)
        self.assertIn("level arm", self.bench.hang.text())
        self.assertIs(self.hub().status, Status.CLEAR)
        self.bench.mass.setFocus()
        QTest.keyClicks(self.bench.mass, "20 lb")
        self.click(self.bench.results["moved"])
        proof = self.session.design.variant().strength.proofs[-1]
        self.assertAlmostEqual(proof.mass, 9.072, 2)
        self.assertRegex(proof.date, r"^\d{4}-\d\d-\d\d$")
        self.assertIs(self.hub().status, Status.OVER)
        self.assertIn("moved at", self.bench.done.text())
        self.session.undo()
        self.assertIs(self.hub().status, Status.CLEAR)
        QTest.keyClicks(self.bench.mass, "some")
        self.click(self.bench.results["held"])
        self.assertIn("some", self.message())
        self.assertEqual(self.session.design.variant().strength.proofs, ())

    def test_a_fuse_is_named_and_judged(self):
        self.show("Corncrake", "A")
        self.bench.path.choose("stage.0")
        self.bench.tabs.setCurrentIndex(2)
        self.click(self.bench.fuse)
        self.assertEqual(self.session.design.variant().strength.fuse, "stage.0")
        self.wait_until(lambda: any(f.code == "strength.fuse" for f in self.session.findings), 30.0)
        self.assertIs(next(f for f in self.session.findings if f.code == "strength.fuse").status, Status.OVER)
        self.assertEqual(self.bench.table()[0][0], "element")
