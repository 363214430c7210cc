"""Causes, how usual each is for a symptom, what of the studies speaks for it, and what cures it.

Weights are how often makers find it (typical, most common first); what this design says of it moves them.  The table is
`stock/trouble/causes.csv`.
"""

from __future__ import annotations

import csv
import functools
from collections.abc import Mapping
from pathlib import Path
from typing import NamedTuple

from wattagon.design.tree import BuildPart

FOLDER = Path(__file__).resolve().parents[2] / "stock" / "trouble"


class Cause(NamedTuple):
    """One cause.  `findings` are beginnings of codes, `steps` of commissioning; `fault` is that of the test stand."""

    code: str
    name: str
    part: BuildPart
    symptoms: Mapping[str, float]
    cure: str
    findings: tuple[str, ...]
    steps: tuple[str, ...]
    fault: str
    on: str  # wheels or water, where it can only be there
    needs: str  # loop, pair (of motors), hall, radio, printed, bike


@functools.cache
def causes() -> Mapping[str, Cause]:
    """All of them by their codes."""
    made = {}
    for row in rows("causes.csv"):
        made[row["id"]] = Cause(
            code=row["id"],
            name=row["name"],
            part=BuildPart(row["part"]),
            symptoms={name: float(weight) for name, weight in (pair.split(":") for pair in row["symptoms"].split())},
            cure=row["cure"],
            findings=tuple(row["findings"].split()),
            steps=tuple(row["steps"].split()),
            fault=row["fault"],
            on=row["on"],
            needs=row["needs"],
        )
    return made


def rows(name: str) -> list[dict[str, str]]:
    """Rows of one of the tables of trouble, notes left out."""
    text = (FOLDER / name).read_text(encoding="utf-8")
    return list(csv.DictReader(line for line in text.splitlines() if not line.startswith("#")))
