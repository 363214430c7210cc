"""The channels that a log may have: one row each, with what is plausible of it."""

from __future__ import annotations

from typing import NamedTuple


class Channel(NamedTuple):
    """One kind of column, in SI as its dimension has it."""

    name: str
    words: str
    dimension: str
    low: float  # what is outside is no value but a slip
    high: float
    step: float = 0.0  # most that it changes in a second; 0: any


CHANNELS: dict[str, Channel] = {
    row.name: row
    for row in (
        Channel("time", "time", "time", -1e10, 1e12),
        Channel("speed", "speed", "speed", -2.0, 60.0, 15.0),
        Channel("distance", "distance", "height", -1.0, 1e7),
        Channel("motor_a", "motor amps", "current", -2000.0, 2000.0),
        Channel("pack_a", "pack amps", "current", -2000.0, 2000.0),
        Channel("bus_v", "pack volts", "voltage", 0.0, 450.0, 400.0),
        Channel("duty", "duty", "share", -1.05, 1.05),
        Channel("erpm", "electrical speed", "rpm", -1e6, 1e6),
        Channel("motor_rpm", "motor speed", "rpm", -1e5, 1e5),
        Channel("wheel_rpm", "wheel speed", "rpm", -5000.0, 5000.0),
        Channel("command", "command", "share", -1.05, 1.05),
        Channel("brake", "brake", "share", -0.01, 1.05),
        Channel("motor_c", "motor temperature", "temperature", -40.0, 260.0, 40.0),
        Channel("controller_c", "controller temperature", "temperature", -40.0, 180.0, 40.0),
        Channel("pack_c", "pack temperature", "temperature", -40.0, 120.0, 20.0),
        Channel("ah", "charge drawn", "capacity", -1e4, 1e4),
        Channel("wh", "energy drawn", "energy", -1e6, 1e6),
        Channel("power", "power", "power", -1e5, 1e5),
        Channel("pedal_w", "pedal power", "power", 0.0, 2500.0),
        Channel("elevation", "height", "height", -450.0, 9000.0, 30.0),
        Channel("grade", "grade", "grade", -0.6, 0.6),
        Channel("latitude", "latitude", "number", -90.0, 90.0),
        Channel("longitude", "longitude", "number", -180.0, 180.0),
        Channel("ax", "acceleration along x", "acceleration", -200.0, 200.0),
        Channel("ay", "acceleration along y", "acceleration", -200.0, 200.0),
        Channel("az", "acceleration along z", "acceleration", -200.0, 200.0),
        Channel("fault", "fault code", "number", -1e6, 1e6),
        Channel("pull", "pull", "force", -1e4, 1e4),
    )
}


def words_of(channel: str) -> str:
    """What a channel is called."""
    row = CHANNELS.get(channel)
    return row.words if row is not None else channel or "not used"
