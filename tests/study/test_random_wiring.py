"""Any design through pack and wiring: nothing raises, nothing is without a number, what is proposed holds, laws of the equations."""

import contextlib
import math
import random
import unittest

from tests.random_boats import random_boat
from tests.random_designs import random_design
from wattagon.design import catalogue
from wattagon.design.parts import CablePart, ConnectorPart
from wattagon.errors import WattagonError
from wattagon.physics.bricks import Assembly, Brick, run_down
from wattagon.physics.pack import Pack, charge_run
from wattagon.physics.wiring import bus, precharge, short, warmth
from wattagon.physics.wiring.fuse import FAST, SLOW, clears_s
from wattagon.study.drive.study import study_drive
from wattagon.study.findings.rule import Case
from wattagon.study.findings.status import Status
from wattagon.study.pack.rules import RULES as PACK_RULES
from wattagon.study.pack.study import study_pack
from wattagon.study.say import plain
from wattagon.study.wiring.rules import RULES as WIRING_RULES
from wattagon.study.wiring.study import study_wiring

STOCK = catalogue.load()


def faults_of(design) -> list[str]:
    """What is wrong with pack, wiring and all their findings of a design; none of one whose values contradict each other."""
    try:
        drive = study_drive(design, STOCK)
    except WattagonError:
        return []
    pack = study_pack(design, STOCK, drive)
    found = study_wiring(design, STOCK, drive, pack, None)
    bad = []
    for name, value in (
        ("usable", pack.usable_wh),
        ("energy", pack.energy_wh),
        ("sag", pack.volts.sag),
        ("wall", pack.charged.wall_wh),
        ("life", pack.life.years),
        ("loss", found.total_loss_w),
        ("cut", found.bus.cut_v),
    ):
        if not math.isfinite(value):
            bad.append(f"{name} {value}")
    if pack.usable_wh > pack.energy_wh:
        bad.append(f"{pack.usable_wh} Wh of {pack.energy_wh} usable")
    if pack.volts.sag >= pack.volts.full:
        bad.append(f"sags to {pack.volts.sag} V from {pack.volts.full}")
    bad += [f"{one.name}: {one.worst}, {one.loss_w} W" for one in found.pieces if math.isnan(one.worst) or not one.loss_w >= 0.0]
    made = Case(design, STOCK, drive, plain)
    made.made("pack", lambda: pack)
    made.made("wiring", lambda: found)
    for rule in (*PACK_RULES, *WIRING_RULES):
        for finding in rule.findings(made):
            words = finding.title.lower().split()
            if not words or "nan" in words:
                bad.append(f"{finding.code}: {finding.title!r}")
            told = finding.code.startswith("wiring.") and finding.code != "wiring.spun"
            if told and finding.status in (Status.OVER, Status.TIGHT):  # nobody told of any wiring
                bad.append(f"a proposal is {finding.status.value}: {finding.title}")
    return bad


class RandomDesignTest(unittest.TestCase):
    def test_random_vehicles_and_boats(self):
        for seed in range(12):
            for make in (random_design, random_boat) if seed % 4 == 0 else (random_design,):
                self.assertEqual(faults_of(make(seed, STOCK)), [], (make.__name__, seed))
        drives = 0
        for seed in range(12):
            with contextlib.suppress(WattagonError):
                drives += study_drive(random_design(seed, STOCK), STOCK) is not None
        self.assertGreater(drives, 8, "most of them can be worked out")


