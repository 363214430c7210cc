"""The controller that rules look at, worked out once a case, and edits of its section."""

from __future__ import annotations

from dataclasses import replace

from wattagon.design.paths import Edit
from wattagon.design.tree import Control, Throttle
from wattagon.study.controller.study import ControllerStudy, study_controller
from wattagon.study.findings.rule import Case
from wattagon.study.layout.rules import laid_out
from wattagon.study.strength.rules import strong


def controlled(case: Case) -> ControllerStudy:
    """The controller of a case, worked out once."""

    def make() -> ControllerStudy:
        found = study_controller(case.design, case.stock, case.study, case.say, layout=laid_out(case), strength=strong(case))
        case.note(found.inputs)
        return found

    return case.made("controller", make)


def control_of(case: Case) -> Control:
    """As it is told."""
    return case.design.variant().control or Control()


def put(case: Case, label: str, **changes: object) -> Edit:
    """An edit of the section of the controller."""
    return Edit(label=label, changes=(("variant.control", replace(control_of(case), **changes)),))  # type: ignore[arg-type]


def put_throttle(case: Case, label: str, **changes: object) -> Edit:
    """An edit of its throttle."""
    return put(case, label, throttle=replace(control_of(case).throttle or Throttle(), **changes))  # type: ignore[arg-type]
