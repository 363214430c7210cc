"""The status line: file, message, variant, moment, units."""

from __future__ import annotations

from PySide6.QtCore import Qt, QTimer
from PySide6.QtWidgets import QHBoxLayout, QLabel, QSizePolicy, QWidget

from wattagon.desk.fields import ElidedLabel
from wattagon.desk.session import Session
from wattagon.desk.theme import THEMES, font

MESSAGE_MS = 9000


class StatusLine(QWidget):
    """One line at the bottom; a refusal is shown in the colour of over and stays longer."""

    _refused = False

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self.setObjectName("status-line")
        self.setFixedHeight(26)
        self.file, self.message, self.facts = ElidedLabel(), QLabel(objectName="message"), ElidedLabel()
        for label in (self.file, self.message, self.facts):
            label.setFont(font(12))
            label.setTextFormat(Qt.TextFormat.PlainText)
        self.file.setProperty("voice", "soft")
        self.facts.setProperty("voice", "soft")
        self.message.setMinimumWidth(40)
        self.message.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        self.message.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        row = QHBoxLayout(self)
        row.setContentsMargins(14, 0, 14, 0)
        row.setSpacing(18)
        row.addWidget(self.file)
        row.addWidget(self.message, 1)
        row.addWidget(self.facts)
        self._timer = QTimer(self, singleShot=True, interval=MESSAGE_MS)
        self._timer.timeout.connect(self.message.clear)
        session.told.connect(self.tell)
        session.design_changed.connect(self._taken)
        for signal in (session.design_changed, session.moment_changed, session.documents_changed, session.looks_changed):
            signal.connect(self.refresh)
        self.refresh()

    def _taken(self, paths: frozenset[str]) -> None:
        """A value was taken: what was refused before it is over."""
        if self._refused and paths and "stock" not in paths:
            self._timer.stop()
            self.message.clear()
            self._refused = False

    def tell(self, words: str, refused: bool) -> None:
        """Show a sentence for a while; a refusal until something is taken."""
        self._refused = refused
        theme = THEMES[self._session.theme_name]
        self.message.setStyleSheet(f"color: {(theme.over if refused else theme.ink).name()};")
        self.message.setText(words)
        self.message.setToolTip(words)
        self._timer.start(MESSAGE_MS * (2 if refused else 1))

    def refresh(self) -> None:
        session = self._session
        if not session.docs:
            self.file.setText("no vehicle open")
            self.facts.setText("")
            return
        doc = session.doc
        name = doc.path.name if doc.path is not None else f"{doc.design.vehicle.name}, no file yet"
        self.file.setText(f"{name}, unsaved changes" if doc.unsaved else f"{name}" + (", saved" if doc.path else ""))
        variant, m = doc.design.variant(), session.moment
        level = "through the water" if session.design.vehicle.kind.floats else "flat"
        grade = level if abs(m.grade) < 5e-4 else session.say(m.grade, "grade")
        self.facts.setText(
            f"{variant.id} {variant.name}    {session.say(m.speed_m_s, 'speed')}, {grade}, pack {m.charge:.0%}    "
            f"{session.unit_set}    Ctrl+K all actions"
        )
