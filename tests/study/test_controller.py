"""The controller: bounds that move the right way, the sheet, schools, both sides of each finding, throttle, feel, failures, comparison."""

import contextlib
import io
import json
import math
import random
import shutil
import subprocess
import tempfile
import unittest
from dataclasses import replace
from pathlib import Path

import numpy as np

from tests.design.malformed import DEMO
from tests.random_boats import random_boat
from tests.random_designs import random_design
from tests.study.rule_case import BIKE, BOARD, KART, RANK, STOCK, case, changed
from tests.study.test_strength import zlib_texts
from wattagon.cli import main
from wattagon.design import file
from wattagon.design.paths import apply
from wattagon.design.quantity import Known, Quantity
from wattagon.design.tree import Control, Lever, Mode, Throttle
from wattagon.errors import FileError, InputError, WattagonError
from wattagon.exchange.settings_json import read_sheet, settings_csv, settings_data
from wattagon.exchange.units import say
from wattagon.physics.throttle import Ramps, Shape, Window, pulse_window, slewed
from wattagon.study.controller.compare import compare
from wattagon.study.controller.rules import RULES
from wattagon.study.controller.study import study_controller
from wattagon.study.controller.throttle import mapped, small_program
from wattagon.study.drive.study import study_drive
from wattagon.study.findings.status import Status

PUNT = file.read(DEMO / "garganey.json").design
DUNLIN = str(DEMO / "dunlin.json")


def found(design):
    return study_controller(design, STOCK, study_drive(design, STOCK), say)


def control(design, **changes):
    told = design.variant().control or Control()
    return changed(design, variant__control=replace(told, **changes))


def throttle(design, **changes):
    told = (design.variant().control or Control()).throttle or Throttle()
    return control(design, throttle=replace(told, **changes))


def verdict(design, code, key=""):
    made = case(design)
    rule = next(rule for rule in RULES if rule.code == code)
    codes = {f.code: f for f in rule.findings(made)}
    return codes.get(f"{code}.{key}" if key else code)


def faults_of(design):
    """What is wrong with sheet, bounds and findings of a design; none of one whose values contradict each other."""
    try:
        one = found(design)
    except WattagonError:
        return []
    bad = [
        f"{line.key}: {value}"
        for line in one.settings
        for value in (line.value, line.low, line.high, line.proposed)
        if isinstance(value, float) and math.isnan(value)
    ]
    bad += [f"{bound}" for bound in one.bounds if not (math.isfinite(bound.amps) and bound.amps > 0.0)]
    bad += [f"{line.key} says no reason" for line in one.settings if not line.because]
    made = case(design)
    bad += [finding.code for rule in RULES for finding in rule.findings(made) if "nan" in finding.title.split()]
    return bad


class ShapeTest(unittest.TestCase):
    def test_a_window_knows_its_travel_and_its_faults(self):
        pulse = pulse_window(1000.0, 1500.0, 2000.0)
        self.assertEqual([float(pulse.travel(r)) for r in (1000, 1250, 1500, 1750, 2000)], [-1.0, -0.5, 0.0, 0.5, 1.0])
        self.assertEqual([bool(pulse.fault(r)) for r in (799, 801, 2199, 2201, math.nan)], [True, False, False, True, True])
        hall = Window(0.85, 0.85, 3.85, 0.5, 4.5)
        self.assertEqual([round(float(hall.travel(r)), 6) for r in (0.4, 0.6, 0.85, 2.35, 3.85, 4.2, 4.6)], [0, 0, 0, 0.5, 1, 1, 0])
        self.assertEqual((hall.both_ways, pulse.both_ways), (False, True))
        for travel in (-0.7, 0.0, 0.3):
            self.assertAlmostEqual(float(pulse.travel(pulse.reading(travel))), travel)

    def test_no_curve_ever_falls_and_ends_stand(self):
        chance = random.Random(1)
        travel = [k / 50 for k in range(51)]
        for _ in range(200):
            kind = chance.choice(("linear", "expo", "power", "points"))
            bend = chance.uniform(0.0, 1.0) if kind == "expo" else chance.uniform(0.3, 4.0)
            points = tuple(
                zip(sorted(chance.uniform(0.01, 0.99) for _ in range(3)), sorted(chance.random() for _ in range(3)), strict=True)
            )
            made = Shape(chance.uniform(0.0, 0.3), kind, bend, points).of(travel).tolist()
            self.assertEqual(made, sorted(made))
            self.assertEqual((made[0], round(made[-1], 9)), (0.0, 1.0))

    def test_ramps_take_their_time_each_way(self):
        ramps = Ramps(0.4, 0.1, 0.8, 0.2)
        reaches = lambda start, wish: 1e-3 * (1 + int(np.argmax(np.isclose(slewed(np.full(3000, wish), 1e-3, ramps, start), wish))))
        self.assertAlmostEqual(reaches(0.0, 1.0), 0.4, delta=0.0021)
        self.assertAlmostEqual(reaches(1.0, 0.0), 0.1, delta=0.0021)
        self.assertAlmostEqual(reaches(0.0, -1.0), 0.8, delta=0.0021)
        self.assertAlmostEqual(reaches(-1.0, 0.0), 0.2, delta=0.0021)
        self.assertAlmostEqual(reaches(1.0, -1.0), 0.9, delta=0.0021)  # through nothing by both ramps


