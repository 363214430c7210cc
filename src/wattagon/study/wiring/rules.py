"""The table of what is judged of the wiring."""

from __future__ import annotations

from wattagon.record import record
from wattagon.study.findings.all import slow_findings
from wattagon.study.findings.finding import Finding
from wattagon.study.findings.rule import Case, Rule
from wattagon.study.studies import Task
from wattagon.study.wiring import rules_joints as joints
from wattagon.study.wiring import rules_path as path
from wattagon.study.wiring.case import wired
from wattagon.study.wiring.study import WiringStudy


def _rule(code: str, because: str, judge, of=None, link="pack", rests=()) -> Rule:  # type: ignore[no-untyped-def]
    return Rule(code=code, bench="wiring", link=link, because=because, judge=judge, of=of, rests=rests)


RULES: tuple[Rule, ...] = (
    _rule("wiring.told", "Without the pieces nothing can be said of them.", path.told),
    _rule(
        "wiring.piece",
        "Equivalent current with the piece's own time constant, and every stretch under its short-time curve.",
        path.piece,
        path.pieces,
    ),
    _rule("wiring.drop", "2 % for long and 5 % at the peak is custom; the sag moves the cutback as well.", path.drop),
    _rule("wiring.fused", "First thing on the pack's plus, before any connector.", path.fused),
    _rule("wiring.fuse", "Carry, protect, volts, break, clear: all five, with a tenth to spare.", path.fuse, path.fuses),
    _rule("wiring.precharge", "An empty bank is a short for a moment; sparks eat contacts and weld them.", path.precharge),
    _rule("wiring.disconnect", "Operable by the rider while riding, with gloves, without looking.", joints.disconnect),
    _rule("wiring.contactor", "Every coil needs a path for its current; bare diodes open slowly.", joints.contactor, joints.contactors),
    _rule("wiring.switch", "Direct current does not go through nought: the arc stays.", joints.switch, joints.switches),
    _rule("wiring.mates", "Halves of a joint mate only with their own kind.", joints.mates),
    _rule("wiring.takes", "A contact has room for so much copper.", joints.takes),
    _rule("wiring.live_half", "What stays live is covered.", joints.live_half),
    _rule("wiring.touch", "Above 60 V direct, standards no longer take a circuit for low-risk to touch.", joints.touch),
    _rule("wiring.chafes", "Edges work through insulation by vibration.", joints.chafes),
    _rule("wiring.bends", "4 outside diameters laid, 8 where it moves.", joints.bends),
    _rule("wiring.relief", "Retention keeps contacts in a vibrating vehicle.", joints.relief),
    _rule("wiring.measured", "Over 1.25 times the table is undersized or not copper.", joints.measured),
    _rule(
        "wiring.overshoot",
        "The current of the leads runs on into the capacitors; a better pack overshoots more.",
        path.overshoot,
        link="controller",
    ),
    _rule("wiring.spun", "An idle bridge is not a dead motor: its diodes charge the bus.", path.spun, link="motor"),
    _rule("wiring.opened", "The bus is the capacitors alone then.", path.opened, link="controller"),
    _rule("wiring.ripple", "Ripple goes with motor amps, most at half throttle.", path.ripple, link="controller"),
    _rule("wiring.counted", "One value for one thing: sag and cutback rest on it.", path.counted),
    _rule("wiring.phases", "Two leads of one length stand in series with the windings.", path.phases, link="motor"),
    _rule("wiring.brake", "Its power goes with the square of speed; bridge and resistor never at once.", path.brake, link="controller"),
    _rule("wiring.box", "A box in still air gives off 4 to 5 W/m²K over all.", path.box, link="controller"),
    _rule("wiring.control", "One supply, one ground, known colours, an enable chain.", path.control, path.controls, link="controller"),
    _rule("wiring.untold_control", "Wrong control wires start drives by themselves.", path.untold_control, link="controller"),
    _rule("wiring.not_covered", "No rule here looks at it.", path.not_covered),
)


@record(frozen=True, slots=True, kw_only=True)
class WiringFound:
    """What the study gives: the wiring with its rides, and the findings."""

    study: WiringStudy
    findings: list[Finding]


def run(task: Task) -> WiringFound:
    """The wiring of a task with its findings and their cures."""
    followed = task.results["drive"]
    case = Case(task.design, task.stock, followed.study, task.say)
    found = slow_findings(case, followed.findings, RULES, task.cancelled, together=True)
    return WiringFound(study=wired(case), findings=found)
