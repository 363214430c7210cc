"""Where every shaft of a drive stands: as drawn or typed, else proposed so that stock loops fit and nothing stands in the way."""

from __future__ import annotations

import math
from typing import NamedTuple

from wattagon.design.catalogue import Catalogue
from wattagon.design.parts import LoopPart, ProfilePart
from wattagon.design.parts.families import loops
from wattagon.design.quantity import Known, Quantity
from wattagon.design.tree import Layout, ReductionKind, Spot, StageChoice, StageLayout, Variant, Vehicle, VehicleKind
from wattagon.physics.belt import FULL_MESH, BeltKind, centre_for, teeth_in_mesh, two_pulleys
from wattagon.physics.chain import centre_of_links_m, even, links_around, sprocket_diameter_m

TOOTHED = (ReductionKind.BELT, ReductionKind.CHAIN)
PULLEYS_APART_M, CAN_TO_AXLE_M = 0.008, 0.010  # wanted where nothing is drawn yet; typical
FURTHER = {VehicleKind.TWO_WHEEL_DRIVE: 3.6}  # times the least place, for six teeth in mesh
PLATE_M, PULLEY_GAP_M, FLANGE_M, MOUNT_M_N = 0.008, 0.003, 0.0015, 0.5e-6
CRANK_AHEAD_M, CRANK_HIGH_M = 0.43, 0.28  # of a bike, from the rear axle and above the ground; typical
# direction from the driven shaft to the one that drives it, degrees above ahead: (last stage, those before)
LEANS: dict[VehicleKind, tuple[float, float]] = {
    VehicleKind.ALL_TERRAIN_BOARD: (180.0, 120.0),  # behind the truck: the deck is over it
    VehicleKind.KART: (25.0, 60.0),
    VehicleKind.BIKE: (6.0, 65.0),
    VehicleKind.SUSPENDED_BIKE: (6.0, 65.0),
    VehicleKind.SCOOTER: (20.0, 60.0),
}
FAR_M = {VehicleKind.BIKE: 0.36, VehicleKind.SUSPENDED_BIKE: 0.36, VehicleKind.KART: 0.26, VehicleKind.UTILITY: 0.26}  # of a chain


class Shaft(NamedTuple):
    """One shaft in side view [m], and whether its place is only proposed."""

    name: str
    x: float
    z: float
    proposed: bool
    tolerance: float


class Stock(NamedTuple):
    """A stage as it is made: its family, the belt's kind, pitch circles of both wheels [m]."""

    choice: StageChoice
    family: ProfilePart
    kind: BeltKind | None
    driver_m: float
    driven_m: float

    @property
    def pitch_m(self) -> float:
        return self.family.pitch_mm / 1000.0

    def outside_m(self, diameter_m: float) -> float:
        """Diameter that is swept: of the belt's back or the chain's plates around a wheel."""
        plates = 1e-3 * (self.family.back_mm or 0.4 * self.family.pitch_mm)
        return diameter_m + 2.0 * (self.kind.back_m() if self.kind is not None else plates)


def belt_kind(family: ProfilePart) -> BeltKind | None:
    """The kind of a family of belts; None where its measures are not in stock."""
    named = (family.line_mm, family.tooth_mm, family.thick_mm, family.belt_kg_m_mm, family.tension_n_per_mm, family.stiff_n_per_mm)
    if family.kind != "belt" or any(value is None for value in named):
        return None
    line, tooth, thick, mass, tension, stiff = (float(value) for value in named if value is not None)
    return BeltKind(
        pitch_m=family.pitch_mm / 1e3,
        line_m=line / 1e3,
        tooth_m=tooth / 1e3,
        thick_m=thick / 1e3,
        mass_kg_m2=1e3 * mass,
        tension_n_m=1e3 * tension,
        stiff_n_m=1e3 * stiff,
    )


