"""Check points of motor (A), controller (B), pack (C), road (D), heat (F) and reduction, computed independently."""

import math
import unittest
from dataclasses import replace

import numpy as np

from tests.physics.test_check_points_drive import digits
from tests.physics.worked import BIKE, BOARD, BOARD_ROAD, DESIGNS, KART
from wattagon.physics import brakes, controller, motor, pack, reduction, thermal, throttle
from wattagon.physics.motor import Motor
from wattagon.physics.road import air_density
from wattagon.physics.thermal import MotorHeat, warming

BARE = Motor(kv_rpm_per_v=190.0, resistance_ohm=0.052, inductance_h=36e-6)


class Case(unittest.TestCase):
    def near(self, got, expected, label=""):
        self.assertLessEqual(abs(float(got) - expected), digits(expected), f"{label}: {float(got)} against {expected}")


class MotorPoints(Case):
    def test_a1_to_a3_constants_and_currents(self):
        k = BARE.torque_constant_nm_per_a
        self.near(k, 0.05026)
        self.near(k * BARE.dc_per_motor_amp, 0.04353)
        self.near(k / (math.sqrt(3) * 7), 0.004145)
        self.near(motor.kv_from_drill(1500, 5.58), 190.1)
        amps = 60 * BARE.dc_per_motor_amp
        self.near(amps, 51.96)
        self.near(0.052 * amps**2, 140.4)
        self.near(k * amps, 2.612)

    def test_a4_no_load_fit(self):
        a, b = motor.no_load_fit([12.0, 36.0], [0.80, 1.29], 190.0, 0.052)
        self.near(a, 0.5556)
        self.near(b, 0.001027)

    def test_a5_warm(self):
        warm = BARE.at(winding_c=100.0, magnet_c=80.0)
        self.near(warm.resistance_ohm, 0.06835)
        self.near(warm.torque_constant_nm_per_a, 0.04694)
        self.near(warm.kv_rpm_per_v, 203.4)

    def test_a6_a7_a13_efficiency(self):
        amps, eta = motor.best_efficiency(36.0, 1.30, 0.052)
        self.near(amps, 30.00)
        self.near(eta, 0.9152)
        m = BOARD.motor
        self.near(m.current_for_torque_a(1.0, 5000 * math.tau / 60), 21.02)
        for torque, row in (
            (1.0, {5000: 0.9087}),
            (0.5, {1500: 0.8710, 3500: 0.8853, 6000: 0.8730}),
            (1.5, {1500: 0.8127, 3500: 0.8915, 6000: 0.9133}),
            (2.5, {1500: 0.7398, 3500: 0.8584, 6000: 0.9001}),
        ):
            for rpm, expected in row.items():
                self.near(m.efficiency(torque, rpm * math.tau / 60), expected)

    def test_a8_to_a12(self):
        self.assertAlmostEqual(float(BARE.erpm(6000 * math.tau / 60)), 42000.0, places=6)
        self.near(BIKE.motor.erpm(470 * math.tau / 60), 10810)
        self.near(motor.unequal_pair_current_a(0.05026, 0.03, 600.0, 0.055), 16.45)
        soft = Motor(kv_rpm_per_v=190.0, resistance_ohm=0.052, saturation_a=80.0)
        for amps, share in ((52.0, 0.9598), (80.0, 0.8409)):
            self.near(soft.loaded_constant(amps) / soft.torque_constant_nm_per_a, share)
            torque = float(soft.loaded_constant(amps) * amps)
            self.assertAlmostEqual(float(soft.current_for_torque_a(torque, 0.0)), amps, places=8)
        self.near(BARE.in_phase_volts(51.96, 900.0), 47.94)
        self.near(BARE.reactive_volts(51.96, 900.0), 11.78)
        self.near(BARE.terminal_volts(51.96, 900.0), 49.36)
        self.near(1 / motor.SIX_STEP_EMF**2, 1.097)
        self.near(1 / motor.SIX_STEP_EMF, 1.047)
        self.near(motor.kv_from_free_run(4180, 22.4, 0.95, 0.055), 187.0)


