"""Steps A and B: before the first connection, and first power with nothing coupled.  Typical bounds, as makers use them."""

from __future__ import annotations

import math
from collections.abc import Iterator

from wattagon.study.commission.grounds import Grounds
from wattagon.study.commission.item import Item, Read

SPREAD_V, STOP_SPREAD_V = 0.02, 0.05
SUM_SHARE, PAIR_SHARE, DETECTED_R, DETECTED_KV, RUNS_SHARE = 0.005, 0.02, 0.15, 0.10, 0.05
NO_LOAD_SPEED, NO_LOAD_AMPS = 0.05, 0.30
IDLE_A, IDLE_SHARE = 0.2, 1.5
INSULATION_OHM, HOUSING_OHM, INPUT_OHM, STEADY_V = 1e6, 1e7, 1e3, 1.0
FUSE_M, LOW_SHARE = 0.2, 0.2  # a fifth of the planned limits
DUTIES = (0.25, 0.5, 0.75, 1.0)
METER_FIRST = "Leads of the meter first into the meter, then to the cells."  # one pole at a time: of the whole stage
SPINS = "Nobody in the plane of what turns; the motor is bolted down: a loose one jumps."


def before_connection(g: Grounds) -> Iterator[Item]:
    """A1 to A9."""
    resolved = g.drive.resolved
    pack, motor = resolved.train.pack, resolved.train.motor
    low, high = g.cell_limits_v
    lead = pack.chemistry == "lead"
    expects = g.pack_v / g.series
    half = "at half charge" if g.told.of("A2").value("pack") is None else "by the volts of A2"
    yield Item(
        id="A1",
        stage="A",
        title="Cell voltages",
        how=f"Meter on every one of {g.series} groups at rest.",
        accept=f"each {low:g} to {high:g} V; spread under 20 mV, stop above 50 mV",
        caution=METER_FIRST,
        reads=(Read("group", f"volts of {g.series} groups", "voltage", low, high, expects, half, many=g.series),),
        rests_on=("pack",),
        symptom="range_short",
    )
    groups = [g.told.of("A1").value(f"group {k + 1}") for k in range(g.series)] if g.series > 1 else [g.told.of("A1").value("group")]
    total = sum(value for value in groups if value is not None) if None not in groups else math.nan
    known = math.isfinite(total)
    yield Item(
        id="A2",
        stage="A",
        title="Polarity at the plug",
        how="Meter at the connector, red on the pin marked plus; again after any adapter.",
        accept="sign plus, the sum of A1 within 0.5 %",
        caution=METER_FIRST,
        reads=(
            Read(
                "pack",
                "volts at the plug",
                "voltage",
                (1.0 - SUM_SHARE) * total if known else low * g.series,
                (1.0 + SUM_SHARE) * total if known else high * g.series,
                total if known else float(pack.emf_v(0.5)),
                "sum of A1" if known else "all groups within A1; at half charge",
            ),
        ),
        rests_on=("pack", "wiring"),
        symptom="dead",
    )
    yield Item(
        id="A3",
        stage="A",
        title="Balance lead",
        how="Each pin against pack minus.",
        accept="rises pin by pin in equal steps",
        why_not="lead blocks have none" if lead else "one group needs none" if g.series == 1 else "",
        looked=True,
        rests_on=("pack",),
    )
    yield Item(
        id="A4",
        stage="A",
        title="Insulation",
        how="Each pole to frame or housing, charger off; the steady voltage through 10 kΩ.",
        accept="above 1 MΩ dry, steady voltage under 1 V",
        reads=(
            Read("ohms", "least of both poles", "resistance", INSULATION_OHM, comes="usual for wiring"),
            Read("steady", "steady voltage", "voltage", 0.0, STEADY_V, 0.0, "usual"),
        ),
        rests_on=("pack", "wiring"),
        symptom="dead",
    )
    yield Item(
        id="A5",
        stage="A",
        title="Shorts",
        how="Ohms across the controller's input, both ways.",
        accept="charges up, then above 1 kΩ; never below 10 Ω",
        reads=(Read("ohms", "after it charged up", "resistance", INPUT_OHM, comes="a bank without a short"),),
        rests_on=("controller", "wiring"),
        symptom="dead",
    )
    ohm = float(motor.resistance_ohm)
    yield Item(
        id="A6",
        stage="A",
        title="Motor",
        how="Ohms of each pair of leads by a known current; each lead to the housing.",
        accept="housing above 10 MΩ" if motor.brushed else "pairs within 2 % (5 % by a plain meter), housing above 10 MΩ",
        reads=(
            Read("housing", "least to the housing", "resistance", HOUSING_OHM, comes="sound insulation"),
            Read(
                "pair",
                "ohms of its leads" if motor.brushed else "ohms of three pairs",
                "resistance",
                0.5 * ohm,
                2.0 * ohm,
                ohm,
                "the motor's label, a meter's leads taken off",
                many=1 if motor.brushed else 3,
                wanted=False,
            ),
        ),
        rests_on=("motor",),
        symptom="hot_unloaded",
    )
    yield Item(
        id="A7",
        stage="A",
        title="Fuse",
        how=f"Read the print on it{f': {g.fuse_name} is planned' if g.fuse_name else ''}; measure its lead to pack plus.",
        accept="amps as planned, DC volts above the full pack, within 0.2 m of pack plus",
        why_not="" if math.isfinite(g.fuse_a) else "no fuse is in the wiring: put one in first",
        reads=(
            Read("amps", "amps on it", "current", g.fuse_a, g.fuse_a, g.fuse_a, "the Wiring bench"),
            Read("volts", "DC volts on it", "voltage", g.full_v, comes="the full pack"),
            Read("away", "from pack plus", "length", 0.0, FUSE_M, comes="usual"),
        )
        if math.isfinite(g.fuse_a)
        else (),
        rests_on=("pack", "wiring"),
        symptom="spark",
    )
    yield Item(
        id="A8",
        stage="A",
        title="Joints",
        how="Pull each crimp and solder joint by hand; look at torque marks.",
        accept="nothing moves",
        looked=True,
        rests_on=("wiring",),
        symptom="hot_connector",
    )
    yield Item(
        id="A9",
        stage="A",
        title="Pre-charge",
        how="Loop or anti-spark plug in, meter on the controller's side of the main path."
        + (f" The bank takes {g.precharge_j:.2g} J." if g.precharge_told else ""),
        accept=f"95 % of the pack in {g.precharge_s:.2g} s, then the main path closes without a snap"
        if g.precharge_told
        else "95 % of the pack before the main path closes, no snap",
        caution="Eyes protected: a snap throws molten metal.",
        why_not="" if g.precharge else "its bank is small enough to be plugged in",
        reads=(Read("seconds", "to 95 %", "time", 0.0, g.precharge_s, g.precharge_s, "3 R C of resistor and bank"),)
        if g.precharge_told
        else (),
        looked=not g.precharge_told,
        rests_on=("wiring", "controller"),
        symptom="spark",
    )


