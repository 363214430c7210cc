"""What a log may teach: one row an unknown, by the end of the path under which the value is noted."""

from __future__ import annotations

from dataclasses import replace
from typing import Any, NamedTuple

from wattagon.design.quantity import Known, Quantity
from wattagon.design.tree import Design
from wattagon.study.bands.errors import OTHER, SPREADS, Wide, wide_inputs
from wattagon.study.resolve import Resolved


class Row(NamedTuple):
    """One kind of unknown."""

    end: str  # of the path it is noted under
    words: str
    dimension: str
    channels: tuple[str, ...]  # without one of which nothing tells it
    ride: str  # what would tell it


MOTION, DUTY, VOLTS, HEAT, TURNS, PUSH = "motion", "duty", "bus_v", "motor_c", "turns", "torque"
FULL_TO_EMPTY = "a ride from a full pack to a nearly empty one, with a rest at both ends"
ROWS: tuple[Row, ...] = (
    Row("rolling", "rolling resistance", "number", (MOTION,), "a slow, steady ride on the flat, or a coast-down to a stand, both ways"),
    Row("drag_area", "air drag", "area", (MOTION,), "a fast steady ride beside a slow one, or a coast-down from high speed, both ways"),
    Row("rider_mass", "effective mass", "mass", (MOTION,), "hard starts and a hill"),
    Row("tyre_rolling_share", "wheel radius", "share", (TURNS,), "a ride with speed by satellite and motor turns"),
    Row("rolling_share", "wheel radius", "share", (TURNS,), "a ride with speed by satellite and motor turns"),
    Row("stages.0.efficiency", "drivetrain efficiency", "share", (MOTION,), "a steady climb at full load"),
    Row("stages.0.drag", "drivetrain drag", "torque", (MOTION,), "a coast-down with the belt on and one with it off"),
    Row("kv_rpm_per_v", "kv", "kv", (DUTY, "pack_a"), "a ride with duty and motor turns at several speeds"),
    Row("resistance_ohm", "motor resistance", "resistance", (DUTY, "pack_a"), "hard pulls at low speed, with duty and turns logged"),
    Row("no_load_a", "no-load amps", "current", (MOTION,), "a free run at several speeds, wheel in the air"),
    Row("no_load_slope_a_s", "no-load amps growing with speed", "number", (MOTION,), "a free run at several speeds, wheel in the air"),
    Row("cell_r0_ohm", "pack resistance", "resistance", (VOLTS,), "hard pulls with pauses between"),
    Row("cell_r1_ohm", "pack resistance that builds up", "resistance", (VOLTS,), "a pull of a minute with a pause after it"),
    Row("capacity_ah", "pack capacity", "capacity", (VOLTS,), FULL_TO_EMPTY),
    Row("battery.resistance", "pack resistance", "resistance", (VOLTS,), "hard pulls with pauses between"),
    Row("battery.capacity", "pack capacity", "capacity", (VOLTS,), FULL_TO_EMPTY),
    Row("winding_to_case_k_per_w", "heat from winding to case", "thermal_resistance", (HEAT,), "a hard climb of some minutes, then a rest"),
    Row("winding_j_per_k", "heat capacity of the winding", "heat_capacity", (HEAT,), "short hard pulls with rests"),
    Row("case_j_per_k", "heat capacity of the case", "heat_capacity", (HEAT,), "a long climb with the cooling down after it"),
    Row("air_share", "air that reaches the motor", "share", (HEAT,), "a long ride at one load, slow and fast"),
    Row("hull_factor", "hull resistance", "number", (MOTION,), "steady runs at several speeds, both ways along the stream"),
    Row("thrust_model", "propeller thrust", "number", (MOTION,), "a pull at the dock with a scale"),
    Row("thrust_factor", "propeller thrust", "number", (MOTION,), "a pull at the dock with a scale"),
    Row("torque_model", "propeller torque", "number", (PUSH,), "steady runs at several turns"),
    Row("torque_factor", "propeller torque", "number", (PUSH,), "steady runs at several turns"),
)


