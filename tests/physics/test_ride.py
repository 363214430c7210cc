"""Rides: the handbook's check points, energy balance, limits never passed, closed forms against the loop."""

import math
import random
import unittest
from dataclasses import replace

import numpy as np

from tests.physics.worked import BIKE, BIKE_ROAD, BOARD, BOARD_ROAD, DESIGNS, KART, KART_ROAD
from wattagon.errors import InputError
from wattagon.physics.envelope import edge, time_to_speed, top_speed
from wattagon.physics.point import steady_range_m
from wattagon.physics.ride.course import Leg, cells, climb_m, length_m
from wattagon.physics.ride.names import Col, End, Mode, Stat, Sum, What
from wattagon.physics.ride.plant import RIDE_INDEX, Extras, make_plant
from wattagon.physics.ride.ride import Rider, Start, event_words, simulate, steady_cells
from wattagon.physics.route import quasi_static
from wattagon.physics.thermal import warming

SHARP = {"rise_s": 1e-6, "fall_s": 1e-6}
KART_EXTRAS = Extras(
    boost_tau_s=30.0,
    motor_taper_c=(100.0, 120.0),
    controller_j_per_k=500.0,
    controller_k_per_w=0.35,
    pack_kg=8.0,
    pack_w_per_k=1.5,
    **SHARP,
)
CHEMISTRY = {"board": "nmc_power", "kart": "lipo", "bike": "nmc_energy"}


def run(train, road, rider, *, extras=None, cell_table=None, start=None, **more):
    plant = make_plant(train, road, extras or Extras(**SHARP))
    return simulate(plant, train.pack.chemistry, steady_cells(5.0) if cell_table is None else cell_table, rider, start or Start(), **more)


