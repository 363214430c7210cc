"""The reduction stage by stage, and what its belts and chains are rated for."""

from __future__ import annotations

import math
from collections.abc import Sequence

from wattagon.design.catalogue import Catalogue
from wattagon.design.parts import ProfilePart, WheelPart
from wattagon.design.quantity import Known
from wattagon.design.tree import (
    Conditions,
    ReductionKind,
    StageChoice,
    Vehicle,
    WheelChoice,
)
from wattagon.errors import InputError
from wattagon.physics.reduction import Stage, belt_capacity_n, roller_grip_n, roller_losses
from wattagon.record import record
from wattagon.study.resolve.load import fitted_wheel
from wattagon.study.resolve.reader import Reader

# Defaults where neither the part's row nor the user says; typical values, shown as assumed.
STAGE_EFFICIENCY = {"belt": 0.97, "chain": 0.97, "gear": 0.95, "planetary": 0.96, "direct": 1.0}  # a roller's follows from its press
STAGE_DRAG_NM = {"belt": 0.03, "chain": 0.05, "gear": 0.02, "planetary": 0.03, "friction": 0.02, "direct": 0.0}
FRICTION_CREEP = 0.02
# a roller on its tyre, typical: press [N], loss of the press per force, friction by what is ridden on
ROLLER_PRESS_N, ROLLER_LOSS = 150.0, 0.03
ROLLER_GRIP = {"dry": 0.7, "dusty": 0.45, "wet": 0.25}
# of a chain's breaking load: what it is rated for, and what is asked of it for good and for seconds (five times, and a shock of 1.3)
CHAIN_RATED, CHAIN_LASTING, CHAIN_PEAK = 7.0, 8.0, 6.5
BELT_PEAK = 2.0  # times a belt's working tension, for seconds: tensions of catalogues are for thousands of hours
SERVICE = 1.5  # times the root mean square that a belt sees for good


@record(frozen=True, slots=True, kw_only=True)
class Rating:
    """What a belt or chain is rated for, as torque at one motor's shaft [N m] and as its own pull [N]; it holds nothing back."""

    stage: int  # position in the reduction
    kind: str  # belt or chain
    rated_n: float  # working tension of the belt, a seventh of the chain's breaking load
    lasting_n: float  # what it bears for good, service factor or shock in it
    peak_n: float  # for seconds
    per_nm: float  # pull per torque of one motor

    @property
    def rated_nm(self) -> float:
        return self.rated_n / self.per_nm

    @property
    def lasting_nm(self) -> float:
        return self.lasting_n / self.per_nm

    @property
    def peak_nm(self) -> float:
        return self.peak_n / self.per_nm


def stage_ratio(choice: StageChoice, loaded_diameter_m: float) -> float:
    """Input turns per output turn of one stage; a roller runs on the tyre as it is under load."""
    if choice.kind is ReductionKind.DIRECT:
        return 1.0
    if choice.kind is ReductionKind.FRICTION:
        return loaded_diameter_m / roller_diameter_m(choice)
    if choice.kind is ReductionKind.PLANETARY:
        return 1.0 + choice.driven_teeth / choice.driver_teeth
    return choice.driven_teeth / choice.driver_teeth


def roller_diameter_m(choice: StageChoice) -> float:
    """Diameter of a friction roller [m].  Raises InputError where nobody stated it."""
    if choice.roller_diameter is None:
        raise InputError("roller_diameter", "missing", "the roller's diameter; a friction stage needs it")
    return choice.roller_diameter


def stages_of(
    read: Reader,
    base: str,
    choices: tuple[StageChoice, ...],
    wheel: WheelChoice | None,
    part: WheelPart | None,
    vehicle: Vehicle,
    conditions: Conditions,
) -> tuple[Stage, ...]:
    diameter, share = fitted_wheel(read, vehicle, wheel, part, base) if choices and not vehicle.kind.floats else (1.0, 1.0)
    return tuple(stage_of(read, f"{base}.stages.{k}", choice, diameter * share, ground(conditions)) for k, choice in enumerate(choices))


def ground(conditions: Conditions) -> str:
    """What a roller's tyre is like where it is ridden: wet, dusty or dry."""
    return "wet" if conditions.wet else "dusty" if conditions.dusty else "dry"


