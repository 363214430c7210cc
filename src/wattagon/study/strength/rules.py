"""Findings of strength: what gives way, screws on round shafts, one-point mounts, what braking undoes, prints, threads, proofs."""

from __future__ import annotations

import math
from functools import partial

from wattagon.design.parts import MaterialPart
from wattagon.design.paths import Edit
from wattagon.design.quantity import Known
from wattagon.physics.strength.prints import warm_share
from wattagon.study.findings.all import slow_findings
from wattagon.study.findings.finding import Finding
from wattagon.study.findings.rule import Case, Rule, Verdict
from wattagon.study.findings.status import Status
from wattagon.study.strength.element import Element
from wattagon.study.strength.study import StrengthStudy, study_strength
from wattagon.study.strength.typical import WARM_C
from wattagon.study.strength.ways import TWO_POINTS, others
from wattagon.study.studies import Task

SOFT_SHARE = 0.5  # of a print's strength that is left where it works; judged


def strong(case: Case) -> StrengthStudy:
    """The strength of a case."""

    def make() -> StrengthStudy:
        found = study_strength(case.design, case.stock, case.study)
        case.note(found.inputs)
        return found

    return case.made("strength", make)


def _elements(case: Case) -> list[tuple[str, Element]]:
    return [(one.code, one) for one in strong(case).elements]


def element(case: Case, one: Element) -> Verdict:
    """One element against the factor that it wants."""
    say, name = case.say, one.name[0].upper() + one.name[1:]
    if one.status is Status.NOT_CHECKED:
        return Verdict(status=Status.NOT_CHECKED, title=f"{name}: {one.bears.working[0]}")
    if math.isfinite(one.fails_at_nm):
        title = (
            f"{name}: gives way at {say(one.fails_at_nm, 'torque')} {strong(case).where}, the drive brings {say(one.wheel_nm, 'torque')}"
        )
    else:
        title = f"{name}: bears {one.factor:.1f} times its load"
    if one.status is not Status.OVER:
        title += f"; factor {one.factor:.2g}, {one.bears.wanted:g} wanted"
    if one.proved:
        title += f"; {one.proved}"
    status: Status = one.status
    found = strong(case)
    if status is Status.TIGHT and _guessed(case, one):
        status, title = Status.NOT_CHECKED, f"{title}; but its measures are typical: measure it"
    return Verdict(
        status=status,
        title=title,
        margin=min(one.factor / one.bears.wanted - 1.0, 9.0),
        candidates=lambda: tuple(other.edit for other in others(found, one, case.stock, case.study)[:2]),
    )


def _guessed(case: Case, one: Element) -> bool:
    """Whether nobody measured what an element's factor hangs on most: the bearing, the axle."""
    axle = case.design.vehicle.axle_diameter
    unknown = axle is None or axle.known is Known.ASSUMED
    return one.own < 0 and (one.kind == "bearing" or (one.kind == "axle" and unknown))


def round_shaft(case: Case) -> Verdict | None:
    """A set screw on a round shaft, or on a soft one."""
    for one in strong(case).elements:
        joint = one.joint
        if one.kind != "set_screw" or joint is None or joint.flat is None:
            continue
        soft = joint.material in ("steel-soft", "stainless-soft")
        if joint.flat.value > 0.0 and not soft:
            return Verdict(status=Status.CLEAR, title="Set screws stand on a flat of a hard shaft", margin=0.3)
        what = "a round shaft: it creeps round" if joint.flat.value <= 0.0 else "a soft shaft: it galls and works loose"
        title = f"Set screw on {what}; a flat, a key, a clamp hub or a pin instead"
        held = f", {case.say(one.bears.capacity, 'torque')} usable of {case.say(one.bears.load, 'torque')} asked"
        return Verdict(
            status=Status.OVER,
            title=title + held,
            margin=-1.0,
            candidates=partial(_offered, case, one),
        )
    return None


def _offered(case: Case, one: Element) -> tuple[Edit, ...]:
    return tuple(other.edit for other in others(strong(case), one, case.stock, case.study)[:3])


def one_point(case: Case) -> Verdict | None:
    """A mount that is held at one point swings about it, driving and braking."""
    held = [one for one in strong(case).elements if one.side == "mount" and one.joint is not None and one.joint.points is not None]
    if not held:
        return None
    worst = min(held, key=lambda one: one.joint.points or 9 if one.joint is not None else 9)
    assert worst.joint is not None
    if (worst.joint.points or 2) > 1:
        return Verdict(status=Status.CLEAR, title=f"The {worst.name} holds at {worst.joint.points} points", margin=0.3)
    braked = strong(case).load("regen") is not None
    words = " and back into the wheel when it brakes" if braked else ", and back when it is pushed"
    title = f"The {worst.name} holds at one point: the motor swings about it under load{words}"
    return Verdict(
        status=Status.OVER,
        title=title,
        margin=-1.0,
        candidates=lambda: tuple(o.edit for o in others(strong(case), worst, case.stock, case.study) if o.words == TWO_POINTS),
    )


