"""A hull in the place of the road goes through envelope, goals, point and ride: the study asks its load and nothing of wheels."""

import unittest
from dataclasses import replace

import numpy as np

from tests.design.malformed import DEMO
from tests.hull import Hull
from wattagon.design import catalogue, file
from wattagon.design.tree import Goal, GoalKind
from wattagon.physics.envelope import edge, top_speed
from wattagon.physics.held import holding
from wattagon.physics.load import Load
from wattagon.physics.ride.course import Leg, cells
from wattagon.physics.ride.names import Col, End, Mode, Sum
from wattagon.physics.ride.plant import make_plant
from wattagon.physics.ride.ride import Rider, Start, simulate
from wattagon.study.drive.goals import outlook
from wattagon.study.drive.heat import lines_until_hot
from wattagon.study.drive.study import needed_along, point_at
from wattagon.study.resolve import resolve
from wattagon.study.ride.inputs import extras_of

STOCK = catalogue.load()
DESIGN = file.read(DEMO / "dunlin.json").design
GOALS = (
    Goal(id="cruise", kind=GoalKind.TOP_SPEED, speed=2.0),
    Goal(id="far", kind=GoalKind.RANGE, distance=5000.0, speed=1.0),
    Goal(id="quick", kind=GoalKind.SPRINT, speed=1.0, time=10.0),
    Goal(id="power", kind=GoalKind.POWER_LIMIT, amount=5000.0),
)


class LoadsTest(unittest.TestCase):
    def setUp(self):
        self.hull = Hull()
        self.afloat = replace(resolve(DESIGN, STOCK), load=self.hull)
        self.top = float(top_speed(self.afloat.train, self.hull, self.afloat.emf_v(0.5)).speed_m_s)

    def test_it_is_a_load_and_the_edge_meets_its_drag(self):
        self.assertIsInstance(self.hull, Load)
        force = float(edge(self.afloat.train, self.hull, self.top, self.afloat.emf_v(0.5)).force_n)
        self.assertAlmostEqual(force, self.hull.drag * self.top**2, delta=0.01)

    def test_torque_and_speed_of_the_shaft_are_those_of_the_thrust(self):
        at = holding(self.afloat.train, self.hull, 1.5)
        self.assertAlmostEqual(float(at.thrust_n), 12.0 * 1.5**2)
        self.assertAlmostEqual(float(at.output_nm), 0.025 * 27.0)
        self.assertAlmostEqual(float(at.shaft_rad_s), float(self.afloat.train.reduction.ratio) * ((27.0 / 0.004) ** 0.5 + 12.0))

    def test_goals_are_judged(self):
        found = dict(zip((goal.id for goal in GOALS), outlook([self.afloat], GOALS).reached[0], strict=True))
        self.assertAlmostEqual(found["cruise"], self.top, places=3)
        self.assertGreater(found["far"], 1000.0)
        self.assertGreater(found["quick"], 0.5)
        self.assertGreater(found["power"], 100.0)

    def test_two_hulls_are_judged_together_as_one_by_one(self):
        slow = replace(self.afloat, load=replace(self.hull, drag=24.0))
        both = outlook([self.afloat, slow], GOALS).reached
        for row, one in enumerate((self.afloat, slow)):
            np.testing.assert_allclose(both[row], outlook([one], GOALS).reached[0], rtol=1e-6)
        self.assertGreater(both[0, 0], both[1, 0])

    def test_points_hold_and_balance(self):
        for speed in (0.4, 1.0):
            point = point_at(self.afloat, speed_m_s=speed)
            self.assertTrue(point.held)
            self.assertAlmostEqual(point.thrust_n, 12.0 * speed**2, places=6)
            self.assertAlmostEqual(point.rolling_w, point.tread_w, places=6)
            self.assertLess(point.balance_error, 1e-9)
            needed = needed_along(self.afloat, np.array([speed]), 0.0, 0.5)
            self.assertAlmostEqual(float(needed["motor_a"][0]), point.motor_current_a, places=6)
        faster = point_at(self.afloat, speed_m_s=self.top * 1.2)
        self.assertFalse(faster.held)
        self.assertLess(faster.thrust_n, faster.load_n)
        half = point_at(self.afloat, speed_m_s=0.5, throttle=0.3)
        self.assertLess(half.balance_error, 1e-9)
        self.assertGreater(half.thrust_n, 3.0)

    def test_lines_of_equal_time_and_a_ride(self):
        for _, speeds, thrust in lines_until_hot(self.afloat, self.top):
            self.assertTrue(np.all(np.isfinite(thrust)) and thrust.shape == speeds.shape)
        extras, _ = extras_of(DESIGN, resolve(DESIGN, STOCK))
        plant = make_plant(self.afloat.train, self.hull, extras)
        rider = Rider(mode=Mode.FOLLOW, end_m=400.0, longest_s=900.0)
        run = simulate(plant, self.afloat.train.pack.chemistry, cells((Leg(length_m=400.0, speed_m_s=1.5),)), rider, Start(charge=0.9))
        self.assertIs(run.end, End.ARRIVED)
        self.assertAlmostEqual(float(run.column(Col.SPEED).max()), 1.5, delta=0.1)
        self.assertAlmostEqual(run.energy_j(Sum.AIR), 12.0 * 1.5**2 * 400.0, delta=900.0)
        self.assertLess(run.balance_error, 1e-6)
