"""One figure that is typed on this bench: any unit, refusals said beside it, nothing lost."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QSignalBlocker, Signal
from PySide6.QtGui import QFocusEvent
from PySide6.QtWidgets import QLineEdit

from wattagon.design.paths import Edit
from wattagon.desk.fields import refuse
from wattagon.desk.session import Session
from wattagon.errors import WattagonError


class Entry(QLineEdit):
    """`take` makes an edit of what was typed, or raises; empty takes the value away."""

    entered = Signal(str)  # its name; empty once it is left

    def __init__(self, session: Session, name: str, words: str, take: Callable[[str], Edit], width: int = 118) -> None:
        super().__init__()
        self._session, self._take = session, take
        self.setObjectName(name)
        self.setAccessibleName(words)
        self.setMinimumWidth(64)
        self.setMaximumWidth(width)
        self.editingFinished.connect(self.commit)

    def show_text(self, text: str, hint: str = "", tip: str = "") -> None:
        """What the design has, unless somebody is typing."""
        self.setPlaceholderText(hint)
        self.setToolTip(tip)
        if self.hasFocus() and self.isModified():
            return
        with QSignalBlocker(self):
            self.setText(text)
            self.setCursorPosition(0)
        self.setModified(False)
        refuse(self, False)

    def focusInEvent(self, event: QFocusEvent) -> None:
        super().focusInEvent(event)
        self.entered.emit(self.objectName())

    def focusOutEvent(self, event: QFocusEvent) -> None:
        super().focusOutEvent(event)
        self.entered.emit("")

    def commit(self) -> bool:
        """Whether it was taken; a refusal is told and the typing stays."""
        if not self.isModified() or not self._session.docs:
            return False
        try:
            taken = self._session.try_apply(self._take(self.text().strip()))
        except WattagonError as refusal:
            self._session.told.emit(str(refusal), True)
            taken = False
        refuse(self, not taken)
        if taken:
            self.setModified(False)
        return taken
