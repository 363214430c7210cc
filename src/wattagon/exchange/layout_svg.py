"""The side view of a drive as SVG at 1:1, in mm: wheels, loops, can, ground; layers as groups."""

from __future__ import annotations

from xml.sax.saxutils import escape

from wattagon.physics.path import drawn
from wattagon.study.layout.study import LayoutStudy

ROOM = 20.0  # mm around it


def side_view(found: LayoutStudy) -> str:
    """The picture as text."""
    scene = found.scene
    rounds: list[tuple[str, float, float, float]] = [("wheel", 0.0, 0.0, 1e3 * scene.tyre_m), ("axle", 0.0, 0.0, 1e3 * scene.axle_m)]
    motor = found.shafts[0]
    if scene.can_m > 0.0:
        rounds.append(("can", 1e3 * motor.x, 1e3 * motor.z, 500.0 * scene.can_m))
    loops = []
    for one in found.stages:
        for wheel in one.path.wheels:
            rounds.append((wheel.what, 1e3 * wheel.round.x, 1e3 * wheel.round.y, 1e3 * wheel.round.radius))
        if one.path.loop.wraps:
            points = drawn([wheel.round for wheel in one.path.wheels], one.path.loop)
            loops.append(" ".join(f"{1e3 * x:.3f},{-1e3 * z:.3f}" for x, z in points))
    left = min(x - r for _, x, _, r in rounds) - ROOM
    right = max(x + r for _, x, _, r in rounds) + ROOM
    top = max(z + r for _, _, z, r in rounds) + ROOM
    low = -1e3 * scene.tyre_m - ROOM
    out = [
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{right - left:.3f}mm" height="{top - low:.3f}mm" '
        f'viewBox="{left:.3f} {-top:.3f} {right - left:.3f} {top - low:.3f}">',
        f"<title>{escape(found.design.vehicle.name)}, variant {escape(found.resolved.variant.id)}, side view</title>",
        '<g id="ground" fill="none" stroke="#666" stroke-width="0.5">',
        f'<line x1="{left:.3f}" y1="{1e3 * scene.tyre_m:.3f}" x2="{right:.3f}" y2="{1e3 * scene.tyre_m:.3f}"/></g>',
        '<g id="wheels" fill="none" stroke="#222" stroke-width="0.5">',
        *(f'<circle class="{what}" cx="{x:.3f}" cy="{-z:.3f}" r="{r:.3f}"/>' for what, x, z, r in rounds),
        "</g>",
        '<g id="loops" fill="none" stroke="#556b2f" stroke-width="0.8">',
        *(f'<polygon points="{points}"/>' for points in loops),
        "</g>",
        "</svg>",
    ]
    return "\n".join(out) + "\n"
