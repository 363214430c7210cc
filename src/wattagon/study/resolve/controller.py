"""A controller with its settings."""

from __future__ import annotations

import math
from dataclasses import replace

from wattagon.design.parts import ControllerPart
from wattagon.design.quantity import Known
from wattagon.design.tree import Control, ControllerChoice, Mode
from wattagon.physics.controller import Controller
from wattagon.physics.load import Load
from wattagon.physics.motor import Motor
from wattagon.physics.pack import Pack
from wattagon.physics.reduction import Reduction
from wattagon.study.resolve.pack import cutback_v
from wattagon.study.resolve.reader import Reader

MODE_TAPER = 0.97  # of a speed that is set, where the pull begins to be taken back


def controller_of(read: Reader, base: str, choice: ControllerChoice, part: ControllerPart, pack: Pack) -> Controller:
    def need(name: str, default: float, dimension: str = "number") -> float:
        return read.need(f"{base}.controller", choice, part, name, default, dimension)

    begin, finish, assumed = cutback_v(choice, pack)
    known = Known.ASSUMED if assumed else Known.STATED
    read.keep(f"{base}.controller.cutback_start_v", begin, known, "voltage")
    read.keep(f"{base}.controller.cutback_end_v", finish, known, "voltage")
    continuous = read.part(f"{base}.controller", choice, part, "motor_current_continuous_a", None, "current")
    erpm = read.part(f"{base}.controller", choice, part, "erpm_max", None, "rpm")
    return Controller(
        motor_current_a=read.keep(f"{base}.controller.motor_current_a", choice.motor_current_a, Known.STATED, "current"),
        motor_current_continuous_a=continuous if continuous is not None else math.inf,
        battery_current_a=read.keep(f"{base}.controller.pack_current_a", choice.pack_current_a, Known.STATED, "current"),
        # what is not stated brakes nothing here; a finding says that it was not checked
        regen_motor_current_a=choice.regen_motor_current_a or 0.0,
        regen_battery_current_a=choice.regen_pack_current_a or 0.0,
        duty_max=need("duty_max", 0.95, "share"),
        erpm_start=0.95 * erpm if erpm is not None else math.inf,
        erpm_end=erpm if erpm is not None else math.inf,
        cutback_start_v=begin,
        cutback_end_v=finish,
        bus_max_v=float(pack.full_v),
        bridge_ohm=need("bridge_ohm", 0.003, "resistance"),
        switching_v_per_v=need("switching_v_per_v", 0.002, "share"),
        idle_w=need("idle_w", 2.0, "power"),
    )


def as_set(read: Reader, base: str, controller: Controller, control: Control, pack: Pack) -> Controller:
    """With what else is set in it: a soft end of duty, and a limit of power as the pack amps that it is at half charge."""
    changes = {}
    if control.duty_soft is not None:
        changes["duty_soft"] = read.keep(f"{base}.control.duty_soft", control.duty_soft, Known.STATED, "share")
    if control.watts is not None:
        watts = read.keep(f"{base}.control.watts", control.watts, Known.STATED, "power")
        changes["battery_current_a"] = min(float(controller.battery_current_a), watts / float(pack.emf_v(0.5)))
    return replace(controller, **changes) if changes else controller


def held_back(controller: Controller, mode: Mode, motor: Motor, reduction: Reduction, load: Load) -> Controller:
    """The controller in a mode: less current where the mode says so, and its speed limit as the electrical speed that belongs to it."""
    changes = {}
    if mode.motor_current_a is not None:
        changes["motor_current_a"] = min(float(controller.motor_current_a), mode.motor_current_a)
    if mode.pack_current_a is not None:
        changes["battery_current_a"] = min(float(controller.battery_current_a), mode.pack_current_a)
    if mode.top_speed is not None and not motor.brushed:
        shaft = float(reduction.ratio * load.shaft_speed_rad_s(mode.top_speed, 0.0))
        erpm = shaft * 60.0 / math.tau * float(motor.pole_pairs)
        if erpm < float(controller.erpm_end):
            changes |= {"erpm_start": MODE_TAPER * erpm, "erpm_end": erpm}
    return replace(controller, **changes)
