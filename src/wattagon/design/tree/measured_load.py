"""Currents of a log in segments: what pack and wiring are held against in place of simulated rides."""

from __future__ import annotations

from dataclasses import field

from wattagon.design.tree.ids import Extra, at_most, no_extra
from wattagon.errors import InputError
from wattagon.record import record

MOST_SEGMENTS = 800
_BOUND = 1e5


@record(frozen=True, slots=True, kw_only=True)
class MeasuredLoad:
    """Segments one after another, all lists of one length: seconds, and what was measured in each, SI."""

    log: str  # id of the log
    seconds: tuple[float, ...]
    pack_a: tuple[float, ...]  # root of the mean square, below 0 into the pack
    dc_a: tuple[float, ...]  # of one motor, DC-equivalent, root of the mean square, below 0 where it brakes
    speed: tuple[float, ...]
    volts: tuple[float, ...]
    peak_a: float = 0.0  # most out of the pack
    charge_a: float = 0.0  # most into it
    lowest_v: float = 0.0
    highest_v: float = 0.0
    extra: Extra = field(default_factory=no_extra)

    def __post_init__(self) -> None:
        rows = {len(x) for x in (self.seconds, self.pack_a, self.dc_a, self.speed, self.volts)}
        if len(rows) != 1 or 0 in rows:
            raise InputError("measured_load", "lists of unlike length", "as many seconds as amps, speeds and volts, one or more")
        at_most("measured_load", len(self.seconds), MOST_SEGMENTS, "segments")
        if min(self.seconds) <= 0.0 or max(self.seconds) > 1e6:
            raise InputError("measured_load.seconds", min(self.seconds), "above 0, up to 1e6 s")
        wild = next((x for row in (self.pack_a, self.dc_a, self.speed, self.volts) for x in row if not abs(x) <= _BOUND), None)
        if wild is not None:
            raise InputError("measured_load", wild, f"numbers up to {_BOUND:g}")
