"""Findings of the layout: loops that stock has and that fit, teeth in mesh, jump, shear, width, slots, every gap, what rings."""

from __future__ import annotations

import math
from dataclasses import replace

from wattagon.design.paths import Edit
from wattagon.design.quantity import Known, Quantity
from wattagon.design.tree import Layout, Spot, StageLayout, TakeUp, VehicleKind
from wattagon.physics.belt import FULL_MESH, PEAK
from wattagon.physics.chain import LEAST_WRAP
from wattagon.study.findings.all import slow_findings
from wattagon.study.findings.finding import Finding
from wattagon.study.findings.rule import Case, Rule, Verdict
from wattagon.study.findings.status import Status
from wattagon.study.layout import rules_fit
from wattagon.study.layout.aboard import with_body
from wattagon.study.layout.edits import fitted_to, told, with_layout, with_stage
from wattagon.study.layout.found import Found, measured
from wattagon.study.layout.meshes import Meshed
from wattagon.study.layout.stage import Running
from wattagon.study.layout.study import LayoutStudy, study_layout
from wattagon.study.layout.swing import BELT_SHARE, swing
from wattagon.study.studies import Task

CANS = "cans.between"
FIT_M = 0.0015  # by which a loop may miss its place before slots have to tell; half of it either way
JUMP_MARGIN = 2.0
MESH_TIGHT = FULL_MESH


def laid_out(case: Case) -> LayoutStudy:
    """The layout of a case."""

    def make() -> LayoutStudy:
        found = study_layout(case.design, case.stock, case.study)
        case.note(found.inputs)
        return found

    return case.made("layout", make)


def _stages(case: Case) -> list[tuple[str, Running]]:
    found = laid_out(case)
    return [(str(run.position), run) for run in found.stages]


def _belts(case: Case) -> list[tuple[str, Running]]:
    return [(key, run) for key, run in _stages(case) if run.made.kind is not None]


def _name(case: Case, run: Running) -> str:
    many = len(_stages(case)) > 1
    return f"{'Belt' if run.made.kind is not None else 'Chain'}{f' {run.position + 1}' if many else ''}"


def _length(run: Running) -> str:
    return f"{run.loop} teeth, {1e3 * run.length_m:.0f} mm" if run.made.kind is not None else f"{run.loop} links"


def loop(case: Case, run: Running) -> Verdict:
    """Whether a loop of stock lies in its place."""
    name, what = _name(case, run), _length(run)
    if not run.path.loop.real:
        return Verdict(status=Status.OVER, title=f"{name}: no loop can lie so, {run.path.loop.fault}", margin=-1.0)
    if not run.in_stock:
        near = [one for one in (run.shorter, run.longer) if one is not None]
        words = " and ".join(f"{n} teeth ({case.say(centre, 'length')} apart)" for n, centre in near)
        return Verdict(
            status=Status.OVER,
            title=f"{name}: no shop has one of {what}; next are {words}" if words else f"{name}: no shop has one of {what}",
            margin=-1.0,
            candidates=lambda: tuple(fitted_to(case.design, case.stock, run.position, n) for n, _ in near),
        )
    off = run.off_m
    if abs(off) > FIT_M:
        wrong = "too short" if off > 0.0 else "too long"
        fits = f"; it lies at {case.say(run.fitting_m, 'length')} between the middles" if math.isfinite(run.fitting_m) else ""
        return Verdict(
            status=Status.OVER,
            title=f"{name} of {what} is {measured(case, abs(off))} {wrong} for its place{fits}",
            margin=-abs(off) / FIT_M,
            candidates=lambda: (fitted_to(case.design, case.stock, run.position, run.loop),),
        )
    return Verdict(status=Status.CLEAR, title=f"{name} of {what} fits, {case.say(run.centre_m, 'length')} between the middles", margin=0.3)


