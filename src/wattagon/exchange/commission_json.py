"""Commissioning for the terminal."""

from __future__ import annotations

import math
from typing import Any

from wattagon.design.dimensions import DIMENSIONS
from wattagon.study.commission.item import Read
from wattagon.study.commission.judge import values
from wattagon.study.commission.study import CommissionStudy, Done


def commission_data(found: CommissionStudy) -> dict[str, Any]:
    """`wattagon commission --json`: SI; what a step itself tells is of its first reading, all stand under `readings`."""
    stopped, following = found.stopped, found.next
    return {
        "steps": [_step(found, one) for one in found.steps],
        "next": following.item.id if following is not None else None,
        "stopped_by": stopped.item.id if stopped is not None else None,
        "charge": found.grounds.charge,
        "signed": [
            {"stage": stage.code, "by": stage.signed.name, "date": stage.signed.date, "stale": stage.stale}
            for stage in found.stages
            if stage.signed is not None
        ],
        "handed_over": found.handed is not None and not found.ready,
        "missing": list(found.ready),
    }


def _step(found: CommissionStudy, one: Done) -> dict[str, Any]:
    item = one.item
    readings = [_read(read, one) for read in item.reads]
    first = readings[0] if readings else {"low": None, "high": None, "unit": None, "expects": None, "read": None}
    return {
        "id": item.id,
        "title": item.title,
        "stage": item.stage,
        "applies": item.applies,
        "why_not": item.why_not or "it applies",
        "low": first["low"],
        "high": first["high"],
        "unit": first["unit"],
        "expects": first["expects"],
        "from": item.reads[0].comes if item.reads else item.accept,
        "read": first["read"],
        "verdict": one.verdict.value,
        "said": list(one.judged.said),
        "reopened": list(one.reopened),
        "reachable": found.may(item.id),
        "accept": item.accept,
        "how": item.how,
        "caution": item.caution or "none beside that of its stage",
        "readings": readings,
        "date": one.seen.date or None,
        "by": one.seen.by or None,
    }


def _read(read: Read, one: Done) -> dict[str, Any]:
    found = values(read, one.seen)
    return {
        "name": read.name,
        "words": read.words,
        "low": None if math.isinf(read.low) else read.low,
        "high": None if math.isinf(read.high) else read.high,
        "unit": unit_of(read),
        "expects": None if math.isnan(read.expects) else read.expects,
        "from": read.comes,
        "read": None if not found else found if read.many > 1 else found[0],
    }


def unit_of(read: Read) -> str:
    """Of its values."""
    return read.unit or DIMENSIONS[read.dimension].si or "1"
