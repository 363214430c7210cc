"""What an incident stresses, and what clears each part of it.  Tests are those of commissioning; typical, for the user to widen."""

from __future__ import annotations

from typing import NamedTuple

from wattagon.design.tree import BuildPart, EntryKind, Incident


class Stress(NamedTuple):
    """A part that an incident may have harmed without a trace, and the test that clears it."""

    part: BuildPart
    test: str


P = BuildPart
_CONTROLLER = "resistance of each pair of outputs to both inputs alike, idle draw as before, then an hour unloaded without a fault"
_PACK = "every group at rest within 20 mV after a day, resistance by two loads as before, nothing warm or swollen"
_WIRING = "pull at each joint, connectors without pits, fuse read and replaced, insulation above 1 megohm"
_MOTOR = "pairs of leads within 2 %, leads to housing above 10 megohm, no-load current as before"
_TRAIN = "teeth, keys and set screws looked at, loop tension, then a proof load as before"
_FRAME = "every weld, clamp and bolt looked at under load, proof load as before"
_WHEEL = "runs true, bearings without play, bolts at their torque"
_BRAKES = "stops from walking pace, then from the usual speed, in the distance it had"
STRESSED: dict[Incident, tuple[Stress, ...]] = {
    Incident.SHORT: (Stress(P.CONTROLLER, _CONTROLLER), Stress(P.PACK, _PACK), Stress(P.WIRING, _WIRING)),
    Incident.JAM: (Stress(P.REDUCTION, _TRAIN), Stress(P.MOTOR, _MOTOR), Stress(P.CONTROLLER, _CONTROLLER)),
    Incident.DROP: (Stress(P.PACK, _PACK), Stress(P.FRAME, _FRAME), Stress(P.WIRING, _WIRING)),
    Incident.DUNKING: (
        Stress(P.PACK, _PACK),
        Stress(P.CONTROLLER, _CONTROLLER),
        Stress(P.WIRING, _WIRING),
        Stress(P.MOTOR, _MOTOR),
        Stress(P.WHEEL, _WHEEL),
    ),
    Incident.OVERHEATING: (Stress(P.MOTOR, _MOTOR), Stress(P.CONTROLLER, _CONTROLLER)),
    Incident.CRASH: (
        Stress(P.FRAME, _FRAME),
        Stress(P.WHEEL, _WHEEL),
        Stress(P.BRAKES, _BRAKES),
        Stress(P.PACK, _PACK),
        Stress(P.REDUCTION, _TRAIN),
    ),
}
# said where it matters; local rules and those who know come first
CAUTION = {
    Incident.SHORT: "A pack that was shorted may fail days later: outdoors, on a ground that does not burn, and looked after.",
    Incident.DUNKING: "Fresh water, then dry for 24 h in the warm before power; a pack that was under salt water is not opened or charged, "
    "kept outdoors and given to those who know.",
    Incident.CRASH: "Look after people first. A dented or hot pack goes outdoors, away from buildings.",
    Incident.DROP: "A dented pack goes outdoors, away from buildings, until it is known to be sound.",
}
TESTS = (EntryKind.PROOF, EntryKind.CELL_CHECK, EntryKind.COMMISSIONING)  # kinds of entry that can clear
# part of the build for the link of a finding
LINK_PART = {"pack": P.PACK, "controller": P.CONTROLLER, "motor": P.MOTOR, "reduction": P.REDUCTION, "wheel": P.WHEEL}


class Service(NamedTuple):
    """What is done again and again where nobody says otherwise; typical."""

    text: str
    on: BuildPart
    days: int | None
    hours: float | None
    metres: float | None


USUAL_SERVICE: tuple[Service, ...] = (
    Service("Cell groups at rest: spread and balance", P.PACK, 90, None, None),
    Service("Bolts, set screws and clamps", P.FRAME, None, 10.0, None),
    Service("Belt or chain: tension, teeth, wear", P.REDUCTION, None, None, 300e3),
    Service("Connectors and leads: heat, chafing", P.WIRING, 180, None, None),
    Service("Brakes", P.BRAKES, 180, None, None),
)
SERVICED_BY = (EntryKind.SERVICE, EntryKind.CELL_CHECK, EntryKind.PROOF, EntryKind.REPAIR, EntryKind.COMMISSIONING)