class Unknown(NamedTuple):
    """An input that may be learnt."""

    row: Row
    wide: Wide
    path: str  # under which it is taken into the design
    known: Known
    at: str = ""  # path of the input in the resolved design; `wide.path`


def take_path(noted: str, resolved: Resolved) -> str:
    """The path of the design under which a noted input is taken; empty where there is none."""
    base = f"variants.{resolved.variant.id}"
    if noted.startswith("stock."):
        _, part, name = noted.split(".", 2)
        wheel = resolved.wheel_part
        for ident, section in (
            (resolved.motor_part.id, "motor"),
            (resolved.cell_part.id, "pack"),
            (resolved.controller_part.id, "controller"),
            (wheel.id if wheel is not None else "", "wheel"),
        ):
            if part == ident:
                return f"{base}.{section}.{name}"
        return ""
    if noted.endswith(("propeller.thrust_model", "propeller.torque_model")):
        return noted.replace("_model", "_factor")
    return noted


def _anew(one: Wide, known: Known) -> Wide:
    """A value that a log taught may be taught again: it is then as open as a label leaves it, or the same log would tell nothing twice."""
    spread = SPREADS.get(one.path.rsplit(".", 1)[-1], OTHER)
    label = spread.stated if spread.absolute else spread.stated * abs(one.value)
    return one._replace(width=max(one.width, label)) if known is Known.FITTED else one


def unknowns_of(resolved: Resolved) -> list[Unknown]:
    """All that a log of this variant may teach, in the order of the table."""
    wide = {one.path: _anew(one, resolved.inputs[one.path].known) for one in wide_inputs(resolved.inputs)}
    made = []
    told_pack = any(path.endswith("battery.resistance") for path in wide)
    factors = {path for path in wide if path.endswith(("thrust_factor", "torque_factor"))}
    for row in ROWS:
        for path, one in wide.items():
            if not (path == row.end or path.endswith(f".{row.end}")) or (path.startswith("vehicle.") and row.end == "resistance_ohm"):
                continue
            if told_pack and row.end in ("cell_r0_ohm", "capacity_ah"):
                continue
            if row.end.endswith("_model") and path.replace("_model", "_factor") in factors:
                continue
            if row.end == "drag_area" and path.endswith("front_drag_area"):
                continue
            taken = take_path(path, resolved)
            if taken:
                made.append(Unknown(row=row, wide=one, path=taken, known=resolved.inputs[path].known, at=path))
    return made


def quantity_of(value: float, error: float, date: str, note: str) -> Quantity:
    """A fitted value as the design keeps it: measured by a log, its tolerance the standard error."""
    return Quantity(value=float(f"{value:.6g}"), known=Known.FITTED, date=date or None, tolerance=float(f"{error:.3g}"), note=note)


def changes_of(
    design: Design, resolved: Resolved, unknown: Unknown, value: float, error: float, date: str, note: str
) -> list[tuple[str, object]]:
    """The edits that take a value into the design."""
    if not unknown.path.endswith(("battery.resistance", "battery.capacity")):
        return [(unknown.path, quantity_of(value, error, date, note))]
    variant = design.variant(resolved.variant.id)
    assert variant.battery is not None
    share, what = value / unknown.wide.value, unknown.path.rsplit(".", 1)[-1]
    bricks = []
    for one in variant.battery.bricks:
        own = getattr(one, what)
        cell = resolved.cell_part
        usual = cell.capacity_ah * one.parallel if what == "capacity" else cell.cell_r0_ohm * one.series / one.parallel
        base = own.value if own is not None else usual
        known: Any = {what: quantity_of(base * share, error / unknown.wide.value * base, date, note)}
        bricks.append(replace(one, **known))
    return [(f"variants.{variant.id}.battery.bricks", tuple(bricks))]