def mesh(case: Case, run: Running) -> Verdict | None:
    """Teeth of the smaller wheel that the loop holds."""
    if not run.wraps:  # no loop at all: its rule says so
        return None
    name = _name(case, run)
    if run.made.kind is None:
        small = 0 if run.made.choice.driver_teeth <= run.made.choice.driven_teeth else 1
        wrap = run.wraps[next(k for k, wheel in enumerate(run.path.wheels) if wheel.what == ("driver", "driven")[small])]
        status = Status.CLEAR if wrap >= LEAST_WRAP else Status.TIGHT
        title = f"{name} wraps its small sprocket by {math.degrees(wrap):.0f}°, 120° are wanted"
        return Verdict(status=status, title=title, margin=wrap / LEAST_WRAP - 1.0)
    status = Status.OVER if run.in_mesh < 4 else Status.TIGHT if run.in_mesh < MESH_TIGHT else Status.CLEAR
    title = f"{run.in_mesh} teeth of the {name.lower()} in mesh"
    if status is not Status.CLEAR:
        carries = max(1.0 - 0.2 * (FULL_MESH - run.in_mesh), 0.0)
        title += f": it carries {carries:.0%} of what it could; an idler on its back, a larger small pulley or more distance"
    edits = lambda: tuple(
        edit
        for edit in (
            with_idler(case, run),
            fitted_to(case.design, case.stock, run.position, run.longer[0]) if run.longer is not None else None,
        )
        if edit is not None
    )
    return Verdict(status=status, title=title, margin=run.in_mesh / FULL_MESH - 1.0, candidates=edits)


def with_idler(case: Case, run: Running) -> Edit | None:
    """An idler on the back of the slack strand near the small pulley, and the next longer loop that it takes."""
    from wattagon.study.layout.edits import idler_for

    found = laid_out(case)
    return idler_for(found, case.stock, run)


def jump(case: Case, run: Running) -> Verdict | None:
    """Torque at which teeth jump or shear, against the peak."""
    if run.jump is None:
        return None
    asked = run.torque_nm
    first, at = min(("jumps when it is warm", run.warm_nm), ("shears its teeth", run.jump.shear_nm), key=lambda one: one[1])
    share = at / asked if asked > 0.0 else math.inf
    status = Status.OVER if share < 1.0 else Status.TIGHT if share < JUMP_MARGIN else Status.CLEAR
    title = f"{_name(case, run)} {first} at {case.say(at, 'torque')}, full motor amps bring {case.say(asked, 'torque')}"
    return Verdict(status=status, title=title, margin=share / JUMP_MARGIN - 1.0)


def speed(case: Case, run: Running) -> Verdict | None:
    """Speed of the belt against what its family bears."""
    most = run.made.family.speed_max_m_s
    if most is None:
        return None
    share = run.speed_m_s / most
    status = Status.OVER if share > 1.0 else Status.TIGHT if share > 0.83 else Status.CLEAR
    return Verdict(
        status=status,
        title=f"{_name(case, run)} runs at {run.speed_m_s:.1f} m/s at top speed, its family bears {most:g} m/s",
        margin=1.0 - share,
    )


def width(case: Case, run: Running) -> Verdict | None:
    """Pull at full motor amps against what the teeth in mesh and the width carry for seconds, in their real place."""
    if not math.isfinite(run.capacity_n) or run.made.kind is None:
        return None
    bears = PEAK * run.capacity_n
    margin = 1.0 - run.pull_n / bears if bears > 0.0 else -1.0
    status = Status.OVER if margin < 0.0 else Status.TIGHT if margin < 0.05 else Status.CLEAR
    pull, most = case.say(run.pull_n, "force"), case.say(bears, "force")
    title = f"{_name(case, run)} pulled with {pull} at full motor amps, {run.in_mesh} teeth in mesh bear {most}"
    return Verdict(status=status, title=title, margin=margin)


