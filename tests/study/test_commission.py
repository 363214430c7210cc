"""Commissioning: ranges that agree with the drive, verdicts on both sides of every bound, what reopens a step, signatures, paper."""

import contextlib
import datetime
import io
import json
import math
import tempfile
import unittest
from dataclasses import replace
from pathlib import Path

from tests.design.malformed import DEMO
from tests.random_designs import random_design
from tests.study.rule_case import BIKE, BOARD, KART, STOCK, case, changed
from tests.study.test_strength import zlib_texts
from wattagon.cli import main
from wattagon.design import file
from wattagon.design.paths import apply, put
from wattagon.design.quantity import Known
from wattagon.design.tree import BuildPart, Commissioning, Control, Entry, EntryKind, Incident, Lever, Seen, Throttle, Value
from wattagon.errors import InputError
from wattagon.exchange.commission_json import commission_data
from wattagon.exchange.commission_pdf import between, commission_pdf, handover_pdf
from wattagon.physics.thermal import settles
from wattagon.study.commission.enter import looked, read, sign, takes
from wattagon.study.commission.items import DUTIES
from wattagon.study.commission.judge import Verdict, judge, within
from wattagon.study.commission.rules import RULES, commissioned
from wattagon.study.commission.state import marks
from wattagon.study.commission.study import HANDED, study_commission
from wattagon.study.drive.study import point_at, study_drive
from wattagon.study.findings.status import Status
from wattagon.study.history.study import due

TODAY = datetime.date(2026, 11, 29)
PUNT = file.read(DEMO / "garganey.json").design


def fresh(design):
    """Nothing read yet."""
    return put(replace(design, history=()), "variant.commissioning", None)


BASES = {}


def study(design):
    """Ranges once for a design, what was read over them."""
    for known, made in BASES.values():
        if known == put(replace(design, history=()), "variant.commissioning", None):
            return study_commission(made, design)
    found = commissioned(case(design))
    BASES[len(BASES)] = (put(replace(design, history=()), "variant.commissioning", None), found.grounds)
    return found


B, K, P, W = fresh(BOARD), fresh(KART), fresh(PUNT), fresh(BIKE)


def seen(code, figures, verdict=""):
    return Seen(id=code, values=tuple(Value(name=name, value=value) for name, value in figures.items()), verdict=verdict)


def good(one):
    """Figures that hold, by name."""
    figures = {}
    for each in one.item.reads:
        for name in each.names:
            if math.isfinite(each.expects):
                value = min(max(each.expects, each.low), each.high)
            elif math.isfinite(each.low) and math.isfinite(each.high):
                value = each.low + 0.4 * (each.high - each.low)
            else:
                value = 2.0 * each.low if math.isfinite(each.low) else 0.5 * each.high
            figures[name] = value
    return figures


def passed(design, code):
    """With one step done and held."""
    one = study(design).step(code)
    if one.item.reads:
        design = apply(design, read(design, one, TODAY, good(one), "Ines"))
    one = study(design).step(code)
    return apply(design, looked(design, one, TODAY, "held", "Ines")) if one.item.looked else design


def all_passed(design, last=""):
    for one in study(design).applying:
        design = passed(design, one.item.id)
        if one.item.id == last:
            break
    return design