def stock_of(choice: StageChoice, stock: Catalogue) -> Stock | None:
    """A belt or chain by its family; None for what is neither, or of a family that stock does not have."""
    family = stock.rows(ProfilePart).get(choice.profile)
    if choice.kind not in TOOTHED or family is None:
        return None
    kind, pitch = belt_kind(family), family.pitch_mm / 1e3
    if choice.kind is ReductionKind.BELT:
        if kind is None:
            return None
        return Stock(choice, family, kind, kind.pitch_diameter_m(choice.driver_teeth), kind.pitch_diameter_m(choice.driven_teeth))
    return Stock(choice, family, None, sprocket_diameter_m(pitch, choice.driver_teeth), sprocket_diameter_m(pitch, choice.driven_teeth))


def lengths_of(made: Stock, stock: Catalogue) -> list[int]:
    """Teeth of the belts in stock of its family and width, shortest first; empty for chain, which is cut by the link."""
    if made.kind is None:
        return []
    width = made.choice.width_mm
    parts: list[LoopPart] = loops(stock, made.family.id)
    return sorted({part.teeth for part in parts if width is None or part.width_mm in (None, width)})


def centre_of(made: Stock, loop: int) -> float:
    """Centre distance of a loop around its two wheels alone [m]; nan where it is too short."""
    if made.kind is not None:
        return centre_for(made.driver_m, made.driven_m, loop * made.pitch_m)
    return centre_of_links_m(made.pitch_m, made.choice.driver_teeth, made.choice.driven_teeth, loop)


def next_loop(made: Stock, stock: Catalogue, least_m: float, further: float = 2.2) -> tuple[int, float]:
    """(loop, centre distance) of the shortest of stock whose wheels stand at least so far apart; of chain the next even count."""
    fits = [(loop, centre) for loop in lengths_of(made, stock) if (centre := centre_of(made, loop)) >= least_m]
    small = min(made.choice.driver_teeth, made.choice.driven_teeth)
    for loop, centre in fits:  # the first with six teeth in mesh, as long as it does not stand much further off
        if centre > max(further * least_m, fits[0][1]):
            break
        if teeth_in_mesh(small, two_pulleys(made.driver_m, made.driven_m, centre).wrap_small) >= FULL_MESH:
            return loop, centre
    if fits:
        return fits[0]
    links = links_around(made.pitch_m, made.choice.driver_teeth, made.choice.driven_teeth, least_m).links
    loop = even(links) if made.kind is None else math.ceil(_belt_teeth(made, least_m))
    return loop, centre_of(made, loop)


def _belt_teeth(made: Stock, centre_m: float) -> float:
    return two_pulleys(made.driver_m, made.driven_m, centre_m).length / made.pitch_m


class Placed(NamedTuple):
    """Shafts from the motor to the driven one; for each stage the loop that was taken and whether it was only proposed."""

    shafts: tuple[Shaft, ...]
    loops: tuple[int | None, ...]
    proposed_loops: tuple[bool, ...]


def place(vehicle: Vehicle, variant: Variant, stock: Catalogue, can_m: float, axle_m: float) -> Placed:
    """Where all stands.  `can_m` is the motor's diameter, `axle_m` what stands around the driven axle."""
    layout = variant.layout or Layout()
    last, first = LEANS.get(vehicle.kind, (0.0, 60.0))
    sign = -1.0 if vehicle.driven_axle == "front" else 1.0
    count = len(variant.stages)
    end = Shaft("axle", 0.0, 0.0, False, 0.0)
    if variant.gears is not None:
        spot = layout.crank
        end = Shaft("crank", *usual_crank(vehicle), True, 0.005) if spot is None else _as_drawn("crank", spot)
    shafts = [end]
    taken: list[int | None] = []
    proposed: list[bool] = []
    for k in range(count - 1, -1, -1):
        name = "motor" if k == 0 else f"jackshaft {k}" if count > 2 else "jackshaft"
        spot = layout.motor if k == 0 else layout.jackshafts[k - 1] if k - 1 < len(layout.jackshafts) else None
        told = layout.stages[k] if k < len(layout.stages) else StageLayout()
        made, driven = stock_of(variant.stages[k], stock), shafts[0]
        loop, centre = told.loop, 0.0
        if made is not None:
            centre = centre_of(made, loop) if loop is not None else math.nan
            if spot is not None:
                apart = math.hypot(spot.x.value - driven.x, spot.z.value - driven.z)
                loop = nearest_loop(made, stock, apart) if loop is None else loop
            elif math.isnan(centre):
                around = axle_m
                if vehicle.axle_wheels == 1 and variant.gears is None and count == 1:  # the can stands before the one wheel
                    around = max(axle_m, 0.5 * vehicle.tyre_diameter.value)
                far = FAR_M.get(vehicle.kind, 0.0) if k == count - 1 and variant.gears is None else 0.0
                least = _least_m(made, can_m if k == 0 else 0.0, around, far)
                loop, centre = next_loop(made, stock, least, FURTHER.get(vehicle.kind, 2.2))
        elif variant.stages[k].kind is ReductionKind.FRICTION:
            tyre = vehicle.tyre_diameter.value * vehicle.tyre_rolling_share.value
            centre = 0.5 * (tyre + (variant.stages[k].roller_diameter or 0.05))
        elif variant.stages[k].kind is ReductionKind.GEAR:
            centre = 0.5 * MODULE_M * (variant.stages[k].driver_teeth + variant.stages[k].driven_teeth)
        if spot is not None:
            here = _as_drawn(name, spot)
        else:
            angle = math.radians(last if k == count - 1 and variant.gears is None else first)
            here = Shaft(name, driven.x + sign * centre * math.cos(angle), driven.z + centre * math.sin(angle), True, 0.001)
        shafts.insert(0, here)
        taken.insert(0, loop)
        proposed.insert(0, told.loop is None)
    if not count:
        shafts = [end._replace(name="motor"), end]
    return Placed(tuple(shafts), tuple(taken), tuple(proposed))


