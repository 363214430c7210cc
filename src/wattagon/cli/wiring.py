"""The wiring: every piece from cells to phase leads, fuse, pre-charge; schematic and cut list."""

from __future__ import annotations

import math
from pathlib import Path
from typing import TYPE_CHECKING

from wattagon.cli.shared import design_options, load, print_json, stock_catalogue
from wattagon.errors import InputError

if TYPE_CHECKING:
    import argparse


def options(parser: argparse.ArgumentParser) -> None:
    """What may follow the command."""
    design_options(parser)
    parser.add_argument("--json", action="store_true")
    parser.add_argument("--svg", type=Path, metavar="OUT", help="write the schematic, with control wires")
    parser.add_argument("--one-line", action="store_true", help="one line for all poles in the schematic")
    parser.add_argument("--cut-list", type=Path, metavar="OUT", help="write cut list and drilling list, .csv or .pdf")


def run(options: argparse.Namespace) -> int:
    """Runs it; the exit code."""
    from wattagon import files
    from wattagon.exchange.units import say
    from wattagon.exchange.wiring_json import wiring_data
    from wattagon.study.drive.cases import strongest
    from wattagon.study.drive.study import study_drive
    from wattagon.study.layout.study import study_layout
    from wattagon.study.pack.study import study_pack
    from wattagon.study.ride.profiles import profiles
    from wattagon.study.ride.words import distance_text
    from wattagon.study.wiring.study import study_wiring

    if options.one_line and options.svg is None:
        raise InputError("--one-line", "alone", "it with --svg OUT")
    if options.cut_list is not None and options.cut_list.suffix.lower() not in ("", ".csv", ".txt", ".pdf"):
        raise InputError("--cut-list", str(options.cut_list), "a name that ends in .csv or .pdf")
    design, stock = strongest(load(options)), stock_catalogue()
    drive, rides = study_drive(design, stock), profiles(design, stock)
    pack = study_pack(design, stock, drive, rides)
    found = study_wiring(design, stock, drive, pack, study_layout(design, stock, drive, gaps=False), rides)
    if options.svg is not None or options.cut_list is not None:
        from wattagon.exchange.wiring_out import cut_csv, cut_pdf, schematic

        if options.svg is not None:
            files.write_bytes(options.svg, schematic(found, stock, every_wire=not options.one_line).encode())
        if options.cut_list is not None:
            paper = options.cut_list.suffix.lower() == ".pdf"
            files.write_bytes(options.cut_list, cut_pdf(found, stock) if paper else cut_csv(found, stock).encode())
    if options.json:
        print_json(wiring_data(found, stock))
        return 0
    variant = found.resolved.variant
    print(f"{design.vehicle.name}, variant {variant.id} {variant.name}".rstrip() + (": proposed" if found.proposed else ""))
    for one in found.pieces:
        warm = f", {say(one.temperature_c, 'temperature')}" if math.isfinite(one.temperature_c) else ""
        bears = say(one.bears.rating_a, "current") if math.isfinite(one.bears.rating_a) else "not known"
        many = f" x {one.branch.count}" if one.branch.count > 1 else ""
        print(
            f"  {one.status.value.replace('_', ' '):12} {one.branch.name}{many}: {one.name}, {say(one.rms_a, 'current')} of {bears}{warm}"
        )
    for code, fuse in found.fuses.items():
        print(f"  {code}: {fuse.part.name}")
        for test in fuse.tests:
            print(f"    {test.status.value.replace('_', ' '):12} {test.code}: {test.words}")
    pre = found.precharge
    told = pre.part.name if pre.part is not None else "none told"
    takes = f"{say(pre.ohm, 'resistance')} takes {say(pre.seconds, 'time')} and {pre.joule:.1f} J"
    print(f"  pre-charge: {told}; {takes}; spark {pre.spark_j:.2g} J")
    lost = f", {distance_text(found.range_lost_m, say)} of range" if math.isfinite(found.range_lost_m) else ""
    print(f"  loss at the worst lasting currents: {say(found.total_loss_w, 'power')}{lost}")
    for path in (options.svg, options.cut_list):
        if path is not None:
            print(f"  written: {path}")
    return 0
