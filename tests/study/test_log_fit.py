"""What logs teach: hidden values come back, what cannot be told is refused with its reason, energy of a held-out ride is met."""

import unittest
from dataclasses import replace

import numpy as np

from tests.logs import CANAL, ROUND, STEADY, STOCK, charge, demo, log_of, ride_log
from wattagon.design.paths import apply
from wattagon.design.quantity import Known, Quantity
from wattagon.design.tree import Log, LogKind, LogStretch
from wattagon.errors import InputError
from wattagon.physics.infer import coast_down_m_s
from wattagon.standins.recorder import USUAL, recorded, ridden
from wattagon.study.log.compare import compare
from wattagon.study.log.data import LogData
from wattagon.study.log.fit import fit
from wattagon.study.log.model import prepare, residuals
from wattagon.study.log.next_ride import next_rides
from wattagon.study.log.replay import replay
from wattagon.study.log.ridden import seen
from wattagon.study.resolve import resolve

DESIGN = demo()
ROUND_TWICE = ROUND * 2
HIDDEN = {
    "vehicle.rolling": 0.037,
    "vehicle.drag_area": 0.61,
    "stock.cell-21-4p0-power.cell_r0_ohm": 0.0165,
    "stock.outrunner-63x74-170.winding_to_case_k_per_w": 0.54,
}


class ModelTests(unittest.TestCase):
    def test_each_channel_follows_from_the_others_by_the_simulators_own_equations(self):
        for name, legs in (("dunlin", ROUND), ("corncrake", ROUND), ("bittern", ROUND), ("garganey", CANAL)):
            with self.subTest(name=name):
                design = demo(name)
                run, resolved = ridden(design, STOCK, legs, charge=0.93)
                data = log_of(recorded(run, resolved, np.random.default_rng(0), replace(USUAL, noise={})), design.variant().id)
                p = prepare(seen(data, design, resolved), resolved, 0.93, 0.02)
                found = residuals(p, resolved, {})
                for channel, most in (
                    ("duty", 0.03),
                    ("pack_a", 0.06),
                    ("bus_v", 0.06),
                    ("motor_c", 0.6),
                    ("turns", 0.02),
                    ("torque", 0.2),
                ):
                    if channel in found:
                        self.assertLess(float(np.nanquantile(np.abs(found[channel]), 0.95)), most, channel)
                self.assertLess(float(np.nanstd(found["motion"])), 0.03)

    def test_braking_by_hand_is_not_learnt_from(self):
        run, resolved = ridden(DESIGN, STOCK, ROUND, charge=0.93)
        data = log_of(recorded(run, resolved, np.random.default_rng(0)), "B")
        p = prepare(seen(data, DESIGN, resolved), resolved, 0.93, 0.02)
        slows = p.accel < -0.8
        self.assertGreater(int(slows.sum()), 20)
        self.assertEqual(int((p.moving & slows).sum()), 0)


