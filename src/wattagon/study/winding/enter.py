"""What a maker decides, ticks and reads of a winding, as edits."""

from __future__ import annotations

import datetime
import re
from collections.abc import Sequence
from dataclasses import replace
from typing import Any

from wattagon.design.catalogue import Catalogue
from wattagon.design.parts import MotorPart
from wattagon.design.paths import Edit
from wattagon.design.quantity import Known, Quantity
from wattagon.design.tree import CoreTest, Design, HallPlan, MotorChoice, MotorRead, ShelfItem, Winding, Wound
from wattagon.errors import InputError
from wattagon.study.winding.identify import Told
from wattagon.study.winding.option import Option
from wattagon.study.winding.rules import plan_of
from wattagon.study.winding.study import WindingStudy

READ_NAMES = ("ab", "bc", "ca", "copper", "rpm", "v_ab", "v_bc", "v_ca", "hz", "free_v", "free_a", "free_rpm")


def told_of(design: Design) -> Winding:
    """As the design has it."""
    return design.variant().winding or Winding()


def put(design: Design, label: str, **changes: Any) -> Edit:
    """Fields of the winding."""
    return Edit(label=label, changes=(("variant.winding", replace(told_of(design), **changes)),))


def _with(item: Any, name: str, value: Any) -> Any:
    """A record with one field changed by its name."""
    return replace(item, **{name: value})


def look_at(design: Design, part: str, name: str) -> Edit:
    """Another motor, from shelf or stock; what was told of the one before does not hold for it."""
    kept = told_of(design)
    part = "" if part == design.variant().motor.part else part
    if kept.part == part:
        return put(design, f"Winding of {name}")
    return Edit(label=f"Winding of {name}", changes=(("variant.winding", Winding(part=part, kv=kept.kv)),))


def motors_at_hand(design: Design, kinds: Any) -> list[str]:
    """Parts of the shelf that are motors, the variant's own first; `kinds` finds a part by its id."""
    own = design.variant().motor.part
    shelf: tuple[ShelfItem, ...] = design.brief.shelf
    found = [item.part for item in shelf if isinstance(kinds(item.part), MotorPart)]
    return [own, *(part for part in dict.fromkeys(found) if part != own)]


def other_motors(stock: Catalogue, besides: Sequence[str]) -> list[MotorPart]:
    """Motors of the stock that have coils to wind, by name."""
    return sorted((one for one in stock.all(MotorPart) if one.family != "brushed" and one.id not in besides), key=lambda one: one.name)


def stator(design: Design, name: str, value: float | int | None) -> Edit:
    """A measure of the iron; None takes it away."""
    now = told_of(design).stator
    count = name in ("slots", "poles", "pins")
    new: Any = None if value is None else int(value) if count else Quantity(value=float(value), known=Known.MEASURED)
    return put(design, f"Stator: {name.replace('_', ' ')}", stator=_with(now, name, new))


def wound(design: Design, which: str, name: str, value: Any) -> Edit:
    """A figure of what is wound now, or of the plan."""
    told = told_of(design)
    now: Wound = (told.plan or Wound()) if which == "plan" else told.now
    new: Any = Quantity(value=float(value), known=Known.MEASURED) if name == "wire" and value is not None else value
    words = "Plan" if which == "plan" else "Wound now"
    changes: dict[str, Any] = {which: _with(now, name, new)}
    if which == "plan":
        changes.update(done=(), turns_on=0)
    return put(design, f"{words}: {name}", **changes)


def take(found: WindingStudy, one: Option) -> Edit:
    """Decide on an option; ticks of another plan are gone."""
    same = found.chosen is not None and found.chosen.coils == one.coils
    told = found.told
    motor: tuple[tuple[str, Any], ...] = ()
    if told.was is not None:  # the drive carries the plan: it follows
        motor = one.edit(told.was).changes
    made = replace(told, plan=plan_of(one), done=told.done if same else (), turns_on=0)
    return Edit(label=f"Wind: {one.name}", changes=(("variant.winding", made), *motor))


def drop_plan(found: WindingStudy) -> Edit:
    """No rewind; the drive gets its motor back."""
    told = found.told
    motor = (("variant.motor", told.was),) if told.was is not None else ()
    made = replace(told, plan=None, was=None, done=(), turns_on=0)
    return Edit(label="No rewind", changes=(("variant.winding", made), *motor))


def into_drive(found: WindingStudy) -> Edit:
    """The planned motor into the drive, as computed; the old one is kept beside it.  Raises InputError without a plan."""
    if found.chosen is None:
        raise InputError("plan", "nothing", "an option that was decided on")
    now = found.subject.variant().motor
    edit = found.chosen.edit(now)
    return Edit(label=f"Into the drive: {found.chosen.name}", changes=(*edit.changes, ("variant.winding", replace(found.told, was=now))))


