"""Rules on a drive through the bike's own gears: legs, cadence, the bike's chain and its hub."""

from __future__ import annotations

import math

from wattagon.design.parts import HubPart
from wattagon.design.paths import Edit
from wattagon.design.tree import Gears
from wattagon.study.drive import candidates as try_
from wattagon.study.drive.cases import in_gear
from wattagon.study.drive.goals import assisted_rpm
from wattagon.study.drive.rules.rests import CUTBACK, PULL, WHEEL
from wattagon.study.findings.rule import Case, Rule, Verdict
from wattagon.study.findings.status import Status
from wattagon.study.resolve.gears import BIKE_CHAIN_SECONDS, PITCH_M, RIDER_NM


def _gears(case: Case) -> Gears | None:
    return case.study.resolved.variant.gears


def cranks(case: Case) -> Verdict | None:
    """Cranks that the motor turns hit shins."""
    gears = _gears(case)
    if gears is None:
        return None
    if gears.crank_clutch:
        return Verdict(status=Status.CLEAR, title="The cranks stand still while the motor drives", margin=0.0)
    edit = Edit(label="A freewheel between motor and cranks", changes=(("variant.gears.crank_clutch", True),))
    title = "The motor turns the cranks: they hit shins, and feet that slip off are caught"
    return Verdict(status=Status.OVER, title=title, margin=-1.0, candidates=lambda: (edit,))


def assist(case: Case) -> Verdict | None:
    """The cadence up to which the motor helps against the window that the rider pedals in."""
    gears, resolved = _gears(case), case.study.resolved
    if gears is None:
        return None
    rpm = float(assisted_rpm(resolved.train, resolved.load, resolved.emf_v(0.5), resolved.stages[-1].ratio, resolved.air_c))
    status = Status.OVER if rpm < gears.cadence_low else Status.TIGHT if rpm < gears.cadence_high else Status.CLEAR
    words = f"pedalled from {gears.cadence_low:.0f} to {gears.cadence_high:.0f}"
    title = f"The motor helps up to {rpm:.0f} turns of the pedals a minute, {words}"
    if status is Status.OVER:
        title = f"The help dies at {rpm:.0f} turns of the pedals a minute, before anybody pedals: {words}"
    edits = lambda: (
        *try_.steps(case.design, case.stock, ("driver_teeth*", "motor_kv", "series"), +1, most=4),
        *try_.steps(case.design, case.stock, ("driven_teeth*",), -1, most=3),
    )
    return Verdict(status=status, title=title, margin=rpm / gears.cadence_high - 1.0, candidates=edits)


def _crank_nm(case: Case) -> float:
    """What the motors give at the crank at most [N m], whichever gear is in."""
    resolved = case.study.resolved
    wheel = float(resolved.load.shaft_torque_nm(0.0, case.study.states["full"].edge.drive_n[0]))
    last = resolved.stages[-1]
    return wheel / (last.ratio * last.efficiency)


def chain(case: Case) -> Verdict | None:
    """Pull on the bike's chain, motor and rider together, against a third of its breaking load."""
    gears, bike = _gears(case), case.study.resolved.bike
    if gears is None or bike is None:
        return None
    motor, bears = _crank_nm(case), bike.chain_n / BIKE_CHAIN_SECONDS
    pull = (motor + RIDER_NM) * math.tau / (gears.ring * PITCH_M)
    margin = 1.0 - pull / bears
    status = Status.OVER if margin < 0 else Status.TIGHT if margin < 0.15 else Status.CLEAR
    title = (
        f"Bike's chain pulled with {case.say(pull, 'force')}: motor {case.say(motor, 'torque')} and rider {case.say(RIDER_NM, 'torque')} "
        f"at {gears.ring} teeth, bears {case.say(bears, 'force')} for seconds"
    )
    now = float(case.study.resolved.train.controller.motor_current_a)
    edits = lambda: try_.set_amps(case.design, "motor_current_a", 0.85 * now * bears / pull)
    return Verdict(status=status, title=title, margin=margin, candidates=edits)


def hub(case: Case) -> Verdict | None:
    """Torque into cassette and hub in the lowest gear."""
    gears, bike = _gears(case), case.study.resolved.bike
    if gears is None or bike is None:
        return None
    low = in_gear(case.study.resolved, 1).stages[-1]
    torque = (_crank_nm(case) + RIDER_NM) * low.ratio * low.efficiency
    margin = 1.0 - torque / bike.hub_nm
    status = Status.OVER if margin < 0 else Status.TIGHT if margin < 0.15 else Status.CLEAR
    bears = f"it bears {case.say(bike.hub_nm, 'torque')}" if bike.hub_name else f"{case.say(bike.hub_nm, 'torque')} is typical"
    title = f"Hub and cassette see {case.say(torque, 'torque')} in the lowest gear, {bears}"
    now = float(case.study.resolved.train.controller.motor_current_a)
    stronger = sorted((hub for hub in case.stock.all(HubPart) if 0.85 * hub.torque_nm > torque), key=lambda hub: hub.price)
    edits = lambda: (
        *(Edit(label=hub.name, changes=(("variant.gears.hub", hub.id),)) for hub in stronger[:2]),
        *try_.set_amps(case.design, "motor_current_a", now * 0.85 * bike.hub_nm / torque),
    )
    return Verdict(status=status, title=title, margin=margin, candidates=edits)


RULES: tuple[Rule, ...] = (
    Rule(
        code="gears.cranks",
        bench="drive",
        link="reduction",
        because="A motor before the crank's freewheel drives chain and cranks, unless the cranks have a clutch of their own.",
        judge=cranks,
    ),
    Rule(
        code="gears.assist",
        bench="drive",
        link="reduction",
        because="A middle drive turns with the crank: duty at the cadence counts, not at a road speed. Until a fifth of the pull is left.",
        judge=assist,
        rests=(*PULL, *CUTBACK),
    ),
    Rule(
        code="gears.chain",
        bench="drive",
        link="reduction",
        because="A bicycle chain breaks near 8 kN when new: a third for seconds. Shifting under power breaks chains: torque off for it.",
        judge=chain,
        rests=(*PULL, "breaking_n"),
    ),
    Rule(
        code="gears.hub",
        bench="drive",
        link="wheel",
        because="Hub bodies, cassettes and pawls are made for legs, not for a motor's jerk; typical, ask for its own figure.",
        judge=hub,
        rests=(*PULL, *WHEEL, "hub_nm", "torque_nm"),
    ),
)
