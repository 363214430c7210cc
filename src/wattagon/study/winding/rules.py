"""Rules on the winding: what cannot work, what will not go in, what gets hot, what was read."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import replace

from wattagon.design.paths import Edit, apply
from wattagon.design.quantity import Known, Quantity
from wattagon.design.tree import HallPlan, Winding, Wound
from wattagon.errors import InputError, PathError
from wattagon.physics.winding import star
from wattagon.physics.winding.coil import Connection
from wattagon.record import record
from wattagon.study.drive.study import DriveStudy
from wattagon.study.findings.all import slow_findings
from wattagon.study.findings.finding import Finding
from wattagon.study.findings.rule import Case, Rule, Verdict, held_under, unknown
from wattagon.study.findings.status import Status
from wattagon.study.studies import Task
from wattagon.study.winding.after import MEGOHM, Check
from wattagon.study.winding.effect import Effect
from wattagon.study.winding.iron import most_strand_m
from wattagon.study.winding.option import FEW, FILL_FEW, FILL_HAND, FILL_MOST, LEAST_L_H, Option
from wattagon.study.winding.sensors import TOLERANCE_DEG, seats
from wattagon.study.winding.study import WindingStudy, study_winding

LINER_LEAST_M, LINER_USUAL_M = 0.15e-3, 0.2e-3
GAP_TIGHT_M = 0.15e-3  # left between resin and magnets: what bearings and a rotor that is not quite round ask for; judged
SIDE_PULL_W = 200.0
RING_SHARE = (0.25, 1.0)  # of what the motor loses anyhow at that speed: told from, over
HEAT_WORSE = (1.0, 1.25)  # copper loss of a rewind over that of a reduction: tight from, over
COMFORT_HZ = {True: 1200.0, False: 600.0}  # thin laminations or not
THIN_M = 0.25e-3


def wound(case: Case) -> WindingStudy | None:
    """Of a case, worked out once; None where nobody told of its winding, or where it cannot be worked out."""

    def make() -> WindingStudy | None:
        if case.design.variant().winding is None:
            return None
        try:
            # a cure is judged by its own figures: what every option does in the drive is not asked again
            found = study_winding(case.design, case.stock, case.study, seek=False, compare=case.tried_on is None)
        except (InputError, PathError) as refusal:
            words = str(refusal)
            case.made("winding.refusal", lambda: words)
            return None
        case.note(found.inputs)
        return found

    return case.made("winding", make)


def refused(case: Case) -> Verdict | None:
    """A plan that is impossible is told here, in the words of its refusal."""
    if case.design.variant().winding is None or wound(case) is not None:
        return None
    words = case.made("winding.refusal", lambda: "")
    return Verdict(status=Status.OVER, title=f"This winding is impossible: {words}", margin=-1.0) if words else None


def balance(case: Case) -> Verdict | None:
    found = wound(case)
    if found is None:
        return None
    name = found.base.iron.name
    if found.why_not:
        return Verdict(status=Status.OVER, title=f"{name} makes no three equal phases: asks for {found.why_not}", margin=-1.0)
    layout = found.layout
    if layout is None:
        return Verdict(
            status=Status.OVER, title=f"{name} cannot be wound on every other tooth", margin=-1.0, candidates=lambda: _both_layers(found)
        )
    if layout.factor < star.USEFUL:
        margin = layout.factor / star.USEFUL - 1.0
        return Verdict(status=Status.OVER, title=f"{name} is balanced, but its factor is {layout.factor:.2f}", margin=margin)
    return Verdict(status=Status.CLEAR, title=f"{name}: {layout.pattern.text}, factor {layout.factor:.3f}", margin=layout.factor - 0.85)


def _both_layers(found: WindingStudy) -> tuple[Edit, ...]:
    if found.told.plan is None:
        return ()
    return (Edit(label="Every tooth wound", changes=(("variant.winding.plan.layers", 2),)),)


def side_pull(case: Case) -> Verdict | None:
    found = wound(case)
    if found is None or found.why_not or not star.side_pull(found.base.iron.slots, found.base.iron.poles):
        return None
    power = max(float(state.power_at_top_w) for state in found.drive.states.values())
    status = Status.TIGHT if power > SIDE_PULL_W else Status.CLEAR
    name, watts = found.base.iron.name, case.say(power, "power")
    return Verdict(status=status, title=f"{name} leaves a force that turns with the rotor, at {watts}: noise, bearings", margin=0.0)


def frequency(case: Case) -> Verdict | None:
    found = wound(case)
    if found is None:
        return None
    most = COMFORT_HZ[found.base.iron.lamination_m <= THIN_M]
    status, margin = held_under(found.hz, most, 0.05)
    status = Status.TIGHT if status is Status.OVER else status
    title = f"{case.say(found.hz, 'frequency')} electrical at the top speed, comfort ends at {case.say(most, 'frequency')}"
    return Verdict(status=status, title=title, margin=margin)


def _chosen(case: Case) -> tuple[WindingStudy, Option] | None:
    found = wound(case)
    return (found, found.chosen) if found is not None and found.chosen is not None else None


def fills(case: Case) -> Verdict | None:
    both = _chosen(case)
    if both is None:
        return None
    _, one = both
    most = FILL_FEW if one.coils.strands <= FEW else FILL_HAND
    status = Status.OVER if one.fill > FILL_MOST else Status.TIGHT if one.fill > most else Status.CLEAR
    title = f"{one.fill:.2f} of the slot is copper, by hand {most:.2f} with {'few' if one.coils.strands <= FEW else 'many'} wires"
    return Verdict(status=status, title=title, margin=1.0 - one.fill / FILL_MOST, candidates=lambda: _fewer_strands(one))


def _fewer_strands(one: Option) -> tuple[Edit, ...]:
    strands = round(one.coils.strands)
    return tuple(
        Edit(label=f"{less} strands instead of {strands}", changes=(("variant.winding.plan.strands", less),))
        for less in range(strands - 1, max(0, strands - 5), -1)
    )


def passes(case: Case) -> Verdict | None:
    both = _chosen(case)
    if both is None:
        return None
    found, one = both
    stiff = [words for words in one.by_hand.says if "fill" not in words]
    most = most_strand_m(found.hz)
    if one.coils.wire_m > most + 1e-9:
        stiff.append(
            f"{case.say(one.coils.wire_m, 'length')} wire at {case.say(found.hz, 'frequency')}: strands over {case.say(most, 'length')} "
            "lose to currents inside them"
        )
    hard = any("scrapes" in words or "springs" in words for words in one.by_hand.says)
    if not stiff:
        return Verdict(status=Status.CLEAR, title=f"{case.say(one.coils.wire_m, 'length')} wire passes between the tips", margin=0.2)
    status = Status.OVER if hard else Status.TIGHT
    return Verdict(status=status, title="; ".join(stiff), margin=-0.1 if hard else 0.0)


def density(case: Case) -> Verdict | None:
    both = _chosen(case)
    if both is None or not math.isfinite(both[0].density):
        return None
    found, one = both
    effect = _effect(found, "rewind")
    needed = effect.needed_a if effect is not None and math.isfinite(effect.needed_a) else math.nan
    from wattagon.physics.winding.coil import density_a_mm2

    value = float(density_a_mm2(one.coils, needed / math.sqrt(2.0))) if math.isfinite(needed) else found.density
    status, margin = held_under(value, found.density_most, 0.1)
    title = f"{value:.1f} A/mm² where {found.moment.name} is asked, {found.density_most:.0f} {found.density_kind}"
    return Verdict(status=status, title=title, margin=margin)


def ring(case: Case) -> Verdict | None:
    found = wound(case)
    if found is None or found.ring is None:
        return None
    one = found.ring
    share = one.watts_high / max(one.idle_w, 1e-9)
    status = Status.OVER if share > RING_SHARE[1] else Status.TIGHT if share > RING_SHARE[0] else Status.CLEAR
    title = (
        f"Third harmonic drives {case.say(one.amps, 'current')} round the triangle, {case.say(one.watts, 'power')} "
        f"(to {case.say(one.watts_high, 'power')})"
    )
    return Verdict(status=status, title=title, margin=1.0 - share / RING_SHARE[1], candidates=lambda: _wye(found))


def _wye(found: WindingStudy) -> tuple[Edit, ...]:
    """The nearest options in wye."""
    if found.told.plan is None:
        return ()
    wye = [one for one, _ in found.offers if one.coils.connection is Connection.WYE][:2]
    return tuple(Edit(label=one.name, changes=(("variant.winding.plan", plan_of(one)),)) for one in wye)


def plan_of(one: Option) -> Wound:
    """An option as it is kept."""
    coils = one.coils
    return Wound(
        turns=round(coils.turns),
        strands=round(coils.strands),
        wire=Quantity(value=coils.wire_m, known=Known.STATED),
        connection=coils.connection,
        paths=coils.paths,
        layers=coils.layers,
    )


def _effect(found: WindingStudy, code: str) -> Effect | None:
    return next((way.effect for way in found.ways if way.code == code and not way.effect.refused), None)


def heat(case: Case) -> Verdict | None:
    both = _chosen(case)
    if both is None:
        return None
    rewind, reduction = _effect(both[0], "rewind"), _effect(both[0], "reduction")
    if rewind is None or reduction is None or not reduction.copper_w > 0.0 or reduction.met < rewind.met:
        return None
    share = rewind.copper_w / reduction.copper_w
    status = Status.OVER if share > HEAT_WORSE[1] else Status.TIGHT if share > HEAT_WORSE[0] else Status.CLEAR
    way = next(one for one in both[0].ways if one.code == "reduction")
    title = (
        f"Copper loses {case.say(rewind.copper_w, 'power')} rewound, {case.say(reduction.copper_w, 'power')} with {way.name}, "
        "which meets as many goals"
    )
    return Verdict(status=status, title=title, margin=HEAT_WORSE[0] - share, candidates=lambda: (way.edit,) if way.edit is not None else ())


def controller_fits(case: Case) -> Verdict | None:
    both = _chosen(case)
    effect = _effect(both[0], "rewind") if both is not None else None
    if effect is None:
        return None
    if effect.controller:
        over = any("bears" in words for words in effect.controller)
        return Verdict(
            status=Status.OVER if over else Status.TIGHT,
            title=f"The controller: {'; '.join(effect.controller)}",
            margin=-0.1 if over else 0.0,
        )
    henry = case.say(effect.henry, "inductance")
    return Verdict(
        status=Status.CLEAR, title=f"The controller bears it: {henry} between leads", margin=1.0 - LEAST_L_H / max(effect.henry, 1e-12)
    )


def insulation(case: Case) -> Verdict | None:
    both = _chosen(case)
    if both is None:
        return None
    found, _ = both
    bad = [one for one in found.told.tests if one.megohm < MEGOHM]
    if bad:
        one = bad[-1]
        where = f"phase {one.phase} {one.when} winding" if one.phase else "the core"
        return Verdict(status=Status.OVER, title=f"{one.megohm:g} MΩ of {where}: under {MEGOHM:g} MΩ it is not powered", margin=-1.0)
    liner = found.base.iron.wound.liner_m
    status = Status.OVER if liner < LINER_LEAST_M else Status.TIGHT if liner < LINER_USUAL_M else Status.CLEAR
    if status is not Status.CLEAR:
        return Verdict(status=status, title=f"{case.say(liner, 'length')} on the slot's walls is thin", margin=liner / LINER_USUAL_M - 1.0)
    tested = {one.phase for one in found.told.tests if one.when == "after"}
    wound_all = [name for phase, name in enumerate(star.PHASES) if found.guide is not None and found.guide.phase_done(phase)]
    missing = [f"{name} after winding" for name in wound_all if name not in tested]
    if missing:
        return unknown(f"Insulation to the core: {', '.join(missing)} not tested")
    return Verdict(status=Status.CLEAR, title=f"{case.say(liner, 'length')} on the slot's walls", margin=liner / LINER_LEAST_M - 1.0)


def air_gap(case: Case) -> Verdict | None:
    both = _chosen(case)
    if both is None:
        return None
    found, _ = both
    cover, gap = found.told.cover, found.base.iron.air_gap_m
    if cover is None:
        return (
            unknown("Resin over the tips is not told: the air gap is not checked")
            if found.guide is not None and found.guide.finished
            else None
        )
    left = gap - cover.value
    status = Status.OVER if left <= 0.0 else Status.TIGHT if left < GAP_TIGHT_M else Status.CLEAR
    title = f"{case.say(max(left, 0.0), 'length')} of air left between resin and magnets, of {case.say(gap, 'length')}"
    return Verdict(status=status, title=title, margin=left / gap)


def hall_slots(case: Case) -> Verdict | None:
    found = wound(case)
    if found is None or found.halls is None or not found.halls.told:
        return None
    one = found.halls
    status, margin = held_under(one.worst_deg, TOLERANCE_DEG, 0.2)
    title = f"Sensors {seats(one.openings)}: {one.worst_deg:.0f} electrical degrees off, {TOLERANCE_DEG:.0f} accepted"
    return Verdict(status=status, title=title, margin=margin, candidates=lambda: _right_openings(found))


def _right_openings(found: WindingStudy) -> tuple[Edit, ...]:
    one = found.halls
    if one is None:
        return ()
    made = []
    for spacing, exact in zip((120, 60), one.exact, strict=True):
        if exact is not None:
            words = "" if spacing == 120 else ", the middle one inverted"
            label = f"Sensors {seats(exact)}{words}"
            made.append(
                Edit(
                    label=label,
                    changes=(
                        ("variant.winding.halls.openings", exact),
                        ("variant.winding.halls.offsets", ()),
                        ("variant.winding.halls.spacing", spacing),
                    ),
                )
            )
    return tuple(made)


def hall_codes(case: Case) -> Verdict | None:
    found = wound(case)
    if found is None or found.halls is None or found.halls.verdict is None:
        return None
    one = found.halls.verdict
    status = Status.CLEAR if one.good else Status.OVER
    return Verdict(status=status, title=f"Hall codes: {one.says}", margin=0.2 if one.good else -1.0)


def hall_angle(case: Case) -> Verdict | None:
    """Only a controller that does not learn asks for an angle."""
    found = wound(case)
    if found is None or found.halls is None or not found.halls.told or found.told.halls.learns != "no":
        return None
    status, margin = held_under(found.halls.aligned_deg, 15.0, 0.2)
    fixed = ", ".join(str(k + 1) for k in found.halls.fixed[:6])
    title = f"Sensors switch {found.halls.aligned_deg:.0f} electrical degrees off what a fixed controller wants: H1 after tooth {fixed}"
    return Verdict(status=status, title=title, margin=margin)


def read_checks(case: Case) -> Iterable[tuple[str, Check]]:
    found = wound(case)
    if found is None or found.after is None:
        return []
    return [(one.code, one) for one in found.after.checks]


def read(case: Case, one: Check) -> Verdict:
    found = wound(case)
    assert found is not None and found.after is not None
    cause = found.after.causes[0] if found.after.causes and one.status is not Status.CLEAR else None
    more = f" Likely: {cause.words}. Decides: {cause.test}." if cause is not None else ""
    margin = {Status.OVER: -1.0, Status.TIGHT: 0.0}.get(one.status, 0.2)
    return Verdict(
        status=one.status, title=f"{one.name}: {one.words}", because=f"Read after winding against the forecast.{more}", margin=margin
    )


_IRON = ("stator.slots", "stator.poles")
_SLOT = ("stator.slot_area", "now.turns", "now.strands", "now.wire")
RULES: tuple[Rule, ...] = (
    Rule(code="winding.refused", bench="winding", link="motor", because="What the iron and the wire allow.", judge=refused),
    Rule(
        code="winding.balance",
        bench="winding",
        link="motor",
        because="Three equal phases ask for slots and poles that suit each other; a factor of 0.85 and more is of use.",
        judge=balance,
        rests=_IRON,
    ),
    Rule(
        code="winding.side_pull",
        bench="winding",
        link="motor",
        because="Slots and magnets without a common divisor leave a radial force.",
        judge=side_pull,
        rests=_IRON,
    ),
    Rule(
        code="winding.frequency",
        bench="winding",
        link="motor",
        because="Iron loss grows about as the frequency to 1.5; typical for such laminations.",
        judge=frequency,
        rests=("stator.lamination",),
    ),
    Rule(code="winding.fill", bench="winding", link="motor", because="Typical of what hands reach.", judge=fills, rests=_SLOT),
    Rule(
        code="winding.wire",
        bench="winding",
        link="motor",
        because="Wire has to pass between the tips, lie round a tooth, and be thin enough for its frequency.",
        judge=passes,
        rests=("stator.opening",),
    ),
    Rule(code="winding.density", bench="winding", link="motor", because="A sanity number, typical.", judge=density, rests=_SLOT),
    Rule(
        code="winding.ring",
        bench="winding",
        link="motor",
        because="Third harmonics of the phases are in step and drive a current round a triangle; inductance is good to a factor of two.",
        judge=ring,
        rests=("stator.magnet_cover", "motor.inductance_h"),
    ),
    Rule(
        code="winding.heat",
        bench="winding",
        link="motor",
        because="A rewind leaves the motor constant as it is; a reduction lowers the torque that is asked of the motor.",
        judge=heat,
        rests=_SLOT,
    ),
    Rule(
        code="winding.controller",
        bench="winding",
        link="controller",
        because="Its electrical speed, and the ripple at little inductance; typical.",
        judge=controller_fits,
        rests=("motor.inductance_h",),
    ),
    Rule(
        code="winding.insulation",
        bench="winding",
        link="motor",
        because="Ten megohm to the core at 250 or 500 V DC, everything unplugged; walls of 0.2 to 0.3 mm.",
        judge=insulation,
        rests=("stator.liner",),
    ),
    Rule(
        code="winding.gap",
        bench="winding",
        link="motor",
        because="Resin on the tips stands in the air gap: by feeler, or turned with tape on them.",
        judge=air_gap,
        rests=("stator.air_gap",),
    ),
    Rule(
        code="winding.halls",
        bench="winding",
        link="motor",
        because="Mechanical error counts as often as there are pole pairs.",
        judge=hall_slots,
    ),
    Rule(code="winding.codes", bench="winding", link="motor", because="One bit changes each step.", judge=hall_codes),
    Rule(
        code="winding.angle",
        bench="winding",
        link="motor",
        because="A fixed six-step controller wants edges where the voltage between two leads crosses zero.",
        judge=hall_angle,
    ),
    Rule(
        code="winding.read",
        bench="winding",
        link="motor",
        because="Read after winding against the forecast.",
        judge=read,
        of=read_checks,
        rests=_SLOT,
    ),
)


@record(frozen=True, slots=True, kw_only=True)
class WindingFound:
    """What the worker brings; `refusal` says why there is no study, or only one of the motor without the plan."""

    study: WindingStudy | None
    findings: list[Finding]
    refusal: str = ""


def run(task: Task) -> WindingFound | None:
    """Of a task; None when it was cancelled.  Of a motor of which nobody told the winding only what its bench draws."""
    followed = task.results["drive"]
    told = task.design.variant().winding
    if told is None:
        try:
            study = study_winding(task.design, task.stock, followed.study, seek=False, compare=False, cancelled=task.cancelled)
        except (InputError, PathError) as refusal:
            return WindingFound(study=None, findings=[], refusal=str(refusal))
        return WindingFound(study=study, findings=[])
    case = Case(task.design, task.stock, followed.study, task.say)
    found = wound(case)
    findings = slow_findings(case, followed.findings, RULES, task.cancelled)
    if task.cancelled():
        return None
    words = case.made("winding.refusal", lambda: "")
    if found is None:
        found = _without_plan(task, told, followed.study)
    return WindingFound(study=found, findings=findings, refusal=words)


def _without_plan(task: Task, told: Winding, drive: DriveStudy) -> WindingStudy | None:
    """Of an impossible plan: the motor by itself, so that there is something to mend it on; None where that is what is impossible."""
    bare = Edit(label="", changes=(("variant.winding", replace(told, plan=None, halls=HallPlan())),))
    try:
        return study_winding(apply(task.design, bare), task.stock, drive, cancelled=task.cancelled)
    except (InputError, PathError):
        return None
