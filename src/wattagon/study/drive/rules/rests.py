"""Names of inputs that decide verdicts, in groups: a finding carries the weakest of those that its rule names."""

from __future__ import annotations

MASS = ("vehicle.empty_mass", "vehicle.rider_mass", "vehicle.load_mass")
BALANCE = ("vehicle.cm_height", "vehicle.cm_behind_front", "vehicle.wheelbase")
GRIP = (*BALANCE, "vehicle.grip")
ROLLING = ("vehicle.rolling",)
AIR = ("vehicle.drag_area", "brief.conditions.headwind")
WHEEL = ("vehicle.tyre_diameter", "vehicle.tyre_rolling_share", "diameter_m", "rolling_share")
MOTOR = ("kv_rpm_per_v", "resistance_ohm")
REDUCTION = ("efficiency", "drag")
PULL = (*WHEEL, *MOTOR, *REDUCTION)  # what turns amps into thrust
HULL = ("waterline_length", "surface_factor", "form", "hull_factor", "appendage_area", "vehicle.hull.tow")
LOAD = (*MASS, *ROLLING, *AIR, *HULL)  # what thrust works against
HEAT = (
    "air_share",
    "mount_w_per_k",
    "winding_to_case_k_per_w",
    "winding_j_per_k",
    "case_j_per_k",
    "motor.film_still",
    "limit_c",
    "no_load_a",
    "no_load_slope_a_s",
    "brief.conditions.air_temperature",
)
CONTROLLER_HEAT = (
    "heat_j_per_k",
    "to_air_k_per_w",
    "taper_start_c",
    "taper_end_c",
    "controller.box_area",
    "bridge_ohm",
    "switching_v_per_v",
    "idle_w",
)
CUTBACK = ("controller.cutback_start_v", "controller.cutback_end_v")
CHARGE = ("capacity_ah",)
RAMP = ("controller.ramp_up_s",)
RIDER = ("vehicle.rider_level", "vehicle.rider_jerk")
