"""Rules on the history: parts that an incident made suspect, and what is overdue."""

from __future__ import annotations

import datetime

from wattagon.design.tree import BuildPart
from wattagon.study.findings.finding import Finding
from wattagon.study.findings.rule import Case, Rule, Verdict
from wattagon.study.findings.status import Status
from wattagon.study.history.facts import CAUTION
from wattagon.study.history.study import Suspect, due, suspects
from wattagon.study.studies import Task

MOST_NAMED = 2  # of what is overdue, in the title


def today() -> datetime.date:
    """The day on which it is asked."""
    return datetime.date.today()


def of_parts(case: Case) -> list[tuple[str, Suspect]]:
    """The latest suspicion of each part."""
    found: dict[BuildPart, Suspect] = {}
    for suspect in suspects(case.design.history):
        found.setdefault(suspect.part, suspect)
    return [(part.value, suspect) for part, suspect in found.items()]


def suspect_part(_case: Case, suspect: Suspect) -> Verdict:
    """Suspect until the stated test was passed or the part replaced, however well it seems to work."""
    told = f": {suspect.entry.text}" if suspect.entry.text else ""
    because = f"What an incident harmed may fail weeks later. Clears it: {suspect.test}; or another part."
    caution = CAUTION.get(suspect.incident)
    title = f"{suspect.part.value.capitalize()} is suspect since the {suspect.incident} of {suspect.entry.date}{told}"
    return Verdict(status=Status.TIGHT, title=title, because=f"{because} {caution}" if caution else because, margin=0.0)


def overdue(case: Case) -> Verdict | None:
    """What should have been done by now, by day, hours or distance; nothing for a build without a history."""
    if not case.design.history:
        return None
    late = [one for one in due(case.design, today()) if one.overdue]
    if not late:
        return Verdict(status=Status.CLEAR, title="Nothing is overdue in the history")
    names = "; ".join(one.text for one in late[:MOST_NAMED])
    more = f" and {len(late) - MOST_NAMED} more" if len(late) > MOST_NAMED else ""
    usual = " Some are of the usual list, which is typical." if any(one.usual for one in late) else ""
    because = f"By the days, hours and distances that entries ask for.{usual}"
    return Verdict(status=Status.TIGHT, title=f"{len(late)} overdue: {names}{more}", because=because, margin=0.0)


RULES: tuple[Rule, ...] = (
    Rule(
        code="history.suspect",
        bench="brief",
        link="history",
        because="What an incident harmed may fail weeks later.",
        judge=suspect_part,
        of=of_parts,
    ),
    Rule(
        code="history.due",
        bench="brief",
        link="history",
        because="By the days, hours and distances that entries ask for.",
        judge=overdue,
    ),
)


def run(task: Task) -> list[Finding]:
    """The findings of a task."""
    case = Case(task.design, task.stock, task.results["drive"].study, task.say)
    return [finding for rule in RULES for finding in rule.findings(case)]
