"""Whether two drives can be told apart with what is known: the same draws for what both rest on, and the difference of what they reach."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from wattagon.design.catalogue import Catalogue
from wattagon.design.tree import Design, GoalKind, Variant
from wattagon.errors import InputError
from wattagon.record import record
from wattagon.study.bands.bands import ONE_IN_SIX, band, even_draws
from wattagon.study.bands.errors import wide_inputs
from wattagon.study.bands.taking import name_of, taking
from wattagon.study.bands.weigh import shares_of
from wattagon.study.drive.goals import LESS, GoalResult
from wattagon.study.drive.study import results
from wattagon.study.resolve import resolve

SAMPLES = 384
EXACT = (GoalKind.BUDGET, GoalKind.ADDED_MASS, GoalKind.CARRY, GoalKind.PACKED)  # money and mass are read off labels


@record(frozen=True, slots=True, kw_only=True)
class Told:
    """One goal: in what share of all that may be the first drive is better, and what measuring would tell most."""

    result: GoalResult  # of the first
    first_better: float
    by: str = ""  # name of the quantity that makes most of the difference's doubt
    by_share: float = 0.0

    @property
    def apart(self) -> bool:
        """Whether one of them is better five times of six."""
        return self.first_better >= 1.0 - ONE_IN_SIX or self.first_better <= ONE_IN_SIX


def told_apart(
    design: Design, stock: Catalogue, first: Variant, second: Variant, cancelled: Callable[[], bool] = lambda: False
) -> tuple[Told, ...] | None:
    """Of each goal that rests on more than labels; None when it was given up or a drive cannot be worked out."""
    designs = [_with(design, one) for one in (first, second)]
    try:
        inputs = [wide_inputs(resolve(one, stock, note=True).inputs) for one in designs]
    except InputError:
        return None
    # what both rest on, the vehicle, the brief, the same part, the same place of the variant, is drawn once
    paths = list(dict.fromkeys(one.path for rows in inputs for one in rows))
    place = {path: k for k, path in enumerate(paths)}
    z = even_draws(SAMPLES, len(paths))
    found: list[NDArray[np.float64]] = []
    for one, rows in zip(designs, inputs, strict=True):
        columns = [place[wide.path] for wide in rows]
        made = band(one, stock, draws=z[:, columns], cancelled=cancelled)
        if cancelled() or made.refused or len(made.samples) != SAMPLES:
            return None
        found.append(made.samples)
    made_goals = results(designs[0], found[0][0], [""] * len(design.brief.goals))
    told = []
    for k, result in enumerate(made_goals):
        if result.goal.kind in EXACT:
            continue
        sign = -1.0 if result.goal.kind in LESS else 1.0
        apart = sign * (found[0][:, k] - found[1][:, k])
        known = apart[np.isfinite(apart)]
        if not known.size or not np.any(known != 0.0):
            continue
        shares = shares_of(apart, z)
        takeable = [n for n in np.argsort(-np.nan_to_num(shares)) if taking(paths[int(n)]) is not None]
        most = int(takeable[0]) if takeable and np.isfinite(shares).all() else -1
        told.append(
            Told(
                result=result,
                first_better=float(np.mean(known > 0.0) + 0.5 * np.mean(known == 0.0)),
                by=name_of(paths[most]) if most >= 0 else "",
                by_share=float(shares[most]) if most >= 0 else 0.0,
            )
        )
    return tuple(told)


def _with(design: Design, variant: Variant) -> Design:
    return replace(design, variants=(replace(variant, id="X"),), active="X")


def apart_words(told: tuple[Told, ...], names: tuple[str, str], short: Callable[[GoalResult], str]) -> str:
    """One sentence: what cannot be told apart, and what measuring would tell most."""
    if not told:
        return ""
    alike = [one for one in told if not one.apart]
    if not alike:
        return f"{names[0]} and {names[1]} can be told apart in every goal with what is known."
    goals = ", ".join(short(one.result) for one in alike[:3])
    words = f"{names[0]} and {names[1]} cannot be told apart with what is known: {goals}{' and more' if len(alike) > 3 else ''}."
    by = max(alike, key=lambda one: one.by_share)
    return f"{words} Measuring {by.by} would tell most." if by.by_share > 0.15 else words
