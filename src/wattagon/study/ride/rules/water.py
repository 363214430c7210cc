"""Crossings: out along the current and home with what is left, and the crash stop."""

from __future__ import annotations

from wattagon.physics.ride.names import End, Stat
from wattagon.study.drive import candidates as try_
from wattagon.study.findings.rule import Case, Verdict
from wattagon.study.findings.status import Status
from wattagon.study.ride.rules.rides import ride_of
from wattagon.study.ride.study import Ask, goal_way
from wattagon.study.ride.words import distance_text

HOME_SHARE = 0.5  # of what is usable, to be left when home; as people plan who have been towed in
LENGTHS_TIGHT = 5.0  # of the boat, of a crash stop; typical


def home(case: Case) -> Verdict:
    """Out along the current and home at the pace of the goal: what is left."""
    done = ride_of(case, Ask(run="there-and-back"))
    way, stream = goal_way(case.design)
    say, begun, bottom = case.say, case.design.brief.conditions.start_charge.value, done.resolved.window[1]
    room = max(begun - bottom, 1e-9)
    left = (done.run.stat(Stat.CHARGE) - bottom) / room
    water = "still water" if abs(stream) < 0.02 else f"a current of {say(abs(stream), 'speed')}"
    trip = f"{say(way, 'distance')} out and home in {water} at {say(done.speed_m_s, 'speed')}"
    edits = lambda: try_.steps(case.design, case.stock, ("parallel", "series"), +1, most=3)
    if done.run.end is not End.ARRIVED or left < 0.0:
        went = "the pack is empty" if left < 0.05 else "it does not get on"
        title = f"{trip}: {went} after {distance_text(done.distance_m, say)} of the way"
        figure = say(done.distance_m, "distance")
        return Verdict(status=Status.OVER, title=title, margin=min(left, -0.01), candidates=edits, figure=figure)
    status = Status.TIGHT if left < HOME_SHARE else Status.CLEAR
    title = f"{trip} leaves {left:.0%} of what is usable, {say(done.time_s, 'time')} under way"
    if status is Status.TIGHT:
        title += ": less than half, for wind that comes up or a way that is longer"
    return Verdict(status=status, title=title, margin=left / HOME_SHARE - 1.0, candidates=edits, figure=f"{left:.0%} left")


def crash_stop(case: Case) -> Verdict:
    """From its pace to rest with the propeller in reverse."""
    done, hull = ride_of(case, Ask(run="stop", start_charge=0.5)), case.design.vehicle.hull
    assert hull is not None
    say, lengths = case.say, done.distance_m / hull.waterline_length.value
    if done.run.end is not End.STOPPED:
        return Verdict(status=Status.OVER, title=f"Crash stop from {say(done.speed_m_s, 'speed')}: it does not come to rest", margin=-1.0)
    status = Status.TIGHT if lengths > LENGTHS_TIGHT else Status.CLEAR
    metres = say(round(done.distance_m, 1), "height")
    title = f"Crash stop from {say(done.speed_m_s, 'speed')} in reverse: {metres}, {say(done.time_s, 'time')}; known within a third"
    return Verdict(status=status, title=title, margin=1.0 - lengths / LENGTHS_TIGHT, figure=metres)
