"""What is judged of settings, throttle and failures."""

from __future__ import annotations

import math
from dataclasses import replace

from wattagon.design.parts import BoardPart
from wattagon.design.paths import Edit
from wattagon.physics.road import GRAVITY
from wattagon.record import record
from wattagon.study.controller import rules_throttle as throttle
from wattagon.study.controller.case import control_of, controlled, put
from wattagon.study.controller.setting import Setting
from wattagon.study.controller.sheet import sag_on_climb_v
from wattagon.study.controller.study import ControllerStudy
from wattagon.study.drive.cases import strongest
from wattagon.study.drive.climbs import steepest
from wattagon.study.drive.study import study_drive
from wattagon.study.findings.all import slow_findings
from wattagon.study.findings.finding import Finding
from wattagon.study.findings.rule import Case, Rule, Verdict, unknown
from wattagon.study.findings.status import Status
from wattagon.study.studies import Task

NARROW_V = 0.1  # of a cutoff, per cell: narrower it acts like a switch
FULL = 0.95  # of charge, from where on a pack takes nothing back
TIGHT_BELOW = 0.10
# what the drive's own rules judge already
JUDGED = ("motor.", "controller.", "cells.")
AXES = {"motor_a": "motor", "motor_brake_a": "motor_brake", "pack_a": "pack", "pack_in_a": "pack_in"}
EXACT = ("cells", "poles", "ratio", "wheel")


def _lines(case: Case) -> list[tuple[str, Setting]]:
    """Lines with a bound that nobody else judges."""
    found = []
    for one in controlled(case).settings:
        if not one.told or one.cannot or one.key in EXACT or (one.low is None and one.high is None):
            continue
        if one.key in AXES or one.key in ("cut_start_v", "cut_end_v", "absolute_a"):
            continue  # of these there are rules of their own
        found.append((one.key, one))
    return found


def line(case: Case, one: Setting) -> Verdict | None:
    """A told value outside its bounds."""
    say = lambda value: case.say(value, one.dimension)
    value = float(one.value)  # type: ignore[arg-type]
    name = one.name[0].upper() + one.name[1:]
    if one.high is not None and value > one.high and one.status is Status.OVER:
        title = f"{name} {say(value)}, at most {say(one.high)}: {one.high_from}"
        margin = 1.0 - value / one.high if one.high else -1.0
        return Verdict(status=Status.OVER, title=title, margin=margin, candidates=lambda: _back(one))
    if one.low is not None and one.status is Status.OVER:
        title = f"{name} {say(value)}, at least {say(one.low)}: {one.low_from}"
        return Verdict(status=Status.OVER, title=title, margin=value / one.low - 1.0 if one.low else -1.0, candidates=lambda: _back(one))
    return None  # the sheet shows it


def _back(one: Setting) -> tuple[Edit, ...]:
    """The value that is worked out."""
    if one.proposed is None or not one.path or one.path.startswith("variant.controller.overrides"):
        return ()
    shown = f"{one.proposed:g}" if isinstance(one.proposed, (int, float)) else str(one.proposed)
    return (Edit(label=f"{one.name[0].upper()}{one.name[1:]}: {shown}", changes=((one.path, one.proposed),)),)


def _axes(case: Case) -> list[tuple[str, str]]:
    return [
        (key, axis) for key, axis in (("motor_a", "motor"), ("motor_brake_a", "motor_brake"), ("pack_a", "pack"), ("pack_in_a", "pack_in"))
    ]


def amps(case: Case, axis: str) -> Verdict | None:
    """Amps as set against the lowest bound that the drive's rules do not know: ground, load path, belt, board, wiring."""
    found, say = controlled(case), case.say
    one = found.setting(next(key for key, of in AXES.items() if of == axis))
    if one is None or not one.told or one.cannot or not isinstance(one.value, (int, float)) or not one.value:
        return None
    most = [b for b in found.on(axis) if b.kind == "most" and not b.code.startswith(JUDGED)]
    if axis == "motor_brake":
        most = [b for b in most if not b.code.startswith("ground.")]  # brake.grip judges them
    if not most:
        return None
    value, least = float(one.value), most[0]
    margin = 1.0 - value / least.amps
    status = Status.OVER if margin < -0.005 else Status.TIGHT if margin < TIGHT_BELOW else Status.CLEAR
    name = one.name[0].upper() + one.name[1:]
    title = f"{name} {say(value, 'current')}, {least.whose} at {say(least.amps, 'current')}: {least.because}"
    to = math.floor(0.95 * least.amps)
    edits = (Edit(label=f"{name} {value:g} to {to:g} A", changes=((one.path, float(to)),)),) if to >= 1 else ()
    return Verdict(status=status, title=title, margin=margin, candidates=lambda: edits)