def slots(case: Case, run: Running) -> Verdict | None:
    """Travel that the take-up needs, against the slots that are drawn."""
    found = laid_out(case)
    if run.slots is None:
        return None
    stage, name = told(found.layout, run.position), _name(case, run)
    need = run.slots.longest - run.slots.shortest
    words = f"{measured(case, run.slots.shortest)} to {measured(case, run.slots.longest)}"
    if stage.take_up is TakeUp.NONE:
        title = f"{name}: nothing takes up the {measured(case, need)} from lifting it on to worn, {words}"
        back = with_layout(case.design, with_stage(found.layout, run.position, replace(stage, take_up=TakeUp.SLOTS)), "Slots take it up")
        return Verdict(status=Status.OVER, title=title, margin=-1.0, candidates=lambda: (back,))
    if stage.take_up is TakeUp.IDLER:
        has = bool(stage.idlers)
        by = f"its idler takes up {measured(case, need)} of distance, {words}" if has else "no idler is there to take it up"
        title = f"{name}: {by}"
        return Verdict(status=Status.CLEAR if has else Status.OVER, title=title, margin=0.3 if has else -1.0)
    turned = stage.take_up is TakeUp.ECCENTRIC
    if stage.slot is None:
        by = f"an eccentric of {measured(case, 0.5 * need)} off its middle" if turned else "slots"
        return Verdict(status=Status.CLEAR, title=f"{name}: {by} from {words} between the middles", margin=0.3)
    slot, margin = stage.slot, stage.slot.value / need - 1.0
    status = Status.CLEAR if margin >= 0.0 else Status.OVER if slot.value < 0.5 * need else Status.TIGHT
    what = "an eccentric with a travel" if turned else "slots"
    title = f"{name}: {what} of {measured(case, slot.value)}, {measured(case, need)} are needed, {words}"
    return Verdict(
        status=status,
        title=title,
        margin=margin,
        candidates=lambda: (_slot(case, found.layout, run.position, need),),
    )


def _slot(case: Case, layout: Layout, position: int, need: float) -> Edit:
    long = math.ceil(1e3 * need) / 1e3
    stages = list(layout.stages) + [StageLayout()] * (position + 1 - len(layout.stages))
    stages[position] = replace(stages[position], slot=Quantity(value=long, known=Known.STATED))
    return with_layout(case.design, replace(layout, stages=tuple(stages)), f"Slots of {1e3 * long:g} mm")


def _gaps(case: Case) -> list[tuple[str, Found]]:
    found = laid_out(case)
    return [(one.code, one) for one in found.gaps if one.code != CANS]


def cans(case: Case) -> Verdict | None:
    """Motors in line between the wheels, with belt, plate and free shaft."""
    found = laid_out(case)
    one = next((gap for gap in found.gaps if gap.code == CANS), None)
    return gap(case, one) if one is not None else None


TOUCH_M = 5e-6  # by less than that things touch and do not meet


def gap(case: Case, found: Found) -> Verdict:
    """One gap, at the worst of the measures that it rests on."""
    between = found.between[0].upper() + found.between[1:]
    if found.status is Status.NOT_CHECKED:
        return Verdict(status=Status.NOT_CHECKED, title=f"{between}: {found.because}")
    meets = found.nominal < -TOUCH_M
    if meets and (found.code.startswith("stack.") or found.code.endswith((".plugs", ".out"))):
        title = f"{between}: {measured(case, -found.nominal)} are missing"
    elif meets:
        title = f"{between} meet by {measured(case, -found.nominal)}"
    else:
        worst = f", at worst {measured(case, found.worst)}" if found.worst < found.nominal - 5e-5 else ""
        title = f"{between}: {measured(case, max(found.nominal, 0.0))} of room{worst}, {measured(case, found.wanted)} wanted"
    if found.swept:
        title += f"; {found.swept}"
    margin = max(min(found.margin, 9.0), -9.0)
    return Verdict(status=found.status, title=title, margin=margin, candidates=lambda: _cures_of(case, found))


def _cures_of(case: Case, found: Found) -> tuple[Edit, ...]:
    study = laid_out(case)
    edits: list[Edit] = []
    if found.code == CANS and not study.layout.behind and study.scene.motors > 1:
        edits.append(with_layout(case.design, replace(study.layout, behind=True), "One motor ahead of the axle, one behind"))
    if found.code.startswith(("can.", "wheels.", "obstacle.")) and study.stages:
        first = study.stages[0]
        if first.longer is not None:
            edits.append(fitted_to(case.design, case.stock, first.position, first.longer[0]))
    if found.code in ("can.deck", "can.ground") and study.stages:
        motor = study.shafts[0]
        down = -0.01 if found.code == "can.deck" else 0.01
        spot = Spot(x=Quantity(value=round(motor.x, 4), known=Known.STATED), z=Quantity(value=round(motor.z + down, 4), known=Known.STATED))
        words = "Motor 10 mm lower" if down < 0.0 else "Motor 10 mm higher"
        edits.append(with_layout(case.design, replace(study.layout, motor=spot), words))
    if found.code.startswith("body."):
        edits += _moved_body(case, study, found)
    return tuple(edits)


