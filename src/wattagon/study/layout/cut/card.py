"""What goes with a part to its maker: settings of a print, tolerances and material of what others make; edges, tabs."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace
from typing import NamedTuple

from shapely import LineString, Polygon

from wattagon.design.tree.workshop import PrintMaterial
from wattagon.physics.outline import Arc, Line, Outline, polyline
from wattagon.study.layout.cut.sheet import Options, Sheet

PLASTIC_KG_MM3 = {
    PrintMaterial.PLA: 1.24e-6,
    PrintMaterial.PETG: 1.27e-6,
    PrintMaterial.ABS: 1.04e-6,
    PrintMaterial.ASA: 1.07e-6,
    PrintMaterial.NYLON: 1.14e-6,
    PrintMaterial.CARBON_NYLON: 1.17e-6,
    PrintMaterial.TPU: 1.21e-6,
}
TOUGH = (PrintMaterial.CARBON_NYLON, PrintMaterial.NYLON, PrintMaterial.ASA, PrintMaterial.ABS, PrintMaterial.PETG, PrintMaterial.PLA)
WALL_MM, LAYER_MM, RATE_MM3_S = 0.45, 0.2, 7.0  # of one line of a 0.4 mm nozzle; typical
# walls and infill by what a part does
SETTINGS: dict[str, tuple[int, float]] = {"pulley": (6, 0.6), "flange": (4, 1.0), "guard": (3, 0.2), "fit": (3, 0.3)}
OUTSIDE_MM = ((25.4, 0.05), (50.8, 0.08), (101.6, 0.10), (177.8, 0.13), (304.8, 0.15))  # plus, minus 0: habit of ISO 5294
H7_UM = ((3.0, 10), (6.0, 12), (10.0, 15), (18.0, 18), (30.0, 21), (50.0, 25), (80.0, 30), (120.0, 35))  # ISO 286
EDGE_DIAMETERS = 1.0  # from a hole's edge to the next edge; handbook: 1.5 from its middle


def with_card(made: Sheet, options: Options, materials: Sequence[PrintMaterial], count: int) -> Sheet:
    """A sheet with what its maker has to know, notes on edges, tabs marked."""
    if made.made == "print":
        card = _print_card(made, options, materials, count)
    elif made.made in ("mill", "steel"):
        card = _shop_card(made, count)
    else:
        return made
    notes, marks = list(made.notes), made.marks
    near = nearest_edge(made)
    if near is not None and near[0] < EDGE_DIAMETERS * near[1] and made.made != "print":
        notes.append(f"A hole of {near[1]:.1f} mm leaves {near[0]:.1f} mm to an edge, {EDGE_DIAMETERS * near[1]:.1f} are wanted.")
    if options.tabs and made.made in ("mill", "steel"):
        marks = (*marks, *_tabs(made.outer, options.tabs))
        notes.append(f"{options.tabs} tabs of 4 mm where the outline is crossed: they hold it in its sheet, filed off afterwards.")
    return replace(made, card=card, notes=tuple(notes), marks=marks, chamfer_mm=options.chamfer_mm if made.made == "print" else 0.0)


class Print(NamedTuple):
    """How one part is printed: lines of its walls, infill, material, hours of the printer and mass [kg] of each."""

    walls: int
    infill: float
    material: PrintMaterial
    hours: float
    mass_kg: float


def printed(made: Sheet, materials: Sequence[PrintMaterial]) -> Print:
    """By what the part does, with the toughest material that there is."""
    what = "flange" if made.id.endswith("-flange") else made.id.split("-")[0]
    walls, infill = SETTINGS.get(what, (4, 0.4))
    material = next((one for one in TOUGH if one in materials), PrintMaterial.PLA)
    volume = made.area_mm2 * made.thickness_mm
    rim = sum(piece.length for outline in made.cut for piece in outline)
    solid = min(rim * walls * WALL_MM * made.thickness_mm, volume)
    laid = solid + infill * (volume - solid)
    return Print(walls, infill, material, laid / RATE_MM3_S / 3600.0, laid * PLASTIC_KG_MM3[material])


def _print_card(made: Sheet, options: Options, materials: Sequence[PrintMaterial], count: int) -> tuple[tuple[str, str], ...]:
    one = printed(made, materials)
    return (
        ("how many", str(count)),
        ("material", one.material.value.replace("_", " ")),
        ("walls", str(one.walls)),
        ("infill", f"{one.infill:.0%}"),
        ("layers", f"{LAYER_MM:g} mm, {math.ceil(made.thickness_mm / LAYER_MM - 1e-9)} of them"),
        ("which way up", "flat as drawn: layers lie in the plane of the teeth, so that no tooth parts from its layer"),
        ("time", f"about {one.hours:.1f} h each"),
        ("mass", f"about {1e3 * one.mass_kg:.0f} g each"),
        *([("first layer", f"chamfered by {options.chamfer_mm:g} mm")] if options.chamfer_mm > 0.0 else []),
    )


def _shop_card(made: Sheet, count: int) -> tuple[tuple[str, str], ...]:
    figures = dict(made.figures)
    rows = [
        ("how many", str(count)),
        ("material", "aluminium plate" if made.made == "mill" else "mild steel plate, case hardened at its teeth"),
    ]
    if "bore" in figures:
        rows.append(("bore", f"{figures['bore']:.3f} mm H7, +{h7_um(figures['bore'])} / 0 um, square to the face within 0.05 mm"))
    if "axle" in figures:
        rows.append(("axle seat", f"{figures['axle']:.2f} mm H7, +{h7_um(figures['axle'])} / 0 um"))
    if "outside" in figures:
        rows.append(("outside", f"{figures['outside']:.2f} mm, +{outside_mm(figures['outside']):.2f} / 0 mm; it sets the pitch"))
    if "pitch circle" in figures:
        rows.append(("roots", "the bottom of the teeth minus only: 0 / -0.1 mm; teeth run true to the bore within 0.15 mm"))
    rows.append(("all else", "within 0.1 mm, edges broken by 0.3 mm, flat within 0.1 mm"))
    return tuple(rows)


def h7_um(diameter_mm: float) -> int:
    """Upper limit of an H7 bore [um]; its lower is 0.  Source: ISO 286."""
    return next((um for to, um in H7_UM if diameter_mm <= to), 40)


def outside_mm(diameter_mm: float) -> float:
    """By how much a pulley's outside may be over [mm]; under by nothing."""
    return next((mm for to, mm in OUTSIDE_MM if diameter_mm <= to), 0.18)


