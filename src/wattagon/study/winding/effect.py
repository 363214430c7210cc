"""What a winding, a termination or a reduction does to the drive: goals, heat, lasting current, and what the controller says to it."""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable, Sequence
from dataclasses import replace

import numpy as np

from wattagon.design.catalogue import Catalogue
from wattagon.design.parts import PropellerPart
from wattagon.design.parts.families import toothed
from wattagon.design.paths import Edit, apply
from wattagon.design.quantity import Known, Quantity
from wattagon.design.tree import Design, GoalKind, ReductionKind
from wattagon.errors import InputError, PathError
from wattagon.physics.held import holding
from wattagon.physics.holding import LONGEST_S, Hold
from wattagon.record import record
from wattagon.study.drive.goals import GoalResult
from wattagon.study.drive.levers import preview
from wattagon.study.drive.study import DriveStudy
from wattagon.study.resolve import CHARGE_STATES, Resolved, phase_ohm, resolve
from wattagon.study.winding.iron import Base
from wattagon.study.winding.option import LEAST_L_H, overrides

KV_RANGE, KV_POINTS = (0.3, 3.0), 31  # of the present kv, that are tried for the one that fits best
MET, MOST = 0.0, 0.3  # a goal met by more than this share counts no more
TEETH_ROUND = 0.25  # how far a reduction of stock may be off
TRIED = 16  # reductions, the nearest ones
STEADY_C = 300.0  # above it nothing of a motor settles: told as never


@record(frozen=True, slots=True, kw_only=True)
class Moment:
    """The load at which windings are held against each other."""

    speed_m_s: float
    grade: float
    name: str  # of the goal, or "half of its top speed"


@record(frozen=True, slots=True, kw_only=True)
class Effect:
    """Of one change, in the drive."""

    goals: tuple[GoalResult, ...]
    heat_s: float  # until too hot on the first climb goal; nan without one
    lasting_a: float  # controller's motor amps that the winding bears for good at the moment
    lasting_nm: float  # what one motor's shaft gives with them
    needed_a: float  # controller's motor amps that the moment asks for
    copper_w: float  # lost in one motor's copper at the moment, at 80 C
    settles_c: float  # winding there for good; inf where nothing settles
    electrical_rpm: float
    henry: float
    controller: tuple[str, ...]  # what it says against it
    refused: str = ""

    @property
    def met(self) -> int:
        return sum(one.met for one in self.goals)


def moment_of(design: Design, drive: DriveStudy) -> Moment:
    """The first climb, else the first speed asked for, else half of the top speed."""
    for kind in (GoalKind.CLIMB, GoalKind.TOP_SPEED):
        for goal in design.brief.goals:
            if goal.kind is kind and (goal.speed or 0.0) > 0.0:
                return Moment(speed_m_s=goal.speed or 0.0, grade=goal.grade or 0.0, name=goal.id)
    return Moment(speed_m_s=0.5 * drive.states["nominal"].top_speed_m_s, grade=0.0, name="half of its top speed")


def effects(
    design: Design, stock: Catalogue, moment: Moment, edits: Sequence[Edit | None], *, cancelled: Callable[[], bool] = lambda: False
) -> list[Effect]:
    """What each change does, goals judged in one batch; None is no change."""
    nothing, leads = Edit(label="As it is", changes=()), phase_ohm(design.variant(), stock)
    asked = [edit or nothing for edit in edits]
    made = []
    for edit, seen in zip(asked, preview(design, stock, asked, cancelled=cancelled), strict=False):
        if seen.refused:
            made.append(_refused(seen.refused))
            continue
        try:
            made.append(effect(resolve(apply(design, edit), stock), moment, seen.goals, seen.heat_s, leads))
        except (InputError, PathError) as refusal:
            made.append(_refused(str(refusal)))
    return made


def _refused(words: str) -> Effect:
    nan = math.nan
    return Effect(
        goals=(),
        heat_s=nan,
        lasting_a=nan,
        lasting_nm=nan,
        needed_a=nan,
        copper_w=nan,
        settles_c=nan,
        electrical_rpm=nan,
        henry=nan,
        controller=(),
        refused=words,
    )


def effect(resolved: Resolved, moment: Moment, goals: tuple[GoalResult, ...], heat_s: float, leads_ohm: float) -> Effect:
    """Of one drive; what phase leads lose is not the motor's."""
    train = resolved.train
    motor, heat = train.motor, train.heat
    assert heat is not None
    at = holding(train, resolved.load, moment.speed_m_s, grade=moment.grade, headwind_m_s=resolved.headwind_m_s)
    shaft, current = float(at.shaft_rad_s), max(float(at.current_a), 0.0)
    lasting = float(heat.continuous_current_a(motor, shaft, moment.speed_m_s, resolved.air_c))
    hold = Hold(
        motor=motor,
        heat=heat,
        shaft_nm=float(motor.shaft_torque_nm(current, shaft)),
        shaft_rad_s=shaft,
        speed_m_s=moment.speed_m_s,
        air_c=resolved.air_c,
    )
    settled = float(hold.at(LONGEST_S)[0])
    free = float(motor.no_load(resolved.emf_v(CHARGE_STATES["full"]))[0])
    return Effect(
        goals=goals,
        heat_s=heat_s,
        lasting_a=lasting / motor.dc_per_motor_amp,
        lasting_nm=float(motor.shaft_torque_nm(lasting, shaft)),
        needed_a=current / motor.dc_per_motor_amp,
        copper_w=float(motor.at(winding_c=80.0).resistance_ohm) * (1.0 - leads_ohm / float(motor.resistance_ohm)) * current**2,
        settles_c=settled if settled < STEADY_C else math.inf,
        electrical_rpm=float(motor.erpm(free)),
        henry=float(motor.inductance_h),
        controller=tuple(_against(resolved, float(motor.erpm(free)))),
    )


