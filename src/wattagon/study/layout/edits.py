"""Edits of a layout: another loop with its place, a shaft moved, an idler; each one value of the design, to be taken back."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import TYPE_CHECKING

from wattagon.design.catalogue import Catalogue
from wattagon.design.parts import IdlerPart, MotorPart
from wattagon.design.parts.families import toothed
from wattagon.design.paths import Edit
from wattagon.design.quantity import Known, Quantity
from wattagon.design.tree import Design, Idler, Layout, Spot, StageLayout
from wattagon.physics.belt import FULL_MESH, teeth_in_mesh
from wattagon.study.layout.place import Shaft, Stock, around_axle_m, centre_of, place, stock_of
from wattagon.study.layout.stage import Running, draw, length_along

if TYPE_CHECKING:
    from wattagon.study.layout.study import LayoutStudy


def with_layout(design: Design, layout: Layout, label: str, gesture: int = -1) -> Edit:
    """The edit that gives the active variant a layout."""
    return Edit(label=label, changes=(("variant.layout", layout),), gesture=gesture)


def told(layout: Layout, position: int) -> StageLayout:
    """What a layout tells of a stage."""
    return layout.stages[position] if position < len(layout.stages) else StageLayout()


def with_stage(layout: Layout, position: int, stage: StageLayout) -> Layout:
    """A layout with another stage."""
    stages = [*layout.stages, *[StageLayout()] * (position + 1 - len(layout.stages))]
    stages[position] = stage
    return replace(layout, stages=tuple(stages))


def spot_at(x: float, z: float) -> Spot:
    """A place that the user states, to a micrometre: where a loop lies is not rounded away."""
    return Spot(x=Quantity(value=round(x, 6), known=Known.STATED), z=Quantity(value=round(z, 6), known=Known.STATED))


def with_shaft(layout: Layout, shafts: tuple[Shaft, ...], index: int, x: float, z: float) -> Layout:
    """A layout with one shaft moved; those before it in the drive move along, so that their stages keep their distance."""
    dx, dz = x - shafts[index].x, z - shafts[index].z
    made = layout
    for k in range(index + 1):
        if k < index and shafts[k].proposed:
            continue  # what is proposed follows by itself
        at = spot_at(x, z) if k == index else spot_at(shafts[k].x + dx, shafts[k].z + dz)
        if k == 0:
            made = replace(made, motor=at)
        else:
            spots = list(made.jackshafts)
            for n in range(len(spots), k):
                spots.append(spot_at(shafts[n + 1].x, shafts[n + 1].z))
            spots[k - 1] = at
            made = replace(made, jackshafts=tuple(spots))
    return made


def fitted_to(design: Design, stock: Catalogue, position: int, loop: int) -> Edit:
    """Another loop with its driver moved along the line of centres to where that lies."""
    variant, vehicle = design.variant(), design.vehicle
    layout = variant.layout or Layout()
    placed = place(vehicle, variant, stock, _can_m(design, stock), around_axle_m(vehicle))
    driver, driven = placed.shafts[position], placed.shafts[position + 1]
    made = stock_of(variant.stages[position], stock)
    fresh = with_stage(layout, position, replace(told(layout, position), loop=loop))
    if made is not None and not driver.proposed:
        idlers = told(layout, position).idlers
        centre = centre_of(made, loop) if not idlers else _centre_with(made, driver, driven, idlers, loop)
        apart = math.hypot(driver.x - driven.x, driver.z - driven.z)
        if math.isfinite(centre) and apart > 0.0:
            share = centre / apart
            x, z = driven.x + share * (driver.x - driven.x), driven.z + share * (driver.z - driven.z)
            fresh = with_shaft(fresh, placed.shafts, position, x, z)
    noun = "teeth" if made is not None and made.kind is not None else "links"
    return with_layout(design, fresh, f"Loop of {loop} {noun}, the {driver.name} where it lies")


def _can_m(design: Design, stock: Catalogue) -> float:
    part = stock.rows(MotorPart).get(design.variant().motor.part)
    return 0.0 if part is None or part.family == "hub" else part.can_mm / 1e3


def _centre_with(made: Stock, driver: Shaft, driven: Shaft, idlers: tuple[Idler, ...], loop: int) -> float:
    """Centre distance along the same line at which a loop with idlers lies; nan where it does not in reach."""
    apart = math.hypot(driver.x - driven.x, driver.z - driven.z)

    def off(centre: float) -> float:
        share = centre / apart
        here = driver._replace(x=driven.x + share * (driver.x - driven.x), z=driven.z + share * (driver.z - driven.z))
        path = draw(made, here, driven, idlers)
        return length_along(made, path) - loop * made.pitch_m if path.loop.real else math.nan

    before: tuple[float, float] | None = None
    for n in range(81):
        centre = apart * (0.7 + 0.0075 * n)
        value = off(centre)
        if math.isnan(value):
            before = None
            continue
        if before is not None and value * before[1] <= 0.0:
            low, high = before[0], centre
            for _ in range(50):
                middle = 0.5 * (low + high)
                low, high = (middle, high) if off(middle) * before[1] > 0.0 else (low, middle)
            return 0.5 * (low + high)
        before = centre, value
    return math.nan


def idler_of(stock: Catalogue, run: Running) -> Idler:
    """The smallest idler of stock that a loop bears on its back and that is as wide as it; a sprocket for chain.  Without one of stock
    the least size of one's own."""
    made, at = run.made, Quantity(value=0.0, known=Known.STATED)
    if made.kind is None:
        fits = [part for part in stock.all(IdlerPart) if part.profile == made.family.id]
        least = 11.0 * 1e3 * made.pitch_m / math.pi
    else:
        least = 1e3 * made.kind.least_idler_m(made.family.good_teeth or 18, inside=False)
        wide = 1e3 * (run.width_m or 0.0)
        fits = [part for part in stock.all(IdlerPart) if not part.profile and part.diameter_mm >= least and part.width_mm >= wide]
    if fits:
        part = min(fits, key=lambda one: one.diameter_mm)
        return Idler(x=at, z=at, diameter=Quantity(value=part.diameter_mm / 1e3, known=Known.STATED), part=part.id)
    return Idler(x=at, z=at, diameter=Quantity(value=math.ceil(least) / 1e3, known=Known.STATED))


