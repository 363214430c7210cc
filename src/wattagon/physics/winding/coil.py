"""What a coil is made of and what a rewind changes: kv, resistance, fill, wire, copper, ring current.

Lengths in metres unless a name says otherwise; resistance between two leads at 20 C unless told.
Sources: same iron and magnets, EMF in proportion to turns in series; IEC 60028 (copper); IEC 60317-0-1 (enamelled wire, smooth fit).
"""

from __future__ import annotations

import math
from enum import StrEnum

import numpy as np

from wattagon.physics.arrays import Num
from wattagon.physics.motor import COPPER_PER_K
from wattagon.record import record

COPPER_OHM_M, COPPER_KG_M3, COPPER_J_KG_K = 1.724e-8, 8960.0, 385.0  # at 20 C
SPARE = 0.05  # wire bought beyond what is reckoned
SQUARE, HEXAGONAL = math.pi / 4.0, math.pi / (2.0 * math.sqrt(3.0))  # most of a slot that round wires can take, without enamel
THIN, THICK = 0.062, 0.094  # mm^0.5: overall diameter d + k sqrt(d), 0.2 to 1.6 mm


class Connection(StrEnum):
    WYE = "wye"
    DELTA = "delta"


@record(frozen=True, slots=True, kw_only=True)
class Coils:
    """One winding: turns a tooth, strands in hand, bare diameter [m], parallel paths a phase, connection, coil sides a slot."""

    turns: float
    strands: float
    wire_m: float
    connection: Connection = Connection.WYE
    paths: int = 1
    layers: int = 2

    @property
    def area_m2(self) -> float:
        """Copper of one turn, all strands."""
        return self.strands * math.pi / 4.0 * self.wire_m**2


@record(frozen=True, slots=True, kw_only=True)
class Slots:
    """The iron that is wound [m, m2]."""

    slots: int
    stack_m: float
    tooth_m: float
    slot_m2: float  # left after liner and the strip at the opening
    build_m: float  # of the coil at a tooth's side
    liner_m: float = 0.3e-3
    lead_m: float = 0.15  # a phase, both ends together


def leg_factor(connection: Connection) -> float:
    """Resistance between two leads over that of a phase: 2 in wye, 2/3 in delta."""
    return 2.0 if connection is Connection.WYE else 2.0 / 3.0


def kv_factor(before: Connection, after: Connection) -> float:
    """kv after over before: sqrt(3) from wye to delta, for EMF like a sine."""
    if before is after:
        return 1.0
    return math.sqrt(3.0) if after is Connection.DELTA else 1.0 / math.sqrt(3.0)


def kv_after(kv: Num, before: Coils, after: Coils) -> Num:
    """kv [rpm/V] of the rewound motor: (N1/N2)(a2/a1) c, and single layers have half the coils."""
    coils = before.layers / after.layers
    return kv * (before.turns / after.turns) * (after.paths / before.paths) * kv_factor(before.connection, after.connection) * coils


def ohm_after(ohm: Num, before: Coils, after: Coils) -> Num:
    """Resistance between leads [ohm]: (N2/N1)(A1/A2)(a1/a2)^2 d, and half the coils of a single layer."""
    change = (after.turns / before.turns) * (before.area_m2 / after.area_m2) * (before.paths / after.paths) ** 2
    return ohm * change * leg_factor(after.connection) / leg_factor(before.connection) * (after.layers / before.layers)


def constant_per_root_watt(kv: Num, ohm: Num) -> Num:
    """Motor constant K/sqrt(R) [N m/sqrt(W)]: the same in wye and delta."""
    return 60.0 / (math.tau * kv) / np.sqrt(ohm)


def mean_turn_m(iron: Slots) -> float:
    """Mean turn [m]: half the build round a tooth with its liner; good to 6 %."""
    return 2.0 * (iron.stack_m + 2.0 * iron.liner_m) + 2.0 * (iron.tooth_m + 2.0 * iron.liner_m) + math.pi * iron.build_m


def coils_a_phase(iron: Slots, layers: int) -> float:
    return iron.slots / 3.0 if layers == 2 else iron.slots / 6.0


def phase_ohm(iron: Slots, coils: Coils, temperature_c: Num = 20.0) -> Num:
    """Resistance of a phase with its leads [ohm]; each parallel path has leads of its own."""
    in_series = mean_turn_m(iron) * coils.turns * coils_a_phase(iron, coils.layers) / coils.paths + iron.lead_m
    return COPPER_OHM_M * in_series / coils.area_m2 / coils.paths * (1.0 + COPPER_PER_K * (temperature_c - 20.0))


def line_ohm(iron: Slots, coils: Coils, temperature_c: Num = 20.0) -> Num:
    """Resistance between two leads [ohm]."""
    return leg_factor(coils.connection) * phase_ohm(iron, coils, temperature_c)


