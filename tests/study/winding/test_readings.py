"""What meters and drills tell: an unknown motor, and a rewound one of which something is wrong."""

import datetime
import math
import random
import unittest
from dataclasses import replace

from tests.study.rule_case import STOCK
from tests.study.winding.rewound import NOTHING_DONE, board, light, whole
from wattagon.design.paths import apply, put
from wattagon.design.quantity import Known, Quantity
from wattagon.design.tree import CoreTest, MotorRead
from wattagon.errors import InputError
from wattagon.physics.winding.coil import Coils, Connection, kv_of_field, line_ohm
from wattagon.physics.winding.emf import Leads, leads_of
from wattagon.study.findings.status import Status
from wattagon.study.winding.after import after, core_status
from wattagon.study.winding.enter import core_test, megohm_of, take_readings, told_of
from wattagon.study.winding.identify import connection_shares, guesses, says, told_by
from wattagon.study.winding.iron import FLUX_DENSITY_T
from wattagon.study.winding.study import study_winding

TODAY = datetime.date(2026, 7, 1)
RPM = 1500.0
Q = lambda value: Quantity(value=value, known=Known.MEASURED)


def read_of(kv: float, ohm: float, leads: Leads, pick: random.Random | None = None, *, copper: float = 20.0, **more: float) -> MotorRead:
    """What a meter would show of it, with its noise."""
    noise = lambda: pick.gauss(1.0, 0.002) if pick is not None else 1.0
    warm = 1.0 + 0.00393 * (copper - 20.0)
    volts = RPM / kv / math.sqrt(2.0)
    values = {name: ohm * warm * share * noise() for name, share in zip(("ab", "bc", "ca"), leads.ohms, strict=True)}
    values |= {name: volts * share * noise() for name, share in zip(("v_ab", "v_bc", "v_ca"), leads.volts, strict=True)}
    values |= {"rpm": RPM, "hz": RPM * 7 / 60.0, "copper": copper, **more}
    return MotorRead(**{name: Q(value) for name, value in values.items()})


def turns_in_series(coils: Coils) -> float:
    return 4.0 * coils.turns / coils.paths


class ToldTest(unittest.TestCase):
    def test_w21_w22_a_drill_and_running_free(self):
        told = told_by(read_of(190.0, 0.08, leads_of(whole().layout.pattern), free_v=24.0, free_a=1.5, free_rpm=4600.0))
        self.assertAlmostEqual(told.kv, 190.0, places=6)
        self.assertEqual(told.kv_by, "drill")
        self.assertAlmostEqual(told.free_kv, 192.6298, delta=1e-3)
        self.assertAlmostEqual(told.poles, 14.0)
        free = told_by(
            MotorRead(**{k: Quantity(value=v) for k, v in (("free_v", 24.0), ("free_a", 1.5), ("free_rpm", 4600.0), ("ab", 0.08))})
        )
        self.assertEqual(free.kv_by, "running free")
        self.assertAlmostEqual(free.kv, 192.6298, delta=1e-3)

    def test_resistance_is_told_at_twenty_degrees(self):
        sound = leads_of(whole().layout.pattern)
        self.assertAlmostEqual(told_by(read_of(190.0, 0.08, sound, copper=61.0)).ohm, 0.08, places=9)
        self.assertTrue(math.isnan(told_by(MotorRead()).ohm))