class ControllerPoints(Case):
    def test_b1_bridge_is_a_transformer(self):
        ideal = Motor(kv_rpm_per_v=60 / (math.tau * 0.12), resistance_ohm=1e-9)  # 100 rad/s takes 12 V: 0.30 of 40 V
        from dataclasses import replace

        from wattagon.physics.controller import Controller

        train = replace(BOARD, motor=ideal, count=1.0, controller=Controller(motor_current_a=100.0, bridge_ohm=0.0))
        volts, amps, duty, _ = train.bus(60.0, 100.0, 40.0, 1e-12)
        self.near(amps, 18.00)
        self.near(volts * amps, 720.0)
        self.near(duty, 0.3000)

    def test_b2_balance(self):
        shaft = 2.4 * 8 / 0.045
        volts, amps, duty, _ = BOARD.bus(30.0, shaft, BOARD.pack.emf_v(0.5), BOARD.pack_ohm(True))
        for got, expected in (
            (volts, 36.00),
            (amps, 38.69),
            (duty, 0.6477),
            (volts * amps, 1393.0),
            (2 * 0.052 * 900, 93.60),
            (2 * 0.0015 * volts * 30, 3.240),
            (BOARD.pack_ohm(True) * amps**2, 56.14),
        ):
            self.near(got, expected)

    def test_b3_cutback_fixed_point(self):
        c = controller.Controller(motor_current_a=100.0, cutback_start_v=32.0, cutback_end_v=30.0)
        amps = c.cutback_current_a(60.0, 33.0, 0.050)
        self.near(amps, 36.00)
        self.near(33.0 - 0.05 * amps, 31.20)

    def test_b4_to_b6_and_b11(self):
        self.near(controller.boost_time_s(1.5, 20.0), 11.76)
        self.near(controller.boost_time_s(1.5, 20.0, 0.5), 6.729)
        self.assertEqual(float(controller.boost_time_s(1.0, 20.0)), math.inf)
        window = throttle.pulse_window(1000.0, 1500.0, 2000.0)
        stick = window.travel(1750.0)
        self.near(stick, 0.5)
        self.near(throttle.Shape(0.05, "expo", 0.40).of(stick), 0.3267)
        self.assertEqual(float(window.travel(700.0)), 0.0)
        c_sw = controller.switching_coefficient(60e-9, 25e3)
        self.near(c_sw, 0.001654)
        self.near(c_sw * 40 * 50, 3.308)
        made = throttle.slewed(np.full(4000, 0.7), 1e-4, throttle.Ramps(0.4, 0.1, 0.4, 0.1))
        self.near(1e-4 * (1 + int(np.argmax(made >= 0.7))), 0.28)
        self.near(throttle.lag_time_s(0.9, 0.08), 0.1842)

    def test_b7_to_b10_brakes(self):
        m = Motor(kv_rpm_per_v=60 / (math.tau * 0.05026), resistance_ohm=0.055, inductance_h=36e-6)
        self.near(brakes.regen_turns_rad_s(m, 43.30), 47.38)
        self.assertAlmostEqual(float(brakes.regen_power_w(m, 43.30, brakes.regen_turns_rad_s(m, 43.30))), 0.0, places=9)
        power, amps = brakes.most_recovered_w(m, 300.0)
        self.near(power, 1033)
        self.near(amps, 137.1)
        for speed, torque, watts in ((400.0, 2.221, 780.9), (100.0, 0.5552, 48.81)):
            got = brakes.resistor_brake(m, speed, 0.400)
            self.near(got[0], torque)
            self.near(got[1], watts)
        speed, torque = brakes.short_circuit_peak(m)
        self.near(speed, 218.3)
        self.near(torque, 5.012)
        self.assertAlmostEqual(float(brakes.short_circuit_torque_nm(m, speed)), float(torque), places=9)
        self.near(brakes.overspeed_current_a(m, 900.0, 37.45, 0.0375, motors=2), 47.57)
        self.assertEqual(float(brakes.overspeed_current_a(m, 700.0, 37.45, 0.0375)), 0.0)


