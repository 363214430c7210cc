"""Belts, chains and rollers: what they bear and hold, whether they fit and belong together; motors side by side; cadence."""

import math

from tests.study.rule_case import BIKE, BOARD, KART, STOCK, RuleCase, changed, known, study
from wattagon.design.kinds import KINDS
from wattagon.design.parts import ProfilePart, ToothedPart, WheelPart
from wattagon.design.parts.families import toothed
from wattagon.design.template import new_design
from wattagon.design.tree import Goal, GoalKind, ReductionKind, ShelfItem, StageChoice, VehicleKind, WheelChoice
from wattagon.physics.reduction import belt_capacity_n
from wattagon.study.drive.study import rated_pull
from wattagon.study.findings.status import Status

ROLLER = changed(BIKE, variant__stages=(StageChoice(kind=ReductionKind.FRICTION, roller_diameter=0.05, press_force=known(200.0)),))


class PullTest(RuleCase):
    code = "reduction.pull"

    def test_peak_and_lasting_pull_on_both_sides(self):
        resolved = study(BOARD).resolved
        rating = resolved.ratings[0]
        train = resolved.train
        per_amp = float(train.motor.torque_constant_nm_per_a * train.motor.dc_per_motor_amp)
        # few goals, so that what is asked for good does not decide
        easy = changed(BOARD, brief__goals=(Goal(id="v", kind=GoalKind.TOP_SPEED, speed=3.0),), variant__controller__part="ctrl-84v-120")
        at = rating.peak_nm / per_amp
        for share, status in ((0.94, Status.CLEAR), (0.96, Status.TIGHT), (0.999, Status.TIGHT), (1.001, Status.OVER)):
            self.assertIs(self.status(changed(easy, variant__controller__motor_current_a=at * share), self.code), status, share)
        self.assertIn("at full motor amps", self.finding(changed(easy, variant__controller__motor_current_a=at * 1.1), self.code).title)

    def test_what_goals_ask_for_good(self):
        weak = changed(BOARD, variant__controller__motor_current_a=65.0, variant__stages__0__width_mm=9.0)
        hard = changed(weak, brief__goals=(Goal(id="c", kind=GoalKind.CLIMB, speed=3.0, grade=0.2),))
        self.assertIs(self.status(hard, self.code), Status.OVER)

    def test_a_width_or_rating_that_is_not_known_is_not_checked(self):
        self.assertIs(self.status(changed(BOARD, variant__stages__0__width_mm=None), self.code), Status.NOT_CHECKED)

    def test_nothing_in_the_drive_stops_at_a_rating(self):
        narrow, wide = (changed(BOARD, variant__stages__0__width_mm=w) for w in (1.0, 25.0))
        self.assertEqual(study(narrow).states["full"].standstill_force_n, study(wide).states["full"].standstill_force_n)
        force, rating = rated_pull(study(narrow).resolved)
        self.assertLess(force, study(narrow).states["full"].standstill_force_n)
        self.assertEqual(rating.kind, "belt")
        tension = STOCK.get(ProfilePart, "5M").tension_n_per_mm
        self.assertGreater(rated_pull(study(wide).resolved)[0], force)
        self.assertAlmostEqual(
            rated_pull(study(wide).resolved)[1].rated_n / rating.rated_n,
            belt_capacity_n(tension, 25.0) / belt_capacity_n(tension, 1.0),
            places=6,
        )

    def test_a_heavy_bike_lifts_its_front_whatever_its_chain_bears(self):
        bike = changed(
            KART, variant__controller__motor_current_a=220.0, vehicle__cm_height=known(1.2), vehicle__cm_behind_front=known(0.85)
        )
        lift = self.finding(bike, "wheel.lift")
        self.assertIs(lift.status, Status.OVER)
        self.assertTrue(self.cured(changed(BOARD, variant__stages__0__width_mm=9.0), self.code))


