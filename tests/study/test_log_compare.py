"""A log ridden again, held against its prediction, laid along a track, taken as a load, told by versions."""

import datetime
import math
import unittest
from dataclasses import replace

import numpy as np

from tests.logs import CANAL, ROUND, STOCK, charge, demo, log_of, ride_log
from wattagon.design.paths import Edit, apply
from wattagon.design.tree import EntryKind, Log, LogKind, TimedRun
from wattagon.errors import InputError
from wattagon.exchange.units import say
from wattagon.physics.ride.names import Col, Sum
from wattagon.physics.ride.ride import End
from wattagon.standins.recorder import USUAL, recorded, ridden
from wattagon.study.log.align import offset_of, with_tracks
from wattagon.study.log.as_load import load_of, loaded_by, merged
from wattagon.study.log.compare import compare, explanations, statement
from wattagon.study.log.data import LogData, distance_m, energy_wh, thinned
from wattagon.study.log.enter import added, charge_words, dropped, find_log
from wattagon.study.log.expect import expected
from wattagon.study.log.replay import replay
from wattagon.study.log.ridden import same_build, smoothed
from wattagon.study.log.spectrum import shaking
from wattagon.study.log.stopwatch import stopwatch
from wattagon.study.log.versions import changes_between, versions_of
from wattagon.study.ride.profiles import profiles, strongest_in
from wattagon.study.ride.study import Ask, ride, time_to

DESIGN = demo()
QUIET = replace(USUAL, noise={})


def quiet(design=DESIGN, legs=ROUND, shift=None) -> LogData:
    run, resolved = ridden(design, STOCK, legs, shift=shift, charge=0.93)
    return log_of(recorded(run, resolved, np.random.default_rng(0), QUIET), design.variant().id)


class ReplayTests(unittest.TestCase):
    def test_a_ride_without_noise_is_met_by_its_own_simulator(self):
        made = replay(DESIGN, STOCK, quiet(), samples=0)
        found = compare(made)
        self.assertLess(abs(found.figure("energy").off), 0.01)
        errors = {one.name: one.rms_error for one in found.channels}
        self.assertLess(errors["bus_v"], 0.06)
        self.assertLess(errors["motor_c"], 1.0)
        self.assertLess(made.ride.run.balance_error, 1e-3)

    def test_every_kind_of_vehicle_is_ridden_again(self):
        for name, legs in (("corncrake", ROUND), ("bittern", ROUND), ("garganey", CANAL)):
            with self.subTest(name=name):
                design = demo(name)
                found = compare(replay(design, STOCK, quiet(design, legs), samples=0))
                self.assertLess(abs(found.figure("energy").off), 0.03)

    def test_by_its_command_it_goes_as_far(self):
        run, resolved = ridden(DESIGN, STOCK, ROUND, charge=0.93)
        made = recorded(run, resolved, np.random.default_rng(0), replace(QUIET, step_s=0.02))
        starts = made.time < 10.0  # a command alone drifts; ten seconds of it do not
        data = LogData(
            log=Log(id="l1", variant="B", start_charge=charge()),
            time=made.time[starts],
            columns={name: made.columns[name][starts] for name in ("speed", "command", "bus_v", "pack_a")},
        )
        found = replay(DESIGN, STOCK, data, way="command", samples=0)
        self.assertEqual(found.ride.run.end, End.TIME)
        self.assertAlmostEqual(float(found.predicted["speed"][-1]), float(data.column("speed")[-1]), delta=0.35)
        with self.assertRaises(InputError):
            replay(DESIGN, STOCK, quiet(), way="command", samples=0)

    def test_the_band_holds_about_two_thirds_and_grows_with_what_is_unknown(self):
        made = compare(replay(DESIGN, STOCK, quiet()))
        energy = made.figure("energy")
        self.assertLess(energy.low, energy.predicted)
        self.assertGreater(energy.high, energy.predicted)
        self.assertTrue(energy.inside)
        inside = {one.name: one.inside_band for one in made.channels}
        self.assertGreater(inside["pack_a"], 0.7)

    def test_standing_it_draws_nothing_but_idle_power_even_on_a_slope(self):
        time = np.arange(0.0, 60.0, 0.1)
        data = LogData(
            log=Log(id="l1", variant="B", start_charge=charge()),
            time=time,
            columns={"speed": np.zeros(time.size), "grade": np.full(time.size, 0.1)},
        )
        run = replay(DESIGN, STOCK, data, samples=0).ride.run
        self.assertLess(float(np.max(np.abs(run.column(Col.DC_A)))), 1e-6)

    def test_a_ride_on_a_slope_whose_stop_is_held_by_a_foot(self):
        from wattagon.physics.ride.course import Leg

        run, _ = ridden(DESIGN, STOCK, (Leg(length_m=80, speed_m_s=5, grade=0.05, stop_s=20), Leg(length_m=40, speed_m_s=4)), charge=0.9)
        still = run.column(Col.SPEED) <= 0.0
        self.assertGreater(int(still.sum()), 100)
        self.assertLess(float(np.max(np.abs(run.column(Col.DC_A)[still][5:-60]))), 1e-6)

    def test_smoothing_takes_noise_and_leaves_a_start(self):
        rng = np.random.default_rng(2)
        t = np.arange(0.0, 60.0, 0.1)
        clean = 8.0 * np.clip((t - 10.0) / 6.0, 0.0, 1.0)
        made = smoothed(np.maximum(clean + rng.normal(0.0, 0.05, t.size), 0.0), 0.1)
        self.assertLess(float(np.sqrt(np.mean((made - clean) ** 2))), 0.06)
        self.assertLess(float(np.std(np.diff(made[300:]) / 0.1)), 0.05)


