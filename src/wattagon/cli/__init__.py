"""The terminal: the same studies as the window, as text or JSON in SI.  One module a command."""

from __future__ import annotations

import os
import sys
from collections.abc import Sequence
from pathlib import Path
from typing import TYPE_CHECKING, Any, NamedTuple

from wattagon import __version__, plain
from wattagon.errors import FileError, InputError, WattagonError

if TYPE_CHECKING:
    import argparse


class Command(NamedTuple):
    """One line of the table; its module has `options(parser)` and `run(options) -> exit code`."""

    name: str
    module: str
    help: str


COMMANDS: tuple[Command, ...] = (
    Command("new", "wattagon.cli.new", "write a new design of a kind"),
    Command("solve", "wattagon.cli.solve", "speeds, forces and goals"),
    Command("bands", "wattagon.cli.bands", "between what each goal lies, and what to measure next"),
    Command("why", "wattagon.cli.why", "how a number comes about, back to the fields it rests on"),
    Command("point", "wattagon.cli.point", "one operating point"),
    Command("check", "wattagon.cli.check", "findings with cures"),
    Command("ride", "wattagon.cli.ride", "simulate a run or a course"),
    Command("find", "wattagon.cli.find", "search every combination of stock for the goals"),
    Command("compare", "wattagon.cli.compare", "variants, versions and what-ifs side by side"),
    Command("layout", "wattagon.cli.layout", "where the drive stands: loops, teeth in mesh, tension, gaps"),
    Command("strength", "wattagon.cli.strength", "whether it holds, what gives way first, how to prove it"),
    Command("pack", "wattagon.cli.pack", "the pack: volts against every rating, currents, charging, cell checks"),
    Command("wiring", "wattagon.cli.wiring", "every piece from cells to phase leads, fuse, pre-charge, schematic, cut list"),
    Command("settings", "wattagon.cli.settings", "the controller's settings with bounds and reasons, and a sheet read back"),
    Command("winding", "wattagon.cli.winding", "the motor's coils: what gives another kv, pattern, sensors, what was read"),
    Command("standin", "wattagon.cli.standin", "a simulated stand of a design to rehearse on"),
    Command("parts", "wattagon.cli.parts", "the parts list: what has come, what must be measured before it is ordered"),
    Command("steps", "wattagon.cli.steps", "the steps of the build, what can be done today, when it could roll"),
    Command("commission", "wattagon.cli.commission", "commissioning with this design's numbers, what was read, what has to be read again"),
    Command("trouble", "wattagon.cli.trouble", "from a symptom the likely causes for this design, and the test that decides"),
    Command("log", "wattagon.cli.log", "logs: bring one in, look at it, hold it against its prediction"),
    Command("fit", "wattagon.cli.fit", "what logs teach of the design, and how sure that is"),
    Command("cut", "wattagon.cli.cut", "files to cut and print the parts of a drive"),
    Command("report", "wattagon.cli.report", "a design as one page with pictures, as paper, or as text for a post"),
    Command("history", "wattagon.cli.history", "what happened to a build"),
    Command("due", "wattagon.cli.due", "what is to be done on a build"),
    Command("schema", "wattagon.cli.schema", "print the JSON Schema of a design"),
    Command("stock", "wattagon.cli.stock", "list the stock catalogue"),
    Command("desktop", "wattagon.cli.desktop", "menu entry, icon and double click for this user"),
)
NAMES = tuple(command.name for command in COMMANDS)


def entry() -> None:
    """Console entry point."""
    sys.exit(main(sys.argv[1:]))


def main(arguments: Sequence[str]) -> int:
    """Run one command; 0 when done, 1 when --fail-on was met, 2 when something is refused (one sentence on stderr)."""
    plain.any_terminal()
    try:
        if arguments and arguments[0] in NAMES:
            options = _parser(arguments[0]).parse_args(arguments)
            return int(options.run_command(options))
        return _window(arguments)
    except WattagonError as refusal:
        print(f"wattagon: {refusal}", file=sys.stderr)
        return 2
    except BrokenPipeError:
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
        return 0


def _parser_class() -> type[argparse.ArgumentParser]:
    import argparse  # a fiftieth of the window's start, and the window seldom needs it

    class Parser(argparse.ArgumentParser):
        """One sentence instead of a usage block."""

        def error(self, message: str) -> Any:
            raise InputError("the command line", message, f"see {self.prog} --help")

    return Parser


def _window(arguments: Sequence[str]) -> int:
    if list(arguments) in ([], ["--demo"]) or (len(arguments) == 1 and not arguments[0].startswith("-")):
        return _show(
            Path(arguments[0]) if arguments and arguments[0] != "--demo" else None, demo=bool(arguments) and arguments[0] == "--demo"
        )
    parser = _parser_class()(
        prog="wattagon",
        description="Design a scratch-built electric drive.",
        epilog=f"Commands: {', '.join(NAMES)}; each has --help.",
    )
    parser.add_argument("file", nargs="?", type=Path, help="a .wattagon file or a design.json")
    parser.add_argument("--demo", action="store_true", help="open the demo fleet")
    parser.add_argument("--picture", type=Path, metavar="PNG", help="write a picture of the window instead of showing it")
    parser.add_argument("--version", action="version", version=f"wattagon {__version__}")
    options = parser.parse_args(arguments)
    return _show(options.file, demo=options.demo, picture=options.picture)


def _show(path: Path | None, *, demo: bool, picture: Path | None = None) -> int:
    if path is not None and not os.path.isfile(path):  # said before a window is tried: it may be a command with a slip in it
        import difflib

        near = difflib.get_close_matches(str(path), NAMES, n=1)
        also = f"; did you mean the command {near[0]}?" if near else f", and no command: {', '.join(NAMES)}"
        raise FileError(f"{str(path)[:200]!r} is no file{also}")
    load_core()
    from wattagon.desk.app import run

    return run(path, demo=demo, picture=picture)


def load_core() -> None:
    """Load the core before Qt, whose binding reads the source of every module that is imported after it.

    Looking for garbage meanwhile would take a fifth of the start; the window switches that on again.
    """
    import gc

    gc.disable()
    from wattagon.study.drive import levers
    from wattagon.study.findings import cures as findings

    assert findings and levers


def _parser(name: str) -> argparse.ArgumentParser:
    """The parser of one command: the others are not loaded."""
    import importlib

    kind = _parser_class()
    parser = kind(prog="wattagon")
    commands = parser.add_subparsers(dest="command", required=True, parser_class=kind)
    for command in COMMANDS:
        if command.name == name:
            module = importlib.import_module(command.module)
            added = commands.add_parser(command.name, help=command.help)
            module.options(added)
            added.set_defaults(run_command=module.run)
    return parser