class ApplyTest(unittest.TestCase):
    def test_all_of_the_list_are_there_in_order(self):
        ids = [one.item.id for one in study(B).steps]
        wanted = [f"A{k}" for k in range(1, 10)] + [f"B{k}" for k in range(1, 8)] + [f"C{k}" for k in range(1, 9)]
        self.assertEqual(ids[: len(wanted)], wanted)
        self.assertEqual([code for code in ids if code.startswith("D")][:3], ["D1", "D2", "D3"])
        self.assertTrue({"D4", "D5", "D6", "D7", "D8", "D9"} <= set(ids))

    def test_only_what_applies(self):
        applies = lambda design: {one.item.id for one in study(design).applying}
        self.assertNotIn("B4", applies(B))  # no sensors
        self.assertIn("B4", applies(put(B, "variant.control", Control(sensor="hall"))))
        self.assertNotIn("D1", applies(P))
        self.assertNotIn("C6", applies(P))
        self.assertNotIn("D3r", applies(P))
        self.assertIn("D1", applies(K))
        lead = put(B, "variant.control", Control(throttle=Throttle(lever=Lever(kind="hall"))))
        self.assertNotIn("C2", applies(lead))
        hub = replace(W, active="B")
        self.assertNotIn("D7", applies(hub))
        self.assertIn("B4", applies(hub))
        for one in study(P).steps:
            self.assertEqual(bool(one.item.why_not), not one.item.applies)

    def test_each_step_has_how_and_what_is_accepted_and_its_stage_a_caution(self):
        for design in (B, K, P, W):
            found = study(design)
            for one in found.steps:
                self.assertTrue(one.item.how and one.item.accept, one.item.id)
                if one.item.applies:
                    self.assertTrue(one.item.reads or one.item.looked, one.item.id)
            self.assertTrue(all(stage.caution for stage in found.stages))


class RangeTest(unittest.TestCase):
    """Ranges are those of the core."""

    def read_of(self, design, code, name):
        return next(one for one in study(design).step(code).item.reads if one.name == name)

    def test_until_the_pack_is_read_they_are_for_half_a_charge(self):
        drive = study_drive(B, STOCK)
        half = float(drive.resolved.train.pack.emf_v(0.5))
        self.assertAlmostEqual(study(B).grounds.pack_v, half)
        self.assertAlmostEqual(self.read_of(B, "A2", "pack").expects, half)
        told = replace(seen("A2", {"pack": 41.5}), date="2026-11-01")
        full = put(B, "variant.commissioning", Commissioning(seen=(told,)))
        self.assertEqual(study(full).grounds.pack_v, 41.5)
        self.assertGreater(study(full).grounds.charge, 0.9)
        ratio = self.read_of(full, "B6", "rpm at 100%").expects / self.read_of(B, "B6", "rpm at 100%").expects
        self.assertAlmostEqual(ratio, 41.5 / half, delta=0.01)

    def test_no_load_speed_is_that_of_an_unloaded_motor_by_its_own_equation(self):
        drive = study_drive(B, STOCK)
        train = drive.resolved.train
        motor, volts = train.motor, study(B).grounds.pack_v
        for duty in DUTIES:
            each = self.read_of(B, "B6", f"rpm at {duty:.0%}")
            amps = self.read_of(B, "B6", f"amps at {duty:.0%}")
            dc = amps.expects * motor.dc_per_motor_amp
            ohm = float(motor.resistance_ohm) + float(train.controller.bridge_ohm)
            kv = float(motor.kv_rpm_per_v)
            self.assertAlmostEqual(each.expects, kv * (duty * volts - dc * ohm), delta=0.001 * each.expects)
            self.assertAlmostEqual(each.low, 0.95 * each.expects)
            self.assertAlmostEqual(each.high, 1.05 * each.expects)
            self.assertAlmostEqual((amps.low, amps.high), (0.7 * amps.expects, 1.3 * amps.expects))

    def test_volts_are_those_that_solve_gives(self):
        states = study_drive(B, STOCK).states
        self.assertAlmostEqual(self.read_of(B, "C8", "volts").high, float(study_drive(B, STOCK).resolved.train.pack.full_v))
        self.assertAlmostEqual(study(B).grounds.pack_v, states["nominal"].open_circuit_v, delta=0.02 * states["nominal"].open_circuit_v)
        self.assertAlmostEqual(self.read_of(B, "A7", "volts").low, study(B).grounds.full_v)

    def test_range_is_that_of_the_operating_point(self):
        for design in (B, K, P, W):
            wh = self.read_of(design, "D9", "wh")
            drive = study_drive(design, STOCK)
            _, speed = study(design).grounds.ride_wh_per_km()
            point = point_at(drive.resolved, speed_m_s=speed, charge=0.5, burst=False)
            self.assertAlmostEqual(wh.expects, point.bus_w / speed / 3.6)
            self.assertAlmostEqual((wh.low, wh.high), (0.8 * wh.expects, 1.2 * wh.expects))

    def test_tone_and_dock_and_roll_out(self):
        found = study(B)
        tone = self.read_of(B, "D1", "tone belt")
        self.assertAlmostEqual(tone.expects, found.grounds.loops[0].tone_hz)
        slack = next(each for each in study(K).step("D1").item.reads if each.name.startswith("slack"))
        self.assertAlmostEqual(slack.high, 2.0 * slack.low)
        pull = self.read_of(P, "D4", "pull")
        self.assertAlmostEqual(pull.expects, study_drive(P, STOCK).docks["nominal"].pull_n)
        radius = float(study_drive(B, STOCK).resolved.road.wheel_radius_m)
        self.assertAlmostEqual(self.read_of(B, "D3r", "way").expects, 20.0 * math.pi * radius)

    def test_a_fifth_of_the_settings(self):
        variant = B.variant()
        self.assertAlmostEqual(self.read_of(B, "B2", "motor").expects, 0.2 * variant.controller.motor_current_a)

    def test_iron_cells_and_lead_have_their_own_bounds(self):
        iron = next(part for part in STOCK.all(type(STOCK.find("cell-21-4p0-power"))) if part.chemistry == "lfp" and part.brick_series == 1)
        other = changed(B, variant__pack__part=iron.id)
        self.assertEqual((self.read_of(other, "A1", "group").low, self.read_of(other, "A1", "group").high), (2.8, 3.6))

    def test_ranges_of_random_designs_are_in_order(self):
        for seed in range(8):
            design = random_design(seed, STOCK)
            for one in commissioned(case(design)).applying:
                for each in one.item.reads:
                    self.assertFalse(math.isnan(each.low) or math.isnan(each.high), (seed, one.item.id, each.name))
                    self.assertLessEqual(each.low, each.high, (seed, one.item.id, each.name))
                    if math.isfinite(each.expects) and each.name != "pack":
                        self.assertTrue(within(each, each.expects), (seed, one.item.id, each.name))
                    self.assertTrue(between(each))


