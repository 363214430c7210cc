"""Rules on belts, chains and rollers: what they bear or hold, whether they belong together and fit the shaft."""

from __future__ import annotations

import math

from wattagon.design.parts import ProfilePart, ToothedPart
from wattagon.design.parts.families import toothed
from wattagon.design.paths import Edit
from wattagon.design.tree import GoalKind, ReductionKind, StageChoice
from wattagon.physics.reduction import roller_grip_n
from wattagon.study.drive import candidates as try_
from wattagon.study.drive.cases import gear_at
from wattagon.study.drive.goals import lasting_pulls
from wattagon.study.drive.rules.rests import LOAD, PULL
from wattagon.study.findings.rule import Case, Rule, Verdict
from wattagon.study.findings.status import Status
from wattagon.study.resolve import Rating, ground, roller_grip, roller_press

PULL_TIGHT = 0.05  # room left of what a belt or chain bears
MOST_PRESS_N = 600.0  # more than tyre carcass and bearings of such a drive bear
WALL_MM = 2.5  # of metal between a bore and the grooves of a pulley
GROOVE_PITCHES = 0.7  # depth of groove and what stands outside the pitch circle, per pitch; roughly


def drivetrain(case: Case) -> Verdict:
    """Belts and chains: full motor amps against what they bear for seconds, the speeds of the goals against what they bear for good."""
    resolved = case.study.resolved
    if not resolved.variant.stages:
        return Verdict(status=Status.CLEAR, title="No belt or chain to overload")
    unknown = [
        k for k, stage in enumerate(resolved.variant.stages) if stage.profile and all(rating.stage != k for rating in resolved.ratings)
    ]
    if not resolved.ratings:
        words = "Belt width or chain rating unknown" if unknown else "Gears and rollers have no rating here"
        return Verdict(status=Status.NOT_CHECKED, title=words)
    train = resolved.train
    torque = float(train.motor.torque_constant_nm_per_a * train.motor.dc_per_motor_amp * train.controller.motor_current_a)
    peak = max(resolved.ratings, key=lambda r: torque / r.peak_nm)
    peak_share = torque / peak.peak_nm
    # each goal in the gear that is ridden at its speed
    pulls = [pull for goal in case.design.brief.goals for pull in lasting_pulls(gear_at(resolved, goal.speed or 0.0), (goal,))]
    lasting_share, lasting = max(((share, rating) for share, rating, _ in pulls), default=(0.0, peak), key=lambda x: x[0])
    margin = 1.0 - max(peak_share, lasting_share)
    status = Status.OVER if margin < -1e-9 else Status.TIGHT if margin < PULL_TIGHT else Status.CLEAR
    if peak_share >= lasting_share:
        worst, now, bears, when = peak, torque * peak.per_nm, peak.peak_n, "at full motor amps"
    else:
        worst, now, bears, when = lasting, lasting_share * lasting.lasting_n, lasting.lasting_n, "for good at a goal's speed"
    title = f"{_which(case, worst)} pulled with {case.say(now, 'force')} {when}, bears {case.say(bears, 'force')}"
    if unknown and status is Status.CLEAR:
        return Verdict(status=Status.NOT_CHECKED, title=f"Belt width or chain rating of stage {unknown[0] + 1} unknown")
    amps = float(train.controller.motor_current_a)
    edits = lambda: (
        *try_.wider_belts(case.design, case.stock),
        *(try_.set_amps(case.design, "motor_current_a", amps * 0.9 / peak_share) if peak_share >= lasting_share else ()),
        *try_.steps(case.design, case.stock, ("driver_teeth*",), +1, most=4),
    )
    return Verdict(status=status, title=title, margin=margin, candidates=edits)


def _which(case: Case, rating: Rating) -> str:
    many = sum(1 for stage in case.study.resolved.variant.stages if stage.profile) > 1
    return f"{rating.kind.capitalize()}{f' {rating.stage + 1}' if many else ''}"


