"""The findings of rides, for the schedule."""

from __future__ import annotations

from wattagon.study.drive.follow import Followed
from wattagon.study.findings.all import slow_findings
from wattagon.study.findings.finding import Finding
from wattagon.study.findings.rule import Case
from wattagon.study.ride.rules import RULES
from wattagon.study.studies import Task


def run(task: Task) -> list[Finding]:
    """All ride findings with their cures."""
    followed: Followed = task.results["drive"]
    case = Case(task.design, task.stock, followed.study, task.say)
    return slow_findings(case, followed.findings, RULES, task.cancelled)