class VerdictTest(unittest.TestCase):
    def judged(self, code, figures, design=B, verdict=""):
        item = study(design).step(code).item
        values = tuple(Value(name=name, value=value) for name, value in figures.items())
        return judge(item, Seen(id=code, values=values, verdict=verdict))

    def test_every_reading_of_every_step_on_both_sides_of_its_bounds(self):
        for design in (B, K, P, W):
            for one in study(design).applying:
                figures = good(one)
                base = judge(one.item, seen(one.item.id, figures, "held"))
                self.assertIn(base.verdict, (Verdict.HELD, Verdict.TIGHT), (one.item.id, base.said))
                for each in one.item.reads:
                    for bound, away in ((each.low, -1.0), (each.high, 1.0)):
                        if not math.isfinite(bound):
                            continue
                        out = bound + away * max(1e-3 * abs(bound), 1e-6)
                        changed_figures = {**figures, each.names[0]: out}
                        made = judge(one.item, seen(one.item.id, changed_figures, "held"))
                        self.assertIs(made.verdict, Verdict.FAILED, (one.item.id, each.name, out))

    def test_what_is_not_read_yet_is_open(self):
        self.assertIs(self.judged("B6", {}).verdict, Verdict.OPEN)
        self.assertIs(self.judged("A8", {}).verdict, Verdict.OPEN)
        self.assertIs(self.judged("A8", {}, verdict="held").verdict, Verdict.HELD)
        self.assertIs(self.judged("A8", {}, verdict="failed").verdict, Verdict.FAILED)

    def cells(self, *volts):
        return self.judged("A1", {f"group {k + 1}": value for k, value in enumerate(volts)})

    def test_cells_may_be_20_mV_apart_and_must_not_be_50(self):
        base = [3.80] * 9
        self.assertIs(self.cells(*base, 3.82).verdict, Verdict.HELD)
        self.assertIs(self.cells(*base, 3.825).verdict, Verdict.TIGHT)
        self.assertIs(self.cells(*base, 3.85).verdict, Verdict.TIGHT)
        self.assertIs(self.cells(*base, 3.851).verdict, Verdict.FAILED)
        self.assertIn("group 4", self.cells(3.8, 3.8, 3.8, 3.74, 3.8, 3.8, 3.8, 3.8, 3.8, 3.8).said[0])

    def test_pairs_of_leads_must_be_alike(self):
        ohm = study(B).step("A6").item.reads[1].expects
        pairs = lambda share: self.judged("A6", {"housing": 2e7, "pair 1": ohm, "pair 2": ohm, "pair 3": share * ohm})
        self.assertIs(pairs(1.02).verdict, Verdict.HELD)
        self.assertIs(pairs(1.05).verdict, Verdict.TIGHT)
        self.assertIs(pairs(1.10).verdict, Verdict.FAILED)
        self.assertIs(self.judged("A6", {"housing": 2e7}).verdict, Verdict.HELD)  # pairs are not wanted

    def test_three_detections_must_agree(self):
        item = study(B).step("B3").item
        ohm, kv = item.reads[0].expects, item.reads[1].expects
        runs = lambda share: self.judged("B3", {"ohms 1": ohm, "ohms 2": ohm, "ohms 3": share * ohm, "kv 1": kv, "kv 2": kv, "kv 3": kv})
        self.assertIs(runs(1.02).verdict, Verdict.HELD)
        self.assertIs(runs(1.12).verdict, Verdict.FAILED)

    def test_the_sum_of_the_groups_is_what_the_plug_shows(self):
        groups = {f"group {k + 1}": 3.8 for k in range(10)}
        told = put(B, "variant.commissioning", Commissioning(seen=(seen("A1", groups),)))
        self.assertIs(self.judged("A2", {"pack": 38.18}, told).verdict, Verdict.HELD)
        self.assertIs(self.judged("A2", {"pack": 38.2}, told).verdict, Verdict.FAILED)
        self.assertIs(self.judged("A2", {"pack": -38.0}, told).verdict, Verdict.FAILED)

    def test_three_readings_tell_where_the_motor_settles(self):
        """T = 20 + 60 (1 - exp(-t/300 s)) at 2, 6 and 10 minutes leads to 80."""
        at = lambda t: 20.0 + 60.0 * (1.0 - math.exp(-t / 300.0))
        self.assertAlmostEqual(settles(at(120), at(360), at(600)), 80.0, 6)
        self.assertEqual(settles(50.0, 50.0, 50.0), 50.0)
        self.assertEqual(settles(20.0, 30.0, 40.0), math.inf)
        warm = lambda a, b, c: self.judged(
            "D6", {"motor 2 min": a, "motor 6 min": b, "motor": c, "controller": 40.0, "cells": 30.0, "connector": 30.0, "bearing": 30.0}
        )
        self.assertIs(warm(30.0, 40.0, 45.0).verdict, Verdict.HELD)
        self.assertIs(warm(40.0, 60.0, 75.0).verdict, Verdict.FAILED)  # on its way to 120
        self.assertIs(warm(50.0, 66.0, 75.0).verdict, Verdict.TIGHT)  # to 86.6: slow down
        self.assertIs(warm(30.0, 40.0, 50.0).verdict, Verdict.TIGHT)  # no end in sight

    def test_two_wheels_stop_within_a_fifth_of_each_other(self):
        self.assertIs(self.judged("D3", {"side 1": 10.0, "side 2": 8.0}, verdict="held").verdict, Verdict.HELD)
        self.assertIs(self.judged("D3", {"side 1": 10.0, "side 2": 7.9}, verdict="held").verdict, Verdict.FAILED)


