"""The stator of a study as it is drawn: on the bench, in the SVG and on the sheet."""

from __future__ import annotations

from wattagon.physics.winding.shape import Shape
from wattagon.study.winding.iron import Iron


def shape_of(iron: Iron) -> Shape:
    """To scale, in millimetres; a tooth or a tip that would not leave a slot is drawn as thin as leaves one."""
    pitch = 6.283185307179586 * 0.5 * min(iron.gap_m, iron.bottom_m) / iron.slots
    return Shape(
        slots=iron.slots,
        poles=iron.poles,
        gap=500.0 * iron.gap_m,
        bottom=500.0 * iron.bottom_m,
        tooth=1e3 * min(iron.wound.tooth_m, 0.85 * pitch),
        tip=1e3 * min(iron.tip_m, 0.15 * abs(iron.gap_m - iron.bottom_m)),
        opening=1e3 * min(iron.opening_m, 0.8 * 3.141592653589793 * iron.gap_m / iron.slots),
        liner=1e3 * iron.wound.liner_m,
        air=1e3 * iron.air_gap_m,
        cover=iron.cover,
    )
