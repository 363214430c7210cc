"""The wiring of a variant: all that its bench, its findings and `wattagon wiring` show."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence

from wattagon.design.catalogue import Catalogue
from wattagon.design.parts import CablePart, FusePart, ResistorPart
from wattagon.design.quantity import Known
from wattagon.design.tree import Design, Wiring
from wattagon.physics.ride.names import Sum
from wattagon.physics.wiring.copper import Cable
from wattagon.record import record
from wattagon.study.drive.study import DriveStudy
from wattagon.study.layout.study import LayoutStudy
from wattagon.study.pack.study import PackStudy
from wattagon.study.resolve import Input, Resolved
from wattagon.study.ride.profiles import Profile
from wattagon.study.ride.study import stop_speed
from wattagon.study.wiring.bus import Bus, Precharge, ResistorBrake, bus_of, precharged, resistor_brake
from wattagon.study.wiring.fusing import Fused, fused
from wattagon.study.wiring.loads import Branch, branches
from wattagon.study.wiring.path import Boxed, boxed, lay, lengths
from wattagon.study.wiring.pieces import Held, held
from wattagon.study.wiring.propose import propose

DROPS = {"lasting": (0.02, 0.04), "peak": (0.05, 0.08)}
SINK_K_W = 0.3  # controller's case to a plate, typical
RANGE_RUN = "hold-speed"
LOOP = ("brick", "pack", "controller")


@record(frozen=True, slots=True, kw_only=True)
class WiringStudy:
    """All of one variant's wiring."""

    design: Design
    resolved: Resolved
    pack: PackStudy
    told: Wiring
    proposed: bool  # no piece is told: the path is one that would bear what is asked
    branches: Mapping[str, Branch]
    pieces: tuple[Held, ...]
    fuses: Mapping[str, Fused]  # by the piece's id
    precharge: Precharge
    bus: Bus
    brake: ResistorBrake | None
    box: Boxed | None
    loop_ohm: float  # cells to controllers, cells left out
    range_lost_m: float
    inputs: Mapping[str, Input]

    @property
    def total_loss_w(self) -> float:
        """Of all pieces of all branches, at their equivalent currents."""
        return sum(
            one.branch.count * one.loss_w for one in self.pieces if math.isfinite(one.loss_w) and one.branch.code in (*LOOP, "phase")
        )

    def piece(self, code: str) -> Held | None:
        """One piece by its id."""
        return next((one for one in self.pieces if one.code == code), None)

    def drop(self, which: str) -> float:
        """Drop of the loop as a share of the nominal pack, `lasting` or `peak`."""
        name = "drop_lasting_v" if which == "lasting" else "drop_v"
        return sum(getattr(one, name) for one in self.pieces if one.branch.code in LOOP) / self.pack.volts.nominal