class WayTest(unittest.TestCase):
    def test_a_failed_step_stops_the_way_and_is_found(self):
        one = study(B).step("A2")
        design = apply(B, read(B, one, TODAY, {"pack": 12.0}))
        found = study(design)
        self.assertEqual(found.stopped.item.id, "A2")
        self.assertTrue(found.may("A1"))
        self.assertTrue(found.may("A2"))
        self.assertFalse(found.may("A3"))
        self.assertFalse(found.may("D9"))
        rule = next(rule for rule in RULES if rule.code == "commission.failed")
        self.assertEqual([finding.status for finding in rule.findings(case(design))], [Status.OVER])
        self.assertEqual(rule.findings(case(B)), [])

    def test_the_step_in_hand_is_the_first_that_is_open(self):
        self.assertEqual(study(B).next.item.id, "A1")
        self.assertEqual(study(passed(B, "A1")).next.item.id, "A2")

    def test_a_stage_is_signed_once_all_of_it_held(self):
        with self.assertRaisesRegex(InputError, "A1"):
            sign(study(B), "A", "Ines", TODAY)
        design = all_passed(B, "A9")
        with self.assertRaisesRegex(InputError, "who signs"):
            sign(study(design), "A", "  ", TODAY)
        signed = apply(design, sign(study(design), "A", "Ines", TODAY))
        self.assertEqual(study(signed).stages[0].signed.name, "Ines")
        self.assertIn("Stage A", signed.history[-1].text)
        self.assertTrue(signed.history[-1].readings)
        self.assertIn(BuildPart.PACK, signed.history[-1].on)

    def test_hand_over_needs_all_and_asks_for_the_season_check(self):
        for base in (B, P):
            design = all_passed(base)
            self.assertTrue(study(design).ready)  # not signed
            with self.assertRaises(InputError):
                sign(study(design), HANDED, "Ines", TODAY)
            for stage in "ABCD":
                design = apply(design, sign(study(design), stage, "Ines", TODAY))
            self.assertEqual(study(design).ready, ())
            handed = apply(design, sign(study(design), HANDED, "Ines", TODAY))
            self.assertEqual(study(handed).handed.name, "Ines")
            rule = next(rule for rule in RULES if rule.code == "commission.open")
            self.assertEqual([finding.status for finding in rule.findings(case(handed))], [Status.CLEAR])
            season = next(one for one in due(handed, TODAY) if one.text.startswith("Season check"))
            self.assertFalse(season.overdue)
            later = next(one for one in due(handed, TODAY + datetime.timedelta(days=183)) if one.text.startswith("Season check"))
            self.assertTrue(later.overdue)
            self.assertEqual(season.hours, 50.0)
            self.assertIn("C5", season.text)


