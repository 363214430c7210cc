"""Lithium (and lead) pack: rest voltage, sag, power limit, energy.  Sources: Plett 2015; tables are typical values of our own."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from wattagon.errors import InputError
from wattagon.physics.arrays import Num, require
from wattagon.record import record

# Rest volts per cell (lead: per 2 V cell) at charge 0, 0.05, ... 1; typical, spread between makes about 30 mV.
_REST_V = {
    "lipo": "3.300 3.520 3.640 3.690 3.720 3.745 3.765 3.780 3.795 3.810 3.830 3.855 3.885 3.920 3.955 3.990 4.030 4.070 4.110 4.150 4.200",
    "nmc_energy": "3.000 3.280 3.420 3.480 3.530 3.570 3.600 3.625 3.650 3.675 3.705 3.745 3.790 3.835 3.880 3.925 3.970 "
    "4.020 4.065 4.110 4.190",
    "nmc_power": "3.050 3.300 3.410 3.480 3.540 3.585 3.620 3.650 3.675 3.705 3.745 3.790 3.835 3.875 3.910 3.945 3.985 "
    "4.030 4.065 4.095 4.180",
    "lfp": "2.800 3.100 3.200 3.225 3.245 3.260 3.275 3.285 3.290 3.293 3.296 3.300 3.308 3.320 3.330 3.333 3.335 3.337 3.340 3.350 3.450",
    "lead": "1.9500 1.9595 1.9690 1.9785 1.9880 1.9975 2.0070 2.0165 2.0260 2.0355 2.0450 2.0545 2.0640 2.0735 2.0830 "
    "2.0925 2.1020 2.1115 2.1210 2.1305 2.1400",
}
CHEMISTRIES = tuple(_REST_V)
_CURVES = {name: np.array([float(v) for v in row.split()]) for name, row in _REST_V.items()}
_CHARGE = np.linspace(0.0, 1.0, 21)
# V per cell: highest on charge, label nominal, loaded cutoff where cutback ends
CHARGE_LIMIT_V = {"lipo": 4.20, "nmc_energy": 4.20, "nmc_power": 4.20, "lfp": 3.65, "lead": 2.45}
LABEL_V = {"lipo": 3.7, "nmc_energy": 3.6, "nmc_power": 3.6, "lfp": 3.2, "lead": 2.0}
LOADED_CUTOFF_V = {"lipo": 3.2, "nmc_energy": 2.9, "nmc_power": 2.9, "lfp": 2.6, "lead": 1.75}
ABSOLUTE_CUTOFF_V = {"lipo": 3.0, "nmc_energy": 2.5, "nmc_power": 2.5, "lfp": 2.0, "lead": 1.67}
STORAGE_V = {"lipo": 3.825, "nmc_energy": 3.65, "nmc_power": 3.65, "lfp": 3.29, "lead": 2.14}  # lead is stored full
CHARGE_C = {"lipo": 1.0, "nmc_energy": 0.4, "nmc_power": 1.0, "lfp": 0.75, "lead": 0.2}  # of its capacity an hour
COLDEST_CHARGE_C = {"lipo": 0.0, "nmc_energy": 0.0, "nmc_power": 0.0, "lfp": 0.0, "lead": -15.0}
DEAD_V = 2.0  # under it a lithium cell is finished
CUTBACK_V = {"lipo": (3.4, 3.2), "nmc_energy": (3.2, 3.0), "nmc_power": (3.2, 3.0), "lfp": (2.9, 2.6), "lead": (1.85, 1.75)}
RESISTANCE_TEMPERATURE_K = 2500.0  # B in R = R25 exp(B (1/T - 1/298.15)), typical 2000-3000


def rest_volts(chemistry: str, charge: Num) -> NDArray[np.float64]:
    """Rest voltage of one cell [V] at a state of charge 0 to 1 (held at the ends outside); linear between table points.

    Raises InputError for an unknown chemistry.
    """
    if chemistry not in _CURVES:
        raise InputError("chemistry", chemistry, ", ".join(CHEMISTRIES))
    return np.asarray(np.interp(charge, _CHARGE, _CURVES[chemistry]))


def rest_curve(chemistry: str) -> NDArray[np.float64]:
    """Rest volts of one cell at charges 0, 0.05, ... 1, shape (21,)."""
    return _CURVES[chemistry]


def charge_at(chemistry: str, rest_v: Num) -> NDArray[np.float64]:
    """State of charge 0 to 1 of one cell at rest [V]."""
    return np.asarray(np.interp(rest_v, _CURVES[chemistry], _CHARGE))


def warm_resistance(ohm_at_25c: Num, temperature_c: Num, b_kelvin: Num = RESISTANCE_TEMPERATURE_K) -> Num:
    """Cell resistance [ohm] at a temperature in C: R25 exp(B (1/T - 1/298.15))."""
    return ohm_at_25c * np.exp(b_kelvin * (1.0 / (temperature_c + 273.15) - 1.0 / 298.15))


@record(frozen=True, slots=True, kw_only=True)
class Pack:
    """Cells in series and parallel with what leads to the controllers.  Raises InputError for values out of range."""

    chemistry: str
    series: Num
    parallel: Num
    cell_ah: Num
    cell_r0_ohm: Num  # 1 s DC resistance at 25 C
    cell_r1_ohm: Num = 0.0  # relaxation pair, steady part
    cell_tau1_s: float = 30.0
    wiring_ohm: Num = 0.0
    temperature_c: Num = 25.0
    continuous_a: Num = math.inf  # of the pack
    burst_a: Num = math.inf

    def __post_init__(self) -> None:
        if self.chemistry not in _CURVES:
            raise InputError("chemistry", self.chemistry, ", ".join(CHEMISTRIES))
        require("series", self.series, self.series >= 1, "1 or more")
        require("parallel", self.parallel, self.parallel >= 1, "1 or more")
        for name in ("cell_ah", "cell_r0_ohm", "continuous_a", "burst_a"):
            value = getattr(self, name)
            require(name, value, value > 0, "above 0")
        for name in ("cell_r1_ohm", "wiring_ohm"):
            value = getattr(self, name)
            require(name, value, value >= 0, "0 or more")

    def emf_v(self, charge: Num) -> Num:
        """Pack rest voltage [V] at a state of charge; broadcasts charge against the series count."""
        return self.series * rest_volts(self.chemistry, charge)

    @property
    def full_v(self) -> Num:
        """Volts at the end of charge [V]: what ratings are held against."""
        return self.series * CHARGE_LIMIT_V[self.chemistry]

    def _cells_ohm(self, per_cell: Num) -> Num:
        return self.series / self.parallel * warm_resistance(per_cell, self.temperature_c)

    @property
    def burst_ohm(self) -> Num:
        """R0 and wiring [ohm]: the sag of the first seconds."""
        return self._cells_ohm(self.cell_r0_ohm) + self.wiring_ohm

    @property
    def relaxed_ohm(self) -> Num:
        """R1 [ohm] at the pack's temperature."""
        return self._cells_ohm(self.cell_r1_ohm)

    @property
    def steady_ohm(self) -> Num:
        """R0, R1 and wiring [ohm]: the sag of a steady load."""
        return self.burst_ohm + self.relaxed_ohm

    @property
    def capacity_ah(self) -> Num:
        return self.parallel * self.cell_ah

    def chemical_wh(self, top: float = 1.0, bottom: float = 0.0) -> Num:
        """Energy at rest voltage [Wh] between two states of charge; exact for the piecewise linear curve."""
        inner = _CHARGE[(bottom < _CHARGE) & (top > _CHARGE)]
        points = np.concatenate([[bottom], inner, [top]])
        mean = float(np.trapezoid(rest_volts(self.chemistry, points), points))
        return self.capacity_ah * self.series * mean

    def terminal_wh(self, current_a: Num, top: float, bottom: float) -> Num:
        """Energy at the terminals [Wh] at a steady pack current."""
        return self.chemical_wh(top, bottom) - self.capacity_ah * (top - bottom) * self.steady_ohm * current_a

    def loaded_stop_charge(self, current_a: float, cutoff_v_per_cell: float) -> float:
        """State of charge at which a steady current meets the loaded cutoff; 0 if it never does, 1 if at once."""
        needed = cutoff_v_per_cell + self.steady_ohm * current_a / self.series
        return float(charge_at(self.chemistry, needed))


