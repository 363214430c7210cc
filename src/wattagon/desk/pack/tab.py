"""A page under the picture of the pack."""

from __future__ import annotations

from dataclasses import replace

from PySide6.QtWidgets import QWidget

from wattagon.design.paths import Edit
from wattagon.design.tree import Battery
from wattagon.desk.session import Session
from wattagon.study.pack.study import PackStudy


class Tab(QWidget):
    """One page; `show_pack` shows another result."""

    title = ""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.found: PackStudy | None = None

    def show_pack(self, found: PackStudy | None) -> None:
        """Another result."""
        self.found = found

    def battery(self) -> Battery:
        """As the design has it."""
        return self.session.design.variant().battery or Battery()

    def put(self, label: str, **changes: object) -> None:
        """Change fields of the battery."""
        self.session.try_apply(Edit(label=label, changes=(("variant.battery", replace(self.battery(), **changes)),)))  # type: ignore[arg-type]