def stage_of(read: Reader, where: str, choice: StageChoice, loaded_diameter_m: float, on: str = "dry") -> Stage:
    kind = choice.kind.value
    slip = slip_back = math.inf
    if choice.kind is ReductionKind.FRICTION:
        radius, (press, arm) = roller_diameter_m(choice) / 2.0, roller_press(choice, read, where)
        efficiency, drag = roller_losses(ROLLER_LOSS, press, radius, arm)
        drag += STAGE_DRAG_NM[kind]
        grip = roller_grip(choice, on, read, where)
        slip, slip_back = (float(roller_grip_n(grip, press, arm, braking=back)) * loaded_diameter_m / 2.0 for back in (False, True))
    else:
        efficiency, drag = STAGE_EFFICIENCY[kind], STAGE_DRAG_NM[kind]
    if choice.efficiency is not None:
        efficiency = read.quantity(f"{where}.efficiency", choice.efficiency, "share")
    else:
        efficiency = read.keep(f"{where}.efficiency", efficiency, Known.ASSUMED, "share")
    if choice.drag is not None:
        drag = read.quantity(f"{where}.drag", choice.drag, "torque")
    else:
        drag = read.keep(f"{where}.drag", drag, Known.ASSUMED, "torque")
    if choice.kind not in (ReductionKind.DIRECT, ReductionKind.FRICTION):
        read.keep(f"{where}.driver_teeth", choice.driver_teeth, Known.STATED)
        read.keep(f"{where}.driven_teeth", choice.driven_teeth, Known.STATED)
    return Stage(
        kind="gear" if choice.kind is ReductionKind.PLANETARY else kind,
        ratio=stage_ratio(choice, loaded_diameter_m),
        efficiency=efficiency,
        drag_nm=drag,
        creep=FRICTION_CREEP if choice.kind is ReductionKind.FRICTION else 0.0,
        one_way=choice.freewheel,
        shared=choice.shared,
        slip_nm=slip,
        slip_back_nm=slip_back,
    )


def roller_press(choice: StageChoice, read: Reader | None = None, where: str = "") -> tuple[float, float]:
    """(pressing force at rest [N], angle of the arm that pulls itself in [rad], inf for a fixed press) of a friction roller."""
    read = read or Reader(False)
    if choice.press_force is not None:
        press = read.quantity(f"{where}.press_force", choice.press_force, "force")
    else:
        press = read.keep(f"{where}.press_force", ROLLER_PRESS_N, Known.ASSUMED, "force")
    arm = read.quantity(f"{where}.arm_angle", choice.arm_angle, "angle") if choice.arm_angle is not None else math.inf
    return press, arm


def roller_grip(choice: StageChoice, on: str, read: Reader | None = None, where: str = "") -> float:
    """Friction of a roller on its tyre: dry, dusty or wet."""
    read, given = read or Reader(False), getattr(choice, f"grip_{on}")
    if given is not None:
        return read.quantity(f"{where}.grip_{on}", given, "number")
    return read.keep(f"{where}.grip_{on}", ROLLER_GRIP[on], Known.ASSUMED)


def stage_ratings(choices: Sequence[StageChoice], stages: Sequence[Stage], motors: int, stock: Catalogue) -> tuple[Rating, ...]:
    """Ratings of the belts and chains whose width or breaking load is known; a shared stage carries the torque of all motors."""
    found, carried = [], 1.0  # carried: stage input torque per motor torque
    for k, (choice, stage) in enumerate(zip(choices, stages, strict=True)):
        if choice.profile:
            profile = stock.get(ProfilePart, choice.profile)
            radius = profile.pitch_mm / 1e3 * choice.driver_teeth / math.tau
            pull = stage_pull_n(profile, choice.width_mm)
            if pull is not None:
                per_nm = carried * (motors if choice.shared else 1) / radius
                found.append(Rating(stage=k, kind=profile.kind, rated_n=pull[0], lasting_n=pull[1], peak_n=pull[2], per_nm=per_nm))
        carried *= stage.ratio * stage.efficiency
    return tuple(found)


def stage_pull_n(profile: ProfilePart, width_mm: float | None) -> tuple[float, float, float] | None:
    """(rated, for good, for seconds: pull [N]) of a belt of a width, or of a chain; None where it is not rated.

    A belt bears its working tension over the service factor for good, and twice the tension for seconds; a chain an eighth of its
    breaking load, and a sixth and a half.
    """
    if profile.kind == "belt":
        if profile.tension_n_per_mm is None or width_mm is None:
            return None
        working = float(belt_capacity_n(profile.tension_n_per_mm, width_mm))
        return working, working / SERVICE, BELT_PEAK * working
    if profile.breaking_n is None:
        return None
    return profile.breaking_n / CHAIN_RATED, profile.breaking_n / CHAIN_LASTING, profile.breaking_n / CHAIN_PEAK