def fill(iron: Slots, coils: Coils) -> float:
    """Bare copper over the slot's area."""
    return coils.layers * coils.turns * coils.area_m2 / iron.slot_m2


def strands_that_fit(iron: Slots, turns: float, wire_m: float, most: float, layers: int = 2) -> int:
    """Strands in hand up to a fill."""
    return math.floor(most * iron.slot_m2 / (layers * turns * math.pi / 4.0 * wire_m**2) + 1e-9)


def overall_mm(bare_mm: Num, coat: float = THIN) -> Num:
    """Diameter with enamel [mm], 0.2 to 1.6 mm.

    >>> round(overall_mm(0.5), 4)
    0.5438
    """
    return bare_mm + coat * np.sqrt(bare_mm)


def packed(iron: Slots, coils: Coils, coat: float = THIN) -> float:
    """Circles over their enamel as a share of the slot: above 0.907 no order of round wires goes in."""
    over = float(overall_mm(1e3 * coils.wire_m, coat)) * 1e-3
    return coils.layers * coils.turns * coils.strands * math.pi / 4.0 * over**2 / iron.slot_m2


def copper_m(iron: Slots, coils: Coils) -> float:
    """Length of single wire in the motor with its leads [m]."""
    teeth = 3.0 * coils_a_phase(iron, coils.layers)
    return (teeth * coils.turns * mean_turn_m(iron) + 3.0 * coils.paths * iron.lead_m) * coils.strands


def cut_m(iron: Slots, coils: Coils) -> float:
    """Wire to cut [m], 5 % spare in it."""
    return copper_m(iron, coils) * (1.0 + SPARE)


def copper_kg(iron: Slots, coils: Coils) -> float:
    """Copper in the motor [kg], no spare."""
    return copper_m(iron, coils) * math.pi / 4.0 * coils.wire_m**2 * COPPER_KG_M3


def density_a_mm2(coils: Coils, line_rms_a: Num) -> Num:
    """Current density [A/mm2] at an rms line current: phase current over the copper of all paths."""
    phase = line_rms_a / (math.sqrt(3.0) if coils.connection is Connection.DELTA else 1.0)
    return phase / (coils.paths * coils.area_m2 * 1e6)


def inductance_after(henry: Num, before: Coils, after: Coils) -> Num:
    """Inductance between leads [H]: in proportion to the square of turns in series, and to leads over phase like resistance."""
    turns = (after.turns / before.turns) * (before.paths / after.paths)
    return henry * turns**2 * leg_factor(after.connection) / leg_factor(before.connection) * (after.layers / before.layers)


def third_share(cover: float, k_w1: float, k_w3: float) -> float:
    """E3/E1 of a phase: magnets that cover a share of the pole, B_nu in proportion to sin(nu cover pi/2)/nu."""
    return abs(math.sin(1.5 * math.pi * cover) / 3.0 / math.sin(0.5 * math.pi * cover)) * k_w3 / k_w1


def ring_current_a(third_peak_v: Num, ohm: Num, henry: Num, electrical_hz: Num) -> tuple[Num, Num]:
    """(rms current [A], loss [W]) that third-harmonic EMF drives round a triangle; ohm and henry of one phase."""
    amps = third_peak_v / math.sqrt(2.0) / np.hypot(ohm, 3.0 * math.tau * electrical_hz * henry)
    return amps, 3.0 * amps**2 * ohm


def unequal_ring_a(phase_rms_v: Num, share: Num, ohm: Num, henry: Num, electrical_hz: Num) -> Num:
    """rms current [A] round a triangle of which one phase has a share more turns: E dN/N / (3 |Z|)."""
    return phase_rms_v * share / (3.0 * np.hypot(ohm, math.tau * electrical_hz * henry))


def copper_c(hot_ohm: Num, cold_ohm: Num, cold_c: Num = 20.0) -> Num:
    """Temperature of copper from its resistance [C]; the hot spot is 10 to 20 K above."""
    return hot_ohm / cold_ohm * (234.5 + cold_c) - 234.5


def turns_there(wanted: Num, kv_forecast: Num, kv_measured: Num) -> Num:
    """Turns really in a motor of which kv was measured."""
    return wanted * kv_forecast / kv_measured


def kv_of_field(
    turns_in_series: Num, factor: float, flux_density_t: float, bore_m: float, stack_m: float, connection: Connection = Connection.WYE
) -> Num:
    """kv [rpm/V] from the field in the gap: phase EMF a rad/s = N k_w B D L, good to a quarter where B is typical.

    Source: flux of a pole of a sine-shaped field, B D L/p, times p electrical radians a mechanical one.
    """
    phase = turns_in_series * factor * flux_density_t * bore_m * stack_m
    return 60.0 / (math.tau * phase * (math.sqrt(3.0) if connection is Connection.WYE else 1.0))
