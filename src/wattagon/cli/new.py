"""Write a new design of a kind."""

from __future__ import annotations

import os
from pathlib import Path
from typing import TYPE_CHECKING

from wattagon.errors import InputError

if TYPE_CHECKING:
    import argparse


def options(parser: argparse.ArgumentParser) -> None:
    """What may follow the command."""
    parser.add_argument("kind")
    parser.add_argument("out", type=Path)


def run(options: argparse.Namespace) -> int:
    """Runs it; the exit code."""
    from wattagon.design import file
    from wattagon.design.boats import BOATS
    from wattagon.design.kinds import KINDS
    from wattagon.design.template import new_design
    from wattagon.design.tree import VehicleKind

    try:
        kind = VehicleKind("_".join(options.kind.casefold().replace("-", " ").replace("_", " ").split()))
    except ValueError:
        raise InputError("KIND", options.kind, ", ".join(VehicleKind)) from None
    if os.path.lexists(options.out):
        raise InputError("OUT", options.out, "a file that is not there yet")
    file.write(options.out, file.Document(design=new_design(kind, options.out.stem)))
    if kind.floats:
        print("Lifejacket on, lanyard on the switch, nobody near the propeller; where motors may run: check your local rules.")
    words = BOATS[kind].words if kind.floats else KINDS[kind].words
    print(f"{options.out}: {words} with typical values, all of them assumed; measure over them.")
    return 0