class StatementTests(unittest.TestCase):
    def says(self, shift: dict[str, float]) -> str:
        made = compare(replay(DESIGN, STOCK, ride_log(DESIGN, shift=shift)))
        return statement(made, explanations(DESIGN, STOCK, made), say)

    def test_what_would_explain_a_difference(self):
        rolling = self.says({"vehicle.rolling": 0.042})
        self.assertRegex(rolling, "uses 2[0-9]% more than predicted.*rolling resistance would explain it")
        air = self.says({"vehicle.drag_area": 0.80})
        self.assertRegex(air, "more than predicted.*air drag would explain it")
        self.assertIn("would not", air)

    def test_none_is_sought_where_it_is_met(self):
        self.assertIn("what was predicted within", self.says({}))


class BesideTests(unittest.TestCase):
    def test_a_track_is_laid_along_by_speed(self):
        data = quiet()
        for late in (-12.0, 7.5, 31.0):
            track = LogData(
                log=Log(id="l2", kind=LogKind.TRACK),
                time=np.arange(0.0, data.seconds - 60.0),
                columns={"speed": np.interp(np.arange(0.0, data.seconds - 60.0) + late, data.time, data.column("speed"))},
            )
            offset, agree = offset_of(data, track)
            self.assertAlmostEqual(offset, late, delta=0.3)
            self.assertGreater(agree, 0.98)

    def test_heights_are_borrowed_at_their_offset(self):
        data = quiet()
        track = LogData(
            log=Log(id="l2", kind=LogKind.TRACK, beside="l1", offset=5.0),
            time=np.arange(0.0, 60.0),
            columns={"elevation": np.arange(0.0, 60.0)},
        )
        made = with_tracks(data, [track])
        self.assertAlmostEqual(float(np.interp(25.0, made.time, made.column("elevation"))), 20.0, places=6)
        self.assertIn("log l2", made.told[-1])

    def test_too_short_or_without_speed(self):
        short = LogData(log=Log(id="l1"), time=np.arange(5.0), columns={"speed": np.arange(5.0)})
        with self.assertRaises(InputError):
            offset_of(short, short)
        with self.assertRaises(InputError):
            offset_of(LogData(log=Log(id="l1"), time=np.arange(50.0), columns={"bus_v": np.arange(50.0)}), quiet())


class DataTests(unittest.TestCase):
    def test_distance_and_energy_leave_gaps_out(self):
        time = np.concatenate([np.arange(0.0, 10.0, 0.1), np.arange(60.0, 70.0, 0.1)])
        data = LogData(
            log=Log(id="l1"),
            time=time,
            columns={"speed": np.full(200, 5.0), "bus_v": np.full(200, 40.0), "pack_a": np.full(200, 9.0)},
        )
        self.assertAlmostEqual(distance_m(data), 99.0, delta=0.6)
        self.assertAlmostEqual(energy_wh(data), 360.0 * 19.8 / 3600.0, places=2)

    def test_thinning_keeps_every_peak(self):
        rng = np.random.default_rng(3)
        values = rng.normal(size=100_000)
        values[54_321] = 99.0
        t, v = thinned(np.arange(100_000.0), values, 300)
        self.assertLess(t.size, 1300)
        self.assertEqual(float(v.max()), 99.0)
        self.assertEqual(float(v.min()), float(values.min()))


