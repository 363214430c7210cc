"""History and workshop at the window."""

from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QImage
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QCheckBox, QPushButton, QToolButton

from tests.desk.case import DeskTestCase
from wattagon.design import file
from wattagon.design.paths import Edit
from wattagon.design.tree import BuildPart, EntryKind, Incident
from wattagon.design.tree.workshop import PrintMaterial


class HistoryTest(DeskTestCase):
    def setUp(self):
        super().setUp()
        self.session.apply(Edit(label="nothing happened yet", changes=(("history", ()), ("logs", ()))))
        self.session.doc.undo.clear()
        self.window.show_bench("brief")
        self.brief.side.setCurrentWidget(self.brief.history)
        self.app.processEvents()

    @property
    def panel(self):
        return self.brief.history

    def fill(self, dialog, **words):
        for name, text in words.items():
            field = getattr(dialog, name)
            field.clear()
            QTest.keyClicks(field, text)

    def test_an_incident_is_added_found_cleared_and_undone(self):
        before = self.session.design

        def short(dialog):
            self.assertIn("controller", dialog.note.text())
            self.assertIn("outdoors", dialog.note.text(), "the caution stands where it matters")
            self.fill(dialog, text="leads touched", date="2 August")
            dialog.take()
            self.assertIsNone(dialog.made)
            self.assertIn("such as 2026-05-09", dialog.note.text())
            self.assertEqual(dialog.text.text(), "leads touched", "nothing typed is lost")
            self.fill(dialog, date="2026-08-02")
            dialog.take()

        self.panel.add(EntryKind.INCIDENT, short)
        (entry,) = self.session.design.history
        self.assertEqual((entry.incident, entry.text, entry.variant), (Incident.SHORT, "leads touched", "B"))
        self.wait_until(lambda: any(f.code == "history.suspect.controller" for f in self.session.findings))
        self.assertTrue(any("but controller suspect" in f.title for f in self.session.findings))
        self.assertIn("Test the controller after the short", self.panel.line.spoken())

        def test(dialog):
            self.fill(dialog, text="bench test", date="2026-08-05", hours="12")
            for part in (BuildPart.CONTROLLER, BuildPart.PACK, BuildPart.WIRING):
                dialog.parts[part].setChecked(True)
            dialog.clears[entry.id].setChecked(True)
            dialog.take()

        self.panel.add(EntryKind.COMMISSIONING, test)
        self.wait_until(lambda: not any(f.code.startswith("history.suspect") for f in self.session.findings))
        self.assertEqual(self.session.design.history[1].hours, 12.0)
        self.session.undo()
        self.session.undo()
        self.assertEqual(self.session.design, before)

    def test_an_entry_is_opened_by_click_and_by_key_changed_and_taken_out(self):
        self.panel.add(EntryKind.NOTE, lambda dialog: (self.fill(dialog, text="first"), dialog.take()))
        self.panel.add(EntryKind.RIDE, lambda dialog: (self.fill(dialog, text="second", distance="12 km"), dialog.take()))
        opened = []
        self.panel.line.opened.disconnect()
        self.panel.line.opened.connect(opened.append)
        line = self.panel.line
        line.repaint()
        self.click(line, line.place("e1").center())
        line.setFocus()
        QTest.keyClick(line, Qt.Key.Key_Up)
        QTest.keyClick(line, Qt.Key.Key_Return)
        self.assertEqual(opened, ["e1", "e2"])
        self.panel.open_entry("e2", lambda dialog: (self.fill(dialog, distance="20 km"), dialog.take()))
        self.assertEqual(self.session.design.history[1].distance, 20000.0)
        self.panel.open_entry("e1", lambda dialog: dialog.findChild(QPushButton, "remove-entry").click())
        self.assertEqual([entry.id for entry in self.session.design.history], ["e2"])

    def test_pictures_are_kept_small_in_the_file_and_come_back(self):
        big = QImage(4000, 3000, QImage.Format.Format_RGB32)
        big.fill(0xFF8040)
        big.save(str(self.folder / "big.png"))
        (self.folder / "words.png").write_text("no picture")

        def act(dialog):
            dialog.add_picture(self.folder / "words.png")
            self.assertIn("no picture that can be read", dialog.note.text())
            dialog.add_picture(self.folder / "big.png")
            dialog.add_picture(self.folder / "big.png")
            self.assertEqual(len(dialog.pictures), 1, "the same twice is one")
            self.fill(dialog, text="the new mount")
            dialog.take()

        self.panel.add(EntryKind.PROOF, act)
        (name,) = self.session.design.history[0].pictures
        path = self.folder / "with.wattagon"
        self.session.save(path)
        found = file.read(path)
        picture = QImage.fromData(found.members[name])
        self.assertEqual(max(picture.width(), picture.height()), 1600)
        self.assertLess(len(found.members[name]), 900 * 1024)
        self.assertEqual(found.design.history[0].pictures, (name,))
        self.panel.open_entry("e1", lambda dialog: (dialog.findChild(QToolButton, name).click(), dialog.take()))
        self.assertEqual(self.session.design.history[0].pictures, ())

    def test_search_and_table(self):
        for words in ("belt tension", "brake pads"):
            self.panel.add(EntryKind.SERVICE, lambda dialog, words=words: (self.fill(dialog, text=words), dialog.take()))
        QTest.keyClicks(self.panel.wanted, "brake")
        self.app.processEvents()
        self.assertEqual([entry.text for entry in self.panel.line.entries()], ["brake pads"])
        path = self.folder / "h.csv"
        self.panel.export_to(str(path))
        self.assertIn("brake pads", path.read_text())
        self.assertNotIn("belt tension", path.read_text())
        self.panel.export_to("/proc/nothing/h.csv")
        self.assertIn("h.csv", self.message())

    def test_dues_beyond_two_are_shown_when_asked_for(self):
        line = self.panel.line
        self.session.activate(next(k for k, doc in enumerate(self.session.docs) if doc.design.vehicle.name == "Bittern"))
        self.app.processEvents()
        self.assertGreater(len(line.due()), 2)
        folded = line.minimumHeight()
        place = line.place("@due")
        QTest.mouseClick(line, Qt.MouseButton.LeftButton, pos=place.center().toPoint())
        self.assertTrue(line.all_due)
        self.assertGreater(line.minimumHeight(), folded)
        self.assertTrue(line.place("@due").isNull())


