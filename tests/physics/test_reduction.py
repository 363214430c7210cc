"""Chains of stages: one law and its inverse against the walk shaft by shaft; rollers against their check points."""

import math
import random
import unittest
from dataclasses import replace

import numpy as np

from tests.physics.worked import BOARD, BOARD_ROAD
from wattagon.physics.arrays import deepen, stack
from wattagon.physics.brakes import brake_force
from wattagon.physics.envelope import edge
from wattagon.physics.infer import motor_drag_n
from wattagon.physics.point import operating_point
from wattagon.physics.powertrain import LIMITS
from wattagon.physics.reduction import Stage, coast, combine, roller_grip_n, roller_losses, walk

BELT = Stage(kind="belt", ratio=3.0, efficiency=0.97, drag_nm=0.03)
CHAIN = Stage(kind="chain", ratio=4.0, efficiency=0.96, drag_nm=0.05)


def random_stages(r: random.Random) -> list[Stage]:
    return [
        Stage(
            kind="belt",
            ratio=r.uniform(0.5, 9.0),
            efficiency=r.uniform(0.6, 1.0),
            drag_nm=r.choice([0.0, r.uniform(0.0, 0.3)]),
            one_way=r.random() < 0.15,
            shared=r.random() < 0.3,
        )
        for _ in range(r.randint(1, 6))
    ]


class LinesTest(unittest.TestCase):
    def test_the_law_is_the_walk_for_any_torque_between_the_drags_too(self):
        r = random.Random(4)
        for _ in range(300):
            stages, motors = random_stages(r), r.randint(1, 3)
            red = combine(stages, motors=motors)
            for torque in (r.uniform(-5, 5), r.uniform(-0.4, 0.4), red.drag_nm, red.drag_back_nm, 0.0):
                out = walk(stages, 100.0, float(torque), motors=motors)[-1].torque_nm
                self.assertAlmostEqual(float(red.output_torque_nm(float(torque))), out, delta=1e-9 * max(1.0, abs(out)))

    def test_the_inverse_gives_the_torque_back(self):
        r = random.Random(5)
        for _ in range(300):
            stages = [replace(stage, one_way=False) for stage in random_stages(r)]
            red = combine(stages)
            outs = np.array([r.uniform(-200, 200), r.uniform(-1, 1), 0.0, -1e-3])
            self.assertLess(np.abs(red.output_torque_nm(red.shaft_torque_nm(outs)) - outs).max(), 1e-8)

    def test_between_the_drags_the_second_stage_holds_back_what_the_first_drives(self):
        red = combine([BELT, CHAIN])
        between = 0.5 * (0.03 + float(red.drag_nm))
        self.assertTrue(0.03 < between < float(red.drag_nm))
        by_hand = 4.0 * ((between - 0.03) * 3.0 * 0.97 - 0.05) / 0.96
        self.assertLess(by_hand, 0.0)
        self.assertAlmostEqual(float(red.output_torque_nm(between)), by_hand, places=12)

    def test_downhill_between_the_drags_the_speed_is_held_with_the_walk_agreeing(self):
        stages = [BELT, CHAIN]
        train = replace(BOARD, reduction=combine(stages, motors=2))
        radius = float(BOARD_ROAD.wheel_radius_m)
        for wanted in (-0.15, -0.05, 0.1):
            # the grade on which the load is just that share of what the chain's drag takes
            force = 2 * wanted / radius
            grade = float(BOARD_ROAD.grade_at(force, 1.5))
            point = operating_point(train, BOARD_ROAD, stages, speed_m_s=1.5, emf_v=37.0, grade=grade)
            self.assertTrue(point.held, f"{wanted} {point.thrust_n} {point.load_n}")
            self.assertAlmostEqual(point.thrust_n, force, delta=1e-6)
            self.assertLess(point.balance_error, 1e-9)

    def test_stacked_and_deepened_as_one_by_one(self):
        made = [combine([BELT, replace(CHAIN, ratio=x)]) for x in (2.0, 3.0, 5.0)]
        together = deepen(stack(made, 1))
        torques = np.linspace(-1.0, 2.0, 7)
        got = together.output_torque_nm(torques)
        self.assertEqual(got.shape, (3, 1, 7))
        for k, one in enumerate(made):
            np.testing.assert_allclose(got[k, 0], one.output_torque_nm(torques), rtol=1e-12)

    def test_a_freewheel_in_front_leaves_the_stages_behind_it_turning(self):
        stages = [replace(BELT, one_way=True), CHAIN]
        states = coast(stages, 26.18)
        self.assertEqual([round(s.speed_rad_s, 3) for s in states], [0.0, 104.72, 26.18])
        self.assertAlmostEqual(states[-1].torque_nm, -0.2083, places=4)  # check point a3
        self.assertAlmostEqual(states[-1].loss_w, 0.2083 * 26.18, places=2)
        train = replace(BOARD, reduction=combine(stages, motors=2))
        point = operating_point(train, BOARD_ROAD, stages, speed_m_s=3.0, emf_v=37.0, grade=-0.2)
        self.assertEqual((point.motor_rad_s, point.dc_current_a), (0.0, 0.0))
        self.assertAlmostEqual(point.thrust_n, -2 * 0.05 * 4.0 / 0.96 / 0.045, places=9)
        self.assertLess(point.balance_error, 1e-9)

    def test_coasting_drag_of_the_train(self):
        train = replace(BOARD, reduction=combine([BELT, CHAIN]))
        force, _ = motor_drag_n(train, BOARD_ROAD, 5.0)
        shaft = 12.0 * 5.0 / 0.045
        out = walk([BELT, CHAIN], shaft, -float(BOARD.motor.drag_nm(shaft)))[-1].torque_nm
        self.assertAlmostEqual(float(force), -2 * out / 0.045, places=9)


