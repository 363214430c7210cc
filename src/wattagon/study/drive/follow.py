"""What follows at once from a design, and what the hand on a lever wants to know: its steps."""

from __future__ import annotations

from typing import Any

from wattagon.design.catalogue import Catalogue
from wattagon.design.tree import Design
from wattagon.record import record
from wattagon.study.drive.heat import lines_until_hot
from wattagon.study.drive.levers import Lever, Preview, levers, preview
from wattagon.study.drive.study import DriveStudy, study_drive
from wattagon.study.findings.all import find
from wattagon.study.findings.finding import Finding
from wattagon.study.say import Say
from wattagon.study.studies import Task


@record(frozen=True, slots=True, kw_only=True)
class Followed:
    """What follows at once from a design: the same whether it was worked out before or after it was asked for."""

    study: DriveStudy
    findings: list[Finding]  # without cures
    levers: list[Lever]


def follow(design: Design, stock: Catalogue, say: Say) -> Followed:
    """All that follows at once.  Raises InputError or PathError."""
    study = study_drive(design, stock)
    return Followed(study=study, findings=find(design, stock, study, say), levers=levers(design, stock))


def run(task: Task) -> Followed:
    """The drive study of a task."""
    return follow(task.design, task.stock, task.say)


@record(frozen=True, slots=True, kw_only=True)
class Steps:
    """What each lever's steps would do (down, up), and lines of equal time until a winding is too hot."""

    previews: dict[str, tuple[Preview | None, Preview | None]]
    heat_lines: list[tuple[float, Any, Any]]  # minutes, speeds, thrust


def steps(task: Task) -> Steps:
    """All levers' steps in one batch."""
    followed: Followed = task.results["drive"]
    edits = [edit for lever in followed.levers for edit in (lever.down, lever.up) if edit is not None]
    found = iter(preview(task.design, task.stock, edits))
    previews: dict[str, tuple[Preview | None, Preview | None]] = {}
    for lever in followed.levers:
        down = next(found) if lever.down is not None else None
        previews[lever.code] = (down, next(found) if lever.up is not None else None)
    study = followed.study
    return Steps(previews=previews, heat_lines=lines_until_hot(study.resolved, float(study.states["nominal"].edge.speed_m_s[-1])))