class StopwatchTests(unittest.TestCase):
    def test_both_ways_weigh_the_same_and_the_simulator_says_its_own(self):
        runs = tuple(TimedRun(end=20 / 3.6, seconds=s, way=way) for s, way in ((7.0, "up"), (7.2, "up"), (5.0, "down")))
        found = stopwatch(DESIGN, STOCK, Log(id="l1", kind=LogKind.TIMED, runs=runs, variant="B"))[0]
        self.assertAlmostEqual(found.measured, 6.05)
        self.assertAlmostEqual(found.predicted, time_to(ride(DESIGN, STOCK, Ask(run="start", speed_m_s=20 / 3.6)), 20 / 3.6), places=6)
        self.assertGreater(found.torque_nm, 1.0)

    def test_a_coast_down_by_the_stopwatch(self):
        runs = (TimedRun(start=8.0, end=4.0, seconds=12.0),)
        found = stopwatch(DESIGN, STOCK, Log(id="l1", kind=LogKind.TIMED, runs=runs, variant="B"))[0]
        self.assertTrue(2.0 < found.predicted < 60.0, found.predicted)
        self.assertTrue(math.isnan(found.torque_nm))


class LoadTests(unittest.TestCase):
    def test_segments_keep_the_heat_of_a_log(self):
        data = quiet()
        load = load_of(data, expected(DESIGN, STOCK))
        seconds, amps = np.array(load.seconds), np.array(load.pack_a)
        fine = np.diff(data.time)
        for window in (1.0, 10.0, 60.0, 300.0):
            told, is_ = strongest_in(seconds, amps, window), strongest_in(fine, data.column("pack_a")[1:], window)
            self.assertAlmostEqual(told / is_, 1.0, delta=0.03)
        self.assertAlmostEqual(load.peak_a, float(data.column("pack_a").max()), delta=0.01)

    def test_pack_and_wiring_take_it_and_let_it_go(self):
        data = quiet()
        loaded = apply(DESIGN, loaded_by(DESIGN, data, expected(DESIGN, STOCK)))
        found = profiles(loaded, STOCK)
        self.assertEqual([one.run for one in found], ["measured"])
        run = found[0].ride.run
        self.assertAlmostEqual(run.energy_j(Sum.TERMINAL) / 3600.0, energy_wh(data), delta=0.02 * energy_wh(data))
        self.assertGreater(run.energy_j(Sum.BRIDGE), 0.0)
        again = apply(loaded, loaded_by(loaded, None))
        self.assertGreater(len(profiles(again, STOCK)), 1)

    def test_merging_joins_what_is_alike(self):
        edges = merged(np.array([1.0, 1.0, 1.0, 9.0, 9.0, 4.0]), 3)
        self.assertEqual(edges.tolist(), [0, 3, 5, 6])


class ShakeTests(unittest.TestCase):
    def test_what_follows_an_order_is_named(self):
        rng = np.random.default_rng(5)
        time = np.arange(0.0, 80.0, 0.01)
        speed = 3.0 + 4.0 * time / 80.0
        turns = np.cumsum(speed / 0.6) * 0.01
        values = 0.4 * np.sin(2 * np.pi * turns) + rng.normal(0.0, 0.3, time.size)
        data = LogData(log=Log(id="l1", kind=LogKind.PHONE), time=time, columns={"az": values + 9.81})
        orders = lambda v: [("wheel, once a turn", v / 0.6), ("motor, once a turn", 4.8 * v / 0.6 / 1.0)]
        found = shaking(data, (time, speed), orders)
        self.assertEqual(found.shakes[0].words, "wheel, once a turn")
        self.assertGreater(found.shakes[0].prominence, 3.0)
        self.assertLess(found.shakes[1].prominence, 3.0)
        self.assertIn("wheel", found.told[0])

    def test_slow_rows_show_nothing(self):
        time = np.arange(0.0, 60.0, 0.2)
        with self.assertRaises(InputError):
            shaking(LogData(log=Log(id="l1"), time=time, columns={"ax": time}), (time, time), lambda v: [])


