"""The parts list: every part that the benches have decided, gathered from their studies."""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator
from dataclasses import replace

from wattagon.design.parts import (
    BoardPart,
    CablePart,
    CarrierPart,
    ConnectorPart,
    ContactorPart,
    FusePart,
    HubPart,
    IdlerPart,
    Part,
    PropellerPart,
    ResistorPart,
    ToothedPart,
)
from wattagon.design.parts.families import loops, toothed
from wattagon.design.tree import ReductionKind
from wattagon.study.build.drags import drags
from wattagon.study.build.gathered import Gathered
from wattagon.study.build.row import ORDER, At, Row
from wattagon.study.build.winding_work import wound_rows
from wattagon.study.layout.cut.card import printed
from wattagon.study.layout.cut.sheet import Sheet
from wattagon.study.resolve import bricks_of
from wattagon.study.resolve.battery import brick_rows
from wattagon.study.resolve.pack import pack_mass_kg
from wattagon.study.wiring.cutlist import cut_list, glands

# typical prices and masses of what no stock list has, marked as assumed
SCREW_EUR, SCREW_KG = 0.35, {3: 0.0012, 4: 0.003, 5: 0.005, 6: 0.009, 8: 0.02, 10: 0.04, 12: 0.06}
FILAMENT_EUR_KG, ALUMINIUM_EUR_KG, STEEL_EUR_KG, OFFCUT = 26.0, 14.0, 5.0, 1.6
BEARING_EUR, BEARING_KG, LUG_EUR, LUG_KG, GLAND_EUR, GLAND_KG = 4.0, 0.02, 0.5, 0.004, 1.5, 0.012
SHRINK_EUR_M, SPARE = 1.2, 1.15
LOCK_EUR, SOLDER_EUR, WRAP_EUR, WIPES_EUR = 6.0, 5.0, 4.0, 3.0
BELT_SPARE_LINKS, PLATE_SCREWS = 2, 4  # screws of a motor in its plate where nobody told


def rows(found: Gathered) -> tuple[Row, ...]:
    """All rows, those of one part together, in the order of their kinds."""
    merged: dict[str, Row] = {}
    for row in _all(found):
        have = merged.get(row.id)
        if have is None:
            merged[row.id] = row
            continue
        used = have.used if row.used in have.used.split(", ") else f"{have.used}, {row.used}"
        merged[row.id] = replace(have, count=have.count + row.count, used=used)
    drawn = [replace(row, drags=drags(found, row), at=row.at or _at(found, row)) for row in merged.values()]
    return tuple(sorted(drawn, key=lambda row: ORDER[row.kind]))


def _all(found: Gathered) -> Iterator[Row]:
    yield from _drive(found)
    yield from _reduction(found)
    yield from _wheels(found)
    yield from _made(found)
    yield from wound_rows(found)
    yield from _wired(found)
    yield from _fastened(found)
    yield from _consumed(found)
    floats = found.design.vehicle.kind.floats
    ground = 0.0 if floats else found.layout.scene.tyre_m
    for part in found.design.variant().own_parts:
        told = part.ahead is not None
        at = (
            At(
                part.ahead.value if part.ahead is not None else 0.0,
                part.side.value if part.side is not None else 0.0,
                part.height.value if part.height is not None else ground,
            )
            if told
            else None
        )
        yield Row(
            id=f"own-{part.id}",
            kind="own",
            name=part.name or part.id,
            count=part.count,
            used=part.used or "as you said",
            mass_kg=part.mass,
            price=part.price,
            part=part.id,
            lead_days=part.lead_days,
            at=at,
        )


def _row(kind: str, part: Part, count: float, used: str, *, mass: float | None = None, unit: str = "") -> Row:
    return Row(
        id=f"{kind}-{part.id}",
        kind=kind,
        name=part.name,
        count=count,
        used=used,
        mass_kg=part.mass_kg if mass is None else mass,
        price=part.price,
        part=part.id,
        lead_days=part.lead_days,
        unit=unit,
    )


