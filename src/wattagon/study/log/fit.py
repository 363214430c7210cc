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
from wattagon.study.bands.errors import Wide, wide_inputs
from wattagon.study.drive.cases import gear_at
from wattagon.study.log.data import Floats, LogData
from wattagon.study.log.model import LEAST, NAMES, NOISE, Prepared, prepare, residuals, widths
from wattagon.study.log.ridden import as_ridden, seen, start_charge
from wattagon.study.log.unknowns import Unknown, changes_of, unknowns_of
from wattagon.study.resolve import Resolved, resolve
from wattagon.study.ride.inputs import plant_of

HUBER = 1.5
MOST_ROUNDS, CLOSE = 8, 0.01
DIFFERENCE = 0.05  # of a width, for derivatives
TOLD = 0.5  # widths: what is surer than this is told by the log, not by the design
HELD_OUT = 0.2
HANG = {"motion": 4.5}  # how far residuals of a channel usually hang together: noise of amps adds up to a walk of the speed
USUAL_COUNTS = 10.0
EQUATIONS = 0.03  # widths that the equations leave open, however much was measured
ALIKE = 0.5  # quantile over the unknowns of how far residuals hang together: the middle one
LEAST_ROWS, MOST_ROWS = 40, 9000
LEAST_SQUARES = 0.5  # of a width in all residuals together: what moves them less is left as it is
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


class _Problem:
    """Residuals of several logs over one vector: unknowns first, then the slips of each log."""

    def __init__(self, then: Sequence[tuple[Design, Prepared]], stock: Catalogue, unknowns: Sequence[Wide], asked: int) -> None:
        self.then, self.stock, self.unknowns, self.asked = then, stock, list(unknowns), asked
        self.slips = [(k, name, width) for k, (_, p) in enumerate(then) for name, width in widths(p).items()]
        self.noise = dict(NOISE)
        self.hang = {name: HANG.get(name, 1.0) for name in NAMES}  # so many residuals of a channel count as one
        at, clusters, use, held, channel = 0, [], [], [], []
        self.rows: list[tuple[int, str, int, int]] = []
        first = 0
        self.blocks = [max(math.ceil(p.speed.size * len(then) / MOST_ROWS), 1) for _, p in then]
        for k, (_, p) in enumerate(then):
            begins = np.arange(0, p.speed.size, self.blocks[k])
            for name in p.channels:
                n = begins.size
                self.rows.append((k, name, at, at + n))
                # a motion hangs together over its stretch, the others over a time
                hang = np.maximum(p.stretch, 0) if name == "motion" else p.cluster
                clusters.append(hang[begins] + first)
                use.append(p.use[begins])
                held.append(p.held[begins])
                channel.append(np.full(n, NAMES.index(name)))
                at += n
            first += max(int(p.cluster.max()), int(p.stretch.max(initial=0))) + 1
        self.size = at
        self.cluster = np.concatenate(clusters) if clusters else np.zeros(0, dtype=int)
        self.use, self.held = (np.concatenate(x) if x else np.zeros(0, dtype=bool) for x in (use, held))
        self.channel = np.concatenate(channel) if channel else np.zeros(0, dtype=int)
        self.order = np.argsort(self.cluster, kind="stable")
        self.starts = np.flatnonzero(np.diff(np.concatenate([[-1], self.cluster[self.order]])))

    def values(self, z: Floats) -> dict[str, float]:
        return {one.path: one.at(float(off)) for one, off in zip(self.unknowns, z, strict=False)}

    def one_log(self, k: int, shift: Mapping[str, float], slips: Mapping[str, float]) -> list[Floats]:
        design, p = self.then[k]
        resolved = gear_at(resolve(design, self.stock, shift=shift), 0.0) if shift else p.resolved
        found = residuals(p, resolved, dict(slips))
        return [_in_blocks(found[name], self.blocks[k]) for name in p.channels]

    def slips_of(self, z: Floats, k: int) -> dict[str, float]:
        n = len(self.unknowns)
        return {name: width * float(z[n + j]) for j, (log, name, width) in enumerate(self.slips) if log == k}

    def residual(self, z: Floats) -> Floats:
        shift = self.values(z)
        return np.concatenate([part for k in range(len(self.then)) for part in self.one_log(k, shift, self.slips_of(z, k))])

    def jacobian(self, z: Floats, r: Floats, old: Floats | None = None) -> Floats:
        """Derivatives (rows, unknowns + slips); those of what was not asked for are taken from an `old` one: they hardly move."""
        columns = []
        base = self.values(z)
        for j in range(len(self.unknowns)):
            if old is not None and j >= self.asked:
                columns.append(old[:, j])
                continue
            other = z.copy()
            other[j] += DIFFERENCE
            try:
                columns.append((self.residual(other) - r) / DIFFERENCE)
            except InputError:
                other[j] -= 2.0 * DIFFERENCE
                columns.append((r - self.residual(other)) / DIFFERENCE)
        for j, (log, _, _) in enumerate(self.slips):
            other = z.copy()
            other[len(self.unknowns) + j] += DIFFERENCE
            parts = self.one_log(log, base, self.slips_of(other, log))
            column = np.zeros(self.size)
            for (_, _, a, b), part in zip([row for row in self.rows if row[0] == log], parts, strict=True):
                column[a:b] = part - r[a:b]
            columns.append(column / DIFFERENCE)
        return np.column_stack(columns) if columns else np.zeros((self.size, 0))

    def set_noise(self, r: Floats) -> None:
        for code, name in enumerate(NAMES):
            some = r[(self.channel == code) & self.use & np.isfinite(r)]
            if some.size > 20:
                self.noise[name] = max(1.4826 * float(np.median(np.abs(some - np.median(some)))), LEAST[name])

    def scaled(self, r: Floats) -> tuple[Floats, Floats]:
        """(residuals in what counts as one, weights by noises), 0 where nothing is compared."""
        good = np.isfinite(r) & self.use
        u = np.where(good, r, 0.0) / _noise(self)
        with np.errstate(divide="ignore"):
            weight = np.where(good, np.minimum(1.0, HUBER / np.maximum(np.abs(u), 1e-12)), 0.0)
        return np.where(good, r, 0.0) / _scale(self), weight