class PackPoints(Case):
    def test_c1_c2_curve_and_resistance(self):
        for name, mean in (("lipo", 3.851), ("nmc_energy", 3.724), ("nmc_power", 3.743), ("lfp", 3.277), ("lead", 2.045)):
            fine = pack.rest_volts(name, np.linspace(0, 1, 2001))
            self.near(np.trapezoid(fine, np.linspace(0, 1, 2001)), mean, name)
        from dataclasses import replace

        for train, warm, cold in ((BOARD, (0.03750, 0.01500), (0.07501, 0.03231)), (BIKE, (0.1410, 0.05600), (0.2945, 0.1206))):
            for celsius, expected in ((25.0, warm), (0.0, cold)):
                p = replace(train.pack, temperature_c=celsius)
                self.near(p.burst_ohm, expected[0])
                self.near(p.relaxed_ohm, expected[1])

    def test_c3_to_c5_power_energy_stop(self):
        volts = pack.bus_volts_at_power(37.45, 0.0375, 2000.0)
        self.near(volts, 35.33)
        self.near(2000 / volts, 56.61)
        self.near(pack.largest_power_w(37.45, 0.0375), 9350)
        self.assertTrue(math.isnan(float(pack.bus_volts_at_power(37.45, 0.0375, 9400.0))))
        self.near(BOARD.pack.chemical_wh(0.95, 0.15), 485.9)
        self.near(BOARD.pack.terminal_wh(20.0, 0.95, 0.15), 472.5)
        self.near(BIKE.pack.loaded_stop_charge(10.0, 3.0), 0.02513)
        self.near(BIKE.pack.loaded_stop_charge(25.0, 3.0), 0.07564)

    def test_c6_to_c8_and_c11_c12(self):
        for got, expected in zip(pack.join_parallel((25.2, 24.6), (0.020, 0.030)), (12.00, 24.96, 0.01200), strict=True):
            self.near(got, expected)
        self.near(pack.sustained_current_a(30.0, 0.125, 5.0, 0.0025), 83.33)
        self.near(pack.lead_capacity_ah(7.0, 20.0, 7.0, 1.15), 4.466)
        self.near(pack.spread_as_charge("nmc_energy", 0.5, 0.020), 0.0250)
        self.near(pack.spread_as_charge("lfp", 0.5, 0.020), 0.2500)
        self.near(pack.capacity_left(300, 400, 0.0), 0.8500)
        self.near(pack.capacity_left(300, 400, 0.10), 0.9250)

    def test_c9_c10_charging(self):
        run = pack.charge_run(BIKE.pack, 0.15, 4.0, 4.20, 1.0)
        for got, expected in (
            (run.constant_current_s, 10050),
            (run.constant_voltage_s, 597.0),
            (run.end_charge, 0.9975),
            (run.energy_in_wh, 621.3),
        ):
            self.assertAlmostEqual(got, expected, delta=0.005 * expected)
        self.near(pack.voltage_phase_s(0.20, 13.6, 22.4, 4.0, 0.68), 774.6)

    def test_c13_heat(self):
        ohm = BOARD.pack.steady_ohm - BOARD.pack.wiring_ohm
        self.near(ohm * 40**2, 76.00)
        self.near(76.0 / (3.5 * 1000) * 60, 1.303)


class RoadPoints(Case):
    def test_d1_d2(self):
        for altitude, celsius, rho in ((0, 15, 1.225), (0, 35, 1.146), (1500, 20, 1.005)):
            self.near(air_density(altitude, celsius), rho)
        for got, expected in zip(BOARD_ROAD.parts_n(8.0, 0.05, 2.0), (13.22, 30.62, 44.07), strict=True):
            self.near(got, expected)
        self.near(BOARD_ROAD.resistance_n(8.0, 0.05, 2.0), 87.92)
        self.assertLess(BOARD_ROAD.parts_n(2.0, 0.0, -5.0)[1], 0)  # a fast tailwind pushes

    def test_d3_d4(self):
        for name, masses, caps in (
            ("board", (91.75, 91.89), (4943, 308.9, 170.4, 353.0)),
            ("kart", (179.0, 179.4), (1568, 1843, 734.5, 2764)),
            ("bike", (112.2, 112.2), (1357, 472.6, 257.9, 637.0)),
        ):
            train, road = DESIGNS[name]
            rotors = train.count * train.motor.rotor_inertia_kg_m2
            for braking, expected in zip((False, True), masses, strict=True):
                self.near(road.moving_mass_kg(rotors, train.reduction.ratio, train.reduction.efficiency, braking), expected)
            drive, brake = road.thrust_caps(0.0), road.brake_caps(0.0)
            for got, expected in zip((drive["traction"], drive["wheel_lift"], brake["traction"], brake["pitch_over"]), caps, strict=True):
                self.near(got, expected, name)

    def test_d5_d6(self):
        from dataclasses import replace

        self.near(replace(BOARD_ROAD, driven_share=0.5).thrust_caps(0.0)["traction"], 308.9)
        front, rear = BOARD_ROAD.axle_loads_n(200.0, 0.10)
        self.near(front, 143.2)
        self.near(rear, 735.0)

    def test_max_grade_solves_its_own_equation(self):
        for thrust in (60.0, 250.0, 2000.0):
            grade = float(BOARD_ROAD.max_grade(thrust, 4.0))
            held = min(thrust, *(float(x) for x in BOARD_ROAD.thrust_caps(grade).values()))
            self.assertAlmostEqual(held, float(BOARD_ROAD.resistance_n(4.0, grade)), places=6)


