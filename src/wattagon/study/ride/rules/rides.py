"""Rides that the rules ask for, each made once for a case, and what would keep a drive cooler."""

from __future__ import annotations

from dataclasses import replace

from wattagon.design.paths import Edit
from wattagon.design.quantity import Known, Quantity
from wattagon.design.tree import Design
from wattagon.study.drive import candidates as try_
from wattagon.study.findings.rule import Case
from wattagon.study.ride.study import Ask, Ride, ride


def ride_of(case: Case, ask: Ask, *, air_c: float | None = None) -> Ride:
    """A ride of the case's design, made when first asked for; on another day if an air temperature is given.  Its inputs join the bag."""

    def make() -> Ride:
        done = ride(case.design if air_c is None else _on_a_day(case.design, air_c), case.stock, ask)
        case.note(done.inputs)
        return done

    return case.made(("ride", ask, air_c), make)


def _on_a_day(design: Design, air_c: float) -> Design:
    conditions = replace(design.brief.conditions, air_temperature=Quantity(value=air_c, known=Known.STATED))
    return replace(design, brief=replace(design.brief, conditions=conditions))


def cooler(case: Case) -> tuple[Edit, ...]:
    return (
        *try_.steps(case.design, case.stock, ("driver_teeth*",), -1),
        *try_.steps(case.design, case.stock, ("driven_teeth*",), +1, most=4),
        *try_.steps(case.design, case.stock, ("motor_size",), +1, most=2),
        *try_.steps(case.design, case.stock, ("controller", "motor_count"), +1, most=1),
        *try_.steps(case.design, case.stock, ("motor_current",), -1, most=3),
    )