def _drive(found: Gathered) -> Iterator[Row]:
    resolved, variant, stock = found.drive.resolved, found.drive.resolved.variant, found.stock
    yield _row("motor", resolved.motor_part, variant.motor.count, "drive")
    yield _row("controller", resolved.controller_part, variant.motor.count, "one a motor")
    cell = resolved.cell_part
    bricks = brick_rows(variant, stock)
    if bricks is None:
        count = bricks_of(variant.pack, cell)
        yield _row("cell", cell, count, "pack", mass=pack_mass_kg(variant.pack, cell) / count)
    for part, name, many, kg, price in bricks or ():
        yield Row(
            id=f"cell-{part}", kind="cell", name=name, count=many, used="pack", mass_kg=kg, price=price, part=part, lead_days=cell.lead_days
        )
    battery = variant.battery
    if battery is not None and battery.board:
        yield _row("board", stock.get(BoardPart, battery.board), 1, "pack")
    charger = found.pack.charged.charger
    if charger is not None and battery is not None and battery.charging is not None and battery.charging.charger:
        yield _row("charger", charger, 1, "at home")


def _reduction(found: Gathered) -> Iterator[Row]:
    variant, stock = found.drive.resolved.variant, found.stock
    runs = {one.position: one for one in found.layout.stages}
    for k, stage in enumerate(variant.stages):
        sets = 1 if stage.shared else variant.motor.count
        where = f"stage {k + 1}" if len(variant.stages) > 1 else "reduction"
        for role, teeth in (("driver", stage.driver_teeth), ("driven", stage.driven_teeth)):
            part = _toothed(stock, stage.profile, role, teeth)
            if part is not None:
                on_wheel = role == "driven" and k == len(variant.stages) - 1
                yield _row("driven" if on_wheel else "pulley", part, sets, f"{where}, {role}")
        run = runs.get(k)
        fit = [p for p in loops(stock, stage.profile) if stage.width_mm is None or p.width_mm in (None, stage.width_mm)]
        if run is None or not fit or not stage.profile:
            continue
        if fit[0].width_mm is None:  # chain by the link
            yield _row("loop", fit[0], (run.loop + BELT_SPARE_LINKS) * sets, f"{where}, {run.loop} links and two spare")
        else:
            loop = min(fit, key=lambda p: abs(p.teeth - run.loop))
            name = f"{where}" if loop.teeth == run.loop else f"{where}; {run.loop} teeth are wanted, stock has none"
            yield _row("loop", loop, sets, name)
    for stage_layout in found.layout.layout.stages:
        for idler in stage_layout.idlers:
            if idler.part:
                yield _row("idler", stock.get(IdlerPart, idler.part), variant.motor.count, "idler")


def _toothed(stock: object, profile: str, role: str, teeth: int) -> ToothedPart | None:
    return next((p for p in toothed(stock, profile, role) if p.teeth == teeth), None) if profile else None  # type: ignore[arg-type]


def _wheels(found: Gathered) -> Iterator[Row]:
    resolved, variant, stock = found.drive.resolved, found.drive.resolved.variant, found.stock
    if resolved.wheel_part is not None:
        yield _row("wheel", resolved.wheel_part, variant.motor.driven_wheels, "driven wheels")
    if variant.propeller is not None:
        yield _row("propeller", stock.get(PropellerPart, variant.propeller.part), variant.propeller.count, "drive")
        if variant.propeller.carrier:
            yield _row("carrier", stock.get(CarrierPart, variant.propeller.carrier), variant.propeller.count, "drive")
    if variant.gears is not None and variant.gears.hub:
        yield _row("hub", stock.get(HubPart, variant.gears.hub), 1, "instead of the bike's own", mass=0.0)


def many_of(made: Sheet) -> int:
    """How many of a sheet are wanted."""
    return int(dict(made.card).get("how many", "1"))


def bought(found: Gathered, made: Sheet) -> bool:
    """Whether a toothed wheel that could be made comes from stock, so that nothing of it is made."""
    words = made.id.split("-")
    if words[0] not in ("pulley", "sprocket"):
        return False
    role = "driver" if "driver" in words else "driven"
    many = len(found.layout.stages) > 1
    position = int(words[1]) - 1 if many and words[1].isdigit() else 0
    run = next((one for one in found.layout.stages if one.position == position), None)
    if run is None:
        return False
    choice = run.made.choice
    return _toothed(found.stock, choice.profile, role, choice.driver_teeth if role == "driver" else choice.driven_teeth) is not None


