"""The first drive for somebody's wishes: the cheapest that meets them all, or the one that gives up least, with the reasons."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from wattagon.design.catalogue import Catalogue
from wattagon.design.tree import Design
from wattagon.record import record
from wattagon.study.drive.words import short_goal
from wattagon.study.finder.hits import Hit
from wattagon.study.finder.search import Found, find_cheapest
from wattagon.study.finder.wishes import SCHOOLS, Wishes
from wattagon.study.finder.words import count_words, drive_words, missed_words
from wattagon.study.say import Say

ROOM = 0.05  # by which a first drive beats each goal where stock has such a one: figures are estimates
AT_THE_WHEEL = tuple(school for school in SCHOOLS if school != "middle")  # a first drive asks nothing of a cassette that nobody told


@record(frozen=True, slots=True, kw_only=True)
class FirstDrive:
    """A design with the drive as its variant A, why it is that, and what it gives up; None of all where nothing was found."""

    design: Design
    reasons: str
    gives_up: str = ""


def first_drive(design: Design, found: Found, stock: Catalogue, say: Say) -> FirstDrive | None:
    """Take what a search came to: the cheapest hit, else the cheapest near miss; None where neither is there."""
    if found.hits:
        hit = min(found.hits, key=lambda one: (one.cost, one.mass_kg))
        least = min((result for result in hit.goals), key=lambda result: result.margin, default=None)
        words = (
            f"The cheapest of {count_words(found.searched)} that meets every wish: {drive_words(hit.variant, stock)}. "
            f"Parts for {say(round(hit.cost), 'money')}, {say(hit.mass_kg, 'mass')}"
        )
        if least is not None:
            words += f"; least room on {short_goal(least.goal, say)}, {least.margin:.0%}"
        return FirstDrive(design=_with(design, hit, words + "."), reasons=words + ".")
    if not found.near_misses:
        return None
    hit = min(found.near_misses, key=lambda one: (_gap(one), one.cost))
    name, reached = missed_words(design, found, hit, say)
    words = (
        f'Nothing in stock meets every wish. This gives up one, "{name}": it {reached}. '
        f"{drive_words(hit.variant, stock)}; parts for {say(round(hit.cost), 'money')}."
    )
    return FirstDrive(design=_with(design, hit, words), reasons=words, gives_up=name)


def search_first(
    design: Design,
    stock: Catalogue,
    say: Say,
    *,
    cancelled: Callable[[], bool] = lambda: False,
    progress: Callable[[float], None] = lambda _: None,
) -> FirstDrive | None:
    """Search for it: with room on each goal, else without.  Raises InputError or PathError for what cannot be searched."""
    found = find_cheapest(design, stock, wishes=Wishes(goals=ROOM, schools=AT_THE_WHEEL), cancelled=cancelled, progress=progress)
    if not found.hits and not cancelled():
        found = find_cheapest(design, stock, wishes=Wishes(schools=AT_THE_WHEEL), cancelled=cancelled, progress=progress)
    return first_drive(design, found, stock, say)


def _gap(hit: Hit) -> float:
    """How far a near miss is off, as a share of what is asked for."""
    return max((-result.margin for result in hit.goals if not result.met), default=0.0)


def _with(design: Design, hit: Hit, note: str) -> Design:
    variant = replace(hit.variant, id="A", name="Found for these wishes", note=note, based_on="")
    return replace(design, variants=(variant,), active="A")
