"""Make the logs of the demo fleet: rides of our own simulator with values that no design holds, as instruments would record them.

Writes packed tables to stock/demo/logs and their records into the demo designs.  Run it again after a change of the simulator.
"""

from __future__ import annotations

import datetime
import gzip
import math
from dataclasses import replace
from pathlib import Path

import numpy as np

import wattagon
from wattagon.design import catalogue, file
from wattagon.design.paths import apply
from wattagon.design.quantity import Known, Quantity
from wattagon.design.tree import Design
from wattagon.exchange.log.read import bring, packed
from wattagon.physics.ride.course import Leg
from wattagon.standins.recorder import Instruments, Recorded, recorded, ridden
from wattagon.study.log.align import offset_of
from wattagon.study.log.enter import added
from wattagon.study.log.expect import expected
from wattagon.study.ride.study import find_course, legs_of

DEMO = Path(wattagon.__file__).parent / "stock" / "demo"
NOISE = {"speed": 0.06, "motor_a": 0.5, "pack_a": 0.25, "bus_v": 0.03, "duty": 0.003, "erpm": 25.0, "motor_c": 0.3, "controller_c": 0.3}
DIGITS = {"speed": 0.01, "motor_a": 0.05, "pack_a": 0.05, "bus_v": 0.01, "duty": 0.001, "erpm": 1.0, "motor_c": 0.1, "controller_c": 0.1}
# what the makers of these rides know and the designs do not
HIDDEN = {
    "dunlin": {"vehicle.rolling": 0.0352, "vehicle.drag_area": 0.585, "stock.cell-21-4p0-power.cell_r0_ohm": 0.0148},
    "corncrake": {"vehicle.rolling": 0.0215, "vehicle.drag_area": 0.97, "stock.outrunner-110x110-70.kv_rpm_per_v": 67.6},
    "bittern": {
        "vehicle.rolling": 0.0138,
        "vehicle.drag_area": 0.71,
        "stock.outrunner-80x85-130.resistance_ohm": 0.0455,
        "stock.outrunner-80x85-130.winding_to_case_k_per_w": 0.29,
    },
    "garganey": {
        "variants.A.propeller.thrust_model": 0.91,
        "variants.A.propeller.torque_model": 1.12,
        "stock.submerged-80x92-100.no_load_a": 0.75,
    },
}


def table(made: Recorded, heads: list[tuple[str, str, float, int]], apart: str = ",", *, mark: str = ".", clock: float = 0.0) -> list[str]:
    """Lines of a table: head, channel (time too), factor and places of each column."""
    columns = {"time": made.time + clock, **made.columns}
    rows = np.column_stack([columns[channel] * factor for _, channel, factor, _ in heads])
    lines = [apart.join(head for head, *_ in heads)]
    for row in rows:
        cells = (f"{value:.{places}f}" for value, (*_, places) in zip(row, heads, strict=True))
        lines.append(apart.join(cell.replace(".", mark) for cell in cells))
    return lines


def ride(
    name: str, legs: list[Leg], seed: int, *, step_s: float, charge: float, zero: dict[str, float], rest_s: float = 15.0, wind: float = 0.0
) -> Recorded:
    """A ride of a vehicle with its hidden values."""
    design = file.read(DEMO / f"{name}.json").design
    run, resolved = ridden(design, catalogue.load(), legs, shift=HIDDEN[name], charge=charge, wind_m_s=wind)
    instruments = Instruments(step_s=step_s, noise=NOISE, zero=zero, digits=DIGITS)
    return recorded(run, resolved, np.random.default_rng(seed), instruments, rest_s)


def course(name: str, ident: str) -> list[Leg]:
    """A course of the brief."""
    return list(legs_of(find_course(file.read(DEMO / f"{name}.json").design, ident)))


