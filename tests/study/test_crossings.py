"""Boats under way: the ride loop on the water against the equilibrium and the closed forms, currents, crash stop, findings of crossings."""

import math
import random
import unittest
from dataclasses import replace

import numpy as np

from tests.design.malformed import DEMO
from tests.judging import judged_all
from wattagon.design import catalogue, file
from wattagon.design.boats import BOATS, new_boat
from wattagon.design.parts import PropellerPart
from wattagon.design.paths import put
from wattagon.design.quantity import Quantity
from wattagon.design.tree import WINDOW, Course, CourseLeg, Goal, GoalKind, VehicleKind
from wattagon.errors import InputError
from wattagon.physics.point import steady_range_m
from wattagon.physics.ride.names import Col, End, Stat, Sum
from wattagon.study.drive.study import study_drive
from wattagon.study.findings.status import Status
from wattagon.study.resolve import resolve
from wattagon.study.ride.study import Ask, point_of, ride

STOCK = catalogue.load()
PUNT = new_boat(VehicleKind.FLAT_BOTTOMED, "Punt")
GARGANEY = file.read(DEMO / "garganey.json").design


def random_boat(r):
    kind = r.choice(list(BOATS))
    design = new_boat(kind)
    part = r.choice(list(STOCK.all(PropellerPart)))
    design = put(design, "variant.propeller.part", part.id)
    design = put(design, "vehicle.load_mass", Quantity(value=r.uniform(0.0, 80.0)))
    design = put(design, "variant.pack.series", r.randint(4, 14))
    return put(design, "brief.conditions.headwind", Quantity(value=r.uniform(-3.0, 4.0)))


