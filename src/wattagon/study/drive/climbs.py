"""How long a climb has to be held: as long as the courses of the brief have it, else ten minutes."""

from __future__ import annotations

import math
from collections.abc import Iterator

from wattagon.design.tree import Course, Design, GoalKind
from wattagon.record import record
from wattagon.study.findings.status import Status

LASTING_CLIMB_S = 600.0  # asked for where no course says how long the climb is
SHORT = 0.2  # of what is asked for: held for less it is over, not tight
ALIKE = 0.5  # a leg belongs to a climb from this share of its grade on
ROOM = 1.5  # times what a course asks for, from where on what would come to harm is clear


@record(frozen=True, slots=True, kw_only=True)
class Climb:
    """A stretch of a course that goes up."""

    course: str
    begin_m: float
    length_m: float
    seconds: float  # at the speeds of its legs
    grade: float  # in the mean


def climbs_of(course: Course, least_grade: float) -> Iterator[Climb]:
    """Stretches of a course on which each leg rises by a grade or more."""
    at = begin = length = seconds = rise = 0.0
    for leg in (*course.legs, None):
        if leg is not None and leg.grade >= least_grade > 0.0:
            if length == 0.0:
                begin = at
            length, seconds, rise = length + leg.length, seconds + leg.length / leg.speed, rise + leg.length * leg.grade
        elif length > 0.0:
            yield Climb(course=course.name or course.id, begin_m=begin, length_m=length, seconds=seconds, grade=rise / length)
            length = seconds = rise = 0.0
        at += leg.length if leg is not None else 0.0


def longest_climb(design: Design, grade: float) -> Climb | None:
    """The longest climb in time of all courses that is about as steep as a grade."""
    found = [climb for course in design.brief.courses for climb in climbs_of(course, ALIKE * grade)]
    return max(found, key=lambda climb: climb.seconds, default=None)


def asked_climb(design: Design, grade: float) -> tuple[float, str]:
    """(seconds for which a climb of a grade is to be held, whose climb that is; empty where no course says)."""
    climb = longest_climb(design, grade)
    return (climb.seconds, climb.course) if climb is not None else (LASTING_CLIMB_S, "")


def goal_climb_s(design: Design) -> float:
    """Seconds for which the first climbing goal is to be held."""
    grades = [goal.grade or 0.0 for goal in design.brief.goals if goal.kind is GoalKind.CLIMB]
    return asked_climb(design, grades[0])[0] if grades else LASTING_CLIMB_S


def judge_climb(seconds: float, design: Design, grade: float, *, harm: bool) -> tuple[Status, float]:
    """(status, margin) of a climb that is held for a time, against how long it is asked for.

    What only slows down is over when it does so long before the end; what comes to `harm` before the end of a climb that a course
    has is over, and should have some room.
    """
    asked, whose = asked_climb(design, grade)
    if math.isinf(seconds):
        return Status.CLEAR, 1.0
    margin = seconds / asked - 1.0
    if seconds < SHORT * asked or (harm and whose and margin < 0.0):
        return Status.OVER, margin
    return Status.TIGHT if margin < (ROOM - 1.0 if harm and whose else 0.0) else Status.CLEAR, margin


def steepest(design: Design) -> float:
    """The steepest grade of goals and courses; 0 where all is flat."""
    goals = [goal.grade or 0.0 for goal in design.brief.goals if goal.kind in (GoalKind.CLIMB, GoalKind.START)]
    legs = [leg.grade for course in design.brief.courses for leg in course.legs]
    return max((*goals, *legs), default=0.0)
