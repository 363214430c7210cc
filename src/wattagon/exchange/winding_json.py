"""A winding as JSON."""

from __future__ import annotations

from typing import Any

from wattagon.exchange.json_data import input_data
from wattagon.study.winding.effect import Effect
from wattagon.study.winding.option import Option, prefers
from wattagon.study.winding.study import WindingStudy


def winding_data(found: WindingStudy) -> dict[str, Any]:
    """What `winding --json` prints; SI, resistances between two leads at 20 C, what is not known is null."""
    base, layout, halls = found.base, found.layout, found.halls
    listed = [one for one in found.offers if found.chosen is None or one[0].coils != found.chosen.coils]
    chosen = next((way.effect for way in found.ways if way.code == "rewind"), None)
    first = [(found.chosen, chosen)] if found.chosen is not None and chosen is not None else []
    return {
        "variant": found.design.active or found.design.variants[0].id,
        "motor": base.part.id,
        "now": {
            "kv": float(base.motor.kv_rpm_per_v),
            "turns": base.coils.turns,
            "connection": base.coils.connection.value,
            "resistance_ohm": float(base.motor.resistance_ohm),
            "strands": base.coils.strands,
            "wire_mm": 1e3 * base.coils.wire_m,
            "paths": base.coils.paths,
            "by_measures_ohm": base.by_measures_ohm,
        },
        "wanted": {"kv": found.wanted_kv, "by": found.wanted_by},
        "options": [_option(one, effect, found.advised) for one, effect in (*first, *listed)],
        "ways": [{"code": way.code, "name": way.name, **_effect(way.effect)} for way in found.ways],
        "pattern": layout.pattern.text if layout is not None else None,
        "winding_factor": layout.factor if layout is not None else None,
        "third_factor": layout.third if layout is not None else None,
        "why_not": found.why_not or None,
        "layouts": [
            {"layers": one.pattern.layers, "pattern": one.pattern.text, "winding_factor": one.factor, "paths": list(one.paths)}
            for one in found.layouts
        ],
        "halls": {
            "slots": list(halls.openings),
            "spacing_deg": halls.neighbour_deg,
            "electrical_deg": halls.spacing,
            "codes": [code for code, _ in halls.ring],
            "errors_deg": list(halls.errors_deg),
            "verdict": halls.verdict.says if halls.verdict is not None else None,
        }
        if halls is not None
        else None,
        "ring": {"current_a": found.ring.amps, "loss_w": found.ring.watts, "third_share": found.ring.share}
        if found.ring is not None
        else None,
        "density_a_mm2": found.density,
        "guesses": [
            {"turns": one.turns, "connection": one.connection.value, "paths": one.paths, "share": one.share} for one in found.guesses
        ],
        "guide": {
            "done": list(found.guide.done),
            "order": [
                {"phase": "ABC"[job.phase], "path": job.path + 1, "tooth": job.tooth, "direction": job.direction}
                for job in found.guide.jobs
            ],
            "joints": [{"name": one.name, "ends": list(one.ends)} for one in found.guide.joints],
        }
        if found.guide is not None
        else None,
        "after": _after(found),
        "inputs": {path: input_data(path, item) for path, item in found.inputs.items()},
    }


def _after(found: WindingStudy) -> dict[str, Any] | None:
    one = found.after
    if one is None or not one.checks:
        return None
    return {
        "checks": [{"code": check.code, "status": check.status.value, "says": check.words} for check in one.checks],
        "causes": [{"code": cause.code, "says": cause.words, "share": cause.share, "test": cause.test} for cause in one.causes],
        "turns": one.turns,
    }


def _option(one: Option, effect: Effect, best: Option | None) -> dict[str, Any]:
    return {
        "turns": one.coils.turns,
        "strands": one.coils.strands,
        "wire_mm": 1e3 * one.coils.wire_m,
        "connection": one.coils.connection.value,
        "paths": one.coils.paths,
        "layers": one.coils.layers,
        "kv": one.kv,
        "resistance_ohm": one.ohm,
        "inductance_h": one.henry,
        "motor_constant": one.root_watt,
        "fill": one.fill,
        "wire_m": one.wire_m,
        "reels": one.reels,
        "copper_kg": one.copper_kg,
        "by_hand": one.by_hand.good,
        "says": [word for word in (*one.by_hand.says, *effect.controller, prefers(one, best)) if word],
        "advised": best is not None and best.coils == one.coils,
        **_effect(effect),
    }


def _effect(one: Effect) -> dict[str, Any]:
    return {
        "lasting_a": one.lasting_a,
        "lasting_nm": one.lasting_nm,
        "needed_a": one.needed_a,
        "copper_w": one.copper_w,
        "settles_c": one.settles_c,
        "heat_s": one.heat_s,
        "goals": [{"id": result.goal.id, "reached": result.reached, "met": result.met} for result in one.goals],
        "refused": one.refused or None,
    }
