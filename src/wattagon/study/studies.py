"""The table of studies: what each is called, how quick it is, what it depends on, and where it lives.  Nothing is discovered."""

from __future__ import annotations

import importlib
from collections.abc import Callable, Iterable, Mapping
from enum import StrEnum
from typing import TYPE_CHECKING, Any

from wattagon.record import record

if TYPE_CHECKING:
    from wattagon.design.catalogue import Catalogue
    from wattagon.design.tree import Design
    from wattagon.study.say import Say


class Pace(StrEnum):
    """How long a study takes: quick ones a few milliseconds, idle ones wait until the hand rests, slow ones run on a worker.

    Only the first of the table, which all others rest on, follows a change at once; other quick ones come right after the paint.
    """

    QUICK = "quick"
    IDLE = "idle"
    SLOW = "slow"


@record(frozen=True, slots=True, kw_only=True)
class Task:
    """What a study works on; `results` are those of the studies before it, by code, of the same design."""

    design: Design
    stock: Catalogue
    say: Say
    results: Mapping[str, Any]
    cancelled: Callable[[], bool] = lambda: False


@record(frozen=True, slots=True, kw_only=True)
class Study:
    """One line of the table.  `run` is "module:name" of a function of a `Task`; `rules` likewise of a table of rules.

    A study with rules that is not the first gives its findings as its result, or as the `findings` of it.
    """

    code: str
    pace: Pace
    depends: tuple[str, ...]  # beginnings of paths that wake it
    but: tuple[str, ...] = ()  # and of those that do not
    run: str
    rules: str = ""
    after_ms: int = 0  # rest after the last change before it begins
    compiled: bool = False  # loads the compiler when it first runs


