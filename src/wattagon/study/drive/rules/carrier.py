"""What carries a propeller: the lean of its transom, the gear of its leg, a can that turns in the water."""

from __future__ import annotations

import math

from wattagon.design.parts import CarrierPart
from wattagon.design.paths import Edit
from wattagon.design.quantity import Known, Quantity
from wattagon.design.tree import Place
from wattagon.study.drive.rules.rests import PULL
from wattagon.study.drive.rules.water import SCREW, held_fast, running
from wattagon.study.drive.water import boat_in, can_w
from wattagon.study.findings.rule import Case, Rule, Verdict, unknown
from wattagon.study.findings.status import Status
from wattagon.study.resolve.boat import MADE_FOR, WET, off_level
from wattagon.study.resolve.reader import Reader

LEVEL_DEG = 3.0  # nobody sees less
CAN_SHARE = 0.10  # of the shaft's power that a turning can may take before it is worth closing in


def lean(case: Case) -> Verdict | None:
    """Whether the shaft of a drive that is clamped to a transom lies level."""
    choice, hull = case.study.resolved.variant.propeller, case.design.vehicle.hull
    assert choice is not None and hull is not None
    if choice.place not in MADE_FOR or choice.tilt is not None:
        return None
    off = off_level(Reader(False), hull, choice, "variant")
    if off is None:
        return unknown("Angle of the transom is not measured: whether the propeller's shaft lies level is not known")
    degrees, wedge = math.degrees(off), choice.wedge.value if choice.wedge is not None else 0.0
    if abs(degrees) <= LEVEL_DEG:
        near = "" if abs(degrees) < 0.05 else f" within {abs(degrees):.1f}°"
        return Verdict(status=Status.CLEAR, title=f"The propeller's shaft lies level{near}", margin=1.0 - abs(degrees) / LEVEL_DEG)
    does = "tucked in, it pushes the bow down" if degrees > 0 else "kicked out, it lifts the bow and makes the stern squat"
    needed = math.degrees(wedge + off)
    how = f"a wedge of {needed:.0f}° under its clamp levels it" if abs(needed) > 0.5 else "without the wedge it is level"
    title = f"The propeller's shaft points {abs(degrees):.0f}° {'up' if degrees > 0 else 'down'}: {does}; {how}"
    level = Quantity(value=wedge + off, known=Known.STATED) if abs(needed) > 0.5 else None
    words = f"Wedge of {needed:.0f}°" if level is not None else "No wedge"
    return Verdict(
        status=Status.TIGHT,
        title=title,
        margin=1.0 - abs(degrees) / LEVEL_DEG,
        candidates=lambda: (Edit(label=words, changes=(("variant.propeller.wedge", level),)),),
    )


def gear(case: Case) -> Verdict | None:
    """The leg's own gear against the torque of the propeller held fast at full throttle."""
    choice = case.study.resolved.variant.propeller
    assert choice is not None
    if choice.place is not Place.LEG:
        return None
    bears = case.stock.get(CarrierPart, choice.carrier).gear_nm if choice.carrier else None
    if bears is None:
        return unknown("What the gear of the leg bears is not stated: pick the leg from stock or ask who made it")
    peak = held_fast(case).torque_nm
    margin = 1.0 - peak / bears
    status = Status.OVER if margin < 0.0 else Status.TIGHT if margin < 0.2 else Status.CLEAR
    return Verdict(
        status=status,
        title=f"The leg's gear bears {case.say(bears, 'torque')} at the propeller, held fast it sees {case.say(peak, 'torque')}",
        margin=margin,
    )


def can(case: Case) -> Verdict | None:
    """What the water takes of a can that turns in it, at the top speed."""
    choice, resolved = case.study.resolved.variant.propeller, case.study.resolved
    assert choice is not None
    if not choice.flooded or choice.place not in WET:
        return None
    at = running(case)
    lost = can_w(resolved, at.rpm / 60.0)
    turned = float(boat_in(resolved).propellers) * at.torque_nm * at.rpm * math.tau / 60.0
    share = lost / max(lost + turned, 1e-9)
    title = (
        f"The can that turns in the water takes {case.say(lost, 'power')} at full speed, {share:.0%} of the shaft; "
        "coated magnets and laminations, sealed winding, bearings that bear water"
    )
    status = Status.TIGHT if share > CAN_SHARE else Status.CLEAR
    return Verdict(
        status=status,
        title=title,
        margin=1.0 - share / CAN_SHARE,
        candidates=lambda: (Edit(label="Can sealed in a pod", changes=(("variant.propeller.flooded", False),)),),
    )


RULES = (
    Rule(
        code="prop.lean",
        bench="brief",
        link="propeller",
        because="Lean of the transom less what the clamp is made for, less the wedge; above 3° it is felt.",
        judge=lean,
        rests=("transom_angle", "made_for", "wedge"),
        on="water",
    ),
    Rule(
        code="shaft.leg",
        bench="drive",
        link="shaft",
        because="Peak torque of the propeller at full throttle held fast; the pin has to go before the gear.",
        judge=gear,
        rests=(*PULL, *SCREW),
        on="water",
    ),
    Rule(
        code="motor.can",
        bench="drive",
        link="motor",
        because="Turbulent friction on the can, c_f 0.008 (0.005 to 0.010), without its face. Uncoated it lasts weeks in salt water.",
        judge=can,
        rests=(*SCREW, "can_friction"),
        on="water",
    ),
)
