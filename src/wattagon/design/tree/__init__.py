"""The design tree, a section a file.  Immutable; SI inside."""

from wattagon.design.tree.brief import (
    AMOUNT_DIMENSION,
    GOAL_FIELDS,
    MOST_COURSES,
    MOST_GOALS,
    MOST_LEGS,
    MOST_ON_SHELF,
    Brief,
    Conditions,
    Course,
    CourseLeg,
    Goal,
    GoalKind,
    ShelfItem,
)
from wattagon.design.tree.cases import USUAL, WORST, Carried, LoadCase, Mode
from wattagon.design.tree.design import MOST_VARIANTS, SCHEMA_VERSION, Design
from wattagon.design.tree.history import BuildPart, Entry, EntryKind, Incident, Reading
from wattagon.design.tree.hull import Hull, TowRow
from wattagon.design.tree.ids import Extra, check_id
from wattagon.design.tree.variant import (
    ControllerChoice,
    DockRow,
    Gears,
    MotorChoice,
    PackChoice,
    Place,
    PropellerChoice,
    ReductionKind,
    StageChoice,
    Variant,
    WheelChoice,
)
from wattagon.design.tree.vehicle import Vehicle, VehicleKind
from wattagon.design.tree.workshop import Workshop

__all__ = [
    "AMOUNT_DIMENSION",
    "GOAL_FIELDS",
    "MOST_COURSES",
    "MOST_GOALS",
    "MOST_LEGS",
    "MOST_ON_SHELF",
    "MOST_VARIANTS",
    "SCHEMA_VERSION",
    "USUAL",
    "WORST",
    "Brief",
    "BuildPart",
    "Carried",
    "Conditions",
    "ControllerChoice",
    "Course",
    "CourseLeg",
    "Design",
    "DockRow",
    "Entry",
    "EntryKind",
    "Extra",
    "Gears",
    "Goal",
    "GoalKind",
    "Hull",
    "Incident",
    "LoadCase",
    "Mode",
    "MotorChoice",
    "PackChoice",
    "Place",
    "PropellerChoice",
    "Reading",
    "ReductionKind",
    "ShelfItem",
    "StageChoice",
    "TowRow",
    "Variant",
    "Vehicle",
    "VehicleKind",
    "WheelChoice",
    "Workshop",
    "check_id",
]
