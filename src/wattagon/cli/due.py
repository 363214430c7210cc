"""What is to be done on a build, by day, hours or distance."""

from __future__ import annotations

import datetime
import math
from pathlib import Path
from typing import TYPE_CHECKING

from wattagon.cli.shared import print_json

if TYPE_CHECKING:
    import argparse


def options(parser: argparse.ArgumentParser) -> None:
    """What may follow the command."""
    parser.add_argument("file", type=Path)
    parser.add_argument("--on-day", metavar="DAY", help="as it will stand on a day; today without it")
    parser.add_argument("--json", action="store_true")


def run(options: argparse.Namespace) -> int:
    """Runs it; the exit code."""
    from wattagon.design import file
    from wattagon.design.tree.history import check_day
    from wattagon.exchange.units import say
    from wattagon.study.history.study import due

    day = check_day(options.on_day, "--on-day") if options.on_day else datetime.date.today()
    found = due(file.read(options.file).design, day)
    if options.json:
        print_json(
            [
                {
                    "text": one.text,
                    "how": one.how or None,
                    "on": list(one.on),
                    "date": one.day or None,
                    "use_h": one.hours,
                    "distance_m": one.distance,
                    "overdue": one.overdue,
                    "soon": one.soon,
                    "usual": one.usual,
                    "last": one.since or None,
                }
                for one in found
            ]
        )
        return 0
    for one in found:
        when = [one.day] if one.day else []
        when += [] if math.isnan(one.hours) else [f"at {one.hours:g} h"]
        when += [] if math.isnan(one.distance) else [f"at {say(one.distance, 'distance')}"]
        mark = "overdue" if one.overdue else "soon" if one.soon else ""
        print(f"{mark:8} {', '.join(when):24} {one.text}{' (usual)' if one.usual else ''}{f': {one.how}' if one.how else ''}")
    if not found:
        print("nothing is due: the history is empty")
    return 0