def undone(case: Case) -> Verdict | None:
    """Braking turns the other way: what drive tightens it undoes."""
    found = strong(case)
    regen = found.load("regen")
    friction = [one for one in found.elements if one.joint is not None and one.kind in ("bolts", "slots", "set_screw") and one.own >= 0]
    loose = [one for one in friction if one.joint is not None and not one.joint.locked]
    if not friction:
        return None
    if not loose:
        return Verdict(status=Status.CLEAR, title="Screws that reversing torque works on are locked", margin=0.3)
    names = ", ".join(one.name for one in loose[:3])
    why = "braking reverses their load" if regen is not None else "vibration works on them"
    return Verdict(status=Status.TIGHT, title=f"Without thread lock: {names}; {why}", margin=0.0)


def printed(case: Case) -> Verdict | None:
    """Prints that are loaded across their layers, or work near where they soften."""
    bad = []
    for one in strong(case).elements:
        material = case.stock.rows(MaterialPart).get(one.joint.material) if one.joint is not None and one.joint.material else None
        if one.joint is None or material is None or material.kind != "print":
            continue
        warm = one.joint.temperature.value if one.joint.temperature is not None else WARM_C
        left = warm_share(material.soft_c or 60.0, warm)
        if one.joint.across:
            bad.append(
                (
                    -1.0,
                    f"{one.name} is loaded across its layers: turn the print, {material.across_mpa:g} of {material.yield_mpa:g} MPa hold",
                )
            )
        elif left < SOFT_SHARE:
            bad.append(
                (left / SOFT_SHARE - 1.0, f"{one.name} works at {warm:.0f} °C, {material.name} keeps {left:.0%} of its strength there")
            )
    if not bad:
        return None
    margin, title = min(bad)
    return Verdict(status=Status.OVER if margin < -0.5 else Status.TIGHT, title=title[0].upper() + title[1:], margin=margin)


FACE = 1.5  # diameters of thread that a motor's face asks for


def thread(case: Case) -> Verdict | None:
    """Length of thread that is engaged, where it was told: motor faces ask for 1.5 diameters."""
    told = [
        (one, one.joint.length.value, one.joint.screw or 4)
        for one in strong(case).elements
        if one.joint is not None and one.own >= 0 and one.kind in ("slots", "bolts") and one.joint.length is not None
    ]
    if not told:
        return None
    one, long, size = min(told, key=lambda row: row[1] / row[2])
    wanted = FACE * size / 1e3
    title = f"{case.say(long, 'length')} of thread hold the {one.name}, {case.say(wanted, 'length')} are wanted of M{size}"
    status = Status.CLEAR if long >= wanted else Status.TIGHT if long >= 1e-3 * size else Status.OVER
    return Verdict(status=status, title=title, margin=long / wanted - 1.0)


def freewheel(case: Case) -> Verdict | None:
    """A freewheel of unknown make is taken for a cheap one."""
    one = next((one for one in strong(case).elements if one.kind == "freewheel"), None)
    if one is None or one.joint is None:
        return None
    if one.joint.bears is None:
        at = case.say(one.bears.capacity, "torque")
        title = f"The freewheel is taken for a cheap one of {at}; its maker's figure is not known: pawls of soft steel skip, then fail"
        return Verdict(status=Status.TIGHT, title=title, margin=0.0)
    return Verdict(status=Status.CLEAR, title=f"The freewheel bears {case.say(one.joint.bears.value, 'torque')} by its maker", margin=0.3)


OFF_M = (0.0001, 0.0003)  # between two shafts in one coupling: well made, the most; typical
BORE_M = 0.00005