def absolute(case: Case) -> Verdict | None:
    """The trip between the ripple of the motor amps and what the switches bear."""
    one = controlled(case).setting("absolute_a")
    if one is None or one.cannot or not isinstance(one.value, (int, float)):
        return None
    if not one.told:
        return unknown(f"Absolute maximum is not told; {case.say(float(one.value), 'current')} would do")
    title = f"Absolute maximum {case.say(float(one.value), 'current')}: above the ripple, below what the switches bear"
    return line(case, one) or Verdict(status=Status.CLEAR, title=title, margin=0.3)


def cuts_uphill(case: Case) -> Verdict | None:
    """A cutoff that begins above what the pack sags to on the goal's climb takes the pull away there."""
    found = controlled(case)
    one = found.setting("cut_start_v")
    if one is None or one.high is None or not isinstance(one.value, (int, float)):
        return None
    from wattagon.study.controller.seen import Seen

    bottom = case.study.resolved.window[1]
    volts, where = sag_on_climb_v(Seen(case.design, case.study, found.bounds, found.school, case.say), bottom)
    series = float(case.study.resolved.train.pack.series)
    margin = (volts - float(one.value)) / series
    status = Status.OVER if margin < -0.1 else Status.TIGHT if margin < 0.0 else Status.CLEAR
    title = (
        f"Cutoff begins at {case.say(float(one.value), 'voltage')}; on {where} at {bottom:.0%} of charge the bus stands at "
        f"{case.say(volts, 'voltage')}"
    )
    return Verdict(status=status, title=title, margin=margin, candidates=lambda: _lower(case, volts, series))


def _lower(case: Case, volts: float, series: float) -> tuple[Edit, ...]:
    """A cutoff that begins where the climb leaves the bus, and still fades above what cells bear."""
    found, base = controlled(case), "variant.controller"
    end = found.setting("cut_end_v")
    if end is None or not isinstance(end.value, (int, float)):
        return ()
    begin = math.floor(10.0 * volts) / 10.0
    changes: tuple[tuple[str, object], ...] = ((f"{base}.cutback_start_v", begin),)
    to = round(min(float(end.value), begin - 1.5 * NARROW_V * series), 1)
    if to < float(end.low or 0.0):
        return ()  # the pack sags too low there whatever is set
    if to < float(end.value):
        changes = (*changes, (f"{base}.cutback_end_v", to))
    return (Edit(label=f"Cutoff from {begin:g} to {to:g} V", changes=changes),)


def cuts_low(case: Case) -> Verdict | None:
    """Where the cutoff ends against what a cell bears; narrower than a tenth of a volt a cell it acts like a switch."""
    found = controlled(case)
    one = found.setting("cut_end_v")
    begin = found.setting("cut_start_v")
    if one is None or begin is None or not isinstance(one.value, (int, float)) or not isinstance(begin.value, (int, float)):
        return None
    series = float(case.study.resolved.train.pack.series)
    least, value, wide = float(one.low or 0.0), float(one.value), float(begin.value) - float(one.value)
    if value < least - 1e-6:
        title = f"Cutoff ends at {case.say(value, 'voltage')}, the cells bear {case.say(least, 'voltage')} at all"
        return Verdict(status=Status.OVER, title=title, margin=value / least - 1.0, candidates=lambda: _back(one))
    if wide < NARROW_V * series:
        title = f"Cutoff is {case.say(wide, 'voltage')} wide: narrower than {NARROW_V:g} V a cell it cuts like a switch, and gives back"
        return Verdict(status=Status.TIGHT, title=title, margin=wide / (NARROW_V * series) - 1.0, candidates=lambda: _back(one))
    return Verdict(status=Status.CLEAR, title=f"Cutoff fades over {case.say(wide, 'voltage')}, above what cells bear", margin=0.3)