def track(made: Recorded, begin: datetime.datetime, late_s: float, seed: int) -> list[str]:
    """The same ride as a receiver writes it: a place a second, wandering by metres, its clock off by `late_s`."""
    rng = np.random.default_rng(seed)
    t, x, grade = made.time, made.columns["distance"], made.columns["grade"]
    height = 4.0 + np.concatenate([[0.0], np.cumsum(np.diff(x) * grade[1:] / np.sqrt(1.0 + grade[1:] ** 2))])
    lines = ['<?xml version="1.0" encoding="UTF-8"?>', '<gpx version="1.1" creator="demo"><trk><name>Ride</name><trkseg>']
    wander = lambda: np.convolve(rng.normal(0.0, 1.0, 4000), np.ones(40) / 40.0, mode="same")
    off_x, off_y, off_h = wander(), wander(), wander()
    for k, second in enumerate(np.arange(0.0, t[-1], 1.0)):
        way = float(np.interp(second, t, x)) + 3.0 * off_x[k]
        lat, lon = 53.4 + way * math.cos(0.7) / 111_200.0, 8.1 + (way * math.sin(0.7) + 3.0 * off_y[k]) / 66_300.0
        stamp = (begin + datetime.timedelta(seconds=float(second) + late_s)).isoformat().replace("+00:00", "Z")
        ele = float(np.interp(second, t, height)) + 4.0 * off_h[k]
        lines.append(f'<trkpt lat="{lat:.7f}" lon="{lon:.7f}"><ele>{ele:.1f}</ele><time>{stamp}</time></trkpt>')
    return [*lines, "</trkseg></trk></gpx>"]


def put(design: Design, name: str, lines: list[str], date: str, note: str, *, beside: str = "", **told: object) -> Design:
    """A file into a demo design; its packed bytes beside it."""
    stock = catalogue.load()
    raw = ("\n".join(lines) + "\n").encode()
    brought = bring(raw, name, expected(design, stock))
    log = replace(brought.data.log, date=date, note=note, **told)
    if beside:
        first = next(one for one in design.logs if one.id == beside)
        other = bring(gzip.decompress((DEMO / first.member).read_bytes()), first.source, expected(design, stock), known=first.columns)
        offset, _ = offset_of(other.data, brought.data)
        log = replace(log, beside=beside, offset=round(offset, 2))
    target = DEMO / log.member
    target.parent.mkdir(exist_ok=True)
    target.write_bytes(packed(brought.raw))
    for words in brought.data.told:
        print(f"  {name}: {words}")
    return apply(design, added(design, log, brought.data, datetime.date.fromisoformat(date)))


def without_logs(name: str) -> Design:
    """A demo design as it was before."""
    design = file.read(DEMO / f"{name}.json").design
    history = tuple(one for one in design.history if not one.log and not one.text.startswith("Log l"))
    return replace(design, logs=(), history=history)


def share(value: float) -> Quantity:
    """A charge that was read."""
    return Quantity(value=value, known=Known.MEASURED, tolerance=0.02)


