"""What is read, signed and taken, as edits; and a line of figures as it is typed."""

from __future__ import annotations

import datetime
import math
from collections.abc import Mapping, Sequence
from dataclasses import replace

from wattagon.design.dimensions import DIMENSIONS
from wattagon.design.paths import Edit, get
from wattagon.design.quantity import Known, Quantity
from wattagon.design.tree import BuildPart, Commissioning, Design, Entry, EntryKind, Reading, Seen, Signature, Value
from wattagon.errors import InputError
from wattagon.physics.motor import kv_from_free_run
from wattagon.study.commission.items import DUTIES
from wattagon.study.commission.items_moving import ROLLS
from wattagon.study.commission.judge import values
from wattagon.study.commission.state import marks
from wattagon.study.commission.study import AGAIN_EACH_SEASON, HANDED, SEASON_DAYS, SEASON_HOURS, CommissionStudy, Done
from wattagon.study.history.study import fresh_id, version_of

# sizes: less than nothing is a slip of the hand, not a step that failed
SIZES = ("length", "height", "distance", "mass", "resistance", "frequency", "rpm", "kv", "time", "capacity")


def told_of(design: Design) -> Commissioning:
    """As the design has it."""
    return design.variant().commissioning or Commissioning()


def _put(label: str, told: Commissioning) -> Edit:
    return Edit(label=label, changes=(("variant.commissioning", told),))


def _with(design: Design, seen: Seen) -> Commissioning:
    told = told_of(design)
    return replace(told, seen=(*(one for one in told.seen if one.id != seen.id), seen))


def read(design: Design, one: Done, today: datetime.date, figures: Mapping[str, float | None], by: str = "") -> Edit:
    """Figures of a step by their names; None takes one away.  A step that has to be done again begins afresh with the first of them."""
    seen = Seen(id=one.item.id) if one.reopened else one.seen
    kept = {value.name: value.value for value in seen.values}
    kinds = {name: of.dimension for of in one.item.reads for name in of.names}
    for name, value in figures.items():
        if value is None:
            kept.pop(name, None)
        elif not math.isfinite(value):
            raise InputError(name, value, "a number")
        elif value < 0.0 and kinds.get(name) in SIZES:
            raise InputError(name, f"{value:g} {DIMENSIONS[kinds[name]].si}", "0 or more")
        else:
            kept[name] = value
    made = replace(
        seen,
        values=tuple(Value(name=name, value=value) for name, value in kept.items()),
        date=today.isoformat() if kept or seen.verdict else "",
        by=by or seen.by,
        state=marks(design.variant()),
    )
    return _put(f"{one.item.id} {one.item.title}", _with(design, made))


def looked(design: Design, one: Done, today: datetime.date, verdict: str, by: str = "", note: str = "") -> Edit:
    """`held`, `failed`, or empty to take it back."""
    seen = Seen(id=one.item.id) if one.reopened else one.seen
    made = replace(
        seen,
        verdict=verdict,
        note=note,
        date=today.isoformat() if verdict or seen.values else "",
        by=by or seen.by,
        state=marks(design.variant()),
    )
    return _put(f"{one.item.id} {one.item.title}: {verdict or 'open'}", _with(design, made))


def sign(found: CommissionStudy, stage: str, name: str, today: datetime.date) -> Edit:
    """A name under a stage that passed.  Raises InputError naming what is missing."""
    name, design = name.strip(), found.design
    if not name:
        raise InputError("name", "nothing", "who signs")
    if stage == HANDED:
        return _hand_over(found, name, today)
    one = next((part for part in found.stages if part.code == stage), None)
    if one is None:
        raise InputError("stage", stage, ", ".join(part.code for part in found.stages))
    missing = [step.item.id for step in one.steps if step.item.applies and not step.passed]
    if missing:
        raise InputError(f"stage {stage}", f"not passed: {', '.join(missing)}", "a name once all its steps held")
    told = told_of(design)
    made = Signature(stage=stage, name=name, date=today.isoformat(), state=marks(design.variant()))
    kept = tuple(sig for sig in told.signed if sig.stage != stage)
    variant = design.variant()
    entry = Entry(
        id=fresh_id(design.history),
        date=today.isoformat(),
        kind=EntryKind.COMMISSIONING,
        text=f"Stage {stage} passed, signed by {name}",
        variant=variant.id,
        version=version_of(variant),
        on=tuple(dict.fromkeys(_ON[part] for step in one.steps if step.item.applies for part in step.item.rests_on if part in _ON)),
        readings=tuple(_readings(one.steps))[:40],
    )
    edit = _put(f"Stage {stage} signed", replace(told, signed=(*kept, made)))
    return replace(edit, changes=(*edit.changes, ("history", (*design.history, entry))))


_ON = {
    "pack": BuildPart.PACK,
    "wiring": BuildPart.WIRING,
    "controller": BuildPart.CONTROLLER,
    "motor": BuildPart.MOTOR,
    "reduction": BuildPart.REDUCTION,
    "wheel": BuildPart.WHEEL,
}


