"""Courses of the brief, ridden."""

from __future__ import annotations

import numpy as np

from wattagon.design.tree import Course, GoalKind
from wattagon.physics.ride.names import Col, End, Stat
from wattagon.physics.ride.plant import RIDE_INDEX
from wattagon.study.drive import candidates as try_
from wattagon.study.drive.words import Say
from wattagon.study.findings.rule import Case, Verdict
from wattagon.study.findings.status import Status
from wattagon.study.ride.rules.rides import cooler, ride_of
from wattagon.study.ride.study import Ask, Ride
from wattagon.study.ride.words import distance_text

TAPER_TOLD_S = 5.0  # in all, from where on a course says that it was cut back for heat


def courses(case: Case) -> list[tuple[str, Course]]:
    """Every course of the brief by its id."""
    return [(course.id, course) for course in case.design.brief.courses]


def ridden(case: Case, course: Course) -> Verdict:
    done = ride_of(case, Ask(run=course.id))
    bottom = done.resolved.window[1]
    say = case.say
    used = case.design.brief.conditions.start_charge.value - done.run.stat(Stat.CHARGE)
    room = case.design.brief.conditions.start_charge.value - bottom
    margin = 1.0 - used / room if room > 0 else -1.0
    name = course.name or course.id
    because = (
        f"Ridden with its {'currents' if case.design.vehicle.kind.floats else 'climbs'}, wind and stops from "
        f"{case.design.brief.conditions.start_charge.value:.0%}; {bottom:.0%} stays in the pack."
    )
    edits = lambda: (
        *try_.steps(case.design, case.stock, ("parallel",), +1),
        *try_.steps(case.design, case.stock, ("series",), +1, most=2),
    )
    if done.run.end is End.OVERCHARGED:
        title = f"{name}: downhill the motor drives more into the pack than it takes, after {say(done.distance_m, 'distance')}"
        return Verdict(
            status=Status.OVER,
            title=title,
            because=because,
            margin=-1.0,
            candidates=lambda: try_.faster(case.design, case.stock),
            figure=say(done.distance_m, "distance"),
        )
    cut = float(done.run.held_s[RIDE_INDEX["low_voltage"]]) > 1.0
    if done.run.end in (End.STALLED, End.EMPTY) or done.distance_m < sum(leg.length for leg in course.legs) - 5.0:
        went = "the pack empty" if done.run.end is End.EMPTY else "it stops on the way"
        title = f"{name}: {went} after {say(done.distance_m, 'distance')}"
        hot_s, where = _in_taper(done, say)
        if hot_s > TAPER_TOLD_S:
            title += f", {say(hot_s, 'time')} of it cut back for heat, {where}"
        more = (*edits(), *cooler(case)) if done.run.end is End.STALLED else edits()
        return Verdict(
            status=Status.OVER,
            title=title,
            because=because,
            margin=min(margin, -0.01),
            candidates=lambda: more,
            figure=say(done.distance_m, "distance"),
        )
    if cut:
        title = f"{name}: the low-voltage cutback holds it back on the way home"
        return Verdict(status=Status.OVER, title=title, because=because, margin=-0.01, candidates=edits, figure="cut back")
    goals = [goal for goal in case.design.brief.goals if goal.kind is GoalKind.RANGE and goal.distance]
    figure = say(done.range_m, "distance")
    title = f"{name}: takes {used:.0%} of the charge, {figure} on a usable charge like this"
    status = Status.OVER if margin < 0 else Status.TIGHT if margin < 0.15 else Status.CLEAR
    hot_s, where = _in_taper(done, say)
    if hot_s > TAPER_TOLD_S:
        title = f"{name}: {say(hot_s, 'time')} cut back for heat, {where}; takes {used:.0%} of the charge"
        if status is Status.CLEAR:
            status, margin = Status.TIGHT, min(margin, 0.0)
        more_edits = edits
        edits = lambda: (*cooler(case), *more_edits())
    if goals and done.range_m < (goals[0].distance or 0.0) and status is Status.CLEAR:
        status = Status.TIGHT
        margin = done.range_m / (goals[0].distance or 1.0) - 1.0
        title = (
            f"{name}: ridden like this a charge reaches {figure}, the goal's "
            f"{say(goals[0].distance or 0.0, 'distance')} is for a steady pace"
        )
    return Verdict(status=status, title=title, because=because, margin=margin, candidates=edits, figure=figure)


def _in_taper(done: Ride, say: Say) -> tuple[float, str]:
    """(seconds that heat held a course back, on which climb)."""
    names = [RIDE_INDEX[name] for name in ("thermal", "controller_heat")]
    seconds = sum(float(done.run.held_s[k]) for k in names)
    x, grade = done.run.column(Col.DISTANCE), done.run.column(Col.GRADE)
    at = np.flatnonzero(np.isin(done.run.column(Col.LIMIT), names))
    if not at.size:
        return seconds, "for moments"
    steep = begin = int(at[np.argmax(grade[at])])
    if grade[steep] <= 0.0:
        return seconds, f"first after {distance_text(float(x[at[0]]), say)}"
    while begin > 0 and grade[begin - 1] >= 0.5 * grade[steep]:
        begin -= 1
    return seconds, f"on the climb of {say(float(grade[steep]), 'grade')} that begins at {distance_text(float(x[begin]), say)}"
