"""What logs teach: values of the design by robust least squares, how sure each is, and which cannot be told.

Unknowns count in widths of what the design knows of them, so that 1 is as far off as it admits.  Slips of a log of its own (its zero
points, its slope, its wind, its charge) and the inputs that are not asked for are fitted along, held by their widths; so is what the log
cannot tell.  What it tells stands on the log alone.  Residuals that hang together count as fewer, in the fit and in its errors.
Sources: Huber 1964 (weights), White 1980 and Liang and Zeger 1986 (errors by clusters).
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace

import numpy as np

from wattagon.design.catalogue import Catalogue
from wattagon.design.paths import Edit
from wattagon.design.tree import Design
from wattagon.errors import InputError
from wattagon.record import record
from wattagon.study.bands.errors import wide_inputs
from wattagon.study.drive.cases import gear_at
from wattagon.study.log.data import Floats, LogData
from wattagon.study.log.model import NAMES, Prepared, prepare
from wattagon.study.log.ridden import as_ridden, seen, start_charge
from wattagon.study.log.solve import Problem, covariance, information, moves, moving_only, rms_of, scale_of, solve
from wattagon.study.log.unknowns import Unknown, changes_of, unknowns_of
from wattagon.study.resolve import Resolved, resolve
from wattagon.study.ride.inputs import plant_of

TOLD = 0.5  # widths: what is surer than this is told by the log, not by the design
HELD_OUT = 0.2
EQUATIONS = 0.015  # widths that the equations leave open, however much was measured
LEAST_ROWS = 40
BIKE_GEARS = "drives through the bike's own gears: which gear it was in is not in the log, so motion teaches nothing"
SKIP = (
    "brief.conditions.headwind",
    "brief.conditions.pack_temperature",
    "vehicle.cm_behind_front",
    "vehicle.cm_height",
    "vehicle.wheelbase",
    "vehicle.grip",
)


@record(frozen=True, slots=True, kw_only=True)
class Parameter:
    """One value before and after; `why` tells what keeps it from being told."""

    unknown: Unknown
    before: float
    width: float
    after: float
    error: float  # standard error; nan where it is not told
    correlation: float  # the strongest with another
    against: str  # path of that other
    identifiable: bool
    why: str = ""

    @property
    def path(self) -> str:
        return self.unknown.path


@record(frozen=True, slots=True, kw_only=True)
class Test:
    """One look at what is left over in a channel."""

    channel: str
    rms: float  # SI
    held_out_rms: float
    noise: float
    alike: float  # correlation of one cluster's mean with the next
    with_speed: float  # correlation with the square of speed
    with_time: float


@record(frozen=True, slots=True, kw_only=True)
class Fit:
    """What some logs teach of one variant."""

    design: Design
    logs: tuple[str, ...]
    date: str
    resolved: Resolved
    parameters: tuple[Parameter, ...]
    correlations: Floats  # of those that are told, in their order
    residual_rms: float  # in noises of each channel
    held_out_rms: float
    rank: int
    asked: int
    condition: float
    tests: tuple[Test, ...]
    slips: Mapping[str, float]  # of the first log, SI
    samples: int
    told: tuple[str, ...]

    def shift(self) -> dict[str, float]:
        """What is told, by the paths under which inputs are noted."""
        return {one.unknown.at: one.after for one in self.parameters if one.identifiable}

    def edit(self, paths: Sequence[str] | None = None) -> Edit:
        """What is told, taken into the design as fitted values.  Raises InputError for one that is not."""
        names = {one.path: one for one in self.parameters}
        for path in paths or ():
            if path not in names:
                raise InputError("path", path, ", ".join(names))
            if not names[path].identifiable:
                raise InputError("path", path, f"what this log tells; {names[path].why}")
        chosen = [one for one in self.parameters if one.identifiable and (paths is None or one.path in paths)]
        if not chosen:
            raise InputError("fit", "nothing that this log tells", f"a log that tells more: {self.told[0] if self.told else ''}")
        note = f"from log {', '.join(self.logs)}"
        changes: dict[str, object] = {}
        for one in chosen:
            base = self.design
            for path, value in changes_of(_with(base, changes), self.resolved, one.unknown, one.after, one.error, self.date, note):
                changes[path] = value
        return Edit(
            label=f"Taken from {', '.join(self.logs)}: {', '.join(one.unknown.row.words for one in chosen)}", changes=tuple(changes.items())
        )


def _with(design: Design, changes: Mapping[str, object]) -> Design:
    from wattagon.design.paths import put

    for path, value in changes.items():
        if path.endswith("battery.bricks"):
            design = put(design, path, value)
    return design


def fit(
    design: Design,
    stock: Catalogue,
    datas: Sequence[LogData],
    *,
    only: Sequence[str] | None = None,
    held_out: float = HELD_OUT,
    cancelled: Callable[[], bool] = lambda: False,
    progress: Callable[[float], None] = lambda share: None,
) -> Fit:
    """Learn from logs of one variant.  `only`: paths of the unknowns to ask for; all that they may teach without it.

    Raises InputError: logs of several variants, without anything to compare, or a set of `only` of which none can be told.
    """
    if not datas:
        raise InputError("logs", "none", "one log or more")
    variants = {data.log.variant or design.variant().id for data in datas}
    if len(variants) > 1:
        raise InputError("logs", f"of the variants {', '.join(sorted(variants))}", "logs of one variant")
    for data in datas:
        if data.doubts:
            raise InputError(
                f"log {data.log.id}", data.doubts[0], "a log whose columns agree with each other: map them with their units first"
            )
    then, resolved, told = _prepared(design, stock, datas, held_out)
    have = {name for _, p in then for name in p.channels}
    asked = [one for one in unknowns_of(resolved) if only is None or one.path in only or one.at in only]
    if only is not None:
        named = {one.path for one in asked} | {one.at for one in asked}
        missing = [path for path in only if path not in named]
        if missing:
            raise InputError("unknown", missing[0], ", ".join(one.path for one in unknowns_of(resolved)))
    teachable = [one for one in asked if any(channel in have for channel in one.row.channels)]
    usable = sum(int((np.isfinite(p.speed) & p.use).sum()) for _, p in then)
    if not have or usable < LEAST_ROWS or not teachable:
        lacking = "motor amps, or pack amps with volts, beside a speed or turns"
        raise InputError("log", f"{', '.join(data.log.id for data in datas)} with nothing to compare", f"a log with {lacking}")
    every = [one.wide for one in teachable]
    paths = {one.path for one in every}
    rest = [one for one in wide_inputs(resolved.inputs) if one.path not in paths and one.path not in SKIP]
    problem, J = moving_only(Problem(then, stock, [*every, *rest], len(every)))
    size = len(problem.unknowns) + len(problem.slips)
    z, r, J = solve(problem, np.ones(size), np.zeros(size), cancelled, lambda share: progress(0.7 * share), J)
    chosen, why, joint = _tellable(problem, r, J, teachable)
    rank, condition = _rank(joint)
    prior = np.ones(size)
    prior[chosen] = 0.0
    z, r, J = solve(problem, prior, z, cancelled, lambda share: progress(0.7 + 0.3 * share), J)
    total = covariance(information(problem, r, J), prior)[np.ix_(chosen, chosen)]
    sd = np.sqrt(np.maximum(np.diag(total), 0.0))
    with np.errstate(invalid="ignore", divide="ignore"):
        corr = total / np.outer(sd, sd)
    sd = np.hypot(sd, EQUATIONS)
    slips = problem.slips_of(z, 0)
    z = z[chosen] if chosen else np.zeros(0)
    parameters = _parameters(asked, teachable, chosen, why, z, sd, corr)
    residual, held = rms_of(problem, r)
    if any(getattr(p.resolved, "gear", 0) for _, p in then):
        told.append(BIKE_GEARS)
    if not chosen:
        told.insert(0, "nothing of what was asked can be told from this")
    return Fit(
        design=design,
        logs=tuple(data.log.id for data in datas),
        date=max((data.log.date for data in datas), default=""),
        resolved=resolved,
        parameters=parameters,
        correlations=corr,
        residual_rms=residual,
        held_out_rms=held,
        rank=rank,
        asked=len(teachable),
        condition=condition,
        tests=_tests(problem, r),
        slips=slips,
        samples=usable,
        told=tuple(told),
    )


def expected_widths(design: Design, stock: Catalogue, data: LogData) -> dict[str, float]:
    """How sure a log would make each unknown, in widths of what the design knows, by the path of its input; usual noise is supposed."""
    then, resolved, _ = _prepared(design, stock, [data], 0.0)
    have = then[0][1].channels
    teachable = [one for one in unknowns_of(resolved) if any(channel in have for channel in one.row.channels)]
    paths = {one.wide.path for one in teachable}
    rest = [one for one in wide_inputs(resolved.inputs) if one.path not in paths and one.path not in SKIP]
    problem, J = moving_only(Problem(then, stock, [*(one.wide for one in teachable), *rest], len(teachable)))
    D = np.where(np.isfinite(J) & problem.use[:, None], J, 0.0) / scale_of(problem)[:, None]
    cov = np.linalg.inv(D.T @ D + np.eye(D.shape[1]))
    held = np.clip(np.diag(cov), 1e-12, 1.0 - 1e-9)
    # without what the design knew of it beforehand
    return {one.at: float(math.sqrt(held[k] / (1.0 - held[k]))) for k, one in enumerate(teachable)}


def _prepared(
    design: Design, stock: Catalogue, datas: Sequence[LogData], held_out: float
) -> tuple[list[tuple[Design, Prepared]], Resolved, list[str]]:
    then: list[tuple[Design, Prepared]] = []
    told: list[str] = []
    first: Resolved | None = None
    for data in datas:
        own, said = as_ridden(design, data.log)
        resolved = gear_at(resolve(own, stock, note=True), 0.0)
        resolved = resolved if resolved.inputs else replace(resolved, inputs=resolve(own, stock, note=True).inputs)
        ridden = seen(data, own, resolved, rides=False)
        charge, width, _ = start_charge(ridden, resolved, own)
        plant, _ = plant_of(own, resolved)
        then.append((own, prepare(ridden, resolved, charge, width, held_out, (plant.pack_j, plant.pack_w_per_k))))
        told += [f"log {data.log.id}: {words}" for words in ([said] if said else []) + list(ridden.told)]
        first = first or resolved
    assert first is not None
    return then, first, told


def _tellable(problem: Problem, r: Floats, J: Floats, teachable: Sequence[Unknown]) -> tuple[list[int], dict[int, str], Floats]:
    """(places of the unknowns that are told, why the others are not, covariance of all of them together)."""
    n = len(teachable)
    why: dict[int, str] = {}
    moved = [moves(problem, J[:, k]) for k in range(n)]
    chosen = [k for k in range(n) if moved[k]]
    for k in range(n):
        if not moved[k]:
            why[k] = f"nothing in this log depends on it: {teachable[k].row.ride}"
    joint, told = np.zeros((0, 0)), information(problem, r, J)
    while chosen:
        prior = np.ones(J.shape[1])
        prior[chosen] = 0.0
        cov = covariance(told, prior)[np.ix_(chosen, chosen)]
        if not joint.size:
            joint = cov
        sd = np.sqrt(np.maximum(np.diag(cov), 0.0))
        if float(sd.max()) <= TOLD:
            break
        worst = int(np.argmax(sd))
        k = chosen[worst]
        why[k] = _reason(teachable, chosen, worst, cov, sd)
        chosen.remove(k)
    return chosen, why, joint


def _reason(teachable: Sequence[Unknown], chosen: Sequence[int], worst: int, cov: Floats, sd: Floats) -> str:
    own = teachable[chosen[worst]].row
    with np.errstate(invalid="ignore", divide="ignore"):
        corr = np.abs(cov[worst] / (sd[worst] * np.where(np.isfinite(sd), sd, np.inf)))
    corr[worst] = 0.0
    other = int(np.argmax(np.nan_to_num(corr)))
    if corr[other] > 0.7:
        return f"this log cannot tell {own.words} from {teachable[chosen[other]].row.words}: {own.ride}"
    return f"this log tells it to {sd[worst]:.1f} times what the design already knows: {own.ride}"


def _rank(cov: Floats) -> tuple[int, float]:
    """(directions that are told better than the design knows them, condition) of all unknowns together."""
    if not cov.size:
        return 0, math.nan
    values = np.linalg.eigvalsh(0.5 * (cov + cov.T))
    spread = np.sqrt(np.maximum(values, 1e-18))
    return int((spread <= TOLD).sum()), float(spread.max() / spread.min())


def _parameters(
    asked: Sequence[Unknown],
    teachable: Sequence[Unknown],
    chosen: Sequence[int],
    why: Mapping[int, str],
    z: Floats,
    sd: Floats,
    corr: Floats,
) -> tuple[Parameter, ...]:
    made = []
    for one in asked:
        wide = one.wide
        place = next((k for k, other in enumerate(teachable) if other is one), None)
        if place is not None and place in chosen:
            k = list(chosen).index(place)
            after = wide.at(float(z[k]))
            error = float(sd[k]) * abs(wide.at(float(z[k]) + 0.5) - wide.at(float(z[k]) - 0.5))
            others = np.abs(corr[k]).copy() if corr.size else np.zeros(0)
            if others.size > 1:
                others[k] = -1.0
                most = int(np.argmax(np.nan_to_num(others, nan=-1.0)))
                strongest, against = float(corr[k][most]), teachable[chosen[most]].path
            else:
                strongest, against = 0.0, ""
            made.append(
                Parameter(
                    unknown=one,
                    before=wide.value,
                    width=wide.width,
                    after=after,
                    error=error,
                    correlation=strongest,
                    against=against,
                    identifiable=True,
                )
            )
            continue
        reason = why.get(place, "") if place is not None else f"the log has no column that tells it: {one.row.ride}"
        made.append(
            Parameter(
                unknown=one,
                before=wide.value,
                width=wide.width,
                after=wide.value,
                error=math.nan,
                correlation=math.nan,
                against="",
                identifiable=False,
                why=reason,
            )
        )
    return tuple(made)


def _tests(problem: Problem, r: Floats) -> tuple[Test, ...]:
    made = []
    for code, name in enumerate(NAMES):
        of = problem.channel == code
        good = of & problem.use & np.isfinite(r)
        if good.sum() < 20:
            continue
        speed = np.concatenate([problem.then[k][1].speed[:: problem.blocks[k]] for k, channel, _, _ in problem.rows if channel == name])
        values, where = r[good], problem.cluster[good]
        means = np.bincount(where, values) / np.maximum(np.bincount(where), 1)
        full = np.bincount(where) > 0
        means = means[full]
        held = of & problem.held & np.isfinite(r)
        made.append(
            Test(
                channel=name,
                rms=float(np.sqrt(np.mean(values**2))),
                held_out_rms=float(np.sqrt(np.mean(r[held] ** 2))) if held.any() else math.nan,
                noise=problem.noise[name],
                alike=_corr(means[1:], means[:-1]),
                with_speed=_corr(values, speed[(problem.use & np.isfinite(r))[of]] ** 2),
                with_time=_corr(values, np.arange(values.size, dtype=float)),
            )
        )
    return tuple(made)


def _corr(a: Floats, b: Floats) -> float:
    if a.size < 4 or a.std() < 1e-12 or b.std() < 1e-12:
        return math.nan
    return float(np.corrcoef(a, b)[0, 1])