def roller(case: Case) -> Verdict | None:
    """What a friction roller holds dry, dusty and wet, against the pull that the goals ask for; wet unless rain is excluded."""
    resolved, conditions = case.study.resolved, case.design.brief.conditions
    at = next((k for k, stage in enumerate(resolved.variant.stages) if stage.kind is ReductionKind.FRICTION), None)
    if at is None:
        return None
    choice = resolved.variant.stages[at]
    press, arm = roller_press(choice)
    because = (
        "Pressed with "
        f"{case.say(press, 'force')}{'' if math.isinf(arm) else ' on an arm that pulls itself in'}; "
        "beyond its grip a roller spins and "
        "wears the tyre. The grip that counts is the wet one, unless it is never ridden in rain."
    )
    sets = 1 if choice.shared else resolved.variant.motor.count
    holds = {on: sets * float(roller_grip_n(roller_grip(choice, on), press, arm)) for on in ("dry", "dusty", "wet")}
    judged = ground(conditions) if conditions.rain_excluded or conditions.wet else "wet"
    asked = [
        float(
            resolved.load.resistance_n(
                goal.speed or 0.0, (goal.grade or 0.0) if goal.kind is not GoalKind.TOP_SPEED else 0.0, resolved.headwind_m_s
            )
        )
        for goal in case.design.brief.goals
        if goal.kind in (GoalKind.TOP_SPEED, GoalKind.CLIMB, GoalKind.START)
    ]
    words = ", ".join(f"{case.say(force, 'force') if math.isfinite(force) else 'all'} {on}" for on, force in holds.items())
    if not asked:
        return Verdict(status=Status.NOT_CHECKED, title=f"Roller holds {words}; no goal asks for pull", because=because)
    need, have = max(asked), holds[judged]
    margin = 1.0 if math.isinf(have) else 1.0 - need / have
    status = Status.OVER if margin < 0 else Status.TIGHT if margin < 0.10 else Status.CLEAR
    title = f"Roller holds {words}; the goals ask for {case.say(need, 'force')}"

    def edits() -> tuple[Edit, ...]:
        more = math.ceil(press * 1.15 * need / have / 10.0) * 10.0
        made = (
            [Edit(label=f"Press the roller with {more:g} N", changes=((f"variant.stages.{at}.press_force", more),))]
            if more <= MOST_PRESS_N
            else []
        )
        if judged == "wet" and not conditions.wet and holds["dry"] > need:
            made.append(Edit(label="Never ridden in rain", changes=(("brief.conditions.rain_excluded", True),)))
        return tuple(made)

    return Verdict(
        status=status,
        title=title,
        because=because,
        margin=margin,
        candidates=edits,
        rests=(f"stages.{at}.press_force", f"stages.{at}.grip_{judged}"),
    )


def _toothed(case: Case, stage: StageChoice, role: str) -> ToothedPart | None:
    teeth = stage.driver_teeth if role == "driver" else stage.driven_teeth
    return next((p for p in toothed(case.stock, stage.profile, role) if p.teeth == teeth), None) if stage.profile else None


def bore(case: Case) -> Verdict | None:
    """The bore of the first driver against the motor's shaft: larger does not hold, smaller has to be bored out while there is metal."""
    stages, motor = case.study.resolved.variant.stages, case.study.resolved.motor_part
    first = next((stage for stage in stages if stage.kind is not ReductionKind.DIRECT), None)
    if first is None or first.kind not in (ReductionKind.BELT, ReductionKind.CHAIN):
        return None
    part = _toothed(case, first, "driver")
    if part is None or part.bore_mm is None or motor.shaft_mm is None:
        what = "the pulley's bore" if part is None or part.bore_mm is None else "the motor's shaft"
        return Verdict(status=Status.NOT_CHECKED, title=f"Bore on shaft: {what} is not known")
    hole, shaft = part.bore_mm, motor.shaft_mm
    title = f"Bore {hole:g} mm of the {part.name}, shaft {shaft:g} mm"
    if hole > shaft:
        return Verdict(status=Status.OVER, title=f"{title}: it needs a sleeve, or it turns loose", margin=shaft / hole - 1.0)
    if hole < shaft:
        profile = case.stock.get(ProfilePart, first.profile)
        wall = profile.pitch_mm * (part.teeth / math.pi - 2.0 * GROOVE_PITCHES) / 2.0 - shaft / 2.0
        good = wall >= WALL_MM
        words = (
            f"bore it out before it is fitted, {wall:.1f} mm of metal stay" if good else f"only {max(wall, 0.0):.1f} mm of metal would stay"
        )
        edits = lambda: try_.steps(case.design, case.stock, ("driver_teeth_0",), +1, most=4)
        return Verdict(
            status=Status.CLEAR if good else Status.OVER, title=f"{title}: {words}", margin=wall / WALL_MM - 1.0, candidates=edits
        )
    return Verdict(status=Status.CLEAR, title=title)