class UnknownMotorTest(unittest.TestCase):
    def test_turns_and_termination_by_resistance_wire_and_spin(self):
        base, pick = light().base, random.Random(11)
        told = replace(light().told, now=replace(light().told.now, turns=None, connection=None, paths=1))
        right = 0
        for _ in range(20):
            coils = Coils(turns=pick.randint(6, 24), strands=6, wire_m=0.5e-3, connection=pick.choice(list(Connection)))
            field = kv_of_field(
                turns_in_series(coils), light().layout.factor, FLUX_DENSITY_T, base.iron.gap_m, base.iron.wound.stack_m, coils.connection
            )
            kv = float(field) * math.exp(pick.gauss(0.0, 0.1))  # fields are not all typical
            seen = told_by(read_of(kv, float(line_ohm(base.iron.wound, coils)), leads_of(light().layout.pattern)))
            found = guesses(base, told, seen)
            self.assertLessEqual(sum(one.share for one in found), 1.0 + 1e-9)
            right += (found[0].turns, found[0].connection) == (coils.turns, coils.connection)
            if connection_shares(found)[coils.connection] < 0.02:
                self.fail(f"{coils} was held to be impossible")
        self.assertGreaterEqual(right, 14)

    def test_how_sure_it_is_and_what_would_decide(self):
        base = light().base
        ohm = float(line_ohm(base.iron.wound, Coils(turns=14, strands=6, wire_m=0.5e-3)))
        told = replace(light().told, now=replace(light().told.now, turns=None, connection=None))
        only = told_by(MotorRead(ab=Quantity(value=ohm)))
        found = guesses(base, told, only)
        self.assertLess(max(connection_shares(found).values()), 0.9, "resistance alone does not tell a wye from a delta")
        self.assertIn("cut the joint open", " ".join(says(base, told, only, found)))
        counted = replace(told, now=replace(told.now, turns=14, paths=1))
        found = guesses(base, counted, only)
        self.assertGreater(connection_shares(found)[Connection.WYE], 0.99, "counted turns do")
        self.assertEqual(guesses(base, replace(told, now=replace(told.now, wire=None)), only), ())

    def test_magnets_by_the_frequency(self):
        base, told = light().base, light().told
        lines = lambda hz: " ".join(
            says(base, told, told_by(replace(read_of(190, 0.08, leads_of(light().layout.pattern)), hz=Quantity(value=hz))), ())
        )
        self.assertIn("14 magnets, by the frequency too", lines(175.0))
        self.assertIn("tells 16 magnets, 14 are told", lines(200.0))
        self.assertIn("no even number", lines(187.0))


class WrongTest(unittest.TestCase):
    """Each thing that goes wrong by hand is named first, by what a meter sees of it."""

    @classmethod
    def setUpClass(cls):
        cls.pattern, cls.option = whole().layout.pattern, whole().chosen

    def first(self, leads: Leads, *, kv: float = 1.0, ohm: float = 1.0, seed: int = 0, turns: int = 12):
        option = replace(self.option, coils=replace(self.option.coils, turns=turns))
        read = read_of(option.kv * kv, option.ohm * ohm, leads, random.Random(seed))
        return after(self.pattern, option, read, math.nan)

    def test_a_sound_one_is_sound(self):
        for seed in range(10):
            found = self.first(leads_of(self.pattern), seed=seed)
            self.assertTrue(found.sound)
            self.assertEqual(found.causes, ())
            self.assertAlmostEqual(found.turns, 12.0, delta=0.05)

    def test_each_fault(self):
        teeth = self.pattern.teeth(1)
        for code, leads, more in (
            ("turn_missing", leads_of(self.pattern, {teeth[0]: 4 / 5}), {"turns": 5}),
            ("turn_more", leads_of(self.pattern, {teeth[0]: 6 / 5}), {"turns": 5}),
            ("coil_reversed", leads_of(self.pattern, {teeth[0]: -1.0}), {}),
            ("phase_reversed", leads_of(self.pattern, reversed_phases=(1,)), {}),
            ("shorted", leads_of(self.pattern, {teeth[0]: 1e-3}), {}),
            ("strand", leads_of(self.pattern, copper=(1.0, 2 / 3, 1.0)), {}),
            ("termination", leads_of(self.pattern), {"kv": math.sqrt(3.0), "ohm": 1 / 3}),
            ("all_turns", leads_of(self.pattern), {"kv": 12 / 11, "ohm": 11 / 12}),
        ):
            for seed in range(5):
                found = self.first(leads, seed=seed, **more)
                self.assertFalse(found.sound, code)
                self.assertEqual(found.causes[0].code, code, [one[:1] + one[3:] for one in found.causes])
                self.assertTrue(found.causes[0].test)
                if code not in ("termination", "all_turns"):
                    self.assertIn(" B ", f"{found.causes[0].words} ", "names the phase")

    def test_one_turn_of_twelve_is_less_than_meters_tell_and_that_is_said(self):
        found = self.first(leads_of(self.pattern, {self.pattern.teeth(1)[0]: 11 / 12}))
        words = " ".join(check.words for check in found.checks)
        self.assertRegex(words, r"resistances differ by [01]\.\d %, 2 % accepted; one turn would be 1\.0 %")

    def test_delta_for_wye_is_told_the_other_way_round_too(self):
        delta = replace(self.option, coils=replace(self.option.coils, connection=Connection.DELTA))
        read = read_of(delta.kv / math.sqrt(3.0), 3.0 * delta.ohm, leads_of(self.pattern))
        self.assertIn("joined in wye, not in delta", after(self.pattern, delta, read, math.nan).causes[0].words)

    def test_no_load_current_against_its_forecast(self):
        sound = leads_of(self.pattern)
        status = lambda amps: {
            one.code: one.status
            for one in after(self.pattern, self.option, read_of(105.0, self.option.ohm, sound, free_a=amps), 1.0).checks
        }["free"]
        self.assertEqual(
            [status(one) for one in (0.4, 0.6, 1.5, 1.7, 3.3)], [Status.TIGHT, Status.CLEAR, Status.CLEAR, Status.TIGHT, Status.OVER]
        )

    def test_bounds_of_two_per_cent(self):
        seen = lambda volts, ohms: Leads(volts=volts, ohms=ohms)
        for leads, code, status in (
            (seen((1.0, 1.0, 1.0), (1.0, 1.0, 1.019)), "pairs", Status.CLEAR),
            (seen((1.0, 1.0, 1.0), (1.0, 1.0, 1.025)), "pairs", Status.TIGHT),
            (seen((1.0, 1.0, 1.0), (1.0, 1.0, 1.05)), "pairs", Status.OVER),
            (seen((1.0, 1.019, 1.0), (1.0, 1.0, 1.0)), "volts", Status.CLEAR),
            (seen((1.0, 1.05, 1.0), (1.0, 1.0, 1.0)), "volts", Status.OVER),
        ):
            found = after(self.pattern, self.option, read_of(105.0, self.option.ohm, leads), math.nan)
            self.assertIs({one.code: one.status for one in found.checks}[code], status)


