"""The history: order, use, what an incident makes suspect and what clears it, what is due, and the terminal on it."""

import contextlib
import csv
import datetime
import io
import json
import tempfile
import unittest
from dataclasses import replace
from pathlib import Path
from unittest import mock

from tests.design.malformed import DEMO
from tests.judging import judged_all
from wattagon.cli import main
from wattagon.design import catalogue, file
from wattagon.design.template import new_design
from wattagon.design.tree import BuildPart, Entry, EntryKind, Incident, Reading, VehicleKind
from wattagon.errors import InputError
from wattagon.exchange.history_csv import history_text
from wattagon.study.history.facts import STRESSED, USUAL_SERVICE
from wattagon.study.history.study import due, in_order, search, suspects, use_of, version_of

SHORT = Entry(id="s", date="2026-08-02", kind=EntryKind.INCIDENT, incident=Incident.SHORT, text="leads touched")
DAY = datetime.date(2026, 9, 1)


def later(day, kind=EntryKind.COMMISSIONING, ident="t", **more):
    return Entry(id=ident, date=day, kind=kind, **more)


class SuspectTest(unittest.TestCase):
    def parts(self, *entries):
        return {suspect.part for suspect in suspects(entries)}

    def test_an_incident_stresses_what_belongs_to_it_and_what_the_user_names(self):
        self.assertEqual(self.parts(SHORT), {BuildPart.CONTROLLER, BuildPart.PACK, BuildPart.WIRING})
        self.assertIn(BuildPart.BRAKES, self.parts(replace(SHORT, on=(BuildPart.BRAKES,))))
        for kind in Incident:
            self.assertTrue(STRESSED[kind], kind)
            self.assertTrue(all(stress.test for stress in STRESSED[kind]))

    def test_only_a_later_test_that_names_it_or_another_part_clears(self):
        on = (BuildPart.CONTROLLER,)
        self.assertIn(BuildPart.CONTROLLER, self.parts(SHORT, later("2026-08-05", on=on)), "a test of something else")
        self.assertNotIn(BuildPart.CONTROLLER, self.parts(SHORT, later("2026-08-05", on=on, clears=("s",))))
        self.assertIn(BuildPart.PACK, self.parts(SHORT, later("2026-08-05", on=on, clears=("s",))))
        self.assertIn(BuildPart.CONTROLLER, self.parts(SHORT, later("2026-08-01", on=on, clears=("s",))), "before it happened")
        self.assertNotIn(BuildPart.CONTROLLER, self.parts(SHORT, later("2026-08-05", EntryKind.REPAIR, replaced=on)))
        self.assertEqual(self.parts(SHORT, later("2026-08-05", clears=("s",))), set(), "a test of all")

    def test_another_incident_makes_it_suspect_again(self):
        cleared = later("2026-08-05", clears=("s",))
        again = replace(SHORT, id="s2", date="2026-08-20")
        self.assertEqual(self.parts(SHORT, cleared, again), self.parts(SHORT))

    def test_every_finding_on_a_suspect_part_says_so_until_it_is_cleared(self):
        stock = catalogue.load()
        design = replace(file.read(DEMO / "dunlin.json").design, history=())
        plain = {f.code: f for f in judged_all(design, stock)}
        hit = {f.code: f for f in judged_all(replace(design, history=(SHORT,)), stock)}
        self.assertIn("history.suspect.controller", hit)
        for code, finding in plain.items():
            self.assertEqual(hit[code].status, finding.status, "figures stay what they are")
            self.assertEqual(bool(hit[code].suspect), finding.link in ("controller", "pack"), code)
            self.assertEqual("suspect" in hit[code].title, finding.link in ("controller", "pack"), code)
        passed = later("2026-08-05", on=(BuildPart.CONTROLLER, BuildPart.PACK, BuildPart.WIRING), clears=("s",))
        cleared = {f.code: f for f in judged_all(replace(design, history=(SHORT, passed)), stock)}
        self.assertFalse([code for code in cleared if code.startswith("history.suspect")])
        self.assertFalse([f.code for f in cleared.values() if f.suspect])

    def test_the_demo_bike_has_a_suspect_controller(self):
        design = file.read(DEMO / "bittern.json").design
        self.assertEqual(self.parts(*design.history), {BuildPart.CONTROLLER})


