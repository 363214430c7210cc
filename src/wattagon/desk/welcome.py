"""What is shown when no vehicle is open: what to do next."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QLabel, QPushButton, QVBoxLayout, QWidget

from wattagon.desk.theme import font


class Welcome(QWidget):
    """Three ways to begin, and the files of last time."""

    asked = Signal(str)  # new, open, demo
    reopen = Signal(str)

    def __init__(self, recent: tuple[str, ...], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("welcome")
        layout = QVBoxLayout(self)
        layout.addStretch(2)
        title = QLabel("No vehicle is open")
        title.setFont(font(20, 600))
        layout.addWidget(title, 0, Qt.AlignmentFlag.AlignHCenter)
        words = QLabel("Begin with what you want to drive; everything assumed is marked until you have measured it.")
        words.setProperty("voice", "soft")
        layout.addWidget(words, 0, Qt.AlignmentFlag.AlignHCenter)
        layout.addSpacing(14)
        for code, text in (("new", "New vehicle"), ("open", "Open a file"), ("demo", "Open the demo fleet")):
            button = QPushButton(text, objectName=f"welcome-{code}")
            button.setMinimumWidth(260)
            button.clicked.connect(lambda _on=False, code=code: self.asked.emit(code))
            layout.addWidget(button, 0, Qt.AlignmentFlag.AlignHCenter)
        for name in recent[:5]:
            button = QPushButton(Path(name).name)
            button.setProperty("flat", True)
            button.setToolTip(name)
            button.clicked.connect(lambda _on=False, name=name: self.reopen.emit(name))
            layout.addWidget(button, 0, Qt.AlignmentFlag.AlignHCenter)
        layout.addStretch(3)