class ReopenTest(unittest.TestCase):
    def reopened(self, design, code):
        return study(design).step(code).reopened

    def test_a_change_of_part_wiring_or_firmware_reopens_what_rests_on_it(self):
        design = all_passed(B)
        self.assertFalse(any(one.reopened for one in study(design).applying))
        rewired = changed(design, variant__wiring__pieces=design.variant().wiring.pieces[:-1])
        self.assertIn("the wiring changed", self.reopened(rewired, "C1")[0])
        self.assertEqual(self.reopened(rewired, "A1"), ())
        self.assertEqual(self.reopened(rewired, "D1"), ())
        other_teeth = put(design, "variant.stages.0.driver_teeth", 14)
        self.assertTrue(self.reopened(other_teeth, "D1"))
        self.assertEqual(self.reopened(other_teeth, "C1"), ())
        told = design.variant().commissioning
        flashed = put(design, "variant.commissioning", replace(told, firmware="6.2"))
        for code in ("C1", "C2", "C3", "C5", "C6", "B1"):
            self.assertTrue(self.reopened(flashed, code), code)
        self.assertIs(study(flashed).step("C1").verdict, Verdict.OPEN)

    def test_raising_limits_and_taking_what_was_read_reopens_nothing(self):
        design = all_passed(B)
        raised = put(design, "variant.controller.motor_current_a", 60.0)
        self.assertFalse(any(one.reopened for one in study(raised).applying))
        taken = put(design, "variant.motor.kv_rpm_per_v", 168.0)
        self.assertEqual(marks(taken.variant())["motor"], marks(design.variant())["motor"])

    def test_a_repair_or_an_incident_in_the_history_does_so_too(self):
        design = all_passed(B)
        entry = lambda **more: Entry(id="later", date="2026-12-02", **more)
        repaired = replace(design, history=(entry(kind=EntryKind.REPAIR, text="new phase lead", on=(BuildPart.WIRING,)),))
        self.assertIn("new phase lead", self.reopened(repaired, "A8")[0])
        short = replace(design, history=(entry(kind=EntryKind.INCIDENT, incident=Incident.SHORT),))
        self.assertIn("short", self.reopened(short, "A1")[0])
        self.assertEqual(self.reopened(short, "D1"), ())
        earlier = replace(design, history=(Entry(id="x", date="2026-01-02", kind=EntryKind.INCIDENT, incident=Incident.SHORT),))
        self.assertEqual(self.reopened(earlier, "A1"), ())

    def test_reading_it_again_closes_it_and_begins_afresh(self):
        design = passed(put(B, "variant.control", Control(sensor="hall")), "C1")
        flashed = put(design, "variant.commissioning", replace(design.variant().commissioning, firmware="6.2"))
        one = study(flashed).step("C1")
        self.assertTrue(one.reopened)
        again = apply(flashed, looked(flashed, one, TODAY, "held", "Joris"))
        self.assertEqual(self.reopened(again, "C1"), ())
        self.assertTrue(study(again).step("C1").passed)

    def test_a_signature_under_a_stage_goes_stale(self):
        design = all_passed(B, "A9")
        design = apply(design, sign(study(design), "A", "Ines", TODAY))
        self.assertFalse(study(design).stages[0].stale)
        rewired = changed(design, variant__wiring__pieces=design.variant().wiring.pieces[:-1])
        self.assertTrue(study(rewired).stages[0].stale)
        rule = next(rule for rule in RULES if rule.code == "commission.again")
        self.assertEqual([finding.status for finding in rule.findings(case(rewired))], [Status.TIGHT])

    def test_the_bike_of_the_demo_was_handed_over_and_is_to_be_tested_again_since_its_short(self):
        found = commissioned(case(BIKE))
        self.assertIsNotNone(found.handed)
        self.assertTrue(found.ready)
        self.assertTrue(found.step("A1").reopened)
        self.assertTrue(found.step("D1").passed)