def _moved_body(case: Case, study: LayoutStudy, found: Found) -> list[Edit]:
    """The body moved each way by what is lacking, to the next millimetre; of two bodies the second one."""
    name, to = found.code.removeprefix("body.").rsplit(".", 1)[0], found.code.rsplit(".", 1)[-1]
    names = [one.name for one in study.scene.bodies]
    which = names.index(to) if to in names else names.index(name) if name in names else -1
    if which < 0 or not math.isfinite(found.worst):
        return []
    one, by = study.scene.bodies[which], math.ceil(1e3 * max(found.wanted - found.worst, 0.0) + 1e-6) / 1e3
    made = []
    for axis, way, words in (
        ("x", 1, "ahead"),
        ("x", -1, "back"),
        ("z", 1, "up"),
        ("z", -1, "down"),
        ("y", 1, "to the left"),
        ("y", -1, "to the right"),
    ):
        old = getattr(one.told, axis)
        at = Quantity(
            value=round(getattr(one, axis) + way * by, 4), known=Known.STATED, tolerance=old.tolerance if old is not None else None
        )
        layout = with_body(study.layout, study.scene.bodies, which, **{axis: at})
        made.append(with_layout(case.design, layout, f"{one.name[0].upper()}{one.name[1:]} {case.say(by, 'length')} {words}"))
    return made


GROWTH_CLEAR, GROWTH_OVER = 0.25, 1.0  # of a chain's pitch: what sag takes, what wants a tensioner


def growth(case: Case) -> Verdict | None:
    """Growth of the last loop over the travel of the suspension: a belt takes hardly any, a chain's slack has to."""
    found = laid_out(case)
    if not found.stages or found.shafts[-1].name != "axle":
        return None
    run = found.stages[-1]
    made = swing(found.layout, found.shafts[run.position], run)
    if made is None:
        if case.design.vehicle.kind is not VehicleKind.SUSPENDED_BIKE:
            return None
        words = "Growth of the loop over the travel: pivot and travel of the arm are not drawn"
        return Verdict(status=Status.NOT_CHECKED, title=words)
    say, name = case.say, _name(case, run)
    grows = say(round(made.growth_m, 5), "length")
    if run.made.kind is not None:
        margin = 1.0 - made.centre_share / BELT_SHARE
        status = Status.CLEAR if margin >= 0.0 else Status.OVER
        title = f"{name} grows by {grows} over the travel, {made.centre_share:.1%} of its centre distance, 0.1 % is borne"
        if status is Status.OVER:
            title += ": put its pulley on the pivot, or take a chain"
        return Verdict(status=status, title=title, margin=max(margin, -9.0))
    pitch = run.made.pitch_m
    sprung = any(idler.sprung for idler in told(found.layout, run.position).idlers)
    status = Status.CLEAR if made.growth_m <= GROWTH_CLEAR * pitch or sprung else Status.TIGHT
    status = Status.OVER if made.growth_m > GROWTH_OVER * pitch and not sprung else status
    title = f"{name} grows by {grows} over the travel: cut for the longest, it hangs {measured(case, made.sag_m)} at the shortest"
    if status is not Status.CLEAR:
        title += "; a tensioner on the slack run, or the sprocket nearer the pivot"
    return Verdict(status=status, title=title, margin=1.0 - made.growth_m / (GROWTH_CLEAR * pitch) if not sprung else 0.3)


def ringing(case: Case) -> Verdict | None:
    """Speeds that are ridden at which a span of belt would ring."""
    found = laid_out(case)
    if not found.rings:
        return None
    hits = [one for one in found.rings if one.ridden]
    if not hits:
        slowest = min(found.rings, key=lambda one: one.speed_m_s)
        title = f"No belt span rings at a speed that a goal asks for; the first does at {case.say(slowest.speed_m_s, 'speed')}"
        return Verdict(status=Status.CLEAR, title=title, margin=0.3)
    words = "; ".join(f"{one.what} at {case.say(one.speed_m_s, 'speed')}" for one in hits[:2])
    return Verdict(status=Status.TIGHT, title=f"Would ring at a goal's speed: {words}. Other span, an idler, another tension", margin=0.0)


