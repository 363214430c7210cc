"""List the stock catalogue."""

from __future__ import annotations

from typing import TYPE_CHECKING

from wattagon.cli.shared import print_json, stock_catalogue
from wattagon.errors import InputError

if TYPE_CHECKING:
    import argparse


def options(parser: argparse.ArgumentParser) -> None:
    """What may follow the command."""
    parser.add_argument("kind", nargs="?")
    parser.add_argument("--json", action="store_true")


def run(options: argparse.Namespace) -> int:
    """Runs it; the exit code."""
    from wattagon.design.codec import encode
    from wattagon.design.parts import PART_KINDS

    known = {kind.stock: kind for kind in PART_KINDS}
    if options.kind is not None and options.kind not in known:
        raise InputError("KIND", options.kind, ", ".join(known))
    stock = stock_catalogue()
    kinds = [options.kind] if options.kind else list(known)
    if options.json:
        listed = {kind: [encode(part) for part in stock.all(known[kind])] for kind in kinds}
        print_json(listed[options.kind] if options.kind else listed)
        return 0
    for kind in kinds:
        print(kind)
        for part in stock.all(known[kind]):
            print(f"  {part.id:28} {part.name}")
    return 0
