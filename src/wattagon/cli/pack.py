"""The pack: volts against every rating, currents, charging, cell checks."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

from wattagon.cli.shared import design_options, load, print_json, stock_catalogue

if TYPE_CHECKING:
    import argparse


def options(parser: argparse.ArgumentParser) -> None:
    """What may follow the command."""
    design_options(parser)
    parser.add_argument("--json", action="store_true")
    parser.add_argument("--no-rides", action="store_true", help="at once, without what rides ask of it")


def run(options: argparse.Namespace) -> int:
    """Runs it; the exit code."""
    from wattagon.exchange.pack_json import pack_data
    from wattagon.exchange.units import say
    from wattagon.study.drive.cases import strongest
    from wattagon.study.drive.study import study_drive
    from wattagon.study.pack.study import study_pack
    from wattagon.study.ride.profiles import profiles

    design, stock = strongest(load(options)), stock_catalogue()
    rides = () if options.no_rides else profiles(design, stock)
    found = study_pack(design, stock, study_drive(design, stock), rides)
    if options.json:
        print_json(pack_data(found))
        return 0
    variant, pack, volts = found.resolved.variant, found.resolved.train.pack, found.volts
    currency = design.brief.currency
    print(f"{design.vehicle.name}, variant {variant.id} {variant.name}".rstrip())
    size = f"{found.groups}S{int(pack.parallel)}P {pack.chemistry}"
    print(f"  {size}, {say(float(pack.capacity_ah), 'capacity')}, {say(float(pack.steady_ohm), 'resistance')}")
    told = (("full", volts.full), ("nominal", volts.nominal), ("cut back", volts.cut_start), ("empty", volts.empty), ("sagging", volts.sag))
    print("  " + ", ".join(f"{name} {say(value, 'voltage')}" for name, value in told))
    for rung in found.rungs:
        at = say(rung.volts, "voltage") if math.isfinite(rung.volts) else "not known"
        print(f"  {rung.status.value.replace('_', ' '):12} {rung.name}: {at}")
    window = f"{say(found.usable_wh, 'energy')} of {say(found.energy_wh, 'energy')} in the window"
    print(f"  {window}, about {found.life.cycles:.0f} full charges (within a factor of two)")
    if found.ridden is not None:
        one = found.ridden
        print(f"  rides: {say(one.lasting_a, 'current')} for long on “{one.lasting_run}”, {say(one.peak_a, 'current')} at most")
    charge = found.charged
    name = charge.charger.name if charge.charger is not None else "no charger of stock fits"
    print(
        f"  charged by {name}: {say(charge.to_80_s, 'time')} to 80 %, {say(charge.full_s, 'time')} to full, "
        f"{say(charge.wall_wh, 'energy')} from the wall, {say(charge.cost, 'money', currency=currency)}"
    )
    print("  caution: never charge unattended or below 0 C; a cell under 2 V is finished: outdoors with it, then to the recycler")
    for check in found.checks[-1:]:
        print(f"  {check.status.value.replace('_', ' '):12} cells on {check.check.date}: {check.verdict}")
    return 0
