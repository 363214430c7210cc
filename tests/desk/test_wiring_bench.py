"""The wiring bench in the real window: pieces chosen and stepped, a proposed path taken over, control wires, papers, undo."""

import tempfile
from dataclasses import replace
from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QCheckBox, QLineEdit, QPushButton, QTableWidget

from tests.desk.case import DeskTestCase
from wattagon.design.paths import Edit
from wattagon.desk.document import Ridden
from wattagon.desk.fields import ChoiceField
from wattagon.study.findings.status import Status
from wattagon.study.ride.study import Ask, ride


class WiringBenchTest(DeskTestCase):
    runs = frozenset({"wiring", "ride"})

    def setUp(self):
        super().setUp()
        self.show("Dunlin", "B")

    def show(self, vehicle, variant):
        self.bench = self.bring(vehicle, variant, "wiring")
        self.come()

    def come(self):
        """Until the study of the present design is there and drawn."""
        schedule = self.session.schedule
        self.wait_until(lambda: "wiring" not in schedule.stale and self.bench.found is not None)
        self.app.processEvents()
        self.bench.drawing.grab()

    def pane(self, title):
        pane = next(pane for pane in self.bench.panes if pane.title == title)
        self.bench.tabs.setCurrentWidget(pane)
        self.app.processEvents()
        return pane

    def wiring(self):
        return self.session.design.variant().wiring

    def test_pieces_are_chosen_by_keys_and_mouse(self):
        drawing = self.bench.drawing
        drawing.setFocus()
        QTest.keyClick(drawing, Qt.Key.Key_Home)
        self.assertEqual(drawing.chosen, "stub")
        QTest.keyClick(drawing, Qt.Key.Key_Right)
        self.assertEqual(drawing.chosen, "fuse")
        self.assertIn("Cartridge 100 A", self.pane("Load and time").words.text())
        QTest.mouseClick(drawing, Qt.MouseButton.LeftButton, pos=drawing.box_of("phases").center().toPoint())
        self.assertEqual(drawing.chosen, "phases")
        self.assertIn("phase leads", drawing.spoken())

    def test_a_piece_is_stepped_through_stock_and_taken_back(self):
        before, drawing = self.session.design, self.bench.drawing
        drawing.choose("lead")
        worst = self.bench.found.piece("lead").worst
        drawing.setFocus()
        for _ in range(2):  # the study follows while the hand goes on
            QTest.keyClick(drawing, Qt.Key.Key_Down)
            self.come()
        self.assertNotEqual(self.wiring().pieces[5].part, "lead-8awg")
        self.assertGreater(self.bench.found.piece("lead").worst, worst)
        self.session.undo()
        self.session.undo()
        self.assertEqual(self.session.design, before)
        self.come()
        arrow = next(box for box, sign in drawing.arrows if sign > 0).center().toPoint()
        QTest.mouseClick(drawing, Qt.MouseButton.LeftButton, pos=arrow)
        self.assertNotEqual(self.wiring().pieces[5].part, "lead-8awg")

    def test_another_part_tells_before_it_is_taken(self):
        at = next(k for k, piece in enumerate(self.wiring().pieces) if piece.id == "plug")
        self.session.try_apply(
            Edit(
                label="a small plug",
                changes=((f"variant.wiring.pieces.{at}.part", "pins-30"), (f"variant.wiring.pieces.{at}.mate", "pins-30")),
            )
        )
        self.come()
        self.bench.drawing.choose("plug")
        self.assertIs(self.bench.found.piece("plug").status, Status.OVER)
        listed = lambda: self.bench.ways.widget().findChildren(QPushButton)
        self.wait_until(lambda: self.bench.ways_of == "plug")
        self.bench.drawing.choose("fuse")
        self.wait_until(lambda: self.bench.ways_of != "plug")
        self.assertFalse(any("bullet" in button.text() for button in listed()))  # never those of the piece before
        self.bench.drawing.choose("plug")
        self.wait_until(lambda: self.bench.ways_of == "plug")
        buttons = self.bench.ways.widget().findChildren(QPushButton)
        better = next(button for button in buttons if button.text().startswith("▲") and button.toolTip().startswith("clear"))
        self.assertRegex(better.text(), r"▲ \d+%  ")
        self.click(better)
        self.come()
        self.assertIs(self.bench.found.piece("plug").status, Status.CLEAR)

    def test_a_proposed_path_is_taken_over_and_corrected(self):
        self.show("Garganey", "A")
        self.assertTrue(self.bench.found.proposed)
        self.bench.drawing.choose("lead")
        pane = self.pane("As it is made")
        self.click(pane.findChild(QPushButton, "take-path"))
        self.come()
        self.assertFalse(self.bench.found.proposed)
        at = next(k for k, piece in enumerate(self.wiring().pieces) if piece.id == "lead")
        field = pane.findChild(QLineEdit, f"variant.wiring.pieces.{at}.length")
        self.type_into(field, "1.5 m")
        self.assertAlmostEqual(self.wiring().pieces[at].length.value, 1.5)
        loss = self.bench.found.piece("lead").loss_w
        self.come()
        self.assertGreater(self.bench.found.piece("lead").loss_w, 1.5 * loss)
        edge = pane.findChild(ChoiceField, f"variant.wiring.pieces.{at}.edge")
        edge.setCurrentIndex(edge.findData("carbon"))
        edge.activated.emit(edge.currentIndex())
        self.wait_until(lambda: any(f.code == "wiring.chafes" and f.status is Status.OVER for f in self.session.findings))

    def test_a_piece_is_added_and_taken_out(self):
        before = len(self.wiring().pieces)
        self.bench.add("contactor", "pack")
        self.come()
        self.assertEqual(len(self.wiring().pieces), before + 1)
        self.assertEqual(self.bench.drawing.chosen, "contactor-1")
        self.click(self.pane("As it is made").findChild(QPushButton, "remove-piece"))
        self.assertEqual(len(self.wiring().pieces), before)

    def test_control_wires_are_typed_and_a_second_supply_is_found(self):
        pane = self.pane("Control wires")
        table = pane.findChild(QTableWidget, "control-wires")
        self.assertEqual(table.rowCount(), 15)
        self.click(pane.findChild(QPushButton, "add-wire"))
        row = len(self.wiring().wires) - 1
        for column, text in ((0, "5 V"), (1, "controller 2"), (3, "receiver"), (5, "red")):
            table.item(row, column).setText(text)
            self.app.processEvents()
        self.assertEqual(self.wiring().wires[row].start, "controller 2")
        self.assertIn("both feed 5 V", pane.words.text())
        self.wait_until(lambda: any(f.code == "wiring.control.two_feed" and f.status is Status.OVER for f in self.session.findings))
        pane.findChild(QCheckBox, "find-out").setChecked(True)
        self.assertEqual(table.columnCount(), 3)
        self.assertIn("phase leads", [table.item(k, 0).text() for k in range(table.rowCount())])

    def test_the_usual_control_wires_of_a_vehicle_without(self):
        self.show("Bittern", "A")
        pane = self.pane("Control wires")
        self.click(pane.findChild(QPushButton, "usual-wires"))
        self.assertGreater(len(self.wiring().wires), 5)
        self.assertTrue(self.bench.found.proposed)  # the power path is not told by that
        self.assertIn("colour not recorded", pane.words.text())

    def test_fuse_tests_precharge_and_box(self):
        self.assertIn("protect", self.pane("Fuse").words.text())
        pane = self.pane("Pre-charge, bus, box")
        self.assertIn("first touch charges", pane.words.text())
        self.click(pane.findChild(QPushButton, "tell-closed-box"))
        self.come()
        self.assertIn("bring its air to", pane.words.text())

    def test_papers(self):
        with tempfile.TemporaryDirectory() as folder:
            for what, name, begins in (
                ("all", "a.svg", b"<svg"),
                ("one", "b.svg", b"<svg"),
                ("cut", "c.csv", b"lead,"),
                ("pdf", "d.pdf", b"%PDF"),
            ):
                path = Path(folder) / name
                self.bench.save(what, path)
                self.assertTrue(path.read_bytes().startswith(begins), what)
                self.assertIn("Written", self.message())
            self.bench.save("cut", Path(folder) / "no" / "such" / "place.csv")
        self.assertNotIn("Written", self.message())

    def test_a_scrubbed_ride_is_as_warm_as_it_was_then(self):
        drawing, session = self.bench.drawing, self.session
        done = ride(session.design, session.stock, Ask(run="full-climb"))
        one = self.bench.found.piece("lead")
        shares = []
        for row in (2, done.run.trace.shape[0] // 2, done.run.trace.shape[0] - 2):
            session.doc.moment = replace(session.doc.moment, ridden=Ridden(done, row))
            shares.append(drawing.share_now(one))
        self.assertLess(shares[0], 0.1)
        self.assertLess(shares[0], shares[1])
        self.assertLessEqual(shares[1], shares[2])
        self.assertLess(shares[2], 1.05)

    def test_findings_lead_here(self):
        finding = next(f for f in self.session.findings if f.code == "wiring.opened")
        self.assertEqual(finding.bench, "wiring")
        rows = self.bench.table()
        self.assertEqual(len(rows), 1 + len(self.bench.found.pieces))