def nearest_edge(made: Sheet) -> tuple[float, float] | None:
    """(distance of a round hole's edge to the nearest other edge, its diameter) where that share is least; None without holes."""
    rings = [LineString([*polyline(outline, 0.02), outline[0].begin]) for outline in made.cut]
    best: tuple[float, float] | None = None
    for k, hole in enumerate(made.holes, 1):
        if len(hole) != 1 or not isinstance(hole[0], Arc):
            continue
        size = 2.0 * hole[0].radius
        away = min((rings[k].distance(ring) for n, ring in enumerate(rings) if n != k), default=math.inf)
        if best is None or away / size < best[0] / best[1]:
            best = away, size
    return best


def _tabs(outer: Outline, count: int) -> list[Outline]:
    """Short lines across the longest pieces of an outline."""
    longest = sorted(outer, key=lambda piece: -piece.length)
    made: list[Outline] = []
    for k in range(count):
        piece = longest[k % len(longest)]
        share = (k // len(longest) + 1.0) / (count // len(longest) + 2.0) if count > len(longest) else 0.5
        points = piece.points(0.05)
        a = points[min(int(share * len(points)), len(points) - 1)] if isinstance(piece, Arc) else piece.begin
        if isinstance(piece, Arc):
            angle = math.atan2(a[1] - piece.middle[1], a[0] - piece.middle[0])
        else:
            a = (piece.begin[0] + share * (piece.end[0] - piece.begin[0]), piece.begin[1] + share * (piece.end[1] - piece.begin[1]))
            angle = math.atan2(piece.end[1] - piece.begin[1], piece.end[0] - piece.begin[0]) - 0.5 * math.pi
        out = (3.0 * math.cos(angle), 3.0 * math.sin(angle))
        made.append((Line((a[0] - out[0], a[1] - out[1]), (a[0] + out[0], a[1] + out[1])),))
    return made


def polygon(made: Sheet, chord_mm: float = 0.01) -> Polygon:
    """The part as one polygon with holes."""
    return Polygon(polyline(made.outer, chord_mm), [polyline(hole, chord_mm) for hole in made.holes])
