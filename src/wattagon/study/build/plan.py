"""The steps that a design asks for, by rules: what is printed, cut, joined, packed, wired, set, proved and commissioned."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Sequence

from wattagon.design.gate import measure_first
from wattagon.design.tree import ReductionKind
from wattagon.study.build.gathered import Gathered
from wattagon.study.build.row import Row
from wattagon.study.build.rows import many_of, to_make
from wattagon.study.build.step import Does, Step
from wattagon.study.build.winding_work import wound_steps
from wattagon.study.layout.cut.card import printed
from wattagon.study.wiring.cutlist import cut_list, glands

# typical hours of one, by a maker who does it the second time; the user's own take their place
PRINT_HAND_H, PRINT_LOW, PRINT_HIGH = 0.2, 0.9, 1.6  # of the printer's own forecast: a first try that fails
CUT_H, TEMPLATE_H, DRILL_H, TAP_H = (0.5, 0.8, 1.5), (0.1, 0.2, 0.4), 0.1, 0.06
WELD_H, GROUP_H, BRICK_H, WRAP_H = 0.012, 0.05, 0.4, (0.5, 0.8, 1.5)
LEAD_H, JOINT_H, GLAND_H, PIECE_H = 0.08, 0.12, 0.15, 0.15
REST_H, CURE_H, LOCK_H, PAINT_H = (20.0, 24.0, 30.0), (12.0, 24.0, 36.0), (12.0, 24.0, 24.0), (4.0, 8.0, 16.0)
PROVED = 1.5  # factor under which what is made here is proved before it is ridden
LITHIUM = (
    "Clear ground that does not burn, one pole exposed at a time, tools taped, rings off; sand or much water at hand, way out behind you. "
    "A swollen, hissing or hot pack goes outdoors."
)
SPIN = "Wheels off the ground or propeller off, motor bolted down; nobody in the plane of what turns; a stop in reach."
CHIPS = "Eyes protected, no gloves at what turns, long hair and sleeves tied."
FUEL = "Fuel and its vapour burn: outdoors, cold engine, no sparks; fuel and oil go to those who take them back."
ROAD = "Helmet and gloves, closed area, somebody near; local rules come first. Nobody else rides before the hand-over is signed."
LOAD = "Wheel blocked, load close to the floor, feet clear, eyes protected."


def plan(found: Gathered, rows: Sequence[Row]) -> tuple[Step, ...]:
    """All steps in an order in which they can be done; each waits only for those before it."""
    made: list[Step] = []
    for rule in RULES:
        made += rule(found, rows, made)
    return tuple(made)


def _by(rows: Sequence[Row], *kinds: str) -> tuple[str, ...]:
    return tuple(row.id for row in rows if row.kind in kinds)


def _before(made: Sequence[Step], *phases: str) -> tuple[str, ...]:
    """The last steps of phases: those that no other of the same phases waits for."""
    of = [step for step in made if step.phase in phases]
    waited = {name for step in of for name in step.after}
    return tuple(step.id for step in of if step.id not in waited)


def _take_out(found: Gathered, _rows: Sequence[Row], _made: Sequence[Step]) -> Iterator[Step]:
    build = found.design.variant().build
    takes = build.takes_out if build is not None else ""
    if takes not in ("engine", "drive"):
        return
    last: tuple[str, ...] = ()
    if takes == "engine":
        yield Step(
            id="out-fuel",
            title="Drain fuel and oil",
            phase="out",
            hours=(0.5, 1.0, 2.0),
            how="Tank, line, carburettor, sump; caps on what stays open.",
            caution=FUEL,
        )
        last = ("out-fuel",)
    yield Step(
        id="out-wiring",
        title="Photograph and label the old wiring before it is cut",
        phase="out",
        hours=(0.3, 0.7, 1.5),
        after=last,
        how="A picture of every plug, a label at both ends of every lead; battery off first.",
        bench="wiring",
    )
    yield Step(
        id="out-holes",
        title="Measure holes and patterns while the old part still shows them",
        phase="out",
        hours=(0.4, 0.8, 1.5),
        after=last,
        how="Bolt circles, shaft height, chain line, what turned which way; a rubbing on paper keeps a pattern.",
        bench="brief",
    )
    yield Step(
        id="out-old",
        title="Take out the engine" if takes == "engine" else "Take out the old drive",
        phase="out",
        hours=(0.5, 1.5, 4.0),
        after=("out-wiring", "out-holes"),
        how="Weigh what comes out: the balance is reckoned with it.",
        caution="Propped up so that it cannot fall on a hand.",
    )


def _measure(found: Gathered, rows: Sequence[Row], _made: Sequence[Step]) -> Iterator[Step]:
    """One step a measure that some row waits for."""
    design, variant = found.design, found.design.variant()
    wanted: dict[str, list[str]] = {}
    for row in rows:
        for path in measure_first(design, variant, row.id):
            wanted.setdefault(path, []).append(row.name)
    for path, names in wanted.items():
        name = path.rsplit(".", 1)[-1].replace("_", " ")
        yield Step(
            id=f"measure-{path.replace('.', '-').replace('_', '-')}",
            title="Place the motor on the drawing" if path == "variant.layout.motor" else f"Measure: {name}",
            phase="measure",
            hours=(0.1, 0.2, 0.5),
            measures=(path,),
            how=f"Waits for it: {', '.join(dict.fromkeys(names))}",
            bench="layout" if path.startswith("variant.layout") else "brief",
        )


def _prints(found: Gathered, _rows: Sequence[Row], _made: Sequence[Step]) -> Iterator[Step]:
    printer = found.design.brief.workshop.printer
    materials = printer.materials if printer is not None else ()
    for sheet in to_make(found):
        if sheet.made != "print":
            continue
        hours = printed(sheet, materials).hours * many_of(sheet) + PRINT_HAND_H
        coupon = ("print-fit-coupon",) if sheet.id.startswith("pulley") else ()
        many = f", {many_of(sheet)} of them" if many_of(sheet) > 1 else ""
        yield Step(
            id=f"print-{sheet.id}",
            title=f"Print: {sheet.name[0].lower()}{sheet.name[1:]}{many}",
            phase="print",
            hours=(PRINT_LOW * hours, hours, PRINT_HIGH * hours),
            after=coupon,
            does=Does.PRINTER,
            tool="printer",
            parts=(f"print-{sheet.id}",),
            how="; ".join(f"{name} {value}" for name, value in sheet.card[1:5]),
            bench="layout",
            family="print",
        )


def _cuts(found: Gathered, rows: Sequence[Row], made: Sequence[Step]) -> Iterator[Step]:
    sheets = [sheet for sheet in to_make(found) if sheet.made in ("mill", "steel")]
    template = any(sheet.made == "paper" for sheet in to_make(found))
    if template:
        yield Step(
            id="cut-template",
            title="Print the drill template at 1:1 and check its scale bar",
            phase="cut",
            hours=TEMPLATE_H,
            after=_measured(made),
            bench="layout",
            how="The bar has to read its length to half a millimetre; glue it on, centre punch.",
        )
    for sheet in sheets:
        tool = "mill" if sheet.made == "mill" else "steel"
        yield Step(
            id=f"cut-{sheet.id}",
            title=f"Cut: {sheet.name[0].lower()}{sheet.name[1:]}{f', {many_of(sheet)} of them' if many_of(sheet) > 1 else ''}",
            phase="cut",
            hours=_times(CUT_H, many_of(sheet)),
            after=(*_measured(made), *(("cut-template",) if template else ())),
            tool=tool,
            parts=(f"plate-{sheet.id}",),
            how=f"{sheet.thickness_mm:g} mm; edges broken, holes square to the face",
            caution=CHIPS,
            bench="layout",
            family="cut",
        )
    holes = sum(row.count for row in rows if row.kind == "screw")
    if sheets and holes:
        yield Step(
            id="drill-tap",
            title=f"Drill and tap, {holes:g} holes",
            phase="cut",
            hours=_times((0.6, 1.0, 2.0), holes * (DRILL_H + TAP_H)),
            after=tuple(f"cut-{sheet.id}" for sheet in sheets),
            tool="drill_press",
            how="Core hole, chamfer, tap with oil, back half a turn each turn.",
            caution=CHIPS,
            family="cut",
        )
    if any(row.kind == "bearing" for row in rows):
        yield Step(
            id="press-bearings",
            title="Press the bearings",
            phase="cut",
            hours=(0.3, 0.5, 1.2),
            after=("drill-tap",) if sheets and holes else _measured(made),
            tool="press",
            parts=_by(rows, "bearing"),
            how="On the ring that is tight, never through the balls; they turn freely afterwards.",
        )


def _measured(made: Sequence[Step]) -> tuple[str, ...]:
    return tuple(step.id for step in made if step.phase == "measure") or _before(made, "out")


def _times(hours: tuple[float, float, float], factor: float) -> tuple[float, float, float]:
    return hours[0] * factor, hours[1] * factor, hours[2] * factor


def _mount(found: Gathered, rows: Sequence[Row], made: Sequence[Step]) -> Iterator[Step]:
    variant, floats = found.drive.resolved.variant, found.design.vehicle.kind.floats
    ready = (*_before(made, "out"), *_before(made, "cut"), *_before(made, "wind"))
    count = variant.motor.count
    if floats:
        yield Step(
            id="mount-drive",
            title="Mount the pod, leg or shaft at the transom",
            phase="mount",
            hours=_times((1.0, 2.0, 4.0), count),
            after=ready,
            parts=_by(rows, "motor", "propeller", "carrier"),
            how="Depth and gap of the tip as in the brief; a line that keeps it if it breaks off.",
            bench="layout",
            caution="Propeller off until the dock test.",
        )
        yield Step(
            id="seal",
            title="Seal holes, glands and strands",
            phase="mount",
            hours=(0.5, 1.0, 2.0),
            after=("mount-drive",),
            parts=tuple(row.id for row in rows if row.id == "consumable-sealant"),
            how="Strands filled, holes bedded, screws set in sealant.",
        )
        yield Step(id="seal-cure", title="Sealant cures", phase="mount", hours=CURE_H, after=("seal",), does=Does.WAIT)
        yield Step(
            id="leak-test",
            title="Leak test of box and pod",
            phase="mount",
            hours=(0.3, 0.5, 1.0),
            after=("seal-cure",),
            how="By air or a dunk, before anything electric is in it.",
            bench="build",
        )
        return
    yield Step(
        id="mount-motor",
        title=f"Mount the motor{'s' if count > 1 else ''}{' in the wheel' if not variant.stages else ' on the plate'}",
        phase="mount",
        hours=_times((0.4, 0.8, 1.5), count),
        after=ready,
        parts=_by(rows, "motor", "plate", "screw", "hub"),
        how="Screws not longer than the face takes: a turn too many shorts the winding. Thread lock on metal.",
        bench="strength",
    )
    last = "mount-motor"
    prints = tuple(step.id for step in made if step.phase == "print")
    if variant.stages:
        yield Step(
            id="mount-wheels",
            title="Fit pulleys and sprockets",
            phase="mount",
            hours=_times((0.4, 0.8, 1.5), count * len(variant.stages)),
            after=(*_before(made, "out", "cut"), *(name for name in prints if "pulley" in name or "spacer" in name)),
            parts=_by(rows, "pulley", "driven", "bearing", "wheel"),
            how="On a flat or a key, not on a tighter screw; runs true within 0.3 mm.",
            bench="strength",
        )
        chain = any(stage.kind is ReductionKind.CHAIN for stage in variant.stages)
        yield Step(
            id="mount-loop",
            title="Lay belt and chain, set the tension" if chain else "Lay the belt, set the tension",
            phase="mount",
            hours=_times((0.3, 0.5, 1.2), count),
            after=("mount-motor", "mount-wheels"),
            parts=_by(rows, "loop", "idler"),
            how=_tension(found),
            bench="layout",
            caution="Fingers out of the belt: turn it by the wheel, power off and plug apart.",
        )
        last = "mount-loop"
    guards = tuple(name for name in prints if "guard" in name)
    if guards:
        yield Step(id="mount-guard", title="Fit the guard", phase="mount", hours=(0.2, 0.4, 0.8), after=(last, *guards))
    elif prints:
        rest = tuple(name for name in prints if "pulley" not in name and "spacer" not in name)
        if rest:
            yield Step(id="mount-prints", title="Fit what was printed", phase="mount", hours=(0.2, 0.4, 0.8), after=(last, *rest))
    if any(row.id == "consumable-thread-lock" for row in rows):
        yield Step(id="lock-cure", title="Thread lock cures", phase="mount", hours=LOCK_H, after=(last,), does=Does.WAIT)


def _tension(found: Gathered) -> str:
    tones = [f"{one.tone_hz:.0f} Hz" for one in found.layout.stages if math.isfinite(one.tone_hz) and one.made.kind is not None]
    return f"Tone of the span: {', '.join(tones)}" if tones else "Slack of 1 to 2 % of the centre distance."


def _pack(found: Gathered, rows: Sequence[Row], made: Sequence[Step]) -> Iterator[Step]:
    pack, cell = found.drive.resolved.variant.pack, found.drive.resolved.cell_part
    own = cell.brick_series * cell.brick_parallel == 1
    cells = pack.series * pack.parallel
    yield Step(
        id="pack-check",
        title="Check every cell" if own else "Check every group of the packs",
        phase="pack",
        hours=_times((0.6, 1.0, 1.8), 0.02 * cells + 0.2),
        after=(),
        parts=_by(rows, "cell"),
        how="Volts at rest written down; what differs by over 50 mV goes back.",
        caution=LITHIUM,
        bench="pack",
    )
    yield Step(id="pack-rest", title="Cells at rest for a day", phase="pack", hours=REST_H, after=("pack-check",), does=Does.WAIT)
    if own:
        yield Step(
            id="pack-weld",
            title=f"Weld {cells} cells into {pack.series}S{pack.parallel}P",
            phase="pack",
            hours=_times((0.8, 1.0, 2.0), WELD_H * 4 * cells + GROUP_H * pack.series),
            after=("pack-rest",),
            tool="spot_welder",
            parts=_by(rows, "cell"),
            how="Group by group; insulated rings on every plus; measure after each group.",
            caution=LITHIUM,
            bench="pack",
        )
    bricks = max(cells // max(cell.brick_series * cell.brick_parallel, 1), 1)
    yield Step(
        id="pack-leads",
        title="Balance leads, board and main leads of the pack" if own else f"Join {bricks} packs" if bricks > 1 else "Leads of the pack",
        phase="pack",
        hours=_times((0.7, 1.0, 2.0), GROUP_H * pack.series if own else BRICK_H * bricks),
        after=("pack-weld",) if own else ("pack-rest",),
        tool="soldering",
        parts=_by(rows, "board"),
        how="The lead that goes to plus stays capped; A1 to A3 on the bench before it is wrapped.",
        caution=LITHIUM,
        bench="pack",
    )
    yield Step(
        id="pack-wrap",
        title="Insulate, wrap and box the pack",
        phase="pack",
        hours=WRAP_H,
        after=("pack-leads",),
        parts=tuple(row.id for row in rows if row.id == "consumable-wrap"),
        caution=LITHIUM,
        how="Fish paper on every end, nothing loose, no strip against an edge.",
    )


def _wire(found: Gathered, rows: Sequence[Row], made: Sequence[Step]) -> Iterator[Step]:
    cuts = cut_list(found.wiring, found.stock)
    leads = sum(cut.pieces for cut in cuts)
    joints = sum(row.count for row in rows if row.kind == "connector")
    crimped = any("crimped" in cut.ends for cut in cuts)
    yield Step(
        id="wire-cut",
        title=f"Cut and crimp the leads, {leads}" if crimped else f"Cut and prepare the leads, {leads}",
        phase="wire",
        hours=_times((0.6, 1.0, 1.8), LEAD_H * leads + 0.2),
        after=_before(made, "out"),
        tool="crimper" if crimped else "soldering",
        parts=_by(rows, "cable", "lug"),
        how="By the cut list; a sample of each crimp is pulled.",
        bench="wiring",
    )
    yield Step(
        id="wire-joints",
        title=f"Solder the connectors, {joints:g}",
        phase="wire",
        hours=_times((0.6, 1.0, 2.0), JOINT_H * joints + 0.2),
        after=("wire-cut",),
        tool="soldering",
        parts=_by(rows, "connector"),
        how="Sockets on the side of the cells; shrink tube on before the joint, not after.",
        bench="wiring",
    )
    holes = glands(found.wiring, found.stock)
    if holes:
        yield Step(
            id="wire-glands",
            title=f"Drill the box, {sum(hole.pieces for hole in holes)} glands",
            phase="wire",
            hours=_times((0.7, 1.0, 1.6), GLAND_H * sum(hole.pieces for hole in holes)),
            after=_before(made, "out"),
            tool="drill_press",
            parts=_by(rows, "gland"),
            caution=CHIPS,
            bench="wiring",
        )
    pieces = sum(one.kind in ("fuse", "contactor", "switch", "key", "converter", "meter") for one in found.wiring.pieces)
    yield Step(
        id="wire-path",
        title="Lay the power path: fuse, disconnect, pre-charge",
        phase="wire",
        hours=_times((0.7, 1.0, 2.0), PIECE_H * pieces + 0.5),
        after=("wire-joints", *(("wire-glands",) if holes else ()), "pack-wrap", *_mounted(made)),
        parts=_by(rows, "fuse", "contactor", "resistor", "controller"),
        how="Fuse within 0.2 m of the pack; the key stays out of its socket.",
        caution="Both plugs apart until commissioning; one pole at a time.",
        bench="wiring",
    )
    yield Step(
        id="wire-control",
        title="Lay throttle, brake and sensor leads",
        phase="wire",
        hours=(0.4, 0.8, 2.0),
        after=("wire-path",),
        how="By the pin table, colours written down; away from phase leads.",
        bench="wiring",
    )


def _mounted(made: Sequence[Step]) -> tuple[str, ...]:
    return tuple(name for name in ("mount-motor", "mount-drive") if any(step.id == name for step in made))


def _set(found: Gathered, _rows: Sequence[Row], made: Sequence[Step]) -> Iterator[Step]:
    yield Step(
        id="set-rehearse",
        title="Rehearse on the test stand",
        phase="set",
        hours=(0.3, 0.6, 1.2),
        how="Detection, direction, failures on purpose, with faults switched on.",
        bench="controller",
    )
    yield Step(
        id="set-limits",
        title="Write the limits, a fifth of them first",
        phase="set",
        hours=(0.3, 0.6, 1.5),
        after=("set-rehearse", "wire-control"),
        parts=(),
        how="By the settings sheet; off, on, read back.",
        caution=SPIN,
        bench="controller",
    )


def _proofs(found: Gathered, _rows: Sequence[Row], made: Sequence[Step]) -> Iterator[Step]:
    """What is made here, or has little to spare, is loaded before it is ridden."""
    weak = [
        one
        for one in found.strength.elements
        if one.kind not in ("bearing", "belt", "chain", "roller") and math.isfinite(one.factor) and one.factor < PROVED * one.bears.wanted
    ]
    for one in sorted(weak, key=lambda one: one.factor)[:4]:
        yield Step(
            id=f"proof-{one.code.replace('.', '-').replace('_', '-')}",
            title=f"Prove: {one.name}",
            phase="proof",
            hours=(0.3, 0.6, 1.2),
            after=_before(made, "mount"),
            proofs=(one.code,),
            how=f"Factor {one.factor:.2g}, {one.bears.wanted:.2g} is wanted; the mass to hang is on the Strength bench.",
            caution=LOAD,
            bench="strength",
        )


def _commission(found: Gathered, _rows: Sequence[Row], made: Sequence[Step]) -> Iterator[Step]:
    floats, loop = found.design.vehicle.kind.floats, bool(found.drive.resolved.variant.stages)
    stages = (
        ("A", "Commission A: before first connection", (0.7, 1.2, 2.5), LITHIUM, ("wire-control", "pack-wrap")),
        ("B", "Commission B: first power, nothing coupled", (0.7, 1.2, 3.0), SPIN, ("commission-A", "set-limits")),
        ("C", "Commission C: failures on purpose", (0.5, 1.0, 2.0), SPIN, ("commission-B",)),
        (
            "D",
            "Commission D: tied at the dock, then moving" if floats else "Commission D: coupled, then moving",
            (2.0, 4.0, 8.0),
            ROAD if not floats else "Lifejacket and lanyard on, second boat near; tied at the dock first. Local rules come first.",
            ("commission-C", *_before(made, "mount", "proof"), *(("leak-test",) if floats else ())),
        ),
    )
    for code, title, hours, caution, after in stages:
        there = {step.id for step in made} | {f"commission-{letter}" for letter in "ABC"}
        how = "Tension, marks and coast first." if code == "D" and loop else "Each step has its number on the Commission bench."
        yield Step(
            id=f"commission-{code}",
            title=title,
            phase="commission",
            hours=hours,
            after=tuple(dict.fromkeys(name for name in after if name in there)),
            commission=(code,),
            how=how,
            caution=caution,
            bench="commission",
        )


Rule = Callable[[Gathered, Sequence[Row], Sequence[Step]], Iterator[Step]]
RULES: tuple[Rule, ...] = (_take_out, _measure, _prints, _cuts, wound_steps, _mount, _pack, _wire, _set, _proofs, _commission)
