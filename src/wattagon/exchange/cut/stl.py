"""A part as STL: its outline with holes raised to its thickness, watertight; it lies flat as it is printed."""

from __future__ import annotations

import struct

import mapbox_earcut
import numpy as np
from numpy.typing import NDArray

from wattagon.errors import InputError
from wattagon.physics.outline import polyline
from wattagon.study.layout.sheets import Sheet

CHORD_MM = 0.002


def solid(sheet: Sheet) -> NDArray[np.float64]:
    """Triangles (n, 3, 3) in mm, seen from outside counter-clockwise.  Raises InputError for what has no thickness."""
    if not sheet.thickness_mm > 0.0:
        raise InputError("format", "stl", "dxf, svg or pdf; a template of paper is no solid")
    rings = [np.array(polyline(outline, CHORD_MM)) for outline in sheet.cut]
    flat = np.vstack(rings)
    ends = np.cumsum([len(ring) for ring in rings]).astype(np.uint32)
    faces = mapbox_earcut.triangulate_float64(flat, ends).reshape(-1, 3)
    a, b, c = (flat[faces[:, k]] for k in range(3))
    turned = (b[:, 0] - a[:, 0]) * (c[:, 1] - a[:, 1]) - (b[:, 1] - a[:, 1]) * (c[:, 0] - a[:, 0]) < 0.0
    faces[turned] = faces[turned][:, ::-1]
    chamfer = min(sheet.chamfer_mm, 0.5 * sheet.thickness_mm)
    foot = np.concatenate([_inset(ring, chamfer) for ring in rings]) if chamfer > 0.0 else flat
    bottom = np.column_stack([foot, np.zeros(len(flat))])
    low = np.column_stack([flat, np.full(len(flat), chamfer)]) if chamfer > 0.0 else bottom
    high = np.column_stack([flat, np.full(len(flat), sheet.thickness_mm)])
    made = [high[faces], bottom[faces[:, ::-1]]]
    begin = 0
    for ring in rings:
        here = np.arange(begin, begin + len(ring))
        following = np.roll(here, -1)
        for below, above in ((bottom, low), (low, high)) if chamfer > 0.0 else ((low, high),):
            made.append(np.stack([below[here], below[following], above[following]], axis=1))
            made.append(np.stack([below[here], above[following], above[here]], axis=1))
        begin += len(ring)
    return np.concatenate(made)


def _inset(ring: NDArray[np.float64], by: float) -> NDArray[np.float64]:
    """A ring moved into its material along the normals of its corners: outlines are walked with it to the left."""
    ahead, back = np.roll(ring, -1, axis=0) - ring, ring - np.roll(ring, 1, axis=0)
    unit = lambda rows: rows / np.maximum(np.linalg.norm(rows, axis=1, keepdims=True), 1e-12)
    along = unit(unit(ahead) + unit(back))
    return np.asarray(ring + by * np.column_stack([-along[:, 1], along[:, 0]]))


def stl(sheet: Sheet) -> bytes:
    """The file, binary."""
    return binary(solid(sheet), sheet.id)


def binary(triangles: NDArray[np.float64], name: str) -> bytes:
    """Triangles (n, 3, 3) in mm as a binary file."""
    normals = np.cross(triangles[:, 1] - triangles[:, 0], triangles[:, 2] - triangles[:, 0])
    long = np.linalg.norm(normals, axis=1, keepdims=True)
    normals = normals / np.where(long > 0.0, long, 1.0)
    rows = np.zeros(len(triangles), dtype=np.dtype([("normal", "<f4", 3), ("points", "<f4", (3, 3)), ("extra", "<u2")]))
    rows["normal"], rows["points"] = normals, triangles
    head = f"{name}, mm".encode()[:80].ljust(80, b" ")
    return head + struct.pack("<I", len(triangles)) + rows.tobytes()
