"""A path of stock parts that bear what the rides ask with room: what is shown until somebody tells how it is wired."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Mapping
from typing import TypeVar

from wattagon.design.catalogue import Catalogue
from wattagon.design.parts import CablePart, ConnectorPart, FusePart, Part
from wattagon.design.quantity import Known, Quantity
from wattagon.design.tree import Design, Piece, Wiring
from wattagon.physics.wiring.copper import Cable
from wattagon.physics.wiring.fuse import carries
from wattagon.study.pack.study import PackStudy
from wattagon.study.resolve import Resolved
from wattagon.study.wiring.bears import bears, cable_for
from wattagon.study.wiring.fusing import fused, peaks_of
from wattagon.study.wiring.loads import Branch
from wattagon.study.wiring.path import CHARGE_M, STUB_M, Laid, around_of
from wattagon.study.wiring.pieces import held

P = TypeVar("P", bound=Part)
SHARE = 0.78  # of what a part bears, at most
LEAD_DROP = (0.01, 0.02)  # of the nominal pack that one lead takes: for long, at the peak
TAKES = 0.6  # of a lead's copper that a connector is usually on
LOOP_OHM = 0.004  # for a fuse's largest short, before the path is known
CRIMPED_C = 150.0  # what a lead's insulation bears in a power path


class _Chooser:
    """Chooses parts for one design."""

    def __init__(self, design: Design, stock: Catalogue, resolved: Resolved, pack: PackStudy) -> None:
        self.design, self.stock, self.resolved, self.pack = design, stock, resolved, pack
        self.volts = pack.volts.full

    def _best(self, parts: Iterable[P], good: Callable[[P], float]) -> P:
        """The first that is good (0 or below is good, the less the better); else the best of all."""
        least: tuple[float, P] | None = None
        for part in parts:
            worth = good(part)
            if worth <= 0.0:
                return part
            if least is None or worth < least[0]:
                least = (worth, part)
        assert least is not None
        return least[1]

    def _share(self, kind: str, part: Part, branch: Branch, cable: Cable, length_m: float) -> tuple[float, float, float]:
        """(worst share of what it bears, drop for long, drop at the peak as shares of the nominal pack)."""
        piece = Piece(id="x", kind=kind, branch=branch.code, part=part.id)
        around, limit = around_of(self.design, piece, branch.poles, None)
        laid = Laid(piece=piece, around=around, limit_c=limit, length_m=length_m, length_known=Known.ASSUMED, beside=cable, told=False)
        most = bears(piece, self.stock, around, limit, cable, length_m)
        lasting = branch.equivalent(most.tau_s)[0] / most.rating_a if most.rating_a > 0.0 else 9.0
        if lasting > SHARE:
            return lasting, 0.0, 0.0  # that is enough to pass it over
        one = held(laid, branch, self.stock)
        nominal = self.pack.volts.nominal
        worst = one.worst if math.isfinite(one.worst) else 9.0
        return worst, one.drop_lasting_v / nominal, one.drop_v / nominal

    def lead(self, branch: Branch, length_m: float, fuse: str = "") -> str:
        """The thinnest good cable that bears a branch, drops little, and is protected by its fuse."""
        air = self.design.brief.conditions.air_temperature.value
        good = [part for part in self.stock.all(CablePart) if part.limit_c > CRIMPED_C]
        good.sort(key=lambda part: (part.area_mm2, part.price))

        def lacks(part: CablePart) -> float:
            worst, lasting, peak = self._share("lead", part, branch, part.cable, length_m)
            lacking = max(worst / SHARE, lasting / LEAD_DROP[0], peak / LEAD_DROP[1]) - 1.0
            if lacking > 0.0 or not fuse:
                return lacking
            kept = fused(self.stock.get(FusePart, fuse), branch, self.resolved, self.pack, LOOP_OHM, [part], air, False, self.volts)
            return next(test.share for test in kept.tests if test.code == "protect") * 1.1 - 1.0

        return self._best(good, lacks).id

    def joint(self, branch: Branch, lead: str, shapes: tuple[str, ...], begins: str = "") -> str:
        """The cheapest connector of some shapes that bears a branch on its lead."""
        cable = self.stock.get(CablePart, lead).cable
        fits = [
            part
            for part in self.stock.all(ConnectorPart)
            if part.shape in shapes and part.poles <= 2 and part.label_a is not None and part.id.startswith(begins or part.id)
        ]
        fits = [part for part in fits if begins or not part.id.startswith("socket")]
        fits = [part for part in fits if 1e-6 * part.cable_mm2 >= TAKES * cable.area_m2] or fits
        enough = [part for part in fits if part.volts is not None and part.volts >= 1.05 * self.volts] or fits
        enough.sort(key=lambda part: part.price)
        # what a contact sits on is at least its own usual cable
        on = lambda part: (
            max(cable, cable_for(part.cable_mm2, self.stock).cable, key=lambda one: one.area_m2) if branch.code == "phase" else cable
        )
        return self._best(enough, lambda part: self._share("joint", part, branch, on(part), 0.0)[0] / SHARE - 1.0).id

    def fuse(self, branch: Branch, air_c: float) -> str:
        """The smallest fuse that carries, bears the volts, breaks and clears with room; its lead is chosen after it."""
        fits = sorted(self.stock.all(FusePart), key=lambda part: (part.rating_a, part.price))

        asked, peaks = branch.equivalent(10.0)[0], peaks_of(branch)

        def lacks(part: FusePart) -> float:
            if part.volts is None or part.volts < self.volts:
                return 1e6
            carried = max(carries(part.times, part.rating_a, asked, peaks, air_c))
            if not 0.05 < carried < 1.0:  # the other tests take longer: not for what is far from it
                return 1e3 * max(carried, 1.0)
            found = fused(part, branch, self.resolved, self.pack, LOOP_OHM, [], air_c, False, self.volts)
            worst = max(min(test.share, 99.0) for test in found.tests if not math.isnan(test.share))
            return worst * 1.1 - 1.0

        return self._best(fits, lacks).id


def propose(
    design: Design,
    stock: Catalogue,
    resolved: Resolved,
    pack: PackStudy,
    branches: Mapping[str, Branch],
    usual: Mapping[str, tuple[float, Known]],
) -> Wiring:
    """Cells, stub, fuse, plug, loop key, leads, controllers, phase joints and leads, charge lead; each part of stock that has room."""
    choose = _Chooser(design, stock, resolved, pack)
    air = design.brief.conditions.air_temperature.value
    made: list[Piece] = []

    def known(value: float) -> Quantity:
        return Quantity(value=round(value, 3), known=Known.ASSUMED)

    def add(kind: str, branch: str, code: str, name: str, **more: object) -> None:
        made.append(Piece(id=code, kind=kind, branch=branch, name=name, **more))  # type: ignore[arg-type]

    power = ("pins", "blade", "bullet")
    one, each, phase, charge = (branches[code] for code in ("pack", "controller", "phase", "charge"))
    main, small = choose.fuse(one, air), choose.fuse(charge, air)
    lead = choose.lead(one, usual["pack"][0] + STUB_M, main)
    plug = choose.joint(one, lead, power)
    add("lead", "pack", "stub", "stub to the fuse", part=lead, length=known(STUB_M))
    add("fuse", "pack", "fuse", "main fuse", part=main, from_cells=known(STUB_M))
    add("joint", "pack", "plug", "pack plug", part=plug, mate=plug, pack_side="socket")
    add("key", "pack", "key", "loop key", part=plug)
    add("lead", "pack", "lead", "pack lead", part=lead, length=known(usual["pack"][0]))
    if each.count > 1:
        supply = choose.lead(each, usual["controller"][0], main)
        part = choose.joint(each, supply, power)
        add("lead", "controller", "supply", "controller lead", part=supply, length=known(usual["controller"][0]))
        add("joint", "controller", "supply-plug", "supply plug", part=part, mate=part, pack_side="socket")
    turns = choose.lead(phase, usual["phase"][0])
    bullet = choose.joint(phase, turns, ("bullet",))
    add("joint", "phase", "bullets", "phase joints", part=bullet, mate=bullet)
    add("lead", "phase", "phases", "phase leads", part=turns, length=known(usual["phase"][0]))
    thin = choose.lead(charge, CHARGE_M, small)
    socket = choose.joint(charge, thin, ("pins",), "socket-charge")
    add("joint", "charge", "socket", "charge socket", part=socket, mate=socket, pack_side="socket")
    add("fuse", "charge", "charge-fuse", "charge fuse", part=small)
    add("lead", "charge", "charge-lead", "charge lead", part=thin, length=known(CHARGE_M))
    return Wiring(pieces=tuple(made))
