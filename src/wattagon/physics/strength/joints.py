"""What holds a wheel on its shaft: keys, set screws, D bores, clamps, pins; bolts and their preload.

SI.  Sources: DIN 6885 (keys), Shigley (set screws, bolts), ISO 898-1 (grades); estimates say so.
"""

from __future__ import annotations

import math
from typing import NamedTuple

SIZES = (3, 4, 5, 6, 8, 10, 12)
AREA_M2 = {3: 5.03e-6, 4: 8.78e-6, 5: 14.2e-6, 6: 20.1e-6, 8: 36.6e-6, 10: 58.0e-6, 12: 84.3e-6}  # tensile; ISO 898-1
PROOF_PA = {"8.8": 580e6, "10.9": 830e6, "12.9": 970e6, "A2-70": 450e6}
SEAT_NM = {3: 0.6, 4: 2.2, 5: 4.0, 6: 8.0}
HOLD_N = {3: 750.0, 4: 1700.0, 5: 2400.0, 6: 4000.0}  # of a cup point on a softer shaft; Shigley, rounded to metric
ROUND_SAFE, FLAT_SAFE = 5.0, 2.5  # by which what holds still is divided for shocks and reversal
FLAT_TILT = 0.4  # of the screw's proof load at a quarter of its size; estimate
SECOND = {"in line": 2.0, "60": 1.75, "opposite": 1.3}
DRY_K, OILED_K, PRELOAD = 0.20, 0.14, 0.75
KEYS_M = (  # shaft up to, width, height; DIN 6885
    (0.008, 0.002, 0.002),
    (0.010, 0.003, 0.003),
    (0.012, 0.004, 0.004),
    (0.017, 0.005, 0.005),
    (0.022, 0.006, 0.006),
    (0.030, 0.008, 0.007),
)
KEY_SHEAR_PA = 60e6
KEY_PRESS_PA = {"steel": 100e6, "aluminium": 60e6, "printed": 15e6}
SLIT_LOSS = 0.3  # of a one-slit clamp: ear bending


def preload_n(size: int, grade: str = "8.8", share: float = PRELOAD) -> float:
    """Of a bolt at a share of its proof stress."""
    return share * PROOF_PA[grade] * AREA_M2[size]


def tightening_nm(size: int, preload: float, friction: float = DRY_K) -> float:
    """T = K F d."""
    return friction * preload * size / 1e3


def preload_of_torque_n(size: int, torque_nm: float, friction: float = DRY_K) -> float:
    """F = T/(K d)."""
    return torque_nm / (friction * size / 1e3)


def key_of(diameter_m: float) -> tuple[float, float]:
    """(width, height) of a parallel key on a shaft [m].  Source: DIN 6885."""
    return next(((b, h) for to, b, h in KEYS_M if diameter_m <= to + 1e-9), (0.010, 0.008))


class Keyed(NamedTuple):
    """Torque that a key bears [N m]: by shear, by side pressure."""

    shear: float
    pressure: float


def key_nm(diameter_m: float, long_m: float, pressure_pa: float, shear_pa: float = KEY_SHEAR_PA) -> Keyed:
    """Shear tau b l d/2, pressure p (h/2) l d/2.  Source: DIN 6885."""
    wide, high = key_of(diameter_m)
    return Keyed(0.5 * shear_pa * wide * long_m * diameter_m, 0.25 * pressure_pa * high * long_m * diameter_m)


def d_bore_nm(diameter_m: float, flat_m: float, long_m: float, pressure_pa: float) -> float:
    """Pressure from nothing at the middle to p at an edge of half the flat: T = p l w^2/12.  Derived."""
    wide = 2.0 * math.sqrt(flat_m * (diameter_m - flat_m))
    return pressure_pa * long_m * wide**2 / 12.0


def set_screw_nm(size: int, diameter_m: float, count: int = 1, second: str = "in line", flat_m: float = 0.0, seated: float = 1.0) -> float:
    """Torque that set screws hold still [N m]: on a round shaft F_h d/2, on a flat the point must be lifted too.

    `seated`: share of the seat torque that was reached.  Sources: Shigley; the flat's gain is an estimate.
    """
    hold = HOLD_N[size] * seated
    if flat_m > 0.0:
        one = hold * (0.5 * diameter_m - flat_m) + FLAT_TILT * PROOF_PA["12.9"] * AREA_M2[size] * 0.25 * size / 1e3 * seated
    else:
        one = hold * 0.5 * diameter_m
    return one * (1.0 if count < 2 else SECOND[second] * 0.5 * count)


def set_screw_usable_nm(
    size: int, diameter_m: float, count: int = 1, second: str = "in line", flat_m: float = 0.0, seated: float = 1.0
) -> float:
    """The same divided for shock and reversal: by 5 on a round shaft, by 2.5 on a flat."""
    return set_screw_nm(size, diameter_m, count, second, flat_m, seated) / (FLAT_SAFE if flat_m > 0.0 else ROUND_SAFE)


CONTACT = {"line": 1.0, "close": 4.0 / math.pi, "uniform": 0.5 * math.pi}


def clamp_nm(force_n: float, diameter_m: float, friction: float = 0.15, contact: str = "close") -> float:
    """T = k mu F d of halves that press with F.  Derived."""
    return CONTACT[contact] * friction * force_n * diameter_m


def slit_force_n(screw_n: float, count: int, loss: float = SLIT_LOSS) -> float:
    """What a clamp with one slit presses with: its hinge answers the screws, less what bends the ears."""
    return 2.0 * screw_n * count * (1.0 - loss)


def pin_nm(pin_m: float, shaft_m: float, shear_pa: float) -> float:
    """A cross pin in double shear: 2 (pi d^2/4) tau D/2."""
    return 2.0 * math.pi * pin_m**2 / 4.0 * shear_pa * 0.5 * shaft_m
