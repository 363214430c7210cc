"""`python -m wattagon.cli`."""

from wattagon.cli import entry

entry()