class DueTest(unittest.TestCase):
    def design(self, *entries):
        return replace(new_design(VehicleKind.BIKE), history=entries)

    def named(self, *entries, day=DAY):
        return {one.text: one for one in due(self.design(*entries), day)}

    def test_nothing_without_a_history(self):
        self.assertEqual(due(self.design(), DAY), [])

    def test_by_day_hours_and_distance_on_both_sides(self):
        entry = later("2026-08-02", EntryKind.SERVICE, text="brakes", on=(BuildPart.BRAKES,), again_days=30)
        self.assertTrue(self.named(entry)["brakes"].overdue, "the very day")
        self.assertFalse(self.named(entry, day=DAY - datetime.timedelta(days=1))["brakes"].overdue)
        self.assertTrue(self.named(entry, day=DAY - datetime.timedelta(days=1))["brakes"].soon)
        chain = later("2026-08-02", EntryKind.SERVICE, text="chain", on=(BuildPart.REDUCTION,), distance=100e3, again_distance=300e3)
        ride = lambda metres, hours=0.0: Entry(id="r", date="2026-08-20", kind=EntryKind.RIDE, distance=metres, hours=hours)
        self.assertFalse(self.named(chain, ride(399e3))["chain"].overdue)
        self.assertTrue(self.named(chain, ride(400e3))["chain"].overdue)
        bolts = later("2026-08-02", EntryKind.SERVICE, text="bolts", on=(BuildPart.FRAME,), again_hours=5.0)
        first = Entry(id="a", date="2026-07-01", kind=EntryKind.RIDE, hours=2.0)
        self.assertFalse(self.named(first, bolts, ride(0.0, 6.9))["bolts"].overdue, "counted from what was ridden before it")
        self.assertTrue(self.named(first, bolts, ride(0.0, 7.0))["bolts"].overdue)

    def test_done_again_it_is_due_again_from_then(self):
        one = later("2026-07-01", EntryKind.SERVICE, text="brakes", on=(BuildPart.BRAKES,), again_days=30)
        two = replace(one, id="u", date="2026-08-20")
        self.assertEqual(self.named(one, two)["brakes"].day, "2026-09-19")

    def test_the_usual_list_is_typical_and_gives_way_to_what_is_asked_for(self):
        found = self.named(Entry(id="a", date="2026-01-01"))
        self.assertEqual({text for text, one in found.items() if one.usual}, {service.text for service in USUAL_SERVICE})
        self.assertTrue(found["Brakes"].overdue)
        asked = later("2026-08-02", EntryKind.SERVICE, text="mine", on=(BuildPart.BRAKES,), again_days=400)
        self.assertNotIn("Brakes", self.named(asked))

    def test_what_is_suspect_is_due_at_once_and_a_finding_counts_it(self):
        found = self.named(SHORT)
        self.assertTrue(found["Test the controller after the short"].overdue)
        self.assertIn("hour", found["Test the controller after the short"].how)
        with mock.patch("wattagon.study.history.rules.today", lambda: DAY):
            codes = {f.code: f for f in judged_all(self.design(SHORT), catalogue.load())}
        self.assertIn("3 overdue", codes["history.due"].title)


