"""Pieces of the frame that the drive has to clear, as a table: each cell is typed with any unit."""

from __future__ import annotations

from dataclasses import replace
from functools import partial
from typing import Any

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QFileDialog, QHBoxLayout, QLabel, QPushButton, QTableWidget, QTableWidgetItem, QVBoxLayout, QWidget

from wattagon.design.tree import Layout, Obstacle
from wattagon.desk.fields import soft_line
from wattagon.desk.layout.drawing import LayoutDrawing
from wattagon.desk.layout.measures import LayoutMeasures
from wattagon.desk.session import Session
from wattagon.desk.theme import font
from wattagon.errors import WattagonError
from wattagon.exchange.units import parse
from wattagon.study.layout.edits import with_layout
from wattagon.study.layout.picture import wrong_m

COLUMNS = (
    ("name", "piece"),
    ("shape", "shape"),
    ("x", "ahead"),
    ("z", "up"),
    ("x2", "to ahead"),
    ("z2", "to up"),
    ("radius", "radius"),
    ("right", "right"),
    ("left", "left"),
    ("tolerance", "within"),
)
WORDS = (
    "Tubes, edges and boxes of the frame beside the drive: a circle by its middle and radius, a line by its ends and half its "
    "thickness, a box by two corners; all from the driven axle, ahead and up, between its right and left side. "
    "How well each is known makes its gaps wider or narrower."
)


class FramePanel(QWidget):
    """The obstacles of the layout."""

    def __init__(self, session: Session, drawing: LayoutDrawing) -> None:
        super().__init__()
        self._session, self._drawing, self._filling = session, drawing, False
        self.setObjectName("layout-frame")
        self.rows = QTableWidget(0, len(COLUMNS), objectName="obstacles")
        self.rows.setHorizontalHeaderLabels([words for _, words in COLUMNS])
        self.rows.verticalHeader().hide()
        self.rows.setAccessibleName("Pieces of the frame")
        self.rows.cellChanged.connect(self._typed)
        words = QLabel(WORDS, wordWrap=True)
        words.setProperty("voice", "soft")
        words.setFont(font(12))
        row = QHBoxLayout()
        for shape in ("circle", "line", "box"):
            button = QPushButton(f"Add a {shape}", objectName=f"add-{shape}")
            button.clicked.connect(lambda _on=False, shape=shape: self.add(shape))
            row.addWidget(button)
        self.remove_button = QPushButton("Remove", objectName="remove-obstacle")
        self.remove_button.clicked.connect(self.remove)
        row.addWidget(self.remove_button)
        under = QHBoxLayout()
        for name, text, tip, act in (
            (
                "picture-side",
                "Photo, side…",
                "Lies under the drawing; two measured points scale it",
                partial(self.ask, "side"),
            ),
            ("picture-above", "above…", "Lies under the plan", partial(self.ask, "above")),
            ("picture-scale", "Scale", "Click two points of it and type where they are", drawing.underlay.scale),
            (
                "picture-trace",
                "Trace",
                "Click both ends of an edge: it becomes a piece of the frame",
                drawing.underlay.trace,
            ),
            ("picture-remove", "No photo", "Take it away", drawing.underlay.remove),
        ):
            button = QPushButton(text, objectName=name)
            button.setToolTip(tip)
            button.clicked.connect(act)
            under.addWidget(button)
        self.photo = soft_line("", 12)
        column = QVBoxLayout(self)
        column.setContentsMargins(6, 6, 6, 4)
        column.addWidget(words)
        column.addWidget(self.rows, 1)
        column.addLayout(row)
        self.measures = LayoutMeasures(session, drawing)
        column.addWidget(self.measures)
        column.addWidget(self.photo)
        column.addLayout(under)

    def _obstacles(self) -> tuple[Obstacle, ...]:
        found = self._drawing.found
        return found.layout.obstacles if found is not None else ()

    def refresh(self) -> None:
        """The rows of the design."""
        self._filling = True
        have, say = self._obstacles(), self._session.say
        self.rows.setRowCount(len(have))
        for k, one in enumerate(have):
            for column, (name, _) in enumerate(COLUMNS):
                value = getattr(one, name)
                text = value if isinstance(value, str) else say(value, "length")
                item = QTableWidgetItem(text)
                unused = (one.shape == "circle" and name in ("x2", "z2")) or (one.shape == "box" and name == "radius")
                if unused:
                    item.setText("")
                    item.setFlags(Qt.ItemFlag.ItemIsEnabled)
                self.rows.setItem(k, column, item)
        self.rows.resizeColumnsToContents()
        self.remove_button.setEnabled(bool(have))
        self.photo.setText(self._photo_words())
        self.measures.refresh()
        self._filling = False

    def _photo_words(self) -> str:
        """What is to be known of the picture."""
        picture, under = self._drawing.underlay.picture, self._drawing.underlay
        if picture is None:
            return ""
        if under.missing():
            return f"{picture.file} is not there."
        if len(picture.pins) < 2:
            return "Not to scale yet: two measured points scale it."
        far = wrong_m(picture, picture.pins[0].ahead, picture.pins[0].other)
        return f"At its points it is right within {self._session.say(round(far, 4), 'length')}, further out less so."

    def ask(self, view: str, _on: bool = False) -> None:
        """A picture from a file."""
        name, _ = QFileDialog.getOpenFileName(self, "A photo of the vehicle", "", "Pictures (*.png *.jpg *.jpeg *.webp *.bmp)")
        if name:
            try:
                self._drawing.underlay.put(name, view)
            except WattagonError as refusal:
                self._session.told.emit(str(refusal), True)

    def _typed(self, row: int, column: int) -> None:
        if self._filling:
            return
        name, _ = COLUMNS[column]
        text = self.rows.item(row, column).text().strip()
        have = list(self._obstacles())
        try:
            value: Any = text if name in ("name", "shape") else parse(text, "length", self._session.unit_set, field=name)
            have[row] = replace(have[row], **{name: value})
        except WattagonError as refusal:  # the typing stays to be mended
            self._session.told.emit(str(refusal), True)
            return
        self._put(tuple(have), f"{have[row].name}: {name} {text}")

    def add(self, shape: str) -> None:
        """A piece of a usual size above the drive, to be moved where it is."""
        found = self._drawing.found
        if found is None:
            return
        x, z = found.shafts[0].x, round(found.shafts[0].z + 0.5 * found.scene.can_m + 0.05, 3)
        x = round(x, 3)
        made = {
            "circle": Obstacle(name="tube", shape="circle", x=x, z=z, radius=0.016),
            "line": Obstacle(name="tube", shape="line", x=x - 0.1, z=z, x2=x + 0.1, z2=z, radius=0.016),
            "box": Obstacle(name="box", shape="box", x=x - 0.06, z=z, x2=x + 0.06, z2=z + 0.05),
        }[shape]
        self._put((*self._obstacles(), made), f"{made.name.capitalize()} of the frame")

    def remove(self) -> None:
        """The row in hand."""
        row = max(self.rows.currentRow(), 0)
        have = self._obstacles()
        if row < len(have):
            self._put(have[:row] + have[row + 1 :], f"{have[row].name.capitalize()} taken out")

    def _put(self, obstacles: tuple[Obstacle, ...], label: str) -> None:
        layout = self._session.design.variant().layout or Layout()
        if not self._session.try_apply(with_layout(self._session.design, replace(layout, obstacles=obstacles), label)):
            self.refresh()
