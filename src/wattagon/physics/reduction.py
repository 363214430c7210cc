"""Reduction: stages in series, each a ratio, a mesh efficiency and a drag that does not depend on the load.

Source: T_out = i eta (T_in - T_d) when driving, i (T_in - T_d)/eta when the mesh is driven backwards.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from wattagon.physics.arrays import Num, require
from wattagon.record import record

STAGE_KINDS = ("belt", "chain", "gear", "friction", "direct")


@record(frozen=True, slots=True, kw_only=True)
class Stage:
    """One stage; `shared` when all motors drive it together, so that its drag counts once."""

    kind: str
    ratio: float  # input turns per output turn; > 0
    efficiency: float = 0.97  # of the mesh, load-dependent part
    drag_nm: float = 0.0  # at the input shaft, load-independent
    creep: float = 0.0  # share of the speed lost by a friction roller
    one_way: bool = False  # a freewheel at the output
    shared: bool = False

    def __post_init__(self) -> None:
        require("ratio", self.ratio, self.ratio > 0, "above 0")
        require("efficiency", self.efficiency, 0 < self.efficiency <= 1, "above 0, up to 1")
        require("drag_nm", self.drag_nm, self.drag_nm >= 0, "0 N m or more")
        require("creep", self.creep, 0 <= self.creep < 0.5, "0 up to 0.5")


@record(frozen=True, slots=True, kw_only=True)
class Reduction:
    """All stages seen from one motor's shaft: T_out = i eta (T - d) driving, i (T - d_back)/eta driven backwards.

    `ratio` counts turns including creep when driving; `torque_ratio` is without creep (a roller's creep costs speed only).
    """

    ratio: Num = 1.0
    torque_ratio: Num = 1.0
    efficiency: Num = 1.0
    drag_nm: Num = 0.0  # at the motor shaft when driving
    drag_back_nm: Num = 0.0
    one_way: Num = 0.0  # 1 with a freewheel anywhere, as a number so that designs stack
    torque_capacity_nm: Num = np.inf  # at the motor shaft: what the weakest stage carries

    def output_torque_nm(self, shaft_torque_nm: Num) -> Num:
        """Torque at the output for one motor's shaft torque [N m]; a freewheel passes no negative torque."""
        drive = self.torque_ratio * self.efficiency * (shaft_torque_nm - self.drag_nm)
        back = self.torque_ratio / self.efficiency * (shaft_torque_nm - self.drag_back_nm)
        # drag_back <= drag, so at most one of the two is left; between the drags the mesh carries next to nothing
        return np.maximum(drive, 0.0) + (1.0 - self.one_way) * np.minimum(back, 0.0)

    def shaft_torque_nm(self, output_torque_nm: Num) -> Num:
        """Shaft torque of one motor for an output torque [N m]: the inverse of `output_torque_nm`."""
        drive = output_torque_nm / (self.torque_ratio * self.efficiency) + self.drag_nm
        back = output_torque_nm * self.efficiency / self.torque_ratio + self.drag_back_nm
        return np.where(np.asarray(output_torque_nm) >= 0, drive, back)


def combine(stages: Sequence[Stage], *, motors: int = 1, torque_capacity_nm: float = np.inf) -> Reduction:
    """Stages in order from the motor as one Reduction.

    Drag of stage k, carried to the motor shaft: d_k/(product of earlier i eta) driving, d_k (product of earlier eta)/(i ...)
    backwards; a shared stage's drag is divided among the motors.
    """
    ratio = torque_ratio = efficiency = 1.0
    drag = drag_back = 0.0
    for stage in stages:
        share = stage.drag_nm / (motors if stage.shared else 1)
        drag += share / (torque_ratio * efficiency)
        drag_back += share * efficiency / torque_ratio
        torque_ratio *= stage.ratio
        ratio *= stage.ratio / (1.0 - stage.creep)
        efficiency *= stage.efficiency
    return Reduction(
        ratio=ratio,
        torque_ratio=torque_ratio,
        efficiency=efficiency,
        drag_nm=drag,
        drag_back_nm=drag_back,
        one_way=float(any(stage.one_way for stage in stages)),
        torque_capacity_nm=torque_capacity_nm,
    )


@record(frozen=True, slots=True, kw_only=True)
class ShaftState:
    """One shaft of the train: speed [rad/s], torque handed on [N m] (per motor), loss of the stage before it [W]."""

    name: str
    speed_rad_s: float
    torque_nm: float
    loss_w: float


def walk(stages: Sequence[Stage], speed_rad_s: float, shaft_torque_nm: float, *, motors: int = 1) -> list[ShaftState]:
    """Every shaft from the motor to the output at one motor speed and torque.

    After a shared stage the torque is still per motor; multiply by the motors for the shaft as a whole.
    """
    states = [ShaftState(name="motor", speed_rad_s=speed_rad_s, torque_nm=shaft_torque_nm, loss_w=0.0)]
    speed, torque = speed_rad_s, shaft_torque_nm
    for k, stage in enumerate(stages):
        meshed = torque - stage.drag_nm / (motors if stage.shared else 1)
        out = stage.ratio * (meshed * stage.efficiency if meshed >= 0 else meshed / stage.efficiency)
        # driving, a roller turns faster than the tyre it drives; braking, slower
        slowing = stage.ratio / (1.0 - stage.creep) if meshed >= 0 else stage.ratio * (1.0 - stage.creep)
        out_speed = speed / slowing
        if stage.one_way and out < 0:
            out = 0.0
        loss = torque * speed - out * out_speed
        last = k == len(stages) - 1
        states.append(
            ShaftState(name="output" if last else f"jackshaft {k + 1}", speed_rad_s=out_speed, torque_nm=out, loss_w=loss)
        )
        speed, torque = out_speed, out
    return states


def belt_teeth_factor(teeth_in_mesh: Num) -> Num:
    """Share of a belt's capacity left with few teeth in mesh: 1 from six, else 1 - 0.2 (6 - z).  Source: ISO 5295."""
    return np.clip(1.0 - 0.2 * (6.0 - np.asarray(teeth_in_mesh, dtype=float)), 0.0, 1.0)


def belt_capacity_n(tension_n_per_mm: Num, width_mm: Num) -> Num:
    """Working pull of a belt [N]: Ta b_ref (b/b_ref)^1.14, b_ref 25.4 mm; narrow belts carry less per mm (ISO 5295)."""
    return tension_n_per_mm * 25.4 * (width_mm / 25.4) ** 1.14
