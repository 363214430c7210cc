"""Properties over wide ranges: balance of power, limits never exceeded, closed forms against a slow referee."""

import math
import unittest
from dataclasses import replace

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.hull import Hull
from wattagon.physics.controller import Controller
from wattagon.physics.envelope import edge, grade_held, time_to_speed, top_speed
from wattagon.physics.load import Load
from wattagon.physics.motor import Motor
from wattagon.physics.pack import Pack
from wattagon.physics.point import operating_point
from wattagon.physics.powertrain import INDEX, Powertrain
from wattagon.physics.reduction import Stage, combine
from wattagon.physics.road import Road

from .worked import BIKE, BIKE_ROAD, BOARD, BOARD_ROAD, KART, KART_ROAD

STAGES = [Stage(kind="belt", ratio=3.2, efficiency=0.95, drag_nm=0.04), Stage(kind="chain", ratio=2.0, efficiency=0.97, drag_nm=0.1)]


def span(low: float, high: float):
    return st.floats(low, high, allow_nan=False, allow_infinity=False)


@st.composite
def trains(draw) -> Powertrain:
    kv = draw(span(8.0, 900.0))
    constant = 60.0 / (math.tau * kv)
    resistance = constant**2 / draw(span(0.01, 4.0))
    motor = Motor(
        kv_rpm_per_v=kv,
        resistance_ohm=resistance,
        inductance_h=draw(span(0.0, 1.5e-3)) * resistance,
        pole_pairs=float(draw(st.integers(2, 23))),
        no_load_a=draw(span(0.0, 3.0)),
        no_load_slope_a_s=draw(span(0.0, 0.006)),
        rotor_inertia_kg_m2=draw(span(0.0, 0.01)),
        brush_drop_v=draw(st.sampled_from([0.0, 1.4])),
    )
    pack = Pack(
        chemistry=draw(st.sampled_from(["lipo", "nmc_power", "nmc_energy", "lfp"])),
        series=float(draw(st.integers(3, 24))),
        parallel=float(draw(st.integers(1, 8))),
        cell_ah=draw(span(1.0, 20.0)),
        cell_r0_ohm=draw(span(0.001, 0.05)),
        cell_r1_ohm=draw(span(0.0, 0.02)),
        wiring_ohm=draw(span(0.0, 0.05)),
        continuous_a=draw(span(5.0, 300.0)),
        burst_a=draw(span(5.0, 400.0)),
    )
    full = float(pack.full_v)
    controller = Controller(
        motor_current_a=10 ** draw(span(0.5, 2.6)),
        battery_current_a=10 ** draw(span(0.3, 2.5)),
        duty_max=draw(span(0.6, 1.0)),
        duty_soft=draw(st.sampled_from([1.0, 0.5])),
        erpm_start=95e3,
        erpm_end=1e5,
        cutback_start_v=0.75 * full,
        cutback_end_v=0.7 * full,
        bridge_ohm=draw(span(0.0, 0.01)),
        switching_v_per_v=draw(span(0.0, 0.006)),
        idle_w=draw(span(0.0, 6.0)),
    )
    reduction = combine(STAGES[: draw(st.integers(0, 2))], motors=2)
    return Powertrain(motor=motor, count=float(draw(st.integers(1, 3))), controller=controller, pack=pack, reduction=reduction)


SPEEDS = np.linspace(0.0, 25.0, 60)


class LimitsTest(unittest.TestCase):
    @settings(max_examples=60, deadline=None, derandomize=True)
    @given(train=trains(), charge=span(0.02, 1.0))
    def test_no_limit_is_exceeded_anywhere_on_the_edge(self, train, charge):
        emf = float(train.pack.emf_v(charge))
        reach = edge(train, BOARD_ROAD, SPEEDS, emf)
        shaft = train.reduction.ratio * SPEEDS / BOARD_ROAD.wheel_radius_m
        volts, pack_a, duty, _ = train.bus(reach.dc_current_a, shaft, emf, train.pack.burst_ohm)
        c, drawn = train.controller, reach.dc_current_a > 0
        taper = np.asarray(c.erpm_share(train.motor.erpm(shaft)))
        self.assertTrue(np.all(np.isfinite(reach.force_n)) and np.all(reach.force_n >= 0))
        self.assertTrue(np.all(reach.dc_current_a <= train.motor.dc_per_motor_amp * c.motor_current_a * taper + 1e-9))
        self.assertTrue(np.all(np.isfinite(volts[drawn])))
        allowed = np.minimum(train.count * c.battery_current_a, train.pack.burst_a)
        self.assertTrue(np.all(pack_a[drawn] <= allowed * (1 + 1e-7) + 1e-9))
        most = np.where(
            c.duty_soft < c.duty_max,
            c.duty_max - np.maximum(c.duty_max - c.duty_soft, 0) * reach.dc_current_a / (train.motor.dc_per_motor_amp * c.motor_current_a),
            c.duty_max,
        )
        self.assertTrue(np.all(duty[drawn] <= most[drawn] + 1e-7))
        self.assertTrue(np.all(volts[drawn] >= c.cutback_end_v - 1e-6))
        for name, cap in BOARD_ROAD.thrust_caps(0.0).items():
            self.assertTrue(np.all(reach.force_n <= cap + 1e-9), name)

    @settings(max_examples=40, deadline=None, derandomize=True)
    @given(train=trains(), charge=span(0.05, 1.0), speed=span(0.0, 20.0))
    def test_the_closed_forms_agree_with_bisection(self, train, charge, speed):
        emf = float(train.pack.emf_v(charge))
        supply = train.supply(emf)
        shaft = train.reduction.ratio * speed / BOARD_ROAD.wheel_radius_m
        quick, _ = train.largest_current(shaft, supply)
        ceiling = train.motor.dc_per_motor_amp * train.controller.motor_current_a
        by_pack, by_duty = train.by_bisection(ceiling, supply.limit_a, shaft, emf, supply.pack_ohm)
        slow = min(ceiling * float(train.controller.erpm_share(train.motor.erpm(shaft))), float(by_pack), float(by_duty))
        self.assertAlmostEqual(float(quick), slow, delta=1e-6 * max(1.0, slow))


