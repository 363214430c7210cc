"""All that the winding bench, its findings and the terminal show."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import replace

from wattagon.design.catalogue import Catalogue
from wattagon.design.parts import WirePart
from wattagon.design.paths import Edit
from wattagon.design.tree import Design, HallPlan, MotorRead, Winding, Wound
from wattagon.errors import InputError
from wattagon.physics.winding import star
from wattagon.physics.winding.coil import Coils, Connection, density_a_mm2, ring_current_a, third_share
from wattagon.record import record
from wattagon.study.drive.levers import preview
from wattagon.study.drive.study import DriveStudy, free_shaft_rad_s, study_drive
from wattagon.study.resolve import Resolved, phase_ohm
from wattagon.study.resolve.reader import Input, Reader
from wattagon.study.winding.after import After, after
from wattagon.study.winding.effect import Effect, Moment, best_kv, best_of, effects, moment_of, reductions
from wattagon.study.winding.guide import Guide, guide
from wattagon.study.winding.identify import Guess, Told, guesses, told_by
from wattagon.study.winding.iron import Base, base_of, most_strand_m, subject
from wattagon.study.winding.option import COAT_OF, Option, advised, option, options
from wattagon.study.winding.sensors import Sensors, sensors

DENSITY = {"hub": 8.0, "air": 14.0, "flooded": 25.0}  # A/mm2 that lasts, upper end of what is typical
KIND_WORDS = {"hub": "in a closed hub", "air": "in moving air", "flooded": "flooded in water"}


@record(frozen=True, slots=True, kw_only=True)
class Way:
    """One way to get there, beside the others."""

    code: str  # nothing, termination, rewind, reduction
    name: str
    edit: Edit | None
    effect: Effect
    option: Option | None = None


@record(frozen=True, slots=True, kw_only=True)
class Layout:
    """One pattern that suits the stator."""

    pattern: star.Pattern
    factor: float
    third: float
    paths: tuple[int, ...]


@record(frozen=True, slots=True, kw_only=True)
class Ring:
    """What flows round a triangle by itself."""

    share: float  # third over first harmonic of the EMF
    amps: float
    watts: float
    watts_high: float  # with half the inductance
    idle_w: float  # what the motor loses anyhow at that speed


@record(frozen=True, slots=True, kw_only=True)
class WindingStudy:
    """Of the active variant's motor, or of the one that its winding names."""

    design: Design  # as it stands
    subject: Design  # with the motor before any rewind
    drive: DriveStudy  # of the subject
    told: Winding
    base: Base
    why_not: str  # no balanced winding on this stator
    layouts: tuple[Layout, ...]
    hz: float  # electrical frequency at the top speed
    wanted_kv: float
    wanted_by: str  # asked, fits best, as it is
    moment: Moment
    ways: tuple[Way, ...]
    offers: tuple[tuple[Option, Effect], ...]
    chosen: Option | None  # the plan
    advised: Option | None
    density: float  # A/mm2 of the plan, or of now, with the lasting current
    density_most: float
    density_kind: str
    ring: Ring | None
    halls: Sensors | None
    guide: Guide | None
    read_before: Told
    guesses: tuple[Guess, ...]
    after: After | None
    inputs: Mapping[str, Input]

    @property
    def layout(self) -> Layout | None:
        """The pattern of the plan, or of what is wound now."""
        layers = self.coils.layers
        return next((one for one in self.layouts if one.pattern.layers == layers), None)

    @property
    def coils(self) -> Coils:
        """The plan's, else those of now."""
        return self.chosen.coils if self.chosen is not None else self.base.coils

    @property
    def wet(self) -> bool:
        """Whether water reaches the coils, or did before they were stripped of what kept it out."""
        screw = self.subject.variant().propeller
        return (screw is not None and screw.flooded) or self.base.part.family == "submerged"

    @property
    def resolved(self) -> Resolved:
        return self.drive.resolved