def bus_volts_at_power(emf_v: Num, pack_ohm: Num, power_w: Num) -> NDArray[np.float64]:
    """Bus volts under a demanded power [V]: [E + sqrt(E^2 - 4 R P)]/2; nan where the pack cannot give that power."""
    square = np.asarray(emf_v, dtype=float) ** 2 - 4.0 * np.asarray(pack_ohm, dtype=float) * power_w
    with np.errstate(invalid="ignore"):
        return np.where(square >= 0.0, 0.5 * (emf_v + np.sqrt(square)), np.nan)


def largest_power_w(emf_v: Num, pack_ohm: Num) -> Num:
    """The most a pack can deliver [W]: E^2/(4 R)."""
    return emf_v**2 / (4.0 * pack_ohm)


def join_parallel(emf_v: tuple[float, float], ohm: tuple[float, float]) -> tuple[float, float, float]:
    """(equalising current [A], emf [V], resistance [ohm]) of two bricks closed in parallel."""
    (ea, eb), (ra, rb) = emf_v, ohm
    conductance = 1.0 / ra + 1.0 / rb
    return (ea - eb) / (ra + rb), (ea / ra + eb / rb) / conductance, 1.0 / conductance


def sustained_current_a(rise_k: float, cell_kg: float, cell_ah: float, dc_ohm: float, heat_j_per_kg_k: float = 1000.0) -> float:
    """Cell current [A] whose full discharge without cooling warms it by rise_k: I = dT m c/(3600 Q R)."""
    return rise_k * cell_kg * heat_j_per_kg_k / (3600.0 * cell_ah * dc_ohm)


