"""Stages without a loop: gear pairs, planetary sets and rollers on the tyre, in their place."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from typing import NamedTuple

from wattagon.design.tree import Layout, ReductionKind, StageChoice, StageLayout, Vehicle
from wattagon.physics.gears import Planets, contact_ratio, pair_centre_m, planet_rad_s, planets
from wattagon.physics.reduction import roller_grip_n
from wattagon.record import record
from wattagon.study.layout.place import MODULE_M, Shaft
from wattagon.study.resolve.stages import roller_grip, roller_press

ROLLER_M, PLANETS = 0.05, 3  # where nobody stated them; typical
GROUNDS = ("dry", "dusty", "wet")


class Disc(NamedTuple):
    """A wheel of such a stage in side view [m]."""

    name: str
    x: float
    z: float
    radius: float


@record(frozen=True, slots=True, kw_only=True)
class Meshed:
    """One stage; lengths in m, what does not apply is nan."""

    position: int
    choice: StageChoice
    discs: tuple[Disc, ...]
    centre_m: float
    fitting_m: float
    module_m: float = math.nan
    module_told: bool = False
    contact: float = math.nan  # ratio
    planets: Planets | None = None
    planet_count: int = 0
    planet_rpm: float = math.nan  # on its pin at top speed
    grip_n: tuple[float, float, float] = (math.nan, math.nan, math.nan)  # dry, dusty, wet
    press_n: float = math.nan

    @property
    def off_m(self) -> float:
        """By which it stands too far apart; below 0 too near."""
        return self.centre_m - self.fitting_m


def meshed(
    vehicle: Vehicle, stages: Sequence[StageChoice], layout: Layout, shafts: Sequence[Shaft], rpm: Sequence[float]
) -> Iterator[Meshed]:
    """Of every stage of a variant that is none of belt and chain; `rpm` of each stage's driver at top speed."""
    for k, choice in enumerate(stages):
        if choice.kind not in (ReductionKind.GEAR, ReductionKind.PLANETARY, ReductionKind.FRICTION):
            continue
        told = layout.stages[k] if k < len(layout.stages) else StageLayout()
        driver, driven = shafts[k], shafts[k + 1]
        apart = math.hypot(driver.x - driven.x, driver.z - driven.z)
        module = told.module.value if told.module is not None else MODULE_M
        if choice.kind is ReductionKind.GEAR:
            one, other = choice.driver_teeth, choice.driven_teeth
            discs = (
                Disc(f"{one} teeth", driver.x, driver.z, 0.5 * module * one),
                Disc(f"{other} teeth", driven.x, driven.z, 0.5 * module * other),
            )
            yield Meshed(
                position=k,
                choice=choice,
                discs=discs,
                centre_m=apart,
                fitting_m=pair_centre_m(module, one, other),
                module_m=module,
                module_told=told.module is not None,
                contact=contact_ratio(module, one, other, apart),
            )
        elif choice.kind is ReductionKind.PLANETARY:
            count = told.planets or PLANETS
            sun, ring = choice.driver_teeth, choice.driven_teeth
            made = planets(sun, ring, count)
            wheels = [Disc("sun", driver.x, driver.z, 0.5 * module * sun), Disc("ring", driver.x, driver.z, 0.5 * module * ring)]
            if math.isfinite(made.teeth):
                away, radius = 0.5 * module * (sun + made.teeth), 0.5 * module * made.teeth
                turns = [2.0 * math.pi * n / count for n in range(count)]
                wheels += [Disc("planet", driver.x + away * math.cos(t), driver.z + away * math.sin(t), radius) for t in turns]
            yield Meshed(
                position=k,
                choice=choice,
                discs=tuple(wheels),
                centre_m=apart,
                fitting_m=0.0,
                module_m=module,
                module_told=told.module is not None,
                planets=made,
                planet_count=count,
                planet_rpm=planet_rad_s(sun, ring, rpm[k]) if ring > sun else math.nan,
            )
        else:
            tyre = vehicle.tyre_diameter.value * vehicle.tyre_rolling_share.value
            roller = choice.roller_diameter or ROLLER_M
            press, arm = roller_press(choice)
            dry, dusty, wet = (float(roller_grip_n(roller_grip(choice, on), press, arm)) for on in GROUNDS)
            yield Meshed(
                position=k,
                choice=choice,
                discs=(Disc("roller", driver.x, driver.z, 0.5 * roller),),
                centre_m=apart,
                fitting_m=0.5 * (tyre + roller),
                grip_n=(dry, dusty, wet),
                press_n=press,
            )