def to_make(found: Gathered) -> list[Sheet]:
    """Sheets that this build needs: what is bought is not made, a coupon and flanges go with what is printed."""
    wanted = [made for made in found.sheets if not bought(found, made)]
    pulleys = any(made.id.startswith("pulley") for made in wanted)
    return [made for made in wanted if pulleys or made.id != "fit-coupon"]


def _made(found: Gathered) -> Iterator[Row]:
    printer = found.design.brief.workshop.printer
    materials = printer.materials if printer is not None else ()
    for made in to_make(found):
        if made.made == "paper":
            continue
        count = many_of(made)
        if made.made == "print":
            one = printed(made, materials)
            mass, price, kind = one.mass_kg, one.mass_kg * FILAMENT_EUR_KG, "print"
        else:
            mass, kind = made.mass_kg, "plate"
            price = made.mass_kg * OFFCUT * (ALUMINIUM_EUR_KG if made.made == "mill" else STEEL_EUR_KG)
        yield Row(
            id=f"{kind}-{made.id}",
            kind=kind,
            name=f"{made.name}, {made.thickness_mm:g} mm {'printed' if kind == 'print' else 'plate'}",
            count=count,
            used="printed here" if kind == "print" else "cut here",
            mass_kg=mass,
            price=price,
            made=True,
            assumed=True,
        )
    bearings = sum(one.kind == "bearing" for stack in found.layout.stacks for one in stack.pieces)
    if bearings:
        yield _typical("bearing", "ball", "Ball bearing of the shafts", bearings, "on the shafts", BEARING_KG, BEARING_EUR)


def _typical(kind: str, code: str, name: str, count: float, used: str, mass: float, price: float, unit: str = "") -> Row:
    return Row(
        id=f"{kind}-{code}", kind=kind, name=name, count=count, used=used, mass_kg=mass, price=price, unit=unit, lead_days=3, assumed=True
    )


def _wired(found: Gathered) -> Iterator[Row]:
    kinds: dict[str, tuple[str, type[Part]]] = {
        "lead": ("cable", CablePart),
        "joint": ("connector", ConnectorPart),
        "key": ("connector", ConnectorPart),
        "fuse": ("fuse", FusePart),
        "contactor": ("contactor", ContactorPart),
    }
    wiring, stock = found.wiring, found.stock
    proposed = " (proposed)" if wiring.proposed else ""
    for one in wiring.pieces:
        piece = one.laid.piece
        if piece.kind not in kinds or not piece.part:
            continue
        kind, cls = kinds[piece.kind]
        part = stock.find(piece.part)
        if part is None or not isinstance(part, cls):
            continue
        used = f"{one.name}{proposed}"
        if piece.kind == "lead":
            metres = one.laid.length_m * one.branch.poles * one.branch.count * piece.beside * SPARE
            yield _row(kind, part, math.ceil(10.0 * metres) / 10.0, used, unit="m")
            continue
        poles = one.branch.poles if isinstance(part, ConnectorPart) and part.poles == 1 and piece.kind == "joint" else 1
        count = one.branch.count * max(poles, 1)
        yield _row(kind, part, count, used)
        if piece.mate:
            mate = stock.find(piece.mate)
            if mate is not None:
                yield _row("connector", mate, count, f"other half of {one.name}")
    told = wiring.told
    for code, what in ((told.precharge, "pre-charge"), (told.brake, "brake")):
        if code:
            yield _row("resistor", stock.get(ResistorPart, code), 1, what)
    cuts, holes = cut_list(wiring, stock), glands(wiring, stock)
    lugs = sum(2 * cut.pieces for cut in cuts if cut.ends.startswith("lug"))
    if lugs:
        yield _typical("lug", "crimp", "Crimp lug", lugs, "ends of leads", LUG_KG, LUG_EUR)
    for thread in sorted({hole.thread_mm for hole in holes}):
        count = sum(hole.pieces for hole in holes if hole.thread_mm == thread)
        yield _typical("gland", f"m{thread:g}", f"Cable gland M{thread:g}", count, "leads into the box", GLAND_KG, GLAND_EUR)
    shrink = sum(cut.pieces * cut.shrink_m for cut in cuts)
    if shrink:
        yield _typical("consumable", "shrink", "Shrink tube with glue", math.ceil(10 * shrink) / 10, "leads", 0.0, SHRINK_EUR_M, "m")


