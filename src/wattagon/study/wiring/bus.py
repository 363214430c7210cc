"""The bus: pre-charge and its spark, long leads, ripple, what lifts it, and a resistor as a brake."""

from __future__ import annotations

import math
from collections.abc import Sequence

from wattagon.design.catalogue import Catalogue
from wattagon.design.parts import ConnectorPart, ResistorPart
from wattagon.design.tree import Bank, Piece, Wiring
from wattagon.physics.ride.names import Col
from wattagon.physics.wiring import board as boards
from wattagon.physics.wiring import brake as brakes
from wattagon.physics.wiring import bus as buses
from wattagon.physics.wiring import precharge as pre
from wattagon.physics.wiring.copper import Cable
from wattagon.record import record
from wattagon.study.findings.status import Status
from wattagon.study.pack.study import PackStudy
from wattagon.study.resolve import Resolved
from wattagon.study.ride.profiles import Profile
from wattagon.study.wiring.path import bank_of

NEEDED_CELLS, NEEDED_J = 12, 0.5
AIM_S = 0.5
TRAVEL_S = 0.03  # of a hand that pushes a plug
CLOSING = ("key", "switch", "contactor", "joint")
STOP_EVERY_S = 30.0
BRAKE_TO_M_S = 1.0


@record(frozen=True, slots=True, kw_only=True)
class Precharge:
    """How the bank is filled before the main path closes; `part` None where nothing is told."""

    part: ResistorPart | None
    by: str
    needed: bool
    farad: float
    assumed: bool  # the bank's capacity
    bank_j: float
    ohm: float  # told, or what would do it in half a second
    seconds: float  # to 95 %
    joule: float
    peak_w: float
    settles_share: float  # of the pack's volts, with what stands on it
    energy_share: float  # of what the resistor bears in a pulse
    spark_j: float  # that the closing contact sees, as it is told
    spark_a: float
    touch_share: float  # charged by a first-touch plug; nan without
    bleeds_s: float  # until 5 V; inf without a bleeder
    volts_ok: bool

    @property
    def status(self) -> Status:
        if self.part is None:
            if math.isfinite(self.touch_share):
                return Status.CLEAR if self.touch_share >= 0.9 else Status.TIGHT
            return Status.OVER if self.needed else Status.CLEAR
        if self.settles_share < pre.REACHED or self.energy_share > 1.0 or not self.volts_ok:
            return Status.OVER
        return Status.CLEAR if self.energy_share <= 0.5 else Status.TIGHT


def precharged(wiring: Wiring, resolved: Resolved, pack: PackStudy, stock: Catalogue, loop_ohm: float, henry: float) -> Precharge:
    """As it is told; without a resistor or a first-touch plug the whole bank sparks."""
    motors, volts = round(float(resolved.train.count)), pack.volts.charged
    each, _, assumed = bank_of(wiring, pack.groups)
    farad, bank = motors * each, wiring.bank or Bank()
    joule = pre.bank_j(volts, farad)
    part = stock.get(ResistorPart, wiring.precharge) if wiring.precharge else None
    ohm = part.ohm if part is not None else pre.ohm_for(wiring.precharge_time.value if wiring.precharge_time is not None else AIM_S, farad)
    bleeder = bank.bleeder.value if bank.bleeder is not None else math.inf
    standing = bank.standing.value if bank.standing is not None else 0.0
    touch = next((one for one in (_touch(p, stock) for p in wiring.pieces) if one is not None), None)
    peak_a, _, _ = pre.inrush(volts, max(loop_ohm, 1e-3), max(henry, 1e-8), farad)
    spark, spark_a, touched = joule, peak_a, math.nan
    if part is not None:
        spark, spark_a = pre.bank_j((1.0 - pre.REACHED) * volts, farad), (1.0 - pre.REACHED) * volts / max(loop_ohm, 1e-3)
    elif touch is not None:
        touched, spark_a = pre.first_touch(volts, touch, TRAVEL_S, farad, max(loop_ohm, 1e-3))
        spark = pre.bank_j((1.0 - touched) * volts, farad)
    heat = pre.heat_j(volts, farad)
    return Precharge(
        part=part,
        by=wiring.precharge_by,
        needed=pack.groups > NEEDED_CELLS or joule > NEEDED_J,
        farad=farad,
        assumed=assumed,
        bank_j=joule,
        ohm=ohm,
        seconds=pre.seconds_for(ohm, farad),
        joule=heat,
        peak_w=volts**2 / ohm,
        settles_share=pre.settles_v(volts, ohm, standing, bleeder_ohm=bleeder) / volts,
        energy_share=heat / (pre.PULSE_J_PER_W * part.watts) if part is not None else math.nan,
        spark_j=spark,
        spark_a=spark_a,
        touch_share=touched,
        bleeds_s=pre.bleeds_s(bleeder, farad, volts) if math.isfinite(bleeder) else math.inf,
        volts_ok=part is None or part.volts is None or part.volts >= volts,
    )


def _touch(piece: Piece, stock: Catalogue) -> float | None:
    """Ohms of a plug that closes the main path with a first touch."""
    if piece.branch not in ("pack", "brick") or piece.kind not in CLOSING:
        return None
    part = stock.find(piece.part) if piece.part else None
    if isinstance(part, ConnectorPart) and part.touch_ohm is not None:
        return part.touch_ohm
    return 5.6 if piece.spark == "touch" else None


