"""Rules on electrical ratings: what is set or reached against what the parts are rated for."""

from __future__ import annotations

import math
from collections.abc import Callable

from wattagon.design.paths import Edit
from wattagon.physics.pack import LOADED_CUTOFF_V
from wattagon.study.drive import candidates as try_
from wattagon.study.drive.rules.rests import CUTBACK, MOTOR
from wattagon.study.drive.study import free_shaft_rad_s
from wattagon.study.findings.rule import Case, Rule, Verdict, held_under, unknown
from wattagon.study.findings.status import Status
from wattagon.study.resolve import board_amps


def pack_volts(case: Case) -> Verdict:
    """Full pack against the controller's absolute rating; tight above 0.90 of it (regeneration and lead ringing lift the bus)."""
    full, rating = float(case.study.resolved.train.pack.full_v), _rating(case, "controller", "voltage_max_v")
    if rating is None:
        return unknown(f"{case.say(full, 'voltage')} full, controller rating unknown")
    status, margin = held_under(full, rating, 0.10)
    title = f"Full pack {case.say(full, 'voltage')}, controller {case.say(rating, 'voltage')}"
    edits = lambda: (
        *try_.steps(case.design, case.stock, ("series",), -1, most=4),
        *try_.controllers(case.design, case.stock, volts=full / 0.9),
    )
    return Verdict(status=status, title=title, margin=margin, candidates=edits)


def _rating(case: Case, who: str, name: str) -> float | None:
    """A rating of the motor, controller or cell as it is fitted; None where it is unknown."""
    resolved = case.study.resolved
    rating: float | None = getattr(
        {"motor": resolved.motor_part, "controller": resolved.controller_part, "pack": resolved.cell_part}[who], name
    )
    return rating


def motor_volts(case: Case) -> Verdict:
    """Full pack against the voltage on the motor's label."""
    full, rating = float(case.study.resolved.train.pack.full_v), _rating(case, "motor", "voltage_max_v")
    if rating is None:
        return unknown(f"{case.say(full, 'voltage')} full, motor rating unknown")
    status, margin = held_under(full, rating, 0.03)
    title = f"Full pack {case.say(full, 'voltage')}, motor {case.say(rating, 'voltage')}"
    edits = lambda: try_.steps(case.design, case.stock, ("series",), -1, most=4)
    return Verdict(status=status, title=title, margin=margin, candidates=edits)


def _motor_amps(
    case: Case,
    who: str,
    short: tuple[float | None, str],
    lasting: float | None,
    over_lasting: float,
    others: Callable[[float], tuple[Edit, ...]],
) -> Verdict:
    """Motor-amp setting against a short rating with its name; more than `over_lasting` times the lasting one is tight."""
    setting, (rating, name) = float(case.study.resolved.train.controller.motor_current_a), short
    if rating is None:
        return unknown(f"{case.say(setting, 'current')} set, {who} rating unknown")
    status, margin = held_under(setting, rating, 0.0)
    if status is Status.CLEAR and lasting is not None and setting > lasting * over_lasting:
        status = Status.TIGHT
    says = f", {case.say(lasting, 'current')} lasting" if lasting is not None else ""
    title = f"Motor amps {case.say(setting, 'current')}, {who} {case.say(rating, 'current')} {name}{says}"
    aim = rating if status is Status.OVER else (lasting or rating) * over_lasting
    edits = lambda: (*try_.set_amps(case.design, "motor_current_a", aim), *others(setting))
    return Verdict(status=status, title=title, margin=margin, candidates=edits)


def motor_amps_motor(case: Case) -> Verdict:
    """Motor-amp setting against the motor's peak and continuous ratings."""
    return _motor_amps(
        case,
        "motor",
        (_rating(case, "motor", "current_peak_a"), "peak"),
        _rating(case, "motor", "current_continuous_a"),
        1.5,
        lambda _: try_.steps(case.design, case.stock, ("motor_size",), +1, most=2),
    )


def motor_amps_controller(case: Case) -> Verdict:
    """Motor-amp setting against the controller's burst and continuous ratings."""
    volts = float(case.study.resolved.train.pack.full_v) / 0.9
    return _motor_amps(
        case,
        "controller",
        (_rating(case, "controller", "motor_current_burst_a"), "burst"),
        _rating(case, "controller", "motor_current_continuous_a"),
        1.25,
        lambda setting: try_.controllers(case.design, case.stock, volts=volts, motor_a=setting),
    )


