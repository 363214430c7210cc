"""The frame: files, undo, recovery, variants, findings, palette, looks."""

import subprocess
import sys
from unittest import mock

from PySide6.QtCore import QPointF, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QFrame, QMessageBox, QPushButton

from tests.desk.case import DeskTestCase
from wattagon.design import file
from wattagon.design.parts import WheelPart
from wattagon.design.paths import Edit
from wattagon.design.quantity import Known, Quantity
from wattagon.desk.palette import Palette
from wattagon.desk.settings import SettingsFile
from wattagon.study.findings.status import Status

SERIES = Edit(label="Pack 10S to 11S", changes=(("variant.pack.series", 11),))


class FilesTest(DeskTestCase):
    def test_save_reopen_and_the_mark_of_unsaved_work(self):
        self.session.apply(SERIES)
        self.assertTrue(self.window.isWindowModified())
        path = self.folder / "dunlin.wattagon"
        self.assertTrue(self.window.save_to(path))
        self.assertFalse(self.window.isWindowModified())
        self.assertEqual(file.read(path).design.variant().pack.series, 11)
        self.session.close_doc(0)
        self.assertTrue(self.window.open_path(path))
        self.assertEqual(self.session.design.variant().pack.series, 11)
        self.assertIn(str(path), SettingsFile(self.folder / "settings.json").values.recent)
        n = len(self.session.docs)
        self.window.open_path(path)
        self.assertEqual(len(self.session.docs), n, "the same file is opened once")

    def test_a_broken_file_is_told_and_nothing_changes(self):
        path = self.folder / "broken.wattagon"
        path.write_text("{")
        n = len(self.session.docs)
        self.assertFalse(self.window.open_path(path))
        self.assertIn("line 1", self.message())
        self.assertEqual((len(self.session.docs), path.read_text()), (n, "{"))

    def test_a_save_that_fails_is_told_and_the_work_stays_unsaved(self):
        self.session.apply(SERIES)
        self.assertFalse(self.window.save_to(self.folder / "no" / "where.wattagon"))
        self.assertIn("cannot be saved", self.message())
        self.assertTrue(self.session.doc.unsaved)

    def test_the_previous_version_opens_beside(self):
        path = self.folder / "a.wattagon"
        self.window.save_to(path)
        self.session.apply(SERIES)
        self.window.save_to(None)
        self.window.open_previous()
        self.assertEqual(self.session.design.variant().pack.series, 10)

    def test_closing_asks_about_unsaved_work(self):
        self.session.apply(SERIES)
        with mock.patch.object(QMessageBox, "exec", return_value=QMessageBox.StandardButton.Cancel):
            self.assertFalse(self.window.close())
        self.assertTrue(self.window.isVisible())
        with mock.patch.object(QMessageBox, "exec", return_value=QMessageBox.StandardButton.Discard):
            self.window.close_vehicle()
        self.assertEqual(len(self.session.docs), 3)

    def test_unsaved_work_of_a_killed_run_is_offered_and_opened(self):
        code = (
            "import os, sys\nfrom pathlib import Path\nfrom wattagon.desk.recovery import Recovery\nfrom wattagon.design import file\n"
            "document = file.read(Path(sys.argv[1]))\nRecovery(Path(sys.argv[2])).keep('doc1', document, "
            "Path('/elsewhere/dunlin.wattagon'))\n"
            "os.kill(os.getpid(), 9)\n"
        )
        source = self.folder / "source.json"
        file.write(source, file.Document(design=self.session.design))
        subprocess.run([sys.executable, "-c", code, str(source), str(self.folder / "recovery")], check=False)
        found = self.window.recovery.left_behind()
        self.assertEqual([(item.name, str(item.original)) for item in found], [("Dunlin", "/elsewhere/dunlin.wattagon")])
        self.window.offer(found)
        bar = self.window.findChild(QFrame, "recovery-bar")
        n = len(self.session.docs)
        self.click(bar.findChild(QPushButton, "open-recovered"), QPointF(5, 5))
        self.assertEqual(len(self.session.docs), n + 1)
        self.assertTrue(self.session.doc.unsaved)
        self.assertEqual(self.window.recovery.left_behind(), [])

    def test_autosave_follows_an_edit_and_goes_with_a_save(self):
        self.session.apply(SERIES)
        self.session.autosave()
        kept = list((self.folder / "recovery").glob("*.wattagon"))
        self.assertEqual(file.read(kept[0]).design.variant().pack.series, 11)
        self.window.save_to(self.folder / "a.wattagon")
        self.assertEqual(list((self.folder / "recovery").glob("*.wattagon")), [])


