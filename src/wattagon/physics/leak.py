"""How tight a box is.  Sources: pressure-decay leak test (ideal gas at constant temperature), handbook of the house."""

from __future__ import annotations

from wattagon.errors import InputError

ATMOSPHERE_PA = 101325.0
TEST_PA = 10e3  # 0.1 bar is a metre of water
SPLASH_ML_MIN, UNDER_ML_MIN = 10.0, 2.0  # of a box that sees splashes, of one that goes under; typical


def leak_ml_min(litres: float, drop_pa: float, seconds: float) -> float:
    """Air that leaves a closed volume: V dp/(p_atm t) [ml/min] for a volume [l] that loses a pressure [Pa] in a time [s].

    Raises InputError for a volume or a time that is none.
    """
    if not litres > 0.0:
        raise InputError("litres", litres, "above 0 l")
    if not seconds > 0.0:
        raise InputError("seconds", seconds, "above 0 s")
    return 1000.0 * litres * drop_pa / ATMOSPHERE_PA / (seconds / 60.0)


def breathed_share(swing_k: float, mean_c: float = 20.0) -> float:
    """Share of its air that a box breathes in and out over a swing of temperature: dT/T."""
    return swing_k / (mean_c + 273.15)


def depth_m(pressure_pa: float) -> float:
    """Metres of fresh water of a pressure."""
    return pressure_pa / 9806.65