class TakeTest(unittest.TestCase):
    def taken(self, design, code, figures):
        one = study(design).step(code)
        design = apply(design, read(design, one, TODAY, figures))
        one = study(design).step(code)
        if one.item.looked:
            design = apply(design, looked(design, one, TODAY, "held"))
        edit = takes(study(design), study(design).step(code), TODAY)
        return None if edit is None else apply(design, edit)

    def test_kv_and_no_load_amps_come_back_as_they_were_set(self):
        """Readings made from a motor with another kv and other losses teach these values."""
        from wattagon.design.quantity import Quantity

        hidden = changed(B, variant__motor__kv_rpm_per_v=Quantity(value=164.0, known=Known.MEASURED))
        figures = {each.name: each.expects for each in study(hidden).step("B6").item.reads}
        found = self.taken(B, "B6", figures)
        kv = found.variant().motor.overrides["kv_rpm_per_v"]
        self.assertAlmostEqual(kv.value, 164.0, delta=0.2)
        self.assertIs(kv.known, Known.MEASURED)
        self.assertEqual(kv.date, TODAY.isoformat())
        motor = study_drive(hidden, STOCK).resolved.train.motor
        self.assertAlmostEqual(found.variant().motor.overrides["no_load_a"].value, float(motor.no_load_a), delta=0.01)
        slope = float(motor.no_load_slope_a_s)
        self.assertAlmostEqual(found.variant().motor.overrides["no_load_slope_a_s"].value, slope, delta=0.02 * slope + 1e-6)

    def test_a_size_below_nothing_is_a_slip_of_the_hand_not_a_failed_step(self):
        one = study(B).step("D3r")
        with self.assertRaisesRegex(InputError, "0 or more"):
            read(B, one, TODAY, {"way": -3.0})

    def test_resistance_and_rolling_radius(self):
        found = self.taken(B, "B3", {**{f"ohms {k}": 0.034 for k in (1, 2, 3)}, **{f"kv {k}": 168.0 for k in (1, 2, 3)}})
        self.assertAlmostEqual(found.variant().motor.overrides["resistance_ohm"].value, 0.068)
        rolled = self.taken(B, "D3r", {"way": 5.95})
        share = rolled.vehicle.tyre_rolling_share
        self.assertAlmostEqual(share.value * B.vehicle.tyre_diameter.value * math.pi * 10.0, 5.95, delta=1e-3)
        self.assertIs(share.known, Known.MEASURED)

    def test_what_did_not_hold_is_not_taken(self):
        self.assertIsNone(self.taken(B, "B3", {**{f"ohms {k}": 0.06 for k in (1, 2, 3)}, **{f"kv {k}": 168.0 for k in (1, 2, 3)}}))
        self.assertIsNone(self.taken(B, "A8", {}))