class SheetTest(unittest.TestCase):
    def test_every_line_has_a_reason_and_lies_between_its_bounds_or_says_so(self):
        for design in (BOARD, KART, BIKE, PUNT):
            one = found(design)
            self.assertEqual(len({line.key for line in one.settings}), len(one.settings))
            for line in one.settings:
                self.assertTrue(line.because, line.key)
                if isinstance(line.proposed, (int, float)):
                    for bound, sign in ((line.low, 1.0), (line.high, -1.0)):
                        if bound is not None and line.low != line.high:
                            self.assertGreaterEqual(sign * (line.proposed - bound), -0.02 * abs(bound) - 1e-9, (line.key, bound))

    def test_the_boards_sheet(self):
        one = found(BOARD)
        motor = one.setting("motor_a")
        self.assertEqual((motor.value, motor.high, motor.high_from), (65.0, 73.0, "motor, for seconds"))
        self.assertEqual(one.setting("cells").value, 10.0)
        self.assertEqual(one.setting("poles").value, 14.0)
        self.assertAlmostEqual(one.setting("ratio").value, 4.8)
        self.assertAlmostEqual(one.setting("erpm").low / 7.0, 6589, delta=10)
        self.assertTrue(one.setting("pack_in_a").overridden)
        self.assertFalse(one.setting("poles").overridden)
        self.assertEqual(one.setting("motor_brake_a").high_from, "wheels slip")

    def test_bounds_move_with_what_they_rest_on(self):
        amps = lambda design, axis, code: next(b.amps for b in found(design).bounds if (b.axis, b.code) == (axis, code))
        heavy = changed(BOARD, vehicle__rider_mass=Quantity(value=120.0, known=Known.MEASURED))
        self.assertGreater(amps(heavy, "motor", "ground.wheel_lift"), amps(BOARD, "motor", "ground.wheel_lift"))
        self.assertGreater(amps(heavy, "motor", "goal.start"), amps(BOARD, "motor", "goal.start"))
        hot = changed(BOARD, brief__conditions__air_temperature=Quantity(value=40.0, known=Known.STATED))
        self.assertLess(amps(hot, "motor", "heat.climb"), amps(BOARD, "motor", "heat.climb"))
        more = changed(BOARD, variant__pack__parallel=8)
        self.assertAlmostEqual(amps(more, "pack", "cells.burst"), 2.0 * amps(BOARD, "pack", "cells.burst"))
        wet = changed(BOARD, vehicle__grip=Quantity(value=0.2, known=Known.STATED))
        self.assertLess(amps(wet, "motor_brake", "ground.traction"), amps(BOARD, "motor_brake", "ground.traction"))

    def test_strength_at_its_bound_has_the_factor_that_is_wanted(self):
        """The bound is where the weakest has just the wanted factor: setting it there shows so."""
        bound = next(b for b in found(BIKE).bounds if b.axis == "motor" and b.code.startswith("strength."))
        again = found(changed(BIKE, variant__controller__motor_current_a=bound.amps))
        moved = next(b for b in again.bounds if b.axis == "motor" and b.code == bound.code)
        self.assertAlmostEqual(moved.amps / bound.amps, 1.0, delta=0.02)

    def test_a_setting_is_one_value(self):
        """What the sheet shows is what drive and ride use: a changed value shows on it, and a soft end of duty changes the drive."""
        design = changed(BOARD, variant__controller__motor_current_a=50.0)
        self.assertEqual(found(design).setting("motor_a").value, 50.0)
        soft = control(BOARD, duty_soft=0.6)
        pull = lambda d: study_drive(d, STOCK).states["nominal"].top_speed_m_s
        self.assertLess(pull(soft), pull(BOARD) + 1e-9)
        self.assertAlmostEqual(float(study_drive(soft, STOCK).resolved.train.controller.duty_soft), 0.6)
        weak = control(BOARD, watts=300.0)
        self.assertAlmostEqual(float(study_drive(weak, STOCK).resolved.train.controller.battery_current_a), 300.0 / 37.5, delta=0.1)

    def test_schools_say_what_they_lack_and_what_to_do(self):
        for school in ("model", "scooter", "brushed"):
            one = found(control(BOARD, school=school))
            lacks = [line for line in one.settings if line.cannot]
            self.assertTrue(lacks)
            for line in lacks:
                self.assertTrue(line.told or line.status is Status.NOT_CHECKED, line.key)
        over = found(changed(control(BOARD, school="scooter"), variant__controller__motor_current_a=90.0)).setting("motor_a")
        self.assertIs(over.status, Status.OVER, "fixed amps are judged all the same")
        self.assertTrue(found(control(BOARD, school="model")).setting("pack_a").cannot)
        self.assertEqual(found(control(BOARD, school="model")).setting("model_brake").value, "no")
        self.assertFalse(any(line.cannot for line in found(BOARD).settings))

    def test_modes_stand_on_the_sheet(self):
        one = found(BIKE)
        self.assertAlmostEqual(one.setting("mode_path_speed").value, 25 / 3.6, delta=0.01)
        self.assertEqual(one.setting("street").value, "path")
        self.assertEqual(one.setting("full_by").value, "hold")
        self.assertIsNone(found(KART).setting("street"))

    def test_random_designs_have_a_sheet(self):
        for seed in range(20):
            design = (random_boat if seed % 5 == 4 else random_design)(seed, STOCK)
            self.assertEqual(faults_of(design), [], seed)


