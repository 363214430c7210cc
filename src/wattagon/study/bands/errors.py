"""How wide each input may be: one in six lies further off on either side.  Typical, told in docs/methods.md with their sources.

A measured value with a tolerance is as wide as that, a fitted one as its standard error; the table stands for the rest, by the end of
an input's path.  Settings and counts are what they are.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import NamedTuple

from wattagon.design.quantity import Known
from wattagon.study.resolve import Input


class Spread(NamedTuple):
    """Width when measured, stated on a label, assumed: shares of the value, or `absolute` in SI."""

    measured: float
    stated: float
    assumed: float
    absolute: bool = False


MOST_WIDTHS = 2.0  # off: further a value is no longer likely
EXACT = Spread(0.0, 0.0, 0.0)
OTHER = Spread(0.02, 0.05, 0.20)  # what the table does not name
_MASS, _LENGTH, _HEAT = Spread(0.01, 0.03, 0.10), Spread(0.005, 0.01, 0.05), Spread(0.10, 0.20, 0.30)
SPREADS: dict[str, Spread] = {
    # vehicle
    "tyre_diameter": Spread(0.003, 0.02, 0.03),
    "diameter_m": Spread(0.003, 0.01, 0.03),
    "tyre_rolling_share": Spread(0.005, 0.01, 0.015, True),
    "rolling_share": Spread(0.005, 0.01, 0.015, True),
    "wheelbase": _LENGTH,
    "empty_mass": _MASS,
    "rider_mass": _MASS,
    "load_mass": Spread(0.02, 0.05, 0.25),
    "mass": _MASS,
    "cm_behind_front": Spread(0.02, 0.05, 0.10),
    "cm_height": Spread(0.03, 0.06, 0.10),
    "behind_front": Spread(0.02, 0.03, 0.06, True),
    "height": Spread(0.02, 0.03, 0.08, True),
    "rolling": Spread(0.08, 0.20, 0.30),
    "drag_area": Spread(0.08, 0.15, 0.20),
    "grip": Spread(0.10, 0.15, 0.20),
    "wheel_inertia": Spread(0.05, 0.15, 0.30),
    "inertia_kg_m2": Spread(0.05, 0.15, 0.30),
    "hitch_share": Spread(0.01, 0.02, 0.03, True),
    # where it is used
    "air_temperature": Spread(1.0, 3.0, 6.0, True),
    "pack_temperature": Spread(2.0, 4.0, 8.0, True),
    "headwind": Spread(0.5, 1.0, 1.5, True),
    "altitude": Spread(5.0, 50.0, 100.0, True),
    "pedal_power": Spread(0.10, 0.20, 0.30),
    # motor
    "kv_rpm_per_v": Spread(0.01, 0.05, 0.08),
    "resistance_ohm": Spread(0.04, 0.15, 0.25),
    "inductance_h": Spread(0.10, 0.30, 0.40),
    "no_load_a": Spread(0.05, 0.20, 0.30),
    "no_load_slope_a_s": Spread(0.10, 0.30, 0.40),
    "winding_to_case_k_per_w": _HEAT,
    "winding_j_per_k": Spread(0.05, 0.10, 0.20),
    "case_j_per_k": Spread(0.05, 0.10, 0.20),
    "air_share": _HEAT,
    "mount_w_per_k": _HEAT,
    "film_still": _HEAT,
    "limit_c": Spread(0.0, 0.0, 5.0, True),
    "rotor_inertia_kg_m2": Spread(0.05, 0.15, 0.30),
    # controller and pack
    "bridge_ohm": Spread(0.05, 0.20, 0.40),
    "switching_v_per_v": Spread(0.10, 0.30, 0.40),
    "idle_w": Spread(0.05, 0.20, 0.40),
    "duty_max": EXACT,
    "capacity_ah": Spread(0.02, 0.05, 0.08),
    "cell_r0_ohm": Spread(0.05, 0.20, 0.30),
    "cell_r1_ohm": Spread(0.10, 0.30, 0.40),
    "wiring_ohm": Spread(0.05, 0.20, 0.40),
    "phase_ohm": Spread(0.05, 0.20, 0.40),
    "capacity": Spread(0.02, 0.05, 0.08),  # of bricks that are told
    "resistance": Spread(0.05, 0.20, 0.30),
    # boats; what the shape of a propeller and the friction of a hull leave open is in factors on them, each with its own tolerance
    "waterline_length": _LENGTH,
    "waterline_beam": _LENGTH,
    "transom_width": _LENGTH,
    "transom_area": Spread(0.10, 0.20, 0.30),
    "surface_factor": Spread(0.04, 0.06, 0.08),
    "form": Spread(0.05, 0.08, 0.10, True),
    "hull_factor": Spread(0.15, 0.20, 0.30),
    "interference": Spread(0.05, 0.08, 0.10),
    "weight_forward": Spread(0.02, 0.05, 0.10),
    "weight_height": Spread(0.05, 0.10, 0.20),
    "deadrise": Spread(0.01, 0.02, 0.05, True),
    "tow": EXACT,
    "tow_mass": _MASS,
    "appendage_area": Spread(0.10, 0.20, 0.40),
    "water_temperature": Spread(1.0, 2.0, 4.0, True),
    "current": Spread(0.05, 0.10, 0.15, True),
    "wake": Spread(0.15, 0.25, 0.35),
    "deduction": Spread(0.15, 0.25, 0.35),
    "seal": Spread(0.10, 0.30, 0.50),
    "can_friction": Spread(0.10, 0.20, 0.30),
    "tilt": Spread(0.01, 0.02, 0.035, True),
    "transom_angle": Spread(0.01, 0.02, 0.035, True),
    "made_for": Spread(0.01, 0.01, 0.035, True),
    "resistance_model": Spread(0.10, 0.15, 0.20),
    "thrust_model": Spread(0.10, 0.20, 0.20),
    "torque_model": Spread(0.10, 0.20, 0.20),
    "wedge": Spread(0.005, 0.01, 0.02, True),
    "cooling_w_per_k": _HEAT,
    "pitch_m": EXACT,
    "area_ratio": EXACT,
    "hub_ratio": EXACT,
    # reduction
    "efficiency": Spread(0.005, 0.015, 0.02, True),
    "drag": Spread(0.10, 0.30, 0.40),
}
# settings, counts, ratings and prices: known as they are
KNOWN_AS_SET = frozenset(
    (
        *("motor_current_a", "pack_current_a", "cutback_start_v", "cutback_end_v", "count", "driven_wheels", "axle_wheels"),
        *("series", "parallel", "driver_teeth", "driven_teeth", "roller_diameter"),
        *("motor_current_continuous_a", "motor_current_burst_a", "erpm_max", "continuous_a", "burst_a", "voltage_max_v", "pole_pairs"),
        *("start_charge", "price", "current_peak_a", "current_continuous_a", "rpm_max", "pedal_cadence", "top_gear"),
    )
)


class Wide(NamedTuple):
    """An input that is not known exactly."""

    path: str
    value: float
    width: float  # SI: one in six lies further off on either side
    relative: bool  # its spread is a share: it stays above 0
    most: float  # and below this

    def at(self, z: float) -> float:
        """The value that lies z widths off: a share grows and shrinks by a factor, so that it never changes its sign."""
        if self.relative:
            return self.value * math.exp(z * math.log1p(self.width / abs(self.value))) if self.value else self.value
        return min(self.value + z * self.width, self.most)


def wide(path: str, item: Input) -> Wide | None:
    """How wide an input may be; None where it is exact, or follows from others."""
    end = path.rsplit(".", 1)[-1]
    computed = item.known is Known.COMPUTED
    if end in KNOWN_AS_SET or (computed and item.tolerance is None and end not in SPREADS):
        return None
    spread = SPREADS.get(end, OTHER)
    share = {Known.ASSUMED: spread.assumed, Known.STATED: spread.stated}.get(item.known, spread.measured)
    width = share if spread.absolute else share * abs(item.value)
    if item.tolerance is not None and item.known in (Known.MEASURED, Known.FITTED, Known.COMPUTED):
        width = item.tolerance
    if not width > 0.0:
        return None
    most = 0.999 if item.dimension == "share" else math.inf
    return Wide(path=path, value=item.value, width=width, relative=not spread.absolute, most=most)


def measured_width(path: str, value: float) -> float:
    """How wide it would be once somebody has measured it [SI]."""
    spread = SPREADS.get(path.rsplit(".", 1)[-1], OTHER)
    return spread.measured if spread.absolute else spread.measured * abs(value)


def wide_inputs(inputs: Mapping[str, Input]) -> list[Wide]:
    """All that is not known exactly, in the order of the inputs."""
    screws = {path.removesuffix("pitch_m") + "diameter_m" for path in inputs if path.endswith(".pitch_m")}
    return [found for path, item in inputs.items() if path not in screws and (found := wide(path, item)) is not None]
