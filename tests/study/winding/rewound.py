"""What tests of windings share: Garganey's pod with its stator measured, and a board's motor of 14 turns."""

from __future__ import annotations

from dataclasses import replace
from functools import cache

from tests.design.malformed import DEMO
from tests.study.rule_case import BOARD, STOCK
from wattagon.design import file
from wattagon.design.paths import apply, put
from wattagon.design.quantity import Known, Quantity
from wattagon.design.tree import Design, Stator, Winding, Wound
from wattagon.physics.winding.coil import Connection
from wattagon.study.winding.enter import into_drive, told_of
from wattagon.study.winding.study import WindingStudy, study_winding

POD = replace(file.read(DEMO / "garganey.json").design, active="B")
NOTHING_DONE = put(POD, "variant.winding", replace(told_of(POD), done=(), turns_on=0, tests=()))


def mm(value: float) -> Quantity:
    return Quantity(value=1e-3 * value, known=Known.MEASURED)


def board(**more: object) -> Design:
    """Dunlin's motors, 190 rpm/V, with 14 turns of 6 x 0.5 mm in wye on an iron as large as the handbook's."""
    now = Wound(turns=14, strands=6, wire=mm(0.5), connection=Connection.WYE, paths=1, layers=2)
    stator = Stator(
        slots=12,
        poles=14,
        gap_diameter=mm(50),
        stack=mm(30),
        tooth=mm(7),
        slot_area=Quantity(value=80e-6, known=Known.MEASURED),
        liner=mm(0.3),
        opening=mm(3.0),
        slot_bottom=mm(24.0),
        tip=mm(1.5),
        air_gap=mm(0.6),
    )
    design = put(BOARD, "variant.motor", replace(BOARD.variant().motor, part="outrunner-63x74-190", overrides={}))
    return put(design, "variant.winding", replace(Winding(stator=stator, now=now), **more))


@cache
def light(key: str = "board") -> WindingStudy:
    """A study without the drive's comparisons."""
    return study_winding(board() if key == "board" else POD, STOCK, seek=False, compare=False)


@cache
def whole() -> WindingStudy:
    """Garganey's pod with everything compared in the drive."""
    return study_winding(POD, STOCK)


def planned(design: Design, **plan: object) -> Design:
    """The plan with some of its figures changed."""
    told = told_of(design)
    return put(design, "variant.winding", replace(told, plan=replace(told.plan or Wound(), **plan)))


def driven(found: WindingStudy) -> Design:
    """With the plan in the drive."""
    return apply(found.design, into_drive(found))
