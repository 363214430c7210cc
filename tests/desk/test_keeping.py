"""Work that is not saved: what a kill takes, ends that are announced, recovery, two windows on one file."""

import json
import os
import signal
import tempfile
import time
import unittest
from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace
from pathlib import Path
from unittest import mock

from PySide6.QtCore import QPointF, Qt
from PySide6.QtWidgets import QFrame, QMessageBox, QPushButton

from tests.desk.busy_window import RHYTHMS_MS, end_it
from tests.desk.case import DeskTestCase
from wattagon.design import file
from wattagon.design.paths import Edit
from wattagon.design.template import new_design
from wattagon.design.tree import VehicleKind
from wattagon.desk.recovery import OpenFiles, Recovery
from wattagon.errors import ChangedError, FileError


class EndsTest(unittest.TestCase):
    def setUp(self):
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))

    def test_a_kill_takes_no_more_than_two_seconds_in_any_rhythm(self):
        with ThreadPoolExecutor(2) as two:  # they mostly wait
            lost = list(two.map(lambda pause: end_it(self.folder / f"every-{pause}", pause, 3.2, signal.SIGKILL)[0], RHYTHMS_MS))
        self.assertEqual(lost, [""] * len(RHYTHMS_MS))

    def test_ends_that_are_announced_take_nothing(self):
        for number in (signal.SIGTERM, signal.SIGHUP, signal.SIGINT):
            with self.subTest(number.name):
                self.assertEqual(end_it(self.folder, 30, 0.3, number), ("", 128 + number))


class RecoveryTest(unittest.TestCase):
    def setUp(self):
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        self.document = file.Document(design=new_design(VehicleKind.BIKE, "Blue bike"))

    def ended_run(self, key: str = "doc1", name: str = "Blue bike") -> Recovery:
        run = Recovery(self.folder)
        design = replace(self.document.design, vehicle=replace(self.document.design.vehicle, name=name))
        run.keep(key, file.Document(design=design), Path("/elsewhere/blue.wattagon"), (1, 2, 3, 4))
        run.end()
        return run

    def test_work_of_a_run_that_lives_is_not_offered_and_that_of_one_that_ended_is(self):
        living = Recovery(self.folder)
        living.keep("doc1", self.document, None)
        self.assertEqual(Recovery(self.folder).left_behind(), [])
        living.end()
        (found,) = Recovery(self.folder).left_behind()
        self.assertEqual((found.name, found.original), ("Blue bike", None))

    def test_two_starts_at_once_do_not_both_offer_it(self):
        self.ended_run()
        one, two = Recovery(self.folder), Recovery(self.folder)
        self.assertEqual((len(one.left_behind()), len(two.left_behind())), (1, 0))

    def test_runs_never_share_a_name_and_never_overwrite_each_other(self):
        for _ in range(5):
            self.ended_run()
        self.assertEqual(len(list(self.folder.glob("*.wattagon"))), 5)
        self.assertEqual(len(Recovery(self.folder).left_behind()), 5)

    def test_facts_come_back(self):
        self.ended_run()
        (found,) = Recovery(self.folder).left_behind()
        self.assertEqual((found.original, found.stamp, found.name), (Path("/elsewhere/blue.wattagon"), (1, 2, 3, 4), "Blue bike"))

    def test_odd_facts_beside_the_work_do_not_keep_it_from_being_offered(self):
        texts = (
            b"",
            b"{",
            b"[1]",
            b"null",
            b'{"original": 5, "name": []}',
            b'{"original": "a\\u0000b", "stamp": [1, "x"]}',
            b"\xff\xfe",
            b"[" * 5000,
            b'{"stamp": {"a": 1}, "name": ""}',
        )
        run = self.ended_run()
        for text in texts:
            with self.subTest(text[:20]):
                (self.folder / f"{run.run}-doc1.json").write_bytes(text)
                start = Recovery(self.folder)
                (found,) = start.left_behind()
                self.assertIsNone(found.original)
                self.assertIsNone(found.stamp)
                self.assertTrue(found.name)
                start.end()

    def test_what_was_dropped_is_not_written_again_by_a_thread_that_comes_late(self):
        run = Recovery(self.folder)
        turn = run.turn("doc1")
        run.drop("doc1")
        run.keep("doc1", self.document, None, None, turn)
        self.assertEqual(list(self.folder.glob("*.wattagon")), [])
        run.keep("doc1", self.document, None, None, run.turn("doc1"))
        self.assertEqual(len(list(self.folder.glob("*.wattagon"))), 1)

    def test_locks_and_half_written_files_of_ended_runs_go(self):
        self.ended_run()
        for name in ("0123456789ab.lock", ".abcdefabcdef-xyz.part"):
            (self.folder / name).write_bytes(b"")
            os.utime(self.folder / name, (time.time() - 100, time.time() - 100))
        start = Recovery(self.folder)
        (item,) = start.left_behind()
        start.forget(item)
        start.end()
        self.assertEqual(list(self.folder.iterdir()), [])

    def test_a_folder_that_cannot_be_made_is_told(self):
        (self.folder / "file").write_bytes(b"")
        start = Recovery(self.folder / "file" / "recovery")
        self.assertEqual(start.left_behind(), [])
        self.assertIn("unsaved work cannot be kept", start.trouble)
        with self.assertRaisesRegex(FileError, "cannot be kept"):
            start.keep("doc1", self.document, None)

    def test_work_past_the_gate_is_kept_even_so(self):
        bad = replace(self.document.design, note="half \ud800")
        run = Recovery(self.folder)
        run.keep("doc1", file.Document(design=bad), None)
        run.end()
        (found,) = Recovery(self.folder).left_behind()
        self.assertEqual(file.read(found.path).design.note, "half ?")


