"""Vibration and noise: everything in this train that turns or meshes, at the speed at which it shows; and what rings there."""

from __future__ import annotations

import math
from collections.abc import Iterator

from wattagon.physics.vibration import NEAR
from wattagon.study.layout.study import LayoutStudy
from wattagon.study.trouble.evidence import Evidence

RINGS, AWAY = 2.5, 0.7


def ringing(cause: str, layout: LayoutStudy, speed_m_s: float) -> Iterator[Evidence]:
    """Whether what a cause is about rings near the speed at which it shows."""
    for ring in layout.rings:
        of = "span_rings" if "span" in ring.what else "bent_shaft" if "whirls" in ring.what else ""
        if of != cause or not math.isfinite(ring.speed_m_s) or ring.speed_m_s <= 0.0:
            continue
        off = ring.speed_m_s / speed_m_s - 1.0
        if abs(off) < NEAR:
            yield Evidence(RINGS, f"{ring.what} at {3.6 * ring.speed_m_s:.0f} km/h, it shows at {3.6 * speed_m_s:.0f}")
            return
    if cause in ("span_rings", "bent_shaft") and layout.rings:
        yield Evidence(AWAY, f"nothing of it rings within 15 % of {3.6 * speed_m_s:.0f} km/h")
