"""Columns of the search's tables, by name: what the rows of motors, controllers, packs, reductions, roads and goals hold.

Plain integers, so that the compiled search reads them as constants.  SI units unless a name says otherwise.
"""

from __future__ import annotations

MOTOR = (
    "k",
    "ohm",
    "henry",
    "pairs",
    "no_load_a",
    "no_load_slope",
    "brush",
    "dc",
    "peak_a",
    "volts",
    "rad_s",
    "mass",
    "price",
    "owned",
    "brushed",
    "inertia",
    "hub",
    "lasting_a",
    "winding",
    "case",
    "path",
    "area",
    "film_still",
    "film_moving",
    "air_share",
    "mount",
    "limit_c",
    "fixed",
)
(
    M_K,
    M_OHM,
    M_HENRY,
    M_PAIRS,
    M_A,
    M_B,
    M_BRUSH,
    M_DC,
    M_PEAK,
    M_VOLTS,
    M_RAD_S,
    M_MASS,
    M_PRICE,
    M_OWNED,
    M_BRUSHED,
    M_INERTIA,
    M_HUB,
    M_LASTING,
    M_WINDING,
    M_CASE,
    M_PATH,
    M_AREA,
    M_STILL,
    M_MOVING,
    M_AIR,
    M_MOUNT,
    M_LIMIT_C,
    M_FIXED,
) = range(28)
CONTROLLER = (
    "volts",
    "burst_a",
    "pack_a",
    "duty",
    "erpm_start",
    "erpm_end",
    "bridge",
    "switching",
    "idle",
    "mass",
    "price",
    "owned",
    "brushed",
    "lasting_a",
)
(
    C_VOLTS,
    C_BURST,
    C_PACK,
    C_DUTY,
    C_ERPM_START,
    C_ERPM_END,
    C_BRIDGE,
    C_SWITCHING,
    C_IDLE,
    C_MASS,
    C_PRICE,
    C_OWNED,
    C_BRUSHED,
    C_LASTING,
) = range(14)
# window_ah: of the charge that the design uses
PACK = ("full_v", "burst_a", "window_ah", "ohm_burst", "ohm_steady", "mass", "price", "cut_start", "cut_end", "cell")
P_FULL, P_BURST, P_AH, P_OHM, P_STEADY, P_MASS, P_PRICE, P_CUT_START, P_CUT_END, P_CELL = range(10)
# one stage; what a second stage adds follows from the same row
# capacity: torque at the motor's shaft that it bears for seconds; lasting: for good
REDUCTION = ("ratio", "efficiency", "drag", "capacity", "kind", "driver", "driven", "loop", "loops", "lasting")
R_RATIO, R_EFF, R_DRAG, R_CAPACITY, R_KIND, R_DRIVER, R_DRIVEN, R_LOOP, R_LOOPS, R_LASTING = range(10)
R_COLUMNS = 10
# mass is without the drive, grip and lift are shares of the weight, `wheels` and `wheel_price` what a wheel from stock adds
ROAD = (
    "mass",
    "rolling",
    "rolling_slope",
    "air",
    "radius",
    "wind",
    "grip",
    "lift",
    "wheel_inertia",
    "wheel_mass",
    "wheel_price",
    "rider_w",
    "rider_top",
)
W_MASS, W_ROLLING, W_SLOPE, W_AIR, W_RADIUS, W_WIND, W_GRIP, W_LIFT, W_INERTIA, W_WHEEL_MASS, W_WHEEL_PRICE, W_RIDER, W_RIDER_TOP = range(
    13
)
GOAL = ("kind", "speed", "grade", "charge", "target")
G_KIND, G_SPEED, G_GRADE, G_CHARGE, G_TARGET = range(5)
# kinds of goal; LASTS is heat on the climb, STEADY a share of continuous current beyond the need: both ask for a held speed too
TOP, CLIMB, START, SPRINT, RANGE, BUDGET, MASS, SPEED_LIMIT, POWER_LIMIT, LASTS, STEADY = range(11)
NO_KIND = 99.0
