"""What is seen when something is wrong, by when it shows."""

from __future__ import annotations

from typing import NamedTuple


class Symptom(NamedTuple):
    """One symptom; `on` wheels or water where it is seen there alone."""

    code: str
    words: str
    when: str
    on: str = ""


WHEN = ("on the stand", "at the start", "while riding", "after minutes", "looking at it", "charging and resting")
SYMPTOMS: dict[str, Symptom] = {
    one.code: one
    for one in (
        Symptom("dead", "nothing happens, or it does not wake", "on the stand"),
        Symptom("backwards", "it turns the wrong way", "on the stand"),
        Symptom("goes_by_itself", "it goes by itself, or does not stop when asked", "on the stand"),
        Symptom("hot_unloaded", "motor hot or hungry with nothing coupled", "on the stand"),
        Symptom("kv_off", "kv, flux or no-load speed is off", "on the stand"),
        Symptom("trembles", "amps tremble, detection disagrees or is refused", "on the stand"),
        Symptom("speed_off", "the speed it tells is wrong", "on the stand"),
        Symptom("stutters", "coggy or stuttering start", "at the start"),
        Symptom("no_start", "it does not start on the hill", "at the start", "wheels"),
        Symptom("front_lifts", "front lifts, or a wheel spins", "at the start", "wheels"),
        Symptom("belt_skips", "belt or chain skips under load", "at the start"),
        Symptom("turns_alone", "motor turns, wheel or propeller does not", "at the start"),
        Symptom("one_pulls", "one wheel pulls to a side", "while riding", "wheels"),
        Symptom("cuts_at_speed", "it cuts out at one cadence or speed", "while riding"),
        Symptom("drops_out", "sudden drop under load", "while riding"),
        Symptom("resets", "reset or sensor fault on hard throttle", "while riding"),
        Symptom("too_slow", "slower than it was worked out", "while riding"),
        Symptom("vibration", "vibration or noise at one speed", "while riding"),
        Symptom("throws_rider", "brake or release throws the rider", "while riding", "wheels"),
        Symptom("tips", "it tips in a bend", "while riding", "wheels"),
        Symptom("brake_weak", "motor brake weak or gone", "while riding", "wheels"),
        Symptom("cranks_turn", "the motor turns the cranks", "while riding", "wheels"),
        Symptom("slow_afloat", "current high, speed low", "while riding", "water"),
        Symptom("races_afloat", "motor races, thrust gone", "while riding", "water"),
        Symptom("too_hot", "motor or controller overheats uphill", "after minutes"),
        Symptom("slows_after_minutes", "it slows down after minutes", "after minutes"),
        Symptom("range_short", "range a third short", "after minutes"),
        Symptom("hot_connector", "connector hot, wire cool", "after minutes"),
        Symptom("hot_wire", "wire hot evenly", "after minutes"),
        Symptom("cells_hot", "cells or board warm", "after minutes"),
        Symptom("spark", "spark, pitted plug, or a fuse that goes", "looking at it"),
        Symptom("rubs", "something rubs, hits the ground or does not fit", "looking at it"),
        Symptom("broke", "a part moved, bent, softened or broke", "looking at it"),
        Symptom("water_in", "water or grit inside", "looking at it"),
        Symptom("charges_badly", "it does not charge, or not to the end", "charging and resting"),
        Symptom("cells_apart", "groups of cells drift apart", "charging and resting"),
    )
}