class CheckPoints(unittest.TestCase):
    def test_g2_range_with_pedalling(self):
        # 100 W at the pedals, 0.97 of it at the road
        metres = float(steady_range_m(BIKE, BIKE_ROAD, speed_m_s=7.0, top=0.95, bottom=0.15, rider_w=100.0))
        self.assertAlmostEqual(metres / 1000, 207.7, delta=0.5)

    def test_g3_route_with_and_without_a_freewheel(self):
        legs = [
            Leg(length_m=400, speed_m_s=7),
            Leg(length_m=300, speed_m_s=6, grade=0.05),
            Leg(length_m=300, speed_m_s=7, grade=-0.05),
            Leg(length_m=200, speed_m_s=4),
        ]
        for one_way, terminal, chemical, regained, friction in (
            (0.0, 7.486, 7.779, 2.542, 0.0),
            (1.0, 9.631, 9.899, 0.0, 2.946),
        ):
            bike = replace(BIKE, reduction=replace(BIKE.reduction, one_way=one_way))
            found = quasi_static(bike, BIKE_ROAD, legs, charge=0.80)
            self.assertAlmostEqual(found.terminal_wh / 1.2, terminal, delta=0.002)
            self.assertAlmostEqual(found.chemical_wh / 1.2, chemical, delta=0.002)
            self.assertAlmostEqual(found.regenerated_wh, regained, delta=0.002)
            self.assertAlmostEqual(found.friction_wh, friction, delta=0.002)
            self.assertAlmostEqual(found.time_s, 204.7, delta=0.1)
            self.assertEqual(found.infeasible, 0)

    def test_g4_kart_full_throttle_for_six_seconds(self):
        kart = replace(KART, pack=replace(KART.pack, cell_tau1_s=25.0))
        found = run(kart, KART_ROAD, Rider(longest_s=6.0), extras=KART_EXTRAS, start=Start(charge=0.90))
        wanted = {Stat.SPEED: 15.25, Stat.DISTANCE: 48.83, Stat.WINDING: 32.53, Stat.BUCKET: 0.4008}
        for stat, value in wanted.items():
            self.assertAlmostEqual(found.stat(stat) / value, 1.0, delta=0.002, msg=stat.name)
        self.assertAlmostEqual(found.trace[-1, Col.BUS_V], 63.56, delta=0.03)
        self.assertAlmostEqual(found.energy_j(Sum.CHEMICAL) / 32140.0, 1.0, delta=0.002)
        self.assertLess(found.balance_error, 1e-4)
        names = [event_words(kind) for _, _, kind in found.events]
        self.assertIn(("limit_begins", "battery_current"), names)

    def test_b4_boost_lasts_as_long_as_its_budget(self):
        # burst over continuous 1.5, tau 20 s: 11.76 s from an empty bucket
        board = replace(
            BOARD,
            controller=replace(BOARD.controller, motor_current_a=60.0, motor_current_continuous_a=40.0, battery_current_a=1e6),
        )
        found = run(
            board,
            BOARD_ROAD,
            Rider(longest_s=40.0),
            cell_table=steady_cells(1.0, 0.18),
            extras=Extras(boost_tau_s=20.0, **SHARP),
        )
        t, ceiling = found.column(Col.TIME), found.column(Col.CEILING_A)
        begins = float(t[np.argmax(ceiling < ceiling[0] * 0.999)])
        full_at = 20.0 * math.log(1.5**2 / (1.5**2 - 0.98))  # where the blend begins
        self.assertAlmostEqual(begins, full_at, delta=0.1)
        self.assertAlmostEqual(ceiling[-1] / ceiling[0], 40.0 / 60.0, delta=0.02)

    def test_f7_taper_settles_where_heat_and_taper_meet(self):
        # command 51.96 A DC-equivalent, taper 100 to 120 C, 5 m/s, air 25 C: settles at 108.8 C and 29.19 A
        lasting = replace(
            BOARD,
            controller=replace(BOARD.controller, motor_current_continuous_a=math.inf, battery_current_a=1e6),
            motor=replace(BOARD.motor, magnet_per_k=0.0),
        )
        plant = make_plant(lasting, BOARD_ROAD, Extras(motor_taper_c=(100.0, 120.0), **SHARP))
        plant = plant._replace(mass=1e8, rolling=0.0, air_force=0.0, coulombs=1e12, pack_j=1e12)  # too heavy to change its speed
        rider = Rider(mode=Mode.FOLLOW, accel_m_s2=100.0, longest_s=4000.0)
        found = simulate(plant, "nmc_power", steady_cells(50.0), rider, Start(speed_m_s=5.0, charge=0.9))
        self.assertAlmostEqual(found.trace[-1, Col.WINDING], 108.8, delta=0.2)
        self.assertAlmostEqual(found.trace[-1, Col.DC_A], 29.19, delta=0.15)
        self.assertIn("thermal", [event_words(kind)[1] for _, _, kind in found.events])


class Balance(unittest.TestCase):
    def test_every_ride_closes_and_half_the_step_says_the_same(self):
        legs = [
            Leg(length_m=300, speed_m_s=6, stop_s=4),
            Leg(length_m=200, speed_m_s=7, grade=0.04),
            Leg(length_m=300, speed_m_s=8, grade=-0.05, stop_s=2),
            Leg(length_m=150, speed_m_s=5),
        ]
        for name, (train, road) in DESIGNS.items():
            extras = Extras(friction_brake_n=300.0)
            rider = Rider(mode=Mode.FOLLOW, end_m=length_m(legs), longest_s=900.0)
            coarse, fine = (run(train, road, rider, extras=extras, cell_table=cells(legs), step_s=step) for step in (0.01, 0.005))
            self.assertIs(coarse.end, End.ARRIVED)
            self.assertLess(coarse.balance_error, 1e-3, name)
            for stat in (Stat.TIME, Stat.PEAK_PACK_A, Stat.PEAK_DC_A, Stat.WINDING, Stat.PEAK_SPEED, Stat.DC_SQUARE_S):
                self.assertAlmostEqual(coarse.stat(stat) / fine.stat(stat), 1.0, delta=0.002, msg=f"{name} {stat.name}")
            self.assertAlmostEqual(coarse.energy_j(Sum.CHEMICAL) / fine.energy_j(Sum.CHEMICAL), 1.0, delta=0.002)

    def test_long_runs_keep_whole_traces(self):
        found = run(BOARD, BOARD_ROAD, Rider(mode=Mode.FOLLOW, longest_s=700.0), start=Start(speed_m_s=5.0))
        t = found.column(Col.TIME)
        self.assertGreaterEqual(len(t), 1500)
        self.assertAlmostEqual(float(t[-1]), 700.0, delta=1.0)
        self.assertLess(np.ptp(np.diff(t)), 1e-6)


