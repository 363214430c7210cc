"""The throttle of a design: window of the lever, shape, ramps; and the map as something to use, a table and a small program."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from wattagon.design.tree import Control, Design, Lever, Throttle, VehicleKind
from wattagon.physics.throttle import LOST_S, Ramps, Shape, Window, pulse_window
from wattagon.record import record
from wattagon.study.drive.inputs import RAMP_DOWN_S, RAMP_UP_S

DEAD = 0.05
RADIO_S = 0.03
HAND = {VehicleKind.STREET_BOARD: "pulse", VehicleKind.ALL_TERRAIN_BOARD: "pulse"}
USUAL = {  # lowest, at rest, highest, fault below, fault above
    "pulse": (1000.0, 1500.0, 2000.0, 800.0, 2200.0),
    "hall": (0.85, 0.85, 3.9, 0.5, 4.5),
    "pot": (0.5, 0.5, 4.5, 0.25, 4.75),
    "pedal": (0.85, 0.85, 3.9, 0.5, 4.5),
}
KIND_WORDS = {"pulse": "pulse of a transmitter", "hall": "Hall lever", "pot": "potentiometer", "pedal": "pedal"}
MOST_POT_OHM, LEAST_POT_OHM = 20e3, 1e3
STEP_S = 0.002  # of the small program


@record(frozen=True, slots=True, kw_only=True)
class Mapped:
    """From reading to command."""

    kind: str
    unit: str  # µs or V
    window: Window
    seen: bool  # whether all three readings were told
    shape: Shape
    brake_shape: Shape
    ramps: Ramps
    lost_s: float
    delay_s: float
    told: Throttle
    brake: Window | None  # of a second lever that brakes
    brake_unit: str
    gives: Window | None  # of a converter, in the unit of its kind
    gives_unit: str
    problems: tuple[str, ...]

    def command(self, reading: float) -> float:
        """Where the command settles for a reading, -1 to 1; 0 for a fault."""
        return float(self.commands(np.array([reading]))[0])

    def commands(self, readings: NDArray[np.float64]) -> NDArray[np.float64]:
        """The same of many readings, shape (n,)."""
        travel = self.window.travel(readings)
        return np.where(travel >= 0.0, self.shape.of(travel), self.brake_shape.of(travel))


def window_of(lever: Lever, kind: str) -> Window:
    """The window of a lever as it was read, typical where nobody told."""
    low, centre, high, under, above = USUAL[kind]
    low = lever.low if lever.low is not None else low
    high = lever.high if lever.high is not None else high
    if kind == "pulse":
        centre = lever.centre if lever.centre is not None else 0.5 * (low + high) if lever.low is not None else centre
        window = pulse_window(low, centre, high)
    else:
        centre = lever.centre if lever.centre is not None else low
        # the fault band lies half way between what is seen and the supply's ends, where nobody told it
        # pushed one way only: it rests at its lowest
        window = Window(centre, centre, high, min(under, 0.6 * low), max(above, 0.5 * (high + 5.0)) if high < 5.0 else 1.1 * high)
    return Window(
        window.low,
        window.centre,
        window.high,
        lever.fault_low if lever.fault_low is not None else window.fault_low,
        lever.fault_high if lever.fault_high is not None else window.fault_high,
    )


def mapped(design: Design) -> Mapped:
    """Of the active variant; what nobody told is as is usual for its kind of vehicle."""
    variant = design.variant()
    told = (variant.control or Control()).throttle or Throttle()
    kind = told.lever.kind or HAND.get(design.vehicle.kind, "hall")
    lever = told.lever
    window = window_of(lever, kind)
    braking = told.brake
    brake_kind = (braking.kind or "hall") if braking is not None else ""
    brake = window_of(braking, brake_kind) if braking is not None else None
    dead = told.dead if told.dead is not None else DEAD
    problems = _problems(lever, kind, window, dead)
    if braking is not None and brake is not None:
        problems += [f"brake lever: {words}" for words in _problems(braking, brake_kind, brake, dead)]
    choice = variant.controller
    rise = choice.ramp_up_s if choice.ramp_up_s is not None else RAMP_UP_S
    fall = choice.ramp_down_s if choice.ramp_down_s is not None else RAMP_DOWN_S
    bend = told.bend if told.bend is not None else 1.0 if told.curve == "power" else 0.0
    brake_bend = told.brake_bend if told.brake_bend is not None else 0.0
    return Mapped(
        kind=kind,
        unit="µs" if kind == "pulse" else "V",
        window=window,
        seen=None not in (lever.low, lever.centre, lever.high),
        shape=Shape(dead, told.curve, min(bend, 1.0) if told.curve == "expo" else bend, told.points),
        brake_shape=Shape(dead, "expo", min(brake_bend, 1.0)),
        ramps=Ramps(
            rise,
            fall,
            told.rise_s if told.rise_s is not None else rise,
            told.release_s if told.release_s is not None else fall,
        ),
        lost_s=told.loss_s if told.loss_s is not None else LOST_S,
        delay_s=told.delay_s if told.delay_s is not None else RADIO_S if kind == "pulse" else 0.005,
        told=told,
        brake=brake,
        brake_unit="µs" if brake_kind == "pulse" else "V",
        gives=window_of(told.gives, told.gives.kind or "hall") if told.gives is not None else None,
        gives_unit="µs" if told.gives is not None and told.gives.kind == "pulse" else "V",
        problems=tuple(problems),
    )


def _problems(lever: Lever, kind: str, window: Window, dead: float) -> list[str]:
    """What is wrong with a calibration, in sentences."""
    made = []
    half = min(window.high - window.centre, window.centre - window.low if window.both_ways else math.inf)
    if lever.drift is not None and lever.drift > dead * half:
        band = f"{dead * half:.3g}"
        made.append(
            f"at rest it drifts by {lever.drift:g}, the dead band is {band}: it creeps; a dead band of {1.2 * lever.drift / half:.0%}"
        )
    if window.fault_low >= window.low or window.fault_high <= window.high:
        made.append("the fault band lies inside the travel: an end of the lever counts as a fault")
    if kind != "pulse" and window.fault_low <= 0.05:
        made.append("a lead that is pulled reads 0 V and counts as no fault: fault below 0.5 V")
    if kind != "pulse" and window.fault_high >= 4.95:
        made.append("a lead that touches 5 V counts as full: fault above 4.5 V")
    if kind == "pulse" and window.high - window.low < 400.0:
        made.append(f"a travel of {window.high - window.low:.0f} µs is coarse: set the transmitter's ends to 100 %")
    if lever.ohms is not None and not LEAST_POT_OHM <= lever.ohms <= MOST_POT_OHM:
        made.append(f"a potentiometer of {lever.ohms / 1e3:g} kΩ: 1 to 20 kΩ, from 5 V to ground, its slider to the signal")
    return made


def table(found: Mapped, rows: int = 41) -> list[tuple[float, float, float]]:
    """(reading, travel, command) from below the window to above it."""
    w = found.window
    readings = np.linspace(w.fault_low - 0.05 * (w.high - w.low), w.fault_high + 0.05 * (w.high - w.low), rows)
    return [(float(r), float(w.travel(r)), found.command(float(r))) for r in readings]


def table_csv(found: Mapped) -> str:
    """The map as CSV: reading, travel, command."""
    return "reading,travel,command\n" + "".join(f"{r:.4g},{t:.4f},{c:.4f}\n" for r, t, c in table(found))


def _output(found: Mapped) -> str:
    """The function of the small program that hands a command on, where there is a converter."""
    if found.gives is None:
        return ""
    scale, unit = (1.0, "microseconds") if found.gives_unit == "µs" else (1000.0, "millivolts")
    low, rest, high = (round(scale * v) for v in (found.gives.low, found.gives.centre, found.gives.high))
    return f"""/* What the controller is given for a command, in {unit}. */
