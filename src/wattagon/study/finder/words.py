"""A found drive in words."""

from __future__ import annotations

import math

from wattagon.design.catalogue import Catalogue
from wattagon.design.parts import CellPart, ControllerPart, MotorPart
from wattagon.design.tree import Design, Variant
from wattagon.study.drive.words import Say, goal_name
from wattagon.study.finder.hits import Hit, screw_words, stages_words
from wattagon.study.finder.search import Found
from wattagon.study.finder.wishes import HEAT
from wattagon.study.layout.buildable import NAMES


def drive_words(variant: Variant, stock: Catalogue) -> str:
    """Motor, reduction, pack and controller in one line."""
    motor, cell, controller = (
        stock.get(MotorPart, variant.motor.part),
        stock.get(CellPart, variant.pack.part),
        stock.get(ControllerPart, variant.controller.part),
    )
    screw = f", {screw_words(variant, stock)}" if variant.propeller is not None else ""
    count = f"{variant.motor.count} x " if variant.motor.count > 1 else ""
    pack = f"{variant.pack.series}S{variant.pack.parallel}P {cell.name}"
    return f"{count}{motor.name}, {stages_words(variant)}{screw}, {pack}, {controller.name}"


def constraint_name(design: Design, found_climb_s: float, name: str, say: Say) -> str:
    """A constraint of a search in words, by its id."""
    if name == HEAT:
        return f"climb for {say(found_climb_s, 'time')}"
    if name in NAMES:
        return NAMES[name]
    return next((goal_name(goal, say) for goal in design.brief.goals if goal.id == name), name)


def missed_words(design: Design, found: Found, hit: Hit, say: Say) -> tuple[str, str]:
    """(name of what a near miss misses, what it reaches instead)."""
    name = constraint_name(design, found.wishes.climb_s(design), hit.fails, say)
    if hit.fails == HEAT:
        return name, f"too hot after {say(hit.heat_s, 'time')}"
    if hit.fails in NAMES:
        return name, f"{say(hit.by_m, 'length')} are missing" if hit.by_m > 0.0 else "none goes together"
    missed = next(result for result in hit.goals if result.goal.id == hit.fails)
    return name, f"reaches {say(missed.reached, missed.dimension)}"


def count_words(number: float) -> str:
    """A large count in two figures and a word: 37 billion, 4.6 million, 92 thousand."""
    for size, word in ((1e12, "trillion"), (1e9, "billion"), (1e6, "million"), (1e4, "thousand")):
        if number >= size:
            share = number / (1e3 if size == 1e4 else size)
            return f"{share:.2g} {word}" if share < 99.5 else f"{share:.0f} {word}"
    return f"{number:.0f}"


def estimate_words(number: float, error: float) -> str:
    """An estimated count: about, in two figures, where its standard error is under a fifth; else roughly, in one."""
    if error <= 0.2 * number:
        return f"about {count_words(number)}"
    size = 10.0 ** math.floor(math.log10(max(number, 1.0)))
    return f"roughly {count_words(round(number / size) * size)}"
