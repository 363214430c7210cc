"""What the settings sheet is worked out from, and how a line of it is made."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

from wattagon.design.quantity import Known
from wattagon.design.tree import Control, Design
from wattagon.study.controller.bounds import Bound
from wattagon.study.controller.schools import School
from wattagon.study.controller.setting import Setting, Value
from wattagon.study.drive.study import DriveStudy
from wattagon.study.resolve import Resolved
from wattagon.study.say import Say


class Seen(NamedTuple):
    """What the sheet is worked out from."""

    design: Design
    drive: DriveStudy
    bounds: Sequence[Bound]
    school: School
    say: Say

    @property
    def resolved(self) -> Resolved:
        return self.drive.resolved

    @property
    def control(self) -> Control:
        return self.resolved.variant.control or Control()

    def most(self, axis: str) -> Bound | None:
        """The lowest of what must not be passed."""
        return min((one for one in self.bounds if one.axis == axis and one.kind == "most"), key=lambda one: one.amps, default=None)

    def least(self, axis: str) -> Bound | None:
        """The highest of what goals ask for."""
        return max((one for one in self.bounds if one.axis == axis and one.kind == "least"), key=lambda one: one.amps, default=None)

    def lasting(self, axis: str) -> Bound | None:
        """The lowest of what is borne for long."""
        return min((one for one in self.bounds if one.axis == axis and one.kind == "lasting"), key=lambda one: one.amps, default=None)


def one_of(key: str, name: str, told: Value, proposed: Value, **more: object) -> Setting:
    """A line whose value is told, or else proposed."""
    value = told if told is not None and told != "" else proposed
    known = Known.STATED if told is not None and told != "" else Known.COMPUTED
    return Setting(key=key, name=name, value=value, proposed=proposed, told=told is not None and told != "", known=known, **more)  # type: ignore[arg-type]
