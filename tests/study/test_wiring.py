"""Wiring: pieces by time, fuses, pre-charge, bus, joints, control wires; both sides of every bound, and what is put on paper."""

import contextlib
import csv
import io
import itertools
import json
import math
import random
import tempfile
import unittest
from dataclasses import replace
from pathlib import Path
from xml.etree import ElementTree

import numpy as np

from tests.design.malformed import DEMO
from tests.study.rule_case import BIKE, BOARD, KART, STOCK, SidesCase, case, changed, known
from wattagon import cli
from wattagon.design import file
from wattagon.design.parts import CablePart, ConnectorPart, ContactorPart, FusePart
from wattagon.design.paths import apply
from wattagon.design.quantity import Known, Quantity
from wattagon.design.tree import Bank, Battery, BoxChoice, Piece, Wire, Wiring
from wattagon.errors import InputError
from wattagon.exchange.wiring_out import cut_csv, cut_pdf, schematic
from wattagon.physics.ride.names import Stat
from wattagon.physics.wiring.copper import ALPHA_PER_K, LAY, RHO20_OHM_M
from wattagon.study.drive.study import study_drive
from wattagon.study.findings.status import Status
from wattagon.study.layout.study import study_layout
from wattagon.study.pack.study import study_pack
from wattagon.study.ride.profiles import profiles
from wattagon.study.ride.study import Ask, ride
from wattagon.study.wiring.control import FIND_OUT, looked_over, usual_wires
from wattagon.study.wiring.cutlist import cut_list, glands
from wattagon.study.wiring.loads import Branch, Current
from wattagon.study.wiring.path import around_of
from wattagon.study.wiring.pieces import held
from wattagon.study.wiring.rules import RULES, wired
from wattagon.study.wiring.study import study_wiring
from wattagon.study.wiring.ways import in_order, size_of, stepped, ways, with_piece

PUNT = file.read(DEMO / "garganey.json").design
GOOD = BOARD.variant().wiring
ONCE = {}


def at_rest(design):
    """A case whose wiring is held against its settings for an hour: no ride, quick."""
    made = case(design)
    made.made("pack", lambda: study_pack(design, STOCK, made.study))
    made.made("wiring", lambda: study_wiring(design, STOCK, made.study, made.made("pack", lambda: None), None))
    return made


def ridden(design):
    """A wiring with its rides; the demo designs' once."""
    drive, rides = study_drive(design, STOCK), profiles(design, STOCK)
    return study_wiring(
        design, STOCK, drive, study_pack(design, STOCK, drive, rides), study_layout(design, STOCK, drive, gaps=False), rides
    )


def demo(design, variant=None):
    key = (design.vehicle.name, variant)
    if key not in ONCE:
        ONCE[key] = ridden(replace(design, active=variant) if variant else design)
    return ONCE[key]


def with_wiring(design=BOARD, **fields):
    return changed(design, variant__wiring=replace(GOOD if design is BOARD else design.variant().wiring, **fields))


def with_part(code, design=BOARD, **fields):
    told = design.variant().wiring
    return changed(design, variant__wiring=replace(told, pieces=tuple(replace(p, **fields) if p.id == code else p for p in told.pieces)))


def verdicts(design, code):
    rule = next(rule for rule in RULES if rule.code == code)
    return {finding.code.removeprefix(f"{code}."): finding for finding in rule.findings(at_rest(design))}


