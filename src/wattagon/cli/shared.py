"""What commands share: options that name a design, reading it with its overrides, and printing JSON."""

from __future__ import annotations

import json
import sys
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING, Any

from wattagon import plain
from wattagon.errors import InputError
from wattagon.exchange.finite import finite

if TYPE_CHECKING:
    import argparse

    from wattagon.design.catalogue import Catalogue
    from wattagon.design.tree import Design
    from wattagon.study.resolve import Resolved


def design_options(parser: argparse.ArgumentParser) -> None:
    """The file, its variant and overrides."""
    parser.add_argument("file", type=Path)
    parser.add_argument("--variant", metavar="V", help="id or name of the variant; the active one without it")
    parser.add_argument("--case", metavar="NAME", help="load case of the brief in view, 'usual' for the usual one")
    parser.add_argument(
        "--gear", metavar="N", help="gear in view of a drive through the bike's own gears, 1 with the largest cog; a ride stays in it"
    )
    parser.add_argument("--mode", metavar="NAME", help="mode of the brief in view; without it all that the settings allow")
    parser.add_argument(
        "--set",
        action="append",
        default=[],
        metavar="PATH=VALUE",
        help=(
            "override any field of the design for this run; LIST.+=ITEM adds, LIST.ITEM=none takes out, "
            "such as variant.stages.+='belt 5M 15:72'"
        ),
    )


def stock_catalogue() -> Catalogue:
    """Shipped parts and the user's own; skipped rows are told."""
    from wattagon.design import catalogue

    stock = catalogue.load(catalogue.own_folder())
    for row in stock.bad_rows:
        print(f"wattagon: skipped {row}", file=sys.stderr)
    return stock


def load(options: argparse.Namespace) -> Design:
    """The design that the options name.  Raises WattagonError with a sentence."""
    from wattagon.design import file
    from wattagon.exchange.set_text import set_from_text

    document = file.read(options.file)
    for words in document.aside:
        print(f"wattagon: {options.file}: set aside: {words}", file=sys.stderr)
    design = document.design
    if options.variant is not None:
        design = replace(design, active=_named(design, "variant", options.variant))
    for assignment in options.set:
        design = set_from_text(design, assignment)
    if options.case is not None:
        design = replace(design, brief=replace(design.brief, case=_named(design, "case", options.case)))
    if options.mode is not None:
        design = replace(design, brief=replace(design.brief, mode=_named(design, "mode", options.mode)))
    if options.gear is not None:
        design = _in_gear(design, options.gear)
    variant = design.variant()
    if variant.wheel is not None and any(item.startswith("vehicle.tyre_") for item in options.set):
        print(
            f"wattagon: vehicle.tyre_diameter is not used: variant {variant.id} takes its wheel from stock (set variant.wheel.diameter_m)",
            file=sys.stderr,
        )
    return design


def tell_case(design: Design, resolved: Resolved) -> None:
    """A load case that was asked for and does not drive is told, with what is shown instead."""
    case = design.brief.load_case()
    if case is not None and resolved.case != case.id:
        why = "tips as it stands" if case.pack else "has no pack"
        print(f"wattagon: load case {case.id} {why}: what follows is of the usual load", file=sys.stderr)


def _in_gear(design: Design, text: str) -> Design:
    from wattagon.design.paths import put
    from wattagon.exchange.units import whole

    if design.variant().gears is None:
        raise InputError("--gear", text, "nothing: this variant does not drive through the bike's gears")
    return put(design, "variant.gears.in_view", whole(text, "count", "--gear"))


def _named(design: Design, what: str, wanted: str) -> str:
    """The id of a variant, a load case or a mode by its id or its name.  Raises InputError with those that there are."""
    from wattagon.design.tree import USUAL

    kinds: dict[str, tuple[Any, ...]] = {"variant": design.variants, "case": design.brief.cases, "mode": design.brief.modes}
    items = [(item.id, item.name) for item in kinds[what]]
    typed = wanted.strip().casefold()
    if what == "case" and typed == USUAL.casefold():
        return ""
    exact = [ident for ident, name in items if wanted in (ident, name)]
    for ident in exact or [ident for ident, name in items if typed in (ident.casefold(), name.casefold())]:
        return ident
    there = [USUAL] if what == "case" else []
    raise InputError(f"--{what}", wanted, ", ".join([*there, *(ident for ident, _ in items)]) or f"none: the brief has no {what}s")


def print_json(value: Any) -> None:
    """JSON on the terminal, in letters that it has."""
    print(json.dumps(finite(value), indent=2, ensure_ascii=not plain.unicode_terminal(), allow_nan=False))


def charge_of(text: str) -> float:
    """A state of charge from its name or a share."""
    from wattagon.study.resolve import CHARGE_STATES

    if text in CHARGE_STATES:
        return CHARGE_STATES[text]
    from wattagon.exchange.units import parse

    charge = parse(text, "share", field="--charge")
    if not 0.0 <= charge <= 1.0:
        raise InputError("--charge", text, "full, nominal, low or 0 to 1")
    return charge