def cutoffs_fight(case: Case) -> Verdict | None:
    """Two controllers, or controller and board, that cut at the same volts: the one that opens must come last."""
    variant = case.design.variant()
    battery = variant.battery
    board = case.stock.find(battery.board) if battery is not None and battery.board else None
    end = controlled(case).setting("cut_end_v")
    if not isinstance(board, BoardPart) or end is None or not isinstance(end.value, (int, float)):
        return None
    series, opens = float(case.study.resolved.train.pack.series), 2.8 if board.fits != "iron" else 2.2
    margin = float(end.value) / series - opens
    status = Status.OVER if margin < 0.0 else Status.TIGHT if margin < 0.1 else Status.CLEAR
    title = (
        f"The controller's cutoff ends at {case.say(float(end.value) / series, 'voltage')} a cell, a board opens at about "
        f"{case.say(opens, 'voltage')}: {'the board cuts first, all at once' if margin < 0.1 else 'the controller comes first'}"
    )
    return Verdict(status=status, title=title, margin=margin, candidates=lambda: _back(end))


def regen_full(case: Case) -> Verdict | None:
    """Braking into a full pack."""
    found, choice = controlled(case), case.design.variant().controller
    if not choice.regen_motor_current_a or float(case.study.resolved.train.reduction.one_way) > 0 or choice.brake_resistor_ohm:
        return None
    top = case.study.resolved.window[0]
    if top < FULL:
        return Verdict(status=Status.CLEAR, title=f"Charged to {top:.0%}: braking finds room in the pack", margin=FULL - top)
    if "pack_in_a" in found.school.cannot:
        title = f"It brakes into a pack that is charged to {top:.0%}, and this kind of controller holds nothing back"
        return Verdict(status=Status.OVER, title=title, margin=-1.0)
    title = f"Charged to {top:.0%}, braking fades until some of it is used: a mechanical brake must do alone on the first descent"
    return Verdict(status=Status.TIGHT, title=title, margin=0.0)


def wrong(case: Case, one: Setting) -> Verdict | None:
    """Cells, poles, ratio or wheel entered otherwise than they are: by how much speed or charge is told false."""
    if not one.told or not isinstance(one.value, (int, float)) or not isinstance(one.low, (int, float)):
        return None
    value, real = float(one.value), float(one.low)
    share = value / real - 1.0
    if abs(share) < 0.005:
        return Verdict(status=Status.CLEAR, title=f"{one.name[0].upper()}{one.name[1:]} as set is as it is", margin=0.3)
    if one.key == "cells":
        title = f"Set for {value:.0f} cells, the pack has {real:.0f}: its cutoffs lie {'too high' if share > 0 else 'too low'}"
        return Verdict(status=Status.OVER, title=title, margin=-abs(share), candidates=lambda: _back(one))
    # speed by rotation: poles and ratio divide, the wheel multiplies
    told = value / real - 1.0 if one.key == "wheel" else real / value - 1.0
    shown = f"{case.say(value, one.dimension)} set, {case.say(real, one.dimension)} real"
    title = f"{one.name[0].upper()}{one.name[1:]}: {shown}; speed is told {abs(told):.0%} too {'high' if told > 0 else 'low'}"
    status = Status.OVER if abs(told) > 0.05 else Status.TIGHT
    return Verdict(status=status, title=title, margin=-abs(told), candidates=lambda: _back(one))


def _exact(case: Case) -> list[tuple[str, Setting]]:
    return [(one.key, one) for one in controlled(case).settings if one.key in EXACT and one.told]


