"""Too strong is a fault too: slip, pitching over, riders who are thrown, vehicles that tip sideways."""

import math

from tests.study.rule_case import BIKE, BOARD, KART, RuleCase, changed, known, study
from wattagon.design.kinds import KINDS
from wattagon.design.template import new_design
from wattagon.design.tree import VehicleKind
from wattagon.physics.brakes import brake_force
from wattagon.study.findings.status import Status
from wattagon.study.ride.inputs import RAMP_UP_S

STRONG = changed(
    BOARD,
    variant__controller__regen_motor_current_a=60.0,
    variant__controller__regen_pack_current_a=60.0,
    variant__controller__pack_current_a=60.0,
)


def strongest(design):
    """The strongest electric brake of a design on a half-full pack [N], grip not asked."""
    resolved = study(design).resolved
    speeds = [1.0 + 0.1 * k for k in range(150)]
    return max(float(brake_force(resolved.train, resolved.load, v, resolved.emf_v(0.5), caps=False)[0]) for v in speeds)


class BrakeTest(RuleCase):
    def test_slip_on_both_sides_of_the_bound(self):
        code, grades = "brake.grip", [goal.grade or 0.0 for goal in STRONG.brief.goals]
        milder = changed(STRONG, variant__controller__regen_motor_current_a=25.0)
        force = strongest(milder)
        # slip goes with the grip: the one at which the wheels just hold
        slips = self.bounds(code, lambda grip: changed(milder, vehicle__grip=known(grip)), 0.05, 2.0, Status.OVER, Status.CLEAR)
        limit = float(study(changed(milder, vehicle__grip=known(slips))).resolved.load.brake_caps(-max(grades))["traction"])
        self.assertAlmostEqual(limit / force, 1.0, delta=0.01)
        self.assertIn("wheels slip at", self.finding(changed(milder, vehicle__grip=known(0.1)), code).title)

    def test_a_short_high_vehicle_pitches_over(self):
        code = "brake.grip"
        # braked in front: behind, the wheels slip before they lift
        high = lambda h: changed(
            STRONG, vehicle__cm_height=known(h), vehicle__grip=known(2.0), vehicle__cm_behind_front=known(0.5), vehicle__driven_axle="front"
        )
        self.assertIs(self.status(high(0.2), code), Status.CLEAR)
        tall = self.finding(high(2.5), code)
        self.assertIs(tall.status, Status.OVER)
        self.assertIn("rear lifts at", tall.title)
        edge = self.bounds(code, high, 2.5, 0.2, Status.OVER, Status.CLEAR)
        caps = study(high(edge)).resolved.load.brake_caps(-max(goal.grade or 0.0 for goal in STRONG.brief.goals))
        self.assertAlmostEqual(float(caps["pitch_over"]) / strongest(high(edge)), 1.0, delta=0.02)

    def test_braking_amps_that_are_not_stated_are_not_checked(self):
        unset = changed(BOARD, variant__controller__regen_motor_current_a=None)
        self.assertIs(self.status(unset, "brake.grip"), Status.NOT_CHECKED)
        self.assertIsNone(self.found(unset, "rider.brake"))
        none = changed(BOARD, variant__controller__regen_motor_current_a=0.0)
        self.assertIs(self.status(none, "brake.grip"), Status.CLEAR)
        self.assertIn("does not brake", self.finding(none, "brake.grip").title)

    def test_braking_amps_are_not_held_to_the_driving_amps(self):
        weak, strong = (
            changed(
                BOARD,
                variant__controller__motor_current_a=30.0,
                variant__controller__regen_motor_current_a=a,
                variant__controller__regen_pack_current_a=200.0,
            )
            for a in (30.0, 60.0)
        )
        self.assertGreater(strongest(strong), 1.8 * strongest(weak))

    def test_the_cures_say_what_they_cost(self):
        high = changed(STRONG, vehicle__cm_height=known(1.6), vehicle__grip=known(0.3))
        self.assertIs(self.status(high, "brake.grip"), Status.OVER)
        texts = [text for text, _ in self.cured(high, "brake.grip")]
        self.assertTrue(texts)
        self.assertTrue(all("raking" in text for text in texts), texts)


