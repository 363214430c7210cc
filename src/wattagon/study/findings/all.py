"""All rules over one design: those that follow at once, and those that need slow studies, with their cures."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import replace
from typing import TYPE_CHECKING

from wattagon.design.catalogue import Catalogue
from wattagon.design.tree import Design
from wattagon.record import record
from wattagon.study.drive.cases import strongest
from wattagon.study.drive.rules import RULES
from wattagon.study.drive.study import DriveStudy, study_drive
from wattagon.study.findings.cures import RIDDEN, drive_again, newly_over, with_cures
from wattagon.study.findings.finding import Cure, Finding
from wattagon.study.findings.rule import Case, Rule
from wattagon.study.findings.status import URGENCY
from wattagon.study.say import Say, plain
from wattagon.study.studies import STUDIES, Task, loaded

if TYPE_CHECKING:
    from wattagon.study.drive.follow import Followed


SUSPECT = "history.suspect."  # codes of findings that make the part in their name suspect


def urgent_first(findings: Iterable[Finding]) -> list[Finding]:
    """Over before tight before not checked before clear; the least margin first."""
    return sorted(findings, key=lambda f: (URGENCY[f.status], f.margin if f.margin is not None else 0.0))


def find(design: Design, stock: Catalogue, study: DriveStudy, say: Say = plain) -> list[Finding]:
    """What the drive's rules find, most urgent first, without cures.  A mode in view holds nothing back here: the strongest is judged."""
    if design.brief.mode:
        design = strongest(design)
        study = study_drive(design, stock)
    case = Case(design, stock, study, say)
    return urgent_first(finding for rule in RULES for finding in rule.findings(case))


def slow_findings(
    case: Case,
    all_findings: Sequence[Finding],
    rules: Sequence[Rule],
    cancelled: Callable[[], bool] = lambda: False,
    *,
    together: bool = False,
) -> list[Finding]:
    """What the rules of a slow study find, with cures found by running it again with the change.

    `together`: a cure of one may not put another of them over; only where all of them are judged soon.
    """

    def again(other: Case, code: str) -> Finding | None:
        return next(rule for rule in rules if rule.gives(code)).again(other, code)

    found: list[Finding] = []
    others = rules if together else ()
    all_findings = [*all_findings, *(finding for rule in others for finding in rule.findings(case))]
    for rule in rules:
        if cancelled():
            break
        for finding in rule.findings(case):
            if cancelled():
                break
            found.append(with_cures(finding, case, all_findings, again, budget=RIDDEN, rules=others, cancelled=cancelled))
    return urgent_first(found)


@record(frozen=True, slots=True, kw_only=True)
class Tried:
    """What came of trying changes: cures by the code of their finding, and the rating that a lever's step (0 down, 1 up) would break."""

    cures: dict[str, tuple[Cure, ...]]
    broken: dict[tuple[str, int], Finding]


def cures(task: Task) -> Tried:
    """Cures of the drive's findings, and what the levers' next steps would break."""
    followed: Followed = task.results["drive"]
    design = strongest(task.design)
    study = followed.study if design is task.design else study_drive(design, task.stock)
    case, found = Case(design, task.stock, study, task.say), followed.findings
    tried = {f.code: with_cures(f, case, found, drive_again, cancelled=task.cancelled).cures for f in found if f.candidates}
    steps = [(lever.code, k, edit) for lever in followed.levers for k, edit in enumerate((lever.down, lever.up)) if edit is not None]
    broken = newly_over(case, [edit for _, _, edit in steps], found, cancelled=task.cancelled)
    return Tried(cures=tried, broken={(code, k): f for (code, k, _), f in zip(steps, broken, strict=False) if f is not None})


def judged(case: Case, code: str) -> Finding | None:
    """One finding by its code, of whichever study; None where it does not apply."""
    tables = (loaded(entry.rules) for entry in STUDIES if entry.rules)
    rule = next(rule for rules in tables for rule in rules if rule.gives(code))
    return rule.again(case, code)


def merged(drive: Sequence[Finding], slow: Sequence[Finding]) -> list[Finding]:
    """One list: what a slow study says more exactly takes the place of what the drive study could only estimate."""
    better = {f.instead_of for f in slow}
    return urgent_first(with_suspicion([*(f for f in drive if f.code not in better), *slow]))


def with_suspicion(found: Sequence[Finding]) -> list[Finding]:
    """What an incident made suspect is said of every finding on that part, whatever its figures say."""
    parts = {f.code.removeprefix(SUSPECT): f.title for f in found if f.code.startswith(SUSPECT)}
    if not parts:
        return list(found)
    said = lambda f: replace(f, suspect=parts[f.link], title=f"{f.title}; but {f.link} suspect")
    return [said(f) if f.link in parts and not f.suspect else f for f in found]


def check(design: Design, stock: Catalogue, say: Say = plain, variant_id: str | None = None, *, rides: bool = False) -> list[Finding]:
    """Findings with cures for one variant: what `wattagon check` prints; with `rides` those of slow studies, which load the compiler."""
    if variant_id is not None and variant_id != design.variant().id:
        design = replace(design, active=design.variant(variant_id).id)
    design = strongest(design)
    study = study_drive(design, stock)
    found = find(design, stock, study, say)
    case = Case(design, stock, study, say)
    cured = [with_cures(finding, case, found, drive_again) for finding in found]
    tables = _tables(rides=rides)
    return merged(cured, [finding for rules, together in tables for finding in slow_findings(case, found, rules, together=together)])


def judge(case: Case, *, rides: bool = False) -> list[Finding]:
    """The same findings without cures, of a case whose drive is at hand; of its strongest mode."""
    slow = [finding for rules, _ in _tables(rides=rides) for rule in rules for finding in rule.findings(case)]
    return merged(find(case.design, case.stock, case.study, case.say), slow)


def _tables(*, rides: bool) -> list[tuple[Sequence[Rule], bool]]:
    """(rules of a slow study, whether a cure of one may not put another over)."""
    return [(loaded(entry.rules), not entry.compiled) for entry in STUDIES[1:] if entry.rules and (rides or not entry.compiled)]