int32_t throttle_output(int16_t command)
{{
    if (command >= 0) return {rest} + (int32_t)command * {high - rest} / 1000;
    return {rest} + (int32_t)command * {rest - low} / 1000;
}}

"""


def small_program(found: Mapped, entries: int = 65) -> str:
    """A short C table with its lookup and ramp for a microcontroller between receiver and controller; commands in thousandths.

    Readings are whole µs, or mV of a voltage.
    """
    scale = 1.0 if found.unit == "µs" else 1000.0
    w = found.window
    low, high = round(scale * w.low), round(scale * w.high)
    values = [round(1000.0 * found.command((low + (high - low) * k / (entries - 1)) / scale)) for k in range(entries)]
    rows = ",\n    ".join(", ".join(f"{v}" for v in values[k : k + 13]) for k in range(0, entries, 13))
    rate = lambda seconds: max(round(1000.0 * STEP_S / max(seconds, 1e-3)), 1)
    ramps = found.ramps
    unit = "microseconds" if found.unit == "µs" else "millivolts"
    return f"""/* Throttle map: reading in {unit} to a command of -1000 (full brake) to 1000 (full drive).
   Worked out from a calibration; try it with the wheels off the ground before it is ridden. */
#include <stdint.h>

#define READING_LOW {low}
#define READING_HIGH {high}
#define FAULT_LOW {round(scale * w.fault_low)}
#define FAULT_HIGH {round(scale * w.fault_high)}
#define LOST_STEPS {max(round(found.lost_s / STEP_S), 1)} /* steps of {1e3 * STEP_S:g} ms without a reading */
#define ENTRIES {entries}

