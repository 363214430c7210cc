"""Steps C and D: failures on purpose, then coupled and moving, on wheels or afloat."""

from __future__ import annotations

import math
from collections.abc import Iterator

from wattagon.study.commission.grounds import Grounds
from wattagon.study.commission.item import AFLOAT, Item, Read
from wattagon.study.commission.items import hall

LOST_S, PULLED_S, CONTACTOR_S, FADE_S = 0.5, 0.2, 1.0, (1.0, 3.0)
TONE, SLACK, RUN_OUT_M, ALIKE = (0.95, 1.10), (0.01, 0.02), 0.0003, 0.20
DECELERATION, RANGE_SHARE, DOCK_SHARE, ROLL_SHARE, ROLLS = 3.0, 0.20, 0.20, 0.03, 10
# surface temperatures at 10 minutes [C]: part, what reopens it, easy, slow down, stop
WARM: tuple[tuple[str, str, float, float, float], ...] = (
    ("motor", "motor can", 60.0, 80.0, 95.0),
    ("controller", "controller case", 55.0, 70.0, 85.0),
    ("cells", "cells, surface", 40.0, 50.0, 60.0),
    ("connector", "hottest connector", 45.0, 60.0, 75.0),
    ("bearing", "bearing or pulley", 50.0, 70.0, 90.0),
    ("mount", "printed mount", 40.0, 50.0, math.nan),
)
SOFTENS_LESS_K = 20.0
TURNS = "Nobody in the plane of what turns; feet and cables clear."
FALLS = "Helmet and gloves, on a board wrist guards; closed area, somebody near."


def failures(g: Grounds) -> Iterator[Item]:
    """C1 to C8."""
    resolved, control = g.drive.resolved, g.drive.resolved.variant.control
    throttle = control.throttle if control is not None else None
    kind = throttle.lever.kind if throttle is not None and throttle.lever.kind else "pulse"
    brakes = float(resolved.train.controller.regen_motor_current_a) > 0.0
    every = ("controller", "wiring", "throttle")
    yield Item(
        id="C1",
        stage="C",
        title="On with the command not at zero",
        how="Power up with the lever pushed.",
        accept="no movement; arms only after rest was seen for half a second",
        caution=TURNS,
        looked=True,
        rests_on=every,
        symptom="goes_by_itself",
        rehearse=True,
    )
    yield Item(
        id="C2",
        stage="C",
        title="Radio off",
        how="At half command; time it by a phone's video.",
        accept="nothing within 0.5 s, and nothing when it returns until rest was seen",
        caution=TURNS,
        why_not="" if kind == "pulse" else "the lever has a lead, no radio",
        reads=(Read("seconds", "until nothing", "time", 0.0, LOST_S, comes="usual"),),
        looked=True,
        rests_on=every,
        symptom="drops_out",
        rehearse=True,
    )
    yield Item(
        id="C3",
        stage="C",
        title="Throttle lead pulled",
        how="At full command; then signal alone, supply alone, ground alone.",
        accept="nothing within 0.2 s; no single wire gives drive",
        caution=TURNS,
        reads=(Read("seconds", "longest of four", "time", 0.0, PULLED_S, comes="usual"),),
        looked=True,
        rests_on=every,
        symptom="goes_by_itself",
        rehearse=True,
    )
    yield Item(
        id="C4",
        stage="C",
        title="Sensor plug pulled",
        how="While it runs.",
        accept="stops, or runs on smoothly; no bang",
        caution=TURNS,
        why_not="" if hall(g) else "no sensors are wired",
        looked=True,
        rests_on=("controller", "wiring", "motor"),
        symptom="stutters",
        rehearse=True,
    )
    yield Item(
        id="C5",
        stage="C",
        title="Stop pulled",
        how="Lanyard, loop key or switch at full command.",
        accept=f"nothing within 0.2 s{', the contactor open within 1 s' if g.contactor else ''}",
        caution=TURNS,
        reads=(
            Read("seconds", "until nothing", "time", 0.0, PULLED_S, comes="usual"),
            *((Read("contactor", "until it is open", "time", 0.0, CONTACTOR_S, comes="usual"),) if g.contactor else ()),
        ),
        rests_on=every,
        symptom="goes_by_itself",
        rehearse=True,
    )
    yield Item(
        id="C6",
        stage="C",
        title="Brake with throttle held",
        how="Both at once.",
        accept="the brake wins",
        caution=TURNS,
        why_not="" if brakes or not g.floats else "no motor brake on the water",
        looked=True,
        rests_on=every,
        symptom="goes_by_itself",
        rehearse=True,
    )
    two = not g.floats
    yield Item(
        id="C7",
        stage="C",
        title="Low volts",
        how="The cutoff set for a moment just under the present volts.",
        accept="power fades over 1 to 3 s" + ("; never from full to nothing" if two else ""),
        reads=(Read("seconds", "of the fade", "time", *FADE_S, comes="usual"),),
        rests_on=("controller", "pack"),
        symptom="drops_out",
        rehearse=True,
    )
    yield Item(
        id="C8",
        stage="C",
        title="Full pack and brake",
        how="Charged full, brake with the wheels off the ground.",
        accept="volts never above the full pack; the brake fades out",
        caution=TURNS,
        why_not="" if brakes else "the motor does not brake into the pack",
        reads=(Read("volts", "highest", "voltage", 0.0, g.full_v, g.full_v, "the full pack"),),
        rests_on=("controller", "pack"),
        symptom="brake_weak",
        rehearse=True,
    )


