"""Logs for tests: rides of the simulator with values that the design does not hold, as instruments record them."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from tests.design.malformed import DEMO
from wattagon.design import catalogue, file
from wattagon.design.quantity import Known, Quantity
from wattagon.design.tree import Design, Log
from wattagon.physics.ride.course import Leg
from wattagon.standins.recorder import USUAL, Recorded, recorded, ridden
from wattagon.study.bands.errors import wide_inputs
from wattagon.study.log.data import LogData
from wattagon.study.log.fit import SKIP, fit
from wattagon.study.resolve import resolve

STOCK = catalogue.load()
CHANNELS = ("speed", "motor_a", "pack_a", "bus_v", "duty", "erpm", "motor_c", "grade")
ROUND = (
    Leg(length_m=40, speed_m_s=2.5),
    Leg(length_m=160, speed_m_s=7, grade=0.02),
    Leg(length_m=90, speed_m_s=3.5, grade=-0.01, stop_s=4),
    Leg(length_m=240, speed_m_s=8.5),
    Leg(length_m=60, speed_m_s=2.5, grade=0.05, stop_s=3),
    Leg(length_m=60, speed_m_s=2),
    Leg(length_m=160, speed_m_s=8),
)
STEADY = (Leg(length_m=900, speed_m_s=5.0),)
CANAL = tuple(Leg(length_m=length, speed_m_s=speed) for length, speed in ((150, 0.9), (200, 1.5), (250, 2.0), (150, 1.2)))
SIX = (
    "vehicle.rolling",
    "vehicle.drag_area",
    "variants.B.motor.kv_rpm_per_v",
    "variants.B.motor.resistance_ohm",
    "variants.B.pack.cell_r0_ohm",
    "variants.B.motor.winding_j_per_k",
)


def demo(name: str = "dunlin") -> Design:
    """A demo design without its logs."""
    design = file.read(DEMO / f"{name}.json").design
    return replace(design, logs=(), history=tuple(entry for entry in design.history if not entry.log))


def charge(value: float = 0.93) -> Quantity:
    return Quantity(value=value, known=Known.MEASURED, tolerance=0.02)


def log_of(made: Recorded, variant: str, channels: tuple[str, ...] = CHANNELS, ident: str = "l1", begun: float = 0.93) -> LogData:
    """What was recorded, as a log."""
    log = Log(id=ident, variant=variant, start_charge=charge(begun), date="2026-10-10")
    return LogData(log=log, time=made.time, columns={name: made.columns[name] for name in channels})


def ride_log(
    design: Design, legs: tuple[Leg, ...] = ROUND, shift: dict[str, float] | None = None, seed: int = 1, begun: float = 0.93, **how: object
) -> LogData:
    """A log of a ride with hidden values."""
    run, resolved = ridden(design, STOCK, legs, shift=shift, charge=begun, **how)
    return log_of(recorded(run, resolved, np.random.default_rng(seed)), design.variant().id, begun=begun)


def hidden_offs(seeds: range) -> np.ndarray:
    """(k,): how many standard errors each told value lies from its hidden one, over logs of which all is hidden: every input that is
    not exact, wind, slope, charge and the zero points of the instruments, each as far off as it is said to be."""
    design = demo()
    plain = resolve(design, STOCK, note=True)
    wide = [one for one in wide_inputs(plain.inputs) if one.path not in SKIP]
    offs = []
    for seed in seeds:
        rng = np.random.default_rng(seed)
        truth = {one.path: one.at(float(np.clip(rng.normal(), -3.0, 3.0))) for one in wide}
        slope = 0.001 * rng.normal()
        run, resolved = ridden(design, STOCK, ROUND, shift=truth, charge=0.93 + 0.02 * rng.normal(), wind_m_s=rng.normal(), slope=slope)
        instruments = replace(USUAL, zero={"pack_a": 0.15 * rng.normal(), "motor_a": 0.35 * rng.normal(), "grade": -slope})
        found = fit(design, STOCK, [log_of(recorded(run, resolved, rng, instruments), "B")], only=SIX)
        offs += [(one.after - truth[one.unknown.at]) / one.error for one in found.parameters if one.identifiable]
    return np.array(offs)
