"""Kinds of part in the stock catalogue, a kind a file, a line each in the table.  Blank cells are None: unknown, not unlimited."""

from wattagon.design.parts.board import BoardPart, ChargerPart, ResistorPart
from wattagon.design.parts.cable import CablePart
from wattagon.design.parts.carrier import CarrierPart
from wattagon.design.parts.cell import CellPart
from wattagon.design.parts.connector import ConnectorPart
from wattagon.design.parts.contactor import ContactorPart
from wattagon.design.parts.controller import ControllerPart
from wattagon.design.parts.fuse import FusePart
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
from wattagon.design.parts.wire import WirePart

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
    CablePart,
    ConnectorPart,
    FusePart,
    ContactorPart,
    BoardPart,
    ChargerPart,
    ResistorPart,
    WirePart,
)

__all__ = [
    "PART_KINDS",
    "BoardPart",
    "CablePart",
    "CarrierPart",
    "CellPart",
    "ChargerPart",
    "ConnectorPart",
    "ContactorPart",
    "ControllerPart",
    "FusePart",
    "HubPart",
    "IdlerPart",
    "LoopPart",
    "MaterialPart",
    "MotorPart",
    "Part",
    "ProfilePart",
    "PropellerPart",
    "ResistorPart",
    "ToothedPart",
    "WheelPart",
    "WirePart",
]