class WiringTest(SidesCase):
    def verdicts(self, design, code):
        return verdicts(design, code)

    # the path

    def test_a_proposed_path_bears_what_every_demo_vehicle_asks(self):
        for design, variant in ((BIKE, "A"), (PUNT, "A"), (KART, "B")):
            found = demo(design, variant)
            self.assertTrue(found.proposed)
            self.assertEqual({one.branch.code for one in found.pieces} & {"pack", "phase", "charge"}, {"pack", "phase", "charge"})
            for one in found.pieces:
                self.assertIs(one.status, Status.CLEAR, (design.vehicle.name, one.name, one.worst))
            self.assertIs(found.fuses["fuse"].status, Status.CLEAR, design.vehicle.name)

    def test_nothing_is_judged_that_nobody_told(self):
        made = at_rest(BIKE)
        for rule in RULES:
            for finding in rule.findings(made):
                self.assertNotIn(finding.status, (Status.OVER, Status.TIGHT), finding.title)

    def test_branches_share_and_shared_pieces_carry_the_sum(self):
        found = demo(BOARD)
        by = found.branches
        self.assertEqual(by["controller"].count, 2)
        self.assertAlmostEqual(by["pack"].window(10.0), 2.0 * by["controller"].window(10.0), places=6)
        kart = demo(KART)
        self.assertEqual(kart.branches["brick"].count, 2)
        self.assertAlmostEqual(kart.branches["brick"].peak[0], 0.5 * kart.branches["pack"].peak[0], places=6)

    def test_loss_temperature_and_equivalent_current_go_together(self):
        found = demo(BOARD)
        for one in found.pieces:
            if one.kind != "lead":
                continue
            part = STOCK.get(CablePart, one.laid.piece.part)
            ohm = part.cable.ohm_m * one.copper_m * (1.0 + ALPHA_PER_K * (one.temperature_c - 20.0))
            self.assertAlmostEqual(one.loss_w, one.rms_a**2 * ohm, delta=1e-9 + 1e-6 * one.loss_w)
            self.assertAlmostEqual(part.cable.ohm_m, RHO20_OHM_M * LAY / part.cable.area_m2, delta=0.01 * part.cable.ohm_m)
            self.assertGreater(one.temperature_c, one.laid.around.air_c)
            peak = max(float(np.max(c.amps, initial=0.0)) for c in one.branch.currents)
            self.assertLessEqual(one.rms_a, peak * (1 + 1e-9))

    def test_told_leads_stand_in_the_drive(self):
        guess = Quantity(value=0.006)
        resolved = study_drive(changed(BOARD, variant__pack__wiring_ohm=guess), STOCK).resolved
        self.assertNotAlmostEqual(float(resolved.train.pack.wiring_ohm), 0.006, places=4)
        bare = study_drive(changed(BOARD, variant__wiring=None, variant__pack__wiring_ohm=guess), STOCK).resolved
        self.assertAlmostEqual(float(bare.train.pack.wiring_ohm), 0.006)
        phases = next(one for one in demo(BOARD).pieces if one.code == "phases").bears.ohm
        more = float(resolved.train.motor.resistance_ohm) - float(bare.train.motor.resistance_ohm)
        self.assertGreater(more, 2.0 * phases)
        self.assertLess(more, 3.0 * phases)

    def test_a_stated_resistance_far_off_the_told_path(self):
        loop = at_rest(BOARD).made("wiring", lambda: None).loop_ohm
        stated = lambda share: changed(BOARD, variant__pack__wiring_ohm=known(share * loop))
        for share, wanted in ((1.4, False), (1.6, True), (0.7, False), (0.6, True)):
            self.assertEqual(bool(verdicts(stated(share), "wiring.counted")), wanted, share)
        off = stated(3.0)
        cured = apply(off, verdicts(off, "wiring.counted")["wiring.counted"].candidates()[0])
        self.assertEqual(verdicts(cured, "wiring.counted"), {})

    def test_longer_thinner_warmer_is_worse(self):
        base = demo(BOARD).piece("lead")
        thin = ridden(with_part("lead", part="lead-14awg")).piece("lead")
        self.assertGreater(thin.share, 1.8 * base.share)
        self.assertGreater(thin.temperature_c, base.temperature_c)
        made = at_rest(BOARD).made("wiring", lambda: None).piece("lead")
        for change in ({"laid": "case"}, {"laid": "wrapped"}, {"bundle": 4}):
            self.assertGreater(at_rest(with_part("lead", **change)).made("wiring", lambda: None).piece("lead").share, made.share, change)
        for path, value in (("brief__conditions__air_temperature", 45.0), ("brief__conditions__sun", 900.0)):
            hot = at_rest(changed(BOARD, **{path: known(value)})).made("wiring", lambda: None).piece("lead")
            self.assertGreater(hot.share, made.share, path)

    # pieces by time

    def branch(self, *segments):
        seconds, amps = (np.array(column, dtype=float) for column in zip(*segments, strict=True))
        return Branch(code="pack", name="pack", count=1, poles=2, currents=(Current("r", "a run", seconds, amps),))

    def held(self, piece, branch):
        around, limit = around_of(BOARD, piece, branch.poles, None)
        from wattagon.study.wiring.path import Laid

        cable = STOCK.get(CablePart, "lead-10awg").cable
        laid = Laid(piece=piece, around=around, limit_c=limit, length_m=0.5, length_known=Known.MEASURED, beside=cable, told=True)
        return held(laid, branch, STOCK)

    def test_a_short_peak_passes_where_a_long_one_does_not(self):
        lead = Piece(id="x", kind="lead", part="lead-10awg")
        rating = self.held(lead, self.branch((10, 1.0))).bears.rating_a
        self.assertIs(self.held(lead, self.branch((3, 2.0 * rating), (600, 0.1 * rating))).status, Status.CLEAR)
        self.assertIs(self.held(lead, self.branch((900, 2.0 * rating))).status, Status.OVER)
        for share, wanted in ((0.79, Status.CLEAR), (0.81, Status.TIGHT), (0.99, Status.TIGHT), (1.02, Status.OVER)):
            self.assertIs(self.held(lead, self.branch((20000, share * rating))).status, wanted, share)

    def test_every_kind_of_piece_bears_less_the_longer_it_lasts(self):
        parts = {"lead": "lead-8awg", "joint": "bullet-5p5", "key": "bullet-5p5", "fuse": "strip-58-100", "contactor": "contactor-96-150"}
        parts |= {"board": "board-10-60"}
        for kind, part in parts.items():
            one = self.held(Piece(id="x", kind=kind, part=part), self.branch((60, 20.0)))
            bears = [most for _, _, most in one.points]
            self.assertTrue(all(a >= b - 1e-6 for a, b in itertools.pairwise(bears)), (kind, bears))
            self.assertGreaterEqual(bears[-1], one.bears.rating_a * 0.999)

    def test_what_nobody_rated_is_not_checked(self):
        self.assertIs(self.held(Piece(id="x", kind="switch"), self.branch((60, 20.0))).status, Status.NOT_CHECKED)
        told = Piece(id="x", kind="switch", rating=known(19.0))
        self.assertIs(self.held(told, self.branch((6000, 20.0))).status, Status.OVER)

    def test_a_connector_rated_for_a_third_is_over_and_cured(self):
        first = replace(BOARD, active="A")
        found = verdicts(first, "wiring.piece")["plug"]
        self.assertIs(found.status, Status.OVER)
        cured = apply(first, found.candidates()[0])
        after = at_rest(cured).made("wiring", lambda: None).piece("plug")
        self.assertLess(after.worst, at_rest(first).made("wiring", lambda: None).piece("plug").worst)

    def test_thousand_random_pieces(self):
        chance = random.Random(8)
        kinds = {"lead": CablePart, "joint": ConnectorPart, "key": ConnectorPart, "fuse": FusePart, "contactor": ContactorPart}
        loads = [
            self.branch(
                *((chance.uniform(0.2, 400.0), chance.choice((0.0, 5.0, 60.0, 300.0, 2000.0))) for _ in range(chance.randint(1, 6)))
            )
            for _ in range(25)
        ]
        stock = {kind: STOCK.all(cls) for kind, cls in kinds.items()}
        for _ in range(1000):
            kind = chance.choice(list(kinds))
            part = chance.choice(stock[kind][:: 3 if kind != "lead" else 2]).id
            laid = "case" if chance.random() < 0.1 else "free"
            one = self.held(Piece(id="x", kind=kind, part=part, laid=laid), chance.choice(loads))
            for value in (one.rms_a, one.loss_w, one.drop_v, one.bears.rating_a, one.bears.tau_s, *(m for _, _, m in one.points)):
                self.assertFalse(math.isnan(value), (kind, part))
            self.assertFalse(math.isnan(one.temperature_c))
            self.assertIn(one.status, (Status.CLEAR, Status.TIGHT, Status.OVER))

    def test_a_lug_never_stands_in_for_what_parts_by_hand(self):
        shapes = lambda kind, part, branch="pack": {
            one.shape for one in in_order(Piece(id="one", kind=kind, part=part, branch=branch), STOCK)
        }
        for kind, part, branch in (
            ("joint", "pins-30", "pack"),
            ("key", "bullet-8p0", "pack"),
            ("joint", "bullet-5p5", "phase"),
            ("joint", "", "pack"),
        ):
            found = shapes(kind, part, branch)
            self.assertTrue(found, part)
            self.assertNotIn("lug", found, part)
        self.assertEqual(shapes("joint", "lug-m6"), {"lug"})

    def test_another_connector_brings_its_other_half(self):
        found = demo(BOARD)
        piece = lambda design: next(one for one in design.variant().wiring.pieces if one.id == "plug")
        self.assertEqual(piece(BOARD).mate, piece(BOARD).part)
        moved = apply(BOARD, stepped(found, found.piece("plug"), STOCK, -1))
        self.assertNotEqual(piece(moved).part, piece(BOARD).part)
        self.assertEqual(piece(moved).mate, piece(moved).part)
        odd = apply(BOARD, with_piece(found, "plug", "odd", mate="bullet-3p5"))
        again = apply(odd, with_piece(at_rest(odd).made("wiring", lambda: None), "plug", "another", part="bullet-5p5"))
        self.assertEqual(piece(again).mate, "bullet-3p5")  # told to be another: it stays on the other side

    def test_other_parts_stand_in_order_and_can_be_stepped(self):
        found = demo(BOARD)
        one = found.piece("lead")
        order = in_order(one.laid.piece, STOCK)
        self.assertEqual([size_of(p) for p in order], sorted(size_of(p) for p in order))
        shares = {way.part.id: way.share for way in ways(found, one, STOCK)}
        self.assertGreater(max(shares.values()), one.worst)
        self.assertLess(min(shares.values()), one.worst)
        up = apply(BOARD, stepped(found, one, STOCK, +1))
        self.assertGreater(STOCK.get(CablePart, up.variant().wiring.pieces[5].part).area_mm2, 8.37)
        self.assertIsNone(stepped(found, one, STOCK, 99))
        proposed = demo(BIKE, "A")
        taken = apply(BIKE, with_piece(proposed, "lead", "thicker", part="lead-2awg")).variant().wiring
        self.assertEqual(len(taken.pieces), len(proposed.pieces))

    def test_another_contactor_keeps_the_volts_of_its_coil(self):
        found = at_rest(KART).made("wiring", lambda: None)
        now = STOCK.get(ContactorPart, found.piece("main").laid.piece.part)
        coils = {part.coil_v for part in in_order(found.piece("main").laid.piece, STOCK)}
        self.assertEqual(coils, {now.coil_v})
        self.assertEqual(len({part.coil_v for part in in_order(Piece(id="x", kind="contactor"), STOCK)}), 3)

    # fuses

    def test_leads_too_thin_for_any_fuse_are_cured_together_with_it(self):
        thin = apply(BOARD, with_piece(demo(BOARD), "lead", "thin", part="lead-16awg"))
        found = next(v for key, v in verdicts(thin, "wiring.fuse").items() if key == "fuse")
        self.assertIs(found.status, Status.OVER)
        after = [at_rest(apply(thin, edit)).made("wiring", lambda: None) for edit in found.candidates()]
        both = [one for one in after if one.fuses["fuse"].status is not Status.OVER]
        self.assertTrue(both)
        self.assertGreater(both[0].piece("lead").laid.beside.area_m2, 1.4e-6)

    def test_the_five_tests(self):
        good = demo(BOARD).fuses["fuse"]
        self.assertEqual([test.code for test in good.tests], ["carry", "protect", "volts", "break", "clear"])
        self.assertIs(good.status, Status.CLEAR)

        def failed(part, **more):
            found = at_rest(with_part("fuse", part=part, **more)).made("wiring", lambda: None).fuses["fuse"]
            return {test.code for test in found.tests if test.status is Status.OVER}

        self.assertIn("carry", failed("cartridge-150-30"))
        self.assertIn("protect", failed("cartridge-150-200"))
        self.assertIn("volts", failed("blade-32-30"))
        self.assertIn("clear", failed("strip-58-250"))
        pouch = changed(with_wiring(), variant__pack__part="pouch-10", variant__pack__parallel=6)
        found = at_rest(changed(pouch, variant__wiring=with_part("fuse", part="strip-58-100").variant().wiring))
        self.assertIn("break", {t.code for t in found.made("wiring", lambda: None).fuses["fuse"].tests if t.status is Status.OVER})

    def test_no_fuse_and_a_fuse_far_from_the_cells(self):
        bare = with_wiring(pieces=tuple(p for p in GOOD.pieces if p.kind != "fuse"))
        self.sides("wiring.fused", BOARD, bare)
        self.assertIs(
            self.status(apply(bare, verdicts(bare, "wiring.fused")["wiring.fused"].candidates()[0]), "wiring.fused"), Status.CLEAR
        )
        for metres, wanted in ((0.2, Status.CLEAR), (0.21, Status.TIGHT), (0.51, Status.OVER)):
            self.assertIs(self.status(with_part("fuse", from_cells=known(metres)), "wiring.fused"), wanted)

    # pre-charge and bus

    def test_precharge_on_both_sides(self):
        none = with_wiring(with_part("key", part="bullet-8p0", spark=""))
        none = changed(BOARD, variant__wiring=replace(with_part("key", part="bullet-8p0", spark="").variant().wiring, precharge=""))
        found = verdicts(none, "wiring.precharge")["wiring.precharge"]
        self.assertIs(found.status, Status.OVER)
        self.sides("wiring.precharge", apply(none, found.candidates()[0]), none)
        small = changed(none, variant__wiring__bank=Bank(farad=known(0.0002)))
        self.assertIs(self.status(small, "wiring.precharge"), Status.CLEAR)  # under half a joule, ten cells
        touch = demo(BOARD).precharge
        self.assertGreater(touch.touch_share, 0.9)
        self.assertLess(touch.spark_j, 0.02 * touch.bank_j)
        load = replace(none.variant().wiring, precharge="pre-100-10", bank=Bank(farad=known(0.002), standing=known(8.0)))
        stalled = changed(BOARD, variant__wiring=load)
        self.assertIs(self.status(stalled, "wiring.precharge"), Status.OVER)
        self.assertIn("open, do not close", verdicts(stalled, "wiring.precharge")["wiring.precharge"].title)

    def test_long_apart_leads_overshoot(self):
        rated = changed(BOARD, variant__controller__overrides__voltage_max_v=known(50.0))
        far = changed(rated, variant__wiring=replace(GOOD, apart=known(0.6), bank=Bank(farad=known(0.00004), esr=known(0.0))))
        self.assertIs(self.status(far, "wiring.overshoot"), Status.OVER)
        self.assertIs(self.status(rated, "wiring.overshoot"), Status.CLEAR)
        a, b = (at_rest(d).made("wiring", lambda: None).bus for d in (rated, far))
        self.assertGreater(b.henry, 2.0 * a.henry)
        self.assertGreater(b.cut_v, a.cut_v + 3.0)

    def test_the_spinning_motor_alone(self):
        top = demo(BOARD).bus.spun_v
        rated = lambda share: changed(BOARD, variant__controller__overrides__voltage_max_v=known(top / share), variant__wiring__bank=None)
        for share, wanted in ((0.79, Status.CLEAR), (0.93, Status.TIGHT), (0.97, Status.OVER)):
            made = case(rated(share))
            rule = next(rule for rule in RULES if rule.code == "wiring.spun")
            self.assertIs(rule.findings(made)[0].status, wanted)

    def test_ripple_and_phase_leads(self):
        ripple = at_rest(BOARD).made("wiring", lambda: None).bus.ripple_a
        bank = lambda amps: changed(BOARD, variant__wiring=replace(GOOD, bank=Bank(ripple=known(amps))))
        self.sides("wiring.ripple", bank(1.26 * ripple), bank(0.9 * ripple))
        self.assertIs(self.status(changed(BOARD, variant__wiring__bank=Bank()), "wiring.ripple"), Status.NOT_CHECKED)
        long = with_part("phases", length=known(6.0))
        self.sides("wiring.phases", with_part("phases", length=known(0.1)), long)

    def test_a_resistor_brake_with_and_without_its_interlock(self):
        brake = lambda lock, part="brake-0p5-clad": changed(BOARD, variant__wiring=replace(GOOD, brake=part, interlock=lock))
        self.assertIs(self.status(brake(""), "wiring.brake"), Status.NOT_CHECKED)
        self.sides("wiring.brake", brake("yes"), brake("no"))
        found = at_rest(brake("yes")).made("wiring", lambda: None).brake
        self.assertEqual(found.force_n[0], 0.0)  # nothing at rest
        self.assertGreater(found.force_n[6], found.force_n[2])
        small = at_rest(brake("yes", "brake-4p7-wound")).made("wiring", lambda: None).brake
        self.assertLess(max(small.force_n), max(found.force_n))

    def test_a_closed_box(self):
        size = lambda mm: known(mm / 1e3)
        made = lambda box: changed(BOARD, variant__wiring=replace(GOOD, box=box), brief__conditions__air_temperature=known(38.0))
        tiny = BoxChoice(length=size(70), width=size(50), height=size(30))
        ridden_box = lambda box: next(f for rule in RULES if rule.code == "wiring.box" for f in rule.findings(case(made(box)))).status
        self.assertIs(ridden_box(tiny), Status.OVER)
        self.assertIs(ridden_box(BoxChoice(length=size(700), width=size(500), height=size(300))), Status.CLEAR)
        self.assertIsNot(ridden_box(replace(tiny, plate=known(0.3))), Status.OVER)

    def test_rides_take_the_air_of_a_told_box(self):
        size = lambda mm: known(mm / 1e3)
        boxed = changed(BOARD, variant__wiring=replace(GOOD, box=BoxChoice(length=size(120), width=size(80), height=size(50))))
        hottest = lambda design: ride(design, STOCK, Ask(run="full-climb")).run.stat(Stat.CONTROLLER)
        self.assertGreater(hottest(boxed), hottest(BOARD) + 3.0)
        both = changed(boxed, variant__controller__box_area=0.05)
        self.assertAlmostEqual(hottest(both), hottest(boxed))  # one value: the faces count, the plain area does not

    # joints, leads, reach

    def test_halves_that_do_not_mate(self):
        self.sides("wiring.mates", BOARD, with_part("bullets", mate="bullet-3p5"))
        bad = with_part("bullets", mate="bullet-3p5")
        for edit in verdicts(bad, "wiring.mates")["wiring.mates"].candidates():
            self.assertIs(self.status(apply(bad, edit), "wiring.mates"), Status.CLEAR)
        self.assertIs(self.status(with_part("plug", mate=""), "wiring.mates"), Status.NOT_CHECKED)

    def test_the_live_half_and_thick_leads_in_thin_contacts(self):
        self.assertEqual(verdicts(BOARD, "wiring.live_half"), {})
        self.assertIs(self.status(with_part("plug", pack_side="plug"), "wiring.live_half"), Status.OVER)
        self.assertEqual(verdicts(BOARD, "wiring.takes"), {})
        self.assertIs(self.status(with_part("plug", part="bullet-2p0", mate="bullet-2p0"), "wiring.takes"), Status.TIGHT)

    def test_a_disconnect_in_reach(self):
        self.sides("wiring.disconnect", BOARD, with_part("key", reach="no"))
        self.assertIs(self.status(with_part("key", reach=""), "wiring.disconnect"), Status.NOT_CHECKED)
        bare = with_wiring(pieces=tuple(p for p in GOOD.pieces if p.kind != "key"))
        self.assertIs(self.status(bare, "wiring.disconnect"), Status.OVER)
        cured = apply(bare, verdicts(bare, "wiring.disconnect")["wiring.disconnect"].candidates()[0])
        self.assertIs(self.status(cured, "wiring.disconnect"), Status.CLEAR)

    def test_coils_switches_and_volts_to_touch(self):
        self.sides("wiring.contactor", KART, with_part("main", KART, coil="none"), key="main")
        self.assertIs(self.status(with_part("main", KART, coil="diode"), "wiring.contactor", "main"), Status.TIGHT)
        self.assertIs(self.status(with_part("main", KART, coil=""), "wiring.contactor", "main"), Status.NOT_CHECKED)
        switch = lambda volts: with_wiring(pieces=(*GOOD.pieces, Piece(id="sw", kind="switch", volts=volts, rating=known(200.0))))
        self.sides("wiring.switch", switch(known(42.0)), switch(known(41.0)), key="sw")
        self.assertIs(self.status(switch(None), "wiring.switch", "sw"), Status.NOT_CHECKED)
        self.assertEqual(verdicts(changed(BOARD, variant__pack__series=14), "wiring.touch"), {})  # 58.8 V
        self.assertIn("wiring.touch", verdicts(changed(BOARD, variant__pack__series=15), "wiring.touch"))

    def test_edges_bends_and_relief(self):
        edge = lambda gap: with_part("lead", edge="carbon", edge_gap=known(gap))
        self.sides("wiring.chafes", edge(0.005), edge(0.0049))
        self.assertIs(self.status(with_part("lead", edge=""), "wiring.chafes"), Status.NOT_CHECKED)
        outer = STOCK.get(CablePart, "lead-8awg").outer_mm / 1e3
        bend = lambda times: with_part("lead", bend=known(times * outer))
        self.assertIs(self.status(bend(4.1), "wiring.bends"), Status.CLEAR)
        self.assertIs(self.status(bend(3.9), "wiring.bends"), Status.TIGHT)
        self.assertIs(self.status(bend(1.9), "wiring.bends"), Status.OVER)
        self.assertIs(self.status(with_part("lead", bend=known(5.0 * outer), moves=True), "wiring.bends"), Status.TIGHT)
        self.assertIs(self.status(with_part("plug", held="no"), "wiring.relief"), Status.TIGHT)
        self.assertEqual(verdicts(BOARD, "wiring.relief"), {})
        ohm = STOCK.get(CablePart, "lead-8awg").cable.ohm_m * 0.31
        self.assertEqual(verdicts(with_part("lead", ohm=known(1.2 * ohm)), "wiring.measured"), {})
        self.assertIs(self.status(with_part("lead", ohm=known(1.3 * ohm)), "wiring.measured"), Status.OVER)

    def test_drop_of_the_loop(self):
        long = lambda metres: with_part("lead", length=known(metres), part="lead-10awg")
        self.assertIs(self.status(BOARD, "wiring.drop"), Status.CLEAR)
        self.sides("wiring.drop", long(0.4), long(6.0))

    # control wires

    def weights(self, *wires):
        return {one.code: one.weight for one in looked_over(wires)}

    def test_one_supply_one_ground_known_colours_an_enable_chain(self):
        self.assertEqual(set(self.weights(*GOOD.wires).values()), {"clear"})
        two = Wire(signal="5 V", start="controller 2", end="receiver", found="red")
        self.assertEqual(self.weights(*GOOD.wires, two)["two_feed"], "over")
        second = Wire(signal="ground", start="controller 2", end="receiver", found="black")
        self.assertEqual(self.weights(*GOOD.wires, second)["ground"], "tight")
        power = Wire(signal="ground", start="pack", start_pin="pack minus", end="receiver", found="black")
        self.assertEqual(self.weights(*GOOD.wires, power)["ground"], "over")
        self.assertEqual(self.weights(*GOOD.wires, Wire(signal="x", start="a"))["colours"], "not_checked")
        self.assertEqual(self.weights(*GOOD.wires, Wire(signal="x", start="a", cut=True))["colours"], "over")
        self.assertEqual(self.weights(*(w for w in GOOD.wires if w.signal != "enable"))["enable"], "tight")
        self.assertEqual(looked_over(()), [])

    def test_the_finding_leaves_one_supply(self):
        first = replace(BOARD, active="A")
        found = verdicts(first, "wiring.control")["two_feed"]
        self.assertIs(found.status, Status.OVER)
        self.assertIs(self.status(apply(first, found.candidates()[0]), "wiring.control", "two_feed"), Status.CLEAR)

    def test_the_usual_wires_of_every_vehicle(self):
        for design in (BOARD, KART, BIKE, PUNT):
            wires = usual_wires(design, study_drive(design, STOCK).resolved)
            found = self.weights(*wires)
            self.assertEqual((found["two_feed"], found["ground"], found["enable"]), ("clear", "clear", "clear"))
            self.assertNotIn("pin", found)
        self.assertGreaterEqual(len(FIND_OUT), 12)

    def test_what_a_design_refuses(self):
        for build in (
            lambda: Piece(id="x", kind="hose"),
            lambda: Piece(id="x", kind="lead", branch="moon"),
            lambda: Piece(id="x", kind="lead", edge="glass"),
            lambda: Wiring(pieces=(Piece(id="x", kind="lead"), Piece(id="x", kind="fuse"))),
            lambda: Wiring(interlock="perhaps"),
            lambda: Battery(school="third"),
        ):
            with self.assertRaises(InputError):
                build()

    # on paper

    def test_cut_list_and_glands(self):
        found = demo(BOARD)
        cuts = cut_list(found, STOCK)
        phases = [cut for cut in cuts if cut.name == "phase leads"]
        self.assertEqual(len(phases), 3)
        self.assertTrue(all(cut.pieces == 2 and 0.42 <= cut.length_m <= 0.46 and cut.colour == "blue" for cut in phases))
        self.assertEqual({cut.colour for cut in cuts if cut.name == "pack lead"}, {"red", "black"})
        self.assertEqual(glands(found, STOCK), [])
        boxed = at_rest(with_part("lead", laid="case")).made("wiring", lambda: None)
        (hole,) = glands(boxed, STOCK)
        self.assertEqual((hole.pieces, hole.thread_mm), (2, 16.0))
        rows = list(csv.reader(io.StringIO(cut_csv(boxed, STOCK))))
        self.assertEqual(rows[0][0], "lead")
        self.assertIn("gland thread mm", rows[-2])
        paper = cut_pdf(boxed, STOCK)
        self.assertTrue(paper.startswith(b"%PDF"))
        pages = lambda of: cut_pdf(of, STOCK).count(b"/Type /Page\n")
        self.assertEqual(pages(boxed) - pages(found), 1)  # the holes have one of their own

    def test_the_schematic_has_every_piece_and_every_wire(self):
        found = demo(BOARD)
        for every in (True, False):
            text = schematic(found, STOCK, every_wire=every)
            root = ElementTree.fromstring(text)
            groups = {g.get("id") for g in root.iter("{http://www.w3.org/2000/svg}g")}
            self.assertEqual(groups, {"pack", "controller", "phase", "charge", "control"})
            for piece in found.pieces:
                for word in piece.name.split():
                    self.assertIn(word, text)
            self.assertEqual(text.count("sensor"), 2 * sum("sensor" in w.signal for w in GOOD.wires))
        self.assertGreater(len(schematic(found, STOCK)), len(schematic(found, STOCK, every_wire=False)))