class WorkshopTest(DeskTestCase):
    def test_machines_materials_and_places(self):
        self.window.show_bench("brief")
        panel = self.brief.workshop
        self.brief.side.setCurrentWidget(panel)
        self.app.processEvents()
        self.assertFalse(self.session.design.brief.workshop.stated)
        figures = self.session.study
        self.click(panel.findChild(QCheckBox, "has-printer"), QPointF(8, 8))
        shop = self.session.design.brief.workshop
        self.assertTrue(shop.stated)
        self.assertEqual(shop.printer.materials, (PrintMaterial.PLA, PrintMaterial.PETG))
        self.click(panel.findChild(QCheckBox, "prints-asa"), QPointF(8, 8))
        self.click(panel.findChild(QCheckBox, "prints-pla"), QPointF(8, 8))
        self.assertEqual(self.session.design.brief.workshop.printer.materials, (PrintMaterial.PETG, PrintMaterial.ASA))
        self.click(panel.findChild(QCheckBox, "has-welder"), QPointF(8, 8))
        self.assertTrue(self.session.design.brief.workshop.welder)
        self.click(panel.findChild(QPushButton, "add-place"), QPointF(8, 8))
        self.click(panel.findChild(QToolButton, "remove-place-place-1"), QPointF(4, 4))
        self.assertEqual(self.session.design.brief.workshop.places, ())
        self.click(panel.findChild(QCheckBox, "has-printer"), QPointF(8, 8))
        self.assertIsNone(self.session.design.brief.workshop.printer)
        self.assertEqual(self.session.study.goals, figures.goals, "no figure follows from it")