class EntryTest(unittest.TestCase):
    def test_order_use_search_and_version(self):
        design = file.read(DEMO / "bittern.json").design
        entries = in_order(reversed(design.history))
        self.assertEqual([entry.date for entry in entries], sorted(entry.date for entry in design.history))
        use = use_of(design.history)
        self.assertEqual((use.hours, use.distance), (24.0, 402000.0))
        self.assertEqual([entry.id for entry in search(design.history, "SHORT leads")], ["e5"])
        self.assertEqual(search(design.history, "leads nowhere"), [])
        a, b = design.variants[0], replace(design.variants[0], name="other", note="words")
        self.assertEqual(version_of(a), version_of(b))
        changed = replace(a, controller=replace(a.controller, motor_current_a=a.controller.motor_current_a + 1))
        self.assertNotEqual(version_of(a), version_of(changed))

    def test_what_cannot_be_is_refused(self):
        for bad in (
            {"id": "x", "date": "2026-13-01"},
            {"id": "x", "date": "today"},
            {"id": "x", "date": "2026-01-01", "kind": EntryKind.INCIDENT},
            {"id": "a b", "date": "2026-01-01"},
            {"id": "x", "date": "2026-01-01", "pictures": tuple("abcdefghi")},
        ):
            with self.assertRaises(InputError):
                Entry(**bad)
        with self.assertRaises(InputError):
            Reading(name="v", value=1.0, dimension="furlong")
        with self.assertRaisesRegex(InputError, "twice"):
            replace(new_design(VehicleKind.BIKE), history=(SHORT, SHORT))

    def test_a_table_of_it_and_words_that_are_no_formula(self):
        rows = list(csv.DictReader(io.StringIO(history_text((SHORT, replace(SHORT, id="x", text="=1+1", distance=2500.0))))))
        self.assertEqual((rows[0]["incident"], rows[0]["text"]), ("short", "leads touched"))
        self.assertEqual((rows[1]["text"], rows[1]["distance [km]"]), ("'=1+1", "2.5"))


class TerminalTest(unittest.TestCase):
    def setUp(self):
        self.path = Path(self.enterContext(tempfile.TemporaryDirectory())) / "bike.wattagon"
        file.write(self.path, file.Document(design=new_design(VehicleKind.BIKE)))

    def run_it(self, *arguments):
        out, err = io.StringIO(), io.StringIO()
        with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
            code = main(arguments)
        return code, out.getvalue(), err.getvalue()

    def test_entries_are_added_listed_searched_and_due(self):
        path = str(self.path)
        added = ("--add", "box opened, leads touched", "--incident", "short", "--date", "2026-08-02")
        self.assertEqual(self.run_it("history", path, *added)[0], 0)
        self.assertEqual(
            self.run_it("history", path, "--add", "ride", "--kind", "ride", "--hours", "2", "--distance", "25 km", "--date", "2026-08-04")[
                0
            ],
            0,
        )
        _, out, _ = self.run_it("history", path, "--json")
        data = json.loads(out)
        self.assertEqual([item["kind"] for item in data], ["incident", "ride"])
        self.assertEqual((data[1]["use_h"], data[1]["distance_m"], data[0]["distance_m"]), (2.0, 25000.0, None))
        _, out, _ = self.run_it("due", path, "--on-day", "2026-08-10", "--json")
        self.assertEqual(sum(item["overdue"] for item in json.loads(out)), 3)
        passed = ("--add", "all tests", "--kind", "commissioning", "--clears", "e1", "--date", "2026-08-09")
        self.assertEqual(self.run_it("history", path, *passed)[0], 0)
        _, out, _ = self.run_it("due", path, "--on-day", "2026-08-10", "--json")
        self.assertEqual(sum(item["overdue"] for item in json.loads(out)), 0)
        self.assertIn("e1", self.run_it("history", path, "--search", "leads short")[1])

    def test_capitals_and_blanks_are_taken_as_meant(self):
        typed = ("--add", "leads touched", "--incident", " Short", "--on", "Controller", "--again", "3 Months ")
        self.assertEqual(self.run_it("history", str(self.path), *typed)[0], 0)
        entry = file.read(self.path).design.history[-1]
        self.assertEqual((entry.incident, entry.on, entry.again_days), ("short", ("controller",), 90))

    def test_what_is_wrong_is_one_sentence_and_nothing_is_written(self):
        before = self.path.read_bytes()
        for wrong, words in (
            (("--add", "x", "--kind", "party"), "--kind"),
            (("--add", "x", "--on", "engine"), "--on"),
            (("--add", "x", "--clears", "e9"), "--clears"),
            (("--add", "x", "--again", "soon"), "--again"),
            (("--add", "x", "--date", "5 May"), "date"),
            (("--kind", "ride"), "--add"),
        ):
            code, _, err = self.run_it("history", str(self.path), *wrong)
            self.assertEqual((code, words in err, len(err.strip().splitlines())), (2, True, 1), err)
        self.assertEqual(self.path.read_bytes(), before)