class AgainstClosedForms(unittest.TestCase):
    def test_top_speed_and_time_to_it(self):
        for name, (train, road) in DESIGNS.items():
            # what the closed forms hold still is held still: charge, relaxation, temperatures, boost
            frozen = replace(train, pack=replace(train.pack, cell_r1_ohm=1e-9, cell_ah=1e5))
            frozen = replace(
                frozen,
                controller=replace(train.controller, motor_current_continuous_a=math.inf),
                motor=replace(train.motor, magnet_per_k=0.0),
            )
            plant = make_plant(frozen, road, Extras(controller_taper_c=(math.inf, math.inf), **SHARP))
            plant = plant._replace(winding_j=1e9, case_j=1e9)
            found = simulate(
                plant,
                CHEMISTRY[name],
                steady_cells(1.0),
                Rider(longest_s=200.0),
                Start(charge=0.5, winding_c=20.0, case_c=20.0),
            )
            emf = float(frozen.pack.emf_v(0.5))
            self.assertAlmostEqual(found.stat(Stat.PEAK_SPEED) / float(top_speed(frozen, road, emf).speed_m_s), 1.0, delta=0.005, msg=name)
            seconds = float(time_to_speed(frozen, road, emf, 8.0)[0])
            v, t = found.column(Col.SPEED), found.column(Col.TIME)
            self.assertAlmostEqual(float(np.interp(8.0, v, t)) / seconds, 1.0, delta=0.005, msg=name)

    def test_thrust_on_the_way_is_that_of_the_edge(self):
        plant = make_plant(BOARD, BOARD_ROAD, Extras(**SHARP))
        found = simulate(plant, "nmc_power", steady_cells(1.0), Rider(longest_s=8.0), Start(charge=0.5, winding_c=20.0, case_c=20.0))
        row = found.trace[300]
        emf = float(BOARD.pack.emf_v(row[Col.CHARGE])) - row[Col.RELAXED_V]
        warm = replace(BOARD, motor=BOARD.motor.at(winding_c=row[Col.WINDING], magnet_c=row[Col.CASE]))
        reach = edge(warm, BOARD_ROAD, row[Col.SPEED], emf)
        self.assertAlmostEqual(row[Col.DC_A] / float(reach.dc_current_a), 1.0, delta=0.002)

    def test_steady_heat(self):
        speed, grade = 4.0, 0.20
        lasting = replace(BOARD, controller=replace(BOARD.controller, motor_current_continuous_a=math.inf))
        rider = Rider(mode=Mode.FOLLOW, longest_s=3000.0, stop_when_hot=True)
        # the closed form holds the magnets cold; warm ones weaken, which takes more current and less time
        for per_k, tolerance in ((0.0, 0.005), (-0.0011, 0.15)):
            train = replace(lasting, motor=replace(BOARD.motor, magnet_per_k=per_k))
            found = run(train, BOARD_ROAD, rider, cell_table=steady_cells(speed, grade), start=Start(speed_m_s=speed))
            self.assertIs(found.end, End.HOT)
            state = warming(train.motor, train.heat, float(found.trace[0, Col.DC_A]), 2.4 * speed / 0.045, speed)
            closed = float(state.time_to_s(120.0))
            self.assertAlmostEqual(found.stat(Stat.WINDING_AT) / closed, 1.0, delta=tolerance)
            self.assertLess(found.stat(Stat.WINDING_AT), closed * 1.005)

    def test_range_at_a_steady_pace(self):
        for name, (train, road) in DESIGNS.items():
            rider = Rider(mode=Mode.FOLLOW, empty_charge=0.15)
            found = run(train, road, rider, cell_table=steady_cells(7.0), start=Start(speed_m_s=7.0, charge=0.95))
            closed = float(steady_range_m(train, road, speed_m_s=7.0, top=0.95, bottom=0.15))
            # a warm winding takes a little more
            self.assertAlmostEqual(found.stat(Stat.DISTANCE) / closed, 1.0, delta=0.01, msg=name)