class WiringCommandTest(unittest.TestCase):
    def run_command(self, *words):
        out = io.StringIO()
        with contextlib.redirect_stdout(out):
            self.assertEqual(cli.main(["wiring", *words]), 0)
        return out.getvalue()

    def test_json_has_what_it_promises(self):
        data = json.loads(self.run_command(str(DEMO / "corncrake.json"), "--json"))
        wanted = {"name", "kind", "branch", "count", "length_m", "area_mm2", "rms_a", "peak_a", "peak_s", "rating_a", "drop_v", "loss_w"}
        for piece in data["pieces"]:
            self.assertLessEqual(wanted | {"temperature_c", "status", "tau_s", "run"}, set(piece))
        lead = next(p for p in data["pieces"] if p["id"] == "lead")
        ohm = RHO20_OHM_M * LAY * lead["length_m"] / (1e-6 * lead["area_mm2"]) * (1.0 + ALPHA_PER_K * (lead["temperature_c"] - 20.0))
        self.assertAlmostEqual(lead["loss_w"] / (lead["rms_a"] ** 2 * ohm), 1.0, delta=0.005)
        self.assertAlmostEqual(lead["length_m"], 1.1)
        self.assertEqual([t["name"] for t in data["fuse"]["tests"]], ["carry", "protect", "volts", "break", "clear"])
        self.assertEqual(data["precharge"]["ohm"], 100.0)
        self.assertAlmostEqual(data["precharge"]["seconds"], 2.9957 * 100.0 * 0.0018, places=3)
        for name in ("spark_j", "total_loss_w", "range_lost_m"):
            self.assertGreater(data[name], 0.0)

    def test_files(self):
        with tempfile.TemporaryDirectory() as folder:
            svg, table, paper = (Path(folder) / name for name in ("w.svg", "w.csv", "w.pdf"))
            said = self.run_command(str(DEMO / "dunlin.json"), "--svg", str(svg), "--cut-list", str(table), "--one-line")
            self.assertIn("written", said)
            self.assertIn("</svg>", svg.read_text())
            self.assertIn("phase leads", table.read_text())
            self.run_command(str(DEMO / "dunlin.json"), "--cut-list", str(paper))
            self.assertTrue(paper.read_bytes().startswith(b"%PDF"))

    def test_refusals(self):
        for words in (("--one-line",), ("--cut-list", "x.doc")):
            out = io.StringIO()
            with contextlib.redirect_stderr(out):
                self.assertNotEqual(cli.main(["wiring", str(DEMO / "dunlin.json"), *words]), 0)
            self.assertIn(words[0], out.getvalue())
        self.assertIsNotNone(wired)


if __name__ == "__main__":
    unittest.main()
