"""One law each: what the point says, the goals say and the ride does is the same; limits are limits and ratings are not."""

import math
import unittest

import numpy as np

from tests.study.rule_case import BIKE, BOARD, KART, STOCK, RuleCase, case, changed, known, replace, study
from wattagon.design.boats import BOATS
from wattagon.design.fitted import fitted
from wattagon.design.kinds import KINDS
from wattagon.design.parts import CellPart, ControllerPart, MotorPart, WheelPart
from wattagon.design.template import new_design
from wattagon.design.tree import Course, CourseLeg, Goal, GoalKind, ReductionKind, StageChoice, VehicleKind, WheelChoice
from wattagon.physics.envelope import edge
from wattagon.physics.ride.names import Col, End, Stat
from wattagon.study.drive.climbs import asked_climb, climbs_of, judge_climb, steepest
from wattagon.study.drive.goals import peak_bus_power_w
from wattagon.study.drive.study import point_at
from wattagon.study.findings.all import judged
from wattagon.study.findings.status import Status
from wattagon.study.resolve import bill_of_parts, resolve
from wattagon.study.ride.study import Ask, ride, time_to


class CutbackTest(unittest.TestCase):
    def test_the_set_limit_is_cut_back_and_not_what_the_pack_could_give_at_most(self):
        cell = next(c for c in STOCK.all(CellPart) if abs(c.capacity_ah - 3.5) < 0.01)
        design = changed(
            new_design(VehicleKind.ALL_TERRAIN_BOARD),
            variant__pack=replace(BOARD.variant().pack, part=cell.id, series=12, parallel=2, overrides={}),
            brief__conditions__pack_temperature=known(0.0),
            variant__controller__pack_current_a=50.0,
            variant__motor__count=4,
        )
        low = study(design).states["low"]
        resolved = resolve(design, STOCK)
        train, c = resolved.train, resolved.train.controller
        emf, ohm = resolved.emf_v(0.1), float(train.pack_ohm(True))
        limit = 4 * 50.0
        fixed = limit * (emf - float(c.cutback_end_v)) / (float(c.cutback_start_v) - float(c.cutback_end_v) + limit * ohm)
        self.assertLess(fixed, limit)
        amps = low.pack_a[np.isfinite(low.pack_a)].max()
        self.assertAlmostEqual(float(amps), fixed, delta=0.01 * fixed)
        done = ride(design, STOCK, Ask(run="start", start_charge=0.1))
        self.assertAlmostEqual(done.run.stat(Stat.PEAK_PACK_A), fixed, delta=0.02 * fixed)


class BrushTest(unittest.TestCase):
    def test_brush_heat_is_part_of_what_a_brushed_motor_bears_for_good(self):
        design = changed(
            KART,
            variant__motor__part="brushed-95x110-115",
            variant__controller__part=next(c.id for c in STOCK.all(ControllerPart) if c.brushed),
        )
        with_, without = (resolve(changed(design, variant__motor__brush_drop_v=v), STOCK) for v in (2.0, 0.0))
        force = {}
        for name, resolved in (("with", with_), ("without", without)):
            reach = edge(resolved.train, resolved.load, np.array([1.0]), resolved.emf_v(0.5), burst=False)
            force[name] = float(reach.dc_current_a[0])
        self.assertLess(force["with"], 0.9 * force["without"])
        # the heat is the same: R I^2 + V I with brushes, R I^2 without
        ohm = [float(r.train.motor.at(winding_c=float(r.train.heat.limit_c), magnet_c=20.0).resistance_ohm) for r in (with_, without)]
        self.assertAlmostEqual(
            ohm[0] * force["with"] ** 2 + 2.0 * force["with"], ohm[1] * force["without"] ** 2, delta=0.12 * ohm[1] * force["without"] ** 2
        )


