"""Where the drive stands: does it fit, does it mesh."""

from __future__ import annotations

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
    parser.add_argument("--pdf", type=Path, metavar="OUT", help="write the side view at 1:1 over pages, with a ruler to check the printer")
    parser.add_argument("--paper", default="A4", help="A4 or Letter, of the pdf")
    parser.add_argument("--svg", type=Path, metavar="OUT", help="write the side view at 1:1 as SVG, in mm")


def run(options: argparse.Namespace) -> int:
    """Runs it; the exit code."""
    from wattagon import files
    from wattagon.exchange.layout_json import layout_data
    from wattagon.exchange.layout_svg import side_view
    from wattagon.exchange.units import say
    from wattagon.study.drive.study import study_drive
    from wattagon.study.layout.study import study_layout

    design, stock = load(options), stock_catalogue()
    found = study_layout(design, stock, study_drive(design, stock))
    if options.svg is not None:
        files.write_bytes(options.svg, side_view(found).encode())
    if options.pdf is not None:
        if found.scene.berth is not None:
            raise InputError("--pdf", str(options.pdf), "a vehicle on wheels; a boat's stern does not go on paper at 1:1")
        from wattagon.exchange.cut.pdf import pdf
        from wattagon.study.layout.onpaper import full_scale

        files.write_bytes(options.pdf, pdf(full_scale(found), options.paper))
    if options.json:
        print_json(layout_data(found))
        return 0
    variant = found.resolved.variant
    print(f"{design.vehicle.name}, variant {variant.id} {variant.name}".rstrip())
    for shaft in found.shafts:
        mark = ", proposed" if shaft.proposed else ""
        print(f"  {shaft.name:12} {say(shaft.x, 'length')} ahead, {say(shaft.z, 'length')} up{mark}")
    for one in found.stages:
        what = "teeth" if one.made.kind is not None else "links"
        fits = "" if abs(one.off_m) < 5e-4 else f", {say(abs(one.off_m), 'length')} {'too short' if one.off_m > 0 else 'too long'}"
        print(f"  {one.made.family.id} {one.made.choice.driver_teeth}:{one.made.choice.driven_teeth}, loop of {one.loop} {what}{fits}")
        print(f"    {say(one.centre_m, 'length')} between the middles, {one.in_mesh} teeth in mesh")
        if one.jump is not None:
            print(
                f"    set to {say(one.installed_n, 'force')}: {one.tone_hz:.0f} Hz, or {say(one.push_n, 'force')} for "
                f"{say(one.push_m, 'length')} at mid-span; jumps at {say(one.jump.jump_nm, 'torque')}"
            )
        if one.slots is not None:
            print(f"    slots {say(one.slots.shortest, 'length')} to {say(one.slots.longest, 'length')}")
    for gap in found.gaps:
        told = gap.because or f"{say(round(gap.nominal, 5), 'length')}, at worst {say(round(gap.worst, 5), 'length')}"
        print(f"  {gap.status.value.replace('_', ' '):12} {gap.between}: {told}{f' ({gap.swept})' if gap.swept else ''}")
    for path in (options.svg, options.pdf):
        if path is not None:
            print(f"  written: {path}")
    return 0
