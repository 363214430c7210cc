"""What one step of a lever would do, in the words and marks that fit beside it."""

from __future__ import annotations

import math

from wattagon.desk.chart.bars import Bar, bar_of
from wattagon.desk.session import Session
from wattagon.exchange.units import difference, unit_of
from wattagon.record import record
from wattagon.study.drive.goals import GoalResult
from wattagon.study.drive.levers import Lever, Preview
from wattagon.study.drive.words import short_goal
from wattagon.study.findings.status import Status


@record(frozen=True, slots=True)
class Effect:
    """A step's effect: bars in the order of the goals, the most telling one in words, and how bad it is."""

    bars: tuple[Bar, ...]
    words: str
    status: Status


def value_text(session: Session, lever: Lever, value: float | str | None) -> str:
    """A lever's value or the value of a step, in the user's units; the unit stands with the lever's own value only."""
    if value is None:
        return ""
    if isinstance(value, str):
        return value
    return session.say(value, lever.dimension)


def effect(session: Session, lever: Lever, side: int) -> Effect | None:
    """What stepping a lever down (0) or up (1) would do; None where there is no such step or no answer yet."""
    preview = session.previews.get(lever.code, (None, None))[side]
    if preview is None or session.study is None:
        return None
    if preview.refused:
        return Effect((), "not possible", Status.OVER)
    before, after = session.study.goals, preview.beside(session.study.goals)
    if len(before) != len(after):
        return None
    bars = tuple(bar_of(a.margin, b.margin) for a, b in zip(before, after, strict=True))
    broken = session.broken.get((lever.code, side))
    if broken is not None:
        return Effect(bars, f"over: {_topic(broken.code)}", Status.OVER)
    words, status = _telling(session, before, preview)
    return Effect(bars, words, status)


def _topic(code: str) -> str:
    return {
        "controller.kind": "controller",
        "controller.pack_volts": "controller",
        "motor.pack_volts": "motor",
        "motor.amps": "motor",
        "controller.motor_amps": "controller",
        "controller.pack_amps": "controller",
        "pack.amps": "cells",
        "pack.protection": "protection",
        "controller.erpm": "speed",
        "motor.rpm": "motor",
        "reduction.pull": "belt",
        "wheel.lift": "lift",
        "wheel.grip": "grip",
        "motor.heat_on_climb": "heat",
        "drive.start_on_hill": "start",
        "drive.only_when_full": "low pack",
        "drive.duty_at_goal": "duty",
        "drive.thrust_on_grade": "thrust",
        "controller.cutback": "cutback",
    }.get(code, code.rsplit(".", 1)[-1].replace("_", " "))


def _telling(session: Session, before: tuple[GoalResult, ...], preview: Preview) -> tuple[str, Status]:
    say = session.say
    for a, b in zip(before, preview.goals, strict=True):
        if a.met and not b.met:
            return f"misses {short_goal(a.goal, say)}", Status.OVER
    for a, b in zip(before, preview.goals, strict=True):
        if b.met and not a.met:
            return f"meets {short_goal(a.goal, say)}", Status.CLEAR
    best, words = 0.004, "no change" if before else ""
    for a, b in zip(before, preview.goals, strict=True):
        if not (math.isfinite(a.reached) and math.isfinite(b.reached)):
            continue
        share = abs(b.reached - a.reached) / max(abs(a.reached), abs(a.target), 1e-9)
        if share > best:
            best = share
            unit = unit_of(a.dimension, session.unit_set).text if a.dimension != "money" else session.design.brief.currency
            words = f"{difference(b.reached - a.reached, a.dimension, session.unit_set)} {unit} {short_goal(a.goal, say)}"
    return words, Status.NOT_CHECKED
