"""A propeller as a solid for a printer: blades from diameter, pitch and outline, a hub with a bore; closed shells that overlap, in mm.

Sections have a flat face and a parabolic back on a helix of the pitch, with the chords and thicknesses of the propeller's own equations.
"""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from wattagon.design.catalogue import Catalogue
from wattagon.design.tree import Design
from wattagon.errors import InputError
from wattagon.physics.water.propeller import Blades, chord_ratio, thickness_ratio
from wattagon.study.resolve.boat import propeller_of

STATIONS, ALONG, AROUND = 40, 28, 96
EDGE_MM = 0.6  # least thickness of an edge that a printer makes
TIP = 0.985  # of the radius, where the chord is still one
HOLES_BY_MM = 0.2


class Solid(NamedTuple):
    """Triangles (n, 3, 3) in mm, seen from outside counter-clockwise, with what to heed."""

    id: str
    name: str
    triangles: NDArray[np.float64]
    notes: tuple[str, ...]


def propeller_solid(design: Design, stock: Catalogue) -> Solid:
    """Of the active variant.  Raises InputError without a propeller."""
    choice, part = propeller_of(design.variant(), stock)
    shaft = 1e3 * choice.shaft_diameter.value if choice.shaft_diameter is not None else 8.0
    shape = Blades(
        diameter_m=part.diameter_m, pitch_m=part.pitch_m, blades=part.blades, area_ratio=part.area_ratio, hub_ratio=part.hub_ratio
    )
    hub = 500.0 * part.hub_ratio * part.diameter_m
    if hub < 0.5 * shaft + 3.0:
        raise InputError("hub_ratio", f"{part.hub_ratio:g}", f"a hub of more than {shaft + 6.0:.0f} mm around its shaft of {shaft:g} mm")
    one = blade(shape)
    low, high = float(one[:, :, 2].min()), float(one[:, :, 2].max())
    root = one[np.hypot(one[:, :, 0], one[:, :, 1]).min(axis=1) < hub * 1.1]
    low, high = float(root[:, :, 2].min()) - 3.0, float(root[:, :, 2].max()) + 3.0
    shells = [_ring(hub, 0.5 * (shaft + HOLES_BY_MM), low, high)]
    for k in range(part.blades):
        turn = 2.0 * math.pi * k / part.blades
        matrix = np.array([[math.cos(turn), -math.sin(turn), 0.0], [math.sin(turn), math.cos(turn), 0.0], [0.0, 0.0, 1.0]])
        shells.append(one @ matrix.T)
    pin = f"Drill {part.pin_mm:g} mm across the hub for its pin." if part.pin_mm is not None else "It is keyed or screwed to its shaft."
    notes = (
        f"Bore {shaft + HOLES_BY_MM:.1f} mm for a shaft of {shaft:g} mm{'' if choice.shaft_diameter is not None else ', assumed'}. {pin}",
        "Right-handed. Layers across the shaft: lay it on the hub; walls of four lines, solid at the roots; sand and fill.",
        "A printed blade bears little: see the finding on its root, keep people clear of the first run, wear a lifejacket.",
    )
    words = f"Propeller {1e3 * part.diameter_m:.0f} x {1e3 * part.pitch_m:.0f} mm, {part.blades} blades"
    return Solid("propeller", words, np.concatenate(shells), notes)


def blade(shape: Blades) -> NDArray[np.float64]:
    """Triangles of one blade, from inside the hub to its tip."""
    radius, pitch = 500.0 * shape.diameter_m, 1e3 * shape.pitch_m
    share = np.linspace(-0.5, 0.5, ALONG)
    rings = []
    for x in np.linspace(0.8 * shape.hub_ratio, TIP, STATIONS):
        r = x * radius
        at = max(x, shape.hub_ratio)
        chord = float(chord_ratio(shape, at)) * 2.0 * radius
        thick = max(float(thickness_ratio(shape, at)) * 2.0 * radius, 2.0 * EDGE_MM)
        angle = math.atan(pitch / (2.0 * math.pi * max(r, 1e-6)))
        s = np.concatenate([chord * share, chord * share[::-1]])
        back = EDGE_MM + (thick - EDGE_MM) * (1.0 - (2.0 * share) ** 2)
        y = np.concatenate([np.zeros(ALONG), back[::-1]])
        tangential, axial = s * math.cos(angle) - y * math.sin(angle), s * math.sin(angle) + y * math.cos(angle)
        rings.append(np.column_stack([r * np.cos(tangential / r), r * np.sin(tangential / r), axial]))
    return _closed(np.stack(rings))


def _closed(rings: NDArray[np.float64]) -> NDArray[np.float64]:
    """Triangles over rings (n, m, 3), each of two strips from edge to edge, with both ends capped."""
    count, around, _ = rings.shape
    following = np.roll(np.arange(around), -1)
    made = []
    for k in range(count - 1):
        a, b = rings[k], rings[k + 1]
        made += [np.stack([a, a[following], b[following]], axis=1), np.stack([a, b[following], b], axis=1)]
    half = around // 2
    for ring, flip in ((rings[0], True), (rings[-1], False)):
        face, back = ring[:half], ring[half:][::-1]
        cap = [np.stack([face[:-1], face[1:], back[1:]], axis=1), np.stack([face[:-1], back[1:], back[:-1]], axis=1)]
        made += [part[:, ::-1] if flip else part for part in cap]
    triangles = np.concatenate(made)
    volume = float(np.sum(np.einsum("ij,ij->i", triangles[:, 0], np.cross(triangles[:, 1], triangles[:, 2]))))
    return triangles if volume > 0.0 else triangles[:, ::-1]


def _ring(outer: float, inner: float, low: float, high: float) -> NDArray[np.float64]:
    """A tube."""
    turn = np.linspace(0.0, 2.0 * math.pi, AROUND, endpoint=False)
    circle = np.column_stack([np.cos(turn), np.sin(turn)])
    at = lambda radius, z: np.column_stack([radius * circle, np.full(AROUND, z)])
    walls = (
        (at(outer, low), at(outer, high)),
        (at(outer, high), at(inner, high)),
        (at(inner, high), at(inner, low)),
        (at(inner, low), at(outer, low)),
    )
    made = []
    for a, b in walls:
        an, bn = np.roll(a, -1, axis=0), np.roll(b, -1, axis=0)
        made += [np.stack([a, an, bn], axis=1), np.stack([a, bn, b], axis=1)]
    return np.concatenate(made)