class VersionTests(unittest.TestCase):
    def test_what_was_changed_and_what_it_did(self):
        data = quiet()
        first = apply(DESIGN, added(DESIGN, replace(data.log, member="logs/x.csv.gz", hash="a"), data, datetime.date(2026, 10, 1)))
        self.assertEqual(first.history[-1].kind, EntryKind.RIDE)
        self.assertEqual(first.history[-1].version, first.logs[-1].version)
        second = apply(first, Edit(label="x", changes=(("variant.stages.0.driver_teeth", 13), ("variant.pack.parallel", 3))))
        found = versions_of(second, STOCK, lambda log: data)
        self.assertEqual(len(found), 2)
        self.assertEqual(set(found[1].changes), {"pack parallel 4 to 3", "stages 1 driver teeth 15 to 13"})
        self.assertLess(found[1].predicted["top_speed"], found[0].predicted["top_speed"])
        self.assertLess(found[1].predicted["mass"], found[0].predicted["mass"])
        self.assertAlmostEqual(found[0].measured["top_speed"], 8.5, delta=0.2)
        self.assertAlmostEqual(found[0].predicted["wh_per_km"], found[0].measured["wh_per_km"], delta=0.2)

    def test_known_values_make_no_other_build(self):
        variant = DESIGN.variant()
        from tests.study.rule_case import known

        self.assertTrue(
            same_build(variant, apply(DESIGN, Edit(label="x", changes=(("variant.motor.kv_rpm_per_v", known(160.0)),))).variant())
        )
        other = apply(DESIGN, Edit(label="x", changes=(("variant.stages.0.driver_teeth", 13),))).variant()
        self.assertFalse(same_build(variant, other))
        self.assertEqual(changes_between(variant, other), ("stages 1 driver teeth 15 to 13",))

    def test_a_log_of_an_earlier_build_is_predicted_as_it_was_ridden(self):
        data = quiet()
        design = apply(DESIGN, added(DESIGN, replace(data.log, member="logs/x.csv.gz", hash="a"), data, datetime.date(2026, 10, 1)))
        later = apply(design, Edit(label="x", changes=(("variant.stages.0.driver_teeth", 12),)))
        made = replay(later, STOCK, replace(data, log=design.logs[-1]), samples=0)
        self.assertIn("as it was ridden", made.told[0])
        self.assertEqual(made.resolved.variant.stages[0].driver_teeth, 15)


class ChargeTests(unittest.TestCase):
    def test_the_wall_is_held_against_what_logs_took(self):
        data = quiet()
        day = datetime.date(2026, 10, 1)
        design = apply(DESIGN, added(DESIGN, replace(data.log, hash="a", member="logs/x.csv.gz"), data, day))
        wall = 1.2 * energy_wh(data)
        for watt_hours in (wall, 3.0 * wall):
            charge_log = Log(id="new", kind=LogKind.CHARGER, energy_wh=watt_hours)
            words = charge_words(apply(design, added(design, charge_log, None, day)), replace(charge_log, id="l2", variant="B"), say)
            self.assertIn("1 log since the charge before", words)
            self.assertEqual("usually" in words, watt_hours > wall)


class EnterTests(unittest.TestCase):
    def test_logs_are_found_by_number_and_id_and_taken_out(self):
        data = quiet()
        design = apply(DESIGN, added(DESIGN, replace(data.log, hash="a", member="logs/x.csv.gz"), data, datetime.date(2026, 10, 1)))
        self.assertEqual(find_log(design, "1").id, find_log(design, "l1").id)
        for text in ("2", "x", "0"):
            with self.assertRaises(InputError):
                find_log(design, text)
        with self.assertRaisesRegex(InputError, "it is log l1"):
            added(design, replace(data.log, hash="a"), data, datetime.date(2026, 10, 2))
        self.assertEqual(apply(design, dropped(design, design.logs[0])).logs, ())
        with self.assertRaises(InputError):
            find_log(DESIGN, None)


if __name__ == "__main__":
    unittest.main()
