"""What ranges are worked out from: the drive, and the few figures of slow studies that commissioning needs."""

from __future__ import annotations

import math
from typing import NamedTuple

from wattagon.design.catalogue import Catalogue
from wattagon.design.parts import FusePart
from wattagon.design.tree import Commissioning, Design, GoalKind
from wattagon.physics.pack import CHARGE_LIMIT_V, charge_at
from wattagon.record import record
from wattagon.study.drive.study import DriveStudy, point_at
from wattagon.study.layout.study import LayoutStudy
from wattagon.study.wiring.study import WiringStudy

HALF = 0.5  # of the charge, until its volts are read


class Loop(NamedTuple):
    """One belt or chain: where it is, its tone [Hz] and push [N over m] as a belt, its slack's base [m] as a chain."""

    words: str
    tone_hz: float
    push_n: float
    push_m: float
    centre_m: float
    belt: bool

    @property
    def called(self) -> str:
        kind = "belt" if self.belt else "chain"
        return kind if self.words == kind else f"{kind} of {self.words}"


@record(frozen=True, slots=True, kw_only=True)
class Grounds:
    """Of the active variant."""

    design: Design
    drive: DriveStudy
    loops: tuple[Loop, ...]
    fuse_a: float  # nan: none is told
    fuse_name: str
    precharge: bool  # is needed
    precharge_told: bool
    precharge_s: float  # 3 R C
    precharge_j: float
    contactor: bool
    softens_c: float  # of a printed mount; nan without one
    proposed: bool  # the wiring is only proposed

    @property
    def told(self) -> Commissioning:
        return self.design.variant().commissioning or Commissioning()

    @property
    def floats(self) -> bool:
        return self.design.vehicle.kind.floats

    @property
    def series(self) -> int:
        return int(self.drive.resolved.train.pack.series)

    @property
    def full_v(self) -> float:
        return float(self.drive.resolved.train.pack.full_v)

    @property
    def cell_limits_v(self) -> tuple[float, float]:
        """Of one group at rest, as they come: lithium cobalt or nickel 3.0 to 4.2, iron phosphate 2.8 to 3.6, lead 1.95 to 2.2 V."""
        chemistry = self.drive.resolved.train.pack.chemistry
        return {"lfp": (2.8, 3.6), "lead": (1.95, 2.2)}.get(chemistry, (3.0, CHARGE_LIMIT_V[chemistry]))

    @property
    def pack_v(self) -> float:
        """As read in A2; by the charge of one half before that."""
        read = self.told.of("A2").value("pack")
        return read if read is not None else float(self.drive.resolved.train.pack.emf_v(HALF))

    @property
    def charge(self) -> float:
        """By the same."""
        pack = self.drive.resolved.train.pack
        read = self.told.of("A2").value("pack")
        return HALF if read is None else float(charge_at(pack.chemistry, read / float(pack.series)))

    def no_load(self, duty: float) -> tuple[float, float]:
        """(rpm, motor amps) with nothing coupled, at a duty of the pack's volts."""
        train = self.drive.resolved.train
        speed, amps = train.motor.no_load(duty * self.pack_v, train.controller.bridge_ohm)
        return float(speed) * 60.0 / math.tau, float(amps) / train.motor.dc_per_motor_amp

    def ride_wh_per_km(self) -> tuple[float, float]:
        """(Wh for a km, speed [m/s]) at the pace of the range goal, else of two thirds of the top speed, held on the flat."""
        goal = next((one for one in self.design.brief.goals if one.kind in (GoalKind.RANGE, GoalKind.THERE_AND_BACK)), None)
        top = self.drive.states["nominal"].top_speed_m_s
        speed = float(goal.speed) if goal is not None and goal.speed is not None else 2.0 / 3.0 * top
        speed = min(speed, 0.98 * top)
        if not speed > 0.0:
            return math.nan, math.nan
        point = point_at(self.drive.resolved, speed_m_s=speed, charge=self.charge, burst=False)
        return point.bus_w / (3.6 * speed), speed


def grounds_of(design: Design, stock: Catalogue, drive: DriveStudy, layout: LayoutStudy, wiring: WiringStudy) -> Grounds:
    """Of studies that are at hand."""
    main = next((one for one in wiring.pieces if one.kind == "fuse" and one.branch.code in ("pack", "brick") and one.laid.piece.part), None)
    fuse = stock.get(FusePart, main.laid.piece.part) if main is not None else None
    strength, softens = design.variant().strength, math.nan
    for joint in strength.joints if strength is not None else ():
        soft = getattr(stock.find(joint.material), "soft_c", None) if joint.material and joint.place == "mount" else None
        softens = float(soft) if soft is not None else softens
    return Grounds(
        design=design,
        drive=drive,
        loops=tuple(
            Loop(
                words=f"stage {one.position + 1}" if len(layout.stages) > 1 else "belt" if one.made.kind is not None else "chain",
                tone_hz=one.tone_hz,
                push_n=one.push_n,
                push_m=one.push_m,
                centre_m=one.centre_m,
                belt=one.made.kind is not None,
            )
            for one in layout.stages
        ),
        fuse_a=fuse.rating_a if fuse is not None else math.nan,
        fuse_name=fuse.name if fuse is not None else "",
        precharge=wiring.precharge.needed,
        precharge_told=wiring.precharge.part is not None,
        precharge_s=3.0 * wiring.precharge.ohm * wiring.precharge.farad,
        precharge_j=wiring.precharge.bank_j,
        contactor=any(one.kind == "contactor" for one in wiring.pieces),
        softens_c=softens,
        proposed=wiring.proposed,
    )
