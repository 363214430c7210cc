"""Control wires pin by pin: what is usual for a drive, what is wrong with what is told, and how to find out which lead is which."""

from __future__ import annotations

from typing import NamedTuple

from wattagon.design.tree import Design, VehicleKind, Wire
from wattagon.study.resolve import Resolved

HAND = {VehicleKind.STREET_BOARD: "receiver", VehicleKind.ALL_TERRAIN_BOARD: "receiver"}
FIVE = ("5 v", "5v", "bec", "supply")
GROUND = ("ground", "gnd", "minus")
POWER = ("pack minus", "pack plus", "main minus", "bus")
SENSOR = ("sensor 5 V", "sensor ground", "sensor A", "sensor B", "sensor C")


def usual_wires(design: Design, resolved: Resolved) -> tuple[Wire, ...]:
    """A control wiring of one's own kind of vehicle: hand, sensors, enable chain, 5 V from the first controller only."""
    hand = HAND.get(design.vehicle.kind, "throttle lever")
    motors = round(float(resolved.train.count))
    made = [
        Wire(signal="throttle", start=hand, start_pin="signal", end="controller 1", end_pin="throttle"),
        Wire(signal="5 V", start="controller 1", start_pin="5 V", end=hand, end_pin="plus"),
        Wire(signal="ground", start="controller 1", start_pin="signal ground", end=hand, end_pin="minus"),
    ]
    for k in range(2, motors + 1):
        made.append(Wire(signal="throttle", start="controller 1", start_pin="data out", end=f"controller {k}", end_pin="data in"))
    stop = "lanyard" if hand == "receiver" or design.vehicle.kind.floats else "brake lever"
    made += [
        Wire(signal="enable", start="key switch", start_pin="closed to run", end=stop, end_pin="in"),
        Wire(signal="enable", start=stop, start_pin="closed to run", end="controller 1", end_pin="enable"),
    ]
    battery = resolved.variant.battery
    if battery is not None and battery.board:
        made.append(Wire(signal="board's limit", start="board", start_pin="limit", end="controller 1", end_pin="limit"))
    if not resolved.train.motor.brushed:
        pins = ("5 V", "ground", "A", "B", "C")
        for k in range(1, motors + 1):
            made += [
                Wire(signal=name, start=f"controller {k}", start_pin=f"sensor {pin}", end=f"motor {k}", end_pin=pin)
                for name, pin in zip(SENSOR, pins, strict=True)
            ]
    return tuple(made)


class Wrong(NamedTuple):
    """One thing about control wires: a code, whether it is over (else tight, or not known), and words."""

    code: str
    weight: str  # over, tight, not_checked, clear
    words: str


def looked_over(wires: tuple[Wire, ...]) -> list[Wrong]:
    """Who feeds 5 V, where grounds go, colours, the enable chain."""
    if not wires:
        return []
    found = []
    named = lambda wire, words: any(word in wire.signal.lower() for word in words)
    feeds = sorted(
        {
            wire.start
            for wire in wires
            if named(wire, FIVE) and wire.start.lower().startswith("controller") and "sensor" not in wire.signal.lower()
        }
    )
    if len(feeds) > 1:
        found.append(
            Wrong(
                "two_feed",
                "over",
                f"{' and '.join(feeds)} both feed 5 V: one supply works against the other; leave the red lead of all but one out",
            )
        )
    elif feeds:
        found.append(Wrong("two_feed", "clear", f"5 V comes from {feeds[0]} only"))
    grounds = [wire for wire in wires if named(wire, GROUND) and "sensor" not in wire.signal.lower()]
    by_power = [wire for wire in grounds if any(word in f"{wire.start_pin} {wire.end_pin}".lower() for word in POWER)]
    if by_power:
        wire = by_power[0]
        found.append(
            Wrong(
                "ground",
                "over",
                f"signal ground of {wire.end} goes to {wire.start_pin or wire.end_pin}: motor current lifts it; "
                "take the controller's signal ground",
            )
        )
    else:
        reached: dict[str, set[str]] = {}
        for wire in grounds:
            for a, b in ((wire.start, wire.end), (wire.end, wire.start)):
                if a.lower().startswith("controller"):
                    reached.setdefault(b, set()).add(a)
        loop = next(((device, owners) for device, owners in reached.items() if len(owners) > 1), None)
        if loop is not None:
            found.append(
                Wrong(
                    "ground",
                    "tight",
                    f"{loop[0]} joins the grounds of {' and '.join(sorted(loop[1]))}: power current can take that way; "
                    "one ground only, or an isolator",
                )
            )
        elif grounds:
            found.append(Wrong("ground", "clear", "Signal grounds go to one controller, apart from power"))
    unknown = [wire for wire in wires if not wire.found and not wire.cut]
    blind = [wire for wire in wires if wire.cut and not wire.found]
    if blind:
        found.append(Wrong("colours", "over", f"{len(blind)} control leads were cut before their colours were recorded: {_names(blind)}"))
    elif unknown:
        found.append(
            Wrong("colours", "not_checked", f"{len(unknown)} of {len(wires)} control leads: colour not recorded; record before cutting")
        )
    else:
        found.append(Wrong("colours", "clear", f"Colours of all {len(wires)} control leads are recorded"))
    if not any("enable" in wire.signal.lower() or "key" in wire.signal.lower() for wire in wires):
        found.append(Wrong("enable", "tight", "No enable chain is told: key, lanyard or brake lever should take the drive away"))
    else:
        found.append(Wrong("enable", "clear", "An enable chain is told"))
    twice = _twice(wires)
    if twice:
        found.append(Wrong("pin", "tight", f"Two outputs drive the same pin: {twice}"))
    return found


