"""The three invented worked designs that the check points use."""

from wattagon.physics.controller import Controller
from wattagon.physics.motor import Motor
from wattagon.physics.pack import Pack
from wattagon.physics.powertrain import Powertrain
from wattagon.physics.reduction import Reduction
from wattagon.physics.road import Road
from wattagon.physics.thermal import MotorHeat

BOARD = Powertrain(
    motor=Motor(kv_rpm_per_v=190.0, resistance_ohm=0.052, inductance_h=36e-6, pole_pairs=7.0, no_load_a=0.55,
                no_load_slope_a_s=0.0011, rotor_inertia_kg_m2=2.5e-4),
    count=2.0,
    controller=Controller(
        motor_current_a=60.0, motor_current_continuous_a=40.0, battery_current_a=30.0, regen_motor_current_a=50.0,
        regen_battery_current_a=10.0, duty_max=0.95, erpm_start=95e3, erpm_end=100e3, cutback_start_v=32.0, cutback_end_v=30.0,
        bus_max_v=43.0, bridge_ohm=0.003, switching_v_per_v=0.0015, idle_w=2.0),
    pack=Pack(chemistry="nmc_power", series=10.0, parallel=4.0, cell_ah=4.0, cell_r0_ohm=0.013, cell_r1_ohm=0.006,
              wiring_ohm=0.005, continuous_a=80.0, burst_a=120.0),
    reduction=Reduction(ratio=2.4, torque_ratio=2.4, efficiency=0.95, torque_capacity_nm=5.0),
    heat=MotorHeat(winding_j_per_k=127.5, case_j_per_k=306.0, winding_to_case_k_per_w=0.45, case_area_m2=0.0209, film_still=12.0,
                   film_moving=13.8, air_share=0.6, mount_w_per_k=0.5, iron_in_winding=0.5, limit_c=120.0),
)
BOARD_ROAD = Road(mass_kg=90.0, rolling=0.015, drag_area_m2=0.50, wheel_radius_m=0.045, wheel_inertia_kg_m2=8e-4,
                  wheelbase_m=0.75, cm_behind_front_m=0.40, cm_height_m=1.0, grip=0.7)
KART = Powertrain(
    motor=Motor(kv_rpm_per_v=100.0, resistance_ohm=0.022, inductance_h=30e-6, pole_pairs=7.0, no_load_a=1.5,
                no_load_slope_a_s=0.004, rotor_inertia_kg_m2=2.4e-3),
    count=1.0,
    controller=Controller(
        motor_current_a=200.0, motor_current_continuous_a=130.0, battery_current_a=120.0, regen_motor_current_a=100.0,
        regen_battery_current_a=40.0, duty_max=0.95, erpm_start=95e3, erpm_end=100e3, cutback_start_v=54.4, cutback_end_v=51.2,
        bus_max_v=68.0, bridge_ohm=0.0012, switching_v_per_v=0.003, idle_w=4.0),
    pack=Pack(chemistry="lipo", series=16.0, parallel=2.0, cell_ah=10.0, cell_r0_ohm=0.0016, cell_r1_ohm=0.0007,
              wiring_ohm=0.004, continuous_a=200.0, burst_a=300.0),
    reduction=Reduction(ratio=5.0, torque_ratio=5.0, efficiency=0.93, torque_capacity_nm=40.0),
    heat=MotorHeat(winding_j_per_k=525.0, case_j_per_k=1260.0, winding_to_case_k_per_w=0.16, case_area_m2=0.037, film_still=12.0,
                   film_moving=12.6, air_share=0.4, mount_w_per_k=1.5, iron_in_winding=0.5, limit_c=120.0),
)
KART_ROAD = Road(mass_kg=170.0, rolling=0.020, drag_area_m2=0.60, wheel_radius_m=0.14, wheel_inertia_kg_m2=0.12,
                 wheelbase_m=1.05, cm_behind_front_m=0.63, cm_height_m=0.38, grip=1.0)
BIKE = Powertrain(
    motor=Motor(kv_rpm_per_v=9.5, resistance_ohm=0.13, inductance_h=300e-6, pole_pairs=23.0, no_load_a=0.45,
                no_load_slope_a_s=0.006),
    count=1.0,
    controller=Controller(
        motor_current_a=45.0, motor_current_continuous_a=35.0, battery_current_a=25.0, regen_motor_current_a=25.0,
        regen_battery_current_a=8.0, duty_max=0.95, erpm_start=50e3, erpm_end=60e3, cutback_start_v=44.8, cutback_end_v=42.0,
        bus_max_v=59.5, bridge_ohm=0.006, switching_v_per_v=0.002, idle_w=2.5),
    pack=Pack(chemistry="nmc_energy", series=14.0, parallel=4.0, cell_ah=3.4, cell_r0_ohm=0.038, cell_r1_ohm=0.016,
              wiring_ohm=0.008, continuous_a=28.0, burst_a=40.0),
    reduction=Reduction(torque_capacity_nm=150.0),
    heat=MotorHeat(winding_j_per_k=900.0, case_j_per_k=2160.0, winding_to_case_k_per_w=0.35, case_area_m2=0.11, film_still=10.0,
                   film_moving=8.0, air_share=0.8, mount_w_per_k=0.2, iron_in_winding=0.7, limit_c=120.0),
)
BIKE_ROAD = Road(mass_kg=110.0, rolling=0.006, drag_area_m2=0.50, wheel_radius_m=0.34, wheel_inertia_kg_m2=0.25,
                 wheelbase_m=1.08, cm_behind_front_m=0.62, cm_height_m=1.05, grip=0.7)
DESIGNS = {"board": (BOARD, BOARD_ROAD), "kart": (KART, KART_ROAD), "bike": (BIKE, BIKE_ROAD)}
