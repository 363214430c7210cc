"""A page under the pictures of a build."""

from __future__ import annotations

import datetime

from PySide6.QtWidgets import QWidget

from wattagon.design.paths import Edit
from wattagon.desk.session import Session
from wattagon.errors import WattagonError
from wattagon.study.build.study import BuildStudy


class Tab(QWidget):
    """One page; `show_build` shows another result."""

    title = ""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.found: BuildStudy | None = None

    def show_build(self, found: BuildStudy | None) -> None:
        """Another result."""
        self.found = found

    @property
    def today(self) -> datetime.date:
        return datetime.date.today()

    def take(self, made) -> bool:  # type: ignore[no-untyped-def]
        """Apply what a function makes of the design; a refusal is told.  Whether it was taken."""
        try:
            edit: Edit = made()
        except WattagonError as refusal:
            self.session.told.emit(str(refusal), True)
            return False
        return self.session.try_apply(edit)