class FrameTest(DeskTestCase):
    def test_undo_and_redo_through_every_kind_of_edit(self):
        start = self.session.design
        self.session.apply(SERIES)
        self.window.new_variant()
        self.assertEqual(self.session.design.variant().id, "D")
        self.window.change_variant("Rename variant", name="Taller")
        self.window.delete_variant()
        end = self.session.design
        for _ in range(4):
            self.window.undo_action.trigger()
        self.assertEqual(self.session.design, start)
        self.assertFalse(self.window.isWindowModified())
        for _ in range(4):
            self.window.redo_action.trigger()
        self.assertEqual(self.session.design, end)

    def test_vehicles_keep_their_own_history_and_moment(self):
        self.session.apply(SERIES)
        self.session.set_moment(speed_m_s=4.0)
        self.session.activate(1)
        self.assertEqual(self.session.design.vehicle.name, "Corncrake")
        self.assertFalse(self.session.doc.undo.canUndo())
        self.session.activate(0)
        self.assertEqual((self.session.moment.speed_m_s, self.session.doc.undo.undoText()), (4.0, SERIES.label))

    def test_a_variant_is_chosen_in_the_work_list(self):
        area, _, _ = next(hit for hit in self.window.work.places if hit[1:] == ("variant", "A"))
        self.click(self.window.work, area.center())
        self.assertEqual(self.session.design.variant().id, "A")
        self.assertIs(self.window.work.status_of("drive"), Status.OVER)

    def test_a_cure_is_applied_with_one_click_and_undone_with_one_key(self):
        self.session.apply(Edit(label="A", changes=(("active", "A"),)))
        self.settle()
        listed = self.window.findings.list
        hit = next(hit for hit in listed.places if hit.cure is not None)
        before, code = self.session.design, hit.finding.code
        self.window.findings.area.ensureVisible(int(hit.area.center().x()), int(hit.area.center().y()))
        self.click(listed, hit.area.center())
        after = next(f for f in self.session.findings if f.code == code)
        self.assertIs(after.status, hit.cure.status)
        QTest.keyClick(self.window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
        self.assertEqual(self.session.design, before)

    def test_findings_fold_and_keys_walk_through_them(self):
        self.settle()
        listed = self.window.findings.list
        n = len(listed.places)
        head = next(hit for hit in listed.places if hit.what == "tight")
        self.click(listed, head.area.center())
        self.assertLess(len(listed.places), n)
        self.click(listed, head.area.center())
        self.assertEqual(len(listed.places), n)
        listed.setFocus()
        QTest.keyClick(listed, Qt.Key.Key_Down)
        QTest.keyClick(listed, Qt.Key.Key_Down)
        height = listed.height()
        QTest.keyClick(listed, Qt.Key.Key_Return)
        self.assertGreater(listed.height(), height, "the reason unfolds")

    def test_the_palette_lists_every_action_and_runs_one(self):
        palette = Palette(self.window.commands, self.window)
        self.assertGreater(palette.list.topLevelItemCount(), 30)
        QTest.keyClicks(palette.search, "dark col")
        QTest.keyClick(palette.search, Qt.Key.Key_Return)
        palette.chosen.trigger()
        self.assertEqual(self.session.theme_name, "dark")
        self.assertEqual(SettingsFile(self.folder / "settings.json").values.theme, "dark")

    def test_benches_and_panels_by_key(self):
        QTest.keyClick(self.window, Qt.Key.Key_1, Qt.KeyboardModifier.ControlModifier)
        self.assertIs(self.window.stack.currentWidget(), self.brief)
        QTest.keyClick(self.window, Qt.Key.Key_2, Qt.KeyboardModifier.ControlModifier)
        self.assertIs(self.window.stack.currentWidget(), self.drive)
        QTest.keyClick(self.window, Qt.Key.Key_F9)
        self.assertFalse(self.window.findings.isVisible())

    def test_a_refusal_is_over_once_a_value_is_taken(self):
        self.assertFalse(
            self.session.try_apply(Edit(label="x", changes=(("vehicle.rider_mass", Quantity(value=-5.0, known=Known.MEASURED)),)))
        )
        self.assertTrue(self.message())
        self.session.try_apply(Edit(label="x", changes=(("vehicle.rider_mass", Quantity(value=81.0, known=Known.MEASURED)),)))
        self.assertEqual(self.message(), "")
        self.session.told.emit("Saved", False)
        self.session.try_apply(Edit(label="x", changes=(("vehicle.rider_mass", Quantity(value=82.0, known=Known.MEASURED)),)))
        self.assertEqual(self.message(), "Saved")

    def test_pictures_are_written_as_svg_and_png_and_refusals_are_told(self):
        for bench in ("drive", "brief"):
            self.window.show_bench(bench)
            for ending, start in ((".svg", b"<?xml"), (".png", b"\x89PNG")):
                path = self.folder / f"{bench}{ending}"
                self.assertTrue(self.window.export_to(path), self.message())
                self.assertTrue(path.read_bytes().startswith(start))
        self.assertFalse(self.window.export_to(self.folder / "chart.bmp"))
        self.assertIn(".svg or .png", self.message())

    def test_own_parts_are_read_when_the_file_changes(self):
        (self.folder / "parts" / "wheels.csv").write_text(
            "id,name,family,diameter_m,rolling_share,inertia_kg_m2,mass_kg,price\nmine,Mine,board_air,0.21,0.96,0.006,1,20\nbad,Bad,board_air,x,1,1,1,1\n"
        )
        self.wait_until(lambda: "mine" in self.session.stock.rows(WheelPart))
        self.assertIn("wheels.csv, line 3", self.message())

    def test_a_design_that_cannot_be_solved_says_why_and_can_be_mended(self):
        from dataclasses import replace

        gone = replace(self.session.design.variant(), motor=replace(self.session.design.variant().motor, part="gone-motor"))
        design = replace(self.session.design, variants=(gone,), active="B")
        self.session.add(file.Document(design=design), None)
        self.app.processEvents()
        self.assertIn("gone-motor", self.session.problem)
        self.assertIsNone(self.session.study)
        self.drive.show_side("parts")
        self.window.grab()
        self.session.apply(Edit(label="Motor", changes=(("variant.motor.part", "outrunner-63x74-170"),)))
        self.assertIsNotNone(self.session.study)

    def test_an_unexpected_error_is_logged_told_and_survived(self):
        from wattagon.desk.troubles import Troubles

        troubles = Troubles(self.session, self.folder / "log.txt", self.window)
        self.session.apply(SERIES)
        with mock.patch.object(QMessageBox, "exec", return_value=0) as told, self.assertLogs("wattagon", "ERROR"):
            troubles.hook(ValueError, ValueError("made up"), None)
            self.app.processEvents()
            self.assertEqual(told.call_count, 1)
        self.assertTrue(list((self.folder / "recovery").glob("*.wattagon")), "the work was kept")


class EmptyTest(DeskTestCase):
    demo = False

    def test_with_nothing_open_it_says_what_to_do_next(self):
        self.assertEqual(self.window.stack.currentWidget().objectName(), "welcome")
        self.window.grab()
        self.click(self.window.findChild(QPushButton, "welcome-demo"), QPointF(5, 5))
        self.assertEqual(len(self.session.docs), 4)
        self.assertIs(self.window.stack.currentWidget(), self.drive)
        for _ in range(4):
            self.session.close_doc(0)
        self.app.processEvents()
        self.assertEqual(self.window.stack.currentWidget().objectName(), "welcome")

    def test_a_new_vehicle_begins_on_the_brief(self):
        from wattagon.desk.new_vehicle import NewVehicle

        dialog = NewVehicle(self.session, self.window)
        for row in range(dialog.kinds.count()):
            dialog.kinds.setCurrentRow(row)
            dialog.grab()
        dialog.name.setText("Knot")
        dialog.accept()
        self.session.add(file.Document(design=dialog.design), None)
        self.window.show_bench("brief")
        self.assertEqual(self.session.design.vehicle.name, "Knot")
        self.assertRegex(self.brief.state.text(), r"(\d\d) of \1 values assumed")
