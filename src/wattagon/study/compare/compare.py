"""Two to four drives of one vehicle side by side: what differs, goals, findings, money and mass."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import replace
from typing import TYPE_CHECKING

from wattagon.design.catalogue import Catalogue
from wattagon.design.parts import CellPart, ControllerPart, HubPart, MotorPart, PropellerPart, WheelPart
from wattagon.design.tree import Design, Goal, Variant
from wattagon.errors import InputError
from wattagon.record import record
from wattagon.study.bands.taking import taking
from wattagon.study.drive.goals import GoalResult
from wattagon.study.drive.study import DriveStudy, study_drive
from wattagon.study.finder.hits import stages_words
from wattagon.study.findings.all import find
from wattagon.study.findings.finding import Finding
from wattagon.study.findings.status import Status
from wattagon.study.history.study import version_of
from wattagon.study.say import Say

if TYPE_CHECKING:
    from wattagon.study.ride.study import Ride

LEAST, MOST = 2, 4
ALIKE = 1e-6  # of the larger, under which two values are one
LINKS: dict[type, str] = {
    MotorPart: "motor",
    ControllerPart: "controller",
    CellPart: "pack",
    WheelPart: "wheel",
    PropellerPart: "propeller",
    HubPart: "hub",
}
# name, words, dimension, whether more is better (1), less is (-1)
FIGURES: tuple[tuple[str, str, str, int], ...] = (
    ("top_speed", "top speed, half full", "speed", 1),
    ("standstill", "pull at standstill", "force", 1),
    ("grade", "starts on", "grade", 1),
    ("hot", "until too hot on the climb", "time", 1),
    ("mass", "mass of the drive", "mass", -1),
    ("all_up", "all up", "mass", -1),
    ("rear", "weight behind the front axle", "length", 0),
    ("price", "all parts", "money", -1),
    ("cost", "still to buy", "money", -1),
)


@record(frozen=True, slots=True, kw_only=True)
class Side:
    """One drive that is compared."""

    code: str  # B, B@1a2b3c, what if
    name: str
    design: Design
    study: DriveStudy
    findings: tuple[Finding, ...]
    ride: Ride | None = None  # of the run that was asked for


@record(frozen=True, slots=True, kw_only=True)
class Line:
    """One thing that differs: a value of each side in SI, nan where a side has none; or texts."""

    code: str
    name: str
    dimension: str = ""
    values: tuple[float, ...] = ()
    texts: tuple[str, ...] = ()
    better: int = 0  # 1: more, -1: less

    @property
    def best(self) -> int:
        """Which side is best; -1 where there is no better, or none is."""
        known = [value for value in self.values if value == value]
        if not self.better or len(known) < LEAST or len(set(known)) == 1:
            return -1
        return self.values.index(max(known) if self.better > 0 else min(known))


@record(frozen=True, slots=True, kw_only=True)
class GoalLine:
    """One goal as each side reaches it; None where a side is not asked for it."""

    goal: Goal
    results: tuple[GoalResult | None, ...]


@record(frozen=True, slots=True, kw_only=True)
class FindingLine:
    """A finding that is not the same everywhere: its status and title on each side, None where it is not there."""

    code: str
    found: tuple[Finding | None, ...]


@record(frozen=True, slots=True, kw_only=True)
class Compared:
    """All of it; only what differs stands in `parts`, `inputs` and `findings`."""

    sides: tuple[Side, ...]
    parts: tuple[Line, ...]
    inputs: tuple[Line, ...]
    figures: tuple[Line, ...]
    goals: tuple[GoalLine, ...]
    findings: tuple[FindingLine, ...]
    ridden: tuple[Line, ...] = ()  # figures of the rides, where one was asked for
    run: str = ""  # its words


def runs_for(design: Design) -> dict[str, str]:
    """Runs that all sides can be put through: those by themselves, then the courses of the brief; code and words."""
    from wattagon.study.ride.study import runs_of

    return {**runs_of(design), **{course.id: course.name or course.id for course in design.brief.courses}}


def names_of(design: Design) -> tuple[str, ...]:
    """What can be compared: variants, then the versions in which they were ridden and which are another now."""
    made = [one.id for one in design.variants]
    for log in design.logs:
        if log.state is None:
            continue
        variant = log.variant or design.variant().id
        code = log.version or version_of(log.state)
        now = next((one for one in design.variants if one.id == variant), None)
        if now is None or version_of(now) != code:
            made.append(f"{variant}@{code}")
    return tuple(dict.fromkeys(made))


def design_of(design: Design, name: str) -> Design:
    """The design with one variant or version in front.  Raises InputError with what there is."""
    wanted, _, version = name.partition("@")
    exact = (one for one in design.variants if wanted in (one.id, one.name))
    alike = (one for one in design.variants if wanted.lower() in (one.id.lower(), one.name.lower()))
    variant = next(exact, None) or next(alike, None)
    if variant is None:
        raise InputError("variant", repr(name[:60]), ", ".join(names_of(design)))
    design = replace(design, active=variant.id)
    if not version:
        return design
    for log in design.logs:
        code = (log.version or version_of(log.state)) if log.state is not None else ""
        if log.state is not None and (log.variant or variant.id) == variant.id and code.startswith(version):
            state = replace(log.state, id=variant.id, layout=variant.layout, strength=variant.strength)
            return replace(design, variants=tuple(state if one is variant else one for one in design.variants))
    raise InputError("version", repr(name[:60]), ", ".join(names_of(design)))


def compare(
    designs: Sequence[tuple[str, Design]],
    stock: Catalogue,
    say: Say,
    cancelled: Callable[[], bool] = lambda: False,
    *,
    run: str = "",
) -> Compared | None:
    """Of two to four (name, design with its variant in front), ridden through a run where one is named; None when it was given up.

    Raises InputError for another number of them or an unknown run, and as the drive study.
    """
    if not LEAST <= len(designs) <= MOST:
        raise InputError("sides", len(designs), f"{LEAST} to {MOST} to compare")
    runs = runs_for(designs[0][1]) if run else {}
    run = next((code for code in runs if code.casefold() == run.strip().casefold()), run)
    if run and run not in runs:
        raise InputError("run", run, ", ".join(runs))
    sides = []
    for code, design in designs:
        if cancelled():
            return None
        study = study_drive(design, stock)
        findings = tuple(find(design, stock, study, say))
        ridden = _ridden(design, stock, run) if run else None
        sides.append(Side(code=code, name=design.variant().name, design=design, study=study, findings=findings, ride=ridden))
    return Compared(
        sides=tuple(sides),
        parts=_texts(_parts(sides, stock)),
        inputs=_inputs(sides, stock),
        figures=_figures(sides),
        goals=_goals(sides),
        findings=_findings(sides),
        ridden=_ride_lines(sides) if run else (),
        run=runs.get(run, ""),
    )


def _ridden(design: Design, stock: Catalogue, run: str) -> Ride | None:
    """None where this drive is not put through it: the ride bench says why."""
    from wattagon.study.ride.study import Ask, ride

    try:
        return ride(design, stock, Ask(run=run))
    except InputError:
        return None


RIDDEN: tuple[tuple[str, str, str, int], ...] = (
    ("ride_time", "time", "time", -1),
    ("ride_energy", "energy of the ride", "energy", -1),
    ("ride_winding", "hottest winding", "temperature", -1),
    ("ride_controller", "hottest controller", "temperature", -1),
    ("ride_pack_a", "most pack amps", "current", -1),
    ("ride_low_v", "lowest volts", "voltage", 1),
    ("ride_end", "charge at the end", "share", 1),
)


def _ride_lines(sides: Sequence[Side]) -> tuple[Line, ...]:
    from wattagon.physics.ride.names import Stat

    def of(ride: Ride | None) -> dict[str, float]:
        if ride is None:
            return dict.fromkeys((code for code, *_ in RIDDEN), math.nan)
        stat = ride.run.stat
        return {
            "ride_time": ride.time_s,
            "ride_energy": ride.energy_wh,
            "ride_winding": stat(Stat.WINDING),
            "ride_controller": stat(Stat.CONTROLLER),
            "ride_pack_a": stat(Stat.PEAK_PACK_A),
            "ride_low_v": stat(Stat.LOWEST_BUS_V),
            "ride_end": stat(Stat.CHARGE),
        }

    told = [of(side.ride) for side in sides]
    # one that gave up early is not better for having taken less time
    alike = len({side.ride.run.end if side.ride is not None else None for side in sides}) == 1
    lines = [
        Line(code=code, name=words, dimension=dimension, values=tuple(one[code] for one in told), better=better if alike else 0)
        for code, words, dimension, better in RIDDEN
    ]
    return tuple(line for line in lines if any(value == value for value in line.values))


def _parts(sides: Sequence[Side], stock: Catalogue) -> list[Line]:
    def name(part: str) -> str:
        found = stock.find(part) if part else None
        return found.name if found is not None else part

    def words(variant: Variant) -> dict[str, str]:
        screw = variant.propeller
        return {
            "motor": f"{variant.motor.count} x {name(variant.motor.part)}" if variant.motor.count > 1 else name(variant.motor.part),
            "reduction": stages_words(variant) if screw is None else "",
            "propeller": name(screw.part) if screw is not None else "",
            "pack": f"{variant.pack.series}S{variant.pack.parallel}P {name(variant.pack.part)}",
            "controller": name(variant.controller.part),
            "wheel": name(variant.wheel.part) if variant.wheel is not None else "",
        }

    told = [words(one.design.variant()) for one in sides]
    return [Line(code=key, name=key, texts=tuple(one[key] for one in told)) for key in told[0]]


def _texts(lines: Sequence[Line]) -> tuple[Line, ...]:
    return tuple(line for line in lines if len(set(line.texts)) > 1)


def _inputs(sides: Sequence[Side], stock: Catalogue) -> tuple[Line, ...]:
    """Inputs of the drive by what they are of, whichever way they are told: in the variant, or by its part."""
    tables: list[dict[str, tuple[float, str]]] = []
    for side in sides:
        made: dict[str, tuple[float, str]] = {}
        head = f"variants.{side.design.active}."
        for path, item in side.study.resolved.inputs.items():
            key = path
            if path.startswith(head):
                key = path.removeprefix(head)
            elif path.startswith("stock."):
                _, part, end = path.split(".", 2)
                found = stock.find(part)
                key = f"{LINKS.get(type(found), 'part')}.{end}" if found is not None else end
            made.setdefault(key, (item.value, item.dimension))
        tables.append(made)
    lines = []
    for key in dict.fromkeys(key for table in tables for key in table):
        values = tuple(table[key][0] if key in table else math.nan for table in tables)
        known = [value for value in values if value == value]
        if len(known) == len(values) and max(known) - min(known) <= ALIKE * max(map(abs, known), default=0.0):
            continue
        dimension = next(table[key][1] for table in tables if key in table)
        lines.append(Line(code=key, name=_words(key), dimension=dimension, values=values))
    return tuple(lines)


def _words(key: str) -> str:
    how = taking(key)
    if how is not None:
        return how.name
    link, _, end = key.rpartition(".")
    plain = end.removesuffix("_a").removesuffix("_v").removesuffix("_w").removesuffix("_mm").replace("_", " ")
    first = link.split(".")[0]
    return f"{first} {plain}" if first and first not in plain and first not in ("vehicle", "stages") else plain


def _figures(sides: Sequence[Side]) -> tuple[Line, ...]:
    def of(side: Side) -> dict[str, float]:
        state, resolved = side.study.states["nominal"], side.study.resolved
        floats = side.design.vehicle.kind.floats
        behind = getattr(resolved.load, "cm_behind_front_m", math.nan)
        return {
            "top_speed": state.top_speed_m_s,
            "standstill": side.study.docks["nominal"].pull_n if floats else state.standstill_force_n,
            "grade": math.nan if floats else state.max_grade,
            "hot": side.study.heat_s,
            "mass": resolved.drive_mass_kg,
            "all_up": float(resolved.load.mass_kg),
            "rear": float(behind),
            "price": resolved.full_price,
            "cost": resolved.cost,
        }

    told = [of(side) for side in sides]
    lines = [
        Line(code=code, name=words, dimension=dimension, values=tuple(one[code] for one in told), better=better)
        for code, words, dimension, better in FIGURES
    ]
    return tuple(line for line in lines if any(value == value for value in line.values))


def _goals(sides: Sequence[Side]) -> tuple[GoalLine, ...]:
    by_id = [{result.goal.id: result for result in side.study.goals} for side in sides]
    ids = dict.fromkeys(goal for table in by_id for goal in table)
    return tuple(
        GoalLine(goal=next(table[code].goal for table in by_id if code in table), results=tuple(table.get(code) for table in by_id))
        for code in ids
    )


def _findings(sides: Sequence[Side]) -> tuple[FindingLine, ...]:
    """Those whose verdict is not the same on all sides, the most urgent first."""
    by_code = [{one.code: one for one in reversed(side.findings)} for side in sides]
    rank = {Status.OVER: 0, Status.TIGHT: 1, Status.NOT_CHECKED: 2, Status.CLEAR: 3}
    made = []
    for code in dict.fromkeys(code for table in by_code for code in table):
        found = tuple(table.get(code) for table in by_code)
        statuses = {one.status if one is not None else None for one in found}
        if len(statuses) == 1 or not statuses & {Status.OVER, Status.TIGHT}:
            continue
        made.append((min(rank[one.status] for one in found if one is not None), FindingLine(code=code, found=found)))
    return tuple(line for _, line in sorted(made, key=lambda one: one[0]))
