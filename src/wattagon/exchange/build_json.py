"""Parts and steps of a build for the terminal and for tables."""

from __future__ import annotations

import csv
import io
import math
from typing import Any

from wattagon.study.build.drags import others
from wattagon.study.build.mark import words_of
from wattagon.study.build.study import BuildStudy, Part, Task

CSV_HEAD = (
    *("id", "name", "count", "unit", "used", "state", "price each", "price", "mass kg"),
    *("delivery days", "seller", "date", "measure first", "reason"),
)


def parts_data(found: BuildStudy, stock: Any = None) -> dict[str, Any]:
    """`wattagon parts --json`: SI, money in the design's currency; `price` of all of a row, `each` of one."""
    mass = found.base.mass
    return {
        "rows": [_row(part, stock) for part in found.parts],
        "budget": {
            "spent": found.spent,
            "to_spend": found.to_spend,
            "limit": found.budget,
            "lost": found.lost_cost,
            "groups": _groups(found),
        },
        "mass": {
            "added_kg": mass.added_kg,
            "front_share": None if math.isnan(mass.front_after) else mass.front_after,
            "before_front_share": None if math.isnan(mass.front_before) else mass.front_before,
            "side_m": mass.side_m,
            "centre_before_m": list(mass.before),
            "centre_after_m": list(mass.after),
            "placed_kg": mass.placed_kg,
        },
    }


def _row(part: Part, stock: Any) -> dict[str, Any]:
    row = part.row
    return {
        "id": row.id,
        "name": row.name,
        "group": row.group,
        "count": row.count,
        "unit": row.unit or None,
        "used": row.used,
        "state": part.state.value,
        "price": row.count * part.price,
        "each": part.price,
        "mass_kg": row.mass_all_kg,
        "assumed": row.assumed,
        "owned": part.owned,
        "gate": "open" if part.open else "closed",
        "measure_first": list(part.missing),
        "reason": part.mark.reason or None,
        "lead_days": part.lead_days,
        "seller": part.mark.seller or None,
        "date": part.mark.date or None,
        "made_here": row.made,
        "asks_for": list(row.drags),
        "sooner": [{"id": one.id, "name": one.name, "lead_days": one.lead_days, "price": one.price} for one in others(stock, row.part)]
        if stock is not None and row.part and not part.here
        else [],
    }


def _groups(found: BuildStudy) -> list[dict[str, Any]]:
    groups: dict[str, list[float]] = {}
    for part in found.parts:
        sums = groups.setdefault(part.row.group, [0.0, 0.0, 0.0])
        sums[0] += part.spent
        sums[1] += part.to_spend
        sums[2] += part.row.mass_all_kg
    return [{"group": name, "spent": a, "to_spend": b, "mass_kg": kg} for name, (a, b, kg) in groups.items()]


def parts_csv(found: BuildStudy) -> str:
    """A row a part."""
    text = io.StringIO(newline="")
    writer = csv.writer(text)
    writer.writerow(CSV_HEAD)
    for part in found.parts:
        row = part.row
        writer.writerow(
            (
                *(row.id, _plain(row.name), f"{row.count:g}", row.unit, _plain(row.used), words_of(part, part.state)),
                *(f"{part.price:.2f}", f"{row.count * part.price:.2f}", f"{row.mass_all_kg:.3f}", part.lead_days),
                *(_plain(part.mark.seller), part.mark.date, " ".join(part.missing), _plain(part.mark.reason)),
            )
        )
    return text.getvalue()


def _plain(text: str) -> str:
    """So that no table program takes it for a formula."""
    return f"'{text}" if text[:1] in ("=", "+", "-", "@") else text


def steps_data(found: BuildStudy) -> dict[str, Any]:
    """`wattagon steps --json`: hours along the graph; days by the calendar."""
    return {
        "steps": [_step(found, task) for task in found.tasks],
        "finish": {f"p{share:.0f}": found.finish(share / 100.0).isoformat() for share in (10, 50, 90)},
        "today": [task.step.id for task in found.can_begin],
        "shorter": [{"change": one.words, "days": one.days} for one in found.shorter()],
        "hours_a_week": found.means.hours_a_week,
        "hours_a_week_assumed": found.means_assumed,
        "lost": {"hours": found.lost_hours, "cost": found.lost_cost},
    }


def _step(found: BuildStudy, task: Task) -> dict[str, Any]:
    return {
        "id": task.step.id,
        "title": task.step.title,
        "after": list(task.after),
        "hours": list(task.hours),
        "earliest": task.span.earliest,
        "latest": task.span.latest,
        "slack": task.span.slack,
        "state": task.state.value,
        "blocked_by": list(task.blocked),
        "does": task.step.does.value,
        "tool": task.step.tool or None,
        "tool_there": task.tool_there,
        "way": task.way or None,
        "places": list(task.places),
        "who": task.mark.by or None,
        "begins": None if math.isnan(task.begin) else found.day(task.begin).isoformat(),
        "ends": None if math.isnan(task.end) else found.day(task.end).isoformat(),
        "caution": task.step.caution or None,
        "learned": task.learned,
    }