class RollerTest(RuleCase):
    code = "reduction.roller"

    def asked(self, design) -> float:
        road = study(design).resolved.load
        return max(
            float(
                road.resistance_n(
                    goal.speed or 0.0,
                    (goal.grade or 0.0) if goal.kind is not GoalKind.TOP_SPEED else 0.0,
                    study(design).resolved.headwind_m_s,
                )
            )
            for goal in design.brief.goals
            if goal.kind in (GoalKind.TOP_SPEED, GoalKind.CLIMB, GoalKind.START)
        )

    def test_what_it_holds_wet_is_what_counts(self):
        asked = self.asked(ROLLER)
        grip = 0.3
        fits = lambda press: changed(ROLLER, variant__stages__0__press_force=known(press), variant__stages__0__grip_wet=known(grip))
        found = self.bounds(self.code, fits, 0.5 * asked / grip, 2 * asked / grip, Status.OVER, Status.CLEAR)
        self.assertAlmostEqual(found, asked / grip, delta=0.01 * asked / grip)
        self.assertIs(self.status(fits(1.05 * asked / grip), self.code), Status.TIGHT)

    def test_dry_counts_where_it_is_never_ridden_in_rain(self):
        asked = self.asked(ROLLER)
        base = changed(
            ROLLER,
            variant__stages__0__press_force=known(asked / 0.4),
            variant__stages__0__grip_wet=known(0.2),
            variant__stages__0__grip_dry=known(0.6),
            variant__stages__0__grip_dusty=known(0.3),
        )
        self.assertIs(self.status(base, self.code), Status.OVER)
        dry = changed(base, brief__conditions__rain_excluded=True)
        self.assertIs(self.status(dry, self.code), Status.CLEAR)
        self.assertIs(self.status(changed(dry, brief__conditions__dusty=True), self.code), Status.OVER)
        self.assertTrue(any("rain" in text for text, _ in self.cured(base, self.code)))

    def test_its_slip_clips_the_pull_and_names_itself(self):
        weak = changed(ROLLER, variant__stages__0__press_force=known(60.0), variant__stages__0__grip_dry=known(0.5))
        full = study(weak).states["full"]
        self.assertEqual(full.standstill_limited_by, "roller")
        self.assertAlmostEqual(full.standstill_force_n, 60.0 * 0.5, delta=1.5)
        self.assertIn("roller", full.edge.limit_names())

    def test_an_arm_that_pulls_itself_in_holds_more_and_past_self_locking_all(self):
        force = lambda arm: (
            study(changed(ROLLER, variant__stages__0__press_force=known(60.0), variant__stages__0__arm_angle=known(arm)))
            .states["full"]
            .standstill_force_n
        )
        fixed = study(changed(ROLLER, variant__stages__0__press_force=known(60.0))).states["full"].standstill_force_n
        self.assertGreater(force(1.4), fixed)
        self.assertGreater(force(0.8), force(1.4))
        locked = study(changed(ROLLER, variant__stages__0__press_force=known(60.0), variant__stages__0__arm_angle=known(0.3)))
        self.assertNotEqual(locked.states["full"].standstill_limited_by, "roller")
        self.assertIn("all dry", self.finding(locked.design, self.code).title)

    def test_the_ratio_is_of_the_loaded_tyre_that_is_fitted(self):
        measured = study(changed(ROLLER, variant__wheel=None)).resolved
        vehicle = ROLLER.vehicle
        loaded = vehicle.tyre_diameter.value * vehicle.tyre_rolling_share.value
        self.assertAlmostEqual(float(measured.train.reduction.torque_ratio), loaded / 0.05, places=9)
        wheel = next(part for part in STOCK.all(WheelPart) if part.family == "bike")
        other = study(changed(ROLLER, variant__wheel=WheelChoice(part=wheel.id))).resolved
        self.assertAlmostEqual(float(other.train.reduction.torque_ratio), wheel.diameter_m * wheel.rolling_share / 0.05, places=9)

    def test_no_roller_no_finding(self):
        self.assertIsNone(self.found(BOARD, self.code))


