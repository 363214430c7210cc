"""The edge of the pull map with its band: thrust of every sample at the same speeds."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from wattagon.physics.envelope import edge
from wattagon.record import record
from wattagon.study.drive.goals import column, group
from wattagon.study.drive.study import DriveStudy
from wattagon.study.resolve import CHARGE_STATES, Resolved

POINTS = 28


@record(frozen=True, slots=True, kw_only=True)
class EdgeBand:
    """Between what the edge lies at speeds, half charged: one sample in six below, one in six above."""

    speed_m_s: NDArray[np.float64]
    low_n: NDArray[np.float64]
    high_n: NDArray[np.float64]


def speeds_of(study: DriveStudy) -> NDArray[np.float64]:
    """Where the band is worked out: along the nominal edge."""
    return np.linspace(0.0, float(study.states["nominal"].edge.speed_m_s[-1]), POINTS)


def edges(batch: Sequence[Resolved], speeds: NDArray[np.float64]) -> NDArray[np.float64]:
    """Thrust of each drive at each speed [N], shape (n, speeds)."""
    made = np.full((len(batch), len(speeds)), np.nan)
    for members, train, load in group(batch):
        emf = np.broadcast_to(np.asarray(train.pack.emf_v(CHARGE_STATES["nominal"]), dtype=float), (len(members), 1))
        air = column([batch[k].air_c for k in members])
        wide = np.broadcast_to(speeds, (len(members), len(speeds)))
        made[np.array(members)] = edge(train, load, wide, emf, air_c=air).force_n
    return made


def edge_band(samples: NDArray[np.float64], speeds: NDArray[np.float64]) -> EdgeBand:
    """The sixths of samples (n, speeds)."""
    low, high = np.nanquantile(samples, (1.0 / 6.0, 5.0 / 6.0), axis=0)
    return EdgeBand(speed_m_s=speeds, low_n=low, high_n=high)