class BalanceTest(unittest.TestCase):
    @settings(max_examples=60, deadline=None, derandomize=True)
    @given(
        train=trains(),
        charge=span(0.05, 1.0),
        speed=span(0.0, 20.0),
        grade=span(-0.2, 0.4),
        wind=span(-8.0, 8.0),
        throttle=st.one_of(st.none(), span(0.0, 1.0)),
    )
    def test_power_balances_at_every_point(self, train, charge, speed, grade, wind, throttle):
        stages = STAGES if train.reduction.ratio > 5 else STAGES[:1] if train.reduction.ratio > 2 else []
        train = replace(train, reduction=combine(stages, motors=int(train.count)))
        point = operating_point(
            train,
            BOARD_ROAD,
            stages,
            speed_m_s=speed,
            emf_v=float(train.pack.emf_v(charge)),
            grade=grade,
            headwind_m_s=wind,
            throttle=throttle,
        )
        self.assertLess(point.balance_error, 1e-6)
        self.assertAlmostEqual(point.chemical_w - point.losses.pack, point.bus_w, delta=1e-6 * max(1.0, abs(point.chemical_w)))
        self.assertAlmostEqual(point.bus_w - point.losses.controller, point.motor_w, delta=1e-6 * max(1.0, abs(point.bus_w)))
        self.assertAlmostEqual(point.motor_w - point.losses.motor, point.shaft_w, delta=1e-6 * max(1.0, abs(point.motor_w)))

    def test_a_held_point_gives_just_the_load(self):
        for train, road in ((BOARD, BOARD_ROAD), (KART, KART_ROAD), (BIKE, BIKE_ROAD)):
            stages = [Stage(kind="belt", ratio=float(train.reduction.ratio), efficiency=float(train.reduction.efficiency))]
            point = operating_point(train, road, stages, speed_m_s=3.0, emf_v=float(train.pack.emf_v(0.5)), grade=0.03)
            self.assertTrue(point.held)
            self.assertAlmostEqual(point.thrust_n, float(road.resistance_n(3.0, 0.03, 0.0)), places=6)

    def test_a_freewheel_lets_the_vehicle_roll(self):
        stage = Stage(kind="chain", ratio=3.0, one_way=True)
        train = replace(BIKE, reduction=combine([stage]))
        point = operating_point(train, BIKE_ROAD, [stage], speed_m_s=8.0, emf_v=50.0, grade=-0.05)
        self.assertEqual((point.motor_rad_s, point.thrust_n), (0.0, 0.0))
        self.assertGreater(point.surplus_w, 0.0)  # gravity is left to speed it up
        self.assertLess(point.balance_error, 1e-9)


