"""The same energy in other chemistries, side by side."""

from __future__ import annotations

import math

from wattagon.design.catalogue import Catalogue
from wattagon.design.parts import CellPart
from wattagon.physics import pack as packs
from wattagon.record import record
from wattagon.study.drive.goals import CYCLES
from wattagon.study.resolve import PACK_EXTRA_MASS, Resolved

KG_PER_L = {"lipo": 1.9, "nmc_energy": 2.0, "nmc_power": 2.0, "lfp": 1.6, "lead": 2.2}  # of an assembled pack, typical
WORDS = {
    "lipo": "lithium pouch",
    "nmc_energy": "lithium, for energy",
    "nmc_power": "lithium, for power",
    "lfp": "lithium iron",
    "lead": "sealed lead",
}


@record(frozen=True, slots=True, kw_only=True)
class Other:
    """One chemistry with the energy and about the volts of the pack."""

    chemistry: str
    part: CellPart
    series: int
    parallel: int
    mass_kg: float
    litres: float
    price: float
    lasting_a: float
    sag_v: float  # at the current that is asked
    cycles: float
    usable_wh: float

    @property
    def per_kwh(self) -> float:
        """Price of a kilowatt hour that is used."""
        return self.price / (self.usable_wh / 1000.0)


def others(resolved: Resolved, stock: Catalogue, asked_a: float) -> tuple[Other, ...]:
    """The cell or brick of each chemistry that makes the pack's energy with the least mass and bears the current, if one does."""
    made = []
    for chemistry in packs.CHEMISTRIES:
        options = [
            one
            for part in stock.all(CellPart)
            if part.chemistry == chemistry and part.continuous_a is not None
            for one in [_like(resolved, part, asked_a)]
            if one is not None
        ]
        if options:
            made.append(min(options, key=lambda one: (one.lasting_a < asked_a, one.mass_kg)))
    return tuple(made)


def _like(resolved: Resolved, part: CellPart, asked_a: float) -> Other | None:
    pack = resolved.train.pack
    top, bottom = resolved.window
    volts, wanted = float(pack.emf_v(0.5)), float(pack.chemical_wh(top, bottom))
    each = float(packs.rest_volts(part.chemistry, 0.5))
    series = max(round(volts / each / part.brick_series), 1) * part.brick_series
    energy = series * part.capacity_ah * each * (top - bottom)
    parallel = max(math.ceil(wanted / energy / part.brick_parallel - 1e-6), 1) * part.brick_parallel
    if parallel > 60 * part.brick_parallel:
        return None
    ready = part.brick_series * part.brick_parallel
    count = series * parallel / ready
    mass = count * part.mass_kg * (1.0 if ready > 1 else PACK_EXTRA_MASS)
    slow = part.cell_r1_ohm if part.cell_r1_ohm is not None else 0.45 * part.cell_r0_ohm
    return Other(
        chemistry=part.chemistry,
        part=part,
        series=series,
        parallel=parallel,
        mass_kg=mass,
        litres=mass / KG_PER_L[part.chemistry],
        price=count * part.price,
        lasting_a=(part.continuous_a or 0.0) * parallel,
        sag_v=series / parallel * (part.cell_r0_ohm + slow) * asked_a,
        cycles=CYCLES[part.chemistry],
        usable_wh=energy * parallel,
    )
