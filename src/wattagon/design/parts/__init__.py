"""Kinds of part in the stock catalogue, a kind a file, a line each in the table.  Blank cells are None: unknown, not unlimited."""

from wattagon.design.parts.carrier import CarrierPart
from wattagon.design.parts.cell import CellPart
from wattagon.design.parts.controller import ControllerPart
from wattagon.design.parts.hub import HubPart
from wattagon.design.parts.idler import IdlerPart
from wattagon.design.parts.loop import LoopPart
from wattagon.design.parts.material import MaterialPart
from wattagon.design.parts.motor import MotorPart
from wattagon.design.parts.part import Part
from wattagon.design.parts.profile import ProfilePart
from wattagon.design.parts.propeller import PropellerPart
from wattagon.design.parts.toothed import ToothedPart
from wattagon.design.parts.wheel import WheelPart

# in the order in which they are read and listed
PART_KINDS: tuple[type[Part], ...] = (
    MotorPart,
    ControllerPart,
    CellPart,
    ProfilePart,
    ToothedPart,
    LoopPart,
    WheelPart,
    HubPart,
    PropellerPart,
    CarrierPart,
    IdlerPart,
    MaterialPart,
)

__all__ = [
    "PART_KINDS",
    "CarrierPart",
    "CellPart",
    "ControllerPart",
    "HubPart",
    "IdlerPart",
    "LoopPart",
    "MaterialPart",
    "MotorPart",
    "Part",
    "ProfilePart",
    "PropellerPart",
    "ToothedPart",
    "WheelPart",
]