static const int16_t throttle_map[ENTRIES] = {{
    {rows}}};

/* Command of a reading; 0 for one that the lever cannot give. */
int16_t throttle_command(int32_t reading)
{{
    int32_t span = READING_HIGH - READING_LOW, at, k;
    if (reading < FAULT_LOW || reading > FAULT_HIGH) return 0;
    if (reading <= READING_LOW) return throttle_map[0];
    if (reading >= READING_HIGH) return throttle_map[ENTRIES - 1];
    at = (reading - READING_LOW) * (ENTRIES - 1);
    k = at / span;
    return (int16_t)(throttle_map[k] + (int32_t)(throttle_map[k + 1] - throttle_map[k]) * (at % span) / span);
}}

/* One step of the ramp, every {1e3 * STEP_S:g} ms: up, back, brake up, brake back. */
int16_t throttle_ramp(int16_t now, int16_t wish)
{{
    int16_t step;
    if (wish == now) return now;
    if (now > 0 || (now == 0 && wish > 0)) step = wish > now ? {rate(ramps.rise_s)} : {rate(ramps.fall_s)};
    else step = wish < now ? {rate(ramps.brake_s)} : {rate(ramps.release_s)};
    if (now > 0 && wish < 0) wish = 0;
    if (now < 0 && wish > 0) wish = 0;
    if (wish > now) return (int16_t)(now + step < wish ? now + step : wish);
    return (int16_t)(now - step > wish ? now - step : wish);
}}

{_output(found)}/* Every {1e3 * STEP_S:g} ms, with `fresh` not 0 where a reading came since the last step: lost signal is no drive. */
int16_t throttle_step(int32_t reading, int fresh)
{{
    static int16_t now = 0;
    static int32_t last = 0, quiet = LOST_STEPS;
    if (fresh) {{ last = reading; quiet = 0; }}
    else if (quiet < LOST_STEPS) quiet++;
    if (quiet >= LOST_STEPS || last < FAULT_LOW || last > FAULT_HIGH) {{ now = 0; return 0; }}
    now = throttle_ramp(now, throttle_command(last));
    return now;
}}
"""