class FitTest(RuleCase):
    def test_bore_and_shaft(self):
        code, pulley = (
            "reduction.bore",
            next(p for p in toothed(STOCK, "5M", "driver") if p.teeth == BOARD.variant().stages[0].driver_teeth),
        )
        shaft = lambda mm: changed(BOARD, variant__motor__shaft_mm=mm)
        self.assertIs(self.status(shaft(pulley.bore_mm), code), Status.CLEAR)
        loose = self.finding(shaft(pulley.bore_mm - 1.0), code)
        self.assertIs(loose.status, Status.OVER)
        self.assertIn("sleeve", loose.title)
        pitch = STOCK.get(ProfilePart, "5M").pitch_mm
        most = pitch * (pulley.teeth / math.pi - 1.4) - 5.0
        self.assertIs(self.status(shaft(most - 0.1), code), Status.CLEAR)
        self.assertIn("bore it out", self.finding(shaft(most - 0.1), code).title)
        thin = self.finding(shaft(most + 0.1), code)
        self.assertIs(thin.status, Status.OVER)
        self.assertIn("metal", thin.title)

    def test_profiles_that_do_not_belong_together(self):
        code, stage = "reduction.profile", BOARD.variant().stages[0]
        self.assertIs(self.status(BOARD, code), Status.CLEAR)
        chain = changed(BOARD, variant__stages=(StageChoice(kind=ReductionKind.CHAIN, profile="5M", driver_teeth=15, driven_teeth=72),))
        self.assertIs(self.status(chain, code), Status.OVER)
        least = STOCK.get(ProfilePart, "5M").least_teeth
        for teeth, status in ((least, Status.CLEAR), (least - 1, Status.OVER)):
            few = changed(
                BOARD,
                variant__stages=(StageChoice(kind=ReductionKind.BELT, profile="5M", driver_teeth=teeth, driven_teeth=72, width_mm=15.0),),
                brief__shelf=(),
            )
            self.assertIs(self.status(few, code), status)
        others = [
            p
            for p in STOCK.rows(ToothedPart).values()
            if p.profile != "5M"
            and p.role in ("driver", "both")
            and STOCK.get(ProfilePart, p.profile).pitch_mm == STOCK.get(ProfilePart, "5M").pitch_mm
        ]
        alike = next((p for p in others if p.teeth == stage.driver_teeth), None) or (others[0] if others else None)
        self.assertIsNotNone(alike, "a family of the same pitch in stock")
        mixed = changed(BOARD, variant__stages__0__driver_teeth=alike.teeth, brief__shelf=(ShelfItem(part=alike.id),))
        self.assertIs(self.status(mixed, code), Status.TIGHT)
        self.assertIn("looks like it", self.finding(mixed, code).title)

    def test_motors_side_by_side(self):
        code = "motor.side_by_side"
        motor, count = study(BOARD).resolved.motor_part, BOARD.variant().motor.count
        need = count * (motor.length_mm + 10.0) / 1e3
        for width, status in (
            (need - 0.001, Status.OVER),
            (need + 0.001, Status.TIGHT),
            (need + 0.009, Status.TIGHT),
            (need + 0.011, Status.CLEAR),
        ):
            self.assertIs(self.status(changed(BOARD, vehicle__clear_width=known(width)), code), status, width)
        self.assertIs(self.status(changed(BOARD, vehicle__clear_width=None), code), Status.NOT_CHECKED)
        guessed = new_design(VehicleKind.ALL_TERRAIN_BOARD)
        self.assertIs(self.status(guessed, code), Status.NOT_CHECKED)

    def test_cadence_at_the_goal_speed_in_the_highest_gear(self):
        code = "rider.cadence"
        fast = lambda gear: changed(BIKE, vehicle__top_gear=known(gear))
        goal = max(goal.speed for goal in BIKE.brief.goals if goal.kind is GoalKind.TOP_SPEED)
        exact = goal * 60 / 100.0
        for share, status in ((0.99, Status.TIGHT), (1.01, Status.CLEAR)):
            self.assertIs(self.status(fast(exact * share), code), status)
        self.assertIsNone(self.found(BOARD, code))
        self.assertTrue(self.finding(changed(BIKE, vehicle__top_gear=None), code).assumed)


class NoiseTest(RuleCase):
    def test_a_new_design_of_any_kind_shows_nothing_that_a_builder_would_call_noise(self):
        from tests.judging import judged_all
        from wattagon.exchange.units import say

        for kind in KINDS:
            with self.subTest(kind):
                loud = [(f.code, f.title) for f in judged_all(new_design(kind), STOCK, say) if f.status in (Status.TIGHT, Status.OVER)]
                self.assertEqual(loud, [])
