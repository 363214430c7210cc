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
    slip_nm: float = np.inf  # output torque at which a roller slips on its tyre, driving
    slip_back_nm: float = np.inf  # likewise driven backwards

    def __post_init__(self) -> None:
        require("ratio", self.ratio, self.ratio > 0, "above 0")
        require("efficiency", self.efficiency, 0 < self.efficiency <= 1, "above 0, up to 1")
        require("drag_nm", self.drag_nm, self.drag_nm >= 0, "0 N m or more")
        require("creep", self.creep, 0 <= self.creep < 0.5, "0 up to 0.5")
        for name in ("slip_nm", "slip_back_nm"):
            value = getattr(self, name)
            require(name, value, value > 0, "above 0 N m")


@record(frozen=True, slots=True, kw_only=True)
class Reduction:
    """All stages seen from one motor's shaft.  What a belt or chain is rated for is not here: nothing in the drive knows it.

    One stage gives T_out = i eta (T - d) driving and i (T - d)/eta driven backwards, the lesser of the two lines.  A chain of them is
    the least of n + 1 lines: all stages driving, all driven backwards, and between them the first few driving and the rest held back by
    their own drag.  `ratio` counts turns including creep when driving; `torque_ratio` is without creep (it costs speed only).
    """

    ratio: Num = 1.0
    torque_ratio: Num = 1.0
    efficiency: Num = 1.0
    drag_nm: Num = 0.0  # at the motor shaft when driving
    drag_back_nm: Num = 0.0
    between_slope: tuple[Num, ...] = ()  # output torque per shaft torque of the lines between, one fewer than there are stages
    between_nm: tuple[Num, ...] = ()  # shaft torque at which each is 0
    one_way: Num = 0.0  # 1 with a freewheel anywhere, as a number so that designs stack
    floor_nm: Num = 0.0  # behind a freewheel: output torque when it lets go, the drag of the stages after it; at or below 0
    slip_nm: Num = np.inf  # output torque of one motor at which a roller slips, driving
    slip_back_nm: Num = np.inf

    def lines(self) -> tuple[tuple[Num, Num], ...]:
        """(slope, shaft torque at 0) of each line."""
        drive = (self.torque_ratio * self.efficiency, self.drag_nm)
        back = (self.torque_ratio / self.efficiency, self.drag_back_nm)
        return (drive, *zip(self.between_slope, self.between_nm, strict=True), back)

    def output_torque_nm(self, shaft_torque_nm: Num) -> Num:
        """Torque at the output for one motor's shaft torque [N m], slip left out; a freewheel lets go of what would hold back."""
        least: Num = np.inf
        for slope, offset in self.lines():
            least = np.minimum(least, slope * (shaft_torque_nm - offset))
        return np.where(np.asarray(self.one_way) > 0, np.maximum(least, self.floor_nm), least)

    def shaft_torque_nm(self, output_torque_nm: Num) -> Num:
        """Shaft torque of one motor for an output torque [N m]: the inverse of `output_torque_nm` while nothing slips or lets go."""
        most: Num = -np.inf
        for slope, offset in self.lines():
            most = np.maximum(most, output_torque_nm / slope + offset)
        return most


def combine(stages: Sequence[Stage], *, motors: int = 1) -> Reduction:
    """Stages in order from the motor as one Reduction; a shared stage's drag and slip are divided among the motors.

    Line j (the first j of n stages driving): slope = product of i_k eta_k for k <= j and i_k/eta_k after; its drag carried to the
    motor's shaft is the sum of d_k over the product of the slopes before it.
    """
    n = len(stages)
    lines = []
    for driving in range(n, -1, -1):
        slope, offset = 1.0, 0.0
        for k, stage in enumerate(stages):
            offset += stage.drag_nm / (motors if stage.shared else 1) / slope
            slope *= stage.ratio * (stage.efficiency if k < driving else 1.0 / stage.efficiency)
        lines.append((slope, offset))
    ratio = torque_ratio = efficiency = 1.0
    slip = slip_back = np.inf
    floor = 0.0
    for stage in stages:
        share = motors if stage.shared else 1
        torque_ratio *= stage.ratio
        ratio *= stage.ratio / (1.0 - stage.creep)
        efficiency *= stage.efficiency
        held = (floor - stage.drag_nm / share) * stage.ratio / stage.efficiency
        floor = 0.0 if stage.one_way else held
        # what slips before this stage arrives behind it with its losses: driving less of it, driven backwards more
        slip = min((slip - stage.drag_nm / share) * stage.ratio * stage.efficiency, stage.slip_nm / share)
        slip_back = min((slip_back + stage.drag_nm / share) * stage.ratio / stage.efficiency, stage.slip_back_nm / share)
    return Reduction(
        ratio=ratio,
        torque_ratio=torque_ratio,
        efficiency=efficiency,
        drag_nm=lines[0][1],
        drag_back_nm=lines[-1][1],
        between_slope=tuple(line[0] for line in lines[1:-1]),
        between_nm=tuple(line[1] for line in lines[1:-1]),
        one_way=float(any(stage.one_way for stage in stages)),
        floor_nm=min(floor, 0.0),
        slip_nm=slip,
        slip_back_nm=slip_back,
    )


