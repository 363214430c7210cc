"""What proves an element: which mass to hang where, which way, and what to look for."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import NamedTuple

from wattagon.design.catalogue import Catalogue
from wattagon.design.parts import MaterialPart
from wattagon.design.paths import Edit
from wattagon.design.tree import Proof
from wattagon.design.tree.history import BuildPart, Entry, EntryKind
from wattagon.physics.strength.prints import proof_kg, proof_nm, warm_share
from wattagon.study.history.study import fresh_id, version_of
from wattagon.study.say import Say
from wattagon.study.strength.element import Element
from wattagon.study.strength.study import StrengthStudy
from wattagon.study.strength.typical import WARM_C

LEVER_M, ARM_KG = 0.4, 0.5  # of a proof test where nobody said; its own middle lies half way out
PROOF = 1.5  # times the drive's peak, to be held for a minute


class ProofTest(NamedTuple):
    """What to hang where: mass [kg] on a level lever [m], which way; the mass in a cold test of a part that works warm."""

    element: str
    mass_kg: float
    lever_m: float
    way: str
    cold_kg: float


# what tells that an element moved, by its kind
LOOK: dict[str, str] = {
    "set_screw": "Draw a line across hub and shaft: it must stay one line. Then turn it back and forth by hand: no click, no play.",
    "clamp": "Draw a line across clamp and shaft or tube: it must stay one line. Look for a slit that has closed.",
    "coupling": "Draw a line across coupling and shaft: it must stay one line. Look for a spider that is squeezed out.",
    "bolts": "Draw a line across flange and hub: it must stay one line. Check the screws' torque afterwards.",
    "slots": "Measure the belt's tone before and after: a motor that slid along its slots lowers it.",
    "corner": "Draw a line across both bars: it must stay one line.",
    "plate": "Lay a straight edge across it, loaded and unloaded: what stays bent has yielded.",
    "bracket": "Measure from the wheel's rim to the frame, before and after: what stays has yielded. Look at the root for cracks.",
    "weld": "Look along both seams, with a dye if there is one, for a hair line at their ends.",
    "glue": "Look along its edges for a white line: it peels from there.",
    "tube": "Look at the edge of the hole for a hair line, paint scraped off.",
    "arms": "Look at the holes and at the roots of the arms for white or hair lines; listen for a crack.",
    "dropout": "Draw a line across axle and dropout: it must stay one line. Look at the leads where they leave the axle.",
    "torque_arm": "Draw a line across axle and arm: it must stay one line, forwards and backwards, without play.",
    "freewheel": "Listen: each click under load is a pawl that skipped.",
    "spokes": "Pluck the spokes before and after: one that sounds lower has slackened.",
    "belt": "Watch the teeth on the small pulley: they must not climb.",
    "chain": "Watch the sprockets: no link climbs, no tooth bends.",
    "roller": "Wet the tyre; it must not slip.",
    "blade": "Hang it at the tip, blade level: what stays bent has yielded. Look at the root.",
}
USUAL_LOOK = "Draw a line across it before: it must stay one line. Unload, measure what stayed, look for hair lines."
CAUTION = "Wheel blocked, load close to the floor, feet clear, eyes protected; hold for a minute, then the other way round."


def look_for(one: Element) -> str:
    """What to look for, under load and after it."""
    return LOOK.get(one.kind, USUAL_LOOK)


def proof_of(one: Element, *, lever_m: float = LEVER_M, arm_kg: float = ARM_KG, stock: Catalogue | None = None) -> ProofTest | None:
    """What to hang to prove an element; None where torque does not load it."""
    if not math.isfinite(one.torque_share):
        return None
    mass = proof_kg(one.wheel_nm, PROOF, lever_m, arm_kg, 0.5 * lever_m)
    cold, joint = mass, one.joint
    if joint is not None and joint.material and stock is not None:
        material = stock.rows(MaterialPart).get(joint.material)
        if material is not None and material.soft_c is not None:
            warm = joint.temperature.value if joint.temperature is not None else WARM_C
            cold = proof_kg(one.wheel_nm, PROOF, lever_m, arm_kg, 0.5 * lever_m, max(warm_share(material.soft_c, warm), 1e-3))
    return ProofTest(one.code, mass, lever_m, "drive", cold)


# what an entry of the history is about, by an element's place
ABOUT = {"wheel": BuildPart.WHEEL, "axle": BuildPart.WHEEL, "mount": BuildPart.FRAME}


def recorded(found: StrengthStudy, one: Element, proof: Proof, say: Say) -> Edit:
    """The edit that keeps a proof with its element, and writes it into the history beside what the calculation had said."""
    design, told = found.design, found.told
    variant = design.variant()
    torque = proof_nm(proof.mass, proof.lever, proof.arm_mass, 0.5 * proof.lever)
    low, high = one.band
    text = (
        f"{one.name[0].upper()}{one.name[1:]} {proof.result} at {say(proof.mass, 'mass')} on {say(proof.lever, 'length')}, "
        f"{say(torque, 'torque')} {found.where}; calculated to give way at {say(one.fails_at_nm, 'torque')} "
        f"({say(low, 'torque')} to {say(high, 'torque')})"
    )
    entry = Entry(
        id=fresh_id(design.history),
        date=proof.date,
        kind=EntryKind.PROOF,
        text=text,
        variant=variant.id,
        version=version_of(variant),
        on=(ABOUT.get(one.place, BuildPart.REDUCTION),),
    )
    label = f"{one.name} {proof.result} at {say(proof.mass, 'mass')}"
    proofs = replace(told, proofs=(*told.proofs, proof))
    return Edit(label=label, changes=(("variant.strength", proofs), ("history", (*design.history, entry))))
