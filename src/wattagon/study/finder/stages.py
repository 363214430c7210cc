"""Reductions of a search: every stage in stock once, with what it costs as the only stage and as the second of two."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from typing import cast

import numpy as np
from numpy.typing import NDArray

from wattagon.design.catalogue import Catalogue
from wattagon.design.parts import LoopPart, Part, ProfilePart, ToothedPart
from wattagon.design.parts.families import toothed
from wattagon.design.tree import Design, ReductionKind, StageChoice
from wattagon.record import record
from wattagon.study.finder import columns as col
from wattagon.study.finder.wishes import SCHOOLS, Wishes
from wattagon.study.resolve import Reader, stage_of, stage_parts, stage_ratings

NO_PART = -1.0


@record(frozen=True, slots=True, kw_only=True)
class Stages:
    """One row a stage, by ratio; any two of them make a reduction of two stages where these are allowed.

    Prices count what is on the shelf as free; a part that both stages of a pair need is free only once (`owned`, `price`).
    """

    table: NDArray[np.float64]  # (stages, columns of REDUCTION)
    prices: NDArray[np.float64]  # (counts, stages), to be paid for the only or the first stage
    masses: NDArray[np.float64]
    second_prices: NDArray[np.float64]  # likewise for the second of two: one set where all motors share it
    second_masses: NDArray[np.float64]
    sets: NDArray[np.float64]  # (counts,): sets of a second stage
    fits: NDArray[np.bool_]  # (wheels, stages): the driven pulley clears the ground
    chosen: NDArray[np.bool_]  # (stages,): has a part that must be used
    owned: NDArray[np.float64]  # (parts,)
    price: NDArray[np.float64]
    choices: tuple[StageChoice, ...]
    direct: bool
    two: bool
    wheel: bool  # drives of the wheel are searched for, not only those through the gears
    freewheel: bool
    need: bool  # one of the chosen stages must be in

    @property
    def ways(self) -> int:
        """How many reductions there are, none at all counted as one."""
        n = len(self.choices)
        return int(self.direct) + n + (n * n if self.two else 0)

    def choice(self, first: int, second: int, count_index: int) -> tuple[StageChoice, ...]:
        """A reduction as the design tree has it; a freewheel sits at the last stage."""
        from dataclasses import replace

        if second < 0:
            return (replace(self.choices[first], freewheel=self.freewheel),)
        shared = count_index > 0 and self.sets[count_index] == 1.0
        return (self.choices[first], replace(self.choices[second], freewheel=self.freewheel, shared=shared))


def families_of(wishes: Wishes) -> tuple[str, ...]:
    """Belts, chains or both; a middle drive alone takes either to the crank."""
    chosen = tuple(kind for kind in ("belt", "chain") if kind in wishes.schools)
    return chosen or (("belt", "chain") if "middle" in wishes.schools and "direct" not in wishes.schools else ())


def make_stages(
    design: Design,
    stock: Catalogue,
    wishes: Wishes,
    owned: dict[str, int],
    usable: Callable[[Part], bool],
    named: set[str],
    *,
    counts: Sequence[int],
    together: Sequence[bool],
    radii: Sequence[float],
) -> Stages:
    """Every belt width, chain, driver and driven in stock.

    together: of each count whether the motors drive one shaft, so that they share a second stage; radii: of the wheels [m].
    """
    ids = {part_id: k for k, part_id in enumerate((*stock.rows(ToothedPart), *stock.rows(LoopPart)))}
    families = families_of(wishes)
    rows: list[list[float]] = []
    choices, chosen, reach, money = [], [], [], []
    for profile in cast("Sequence[ProfilePart]", list(stock.rows(ProfilePart).values())):
        if profile.kind not in families:
            continue
        for width in [float(w) for w in profile.widths_mm.split()] if profile.kind == "belt" else [None]:
            for driver, driven in _toothed(stock, wishes, profile, usable):
                stage = StageChoice(
                    kind=ReductionKind(profile.kind),
                    profile=profile.id,
                    driver_teeth=driver.teeth,
                    driven_teeth=driven.teeth,
                    width_mm=width,
                )
                made = stage_of(Reader(False), "x", stage, 1.0)
                rated = stage_ratings((stage,), (made,), 1, stock)
                capacity, lasting = (rated[0].peak_nm, rated[0].lasting_nm) if rated else (1e9, 1e9)
                bill = stage_parts(stage, 1, stock)
                loop = next((row for row in bill if row[0] in stock.rows(LoopPart)), None)
                rows.append(
                    [
                        made.ratio,
                        made.efficiency,
                        made.drag_nm,
                        min(capacity, 1e9),
                        float(SCHOOLS.index(profile.kind)),
                        ids[driver.id],
                        ids[driven.id],
                        ids[loop[0]] if loop else NO_PART,
                        loop[2] if loop else 0.0,
                        min(lasting, 1e9),
                    ]
                )
                choices.append(stage)
                chosen.append(driver.id in named or driven.id in named)
                reach.append((profile.pitch_mm * driven.teeth / math.tau + (profile.back_mm or 0.0)) / 1e3)
                money.append(bill)
    order = sorted(range(len(rows)), key=lambda k: rows[k][0])
    fits = [[radius - reach[k] >= wishes.gap_m(design.vehicle) for k in order] for radius in radii]
    sets = [1 if one else n for n, one in zip(counts, together, strict=True)]
    cost = lambda n, k: sum((n * per - min(n * per, owned.get(part, 0))) * price for part, _, per, _, price in money[k])
    kg = lambda n, k: sum(n * per * mass for _, _, per, mass, _ in money[k])
    by = lambda value, amounts: np.array([[value(n, k) for k in order] for n in amounts], dtype=float).reshape(len(counts), -1)
    every = {**stock.rows(ToothedPart), **stock.rows(LoopPart)}
    return Stages(
        table=np.array([rows[k] for k in order], dtype=float).reshape(-1, len(col.REDUCTION)),
        prices=by(cost, counts),
        masses=by(kg, counts),
        second_prices=by(cost, sets),
        second_masses=by(kg, sets),
        sets=np.array(sets, dtype=float),
        fits=np.array(fits, dtype=bool).reshape(len(radii), -1),
        chosen=np.array([chosen[k] for k in order], dtype=bool),
        owned=np.array([owned.get(part, 0) for part in ids], dtype=float),
        price=np.array([every[part].price for part in ids], dtype=float),
        choices=tuple(choices[k] for k in order),
        direct="direct" in wishes.schools and not named,
        two="two" in wishes.schools,
        wheel=any(school in wishes.schools for school in ("direct", "belt", "chain")),
        freewheel=any(stage.freewheel for stage in design.variant().stages),
        need=bool(named),
    )


def _toothed(stock: Catalogue, wishes: Wishes, profile: ProfilePart, usable: Callable[[Part], bool]):  # type: ignore[no-untyped-def]
    """(driver, driven) of a family that may be combined."""
    least = max(profile.least_teeth, wishes.least_driver or 0)
    drivens = [p for p in toothed(stock, profile.id, "driven") if usable(p) and p.teeth <= (wishes.most_driven or p.teeth)]
    for driver in toothed(stock, profile.id, "driver"):
        if driver.teeth >= least and usable(driver):
            yield from ((driver, driven) for driven in drivens if driven.teeth >= driver.teeth)
