"""What is handed on: the workshop set page by page, and a bundle without what is private, field by field."""

import contextlib
import datetime
import io
import math
import unittest
import zipfile
from dataclasses import replace
from pathlib import Path
from tempfile import TemporaryDirectory

import gpxpy
import gpxpy.gpx
from pypdf import PdfReader

from tests.design.malformed import DEMO
from tests.logs import STOCK, demo
from wattagon.cli import main
from wattagon.design import file
from wattagon.design.file import Document
from wattagon.design.paths import put
from wattagon.design.quantity import Known, Quantity
from wattagon.design.tree import Entry, EntryKind, Log, LogKind
from wattagon.design.tree.commissioning import Commissioning, Signature
from wattagon.errors import InputError
from wattagon.exchange.log.read import packed, unpacked
from wattagon.exchange.share.bundle import bundle
from wattagon.exchange.share.private import END_M, kept_of, without_private
from wattagon.exchange.share.workshop import pieces, workshop_set
from wattagon.exchange.units import say

SECRET = "Behind the blue gate, ask for Robin"


def track(points=200, step_m=20.0, names=True):
    """A straight ride north past the places of its ends."""
    gpx = gpxpy.gpx.GPX()
    made = gpxpy.gpx.GPXTrack(name=SECRET if names else None)
    segment = gpxpy.gpx.GPXTrackSegment()
    start = datetime.datetime(2026, 5, 3, 9, 0, tzinfo=datetime.UTC)
    for k in range(points):
        segment.points.append(
            gpxpy.gpx.GPXTrackPoint(52.0 + k * step_m / 111_195.0, 5.0, elevation=3.0, time=start + datetime.timedelta(seconds=5 * k))
        )
    made.segments.append(segment)
    gpx.tracks.append(made)
    gpx.waypoints.append(gpxpy.gpx.GPXWaypoint(52.0, 5.0, name=SECRET))
    return gpx.to_xml().encode()


def with_log(raw, ending, **changes):
    """Dunlin with one log whose file is `raw`."""
    import hashlib

    digest = hashlib.sha256(raw).hexdigest()
    name = f"logs/{digest[:16]}.{ending}.gz"
    kind = LogKind.TRACK if ending == "gpx" else LogKind.TELEMETRY
    log = Log(id="l1", kind=kind, member=name, hash=digest, source="robins-ride.gpx", date="2026-05-03", variant="B", **changes)
    return Document(design=replace(demo("dunlin"), logs=(log,)), members={name: packed(raw)})


def told_design():
    """Dunlin with something private in every corner."""
    design = put(demo("dunlin"), "vehicle.rider_mass", Quantity(value=78.0, known=Known.MEASURED, date="2026-04-02", note=SECRET))
    variant = design.variant()
    signed = Commissioning(signed=(Signature(stage="A", name="Robin", date="2026-04-20"),))
    variant = replace(variant, note=SECRET, commissioning=signed)
    entry = Entry(id="e1", date="2026-04-01", kind=EntryKind.NOTE, text=SECRET)
    return replace(
        design,
        note=SECRET,
        history=(entry,),
        variants=tuple(variant if one.id == variant.id else replace(one, note=SECRET) for one in design.variants),
    )


