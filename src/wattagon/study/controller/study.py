"""The controller of a design: its bounds, its settings, its throttle with what the rider feels, what it does when something fails."""

from __future__ import annotations

from collections.abc import Mapping

from wattagon.design.catalogue import Catalogue
from wattagon.design.tree import Design
from wattagon.record import record
from wattagon.study.controller.bounds import Bound, bounds_of
from wattagon.study.controller.failsafe import Failure, failures
from wattagon.study.controller.feel import Feel, feel
from wattagon.study.controller.schools import School, school_of
from wattagon.study.controller.seen import Seen
from wattagon.study.controller.setting import Setting
from wattagon.study.controller.sheet import sheet
from wattagon.study.controller.throttle import Mapped, mapped
from wattagon.study.drive.study import DriveStudy
from wattagon.study.layout.study import LayoutStudy, study_layout
from wattagon.study.pack.study import study_pack
from wattagon.study.resolve import Input
from wattagon.study.say import Say
from wattagon.study.strength.study import StrengthStudy, study_strength
from wattagon.study.wiring.study import WiringStudy, study_wiring


@record(frozen=True, slots=True, kw_only=True)
class ControllerStudy:
    """All that the controller bench, its findings and `wattagon settings` show."""

    design: Design
    drive: DriveStudy
    school: School
    bounds: tuple[Bound, ...]
    settings: tuple[Setting, ...]
    throttle: Mapped
    feel: Feel | None  # of a vehicle on wheels
    failures: tuple[Failure, ...]
    inputs: Mapping[str, Input]

    def setting(self, key: str) -> Setting | None:
        """One line by its key."""
        return next((one for one in self.settings if one.key == key), None)

    def on(self, axis: str) -> tuple[Bound, ...]:
        """Bounds on one ampere axis, the least first."""
        return tuple(sorted((one for one in self.bounds if one.axis == axis), key=lambda one: one.amps))


def study_controller(
    design: Design,
    stock: Catalogue,
    drive: DriveStudy,
    say: Say,
    *,
    layout: LayoutStudy | None = None,
    strength: StrengthStudy | None = None,
    wiring: WiringStudy | None = None,
) -> ControllerStudy:
    """Of the active variant in its strongest mode; studies that are at hand may be given."""
    variant = design.variant()
    layout = layout if layout is not None else study_layout(design, stock, drive, gaps=False)
    strength = strength if strength is not None else study_strength(design, stock, drive, layout)
    if wiring is None and variant.wiring is not None and variant.wiring.pieces:
        wiring = study_wiring(design, stock, drive, study_pack(design, stock, drive, ()), layout, ())
    bounds = bounds_of(design, stock, drive, layout, strength, wiring, say)
    school = school_of(variant, drive.resolved)
    seen = Seen(design, drive, bounds, school, say)
    throttle = mapped(design)
    return ControllerStudy(
        design=design,
        drive=drive,
        school=school,
        bounds=bounds,
        settings=sheet(seen),
        throttle=throttle,
        feel=None if design.vehicle.kind.floats else feel(design, drive, layout, throttle),
        failures=failures(design, school, throttle),
        inputs={**drive.resolved.inputs, **strength.inputs},
    )
