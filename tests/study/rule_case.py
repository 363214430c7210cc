"""What tests of rules share: designs with known findings, values put beside a bound, the status on each side."""

from __future__ import annotations

import unittest
from collections.abc import Callable
from dataclasses import replace

from tests.design.malformed import DEMO
from wattagon.design import catalogue, file
from wattagon.design.paths import put
from wattagon.design.quantity import Known, Quantity
from wattagon.design.tree import Design
from wattagon.exchange.units import say
from wattagon.study.drive.study import DriveStudy, study_drive
from wattagon.study.findings.all import find
from wattagon.study.findings.cures import drive_again, with_cures
from wattagon.study.findings.finding import Finding
from wattagon.study.findings.rule import Case
from wattagon.study.findings.status import Status

STOCK = catalogue.load()
BOARD = file.read(DEMO / "dunlin.json").design  # variant B
KART = file.read(DEMO / "corncrake.json").design
BIKE = file.read(DEMO / "bittern.json").design
RANK = {Status.CLEAR: 0, Status.NOT_CHECKED: 0, Status.TIGHT: 1, Status.OVER: 2}


def changed(design: Design, **values: object) -> Design:
    """A design with values by path, `__` for a dot."""
    for path, value in values.items():
        design = put(design, path.replace("__", "."), value)
    return design


def known(value: float) -> Quantity:
    return Quantity(value=value, known=Known.MEASURED)


def study(design: Design) -> DriveStudy:
    return study_drive(design, STOCK)


def case(design: Design) -> Case:
    return Case(design, STOCK, study(design), say)


def all_of(design: Design) -> list[Finding]:
    return find(design, STOCK, study(design))


class RuleCase(unittest.TestCase):
    def found(self, design: Design, code: str) -> Finding | None:
        return next((f for f in all_of(design) if f.code == code), None)

    def finding(self, design: Design, code: str) -> Finding:
        made = self.found(design, code)
        self.assertIsNotNone(made, code)
        assert made is not None
        return made

    def status(self, design: Design, code: str) -> Status:
        return self.finding(design, code).status

    def bounds(self, code: str, make: Callable[[float], Design], low: float, high: float, first: Status, last: Status) -> float:
        """Where the status changes between two values, found by halving; the statuses at the ends must be as told."""
        self.assertIs(self.status(make(low), code), first)
        self.assertIs(self.status(make(high), code), last)
        for _ in range(40):
            middle = (low + high) / 2
            if self.status(make(middle), code) is first:
                low = middle
            else:
                high = middle
        return (low + high) / 2

    def cured(self, design: Design, code: str) -> list[tuple[str, Design]]:
        """What each cure of a finding makes of the design; each must better it."""
        found = all_of(design)
        before = next(f for f in found if f.code == code)
        with_ = with_cures(before, case(design), found, drive_again)
        made = []
        for cure in with_.cures:
            after = design
            for path, value in cure.edit.changes:
                after = put(after, path, value)
            now = self.found(after, code)
            better = now is None or RANK[now.status] < RANK[before.status] or (now.margin or 0.0) > (before.margin or 0.0)
            self.assertTrue(better, f"{cure.text} does not better {before.title}")
            worse = [
                f.code
                for f in all_of(after)
                if RANK[f.status] > RANK[next((g.status for g in found if g.code == f.code), Status.CLEAR)] and f.code != code
            ]
            self.assertTrue(not worse or "then " in cure.effect, f"{cure.text} makes {worse} worse and does not say so: {cure.effect}")
            made.append((cure.text, after))
        return made


__all__ = ["BIKE", "BOARD", "KART", "STOCK", "RuleCase", "all_of", "case", "changed", "known", "replace", "study"]


class SidesCase(unittest.TestCase):
    """Rules of a slow study on both sides of their bound; `verdicts` hands the findings of a rule by the end of their code."""

    def verdicts(self, design: Design, code: str) -> dict[str, Finding]:
        raise NotImplementedError  # by the tests of one study

    def status(self, design: Design, code: str, key: str | None = None) -> Status:
        found = self.verdicts(design, code)
        self.assertTrue(found, code)
        return found[key or code].status

    def sides(
        self,
        code: str,
        good: Design,
        bad: Design,
        key: str | None = None,
        wanted: tuple[Status, Status] = (Status.CLEAR, Status.OVER),
    ) -> None:
        self.assertIs(self.status(good, code, key), wanted[0])
        self.assertIs(self.status(bad, code, key), wanted[1])
