"""What a design leads one to expect of its logs: turns for a speed, volts, amps, and how each is bound to the other."""

from __future__ import annotations

import math

from wattagon.design.catalogue import Catalogue
from wattagon.design.tree import Design
from wattagon.physics.pack import rest_curve
from wattagon.record import record
from wattagon.study.resolve import Resolved, resolve

TOP_SHARE = 1.25  # of the speed that a full pack could ever turn the motor to


@record(frozen=True, slots=True, kw_only=True)
class Expect:
    """Of one variant, in SI."""

    pole_pairs: float
    per_m: float  # shaft radians for a metre of way; nan where the two are not bound to each other (a boat)
    full_v: float
    empty_v: float
    most_speed: float  # m/s that no log can reach, but downhill
    motors: float
    dc_per_motor_amp: float
    rpm_per_v: float

    def shaft_rad_s(self, erpm: float) -> float:
        """Shaft speed of an electrical one [rad/s]."""
        return erpm / max(self.pole_pairs, 1.0) * 2.0 * math.pi / 60.0


def expect_of(resolved: Resolved) -> Expect:
    """Of a resolved variant."""
    train, load = resolved.train, resolved.load
    curve = rest_curve(train.pack.chemistry)
    series = float(train.pack.series)
    per_m = math.nan
    if load.kinematic:
        per_m = float(train.reduction.ratio) * float(load.shaft_speed_rad_s(1.0, 0.0))
    kv = 60.0 / (2.0 * math.pi * float(train.motor.torque_constant_nm_per_a))
    full = series * float(curve[-1])
    most = kv * full * 2.0 * math.pi / 60.0 / per_m if math.isfinite(per_m) else 12.0
    return Expect(
        pole_pairs=1.0 if train.motor.brushed else float(train.motor.pole_pairs),
        per_m=per_m,
        full_v=full,
        empty_v=series * float(curve[0]),
        most_speed=TOP_SHARE * most,
        motors=float(train.count),
        dc_per_motor_amp=float(train.motor.dc_per_motor_amp),
        rpm_per_v=kv,
    )


def expected(design: Design, stock: Catalogue, variant_id: str | None = None) -> Expect:
    """Of a design's variant.  Raises InputError and PathError as `resolve`."""
    return expect_of(resolve(design, stock, variant_id))
