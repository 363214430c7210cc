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
from wattagon.design.tree.ids import Extra, check_id
from wattagon.design.tree.variant import (
    ControllerChoice,
    MotorChoice,
    PackChoice,
    ReductionKind,
    StageChoice,
    Variant,
    WheelChoice,
)
from wattagon.design.tree.vehicle import Vehicle, VehicleKind

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
    "Carried",
    "Conditions",
    "ControllerChoice",
    "Course",
    "CourseLeg",
    "Design",
    "Extra",
    "Goal",
    "GoalKind",
    "LoadCase",
    "Mode",
    "MotorChoice",
    "PackChoice",
    "ReductionKind",
    "ShelfItem",
    "StageChoice",
    "Variant",
    "Vehicle",
    "VehicleKind",
    "WheelChoice",
    "check_id",
]