def study_wiring(
    design: Design, stock: Catalogue, drive: DriveStudy, pack: PackStudy, layout: LayoutStudy | None, profiles: Sequence[Profile] = ()
) -> WiringStudy:
    """Of the active variant, against its rides; without them against its settings for an hour."""
    resolved = drive.resolved
    told = resolved.variant.wiring or Wiring()
    aux = sum(one.watts.value for one in told.pieces if one.watts is not None)
    resistor = stock.get(ResistorPart, told.brake).ohm if told.brake else resolved.variant.controller.brake_resistor_ohm or 0.0
    paths = branches(resolved, pack, profiles, aux, resistor)
    usual = lengths(layout, paths["controller"].count)
    at = design.brief.conditions
    box = boxed(told.box, _box_watts(resolved, profiles), at.air_temperature.value, at.sun.value, SINK_K_W)
    proposed = not told.pieces
    shown = propose(design, stock, resolved, pack, paths, usual) if proposed else told
    laid = lay(design, shown.pieces, stock, paths, usual, box, not proposed)
    pieces = tuple(held(one, paths[one.piece.branch], stock) for one in laid)
    loop = sum(one.bears.ohm * _part(one.branch) for one in pieces if one.branch.code in LOOP)
    leads = [
        stock.get(CablePart, one.laid.piece.part)
        for one in pieces
        if one.kind == "lead" and one.laid.piece.part and one.branch.code in LOOP
    ]
    route = sum(one.laid.length_m for one in pieces if one.kind == "lead" and one.branch.code in LOOP)
    thin = min((part.cable for part in leads), key=lambda cable: cable.area_m2, default=Cable(area_m2=5e-6, outer_m=5.5e-3, ohm_m=3.5e-3))
    bus = bus_of(told, resolved, pack, profiles, thin, route)
    full = max(pack.volts.charged, pack.volts.highest if math.isfinite(pack.volts.highest) else 0.0)
    return WiringStudy(
        design=design,
        resolved=resolved,
        pack=pack,
        told=told if not proposed else Wiring(pieces=shown.pieces, wires=told.wires, bank=told.bank, box=told.box),
        proposed=proposed,
        branches=paths,
        pieces=pieces,
        fuses={
            one.code: fused(
                stock.get(FusePart, one.laid.piece.part),
                one.branch,
                resolved,
                pack,
                loop,
                _behind(one, pieces, stock),
                one.laid.around.air_c,
                any(p.laid.piece.solder for p in pieces if p.branch.code == one.branch.code),
                full,
            )
            for one in pieces
            if one.kind == "fuse" and one.laid.piece.part
        },
        precharge=precharged(
            told, resolved, pack, stock, loop + float(resolved.train.pack.burst_ohm) - float(resolved.train.pack.wiring_ohm), bus.henry
        ),
        bus=bus,
        brake=resistor_brake(told, resolved, stock, stop_speed(design), at.air_temperature.value),
        box=box,
        loop_ohm=loop,
        range_lost_m=_range_lost(pieces, profiles),
        inputs=_inputs(resolved, pieces, design),
    )


def _part(branch: Branch) -> float:
    """How much of a branch's resistance counts in the loop."""
    return 1.0 / branch.count


def _behind(fuse: Held, pieces: tuple[Held, ...], stock: Catalogue) -> list[CablePart]:
    """Leads that a fuse is to protect: those of its branch, of the main one also the controllers' own."""
    of = ("pack", "controller") if fuse.branch.code in ("pack", "brick") else (fuse.branch.code,)
    return [
        stock.get(CablePart, one.laid.piece.part) for one in pieces if one.kind == "lead" and one.branch.code in of and one.laid.piece.part
    ]


def _box_watts(resolved: Resolved, profiles: Sequence[Profile]) -> float:
    """Largest mean loss of all controllers over a ride of some minutes [W]; idle power without rides."""
    idle = float(resolved.train.count) * float(resolved.train.controller.idle_w)
    means = [
        sum(p.ride.run.energy_j(k) for k in (Sum.BRIDGE, Sum.SWITCHING, Sum.IDLE)) / max(p.ride.time_s, 300.0)
        for p in profiles
        if p.ride.time_s > 1.0
    ]
    return max([idle, *means])


def _range_lost(pieces: tuple[Held, ...], profiles: Sequence[Profile]) -> float:
    """Metres of range that leads and contacts take on the steady pace; nan without that ride."""
    pace = next((p for p in profiles if p.run == RANGE_RUN and p.ride.distance_m > 1.0), None)
    if pace is None:
        return math.nan
    watts = 0.0
    for one in pieces:
        if one.branch.code in (*LOOP, "phase"):
            square = one.branch.mean_square(RANGE_RUN)
            poles = one.branch.poles if one.branch.code == "phase" else 1
            watts += one.branch.count * poles * square * one.bears.ohm if math.isfinite(square) else 0.0
    energy = max(pace.ride.energy_wh * 3600.0, 1.0)
    share = min(watts * pace.ride.time_s / energy, 0.9)
    return share / (1.0 - share) * pace.ride.range_m if math.isfinite(pace.ride.range_m) else math.nan


def _inputs(resolved: Resolved, pieces: tuple[Held, ...], design: Design) -> dict[str, Input]:
    """What the figures rest on beside the drive: lengths, air."""
    base = f"variants.{resolved.variant.id}.wiring.pieces"
    made = dict(resolved.inputs)
    for one in pieces:
        if one.kind == "lead":
            known = one.laid.length_known if one.laid.told else Known.ASSUMED
            made[f"{base}.{one.code}.length"] = Input(value=one.laid.length_m, known=known, dimension="length")
    return made
