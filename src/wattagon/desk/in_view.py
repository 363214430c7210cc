"""Which load case and which mode are in view: a list that is there only where the brief has any."""

from __future__ import annotations

from typing import Literal

from PySide6.QtCore import QSignalBlocker
from PySide6.QtWidgets import QComboBox, QWidget

from wattagon.design.paths import Edit
from wattagon.desk.following import Following
from wattagon.desk.session import Session


class InView(Following, QComboBox):
    """The load case or the mode in view, picked by name."""

    def __init__(self, session: Session, what: Literal["case", "mode"], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session, self._what = session, what
        self._none = "usual load" if what == "case" else "all settings allow"
        self.setObjectName(f"in-view-{what}")
        self.setAccessibleName("Load case in view" if what == "case" else "Mode in view")
        self.setToolTip(
            "Map, moment and rides are of this load case; goals of the worst for them"
            if what == "case"
            else "Map, moment and rides are of this mode; goals are judged in the strongest"
        )
        self.activated.connect(self._picked)
        # shown or hidden by what the brief has, so it follows while it is hidden too
        session.design_changed.connect(self.refresh)
        self.refresh()

    def refresh(self) -> None:
        if not self._session.docs:
            self.setVisible(False)
            return
        brief = self._session.design.brief
        items = [(item.id, item.name or item.id) for item in (brief.cases if self._what == "case" else brief.modes)]
        now = brief.case if self._what == "case" else brief.mode
        rows = [("", self._none), *items]
        with QSignalBlocker(self):
            if [(self.itemData(k), self.itemText(k)) for k in range(self.count())] != rows:
                self.clear()
                for ident, name in rows:
                    self.addItem(name, ident)
            self.setCurrentIndex(next((k for k, (ident, _) in enumerate(rows) if ident == now), 0))
        self.setVisible(bool(items))

    def _picked(self, index: int) -> None:
        label = f"{'Load case' if self._what == 'case' else 'Mode'}: {self.itemText(index)}"
        if not self._session.try_apply(Edit(label=label, changes=((f"brief.{self._what}", self.itemData(index)),))):
            self.refresh()
