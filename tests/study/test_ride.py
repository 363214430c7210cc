"""Rides of whole designs: standard runs, courses, figures, findings and the terminal's data."""

import json
import math
import unittest
from dataclasses import replace

from tests.design.malformed import DEMO
from wattagon.design import catalogue, file
from wattagon.design.paths import Edit, apply
from wattagon.design.quantity import Quantity
from wattagon.errors import InputError
from wattagon.exchange.json_data import ride_data
from wattagon.physics.ride.names import Col, End, Stat
from wattagon.study.drive.heat import lines_until_hot
from wattagon.study.drive.study import study_drive
from wattagon.study.findings.all import find, judged, slow_findings
from wattagon.study.findings.rule import Case
from wattagon.study.findings.status import Status
from wattagon.study.resolve import resolve
from wattagon.study.ride.rules import RULES
from wattagon.study.ride.study import STANDARD, Ask, best_range, point_of, ride, ride_all, time_to
from wattagon.study.say import plain


def changed(design, **values):
    return apply(design, Edit(label="x", changes=tuple((path.replace("__", "."), value) for path, value in values.items())))


class RideStudyTest(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.stock = catalogue.load()
        cls.fleet = {name: file.read(DEMO / f"{name}.json").design for name in ("dunlin", "corncrake", "bittern")}

    def ride(self, name, run, **ask):
        return ride(self.fleet[name], self.stock, Ask(run=run, **ask))

    def test_every_standard_run_and_course_of_the_fleet(self):
        for name, design in self.fleet.items():
            for run in (*STANDARD, *(course.id for course in design.brief.courses)):
                done = self.ride(name, run)
                self.assertLess(done.run.balance_error, 1e-3, f"{name} {run}")
                data = ride_data(done, design)
                json.dumps({key: value for key, value in data.items() if key != "range_m"}, default=float)
                for key in (
                    "time_s",
                    "distance_m",
                    "energy_wh",
                    "wh_per_km",
                    "range_m",
                    "peak",
                    "mean",
                    "temperatures",
                    "time_to_limit_s",
                    "events",
                    "energy_balance_error",
                ):
                    self.assertIn(key, data)

    def test_the_start_agrees_with_the_goal_of_the_drive(self):
        design = self.fleet["dunlin"]
        study = study_drive(design, self.stock)
        sprint = next(result for result in study.goals if result.goal.id == "sprint")
        eager = ride(design, self.stock, Ask(run="start", start_charge=0.5))
        # the hand's 0.4 s, warming and the falling charge come on top of the closed form
        self.assertGreater(time_to(eager, sprint.goal.speed), sprint.reached)
        self.assertLess(time_to(eager, sprint.goal.speed), sprint.reached + 0.5)
        self.assertEqual(time_to(eager, 50.0), math.inf)

    def test_conditions_act(self):
        design = self.fleet["dunlin"]
        base = ride(design, self.stock, Ask(run="levee-round"))
        windy = ride(changed(design, brief__conditions__headwind=Quantity(value=4.0)), self.stock, Ask(run="levee-round"))
        self.assertGreater(windy.energy_wh, 1.2 * base.energy_wh)
        wet = ride(changed(design, brief__conditions__wet=True), self.stock, Ask(run="stop"))
        self.assertGreater(wet.distance_m, ride(design, self.stock, Ask(run="stop")).distance_m)
        hot = ride(changed(design, brief__conditions__air_temperature=Quantity(value=38.0)), self.stock, Ask(run="hold-grade"))
        self.assertLess(hot.time_s, self.ride("dunlin", "hold-grade").time_s)
        sunny = ride(changed(design, brief__conditions__sun=Quantity(value=900.0)), self.stock, Ask(run="hold-speed"))
        self.assertGreater(sunny.run.stat(Stat.CONTROLLER), self.ride("dunlin", "hold-speed").run.stat(Stat.CONTROLLER) + 8.0)
        bike = self.fleet["bittern"]
        helped = ride(changed(bike, brief__conditions__pedal_power=Quantity(value=100.0)), self.stock, Ask(run="hold-speed"))
        self.assertGreater(helped.range_m, 1.5 * self.ride("bittern", "hold-speed").range_m)

    def test_a_warm_second_ride_begins_where_the_first_ended(self):
        first = self.ride("dunlin", "dune-climb")
        second = ride(self.fleet["dunlin"], self.stock, Ask(run="hold-grade", warm=first.run))
        self.assertEqual(second.run.trace[0, Col.WINDING], first.run.stat(Stat.LAST_WINDING))
        self.assertEqual(second.run.trace[0, Col.CHARGE], first.run.stat(Stat.CHARGE))
        self.assertLess(second.time_s, self.ride("dunlin", "hold-grade").time_s)

    def test_points_of_a_ride_balance(self):
        done = self.ride("corncrake", "boardwalk")
        for row in range(0, len(done.run.trace), 97):
            point = point_of(done, row)
            self.assertLess(point.balance_error, 1e-9)
            self.assertAlmostEqual(
                point.thrust_n, done.run.trace[row, Col.FORCE], delta=max(6.0, 0.04 * abs(point.thrust_n))
            )  # the rotor takes its share while it slows

    def test_variants_together_are_as_alone(self):
        design = self.fleet["dunlin"]
        together = ride_all(design, self.stock, Ask(run="start"), ["A", "B", "C"])
        for done, variant in zip(together, "ABC", strict=True):
            self.assertEqual(done.time_s, ride(design, self.stock, Ask(run="start"), variant_id=variant).time_s)

    def test_the_furthest_pace_beats_its_neighbours(self):
        resolved = resolve(self.fleet["bittern"], self.stock)
        pace, metres = best_range(resolved)
        for other in (0.8 * pace, 1.2 * pace):
            done = ride(self.fleet["bittern"], self.stock, Ask(run="hold-speed", speed_m_s=max(other, 1.4)))
            self.assertLessEqual(done.distance_m, metres * 1.01)

    def test_lines_until_hot_are_where_a_ride_gets_hot(self):
        design = changed(self.fleet["dunlin"], variant__controller__motor_taper_start_c=None, variant__controller__motor_taper_end_c=None)
        resolved = resolve(design, self.stock)
        resolved = replace(resolved, train=replace(resolved.train, motor=replace(resolved.train.motor, magnet_per_k=0.0)))
        (minutes, speeds, thrust), *_ = lines_until_hot(resolved, 8.0, (10.0,))
        grade = float(resolved.load.grade_at(thrust[8], speeds[8]))
        done = ride(design, self.stock, Ask(run="hold-grade", speed_m_s=float(speeds[8]), grade=grade))
        # magnets that warm shorten it: by up to a quarter
        self.assertLess(done.run.stat(Stat.WINDING_AT), 60.0 * minutes * 1.01)
        self.assertGreater(done.run.stat(Stat.WINDING_AT), 60.0 * minutes * 0.7)

    def test_a_taper_that_ends_before_it_starts_is_refused(self):
        for end in (90.0, 120.0):
            with self.assertRaisesRegex(InputError, "above the start of the taper, 120 C"):
                changed(self.fleet["bittern"], variant__controller__motor_taper_start_c=120.0, variant__controller__motor_taper_end_c=end)
        good = changed(self.fleet["bittern"], variant__controller__motor_taper_start_c=90.0, variant__controller__motor_taper_end_c=110.0)
        self.assertEqual(good.variant().controller.motor_taper_end_c, 110.0)

    def test_heights_follow_the_grades(self):
        done = self.ride("dunlin", "dune-climb")
        up = done.heights_m()
        self.assertEqual(len(up), len(done.run.trace))
        # 900 m at 9 %, 500 m at 12 %, and down 1400 m at 10 %
        self.assertAlmostEqual(float(up.max()), 900 * math.sin(math.atan(0.09)) + 500 * math.sin(math.atan(0.12)), delta=1.5)

    def test_unknown_runs_are_refused_with_what_there_is(self):
        with self.assertRaisesRegex(InputError, "levee-round"):
            self.ride("dunlin", "nowhere")


class RideRulesTest(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.stock = catalogue.load()
        cls.dunlin, cls.bittern = (file.read(DEMO / f"{name}.json").design for name in ("dunlin", "bittern"))

    def judge(self, design, code):
        return judged(Case(design, self.stock, study_drive(design, self.stock), plain), code)

    def test_climb_both_sides(self):
        # its longest course climbs for five minutes, which the ride holds; without courses ten are asked for
        self.assertIs(self.judge(self.dunlin, "ride.climb").status, Status.CLEAR)
        finding = self.judge(replace(self.dunlin, brief=replace(self.dunlin.brief, courses=())), "ride.climb")
        self.assertIs(finding.status, Status.TIGHT)
        self.assertIn("600 s are asked for", finding.because)
        easy = changed(self.dunlin, brief__goals__ramp__grade=0.05)
        self.assertIs(self.judge(easy, "ride.climb").status, Status.CLEAR)
        steep = changed(self.dunlin, brief__goals__ramp__grade=0.34)
        self.assertIs(self.judge(steep, "ride.climb").status, Status.OVER)
        none = replace(self.dunlin, brief=replace(self.dunlin.brief, goals=()))
        self.assertIs(self.judge(none, "ride.climb").status, Status.NOT_CHECKED)

    def test_boost_both_sides(self):
        self.assertIsNone(self.judge(changed(self.dunlin, variant__controller__motor_current_a=40.0), "ride.boost"))
        short = changed(self.bittern, variant__controller__part="ctrl-60v-40")
        finding = self.judge(short, "ride.boost")
        self.assertIs(finding.status, Status.OVER)
        self.assertIs(self.judge(self.bittern, "ride.boost").status, Status.CLEAR)

    def test_stop_full_pack_box_and_resistor(self):
        self.assertIs(self.judge(self.dunlin, "ride.stop").status, Status.TIGHT)
        braked = changed(self.dunlin, vehicle__brake_force=Quantity(value=400.0))
        self.assertIs(self.judge(braked, "ride.stop").status, Status.CLEAR)
        weak = changed(self.dunlin, variant__controller__regen_motor_current_a=4.0)
        self.assertIs(self.judge(weak, "ride.stop").status, Status.OVER)
        self.assertIs(self.judge(self.dunlin, "ride.full_pack").status, Status.CLEAR)
        full = changed(self.dunlin, brief__conditions__start_charge=Quantity(value=1.0))
        self.assertIs(self.judge(full, "ride.full_pack").status, Status.OVER)
        self.assertIs(self.judge(self.dunlin, "ride.box").status, Status.CLEAR)
        tiny = changed(self.dunlin, variant__controller__box_area=0.01)
        self.assertIs(self.judge(tiny, "ride.box").status, Status.OVER)
        self.assertIsNone(self.judge(changed(self.dunlin, variant__controller__box_area=None), "ride.box"))
        self.assertIsNone(self.judge(self.dunlin, "ride.resistor"))
        self.assertIs(
            self.judge(changed(self.dunlin, variant__controller__brake_resistor_ohm=0.3), "ride.resistor").status,
            Status.TIGHT,
        )

    def test_courses_both_sides(self):
        self.assertIs(self.judge(self.dunlin, "ride.course.levee-round").status, Status.CLEAR)
        late = changed(self.dunlin, brief__conditions__start_charge=Quantity(value=0.22))
        self.assertIs(self.judge(late, "ride.course.levee-round").status, Status.OVER)
        steep = changed(self.bittern, **{"brief__courses__hide-supply__legs__3__grade": 0.35})
        finding = self.judge(steep, "ride.course.hide-supply")
        self.assertIs(finding.status, Status.OVER)
        self.assertIn("stops on the way", finding.title)

    def test_cures_were_ridden_and_break_nothing(self):
        short = changed(self.bittern, variant__controller__part="ctrl-60v-40")
        study = study_drive(short, self.stock)
        case = Case(short, self.stock, study, plain)
        drive = find(short, self.stock, study)
        found = {f.code: f for f in slow_findings(case, drive, RULES)}
        cures = found["ride.climb"].cures
        self.assertTrue(cures)
        for cure in cures:
            after = apply(short, cure.edit)
            self.assertIs(self.judge(after, "ride.climb").status, cure.status)
            self.assertIn(" to ", cure.effect)
        over = {f.code for f in drive if f.status is Status.OVER}
        now = {
            f.code
            for f in find(after, self.stock, study_drive(after, self.stock))
            if f.status is Status.OVER and not f.code.startswith("goal.")
        }
        self.assertLessEqual(now, over)
        self.assertIs(ride(after, self.stock, Ask(run="start")).run.end, End.SETTLED)