def pack_amps_controller(case: Case) -> Verdict:
    """Pack-amp setting of one controller against its rating."""
    setting, rating = (
        float(case.study.resolved.train.controller.battery_current_a),
        _rating(case, "controller", "pack_current_max_a"),
    )
    if rating is None:
        return unknown(f"{case.say(setting, 'current')} set, rating unknown")
    status, margin = held_under(setting, rating, 0.0)
    title = f"Pack amps {case.say(setting, 'current')} each, controller {case.say(rating, 'current')}"
    edits = lambda: try_.set_amps(case.design, "pack_current_a", rating)
    return Verdict(status=status, title=title, margin=margin, candidates=edits)


def pack_amps_cells(case: Case) -> Verdict:
    """What all controllers together may draw against what the cells give: over the burst rating is over, over continuous tight."""
    train = case.study.resolved.train
    count, setting = float(train.count), float(train.controller.battery_current_a)
    asked = count * setting
    lasting, burst = _rating(case, "pack", "continuous_a"), _rating(case, "pack", "burst_a")
    strings = float(train.pack.parallel)
    if lasting is None:
        return unknown(f"{case.say(asked, 'current')} asked, cell rating unknown")
    most = (burst if burst is not None else lasting) * strings
    status, margin = held_under(asked, most, 0.0)
    if status is Status.CLEAR and asked > lasting * strings * (1 + 1e-9):
        status = Status.TIGHT
    title = f"Pack amps {case.say(asked, 'current')} in all, cells {case.say(lasting * strings, 'current')} lasting"
    if burst is not None:
        title += f", {case.say(most, 'current')} burst"
    need = max(1, math.ceil(asked / lasting) - round(strings))
    edits = lambda: (
        *try_.set_amps(case.design, "pack_current_a", lasting * strings / count),
        *try_.steps(case.design, case.stock, ("parallel",), +1, most=min(need, 6))[-1:],
    )
    return Verdict(status=status, title=title, margin=margin, candidates=edits)


def pack_amps_board(case: Case) -> Verdict | None:
    """What all controllers may draw against the protection board."""
    variant, train = case.study.resolved.variant, case.study.resolved.train
    if variant.battery is not None and variant.battery.school == "none" and variant.pack.protection_a is None:
        return None
    board = board_amps(variant, case.stock)
    asked = float(train.count) * float(train.controller.battery_current_a)
    if not math.isfinite(board):
        return unknown("No protection board stated")
    status, margin = held_under(asked, board, 0.10)
    title = f"Pack amps {case.say(asked, 'current')} in all, board {case.say(board, 'current')}"
    edits = lambda: try_.set_amps(case.design, "pack_current_a", board * 0.9 / float(train.count))
    return Verdict(status=status, title=title, margin=margin, candidates=edits)


def electrical_speed(case: Case) -> Verdict:
    """Electrical speed at the free speed of a full pack against the controller's limit."""
    resolved = case.study.resolved
    if resolved.train.motor.brushed:
        return Verdict(status=Status.CLEAR, title="Brushed motor: no electrical speed")
    limit = _rating(case, "controller", "erpm_max")
    shaft = free_shaft_rad_s(case.study)
    reached = float(resolved.train.motor.erpm(shaft))
    if limit is None:
        return unknown(f"{reached:,.0f} electrical rpm, controller limit unknown")
    status, margin = held_under(reached, limit, 0.10)
    title = f"Electrical speed {reached:,.0f} rpm free, controller {limit:,.0f}"
    edits = lambda: try_.steps(case.design, case.stock, ("motor_kv", "series"), -1, most=2)
    return Verdict(status=status, title=title, margin=margin, candidates=edits)


def motor_speed(case: Case) -> Verdict:
    """Shaft speed at the free speed of a full pack against the motor's mechanical limit."""
    limit = _rating(case, "motor", "rpm_max")
    shaft = free_shaft_rad_s(case.study)
    rpm = shaft * 60.0 / math.tau
    if limit is None:
        return unknown(f"{rpm:,.0f} rpm free, motor limit unknown")
    status, margin = held_under(rpm, limit, 0.05)
    edits = lambda: try_.steps(case.design, case.stock, ("motor_kv", "series"), -1, most=3)
    title = f"Motor {rpm:,.0f} rpm free, rated {limit:,.0f}"
    return Verdict(status=status, title=title, margin=margin, candidates=edits)