@record(frozen=True, slots=True, kw_only=True)
class ShaftState:
    """One shaft of the train: speed [rad/s], torque handed on [N m] (per motor), loss of the stage before it [W]."""

    name: str
    speed_rad_s: float
    torque_nm: float
    loss_w: float


def walk(stages: Sequence[Stage], speed_rad_s: float, shaft_torque_nm: float, *, motors: int = 1) -> list[ShaftState]:
    """Every shaft from the motor to the output at one motor speed and torque; at standstill drag holds and does not push.

    After a shared stage the torque is still per motor; multiply by the motors for the shaft as a whole.
    """
    states = [ShaftState(name="motor", speed_rad_s=speed_rad_s, torque_nm=shaft_torque_nm, loss_w=0.0)]
    speed, torque = speed_rad_s, shaft_torque_nm
    for k, stage in enumerate(stages):
        drag = stage.drag_nm / (motors if stage.shared else 1)
        meshed = torque - drag if speed > 0.0 else _held(torque, drag)
        out = stage.ratio * (meshed * stage.efficiency if meshed >= 0 else meshed / stage.efficiency)
        # driving, a roller turns faster than the tyre it drives; braking, slower
        slowing = stage.ratio / (1.0 - stage.creep) if meshed >= 0 else stage.ratio * (1.0 - stage.creep)
        out_speed = speed / slowing
        if stage.one_way and out < 0:
            out = 0.0
        loss = torque * speed - out * out_speed
        last = k == len(stages) - 1
        states.append(ShaftState(name="output" if last else f"jackshaft {k + 1}", speed_rad_s=out_speed, torque_nm=out, loss_w=loss))
        speed, torque = out_speed, out
    return states


def coast(stages: Sequence[Stage], wheel_rad_s: float, *, motors: int = 1) -> list[ShaftState]:
    """Every shaft while a freewheel lets go: what lies before it stands, the stages after it turn and drag; torques per motor."""
    last = max(k for k, stage in enumerate(stages) if stage.one_way)
    speeds, speed = [0.0] * (len(stages) + 1), wheel_rad_s
    for k in range(len(stages), last, -1):
        speeds[k] = speed
        # driven backwards by its own drag, a roller turns slower than its tyre
        speed *= stages[k - 1].ratio * (1.0 - stages[k - 1].creep)
    states = [ShaftState(name="motor", speed_rad_s=0.0, torque_nm=0.0, loss_w=0.0)]
    torque = 0.0
    for k, stage in enumerate(stages, 1):
        turns = k > last + 1 and speeds[k] > 0.0
        out = (torque - stage.drag_nm / (motors if stage.shared else 1)) * stage.ratio / stage.efficiency if turns else 0.0
        loss = torque * speeds[k - 1] - out * speeds[k] if turns else 0.0
        name = "output" if k == len(stages) else f"jackshaft {k}"
        states.append(ShaftState(name=name, speed_rad_s=speeds[k], torque_nm=out, loss_w=loss))
        torque = out
    return states


def _held(torque_nm: float, drag_nm: float) -> float:
    """What is left of a torque at standstill: friction takes up to its own and never turns it round."""
    return max(torque_nm - drag_nm, 0.0) if torque_nm >= 0.0 else min(torque_nm + drag_nm, 0.0)


def roller_grip_n(grip: Num, press_n: Num, arm_rad: Num = np.inf, *, braking: bool = False) -> Num:
    """Force [N] at which a roller slips on its tyre.

    arm_rad: angle at the contact between the line to the arm's pivot and the wheel's normal; inf for a press that is fixed.
    Source: N = N0 + F/tan beta, so F = mu N0/(1 - mu/tan beta), without end where mu >= tan beta; braking pushes the arm away.
    """
    pull = np.where(np.isfinite(arm_rad), grip / np.tan(np.where(np.isfinite(arm_rad), arm_rad, 1.0)), 0.0)
    if braking:
        return grip * press_n / (1.0 + pull)
    room = 1.0 - pull
    return np.where(room > 0.0, grip * press_n / np.where(room > 0.0, room, 1.0), np.inf)


def roller_losses(rolling: float, press_n: float, radius_m: float, arm_rad: float = np.inf) -> tuple[float, float]:
    """(efficiency of the contact without creep [-], drag at the roller's shaft [N m]) from the rolling loss c_r N of the press.

    Source: c_r (N0 + F/tan beta) v: the part that is always there is a drag, the part that grows with the force an efficiency.
    """
    pulled = rolling / float(np.tan(arm_rad)) if np.isfinite(arm_rad) else 0.0
    return 1.0 / (1.0 + pulled), rolling * press_n * radius_m


def belt_teeth_factor(teeth_in_mesh: Num) -> Num:
    """Share of a belt's capacity left with few teeth in mesh: 1 from six, else 1 - 0.2 (6 - z).  Source: ISO 5295."""
    return np.clip(1.0 - 0.2 * (6.0 - np.asarray(teeth_in_mesh, dtype=float)), 0.0, 1.0)


def belt_capacity_n(tension_n_per_mm: Num, width_mm: Num) -> Num:
    """Working pull of a belt [N]: Ta b_ref (b/b_ref)^1.14, b_ref 25.4 mm; narrow belts carry less per mm (ISO 5295)."""
    return tension_n_per_mm * 25.4 * (width_mm / 25.4) ** 1.14
