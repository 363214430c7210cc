"""Levers in real steps: what one step down or up of each would do to every goal, before it is taken."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import replace
from typing import cast

import numpy as np

from wattagon.design.catalogue import Catalogue
from wattagon.design.fitted import fitted
from wattagon.design.kinds import KINDS
from wattagon.design.parts import CellPart, ControllerPart, MotorPart, PropellerPart, WheelPart
from wattagon.design.parts.families import toothed
from wattagon.design.paths import Edit, apply
from wattagon.design.tree import Design, Gears, MotorChoice, PropellerChoice, ReductionKind, StageChoice, Variant, WheelChoice
from wattagon.errors import InputError, PathError
from wattagon.record import record
from wattagon.study.drive.cases import best_reach, over_cases, unheld
from wattagon.study.drive.goals import GoalResult
from wattagon.study.resolve import Memo, Resolved, gear_in_view, resolve


@record(frozen=True, slots=True, kw_only=True)
class Lever:
    """One thing that can be stepped.  `value` and the step labels are numbers or names; units follow `dimension`."""

    code: str
    group: str  # link of the drive: pack, controller, motor, reduction, wheel
    label: str
    path: str  # what free entry writes
    value: float | str
    dimension: str
    down: Edit | None
    up: Edit | None
    down_value: float | str | None = None
    up_value: float | str | None = None
    mark: str = ""  # how the value is known when it is not a stock step: measured, stated, assumed


@record(frozen=True, slots=True, kw_only=True)
class Preview:
    """What one step would do: goals reached after it, or the sentence why it cannot be taken."""

    edit: Edit
    goals: tuple[GoalResult, ...] = ()
    heat_s: float = float("nan")
    refused: str = ""

    def beside(self, goals: tuple[GoalResult, ...]) -> tuple[GoalResult, ...]:
        """Its goals, to be compared with those of the design one by one; none where they are not the same ones any more."""
        same = (
            not self.refused
            and len(self.goals) == len(goals)
            and all(a.goal is b.goal or a.goal == b.goal for a, b in zip(self.goals, goals, strict=True))
        )
        return self.goals if same else ()


def levers(design: Design, stock: Catalogue) -> list[Lever]:
    """All levers of the active variant, in the order of the drive from the motor to the pack and back to the wheel."""
    variant = design.variant()
    floats = design.vehicle.kind.floats
    made = [_motor_kv(variant, stock), _motor_size(variant, stock)]
    made.append(_drives(variant) if floats else _count(design, variant))
    for k, stage in enumerate(variant.stages):
        if stage.kind in (ReductionKind.BELT, ReductionKind.CHAIN, ReductionKind.GEAR, ReductionKind.PLANETARY):
            made += [_teeth(variant, stock, k, stage, role) for role in ("driver", "driven")]
    if variant.gears is not None:
        made += [_ring(variant.gears), _gear(design, variant, stock)]
    made += [_cells(variant, stock, "series"), _cells(variant, stock, "parallel")]
    made += [_controller(variant, stock)]
    made += [_amps("motor_current_a", "Motor amps", variant.controller.motor_current_a)]
    made += [_amps("pack_current_a", "Pack amps", variant.controller.pack_current_a)]
    if floats and variant.propeller is not None:
        made += [_screw(variant.propeller, stock, name, label) for name, label in SCREW_LEVERS]
    elif not floats:
        made.append(_wheel(design, variant, stock))
    return made


MOST_DRIVES = 3
SCREW_LEVERS = (("diameter_m", "Diameter"), ("pitch_m", "Pitch"), ("blades", "Blades"))


def _screw(choice: PropellerChoice, stock: Catalogue, name: str, label: str) -> Lever:
    """The next propeller of stock with more or less of one thing, and as near as may be in the others."""
    now = fitted(stock.get(PropellerPart, choice.part), choice)
    value = float(getattr(now, name))

    def far(part: PropellerPart) -> tuple[float, ...]:
        ratios = [abs(math.log(float(getattr(part, other)) / float(getattr(now, other)))) for other, _ in SCREW_LEVERS]
        own = next(k for k, (other, _) in enumerate(SCREW_LEVERS) if other == name)
        return (3.0 * sum(ratios) - 2.0 * ratios[own], float(part.make != now.make), part.price)

    def step(sign: int) -> tuple[Edit | None, float | None]:
        fit = [part for part in stock.all(PropellerPart) if sign * (float(getattr(part, name)) - value) > 1e-6]
        if not fit:
            return None, None
        to = min(fit, key=far)
        return Edit(label=to.name, changes=(("variant.propeller", choice.other(to.id)),)), float(getattr(to, name))

    down, up = step(-1), step(+1)
    return Lever(
        code=f"propeller_{name.removesuffix('_m')}",
        group="propeller",
        label=label,
        path=f"variant.propeller.{name}",
        value=value,
        dimension="length" if name != "blades" else "count",
        down=down[0],
        up=up[0],
        down_value=down[1],
        up_value=up[1],
    )


RING_STEP = 2  # teeth


def _ring(gears: Gears) -> Lever:
    """The ring at the crank: fewer teeth pull more in every gear."""

    def step(sign: int) -> Edit | None:
        to = gears.ring + sign * RING_STEP
        label = f"Ring {gears.ring} to {to} teeth"
        return Edit(label=label, changes=(("variant.gears.ring", to),)) if 8 <= to <= 80 else None

    return Lever(
        code="ring",
        group="reduction",
        label="Ring",
        path="variant.gears.ring",
        value=float(gears.ring),
        dimension="count",
        down=step(-1),
        up=step(+1),
        down_value=float(gears.ring - RING_STEP),
        up_value=float(gears.ring + RING_STEP),
    )


def _gear(design: Design, variant: Variant, stock: Catalogue) -> Lever:
    """The gear in view: map and moment are of it; goals are judged in the best."""
    gears, now = variant.gears, gear_in_view(design, variant, stock)
    assert gears is not None

    def step(sign: int) -> Edit | None:
        to = now + sign
        return Edit(label=f"Gear {now} to {to}", changes=(("variant.gears.in_view", to),)) if 1 <= to <= len(gears.cogs) else None

    return Lever(
        code="gear",
        group="reduction",
        label="Gear in view",
        path="variant.gears.in_view",
        value=float(now),
        dimension="count",
        down=step(-1),
        up=step(+1),
        down_value=float(now - 1),
        up_value=float(now + 1),
        mark="" if gears.in_view is not None else "assumed",
    )


def _family(stock: Catalogue, family: str) -> list[MotorPart]:
    return cast("list[MotorPart]", stock.kept(("motors", family, ""), lambda: [p for p in stock.all(MotorPart) if p.family == family]))


def _motor_edit(choice: MotorChoice, part: MotorPart, label: str) -> Edit:
    # measured values of the old motor do not fit the new one
    return Edit(label=label, changes=(("variant.motor", replace(choice, part=part.id, overrides={})),))


def _motor_kv(variant: Variant, stock: Catalogue) -> Lever:
    part = stock.get(MotorPart, variant.motor.part)
    override = variant.motor.overrides.get("kv_rpm_per_v")
    kv = override.value if override is not None else part.kv_rpm_per_v
    same = [p for p in _family(stock, part.family) if (p.can_mm, p.length_mm) == (part.can_mm, part.length_mm)]

    def step(sign: int) -> tuple[Edit | None, float | None]:
        beyond = [p for p in same if sign * (p.kv_rpm_per_v - kv) > 1e-9]
        if not beyond:
            return None, None
        to = min(beyond, key=lambda p: sign * p.kv_rpm_per_v)
        label = f"Motor kv {kv:g} to {to.kv_rpm_per_v:g} rpm/V"
        return _motor_edit(variant.motor, to, label), to.kv_rpm_per_v

    (down, down_value), (up, up_value) = step(-1), step(+1)
    return Lever(
        code="motor_kv",
        group="motor",
        label="Motor kv",
        path="variant.motor.kv_rpm_per_v",
        value=kv,
        dimension="kv",
        down=down,
        up=up,
        down_value=down_value,
        up_value=up_value,
        mark="" if override is None else str(override.known),
    )


def frame(part: MotorPart) -> str:
    """A motor's frame in words."""
    return f"{part.can_mm:g}x{part.length_mm:g}"


