"""Load cases: what the vehicle weighs in each and where its weight sits.

The centre of mass of parts is sum m x / sum m (d); the vehicle's own measures are of the usual case, all up.
"""

from __future__ import annotations

from typing import NamedTuple

from wattagon.design.quantity import Known, Quantity
from wattagon.design.tree import USUAL, Design, LoadCase, Vehicle
from wattagon.study.resolve.reader import Reader


class Stand(NamedTuple):
    """How a vehicle stands in a load case."""

    mass_kg: float  # that its own wheels bear, drive and all
    towed_kg: float  # that runs on wheels of its own
    behind_front_m: float  # centre of the borne mass
    height_m: float
    pull_height_m: float  # at which all that moves pulls: as `height_m` without a trailer
    wheelbase_m: float
    rolling: float  # of all that moves, as a share of its weight
    drag_area_m2: float

    @property
    def moving_kg(self) -> float:
        return self.mass_kg + self.towed_kg

    @property
    def stands(self) -> bool:
        """Whether the weight sits between the axles."""
        return 0.0 < self.behind_front_m < self.wheelbase_m


def stand_of(read: Reader, design: Design, drive_kg: float, pack_kg: float, case: LoadCase | None) -> Stand:
    """The vehicle in a load case, or in the usual one.

    A piece that is left at home is taken away where it sits; where nobody measured that, it is taken at the middle of all, which leaves
    the balance as it is and counts as assumed.
    """
    vehicle = design.vehicle
    pieces = {name: read.quantity(f"vehicle.{name}", getattr(vehicle, name), "mass") for name in ("empty_mass", "rider_mass", "load_mass")}
    mass = sum(pieces.values()) + drive_kg
    x = read.quantity("vehicle.cm_behind_front", vehicle.cm_behind_front, "length")
    y = read.quantity("vehicle.cm_height", vehicle.cm_height, "length")
    wheelbase = read.quantity("vehicle.wheelbase", vehicle.wheelbase, "length")
    rolling = read.quantity("vehicle.rolling", vehicle.rolling, "number")
    area = read.quantity("vehicle.drag_area", vehicle.drag_area, "area")
    if case is None:
        return Stand(mass, 0.0, x, y, y, wheelbase, rolling, area)
    mx, my = mass * x, mass * y
    left = [(pieces["rider_mass"], "rider")] if not case.rider else []
    left += [(pieces["load_mass"], "load")] if not case.load else []
    left += [(pack_kg, "pack")] if not case.pack else []
    for kg, name in left:
        at = _place(read, vehicle, name, x, y)
        mass, mx, my = mass - kg, mx - kg * at[0], my - kg * at[1]
    towed, drag_n, pull = 0.0, rolling * mass, 0.0
    for k, item in enumerate(case.carried):
        base = f"brief.cases.{case.id}.carried.{k}"
        kg = read.quantity(f"{base}.mass", item.mass, "mass")
        at = read.quantity(f"{base}.behind_front", item.behind_front, "length"), read.quantity(f"{base}.height", item.height, "length")
        borne = kg * read.quantity(f"{base}.hitch_share", item.hitch_share, "share") if item.towed else kg
        own = read.quantity(f"{base}.rolling", item.rolling, "number") if item.towed and item.rolling is not None else rolling
        mass, mx, my = mass + borne, mx + borne * at[0], my + borne * at[1]
        towed, pull = towed + kg - borne, pull + (kg - borne) * at[1]
        drag_n += rolling * borne + own * (kg - borne)
        if item.drag_area is not None:
            area += read.quantity(f"{base}.drag_area", item.drag_area, "area")
    x, y = mx / mass, my / mass
    if case.wheelbase is not None:  # the front axle is further ahead; places were told from the usual one
        longer = read.quantity(f"brief.cases.{case.id}.wheelbase", case.wheelbase, "length")
        x, wheelbase = x + longer - wheelbase, longer
    moving = mass + towed
    return Stand(mass, towed, x, y, (mass * y + pull) / moving, wheelbase, drag_n / moving, area)


def _place(read: Reader, vehicle: Vehicle, name: str, x: float, y: float) -> tuple[float, float]:
    """Where a piece of the vehicle sits: as measured, else at the middle of all."""

    def one(what: str, default: float) -> float:
        quantity: Quantity | None = getattr(vehicle, f"{name}_{what}")
        path = f"vehicle.{name}_{what}"
        return read.quantity(path, quantity, "length") if quantity is not None else read.keep(path, default, Known.ASSUMED, "length")

    return one("behind_front", x), one("height", y)


def case_ids(design: Design) -> tuple[str, ...]:
    """Ids of all load cases, the usual one first."""
    return (USUAL, *(case.id for case in design.brief.cases))


def driven_cases(design: Design) -> tuple[str, ...]:
    """Ids of the cases in which the vehicle drives, the usual one first."""
    if design.vehicle.kind.floats:
        return (USUAL,)
    return (USUAL, *(case.id for case in design.brief.cases if case.pack))


def carried_kg(design: Design, case_id: str) -> float:
    """What rides along or is towed in a case, the rider with it [kg]."""
    vehicle, case = design.vehicle, design.brief.load_case(case_id)
    own = [(vehicle.rider_mass, case is None or case.rider), (vehicle.load_mass, case is None or case.load)]
    return sum(kg.value for kg, there in own if there) + sum(item.mass.value for item in (case.carried if case is not None else ()))


def case_words(design: Design, case_id: str) -> str:
    """A load case by its name."""
    case = design.brief.load_case(case_id)
    return "usual load" if case is None else case.name or case.id
