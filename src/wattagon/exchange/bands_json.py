"""Bands as JSON."""

from __future__ import annotations

from typing import Any

from wattagon.study.bands.weigh import Weighed


def bands_data(found: Weighed) -> dict[str, Any]:
    """What `bands --json` prints; SI, shares of the variance."""
    return {
        "goals": [
            {
                "code": one.result.goal.id,
                "reached": one.band.value,
                "low": one.band.low,
                "high": one.band.high,
                "likely": one.likely,
                "unit": one.result.unit,
                **({"flip": {"path": one.flip.path, "value": one.flip.value}} if one.flip is not None else {}),
            }
            for one in found.goals
        ],
        "next": [
            {
                "path": one.path,
                "name": one.name,
                "share": one.share,
                "goal": one.goal,
                "leaves_share": one.leaves,
                "how": one.how,
                "minutes": one.minutes,
                "tool": one.tool,
            }
            for one in found.next
        ],
        "inputs": [{"path": one.path, "value": one.value, "error": one.width} for one in found.found.inputs],
        "refused": found.found.refused,
    }
