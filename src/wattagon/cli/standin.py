"""A simulated stand of a design to rehearse on, by a line protocol over stdin and stdout or a pseudo-terminal."""

from __future__ import annotations

from typing import TYPE_CHECKING

from wattagon.cli.shared import charge_of, design_options, load, stock_catalogue

if TYPE_CHECKING:
    import argparse


def options(parser: argparse.ArgumentParser) -> None:
    """What may follow the command."""
    design_options(parser)
    parser.add_argument("--pty", action="store_true", help="over a pseudo-terminal; its path is printed first as `device PATH`")
    parser.add_argument("--fault", metavar="NAME", default="", help="something that is wrong with it")
    parser.add_argument("--seed", type=int, default=1, metavar="N", help="of its noise")
    parser.add_argument("--charge", default="0.8", metavar="SHARE", help="of the pack: full, nominal, low or 0 to 1")
    parser.add_argument("--coupled", action="store_true", help="with reduction and wheel, in the air")


def run(options: argparse.Namespace) -> int:
    """Runs it; the exit code."""
    from wattagon.standins.protocol import serve
    from wattagon.standins.stand import Stand
    from wattagon.study.drive.cases import strongest

    stand = Stand(
        strongest(load(options)),
        stock_catalogue(),
        fault=options.fault,
        seed=options.seed,
        charge=charge_of(options.charge),
        coupled=options.coupled,
    )
    try:
        serve(stand, pty=options.pty)
    except (KeyboardInterrupt, BrokenPipeError):
        return 0
    return 0
