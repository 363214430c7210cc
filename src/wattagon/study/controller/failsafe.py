"""What a set-up does when something fails: from its settings where they say it, else not known and which test tells."""

from __future__ import annotations

from wattagon.design.tree import Design
from wattagon.record import record
from wattagon.study.controller.schools import School
from wattagon.study.controller.throttle import Mapped
from wattagon.study.findings.status import Status

# name, what is done to see it, the test of commissioning
FAILURES = {
    "lost": ("signal lost", "radio off at half command", "C2"),
    "pulled": ("lead pulled", "throttle lead pulled at full command, then each wire alone", "C3"),
    "short": ("signal on 5 V", "signal wire held to the supply", "C3"),
    "full": ("on at full lever", "powered up with the command not at zero", "C1"),
    "brownout": ("receiver browns out", "supply of the receiver pulled while it runs", "C2"),
}
OUTCOME_WORDS = {"stops": "drive goes to nothing", "drives": "it drives on", "brakes": "it brakes"}


@record(frozen=True, slots=True, kw_only=True)
class Failure:
    """One failure and what becomes of it."""

    code: str
    name: str
    outcome: str  # stops, drives, brakes; empty: not known
    words: str
    test: str
    how: str
    seen: bool  # in a test, not by the settings

    @property
    def status(self) -> Status:
        if not self.outcome:
            return Status.NOT_CHECKED
        return Status.OVER if self.outcome == "drives" else Status.TIGHT if self.outcome == "brakes" else Status.CLEAR


def failures(design: Design, school: School, found: Mapped) -> tuple[Failure, ...]:
    """The table of one set-up."""
    made = []
    for code, (name, how, test) in FAILURES.items():
        seen = found.told.found.get(code, "")
        outcome, words = _by_settings(code, school, found)
        if seen:
            outcome, words = seen, f"seen in test {test}: {OUTCOME_WORDS[seen]}"
        made.append(Failure(code=code, name=name, outcome=outcome, words=words, test=test, how=how, seen=bool(seen)))
    return tuple(made)


def _by_settings(code: str, school: School, found: Mapped) -> tuple[str, str]:
    """(outcome, why) as far as settings tell; a controller that is not told its fault band is not known."""
    w, told = found.window, found.told
    tells = school.code in ("vehicle", "brushed") and told.lever.kind != ""
    if code in ("lost", "brownout") and found.kind == "pulse":
        if told.loss_s is not None and tells:
            return "stops", f"no pulse for {found.lost_s:g} s counts as zero"
        return "", "a receiver may hold its last pulse, or send one of its own: not known"
    if code in ("lost", "pulled", "brownout") and found.kind != "pulse":
        if not tells or told.lever.fault_low is None:
            return "", "whether its controller knows a fault band is not told: not known"
        if w.fault_low > 0.05:
            return "stops", f"0 V lies under the fault band's {w.fault_low:g} V"
        return "drives" if found.command(0.0) > 0.0 else "", "0 V counts as a reading"
    if code == "pulled":
        return ("stops", "no pulse at all counts as zero") if tells and told.loss_s is not None else ("", "not known")
    if code == "short":
        if found.kind == "pulse":
            return "", "a steady level is no pulse: most take it for a lost signal, not known"
        if not tells or told.lever.fault_high is None:
            return "", "whether its controller knows a fault band is not told: not known"
        if w.fault_high < 4.95:
            return "stops", f"5 V lies above the fault band's {w.fault_high:g} V"
        return "drives", "5 V counts as full lever"
    return "", "whether it waits for zero is not told by any setting: not known"