# what was only done to a build: marks, readings, answers
_DONE = ("variant.build", "variant.commissioning", "variant.wet", "variant.inquiry")
# what is only told: no figure of the drive follows from it
_TOLD = (
    *_DONE,
    "variant.measured_load",
    "vehicle.name",
    "brief.currency",
    "brief.workshop",
    "variant.name",
    "variant.note",
    "variant.based_on",
    "variant.layout",
    "variant.strength",
    "variant.winding",
    "note",
)
# a drive or a ride is not moved by these
_HELD = (
    *_DONE,
    *("vehicle.name", "brief.currency", "brief.workshop"),
    *("variant.name", "variant.note", "variant.based_on", "variant.strength", "variant.winding", "note"),
)
_ALL = ("vehicle", "brief", "variant", "active", "stock")
STUDIES: tuple[Study, ...] = (
    Study(
        code="drive",
        pace=Pace.QUICK,
        depends=_ALL,
        but=_TOLD,
        run="wattagon.study.drive.follow:run",
        rules="wattagon.study.drive.rules:RULES",
    ),
    Study(code="steps", pace=Pace.IDLE, depends=_ALL, but=_TOLD, run="wattagon.study.drive.follow:steps", after_ms=90),
    Study(
        code="measure_first",
        pace=Pace.IDLE,
        depends=("vehicle", "brief.goals", "active", "stock"),
        but=_TOLD,
        run="wattagon.study.drive.measure_first:measure_first",
        after_ms=160,
    ),
    Study(code="bands", pace=Pace.SLOW, depends=_ALL, but=_TOLD, run="wattagon.study.bands.weigh:run", after_ms=900),
    Study(code="cures", pace=Pace.SLOW, depends=_ALL, but=_TOLD, run="wattagon.study.findings.all:cures", after_ms=250),
    Study(
        code="history",
        pace=Pace.QUICK,
        depends=("history", "active"),
        run="wattagon.study.history.rules:run",
        rules="wattagon.study.history.rules:RULES",
    ),
    Study(
        code="wet",
        pace=Pace.IDLE,
        depends=("variant", "vehicle", "brief.conditions", "active"),
        but=(
            *("variant.build", "variant.commissioning", "variant.inquiry"),
            *("vehicle.name", "variant.name", "variant.note", "variant.based_on"),
        ),
        run="wattagon.study.wet.rules:run",
        rules="wattagon.study.wet.rules:RULES",
        after_ms=300,
    ),
    Study(
        code="layout",
        pace=Pace.SLOW,
        depends=("vehicle", "brief.goals", "variant", "active", "stock"),
        but=(*_DONE, "vehicle.name", "variant.name", "variant.note", "variant.based_on"),
        run="wattagon.study.layout.rules:run",
        rules="wattagon.study.layout.rules:RULES",
        after_ms=350,
    ),
    Study(
        code="strength",
        pace=Pace.SLOW,
        depends=("vehicle", "brief.goals", "variant", "active", "stock"),
        but=(*_DONE, "vehicle.name", "variant.name", "variant.note", "variant.based_on"),
        run="wattagon.study.strength.rules:run",
        rules="wattagon.study.strength.rules:RULES",
        after_ms=450,
    ),
    Study(
        code="controller",
        pace=Pace.SLOW,
        depends=_ALL,
        but=tuple(path for path in _HELD if path != "variant.strength"),
        run="wattagon.study.controller.rules:run",
        rules="wattagon.study.controller.rules:RULES",
        after_ms=500,
    ),
    Study(
        code="build",
        pace=Pace.SLOW,
        depends=_ALL,
        but=(
            "vehicle.name",
            "variant.name",
            "variant.based_on",
            "variant.commissioning.seen",
            "variant.wet",
            "variant.inquiry",
            "variant.note",
            "note",
        ),
        run="wattagon.study.build.rules:run",
        rules="wattagon.study.build.rules:RULES",
        after_ms=900,
    ),
    Study(
        code="commission",
        pace=Pace.SLOW,
        depends=(*_ALL, "history"),
        but=("vehicle.name", "variant.name", "variant.based_on", "variant.build", "variant.wet", "variant.inquiry", "variant.note", "note"),
        run="wattagon.study.commission.rules:run",
        rules="wattagon.study.commission.rules:RULES",
        after_ms=1000,
    ),
    Study(
        code="winding",
        pace=Pace.SLOW,
        depends=_ALL,
        but=tuple(path for path in _HELD if path != "variant.winding"),
        run="wattagon.study.winding.rules:run",
        rules="wattagon.study.winding.rules:RULES",
        after_ms=650,
    ),
    Study(
        code="pack",
        pace=Pace.SLOW,
        depends=_ALL,
        but=(*_HELD, "variant.wiring.wires"),
        run="wattagon.study.pack.rules:run",
        rules="wattagon.study.pack.rules:RULES",
        after_ms=720,
        compiled=True,
    ),
    Study(
        code="wiring",
        pace=Pace.SLOW,
        depends=_ALL,
        but=_HELD,
        run="wattagon.study.wiring.rules:run",
        rules="wattagon.study.wiring.rules:RULES",
        after_ms=750,
        compiled=True,
    ),
    Study(
        code="ride",
        pace=Pace.SLOW,
        depends=_ALL,
        but=_TOLD,
        run="wattagon.study.ride.found:run",
        rules="wattagon.study.ride.rules:RULES",
        after_ms=700,
        compiled=True,
    ),
)


FIRST = STUDIES[0]  # the drive: what all others rest on


def findings_of(result: Any) -> list[Any]:
    """The findings in what a study with rules gave; none where it has not run."""
    return list(getattr(result, "findings", result) or ())


def loaded(name: str) -> Any:
    """What "module:name" stands for; loads the module."""
    module, _, attribute = name.partition(":")
    return getattr(importlib.import_module(module), attribute)


def wakes(study: Study, paths: Iterable[str]) -> bool:
    """Whether a change of some paths may change what a study finds; no paths: another design."""
    changed = [_general(path) for path in paths]
    return not changed or any(_begins(path, study.depends) and not _begins(path, study.but) for path in changed)


def _general(path: str) -> str:
    """A path with `variant` for whichever variant it is of."""
    if path.startswith("variants."):
        return f"variant.{path.split('.', 2)[2]}" if path.count(".") >= 2 else "variant"
    return "variant" if path == "variants" else path


def _begins(path: str, heads: tuple[str, ...]) -> bool:
    return any(path == head or path.startswith(f"{head}.") for head in heads)
