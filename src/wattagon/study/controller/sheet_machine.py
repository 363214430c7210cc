"""Settings that follow from the machine and the places where it is ridden: poles, ratio, wheel, sensors, ramps, modes."""

from __future__ import annotations

from collections.abc import Iterator

from wattagon.design.tree import Mode
from wattagon.study.controller.seen import Seen, one_of
from wattagon.study.controller.setting import Setting
from wattagon.study.drive.inputs import RAMP_DOWN_S, RAMP_UP_S

SENSOR = {"hall": "sensors in the motor", "none": "none", "encoder": "encoder"}


def machine(seen: Seen) -> Iterator[Setting]:
    resolved, control, say = seen.resolved, seen.control, seen.say
    motor = resolved.train.motor
    exact = lambda key, name, told, value, dimension, because: one_of(
        key,
        name,
        told,
        value,
        dimension=dimension,
        low=value,
        low_from="design",
        high=value,
        high_from="design",
        because=because,
        path=f"variant.control.{key}",
        group="machine",
    )
    if not motor.brushed:
        poles = 2.0 * float(motor.pole_pairs)
        yield exact("poles", "magnet poles", control.poles, poles, "number", f"{poles:.0f} magnets: speed is told by them")
    ratio = float(resolved.train.reduction.ratio)
    if not seen.design.vehicle.kind.floats:
        yield exact("ratio", "ratio", control.ratio, round(ratio, 4), "number", "turns of the motor for one of the wheel")
        wheel = 2.0 * float(resolved.road.wheel_radius_m)
        told = control.wheel.value if control.wheel is not None else None
        yield exact("wheel", "wheel", told, round(wheel, 4), "length", f"rolls as one of {say(wheel, 'length')}, loaded")
    if not motor.brushed:
        family = resolved.motor_part.family
        proposed = "none" if family in ("outrunner", "submerged") and seen.design.vehicle.kind.floats else "hall"
        why = (
            "a propeller starts with no load: none are needed"
            if proposed == "none"
            else "a wheel starts under load: without them it stutters"
        )
        yield one_of(
            "sensor",
            "rotor sensors",
            control.sensor or None,
            proposed,
            because=why,
            path="variant.control.sensor",
            group="machine",
            options=tuple(SENSOR.items()),
        )
        yield one_of(
            "order",
            "sensor codes over a turn",
            control.order or None,
            None,
            because="six codes, one bit at a time; read by hand or by detection on the real motor",
            path="variant.control.order",
            group="machine",
        )
        proposed = "sensors" if (control.sensor or proposed) == "hall" else "open loop"
        yield one_of(
            "start",
            "start",
            control.start or None,
            proposed,
            because="by the sensors at rest, without them from a few turns on"
            if proposed == "sensors"
            else "no load at rest: it finds its way",
            path="variant.control.start",
            group="machine",
            options=(("sensors", "by sensors"), ("pushed", "pushed off first"), ("open loop", "by itself, slowly")),
        )
    yield one_of(
        "reversed",
        "motors that turn the other way",
        ", ".join(map(str, control.reversed)) or None,
        None if resolved.variant.motor.count < 2 else "",
        because="two motors face to face turn against each other: found on the stand, one is reversed"
        if resolved.variant.motor.count > 1
        else "found on the stand: two phase leads changed, or reversed here, never both",
        path="variant.control.reversed",
        group="machine",
    )
    if seen.school.code == "model":
        yield one_of(
            "model_brake",
            "brakes when let go",
            control.model_brake or None,
            "no",
            because="switched on, it brakes as hard as its drag is set, into a pack that it asks nothing of",
            path="variant.control.model_brake",
            group="machine",
            options=(("no", "off: it rolls on"), ("yes", "on, soft or hard")),
        )
    yield one_of(
        "idle_min",
        "off after minutes at rest",
        control.idle_min,
        15.0,
        low=1.0,
        low_from="a stop at a gate",
        high=240.0,
        high_from=f"{say(2.0 * float(resolved.train.count), 'power')} of idling empties a pack over weeks",
        because="long enough for a pause, short enough that a forgotten switch empties no pack",
        path="variant.control.idle_min",
        group="machine",
    )