def _fastened(found: Gathered) -> Iterator[Row]:
    sets = found.drive.resolved.variant.motor.count
    sizes: dict[tuple[int, str], tuple[int, list[str]]] = {}
    for one in found.strength.elements:
        joint = one.joint
        if joint is None or joint.screw is None or one.kind == "bearing":
            continue
        many = (joint.count or (PLATE_SCREWS if joint.kind in ("plate", "slots") else 1)) * sets
        count, used = sizes.setdefault((joint.screw, joint.grade), (0, []))
        sizes[(joint.screw, joint.grade)] = count + many, [*used, one.name]
    for (size, grade), (count, used) in sorted(sizes.items()):
        grade_code = grade.replace(".", "-").lower()
        mass = SCREW_KG.get(size, 0.01)
        yield _typical("screw", f"m{size}-{grade_code}", f"M{size} screw, {grade}", count, ", ".join(dict.fromkeys(used)), mass, SCREW_EUR)
    nuts = sum(one.kind == "nut" for stack in found.layout.stacks for one in stack.pieces)
    if nuts:
        yield _typical("fastener", "axle-nut", "Axle nut, self-locking", nuts, "on the shafts", 0.01, 0.8)


def _consumed(found: Gathered) -> Iterator[Row]:
    kinds: Iterable[tuple[str, str, str, float]] = [
        ("thread-lock", "Thread lock, medium", "metal screws into metal", LOCK_EUR),
        ("solder", "Solder and flux", "joints", SOLDER_EUR),
        ("wrap", "Fish paper and wrap", "pack", WRAP_EUR),
    ]
    if found.drive.resolved.cell_part.brick_series * found.drive.resolved.cell_part.brick_parallel > 1:
        kinds = [row for row in kinds if row[0] != "wrap"]
    if any(stage.kind is ReductionKind.CHAIN for stage in found.drive.resolved.variant.stages):
        kinds = [*kinds, ("chain-oil", "Chain oil", "chain", WIPES_EUR)]
    if found.design.vehicle.kind.floats:
        kinds = [*kinds, ("sealant", "Sealant and silicone grease", "glands, seals, strands", WIPES_EUR)]
    for code, name, used, price in kinds:
        yield _typical("consumable", code, name, 1, used, 0.0, price)


def _at(found: Gathered, row: Row) -> At | None:
    """Where a row sits by the layout; None where that does not tell."""
    scene, shafts = found.layout.scene, found.layout.shafts
    base = 0.0 if scene.berth is not None else scene.tyre_m
    bodies = {kind: [one for one in scene.bodies if one.kind == kind] for kind in ("pack", "controller", "box")}
    motor, axle = shafts[0], shafts[-1]
    if row.kind in ("motor", "pulley"):
        return At(motor.x, 0.0, motor.z + base)
    kinds = {"cell": "pack", "board": "pack", "controller": "controller", "resistor": "controller"}
    for kind, body in kinds.items():
        if row.kind == kind and bodies[body]:
            return _middle([At(one.x, one.y, one.z + base) for one in bodies[body]])
    if row.kind in ("driven", "wheel", "hub", "propeller", "carrier", "bearing"):
        return At(axle.x, 0.0, axle.z + base)
    if row.kind in ("loop", "idler", "plate", "print", "screw", "fastener"):
        return At(0.5 * (motor.x + axle.x), 0.0, 0.5 * (motor.z + axle.z) + base)
    if row.kind in ("cable", "connector", "fuse", "contactor", "lug", "gland") and bodies["pack"]:
        return _middle([At(one.x, one.y, one.z + base) for one in (*bodies["pack"], *bodies["controller"])])
    return None


def _middle(spots: list[At]) -> At:
    return At(*(sum(spot[k] for spot in spots) / len(spots) for k in range(3)))