def lead_capacity_ah(rated_ah: float, rated_hours: float, current_a: float, exponent: float) -> float:
    """Capacity [Ah] of a lead battery at a current, after Peukert 1897: Q_H (I H/Q_H)^(1 - k)."""
    return rated_ah * (current_a * rated_hours / rated_ah) ** (1.0 - exponent)


def capacity_left(cycles: float, cycles_to_80: float, volts_below_full: float) -> float:
    """Share of capacity left after full cycles, charging that far below full [V per cell]; rough, a factor of 2."""
    return 1.0 - 0.2 * cycles / (cycles_to_80 * 2.0 ** (volts_below_full / 0.1))


def spread_as_charge(chemistry: str, charge: float, spread_v: float) -> float:
    """A rest-voltage spread between cells as a difference of charge [-], by the slope of the curve above `charge`."""
    at = min(int(charge * 20 + 1e-9), 19)
    return float(spread_v / (20.0 * (_CURVES[chemistry][at + 1] - _CURVES[chemistry][at])))


@record(frozen=True, slots=True, kw_only=True)
class ChargeRun:
    """What a constant-current, constant-voltage charge takes."""

    constant_current_s: float
    constant_voltage_s: float
    end_charge: float
    energy_in_wh: float


def charge_run(pack: Pack, start: float, current_a: float, limit_v_per_cell: float, stop_a: float, step_s: float = 0.5) -> ChargeRun:
    """Charge from `start` at a current to a voltage limit, then hold it until the current falls to stop_a.

    Uses R0 + R1 and wiring; diffusion makes a real tail 1.3 to 2 times longer.
    """
    ohm = float(pack.steady_ohm)
    limit, coulombs = float(pack.series) * limit_v_per_cell, 3600.0 * float(pack.capacity_ah)
    charge, t_cc, t_cv, energy_j = start, 0.0, 0.0, 0.0
    volts = float(pack.emf_v(charge)) + ohm * current_a
    while volts < limit and charge < 1.0:
        energy_j += volts * current_a * step_s
        charge += current_a * step_s / coulombs
        t_cc += step_s
        volts = float(pack.emf_v(charge)) + ohm * current_a
    current = min(current_a, (limit - float(pack.emf_v(charge))) / ohm)
    while current > stop_a and charge < 1.0:
        energy_j += limit * current * step_s
        charge += current * step_s / coulombs
        t_cv += step_s
        current = (limit - float(pack.emf_v(charge))) / ohm
    return ChargeRun(constant_current_s=t_cc, constant_voltage_s=t_cv, end_charge=charge, energy_in_wh=energy_j / 3600.0)


def voltage_phase_s(ohm: float, capacity_ah: float, volts_per_charge: float, from_a: float, to_a: float) -> float:
    """Seconds of the constant-voltage phase with a constant slope dE/ds: tau ln(I/I_end), tau = 3600 R Q/S."""
    return 3600.0 * ohm * capacity_ah / volts_per_charge * math.log(from_a / to_a)
