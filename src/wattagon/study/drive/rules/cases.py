"""Rules on load cases: how the vehicle stands in each, and in those that are not in view whether it lifts, pitches or tips."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from wattagon.design.tree import USUAL, Mode
from wattagon.study.drive.cases import in_case, with_case
from wattagon.study.drive.rules.rests import BALANCE, GRIP, MASS, PULL
from wattagon.study.drive.rules.rider import brake_grip, tips_sideways
from wattagon.study.drive.rules.thrust import wheel_lift
from wattagon.study.findings.rule import Case, Rule, Verdict
from wattagon.study.findings.status import Status
from wattagon.study.resolve import Reader, Stand, case_ids, case_words, driven_cases, stand_of

STANDS_BELOW = 0.10  # of the wheelbase between the weight and an axle: less is tight
CASE_RESTS = (
    "mass",
    "behind_front",
    "height",
    "hitch_share",
    *(f"{piece}_{what}" for piece in ("rider", "load", "pack") for what in ("behind_front", "height")),
)


def _stand(case: Case, case_id: str) -> Stand:
    """How it stands in a case; what that rests on goes into the bag."""

    def make() -> Stand:
        read, resolved = Reader(True), case.study.resolved
        stand = stand_of(read, case.design, resolved.drive_mass_kg, resolved.pack_kg, case.design.brief.load_case(case_id))
        case.note(read.inputs or {})
        return stand

    return case.made(("stand", case_id), make)


def all_cases(case: Case) -> list[tuple[str, str]]:
    """Every case but the usual one, which the drive study itself refuses where it cannot stand."""
    return [(name, name) for name in case_ids(case.design) if name != USUAL]


def other_driven(case: Case) -> list[tuple[str, str]]:
    """The cases that are driven and not in view, and in which the vehicle stands."""
    if not case.design.brief.cases:
        return []
    now = case.study.resolved.case
    return [(name, name) for name in driven_cases(case.design) if name != now and _stand(case, name).stands]


def stands(case: Case, case_id: str) -> Verdict:
    """The weight between the axles, with room to the nearer one."""
    stand = _stand(case, case_id)
    name = case_words(case.design, case_id)
    ahead, behind = stand.behind_front_m, stand.wheelbase_m - stand.behind_front_m
    near, axle = (behind, "rear") if behind <= ahead else (ahead, "front")
    margin = near / stand.wheelbase_m
    whole = f"{case.say(stand.moving_kg, 'mass')}, weight {case.say(round(stand.behind_front_m, 3), 'length')} behind the front axle"
    if near <= 0.0:
        title = f"{_cap(name)}: it tips over the {axle} axle as it stands, {case.say(round(-near, 3), 'length')} too far: {whole}"
        return Verdict(status=Status.OVER, title=title, margin=margin)
    status = Status.TIGHT if margin < STANDS_BELOW else Status.CLEAR
    high = case.say(round(stand.height_m, 3), "length")
    title = f"{_cap(name)}: stands with {case.say(round(near, 3), 'length')} to the {axle} axle: {whole}, {high} high"
    return Verdict(status=status, title=title, margin=margin)


def _under(rule: Callable[[Case], Verdict | None]) -> Callable[[Case, str], Verdict | None]:
    """A rule of the drive, asked in another load case."""

    def judge(case: Case, case_id: str) -> Verdict | None:
        _stand(case, case_id)
        resolved = with_case(case.study.resolved, case.design, case_id)
        if resolved is None:
            return None
        verdict = rule(Case(in_case(case.design, case_id), case.stock, replace(case.study, resolved=resolved), case.say))
        if verdict is None or verdict.status is Status.NOT_CHECKED:
            return None  # the case in view says that already
        return replace(verdict, title=f"{_cap(case_words(case.design, case_id))}: {verdict.title[:1].lower()}{verdict.title[1:]}")

    return judge


def modes(case: Case) -> list[tuple[str, Mode]]:
    """Modes that ask for a speed."""
    return [(mode.id, mode) for mode in case.design.brief.modes if mode.top_speed is not None]


def mode_speed(case: Case, mode: Mode) -> Verdict | None:
    """A speed that is set can only be kept by a controller that knows how fast its motor turns."""
    if not case.study.resolved.train.motor.brushed:
        return None
    speed = case.say(mode.top_speed or 0.0, "speed")
    title = f"Mode {mode.name or mode.id}: a brushed motor's controller does not know its speed, {speed} is not kept by it"
    return Verdict(status=Status.NOT_CHECKED, title=title)


def _cap(text: str) -> str:
    return text[:1].upper() + text[1:]


RULES: tuple[Rule, ...] = (
    Rule(
        code="mode.speed",
        on="wheels",
        bench="brief",
        link="controller",
        because="A speed that is set is kept by the electrical speed, which a brushed motor does not tell.",
        judge=mode_speed,
        of=modes,
    ),
    Rule(
        code="case.stands",
        on="wheels",
        bench="brief",
        link="wheel",
        because="Weights add up where they sit; beyond an axle the vehicle tips over it without any drive.",
        judge=stands,
        of=all_cases,
        rests=(*MASS, *BALANCE, *CASE_RESTS),
    ),
    Rule(
        code="case.lift",
        on="wheels",
        bench="drive",
        link="wheel",
        because="Pull that lifts the front: weight times its distance to the rear axle over its height.",
        judge=_under(wheel_lift),
        of=other_driven,
        rests=(*MASS, *PULL, *BALANCE, *CASE_RESTS),
    ),
    Rule(
        code="case.brake",
        on="wheels",
        bench="drive",
        link="controller",
        because="A brake that locks its wheels steers no more; one that lifts the rear throws over the front.",
        judge=_under(brake_grip),
        of=other_driven,
        rests=(*MASS, *PULL, *GRIP, *CASE_RESTS),
    ),
    Rule(
        code="case.tips_sideways",
        on="wheels",
        bench="brief",
        link="wheel",
        because="It tips sideways at half its track over the height of its weight, in g.",
        judge=_under(tips_sideways),
        of=other_driven,
        rests=("vehicle.track", *GRIP, *CASE_RESTS),
    ),
)
