"""Bands from a few hundred even samples against those from 20,000 random ones, over random designs.

Run: .venv/bin/python benchmarks/bands.py [DESIGNS].  Prints the errors of both ends as shares of the band's width, and the seconds.
"""

from __future__ import annotations

import sys
import time
from pathlib import Path

import numpy as np

sys.path.insert(0, str(Path(__file__).resolve().parent.parent))

from tests.random_designs import random_design

from wattagon.design import catalogue
from wattagon.errors import WattagonError
from wattagon.study.bands.bands import band, goals_reached
from wattagon.study.bands.errors import wide_inputs
from wattagon.study.resolve import resolve

MANY, CHUNK = 20_000, 2_000


def worst_errors(seed: int, stock: catalogue.Catalogue) -> tuple[list[float], float, float] | None:
    """(errors of the ends over the width, seconds of the few, seconds of the many) of one design; None where it cannot be solved."""
    design = random_design(seed, stock)
    if not design.brief.goals:
        return None
    try:
        inputs = wide_inputs(resolve(design, stock, note=True).inputs)
        start = time.perf_counter()
        few = band(design, stock, goals_reached)
        quick = time.perf_counter() - start
    except WattagonError:
        return None
    rng, start = np.random.default_rng(seed), time.perf_counter()
    parts = [band(design, stock, goals_reached, draws=rng.standard_normal((CHUNK, len(inputs)))).samples for _ in range(0, MANY, CHUNK)]
    found, slow = np.concatenate(parts), time.perf_counter() - start
    errors = []
    for k, one in enumerate(few.bands):
        values = found[:, k][~np.isnan(found[:, k])]
        if not values.size or not np.isfinite(values).all():
            continue
        low, high = np.quantile(values, (1 / 6, 5 / 6))
        if high - low > 1e-6 * max(abs(high), 1e-9):
            errors += [abs(one.low - low) / (high - low), abs(one.high - high) / (high - low)]
    return errors, quick, slow


def main() -> int:
    stock, wanted = catalogue.load(), int(sys.argv[1]) if len(sys.argv) > 1 else 20
    errors: list[float] = []
    quick, slow, seed, made = 0.0, 0.0, 0, 0
    while made < wanted:
        seed += 1
        found = worst_errors(seed, stock)
        if found is not None:
            made += 1
            errors += found[0]
            quick, slow = quick + found[1], slow + found[2]
            print(f"{made} of {wanted}: worst {max(found[0], default=0.0):.3f}", file=sys.stderr, flush=True)
    error = np.array(errors)
    print(f"{made} designs, {len(error)} ends of bands")
    print(f"error over the width: median {np.median(error):.3f}, 95 % {np.quantile(error, 0.95):.3f}, worst {error.max():.3f}")
    print(f"beyond a tenth of the width: {int((error > 0.1).sum())}")
    print(f"seconds a design: {quick / made:.2f} against {slow / made:.2f}")
    return 0


if __name__ == "__main__":
    sys.exit(main())
