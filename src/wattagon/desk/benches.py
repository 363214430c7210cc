"""The table of benches.  A bench is one package of the desk and one line here; its widget loads when it is first shown."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

from wattagon.study.studies import loaded

if TYPE_CHECKING:
    from wattagon.design.tree import Design
    from wattagon.desk.bench import BenchAction

GROUPS = ("Plan", "Make", "Run")


class Entry(NamedTuple):
    """One bench.  Its `actions` module is light: it has ACTIONS, HELP and why_not(design), and loads with the window."""

    code: str
    name: str
    group: str
    widget: str  # "module:Class"
    actions: str  # module
    scenes: str = ""  # module of the pictures of it
    links: tuple[str, ...] = ()  # of the ribbon, that lead to it
    drops: tuple[str, ...] = ()  # endings of files that it opens

    def action_list(self) -> tuple[BenchAction, ...]:
        """What it offers."""
        made: tuple[BenchAction, ...] = loaded(f"{self.actions}:ACTIONS")
        return made

    def help(self) -> str:
        """Its keys, in a line or two."""
        return str(loaded(f"{self.actions}:HELP"))

    def why_not(self, design: Design) -> str:
        """Why it does not apply to a design, in a sentence; empty where it does."""
        return str(loaded(f"{self.actions}:why_not")(design))


BENCHES: tuple[Entry, ...] = (
    Entry(
        code="brief",
        name="Brief",
        group="Plan",
        widget="wattagon.desk.brief.bench:BriefBench",
        actions="wattagon.desk.brief.actions",
        scenes="wattagon.desk.brief.scenes",
        links=("road", "water"),
    ),
    Entry(
        code="drive",
        name="Drive",
        group="Plan",
        widget="wattagon.desk.drive.bench:DriveBench",
        actions="wattagon.desk.drive.actions",
        scenes="wattagon.desk.drive.scenes",
        links=("motor", "reduction", "wheel", "shaft", "propeller"),
    ),
    Entry(
        code="finder",
        name="Finder",
        group="Plan",
        widget="wattagon.desk.finder.bench:FinderBench",
        actions="wattagon.desk.finder.actions",
        scenes="wattagon.desk.finder.scenes",
    ),
    Entry(
        code="ride",
        name="Ride",
        group="Plan",
        widget="wattagon.desk.ride.bench:RideBench",
        actions="wattagon.desk.ride.actions",
        scenes="wattagon.desk.ride.scenes",
        drops=(".gpx", ".csv", ".txt"),
    ),
    Entry(
        code="layout",
        name="Layout",
        group="Make",
        widget="wattagon.desk.layout.bench:LayoutBench",
        actions="wattagon.desk.layout.actions",
        scenes="wattagon.desk.layout.scenes",
    ),
    Entry(
        code="strength",
        name="Strength",
        group="Make",
        widget="wattagon.desk.strength.bench:StrengthBench",
        actions="wattagon.desk.strength.actions",
        scenes="wattagon.desk.strength.scenes",
    ),
    Entry(
        code="pack",
        name="Pack",
        group="Make",
        widget="wattagon.desk.pack.bench:PackBench",
        actions="wattagon.desk.pack.actions",
        scenes="wattagon.desk.pack.scenes",
        links=("pack",),
    ),
    Entry(
        code="wiring",
        name="Wiring",
        group="Make",
        widget="wattagon.desk.wiring.bench:WiringBench",
        actions="wattagon.desk.wiring.actions",
        scenes="wattagon.desk.wiring.scenes",
    ),
    Entry(
        code="controller",
        name="Controller",
        group="Make",
        widget="wattagon.desk.controller.bench:ControllerBench",
        actions="wattagon.desk.controller.actions",
        scenes="wattagon.desk.controller.scenes",
        links=("controller",),
    ),
    Entry(
        code="winding",
        name="Winding",
        group="Make",
        widget="wattagon.desk.winding.bench:WindingBench",
        actions="wattagon.desk.winding.actions",
        scenes="wattagon.desk.winding.scenes",
    ),
    Entry(
        code="build",
        name="Parts and steps",
        group="Make",
        widget="wattagon.desk.build.bench:BuildBench",
        actions="wattagon.desk.build.actions",
        scenes="wattagon.desk.build.scenes",
    ),
    Entry(
        code="commission",
        name="Commission",
        group="Run",
        widget="wattagon.desk.commission.bench:CommissionBench",
        actions="wattagon.desk.commission.actions",
        scenes="wattagon.desk.commission.scenes",
    ),
    Entry(
        code="log",
        name="Log",
        group="Run",
        widget="wattagon.desk.log.bench:LogBench",
        actions="wattagon.desk.log.actions",
        scenes="wattagon.desk.log.scenes",
        drops=(".log", ".tsv", ".gz", ".csv", ".txt", ".gpx"),
    ),
    Entry(
        code="trouble",
        name="Trouble",
        group="Run",
        widget="wattagon.desk.trouble.bench:TroubleBench",
        actions="wattagon.desk.trouble.actions",
        scenes="wattagon.desk.trouble.scenes",
    ),
)
FIRST = "drive"  # where the window opens


def keys_of(place: int) -> str:
    """The keys of a bench by its place in the table: ten digits, then Ctrl+B and a letter."""
    return f"Ctrl+{(place + 1) % 10}" if place < 10 else f"Ctrl+B, {chr(65 + place - 10)}"