def _loops(g: Grounds) -> tuple[Read, ...]:
    reads = []
    for one in g.loops:
        if one.belt and math.isfinite(one.tone_hz):
            reads.append(
                Read(
                    f"tone {one.words}",
                    f"tone of the {one.called}",
                    "frequency",
                    TONE[0] * one.tone_hz,
                    TONE[1] * one.tone_hz,
                    one.tone_hz,
                    "tension, mass and span of the Layout bench",
                )
            )
        elif not one.belt:
            reads.append(
                Read(
                    f"slack {one.words}",
                    f"slack of the {one.called}",
                    "length",
                    round(SLACK[0] * one.centre_m, 4),
                    round(SLACK[1] * one.centre_m, 4),
                    round(1.5 * SLACK[0] * one.centre_m, 4),
                    "1 to 2 % of the centre distance",
                )
            )
    return tuple(reads)


def moving(g: Grounds) -> Iterator[Item]:
    """D1 to D9, with what belongs to wheels or to the water."""
    resolved, floats = g.drive.resolved, g.floats
    loops = _loops(g)
    caution = AFLOAT if floats else FALLS
    yield Item(
        id="D1",
        stage="D",
        title="Tension",
        how="Pluck the span; slack of a chain by a ruler. Two turns by hand.",
        accept="as worked out; no rub, runs true within 0.3 mm",
        why_not="" if loops else "no belt and no chain",
        reads=(*loops, Read("true", "pulley runs true within", "length", 0.0, RUN_OUT_M, comes="usual")) if loops else (),
        rests_on=("reduction", "wheel"),
        symptom="belt_skips",
    )
    yield Item(
        id="D2",
        stage="D",
        title="Marks",
        how="Thread lock on metal screws into metal, none on plastic or in self-locking nuts; a paint line across head and part.",
        accept="lines unbroken",
        looked=True,
        rests_on=("reduction", "wheel", "motor"),
        symptom="turns_alone",
    )
    pair = not floats and int(resolved.variant.motor.driven_wheels) > 1 and resolved.variant.motor.count > 1
    yield Item(
        id="D3",
        stage="D",
        title="Coast",
        how="Spin it by hand, power off.",
        accept="freely, the same sound on both sides" + ("; both stop within 20 % of each other" if pair else ""),
        reads=(Read("side", "seconds until it stops, each side", "time", 0.0, 600.0, comes="alike within 20 %", many=2),) if pair else (),
        looked=True,
        rests_on=("reduction", "wheel", "motor"),
        symptom="one_pulls",
    )
    if floats:
        yield from _afloat(g)
    else:
        yield from _on_wheels(g)
    yield Item(
        id="D6",
        stage="D",
        title="Low limits, ten minutes",
        how="Steady work with a fifth of the limits. Hand first, then a contact probe; an infrared gun misreads bright metal.",
        accept="everything under the middle column; motor settles",
        caution=caution,
        reads=_warm(g),
        rests_on=("motor", "controller", "reduction"),
        symptom="too_hot",
    )
    yield Item(
        id="D7",
        stage="D",
        title="Tension again",
        how="After the first run, then after 1 h and 5 h.",
        accept="as D1, paint lines unbroken",
        why_not="" if loops else "no belt and no chain",
        reads=loops,
        rests_on=("reduction", "wheel"),
        symptom="belt_skips",
    )
    yield Item(
        id="D8",
        stage="D",
        title="Raise the limits",
        how="In steps of 25 %, each with D6; then loaded to the full mass" + ("" if floats else ", then the hill") + ".",
        accept="as D6, at all of the limits",
        caution=caution,
        reads=tuple(one._replace(name=f"all {one.name}", words=f"{one.words}, all limits") for one in _warm(g) if one.wanted),
        rests_on=("motor", "controller", "reduction"),
        symptom="too_hot",
    )
    wh, speed = g.ride_wh_per_km()
    pace = f"{3.6 * speed:.0f} km/h" if not floats else f"{speed:.1f} m/s"
    yield Item(
        id="D9",
        stage="D",
        title="Range",
        how=f"From full along a known {'way' if floats else 'loop'} at about {pace}; stop at 30 % of charge.",
        accept="Wh for a kilometre within 20 % of the forecast",
        caution=caution,
        why_not="" if math.isfinite(wh) else "it holds no pace",
        reads=(
            Read(
                "wh",
                "Wh for a kilometre",
                "number",
                (1 - RANGE_SHARE) * wh,
                (1 + RANGE_SHARE) * wh,
                wh,
                "drive held at that pace",
                unit="Wh/km",
            ),
        )
        if math.isfinite(wh)
        else (),
        rests_on=("pack", "motor", "reduction", "wheel"),
        symptom="range_short",
    )


