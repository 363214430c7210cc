"""Words for what the studies find: goals, limits, and the figures that belong to them."""

from __future__ import annotations

from collections.abc import Callable
from typing import TypeAlias

from wattagon.design.tree import Goal, GoalKind
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
    if goal.label:
        return goal.label
    return {
        GoalKind.TOP_SPEED: lambda: f"{say(goal.speed or 0, 'speed')} on the flat",
        GoalKind.CLIMB: lambda: f"{say(goal.speed or 0, 'speed')} up {say(goal.grade or 0, 'grade')}",
        GoalKind.START: lambda: f"start on {say(goal.grade or 0, 'grade')}",
        GoalKind.SPRINT: lambda: f"0 to {say(goal.speed or 0, 'speed')} in {say(goal.time or 0, 'time')}",
        GoalKind.RANGE: lambda: f"{say(goal.distance or 0, 'distance')} at {say(goal.speed or 0, 'speed')}",
        GoalKind.BUDGET: lambda: f"budget {say(goal.amount or 0, 'money')}",
        GoalKind.ADDED_MASS: lambda: f"drive within {say(goal.amount or 0, 'mass')}",
        GoalKind.SPEED_LIMIT: lambda: f"no faster than {say(goal.speed or 0, 'speed')}",
        GoalKind.POWER_LIMIT: lambda: f"no more than {say(goal.amount or 0, 'power')}",
    }[goal.kind]()


def short_goal(goal: Goal, say: Say) -> str:
    """A goal in two or three words, for a narrow place."""
    return {
        GoalKind.TOP_SPEED: lambda: "top speed",
        GoalKind.CLIMB: lambda: f"up {say(goal.grade or 0, 'grade')}",
        GoalKind.START: lambda: "start",
        GoalKind.SPRINT: lambda: f"to {say(goal.speed or 0, 'speed')}",
        GoalKind.RANGE: lambda: "range",
        GoalKind.BUDGET: lambda: "cost",
        GoalKind.ADDED_MASS: lambda: "mass",
        GoalKind.SPEED_LIMIT: lambda: "speed limit",
        GoalKind.POWER_LIMIT: lambda: "power limit",
    }[goal.kind]()


def brief_goal(goal: Goal, say: Say) -> str:
    """A goal with its figures in as few words as will do."""
    if goal.kind is GoalKind.TOP_SPEED:
        return f"{say(goal.speed or 0, 'speed')} flat"
    if goal.kind is GoalKind.SPRINT:
        return f"{say(goal.speed or 0, 'speed')} in {say(goal.time or 0, 'time')}"
    if goal.kind is GoalKind.SPEED_LIMIT:
        return f"limit {say(goal.speed or 0, 'speed')}"
    if goal.kind is GoalKind.ADDED_MASS:
        return f"within {say(goal.amount or 0, 'mass')}"
    return goal_name(goal, say)


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