def main() -> None:
    for old in (DEMO / "logs").glob("*.gz"):
        old.unlink()
    # a board with a logger of ten rows a second that lost eight seconds
    dunlin = without_logs("dunlin")
    made = ride("dunlin", course("dunlin", "levee-round"), 11, step_s=0.1, charge=0.94, zero={"pack_a": -0.18, "motor_a": 0.2})
    heads = [
        ("ms", "time", 1000.0, 0),
        ("speed km/h", "speed", 3.6, 2),
        ("motor A", "motor_a", 1.0, 2),
        ("pack A", "pack_a", 1.0, 2),
        ("pack V", "bus_v", 1.0, 2),
        ("duty %", "duty", 100.0, 1),
        ("erpm", "erpm", 1.0, 0),
        ("motor C", "motor_c", 1.0, 1),
        ("controller C", "controller_c", 1.0, 1),
    ]
    lines = table(made, heads, ";", mark=",")
    lines = lines[:6200] + lines[6280:]
    dunlin = put(
        dunlin,
        "levee-round-2026-10-11.csv",
        lines,
        "2026-10-11",
        "the levee round, first long ride",
        course="levee-round",
        start_charge=share(0.94),
    )
    # a kart whose logger writes five rows a second with times of day
    corncrake = without_logs("corncrake")
    made = ride("corncrake", course("corncrake", "boardwalk"), 12, step_s=0.2, charge=0.9, zero={"pack_a": 0.3})
    heads = [
        ("seconds", "time", 1.0, 1),
        ("wheel speed [m/s]", "speed", 1.0, 2),
        ("phase current [A]", "motor_a", 1.0, 2),
        ("battery current [A]", "pack_a", 1.0, 2),
        ("battery voltage [V]", "bus_v", 1.0, 2),
        ("duty", "duty", 1.0, 3),
        ("motor rpm", "erpm", 1.0 / 7.0, 0),
        ("winding [C]", "motor_c", 1.0, 1),
    ]
    pairs = float(made.resolved.train.motor.pole_pairs)
    heads[6] = ("motor rpm", "erpm", 1.0 / pairs, 0)
    lines = table(made, heads)
    corncrake = put(corncrake, "boardwalk.csv", lines, "2026-11-14", "trial on borrowed packs", course="boardwalk", start_charge=share(0.9))
    # a bike with a track beside it, and a short ride whose speed is in another unit than its head says
    bittern = without_logs("bittern")
    made = ride("bittern", course("bittern", "hide-supply")[:8], 13, step_s=0.1, charge=0.93, zero={"pack_a": 0.1, "motor_a": -0.2})
    heads = [
        ("Time [s]", "time", 1.0, 1),
        ("Wheel speed [km/h]", "speed", 3.6, 2),
        ("Motor current [A]", "motor_a", 1.0, 2),
        ("Pack current [A]", "pack_a", 1.0, 2),
        ("Pack voltage [V]", "bus_v", 1.0, 2),
        ("Duty [%]", "duty", 100.0, 1),
        ("Electrical rpm", "erpm", 1.0, 0),
        ("Motor temperature [°C]", "motor_c", 1.0, 1),
    ]
    bittern = put(bittern, "to-the-hide.csv", table(made, heads), "2026-09-26", "to the hide with supplies", start_charge=share(0.93))
    begin = datetime.datetime(2026, 9, 26, 8, 12, 0, tzinfo=datetime.UTC)
    bittern = put(
        bittern, "to-the-hide.gpx", track(made, begin, 0.0, 14)[: 2 + 1500], "2026-09-26", "receiver on the handlebar", beside="l1"
    )
    short = [Leg(length_m=250.0, speed_m_s=4.0), Leg(length_m=500.0, speed_m_s=6.5), Leg(length_m=250.0, speed_m_s=4.0, stop_s=4.0)]
    made = ride("bittern", short, 15, step_s=0.2, charge=0.7, zero={})
    heads = [("t_s", "time", 1.0, 1), ("speed_m_s", "speed", 3.6, 2), ("i_motor_a", "motor_a", 1.0, 2), ("i_pack_a", "pack_a", 1.0, 2)]
    heads += [("u_pack_v", "bus_v", 1.0, 2), ("erpm", "erpm", 1.0, 0)]
    bittern = put(
        bittern, "round-the-yard.csv", table(made, heads), "2026-10-03", "after the new firmware of the logger", start_charge=share(0.7)
    )
    # a punt whose logger writes two rows a second
    garganey = without_logs("garganey")
    legs = [
        Leg(length_m=length, speed_m_s=speed)
        for length, speed in ((200, 0.9), (260, 1.3), (320, 1.6), (420, 2.0), (300, 1.2), (300, 1.8), (200, 0.8))
    ]
    made = ride("garganey", legs, 16, step_s=0.5, charge=0.92, zero={"pack_a": 0.15})
    heads = [
        ("elapsed s", "time", 1.0, 1),
        ("gps speed kn", "speed", 1.0 / 0.514444444, 2),
        ("motor current A", "motor_a", 1.0, 2),
        ("pack current A", "pack_a", 1.0, 2),
        ("pack voltage V", "bus_v", 1.0, 2),
        ("erpm", "erpm", 1.0, 0),
        ("motor temp C", "motor_c", 1.0, 1),
    ]
    garganey = put(
        garganey,
        "trial-on-the-canal.csv",
        table(made, heads, "\t"),
        "2026-11-08",
        "trial on the canal, still water",
        start_charge=share(0.92),
    )
    for name, design in (("dunlin", dunlin), ("corncrake", corncrake), ("bittern", bittern), ("garganey", garganey)):
        (DEMO / f"{name}.json").write_text(file.to_json(design), encoding="utf-8")
        print(name, [log.id for log in design.logs])


if __name__ == "__main__":
    main()
