"""The wiring that rules look at, worked out once a case."""

from __future__ import annotations

from wattagon.study.findings.rule import Case
from wattagon.study.layout.study import study_layout
from wattagon.study.pack.rules import packed, ridden
from wattagon.study.wiring.pieces import Held
from wattagon.study.wiring.study import WiringStudy, study_wiring


def wired(case: Case) -> WiringStudy:
    """The wiring of a case with its rides, worked out once."""

    def make() -> WiringStudy:
        layout = study_layout(case.design, case.stock, case.study, gaps=False)
        found = study_wiring(case.design, case.stock, case.study, packed(case), layout, ridden(case))
        case.note(found.inputs)
        return found

    return case.made("wiring", make)


def told_pieces(case: Case) -> list[Held]:
    """Pieces that somebody told; a proposal bears what it was chosen for."""
    found = wired(case)
    return [] if found.proposed else list(found.pieces)
