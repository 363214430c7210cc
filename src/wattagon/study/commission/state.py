"""Marks of the parts of a build, and why a step that was done has to be done again."""

from __future__ import annotations

import hashlib
import json
from dataclasses import replace
from typing import Any

from wattagon.design import codec
from wattagon.design.tree import BuildPart, Design, EntryKind, Seen, Variant
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
_SET = ("school", "sensor", "order", "start", "poles")  # of what is set in a controller
_READ = ("dock", "open_water", "overrides")  # of a propeller
_CHECKED = ("checks", "loads", "check_days", "cycles_a_year", "charging")  # of a pack: what is only read of it


def marks(variant: Variant) -> dict[str, str]:
    """Eight letters for each part: equal while nothing of it changes.  Limits that are raised step by step are no change."""
    told = lambda choice: codec.encode(choice) if choice is not None else {}
    plain = lambda choice, but=("overrides",): {key: value for key, value in told(choice).items() if key not in but}
    control = variant.control
    kept = None if variant.battery is None else replace(variant.battery, checks=(), loads=())
    firmware = variant.commissioning.firmware if variant.commissioning is not None else ""
    settings = [getattr(control, key) for key in _SET] if control is not None else []
    of: dict[str, Any] = {
        "pack": [plain(variant.pack), plain(kept, _CHECKED)],
        "wiring": told(variant.wiring),
        "controller": [variant.controller.part, firmware, settings],
        "throttle": told(control.throttle) if control is not None else {},
        "motor": plain(variant.motor),
        "reduction": [[told(stage) for stage in variant.stages], told(variant.gears)],
        "wheel": [told(variant.wheel), plain(variant.propeller, _READ)],
    }
    return {name: hashlib.sha256(json.dumps(value, sort_keys=True).encode()).hexdigest()[:8] for name, value in of.items()}


def still_signed(design: Design) -> frozenset[str]:
    """Stages whose signature still holds: nothing that it rests on has changed or was stressed."""
    told = design.variant().commissioning
    if told is None or not told.signed:
        return frozenset()
    now = marks(design.variant())
    seen = lambda one: Seen(id=one.stage, date=one.date, state=one.state)
    return frozenset(one.stage for one in told.signed if not reopened(design, STAGE_RESTS.get(one.stage, ()), seen(one), now))


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