class FindingTest(unittest.TestCase):
    def sides(self, code, good, bad, key="", worst=Status.OVER):
        """Clear on one side, as bad as told on the other, and a cure (where there is one) betters it."""
        for design, wanted in ((good, Status.CLEAR), (bad, worst)):
            one = verdict(design, code, key)
            self.assertIs(one.status if one is not None else Status.CLEAR, wanted, one and one.title)
        candidates = verdict(bad, code, key).candidates
        for edit in candidates() if candidates is not None else ():
            after = verdict(apply(bad, edit), code, key)
            self.assertLess(RANK[after.status] if after is not None else 0, RANK[worst], edit.label)
            break

    def test_amps_against_board_and_load_path(self):
        self.sides("settings.amps", BOARD, changed(BOARD, variant__controller__pack_current_a=57.0), key="pack_a")
        self.sides(
            "settings.amps",
            changed(BIKE, variant__controller__motor_current_a=50.0),
            changed(BIKE, variant__controller__motor_current_a=66.0),
            key="motor_a",
        )
        tight = changed(BIKE, variant__controller__motor_current_a=62.0)
        self.assertIs(verdict(tight, "settings.amps", "motor_a").status, Status.TIGHT)

    def test_the_trip(self):
        self.assertIs(verdict(BOARD, "settings.absolute").status, Status.NOT_CHECKED)
        self.sides("settings.absolute", control(BOARD, absolute_a=90.0), control(BOARD, absolute_a=70.0))
        self.sides("settings.absolute", control(BOARD, absolute_a=150.0), control(BOARD, absolute_a=200.0))

    def test_cutoffs(self):
        start = lambda volts: changed(BOARD, variant__controller__cutback_start_v=volts)
        self.sides("settings.cut_uphill", start(33.0), start(36.0))
        self.assertIs(verdict(start(34.0), "settings.cut_uphill").status, Status.TIGHT)
        end = lambda volts: changed(BOARD, variant__controller__cutback_end_v=volts)
        self.sides("settings.cut_low", end(29.0), end(24.0))
        self.sides("settings.cut_low", end(29.0), end(31.5), worst=Status.TIGHT)
        self.sides("settings.cut_fights", end(29.5), end(27.0))
        self.assertIs(verdict(end(28.5), "settings.cut_fights").status, Status.TIGHT)

    def test_braking_into_a_full_pack(self):
        narrow = changed(BOARD, variant__battery=replace(BOARD.variant().battery, window_top=0.9))
        self.assertIs(verdict(BOARD, "settings.regen_full").status, Status.TIGHT)
        self.assertIs(verdict(control(BOARD, school="model"), "settings.regen_full").status, Status.OVER)
        self.assertIs(verdict(narrow, "settings.regen_full").status, Status.CLEAR)

    def test_what_was_entered_wrong_tells_speed_wrong(self):
        self.sides("settings.wrong", control(BOARD, poles=14.0), control(BOARD, poles=20.0), key="poles")
        self.assertIn("30% too low", verdict(control(BOARD, poles=20.0), "settings.wrong", "poles").title)
        self.sides("settings.wrong", control(BOARD, cells=10.0), control(BOARD, cells=12.0), key="cells")
        self.sides("settings.wrong", control(BOARD, ratio=4.8), control(BOARD, ratio=5.0), key="ratio", worst=Status.TIGHT)
        wheel = lambda metres: control(BOARD, wheel=Quantity(value=metres, known=Known.STATED))
        self.sides("settings.wrong", wheel(0.191), wheel(0.23), key="wheel")

    def test_heat_without_a_taper(self):
        bare = changed(BOARD, variant__controller__motor_taper_start_c=None, variant__controller__motor_taper_end_c=None)
        self.assertIs(verdict(bare, "settings.no_taper").status, Status.NOT_CHECKED)
        self.sides("settings.no_taper", BOARD, control(bare, motor_sensor="no"), worst=Status.TIGHT)
        self.assertIs(verdict(control(BOARD, motor_sensor="no"), "settings.no_taper").status, Status.OVER)
        weak = changed(bare, variant__controller__motor_current_a=30.0)
        self.assertIs(verdict(weak, "settings.no_taper").status, Status.CLEAR)

    def test_freewheel_modes_and_firmware(self):
        self.sides("settings.freewheel", BIKE, changed(BIKE, variant__controller__regen_motor_current_a=10.0), worst=Status.TIGHT)
        self.assertIs(verdict(BIKE, "settings.downhill").status, Status.TIGHT)
        fast = changed(BIKE, brief__modes=(Mode(id="path", top_speed=30.0),))
        self.assertIs(verdict(fast, "settings.downhill").status, Status.CLEAR)
        self.sides("settings.hunts", control(BIKE, limited="soft"), control(BIKE, limited="hard"), worst=Status.TIGHT)
        self.assertIs(verdict(BIKE, "settings.street").status, Status.NOT_CHECKED)
        self.sides("settings.street", control(BIKE, full_by="code"), control(BIKE, full_by="none"), worst=Status.TIGHT)
        self.sides("settings.firmware", control(BOARD, firmware="known"), control(BOARD, firmware="unknown"), worst=Status.TIGHT)
        self.assertIsNone(verdict(BOARD, "settings.unguarded"))
        self.assertIs(verdict(control(BOARD, school="scooter"), "settings.unguarded").status, Status.NOT_CHECKED)

    def test_lines_between_bounds(self):
        self.sides("settings.line", control(BOARD, duty_soft=0.9), control(BOARD, duty_soft=0.96), key="duty_soft")
        self.sides("settings.line", control(BOARD, idle_min=20.0), control(BOARD, idle_min=500.0), key="idle_min")
        taper = lambda c: changed(BOARD, variant__controller__motor_taper_end_c=c)
        self.sides("settings.line", taper(115.0), taper(135.0), key="motor_taper_end_c")

    def test_the_lever(self):
        self.assertIs(verdict(BOARD, "throttle.window").status, Status.NOT_CHECKED)
        lever = Lever(kind="pulse", low=1010.0, centre=1498.0, high=1990.0)
        self.assertIs(verdict(throttle(BOARD, lever=lever), "throttle.window").status, Status.CLEAR)
        for change in ({"drift": 40.0}, {"fault_low": 1100.0}, {"low": 1400.0, "high": 1600.0}):
            self.assertIs(verdict(throttle(BOARD, lever=replace(lever, **change)), "throttle.window").status, Status.OVER, change)
        hall = Lever(kind="hall", low=0.85, centre=0.85, high=3.9)
        self.assertIs(verdict(throttle(KART, lever=hall), "throttle.window").status, Status.CLEAR)
        self.assertIs(verdict(throttle(KART, lever=replace(hall, fault_low=0.0)), "throttle.window").status, Status.OVER)
        self.assertIs(verdict(throttle(KART, lever=replace(hall, fault_high=5.0)), "throttle.window").status, Status.OVER)

    def test_a_second_lever_is_judged_too(self):
        lever, brake = Lever(kind="hall", low=0.85, centre=0.85, high=3.9), Lever(kind="hall", low=0.9, centre=0.9, high=3.8)
        self.assertIs(verdict(throttle(KART, lever=lever, brake=brake), "throttle.window").status, Status.CLEAR)
        bad = verdict(throttle(KART, lever=lever, brake=replace(brake, drift=0.4)), "throttle.window")
        self.assertIs(bad.status, Status.OVER)
        self.assertIn("brake lever: ", bad.title)

    def test_what_throws_a_rider(self):
        quick = changed(BOARD, variant__controller__ramp_up_s=0.1)
        slow = changed(BOARD, variant__controller__ramp_up_s=0.8)
        self.sides("throttle.start", slow, quick)
        hard = changed(BOARD, variant__controller__release_current_a=28.0, variant__controller__ramp_up_s=0.1)
        self.sides("throttle.release", BOARD, hard)
        self.sides(
            "throttle.brake", BOARD, changed(BOARD, variant__controller__ramp_up_s=0.1, variant__controller__regen_motor_current_a=60.0)
        )
        unknown = changed(BOARD, variant__controller__release_current_a=None, variant__controller__regen_motor_current_a=None)
        self.assertIs(verdict(unknown, "throttle.release").status, Status.NOT_CHECKED)
        strong = changed(BOARD, variant__controller__motor_current_a=110.0, variant__controller__pack_current_a=60.0)
        self.sides("throttle.lift", BOARD, strong)

    def test_a_gentle_ramp_is_gentle(self):
        one = found(changed(BOARD, variant__controller__ramp_up_s=0.1)).feel
        again = found(changed(BOARD, variant__controller__ramp_up_s=one.gentle_rise_s + 0.01)).feel
        self.assertLessEqual(again.trace("start").worst_jerk, again.bears.jerk * 1.01)
        self.assertGreater(one.trace("start").worst_jerk, one.bears.jerk)

    def test_failures(self):
        self.assertTrue(all(not one.outcome for one in found(BOARD).failures))
        known = throttle(control(BOARD, school="vehicle"), lever=Lever(kind="pulse"), loss_s=0.25)
        by = {one.code: one.outcome for one in found(known).failures}
        self.assertEqual((by["lost"], by["full"]), ("stops", ""))
        hall = throttle(control(KART, school="vehicle"), lever=Lever(kind="hall", fault_low=0.5, fault_high=4.5))
        by = {one.code: one.outcome for one in found(hall).failures}
        self.assertEqual((by["pulled"], by["short"]), ("stops", "stops"))
        open_end = throttle(control(KART, school="vehicle"), lever=Lever(kind="hall", fault_low=0.5, fault_high=5.0))
        self.assertIs(verdict(open_end, "throttle.fails", "short").status, Status.OVER)
        seen = throttle(BOARD, found={"lost": "drives", "full": "stops", "pulled": "brakes"})
        for key, wanted in (("lost", Status.OVER), ("full", Status.CLEAR), ("pulled", Status.TIGHT)):
            self.assertIs(verdict(seen, "throttle.fails", key).status, wanted)
        self.assertIsNone(verdict(seen, "throttle.fails", "short"))
        self.assertIn("signal on 5 V", verdict(seen, "throttle.untested").title)
        self.assertNotIn("signal lost", verdict(seen, "throttle.untested").title)


