"""A page under the picture of the controller."""

from __future__ import annotations

from dataclasses import replace

from PySide6.QtWidgets import QWidget

from wattagon.design.paths import Edit
from wattagon.design.tree import Control, Throttle
from wattagon.desk.session import Session
from wattagon.study.controller.enter import entered
from wattagon.study.controller.setting import Setting
from wattagon.study.controller.study import ControllerStudy


class Tab(QWidget):
    """One page; `show_controller` shows another result."""

    title = ""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.found: ControllerStudy | None = None

    def show_controller(self, found: ControllerStudy | None) -> None:
        """Another result."""
        self.found = found

    def control(self) -> Control:
        """As the design has it."""
        return self.session.design.variant().control or Control() if self.session.docs else Control()

    def throttle(self) -> Throttle:
        """As the design has it."""
        return self.control().throttle or Throttle()

    def put(self, label: str, **changes: object) -> bool:
        """Change fields of the section; whether it was taken."""
        return self.session.try_apply(Edit(label=label, changes=(("variant.control", replace(self.control(), **changes)),)))  # type: ignore[arg-type]

    def put_throttle(self, label: str, **changes: object) -> bool:
        """Change fields of the throttle."""
        return self.put(label, throttle=replace(self.throttle(), **changes))  # type: ignore[arg-type]

    def enter(self, one: Setting, value: object) -> bool:
        """A value of a line of the sheet into its place; None takes it away."""
        return self.session.try_apply(entered(self.session.design, one, value))
