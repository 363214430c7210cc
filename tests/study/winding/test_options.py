"""From a motor and a kv to turns, strands, wire; what they do in the drive; what is impossible."""

import math
import random
import unittest
from dataclasses import replace

from tests.study.rule_case import BOARD, STOCK, changed
from tests.study.winding.rewound import NOTHING_DONE, POD, board, driven, light, mm, planned, whole
from wattagon.design.paths import apply, put
from wattagon.design.quantity import Known, Quantity
from wattagon.design.tree import Winding, Wound
from wattagon.errors import InputError
from wattagon.physics.winding.coil import Coils, Connection, fill
from wattagon.study.drive.study import study_drive
from wattagon.study.winding.effect import best_kv, kv_edit
from wattagon.study.winding.enter import drop_plan, look_at, take, told_of
from wattagon.study.winding.option import FILL_MOST, NEAR, STIFF_M, advised, best_wire, option, options, target_table
from wattagon.study.winding.study import laid_over, study_winding


class TableTest(unittest.TestCase):
    def test_w09_nearest_four(self):
        found = target_table(light().base, 100.0, series_only=True)[:4]
        self.assertEqual([f"{one.turns:g}{one.connection.value[0]}" for one in found], ["46d", "27w", "47d", "26w"])
        base = light().base
        kvs = [option(base, replace(one, strands=1), STOCK, 100.0) for one in found]
        for one, kv, off in zip(kvs, (100.16, 98.52, 98.03, 102.31), (0.2, -1.5, -2.0, 2.3), strict=True):
            self.assertAlmostEqual(one.kv, kv, delta=0.005)
            self.assertAlmostEqual(100 * one.off, off, delta=0.05)

    def test_twentyseven_in_wye_is_advised_over_fortysix_in_delta(self):
        base = light().base
        made = options(base, STOCK, 100.0, 800.0)
        best = advised(made)
        self.assertEqual((best.coils.turns, best.coils.connection), (27, Connection.WYE))
        self.assertLess(abs(next(one for one in made if one.coils.turns == 46).off), abs(best.off))
        pick, wyes = random.Random(8), 0
        for _ in range(40):
            made = options(base, STOCK, math.exp(pick.uniform(math.log(60.0), math.log(900.0))), 800.0)
            near = [one for one in made if one.coils.connection is Connection.WYE and abs(one.off) <= 0.05 and one.coils.turns >= 4]
            wyes += bool(near)
            if near:
                self.assertIs(advised(made).coils.connection, Connection.WYE)
        self.assertGreater(wyes, 10)
        # where only delta is near it is taken
        few = options(base, STOCK, 1150.0, 800.0)
        self.assertIs(advised(few).coils.connection, Connection.DELTA)

    def test_all_that_is_offered_is_near_goes_in_and_follows_from_what_is_wound(self):
        base, pick = light().base, random.Random(3)
        for _ in range(25):
            wanted = math.exp(pick.uniform(math.log(60.0), math.log(600.0)))
            for one in options(base, STOCK, wanted, pick.choice((200.0, 600.0, 1500.0))):
                self.assertLessEqual(abs(math.log(one.kv / wanted)), NEAR + 1e-9)
                self.assertLessEqual(one.fill, FILL_MOST)
                self.assertAlmostEqual(one.fill, fill(base.iron.wound, one.coils))
                self.assertTrue(one.by_hand.good and one.coils.wire_m <= STIFF_M)
                self.assertGreaterEqual(one.reels * one.reel.length_m, one.wire_m)
                # same iron: with as much copper a turn's worth of torque costs the same heat
                copper = one.coils.layers * one.coils.turns * one.coils.area_m2
                now = base.coils.layers * base.coils.turns * base.coils.area_m2
                constant = one.root_watt / math.sqrt(copper / now)
                self.assertAlmostEqual(constant, 60 / (math.tau * 190.0) / math.sqrt(float(base.motor.resistance_ohm)), delta=1e-6)

    def test_thicker_strands_are_not_offered_where_frequency_forbids_them(self):
        base = light().base
        slow, fast = best_wire(base, STOCK, 14, 2, 200.0), best_wire(base, STOCK, 14, 2, 1500.0)
        self.assertGreater(slow[0], fast[0])
        self.assertLessEqual(fast[0], 0.5e-3 + 1e-9)
        self.assertIsNone(best_wire(base, STOCK, 5000, 2, 200.0))