class TakeTest(unittest.TestCase):
    def test_readings_before_enter_the_motor_as_measured(self):
        found = study_winding(
            put(board(), "variant.winding.before", read_of(171.0, 0.06, leads_of(light().layout.pattern))), STOCK, seek=False, compare=False
        )
        design = apply(found.design, take_readings(found, "before", TODAY))
        over = design.variant().motor.overrides
        self.assertAlmostEqual(over["kv_rpm_per_v"].value, 171.0, places=6)
        self.assertIs(over["kv_rpm_per_v"].known, Known.MEASURED)
        self.assertGreater(over["resistance_ohm"].tolerance, 0.0)
        self.assertEqual(over["pole_pairs"].value, 7.0)
        nothing = study_winding(board(), STOCK, seek=False, compare=False)
        self.assertIsNone(take_readings(nothing, "before", TODAY))

    def test_readings_after_make_the_plan_what_is_wound(self):
        read = read_of(103.0, 0.23, leads_of(whole().layout.pattern))
        found = study_winding(put(NOTHING_DONE, "variant.winding.after", read), STOCK, seek=False)
        design = apply(found.design, take_readings(found, "after", TODAY))
        told = told_of(design)
        self.assertEqual((told.now.turns, told.now.strands, told.plan, told.was), (12, 3, None, None))
        self.assertEqual(told.before, read, "they are what it reads now")
        over = design.variant().motor.overrides
        self.assertAlmostEqual(over["kv_rpm_per_v"].value, 103.0, places=6)
        self.assertIs(over["inductance_h"].known, Known.COMPUTED)
        again = study_winding(design, STOCK, seek=False, compare=False)
        self.assertAlmostEqual(float(again.base.motor.kv_rpm_per_v), 103.0, places=6)
        self.assertEqual(again.base.coils.turns, 12)


class CoreTestsTest(unittest.TestCase):
    def test_as_testers_write_them(self):
        for text, value in (("500", 500.0), (">550", 550.0), ("1.2 G", 1200.0), ("0,8 MΩ", 0.8), ("900k", 0.9), ("≥ 2 gohm", 2000.0)):
            self.assertAlmostEqual(megohm_of(text, "insulation"), value)
        for text in ("", "lots", "5 V", "1e9", "-3", "5000 G"):
            with self.assertRaisesRegex(InputError, "megohm"):
                megohm_of(text, "insulation")

    def test_ten_megohm_is_the_bound_and_a_newer_test_takes_the_older_ones_place(self):
        one = lambda value: CoreTest(phase="A", when="after", megohm=value)
        self.assertEqual([core_status(one(value)) for value in (9.99, 10.0)], [Status.OVER, Status.CLEAR])
        design = apply(NOTHING_DONE, core_test(NOTHING_DONE, "A", "after", 4.0, 500.0, TODAY))
        design = apply(design, core_test(design, "A", "after", 400.0, 500.0, TODAY))
        design = apply(design, core_test(design, "B", "after", 300.0, 500.0, TODAY))
        self.assertEqual([(test.phase, test.megohm) for test in told_of(design).tests], [("A", 400.0), ("B", 300.0)])
        for bad in ({"phase": "D"}, {"when": "later"}, {"date": "soon"}):
            with self.assertRaises(InputError):
                CoreTest(**{"phase": "A", "when": "after", "megohm": 1.0, **bad})


if __name__ == "__main__":
    unittest.main()