def coils_of(wound: Wound, base: Base, stock: Catalogue, hz: float) -> Coils:
    """A plan with what it leaves open filled in: as now, and the wire that a hand gets in most of."""
    from wattagon.study.winding.option import best_wire

    now = base.coils
    turns, layers = wound.turns or round(now.turns), wound.layers or now.layers
    wire = wound.wire.value if wound.wire is not None else None
    strands = wound.strands
    if wire is None or strands is None:
        fit = best_wire(base, stock, turns, layers, hz)
        if wire is None:
            wire = fit[0] if fit is not None else min(now.wire_m, most_strand_m(hz))
        if strands is None:
            from wattagon.physics.winding.coil import strands_that_fit

            strands = max(1, strands_that_fit(base.iron.wound, turns, wire, 0.40, layers))
    return Coils(
        turns=turns,
        strands=strands,
        wire_m=wire,
        connection=wound.connection or now.connection,
        paths=wound.paths or now.paths,
        layers=layers,
    )


def study_winding(
    design: Design,
    stock: Catalogue,
    drive: DriveStudy | None = None,
    *,
    kv: float | None = None,
    plan: Wound | None = None,
    seek: bool = True,
    compare: bool = True,
    cancelled: Callable[[], bool] = lambda: False,
) -> WindingStudy:
    """Raises InputError for a brushed motor or a plan that is impossible on its iron.  `kv` and `plan` take the place of the told ones.

    `seek`: where no kv is wanted, the one that fits the goals best is sought; `compare`: every option is tried in the drive.
    """
    variant = design.variant()
    told = variant.winding or Winding()
    before = subject(design)
    if drive is None or before is not design:
        drive = study_drive(before, stock)
    resolved = drive.resolved
    read = Reader(note=True)
    base_path = f"variants.{variant.id}"
    top_hz = free_shaft_rad_s(drive) * float(resolved.train.motor.pole_pairs) / math.tau
    motor, leads = resolved.train.motor, phase_ohm(before.variant(), stock)
    alone = replace(motor, resistance_ohm=float(motor.resistance_ohm) - leads)  # what is between the motor's own leads
    base = base_of(read, base_path, told, resolved.motor_part, alone, top_hz)
    iron, coat = base.iron, COAT_OF[told.coat]
    why = star.refusal(iron.slots, iron.poles)
    layouts = tuple(_layouts(iron.slots, iron.poles))
    moment = moment_of(before, drive)
    wanted, by = _wanted(before, stock, base, told, kv, seek=seek, cancelled=cancelled)
    hz = top_hz * max(1.0, wanted / float(base.motor.kv_rpm_per_v)) if wanted == wanted else top_hz
    planned = plan if plan is not None else told.plan
    chosen = option(base, coils_of(planned, base, stock, hz), stock, wanted, coat) if planned is not None else None
    found = () if why or not (compare or chosen) else options(base, stock, wanted, hz, coat)
    first = chosen or advised(found)
    ways, offers = _compared(before, stock, base, moment, found if compare else (), first if compare else None, wanted, coat, cancelled)
    now_effect = ways[0].effect
    lasting = next((one.effect.lasting_a for one in ways if one.code == "rewind"), now_effect.lasting_a)
    coils = chosen.coils if chosen is not None else base.coils
    if chosen is None:
        lasting = now_effect.lasting_a
    kind = _cooled(before, resolved)
    layout = next((one for one in layouts if one.pattern.layers == coils.layers), None)
    inputs = {**resolved.inputs, **(read.inputs or {})}
    seen = told_by(told.before)
    halls = sensors(layout.pattern, told.halls, coils.connection, hz, iron.wound.stack_m) if layout is not None else None
    return WindingStudy(
        design=design,
        subject=before,
        drive=drive,
        told=told,
        base=base,
        why_not=why,
        layouts=layouts,
        hz=hz,
        wanted_kv=wanted,
        wanted_by=by,
        moment=moment,
        ways=ways,
        offers=offers,
        chosen=chosen,
        advised=advised(found),
        density=float(density_a_mm2(coils, lasting / math.sqrt(2.0))),
        density_most=DENSITY[kind],
        density_kind=KIND_WORDS[kind],
        ring=_ring(base, chosen, layout, hz) if layout is not None else None,
        halls=halls,
        guide=guide(layout.pattern, coils, iron.wound, told) if layout is not None and chosen is not None else None,
        read_before=seen,
        guesses=guesses(base, told, seen),
        after=_after(chosen, layout, told, base) if chosen is not None and layout is not None else None,
        inputs=inputs,
    )