class LawTest(unittest.TestCase):
    def test_a_discharge_pays_for_the_heat_in_its_bricks(self):
        chance = random.Random(9)
        for _ in range(20):
            series, ah, ohm = chance.randint(4, 20), chance.uniform(2.0, 20.0), chance.uniform(0.005, 0.08)
            one = Brick(chemistry="nmc_energy", series=series, capacity_ah=ah, ohm=ohm)
            amps = chance.uniform(0.2, 1.0) * ah
            ended = run_down(Assembly(rows=((one,),), strings=True), amps, 2.5, steps=400)
            plain_pack = Pack(chemistry="nmc_energy", series=series, parallel=1, cell_ah=ah, cell_r0_ohm=ohm / series)
            left = float(ended.left[0])
            self.assertAlmostEqual(ended.capacity_ah, (1.0 - left) * ah, delta=0.01 * ah)
            wanted = plain_pack.chemical_wh(1.0, left) - ended.capacity_ah * ohm * amps
            self.assertAlmostEqual(ended.energy_wh / wanted, 1.0, delta=0.01)

    def test_a_charge_does_not_depend_on_its_step(self):
        pack = Pack(chemistry="nmc_power", series=10, parallel=4, cell_ah=4.0, cell_r0_ohm=0.013, cell_r1_ohm=0.006)
        fine, coarse = (charge_run(pack, 0.15, 5.0, 4.2, 0.8, step_s=step) for step in (1.0, 29.0))
        self.assertAlmostEqual(coarse.energy_in_wh / fine.energy_in_wh, 1.0, delta=0.01)
        whole = lambda run: run.constant_current_s + run.constant_voltage_s
        self.assertAlmostEqual(whole(coarse) / whole(fine), 1.0, delta=0.02)

    def test_thicker_is_cooler_and_more_current_is_warmer(self):
        cables = sorted((part for part in STOCK.all(CablePart) if part.id.endswith("awg")), key=lambda part: part.area_mm2)
        around = warmth.Around(air_c=30.0, bundle=2)
        rated = [warmth.ampacity_a(part.cable, around) for part in cables]
        self.assertEqual(rated, sorted(rated))
        for part in cables[::3]:
            temperatures = [warmth.copper_c(part.cable, around, share * warmth.ampacity_a(part.cable, around)) for share in (0.3, 0.6, 0.9)]
            self.assertEqual(temperatures, sorted(temperatures))
            ladder = short.ladder(part.cable, around)
            bears = [ladder.bears_a(seconds, 90.0) for seconds in (0.5, 2.0, 20.0, 200.0, 5000.0)]
            self.assertEqual(bears, sorted(bears, reverse=True))
            self.assertAlmostEqual(bears[-1] / warmth.ampacity_a(part.cable, around), 1.0, delta=0.01)
            self.assertLess(ladder.bears_a(10.0, 90.0, 0.7 * bears[-1]), ladder.bears_a(10.0, 90.0))
            self.assertGreater(short.first_order_a(part.cable, around, 1.0, 90.0), bears[0] * 0.6)
            self.assertLess(short.copper_only_a(part.cable.area_m2, 2.0, 30.0, 90.0), bears[1])

    def test_fuses_clear_sooner_the_more_flows(self):
        curves = [SLOW, FAST, *(part.times for part in STOCK.all(ConnectorPart) if hasattr(part, "times"))]
        for curve in curves:
            for which in ("earliest", "latest"):
                times = [clears_s(curve, multiple, which) for multiple in (1.4, 1.9, 2.5, 4.0, 8.0, 20.0)]
                self.assertEqual(times, sorted(times, reverse=True))
            for multiple in (1.4, 3.0, 9.0):
                self.assertLess(clears_s(curve, multiple, "earliest"), clears_s(curve, multiple, "latest"))

    def test_closing_on_an_empty_bank_stays_under_both_bounds(self):
        chance = random.Random(2)
        for _ in range(200):
            volts, ohm, henry, farad = (
                chance.uniform(10, 100),
                chance.uniform(0.003, 0.4),
                chance.uniform(1e-7, 5e-6),
                chance.uniform(1e-4, 6e-3),
            )
            amps, seconds, bank = precharge.inrush(volts, ohm, henry, farad)
            self.assertLessEqual(amps, volts / ohm * (1 + 1e-9))
            self.assertLessEqual(amps, volts * math.sqrt(farad / henry) * (1 + 1e-9))
            self.assertGreater(seconds, 0.0)
            self.assertLessEqual(bank, 2.0 * volts)

    def test_a_cut_current_stays_under_its_bound_and_over_the_pack(self):
        chance = random.Random(3)
        for _ in range(200):
            emf, amps, source = chance.uniform(20, 90), chance.uniform(1, 300), chance.uniform(0.002, 0.08)
            henry, farad, esr = chance.uniform(2e-7, 4e-6), chance.uniform(1e-4, 5e-3), chance.uniform(0.0, 0.03)
            peak = bus.cut_peak_v(emf, amps, source, henry, farad, esr)
            self.assertLessEqual(peak, bus.cut_bound_v(emf, amps, henry, farad, esr) + 1e-6)
            self.assertGreaterEqual(peak, emf - amps * source - 1e-6)

    def test_ripple_is_worst_near_half_throttle(self):
        amps = [bus.sine_ripple_a(100.0, m) for m in (0.1, 0.3, 0.6, 0.9, 1.1)]
        self.assertEqual(max(amps), amps[2])
        self.assertAlmostEqual(amps[2] / 100.0, bus.WORST_RIPPLE, delta=0.005)


if __name__ == "__main__":
    unittest.main()