class OpenFilesTest(unittest.TestCase):
    def test_a_second_window_is_told_until_the_first_leaves(self):
        folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        path, link = folder / "x.wattagon", folder / "link"
        path.write_bytes(b"")
        link.symlink_to(path)
        one, two = OpenFiles(folder / "open"), OpenFiles(folder / "open")
        self.assertTrue(one.take(path))
        self.assertTrue(one.take(path))
        self.assertFalse(two.take(link))
        one.leave(path)
        self.assertTrue(two.take(link))
        two.end()
        self.assertTrue(one.take(path))


class KeepingTest(DeskTestCase):
    def recovery_files(self) -> list[Path]:
        return sorted((self.folder / "recovery").glob("*.wattagon"))

    def note(self, words: str) -> None:
        self.session.apply(Edit(label="note", changes=(("note", words),)))

    def saved(self) -> Path:
        path = self.folder / "mine.wattagon"
        self.session.save(path)
        return path

    def test_steady_edits_are_kept_meanwhile(self):
        end = time.monotonic() + 3.0
        k = 0
        while time.monotonic() < end:
            k += 1
            self.note(str(k))
            self.app.processEvents()
            time.sleep(0.01)
        (kept,) = self.recovery_files()
        self.assertGreater(int(file.read(kept).design.note), k // 4)

    def test_one_document_that_cannot_be_kept_keeps_no_other_from_it(self):
        self.note("one")
        self.session.activate(1)
        self.note("two")
        keep = self.window.recovery.keep
        first = self.session.docs[0].key
        with mock.patch.object(
            self.window.recovery,
            "keep",
            side_effect=lambda key, *more: keep(key, *more) if key != first else (_ for _ in ()).throw(FileError("no")),
        ):
            self.session.autosave()
        (kept,) = self.recovery_files()
        self.assertEqual(file.read(kept).design.note, "two")
        self.assertIn("Autosave failed: no", self.message())

    def test_work_that_was_undone_to_what_is_saved_is_not_offered(self):
        self.saved()
        self.note("one")
        self.session.autosave()
        self.assertEqual(len(self.recovery_files()), 1)
        self.session.undo()
        self.session.autosave()
        self.assertEqual(self.recovery_files(), [])

    def test_a_file_that_someone_else_changed_is_not_overwritten_in_silence(self):
        path = self.saved()
        self.note("mine")
        theirs = replace(self.session.design, note="theirs, and longer")
        file.write(path, file.Document(design=theirs))
        with self.assertRaisesRegex(ChangedError, "changed by someone else"):
            self.session.save()
        with mock.patch.object(QMessageBox, "exec", lambda box: None), mock.patch.object(QMessageBox, "clickedButton", lambda box: None):
            self.assertFalse(self.window.save())
        self.assertEqual(file.read(path).design.note, "theirs, and longer")
        with (
            mock.patch.object(QMessageBox, "exec", lambda box: None),
            mock.patch.object(QMessageBox, "clickedButton", lambda box: next(b for b in box.buttons() if "over" in b.text())),
        ):
            self.assertTrue(self.window.save())
        self.assertEqual(file.read(path).design.note, "mine")
        self.assertEqual(file.read(file.previous_of(path)).design.note, "theirs, and longer")

    def test_saving_twice_asks_nothing_and_a_file_that_went_is_made_again(self):
        path = self.saved()
        self.note("one")
        self.session.save()
        path.unlink()
        self.note("two")
        self.session.save()
        self.assertEqual(file.read(path).design.note, "two")

    def test_two_windows_on_one_file_are_told(self):
        path = self.folder / "shared.wattagon"
        file.write(path, file.Document(design=new_design(VehicleKind.BIKE)))
        other = OpenFiles(self.folder / "open")
        other.take(path)
        self.session.open_files = OpenFiles(self.folder / "open")
        self.assertTrue(self.window.open_path(path))
        self.assertIn("open in another window", self.message())

    def test_read_only_files_stay_and_say_so(self):
        path = self.saved()
        path.chmod(0o444)
        self.note("one")
        self.assertFalse(self.window.save())
        self.assertIn("read-only", self.message())
        self.assertNotEqual(file.read(path).design.note, "one")

    def test_values_that_were_set_aside_are_told_when_a_file_is_opened(self):
        path = self.folder / "old.json"
        data = json.loads(file.to_json(new_design(VehicleKind.BIKE)))
        data["brief"]["shelf"] = [{"part": "x", "count": 9999999}]
        path.write_text(json.dumps(data))
        self.assertTrue(self.window.open_path(path))
        self.assertIn(
            "1 value was set aside: brief.shelf.0.count is 1e+07; accepted: a whole number, 1 to 100000; 1 taken instead", self.message()
        )

    def test_forty_vehicles_that_were_left_behind_fit_the_screen_and_open(self):
        for k in range(40):
            run = Recovery(self.folder / "recovery")
            run.keep("doc1", file.Document(design=new_design(VehicleKind.BIKE, f"Bike with a rather long name {k}")), None)
            run.end()
        self.window.offer(self.window.recovery.left_behind())
        self.app.processEvents()
        bar = self.window.findChild(QFrame, "recovery-bar")
        self.assertLess(bar.height(), 60)
        self.assertEqual((self.window.width(), self.window.height()), (1280, 800))
        with mock.patch(
            "wattagon.desk.recovery_bar.ChooseRecovered.exec",
            lambda dialog: [dialog.list.item(k).setCheckState(Qt.CheckState.Checked) for k in (3, 7)],
        ):
            self.click(bar.findChild(QPushButton, "choose-recovered"), QPointF(5, 5))
        self.assertEqual(len(self.session.docs), 6)
        self.assertTrue(self.session.doc.unsaved)
        self.assertEqual(len(bar.items), 38)
        self.click(bar.findChild(QPushButton, "discard-recovered"), QPointF(5, 5))
        self.assertEqual(len(self.recovery_files()), 2, "the two that are open, under the name of this run")

    def test_recovered_work_whose_file_changed_since_asks_before_it_is_saved(self):
        path = self.saved()
        run = Recovery(self.folder / "recovery")
        run.keep("doc9", file.Document(design=replace(self.session.design, note="kept")), path, (0, 0, 0, 0))
        run.end()
        self.session.close_doc(self.session.docs.index(self.session.doc))
        self.window.offer(self.window.recovery.left_behind())
        self.click(self.window.findChild(QPushButton, "open-recovered"), QPointF(5, 5))
        self.assertEqual(self.session.design.note, "kept")
        with self.assertRaises(ChangedError):
            self.session.save()

    def test_a_window_that_is_ended_from_outside_asks_nothing_and_keeps_everything(self):
        self.note("precious")
        with mock.patch.object(QMessageBox, "exec", side_effect=AssertionError("asked")), mock.patch("PySide6.QtWidgets.QApplication.exit"):
            self.window.end_by(signal.SIGTERM)
        (kept,) = self.recovery_files()
        self.assertEqual(file.read(kept).design.note, "precious")