def usual_crank(vehicle: Vehicle) -> tuple[float, float]:
    """Where the crank's axis stands where nobody told, ahead of the rear axle and above it [m]."""
    return CRANK_AHEAD_M, CRANK_HIGH_M - 0.5 * vehicle.tyre_diameter.value * vehicle.tyre_rolling_share.value


MODULE_M = 0.0015  # of spur gears where nobody stated it; typical


def nearest_loop(made: Stock, stock: Catalogue, apart_m: float) -> int:
    """The loop of stock whose centre distance comes nearest; of chain the even count."""
    have = [(abs(centre_of(made, loop) - apart_m), loop) for loop in lengths_of(made, stock)]
    have = [(off, loop) for off, loop in have if not math.isnan(off)]
    if have:
        return min(have)[1]
    if made.kind is not None:
        least = 0.51 * abs(made.driven_m - made.driver_m) + 1e-6
        return max(round(_belt_teeth(made, max(apart_m, least))), made.choice.driven_teeth // 2 + 6)
    links = links_around(made.pitch_m, made.choice.driver_teeth, made.choice.driven_teeth, max(apart_m, 0.55 * made.driven_m)).links
    return max(2 * round(0.5 * links), 4)


def _least_m(made: Stock, can_m: float, around_m: float, chain_m: float) -> float:
    """The nearest place for a driver: wheels apart, the can clear of what stands around the driven shaft, a chain as long as is usual."""
    outside = 0.5 * (made.outside_m(made.driver_m) + made.outside_m(made.driven_m)) + PULLEYS_APART_M
    least = max(outside, 0.5 * can_m + around_m + CAN_TO_AXLE_M if can_m > 0.0 else 0.0)
    return least if made.kind is not None else max(least, chain_m)


def _as_drawn(name: str, spot: Spot) -> Shaft:
    return Shaft(name, spot.x.value, spot.z.value, False, max(tolerance_m(spot.x), tolerance_m(spot.z)))


def tolerance_m(measure: Quantity) -> float:
    """How far off a measure may be: as told, else a twentieth of what is assumed, a hundredth of what is stated, 1 mm of the measured."""
    if measure.tolerance is not None:
        return measure.tolerance
    if measure.known is Known.ASSUMED:
        return 0.05 * abs(measure.value)
    return max(0.01 * abs(measure.value), 0.0005) if measure.known is Known.STATED else 0.001


AXLE_M = 0.012  # radius of what stands around the driven axle where nobody measured it: hanger or tube; typical


def around_axle_m(vehicle: Vehicle) -> float:
    """Radius of what stands around the driven axle."""
    return 0.5 * vehicle.axle_diameter.value + 0.006 if vehicle.axle_diameter is not None else AXLE_M