def _motor_size(variant: Variant, stock: Catalogue) -> Lever:
    part = stock.get(MotorPart, variant.motor.part)
    family = _family(stock, part.family)
    volume = part.can_mm**2 * part.length_mm

    def step(sign: int) -> tuple[Edit | None, str | None]:
        beyond = [p for p in family if sign * (p.can_mm**2 * p.length_mm - volume) > 1.0]
        if not beyond:
            return None, None
        size = min(sign * p.can_mm**2 * p.length_mm for p in beyond)
        near = [p for p in beyond if abs(p.can_mm**2 * p.length_mm - sign * size) < 1.0]
        # of that frame, the winding nearest to the present kv
        to = min(near, key=lambda p: abs(np.log(p.kv_rpm_per_v / part.kv_rpm_per_v)))
        return _motor_edit(variant.motor, to, f"Motor {part.name} to {to.name}"), f"{frame(to)}, {to.kv_rpm_per_v:g}"

    (down, down_value), (up, up_value) = step(-1), step(+1)
    return Lever(
        code="motor_size",
        group="motor",
        label="Motor size",
        path="variant.motor.part",
        value=frame(part),
        dimension="part",
        down=down,
        up=up,
        down_value=down_value,
        up_value=up_value,
    )


def _one_more_or_less(label: str, count: int, step: Callable[[int], Edit | None]) -> Lever:
    down, up = step(count - 1), step(count + 1)
    return Lever(
        code="motor_count",
        group="motor",
        label=label,
        path="variant.motor.count",
        value=float(count),
        dimension="count",
        down=down,
        up=up,
        down_value=float(count - 1) if down else None,
        up_value=float(count + 1) if up else None,
    )


