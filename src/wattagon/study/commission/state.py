"""Marks of the parts of a build, and why a step that was done has to be done again."""

from __future__ import annotations

import hashlib
import json
from typing import Any

from wattagon.design import codec
from wattagon.design.tree import BuildPart, Design, EntryKind, Seen, Signature, Variant
from wattagon.study.history.facts import STRESSED

# parts of a build that steps rest on, in words
PARTS = {
    "pack": "the pack",
    "wiring": "the wiring",
    "controller": "the controller or its firmware",
    "throttle": "the throttle",
    "motor": "the motor",
    "reduction": "the reduction",
    "wheel": "the wheel or the propeller",
}
_ON = {part.value: part for part in BuildPart} | {"throttle": BuildPart.CONTROLLER}
# what a signature under a stage rests on
STAGE_RESTS: dict[str, tuple[str, ...]] = {
    "A": ("pack", "wiring", "controller", "motor"),
    "B": ("controller", "wiring", "motor", "throttle"),
    "C": ("controller", "wiring", "throttle"),
    "D": ("reduction", "wheel", "motor", "controller"),
}
AGAIN = (EntryKind.CHANGE, EntryKind.REPAIR)
_READ = ("dock", "open_water", "overrides")  # of a propeller
_CHECKED = ("checks", "loads", "check_days", "cycles_a_year", "charging")  # of a pack: what is only read of it


def marks(variant: Variant) -> dict[str, str]:
    """Eight letters for each part: equal while nothing of it changes.  Limits that are raised step by step are no change."""
    data: dict[str, Any] = codec.encode(variant)
    control = dict(data.get("control") or {})
    battery = {key: value for key, value in (data.get("battery") or {}).items() if key not in _CHECKED}
    firmware = variant.commissioning.firmware if variant.commissioning is not None else ""
    plain = lambda choice: {key: value for key, value in choice.items() if key != "overrides"}
    of: dict[str, Any] = {
        "pack": [plain(data["pack"]), battery],
        "wiring": data.get("wiring"),
        "controller": [data["controller"]["part"], firmware, [control.get(key) for key in ("school", "sensor", "order", "start", "poles")]],
        "throttle": control.get("throttle"),
        "motor": plain(data["motor"]),
        "reduction": [data.get("stages"), data.get("gears")],
        "wheel": [
            data.get("wheel"),
            {k: v for k, v in (data.get("propeller") or {}).items() if k not in _READ},
        ],
    }
    return {name: hashlib.sha256(json.dumps(value, sort_keys=True).encode()).hexdigest()[:8] for name, value in of.items()}


def holds(design: Design, signed: Signature) -> bool:
    """Whether a signature under a stage still holds: nothing that it rests on has changed or was stressed."""
    seen = Seen(id=signed.stage, date=signed.date, state=signed.state)
    return not reopened(design, STAGE_RESTS.get(signed.stage, ()), seen, marks(design.variant()))


def reopened(design: Design, rests_on: tuple[str, ...], seen: Seen, now: dict[str, str]) -> tuple[str, ...]:
    """Why what was done has to be done again, in sentences; nothing: it stands."""
    if not seen.date:
        return ()
    said = []
    for part in rests_on:
        was = seen.state.get(part)
        if was is not None and was != now[part]:
            said.append(f"{PARTS[part]} changed since {seen.date}")
    parts = {_ON[part] for part in rests_on if part in _ON}
    for entry in design.history:
        if entry.date <= seen.date:
            continue
        if entry.kind in AGAIN and parts & set(entry.on):
            said.append(f"{entry.text or 'a repair'} on {entry.date}")
        elif entry.incident is not None:
            stressed = {stress.part for stress in STRESSED[entry.incident]} | set(entry.on)
            if parts & stressed:
                said.append(f"a {entry.incident.value} on {entry.date}")
    return tuple(dict.fromkeys(said))