def idler_for(study: LayoutStudy, stock: Catalogue, run: Running) -> Edit | None:
    """An idler on the back of the slack strand near the small pulley, pressed in until six teeth are in mesh; the driver comes nearer by
    what the loop then lacks.  None where there is one already, or where it does not help."""
    made = run.made
    if made.kind is None or run.path.loop.fault or told(study.layout, run.position).idlers:
        return None
    driver, driven = study.shafts[run.position], study.shafts[run.position + 1]
    chosen = idler_of(stock, run)
    diameter = chosen.diameter.value
    slack = run.path.loop.spans[1]  # from the driven wheel back to the driver: slack while it drives
    small_last = made.choice.driver_teeth <= made.choice.driven_teeth
    away = min(0.38, (0.5 * diameter + 0.5 * made.driver_m + 0.008) / slack.length)
    share = 1.0 - away if small_last else away
    x = slack.begin[0] + share * (slack.end[0] - slack.begin[0])
    z = slack.begin[1] + share * (slack.end[1] - slack.begin[1])
    nx, nz = math.sin(slack.direction), -math.cos(slack.direction)  # out of the loop
    wanted = max(FULL_MESH, run.in_mesh + 1)
    teeth, small = (made.choice.driver_teeth, "driver") if small_last else (made.choice.driven_teeth, "driven")
    for press in range(1, 40):
        out = 0.5 * diameter + made.kind.back_m() - 0.001 * press
        one = replace(
            chosen,
            x=Quantity(value=round(x + out * nx, 4), known=Known.STATED),
            z=Quantity(value=round(z + out * nz, 4), known=Known.STATED),
        )
        centre = _centre_with(made, driver, driven, (one,), run.loop)
        if not math.isfinite(centre):
            continue
        nearer = centre / run.centre_m
        at = driver._replace(x=driven.x + nearer * (driver.x - driven.x), z=driven.z + nearer * (driver.z - driven.z))
        path = draw(made, at, driven, (one,))
        wrap = (
            next((w for wheel, w in zip(path.wheels, path.loop.wraps, strict=True) if wheel.what == small), 0.0) if path.loop.real else 0.0
        )
        if teeth_in_mesh(teeth, wrap) >= wanted:
            layout = with_stage(study.layout, run.position, replace(told(study.layout, run.position), loop=run.loop, idlers=(one,)))
            layout = with_shaft(layout, study.shafts, run.position, at.x, at.z)
            return with_layout(study.design, layout, f"Idler of {1e3 * diameter:.0f} mm on its back, {wanted} teeth in mesh")
    return None


def stepped(design: Design, stock: Catalogue, position: int, role: str, by: int) -> Edit | None:
    """The next pulley or sprocket of stock on a wheel of a stage; None at the end of what there is."""
    stage = design.variant().stages[position]
    name = f"{role}_teeth"
    now: int = getattr(stage, name)
    have = sorted({part.teeth for part in toothed(stock, stage.profile, role)} | {now})
    at = have.index(now) + by
    if not 0 <= at < len(have):
        return None
    changes: tuple[tuple[str, object], ...] = ((f"variant.stages.{position}.{name}", have[at]),)
    layout = design.variant().layout
    if layout is not None and told(layout, position).loop is not None:  # another wheel asks for another loop
        changes = (*changes, ("variant.layout", with_stage(layout, position, replace(told(layout, position), loop=None))))
    return Edit(label=f"{role.capitalize()} {now} to {have[at]} teeth", changes=changes)