def _count(design: Design, variant: Variant) -> Lever:
    count, axle = variant.motor.count, design.vehicle.axle_wheels
    shared = bool(variant.stages) and any(stage.shared for stage in variant.stages)

    def step(to: int) -> Edit | None:
        if not 1 <= to <= 4:
            return None
        # motors on one wheel or a shared shaft stay there; a motor more on its own wheel drives that wheel too
        wheels = variant.motor.driven_wheels if shared else min(to, axle)
        if variant.motor.driven_wheels == axle and count == 1 and axle > 1 and not shared:
            wheels = axle  # a solid axle
        changed = replace(variant.motor, count=to, driven_wheels=max(1, wheels))
        return Edit(label=f"Motors {count} to {to}", changes=(("variant.motor", changed),))

    return _one_more_or_less("Motors", count, step)


def _drives(variant: Variant) -> Lever:
    """Whole drives of a boat, each with its propeller; several motors on one propeller stay so."""
    choice = variant.propeller
    count = choice.count if choice is not None else variant.motor.count
    each = max(1, variant.motor.count // count)

    def step(to: int) -> Edit | None:
        if not 1 <= to <= MOST_DRIVES or choice is None:
            return None
        motor = replace(variant.motor, count=to * each, driven_wheels=to)
        changes = (("variant.motor", motor), ("variant.propeller", replace(choice, count=to)))
        return Edit(label=f"Drives {count} to {to}", changes=changes)

    return _one_more_or_less("Drives", count, step)


def _teeth(variant: Variant, stock: Catalogue, index: int, stage: StageChoice, role: str) -> Lever:
    teeth = stage.driver_teeth if role == "driver" else stage.driven_teeth
    offered = sorted({p.teeth for p in toothed(stock, stage.profile, role)}) if stage.profile else []
    if not offered:  # gears and the like: any whole number
        offered = list(range(max(6, teeth - 6), teeth + 7))
    lower = [t for t in offered if t < teeth]
    higher = [t for t in offered if t > teeth]
    many = sum(1 for s in variant.stages if s.kind is not ReductionKind.DIRECT) > 1
    place = {"belt": "pulley", "chain": "sprocket"}.get(stage.kind.value, "gear")
    if many:
        who = f"{stage.kind.value.capitalize()} {index + 1} {'driver' if role == 'driver' else 'driven'}"
    else:
        who = f"{'Motor' if role == 'driver' else 'Wheel'} {place}"
    path = f"variant.stages.{index}.{role}_teeth"

    def step(to: int | None) -> Edit | None:
        return None if to is None else Edit(label=f"{who} {teeth} to {to} teeth", changes=((path, to),))

    below, above = max(lower, default=None), min(higher, default=None)
    return Lever(
        code=f"{role}_teeth_{index}",
        group="reduction",
        label=who,
        path=path,
        value=float(teeth),
        dimension="teeth",
        down=step(below),
        up=step(above),
        down_value=below,
        up_value=above,
        mark="" if teeth in offered else "stated",
    )


def _cells(variant: Variant, stock: Catalogue, which: str) -> Lever:
    cell = stock.get(CellPart, variant.pack.part)
    by = cell.brick_series if which == "series" else cell.brick_parallel
    now = getattr(variant.pack, which)
    letter = "S" if which == "series" else "P"
    path = f"variant.pack.{which}"

    def step(to: int) -> Edit | None:
        return Edit(label=f"Pack {now}{letter} to {to}{letter}", changes=((path, to),)) if 1 <= to <= 60 else None

    down, up = step(now - by), step(now + by)
    return Lever(
        code=which,
        group="pack",
        label="Cells in series" if which == "series" else "In parallel",
        path=path,
        value=float(now),
        dimension=letter,
        down=down,
        up=up,
        down_value=float(now - by) if down else None,
        up_value=float(now + by) if up else None,
    )


def _controller(variant: Variant, stock: Catalogue) -> Lever:
    part = stock.get(ControllerPart, variant.controller.part)

    def size(p: object) -> tuple[float, float]:
        return (getattr(p, "voltage_max_v", None) or 0.0, getattr(p, "motor_current_continuous_a", None) or 0.0)

    make = lambda: sorted((p for p in stock.all(ControllerPart) if p.brushed == part.brushed), key=size)
    ranked: list[ControllerPart] = stock.kept(("controllers", "brushed" if part.brushed else "brushless", ""), make)
    at = next((k for k, p in enumerate(ranked) if p.id == part.id), 0)

    def step(to: int) -> tuple[Edit | None, str | None]:
        if not 0 <= to < len(ranked):
            return None, None
        changed = replace(variant.controller, part=ranked[to].id, overrides={})
        return Edit(label=f"{part.name} to {ranked[to].name}", changes=(("variant.controller", changed),)), rating(ranked[to])

    def rating(p: object) -> str:
        volts, amps = size(p)
        return f"{volts:g} V {amps:g} A" if volts else "no label"

    (down, down_value), (up, up_value) = step(at - 1), step(at + 1)
    return Lever(
        code="controller",
        group="controller",
        label="Controller",
        path="variant.controller.part",
        value=rating(part),
        dimension="part",
        down=down,
        up=up,
        down_value=down_value,
        up_value=up_value,
    )


def amp_step(amps: float) -> float:
    """A handy step for a current limit [A]: about a tenth, in round numbers."""
    return next(step for most, step in ((20, 1), (40, 2), (150, 5), (300, 10), (1e9, 20)) if amps < most)


def _amps(name: str, label: str, amps: float) -> Lever:
    path = f"variant.controller.{name}"
    step = amp_step(amps)
    below, above = step * np.ceil(amps / step - 1.0), step * np.floor(amps / step + 1.0)

    def edit(to: float) -> Edit | None:
        return Edit(label=f"{label} {amps:g} to {to:g} A", changes=((path, float(to)),)) if to >= 1.0 else None

    return Lever(
        code=name.removesuffix("_a"),
        group="controller",
        label=label,
        path=path,
        value=amps,
        dimension="current",
        down=edit(below),
        up=edit(above),
        down_value=float(below),
        up_value=float(above),
    )


def _wheel(design: Design, variant: Variant, stock: Catalogue) -> Lever:
    vehicle = design.vehicle
    if variant.wheel is not None:
        override = variant.wheel.overrides.get("diameter_m")
        mark = "" if override is None else str(override.known)
        now = override.value if override is not None else stock.get(WheelPart, variant.wheel.part).diameter_m
        family = stock.get(WheelPart, variant.wheel.part).family
    else:
        now, family = vehicle.tyre_diameter.value, KINDS[vehicle.kind].wheel_family
        mark = str(vehicle.tyre_diameter.known)
    make = lambda: sorted((p for p in stock.all(WheelPart) if p.family == family), key=lambda p: p.diameter_m)
    offered: list[WheelPart] = stock.kept(("wheels", family, ""), make)

    def step(to: WheelPart | None) -> Edit | None:
        if to is None:
            return None
        label = f"Wheel {now * 1e3:.0f} to {to.diameter_m * 1e3:.0f} mm"
        return Edit(label=label, changes=(("variant.wheel", WheelChoice(part=to.id)),))

    below = next((p for p in reversed(offered) if p.diameter_m < now - 1e-6), None)
    above = next((p for p in offered if p.diameter_m > now + 1e-6), None)
    path = "variant.wheel.diameter_m" if variant.wheel is not None else "vehicle.tyre_diameter"
    return Lever(
        code="wheel",
        group="wheel",
        label="Wheel",
        path=path,
        value=now,
        dimension="length",
        down=step(below),
        up=step(above),
        down_value=below.diameter_m if below else None,
        up_value=above.diameter_m if above else None,
        mark=mark,
    )


def preview(design: Design, stock: Catalogue, edits: Sequence[Edit], *, cancelled: Callable[[], bool] = lambda: False) -> list[Preview]:
    """What each edit alone would do to the goals; the same equations as the study, all designs at once."""
    from wattagon.study.drive.study import results

    resolved: list[Resolved] = []
    memo: Memo = {}
    made: list[Preview | None] = []
    for edit in edits:
        if cancelled():
            return []
        try:
            resolved.append(resolve(apply(design, edit), stock, memo=memo))
            made.append(None)
        except (InputError, PathError) as refusal:
            made.append(Preview(edit=edit, refused=str(refusal)))
    full = [unheld(one) for one in resolved]
    judged = over_cases([design] * len(full), full, design.brief.goals, *best_reach(full, design.brief.goals)) if resolved else None
    row = 0
    complete: list[Preview] = []
    for edit, refused in zip(edits, made, strict=True):
        if refused is not None:
            complete.append(refused)
            continue
        assert judged is not None
        goals = results(design, judged.reached[row], judged.cases[row])
        complete.append(Preview(edit=edit, goals=goals, heat_s=float(judged.heat_s[row])))
        row += 1
    return complete