class ImpossibleTest(unittest.TestCase):
    def test_each_bound_has_two_sides(self):
        base = light().base
        good = Coils(turns=14, strands=6, wire_m=0.5e-3)
        option(base, good, STOCK)
        for bad, words in (
            (replace(good, turns=13.5), "turns is 13.5"),
            (replace(good, strands=0), "strands is 0"),
            (replace(good, paths=3), "1, 2 on 12N14P"),
            (replace(good, wire_m=3.2e-3, strands=1, turns=1), "passes the 3 mm"),
            (replace(good, strands=20), "up to 156 wires"),
        ):
            with self.assertRaisesRegex(InputError, words):
                option(base, bad, STOCK)
        self.assertEqual(option(base, replace(good, paths=2), STOCK).kv, 2 * option(base, good, STOCK).kv)

    def test_what_a_hand_cannot_do_is_said(self):
        base = light().base
        words = lambda **more: option(base, replace(Coils(turns=14, strands=6, wire_m=0.5e-3), **more), STOCK).by_hand
        self.assertFalse(words(strands=8).good)
        self.assertIn("not by hand", words(strands=8).says[0])
        self.assertTrue(words(strands=5).good)
        stiff = words(turns=4, strands=1, wire_m=1.4e-3)
        self.assertIn("stiff", " ".join(stiff.says))
        narrow = study_winding(put(board(), "variant.winding.stator.opening", mm(1.4)), STOCK, seek=False, compare=False).base
        self.assertIn("few strands at a time", " ".join(option(narrow, Coils(turns=10, strands=6, wire_m=0.5e-3), STOCK).by_hand.says))
        self.assertIn("scrapes", " ".join(option(narrow, Coils(turns=4, strands=1, wire_m=1.25e-3), STOCK).by_hand.says))

    def test_a_motor_with_brushes_and_slots_that_make_no_phases(self):
        with self.assertRaisesRegex(InputError, "brushless"):
            study_winding(changed(BOARD, variant__motor__part="brushed-105x140-80"), STOCK)
        odd = study_winding(put(board(), "variant.winding.stator.slots", 14), STOCK, seek=False, compare=False)
        self.assertIn("divide by 3", odd.why_not)
        self.assertEqual((odd.layout, odd.halls, odd.offers), (None, None, ()))


