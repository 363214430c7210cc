"""Schools of controller: what each can be told, what not, and what to do instead."""

from __future__ import annotations

from wattagon.design.tree import Variant
from wattagon.record import record
from wattagon.study.resolve import Resolved


@record(frozen=True, slots=True, kw_only=True)
class School:
    """One kind of controller by what can be set in it; `cannot` has a sentence for each key that it lacks."""

    code: str
    name: str
    words: str
    cannot: dict[str, str]
    unguarded: tuple[str, ...] = ()


CURRENTS = ("motor_a", "motor_brake_a", "pack_a", "pack_in_a", "absolute_a")
_BY_PARTS = "it cannot be set; choose motor, ratio and throttle so that it is never asked, and a fuse that bears the rest"
VEHICLE = School(
    code="vehicle",
    name="electric-vehicle controller",
    words="Sensors, current control both ways, limits in amps, volts and degrees.",
    cannot={},
)
MODEL = School(
    code="model",
    name="model controller",
    words="Pulse input, duty by the lever; it counts cells and cuts, and trusts that the pilot lets go.",
    cannot={
        "motor_a": "no limit of its own: the ramp and a shorter lever hold amps down; choose a controller of twice the amps",
        "motor_brake_a": "a brake by drag only, off, soft or hard; tried at walking pace",
        "pack_a": "no limit of its own: the fuse and the weakest cell are the limit; measure at full lever",
        "pack_in_a": "nothing holds charge back: switch its brake off with a full pack or a board",
        "absolute_a": "a trip of its own that nobody tells; it stops the motor dead",
        "cut_start_v": "it cuts at once: set the soft cut where it has one",
        "motor_taper_c": "none: feel the can, or log it",
        "motor_taper_end_c": "none: feel the can, or log it",
        "controller_taper_c": "its own, told by nobody",
        "controller_taper_end_c": "its own, told by nobody",
        "duty_soft": "none: the throttle's end point stands in for it",
        "watts": "none: fuse and cells are the limit",
        "speed": "none: end point of the throttle, tried on the stand",
        "sensor": "without sensors: pushed off, or started slowly",
        "order": "without sensors",
        "boost_s": "none: let go after the seconds that are worked out",
    },
    unguarded=(
        "motor and pack amps",
        "motor's heat",
        "a pack that is already full when it brakes",
        "a wheel that is blocked",
    ),
)
SCOOTER = School(
    code="scooter",
    name="controller with fixed limits and a set of leads",
    words="Amps, cutoff and speed are as it was made; leads choose sensors, brake, cruise, reverse and three speeds.",
    cannot={
        "motor_a": "fixed, often two to three times its pack amps: measure at a held wheel for a second",
        "motor_brake_a": "on or off by a lead",
        "pack_a": "fixed; a shunt that is altered is a fire to come: choose another controller",
        "pack_in_a": "fixed: leave the brake lead open where the pack does not bear it",
        "absolute_a": "fixed, told by nobody",
        "cut_start_v": "fixed for its cells, it cuts at once",
        "cut_end_v": "fixed for its cells: one made for this number of cells, else a board guards",
        "duty_soft": "none: it ends hard",
        "duty": "fixed",
        "erpm": "fixed",
        "watts": "fixed",
        "boost_s": "none: let go after the seconds that are worked out",
        "motor_taper_c": "none: let go after the seconds that are worked out",
        "motor_taper_end_c": "none: let go after the seconds that are worked out",
        "controller_taper_c": "its own, told by nobody",
        "controller_taper_end_c": "its own, told by nobody",
        "idle_min": "none: the key takes it off",
        "rise_s": "fixed: a converter before its throttle lead ramps",
        "fall_s": "fixed",
        "poles": "only its display counts them",
        "wheel": "only its display has it",
        "ratio": "it knows none",
    },
    unguarded=("motor's heat", "pack of another number of cells"),
)
BRUSHED = School(
    code="brushed",
    name="brushed controller",
    words="Two leads to the motor; amps and ramps, no sensors and no electrical speed.",
    cannot={
        "erpm": "a brushed motor has none; its collector has a highest speed",
        "sensor": "brushes need none",
        "order": "brushes need none",
        "poles": "brushes need none",
        "duty_soft": "none: it ends hard",
    },
)
SCHOOLS = {one.code: one for one in (VEHICLE, MODEL, SCOOTER, BRUSHED)}


def school_of(variant: Variant, resolved: Resolved) -> School:
    """As told, else by the part: brushes or not."""
    told = variant.control.school if variant.control is not None else ""
    return SCHOOLS[told] if told else BRUSHED if resolved.train.motor.brushed else VEHICLE
