"""Words for what the studies find: goals, limits, and the figures that belong to them."""

from __future__ import annotations

from collections.abc import Callable
from typing import TypeAlias

from wattagon.design.goal_kinds import GOALS, figure_dimension
from wattagon.design.tree import GOAL_FIELDS, Goal
from wattagon.study.drive.goals import GoalResult
from wattagon.study.resolve import Resolved

# how a value of a dimension is written in the user's units; the edges of the program pass theirs in
Say: TypeAlias = Callable[[float, str], str]

LIMIT_WORDS = {
    "motor_current": "motor amps",
    "battery_current": "pack amps",
    "pack_current": "what the cells give",
    "duty": "voltage",
    "low_voltage": "the low-voltage cutback",
    "erpm": "electrical speed",
    "thermal": "heat",
    "roller": "the roller's grip on the tyre",
    "traction": "grip",
    "wheel_lift": "wheel lift",
    "command": "the command",
    "overspeed": "the motor outrunning the pack",
}


def limit_label(limit: str, resolved: Resolved, say: Say) -> str:
    """What binds, with the figure that was set for it, short enough to stand on a line."""
    train = resolved.train
    each = " each" if float(train.count) > 1 else ""
    words = {
        "motor_current": lambda: f"motor amps, {say(float(train.controller.motor_current_a), 'current')}{each}",
        "battery_current": lambda: f"pack amps, {say(float(train.controller.battery_current_a), 'current')}{each}",
        "pack_current": lambda: f"cells, {say(float(train.pack.burst_a), 'current')}",
        "duty": lambda: f"voltage, duty {float(train.controller.duty_max):.0%}",
        "erpm": lambda: "electrical speed",
        "low_voltage": lambda: "low-voltage cutback",
        "thermal": lambda: "heat",
        "roller": lambda: "roller slips",
        "traction": lambda: "grip",
        "wheel_lift": lambda: "front lifts",
    }
    return words[limit]() if limit in words else LIMIT_WORDS.get(limit, limit)


def goal_name(goal: Goal, say: Say) -> str:
    """A goal in words, with its own figures."""
    return goal.label or _filled(goal, GOALS[goal.kind].name, say)


def short_goal(goal: Goal, say: Say) -> str:
    """A goal in two or three words, for a narrow place."""
    return _filled(goal, GOALS[goal.kind].short, say)


def brief_goal(goal: Goal, say: Say) -> str:
    """A goal with its figures in as few words as will do."""
    brief = GOALS[goal.kind].brief
    return _filled(goal, brief, say) if brief else goal_name(goal, say)


def _filled(goal: Goal, words: str, say: Say) -> str:
    figures = {
        name: say(getattr(goal, name) or 0, figure_dimension(goal, name)) for name in GOAL_FIELDS[goal.kind] if f"{{{name}}}" in words
    }
    return words.format(**figures)


def reached_words(result: GoalResult, say: Say) -> str:
    """What a goal's drive reaches, or that it never does."""
    if result.reached != result.reached:
        return "not known"
    return "never" if result.reached == float("inf") else say(result.reached, result.dimension)


def shortfall(result: GoalResult, say: Say) -> str:
    """How a goal is met, or by how much it is missed."""
    if result.met:
        return f"reaches {reached_words(result, say)}"
    if result.reached == float("inf"):
        return "never reached"
    gap = abs(result.reached - result.target)
    return f"{'over' if result.less_is_better else 'short'} by {say(gap, result.dimension)}"
