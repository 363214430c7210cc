"""The design tree, a section a file.  Immutable; SI inside."""

from wattagon.design.tree.aboard import BODIES, HELD, SIDES, Body
from wattagon.design.tree.battery import WINDOW, Battery, BrickChoice, CellCheck, Charging, Links, LoadRow
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
from wattagon.design.tree.build import Build, OwnPart, OwnStep, PartMark, PartState, Rework, StepMark, StepState
from wattagon.design.tree.cases import USUAL, WORST, Carried, LoadCase, Mode
from wattagon.design.tree.commissioning import Commissioning, Seen, Signature, Value
from wattagon.design.tree.control import Control, Lever, Throttle
from wattagon.design.tree.design import MOST_VARIANTS, SCHEMA_VERSION, Design
from wattagon.design.tree.history import BuildPart, Entry, EntryKind, Incident, Reading
from wattagon.design.tree.hull import Hull, TowRow
from wattagon.design.tree.ids import Extra, check_id
from wattagon.design.tree.inquiry import Answer, Inquiry
from wattagon.design.tree.layout import Idler, Layout, Obstacle, Spot, StageLayout, TakeUp
from wattagon.design.tree.logs import Log, LogColumn, LogKind, LogStretch, TimedRun
from wattagon.design.tree.measured_load import MeasuredLoad
from wattagon.design.tree.motor_choice import MotorChoice
from wattagon.design.tree.picture import Picture, Pinned
from wattagon.design.tree.ready import ReadyMade
from wattagon.design.tree.stack import STACK_KINDS, OnShaft, Stack
from wattagon.design.tree.strength import Joint, Proof, Strength
from wattagon.design.tree.variant import (
    ControllerChoice,
    Cooling,
    DockRow,
    Gears,
    OpenWaterRow,
    PackChoice,
    Place,
    PropellerChoice,
    ReductionKind,
    StageChoice,
    Variant,
    WheelChoice,
)
from wattagon.design.tree.vehicle import Vehicle, VehicleKind
from wattagon.design.tree.wet import Wet, WetPlace
from wattagon.design.tree.winding import CoreTest, HallPlan, MotorRead, Stator, Winding, Wound
from wattagon.design.tree.wiring import Bank, BoxChoice, Piece, Wire, Wiring
from wattagon.design.tree.workshop import Workshop

__all__ = [
    "AMOUNT_DIMENSION",
    "BODIES",
    "GOAL_FIELDS",
    "HELD",
    "MOST_COURSES",
    "MOST_GOALS",
    "MOST_LEGS",
    "MOST_ON_SHELF",
    "MOST_VARIANTS",
    "SCHEMA_VERSION",
    "SIDES",
    "STACK_KINDS",
    "USUAL",
    "WINDOW",
    "WORST",
    "Answer",
    "Bank",
    "Battery",
    "Body",
    "BoxChoice",
    "BrickChoice",
    "Brief",
    "Build",
    "BuildPart",
    "Carried",
    "CellCheck",
    "Charging",
    "Commissioning",
    "Conditions",
    "Control",
    "ControllerChoice",
    "Cooling",
    "CoreTest",
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
    "HallPlan",
    "Hull",
    "Idler",
    "Incident",
    "Inquiry",
    "Joint",
    "Layout",
    "Lever",
    "Links",
    "LoadCase",
    "LoadRow",
    "Log",
    "LogColumn",
    "LogKind",
    "LogStretch",
    "MeasuredLoad",
    "Mode",
    "MotorChoice",
    "MotorRead",
    "Obstacle",
    "OnShaft",
    "OpenWaterRow",
    "OwnPart",
    "OwnStep",
    "PackChoice",
    "PartMark",
    "PartState",
    "Picture",
    "Piece",
    "Pinned",
    "Place",
    "Proof",
    "PropellerChoice",
    "Reading",
    "ReadyMade",
    "ReductionKind",
    "Rework",
    "Seen",
    "ShelfItem",
    "Signature",
    "Spot",
    "Stack",
    "StageChoice",
    "StageLayout",
    "Stator",
    "StepMark",
    "StepState",
    "Strength",
    "TakeUp",
    "Throttle",
    "TimedRun",
    "TowRow",
    "Value",
    "Variant",
    "Vehicle",
    "VehicleKind",
    "Wet",
    "WetPlace",
    "WheelChoice",
    "Winding",
    "Wire",
    "Wiring",
    "Workshop",
    "Wound",
    "check_id",
]