def ramps(seen: Seen) -> Iterator[Setting]:
    choice = seen.resolved.variant.controller
    for key, name, told, proposed, because in (
        ("rise_s", "ramp up", choice.ramp_up_s, RAMP_UP_S, "of the full travel; what it does to the rider is drawn beside the throttle"),
        ("fall_s", "ramp down", choice.ramp_down_s, RAMP_DOWN_S, "faster than up: letting go must always act"),
    ):
        rise = choice.ramp_up_s if choice.ramp_up_s is not None else RAMP_UP_S
        yield one_of(
            key,
            name,
            told,
            proposed,
            dimension="time",
            low=0.05,
            low_from="a jerk",
            high=2.0 if key == "rise_s" else max(rise, 0.05),
            high_from="sluggish" if key == "rise_s" else "ramp up",
            because=because,
            path=f"variant.controller.{'ramp_up_s' if key == 'rise_s' else 'ramp_down_s'}",
            group="throttle",
        )


def modes(seen: Seen) -> Iterator[Setting]:
    """Modes by place as the brief states them, and the act that gives all."""
    design, control = seen.design, seen.control
    named = design.brief.modes
    ids = tuple((mode.id, mode.name or mode.id) for mode in named)
    street = next((mode.id for mode in named if mode.top_speed is not None), None)
    walk = next((mode.id for mode in named if mode.top_speed is not None and mode.top_speed <= 2.0), None)
    if named:
        for key, name, told, proposed, because in (
            ("street", "wakes in the mode", control.street, street, "the mode that the user states for public places comes first"),
            ("walk", "walking beside it", control.walk, walk, "at most walking pace, and only while a button is held"),
        ):
            yield one_of(key, name, told or None, proposed, because=because, path=f"variant.control.{key}", group="modes", options=ids)
        yield one_of(
            "full_by",
            "all it can by",
            control.full_by or None,
            "hold",
            because="a deliberate act, not one that a bump or a child can do; local rules decide whether it may be there",
            path="variant.control.full_by",
            group="modes",
            options=(("hold", "button held at start"), ("code", "a code"), ("switch", "a switch out of reach"), ("none", "always on")),
        )
    for mode in named:
        yield from _mode(seen, mode)
    if any(mode.top_speed is not None for mode in named):
        yield one_of(
            "limited",
            "speed limit is kept",
            control.limited or None,
            "soft",
            because="pull that fades over the last 3 % holds a speed; one that is cut and given back hunts around it",
            path="variant.control.limited",
            group="modes",
            options=(("soft", "softly, by fading pull"), ("hard", "hard, on and off")),
        )


def _mode(seen: Seen, mode: Mode) -> Iterator[Setting]:
    place = seen.design.brief.modes.index(mode)
    name, choice = mode.name or mode.id, seen.resolved.variant.controller
    top = seen.drive.states["full"].top_speed_m_s
    if mode.top_speed is not None:
        yield one_of(
            f"mode_{mode.id}_speed",
            f"{name}: speed",
            mode.top_speed,
            mode.top_speed,
            dimension="speed",
            high=top,
            high_from="top speed",
            because="as the user states for that place",
            path=f"brief.modes.{place}.top_speed",
            group="modes",
        )
    for field, key, words, most in (
        ("motor_current_a", "motor_a", "motor amps", choice.motor_current_a),
        ("pack_current_a", "pack_a", "pack amps", choice.pack_current_a),
    ):
        told = getattr(mode, field)
        if told is not None:
            yield one_of(
                f"mode_{mode.id}_{key}",
                f"{name}: {words}",
                told,
                told,
                dimension="current",
                high=most,
                high_from="full mode",
                because="as the user states for that place",
                path=f"brief.modes.{place}.{field}",
                group="modes",
            )