class FitTests(unittest.TestCase):
    def test_hidden_values_come_back_and_a_held_out_ride_is_met_within_three_per_cent(self):
        first = ride_log(DESIGN, ROUND_TWICE, HIDDEN, seed=7)
        made = fit(DESIGN, STOCK, [first])
        told = {one.unknown.at: one for one in made.parameters if one.identifiable}
        for path, value in HIDDEN.items():
            self.assertIn(path, told)
            self.assertLess(abs(told[path].after - value), 3.0 * told[path].error, path)
        self.assertLess(made.held_out_rms, 1.2 * made.residual_rms)
        other = ride_log(DESIGN, ROUND[::-1], HIDDEN, seed=8)
        before = compare(replay(DESIGN, STOCK, other, samples=0)).figure("energy")
        after = compare(replay(apply(DESIGN, made.edit()), STOCK, other, samples=0)).figure("energy")
        self.assertGreater(abs(before.off), 0.10)
        self.assertLess(abs(after.off), 0.03)

    def test_values_enter_as_fitted_with_date_error_and_log_and_only_those_that_are_told(self):
        made = fit(DESIGN, STOCK, [ride_log(DESIGN, shift=HIDDEN)])
        design = apply(DESIGN, made.edit(["vehicle.rolling"]))
        rolling = design.vehicle.rolling
        self.assertEqual((rolling.known, rolling.date), (Known.FITTED, "2026-10-10"))
        self.assertIn("log l1", rolling.note)
        self.assertAlmostEqual(rolling.tolerance, made.parameters[0].error, delta=0.01 * made.parameters[0].error)
        self.assertEqual(design.vehicle.drag_area, DESIGN.vehicle.drag_area)
        loose = next(one for one in made.parameters if not one.identifiable)
        with self.assertRaisesRegex(InputError, "what this log tells"):
            made.edit([loose.path])
        with self.assertRaises(InputError):
            made.edit(["no.such"])
        self.assertNotIn(loose.path, [path for path, _ in made.edit().changes])

    def test_one_speed_cannot_tell_air_from_rolling(self):
        steady = ride_log(DESIGN, STEADY, {"vehicle.rolling": 0.036}, seed=3)
        made = fit(DESIGN, STOCK, [steady], only=["vehicle.rolling", "vehicle.drag_area"])
        self.assertFalse(next(one for one in made.parameters if one.path == "vehicle.drag_area").identifiable)
        reasons = " ".join(one.why for one in made.parameters)
        self.assertRegex(reasons, "ride|coast-down")
        self.assertGreater(made.condition, 3.0)

    def test_what_has_no_column_is_not_told(self):
        run, resolved = ridden(DESIGN, STOCK, ROUND, charge=0.93)
        data = log_of(recorded(run, resolved, np.random.default_rng(0)), "B", ("speed", "motor_a", "grade"))
        made = fit(DESIGN, STOCK, [data])
        why = {one.unknown.row.end: one.why for one in made.parameters}
        self.assertIn("no column that tells it", why["cell_r0_ohm"])
        self.assertIn("no column that tells it", why["winding_to_case_k_per_w"])

    def test_logs_that_contradict_themselves_teach_nothing(self):
        data = replace(ride_log(DESIGN), doubts=("speed reads 3.6 times what the motor's turns give",))
        with self.assertRaisesRegex(InputError, "3.6 times"):
            fit(DESIGN, STOCK, [data])

    def test_refusals_name_what_is_accepted(self):
        data = ride_log(DESIGN)
        with self.assertRaises(InputError):
            fit(DESIGN, STOCK, [])
        with self.assertRaisesRegex(InputError, "vehicle.rolling"):
            fit(DESIGN, STOCK, [data], only=["no.such"])
        with self.assertRaisesRegex(InputError, "one variant"):
            fit(DESIGN, STOCK, [data, replace(data, log=replace(data.log, variant="A"))])
        bare = LogData(log=Log(id="l1", variant="B"), time=np.arange(0.0, 60.0, 0.1), columns={"speed": np.full(600, 5.0)})
        with self.assertRaisesRegex(InputError, "nothing to compare"):
            fit(DESIGN, STOCK, [bare])

    def test_several_logs_together_are_surer(self):
        logs = [ride_log(DESIGN, shift=HIDDEN, seed=seed) for seed in (1, 2, 3)]
        logs = [replace(one, log=replace(one.log, id=f"l{k + 1}")) for k, one in enumerate(logs)]
        one = fit(DESIGN, STOCK, logs[:1], only=["vehicle.drag_area"]).parameters[0]
        three = fit(DESIGN, STOCK, logs, only=["vehicle.drag_area"]).parameters[0]
        self.assertLess(three.error, 0.85 * one.error)
        self.assertLess(abs(three.after - HIDDEN["vehicle.drag_area"]), 3.0 * three.error)

    def test_only_the_chosen_stretch_is_learnt_from(self):
        data = ride_log(DESIGN, ROUND_TWICE, HIDDEN)
        half = replace(data, log=replace(data.log, learn=(LogStretch(begin=0.0, end=0.4 * data.seconds),)))
        short, whole = fit(DESIGN, STOCK, [half]), fit(DESIGN, STOCK, [data])
        self.assertLess(short.samples, 0.5 * whole.samples)

    def test_one_wild_reading_in_fifty_hardly_matters(self):
        data = ride_log(DESIGN, shift=HIDDEN)
        rng = np.random.default_rng(9)
        volts = data.column("bus_v").copy()
        volts[rng.random(volts.size) < 0.02] -= 2.0
        wild = replace(data, columns={**data.columns, "bus_v": volts})
        for path in ("vehicle.rolling", "variants.B.pack.cell_r0_ohm"):
            a, b = (next(one for one in fit(DESIGN, STOCK, [log]).parameters if one.path == path) for log in (data, wild))
            self.assertLess(abs(a.after - b.after), 2.0 * a.error)

    def test_a_coast_down_tells_rolling(self):
        """Against the closed form of the handbook: no motor connected."""
        design = demo("bittern")  # its freewheel lets the motor stand
        resolved = resolve(design, STOCK)
        road = replace(resolved.road, rolling=0.0145)
        moving = float(road.moving_mass_kg(0.0, 1.0, 1.0, False))
        time = np.arange(0.0, 40.0, 0.1)
        rng = np.random.default_rng(1)
        speed = np.asarray(coast_down_m_s(road, moving, 9.0, time)) + rng.normal(0.0, 0.03, time.size)
        columns = {"speed": speed, "grade": np.zeros(time.size)}
        log = Log(id="l1", kind=LogKind.COAST, variant="A", headwind=Quantity(value=0.0, known=Known.MEASURED, tolerance=0.1))
        made = fit(design, STOCK, [LogData(log=log, time=time, columns=columns)], only=["vehicle.rolling"], held_out=0.0)
        found = made.parameters[0]
        self.assertTrue(found.identifiable, found.why)
        self.assertLess(abs(found.after - 0.0145), 2.5 * found.error)
        self.assertLess(found.error, 0.003)

    def test_a_meter_on_the_bench_tells_the_pack(self):
        time = np.arange(0.0, 600.0, 1.0)
        amps = np.where((time // 60) % 2 == 0, 20.0, 0.0)
        rng = np.random.default_rng(2)
        resolved = resolve(DESIGN, STOCK, shift={"stock.cell-21-4p0-power.cell_r0_ohm": 0.017})
        pack = resolved.train.pack
        left = 0.93 - np.concatenate([[0.0], np.cumsum(amps[:-1])]) / 3600.0 / float(pack.capacity_ah)
        slow = np.zeros(time.size)
        for k in range(1, time.size):
            slow[k] = amps[k - 1] + (slow[k - 1] - amps[k - 1]) * np.exp(-1.0 / float(pack.cell_tau1_s))
        share = float(pack.series) / float(pack.parallel)
        ohm = float(pack.burst_ohm)
        volts = np.array([resolved.emf_v(one) for one in left]) - ohm * amps - share * float(pack.cell_r1_ohm) * slow
        log = Log(id="l1", kind=LogKind.METER, variant="B", start_charge=charge())
        data = LogData(log=log, time=time, columns={"bus_v": volts + rng.normal(0.0, 0.02, time.size), "pack_a": amps})
        found = next(one for one in fit(DESIGN, STOCK, [data]).parameters if one.path.endswith("cell_r0_ohm"))
        self.assertTrue(found.identifiable, found.why)
        self.assertAlmostEqual(found.after, 0.017, delta=0.0017)
        with self.assertRaises(InputError):
            replay(DESIGN, STOCK, data, samples=0)

    def test_boats_tell_their_propeller(self):
        design = demo("garganey")
        hidden = {"variants.A.propeller.torque_model": 1.15}
        made = fit(design, STOCK, [ride_log(design, CANAL, hidden)])
        torque = next(one for one in made.parameters if one.path == "variants.A.propeller.torque_factor")
        self.assertTrue(torque.identifiable)
        self.assertLess(abs(torque.after - 1.15), 3.0 * torque.error)
        self.assertEqual(apply(design, made.edit()).variant("A").propeller.torque_factor.known, Known.FITTED)

    def test_bricks_take_what_a_pack_of_them_has_shown(self):
        design = demo("corncrake")
        made = fit(design, STOCK, [ride_log(design, ROUND, {"variants.A.battery.resistance": 0.0105})])
        found = next(one for one in made.parameters if one.path == "variants.A.battery.resistance")
        self.assertTrue(found.identifiable, found.why)
        self.assertLess(abs(found.after - 0.0105), 3.0 * found.error)
        after = resolve(apply(design, made.edit([found.path])), STOCK, note=True).inputs["variants.A.battery.resistance"].value
        self.assertAlmostEqual(after, found.after, delta=0.01 * found.after)


class NextTests(unittest.TestCase):
    def test_what_is_loose_after_one_speed_is_told_by_a_ride_that_changes_it(self):
        made = fit(DESIGN, STOCK, [replace(ride_log(DESIGN, STEADY), log=replace(ride_log(DESIGN, STEADY).log, start_charge=charge()))])
        found = next_rides(DESIGN, STOCK, made)
        self.assertTrue(found)
        self.assertTrue(any("air drag" in one.tells for one in found), [one.tells for one in found])
        self.assertEqual(len({one.words for one in found}), len(found))


if __name__ == "__main__":
    unittest.main()
