"""A trouble of one design: its symptom, causes as likely as the design and the answers make them, the next test, cures."""

from __future__ import annotations

import datetime
from collections.abc import Mapping, Sequence
from dataclasses import replace

from wattagon.design.paths import Edit, apply
from wattagon.design.tree import Answer, Design, Entry, EntryKind, Inquiry
from wattagon.errors import InputError
from wattagon.record import record
from wattagon.study.commission.study import CommissionStudy
from wattagon.study.drive.study import DriveStudy
from wattagon.study.findings.finding import Cure, Finding
from wattagon.study.history.study import fresh_id, version_of
from wattagon.study.layout.orders import Order, train_orders
from wattagon.study.layout.study import LayoutStudy
from wattagon.study.trouble.applies import applies
from wattagon.study.trouble.causes import Cause, causes
from wattagon.study.trouble.deciding import Deciding, tests
from wattagon.study.trouble.engine import FOUND, Ranked, Told, before, next_test, ranked
from wattagon.study.trouble.evidence import Evidence, evidence, named_by
from wattagon.study.trouble.symptoms import SYMPTOMS, Symptom
from wattagon.study.trouble.train import ringing


@record(frozen=True, slots=True, kw_only=True)
class Looked:
    """What causes are weighed by."""

    design: Design
    drive: DriveStudy
    layout: LayoutStudy | None
    findings: tuple[Finding, ...]
    commission: CommissionStudy | None
    today: datetime.date


@record(frozen=True, slots=True, kw_only=True)
class TroubleStudy:
    """All that the bench and `wattagon trouble` show."""

    looked: Looked
    symptom: Symptom
    told: tuple[Told, ...]
    causes: tuple[Ranked, ...]
    answered: tuple[tuple[Deciding, str], ...]
    next: Deciding | None
    orders: tuple[Order, ...]  # of the train, at the speed at which it shows

    @property
    def found(self) -> Ranked | None:
        """The cause that is left, once one is."""
        first = self.causes[0] if self.causes else None
        return first if first is not None and first.weight >= FOUND else None

    def cures(self, cause: Cause) -> tuple[tuple[Finding, Cure], ...]:
        """Changes of the design that findings which speak for a cause offer."""
        looked = self.looked
        named = {one.code: one for head in cause.findings for one in named_by(head, looked.design, looked.findings)}
        return tuple((finding, cure) for finding in named.values() for cure in finding.cures)

    def would(self, test: Deciding, answer: str) -> tuple[Ranked, ...]:
        """Causes if a test gave an answer."""
        return tuple(ranked(self.told, [*((one.code, said) for one, said in self.answered), (test.code, answer)]))


def symptoms_of(design: Design) -> tuple[Symptom, ...]:
    """Those that this kind of vehicle can show."""
    floats = design.vehicle.kind.floats
    return tuple(one for one in SYMPTOMS.values() if not one.on or (one.on == "water") == floats)


def study_trouble(
    looked: Looked,
    symptom: str,
    answers: Sequence[tuple[str, str]] = (),
    speed_m_s: float | None = None,
    *,
    stand: bool = False,
) -> TroubleStudy:
    """Raises InputError for a symptom, test or answer that there is not; on a `stand` only its own tests are asked for."""
    able, floats = {one.code for one in symptoms_of(looked.design)}, looked.design.vehicle.kind.floats
    if symptom not in able:
        raise InputError("symptom", symptom or "nothing", ", ".join(sorted(able)))

    def speaks(cause: Cause) -> list[Evidence]:
        said = evidence(cause, looked.design, looked.findings, looked.commission, looked.today)
        if symptom == "vibration" and speed_m_s and looked.layout is not None:
            said += list(ringing(cause.code, looked.layout, speed_m_s))
        return said

    told = before(symptom, speaks, lambda cause: applies(cause, looked.design, looked.drive))
    found = ranked(told, answers)
    known = tests()
    return TroubleStudy(
        looked=looked,
        symptom=SYMPTOMS[symptom],
        told=tuple(told),
        causes=tuple(found),
        answered=tuple((known[test], answer) for test, answer in answers),
        next=next_test(
            found,
            [test for test, _ in answers],
            lambda test: (not test.on or (test.on == "water") == floats) and (test.stand or not stand),
        ),
        orders=train_orders(looked.drive, looked.layout, speed_m_s) if speed_m_s and looked.layout is not None else (),
    )


# edits


def _put(label: str, inquiry: Inquiry | None) -> Edit:
    return Edit(label=label, changes=(("variant.inquiry", inquiry),))


def ask(design: Design, symptom: str, today: datetime.date, step: str = "") -> Edit:
    """Begin with a symptom; what was answered before is forgotten."""
    return _put(f"Trouble: {SYMPTOMS[symptom].words}", Inquiry(symptom=symptom, step=step, begun=today.isoformat()))


def answer(design: Design, test: str, said: str) -> Edit:
    """An answer of a test; an empty one takes it back."""
    inquiry = design.variant().inquiry or Inquiry()
    kept = tuple(one for one in inquiry.answers if one.test != test)
    label = f"Answer: {tests()[test].answers[said]}" if said else "Answer taken back"
    return _put(label, replace(inquiry, answers=(*kept, Answer(test=test, answer=said)) if said else kept))


def shows_at(design: Design, speed_m_s: float | None) -> Edit:
    """The speed at which it shows."""
    return _put("Trouble: speed at which it shows", replace(design.variant().inquiry or Inquiry(), speed=speed_m_s))


def close(found: TroubleStudy, cause: str, cured: str, today: datetime.date) -> Edit:
    """The cause and its cure into the history; the inquiry is closed."""
    design, one = found.looked.design, causes()[cause]
    variant = design.variant()
    done = "; ".join(f"{test.how.lower()}: {test.answers[said]}" for test, said in found.answered)
    text = f"{found.symptom.words[0].upper()}{found.symptom.words[1:]}: {one.name}. {cured.strip() or one.cure}" + (
        f" ({done})" if done else ""
    )
    entry = Entry(
        id=fresh_id(design.history),
        date=today.isoformat(),
        kind=EntryKind.REPAIR,
        text=text[:2000],
        variant=variant.id,
        version=version_of(variant),
        on=(one.part,),
    )
    edit = _put(f"Found: {one.name}", None)
    return replace(edit, changes=(*edit.changes, ("history", (*design.history, entry))))


def taken_as_variant(design: Design, edit: Edit) -> Edit:
    """A cure that changes the design, as a new variant beside the present one."""
    base, fresh = design.variant(), design.free_variant_id()
    made = apply(design, edit).variant()
    changed = replace(made, id=fresh, name=edit.label[:60], note="", based_on=base.id, inquiry=None)
    outside = [(path, value) for path, value in edit.changes if not path.startswith(("variant.", f"variants.{base.id}."))]
    changes = (*outside, ("variants", (*design.variants, changed)), ("active", fresh))
    return Edit(label=f"New variant {fresh}: {edit.label}", changes=changes)


def explained(faults: Mapping[str, str]) -> dict[str, str]:
    """Cause by the fault of the test stand that it explains."""
    return {one.fault: one.code for one in causes().values() if one.fault in faults}
