"""When studies run: what a change wakes, what it cancels, and that a step of a lever waits for none of them."""

from __future__ import annotations

import threading
import unittest

from PySide6.QtWidgets import QApplication

from tests.desk.case import DeskTestCase
from wattagon.desk.schedule import Schedule
from wattagon.study.studies import FIRST, STUDIES, Pace, Study, Task, loaded, wakes

RUN: list[str] = []
GO = threading.Event()


def quick(task):
    RUN.append(f"quick {task.design}")
    return "quick"


def slow(task):
    RUN.append(f"slow {task.design}")
    while not GO.is_set() and not task.cancelled():
        GO.wait(0.005)
    return f"slow {task.design}"


def study(code: str, pace: Pace, run: str, depends: tuple[str, ...] = ("vehicle",)) -> Study:
    return Study(code=code, pace=pace, depends=depends, run=f"{__name__}:{run}", after_ms=0 if pace is Pace.QUICK else 5)


def task(design: str) -> Task:
    return Task(design=design, stock=None, say=None, results={})


class ScheduleTest(DeskTestCase):
    demo = False

    def setUp(self):
        super().setUp()
        RUN.clear()
        GO.clear()

    def schedule(self, *studies: Study) -> Schedule:
        made = Schedule(studies)
        self.addCleanup(made.rest)
        self.addCleanup(GO.set)
        return made

    def test_a_change_wakes_only_what_depends_on_it(self):
        made = self.schedule(study("mass", Pace.IDLE, "quick"), study("cost", Pace.IDLE, "quick", ("brief.shelf",)))
        made.follow(task("a"), {"vehicle.rider_mass"})
        self.wait_until(lambda: not made.busy)
        self.assertEqual((set(made.results), RUN), ({"mass"}, ["quick a"]))
        made.follow(task("b"), {"brief.shelf.0.count"})
        self.wait_until(lambda: not made.busy)
        self.assertEqual(RUN, ["quick a", "quick b"])
        made.follow(task("c"), frozenset())
        self.wait_until(lambda: not made.busy)
        self.assertEqual(RUN.count("quick c"), 2, "another design wakes all")

    def test_no_study_runs_before_the_change_is_shown(self):
        made = self.schedule(*(study(f"s{k}", Pace.QUICK, "quick") for k in range(40)))
        made.follow(task("a"), {"vehicle.grip"})
        self.assertEqual(RUN, [], "a step waits for none of forty studies")
        self.wait_until(lambda: len(made.results) == 40)

    def test_a_newer_change_cancels_a_slow_study_and_its_result_never_comes(self):
        made = self.schedule(study("ride", Pace.SLOW, "slow"))
        told = []
        made.arrived.connect(told.append)
        made.follow(task("a"), {"vehicle.grip"})
        self.wait_until(lambda: RUN == ["slow a"])
        self.assertIn("ride", made.stale)
        made.follow(task("b"), {"vehicle.grip"})
        self.wait_until(lambda: RUN == ["slow a", "slow b"])
        GO.set()
        self.wait_until(lambda: bool(told))
        QApplication.processEvents()
        self.assertEqual((made.results["ride"], told, made.stale), ("slow b", ["ride"], set()))

    def test_forgetting_leaves_nothing(self):
        made = self.schedule(study("ride", Pace.SLOW, "slow"), study("mass", Pace.IDLE, "quick"))
        made.follow(task("a"), frozenset())
        made.forget()
        self.assertFalse(made.busy)
        self.app.processEvents()
        self.assertEqual((made.results, RUN), ({}, []))


class TableTest(unittest.TestCase):
    def test_paths_wake_what_they_may_change(self):
        for path, wanted in (
            ("variant.pack.series", True),
            ("variants.B.pack.series", True),
            ("variants", True),
            ("active", True),
            ("brief.courses", True),
            ("vehicle.rider_mass", True),
            ("vehicle.name", False),
            ("variants.B.note", False),
            ("variant.name", False),
            ("brief.workshop.welder", False),
            ("note", False),
        ):
            self.assertIs(wakes(FIRST, {path}), wanted, path)
        self.assertTrue(wakes(FIRST, ()))

    def test_every_line_leads_somewhere(self):
        self.assertEqual(len({entry.code for entry in STUDIES}), len(STUDIES))
        for entry in STUDIES:
            self.assertTrue(callable(loaded(entry.run)), entry.code)
            self.assertTrue(not entry.rules or loaded(entry.rules), entry.code)


class NamesTest(DeskTestCase):
    def test_a_name_changes_no_figure_and_runs_no_study(self):
        self.all_settled()
        study, findings = self.session.study, self.session.findings
        self.type_into(self.window.bench("brief").name, "Dunlin the second")
        self.assertEqual(self.session.design.vehicle.name, "Dunlin the second")
        self.assertIs(self.session.study.resolved, study.resolved)
        self.assertIs(self.session.study.design, self.session.design)
        self.assertFalse(self.session.schedule.busy)
        self.assertEqual([f.code for f in self.session.findings], [f.code for f in findings])