@record(frozen=True, slots=True, kw_only=True)
class Bus:
    """What the bus meets beside the pack's volts."""

    henry: float
    cut_a: float
    cut_v: float  # highest when the bridge stops drawing at once
    rating_v: float  # lowest of controller and capacitors; nan unknown
    ripple_a: float  # of each bank, at its worst duty
    ripple_rated_a: float
    resonance_hz: float
    spun_v: float  # by the motor's own volts at the fastest of the rides, without its bridge
    opens_s: float  # until the rating, when the pack opens while braking; inf without braking
    regen_w: float
    farad_wanted: float  # that keeps the overshoot under the rating


def bus_of(wiring: Wiring, resolved: Resolved, pack: PackStudy, profiles: Sequence[Profile], lead: Cable, route_m: float) -> Bus:
    """Leads as long as their route; plus and minus side by side unless told apart."""
    train = resolved.train
    spacing = max(wiring.apart.value if wiring.apart is not None else 0.0, lead.outer_m)
    henry = buses.pair_henry_m(spacing, lead.strand_m) * route_m
    each, esr, _ = bank_of(wiring, pack.groups)
    motors = round(float(train.count))
    farad, esr = motors * each, esr / motors
    ratings = [rung.volts for rung in pack.rungs if rung.code in ("controller", "capacitors") and math.isfinite(rung.volts)]
    rating = min(ratings, default=math.nan)
    cut_a = min(pack.asked_a, float(train.pack.burst_a)) if math.isfinite(float(train.pack.burst_a)) else pack.asked_a
    emf = min(float(train.pack.emf_v(1.0)), pack.volts.charged)
    cut = buses.cut_peak_v(emf, cut_a, float(train.pack.burst_ohm), max(henry, 1e-9), farad, esr)
    amplitude = float(train.controller.motor_current_a) * train.motor.dc_per_motor_amp * 2.0 / math.sqrt(3.0)
    ripple = buses.block_ripple_a(float(train.controller.motor_current_a), 0.5) if train.motor.brushed else buses.WORST_RIPPLE * amplitude
    fastest = max((float(p.ride.run.column(Col.MOTOR_RAD_S).max(initial=0.0)) for p in profiles), default=0.0)
    k = 60.0 / (math.tau * float(train.motor.kv_rpm_per_v))
    regen = max((p.charge_a for p in profiles), default=0.0)
    watts = regen * pack.volts.full
    bank = wiring.bank
    rated = bank.ripple.value if bank is not None and bank.ripple is not None else math.nan
    allowance = 0.9 * rating - emf - cut_a * esr if math.isfinite(rating) else math.nan
    return Bus(
        henry=henry,
        cut_a=cut_a,
        cut_v=cut,
        rating_v=rating,
        ripple_a=ripple,
        ripple_rated_a=rated,
        resonance_hz=buses.resonance_hz(max(henry, 1e-9), farad),
        spun_v=boards.idle_bridge_v(k, fastest),
        opens_s=boards.lifted_s(pack.volts.full, rating, farad, watts) if watts > 1.0 and rating > pack.volts.full else math.inf,
        regen_w=watts,
        farad_wanted=buses.farad_for(henry, cut_a, allowance) if allowance > 0.1 else math.inf,
    )


@record(frozen=True, slots=True, kw_only=True)
class ResistorBrake:
    """A resistor across each motor: torque over speed, heat of a stop, its leads, its interlock."""

    part: ResistorPart
    speeds_m_s: tuple[float, ...]
    torque_nm: tuple[float, ...]  # at each motor
    force_n: tuple[float, ...]  # at the ground, of all motors
    from_m_s: float
    stop: brakes.Stop
    pulse_k: float
    repeated_c: float
    peak_a: float
    interlock: str

    @property
    def status(self) -> Status:
        if self.interlock == "no" or self.repeated_c > self.part.limit_c:
            return Status.OVER
        if not self.interlock:
            return Status.NOT_CHECKED
        return Status.TIGHT if self.repeated_c > 0.8 * self.part.limit_c else Status.CLEAR


def resistor_brake(wiring: Wiring, resolved: Resolved, stock: Catalogue, from_m_s: float, air_c: float) -> ResistorBrake | None:
    """Of a told resistor; None without one, or on water."""
    if not wiring.brake or not resolved.load.kinematic:
        return None
    part, train, road = stock.get(ResistorPart, wiring.brake), resolved.train, resolved.road
    motor, motors = train.motor, float(train.count)
    k = 60.0 / (math.tau * float(motor.kv_rpm_per_v))
    ratio, radius = float(train.reduction.ratio), float(road.wheel_radius_m)
    ohm, pairs, henry = float(motor.resistance_ohm), float(motor.pole_pairs), float(motor.inductance_h)
    speeds = [from_m_s * step / 32.0 for step in range(33)]
    at = [brakes.braked(k, v / radius * ratio, ohm, part.ohm, pairs, henry) for v in speeds]
    mass = float(resolved.load.mass_kg)
    done = brakes.stop(mass, max(from_m_s, BRAKE_TO_M_S + 0.1), BRAKE_TO_M_S, k, ratio, radius, ohm, part.ohm, pairs, henry, round(motors))
    rise = brakes.pulse_k(done.resistor_j / motors, part.mass_kg, part.heat_j_kgk)
    return ResistorBrake(
        part=part,
        speeds_m_s=tuple(speeds),
        torque_nm=tuple(one.torque_nm for one in at),
        force_n=tuple(motors * one.torque_nm * ratio / radius for one in at),
        from_m_s=from_m_s,
        stop=done,
        pulse_k=rise,
        repeated_c=brakes.repeated_c(rise, STOP_EVERY_S, part.mass_kg, part.heat_j_kgk, part.to_air_k_w, air_c),
        peak_a=max(one.amps for one in at),
        interlock=wiring.interlock,
    )