class CrossingTest(unittest.TestCase):
    def test_energy_closes_and_full_throttle_ends_at_the_equilibrium(self):
        r = random.Random(7)
        for k in range(40):
            design = random_boat(r)
            try:
                top = study_drive(design, STOCK).states["nominal"].top_speed_m_s
            except InputError:
                continue
            done = ride(design, STOCK, Ask(run="start", start_charge=0.5))
            self.assertLess(done.run.balance_error, 1e-6, k)
            self.assertTrue(np.isfinite(done.run.trace).all())
            if done.run.end is End.SETTLED and top > 0.3 and not done.over_at():
                # warm winding, relaxed pack and the last creep take a little
                self.assertAlmostEqual(done.run.stat(Stat.SPEED) / top, 1.0, delta=0.04, msg=f"{k} {design.vehicle.kind}")

    def test_a_pace_held_is_the_steady_range(self):
        done = ride(GARGANEY, STOCK, Ask(run="hold-speed", start_charge=WINDOW[0]))
        resolved = resolve(GARGANEY, STOCK)
        top, bottom = WINDOW
        steady = float(steady_range_m(resolved.train, resolved.load, speed_m_s=1.5, top=top, bottom=bottom))
        self.assertIs(done.run.end, End.EMPTY)
        self.assertAlmostEqual(done.distance_m / steady, 1.0, delta=0.01)
        resistance = float(resolved.load.resistance_n(1.5, 0.0, 0.0))
        work = (done.run.energy_j(Sum.ROLLING) + done.run.energy_j(Sum.AIR)) / done.distance_m
        self.assertAlmostEqual(work / resistance, 1.0, delta=1e-3)

    def test_a_row_of_the_trace_is_an_operating_point(self):
        done = ride(GARGANEY, STOCK, Ask(run="there-and-back"))
        row = len(done.run.trace) // 3
        point = point_of(done, row)
        self.assertAlmostEqual(point.thrust_n / float(done.run.trace[row, Col.FORCE]), 1.0, delta=5e-3)
        self.assertAlmostEqual(point.bus_v, float(done.run.trace[row, Col.BUS_V]), delta=0.02)

    def test_a_current_takes_time_one_way_and_gives_less_back(self):
        goal = Goal(id="out", kind=GoalKind.THERE_AND_BACK, distance=1500.0, speed=1.5, current=0.6)
        against = put(PUNT, "brief.goals", (goal,))
        still = put(PUNT, "brief.goals", (replace(goal, current=0.0),))
        a, b = (ride(design, STOCK, Ask(run="there-and-back")) for design in (against, still))
        self.assertAlmostEqual(a.distance_m, 3000.0, delta=1.0)
        self.assertAlmostEqual(a.time_s, 1500.0 / 0.9 + 1500.0 / 2.1, delta=6.0)
        # at one pace through the water energy goes with time
        self.assertAlmostEqual(a.energy_wh / b.energy_wh, a.time_s / b.time_s, delta=0.02)
        over_ground = a.run.column(Col.SPEED) - a.streams_m_s()
        self.assertAlmostEqual(float(over_ground[len(over_ground) // 4]), 0.9, delta=0.01)
        self.assertAlmostEqual(float(over_ground[-5]), 2.1, delta=0.01)
        reached = study_drive(against, STOCK).goals[0].reached
        whole = ride(still, STOCK, Ask(run="hold-speed", start_charge=WINDOW[0])).distance_m
        self.assertAlmostEqual(reached, whole * (1.5**2 - 0.6**2) / (2.0 * 1.5**2), delta=0.01 * reached)

    def test_a_current_faster_than_the_boat_is_never_crossed(self):
        goal = Goal(id="out", kind=GoalKind.THERE_AND_BACK, distance=500.0, speed=0.8, current=1.2)
        design = put(PUNT, "brief.goals", (goal,))
        self.assertEqual(study_drive(design, STOCK).goals[0].reached, 0.0)
        done = ride(design, STOCK, Ask(run="there-and-back"))
        self.assertNotEqual(done.run.end, End.ARRIVED)
        found = {f.code: f for f in judged_all(design, STOCK, rides=True)}
        self.assertIs(found["ride.home"].status, Status.OVER)

    def test_it_stops_alongside_and_goes_on(self):
        legs = (CourseLeg(length=300.0, speed=1.5, stop=60.0), CourseLeg(length=200.0, speed=1.2, current=-0.3))
        design = put(PUNT, "brief.courses", (Course(id="ferry", legs=legs),))
        done = ride(design, STOCK, Ask(run="ferry"))
        self.assertIs(done.run.end, End.ARRIVED)
        self.assertGreater(done.run.stat(Stat.STANDING_S), 55.0)
        self.assertLess(done.run.balance_error, 1e-6)
        self.assertAlmostEqual(done.distance_m, 500.0, delta=1.0)

    def test_crash_stop_is_shorter_than_drifting(self):
        done = ride(GARGANEY, STOCK, Ask(run="stop"))
        self.assertIs(done.run.end, End.STOPPED)
        self.assertLess(done.run.balance_error, 1e-6)
        self.assertLess(float(done.run.column(Col.FORCE).min()), -30.0)
        boat, speed, metres = resolve(GARGANEY, STOCK).load, 1.9, 0.0
        while speed > 0.3:  # without a propeller it is still under way when reverse has long stopped it
            speed -= float(boat.resistance_n(speed)) / (float(boat.mass_kg) * 1.1) * 0.05
            metres += speed * 0.05
        self.assertLess(done.distance_m, 0.6 * metres)
        with self.assertRaisesRegex(InputError, "grade"):
            ride(GARGANEY, STOCK, Ask(run="start", grade=0.05))

    def test_goals_of_the_water_by_hand(self):
        goals = (
            Goal(id="up", kind=GoalKind.UPSTREAM, speed=1.0, current=0.7),
            Goal(id="over", kind=GoalKind.CROSSING, distance=600.0, time=400.0, current=0.2),
            Goal(id="top", kind=GoalKind.TOP_SPEED, speed=2.0),
            Goal(id="pull", kind=GoalKind.BOLLARD, pull=100.0),
            Goal(id="on", kind=GoalKind.CRUISE, speed=1.5),
        )
        up, over, top, pull, on = (result.reached for result in study_drive(put(PUNT, "brief.goals", goals), STOCK).goals)
        self.assertAlmostEqual(up, top - 0.7, places=6)
        self.assertAlmostEqual(over, 600.0 / (top - 0.2), places=4)
        self.assertLessEqual(on, top + 1e-9)
        resolved = resolve(PUNT, STOCK)
        tied = replace(resolved.load, deduction=0.0)
        from wattagon.physics.envelope import edge

        plain = float(edge(resolved.train, tied, np.array([0.0]), resolved.emf_v(0.5)).force_n[0])
        self.assertAlmostEqual(pull, 0.97 * plain, delta=0.002 * plain)
        swift = put(PUNT, "brief.goals", (replace(goals[1], current=5.0),))
        self.assertEqual(study_drive(swift, STOCK).goals[0].reached, math.inf)

    def test_both_sides_of_what_is_left_at_home(self):
        def judged(distance):
            goal = Goal(id="out", kind=GoalKind.THERE_AND_BACK, distance=distance, speed=1.5, current=0.0)
            found = judged_all(put(PUNT, "brief.goals", (goal,)), STOCK, rides=True)
            return {f.code: f.status for f in found}["ride.home"]

        reach = study_drive(put(PUNT, "brief.goals", (Goal(id="r", kind=GoalKind.RANGE, distance=1e4, speed=1.5),)), STOCK).goals[0].reached
        self.assertIs(judged(0.23 * reach), Status.CLEAR)
        self.assertIs(judged(0.29 * reach), Status.TIGHT)
        self.assertIs(judged(0.60 * reach), Status.OVER)


if __name__ == "__main__":
    unittest.main()