class Brakes(unittest.TestCase):
    def stop(self, train, road=BOARD_ROAD, charge=0.5, extras=None):
        return run(train, road, Rider(mode=Mode.STOP, longest_s=200.0), start=Start(speed_m_s=8.0, charge=charge), extras=extras)

    def test_e6_electric_brake(self):
        # 8 to 0.5 m/s: board 3.866 s, 16.91 m; kart 3.668 s, 15.42 m; bike 10.71 s, 43.91 m; burst set, s 0.50
        for name, seconds, metres in (("board", 3.866, 16.91), ("kart", 3.668, 15.42), ("bike", 10.71, 43.91)):
            found = self.stop(*DESIGNS[name])
            v = found.column(Col.SPEED)
            k = int(np.argmax(v < 0.5))
            self.assertAlmostEqual(found.trace[k, Col.TIME] / seconds, 1.0, delta=0.02, msg=name)
            self.assertAlmostEqual(found.trace[k, Col.DISTANCE] / metres, 1.0, delta=0.02, msg=name)

    def test_a_full_pack_takes_nothing_back(self):
        train = replace(BOARD, controller=replace(BOARD.controller, bus_max_v=41.8))
        half, full = self.stop(train), self.stop(train, charge=1.0)
        self.assertGreater(half.energy_j(Sum.REGENERATED), 500.0)
        self.assertLess(full.energy_j(Sum.REGENERATED), 30.0)
        self.assertGreater(full.held_s[RIDE_INDEX["bus_overvoltage"]], 1.0)
        self.assertLessEqual(full.stat(Stat.HIGHEST_BUS_V), 41.8 + 0.01)
        self.assertGreater(full.stat(Stat.DISTANCE), half.stat(Stat.DISTANCE))

    def test_a_resistor_fades_with_speed_and_warms(self):
        found = self.stop(BOARD, extras=Extras(resistor_ohm=0.4, **SHARP))
        v, force = found.column(Col.SPEED), found.column(Col.FORCE)
        fast, slow = np.interp([-7.0, -2.0], -v, force)
        self.assertLess(fast, 2.2 * slow)  # both negative: the force falls with speed
        self.assertEqual(found.energy_j(Sum.REGENERATED), 0.0)
        self.assertGreater(found.energy_j(Sum.RESISTOR), 300.0)
        self.assertGreater(found.stat(Stat.RESISTOR_T), 26.0)
        self.assertLess(found.balance_error, 1e-3)

    def test_a_freewheel_neither_brakes_nor_drags(self):
        free = replace(BOARD, reduction=replace(BOARD.reduction, one_way=1.0))
        found = self.stop(free)
        self.assertEqual(found.energy_j(Sum.REGENERATED), 0.0)
        self.assertEqual(found.stat(Stat.PEAK_BRAKE_A), 0.0)
        self.assertGreater(found.stat(Stat.TIME), 20.0)
        self.assertLess(found.balance_error, 1e-3)
        helped = self.stop(free, extras=Extras(friction_brake_n=300.0, **SHARP))
        self.assertLess(helped.stat(Stat.TIME), 3.0)
        self.assertGreater(helped.energy_j(Sum.FRICTION), 2000.0)

    def test_outrunning_the_pack_charges_it_and_is_told(self):
        found = run(
            BOARD,
            BOARD_ROAD,
            Rider(command=0.0, longest_s=40.0),
            cell_table=steady_cells(1.0, -0.45),
            start=Start(speed_m_s=13.0, charge=0.3),
        )
        self.assertIn(float(What.OVERSPEED), [kind for _, _, kind in found.events])
        self.assertGreater(found.stat(Stat.PEAK_CHARGE_A), 1.0)


