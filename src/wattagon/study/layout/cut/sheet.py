"""One part flat, how it is made, and what its maker has to know; outlines in mm."""

from __future__ import annotations

from wattagon.errors import InputError
from wattagon.physics.outline import Outline, area
from wattagon.record import record

PRINT_LOOSE_MM, MILL_LOOSE_MM = 0.10, 0.03  # clearance a flank; typical
SMALL_BY_MM = 0.2  # by which printed holes come out small
BELT_ROOM_MM = 1.5  # beside a belt on its pulley
# holes for a metric screw by what holds it: it slides through, is cut into the part, or into a brass insert that is pressed in
SCREWS_MM: dict[str, dict[int, float]] = {
    "clearance": {3: 3.4, 4: 4.5, 5: 5.5, 6: 6.6, 8: 9.0},
    "tapped": {3: 2.5, 4: 3.3, 5: 4.2, 6: 5.0, 8: 6.8},
    "press": {3: 4.0, 4: 5.6, 5: 6.4, 6: 8.0, 8: 9.7},
}
WALL_MM = 3.0
DENSITY = {"print": 1.25e-6, "mill": 2.7e-6, "steel": 7.85e-6, "paper": 0.0}  # kg/mm3


@record(frozen=True, slots=True, kw_only=True)
class Options:
    """How it is made."""

    kerf_mm: float = 0.0  # of the cutter: outlines move away from the material by half of it
    thickness_mm: float | None = None
    loose_mm: float | None = None  # of tooth flanks; None: as is usual for how it is made
    holes_by_mm: float | None = None  # added to the diameter of bores; None: as is usual
    shrink: float = 0.0  # of the print, made up for
    fit: str = "clearance"  # of screw holes: clearance, tapped, press
    chamfer_mm: float = 0.0  # of the first layer of a print, so that its foot does not spread
    tabs: int = 0  # that hold a milled part in its sheet
    clamp: bool = False  # the plate is slit at the axle and pinched

    def __post_init__(self) -> None:
        if self.fit not in SCREWS_MM:
            raise InputError("fit", self.fit, ", ".join(SCREWS_MM))


@record(frozen=True, slots=True, kw_only=True)
class Sheet:
    """One part flat: its outline, holes, what is engraved, what it rests on."""

    id: str
    name: str
    made: str  # print, mill, steel, paper
    thickness_mm: float
    outer: Outline
    holes: tuple[Outline, ...]
    marks: tuple[Outline, ...] = ()  # engraved
    notes: tuple[str, ...] = ()
    figures: tuple[tuple[str, float], ...] = ()  # dimension and its mm, as they stand on the sheet
    card: tuple[tuple[str, str], ...] = ()  # what its maker has to know: of a print its settings, else tolerances and material
    chamfer_mm: float = 0.0  # of the first layer

    @property
    def cut(self) -> tuple[Outline, ...]:
        """All that is cut, the outside first."""
        return (self.outer, *self.holes)

    @property
    def area_mm2(self) -> float:
        return sum(area(outline) for outline in self.cut)

    @property
    def mass_kg(self) -> float:
        return self.area_mm2 * self.thickness_mm * DENSITY[self.made]


def loose_of(options: Options, how: str) -> float:
    """Clearance of tooth flanks."""
    return options.loose_mm if options.loose_mm is not None else PRINT_LOOSE_MM if how == "print" else MILL_LOOSE_MM


def bore_of(options: Options, how: str, diameter: float) -> float:
    """A bore as it is drawn: printed ones come out small."""
    by = options.holes_by_mm if options.holes_by_mm is not None else SMALL_BY_MM if how == "print" else 0.0
    return diameter + by


def screw_of(options: Options, how: str, size: int) -> float:
    """The hole for a screw of a size."""
    return bore_of(options, how, SCREWS_MM[options.fit][size])
