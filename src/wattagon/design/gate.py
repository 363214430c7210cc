"""What has to be measured before a row of the parts list may be ordered, and the refusal where it is not.

Rows are named `kind-part`; what a kind must fit follows from the vehicle alone, so that no door into the design needs the stock.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import Any

from wattagon.design.quantity import Known, Quantity
from wattagon.design.tree import Design, PartMark, PartState, Variant, VehicleKind
from wattagon.errors import InputError

BOARDS = (VehicleKind.STREET_BOARD, VehicleKind.ALL_TERRAIN_BOARD, VehicleKind.SCOOTER)
BOUGHT = (PartState.ORDERED, PartState.ARRIVED)
_FIRM = Known.FITTED.rank  # measured, or fitted from what was measured


def _motor(design: Design, variant: Variant) -> tuple[str, ...]:
    if design.vehicle.kind.floats:
        return ("vehicle.hull.transom_height", "vehicle.hull.propeller_depth")
    under = ("vehicle.deck_height",) if design.vehicle.kind in BOARDS else ()
    return ("vehicle.clear_width", *(under if variant.stages else ("vehicle.axle_diameter",)))


def _driven(design: Design, _variant: Variant) -> tuple[str, ...]:
    if design.vehicle.kind.floats:
        return ()
    return ("vehicle.axle_diameter", "vehicle.hub_bolt_circle")


def _loop(design: Design, _variant: Variant) -> tuple[str, ...]:
    if design.vehicle.kind.floats:
        return ()
    return ("vehicle.tyre_diameter", "vehicle.axle_diameter", "variant.layout.motor")


def _wheel(_design: Design, _variant: Variant) -> tuple[str, ...]:
    return ("vehicle.axle_diameter", "vehicle.clear_width")


def _pack(design: Design, _variant: Variant) -> tuple[str, ...]:
    if design.vehicle.kind.floats:
        return ("vehicle.hull.waterline_length",)
    return ("vehicle.wheelbase", "vehicle.deck_height") if design.vehicle.kind in BOARDS else ("vehicle.wheelbase",)


def _propeller(_design: Design, _variant: Variant) -> tuple[str, ...]:
    return ("vehicle.hull.draught", "vehicle.hull.propeller_depth", "vehicle.hull.tip_gap")


def _carrier(_design: Design, _variant: Variant) -> tuple[str, ...]:
    return ("vehicle.hull.transom_height", "vehicle.hull.transom_angle")


def _adapter(design: Design, variant: Variant) -> tuple[str, ...]:
    return _driven(design, variant)


def _plate(design: Design, _variant: Variant) -> tuple[str, ...]:
    return ("vehicle.clear_width", "vehicle.axle_diameter") if not design.vehicle.kind.floats else ()


# what a kind of row must fit, the longest name that a row begins with; a kind that is not named must fit nothing of the vehicle
NEEDS: dict[str, Callable[[Design, Variant], tuple[str, ...]]] = {
    "motor": _motor,
    "driven": _driven,
    "loop": _loop,
    "wheel": _wheel,
    "hub": _wheel,
    "cell": _pack,
    "propeller": _propeller,
    "carrier": _carrier,
    "plate": _plate,
    "plate-hub-adapter": _adapter,
}


def needed(design: Design, variant: Variant, row: str) -> tuple[str, ...]:
    """Paths of all that a row must fit."""
    fits = [(len(name), rule) for name, rule in NEEDS.items() if f"{row}-".startswith(f"{name}-")]
    return max(fits, key=lambda one: one[0])[1](design, variant) if fits else ()


def measure_first(design: Design, variant: Variant, row: str) -> tuple[str, ...]:
    """Those of them that nobody measured; nothing: its gate is open."""
    return tuple(path for path in needed(design, variant, row) if not _measured(design, variant, path))


def _measured(design: Design, variant: Variant, path: str) -> bool:
    node: Any = design
    for name in path.split("."):
        node = variant if name == "variant" else getattr(node, name, None)
        if node is None:
            return False
    if isinstance(node, Quantity):
        return node.known.rank <= _FIRM
    return True  # where the motor stands is decided, not found: told is enough


def unreasoned(design: Design) -> Iterator[tuple[Variant, PartMark, tuple[str, ...]]]:
    """Marks that tell of a row as bought though its gate is closed and nobody gave a reason, with what is to be measured."""
    for variant in design.variants:
        for mark in variant.build.parts if variant.build is not None else ():
            if mark.state is None or mark.reason.strip():
                continue
            missing = measure_first(design, variant, mark.id) if mark.state in (*BOUGHT, PartState.FITTED) else ()
            if missing:
                yield variant, mark, missing


def hold(before: Design, after: Design) -> None:
    """Raises InputError where a change buys what does not have its measures yet, or takes away the reason why it was bought.

    What was bought before stays bought, whatever becomes of a measure later; a part from the shelf may be fitted.
    """
    builds = [[variant.build for variant in design.variants] for design in (before, after)]
    if len(builds[0]) == len(builds[1]) and all(a is b for a, b in zip(*builds, strict=True)):
        return
    was: dict[str, set[PartState | None]] = {}
    for _, mark, _ in unreasoned(before):
        was.setdefault(mark.id, set()).add(mark.state)
    owned = {
        mark.id
        for variant in before.variants
        for mark in (variant.build.parts if variant.build is not None else ())
        if mark.state in (PartState.SHELF, *BOUGHT, PartState.FITTED)
    }
    shelf = {item.part for item in after.brief.shelf}
    for _, mark, missing in unreasoned(after):
        states = was.get(mark.id, set())
        if mark.state in states or states & set(BOUGHT):
            continue
        if mark.state is PartState.FITTED and (mark.id in owned or mark.id.split("-", 1)[-1] in shelf):
            continue
        raise InputError(
            f"state of {mark.id}",
            str(mark.state).replace("_", " "),
            f"that once {', '.join(missing)} {'is' if len(missing) == 1 else 'are'} measured, or with a reason",
        )
