"""A sheet as found on the real thing against the one that is worked out, line by line: what each difference would do."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence

from wattagon.design.catalogue import Catalogue
from wattagon.design.paths import Edit, apply
from wattagon.errors import InputError, WattagonError
from wattagon.record import record
from wattagon.study.controller.enter import entered
from wattagon.study.controller.setting import Setting, Value, same
from wattagon.study.controller.study import ControllerStudy
from wattagon.study.drive.study import DriveStudy, study_drive
from wattagon.study.findings.status import Status
from wattagon.study.say import Say


@record(frozen=True, slots=True, kw_only=True)
class Difference:
    """One line that is not as it was worked out; `theirs` is None where the sheet lacks it."""

    key: str
    name: str
    ours: Value
    theirs: Value
    dimension: str
    status: Status
    words: str
    edit: Edit | None  # takes theirs into the design


def compare(found: ControllerStudy, theirs: Mapping[str, Value], stock: Catalogue, say: Say) -> tuple[Difference, ...]:
    """Differences in the sheet's order; lines that a school lacks and the sheet lacks too are left out."""
    made = []
    for one in found.settings:
        if one.key not in theirs:
            if not one.cannot and one.told:
                made.append(_of(one, None, Status.NOT_CHECKED, "not on the sheet that was read: look for it there", None))
            continue
        value = theirs[one.key]
        if _alike(one.value, value):
            continue
        if value in (None, ""):
            made.append(_of(one, None, Status.NOT_CHECKED, "the sheet that was read has no value for it: look there", None))
            continue
        try:
            takes = one.path and one.key != "reversed"
            edit = entered(found.design, one, value, f"{one.name} as found") if takes else None
        except InputError as refusal:
            made.append(_of(one, value, Status.OVER, str(refusal), None))
            continue
        status, words = _effect(found, one, value, edit, stock, say)
        made.append(_of(one, value, status, words, edit))
    return tuple(made)


def _of(one: Setting, value: Value, status: Status, words: str, edit: Edit | None) -> Difference:
    return Difference(
        key=one.key, name=one.name, ours=one.value, theirs=value, dimension=one.dimension, status=status, words=words, edit=edit
    )


def _alike(ours: Value, theirs: Value) -> bool:
    if isinstance(ours, (int, float)) and isinstance(theirs, (int, float)):
        return same(float(ours), float(theirs))
    return (ours or "") == (theirs or "")


def _effect(found: ControllerStudy, one: Setting, value: Value, edit: Edit | None, stock: Catalogue, say: Say) -> tuple[Status, str]:
    """What theirs would do: its own bound first, then what changes of the drive."""
    if isinstance(value, (int, float)) and not isinstance(value, bool):
        number = float(value)
        if one.high is not None and number > one.high * 1.005:
            words = f"above {say(one.high, one.dimension)}, the bound of {one.high_from}"
            return Status.OVER, _speed_words(one, number) or words
        if one.low is not None and number < one.low * 0.995:
            words = f"below {say(one.low, one.dimension)}, the bound of {one.low_from}"
            return Status.OVER, _speed_words(one, number) or words
    if edit is not None:
        try:
            after = study_drive(apply(found.design, edit), stock)
        except WattagonError as refusal:
            return Status.OVER, str(refusal)
        changed = _changes(found.drive, after, say)
        if changed:
            return Status.TIGHT, "; ".join(changed)
    return Status.TIGHT, "within its bounds; nothing that is worked out changes much"


def _speed_words(one: Setting, number: float) -> str:
    if one.key in ("poles", "ratio") and one.high:
        told = one.high / number - 1.0
    elif one.key == "wheel" and one.high:
        told = number / one.high - 1.0
    else:
        return ""
    pairs = ": pairs were entered, magnets are asked" if one.key == "poles" and same(2.0 * number, one.high) else ""
    return f"speed is told {abs(told):.0%} too {'high' if told > 0 else 'low'}{pairs}"


def _changes(before: DriveStudy, after: DriveStudy, say: Say) -> Sequence[str]:
    """Top speed, pull at rest and goals, where they change by more than a hundredth."""
    made = []
    a, b = before.states["nominal"], after.states["nominal"]
    for name, x, y, dimension in (
        ("top speed", a.top_speed_m_s, b.top_speed_m_s, "speed"),
        ("pull at rest", a.standstill_force_n, b.standstill_force_n, "force"),
    ):
        if not math.isclose(x, y, rel_tol=0.01):
            made.append(f"{name} {say(x, dimension)} to {say(y, dimension)}")
    for old, new in zip(before.goals, after.goals, strict=True):
        if old.met != new.met:
            made.append(f"goal {old.goal.kind.value.replace('_', ' ')} is {'met' if new.met else 'missed'}")
    return made