class PaperTest(unittest.TestCase):
    def test_the_sheet_has_every_step_that_applies_with_its_numbers(self):
        for design in (B, P):
            text = zlib_texts(commission_pdf(study(design)))
            for one in study(design).applying:
                self.assertIn(one.item.id, text)
            self.assertIn("Caution", text)
            self.assertIn("licensed", text)
        self.assertIn("242 Hz", zlib_texts(commission_pdf(study(B))))
        self.assertIn("Not for this design", zlib_texts(commission_pdf(study(P))))

    def test_the_hand_over_says_what_is_missing(self):
        self.assertIn("Not complete", zlib_texts(handover_pdf(study(B))))
        self.assertIn("local rules", zlib_texts(handover_pdf(study(B))))

    def test_terminal(self):
        out = io.StringIO()
        with contextlib.redirect_stdout(out):
            self.assertEqual(main(("commission", str(DEMO / "dunlin.json"), "--json")), 0)
        data = json.loads(out.getvalue())
        by_id = {one["id"]: one for one in data["steps"]}
        self.assertEqual(by_id["A1"]["verdict"], "held")
        self.assertEqual(by_id["B6"]["verdict"], "open")
        self.assertEqual(by_id["B6"]["unit"], "rpm")
        self.assertLess(by_id["B6"]["low"], by_id["B6"]["high"])
        self.assertFalse(by_id["B4"]["applies"])
        self.assertEqual(data["next"], "B6")
        with tempfile.TemporaryDirectory() as folder, contextlib.redirect_stdout(io.StringIO()):
            path = Path(folder) / "sheet.pdf"
            self.assertEqual(main(("commission", str(DEMO / "dunlin.json"), "--pdf", str(path))), 0)
            self.assertTrue(path.read_bytes().startswith(b"%PDF"))

    def test_json_and_study_say_the_same(self):
        data = commission_data(study(B))
        for told, one in zip(data["steps"], study(B).steps, strict=True):
            self.assertEqual((told["id"], told["verdict"], told["applies"]), (one.item.id, one.verdict.value, one.item.applies))


if __name__ == "__main__":
    unittest.main()