def _in_blocks(values: Floats, size: int) -> Floats:
    """Means of so many values after one another; nan where none is known."""
    if size == 1:
        return values
    begins = np.arange(0, values.size, size)
    good = np.isfinite(values)
    count = np.add.reduceat(good.astype(float), begins)
    with np.errstate(invalid="ignore", divide="ignore"):
        return np.add.reduceat(np.where(good, values, 0.0), begins) / count


def _solve(
    problem: _Problem, prior: Floats, z: Floats, cancelled: Callable[[], bool], progress: Callable[[float], None], J: Floats | None = None
) -> tuple[Floats, Floats, Floats]:
    """(z, residuals, derivatives) at the least of the weighted squares; `prior` is 1 where the design's own width counts, else 0."""
    n = prior.size
    r = problem.residual(z)
    if J is None:
        J = problem.jacobian(z, r)
    for turn in range(MOST_ROUNDS):
        if cancelled():
            break
        problem.set_noise(r)
        if 0 < turn < 3:
            _set_hang(problem, r, J)
        u, weight = problem.scaled(r)
        D = np.where(np.isfinite(J), J, 0.0) / _scale(problem)[:, None]
        H = D.T @ (D * weight[:, None]) + np.diag(prior) + 1e-9 * np.eye(n)
        g = D.T @ (weight * u) + prior * z
        step = -np.linalg.solve(H, g)
        step *= min(1.0, 3.0 / max(float(np.max(np.abs(step))), 1e-12))
        for _ in range(6):
            try:
                fresh = problem.residual(z + step)
                break
            except InputError:
                step *= 0.4
        else:
            break
        z, r = z + step, fresh
        progress((turn + 1) / MOST_ROUNDS)
        far = float(np.max(np.abs(step)))
        if far < CLOSE:
            break
        if far > 0.25 and turn < 3:
            J = problem.jacobian(z, r, J)
    problem.set_noise(r)
    _set_hang(problem, r, J)
    return z, r, J


def _noise(problem: _Problem) -> Floats:
    return np.array([problem.noise[name] for name in NAMES])[problem.channel]


def _scale(problem: _Problem) -> Floats:
    """What counts as one residual on its own: the noise, wider where residuals hang together."""
    return np.array([problem.noise[name] * math.sqrt(problem.hang[name]) for name in NAMES])[problem.channel]


def _set_hang(problem: _Problem, r: Floats, J: Floats) -> None:
    """How far the residuals of each channel hang together, by the spread of their gradient over clusters.

    The middle over the unknowns of that spread over the one of independent residuals.  Few clusters tell little of it: the freedoms that
    went into the fit are taken off, and what is usual counts as so many more.
    """
    u, weight = problem.scaled(r)
    D = np.where(np.isfinite(J), J, 0.0) / _scale(problem)[:, None]
    parts = []
    for code in np.unique(problem.channel):
        rows = np.flatnonzero((problem.channel == code) & (weight > 0.0))
        if rows.size >= 8:
            part = D[rows]
            parts.append((NAMES[code], rows, part, part.T @ (part * weight[rows][:, None])))
    if not parts:
        return
    inverse = np.linalg.inv(np.sum([own for _, _, _, own in parts], axis=0) + np.eye(D.shape[1]))
    made = dict(problem.hang)
    for name, rows, part, own in parts:
        w, left = weight[rows], u[rows]
        scores = part * (w * left)[:, None]
        _, where = np.unique(problem.cluster[rows], return_inverse=True)
        order = np.argsort(where, kind="stable")
        sums = np.add.reduceat(scores[order], np.flatnonzero(np.diff(np.concatenate([[-1], where[order]]))), axis=0)
        many = sums.shape[0]
        fitted = float(np.trace(own @ inverse))
        by_cluster = many / max(many - fitted, 0.25 * many, 0.5) * np.sum(sums**2, axis=0)
        size = np.diag(own)
        felt = size > max(1e-6 * float(size.max()), 1e-9)
        # both are in the scale that held till now
        factor = problem.hang[name] * float(np.quantile(by_cluster[felt] / size[felt], ALIKE)) if felt.any() else 1.0
        free, usual = max(many - fitted, 0.0), HANG.get(name, 1.0)
        factor = (free * factor + USUAL_COUNTS * usual) / (free + USUAL_COUNTS)
        made[name] = max(factor, problem.hang[name] * float(np.mean(w * left**2)), 0.5)
    problem.hang = made


