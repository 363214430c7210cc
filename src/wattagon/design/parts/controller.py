"""Speed controllers.  Blank cells are None: a rating that nobody states is unknown, not unlimited."""

from __future__ import annotations

from dataclasses import field
from typing import ClassVar

from wattagon.design.parts.part import Part
from wattagon.design.quantity import spec
from wattagon.record import record


@record(frozen=True, slots=True, kw_only=True)
class ControllerPart(Part):
    """A speed controller, one a motor."""

    stock: ClassVar[str] = "controllers"
    one: ClassVar[str] = "Controller"
    many: ClassVar[str] = "Controllers"
    columns: ClassVar[tuple[tuple[str, str], ...]] = (
        ("up to", "voltage_max_v"),
        ("lasting", "motor_current_continuous_a"),
        ("burst", "motor_current_burst_a"),
        ("pack amps", "pack_current_max_a"),
    )

    voltage_max_v: float | None = field(default=None, metadata=spec("highest supply", "voltage", 1.0, 1000.0))
    motor_current_continuous_a: float | None = field(default=None, metadata=spec("continuous motor amps", "current", 1.0, 2000.0))
    motor_current_burst_a: float | None = field(default=None, metadata=spec("burst motor amps", "current", 1.0, 4000.0))
    pack_current_max_a: float | None = field(default=None, metadata=spec("highest pack amps", "current", 1.0, 2000.0))
    erpm_max: float | None = field(default=None, metadata=spec("electrical speed", "rpm", 1000.0, 1e6))
    duty_max: float = field(default=0.95, metadata=spec("largest duty", "share", 0.5, 1.0))
    bridge_ohm: float | None = field(default=None, metadata=spec("bridge resistance", "resistance", 0.0, 0.5))
    switching_v_per_v: float | None = field(default=None, metadata=spec("switching loss", "share", 0.0, 0.1))
    idle_w: float | None = field(default=None, metadata=spec("idle power", "power", 0.0, 100.0))
    heat_j_per_k: float | None = field(default=None, metadata=spec("heat capacity", "heat_capacity", 1.0, 1e5))
    to_air_k_per_w: float | None = field(default=None, metadata=spec("controller to air", "thermal_resistance", 0.01, 50.0))
    taper_start_c: float | None = field(default=None, metadata=spec("controller taper starts", "temperature", 40.0, 150.0))
    taper_end_c: float | None = field(default=None, metadata=spec("controller taper ends", "temperature", 40.0, 180.0))
    brushed: bool = False
