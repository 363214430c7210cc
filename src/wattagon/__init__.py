"""Wattagon: design a scratch-built electric drive from hobby brushless motors."""

__version__ = "0.1.0"
