"""A pack as JSON."""

from __future__ import annotations

from typing import Any

from wattagon.exchange.json_data import input_data
from wattagon.study.pack.checks import due
from wattagon.study.pack.rungs import Rung
from wattagon.study.pack.schools import ASKS
from wattagon.study.pack.study import PackStudy


def pack_data(found: PackStudy) -> dict[str, Any]:
    """What `pack --json` prints; SI, what is not known is null."""
    pack, volts = found.resolved.train.pack, found.volts
    last = found.checks[-1] if found.checks else None
    read = last.check.volts if last is not None and len(last.check.volts) == found.groups else ()
    charge = found.charged
    days, next_day = due(found.battery.checks, found.battery.school, found.battery.check_days)
    return {
        "variant": found.resolved.variant.id,
        "chemistry": pack.chemistry,
        "series": found.groups,
        "parallel": int(pack.parallel),
        "groups": [
            {"group": k + 1, "volts": read[k] if k < len(read) else None, "outlier": found.outlier == k} for k in range(found.groups)
        ],
        "volts": {
            "full": volts.full,
            "charged": volts.charged,
            "nominal": volts.nominal,
            "storage": volts.storage,
            "cut_start": volts.cut_start,
            "cut_end": volts.cut_end,
            "empty": volts.empty,
            "sag": volts.sag,
            "sag_a": volts.sag_a,
            "worst_of_rides": volts.worst,
        },
        "rungs": [_rung(one) for one in found.rungs],
        "energy_wh": found.energy_wh,
        "usable_wh": found.usable_wh,
        "window": {"top": found.resolved.window[0], "bottom": found.resolved.window[1]},
        "resistance_ohm": float(pack.steady_ohm),
        "burst_resistance_ohm": float(pack.burst_ohm),
        "capacity_ah": float(pack.capacity_ah),
        "lasting_a": float(pack.continuous_a),
        "burst_a": float(pack.burst_a),
        "asked_a": found.asked_a,
        "sustained_a": found.sustained_a,
        "rides": _ridden(found),
        "mass_kg": found.resolved.pack_kg,
        "volume_l": found.litres,
        "cost": found.resolved.pack_price,
        "cost_per_kwh": found.per_kwh,
        "life": {"cycles": found.life.cycles, "years": found.life.years, "within": "a factor of two"},
        "charge": {
            "charger": charge.charger.name if charge.charger is not None else None,
            "volts": charge.volts,
            "amps": charge.amps,
            "bulk_s": charge.bulk_s,
            "taper_s": charge.taper_s,
            "to_80_s": charge.to_80_s,
            "full_s": charge.full_s,
            "storage_s": charge.storage_s,
            "wall_wh": charge.wall_wh,
            "cost": charge.cost,
            "cost_per_100km": charge.cost_per_100km,
            "limits": [{"name": one.name, "amps": one.amps} for one in charge.limits],
        },
        "bricks": _bricks(found),
        "school": {"told": found.battery.school or None, "asks": list(ASKS.get(found.battery.school, ()))},
        "board": _board(found),
        "links": {"amps": found.links.amps, "bears_a": found.links.bears_a, "temperature_c": found.links.temperature_c}
        if found.links is not None
        else None,
        "checks": [
            {
                "date": one.check.date,
                "spread_v": one.spread_v,
                "charge": one.charge,
                "outlier": one.outlier + 1 if one.outlier is not None else None,
                "status": one.status.value,
                "verdict": one.verdict,
            }
            for one in found.checks
        ],
        "next_check": {"every_days": days, "date": next_day.isoformat() if next_day is not None else None},
        "others": [
            {
                "chemistry": one.chemistry,
                "cell": one.part.id,
                "series": one.series,
                "parallel": one.parallel,
                "mass_kg": one.mass_kg,
                "volume_l": one.litres,
                "cost": one.price,
                "lasting_a": one.lasting_a,
                "cycles": one.cycles,
                "usable_wh": one.usable_wh,
            }
            for one in found.others
        ],
        "inputs": {path: input_data(path, item) for path, item in found.inputs.items()},
    }


def _rung(one: Rung) -> dict[str, Any]:
    return {"name": one.name, "volts": one.volts, "margin": one.margin, "status": one.status.value}


def _ridden(found: PackStudy) -> dict[str, Any] | None:
    one = found.ridden
    if one is None:
        return None
    return {
        "lasting_a": one.lasting_a,
        "lasting_run": one.lasting_run,
        "peak_a": one.peak_a,
        "peak_run": one.peak_run,
        "above_lasting_s": one.above_s,
        "hottest_c": one.hottest_c,
        "into_pack_a": one.charge_a,
        "windows": [{"seconds": seconds, "amps": amps} for seconds, amps in one.windows],
    }


def _bricks(found: PackStudy) -> list[dict[str, Any]]:
    if found.bricks is None:
        return [
            {"name": found.resolved.cell_part.name, "amps": found.asked_a, "resistance_ohm": float(found.resolved.train.pack.burst_ohm)}
        ]
    rows = zip(found.shares, found.bricks.choices, found.bricks.assembly.rows, strict=True)
    return [
        {
            "name": choice.name or f"{choice.place}.{k + 1}",
            "place": choice.place,
            "amps": amps,
            "capacity_ah": brick.capacity_ah,
            "resistance_ohm": brick.ohm,
            "rest_v": brick.emf_v,
        }
        for currents, choices, bricks in rows
        for k, (amps, choice, brick) in enumerate(zip(currents, choices, bricks, strict=True))
    ]


def _board(found: PackStudy) -> dict[str, Any] | None:
    one = found.guarded
    if one is None:
        return None
    return {
        "name": one.board.name,
        "lasting_a": one.board.lasting_a,
        "equivalent_a": one.lasting_a,
        "share": one.share,
        "regen_share": one.regen_share,
        "balance_h": one.balance_h,
        "loss_w": one.loss_w,
        "fits": one.fits or None,
        "trips": [
            {"name": t.name, "amps": t.amps, "delay_s": t.delay_s, "longest_s": t.stretch_s, "status": t.status.value} for t in one.trips
        ],
    }
