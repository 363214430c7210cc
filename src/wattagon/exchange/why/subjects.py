"""Every study whose numbers can be asked for: a line each, with how its results come about and how JSON names them.

What a study gives is run on traced numbers inside `taken_down`; names are those of its own `--json`.
"""

from __future__ import annotations

from collections.abc import Callable
from functools import cached_property
from typing import TYPE_CHECKING, Any, NamedTuple

from wattagon.design.catalogue import Catalogue
from wattagon.design.tree import Design
from wattagon.study.drive.cases import strongest
from wattagon.study.drive.study import DriveStudy, study_drive
from wattagon.study.say import Say

if TYPE_CHECKING:
    from wattagon.study.ride.study import Ride


class Asked:
    """A design in hand; what several subjects rest on is worked out once."""

    def __init__(self, design: Design, stock: Catalogue, say: Say, plain: tuple[Design, Catalogue], ride: Ride | None = None) -> None:
        self.design, self.stock, self.say = design, stock, say
        self.plain = plain  # the same two, of plain numbers
        self._ride = ride

    @cached_property
    def drive(self) -> DriveStudy:
        from wattagon.study.why.drive import with_workings

        return with_workings(study_drive(self.design, self.stock))

    @cached_property
    def strong(self) -> tuple[Design, DriveStudy]:
        """As pack, wiring and settings see it: in the strongest mode."""
        design = strongest(self.design)
        return (design, self.drive) if design is self.design else (design, study_drive(design, self.stock))

    @cached_property
    def ride(self) -> Ride:
        """The one that was given, else the first of the design's own."""
        from wattagon.study.ride.study import Ask, ride, runs_of
        from wattagon.study.why.ride import with_workings

        made = self._ride if self._ride is not None else ride(*self.plain, Ask(run=next(iter(runs_of(self.plain[0])))))
        return with_workings(made, self.drive.resolved)

    @cached_property
    def laid(self) -> Any:
        from wattagon.study.layout.study import study_layout

        return study_layout(self.design, self.stock, self.drive)

    @cached_property
    def packed(self) -> Any:
        from wattagon.study.pack.study import study_pack

        design, drive = self.strong
        return study_pack(design, self.stock, drive, ())


class Subject(NamedTuple):
    """Its code is the first word of a result's name; none for what `solve` prints.  `modules` are loaded before numbers are taken down."""

    code: str
    data: Callable[[Asked], Any]
    modules: tuple[str, ...]


def _solve(asked: Asked) -> Any:
    from wattagon.exchange.json_data import solve_data

    return {key: value for key, value in solve_data(asked.drive).items() if key != "resistance"}


def _ride(asked: Asked) -> Any:
    from wattagon.exchange.json_data import ride_data

    return {key: value for key, value in ride_data(asked.ride, asked.design).items() if key not in ("events", "assumed")}


def _layout(asked: Asked) -> Any:
    from wattagon.exchange.layout_json import layout_data

    return layout_data(asked.laid)


def _strength(asked: Asked) -> Any:
    from wattagon.exchange.strength_json import strength_data
    from wattagon.study.strength.study import study_strength

    return strength_data(study_strength(asked.design, asked.stock, asked.drive, asked.laid), asked.stock)


def _pack(asked: Asked) -> Any:
    from wattagon.exchange.pack_json import pack_data

    return pack_data(asked.packed)


def _wiring(asked: Asked) -> Any:
    from wattagon.exchange.wiring_json import wiring_data
    from wattagon.study.layout.study import study_layout
    from wattagon.study.wiring.study import study_wiring

    design, drive = asked.strong
    return wiring_data(
        study_wiring(design, asked.stock, drive, asked.packed, study_layout(design, asked.stock, drive, gaps=False), ()), asked.stock
    )


def _settings(asked: Asked) -> Any:
    from wattagon.exchange.settings_json import settings_data
    from wattagon.study.controller.study import study_controller

    design, drive = asked.strong
    return settings_data(study_controller(design, asked.stock, drive, asked.say), None)


def _winding(asked: Asked) -> Any:
    from wattagon.exchange.winding_json import winding_data
    from wattagon.study.winding.study import study_winding

    return winding_data(study_winding(asked.design, asked.stock))


def _commission(asked: Asked) -> Any:
    from wattagon.exchange.commission_json import commission_data
    from wattagon.study.commission.rules import commissioned
    from wattagon.study.findings.rule import Case

    design, drive = asked.strong
    return commission_data(commissioned(Case(design, asked.stock, drive, asked.say)))


def _check(asked: Asked) -> Any:
    from wattagon.exchange.json_data import check_data
    from wattagon.study.findings.all import judge
    from wattagon.study.findings.rule import Case

    design, drive = asked.strong
    return check_data(judge(Case(design, asked.stock, drive, asked.say)))


_PACK = ("wattagon.study.pack.study", "wattagon.exchange.pack_json")
_LAYOUT = ("wattagon.study.layout.study", "wattagon.exchange.layout_json")
_STRENGTH = (*_LAYOUT, "wattagon.study.strength.study", "wattagon.exchange.strength_json")
SUBJECTS: tuple[Subject, ...] = (
    Subject("", _solve, ("wattagon.study.why.drive", "wattagon.exchange.json_data", "wattagon.study.drive.water")),
    Subject("ride", _ride, ("wattagon.study.why.ride", "wattagon.physics.ride.ride", "wattagon.exchange.json_data")),
    Subject("layout", _layout, _LAYOUT),
    Subject("strength", _strength, _STRENGTH),
    Subject("pack", _pack, _PACK),
    Subject("wiring", _wiring, (*_PACK, *_LAYOUT, "wattagon.study.wiring.study", "wattagon.exchange.wiring_json")),
    Subject("settings", _settings, ("wattagon.study.controller.study", "wattagon.exchange.settings_json")),
    Subject("winding", _winding, ("wattagon.study.winding.study", "wattagon.exchange.winding_json")),
    Subject("commission", _commission, (*_STRENGTH, "wattagon.study.commission.rules", "wattagon.exchange.commission_json")),
    Subject("check", _check, (*_STRENGTH, "wattagon.study.findings.all", "wattagon.exchange.json_data")),
)
# studies that have no numbers of their own to ask for, and why
WITHOUT: dict[str, str] = {
    "steps": "it is the drive's own study, asked at other teeth",
    "measure_first": "it is the drive's own study, asked at other inputs",
    "bands": "a band is the spread of a thousand drives; `bands` tells which inputs make it",
    "cures": "it is the drive's own study, asked with one thing changed",
    "history": "it says what was noted, and works nothing out",
    "wet": "it asks what was told, and works nothing out",
    "build": "days and money are sums over the list that its bench shows, row by row",
}