class FeelTest(unittest.TestCase):
    def test_full_lever_comes_to_the_pull_of_the_drive(self):
        design = changed(KART, variant__controller__ramp_up_s=0.2)
        drive = study_drive(design, STOCK)
        one = study_controller(design, STOCK, drive, say).feel.trace("start")
        self.assertAlmostEqual(one.command[-1], 1.0)
        self.assertAlmostEqual(one.pull_n.max() / drive.states["full"].standstill_force_n, 1.0, delta=0.03)

    def test_speed_is_the_sum_of_levels(self):
        one = found(BOARD).feel.trace("start")
        self.assertAlmostEqual(one.speed_m_s[-1], one.level.sum() * (one.seconds[1] - one.seconds[0]), delta=0.02)

    def test_a_held_pace_stays_until_the_lever_goes(self):
        one = found(BOARD).feel.trace("release")
        steady = one.speed_m_s[one.seconds < 0.3]
        self.assertAlmostEqual(steady[0], steady[-1], delta=0.05)
        self.assertLess(one.speed_m_s[-1], steady[-1])
        self.assertEqual(found(BIKE).feel.trace("release").worst, 0.0)  # a freewheel


class ProgramTest(unittest.TestCase):
    @unittest.skipIf(shutil.which("cc") is None, "no C compiler here")
    def test_the_small_program_does_what_the_study_does(self):
        for told in (
            Throttle(lever=Lever(kind="pulse", low=1020.0, centre=1490.0, high=1985.0), curve="expo", bend=0.5, dead=0.06),
            Throttle(
                lever=Lever(kind="hall", low=0.86, centre=0.86, high=3.85), curve="power", bend=1.8, gives=Lever(kind="pulse", high=1900.0)
            ),
        ):
            design = control(BOARD, throttle=told)
            one = mapped(design)
            scale = 1.0 if one.unit == "µs" else 1000.0
            w = one.window
            readings = [
                round(scale * (w.fault_low - 0.1 * w.low + k * (w.fault_high + 0.2 * w.low - w.fault_low) / 200)) for k in range(201)
            ]
            with tempfile.TemporaryDirectory() as folder:
                code = Path(folder) / "map.c"
                code.write_text(
                    small_program(one)
                    + '#include <stdio.h>\nint main(void){long r;while(scanf("%ld",&r)==1)printf("%d\\n",throttle_command((int32_t)r));'
                    + 'int k;for(k=0;k<400;k++)printf("%d\\n",throttle_step(READING_HIGH,1));'
                    + 'for(k=0;k<LOST_STEPS+1;k++)r=throttle_step(0,0);printf("%ld\\n",r);return 0;}\n'
                )
                built = Path(folder) / "map"
                subprocess.run(["cc", "-std=c99", "-Wall", "-Werror", "-o", built, code], check=True, capture_output=True)
                said = subprocess.run([built], input="\n".join(map(str, readings)), capture_output=True, text=True, check=True).stdout
            values = [int(v) for v in said.split()]
            for reading, value in zip(readings, values[:201], strict=True):
                self.assertAlmostEqual(value / 1000.0, one.command(reading / scale), delta=0.03, msg=reading)
            steps = round(one.ramps.rise_s / 0.002)
            self.assertLess(values[201 + steps // 2], 700)
            self.assertAlmostEqual(values[201 + steps + 2], 1000, delta=15)
            self.assertEqual(values[-1], 0, "a lost signal is no drive")
            self.assertEqual("throttle_output" in small_program(one), told.gives is not None)


class SheetFileTest(unittest.TestCase):
    def setUp(self):
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        self.one = found(BOARD)

    def write(self, text, name="sheet.csv"):
        path = self.folder / name
        path.write_text(text)
        return path

    def test_what_is_written_reads_back_without_a_difference(self):
        for text, name in ((settings_csv(self.one), "s.csv"), (json.dumps(settings_data(self.one)), "s.json")):
            values, other = read_sheet(self.write(text, name), self.one)
            self.assertEqual(other, [])
            self.assertEqual(compare(self.one, values, STOCK, say), ())

    def test_differences_say_what_they_would_do(self):
        path = self.write("Name;Wert;Einheit\nmotor amps;80;A\nMagnete;20;\nwheel;8;in\ncutoff begins;31,5;V\nFrequenz;5;\n")
        columns = {"key": "Name", "value": "Wert", "unit": "Einheit"}
        values, other = read_sheet(path, self.one, columns=columns, names={"Magnete": "poles"})
        self.assertEqual(other, ["Frequenz"])
        by = {d.key: d for d in compare(self.one, values, STOCK, say) if d.theirs is not None}
        self.assertEqual(set(by), {"motor_a", "poles", "wheel", "cut_start_v"})
        self.assertIs(by["motor_a"].status, Status.OVER)
        self.assertIn("30% too low", by["poles"].words)
        self.assertIn("6% too high", by["wheel"].words)
        self.assertIs(by["cut_start_v"].status, Status.TIGHT)
        lower, _ = read_sheet(self.write("key,value\nmotor_a,40\n"), self.one)
        change = next(d for d in compare(self.one, lower, STOCK, say) if d.key == "motor_a")
        self.assertIs(change.status, Status.OVER, "under what a goal asks for")

    def test_a_line_without_a_value_or_with_one_that_cannot_be_is_told(self):
        values, _ = read_sheet(self.write("key,value\npoles,\nsensor,gyroscope\norder,987\nstart,by sensors\n"), self.one)
        by = {d.key: d for d in compare(self.one, values, STOCK, say)}
        self.assertIs(by["poles"].status, Status.NOT_CHECKED)
        self.assertIn("no value", by["poles"].words)
        for key in ("sensor", "order"):
            self.assertIs(by[key].status, Status.OVER)
            self.assertIn("accepted", by[key].words)
            self.assertIsNone(by[key].edit)
        self.assertNotIn("start", by)

    def test_bad_sheets_are_refused_in_a_sentence(self):
        for text, words in (
            ("", "is empty"),
            ("a,b\n1,2\n", "say which of them is key and which is value"),
            ("key,value\nmotor_a,much\n", "line 2"),
            ("{", "cannot be read as JSON"),
            ('[{"key": "motor_a"}]', "entry 1"),
            ('[{"key": "motor_a", "value": [1]}]', "a structure"),
            ("[" * 5000, "cannot be read as JSON"),
        ):
            with self.assertRaisesRegex(FileError, words):
                read_sheet(self.write(text), self.one)


class TerminalTest(unittest.TestCase):
    def run_it(self, *arguments):
        out, err = io.StringIO(), io.StringIO()
        with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
            code = main(arguments)
        return code, out.getvalue(), err.getvalue()

    def test_the_promised_keys(self):
        code, out, _ = self.run_it("settings", DUNLIN, "--format", "json")
        data = json.loads(out)
        self.assertEqual(code, 0)
        promised = {"key", "value", "unit", "low", "high", "low_from", "high_from", "because", "known", "overridden"}
        for line in data["settings"]:
            self.assertLessEqual(promised, set(line))
        with tempfile.TemporaryDirectory() as folder:
            sheet = Path(folder) / "s.csv"
            self.assertEqual(self.run_it("settings", DUNLIN, "-o", str(sheet))[0], 0)
            data = json.loads(self.run_it("settings", DUNLIN, "--compare", str(sheet), "--json")[1])
            self.assertEqual(data["differences"], [])
            page = Path(folder) / "s.pdf"
            self.assertEqual(self.run_it("settings", DUNLIN, "-o", str(page))[0], 0)
            self.assertTrue(page.read_bytes().startswith(b"%PDF"))
            words = zlib_texts(page.read_bytes())
            for text in ("motor amps", "65 A", "73 A", "Caution", "signal lost"):
                self.assertIn(text, words)
            code, _, err = self.run_it("settings", DUNLIN, "-o", str(Path(folder) / "s.xyz"))
            self.assertEqual((code, "json, csv, pdf" in err), (2, True))
            code, _, err = self.run_it("settings", DUNLIN, "--compare", str(sheet), "--name", "x=nothing")
            self.assertEqual((code, "a key of the sheet" in err), (2, True))
        self.assertIn("motor 65 A", self.run_it("settings", DUNLIN, "--format", "label")[1])
        self.assertIn("throttle_map", self.run_it("settings", DUNLIN, "--format", "c")[1])
        self.assertIn("magnet poles", self.run_it("settings", DUNLIN)[1])


class TreeTest(unittest.TestCase):
    def test_what_cannot_be_is_refused(self):
        for make in (
            lambda: Control(school="other"),
            lambda: Control(order="128"),
            lambda: Control(reversed=(9,)),
            lambda: Lever(low=2000.0, centre=1500.0, high=1000.0),
            lambda: Throttle(points=((0.5, 0.5), (0.4, 0.6))),
            lambda: Throttle(points=((0.5, 0.5), (0.6, 0.4))),
            lambda: Throttle(found={"lost": "explodes"}),
            lambda: Throttle(curve="wave"),
        ):
            with self.assertRaises(InputError):
                make()

    def test_it_survives_the_file(self):
        told = Control(
            school="vehicle", reversed=(2,), throttle=Throttle(curve="points", points=((0.2, 0.1), (0.5, 0.3)), found={"lost": "stops"})
        )
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "x.wattagon"
            file.write(path, file.Document(design=changed(BOARD, variant__control=told)))
            self.assertEqual(file.read(path).design.variant().control, told)


if __name__ == "__main__":
    unittest.main()