def hall(g: Grounds) -> bool:
    """Whether sensors are wired: as told, else as is usual for the family of motor."""
    control = g.drive.resolved.variant.control
    told = control.sensor if control is not None else ""
    return told == "hall" or (not told and g.drive.resolved.motor_part.family in ("sensored", "hub"))


def first_power(g: Grounds) -> Iterator[Item]:
    """B1 to B7."""
    resolved, variant = g.drive.resolved, g.drive.resolved.variant
    motor, controller, control = resolved.train.motor, resolved.train.controller, variant.control
    model = control is not None and control.school == "model"
    idle = float(controller.idle_w) / g.pack_v
    yield Item(
        id="B1",
        stage="B",
        title="Idle draw",
        how="Arm, no command, a minute.",
        accept=f"under {max(IDLE_A, IDLE_SHARE * idle):.2g} A, nothing warm",
        reads=(Read("amps", "from the pack", "current", 0.0, max(IDLE_A, IDLE_SHARE * idle), idle, "what the controller draws at rest"),),
        rests_on=("controller", "wiring"),
        symptom="hot_unloaded",
        rehearse=True,
    )
    motor_a, pack_a = variant.controller.motor_current_a, variant.controller.pack_current_a
    yield Item(
        id="B2",
        stage="B",
        title="A fifth of the limits",
        how="Written low; off, on, read back.",
        accept="the same values",
        why_not="a model controller has no such settings" if model else "",
        reads=(
            Read("motor", "motor amps", "current", 0.0, 1.02 * LOW_SHARE * motor_a, LOW_SHARE * motor_a, "a fifth of the settings sheet"),
            Read("pack", "pack amps", "current", 0.0, 1.02 * LOW_SHARE * pack_a, LOW_SHARE * pack_a, "a fifth of the settings sheet"),
        ),
        rests_on=("controller",),
        rehearse=True,
    )
    ohm, kv = 0.5 * float(motor.resistance_ohm), float(motor.kv_rpm_per_v)
    yield Item(
        id="B3",
        stage="B",
        title="Detection",
        how="The controller's own routine, three runs; phase values as it tells them.",
        accept="runs within 5 % of one another, resistance within 15 %, kv by flux within 10 %",
        caution=SPINS,
        why_not="brushes need none" if motor.brushed else "a model controller detects nothing that it tells" if model else "",
        reads=(
            Read(
                "ohms",
                "phase resistance, three runs",
                "resistance",
                (1.0 - DETECTED_R) * ohm,
                (1.0 + DETECTED_R) * ohm,
                ohm,
                "half of what is between two leads",
                many=3,
            ),
            Read("kv", "kv by flux, three runs", "kv", (1.0 - DETECTED_KV) * kv, (1.0 + DETECTED_KV) * kv, kv, "the motor's kv", many=3),
        ),
        rests_on=("motor", "controller", "wiring"),
        symptom="kv_off",
        rehearse=True,
    )
    yield Item(
        id="B4",
        stage="B",
        title="Sensors",
        how=f"Turn the rotor by hand, log the codes: {int(float(motor.pole_pairs))} rounds a turn.",
        accept="six legal codes, one bit at a time, steps of 60 ± 10 degrees electrical",
        why_not="" if hall(g) else "no Hall sensors are wired",
        reads=(
            Read("codes", "different legal codes", "number", 6.0, 6.0, 6.0, "three sensors", unit="codes"),
            Read("step", "smallest and largest step", "number", 50.0, 70.0, 60.0, "60 degrees each", many=2, unit="degrees"),
        ),
        rests_on=("motor", "wiring"),
        symptom="stutters",
        rehearse=True,
    )
    yield Item(
        id="B5",
        stage="B",
        title="Direction",
        how="A small command, look from the drive side." + (" Each motor." if variant.motor.count > 1 else ""),
        accept="as marked by you. Wrong: swap any two phase leads and repeat B3 and B4, or invert; never both",
        caution=SPINS,
        looked=True,
        rests_on=("motor", "wiring", "controller"),
        symptom="backwards",
        rehearse=True,
    )
    reads = []
    for duty in DUTIES:
        rpm, amps = g.no_load(duty)
        told = f"kv, resistance and no-load amps at {g.pack_v:.1f} V"
        reads += [
            Read(f"rpm at {duty:.0%}", f"speed at {duty:.0%}", "rpm", (1.0 - NO_LOAD_SPEED) * rpm, (1.0 + NO_LOAD_SPEED) * rpm, rpm, told),
            Read(
                f"amps at {duty:.0%}",
                f"motor amps at {duty:.0%}",
                "current",
                (1.0 - NO_LOAD_AMPS) * amps,
                (1.0 + NO_LOAD_AMPS) * amps,
                amps,
                told,
            ),
        ]
    yield Item(
        id="B6",
        stage="B",
        title="No load",
        how="25, 50, 75, 100 % of duty, ten seconds each.",
        accept="speed within 5 %, amps within 30 %, smooth, no howl at one speed",
        caution=SPINS,
        reads=tuple(reads),
        rests_on=("motor", "controller", "wiring"),
        symptom="hot_unloaded",
        rehearse=True,
    )
    yield Item(
        id="B7",
        stage="B",
        title="Sense of the controls",
        how="Forward, brake, reverse.",
        accept="as labelled; rest centred within 3 %",
        reads=(Read("rest", "command at rest", "share", -0.03, 0.03, 0.0, "usual"),),
        looked=True,
        rests_on=("throttle", "controller"),
        symptom="goes_by_itself",
        rehearse=True,
    )