class OverspeedTest(RuleCase):
    fast = changed(
        BOARD, variant__pack__series=5, brief__courses=(Course(id="down", legs=(CourseLeg(length=2000.0, grade=-0.25, speed=20.0),)),)
    )

    def test_the_point_has_the_diodes_charge_the_pack(self):
        resolved = resolve(self.fast, STOCK)
        point = point_at(resolved, speed_m_s=18.0, grade=-0.25)
        self.assertEqual((point.limit, point.duty), ("overspeed", 0.0))
        self.assertLess(point.pack_a, -20.0)
        self.assertLess(point.balance_error, 1e-9)
        slow = point_at(resolved, speed_m_s=3.0, grade=-0.25)
        self.assertNotEqual(slow.limit, "overspeed")

    def test_the_ride_agrees_with_the_point(self):
        done = ride(self.fast, STOCK, Ask(run="hold-speed", speed_m_s=18.0, grade=-0.25, start_charge=0.3))
        v, amps, charge = (done.run.column(c) for c in (Col.SPEED, Col.PACK_A, Col.CHARGE))
        row = int(np.argmax(v))
        point = point_at(done.resolved, speed_m_s=float(v[row]), grade=-0.25, charge=float(charge[row]))
        self.assertEqual(point.limit, "overspeed")
        self.assertAlmostEqual(float(amps[row]), point.pack_a, delta=0.12 * abs(point.pack_a))

    def test_a_ride_ends_at_what_a_pack_takes(self):
        done = ride(self.fast, STOCK, Ask(run="down", start_charge=0.95))
        self.assertIs(done.run.end, End.OVERCHARGED)
        self.assertLessEqual(done.run.stat(Stat.CHARGE), 1.0 + 1e-3)
        self.assertLess(float(done.run.column(Col.BUS_V).max()), 1.2 * float(done.resolved.train.pack.full_v))

    def test_a_finding_says_it_with_speed_and_amps(self):
        found = self.finding(self.fast, "drive.overspeed")
        self.assertIs(found.status, Status.OVER)
        self.assertRegex(found.title, r"from [\d.]+ m/s")
        self.assertRegex(found.title + found.because, r"\d A")
        self.assertIs(self.status(BOARD, "drive.overspeed"), Status.CLEAR)

    def test_regeneration_never_fills_beyond_full(self):
        for design, course in ((BOARD, 0.10), (KART, 0.08), (BIKE, 0.06)):
            down = changed(design, brief__courses=(Course(id="down", legs=(CourseLeg(length=4000.0, grade=-course, speed=6.0),)),))
            for charge in (0.9, 0.99, 1.0):
                done = ride(down, STOCK, Ask(run="down", start_charge=charge))
                self.assertLessEqual(float(done.run.column(Col.CHARGE).max()), 1.0 + 1e-6, (design.vehicle.name, charge))


class PowerTest(unittest.TestCase):
    def test_the_most_power_is_a_maximum_and_not_a_sample(self):
        for design in (BOARD, KART, BIKE, new_design(VehicleKind.SCOOTER)):
            resolved = resolve(design, STOCK)
            told = float(peak_bus_power_w(resolved.train, resolved.load)[0, 0])
            speeds = np.linspace(0.01, study(design).states["full"].no_load_speed_m_s, 40001)
            reach = edge(resolved.train, resolved.load, speeds, resolved.emf_v(1.0))
            shaft = resolved.train.reduction.ratio * resolved.load.shaft_speed_rad_s(speeds, 0.0)
            volts, amps, _, _ = resolved.train.bus(reach.dc_current_a, shaft, resolved.emf_v(1.0), resolved.train.pack_ohm(True))
            most = float(np.nanmax(volts * amps))
            self.assertGreater(told, most * (1 - 2e-5))
            self.assertLess(told, most * 1.001)

    def test_a_power_limit_is_judged_on_the_pack_at_which_it_is_most(self):
        most = float(peak_bus_power_w(resolve(BOARD, STOCK).train, resolve(BOARD, STOCK).load)[0, 0])
        for share, met in ((1.001, True), (0.999, False)):
            design = changed(BOARD, brief__goals=(Goal(id="p", kind=GoalKind.POWER_LIMIT, amount=most * share),))
            self.assertIs(study(design).goals[0].met, met)