def read(design: Design, which: str, name: str, value: float | None, today: datetime.date) -> Edit:
    """A reading before or after."""
    told = told_of(design)
    now: MotorRead = getattr(told, which)
    new: Any = None if value is None else Quantity(value=value, known=Known.MEASURED, date=today.isoformat())
    made = _with(now, name, new)
    empty = all(getattr(made, one) is None for one in READ_NAMES)
    return put(design, f"Read {which} winding: {name.replace('_', ' ')}", **{which: replace(made, date="" if empty else today.isoformat())})


def take_readings(found: WindingStudy, which: str, today: datetime.date) -> Edit | None:
    """kv, resistance and, where the frequency tells, pole pairs into the motor as measured; None where nothing was read.

    After a rewind the plan becomes what is wound now, and the old motor is let go.
    """
    told = found.told
    rewound = which == "after"
    seen: Told | None = found.read_before if not rewound else (found.after.told if found.after is not None else None)
    if seen is None or (seen.kv != seen.kv and seen.ohm != seen.ohm):
        return None
    day = today.isoformat()
    measured: dict[str, Quantity] = {}
    for name, value, error in (("kv_rpm_per_v", seen.kv, seen.kv_error), ("resistance_ohm", seen.ohm, seen.ohm_error)):
        if value == value:
            measured[name] = Quantity(value=value, known=Known.MEASURED, date=day, tolerance=error, note=f"read {which} winding")
    if seen.poles == seen.poles and abs(seen.poles / 2.0 - round(seen.poles / 2.0)) <= 0.12:
        measured["pole_pairs"] = Quantity(value=float(round(seen.poles / 2.0)), known=Known.MEASURED, date=day)
    base: MotorChoice = found.subject.variant().motor
    if rewound and found.chosen is not None:
        computed = {name: Quantity(value=value, known=Known.COMPUTED) for name, value in found.chosen.overrides.items()}
        motor = replace(base, overrides={**base.overrides, **computed, **measured})
        made = replace(told, now=plan_of(found.chosen), plan=None, was=None, done=(), turns_on=0, part="")
        made = replace(made, before=told.after, after=MotorRead())
    else:
        motor = replace(base, overrides={**base.overrides, **measured})
        made = replace(told, part="")
    return Edit(label="Motor as measured", changes=(("variant.motor", motor), ("variant.winding", made)))


def tick(found: WindingStudy) -> Edit | None:
    """The coil in hand is wound; None when all are."""
    guide = found.guide
    if guide is None or guide.job is None:
        return None
    job = guide.job
    made = replace(found.told, done=(*guide.done, job.tooth), turns_on=0)
    return Edit(label=f"Coil {job.number} of {len(guide.jobs)} wound, tooth {job.tooth + 1}", changes=(("variant.winding", made),))


def untick(found: WindingStudy) -> Edit | None:
    """The last coil is not wound after all; None where none is."""
    guide = found.guide
    if guide is None or not guide.done:
        return None
    made = replace(found.told, done=guide.done[:-1], turns_on=0)
    return Edit(label=f"Tooth {guide.done[-1] + 1} unwound", changes=(("variant.winding", made),))


def turn(found: WindingStudy, step: int = 1) -> Edit | None:
    """One turn more or less on the coil in hand; None beyond what there is."""
    guide = found.guide
    if guide is None or guide.job is None or not 0 <= guide.turns_on + step <= guide.turns:
        return None
    made = replace(found.told, turns_on=guide.turns_on + step)
    return Edit(label=f"Turn {guide.turns_on + step} of {guide.turns} on tooth {guide.job.tooth + 1}", changes=(("variant.winding", made),))


def core_test(design: Design, phase: str, when: str, megohm: float, volts: float, today: datetime.date) -> Edit:
    """One insulation test; a newer one of the same phase and time takes the place of the older."""
    if not megohm >= 0.0:
        raise InputError("insulation", megohm, "0 MΩ or more")
    told = told_of(design)
    made = CoreTest(phase=phase, when=when, megohm=megohm, volts=volts, date=today.isoformat())
    kept = tuple(one for one in told.tests if (one.phase, one.when) != (phase, when))
    return put(design, f"Phase {phase} {when}: {megohm:g} MΩ", tests=(*kept, made))


def halls(design: Design, **changes: Any) -> Edit:
    """Sensors."""
    now: HallPlan = told_of(design).halls
    return put(design, "Hall sensors", halls=replace(now, **changes))


def megohm_of(text: str, field: str) -> float:
    """Insulation as typed [megohm]: a bare number is megohm, G is a thousand, `>` as testers write it.  Raises InputError."""
    bare = text.strip().lower().replace(",", ".").lstrip(">≥ ").strip()
    match = re.fullmatch(r"(?P<number>\d*\.?\d+)\s*(?P<unit>g|m|k|gohm|mohm|megohm|gigohm|kohm|gω|mω|kω|)", bare)
    if match is None:
        raise InputError(field, repr(text[:40]), "megohm, such as 500, >550 or 1.2 G")
    scale = {"g": 1e3, "k": 1e-3}.get(match["unit"][:1], 1.0)
    value = float(match["number"]) * scale
    if value > 1e6:
        raise InputError(field, repr(text[:40]), "up to 1000000 megohm")
    return value