def _information(problem: _Problem, r: Floats, J: Floats) -> Floats:
    """What the residuals tell (n, n), each counted for as much as it tells on its own."""
    _, weight = problem.scaled(r)
    D = np.where(np.isfinite(J), J, 0.0) / _scale(problem)[:, None]
    return D.T @ (D * weight[:, None])


def _covariance(told: Floats, prior: Floats) -> Floats:
    """Covariance, what is held by its width counting with it."""
    own = np.linalg.pinv(told + np.diag(prior), rcond=1e-12, hermitian=True)
    return 0.5 * (own + own.T)


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
    problem, J = _moving_only(_Problem(then, stock, [*every, *rest], len(every)))
    size = len(problem.unknowns) + len(problem.slips)
    z, r, J = _solve(problem, np.ones(size), np.zeros(size), cancelled, lambda share: progress(0.7 * share), J)
    chosen, why, joint = _tellable(problem, r, J, teachable)
    rank, condition = _rank(joint)
    prior = np.ones(size)
    prior[chosen] = 0.0
    z, r, J = _solve(problem, prior, z, cancelled, lambda share: progress(0.7 + 0.3 * share), J)
    total = _covariance(_information(problem, r, J), prior)[np.ix_(chosen, chosen)]
    sd = np.sqrt(np.maximum(np.diag(total), 0.0))
    with np.errstate(invalid="ignore", divide="ignore"):
        corr = total / np.outer(sd, sd)
    sd = np.hypot(sd, EQUATIONS)
    slips = problem.slips_of(z, 0)
    z = z[chosen] if chosen else np.zeros(0)
    parameters = _parameters(asked, teachable, chosen, why, z, sd, corr)
    residual, held = _rms(problem, r)
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
    problem, J = _moving_only(_Problem(then, stock, [*(one.wide for one in teachable), *rest], len(teachable)))
    D = np.where(np.isfinite(J) & problem.use[:, None], J, 0.0) / _scale(problem)[:, None]
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


def _moving_only(problem: _Problem) -> tuple[_Problem, Floats]:
    """The same without inputs that hardly move a residual, with its derivatives at the beginning; those that are asked for stay."""
    z = np.zeros(len(problem.unknowns) + len(problem.slips))
    r = problem.residual(z)
    J = problem.jacobian(z, r)
    D = np.where(np.isfinite(J) & problem.use[:, None], J, 0.0) / _scale(problem)[:, None]
    sizes = np.sum(D**2, axis=0)
    kept = [k for k in range(z.size) if k < problem.asked or k >= len(problem.unknowns) or sizes[k] > LEAST_SQUARES]
    some = [problem.unknowns[k] for k in kept if k < len(problem.unknowns)]
    made = _Problem(problem.then, problem.stock, some, problem.asked)
    return made, J[:, kept]


def _tellable(problem: _Problem, r: Floats, J: Floats, teachable: Sequence[Unknown]) -> tuple[list[int], dict[int, str], Floats]:
    """(places of the unknowns that are told, why the others are not, covariance of all of them together)."""
    n = len(teachable)
    why: dict[int, str] = {}
    moved = [_moves(problem, J[:, k]) for k in range(n)]
    chosen = [k for k in range(n) if moved[k]]
    for k in range(n):
        if not moved[k]:
            why[k] = f"nothing in this log depends on it: {teachable[k].row.ride}"
    joint, told = np.zeros((0, 0)), _information(problem, r, J)
    while chosen:
        prior = np.ones(J.shape[1])
        prior[chosen] = 0.0
        cov = _covariance(told, prior)[np.ix_(chosen, chosen)]
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


def _moves(problem: _Problem, column: Floats) -> bool:
    good = np.isfinite(column) & problem.use
    return bool(good.any()) and float(np.max(np.abs(column[good]) / _scale(problem)[good])) > 1e-6


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


def _rms(problem: _Problem, r: Floats) -> tuple[float, float]:
    u = r / _noise(problem)
    of = lambda mask: float(np.sqrt(np.mean(u[mask & np.isfinite(u)] ** 2))) if (mask & np.isfinite(u)).any() else math.nan
    return of(problem.use), of(problem.held)


def _tests(problem: _Problem, r: Floats) -> tuple[Test, ...]:
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
