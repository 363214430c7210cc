"""Files to cut and print the parts of a drive."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

from wattagon.cli.shared import design_options, load, print_json, stock_catalogue
from wattagon.errors import InputError

if TYPE_CHECKING:
    import argparse

    from wattagon.design.catalogue import Catalogue
    from wattagon.design.tree import Design


def options(parser: argparse.ArgumentParser) -> None:
    """What may follow the command."""
    design_options(parser)
    parser.add_argument("part", nargs="?", help="id of a part; --list names them")
    parser.add_argument("--list", action="store_true", help="parts that this design needs")
    parser.add_argument("--json", action="store_true", help="with --list: their ids")
    parser.add_argument("--format", default=None, help="dxf, svg, stl or pdf; else by the ending of -o")
    parser.add_argument("-o", "--output", type=Path, default=None, metavar="OUT", help="the file; else the part's id with the format")
    parser.add_argument("--kerf", default="0", help="width that the cutter takes; a bare number is mm")
    parser.add_argument("--thickness", default=None, help="a bare number is mm")
    parser.add_argument("--loose", default=None, help="clearance of tooth flanks; a bare number is mm")
    parser.add_argument("--holes-by", default=None, help="added to the diameter of bores; a bare number is mm")
    parser.add_argument("--shrink", default="0", help="of the print, made up for; with %% or as a share")
    parser.add_argument("--fit", default="clearance", help="of screw holes: clearance, tapped or press")
    parser.add_argument("--chamfer", default="0", help="of a print's first layer; a bare number is mm")
    parser.add_argument("--tabs", type=int, default=0, help="that hold a milled part in its sheet, marked on its outline")
    parser.add_argument("--clamp", action="store_true", help="slit the motor plate at the axle, to be pinched")
    parser.add_argument("--paper", default="A4", help="A4 or Letter, of a pdf")


def _mm(text: str | None, name: str, low: float, high: float) -> float | None:
    from wattagon.exchange.units import parse

    if text is None:
        return None
    bare = text.strip().replace(",", ".").lstrip("+-").replace(".", "", 1).isdigit()
    value = 1e3 * parse(f"{text} mm" if bare else text, "length", field=name)
    if not low <= value <= high:
        raise InputError(name, text, f"{low:g} to {high:g} mm")
    return value


def run(options: argparse.Namespace) -> int:
    """Runs it; the exit code."""
    from wattagon.exchange.cut import FORMATS, write_part
    from wattagon.exchange.units import parse
    from wattagon.study.drive.study import study_drive
    from wattagon.study.layout.sheets import Options, refused, sheet, sheets
    from wattagon.study.layout.study import study_layout

    made = Options(
        kerf_mm=_mm(options.kerf, "--kerf", 0.0, 5.0) or 0.0,
        thickness_mm=_mm(options.thickness, "--thickness", 0.2, 100.0),
        loose_mm=_mm(options.loose, "--loose", 0.0, 0.6),
        holes_by_mm=_mm(options.holes_by, "--holes-by", -1.0, 2.0),
        shrink=parse(options.shrink, "share", field="--shrink"),
        fit=options.fit,
        chamfer_mm=_mm(options.chamfer, "--chamfer", 0.0, 1.0) or 0.0,
        tabs=options.tabs,
        clamp=options.clamp,
    )
    if not 0 <= made.tabs <= 12:
        raise InputError("--tabs", made.tabs, "0 to 12")
    if not 0.0 <= made.shrink <= 0.05:
        raise InputError("--shrink", options.shrink, "0 to 5 %")
    design, stock = load(options), stock_catalogue()
    if design.vehicle.kind.floats:
        return _propeller(options, design, stock)
    found = study_layout(design, stock, study_drive(design, stock))
    if options.list or options.part is None:
        have = sheets(found, made)
        if options.json:
            print_json([one.id for one in have])
            return 0
        for one in have:
            print(f"{one.id:24} {one.name}, {one.thickness_mm:g} mm, {one.made}")
        for code, why in refused(found, made):
            print(f"{code:24} {why}")
        if not have:
            print("This drive needs no part cut.")
        return 0
    one = sheet(found, options.part, made)
    ending = options.output.suffix.lstrip(".").lower() if options.output is not None else ""
    kind = options.format or ending or "dxf"
    if kind not in FORMATS:
        raise InputError("--format", kind, ", ".join(FORMATS))
    path = options.output or Path(f"{one.id}.{kind}")
    write_part(one, path, kind, options.paper)
    print(f"{path}: {one.name}")
    for name, words in one.card:
        print(f"  {name}: {words}")
    for note in one.notes:
        print(f"  {note}")
    return 0


def _propeller(options: argparse.Namespace, design: Design, stock: Catalogue) -> int:
    """Of a boat: its propeller, as a solid."""
    from wattagon import files
    from wattagon.exchange.cut.stl import binary
    from wattagon.study.layout.screw import propeller_solid

    made = propeller_solid(design, stock)
    if options.list or options.part is None:
        if options.json:
            print_json([made.id])
        else:
            print(f"{made.id:24} {made.name}, print")
        return 0
    if options.part != made.id:
        raise InputError("part", options.part, made.id)
    ending = options.output.suffix.lstrip(".").lower() if options.output is not None else ""
    kind = options.format or ending or "stl"
    if kind != "stl":
        raise InputError("--format", kind, "stl: a propeller is no flat part")
    path = options.output or Path(f"{made.id}.stl")
    files.write_bytes(path, binary(made.triangles, made.id))
    print(f"{path}: {made.name}")
    for note in made.notes:
        print(f"  {note}")
    return 0