def no_taper(case: Case) -> Verdict | None:
    """More than the climb's heat allows, and nothing that takes it back."""
    found, choice, say = controlled(case), case.design.variant().controller, case.say
    heat = next((b for b in found.on("motor") if b.code == "heat.climb"), None)
    if heat is None:
        return None
    value = float(case.study.resolved.train.controller.motor_current_a)
    guarded = choice.motor_taper_start_c is not None and "motor_taper_c" not in found.school.cannot
    if guarded:
        no_sensor = control_of(case).motor_sensor == "no"
        if no_sensor:
            title = f"The motor's taper at {say(choice.motor_taper_start_c or 0.0, 'temperature')} has no sensor to go by"
            return Verdict(status=Status.OVER, title=title, margin=-1.0)
        return Verdict(status=Status.CLEAR, title="The motor's taper guards it uphill", margin=0.3)
    margin = heat.amps / value - 1.0
    if margin >= 0.0:
        return Verdict(status=Status.CLEAR, title=f"Motor amps stay under the climb's heat of {say(heat.amps, 'current')}", margin=margin)
    words = f"{say(value, 'current')} set, {say(heat.amps, 'current')} {heat.because}"
    if not control_of(case).motor_sensor:
        return unknown(f"Whether the motor has a sensor for a taper is not told: {words}")
    title = f"No taper by the motor's heat: {words}"
    edits = (
        Edit(
            label="A sensor in the motor, its taper set",
            changes=(
                ("variant.controller.motor_taper_start_c", 90.0),
                ("variant.controller.motor_taper_end_c", 110.0),
                ("variant.control", replace(control_of(case), motor_sensor="yes")),
            ),
        ),
    )
    return Verdict(status=Status.TIGHT, title=title, margin=margin, candidates=lambda: edits if not found.school.cannot else ())


def freewheel_regen(case: Case) -> Verdict | None:
    """A freewheel, and braking amps that never reach the motor."""
    choice = case.design.variant().controller
    if not float(case.study.resolved.train.reduction.one_way) > 0 or not choice.regen_motor_current_a:
        return None
    title = f"{case.say(choice.regen_motor_current_a, 'current')} of braking are set, a freewheel lets none of it through"
    edit = Edit(label="Braking motor amps 0", changes=(("variant.controller.regen_motor_current_a", 0.0),))
    return Verdict(status=Status.TIGHT, title=title, margin=0.0, candidates=lambda: (edit,))


def passes_downhill(case: Case) -> Verdict | None:
    """A speed mode that gravity passes: what rolls is not held back by a limit of pull."""
    modes = [mode for mode in case.design.brief.modes if mode.top_speed is not None]
    grade = steepest(case.design)
    if not modes or grade <= 0.0 or case.design.vehicle.kind.floats:
        return None
    resolved = case.study.resolved
    mode = min(modes, key=lambda m: m.top_speed or math.inf)
    speed = float(mode.top_speed or 0.0)
    force = -float(resolved.load.resistance_n(speed, -grade, resolved.headwind_m_s))
    name = mode.name or mode.id
    if force <= 0.0:
        return Verdict(status=Status.CLEAR, title=f"Mode {name}: it does not roll faster down {case.say(grade, 'grade')}", margin=0.3)
    least = force / (float(resolved.load.mass_kg) * GRAVITY)
    title = (
        f"Mode {name}, {case.say(speed, 'speed')}: down {case.say(grade, 'grade')} it rolls on with {case.say(force, 'force')} to spare; "
        "the limit takes pull away, it does not brake"
    )
    return Verdict(status=Status.TIGHT, title=title, margin=-least)


def hunts(case: Case) -> Verdict | None:
    """A hard speed limit."""
    if control_of(case).limited != "hard" or not any(mode.top_speed is not None for mode in case.design.brief.modes):
        return None
    title = "A hard speed limit hunts: on and off like a limiter, where fading pull would hold the speed"
    return Verdict(status=Status.TIGHT, title=title, margin=0.0, candidates=lambda: (put(case, "Speed limit kept softly", limited="soft"),))


def street_first(case: Case) -> Verdict | None:
    """Where modes are stated, which one it wakes in and what gives all."""
    control = control_of(case)
    modes = [mode for mode in case.design.brief.modes if mode.top_speed is not None]
    if not modes:
        return None
    if control.full_by == "none":
        title = "All it can is always on, though a mode is stated for public places; it is your word there that counts"
        edit = put(case, "All it can by a button held at start", full_by="hold")
        return Verdict(status=Status.TIGHT, title=title, margin=0.0, candidates=lambda: (edit,))
    if not control.full_by:
        return unknown("What gives all it can is not told: a deliberate act, not one that a bump or a child can do")
    words = {"hold": "a button held at start", "code": "a code", "switch": "a switch out of reach"}[control.full_by]
    return Verdict(status=Status.CLEAR, title=f"All it can takes {words}", margin=0.3)


