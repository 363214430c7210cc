"""Begin a new vehicle: its kind, drawn with typical measures, and its name."""

from __future__ import annotations

from PySide6.QtCore import QRectF, QSize, Qt
from PySide6.QtGui import QPainter, QPaintEvent
from PySide6.QtWidgets import (
    QDialog,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from wattagon.design.template import new_design
from wattagon.design.tree import Design, VehicleKind
from wattagon.desk.brief.bench import VEHICLE_WORDS
from wattagon.desk.brief.outline import fit, paint_side, sizes
from wattagon.desk.chart.painted import painted
from wattagon.desk.session import Session
from wattagon.desk.theme import THEMES


class _Preview(QWidget):
    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.design: Design | None = None
        self.setMinimumSize(QSize(340, 260))

    @painted
    def paintEvent(self, event: QPaintEvent, p: QPainter) -> None:
        theme = THEMES[self._session.theme_name]
        p.fillRect(self.rect(), theme.panel)
        if self.design is not None:
            v = self.design.vehicle
            s = sizes(v, v.tyre_diameter.value)
            area = QRectF(self.rect()).adjusted(40, 30, -40, -40)
            paint_side(p, fit(s, area, s.top, s.base + s.rear_over + s.front_over), theme, v, s)


class NewVehicle(QDialog):
    """Modal; `design` is what was made after it was accepted."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle("New vehicle")
        self.setObjectName("new-vehicle")
        self.design: Design | None = None
        self.kinds = QListWidget(objectName="kinds")
        for kind, words in VEHICLE_WORDS.items():
            item = QListWidgetItem(words.capitalize(), self.kinds)
            item.setData(Qt.ItemDataRole.UserRole, kind)
            item.setSizeHint(QSize(0, 30))
        self.kinds.setFixedWidth(220)
        self.name = QLineEdit(objectName="new-name", placeholderText="Name", text="New vehicle")
        self._preview = _Preview(session)
        note = QLabel(
            "Begins with typical values, every one marked as assumed (≈), two goals and one plain drive. Measure over them on the brief.",
            wordWrap=True,
        )
        note.setProperty("voice", "soft")
        make, cancel = QPushButton("Begin", default=True, objectName="begin"), QPushButton("Cancel")
        make.clicked.connect(self.accept)
        cancel.clicked.connect(self.reject)
        self.kinds.itemActivated.connect(self.accept)
        self.kinds.currentItemChanged.connect(self._shown)
        right = QVBoxLayout()
        right.addWidget(self._preview, 1)
        right.addWidget(self.name)
        right.addWidget(note)
        upper = QHBoxLayout()
        upper.addWidget(self.kinds)
        upper.addLayout(right, 1)
        row = QHBoxLayout()
        row.addStretch(1)
        row.addWidget(cancel)
        row.addWidget(make)
        layout = QVBoxLayout(self)
        layout.addLayout(upper, 1)
        layout.addLayout(row)
        self.kinds.setCurrentRow(1)

    def kind(self) -> VehicleKind:
        """The kind that is marked."""
        return VehicleKind(self.kinds.currentItem().data(Qt.ItemDataRole.UserRole))

    def _shown(self) -> None:
        self._preview.design = new_design(self.kind())
        self._preview.update()

    def accept(self) -> None:
        self.design = new_design(self.kind(), self.name.text().strip() or "New vehicle")
        super().accept()
