"""The steps of a build: what waits for what, what can be done today, when it could roll."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

from wattagon.cli.parts import built
from wattagon.cli.shared import design_options, load, print_json, stock_catalogue

if TYPE_CHECKING:
    import argparse


def options(parser: argparse.ArgumentParser) -> None:
    """What may follow the command."""
    design_options(parser)
    parser.add_argument("--json", action="store_true")
    parser.add_argument("--ics", type=Path, metavar="OUT", help="a calendar of all open steps")


def run(options: argparse.Namespace) -> int:
    """Runs it; the exit code."""
    from wattagon.exchange.build_json import steps_data
    from wattagon.study.build.step import TOOLS

    found = built(load(options), stock_catalogue())
    if options.ics is not None:
        from wattagon import files
        from wattagon.exchange.build_out import steps_ics

        files.write_bytes(options.ics, steps_ics(found))
    if options.json:
        print_json(steps_data(found))
        return 0
    if options.ics is not None:
        return 0
    for task in found.tasks:
        low, likely, high = task.hours
        when = "" if task.state.value == "done" else f"{found.day(task.begin)} "
        mark = "*" if task.critical else " "
        print(f"{mark} {task.state.value:6} {when:11} {likely:5.1f} h ({low:.1f} to {high:.1f})  {task.step.title}")
        tool = TOOLS.get(task.step.tool)
        if task.tool_there is False and tool is not None and not task.way and task.state.value != "done":
            place = f"; could be done by {', '.join(task.places)}" if task.places else ""
            print(f"{'':22} no {tool.words} here{f': {tool.other}' if tool.other else ''}{place}")
    days = [found.finish(share).isoformat() for share in (0.1, 0.5, 0.9)]
    assumed = " (assumed)" if found.means_assumed else ""
    print(f"could roll on {days[1]}, in eight of ten between {days[0]} and {days[2]}; {found.means.hours_a_week:g} h a week{assumed}")
    now = ", ".join(task.step.title for task in found.can_begin[:6])
    print(f"today: {now or 'nothing: all waits for something'}")
    for one in found.shorter()[:3]:
        print(f"shorter by {one.days:.1f} days: {one.words}")
    return 0
