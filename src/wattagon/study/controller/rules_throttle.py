"""What is judged of the throttle: its window, what the rider feels, what happens when something fails."""

from __future__ import annotations

import math
from dataclasses import replace

from wattagon.design.paths import Edit
from wattagon.design.tree import Throttle
from wattagon.study.controller.case import control_of, controlled, put_throttle
from wattagon.study.controller.failsafe import Failure
from wattagon.study.drive.inputs import RAMP_UP_S
from wattagon.study.findings.rule import Case, Verdict, unknown
from wattagon.study.findings.status import Status

TIGHT_BELOW = 0.10


def window(case: Case) -> Verdict | None:
    """The lever's calibration."""
    found = controlled(case).throttle
    if found.problems:
        return Verdict(status=Status.OVER, title=f"Throttle: {found.problems[0]}", margin=-0.1, candidates=lambda: _recalibrated(case))
    if not found.seen:
        return unknown("The lever's readings are not told: lowest, at rest, highest; typical ones are drawn")
    w = found.window
    return Verdict(status=Status.CLEAR, title=f"Lever reads {w.low:g} to {w.high:g} {found.unit}, faults lie outside", margin=0.3)


def _recalibrated(case: Case) -> tuple[Edit, ...]:
    """Fault bands that are usual, and a dead band over the drift."""
    throttle = control_of(case).throttle or Throttle()
    lever, found = throttle.lever, controlled(case).throttle
    half = min(found.window.high - found.window.centre, found.window.centre - found.window.low or math.inf)
    dead = max(found.shape.dead, math.ceil(120.0 * (lever.drift or 0.0) / half) / 100.0)
    edits = [put_throttle(case, "Fault bands as usual", lever=replace(lever, fault_low=None, fault_high=None))]
    if dead > found.shape.dead and dead <= 0.4:
        edits.append(put_throttle(case, f"Dead band {dead:.0%}", dead=dead))
    return tuple(edits)


def _felt(case: Case, code: str, rise: bool) -> Verdict | None:
    feel = controlled(case).feel
    if feel is None:
        return None
    one = feel.trace(code)
    margin = min(1.0 - one.worst / one.borne, 1.0 - one.worst_jerk / one.borne_jerk)
    status = Status.OVER if margin < 0.0 else Status.TIGHT if margin < TIGHT_BELOW else Status.CLEAR
    at = "" if code == "start" else f" at {case.say(feel.pace_m_s, 'speed')}"
    name = one.name[0].upper() + one.name[1:]
    title = (
        f"{name}{at}: {one.worst:.1f} m/s², coming at {one.worst_jerk:.1f} m/s³; a {feel.bears.words} bears {one.borne:.1f} and "
        f"{one.borne_jerk:.0f}"
    )
    gentle = feel.gentle_rise_s if rise else feel.gentle_release_s
    told = case.design.variant().controller.ramp_up_s is not None
    if not told and status is not Status.CLEAR and one.worst <= (1.0 - TIGHT_BELOW) * one.borne:
        return unknown(f"{title}, with a ramp of {RAMP_UP_S:g} s that nobody told")
    if status is not Status.CLEAR and math.isfinite(gentle):
        title += f"; a ramp of {gentle:.2g} s would do"
    return Verdict(status=status, title=title, margin=margin, candidates=lambda: _gentler(case, code, gentle, one.worst / one.borne))


def _gentler(case: Case, code: str, gentle: float, share: float) -> tuple[Edit, ...]:
    choice = case.design.variant().controller
    made = []
    slower = math.ceil(20.0 * gentle + 0.5) / 20.0 if math.isfinite(gentle) else None
    rise = choice.ramp_up_s if choice.ramp_up_s is not None else RAMP_UP_S
    if slower is not None and slower <= 3.0:
        if code == "release":
            changes: tuple[tuple[str, object], ...] = (("variant.controller.ramp_down_s", slower),)
            if rise < slower:
                changes = (*changes, ("variant.controller.ramp_up_s", slower))
            made.append(Edit(label=f"Ramps of {slower:g} s", changes=changes))
        else:
            made.append(Edit(label=f"Ramp up {rise:g} to {slower:g} s", changes=(("variant.controller.ramp_up_s", slower),)))
    if code == "release" and choice.release_current_a:
        made.append(Edit(label="It rolls on when the lever is let go", changes=(("variant.controller.release_current_a", 0.0),)))
    if code == "brake" and choice.regen_motor_current_a and share > 0.9:
        less = math.floor(0.85 * choice.regen_motor_current_a / share)
        made.append(Edit(label=f"Braking motor amps {less:g} A", changes=(("variant.controller.regen_motor_current_a", float(less)),)))
    return tuple(made)


def starts(case: Case) -> Verdict | None:
    """Full lever from rest: what a rider who expects it bears."""
    return _felt(case, "start", True)


def lets_go(case: Case) -> Verdict | None:
    """Letting go comes unasked."""
    choice = case.design.variant().controller
    one_way = float(case.study.resolved.train.reduction.one_way) > 0
    if not one_way and choice.release_current_a is None and choice.regen_motor_current_a is None:
        return unknown("Letting go of the lever: whether the motor brakes then is not stated")
    verdict = _felt(case, "release", False)
    if verdict is not None and verdict.status is Status.OVER and choice.release_current_a is None:
        return replace(verdict, status=Status.TIGHT)  # how it brakes on release is for the user to say
    return verdict


def brakes(case: Case) -> Verdict | None:
    """Full brake at a pace."""
    choice = case.design.variant().controller
    if float(case.study.resolved.train.reduction.one_way) > 0 or not choice.regen_motor_current_a:
        return None
    return _felt(case, "brake", True)


def lifts(case: Case) -> Verdict | None:
    """The strongest pull of a start against belt and front wheel."""
    feel = controlled(case).feel
    if feel is None:
        return None
    pull = float(feel.trace("start").pull_n.max())
    name, most = min((("the belt jumps", feel.jump_n), ("the front lifts", feel.lift_n)), key=lambda row: row[1])
    if not math.isfinite(most):
        return None
    margin = 1.0 - pull / most
    status = Status.OVER if margin < 0.0 else Status.TIGHT if margin < TIGHT_BELOW else Status.CLEAR
    title = f"Full lever from rest pulls with {case.say(pull, 'force')}, {name} at {case.say(most, 'force')}"
    return Verdict(status=status, title=title, margin=margin)


def failures(case: Case) -> list[tuple[str, Failure]]:
    """Those of which something is known."""
    return [(one.code, one) for one in controlled(case).failures if one.outcome]


def fails(case: Case, one: Failure) -> Verdict:
    """What it does when something fails."""
    name = one.name[0].upper() + one.name[1:]
    margin = {Status.OVER: -1.0, Status.TIGHT: 0.0}.get(one.status, 0.3)
    return Verdict(status=one.status, title=f"{name}: {one.words}", margin=margin)


def untested(case: Case) -> Verdict | None:
    """Failures of which nothing is known, with the tests that tell."""
    open_ones = [one for one in controlled(case).failures if not one.outcome]
    if not open_ones:
        return None
    tests = ", ".join(sorted({one.test for one in open_ones}))
    return unknown(f"Not known what it does: {', '.join(one.name for one in open_ones)}; tests {tests}, wheels off the ground")