class WorkshopTest(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.reader = PdfReader(io.BytesIO(workshop_set(demo("dunlin"), STOCK, say)))
        cls.texts = [page.extract_text() for page in cls.reader.pages]

    def test_the_first_page_tells_the_pages_of_each_as_the_bookmarks_have_them(self):
        at = {one["/Title"]: self.reader.get_destination_page_number(one) + 1 for one in self.reader.outline}
        told = 0
        for line in self.texts[0].splitlines():
            name, mark, where = line.partition(": page")
            if mark:
                told += 1
                self.assertEqual(int(where.removeprefix("s").split()[0]), at[name], line)
        self.assertEqual(told, len(at) - 1)
        self.assertEqual(len(self.texts), int(self.texts[0].split("Commissioning: pages ")[1].split()[2]))

    def test_bookmarks_lead_to_every_document(self):
        titles = [one["/Title"] for one in self.reader.outline]
        self.assertEqual(titles[0], "Contents")
        self.assertIn("Controller settings", titles)
        self.assertIn("Commissioning", titles)
        self.assertTrue(any(title.startswith("Motor plate") for title in titles))

    def test_sheets_are_on_the_paper_that_was_asked_for(self):
        wide = float(self.reader.pages[1].mediabox.width)
        self.assertAlmostEqual(wide * 25.4 / 72.0, 210.0, places=0)
        letter = PdfReader(io.BytesIO(workshop_set(demo("dunlin"), STOCK, say, paper="Letter")))
        self.assertAlmostEqual(float(letter.pages[1].mediabox.width) * 25.4 / 72.0, 215.9, places=0)
        with self.assertRaises(InputError):
            pieces(demo("dunlin"), STOCK, say, paper="A7")

    def test_what_there_is_none_of_says_so(self):
        made = {one.title: one for one in pieces(demo("garganey"), STOCK, say)}
        self.assertEqual(made["Cutting sheets"].pdf, b"")
        self.assertIn("no part cut", made["Cutting sheets"].why_not)
        self.assertTrue(made["Commissioning"].pdf.startswith(b"%PDF"))


class PrivateTest(unittest.TestCase):
    def test_nothing_that_somebody_wrote_goes_out_without_being_asked(self):
        shared = without_private(Document(design=told_design()))
        text = file.to_json(shared.document.design)
        for word in (SECRET, "Robin", "2026-04"):
            self.assertNotIn(word, text)
        self.assertEqual(shared.document.design.history, ())
        self.assertTrue(any("history" in line for line in shared.said))

    def test_what_the_drive_rests_on_stays(self):
        before, after = told_design(), without_private(Document(design=told_design())).document.design
        self.assertEqual(after.vehicle.rider_mass.value, before.vehicle.rider_mass.value)
        self.assertEqual(after.vehicle.rider_mass.known, Known.MEASURED)
        self.assertEqual(after.variant().motor, replace(before.variant().motor, overrides=after.variant().motor.overrides))

    def test_days_are_moved_together(self):
        design = without_private(Document(design=told_design()), frozenset({"notes"})).document.design
        day = datetime.date.fromisoformat
        first = day(design.history[0].date)
        self.assertEqual((day(design.vehicle.rider_mass.date) - first).days, 1)
        self.assertEqual((day(design.variant().commissioning.signed[0].date) - first).days, 19)
        self.assertIn('"2000-01-01"', file.to_json(design))
        self.assertNotIn('"2026-', file.to_json(design))
        self.assertEqual(design.history[0].text, SECRET)

    def test_all_that_is_kept_is_as_it_was(self):
        document = with_log(track(), "gpx")
        shared = without_private(document, kept_of("notes, dates, ends, pictures, logs"))
        self.assertEqual(shared.document.design, document.design)
        self.assertEqual(shared.document.members, document.members)
        self.assertEqual(shared.said, ())

    def test_the_ends_of_a_track_are_cut_off_and_its_clock_goes_on(self):
        document = with_log(track(), "gpx")
        shared = without_private(document, kept_of("logs"))
        (log,) = shared.document.design.logs
        raw = unpacked(shared.document.members[log.member], log.member)
        self.assertNotIn(SECRET.encode(), raw)
        self.assertNotIn(b"2026", raw)
        points = gpxpy.parse(raw.decode()).tracks[0].segments[0].points
        for point in points:
            for end in (52.0, 52.0 + 199 * 20.0 / 111_195.0):
                self.assertGreaterEqual(abs(point.latitude - end) * 111_195.0, END_M - 3.0)
        self.assertEqual(log.offset, 5.0 * math.ceil(END_M / 20.0))
        self.assertEqual(log.source, "")
        self.assertNotEqual(log.hash, document.design.logs[0].hash)

    def test_a_track_within_its_ends_and_a_table_with_places_or_days_stay_at_home(self):
        for document, words in (
            (with_log(track(points=10), "gpx"), "within"),
            (with_log(b"time,lat,lon,speed\n0,52,5,3\n1,52,5,4\n", "csv"), "places"),
            (with_log(b"time,speed\n2026-05-03 09:00:00,3\n", "csv"), "days"),
            (with_log(b"time,speed\n1777777777,3\n", "csv"), "days"),
        ):
            shared = without_private(document, kept_of("logs"))
            self.assertEqual(shared.document.design.logs, ())
            self.assertEqual(shared.document.members, {})
            self.assertTrue(any(words in line for line in shared.said), shared.said)
        harmless = with_log(b"time,speed\n0,3\n1,4\n", "csv")
        self.assertEqual(without_private(harmless, kept_of("logs")).document.members, harmless.members)

    def test_without_being_asked_no_file_of_a_log_goes_out(self):
        shared = without_private(with_log(track(), "gpx"))
        self.assertEqual((shared.document.design.logs, shared.document.members), ((), {}))

    def test_a_kind_that_is_none_is_refused(self):
        self.assertEqual(kept_of(""), frozenset())
        with self.assertRaises(InputError) as refused:
            kept_of("notes, paint")
        self.assertIn("pictures", str(refused.exception))


class BundleTest(unittest.TestCase):
    def test_it_opens_again_and_its_page_tells_what_is_in_it(self):
        content, said = bundle(Document(design=told_design()), STOCK, say, beside={"dunlin-report.html": b"<p>x</p>"})
        with zipfile.ZipFile(io.BytesIO(content)) as archive, TemporaryDirectory() as folder:
            names = archive.namelist()
            self.assertEqual(names[0], "dunlin.wattagon")
            page = archive.read("README.txt").decode()
            archive.extract("dunlin.wattagon", folder)
            design = file.read(Path(folder) / "dunlin.wattagon").design
            workshop = PdfReader(io.BytesIO(archive.read("dunlin-workshop.pdf")))
            self.assertGreater(len(workshop.pages), 10)
            everything = b"".join(archive.read(name) for name in names if not name.endswith((".wattagon", ".pdf")))
        for name in names[:-1]:
            self.assertIn(name, page)
        for line in said:
            self.assertIn(line, page)
        self.assertEqual(design.vehicle.name, "Dunlin")
        self.assertNotIn(b"Robin", everything)
        self.assertNotIn("Robin", "".join(one.extract_text() for one in workshop.pages))

    def test_the_same_design_gives_the_same_design_file(self):
        one, two = (bundle(Document(design=demo("bittern")), STOCK, say)[0] for _ in range(2))
        read = lambda raw: zipfile.ZipFile(io.BytesIO(raw)).read("bittern.wattagon")
        self.assertEqual(read(one), read(two))


class CommandTest(unittest.TestCase):
    def run_main(self, *arguments):
        out, err = io.StringIO(), io.StringIO()
        with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
            code = main(["report", str(DEMO / "bittern.json"), *arguments])
        return code, out.getvalue(), err.getvalue()

    def test_a_workshop_set_from_the_terminal(self):
        with TemporaryDirectory() as folder:
            path = Path(folder) / "set.pdf"
            code, _, _ = self.run_main("-o", str(path), "--workshop")
            self.assertEqual(code, 0)
            self.assertGreater(len(PdfReader(path).pages), 10)

    def test_careless_typing(self):
        for arguments, words in (
            (("-o", "x.html", "--workshop"), "--workshop"),
            (("-o", "x.html", "--keep", "logs"), "--keep"),
            (("-o", "x.zip", "--keep", "everything"), "--keep"),
            (("-o", "x.pdf", "--workshop", "--sections", "brief"), "--sections"),
            (("-o", "x.pdf", "--workshop", "--paper", "B5"), "paper"),
        ):
            code, _, err = self.run_main(*arguments)
            self.assertEqual(code, 2, arguments)
            self.assertIn(words, err)

    def test_a_bundle_has_a_report_of_the_copy(self):
        with TemporaryDirectory() as folder:
            path = Path(folder) / "b.zip"
            code, out, err = self.run_main("-o", str(path), "--sections", "brief")
            self.assertEqual(code, 0, err)
            self.assertIn("left out", out)
            with zipfile.ZipFile(path) as archive:
                self.assertIn(b"<html", archive.read("bittern-report.html"))
