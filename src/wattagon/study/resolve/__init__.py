"""From a design and the stock to the physics, a subject a file."""

from wattagon.study.resolve.battery import Bricks, as_found, board_amps, board_of, brick_rows, bricks_told
from wattagon.study.resolve.bill import bill_of_parts, fitted_parts, stage_parts
from wattagon.study.resolve.cases import Stand, carried_kg, case_ids, case_words, driven_cases, stand_of
from wattagon.study.resolve.controller import controller_of
from wattagon.study.resolve.gears import cadence_rpm, development_m, geared, ridden_gear
from wattagon.study.resolve.load import TOP_GEAR_M, WET_GRIP, top_gear_m, wheels_of
from wattagon.study.resolve.motor import heat_of, motor_of
from wattagon.study.resolve.pack import CHARGE_STATES, PACK_EXTRA_MASS, bricks_of, cutback_v, pack_mass_kg, pack_of
from wattagon.study.resolve.reader import Input, Reader
from wattagon.study.resolve.resolve import Memo, Resolved, gear_in_view, resolve, window_of
from wattagon.study.resolve.stages import (
    ROLLER_GRIP,
    ROLLER_PRESS_N,
    Rating,
    ground,
    roller_grip,
    roller_press,
    stage_of,
    stage_pull_n,
    stage_ratings,
)
from wattagon.study.resolve.wiring import pack_side_ohm, phase_ohm, piece_ohm

__all__ = [
    "CHARGE_STATES",
    "PACK_EXTRA_MASS",
    "ROLLER_GRIP",
    "ROLLER_PRESS_N",
    "TOP_GEAR_M",
    "WET_GRIP",
    "Bricks",
    "Input",
    "Memo",
    "Rating",
    "Reader",
    "Resolved",
    "Stand",
    "as_found",
    "bill_of_parts",
    "board_amps",
    "board_of",
    "brick_rows",
    "bricks_of",
    "bricks_told",
    "cadence_rpm",
    "carried_kg",
    "case_ids",
    "case_words",
    "controller_of",
    "cutback_v",
    "development_m",
    "driven_cases",
    "fitted_parts",
    "gear_in_view",
    "geared",
    "ground",
    "heat_of",
    "motor_of",
    "pack_mass_kg",
    "pack_of",
    "pack_side_ohm",
    "phase_ohm",
    "piece_ohm",
    "resolve",
    "ridden_gear",
    "roller_grip",
    "roller_press",
    "stage_of",
    "stage_parts",
    "stage_pull_n",
    "stage_ratings",
    "stand_of",
    "top_gear_m",
    "wheels_of",
    "window_of",
]
