"""Logs, comparisons and fits as the terminal tells them."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Any

from wattagon.design.tree import Log
from wattagon.exchange.log.propose import Proposed
from wattagon.study.log.channels import words_of
from wattagon.study.log.compare import Comparison, Explains
from wattagon.study.log.data import LogData, distance_m, energy_wh
from wattagon.study.log.fit import Fit
from wattagon.study.log.model import WORDS


def log_data(log: Log, data: LogData | None, proposed: Sequence[Proposed] = ()) -> dict[str, Any]:
    """What `log show` tells."""
    how = {one.column.head: one.how for one in proposed}
    made: dict[str, Any] = {
        "id": log.id,
        "kind": log.kind.value,
        "source": log.source,
        "hash": log.hash or None,
        "date": log.date or None,
        "variant": log.variant,
        "version": log.version,
        "samples": data.samples if data is not None else len(log.runs),
        "seconds": data.seconds if data is not None else math.nan,
        "distance_m": distance_m(data) if data is not None else math.nan,
        "energy_wh": energy_wh(data) if data is not None else log.energy_wh,
        "columns": [
            {"head": one.head, "channel": one.channel or None, "unit": one.unit or None, "how": how.get(one.head, "told")}
            for one in log.columns
        ]
        if log.columns
        else [{"head": name, "channel": name, "unit": None, "how": "track"} for name in (data.columns if data is not None else ())],
        "told": list(data.told) if data is not None else [],
    }
    if log.runs:
        made["runs"] = [{"from_m_s": one.start, "to_m_s": one.end, "seconds": one.seconds, "way": one.way or None} for one in log.runs]
    if log.beside:
        made["beside"], made["offset_s"] = log.beside, log.offset
    return made


def comparison_data(made: Comparison, statement: str, found: Sequence[Explains]) -> dict[str, Any]:
    """What `log compare` tells."""
    energy = made.figure("energy")
    return {
        "log": made.replay.data.log.id,
        "way": made.replay.way,
        "channels": [
            {"name": one.name, "rms_error": one.rms_error, "bias": one.bias, "inside_band": one.inside_band} for one in made.channels
        ],
        "energy": {
            "measured_wh": energy.measured if energy is not None else math.nan,
            "predicted_wh": energy.predicted if energy is not None else math.nan,
            "low_wh": energy.low if energy is not None else math.nan,
            "high_wh": energy.high if energy is not None else math.nan,
        },
        "figures": [
            {
                "name": one.name,
                "dimension": one.dimension,
                "measured": one.measured,
                "predicted": one.predicted,
                "off_share": one.off,
                "inside": one.inside,
            }
            for one in made.figures
        ],
        "statement": statement,
        "explains": [
            {"path": one.unknown.path, "words": one.unknown.row.words, "widths": one.widths, "left_share": one.left, "would": one.would}
            for one in found
        ],
        "told": list(made.replay.told),
    }


def fit_data(made: Fit) -> dict[str, Any]:
    """What `fit` tells."""
    return {
        "logs": list(made.logs),
        "parameters": [
            {
                "path": one.path,
                "words": one.unknown.row.words,
                "before": one.before,
                "after": one.after,
                "error": one.error,
                "correlation": one.correlation,
                "against": one.against or None,
                "identifiable": one.identifiable,
                "reason": one.why or None,
            }
            for one in made.parameters
        ],
        "residual_rms": made.residual_rms,
        "held_out_rms": made.held_out_rms,
        "rank": made.rank,
        "asked": made.asked,
        "condition": made.condition,
        "samples": made.samples,
        "slips": dict(made.slips),
        "residuals": [
            {
                "name": one.channel,
                "words": WORDS[one.channel][0],
                "rms": one.rms,
                "held_out_rms": one.held_out_rms,
                "noise": one.noise,
                "alike": one.alike,
                "with_speed": one.with_speed,
                "with_time": one.with_time,
            }
            for one in made.tests
        ],
        "told": list(made.told),
    }


def columns_told(proposed: Sequence[Proposed]) -> list[str]:
    """A line a column, for reading."""
    made = []
    for one in proposed:
        column = one.column
        what = words_of(column.channel) + (f" in {column.unit}" if column.unit else "")
        made.append(f"{column.head:28} {what:30} {one.how}")
    return made
