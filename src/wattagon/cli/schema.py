"""Print the JSON Schema of a design."""

from __future__ import annotations

from typing import TYPE_CHECKING

from wattagon.cli.shared import print_json

if TYPE_CHECKING:
    import argparse


def options(parser: argparse.ArgumentParser) -> None:
    """Nothing may follow it."""


def run(options: argparse.Namespace) -> int:
    """Runs it; the exit code."""
    from wattagon.design.schema import schema_of
    from wattagon.design.tree import Design

    print_json(schema_of(Design))
    return 0
