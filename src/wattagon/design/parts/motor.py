"""Motors.  Blank cells are None: a rating that nobody states is unknown, not unlimited."""

from __future__ import annotations

from dataclasses import field
from typing import ClassVar

from wattagon.design.parts.part import Part
from wattagon.design.quantity import spec
from wattagon.record import record


@record(frozen=True, slots=True, kw_only=True)
class MotorPart(Part):
    """A motor; ratings in the controller's own motor amps."""

    stock: ClassVar[str] = "motors"
    one: ClassVar[str] = "Motor"
    many: ClassVar[str] = "Motors"
    columns: ClassVar[tuple[tuple[str, str], ...]] = (
        ("kv", "kv_rpm_per_v"),
        ("resistance", "resistance_ohm"),
        ("lasting", "current_continuous_a"),
        ("peak", "current_peak_a"),
        ("up to", "voltage_max_v"),
    )

    family: str  # outrunner, sensored, submerged, inrunner, hub, brushed
    can_mm: float = field(metadata=spec("can diameter", "number", 10.0, 500.0))
    length_mm: float = field(metadata=spec("can length", "number", 5.0, 500.0))
    bolts_mm: float | None = field(default=None, metadata=spec("bolt circle", "number", 5.0, 300.0, "of the screws in its face"))
    shaft_mm: float | None = field(default=None, metadata=spec("shaft", "number", 1.0, 60.0))
    kv_rpm_per_v: float = field(metadata=spec("kv", "kv", 1.0, 20000.0))
    resistance_ohm: float = field(metadata=spec("resistance", "resistance", 1e-4, 20.0, "between two terminals at 20 C"))
    inductance_h: float | None = field(default=None, metadata=spec("inductance", "inductance", 0.0, 0.1))
    pole_pairs: int = field(default=7, metadata=spec("pole pairs", "number", 0, 60))
    no_load_a: float | None = field(default=None, metadata=spec("no-load current", "current", 0.0, 50.0))
    no_load_slope_a_s: float | None = field(default=None, metadata=spec("growth of no-load current", "number", 0.0, 1.0))
    rotor_inertia_kg_m2: float | None = field(default=None, metadata=spec("rotor inertia", "inertia", 0.0, 5.0))
    current_continuous_a: float | None = field(default=None, metadata=spec("continuous motor amps", "current", 0.5, 2000.0))
    current_peak_a: float | None = field(default=None, metadata=spec("peak motor amps", "current", 0.5, 4000.0))
    voltage_max_v: float | None = field(default=None, metadata=spec("highest voltage", "voltage", 1.0, 1000.0))
    rpm_max: float | None = field(default=None, metadata=spec("highest speed", "rpm", 1.0, 200000.0))
    brush_drop_v: float = field(default=0.0, metadata=spec("brush drop", "voltage", 0.0, 5.0))
    winding_j_per_k: float | None = field(default=None, metadata=spec("winding heat capacity", "heat_capacity", 0.1, 1e6))
    case_j_per_k: float | None = field(default=None, metadata=spec("case heat capacity", "heat_capacity", 0.1, 1e6))
    winding_to_case_k_per_w: float | None = field(default=None, metadata=spec("winding to case", "thermal_resistance", 1e-4, 100.0))
    fixed_w_per_k: float | None = field(default=None, metadata=spec("water cooling", "number", 0.0, 1000.0))
    limit_c: float | None = field(default=None, metadata=spec("winding limit", "temperature", 40.0, 300.0))
    mount_w_per_k: float | None = field(
        default=None, metadata=spec("heat into the mount", "number", 0.0, 100.0, "W/K, a plate or heat sink")
    )
    air_share: float | None = field(default=None, metadata=spec("air that reaches the case", "share", 0.0, 1.0))