def _warm(g: Grounds) -> tuple[Read, ...]:
    reads = [
        Read("motor 2 min", "motor can after 2 min", "temperature", -20.0, WARM[0][3], comes="slow down above", wanted=False),
        Read("motor 6 min", "motor can after 6 min", "temperature", -20.0, WARM[0][3], comes="slow down above", wanted=False),
    ]
    for name, words, _, slow, _ in WARM:
        if name == "mount":
            if not math.isfinite(g.softens_c):
                continue
            slow = min(slow, g.softens_c - SOFTENS_LESS_K)
        if name == "bearing" and g.floats:
            continue
        reads.append(Read(name, f"{words} after 10 min", "temperature", -20.0, slow, comes="slow down above"))
    return tuple(reads)


def _on_wheels(g: Grounds) -> Iterator[Item]:
    road = g.drive.resolved.road
    turn = 2.0 * math.pi * float(road.wheel_radius_m)
    yield Item(
        id="D3r",
        stage="D",
        title="Roll-out",
        how=f"Loaded, a chalk mark on the tyre, {ROLLS} turns along a straight line.",
        accept="within 3 % of the brief's rolling radius; take what was read",
        reads=(
            Read(
                "way",
                f"way of {ROLLS} turns",
                "height",
                (1 - ROLL_SHARE) * ROLLS * turn,
                (1 + ROLL_SHARE) * ROLLS * turn,
                ROLLS * turn,
                "tyre and its loaded share",
            ),
        ),
        rests_on=("wheel",),
        symptom="speed_off",
    )
    yield Item(
        id="D4",
        stage="D",
        title="Walking pace",
        how="Somebody walks beside it, empty, 3 km/h, 50 m.",
        accept="steady start; stops by itself at no command",
        caution=FALLS,
        looked=True,
        rests_on=("throttle", "controller", "wiring"),
        symptom="stutters",
    )
    foot = g.design.vehicle.kind.value in ("street_board", "all_terrain_board")
    yield Item(
        id="D5",
        stage="D",
        title="Brakes",
        how="From 5, then 10, then 15 km/h: the mechanical brake alone, the motor brake alone.",
        accept="foot or slide trained, motor brake smooth" if foot else "mechanical alone gives 3 m/s² and holds on the steepest slope",
        caution=FALLS,
        reads=() if foot else (Read("level", "mechanical brake alone", "acceleration", DECELERATION, comes="usual"),),
        looked=True,
        rests_on=("controller", "throttle"),
        symptom="brake_weak",
    )


def _afloat(g: Grounds) -> Iterator[Item]:
    dock = g.drive.docks.get("nominal")
    pull = dock.pull_n if dock is not None else math.nan
    yield Item(
        id="D4",
        stage="D",
        title="At the dock",
        how="Tied to a strong point, full throttle for a minute; a scale in the line.",
        accept="pull within 20 % of the forecast; no leak after 5 and 30 minutes",
        caution=AFLOAT,
        reads=(
            Read(
                "pull",
                "pull at the dock",
                "force",
                (1 - DOCK_SHARE) * pull,
                (1 + DOCK_SHARE) * pull,
                pull,
                "nominal pack",
            ),
        )
        if math.isfinite(pull)
        else (),
        looked=True,
        rests_on=("wheel", "motor", "controller"),
        symptom="slow_afloat",
    )
    yield Item(
        id="D5",
        stage="D",
        title="Within swimming distance",
        how="Low limits, a second boat near; turn, stop, astern, lanyard pulled once.",
        accept="steers and stops as meant",
        caution=AFLOAT,
        looked=True,
        rests_on=("controller", "throttle"),
        symptom="slow_afloat",
    )
