"""The wiring as JSON."""

from __future__ import annotations

from typing import Any

from wattagon.design.catalogue import Catalogue
from wattagon.exchange.json_data import input_data
from wattagon.study.wiring.control import looked_over
from wattagon.study.wiring.pieces import Held
from wattagon.study.wiring.study import WiringStudy


def wiring_data(found: WiringStudy, stock: Catalogue) -> dict[str, Any]:
    """What `wiring --json` prints; SI but for mm2, what is not known is null."""
    main = next((code for code in found.fuses if (p := found.piece(code)) is not None and p.branch.code in ("pack", "brick")), None)
    fuse = found.fuses[main] if main is not None else None
    pre, brake, box = found.precharge, found.brake, found.box
    return {
        "variant": found.resolved.variant.id,
        "proposed": found.proposed,
        "pieces": [_piece(one, stock) for one in found.pieces],
        "fuse": {
            "piece": main,
            "name": fuse.part.name,
            "rating_a": fuse.part.rating_a,
            "kind": fuse.part.shape,
            "largest_short_a": fuse.largest_a,
            "smallest_short_a": fuse.smallest_a,
            "tests": [{"name": t.code, "share": t.share, "status": t.status.value, "words": t.words} for t in fuse.tests],
        }
        if fuse is not None
        else None,
        "precharge": {
            "ohm": pre.ohm,
            "seconds": pre.seconds,
            "joule": pre.joule,
            "peak_w": pre.peak_w,
            "told": pre.part.name if pre.part is not None else None,
            "needed": pre.needed,
            "settles": pre.settles_share,
            "bank_f": pre.farad,
            "status": pre.status.value,
        },
        "spark_j": pre.spark_j,
        "bus": {
            "inductance_h": found.bus.henry,
            "cut_a": found.bus.cut_a,
            "peak_v": found.bus.cut_v,
            "rating_v": found.bus.rating_v,
            "ripple_a": found.bus.ripple_a,
            "idle_bridge_v": found.bus.spun_v,
            "opens_s": found.bus.opens_s,
        },
        "brake": {"name": brake.part.name, "most_n": max(brake.force_n), "hottest_c": brake.repeated_c, "status": brake.status.value}
        if brake is not None
        else None,
        "box": {"watts": box.watts, "inside_c": box.inside_c, "controller_c": box.controller_c} if box is not None else None,
        "loop_ohm": found.loop_ohm,
        "drop": {"lasting": found.drop("lasting"), "peak": found.drop("peak")},
        "total_loss_w": found.total_loss_w,
        "range_lost_m": found.range_lost_m,
        "control": [{"name": one.code, "status": one.weight, "words": one.words} for one in looked_over(found.told.wires)],
        "inputs": {path: input_data(path, item) for path, item in found.inputs.items()},
    }


def _piece(one: Held, stock: Catalogue) -> dict[str, Any]:
    piece = one.laid.piece
    part = stock.find(piece.part) if piece.part else None
    area = getattr(part, "area_mm2", None) if piece.kind == "lead" else None
    return {
        "id": piece.id,
        "name": one.name,
        "kind": piece.kind,
        "branch": piece.branch,
        "part": piece.part or None,
        "count": one.branch.count,
        "length_m": one.copper_m,
        "area_mm2": area * piece.beside if area is not None else None,
        "rms_a": one.rms_a,
        "run": one.run or None,
        "peak_a": one.peak_a,
        "peak_s": one.peak_s,
        "rating_a": one.bears.rating_a,
        "tau_s": one.bears.tau_s,
        "resistance_ohm": one.bears.ohm,
        "drop_v": one.drop_v,
        "drop_lasting_v": one.drop_lasting_v,
        "loss_w": one.loss_w,
        "temperature_c": one.temperature_c,
        "limit_c": one.bears.limit_c,
        "air_c": one.laid.around.air_c,
        "share": one.worst,
        "status": one.status.value,
        "curve": [{"seconds": t, "load_a": load, "bears_a": most} for t, load, most in one.points],
    }
