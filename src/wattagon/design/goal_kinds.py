"""Kinds of goal, all facts about each in one row: how it is called, what it begins with, which way is better."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import field

from wattagon.design.tree import AMOUNT_DIMENSION, GOAL_FIELDS, Goal, GoalKind
from wattagon.record import record


@record(frozen=True, slots=True, kw_only=True)
class GoalFacts:
    """One row.  Names are templates: `{speed}` is that figure of the goal in the user's units."""

    words: str
    title: str
    name: str
    short: str  # two or three words
    fresh: Mapping[str, float]  # typical figures of a new one
    brief: str = ""  # as few words as will do, where `name` is longer
    joints: Mapping[str, str] = field(default_factory=dict)  # the word before a figure; "max" where none is given
    less: bool = False  # less is better
    charged: bool = False  # judged with a pack that is full, nominal or low
    cased: bool = True  # what rides along matters to it
    limit: bool = False  # a limit that the user states: holds in a mode
    on: str = ""  # wheels or water, where it has a meaning there alone


GOALS: dict[GoalKind, GoalFacts] = {
    GoalKind.TOP_SPEED: GoalFacts(
        words="Top speed",
        title="Top speed",
        name="top speed {speed}",
        short="top speed",
        brief="top {speed}",
        fresh={"speed": 25 / 3.6},
        joints={"speed": "at"},
        charged=True,
    ),
    GoalKind.CLIMB: GoalFacts(
        words="Speed up a grade",
        title="Climb",
        name="{speed} up {grade}",
        short="up {grade}",
        fresh={"speed": 12 / 3.6, "grade": 0.10},
        joints={"speed": "at", "grade": "up"},
        charged=True,
        on="wheels",
    ),
    GoalKind.START: GoalFacts(
        words="Start on a grade",
        title="Hill start",
        name="start on {grade}",
        short="start",
        fresh={"grade": 0.12},
        joints={"grade": "on"},
        charged=True,
        on="wheels",
    ),
    GoalKind.SPRINT: GoalFacts(
        words="From rest to a speed",
        title="Sprint",
        name="0 to {speed} in {time}",
        short="to {speed}",
        brief="{speed} in {time}",
        fresh={"speed": 20 / 3.6, "time": 5.0},
        joints={"speed": "0 to", "time": "in"},
        less=True,
        charged=True,
    ),
    GoalKind.RANGE: GoalFacts(
        words="Range at a pace",
        title="Range",
        name="{distance} at {speed}",
        short="range",
        fresh={"distance": 20000.0, "speed": 5.0},
        joints={"distance": "go", "speed": "at"},
    ),
    GoalKind.BUDGET: GoalFacts(
        words="Budget", title="Budget", name="budget {amount}", short="cost", fresh={"amount": 500.0}, less=True, cased=False
    ),
    GoalKind.ADDED_MASS: GoalFacts(
        words="Added mass",
        title="Added mass",
        name="drive within {amount}",
        short="mass",
        brief="within {amount}",
        fresh={"amount": 8.0},
        less=True,
        cased=False,
    ),
    GoalKind.SPEED_LIMIT: GoalFacts(
        words="Local speed limit",
        title="Speed limit",
        name="no faster than {speed}",
        short="speed limit",
        brief="limit {speed}",
        fresh={"speed": 25 / 3.6},
        less=True,
        limit=True,
    ),
    GoalKind.POWER_LIMIT: GoalFacts(
        words="Local power limit",
        title="Power limit",
        name="no more than {amount}",
        short="power limit",
        fresh={"amount": 1000.0},
        less=True,
        limit=True,
    ),
    GoalKind.CARRY: GoalFacts(
        words="Heaviest piece to be carried",
        title="Carried",
        name="carried in pieces of {amount}",
        short="to carry",
        brief="carry {amount}",
        fresh={"amount": 20.0},
        less=True,
        cased=False,
    ),
    GoalKind.PACKED: GoalFacts(
        words="Size when packed",
        title="Packed",
        name="packed into {length} x {width} x {height}",
        short="packed size",
        brief="packed {length}",
        fresh={"length": 1.1, "width": 0.6, "height": 0.5},
        joints={"length": "long", "width": "wide", "height": "high"},
        less=True,
        cased=False,
    ),
    GoalKind.TOOL: GoalFacts(
        words="Torque at a working tool",
        title="Tool",
        name="{torque} at {rpm} of the tool",
        short="tool torque",
        brief="{torque} at {rpm}",
        fresh={"torque": 20.0, "rpm": 200.0},
        joints={"torque": "give", "rpm": "at"},
        charged=True,
        cased=False,
    ),
    GoalKind.CADENCE: GoalFacts(
        words="Cadence that is still assisted",
        title="Cadence",
        name="help up to {rpm} of the pedals",
        short="cadence",
        brief="help to {rpm}",
        fresh={"rpm": 90.0},
        joints={"rpm": "to"},
        charged=True,
        cased=False,
        on="wheels",
    ),
    GoalKind.DAY_COST: GoalFacts(
        words="What a day out costs",
        title="Day out",
        name="{distance} at {speed} for {amount}",
        short="day cost",
        brief="a day for {amount}",
        fresh={"amount": 1.0, "distance": 20000.0, "speed": 5.0},
        joints={"distance": "go", "speed": "at"},
        less=True,
    ),
    GoalKind.CRUISE: GoalFacts(
        words="Cruising speed, held for good",
        title="Cruise",
        name="cruise at {speed}",
        short="cruise",
        fresh={"speed": 1.8},
        joints={"speed": "at"},
        charged=True,
        on="water",
    ),
    GoalKind.UPSTREAM: GoalFacts(
        words="Speed against a current",
        title="Upstream",
        name="{speed} over ground against {current}",
        short="upstream",
        brief="{speed} up {current}",
        fresh={"speed": 1.0, "current": 0.8},
        joints={"speed": "go", "current": "up"},
        charged=True,
        on="water",
    ),
    GoalKind.BOLLARD: GoalFacts(
        words="Pull at the dock",
        title="Dock pull",
        name="{pull} at the dock",
        short="dock pull",
        fresh={"pull": 120.0},
        joints={"pull": "pull"},
        charged=True,
        on="water",
    ),
    GoalKind.CROSSING: GoalFacts(
        words="Time to cross",
        title="Crossing",
        name="{distance} in {time} against {current}",
        short="crossing",
        brief="{distance} in {time}",
        fresh={"distance": 800.0, "time": 480.0, "current": 0.3},
        joints={"distance": "go", "time": "in", "current": "up"},
        less=True,
        charged=True,
        on="water",
    ),
    GoalKind.THERE_AND_BACK: GoalFacts(
        words="There and back along a current",
        title="Round trip",
        name="{distance} out and home at {speed}, current {current}",
        short="there and back",
        brief="{distance} and home",
        fresh={"distance": 4000.0, "speed": 1.5, "current": 0.3},
        joints={"distance": "out", "speed": "at", "current": "up"},
        on="water",
    ),
}
# of the figure that is asked for
TARGET_DIMENSION = {
    "speed": "speed",
    "current": "speed",
    "pull": "force",
    "grade": "grade",
    "time": "time",
    "distance": "distance",
    "torque": "torque",
    "rpm": "rpm",
    "length": "length",
    "width": "length",
    "height": "length",
}


def figure_dimension(goal: Goal, name: str) -> str:
    """The dimension of a goal's figure by its name."""
    return TARGET_DIMENSION.get(name) or AMOUNT_DIMENSION.get(goal.kind, "number")


def target_of(goal: Goal) -> tuple[float, str]:
    """(target in SI, dimension) of a goal."""
    name = GOAL_FIELDS[goal.kind][0]
    return float(getattr(goal, name)), figure_dimension(goal, name)