def profiles(case: Case) -> Verdict | None:
    """A stage whose profile is of the other kind, wheels with fewer teeth than it runs on, and look-alikes on the shelf."""
    stages = [(k, stage) for k, stage in enumerate(case.study.resolved.variant.stages) if stage.profile]
    if not stages:
        return None
    for k, stage in stages:
        profile = case.stock.get(ProfilePart, stage.profile)
        if stage.kind.value != profile.kind:
            title = f"Stage {k + 1} is a {stage.kind.value}, its profile {profile.id} is of a {profile.kind}: they do not mesh"
            return Verdict(status=Status.OVER, title=title, margin=-1.0)
    for k, stage in stages:
        profile = case.stock.get(ProfilePart, stage.profile)
        least = min(stage.driver_teeth, stage.driven_teeth)
        if least < profile.least_teeth:
            title = f"{least} teeth on {profile.id}: it runs on {profile.least_teeth} or more"
            edits = lambda k=k: try_.steps(case.design, case.stock, (f"driver_teeth_{k}", f"driven_teeth_{k}"), +1, most=3)
            return Verdict(status=Status.OVER, title=title, margin=least / profile.least_teeth - 1.0, candidates=edits)
        alike = _look_alike(case, stage, profile)
        if alike:
            return Verdict(status=Status.TIGHT, title=alike, margin=0.0)
    return Verdict(status=Status.CLEAR, title="Wheels and loops are of one family")


def _look_alike(case: Case, stage: StageChoice, profile: ProfilePart) -> str:
    """A wheel on the shelf that seems to be one of this stage and is of another family of its pitch."""
    owned = {item.part for item in case.design.brief.shelf}
    for role, teeth in (("driver", stage.driver_teeth), ("driven", stage.driven_teeth)):
        here = _toothed(case, stage, role)
        if here is not None and here.id in owned:
            continue
        for part_id in owned:
            other = case.stock.rows(ToothedPart).get(part_id)
            if (
                not isinstance(other, ToothedPart)
                or other.profile == profile.id
                or other.teeth != teeth
                or other.role not in (role, "both")
            ):
                continue
            if case.stock.get(ProfilePart, other.profile).pitch_mm == profile.pitch_mm:
                return f"{other.name} on the shelf looks like it but is no {profile.id}: it does not run with this {profile.kind}"
    return ""


RULES: tuple[Rule, ...] = (
    Rule(
        code="reduction.pull",
        bench="drive",
        link="reduction",
        because=(
            "For seconds a belt bears twice its working tension and a chain a 6.5th of its breaking "
            "load; for good, two thirds and an eighth. Six teeth in mesh taken as given; the drive does "
            "not know it and pulls beyond."
        ),
        judge=drivetrain,
        rests=(*LOAD, *PULL),
    ),
    Rule(
        code="reduction.roller",
        bench="drive",
        link="reduction",
        because="Beyond its grip a roller spins and wears the tyre.",
        judge=roller,
    ),
    Rule(
        code="reduction.bore",
        bench="drive",
        link="reduction",
        because="A pulley holds on its shaft only where it fits; a bore can be made wider, not narrower.",
        judge=bore,
    ),
    Rule(
        code="reduction.profile",
        bench="drive",
        link="reduction",
        because=(
            "Wheels and loop must be of one family: the same pitch is not enough, neither for belts "
            "(tooth form) nor for chains (roller, width)."
        ),
        judge=profiles,
    ),
)