class ThrownTest(RuleCase):
    def test_level_and_jerk_of_the_brake_on_both_sides(self):
        code = "rider.brake"
        bears = KINDS[VehicleKind.ALL_TERRAIN_BOARD].bears
        road = study(STRONG).resolved.load
        force = strongest(STRONG)
        # how quickly it comes: force over mass over the ramp
        exact = force / float(road.mass_kg) / bears.jerk
        borne = changed(STRONG, vehicle__rider_level=known(15.0))
        found = self.bounds(
            code, lambda ramp: changed(borne, variant__controller__ramp_up_s=ramp), exact * 0.5, exact * 3, Status.OVER, Status.CLEAR
        )
        self.assertAlmostEqual(found, exact, delta=0.03 * exact)
        slow = changed(STRONG, variant__controller__ramp_up_s=5.0)
        level = self.bounds(code, lambda most: changed(slow, vehicle__rider_level=known(most)), 0.5, 14.0, Status.OVER, Status.CLEAR)
        # what rolls and what the air does come on top
        load = level * float(road.mass_kg) - force
        self.assertTrue(float(road.parts_n(2.0, 0.0, 0.0)[0]) < load < sum(float(x) for x in road.parts_n(13.0, 0.0, 3.0)), load)

    def test_unset_ramps_are_the_hand_of_the_ride(self):
        self.assertEqual(
            self.finding(changed(STRONG, variant__controller__ramp_up_s=None), "rider.brake").title,
            self.finding(changed(STRONG, variant__controller__ramp_up_s=RAMP_UP_S), "rider.brake").title,
        )

    def test_kinds_differ_in_what_they_bear(self):
        levels = {kind: facts.bears.level for kind, facts in KINDS.items()}
        self.assertLess(levels[VehicleKind.TWO_WHEEL_DRIVE], levels[VehicleKind.SCOOTER])
        self.assertLess(levels[VehicleKind.SCOOTER], levels[VehicleKind.KART])
        self.assertEqual(set(levels), {kind for kind in VehicleKind if not kind.floats})

    def test_the_cure_of_a_brake_that_throws_is_a_ramp_or_less(self):
        sharp = changed(STRONG, variant__controller__ramp_up_s=0.05)
        self.assertIs(self.status(sharp, "rider.brake"), Status.OVER)
        self.assertTrue(any("Ramp up" in text for text, _ in self.cured(sharp, "rider.brake")))

    def test_letting_go(self):
        code = "rider.release"
        rolls = changed(BOARD, variant__controller__release_current_a=0.0)
        self.assertIs(self.status(rolls, code), Status.CLEAR)
        unknown = changed(BOARD, variant__controller__release_current_a=None, variant__controller__regen_motor_current_a=None)
        self.assertIs(self.status(unknown, code), Status.NOT_CHECKED)
        hard = changed(STRONG, variant__controller__release_current_a=60.0)
        self.assertIs(self.status(hard, code), Status.OVER)
        maybe = self.finding(changed(STRONG, variant__controller__release_current_a=None), code)
        self.assertIs(maybe.status, Status.TIGHT)
        self.assertIn("if letting go brakes", maybe.title)
        self.assertTrue(maybe.assumed)
        freewheel = changed(hard, variant__stages__0__freewheel=True)
        self.assertIs(self.status(freewheel, code), Status.CLEAR)
        self.assertTrue(self.cured(hard, code))

    def test_letting_go_on_both_sides_of_the_jerk(self):
        code, bears = "rider.release", KINDS[VehicleKind.ALL_TERRAIN_BOARD].bears
        base = changed(STRONG, variant__controller__release_current_a=12.0)
        level = strongest(changed(STRONG, variant__controller__regen_motor_current_a=12.0)) / float(study(base).resolved.load.mass_kg)
        exact = level / bears.surprise_jerk
        found = self.bounds(
            code, lambda ramp: changed(base, variant__controller__ramp_up_s=ramp), exact * 0.3, exact * 3, Status.OVER, Status.CLEAR
        )
        self.assertAlmostEqual(found, exact, delta=0.03 * exact)


class SidewaysTest(RuleCase):
    def sized(self, track, grip=0.9, height=0.5, **more):
        return changed(KART, vehicle__track=known(track), vehicle__grip=known(grip), vehicle__cm_height=known(height), **more)

    def test_half_the_track_over_the_height_against_grip(self):
        code = "vehicle.tips_sideways"
        height = float(study(self.sized(1.0)).resolved.load.cm_height_m)
        self.assertAlmostEqual(self.bounds(code, self.sized, 0.3, 3.0, Status.OVER, Status.CLEAR), 2 * height * 0.9, delta=0.001)
        for share, status in ((1.01, Status.TIGHT), (1.09, Status.TIGHT), (1.11, Status.CLEAR)):
            self.assertIs(self.status(self.sized(2 * height * 0.9 * share), code), status)
        self.assertIn("slides before it tips", self.finding(self.sized(2.2 * height), code).title)
        self.assertIn("tips before it slides", self.finding(self.sized(1.2 * height), code).title)

    def test_one_that_tips_only_faster_than_it_goes_is_tight_and_not_over(self):
        code = "vehicle.tips_sideways"
        low = self.sized(0.8, height=0.5)
        tips = math.sqrt(0.8 / 2 / float(study(low).resolved.load.cm_height_m) * 9.80665 * 5.0)
        slow, fast = (changed(low, brief__goals=tuple(goal for goal in KART.brief.goals if goal.kind == "top_speed")), low)
        goal = slow.brief.goals[0].id
        for speed, status in ((0.98 * tips, Status.TIGHT), (1.02 * tips, Status.OVER)):
            self.assertIs(self.status(changed(slow, **{f"brief__goals__{goal}__speed": speed}), code), status)
        self.assertIsNotNone(fast)

    def test_of_three_wheels_the_share_that_is_not_on_the_single_one(self):
        code = "vehicle.tips_sideways"
        four, three = (self.finding(self.sized(1.6, vehicle__wheels=n), code) for n in (4, 3))
        self.assertLess(three.margin, four.margin)
        behind = KART.vehicle.cm_behind_front.value / KART.vehicle.wheelbase.value
        share = (1 + three.margin) / (1 + four.margin)
        self.assertTrue(abs(share - behind) < 0.03 or abs(share - (1 - behind)) < 0.03, (share, behind))

    def test_a_track_that_is_not_known_is_not_checked_and_boards_and_bikes_lean(self):
        code = "vehicle.tips_sideways"
        self.assertIs(self.status(changed(KART, vehicle__track=None), code), Status.NOT_CHECKED)
        for design in (BOARD, BIKE, new_design(VehicleKind.SCOOTER)):
            self.assertIsNone(self.found(design, code))
