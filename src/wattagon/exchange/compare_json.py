"""A comparison as JSON."""

from __future__ import annotations

from typing import Any

from wattagon.design.dimensions import DIMENSIONS
from wattagon.study.compare.compare import Compared, Line


def compare_data(found: Compared) -> dict[str, Any]:
    """What `compare --json` prints: SI, a value of each side in the order of `sides`."""
    return {
        "sides": [{"code": one.code, "name": one.name} for one in found.sides],
        "parts": [{"code": line.code, "parts": list(line.texts)} for line in found.parts],
        "figures": [_line(line) for line in found.figures],
        "differs": [_line(line) for line in found.inputs],
        "goals": [
            {
                "code": line.goal.id,
                "target": next(one.target for one in line.results if one is not None),
                "unit": next(one.unit for one in line.results if one is not None),
                "reached": [one.reached if one is not None else None for one in line.results],
                "margin": [one.margin if one is not None else None for one in line.results],
                "met": [one.met if one is not None else None for one in line.results],
            }
            for line in found.goals
        ],
        "findings": [
            {
                "code": line.code,
                "statuses": [str(one.status) if one is not None else "none" for one in line.found],
                "titles": [one.title if one is not None else "" for one in line.found],
            }
            for line in found.findings
        ],
    }


def _line(line: Line) -> dict[str, Any]:
    best = {"best": line.best} if line.best >= 0 else {}
    return {"code": line.code, "name": line.name, "unit": DIMENSIONS[line.dimension].si, "values": list(line.values), **best}