def _against(resolved: Resolved, electrical_rpm: float) -> list[str]:
    """What the controller says against a motor."""
    part, said = resolved.controller_part, []
    if part.erpm_max is not None and electrical_rpm > part.erpm_max:
        said.append(f"{electrical_rpm:.0f} electrical rpm, it bears {part.erpm_max:.0f}")
    henry = float(resolved.train.motor.inductance_h)
    if 0.0 < henry < LEAST_L_H:
        said.append(f"{1e6 * henry:.1f} uH: below {1e6 * LEAST_L_H:.0f} uH current ripples and some controllers refuse")
    return said


def best_kv(design: Design, stock: Catalogue, base: Base, *, cancelled: Callable[[], bool] = lambda: False) -> float:
    """The kv of this frame with which the goals are met best [rpm/V]: the most of them, then the one that is met least by most.

    The frame keeps its motor constant: R goes as 1/kv^2, currents as kv.  nan where nothing is asked for.
    """
    if not design.brief.goals:
        return math.nan
    kv0 = float(base.motor.kv_rpm_per_v)
    low, high = (math.log(kv0 * share) for share in KV_RANGE)
    best = kv0
    for _ in range(2):
        tried = np.exp(np.linspace(low, high, KV_POINTS))
        seen = preview(design, stock, [kv_edit(design, base, float(kv)) for kv in tried], cancelled=cancelled)
        if not seen:
            return math.nan
        scores = [_score(one.goals) for one in seen]
        k = max(range(len(scores)), key=lambda i: (scores[i], -abs(math.log(tried[i] / kv0))))
        best = float(tried[k])
        step = (high - low) / (KV_POINTS - 1)
        low, high = math.log(best) - step, math.log(best) + step
    return best


def _score(goals: Sequence[GoalResult]) -> tuple[int, float]:
    if not goals:
        return -1, -math.inf
    margins = [min(one.margin, MOST) for one in goals]
    return sum(margin >= MET for margin in margins), round(min(margins), 6)


def kv_edit(design: Design, base: Base, kv: float) -> Edit:
    """The same frame with another kv and as much copper."""
    turns = float(base.motor.kv_rpm_per_v) / kv
    ohm = float(base.motor.resistance_ohm) * turns**2
    from wattagon.physics.winding.coil import copper_kg

    values = overrides(base, kv, ohm, float(base.motor.inductance_h) * turns**2, copper_kg(base.iron.wound, base.coils))
    motor = design.variant().motor
    kept = {**motor.overrides, **{name: Quantity(value=value, known=Known.COMPUTED) for name, value in values.items()}}
    return Edit(label=f"kv {kv:.4g}", changes=(("variant.motor", replace(motor, overrides=kept)),))


def reductions(design: Design, stock: Catalogue, factor: float) -> list[Edit]:
    """Changes of teeth that turn the present ratio by a factor, the nearest first; for a boat without stages other propellers."""
    variant, found = design.variant(), []
    for k, stage in enumerate(variant.stages):
        if stage.kind not in (ReductionKind.BELT, ReductionKind.CHAIN) or not stage.profile:
            continue
        drivers = {one.teeth for one in toothed(stock, stage.profile, "driver")} | {stage.driver_teeth}
        driven = {one.teeth for one in toothed(stock, stage.profile, "driven")} | {stage.driven_teeth}
        now = stage.driven_teeth / stage.driver_teeth
        for a, b in itertools.product(drivers, driven):
            off = abs(math.log(b / a / (now * factor)))
            if off <= TEETH_ROUND and (a, b) != (stage.driver_teeth, stage.driven_teeth):
                base = f"variant.stages.{k}"
                label = f"{a}:{b} teeth instead of {stage.driver_teeth}:{stage.driven_teeth}"
                found.append((off, Edit(label=label, changes=((f"{base}.driver_teeth", a), (f"{base}.driven_teeth", b)))))
    if not found and variant.propeller is not None:
        from wattagon.design.fitted import fitted

        now_part = fitted(stock.get(PropellerPart, variant.propeller.part), variant.propeller)
        # thrust at a speed of turns goes as D^4: as much with turns over the factor asks for D sqrt(factor)
        for part in stock.all(PropellerPart):
            off = abs(math.log(part.diameter_m / (now_part.diameter_m * math.sqrt(factor))))
            off += abs(math.log(part.pitch_m / (now_part.pitch_m * factor))) * 0.5
            if part.id != now_part.id:
                found.append((off, Edit(label=f"{part.name} on it", changes=(("variant.propeller", variant.propeller.other(part.id)),))))
    return [edit for _, edit in sorted(found, key=lambda one: one[0])[:TRIED]]


def best_of(seen: Sequence[tuple[Edit, tuple[GoalResult, ...]]]) -> Edit | None:
    """Of several changes the one whose goals fare best, the first of equals."""
    good = [(k, edit, _score(goals)) for k, (edit, goals) in enumerate(seen) if goals]
    return max(good, key=lambda one: (one[2][0], round(one[2][1], 2), -one[0]))[1] if good else None
