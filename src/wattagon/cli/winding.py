"""`wattagon winding`: what is wound on a motor, what would give another kv, and how."""

from __future__ import annotations

import math
from pathlib import Path
from typing import TYPE_CHECKING, Any

from wattagon.cli.shared import design_options, load, print_json, stock_catalogue
from wattagon.errors import InputError

if TYPE_CHECKING:
    import argparse

    from wattagon.design.tree import Wound
    from wattagon.study.winding.study import WindingStudy

METRES_BELOW = 0.01  # a bare number of wire below it is metres, as elsewhere; above it millimetres, as on the reel


def options(parser: argparse.ArgumentParser) -> None:
    """What may follow the command."""
    design_options(parser)
    parser.add_argument("--kv", metavar="N", help="wanted; without it the one told, else the one that fits the goals best")
    parser.add_argument("--turns", metavar="N", help="turns a tooth of a winding that is looked at first")
    parser.add_argument("--strands", metavar="N", help="strands in hand")
    parser.add_argument("--wire", metavar="D", help="bare diameter of a strand, in millimetres without a unit")
    parser.add_argument("--connection", metavar="wye|delta")
    parser.add_argument("--paths", metavar="N", help="parallel paths a phase")
    parser.add_argument("--layers", metavar="N", help="coil sides a slot, 1 or 2")
    parser.add_argument("--svg", type=Path, metavar="OUT", help="write the stator with its pattern at 1:1")
    parser.add_argument("--pdf", type=Path, metavar="OUT", help="write the pattern sheet at 1:1")
    parser.add_argument("--json", action="store_true")


def run(options: argparse.Namespace) -> int:
    """Runs it; the exit code."""
    from wattagon.exchange.units import parse
    from wattagon.exchange.winding_json import winding_data
    from wattagon.study.winding.study import study_winding

    kv = parse(options.kv, "kv", field="--kv") if options.kv is not None else None
    if kv is not None and not (math.isfinite(kv) and 1.0 <= kv <= 20000.0):
        raise InputError("--kv", options.kv, "1 to 20000 rpm/V")
    plan = _plan(options)
    found = study_winding(load(options), stock_catalogue(), kv=kv, plan=plan)
    if found.why_not:
        raise InputError("slots and poles", found.base.iron.name, found.why_not)
    for path, make in ((options.svg, "svg"), (options.pdf, "pdf")):
        if path is not None:
            _write(found, path, make)
    if options.json:
        print_json(winding_data(found))
        return 0
    _print(found)
    return 0


def _plan(options: argparse.Namespace) -> Wound | None:
    from wattagon.design.quantity import Known, Quantity
    from wattagon.design.tree import Wound
    from wattagon.exchange.units import whole
    from wattagon.physics.winding.coil import Connection

    told = (options.turns, options.strands, options.wire, options.connection, options.paths, options.layers)
    if all(one is None for one in told):
        return None
    counts: dict[str, Any] = {}
    for name, most in (("turns", 500), ("strands", 200), ("paths", 40), ("layers", 2)):
        text = getattr(options, name)
        if text is not None:
            value = whole(text, "count", f"--{name}")
            if not 1 <= value <= most:
                raise InputError(f"--{name}", text, f"a whole number, 1 to {most}")
            counts[name] = value
    if options.connection is not None:
        joined = options.connection.strip().lower()
        if joined not in list(Connection):
            raise InputError("--connection", options.connection, "wye or delta")
        counts["connection"] = Connection(joined)
    if options.wire is not None:
        counts["wire"] = Quantity(value=wire_m(options.wire), known=Known.STATED)
    return Wound(**counts)


def wire_m(text: str) -> float:
    """A bare diameter as typed [m]."""
    from wattagon.exchange.units import parse

    try:
        bare = float(text.replace(",", "."))
    except ValueError:
        value = parse(text, "length", field="--wire")
    else:
        value = bare if 0.0 < bare < METRES_BELOW else 1e-3 * bare
    if not 5e-5 <= value <= 5e-3:  # refuses nan too
        raise InputError("--wire", text, "0.05 to 5 mm, bare")
    return value


def _write(found: WindingStudy, path: Path, make: str) -> None:
    from wattagon import files
    from wattagon.exchange.winding_sheet import winding_pdf, winding_svg

    files.write_bytes(path, winding_svg(found).encode() if make == "svg" else winding_pdf(found))


def _print(found: WindingStudy) -> None:
    from wattagon.exchange.units import say
    from wattagon.study.winding.identify import says
    from wattagon.study.winding.sensors import seats
    from wattagon.study.winding.study import reel_words

    base, layout, motor = found.base, found.layout, found.base.motor
    coils = base.coils
    print(f"{found.design.vehicle.name}: {base.part.name}, {base.iron.name}")
    print(
        f"  now   {coils.turns:g} turns, {coils.strands:g} x {1e3 * coils.wire_m:.3g} mm, {coils.connection.value}: "
        f"{say(float(motor.kv_rpm_per_v), 'kv')}, {say(float(motor.resistance_ohm), 'resistance')}; "
        f"by its measures {say(base.by_measures_ohm, 'resistance')}"
    )
    for line in says(base, found.told, found.read_before, found.guesses):
        print(f"  read  {line}")
    if layout is not None:
        single = ", ".join(f"{one.pattern.text} {one.factor:.4f}" for one in found.layouts if one is not layout)
        print(f"  pattern {layout.pattern.text}, factor {layout.factor:.4f}{f'; {single}' if single else ''}")
    print(f"  wanted {say(found.wanted_kv, 'kv')} ({found.wanted_by})")
    for one, effect in found.offers:
        hand = "" if one.by_hand.good else "  not by hand"
        print(
            f"  {one.name}: {say(one.kv, 'kv')} ({100 * one.off:+.1f} %), {say(one.ohm, 'resistance')}, fill {one.fill:.2f}, "
            f"lasts {say(effect.lasting_a, 'current')}, {reel_words(one)}, {1e3 * one.copper_kg:.0f} g{hand}"
        )
    if found.advised is not None:
        print(f"  advised: {found.advised.name}")
    for way in found.ways:
        does = way.effect
        if does.refused:
            print(f"  {way.code:11} {way.name}: {does.refused}")
            continue
        settles = say(does.settles_c, "temperature") if math.isfinite(does.settles_c) else "no steady temperature"
        print(
            f"  {way.code:11} {way.name}: {does.met} of {len(does.goals)} goals, copper loses {does.copper_w:.3g} W, winding {settles}, "
            f"lasts {say(does.lasting_a, 'current')}"
        )
    if found.halls is not None:
        where = f"{seats(found.halls.openings)} (openings {'-'.join(map(str, found.halls.openings))} from 0)"
        print(f"  sensors {where}, {found.halls.neighbour_deg:.4g} degrees apart: {' '.join(c for c, _ in found.halls.ring)}")
    if found.after is not None:
        for check in found.after.checks:
            print(f"  {check.status.value.replace('_', ' '):12} {check.name}: {check.words}")
        for cause in found.after.causes:
            print(f"  cause {100 * cause.share:3.0f} %  {cause.words}; decides: {cause.test}")
    print("  caution: insulation testers with everything unplugged; high-potential AC tests belong to people equipped for them")