class HeatPoints(Case):
    def test_f1_f2_conductance(self):
        for diameter, film in ((0.063, 13.81), (0.080, 12.55), (0.250, 7.959)):
            self.near(thermal.cross_flow_film(diameter), film)
        for v, g in ((0, 0.7508), (5, 1.308), (10, 1.596)):
            self.near(BOARD.heat.case_w_per_k(float(v)), g)

    def test_f3_f4_warming(self):
        shaft = 2.4 * 5 / 0.045
        w = warming(BOARD.motor, BOARD.heat, 40.0, shaft, 5.0)
        self.near(-1 / w.rates[1], 40.69)
        self.near(-1 / w.rates[0], 546.9)
        self.near(w.steady_c[0], 214.4)
        self.near(w.steady_c[1], 145.8)
        self.near(w.at(60.0)[0], 55.34)
        self.near(w.at(60.0)[1], 31.62)
        burst = 60 * BOARD.motor.dc_per_motor_amp
        for kwargs, seconds in (({}, 135.1), ({"winding_c": 80.0, "case_c": 70.0}, 42.08), ({"air_c": 40.0}, 99.11)):
            got = warming(BOARD.motor, BOARD.heat, burst, shaft, 5.0, **kwargs).time_to_s(120.0)
            self.near(got, seconds)

    def test_f5_to_f8_and_f11_continuous(self):
        def held(v, heat=BOARD.heat, air=25.0):
            return heat.continuous_current_a(BOARD.motor, 2.4 * v / 0.045, v, air)

        from dataclasses import replace

        for v, amps in ((2.0, 30.12), (5.0, 30.87), (10.0, 29.76)):
            self.near(held(v), amps)
        self.near(held(5.0, air=40.0), 27.97)
        self.near(held(5.0, replace(BOARD.heat, case_limit_c=80.0)), 29.36)
        self.near(BOARD.heat.runaway_current_a(BOARD.motor, 0.0), 52.40)
        self.near(BOARD.heat.runaway_current_a(BOARD.motor, 5.0), 63.48)
        wet = replace(BOARD.heat, fixed_w_per_k=12.0)
        self.near(wet.continuous_current_a(BOARD.motor, 266.7, 0.0, 15.0), 51.26)
        self.near(KART.heat.continuous_current_a(KART.motor, 5.0 * 8 / 0.14, 8.0), 64.27)
        self.near(BIKE.heat.continuous_current_a(BIKE.motor, 4 / 0.34, 4.0), 27.34)

    def test_runaway_has_no_steady_state_and_iron_alone_can_overheat(self):
        hot = warming(BOARD.motor, BOARD.heat, 70.0, 100.0, 5.0)
        self.assertGreater(hot.rates[0], 0.0)
        self.assertTrue(math.isfinite(hot.time_to_s(120.0)))
        self.assertEqual(float(BOARD.heat.continuous_current_a(BOARD.motor, 1e5, 0.0)), 0.0)
        self.assertIsInstance(BOARD.heat, MotorHeat)


class ReductionPoints(Case):
    belt = reduction.Stage(kind="belt", ratio=3.0, efficiency=0.97, drag_nm=0.03)
    chain = reduction.Stage(kind="chain", ratio=4.0, efficiency=0.96, drag_nm=0.05)

    def test_two_stages_driving_and_braking(self):
        both = reduction.combine([self.belt, self.chain])
        self.near(both.ratio, 12.00)
        states = reduction.walk([self.belt, self.chain], 3000 * math.tau / 60, 3.0)
        self.near(states[1].torque_nm, 8.643)
        self.near(states[2].torque_nm, 33.00)
        self.near(both.output_torque_nm(3.0), 33.00)
        self.near(33.00 / 36.0, 0.9166)
        back = reduction.walk([self.belt, self.chain], 3000 * math.tau / 60, -3.0)
        self.near(back[1].torque_nm, -9.371)
        self.near(back[2].torque_nm, -39.25)
        self.near(both.output_torque_nm(-3.0), -39.25)
        self.near(both.output_torque_nm(-0.08), -1.626)
        for torque in (-5.0, -0.2, 0.4, 7.0):
            self.assertAlmostEqual(float(both.output_torque_nm(both.shaft_torque_nm(torque))), torque, places=9)

    def test_freewheel_passes_no_braking(self):
        last = reduction.combine([reduction.Stage(kind="belt", ratio=3.0), replace(self.chain, one_way=True)])
        self.assertEqual(float(last.output_torque_nm(-3.0)), 0.0)
        # before the chain: the chain still turns and drags, check point a3
        first = reduction.combine([reduction.Stage(kind="belt", ratio=3.0, one_way=True), self.chain])
        self.assertAlmostEqual(float(first.output_torque_nm(-3.0)), -0.2083, places=4)

    def test_few_teeth_in_mesh(self):
        for teeth, share in ((7, 1.0), (6, 1.0), (5, 0.8), (3, 0.4), (0, 0.0)):
            self.assertAlmostEqual(float(reduction.belt_teeth_factor(teeth)), share)


if __name__ == "__main__":
    unittest.main()
