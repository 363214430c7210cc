"""How sure a result is: the error of each input, and what they make of a result together."""

from wattagon.study.bands.bands import Band, Bands, band
from wattagon.study.bands.errors import Wide, wide, wide_inputs

__all__ = ["Band", "Bands", "Wide", "band", "wide", "wide_inputs"]
