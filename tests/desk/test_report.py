"""Reports made by the window and by the terminal: sections, pictures, paper."""

import contextlib
import io
import re
import unittest

from PySide6.QtCore import QRectF, QSize
from PySide6.QtGui import QImage, QPainter

from tests.design.malformed import DEMO
from tests.desk.case import DeskTestCase
from wattagon.cli import main
from wattagon.desk.report.dialog import ReportDialog
from wattagon.desk.report.gather import PICTURE_H, PICTURE_W, sections_of, strokes_of, svg_of

DUNLIN = str(DEMO / "dunlin.json")


class ReportDialogTest(DeskTestCase):
    runs = frozenset({"ride", "bands"})

    def setUp(self):
        super().setUp()
        self.bring("Dunlin", "B", "drive")
        self.window.make_report()
        self.dialog = self.window.reporting
        assert isinstance(self.dialog, ReportDialog)
        self.addCleanup(self.dialog.close)

    def only(self, *codes):
        for code, box in self.dialog.boxes.items():
            box.setChecked(code in codes)

    def written(self, name):
        self.dialog.make(self.folder / name)
        self.wait_until(lambda: not self.dialog.busy)
        return self.folder / name

    def test_chosen_benches_stand_in_it_and_the_window_is_as_before(self):
        self.session.set_looks(theme="dark", unit_set="imperial")
        self.only("brief", "drive")
        page = self.written("d.html").read_text(encoding="utf-8")
        self.assertEqual(page.count("<svg"), 2)
        self.assertIn("mph", page)
        self.assertIn("Left out of this report: Ride", page)
        self.assertRegex(page, r"\d+ of \d+ inputs nobody measured")
        self.assertNotIn("#16181b", page.lower(), "paper is light")
        self.assertEqual(self.window.work.current, "drive")
        self.assertEqual(self.session.theme_name, "dark")
        self.assertIn("Written:", self.dialog.says.text())

    def test_paper_has_pages_and_lines_that_are_lines(self):
        self.only("brief", "drive")
        paper = self.written("d.pdf").read_bytes()
        self.assertTrue(paper.startswith(b"%PDF"))
        pages = len(re.findall(rb"/Type\s*/Page\b", paper))
        self.assertGreaterEqual(pages, 2)
        self.assertFalse((self.folder / ".d.pdf.part").exists())

    def test_another_ending_and_a_place_that_is_not_there(self):
        self.only("brief")
        self.dialog.make(self.folder / "d.docx")
        self.assertIn("accepted: NAME.html, NAME.pdf, NAME.md", self.dialog.says.text())
        self.dialog.make(self.folder / "no" / "d.pdf")
        self.wait_until(lambda: not self.dialog.busy)
        self.assertIn("no folder", self.dialog.says.text())

    def test_closed_half_way_nothing_is_written(self):
        self.only("brief", "drive")
        self.dialog.make(self.folder / "d.md")
        self.dialog.reject()
        for _ in range(20):
            self.app.processEvents()
        self.assertFalse((self.folder / "d.md").exists())
        self.assertEqual(self.window.work.current, "drive")

    def test_pictures_keep_inside_their_frame(self):
        view = self.window.bench("drive").picture
        self.assertIn("clip", svg_of(view, self.session).lower())
        strokes = strokes_of(view, self.session)
        image = QImage(QSize(int(PICTURE_W), int(PICTURE_H)), QImage.Format.Format_RGB32)
        image.fill(0xFFFFFF)
        painter = QPainter(image)
        painter.drawPicture(0, 0, strokes)
        painter.end()
        self.assertGreater(len({image.pixel(x, 200) for x in range(0, 960, 3)}), 6)

    def test_a_picture_fills_its_room_whatever_the_window_has(self):
        view = self.bring("Dunlin", "B", "brief").sketch
        for wide in (960.0, 1600.0):
            image = QImage(int(wide), 420, QImage.Format.Format_ARGB32)
            painter = QPainter(image)
            view.paint_on(painter, QRectF(0.0, 0.0, wide, 420.0))
            painter.end()
            self.assertGreater(view.hit("brief.conditions.headwind").right(), wide - 20.0)
        view.repaint()
        self.assertLessEqual(view.hit("brief.conditions.headwind").right(), view.width())

    def test_a_body_is_as_faint_on_paper_and_in_a_file_as_in_the_window(self):
        view = self.bring("Dunlin", "B", "brief").sketch
        path = self.folder / "brief.svg"
        self.assertTrue(self.window.export_to(path))
        for drawn in (svg_of(view, self.session), path.read_text(encoding="utf-8")):
            pens = re.findall(r'stroke-opacity="([0-9.]+)" stroke-width="([0-9.]+)"', drawn)
            limbs = [float(opacity) for opacity, width in pens if float(width) > 12.0]
            self.assertTrue(limbs)
            self.assertLess(max(limbs), 0.5)
            self.assertIn("clip", drawn.lower())


class WhatExistsTest(unittest.TestCase):
    def test_benches_without_anything_are_not_offered(self):
        from dataclasses import replace

        from wattagon.design import file

        design = file.read(DEMO / "dunlin.json").design
        codes = [entry.code for entry in sections_of(design)]
        self.assertIn("log", codes)
        self.assertNotIn("finder", codes)
        self.assertNotIn("winding", codes)
        self.assertNotIn("log", [entry.code for entry in sections_of(replace(design, logs=()))])
        pod = replace(file.read(DEMO / "garganey.json").design, active="B")
        self.assertIn("winding", [entry.code for entry in sections_of(pod)])


class ReportCommandTest(DeskTestCase):
    demo = False

    def run_it(self, *arguments):
        out, err = io.StringIO(), io.StringIO()
        with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
            code = main(("report", *arguments))
        return code, out.getvalue(), err.getvalue()

    def test_text_for_a_post(self):
        target = self.folder / "d.md"
        code, out, err = self.run_it(DUNLIN, "-o", str(target), "--sections", "Brief, drive", "--units", "imperial")
        self.assertEqual(code, 0, err)
        text = target.read_text(encoding="utf-8")
        self.assertTrue(text.startswith("# Dunlin, variant B Levee belts"))
        self.assertIn("mph", text)
        self.assertIn("## Not checked", text)
        self.assertIn("2 sections, 2 pictures", out)

    def test_refusals(self):
        for arguments, words in (
            ((DUNLIN, "-o", "x.txt"), "NAME.html"),
            ((DUNLIN, "-o", "x.md", "--sections", "cellar"), "brief, drive"),
            ((DUNLIN, "-o", "x.md", "--sections", ","), "sections"),
        ):
            code, out, err = self.run_it(*arguments)
            self.assertEqual((code, out), (2, ""))
            self.assertIn(words, err)
