"""Changes worth trying when something is over: steps of the levers and settings worked out from a rating."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import replace

from wattagon.design.catalogue import Catalogue
from wattagon.design.parts import ControllerPart, ProfilePart
from wattagon.design.paths import Edit, apply
from wattagon.design.tree import Design
from wattagon.errors import InputError, PathError
from wattagon.study.drive.levers import Lever, amp_step, levers


def steps(design: Design, stock: Catalogue, codes: Iterable[str], sign: int, most: int = 3) -> tuple[Edit, ...]:
    """Edits of one to `most` steps of each lever in one direction; a code ending in * stands for all with that beginning."""
    found: list[Edit] = []
    bought = {str(k) for k, stage in enumerate(design.variant().stages) if not stage.profile}  # nobody sells other teeth for a gearbox
    first = [lever for lever in levers(design, stock) if "_teeth_" not in lever.code or lever.code.rpartition("_")[2] not in bought]
    for code in codes:
        for lever in first:
            if lever.code == code or (code.endswith("*") and lever.code.startswith(code[:-1])):
                found += _walk(design, stock, lever, sign, most)
    return tuple(found)


def _walk(design: Design, stock: Catalogue, lever: Lever, sign: int, most: int) -> list[Edit]:
    made: list[Edit] = []
    now, start = design, lever
    for _ in range(most):
        edit = lever.up if sign > 0 else lever.down
        if edit is None:
            break
        try:
            now = apply(now, edit)
        except (InputError, PathError):
            break
        value = lever.up_value if sign > 0 else lever.down_value
        label = edit.label if not made else _label(start, value)
        made.append(replace(edit, label=label))
        following = [item for item in levers(now, stock) if item.code == lever.code]
        if not following:
            break
        lever = following[0]
    return made


def _label(start: Lever, value: float | str | None) -> str:
    def shown(x: float | str | None) -> str:
        if not isinstance(x, (int, float)):
            return str(x)
        return f"{x * 1e3:.0f} mm" if start.dimension == "length" else f"{x:g}"

    unit = {"kv": " rpm/V", "teeth": " teeth", "current": " A", "S": "S", "P": "P"}.get(start.dimension, "")
    return f"{start.label} {shown(start.value)} to {shown(value)}{unit}"


def set_amps(design: Design, name: str, limit_a: float) -> tuple[Edit, ...]:
    """A current setting brought down (or up) to a limit, in a handy step below it."""
    if not math.isfinite(limit_a) or limit_a < 1.0:
        return ()
    now = getattr(design.variant().controller, name) or 0.0
    step = amp_step(limit_a)
    to = max(1.0, step * math.floor(limit_a / step + 1e-9))
    if abs(to - now) < 1e-9:
        return ()
    label = {
        "motor_current_a": "Motor amps",
        "pack_current_a": "Pack amps",
        "regen_motor_current_a": "Braking motor amps",
        "regen_pack_current_a": "Braking pack amps",
    }[name]
    return (Edit(label=f"{label} {now:g} to {to:g} A", changes=((f"variant.controller.{name}", to),)),)


def controllers(
    design: Design, stock: Catalogue, *, volts: float = 0.0, motor_a: float = 0.0, brushed: bool | None = None
) -> tuple[Edit, ...]:
    """The cheapest controllers that carry a supply voltage and a motor current, up to two; of the present kind unless told."""
    choice = design.variant().controller
    now = stock.get(ControllerPart, choice.part)
    kind = now.brushed if brushed is None else brushed
    fit = [
        p
        for p in stock.all(ControllerPart)
        if p.brushed == kind and (p.voltage_max_v or 0) >= volts and (p.motor_current_burst_a or 0) >= motor_a
    ]
    fit.sort(key=lambda p: p.price)
    return tuple(
        Edit(label=f"Use {p.name}", changes=(("variant.controller", replace(choice, part=p.id, overrides={})),))
        for p in fit[:2]
        if p.id != now.id
    )


def wider_belts(design: Design, stock: Catalogue) -> tuple[Edit, ...]:
    """Each belt stage at its next stock width."""
    made = []
    for k, stage in enumerate(design.variant().stages):
        if stage.profile and stage.width_mm is not None:
            widths = [float(w) for w in stock.get(ProfilePart, stage.profile).widths_mm.split() if float(w) > stage.width_mm]
            if widths:
                label = f"Belt {stage.width_mm:g} to {widths[0]:g} mm wide"
                made.append(Edit(label=label, changes=((f"variant.stages.{k}.width_mm", widths[0]),)))
    return tuple(made)


def more_driven_wheels(design: Design) -> tuple[Edit, ...]:
    """Drive all wheels of the axle."""
    axle, motor = design.vehicle.axle_wheels, design.variant().motor
    if motor.driven_wheels >= axle:
        return ()
    label = f"Drive {axle} wheels instead of {motor.driven_wheels}"
    return (Edit(label=label, changes=(("variant.motor.driven_wheels", axle),)),)


def faster(design: Design, stock: Catalogue) -> tuple[Edit, ...]:
    """Steps that trade pull for speed."""
    return (
        *steps(design, stock, ("driver_teeth*", "motor_kv", "series"), +1),
        *steps(design, stock, ("driven_teeth*",), -1, most=4),
    )


def stronger(design: Design, stock: Catalogue) -> tuple[Edit, ...]:
    """Steps that trade speed, money or heat for pull."""
    return (
        *steps(design, stock, ("driver_teeth*", "motor_kv"), -1),
        *steps(design, stock, ("driven_teeth*", "motor_current", "motor_size"), +1, most=4),
        *steps(design, stock, ("motor_count",), +1, most=1),
        *wider_belts(design, stock),
    )
