"""Two schools: a protection board, or none and what then has to stand in for it."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np

from wattagon.design.parts import BoardPart
from wattagon.physics.wiring.board import TRIP_SHARE, bleed_h, board_w
from wattagon.physics.wiring.short import equivalent_a
from wattagon.record import record
from wattagon.study.findings.status import Status
from wattagon.study.resolve import Resolved
from wattagon.study.ride.profiles import Profile, longest_above

BOARD_TAU_S = 90.0  # of a board in a pack, 60 to 120
SPREAD = 0.03  # that a balancer is asked to bleed off, where no check tells it
NARROW = (0.92, 0.12)  # without a board: charge no higher, no lower than these are narrow enough
ASKS = {
    "board": (
        "The controller's limits inside the board's on every side: a board that opens takes drive and brake away in one instant.",
        "A check of the cells now and then all the same: it balances slowly, and only near full.",
        "Regeneration that its charge side bears.",
    ),
    "none": (
        "A narrow window, and cutoffs in the controller that the weakest cell bears.",
        "The volts of every group read at fixed times, and a charger that balances or a careful hand.",
        "A fuse at the cells and a disconnect in reach: nothing else opens the pack.",
    ),
}
UNGUARDED = "a single cell over or under its volts, a charger that runs on, a short behind the fuse's rating, cold charging"


@record(frozen=True, slots=True, kw_only=True)
class Trip:
    """One level of a board against the rides."""

    name: str
    amps: float
    delay_s: float
    stretch_s: float  # longest unbroken time above the level's share
    peak_a: float
    run: str

    @property
    def status(self) -> Status:
        if not math.isfinite(self.amps):
            return Status.NOT_CHECKED
        return Status.OVER if self.stretch_s >= self.delay_s else Status.TIGHT if self.stretch_s > 0.5 * self.delay_s else Status.CLEAR


@record(frozen=True, slots=True, kw_only=True)
class Guarded:
    """What a board does to this drive."""

    board: BoardPart
    lasting_a: float  # equivalent current of the worst run
    run: str
    share: float  # of its rating
    trips: tuple[Trip, ...]
    regen_a: float
    regen_share: float  # charge trip over regeneration; inf without any
    balance_h: float  # nan where its balance current is not known
    loss_w: float
    fits: str  # why it does not fit the pack; empty where it does


def guarded(resolved: Resolved, board: BoardPart, profiles: Sequence[Profile], spread: float = SPREAD) -> Guarded:
    """A board against the rides of the vehicle; nothing ridden yet gives nan."""
    worst, run = math.nan, ""
    for one in profiles:
        out = np.maximum(one.pack_a, 0.0)
        amps, _ = equivalent_a(one.seconds, out, BOARD_TAU_S)
        if not worst >= amps:
            worst, run = amps, one.name
    trips = [
        _trip(*level, profiles) for level in (("first trip", board.first_a, board.first_s), ("second trip", board.second_a, board.second_s))
    ]
    set_a = float(resolved.train.count) * float(resolved.train.controller.regen_battery_current_a)
    regen = max((one.charge_a for one in profiles), default=set_a)
    regen = regen if regen > 0.05 else 0.0
    series = int(resolved.train.pack.series)
    fits = ""
    if not board.series_low <= series <= board.series_high:
        fits = f"it watches {board.cells} cells in series, the pack has {series}"
    elif (board.fits == "iron") != (resolved.train.pack.chemistry == "lfp") and board.fits != "any lithium":
        fits = f"it is set for {board.fits} cells"
    elif resolved.train.pack.chemistry == "lead":
        fits = "it is set for lithium, the pack is lead"
    return Guarded(
        board=board,
        lasting_a=worst,
        run=run,
        share=worst / board.lasting_a,
        trips=tuple(trips),
        regen_a=regen,
        regen_share=(board.charge_a if board.charge_a is not None else math.nan) / regen if regen > 0.0 else math.inf,
        balance_h=bleed_h(spread, float(resolved.train.pack.capacity_ah), board.balance_ma / 1e3) if board.balance_ma else math.nan,
        loss_w=board_w(1e-3 * board.on_mohm, worst),
        fits=fits,
    )


def _trip(name: str, amps: float | None, delay: float | None, profiles: Sequence[Profile]) -> Trip:
    if amps is None or delay is None:
        return Trip(name=name, amps=math.nan, delay_s=math.nan, stretch_s=0.0, peak_a=0.0, run="")
    longest, peak, run = 0.0, 0.0, ""
    for one in profiles:
        out = np.maximum(one.pack_a, 0.0)
        stretch = longest_above(one.seconds, out, TRIP_SHARE * amps)
        peak = max(peak, one.peak_a)
        if stretch > longest:
            longest, run = stretch, one.name
    return Trip(name=name, amps=amps, delay_s=delay, stretch_s=longest, peak_a=peak, run=run)