def _layouts(slots: int, poles: int) -> list[Layout]:
    made = []
    for layers in (2, 1):
        if star.refusal(slots, poles, layers):
            continue
        found = star.pattern(slots, poles, layers)
        made.append(Layout(pattern=found, factor=star.factor(found), third=star.factor(found, 3), paths=star.paths_allowed(found)))
    return made


def _wanted(
    design: Design, stock: Catalogue, base: Base, told: Winding, kv: float | None, *, seek: bool, cancelled: Callable[[], bool]
) -> tuple[float, str]:
    """The kv to wind for: as asked, else the one that fits the goals best, else the present one."""
    if kv is not None:
        return kv, "asked"
    if told.kv is not None:
        return told.kv.value, "asked"
    best = best_kv(design, stock, base, cancelled=cancelled) if seek else math.nan
    return (best, "fits best") if best == best else (float(base.motor.kv_rpm_per_v), "as it is")


def _cooled(design: Design, resolved: Resolved) -> str:
    screw = design.variant().propeller
    if screw is not None and screw.flooded:
        return "flooded"
    return "hub" if resolved.motor_part.family == "hub" else "air"


def _compared(
    design: Design,
    stock: Catalogue,
    base: Base,
    moment: Moment,
    found: tuple[Option, ...],
    first: Option | None,
    wanted: float,
    coat: float,
    cancelled: Callable[[], bool],
) -> tuple[tuple[Way, ...], tuple[tuple[Option, Effect], ...]]:
    """Nothing, termination alone, rewind, reduction alone; and every option in the drive, all in one batch."""
    motor = design.variant().motor
    named: list[tuple[str, str, Edit | None, Option | None]] = [("nothing", "As it is", None, None)]
    other = Connection.DELTA if base.coils.connection is Connection.WYE else Connection.WYE
    try:
        joined = option(base, replace(base.coils, connection=other), stock, wanted, coat)
        named.append(("termination", f"Joined in {other.value} alone", joined.edit(motor, f"Joined in {other.value}"), joined))
    except InputError:
        pass  # what is told of the present winding does not go into its slots: said by a finding
    if first is not None:
        named.append(("rewind", f"Rewound: {first.name}", first.edit(motor), first))
    factor = float(base.motor.kv_rpm_per_v) / wanted
    teeth = reductions(design, stock, factor) if first is not None and abs(math.log(factor)) > 0.01 else []
    if teeth:
        seen = preview(design, stock, teeth, cancelled=cancelled)
        best = best_of([(edit, one.goals) for edit, one in zip(teeth, seen, strict=False) if not one.refused])
        if best is not None:
            named.append(("reduction", best.label, best, None))
    all_edits = [edit for _, _, edit, _ in named] + [one.edit(motor) for one in found]
    seen_all = effects(design, stock, moment, all_edits, cancelled=cancelled)
    if len(seen_all) < len(all_edits):
        raise InputError("winding", "given up", "a new start")
    ways = tuple(
        Way(code=code, name=name, edit=edit, effect=one, option=of) for (code, name, edit, of), one in zip(named, seen_all, strict=False)
    )
    return ways, tuple(zip(found, seen_all[len(named) :], strict=True))


