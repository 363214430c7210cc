"""Between what the figures of a found drive lie: the finder's own judging over draws of what is not exactly known."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from wattagon.design.catalogue import Catalogue
from wattagon.design.tree import Design, Variant
from wattagon.errors import InputError, PathError
from wattagon.study.bands.bands import Band, band
from wattagon.study.drive.cases import best_reach, over_cases
from wattagon.study.drive.study import results
from wattagon.study.finder.hits import AXIS_GOALS, OBJECTIVES, hit_of, lasting_shares
from wattagon.study.resolve import Resolved

SAMPLES = 256


def figures(batch: Sequence[Resolved], design: Design) -> NDArray[np.float64]:
    """What OBJECTIVES names, in its order, of each of a batch (n, objectives), as the finder judges a hit."""
    goals = design.brief.goals
    reached, heat_s = best_reach(batch, (*goals, *AXIS_GOALS))
    lasting = lasting_shares(batch, goals)
    judged = over_cases([design] * len(batch), batch, goals, reached[:, : len(goals)], heat_s)
    made = []
    for k, resolved in enumerate(batch):
        heat = float(lasting[k]), float(judged.heat_s[k])
        goals_met = results(design, judged.reached[k], judged.cases[k])
        hit = hit_of((0,) * 8, resolved, goals_met, reached[k, len(goals) :].tolist(), heat, design)
        made.append([hit.value(code) for code in OBJECTIVES])
    return np.array(made, dtype=float)


def sure(design: Design, stock: Catalogue, variant: Variant, cancelled: Callable[[], bool] = lambda: False) -> dict[str, Band] | None:
    """The band of each figure of a found drive by its name; None when it was given up, or the drive cannot be worked out."""
    one = replace(design, variants=(variant,), active=variant.id)
    try:
        found = band(one, stock, figures, samples=SAMPLES, cancelled=cancelled)
    except (InputError, PathError):
        return None
    return None if cancelled() else dict(zip(OBJECTIVES, found.bands, strict=True))
