"""Weighted least squares over the residuals of several logs: robust, and knowing how far residuals hang together.

One vector of unknowns in widths of what the design knows, then the slips of each log in theirs.
Sources: Huber 1964 (weights), White 1980 and Liang and Zeger 1986 (spread by clusters).
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence

import numpy as np

from wattagon.design.catalogue import Catalogue
from wattagon.design.tree import Design
from wattagon.errors import InputError
from wattagon.study.bands.errors import Wide
from wattagon.study.drive.cases import gear_at
from wattagon.study.log.data import Floats
from wattagon.study.log.model import LEAST, NAMES, NOISE, Prepared, residuals, widths
from wattagon.study.resolve import resolve

HUBER = 1.5
MOST_ROUNDS, CLOSE = 8, 0.01
DIFFERENCE = 0.05  # of a width, for derivatives
HANG = {"motion": 4.5}  # how far residuals of a channel usually hang together: noise of amps adds up to a walk of the speed
USUAL_COUNTS = 10.0
ALIKE = 0.5  # quantile over the unknowns of how far residuals hang together: the middle one
LEAST_SQUARES = 0.5  # of a width in all residuals together: what moves them less is left as it is
MOST_ROWS = 9000


class Problem:
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
        u = np.where(good, r, 0.0) / noise_of(self)
        with np.errstate(divide="ignore"):
            weight = np.where(good, np.minimum(1.0, HUBER / np.maximum(np.abs(u), 1e-12)), 0.0)
        return np.where(good, r, 0.0) / scale_of(self), weight


def _in_blocks(values: Floats, size: int) -> Floats:
    """Means of so many values after one another; nan where none is known."""
    if size == 1:
        return values
    begins = np.arange(0, values.size, size)
    good = np.isfinite(values)
    count = np.add.reduceat(good.astype(float), begins)
    with np.errstate(invalid="ignore", divide="ignore"):
        return np.add.reduceat(np.where(good, values, 0.0), begins) / count


def solve(
    problem: Problem, prior: Floats, z: Floats, cancelled: Callable[[], bool], progress: Callable[[float], None], J: Floats | None = None
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
            set_hang(problem, r, J)
        u, weight = problem.scaled(r)
        D = np.where(np.isfinite(J), J, 0.0) / scale_of(problem)[:, None]
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
    set_hang(problem, r, J)
    return z, r, J


def noise_of(problem: Problem) -> Floats:
    return np.array([problem.noise[name] for name in NAMES])[problem.channel]


def scale_of(problem: Problem) -> Floats:
    """What counts as one residual on its own: the noise, wider where residuals hang together."""
    return np.array([problem.noise[name] * math.sqrt(problem.hang[name]) for name in NAMES])[problem.channel]


def set_hang(problem: Problem, r: Floats, J: Floats) -> None:
    """How far the residuals of each channel hang together, by the spread of their gradient over clusters.

    The middle over the unknowns of that spread over the one of independent residuals.  Few clusters tell little of it: the freedoms that
    went into the fit are taken off, and what is usual counts as so many more.
    """
    u, weight = problem.scaled(r)
    D = np.where(np.isfinite(J), J, 0.0) / scale_of(problem)[:, None]
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


def information(problem: Problem, r: Floats, J: Floats) -> Floats:
    """What the residuals tell (n, n), each counted for as much as it tells on its own."""
    _, weight = problem.scaled(r)
    D = np.where(np.isfinite(J), J, 0.0) / scale_of(problem)[:, None]
    return D.T @ (D * weight[:, None])


def covariance(told: Floats, prior: Floats) -> Floats:
    """Covariance, what is held by its width counting with it."""
    own = np.linalg.pinv(told + np.diag(prior), rcond=1e-12, hermitian=True)
    return 0.5 * (own + own.T)


def moving_only(problem: Problem) -> tuple[Problem, Floats]:
    """The same without inputs that hardly move a residual, with its derivatives at the beginning; those that are asked for stay."""
    z = np.zeros(len(problem.unknowns) + len(problem.slips))
    r = problem.residual(z)
    J = problem.jacobian(z, r)
    D = np.where(np.isfinite(J) & problem.use[:, None], J, 0.0) / scale_of(problem)[:, None]
    sizes = np.sum(D**2, axis=0)
    kept = [k for k in range(z.size) if k < problem.asked or k >= len(problem.unknowns) or sizes[k] > LEAST_SQUARES]
    some = [problem.unknowns[k] for k in kept if k < len(problem.unknowns)]
    made = Problem(problem.then, problem.stock, some, problem.asked)
    return made, J[:, kept]


def moves(problem: Problem, column: Floats) -> bool:
    good = np.isfinite(column) & problem.use
    return bool(good.any()) and float(np.max(np.abs(column[good]) / scale_of(problem)[good])) > 1e-6


def rms_of(problem: Problem, r: Floats) -> tuple[float, float]:
    u = r / noise_of(problem)
    of = lambda mask: float(np.sqrt(np.mean(u[mask & np.isfinite(u)] ** 2))) if (mask & np.isfinite(u)).any() else math.nan
    return of(problem.use), of(problem.held)
