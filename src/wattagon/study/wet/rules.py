"""Rules on water and dirt: one for each place."""

from __future__ import annotations

from collections.abc import Callable

from wattagon.study.findings.all import urgent_first
from wattagon.study.findings.finding import Finding
from wattagon.study.findings.rule import Case, Rule, Verdict, unknown
from wattagon.study.findings.status import Status
from wattagon.study.studies import Task
from wattagon.study.wet.study import Place, WetStudy, study_wet


def watered(case: Case) -> WetStudy:
    """Of a case, worked out once."""
    return case.made("wet", lambda: study_wet(case.design, case.study))


def _of(code: str) -> Callable[[Case], list[tuple[str, tuple[Place, str]]]]:
    def each(case: Case) -> list[tuple[str, tuple[Place, str]]]:
        told = lambda place: any(one.code == code and one.status is not Status.NOT_CHECKED for one in place.said)
        return [(place.code, (place, code)) for place in watered(case).places if told(place)]

    return each


def unstated(case: Case) -> list[tuple[str, Place]]:
    """Places of which something that matters is not stated."""
    return [(one.code, one) for one in watered(case).places if any(said.status is Status.NOT_CHECKED for said in one.said)]


def not_told(_case: Case, place: Place) -> Verdict:
    """All of it in one."""
    words = "; ".join(one.words for one in place.said if one.status is Status.NOT_CHECKED)
    return unknown(f"{place.name[0].upper()}{place.name[1:]}, not stated: {words}")


def judged(_case: Case, item: tuple[Place, str]) -> Verdict | None:
    """One thing of one place."""
    place, code = item
    said = next(one for one in place.said if one.code == code)
    margin = {Status.OVER: -1.0, Status.TIGHT: 0.0}.get(said.status)
    because = f"{BECAUSE[code]} {said.cure}.".strip() if said.cure else BECAUSE[code]
    title = f"{place.name[0].upper()}{place.name[1:]}: {said.words}"
    return Verdict(status=said.status, title=title, because=because, margin=margin)


BECAUSE = {
    "shut": "Ridden wet, or afloat.",
    "seal": "Water comes in where a lid has no seal.",
    "squeeze": "Less lets water by, more tears the seal.",
    "glands": "A gland holds tight on the diameter that it is made for.",
    "potted": "Water runs inside the strands past every gland.",
    "drain": "A box that breathes draws water in.",
    "leak": "Under 10 ml/min for splashes, under 2 under water, at 0.1 bar.",
    "metals": "The baser metal is eaten, fastest in salt water.",
    "coated": "Rust begins at edges and scratches.",
    "kick_plate": "A belt that is open from below takes in grit.",
    "dropped": "It will fall in some day.",
}
RULES: tuple[Rule, ...] = (
    *(
        Rule(code=f"wet.{code}", bench="build", link="wet", because=because, judge=judged, of=_of(code))
        for code, because in BECAUSE.items()
    ),
    Rule(code="wet.unstated", bench="build", link="wet", because="Ridden wet, or afloat.", judge=not_told, of=unstated),
)


def run(task: Task) -> list[Finding]:
    """The findings of a task."""
    case = Case(task.design, task.stock, task.results["drive"].study, task.say)
    return urgent_first(finding for rule in RULES for finding in rule.findings(case))
