"""How sure the goals are, as views ask for it: what the bands' study found for the design as it stands."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

from wattagon.desk.session import Session

if TYPE_CHECKING:  # the study loads with its first run
    from wattagon.study.bands.weigh import GoalBand, Next, Weighed

LEAST_DOUBT = 0.005  # likelier than 1 less this a goal's likelihood is not worth a word


def weighed(session: Session) -> Weighed | None:
    """Of the present design; None while it is not worked out."""
    schedule = session.schedule
    return None if "bands" in schedule.stale else schedule.results.get("bands")


def goal_band(session: Session, goal: str) -> GoalBand | None:
    """Of one goal by its id."""
    found = weighed(session)
    return next((one for one in found.goals if one.result.goal.id == goal), None) if found is not None else None


def flip_words(session: Session, code: str) -> str:
    """What would turn the verdict of a finding; empty while that is worked out, and where nothing would within what is known."""
    if not code.startswith("goal."):
        return _turn_words(session, code)
    one = goal_band(session, code.removeprefix("goal."))
    if one is None or one.flip is None:
        return ""
    value = session.say(one.flip.value, one.flip.dimension)
    return f" Met in {one.likely:.0%} of what may be; {one.flip.name} of {value} would {'miss' if one.result.met else 'clear'} it."


def _turn_words(session: Session, code: str) -> str:
    schedule = session.schedule
    turn = (schedule.results.get("turns") or {}).get(code) if "turns" not in schedule.stale else None
    if turn is None:
        return ""
    words = turn.text(session.say)
    return f" {words[0].upper()}{words[1:]}."


def band_words(session: Session, one: GoalBand) -> str:
    """Between what it lies, and how likely it is met."""
    told = lambda value: "never" if math.isinf(value) else session.say(value, one.result.dimension)
    if one.likely != one.likely:
        return "not known"
    return f"between {told(one.band.low)} and {told(one.band.high)} four times of six; met in {one.likely:.0%} of what may be"


DOUBTFUL, TELLING = (0.02, 0.98), 0.1  # likely to be met, between which a goal is in doubt; share that is worth the work


def first_to_measure(session: Session) -> Next | None:
    """What makes most of the doubt, where there is a goal that may as well be missed; None where there is none."""
    found = weighed(session)
    if found is None or not found.next or found.next[0].share < TELLING:
        return None
    return found.next[0] if any(DOUBTFUL[0] < one.likely < DOUBTFUL[1] for one in found.goals) else None
