"""Names of the columns, sums and ends that the ride loop writes; whole numbers, so that compiled code may use them."""

from __future__ import annotations

from enum import IntEnum
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray


class Mode(IntEnum):
    """What the rider does."""

    COMMAND = 0  # a fixed command, -1 to 1
    FOLLOW = 1  # the speed of the course
    STOP = 2  # all brakes, as hard as grip allows
    PACE = 3  # speeds over time, as they were measured
    PLAYED = 4  # commands over time, as they were measured


class Col(IntEnum):
    """Columns of the recorded trace."""

    TIME = 0
    DISTANCE = 1
    SPEED = 2
    DC_A = 3  # of one motor, DC-equivalent; below 0 it brakes
    PACK_A = 4
    BUS_V = 5
    DUTY = 6
    FORCE = 7  # at the tread, of the drive
    WINDING = 8
    CASE = 9
    CONTROLLER = 10
    PACK_T = 11
    RESISTOR_T = 12
    CHARGE = 13
    BUCKET = 14
    LIMIT = 15  # index into RIDE_LIMITS, -1 where nothing acts against the rider
    GRADE = 16
    COMMAND = 17
    MOTOR_RAD_S = 18
    CEILING_A = 19  # motor current that bucket and tapers allow, DC-equivalent
    RELAXED_V = 20  # of the pack's relaxation pair
    ACCEL = 21
    GEAR = 22  # of the bike's own, 1 the lowest; 0 without


class Sum(IntEnum):
    """Energies [J]: what came in, and where it went."""

    CHEMICAL = 0  # out of the cells, regeneration counted against it
    PACK_HEAT = 1
    RELAXATION = 2  # stored in the relaxation pair
    COPPER = 3
    BRIDGE = 4
    SWITCHING = 5
    IDLE = 6
    BRUSH = 7
    IRON = 8
    MESH = 9
    ROLLING = 10
    AIR = 11
    GRADE = 12
    KINETIC = 13
    FRICTION = 14  # brakes of hand or foot
    RESISTOR = 15
    RIDER = 16  # in, from the pedals
    REGENERATED = 17  # put back into the cells, part of CHEMICAL
    TERMINAL = 18  # through the pack's terminals, net
    STIRRED = 19  # what propellers take and do not give to the boat


class Stat(IntEnum):
    """Peaks, integrals and times."""

    TIME = 0
    DISTANCE = 1
    PEAK_DC_A = 2
    PEAK_BRAKE_A = 3
    PEAK_PACK_A = 4
    PEAK_CHARGE_A = 5  # into the pack
    PEAK_W = 6
    DC_SQUARE_S = 7  # integral of I^2
    DC_ABS_S = 8
    PACK_S = 9  # integral of the pack current out of the pack
    LOWEST_BUS_V = 10
    HIGHEST_BUS_V = 11
    WINDING = 12  # highest temperatures
    CASE = 13
    CONTROLLER = 14
    PACK_T = 15
    RESISTOR_T = 16
    WINDING_AT = 17  # first time over the limit, -1 never
    CASE_AT = 18
    CONTROLLER_AT = 19
    PACK_AT = 20
    RESISTOR_AT = 21
    CHARGE = 22
    PEAK_SPEED = 23
    PEAK_ACCEL = 24
    UP_M = 25
    STANDING_S = 26
    PACK_SQUARE_S = 27
    BUCKET = 28
    SPEED = 29
    STEPS = 30
    RELAXED_V = 31
    LAST_WINDING = 32  # temperatures at the end, in the order of Heat
    LAST_CASE = 33
    LAST_CONTROLLER = 34
    LAST_PACK_T = 35
    LAST_RESISTOR_T = 36
    SHIFTS = 37


class End(IntEnum):
    """Why a run ended."""

    TIME = 0
    ARRIVED = 1
    EMPTY = 2
    HOT = 3
    STALLED = 4  # stands still although it is asked to go
    SPEED = 5  # the wanted speed was reached
    STOPPED = 6
    SETTLED = 7
    OVERCHARGED = 8  # the motor outran a pack that could take no more


class What(IntEnum):
    """Kinds of event beside limits, which begin at LIMIT_BEGINS and LIMIT_ENDS plus their index."""

    WINDING_HOT = 0
    CASE_HOT = 1
    CONTROLLER_HOT = 2
    PACK_HOT = 3
    RESISTOR_HOT = 4
    CUTBACK = 5
    OVERSPEED = 6
    LEG_STOP = 7
    LIMIT_BEGINS = 100
    LIMIT_ENDS = 200


class Now(IntEnum):
    """What temperatures decide, set anew with every heat step."""

    K = 0
    OHM = 1
    R0 = 2
    R1 = 3
    MOTOR_SHARE = 4
    CONTROLLER_SHARE = 5


class Heat(IntEnum):
    """Order of the temperatures."""

    WINDING = 0
    CASE = 1
    CONTROLLER = 2
    PACK = 3
    RESISTOR = 4


class Driver(NamedTuple):
    """Who rides, as plain numbers for the loop."""

    mode: float  # Mode
    command: float
    end_m: float  # of the course
    accel_m_s2: float  # wanted at most
    longest_s: float
    step_s: float
    stride: float  # steps per row at first
    stop_when_hot: float
    end_charge: float
    end_speed: float  # [m/s], 0: none
    until_settled: float
    script_s: float  # between the speeds or commands over time


class Sea(NamedTuple):
    """Hull and propellers of a boat for the loop; short and empty on wheels."""

    hull: NDArray[np.float64]
    thrust: NDArray[np.float64]
    torque: NDArray[np.float64]
    hull_step: float
    advance_step: float
    diameter: float
    screws: float
    kg_m3: float
    inflow: float
    push: float


class Begin(NamedTuple):
    """The state that a run begins in, temperatures aside."""

    speed: float  # [m/s]
    charge: float
    bucket: float
    relaxed_v: float


class Room(NamedTuple):
    """Arrays that the loop works in; all but temps begin empty."""

    temps: NDArray[np.float64]  # winding, case, controller, pack, resistor [C]
    joules: NDArray[np.float64]  # heat of each since the last heat step
    hot: NDArray[np.float64]  # hottest of each
    hot_at: NDArray[np.float64]  # when each met its limit, -1 where it did not
    now: NDArray[np.float64]  # Now
