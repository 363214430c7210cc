"""Words and letters for what holds a ride back and for what happens on it."""

from __future__ import annotations

from wattagon.physics.ride.names import Stat
from wattagon.physics.ride.ride import Run, event_words
from wattagon.study.drive.words import LIMIT_WORDS, Say
from wattagon.study.ride.study import Ride

RIDE_WORDS = {
    **LIMIT_WORDS,
    "thermal": "the motor's heat taper",
    "boost": "an empty boost budget",
    "controller_heat": "the controller's heat taper",
    "motor_regen": "braking motor amps",
    "battery_regen": "braking pack amps",
    "bus_overvoltage": "a full pack",
    "brake_grip": "grip in braking",
    "pitch_over": "the rear wheel lifting",
    "resistor": "the brake resistor fading",
}
# the acting limit as letters on its band: never by colour alone
LETTERS = {
    "motor_current": "M",
    "erpm": "E",
    "duty": "V",
    "battery_current": "P",
    "pack_current": "C",
    "low_voltage": "L",
    "thermal": "H",
    "roller": "R",
    "traction": "G",
    "wheel_lift": "W",
    "boost": "B",
    "controller_heat": "K",
    "motor_regen": "m",
    "battery_regen": "p",
    "bus_overvoltage": "f",
    "brake_grip": "g",
    "pitch_over": "w",
    "resistor": "r",
    "overspeed": "o",
}
_EVENTS = {
    "winding_hot": "a motor winding meets its limit",
    "case_hot": "a motor case meets its limit",
    "controller_hot": "the controller begins to cut back for heat",
    "pack_hot": "the pack meets its temperature limit",
    "resistor_hot": "the brake resistor meets its limit",
    "cutback": "the low-voltage cutback sets in",
    "overspeed": "the motor outruns the pack: it charges whatever is asked",
    "leg_stop": "stop",
}


def balance_words(run: Run) -> str:
    """That a result is not to be believed, where its energy does not balance; empty where it does."""
    return "" if run.sound else f"not to be relied on: {run.balance_error:.1%} of the energy is unaccounted for"


def gear_words(ride: Ride) -> str:
    """Which of the bike's own gears a ride used and how often it was shifted; empty without gears."""
    used = sorted(map(int, ride.in_gears()))
    if not used:
        return ""
    shifts = int(ride.run.stat(Stat.SHIFTS))
    among = f"gear {used[0]}" if len(used) == 1 else f"gears {used[0]} to {used[-1]}"
    return f"{among}, {'not shifted' if not shifts else 'shifted once' if shifts == 1 else f'shifted {shifts} times'}"


def distance_text(metres: float, say: Say) -> str:
    """A distance, short ones in metres or feet."""
    return say(metres, "distance") if metres >= 1000.0 else say(round(metres, 1), "height")


def limit_words(name: str) -> str:
    """What holds a ride back, in words."""
    return RIDE_WORDS.get(name, name)


def event_text(kind: int) -> str:
    """An event in words."""
    name, limit = event_words(kind)
    if limit:
        return f"{'held back by' if name == 'limit_begins' else 'no longer held back by'} {limit_words(limit)}"
    return _EVENTS[name]