class Limits(unittest.TestCase):
    def test_never_passed_in_random_rides(self):
        from tests.random_rides import check_ride, random_ride

        for seed in (*range(60), 146, 309):  # the last two outran a rotor without inertia behind a freewheel
            self.assertEqual(check_ride(*random_ride(random.Random(seed))), [], f"seed {seed}")

    def test_cutback_holds_the_bus_above_its_end(self):
        found = run(BOARD, BOARD_ROAD, Rider(longest_s=60.0), cell_table=steady_cells(1.0, 0.05), start=Start(charge=0.03))
        self.assertGreater(found.held_s[RIDE_INDEX["low_voltage"]], 5.0)
        self.assertGreaterEqual(found.stat(Stat.LOWEST_BUS_V), 30.0 - 1e-6)
        self.assertIn(float(What.CUTBACK), [kind for _, _, kind in found.events])

    def test_a_hill_too_steep_ends_the_ride(self):
        found = run(BIKE, BIKE_ROAD, Rider(longest_s=60.0), cell_table=steady_cells(1.0, 0.2))
        self.assertIs(found.end, End.STALLED)

    def test_saturation_is_refused(self):
        with self.assertRaises(InputError):
            make_plant(replace(BOARD, motor=replace(BOARD.motor, saturation_a=80.0)), BOARD_ROAD, Extras())


class CourseCells(unittest.TestCase):
    def test_the_driver_slows_down_in_time(self):
        legs = [Leg(length_m=200, speed_m_s=8), Leg(length_m=100, speed_m_s=3, stop_s=5), Leg(length_m=50, speed_m_s=5)]
        table = cells(legs, brake_m_s2=1.0)
        self.assertAlmostEqual(table[1, 0], 200 - (64 - 9) / 2)  # brakes from 8 to 3 m/s at 1 m/s2
        self.assertAlmostEqual(table[1, 4] + table[1, 5] * (200 - table[1, 0]), 9.0)
        found = run(
            BOARD,
            BOARD_ROAD,
            Rider(mode=Mode.FOLLOW, end_m=350.0, longest_s=300.0),
            cell_table=table,
            extras=Extras(friction_brake_n=200.0),
        )
        self.assertIs(found.end, End.ARRIVED)
        stops = [x for _, x, kind in found.events if kind == What.LEG_STOP]
        self.assertEqual(len(stops), 2)
        self.assertAlmostEqual(stops[0], 300.0, delta=0.6)
        v, x = found.column(Col.SPEED), found.column(Col.DISTANCE)
        self.assertLess(float(np.interp(200.0, x, v)), 3.3)

    def test_height_and_refusals(self):
        legs = [Leg(length_m=100, speed_m_s=5, grade=0.1), Leg(length_m=50, speed_m_s=5, grade=-0.1)]
        up, down = climb_m(legs)
        self.assertAlmostEqual(up, 100 * math.sin(math.atan(0.1)))
        self.assertAlmostEqual(down, up / 2)
        for bad in ({"length_m": 0.0}, {"grade": 0.9}, {"speed_m_s": math.nan}, {"stop_s": -1.0}):
            with self.assertRaises(InputError):
                Leg(**{"length_m": 10.0, "speed_m_s": 5.0, **bad})
        with self.assertRaises(InputError):
            cells([])
