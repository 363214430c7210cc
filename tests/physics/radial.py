"""A lead as a fine, nonlinear radial model: what the ladder of shells is held against."""

import math

import numpy as np

from wattagon.physics.wiring.copper import LAY
from wattagon.physics.wiring.short import COPPER_J_M3K, RUBBER_J_M3K
from wattagon.physics.wiring.warmth import INSULATION_W_MK, leaves_w_m


def warmed_c(cable, around, profile, shells=40, step_s=0.02, begun=None):
    """Temperatures after segments (seconds, amps), and the highest of the copper; implicit in the shells, films as they are."""
    edges = np.linspace(0.5 * cable.strand_m, 0.5 * cable.outer_m, shells + 1)
    middles = 0.5 * (edges[1:] + edges[:-1])
    radii = np.concatenate([[edges[0]], middles, [edges[-1]]])
    across = 2.0 * math.pi * INSULATION_W_MK / np.log(radii[1:] / radii[:-1])
    capacity = np.concatenate([[COPPER_J_M3K * cable.area_m2 * LAY], RUBBER_J_M3K * math.pi * (edges[1:] ** 2 - edges[:-1] ** 2)])
    t = np.full(shells + 1, around.air_c) if begun is None else begun.copy()
    highest, skin = float(t[0]), float(t[-1])
    matrix = np.zeros((shells + 1, shells + 1))
    for k, g in enumerate(across[:-1]):
        matrix[k, k] += g
        matrix[k + 1, k + 1] += g
        matrix[k, k + 1] -= g
        matrix[k + 1, k] -= g
    for seconds, amps in profile:
        steps = max(round(seconds / step_s), 1)
        dt = seconds / steps
        inverse = np.linalg.inv(np.diag(capacity / dt) + matrix)
        for _ in range(steps):
            for _ in range(2):  # the skin is where what comes through leaves
                leaves = leaves_w_m(cable, around, skin)
                skin = float(t[-1]) - leaves / across[-1]
            heat = capacity / dt * t
            heat[0] += amps**2 * cable.ohm_at(float(t[0]))
            heat[-1] -= leaves
            t = inverse @ heat
            highest = max(highest, float(t[0]))
    return t, highest