def phase_amps_for_pack_amps(case: Case) -> Verdict:
    """Motor amps taken for pack amps: shows motor amps times volts beside the true power.

    A pack limit above the motor limit can never bind: the two were most likely confused.  Equal ones may be meant.
    """
    train, nominal = case.study.resolved.train, case.study.states["nominal"]
    motor_a, pack_a = float(train.controller.motor_current_a), float(train.controller.battery_current_a)
    count = float(train.count)
    naive = count * motor_a * nominal.open_circuit_v
    true = float(max(nominal.pack_w))
    title = f"{case.say(count * motor_a, 'current')} of motor amps are {case.say(true, 'power')} at most, not {case.say(naive, 'power')}"
    status = Status.TIGHT if pack_a > motor_a * 1.001 else Status.CLEAR
    if status is Status.TIGHT:
        title = f"Pack amps set higher than motor amps ({case.say(pack_a, 'current')}): " + title
    lasting = _rating(case, "pack", "continuous_a")
    limit = lasting * float(train.pack.parallel) / count if lasting is not None else 0.6 * motor_a
    edits = lambda: try_.set_amps(case.design, "pack_current_a", min(limit, 0.6 * motor_a))
    return Verdict(status=status, title=title, margin=1.0 - pack_a / motor_a, candidates=edits)


def cutback(case: Case) -> Verdict:
    """The low-voltage cutback against what the cells bear under load."""
    train = case.study.resolved.train
    end, least = float(train.controller.cutback_end_v), float(LOADED_CUTOFF_V[train.pack.chemistry] * train.pack.series)
    margin = end / least - 1.0
    status = Status.OVER if margin < -1e-9 else Status.CLEAR
    title = f"Cutback ends at {case.say(end, 'voltage')}, cells bear {case.say(least, 'voltage')} under load"
    return Verdict(status=status, title=title, margin=margin)


def controller_kind(case: Case) -> Verdict:
    """A brushed motor needs a controller for brushed motors, a brushless one the other kind."""
    motor, controller = case.study.resolved.motor_part, case.study.resolved.controller_part
    brushed = motor.family == "brushed"
    fits = brushed == controller.brushed
    kind = {True: "brushed", False: "brushless"}
    title = f"{kind[brushed].capitalize()} motor, controller for {kind[controller.brushed]} ones"
    volts, amps = float(case.study.resolved.train.pack.full_v) / 0.9, float(case.study.resolved.train.controller.motor_current_a)
    edits = lambda: try_.controllers(case.design, case.stock, volts=volts, motor_a=amps, brushed=brushed)
    return Verdict(status=Status.CLEAR if fits else Status.OVER, title=title, margin=0.0 if fits else -1.0, candidates=edits)


RULES: tuple[Rule, ...] = (
    Rule(
        code="controller.kind",
        bench="drive",
        link="controller",
        because="A brushed motor has two leads and its own commutator; a brushless one needs three phases.",
        judge=controller_kind,
    ),
    Rule(
        code="controller.pack_volts",
        bench="drive",
        link="controller",
        because="Regeneration and long leads lift the supply: stay below 90 % of the rating.",
        judge=pack_volts,
    ),
    Rule(
        code="motor.pack_volts",
        bench="drive",
        link="motor",
        because="The motor's label gives its highest pack voltage, for its speed and insulation.",
        judge=motor_volts,
    ),
    Rule(
        code="motor.amps",
        bench="drive",
        link="motor",
        because="Peak amps are for seconds, continuous amps for a ride; both in the controller's own motor amps.",
        judge=motor_amps_motor,
    ),
    Rule(
        code="controller.motor_amps",
        bench="drive",
        link="controller",
        because="The controller's burst rating is for seconds; above the continuous one it depends on cooling.",
        judge=motor_amps_controller,
    ),
    Rule(
        code="controller.pack_amps",
        bench="drive",
        link="controller",
        because="Each controller has its own limit for what it draws from the pack.",
        judge=pack_amps_controller,
    ),
    Rule(
        code="pack.amps",
        bench="drive",
        link="pack",
        because="Two controllers draw twice one setting; cells give their rating times the strings in parallel.",
        judge=pack_amps_cells,
    ),
    Rule(
        code="pack.protection",
        bench="drive",
        link="pack",
        because="A board smaller than the peak switches the drive off in the middle of a hill.",
        judge=pack_amps_board,
    ),
    Rule(
        code="controller.erpm",
        bench="drive",
        link="controller",
        because="Pole pairs times rpm; a wheel in the air reaches the free speed of a full pack.",
        judge=electrical_speed,
        rests=MOTOR,
    ),
    Rule(
        code="motor.rpm",
        bench="drive",
        link="motor",
        because="The rotor's own limit: glue, magnets and bearings.",
        judge=motor_speed,
        rests=MOTOR,
    ),
    Rule(
        code="drive.amps_confused",
        bench="drive",
        link="controller",
        because=(
            "The bridge works like a transformer: at low speed many motor amps come from few pack amps. Power is pack amps times volts."
        ),
        judge=phase_amps_for_pack_amps,
    ),
    Rule(
        code="controller.cutback",
        bench="drive",
        link="controller",
        because="Below the chemistry's loaded cutoff cells are harmed; far above it range is left unused.",
        judge=cutback,
        rests=CUTBACK,
    ),
)