def firmware(case: Case) -> Verdict | None:
    """Software of unknown fit."""
    fit = control_of(case).firmware
    if fit == "unknown":
        title = "Firmware of unknown fit: do not update what works without a way back; note its version, keep its settings"
        return Verdict(status=Status.TIGHT, title=title, margin=0.0)
    return Verdict(status=Status.CLEAR, title="Firmware is known to fit", margin=0.3) if fit else None


def unguarded(case: Case) -> Verdict | None:
    """What this school does not guard."""
    school = controlled(case).school
    if not school.unguarded:
        return None
    return unknown(f"A {school.name} does not guard {', '.join(school.unguarded)}: that is for the hand, the fuse and the check")


def _rule(code: str, because: str, judge, of=None, instead_of: str = "", rests=("controller.motor_current_a",), on: str = "") -> Rule:  # type: ignore[no-untyped-def]
    return Rule(
        code=code, bench="controller", link="controller", because=because, judge=judge, of=of, instead_of=instead_of, rests=rests, on=on
    )


RULES: tuple[Rule, ...] = (
    _rule("settings.amps", "The lowest of what ground, load path, belt, board and leads bear is the setting's end.", amps, _axes),
    _rule("settings.absolute", "A trip is above the ripple of the working limit and below what the switches bear.", absolute),
    _rule("settings.cut_uphill", "A cutoff above what the pack sags to uphill takes the pull where it is needed.", cuts_uphill),
    _rule("settings.cut_low", "A cutoff ends above what cells bear, and fades.", cuts_low),
    _rule("settings.cut_fights", "What opens all at once must come last.", cutoffs_fight),
    _rule("settings.regen_full", "A full pack takes nothing back.", regen_full),
    _rule("settings.wrong", "Speed and charge are told by what was entered.", wrong, _exact),
    _rule("settings.line", "Each setting has bounds that follow from the design.", line, _lines),
    _rule("settings.no_taper", "Without a taper the boost budget alone guards the winding.", no_taper),
    _rule("settings.freewheel", "A freewheel lets no braking through.", freewheel_regen),
    _rule("settings.downhill", "A limit of pull brakes nothing.", passes_downhill),
    _rule("settings.hunts", "Fading pull holds a speed; on and off hunts around it.", hunts),
    _rule("settings.street", "The act that gives all is deliberate; local rules decide where it may be.", street_first),
    _rule("settings.firmware", "Do not update what works without a way back.", firmware),
    _rule("settings.unguarded", "Each school guards other things.", unguarded),
    _rule("throttle.window", "A lever's window with fault bands outside it.", throttle.window),
    _rule("throttle.start", "What a rider who expects it bears, in level and in how quickly it comes.", throttle.starts, on="wheels"),
    _rule(
        "throttle.release",
        "Letting go comes unasked: it is borne least.",
        throttle.lets_go,
        instead_of="rider.release",
        on="wheels",
    ),
    _rule(
        "throttle.brake",
        "What a rider who expects it bears of being held back.",
        throttle.brakes,
        instead_of="rider.brake",
        on="wheels",
    ),
    _rule("throttle.lift", "The start's pull against belt and front wheel.", throttle.lifts, on="wheels"),
    _rule("throttle.fails", "What goes on driving when something fails throws or runs over somebody.", throttle.fails, throttle.failures),
    _rule("throttle.untested", "What is not known is tested with the wheels off the ground before it is ridden.", throttle.untested),
)


@record(frozen=True, slots=True, kw_only=True)
class ControllerFound:
    """What the study gives: the controller, and the findings."""

    study: ControllerStudy
    findings: list[Finding]


def run(task: Task) -> ControllerFound | None:
    """Of a task in its strongest mode, with cures; None when it was cancelled."""
    followed, design = task.results["drive"], strongest(task.design)
    study = followed.study if design is task.design else study_drive(design, task.stock)
    case = Case(design, task.stock, study, task.say)
    found = controlled(case)
    findings = slow_findings(case, followed.findings, RULES, task.cancelled, together=True)
    return None if task.cancelled() else ControllerFound(study=found, findings=findings)
