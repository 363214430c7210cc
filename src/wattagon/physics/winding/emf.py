"""EMF of a stator as it is wound, coil by coil, over a turn of the rotor; and what a fault in it looks like at the leads."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from enum import StrEnum

import numpy as np
from numpy.typing import NDArray

from wattagon.physics.winding.coil import Connection
from wattagon.physics.winding.star import Pattern, paths
from wattagon.record import record

STEPS = 720  # of one electrical turn
FIELD_POINTS = 240  # across a tooth pitch


def coil_flux(found: Pattern, cover: float, steps: int = STEPS) -> NDArray[np.float64]:
    """Flux through each tooth over one electrical turn, shape (slots, steps), in flux of one fully covered pole.

    The field is that of magnets alternately north and south, flat over `cover` of their pole and nothing between them.
    """
    pairs, slots = found.poles // 2, found.slots
    across = (np.arange(FIELD_POINTS) + 0.5) / FIELD_POINTS - 0.5
    angle = math.tau * np.arange(steps) / steps  # electrical
    made = np.empty((slots, steps))
    for tooth in range(slots):
        at = math.tau * pairs * (tooth + across[:, np.newaxis]) / slots - angle
        inside = (at / math.pi + 0.5) % 2.0  # a north pole is [0, 1)
        field = np.where(inside < 1.0, 1.0, -1.0) * (np.abs(inside % 1.0 - 0.5) <= 0.5 * cover)
        made[tooth] = field.mean(axis=0) * (found.poles / slots)
    return made


def coil_emf(found: Pattern, cover: float, steps: int = STEPS) -> NDArray[np.float64]:
    """-dflux/dangle of every tooth, shape (slots, steps); exact for the flux as it was sampled."""
    flux = coil_flux(found, cover, steps)
    return -np.fft.irfft(np.fft.rfft(flux, axis=1) * 1j * np.arange(steps // 2 + 1), steps, axis=1)


def simulated_factor(found: Pattern, nu: int = 1, phase: int = 0, cover: float = 1.0) -> float:
    """Winding factor from simulated EMF: amplitude of a phase over that of as many coils which span a whole pole each.

    A coil over a whole pole links the mean field of one pole: its harmonic amplitudes are those of the field, integrated.
    """
    teeth = found.teeth(phase)
    emf = coil_emf(found, cover)
    total = sum(emf[tooth] * (found.coils[tooth] or (0, 1))[1] for tooth in teeth)
    amplitude = abs(np.fft.rfft(total)[nu]) * 2.0 / STEPS
    field = 4.0 / (math.pi * nu) * abs(math.sin(0.5 * nu * cover * math.pi))  # of the flat-topped field
    # flux of a pole-wide coil, in flux of one covered pole: the integral of field cos(nu a) over a pole, over pi, times nu for EMF
    whole = 2.0 * field / math.pi * abs(math.sin(0.5 * nu * math.pi))
    return float(amplitude / (len(teeth) * whole)) if whole > 0.0 else 0.0


class Fault(StrEnum):
    """What goes wrong when a stator is wound by hand."""

    NONE = "none"
    TURN_MISSING = "turn_missing"  # in one coil
    TURN_MORE = "turn_more"
    COIL_REVERSED = "coil_reversed"
    PHASE_REVERSED = "phase_reversed"  # start and end of one phase swapped
    SHORTED_COIL = "shorted_coil"  # enamel through: one coil out
    STRAND_BROKEN = "strand_broken"


@record(frozen=True, slots=True, kw_only=True)
class Leads:
    """What a meter sees: line voltages and resistances of the pairs AB, BC, CA, as shares of a sound motor of the same winding."""

    volts: tuple[float, float, float]
    ohms: tuple[float, float, float]


def leads_of(
    found: Pattern,
    turns: Mapping[int, float] | None = None,
    *,
    connection: Connection = Connection.WYE,
    parallel: int = 1,
    reversed_phases: Sequence[int] = (),
    copper: Sequence[float] = (1.0, 1.0, 1.0),
) -> Leads:
    """Fundamental EMF and resistance at the leads of a stator wound so; `turns` are shares of the planned ones by tooth.

    A tooth with -1 is wound the wrong way round.  `copper` is the share of strands that carry in each phase.
    Coils of one parallel path are in series, paths share their current by their resistance.
    """
    turns = turns or {}
    slots = found.slots
    sound_v, sound_r = [], []
    emf, ohm = [], []
    for phase in range(3):
        each_v, each_r, plain_v = [], [], []
        for path in paths(found, phase, parallel):
            v, r, plain = 0.0 + 0.0j, 0.0, 0.0 + 0.0j
            for tooth in path:
                spoke = np.exp(1j * math.pi * found.spoke(tooth) / slots)
                share = turns.get(tooth, 1.0)
                v += share * spoke
                r += abs(share)
                plain += spoke
            each_v.append(v)
            each_r.append(max(r / copper[phase], 1e-9))
            plain_v.append((plain, len(path)))
        g = [1.0 / r for r in each_r]
        total = sum(g)
        sign = -1.0 if phase in reversed_phases else 1.0
        emf.append(sign * sum(v * c for v, c in zip(each_v, g, strict=True)) / total)
        ohm.append(1.0 / total)
        sound_v.append(plain_v[0][0])
        sound_r.append(plain_v[0][1] / parallel)
    pairs = ((0, 1), (1, 2), (2, 0))
    if connection is Connection.WYE:
        volts = [abs(emf[a] - emf[b]) / abs(sound_v[a] - sound_v[b]) for a, b in pairs]
        ohms = [(ohm[a] + ohm[b]) / (sound_r[a] + sound_r[b]) for a, b in pairs]
    else:
        ring = sum(emf) / sum(ohm)  # what is left over flows round the triangle
        volts = [abs(emf[k] - ring * ohm[k]) / abs(sound_v[k]) for k in range(3)]
        ohms = []
        for k in range(3):
            rest = ohm[(k + 1) % 3] + ohm[(k + 2) % 3]
            ohms.append(ohm[k] * rest / (ohm[k] + rest) / (sound_r[k] * 2.0 / 3.0))
    return Leads(volts=(volts[0], volts[1], volts[2]), ohms=(ohms[0], ohms[1], ohms[2]))
