"""What can be wrong with a stand: each fault, what it changes, which reading tells and in which step."""

from __future__ import annotations

from typing import NamedTuple


class Fault(NamedTuple):
    """One fault; `reading` of `probe` decides, `words` are the answer that a learner is shown."""

    code: str
    name: str
    reading: str
    words: str


FAULTS: dict[str, Fault] = {
    one.code: one
    for one in (
        Fault("phases_swapped", "two phase leads swapped", "turns", "it turns backwards at a forward command"),
        Fault("sensors_swapped", "sensor leads swapped", "sensor_order", "turned by hand the codes come in another order"),
        Fault("sensor_dead", "one sensor dead", "sensor_codes", "turned by hand only three sound codes come, and one that is none"),
        Fault("wrong_poles", "wrong poles entered", "told_speed", "speed as told is off from what duty, volts and kv give"),
        Fault("blocked", "wheel blocked", "detect_turns", "detection is refused: the rotor does not follow, amps flow and nothing turns"),
        Fault("loose_motor", "motor not bolted down", "ripple", "amps tremble at a steady command, three detections disagree"),
        Fault("throttle_reversed", "throttle reversed", "command", "the command goes down as the lever goes up"),
        Fault("signal_lost", "receiver loses signal", "lost", "the signal is gone for tenths of a second, the drive with it"),
        Fault("weak_group", "pack with a weak group", "group_low", "one group falls away from the others under load"),
        Fault("loose_connector", "loose connector", "contact", "volts between pack and controller under load, and they jump"),
        Fault("weak_magnets", "magnets weak", "flux", "flux by detection is low, no-load speed high, resistance as it should be"),
        Fault("delta", "kv off by 1.73", "flux", "flux by detection is off by 1.73: wye and delta mistaken"),
        Fault("hot_connector", "undersized connector", "connector_c", "the connector warms by the minute under load"),
        Fault("shorted_turn", "shorted turn", "no_load_a", "no-load amps are several times the forecast, and resistance is low"),
    )
}