def _names(wires: list[Wire]) -> str:
    return ", ".join(f"{wire.signal} of {wire.end or wire.start}" for wire in wires[:3])


def _twice(wires: tuple[Wire, ...]) -> str:
    """A throttle or data pin that two wires end in."""
    seen: set[tuple[str, str]] = set()
    for wire in wires:
        key = (wire.end.lower(), wire.end_pin.lower())
        if wire.signal.lower().startswith("throttle") and wire.end_pin:
            if key in seen:
                return f"{wire.end_pin} of {wire.end}"
            seen.add(key)
    return ""


class FindOut(NamedTuple):
    """How to tell a lead without a manual."""

    lead: str
    how: str
    reading: str


FIND_OUT: tuple[FindOut, ...] = (
    FindOut(
        "pack plus and minus", "meter on volts, at the plug, before anything is joined", "the pack's volts with its sign: red probe on plus"
    ),
    FindOut("phase leads", "three thick alike leads; ohms between any two", "under 0.5 Ω, all three pairs alike within 2 %"),
    FindOut("phase leads, which is which", "not told by measuring: run the controller's detection, or swap any two", "turns the right way"),
    FindOut(
        "sensor plug",
        "five thin leads (six with temperature); diode test from black to each, plug open",
        "A, B and C read alike; red reads otherwise",
    ),
    FindOut(
        "sensor 5 V and ground",
        "controller on, motor unplugged: volts between the thin leads of its plug",
        "4.5 to 5.2 V between two of them only",
    ),
    FindOut(
        "sensor A, B, C", "fed with 5 V, 1 kΩ from each to plus; turn the rotor by hand", "each goes between 0 and 5 V, p times a turn"
    ),
    FindOut(
        "temperature lead", "ohms to sensor ground, cold, then warmed by hand", "changes by some per cent a kelvin; 10 kΩ at 25 °C is usual"
    ),
    FindOut(
        "throttle plug",
        "controller on, lever unplugged: volts between its three pins",
        "5 V between two; the third is the signal, near 0 V",
    ),
    FindOut("lever's signal", "lever plugged in: volts of the third lead to minus", "about 0.8 V at rest, rises to 3.6 to 4.2 V"),
    FindOut(
        "brake or enable pair",
        "two thin leads; short them with the wheel off the ground",
        "the drive stops, or only runs while they are joined",
    ),
    FindOut(
        "ignition lead", "thin lead beside the pack's plus; often red or orange", "the controller wakes when it is joined to pack plus"
    ),
    FindOut(
        "cruise, reverse, speed pairs",
        "all thin pairs that are left: join one at a time, wheel free",
        "note what changes; leave the others open",
    ),
    FindOut("charge plug", "meter on volts at the socket, charger away", "the pack's volts; none through a separate port that is off"),
    FindOut("balance leads", "each pin against pack minus, meter on volts", "rises pin by pin in equal steps"),
    FindOut("light or horn leads", "ohms of the lamp; volts with the switch on", "the lamp's own volts, often 6, 12 or the pack's"),
)
