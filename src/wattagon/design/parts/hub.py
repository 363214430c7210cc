"""Hubs with the body that a cassette sits on."""

from __future__ import annotations

from dataclasses import field
from typing import ClassVar

from wattagon.design.parts.part import Part
from wattagon.design.quantity import spec
from wattagon.record import record


@record(frozen=True, slots=True, kw_only=True)
class HubPart(Part):
    """A bike's rear hub: body, cassette and pawls together as what they bear; they are made for legs."""

    stock: ClassVar[str] = "hubs"
    one: ClassVar[str] = "Hub"
    many: ClassVar[str] = "Hubs"
    columns: ClassVar[tuple[tuple[str, str], ...]] = (("bears", "torque_nm"), ("holds by", "holds_by"))

    torque_nm: float = field(metadata=spec("torque that the hub bears", "torque", 20.0, 5000.0))
    holds_by: str = ""  # pawls, ratchet, thread