def coupling(case: Case) -> Verdict | None:
    """Whether what sits on the motor's shaft has its bore, and whether the two shafts of a coupling stand in one line."""
    found = strong(case)
    one = next((one for one in found.elements if one.place == "motor" and one.kind in ("coupling", "clamp", "set_screw", "spline")), None)
    if one is None or one.joint is None or one.at is None:
        return None
    bore, shaft = one.joint.diameter, one.at.shaft_m
    if one.own >= 0 and bore is not None and abs(bore.value - shaft) > BORE_M:
        title = f"The {one.name} has a bore of {case.say(bore.value, 'length')}, the shaft is {case.say(shaft, 'length')}"
        return Verdict(status=Status.OVER, title=title, margin=-1.0)
    if one.kind != "coupling":
        return None
    off = one.joint.offset
    if off is None:
        return Verdict(
            status=Status.NOT_CHECKED, title="How far the two shafts of the coupling stand off one line is not known: measure it"
        )
    good, most = OFF_M
    status = Status.CLEAR if off.value <= good else Status.TIGHT if off.value <= most else Status.OVER
    title = f"The shafts of the coupling stand {case.say(off.value, 'length')} off one line, {case.say(most, 'length')} at most"
    return Verdict(status=status, title=title, margin=1.0 - off.value / most)


def fuse(case: Case) -> Verdict | None:
    """What is wanted to give way first, against what does."""
    found = strong(case)
    if not found.told.fuse:
        return _sheared(case, found)
    wanted, first = found.element(found.told.fuse), found.first
    if wanted is None or first is None:
        return Verdict(status=Status.NOT_CHECKED, title=f"The fuse {found.told.fuse!r} is no element of this drive")
    if wanted.code == first.code:
        return Verdict(status=Status.CLEAR, title=f"The {wanted.name} gives way first, as is wanted", margin=0.3)
    at = case.say(first.fails_at_nm, "torque")
    title = f"The {wanted.name} is wanted to give way first, the {first.name} does at {at} {found.where}"
    return Verdict(status=Status.OVER, title=title, margin=-1.0)


def _sheared(case: Case, found: StrengthStudy) -> Verdict | None:
    """A shear pin is a fuse without being named one."""
    pin, first = found.element("propeller.pin"), found.first
    if pin is None or pin.kind != "pin" or first is None:
        return None
    at = case.say(pin.fails_at_nm, "torque")
    if first.code == pin.code:
        return Verdict(status=Status.CLEAR, title=f"The shear pin gives way first, at {at}", margin=0.3)
    title = (
        f"The {first.name} gives way at {case.say(first.fails_at_nm, 'torque')}, before the shear pin at {at}: thinner pin, harder shaft"
    )
    return Verdict(
        status=Status.TIGHT,
        title=title,
        margin=0.0,
        candidates=lambda: tuple(o.edit for o in others(found, first, case.stock, case.study) if o.fails_at_nm > pin.fails_at_nm)[:2],
    )


def proofs(case: Case) -> Verdict | None:
    """Whether the weakest was proved by a mass."""
    found = strong(case)
    first = found.first
    if first is None:
        return None
    if first.proved:
        return Verdict(status=Status.CLEAR, title=f"The weakest, the {first.name}: {first.proved}", margin=0.3)
    return Verdict(
        status=Status.NOT_CHECKED, title=f"The weakest, the {first.name}, was not proved by a hung mass: do it before riding, feet clear"
    )


def _rule(code: str, because: str, judge, of=None) -> Rule:  # type: ignore[no-untyped-def]
    return Rule(code=code, bench="strength", link="reduction", because=because, judge=judge, of=of, rests=("strength", "motor.part"))


RULES: tuple[Rule, ...] = (
    _rule(
        "strength.element",
        "Load at full motor amps against what it bears; factors that are wanted are judged, typical values spread.",
        element,
        _elements,
    ),
    _rule("strength.round_shaft", "A cup point holds by a burr: on a round or soft shaft reversing torque wears it loose.", round_shaft),
    _rule("strength.one_point", "About one point nothing holds the reaction but friction; two, spread in the belt's plane, do.", one_point),
    _rule("strength.undone", "Threads come loose under vibration and reversal unless they are locked.", undone),
    _rule(
        "strength.printed", "Layers part at half of the strength along them; plastics lose it in a line up to where they soften.", printed
    ),
    _rule("strength.thread", "A short thread strips before the screw is tight.", thread),
    _rule("strength.freewheel", "Threaded freewheels are made for legs.", freewheel),
    _rule("strength.coupling", "A wrong bore or shafts off one line bend the shaft at every turn.", coupling),
    _rule("strength.fuse", "One element is the fuse; it protects what is dearer only if it goes first.", fuse),
    _rule("strength.proof", "A mass on a lever shows what a calculation assumes.", proofs),
)


def run(task: Task) -> list[Finding]:
    """The findings of a task, with their cures."""
    followed = task.results["drive"]
    case = Case(task.design, task.stock, followed.study, task.say)
    return slow_findings(case, followed.findings, RULES, task.cancelled, together=True)
