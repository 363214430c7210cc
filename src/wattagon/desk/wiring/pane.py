"""A page under the power path."""

from __future__ import annotations

from dataclasses import replace

from PySide6.QtWidgets import QWidget

from wattagon.design.paths import Edit
from wattagon.design.tree import Wiring
from wattagon.desk.session import Session
from wattagon.study.wiring.pieces import Held
from wattagon.study.wiring.study import WiringStudy


class Pane(QWidget):
    """One page; `show_path` shows another result and the piece in hand."""

    title = ""
    of_piece = True  # about the piece in hand: other parts stand beside it

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.found: WiringStudy | None = None
        self.one: Held | None = None

    def show_path(self, found: WiringStudy | None, one: Held | None) -> None:
        """Another result."""
        self.found, self.one = found, one

    def put(self, label: str, **changes: object) -> None:
        """Change fields of the wiring; a proposed path is not written down by that."""
        told = self.session.design.variant().wiring or Wiring()
        self.session.try_apply(Edit(label=label, changes=(("variant.wiring", replace(told, **changes)),)))  # type: ignore[arg-type]