def _readings(steps: Sequence[Done]) -> list[Reading]:
    made = []
    for step in steps:
        for one in step.item.reads:
            found = values(one, step.seen)
            if one.many > 1 and len(found) > 3:
                found = [min(found), max(found)]
            made += [Reading(name=f"{step.item.id} {one.words}", value=value, dimension=one.dimension) for value in found]
    return made


def _hand_over(found: CommissionStudy, name: str, today: datetime.date) -> Edit:
    if found.ready:
        raise InputError("hand-over", f"{len(found.ready)} missing", f"a name once they are done: {'; '.join(found.ready[:3])}")
    design, told = found.design, told_of(found.design)
    made = Signature(stage=HANDED, name=name, date=today.isoformat(), state=marks(design.variant()))
    variant = design.variant()
    applying = {one.item.id for one in found.applying}
    entry = Entry(
        id=fresh_id(design.history),
        date=today.isoformat(),
        kind=EntryKind.COMMISSIONING,
        text=f"Season check: {', '.join(code for code in AGAIN_EACH_SEASON if code in applying)}",
        variant=variant.id,
        version=version_of(variant),
        again_days=SEASON_DAYS,
        again_hours=SEASON_HOURS,
    )
    edit = _put("Handed over", replace(told, signed=(*(sig for sig in told.signed if sig.stage != HANDED), made)))
    return replace(edit, changes=(*edit.changes, ("history", (*design.history, entry))))


def takes(found: CommissionStudy, one: Done, today: datetime.date) -> Edit | None:
    """What a step that held teaches, into the design as measured; None where it teaches nothing."""
    design, variant, changes = found.design, found.design.variant(), []
    day, note = today.isoformat(), f"read in {one.item.id}"
    measured = lambda value, by=None: Quantity(value=value, known=Known.MEASURED, date=day, tolerance=by, note=note)
    motor = found.grounds.drive.resolved.train.motor
    if not one.passed:
        return None
    if one.item.id == "A6":
        pairs = [v for k in range(3) if (v := one.seen.value(f"pair {k + 1}")) is not None] or [
            v for v in [one.seen.value("pair")] if v is not None
        ]
        if pairs:
            changes.append(("variant.motor.resistance_ohm", measured(sum(pairs) / len(pairs))))
    elif one.item.id == "B3":
        ohms = [v for k in range(3) if (v := one.seen.value(f"ohms {k + 1}")) is not None]
        kvs = [v for k in range(3) if (v := one.seen.value(f"kv {k + 1}")) is not None]
        if ohms:
            changes.append(("variant.motor.resistance_ohm", measured(2.0 * sum(ohms) / len(ohms))))
        if kvs:
            changes.append(("variant.motor.kv_rpm_per_v", measured(sum(kvs) / len(kvs))))
    elif one.item.id == "B6":
        rpm, amps, volts = one.seen.value("rpm at 100%"), one.seen.value("amps at 100%"), found.grounds.pack_v
        told = [(duty, one.seen.value(f"rpm at {duty:.0%}"), one.seen.value(f"amps at {duty:.0%}")) for duty in DUTIES]
        if rpm is not None and amps is not None:
            ohm = float(motor.resistance_ohm) + float(found.grounds.drive.resolved.train.controller.bridge_ohm)
            kv = float(kv_from_free_run(rpm, volts, amps * motor.dc_per_motor_amp, ohm))
            changes.append(("variant.motor.kv_rpm_per_v", measured(round(kv, 3))))
        runs = [(r * 2.0 * math.pi / 60.0, a * motor.dc_per_motor_amp) for _, r, a in told if r is not None and a is not None]
        if len(runs) >= 2:
            changes += [(path, measured(value)) for path, value in _no_load_line(runs)]
    elif one.item.id == "D3r" and variant.wheel is None:
        way = one.seen.value("way")
        if way is not None:
            share = way / (ROLLS * math.pi * design.vehicle.tyre_diameter.value)
            if 0.8 <= share <= 1.0:
                changes.append(("vehicle.tyre_rolling_share", measured(round(share, 5), 0.002)))
    elif one.item.id == "A1":
        return None
    kept = tuple((path, value) for path, value in changes if getattr(get(design, path), "value", None) != value.value)
    return Edit(label=f"Taken from {one.item.id}: {', '.join(path.rsplit('.', 1)[-1] for path, _ in kept)}", changes=kept) if kept else None


def _no_load_line(runs: Sequence[tuple[float, float]]) -> list[tuple[str, float]]:
    """I0 = a + b w by least squares over (rad/s, DC-equivalent amps); a slope below 0 is none."""
    n = len(runs)
    mean_w, mean_a = sum(w for w, _ in runs) / n, sum(a for _, a in runs) / n
    var = sum((w - mean_w) ** 2 for w, _ in runs)
    slope = max(sum((w - mean_w) * (a - mean_a) for w, a in runs) / var, 0.0) if var > 0.0 else 0.0
    start = max(mean_a - slope * mean_w, 0.0)
    return [("variant.motor.no_load_a", round(start, 5)), ("variant.motor.no_load_slope_a_s", round(slope, 8))]