class DriveTest(unittest.TestCase):
    def test_the_pod_rewound(self):
        found = whole()
        ways = {way.code: way.effect for way in found.ways}
        self.assertEqual(set(ways), {"nothing", "termination", "rewind", "reduction"})
        self.assertEqual((found.chosen.coils.turns, found.chosen.kv), (12, 105.0))
        self.assertEqual((ways["nothing"].met, ways["rewind"].met, ways["reduction"].met), (4, 5, 4))
        # 12 turns instead of 7 of thinner wire: more copper loses less at the same thrust
        self.assertLess(ways["rewind"].copper_w, ways["nothing"].copper_w)
        self.assertAlmostEqual(ways["rewind"].needed_a / ways["nothing"].needed_a, 105.0 / 180.0, delta=0.02)
        # delta of the same coils is the same copper
        self.assertAlmostEqual(ways["termination"].copper_w, ways["nothing"].copper_w, delta=0.02 * ways["nothing"].copper_w)

    def test_an_effect_is_what_the_drive_gives_once_the_motor_is_in_it(self):
        found = whole()
        after = study_drive(driven(found), STOCK)
        rewind = next(way.effect for way in found.ways if way.code == "rewind")
        for told, goal in zip(rewind.goals, after.goals, strict=True):
            self.assertEqual((told.goal.id, told.met), (goal.goal.id, goal.met))
            self.assertAlmostEqual(told.reached, goal.reached, delta=1e-6 * max(abs(goal.reached), 1.0))
        motor = after.resolved.train.motor
        self.assertAlmostEqual(float(motor.kv_rpm_per_v), 105.0)
        self.assertAlmostEqual(float(motor.resistance_ohm), found.chosen.ohm)

    def test_told_phase_leads_are_not_rewound(self):
        design = replace(BOARD, active="A")
        found = study_winding(design, STOCK, kv=150.0)
        leads = float(found.drive.resolved.train.motor.resistance_ohm) - float(found.base.motor.resistance_ohm)
        self.assertGreater(leads, 1e-3)
        self.assertAlmostEqual(float(found.base.motor.resistance_ohm), found.base.part.resistance_ohm, places=9)
        ways = {way.code: way.effect for way in found.ways}
        self.assertAlmostEqual(ways["termination"].copper_w / ways["nothing"].copper_w, 1.0, delta=0.02)

    def test_no_load_power_stays_at_the_same_speed(self):
        found = whole()
        before = found.drive.resolved.train.motor
        after = study_drive(driven(found), STOCK).resolved.train.motor
        for speed in (50.0, 200.0):
            self.assertAlmostEqual(float(after.drag_nm(speed)), float(before.drag_nm(speed)), places=9)

    def test_once_in_the_drive_the_old_motor_is_still_what_is_compared_with_and_comes_back(self):
        found = whole()
        carried = study_winding(driven(found), STOCK, compare=False)
        self.assertAlmostEqual(float(carried.base.motor.kv_rpm_per_v), 180.0)
        self.assertAlmostEqual(carried.chosen.kv, 105.0)
        self.assertEqual(carried.told.was, POD.variant().motor)
        back = apply(carried.design, drop_plan(carried))
        self.assertEqual(back.variant().motor, POD.variant().motor)
        self.assertIsNone(told_of(back).plan)
        other = apply(carried.design, take(carried, options(carried.base, STOCK, 140.0, 300.0)[0]))
        self.assertNotEqual(other.variant().motor, driven(found).variant().motor, "the drive follows another plan")
        self.assertEqual(told_of(other).done, ())

    def test_the_kv_that_fits_best_is_no_worse_than_its_neighbours(self):
        found = whole()
        best = best_kv(found.subject, STOCK, found.base)
        met = lambda kv: sum(goal.met for goal in study_drive(apply(found.subject, kv_edit(found.subject, found.base, kv)), STOCK).goals)
        self.assertGreaterEqual(met(best), max(met(1.3 * best), met(0.75 * best), met(180.0)))
        self.assertTrue(math.isnan(best_kv(put(found.subject, "brief.goals", ()), STOCK, found.base)))

    def test_another_motor_is_looked_at_without_touching_the_drive(self):
        looked = apply(board(), look_at(board(), "outrunner-80x85-130", "Outrunner 80x85"))
        found = study_winding(looked, STOCK, seek=False, compare=False)
        self.assertEqual(found.base.part.id, "outrunner-80x85-130")
        self.assertEqual(looked.variant().motor, board().variant().motor)
        self.assertEqual(told_of(looked).now, Wound())


class LaidOverTest(unittest.TestCase):
    def test_ticks_readings_and_another_plan_are_shown_at_once_and_as_the_study_would(self):
        found = whole()
        told = told_of(NOTHING_DONE)
        for change in (
            {"done": (11, 0), "turns_on": 3},
            {"plan": replace(told.plan, turns=11, strands=3)},
            {"plan": None},
            {"halls": replace(told.halls, openings=(0, 2, 4), spacing=60)},
            {"before": replace(told.before, ab=Quantity(value=0.3, known=Known.MEASURED))},
        ):
            design = put(POD, "variant.winding", replace(told, **change))
            over, again = laid_over(found, design, STOCK), study_winding(design, STOCK, seek=False, compare=False)
            self.assertEqual(
                (over.chosen, over.guide, over.halls, over.read_before), (again.chosen, again.guide, again.halls, again.read_before)
            )
        self.assertIsNone(laid_over(found, put(POD, "variant.winding.stator.tooth", mm(6)), STOCK), "other iron asks for the study")
        self.assertIsNone(laid_over(found, replace(POD, active="A"), STOCK))
        too_much = laid_over(found, planned(POD, strands=40), STOCK)
        self.assertIsNone(too_much.chosen)

    def test_nothing_told_is_typical_and_says_so(self):
        bare = put(board(), "variant.winding", Winding())
        found = study_winding(bare, STOCK, seek=False, compare=False)
        typical = [path for path, item in found.inputs.items() if ".winding." in path and item.known is Known.ASSUMED]
        for field in ("slots", "tooth", "stack", "slot_area"):
            self.assertTrue(any(path.endswith(f"stator.{field}") for path in typical), field)
        measured = study_winding(board(), STOCK, seek=False, compare=False).inputs
        self.assertFalse(
            [path for path, item in measured.items() if path.endswith(("stator.tooth", "now.turns")) and item.known is Known.ASSUMED]
        )


if __name__ == "__main__":
    unittest.main()
