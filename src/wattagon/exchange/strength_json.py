"""The strength of a drive as JSON."""

from __future__ import annotations

import math
from typing import Any

from wattagon.design.catalogue import Catalogue
from wattagon.exchange.json_data import input_data
from wattagon.study.strength.element import Element
from wattagon.study.strength.proof import look_for, proof_of
from wattagon.study.strength.study import StrengthStudy, rests_on


def strength_data(found: StrengthStudy, stock: Catalogue) -> dict[str, Any]:
    """What `strength --json` prints; torques are those of one drive, what does not apply is null."""
    first = found.first
    tests = [(proof_of(one, stock=stock), look_for(one)) for one in found.elements]
    return {
        "variant": found.design.variant().id,
        "loads": [
            {"case": one.case, "wheel_torque_nm": _or_none(one.wheel_nm), "motor_torque_nm": _or_none(one.motor_nm), "from": one.source}
            for one in found.loads
        ],
        "elements": [_element(one, found) for one in found.elements],
        "first": {"name": first.name, "code": first.code, "fails_at_wheel_nm": first.fails_at_nm} if first is not None else None,
        "proof_tests": [
            {
                "element": test.element,
                "mass_kg": _or_none(test.mass_kg),
                "lever_mm": 1e3 * test.lever_m,
                "direction": test.way,
                "look_for": look,
                "cold_mass_kg": _or_none(test.cold_kg),
                "result": next((p.result for p in reversed(found.told.proofs) if p.element == test.element), None),
            }
            for test, look in tests
            if test is not None
        ],
        "inputs": {path: input_data(path, item) for path, item in found.inputs.items()},
    }


def _element(one: Element, found: StrengthStudy) -> dict[str, Any]:
    low, high = one.band
    return {
        "code": one.code,
        "name": one.name,
        "kind": one.kind,
        "side": one.side,
        "load": _or_none(one.bears.load),
        "capacity": _or_none(one.bears.capacity),
        "unit": one.bears.unit,
        "factor": _or_none(one.factor),
        "wanted": one.bears.wanted,
        "why": one.bears.why,
        "fails_at_wheel_nm": _or_none(one.fails_at_nm),
        "band": [_or_none(low), _or_none(high)] if math.isfinite(one.fails_at_nm) else None,
        "status": one.status.value,
        "material": one.bears.material or None,
        "from": one.bears.source,
        "working": list(one.bears.working),
        "assumed": list(one.bears.assumed),
        "proved": one.proved or None,
        "rests_on": rests_on(found, one),
    }


def _or_none(value: float) -> float | None:
    return value if math.isfinite(value) else None
