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
    low = np.column_stack([flat, np.zeros(len(flat))])
    high = np.column_stack([flat, np.full(len(flat), sheet.thickness_mm)])
    made = [high[faces], low[faces[:, ::-1]]]
    begin = 0
    for ring in rings:
        here = np.arange(begin, begin + len(ring))
        following = np.roll(here, -1)
        made.append(np.stack([low[here], low[following], high[following]], axis=1))
        made.append(np.stack([low[here], high[following], high[here]], axis=1))
        begin += len(ring)
    return np.concatenate(made)


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