def _ring(base: Base, chosen: Option | None, layout: Layout, hz: float) -> Ring | None:
    """Of a winding in delta, at the top speed; inductance of a phase as between two leads times 1.5."""
    coils = chosen.coils if chosen is not None else base.coils
    if coils.connection is not Connection.DELTA or hz <= 0.0:
        return None
    kv = chosen.kv if chosen is not None else float(base.motor.kv_rpm_per_v)
    ohm = 1.5 * (chosen.ohm if chosen is not None else float(base.motor.resistance_ohm))
    henry = 1.5 * (chosen.henry if chosen is not None else float(base.motor.inductance_h))
    rpm = 60.0 * hz / base.iron.pairs
    share = third_share(base.iron.cover, layout.factor, layout.third)
    third = share * rpm / kv
    amps, watts = ring_current_a(third, ohm, henry, hz)
    _, high = ring_current_a(third, ohm, 0.5 * henry, hz)
    speed = rpm * math.tau / 60.0
    idle = float(base.motor.drag_nm(speed)) * speed
    return Ring(share=share, amps=float(amps), watts=float(watts), watts_high=float(high), idle_w=idle)


def _after(chosen: Option, layout: Layout, told: Winding, base: Base) -> After:
    """What was read after winding against the forecast."""
    read = told.after
    speed = read.free_rpm.value * math.tau / 60.0 if read.free_rpm is not None else 0.0
    free = chosen.overrides["no_load_a"] + chosen.overrides["no_load_slope_a_s"] * speed if speed > 0.0 else math.nan
    return after(layout.pattern, chosen, read, free)


def reel_words(one: Option) -> str:
    """Wire to buy, in words."""
    part: WirePart | None = one.reel
    if part is None:
        return f"{one.wire_m:.0f} m; stock has no such wire"
    return f"{one.wire_m:.0f} m, {one.reels} {'reel' if one.reels == 1 else 'reels'} of {part.mass_kg:g} kg"


def planned(winding: Winding | None) -> Winding | None:
    """What is to be wound, without how far that has come and what was read."""
    if winding is None:
        return None
    return replace(winding, done=(), turns_on=0, tests=(), before=MotorRead(), after=MotorRead(), halls=HallPlan(), cover=None)


def laid_over(found: WindingStudy, design: Design, stock: Catalogue) -> WindingStudy | None:
    """A study with what was ticked, read or decided since, at once; None where more than that has changed.

    What options do in the drive stays as it was until the study has run again.
    """
    told = design.variant().winding or Winding()
    if found.design.active != design.active or found.design.vehicle.name != design.vehicle.name:
        return None
    alike = lambda one: replace(planned(one) or Winding(), plan=None, was=None, kv=None)
    if alike(told) != alike(found.told):
        return None
    coat = COAT_OF[told.coat]
    chosen = found.chosen
    if told.plan != found.told.plan:
        try:
            plan = coils_of(told.plan, found.base, stock, found.hz) if told.plan is not None else None
            chosen = option(found.base, plan, stock, found.wanted_kv, coat) if plan is not None else None
        except InputError:
            chosen = None  # the study says so
    coils = chosen.coils if chosen is not None else found.base.coils
    layout = next((one for one in found.layouts if one.pattern.layers == coils.layers), None)
    iron, seen = found.base.iron, told_by(told.before)
    try:
        halls = sensors(layout.pattern, told.halls, coils.connection, found.hz, iron.wound.stack_m) if layout is not None else None
    except InputError:
        halls = None
    return replace(
        found,
        design=design,
        told=told,
        chosen=chosen,
        halls=halls,
        guide=guide(layout.pattern, coils, iron.wound, told) if layout is not None and chosen is not None else None,
        read_before=seen,
        guesses=guesses(found.base, told, seen),
        after=_after(chosen, layout, told, found.base) if chosen is not None and layout is not None else None,
    )