class StiffTest(unittest.TestCase):
    """Motors that answer to speed faster than the ride steps."""

    def test_rides_of_stiff_drives_balance(self):
        slow = StageChoice(kind=ReductionKind.GEAR, driver_teeth=10, driven_teeth=400)
        stiff = changed(BOARD, variant__motor__kv_rpm_per_v=known(50.0), variant__stages=(slow,))
        wild = changed(BOARD, variant__motor__kv_rpm_per_v=known(5.0), variant__motor__resistance_ohm=known(0.01))
        for name, design in (("walking pace", stiff), ("kv 5", wild), ("plain", BOARD)):
            for run in ("start", "hill", "stop-go", "hold-grade"):
                with self.subTest(name, run=run):
                    done = ride(
                        design,
                        STOCK,
                        Ask(
                            run=run,
                            grade=0.05 if run in ("hill", "hold-grade") else None,
                            speed_m_s=0.8 if run in ("hold-grade", "stop-go") else None,
                        ),
                    )
                    self.assertLess(done.run.balance_error, 1e-3)
                    self.assertTrue(done.run.sound)

    def test_speed_does_not_chatter(self):
        slow = StageChoice(kind=ReductionKind.GEAR, driver_teeth=10, driven_teeth=400)
        design = changed(BOARD, variant__motor__kv_rpm_per_v=known(50.0), variant__stages=(slow,))
        v = ride(design, STOCK, Ask(run="start")).run.column(Col.SPEED)
        late = v[len(v) // 2 :]
        self.assertLess(float(np.abs(np.diff(late)).max()), 0.02 * float(late.mean()))

    def test_what_still_moves_near_its_hill_limit_is_not_stalled(self):
        limit = study(BOARD).states["nominal"].max_grade
        done = ride(BOARD, STOCK, Ask(run="hill", grade=0.97 * limit, start_charge=0.5))
        self.assertTrue(done.run.end is not End.STALLED or done.distance_m < 0.5, (done.run.end, done.distance_m))
        steep = ride(BOARD, STOCK, Ask(run="hill", grade=min(1.3 * limit, 0.5), start_charge=0.5))
        self.assertIs(steep.run.end, End.STALLED)

    def test_an_unsound_ride_says_so(self):
        from wattagon.study.ride.words import balance_words

        done = ride(BOARD, STOCK, Ask(run="start"))
        self.assertEqual(balance_words(done.run), "")
        spoiled = replace(done.run, sums_j=done.run.sums_j * np.where(np.arange(len(done.run.sums_j)) == 0, 1.05, 1.0))
        self.assertRegex(balance_words(spoiled), r"not to be relied on: \d")


class SprintTest(unittest.TestCase):
    def test_near_top_speed_it_is_the_fine_integral(self):
        for design in (BOARD, KART, BIKE):
            resolved = resolve(design, STOCK)
            top = study(design).states["nominal"].top_speed_m_s
            for share in (0.5, 0.9, 0.98, 0.995):
                goal = Goal(id="s", kind=GoalKind.SPRINT, speed=share * top, time=5.0, case="usual")
                told = study(changed(design, brief__goals=(goal,))).goals[0].reached
                speeds = np.linspace(0.0, share * top, 200_001)
                reach = edge(resolved.train, resolved.load, speeds, resolved.emf_v(0.5), grade=0.0)
                surplus = reach.force_n - resolved.load.resistance_n(speeds, 0.0, resolved.headwind_m_s)
                inertia = self.mass(resolved)
                fine = float(np.trapezoid(inertia / surplus, speeds))
                self.assertAlmostEqual(told / fine, 1.0, delta=0.005, msg=f"{design.vehicle.name} {share}")

    def mass(self, resolved) -> float:
        train = resolved.train
        rotors = float(train.count) * float(train.motor.rotor_inertia_kg_m2)
        return float(resolved.load.moving_mass_kg(rotors, train.reduction.ratio, train.reduction.efficiency, False))

    def test_standing_with_the_throttle_shut_nothing_pushes(self):
        for design in (BOARD, KART, BIKE):
            point = point_at(resolve(design, STOCK), speed_m_s=0.0, throttle=0.0)
            self.assertEqual(point.thrust_n, 0.0)


class WheelTest(unittest.TestCase):
    def test_the_inertia_of_a_stock_wheel_is_used(self):
        wheel = next(w for w in STOCK.all(WheelPart) if w.family == "bike")
        light, heavy = (changed(BIKE, variant__wheel=WheelChoice(part=wheel.id), variant__wheel__inertia_kg_m2=k) for k in (0.01, 2.0))
        self.assertGreater(
            float(resolve(heavy, STOCK).load.wheel_inertia_kg_m2), float(resolve(light, STOCK).load.wheel_inertia_kg_m2) + 1.5
        )
        fast, slow = (time_to(ride(design, STOCK, Ask(run="start")), 4.0) for design in (light, heavy))
        self.assertLess(fast, slow)
        self.assertNotIn("rolling", WheelPart.__dataclass_fields__)
        self.assertEqual({*KINDS, *BOATS}, set(VehicleKind))

    def test_what_is_known_better_of_a_part_is_what_is_fitted(self):
        heavier = changed(BOARD, variant__motor__mass_kg=9.0)
        self.assertAlmostEqual(
            study(heavier).resolved.drive_mass_kg - study(BOARD).resolved.drive_mass_kg,
            2 * (9.0 - STOCK.get(MotorPart, BOARD.variant().motor.part).mass_kg),
        )
        dearer = changed(BOARD, variant__controller__price=1000.0, brief__shelf=())
        self.assertGreater(study(dearer).resolved.cost, study(changed(BOARD, brief__shelf=())).resolved.cost + 1000.0)
        part = STOCK.get(MotorPart, BOARD.variant().motor.part)
        self.assertIs(fitted(part, replace(BOARD.variant().motor, overrides={})), part)

    def test_one_pack_mass_for_drive_and_ride(self):
        for parallel in (4, 8):
            design = changed(BOARD, variant__pack__parallel=parallel)
            self.assertAlmostEqual(
                ride(design, STOCK, Ask(run="start")).run.plant.pack_j, 1000.0 * resolve(design, STOCK).pack_kg, delta=1e-6
            )
            (row,) = [row for row in bill_of_parts(design.variant(), STOCK) if row[0] == design.variant().pack.part]
            self.assertAlmostEqual(row[2] * row[3], resolve(design, STOCK).pack_kg)


class PedalTest(unittest.TestCase):
    def test_goals_count_the_rider_as_the_ride_does(self):
        helped = changed(BIKE, brief__conditions__pedal_power=known(120.0))
        for kind, values in ((GoalKind.CLIMB, {"speed": 3.0, "grade": 0.12}), (GoalKind.TOP_SPEED, {"speed": 6.0})):
            goal = Goal(id="g", kind=kind, **values)
            alone, with_ = (study(changed(design, brief__goals=(goal,))).goals[0].reached for design in (BIKE, helped))
            self.assertGreater(with_, alone)
        point, bare = (point_at(resolve(design, STOCK), speed_m_s=4.0, grade=0.10) for design in (helped, BIKE))
        self.assertGreater(point.rider_w, 100.0)
        self.assertEqual(bare.rider_w, 0.0)
        self.assertAlmostEqual(bare.tread_w - point.tread_w, point.rider_w, delta=1.0)
        self.assertLess(point.balance_error, 1e-9)
        done = ride(helped, STOCK, Ask(run="hold-grade", speed_m_s=4.0, grade=0.10))
        row = len(done.run.trace) // 2
        self.assertAlmostEqual(float(done.run.column(Col.FORCE)[row]), point.thrust_n, delta=0.03 * point.thrust_n)


class ClimbTest(RuleCase):
    def course(self, *legs):
        return Course(id="way", name="Way", legs=tuple(CourseLeg(length=length, grade=grade, speed=speed) for length, grade, speed in legs))

    def test_climbs_are_found_in_courses(self):
        course = self.course((100, 0.0, 5), (200, 0.08, 4), (50, 0.1, 2), (300, -0.05, 8), (80, 0.2, 2))
        found = list(climbs_of(course, 0.05))
        self.assertEqual([(c.begin_m, c.length_m, round(c.seconds, 6)) for c in found], [(100, 250, 75.0), (650, 80, 40.0)])
        self.assertAlmostEqual(found[0].grade, (200 * 0.08 + 50 * 0.1) / 250)

    def test_what_is_asked_follows_from_the_courses(self):
        design = changed(BOARD, brief__courses=(self.course((1200, 0.1, 4.0)),))
        self.assertEqual(asked_climb(design, 0.1), (300.0, "Way"))
        self.assertEqual(asked_climb(changed(BOARD, brief__courses=()), 0.1), (600.0, ""))
        self.assertEqual(asked_climb(design, 0.3), (600.0, ""))
        self.assertEqual(steepest(changed(design, brief__goals=())), 0.1)
        for seconds, harm, status in (
            (299, True, Status.OVER),
            (301, True, Status.TIGHT),
            (451, True, Status.CLEAR),
            (299, False, Status.TIGHT),
            (301, False, Status.CLEAR),
            (59, False, Status.OVER),
            (math.inf, True, Status.CLEAR),
        ):
            self.assertIs(judge_climb(seconds, design, 0.1, harm=harm)[0], status, (seconds, harm))

    def judged(self, design):
        return judged(case(design), "ride.full_throttle")

    def hot(self, amps):
        free: dict[str, object] = {"variant__controller__motor_taper_start_c": None, "variant__controller__motor_taper_end_c": None}
        return changed(BOARD, variant__controller__motor_current_a=amps, brief__courses=(), **free)

    def test_full_throttle_uphill_is_the_setting_itself(self):
        part = STOCK.get(MotorPart, BOARD.variant().motor.part)
        wire = lambda share: changed(
            self.hot(65.0),
            variant__motor__winding_j_per_k=share * (part.winding_j_per_k or 100.0),
            variant__motor__case_j_per_k=share * (part.case_j_per_k or 300.0),
        )
        times = {}
        for share in (0.1, 0.3, 0.5, 1.0, 3.0):
            found = self.judged(wire(share))
            seconds = ride(wire(share), STOCK, Ask(run="full-climb", grade=steepest(wire(share)))).run.first_over_s()
            times[found.status] = seconds
            self.assertIs(found.status, Status.OVER if seconds < 30.0 else Status.TIGHT if seconds < 120.0 else Status.CLEAR, seconds)
        self.assertEqual(set(times), {Status.CLEAR, Status.TIGHT, Status.OVER})
        worst = self.judged(wire(0.1))
        self.assertTrue(any("otor amps" in edit.label for edit in worst.candidates()), "less amps are a cure")
        seconds = [self.run_hot(amps) for amps in (50.0, 65.0, 90.0)]
        self.assertEqual(seconds, sorted(seconds, reverse=True))

    def run_hot(self, amps) -> float:
        return ride(self.hot(amps), STOCK, Ask(run="full-climb", grade=steepest(BOARD))).run.first_over_s()

    def test_a_drive_that_warms_until_it_stands_says_so(self):
        found = self.judged(changed(self.hot(65.0), brief__goals__ramp__grade=0.3))
        self.assertIs(found.status, Status.TIGHT)
        self.assertRegex(found.title, r"it stands after \d+")

    def test_nothing_steep_is_not_checked(self):
        flat = changed(BOARD, brief__courses=(), brief__goals=(Goal(id="v", kind=GoalKind.TOP_SPEED, speed=5.0),))
        self.assertIs(self.judged(flat).status, Status.NOT_CHECKED)

    def test_a_course_tells_minutes_in_the_taper_and_which_climb(self):
        way = self.course((300, 0.0, 5.0), (1700, 0.115, 4.0), (300, 0.0, 5.0))
        tapered = changed(
            BOARD,
            variant__wiring=None,
            brief__courses=(way,),
            variant__controller__motor_taper_start_c=60.0,
            variant__controller__motor_taper_end_c=90.0,
        )
        course = lambda design: judged(case(design), f"ride.course.{design.brief.courses[0].id}")
        found = course(tapered)
        self.assertIn("cut back for heat", found.title)
        self.assertRegex(found.title, r"cut back for heat, on the climb of 11.5 % that begins at 30\d")
        self.assertIs(found.status, Status.TIGHT)
        steep = changed(tapered, brief__courses=(self.course((300, 0.0, 5.0), (2500, 0.13, 4.0)),))
        stopped = course(steep)
        self.assertIs(stopped.status, Status.OVER)
        self.assertRegex(stopped.title, r"stops on the way after .* of it cut back for heat")
        calm = changed(
            tapered,
            variant__controller__motor_taper_end_c=140.0,
            variant__controller__motor_taper_start_c=115.0,
            brief__courses=(self.course((300, 0.0, 5.0)),),
        )
        self.assertNotIn("cut back for heat", course(calm).title)
