"""A rewind that was decided on, as rows of the parts list and as steps."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from wattagon.study.build.gathered import Gathered
from wattagon.study.build.row import Row
from wattagon.study.build.step import Does, Step
from wattagon.study.winding.guide import BEND, EYES, MEGGER, before_and_after
from wattagon.study.winding.sensors import seats
from wattagon.study.winding.study import WindingStudy, reel_words

# typical prices and hours, marked as assumed; hours by a maker who does it the second time
RESIN_EUR, LINER_EUR, SENSOR_EUR, RESISTOR_EUR, SHIM_EUR, SLEEVE_EUR, LEAD_DAYS = 14.0, 9.0, 1.2, 0.1, 3.0, 4.0, 4
NOTE_H, STRIP_H, LINE_H, JOIN_H, MEASURE_H = (0.3, 0.5, 1.0), (0.7, 1.5, 4.0), (0.5, 1.0, 2.0), (0.5, 1.0, 2.0), (0.3, 0.5, 1.0)
RESIN_H, CURE_H, SENSOR_H, SOAK_H = (0.4, 0.7, 1.5), (12.0, 24.0, 36.0), (0.7, 1.5, 3.0), (1.5, 2.0, 3.0)
TURN_H, COIL_H = 0.0035, 0.06  # one pass of the bundle; what a coil takes beside its turns
RESIN = "Resin and its hardener on no skin, fresh air; heat as its maker says."


def wound_rows(found: Gathered) -> Iterator[Row]:
    """Wire by the reel, resin, liner, sensors, shims."""
    winding = found.winding
    if winding is None or winding.chosen is None:
        return
    many, one = found.design.variant().motor.count, winding.chosen
    if one.reel is not None:
        reel = one.reel
        count = -(-one.wire_m * many // reel.length_m)
        yield Row(
            id=f"wire-{reel.id}",
            kind="wire",
            name=reel.name,
            count=count,
            used=f"winding, {one.wire_m * many:.0f} m",
            mass_kg=reel.mass_kg,
            price=reel.price,
            part=reel.id,
            lead_days=reel.lead_days,
        )
    else:
        yield _row("wire-own", f"Winding wire {1e3 * one.coils.wire_m:g} mm", 1, reel_words(one), one.copper_kg * many, 30.0)
    yield _row("winding-resin", "Winding resin or varnish for the heat", 1, "fixes the coils", 0.1, RESIN_EUR)
    yield _row("winding-liner", "Slot liner or coating, caps over the corners", many, "under the coils", 0.01, LINER_EUR)
    yield _row("winding-sleeve", "Glass sleeve for crossovers and joints", many, "winding", 0.01, SLEEVE_EUR)
    if winding.halls is not None and winding.halls.told:
        yield _row("winding-sensor", "Hall sensor, latching, 150 °C", 3 * many, "in the stator's openings", 0.0005, SENSOR_EUR)
        yield _row("winding-pull-up", "Resistor 4.7 kΩ and capacitor 100 nF", 3 * many, "pull-ups, at the sensors", 0.0002, RESISTOR_EUR)
    if winding.told.cover is not None:
        yield _row("winding-shim", "Shims and feeler strip", 1, "rotor's height and air gap", 0.005, SHIM_EUR)


def _row(code: str, name: str, count: float, used: str, mass: float, price: float) -> Row:
    kind = "winding"
    return Row(id=code, kind=kind, name=name, count=count, used=used, mass_kg=mass, price=price, lead_days=LEAD_DAYS, assumed=True)


def wound_steps(found: Gathered, rows: Sequence[Row], _made: Sequence[Step]) -> Iterator[Step]:
    """From the old winding noted to the new one measured and cured."""
    winding = found.winding
    if winding is None or winding.chosen is None or winding.guide is None:
        return
    many = found.design.variant().motor.count
    how = dict(before_and_after(flooded=winding.wet))
    step = lambda code, title, hours, after, **more: Step(
        id=code, title=title, phase="wind", hours=_times(hours, many), after=after, bench="winding", **more
    )
    parts = lambda *codes: tuple(row.id for row in rows if row.id in codes or (row.kind == "wire" and "wire" in codes))
    yield step("wind-note", "Note and measure the old winding", NOTE_H, (), how=how["Note the old winding"])
    yield step("wind-strip", "Strip the stator", STRIP_H, ("wind-note",), how=how["Strip"], caution=EYES)
    yield step("wind-line", "Line or coat the slots", LINE_H, ("wind-strip",), how=how["Line or coat"], parts=parts("winding-liner"))
    last = "wind-line"
    for phase, name in enumerate("ABC"):
        yield step(
            f"wind-{name.lower()}",
            f"Wind phase {name}",
            _coils_h(winding, phase),
            (last,),
            how=f"Coil by coil on the bench; core test before and after. {BEND}",
            caution=EYES,
            parts=parts("wire"),
            family="wind",
        )
        last = f"wind-{name.lower()}"
    yield step("wind-join", "Join and sleeve the ends", JOIN_H, (last,), how=how["Join"], tool="soldering", parts=parts("winding-sleeve"))
    yield step("wind-measure", "Measure before resin", MEASURE_H, ("wind-join",), how=how["Measure"], caution=MEGGER)
    last = "wind-measure"
    if winding.halls is not None and winding.halls.told:
        sensors = parts("winding-sensor", "winding-pull-up")
        yield step("wind-sensors", f"Seat the sensors {seats(winding.halls.openings)}", SENSOR_H, (last,), parts=sensors, tool="soldering")
        last = "wind-sensors"
    yield step(
        "wind-resin",
        "Resin, then the air gap",
        RESIN_H,
        (last,),
        how=how["Resin"],
        caution=RESIN,
        parts=parts("winding-resin", "winding-shim"),
    )
    yield Step(id="wind-cure", title="Resin cures", phase="wind", hours=CURE_H, after=("wind-resin",), does=Does.WAIT)
    last = "wind-cure"
    if "Soak" in how:
        yield step(
            "wind-soak", "Seal for water, soak, test again", SOAK_H, (last,), how=f"{how['Seal for water']} {how['Soak']}", caution=MEGGER
        )
        last = "wind-soak"
    yield step(
        "wind-read",
        "Spin, measure, take the readings",
        MEASURE_H,
        (last,),
        how="Three pairs, three voltages, no-load current.",
        caution=MEGGER,
    )


def _coils_h(winding: WindingStudy, phase: int) -> tuple[float, float, float]:
    """Of one phase: thicker bundles take longer to lay."""
    assert winding.guide is not None and winding.chosen is not None
    coils = sum(job.phase == phase for job in winding.guide.jobs)
    strands = winding.chosen.coils.strands
    likely = coils * (COIL_H + winding.guide.turns * TURN_H * (1.0 + 0.15 * strands))
    return 0.7 * likely, likely, 2.5 * likely


def _times(hours: tuple[float, float, float], factor: float) -> tuple[float, float, float]:
    return hours[0] * factor, hours[1] * factor, hours[2] * factor
