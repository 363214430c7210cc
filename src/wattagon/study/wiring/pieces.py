"""One piece of the path against its load: equivalent current, every stretch, drop, loss, temperature."""

from __future__ import annotations

import math

from wattagon.design.catalogue import Catalogue
from wattagon.physics.wiring.copper import ALPHA_PER_K
from wattagon.record import record
from wattagon.study.findings.status import Status
from wattagon.study.wiring.bears import Bears, bears, bears_for, temperature_of
from wattagon.study.wiring.loads import Branch
from wattagon.study.wiring.path import Laid

CLEAR, FULL = 0.8, 1.0
FUSED = 1.0 / 1.1  # of a fuse, whose figure has its own share already


@record(frozen=True, slots=True, kw_only=True)
class Held:
    """One piece against its load."""

    laid: Laid
    branch: Branch
    bears: Bears
    name: str
    rms_a: float  # equivalent current of the worst run
    run: str
    run_name: str
    peak_a: float
    peak_s: float
    points: tuple[tuple[float, float, float], ...]  # (seconds, load, what it bears)
    drop_v: float  # at the peak
    drop_lasting_v: float
    loss_w: float
    temperature_c: float

    @property
    def kind(self) -> str:
        return self.laid.piece.kind

    @property
    def code(self) -> str:
        return self.laid.piece.id

    @property
    def copper_m(self) -> float:
        """Copper length of one branch's leads, all poles [m]; of a piece without length 0."""
        return self.laid.length_m * self.branch.poles

    @property
    def share(self) -> float:
        """Equivalent current over what it bears for long; nan where that is not known."""
        return self.rms_a / self.bears.rating_a if self.bears.rating_a > 0.0 else math.inf if self.bears.rating_a == 0.0 else math.nan

    @property
    def peak_share(self) -> float:
        """Worst load over what it bears for that time; nan where that is not known."""
        known = [load / most for _, load, most in self.points if most > 0.0]
        return max(known, default=math.nan)

    @property
    def binds(self) -> tuple[float, float, float]:
        """(seconds, load, what it bears) of the worst time; 0 s stands for lasting."""
        worst = max((point for point in self.points if point[2] > 0.0), key=lambda p: p[1] / p[2], default=None)
        if worst is None or not worst[1] / worst[2] > self.share:
            return 0.0, self.rms_a, self.bears.rating_a
        return worst

    @property
    def worst(self) -> float:
        """The larger of the two shares; nan where nothing is known."""
        both = [one for one in (self.share, self.peak_share) if not math.isnan(one)]
        return max(both, default=math.nan)

    @property
    def status(self) -> Status:
        share = self.worst
        if math.isnan(share):
            return Status.NOT_CHECKED
        return Status.CLEAR if share <= (FUSED if self.kind == "fuse" else CLEAR) else Status.TIGHT if share <= FULL else Status.OVER


def held(laid: Laid, branch: Branch, stock: Catalogue) -> Held:
    piece = laid.piece
    found = bears(piece, stock, laid.around, laid.limit_c, laid.beside, laid.length_m)
    rms, run, run_name = branch.equivalent(found.tau_s)
    peak, seconds = branch.peak
    before = min(rms, 0.7 * found.rating_a) if math.isfinite(found.rating_a) else rms
    points = tuple((t, load, bears_for(piece, stock, laid.around, found, laid.beside, t, before)) for t, load in branch.windows)
    warm = temperature_of(piece, stock, laid.around, found, laid.beside, rms)
    poles = branch.poles if piece.branch == "phase" else 1  # ohms of a phase piece are of one lead
    at = warm if math.isfinite(warm) else found.limit_c
    ohm = found.ohm * (1.0 + ALPHA_PER_K * (at - 20.0)) if piece.kind == "lead" else found.ohm
    return Held(
        laid=laid,
        branch=branch,
        bears=found,
        name=piece.name or WORDS[piece.kind],
        rms_a=rms,
        run=run,
        run_name=run_name,
        peak_a=peak,
        peak_s=seconds,
        points=points,
        drop_v=peak * ohm,
        drop_lasting_v=rms * ohm,
        loss_w=poles * rms**2 * ohm,
        temperature_c=warm,
    )


WORDS = {
    "lead": "lead",
    "joint": "joint",
    "fuse": "fuse",
    "key": "loop key",
    "switch": "switch",
    "contactor": "contactor",
    "board": "protection board",
    "converter": "converter",
    "resistor": "resistor",
    "meter": "meter",
}
