"""Rules: what a rule looks at, what it answers, and its line in the table of its study."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from typing import TYPE_CHECKING, Any, TypeVar

from wattagon.design.catalogue import Catalogue
from wattagon.design.paths import Edit
from wattagon.design.quantity import Known, weakest
from wattagon.design.tree import Design
from wattagon.record import record
from wattagon.study.findings.finding import Finding
from wattagon.study.findings.status import Status
from wattagon.study.say import Say

if TYPE_CHECKING:
    from wattagon.study.drive.study import DriveStudy
    from wattagon.study.resolve import Input

T = TypeVar("T")


class Case:
    """What a rule looks at: a design, its drive, and what other studies make of it when a rule first asks.

    The inputs of every study that was asked go into one bag, so that a finding can tell how all it rests on is known.
    """

    def __init__(self, design: Design, stock: Catalogue, study: DriveStudy, say: Say, *, tried_on: Case | None = None) -> None:
        self.design, self.stock, self.study, self.say = design, stock, study, say
        self.tried_on = tried_on  # the case that a cure is tried on
        self._inputs: dict[str, Input] | None = None
        self._ends: dict[str, Known] = {}  # the weakest of all inputs whose path ends so
        self._made: dict[object, Any] = {}

    def made(self, key: object, make: Callable[[], T]) -> T:
        """Something that follows from the design, made when first asked for."""
        if key not in self._made:
            self._made[key] = make()
        found: T = self._made[key]
        return found

    @property
    def inputs(self) -> dict[str, Input]:
        """All inputs by path, how each is known."""
        if self._inputs is None:
            from wattagon.study.drive.inputs import inputs_beside

            resolved = self.study.resolved
            self._inputs = {**resolved.inputs, **inputs_beside(self.design.vehicle, resolved)}
        return self._inputs

    def note(self, inputs: Mapping[str, Input]) -> None:
        """Add the inputs of a further study to the bag."""
        self.inputs.update(inputs)
        self._ends = {}

    def known(self, names: Iterable[str]) -> Known:
        """The weakest of the inputs whose path is one of the names or ends in it."""
        if not self._ends:
            for path, item in self.inputs.items():
                end = path
                while True:
                    other = self._ends.get(end)
                    if other is None or item.known.rank > other.rank:
                        self._ends[end] = item.known
                    _, more, end = end.partition(".")
                    if not more:
                        break
        return weakest(self._ends[name] for name in names if name in self._ends)


@record(frozen=True, slots=True, kw_only=True)
class Verdict:
    """What a rule answers."""

    status: Status
    title: str
    margin: float | None = None
    because: str = ""  # where it has more to say than the rule's own line
    figure: str = ""
    rests: tuple[str, ...] = ()  # inputs beside those of the rule
    candidates: Callable[[], tuple[Edit, ...]] | None = None


def unknown(title: str) -> Verdict:
    """What cannot be judged, since an input is missing."""
    return Verdict(status=Status.NOT_CHECKED, title=title)


def held_under(value: float, limit: float, tight_below: float) -> tuple[Status, float]:
    """(status, margin) of a value that should stay under a limit."""
    margin = 1.0 - value / limit
    status = Status.OVER if margin < -1e-9 else Status.TIGHT if margin < tight_below else Status.CLEAR
    return status, margin


@record(frozen=True, slots=True, kw_only=True)
class Rule:
    """One line of a table of rules.

    A rule of a family, such as one for each goal, is judged for each (key, item) that `of` finds; its findings' codes are `code.key`.
    """

    code: str
    bench: str
    link: str
    because: str  # where the limit comes from
    judge: Callable[..., Verdict | None]
    rests: tuple[str, ...] = ()  # names of the inputs that decide it
    of: Callable[[Case], Iterable[tuple[str, Any]]] | None = None
    instead_of: str = ""  # code of a finding that estimates what this one works out
    on: str = ""  # wheels or water, where it is only asked there

    def findings(self, case: Case) -> list[Finding]:
        """What it finds; nothing where it does not apply."""
        if self.on and (self.on == "water") != case.design.vehicle.kind.floats:
            return []
        if self.of is None:
            verdict = self.judge(case)
            return [self._finding(case, self.code, verdict)] if verdict is not None else []
        judged = ((key, self.judge(case, item)) for key, item in self.of(case))
        return [self._finding(case, f"{self.code}.{key}", verdict) for key, verdict in judged if verdict is not None]

    def gives(self, code: str) -> bool:
        """Whether a code is one of this rule's."""
        return code == self.code if self.of is None else code.startswith(f"{self.code}.")

    def again(self, case: Case, code: str) -> Finding | None:
        """One of its findings by its code; None where it is not asked any more."""
        if self.of is None:
            return next(iter(self.findings(case)), None)
        for key, item in self.of(case):
            if code == f"{self.code}.{key}":
                verdict = self.judge(case, item)
                return self._finding(case, code, verdict) if verdict is not None else None
        return None

    def _finding(self, case: Case, code: str, verdict: Verdict) -> Finding:
        rests = (*self.rests, *verdict.rests) if verdict.status is not Status.NOT_CHECKED else ()
        return Finding(
            code=code,
            status=verdict.status,
            bench=self.bench,
            link=self.link,
            title=verdict.title,
            because=verdict.because or self.because,
            margin=verdict.margin,
            known=case.known(rests),
            rests=rests,
            figure=verdict.figure,
            instead_of=self.instead_of,
            candidates=verdict.candidates,
        )