def _with(judge):  # type: ignore[no-untyped-def]
    """A rule that asks the layout, as one of a case."""

    def of_case(case: Case) -> Verdict | None:
        return judge(case, laid_out(case))

    return of_case


def _meshes(case: Case) -> list[tuple[str, Meshed]]:
    found = laid_out(case)
    return [(str(one.position), one) for one in found.meshes]


def _of_mesh(judge):  # type: ignore[no-untyped-def]
    """A rule that asks a stage without a loop."""

    def of_case(case: Case, one: Meshed) -> Verdict | None:
        return judge(case, laid_out(case), one)

    return of_case


RESTS = ("tyre_diameter", "axle_diameter", "motor.x", "motor.z")


def _rule(code: str, because: str, judge, of=None, instead_of: str = "", rests: tuple[str, ...] = RESTS) -> Rule:  # type: ignore[no-untyped-def]
    return Rule(
        code=code,
        bench="layout",
        link="reduction",
        because=because,
        judge=judge,
        of=of,
        rests=rests,
        instead_of=instead_of,
    )


RULES: tuple[Rule, ...] = (
    _rule(
        "layout.loop",
        "Exact length around the wheels as they stand; belts in lengths of stock, chains by the even link.",
        loop,
        _stages,
    ),
    _rule("layout.mesh", "ISO 5295: under six teeth in mesh each missing one takes a fifth.", mesh, _stages),
    _rule("layout.width", "ISO 5295's law of width with the teeth really in mesh; seconds may be twice what lasts.", width, _belts),
    _rule("layout.jump", "An estimate within a half: teeth climb once the slack strand is loose; twice the peak is wanted.", jump, _belts),
    _rule("layout.speed", "Of its family; printed rims bear 33 m/s.", speed, _belts),
    _rule(
        "layout.slots",
        "From the belt lifted over the flange to a stretched, worn one, with the tolerance of its length.",
        slots,
        _stages,
    ),
    _rule("layout.gap", "At the worst end of every measure it rests on; an assumed one counts with a twentieth.", gap, _gaps),
    _rule(
        "layout.cans",
        "Belt, free shaft, plate and can of each motor against the clear width between the wheels.",
        cans,
        instead_of="motor.side_by_side",
        rests=("clear_width",),
    ),
    _rule(
        "layout.growth",
        "The arm swept over its travel; a belt tolerates 0.1 % of its centre distance, slack and sag swallow what a chain grows.",
        growth,
        rests=("pivot.x", "pivot.z", "travel"),
    ),
    _rule("layout.held", "A pack that comes loose tears its leads, and a short burns.", _with(rules_fit.held), rests=("bodies",)),
    _rule(
        "layout.pack_size",
        "A measured case holds only the cells that go into it; wrap, leads and board take room of their own.",
        _with(rules_fit.pack_size),
        rests=("bodies", "pack.series", "pack.parallel"),
    ),
    _rule(
        "layout.bore",
        "It holds where it fits within 0.05 mm; a smaller bore is bored out while 2 mm of metal stay, a larger takes a sleeve of 1 mm.",
        _with(rules_fit.bore),
        instead_of="reduction.bore",
        rests=("motor.part",),
    ),
    _rule(
        "layout.whirl",
        "Dunkerley from the bare shaft and what sits on it, bearings and mounts at 0.6 of their stiffness; 0.7 of that speed is kept.",
        _with(rules_fit.whirl),
        rests=("stacks",),
    ),
    _rule(
        "layout.gears",
        "Unshifted involutes of 20 degrees; 1.2 teeth are to carry. A planetary set stands evenly only with whole counts.",
        _of_mesh(rules_fit.gears),
        _meshes,
        rests=("module",),
    ),
    _rule("layout.sprung", "A spring holds a slack run; braking makes it the tight one.", _with(rules_fit.sprung), rests=("idlers",)),
    _rule("layout.roller", "Half of tyre and roller apart; what it holds is press times grip.", _of_mesh(rules_fit.roller_place), _meshes),
    _rule("layout.rings", "A span is a string at its tension; within 15 % of what comes once a turn it rings.", ringing),
)


def run(task: Task) -> list[Finding]:
    """The findings of a task, with their cures."""
    followed = task.results["drive"]
    case = Case(task.design, task.stock, followed.study, task.say)
    return slow_findings(case, followed.findings, RULES, task.cancelled, together=True)