class StandstillTest(unittest.TestCase):
    def test_friction_holds_and_does_not_push(self):
        for stages in ([], [BELT], [BELT, CHAIN]):
            train = replace(BOARD, reduction=combine(stages))
            point = operating_point(train, BOARD_ROAD, stages, speed_m_s=0.0, emf_v=37.0, throttle=0.0)
            self.assertEqual(point.thrust_n, 0.0)
            self.assertEqual(point.shaft_nm, 0.0)
            moving = operating_point(train, BOARD_ROAD, stages, speed_m_s=1.0, emf_v=37.0, throttle=0.0)
            self.assertLess(moving.thrust_n, 0.0)

    def test_a_driving_current_has_its_drag_taken_off(self):
        train = replace(BOARD, reduction=combine([BELT]))
        point = operating_point(train, BOARD_ROAD, [BELT], speed_m_s=0.0, emf_v=37.0, throttle=1.0)
        k = float(BOARD.motor.torque_constant_nm_per_a)
        by_hand = 2 * ((k * (51.9615 - 0.55)) - 0.03) * 3.0 * 0.97 / 0.045
        # the front lifts before that
        self.assertAlmostEqual(point.thrust_n, min(by_hand, 308.9), delta=0.1)


class RatingTest(unittest.TestCase):
    def test_no_rating_clips_the_edge(self):
        """Twice the amps, twice the pull, whatever a belt is sold for."""
        strong = replace(BOARD.controller, motor_current_a=100.0, battery_current_a=200.0)
        reach = edge(replace(BOARD, controller=strong), BOARD_ROAD, 0.5, 37.0, caps=False)
        k = float(BOARD.motor.torque_constant_nm_per_a)
        self.assertAlmostEqual(
            float(reach.drive_n), 2 * 0.95 * 2.4 * k * (100 * 0.8660254 - 0.55 - 0.0011 * 2.4 * 0.5 / 0.045) / 0.045, delta=0.5
        )
        self.assertNotIn("drivetrain", LIMITS)


class RollerTest(unittest.TestCase):
    def test_grip_by_the_check_points(self):
        # a6
        self.assertAlmostEqual(float(roller_grip_n(0.7, 150.0)), 105.0)
        self.assertAlmostEqual(float(roller_grip_n(0.25, 150.0)), 37.50)
        self.assertAlmostEqual(float(roller_grip_n(0.25, 150.0)) * 7.0, 262.5)
        # a7
        arm = math.radians(35.0)
        drive = float(roller_grip_n(0.5, 60.0, arm))
        self.assertAlmostEqual(drive, 104.9, delta=0.06)
        self.assertAlmostEqual(float(roller_grip_n(0.5, 60.0, arm, braking=True)), 17.50, delta=0.006)
        self.assertAlmostEqual(60.0 + drive / math.tan(arm), 209.8, delta=0.06)
        # steep enough an arm never slips
        self.assertTrue(math.isinf(float(roller_grip_n(0.8, 60.0, math.radians(35.0)))))
        np.testing.assert_allclose(roller_grip_n(np.array([0.25, 0.7]), 150.0), [37.5, 105.0])

    def test_efficiency_by_the_check_point(self):
        # a8: N 150 N, c_r 0.03, creep 0.02; power out over power in at a force
        for force, wanted in ((60.0, 0.9116), (15.0, 0.7538)):
            share, drag = roller_losses(0.03, 150.0, 0.02)
            stage = Stage(kind="friction", ratio=10.0, efficiency=share, drag_nm=drag, creep=0.02)
            torque = force * 0.02 / share + drag
            states = walk([stage], 100.0, torque)
            self.assertAlmostEqual(states[-1].torque_nm, force * 0.2, places=9)
            self.assertAlmostEqual(states[-1].torque_nm * states[-1].speed_rad_s / (torque * 100.0), wanted, places=4)

    def test_slip_clips_the_edge_and_the_brake_and_names_itself(self):
        tyre = 0.34
        stage = Stage(
            kind="friction", ratio=tyre / 0.02, efficiency=1.0, drag_nm=0.02, creep=0.02, slip_nm=105.0 * tyre, slip_back_nm=40.0 * tyre
        )
        train = replace(BOARD, reduction=combine([stage], motors=2))
        road = replace(BOARD_ROAD, wheel_radius_m=tyre)
        reach = edge(train, road, 2.0, 37.0, caps=False)
        self.assertAlmostEqual(float(reach.drive_n), 210.0, places=6)
        self.assertEqual(LIMITS[int(reach.limit)], "roller")
        force, name = brake_force(
            replace(train, controller=replace(train.controller, regen_battery_current_a=100.0)), road, 5.0, 37.0, caps=False
        )
        self.assertAlmostEqual(float(force), 80.0, places=6)
        self.assertEqual(name, "roller")
        shared = combine([replace(stage, shared=True)], motors=2)
        self.assertAlmostEqual(2 * float(shared.slip_nm), 105.0 * tyre)
        # a stage behind the roller carries the slip on with its own ratio
        on = combine([stage, CHAIN])
        self.assertAlmostEqual(float(on.slip_nm), (105.0 * tyre - 0.05) * 4.0 * 0.96)


if __name__ == "__main__":
    unittest.main()