class BroadcastTest(unittest.TestCase):
    def test_arrays_give_what_scalars_give(self):
        speeds, charges = np.linspace(0.1, 12.0, 7), np.array([1.0, 0.5, 0.1])
        emf = BOARD.pack.emf_v(charges)[:, np.newaxis]
        table = edge(BOARD, BOARD_ROAD, speeds, emf).force_n
        for i, charge in enumerate(charges):
            for j, speed in enumerate(speeds):
                one = edge(BOARD, BOARD_ROAD, float(speed), float(BOARD.pack.emf_v(charge))).force_n
                self.assertAlmostEqual(float(one), table[i, j], places=9)

    def test_top_speed_is_where_thrust_meets_the_load(self):
        emf = BOARD.pack.emf_v(np.array([1.0, 0.5, 0.1]))
        for grade in (0.0, 0.05, 0.12):
            top = top_speed(BOARD, BOARD_ROAD, emf, grade=grade).speed_m_s
            force = edge(BOARD, BOARD_ROAD, top, emf, grade=grade).force_n
            np.testing.assert_allclose(force, BOARD_ROAD.resistance_n(top, grade, 0.0), rtol=2e-5)

    def test_a_hill_too_steep_gives_no_speed_and_no_time(self):
        self.assertEqual(float(top_speed(BOARD, BOARD_ROAD, 37.0, grade=0.9).speed_m_s), 0.0)
        self.assertTrue(np.isinf(time_to_speed(BOARD, BOARD_ROAD, 37.0, 3.0, grade=0.9)[0]))

    def test_the_steepest_grade_can_just_be_held(self):
        for speed in (0.0, 3.0, 8.0):
            steepest = float(grade_held(BOARD, BOARD_ROAD, 37.0, speed))
            thrust = float(edge(BOARD, BOARD_ROAD, speed, 37.0, grade=steepest).force_n)
            self.assertAlmostEqual(thrust, float(BOARD_ROAD.resistance_n(speed, steepest, 0.0)), delta=1e-3 * thrust)

    def test_a_thrust_and_the_grade_it_climbs_are_inverse(self):
        for thrust in (10.0, 80.0, 300.0):
            grade = float(BOARD_ROAD.grade_at(thrust, 4.0, 1.0))
            self.assertAlmostEqual(float(BOARD_ROAD.resistance_n(4.0, grade, 1.0)), thrust, places=6)


class LoadInterfaceTest(unittest.TestCase):
    def test_a_propeller_takes_the_place_of_wheels(self):
        hull = Hull()
        self.assertIsInstance(hull, Load)
        train = replace(BOARD, reduction=combine([]), count=1.0)
        reach = edge(train, hull, np.linspace(0.0, 4.0, 9), 37.0)
        self.assertTrue(np.all(np.diff(reach.force_n) <= 1e-9) and reach.force_n[0] > 0)
        # the shaft speed and the torque that the motor gives at it belong to that thrust
        shaft = hull.shaft_speed_rad_s(0.0, reach.force_n[0])
        torque = train.output_torque_nm(reach.dc_current_a[0], shaft)
        self.assertAlmostEqual(float(torque), float(hull.shaft_torque_nm(0.0, reach.force_n[0])), places=6)
        top = float(top_speed(train, hull, 37.0).speed_m_s)
        self.assertAlmostEqual(float(edge(train, hull, top, 37.0).force_n), hull.drag * top**2, delta=0.01)


class SpecialCasesTest(unittest.TestCase):
    def test_a_brushed_motor_has_no_electrical_speed_and_one_kind_of_amps(self):
        motor = Motor(kv_rpm_per_v=80.0, resistance_ohm=0.1, brushed=True, brush_drop_v=1.4)
        self.assertEqual(motor.dc_per_motor_amp, 1.0)
        self.assertEqual(float(motor.erpm(500.0)), 0.0)
        self.assertAlmostEqual(float(motor.in_phase_volts(10.0, 0.0)), 2.4)

    def test_power_beyond_the_pack_is_not_a_number_and_never_on_the_edge(self):
        weak = Pack(chemistry="nmc_energy", series=10.0, parallel=1.0, cell_ah=3.0, cell_r0_ohm=0.05, continuous_a=np.inf, burst_a=np.inf)
        train = replace(BOARD, pack=weak, controller=Controller(motor_current_a=300.0))
        volts, *_ = train.bus(250.0, 600.0, float(weak.emf_v(0.5)), weak.burst_ohm)
        self.assertTrue(np.isnan(volts))
        reach = edge(train, BOARD_ROAD, SPEEDS, float(weak.emf_v(0.5)))
        self.assertTrue(np.all(np.isfinite(reach.force_n)))

    def test_the_lift_limit_names_itself(self):
        strong = replace(BOARD, controller=replace(BOARD.controller, motor_current_a=90.0))
        reach = edge(strong, BOARD_ROAD, 1.0, 37.0)
        self.assertEqual(int(reach.limit), INDEX["wheel_lift"])

    def test_a_stage_that_is_shared_bears_its_drag_once(self):
        once = combine([Stage(kind="chain", ratio=2.0, drag_nm=0.2, shared=True)], motors=2)
        each = combine([Stage(kind="chain", ratio=2.0, drag_nm=0.2)], motors=2)
        self.assertAlmostEqual(once.drag_nm, 0.1)
        self.assertAlmostEqual(each.drag_nm, 0.2)

    def test_refusals_name_the_field(self):
        from wattagon.errors import InputError

        for make, field in (
            (lambda: Motor(kv_rpm_per_v=0.0, resistance_ohm=0.1), "kv_rpm_per_v"),
            (lambda: Motor(kv_rpm_per_v=float("nan"), resistance_ohm=0.1), "kv_rpm_per_v"),
            (lambda: Controller(motor_current_a=-1.0), "motor_current_a"),
            (lambda: Stage(kind="belt", ratio=0.0), "ratio"),
            (lambda: Road(mass_kg=0.0, rolling=0.01), "mass_kg"),
        ):
            with self.assertRaisesRegex(InputError, field):
                make()
