"""What this design says for and against a cause: findings, commissioning, incidents, changes, the orders of its train."""

from __future__ import annotations

import datetime
from collections.abc import Iterable, Sequence
from typing import NamedTuple

from wattagon.design.tree import Design, EntryKind
from wattagon.study.commission.judge import Verdict
from wattagon.study.commission.study import CommissionStudy
from wattagon.study.findings.finding import Finding
from wattagon.study.findings.status import Status
from wattagon.study.history.study import in_order, suspects
from wattagon.study.trouble.causes import Cause

# by how much each kind of evidence moves a cause; judged
BY_STATUS = {Status.OVER: 3.0, Status.TIGHT: 1.7, Status.CLEAR: 0.6}
FAILED, HELD, SUSPECT, CHANGED, RECENT_DAYS = 4.0, 0.45, 3.0, 2.5, 21


class Evidence(NamedTuple):
    """One thing that speaks: by how much a cause becomes likelier (above 1) or less so, in words."""

    factor: float
    words: str


def evidence(
    cause: Cause,
    design: Design,
    findings: Sequence[Finding],
    commission: CommissionStudy | None,
    today: datetime.date,
) -> list[Evidence]:
    """What speaks of a cause, the strongest first."""
    return sorted(
        [*_findings(cause, design, findings), *_commission(cause, commission), *_history(cause, design, today)],
        key=lambda one: -max(one.factor, 1.0 / one.factor),
    )


def named_by(head: str, design: Design, findings: Sequence[Finding]) -> list[Finding]:
    """Findings that a cause names: by the beginning of their code, or `goal:kind` those of all goals of a kind."""
    if head.startswith("goal:"):
        codes = {f"goal.{goal.id}" for goal in design.brief.goals if goal.kind.value == head.removeprefix("goal:")}
        return [one for one in findings if one.code in codes]
    exact = [one for one in findings if one.code == head or one.code.startswith(head if head.endswith(".") else f"{head}.")]
    return exact or [one for one in findings if one.code.startswith(head)]


def _findings(cause: Cause, design: Design, findings: Sequence[Finding]) -> Iterable[Evidence]:
    """The worst finding of each kind that a cause names; one that is not checked says nothing."""
    for head in cause.findings:
        alike = named_by(head, design, findings)
        judged = [one for one in alike if one.status in BY_STATUS]
        if not judged:
            continue
        worst = max(judged, key=lambda one: BY_STATUS[one.status])
        yield Evidence(BY_STATUS[worst.status], f"{worst.status.value.replace('_', ' ')}: {worst.title}")


def _commission(cause: Cause, found: CommissionStudy | None) -> Iterable[Evidence]:
    if found is None:
        return
    by_id = {one.item.id: one for one in found.applying}
    for code in cause.steps:
        one = by_id.get(code)
        if one is None:
            continue
        said = f": {one.judged.said[0]}" if one.judged.said else ""
        if one.verdict is Verdict.FAILED:
            yield Evidence(FAILED, f"{code} {one.item.title} failed{said}")
        elif one.passed:
            yield Evidence(HELD, f"{code} {one.item.title} held on {one.seen.date}{said}")
        elif one.reopened:
            yield Evidence(1.3, f"{code} {one.item.title} has to be done again: {one.reopened[0]}")


def _history(cause: Cause, design: Design, today: datetime.date) -> Iterable[Evidence]:
    """What an incident stressed is a cause until it is cleared; what was changed lately likewise."""
    for suspect in suspects(design.history):
        if suspect.part is cause.part:
            yield Evidence(SUSPECT, f"{suspect.part.value} suspect since the {suspect.incident.value} of {suspect.entry.date}")
            break
    entries = in_order(design.history)
    if not entries:
        return
    for entry in reversed(entries):
        days = (today - datetime.date.fromisoformat(entry.date)).days
        if days > RECENT_DAYS:
            break
        if entry.kind in (EntryKind.CHANGE, EntryKind.REPAIR) and (cause.part in entry.on or cause.part in entry.replaced):
            when = {0: "today", 1: "yesterday"}.get(days, f"{days} days ago")
            yield Evidence(CHANGED, f"{cause.part.value} was changed {when}: {entry.text or entry.kind.value}")
            break
