"""Cutting sheets: a part flat with its dimensions beside the list of parts that this design needs, and where it goes."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPainterPath, QPaintEvent
from PySide6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QFileDialog,
    QFrame,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from wattagon.desk.chart.ink import pen, put_text
from wattagon.desk.chart.painted import painted
from wattagon.desk.layout.drawing import LayoutDrawing
from wattagon.desk.session import Session
from wattagon.desk.theme import THEMES, font, with_alpha
from wattagon.errors import WattagonError
from wattagon.exchange.units import parse
from wattagon.physics.outline import Outline
from wattagon.study.layout.sheets import Options, Sheet, refused, sheets

FORMATS = "DXF (*.dxf);;SVG (*.svg);;STL (*.stl);;PDF at 1:1 (*.pdf)"
CAUTION = "Check the first cut against the real parts: a motor's bolt circle and a hub's holes are assumed until they are measured."


class Flat(QWidget):
    """One part at the scale that fits."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.sheet: Sheet | None = None
        self.setMinimumSize(160, 150)
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)
        self.setAccessibleName("Part to be cut")

    def spoken(self) -> str:
        """Its dimensions as text."""
        if self.sheet is None:
            return ""
        return "; ".join([self.sheet.name, *(f"{name} {mm:.2f} mm" for name, mm in self.sheet.figures)])

    @painted
    def paintEvent(self, event: QPaintEvent, p: QPainter) -> None:
        theme = THEMES[self._session.theme_name]
        p.fillRect(self.rect(), theme.panel)
        made = self.sheet
        if made is None:
            return
        path = _path(made.cut)
        marks = _path(made.marks)
        box = path.boundingRect().united(marks.boundingRect()) if made.marks else path.boundingRect()
        room = QRectF(self.rect()).adjusted(14, 12, -14, -24 - 15 * len(made.figures))
        scale = min(room.width() / max(box.width(), 1.0), room.height() / max(box.height(), 1.0))
        p.save()
        p.translate(room.center())
        p.scale(scale, -scale)
        p.translate(-box.center())
        line = pen(theme.ink, 1.4)
        line.setCosmetic(True)
        p.setPen(line)
        p.setBrush(with_alpha(theme.mechanical, 0.14))
        p.drawPath(path)
        engrave = pen(theme.electrical, 1.0)
        engrave.setCosmetic(True)
        p.setPen(engrave)
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawPath(marks)
        p.restore()
        long = next((mm for mm in (5, 10, 20, 50, 100) if mm * scale > 46.0), 100)
        y = self.height() - 12.0
        p.setPen(pen(theme.soft, 1.4))
        p.drawLine(QPointF(12, y), QPointF(12 + long * scale, y))
        for x in (12.0, 12 + long * scale):
            p.drawLine(QPointF(x, y - 4), QPointF(x, y + 4))
        put_text(p, 18 + long * scale, y + 4, self._session.say(1e-3 * long, "length"), font(12))
        p.setPen(theme.ink)
        for k, (name, mm) in enumerate(made.figures):
            put_text(p, 12, self.height() - 24.0 - 15.0 * (len(made.figures) - 1 - k), f"{name} {mm:.2f} mm", font(12))


def _path(outlines: tuple[Outline, ...]) -> QPainterPath:
    path = QPainterPath()
    path.setFillRule(Qt.FillRule.OddEvenFill)
    for outline in outlines:
        points = [point for piece in outline for point in piece.points(0.02)]
        points.append(outline[-1].end)
        path.moveTo(QPointF(*points[0]))
        for point in points[1:]:
            path.lineTo(QPointF(*point))
        if len(outline) > 1 or len(points) > 2:
            path.closeSubpath()
    return path


class SheetsPanel(QWidget):
    """List, picture, options, and a file."""

    def __init__(self, session: Session, drawing: LayoutDrawing) -> None:
        super().__init__()
        self._session, self._drawing = session, drawing
        self._sheets: list[Sheet] = []
        self.setObjectName("layout-sheets")
        self.parts = QComboBox(objectName="parts-to-cut")
        self.parts.setAccessibleName("Part")
        self.parts.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.parts.setMinimumContentsLength(10)
        self.parts.currentIndexChanged.connect(self._chosen)
        self.flat = Flat(session)
        self.notes = QLabel(wordWrap=True)
        self.notes.setProperty("voice", "soft")
        self.notes.setFont(font(12))
        self.fields: dict[str, QLineEdit] = {}
        row = QHBoxLayout()
        for name, words, tip in (
            ("thickness", "thick", "Thickness; empty: as is usual"),
            ("kerf", "kerf", "Width that the cutter takes: outlines move away from the material by half of it"),
            ("loose", "loose", "Clearance of tooth flanks; empty: 0.1 mm printed, 0.03 mm milled"),
            ("holes", "holes", "Added to bores; empty: 0.2 mm printed"),
            ("chamfer", "foot", "Chamfer of a print's first layer, so that its foot does not spread"),
        ):
            label = QLabel(words)
            label.setProperty("voice", "soft")
            field = QLineEdit(objectName=f"cut-{name}")
            field.setToolTip(tip)
            field.setMinimumWidth(30)
            field.setPlaceholderText("mm")
            field.editingFinished.connect(self.refresh)
            label.setBuddy(field)
            self.fields[name] = field
            row.addWidget(label)
            row.addWidget(field, 1)
        self.fit = QComboBox(objectName="cut-fit")
        self.fit.setToolTip("Screw holes: slid through, cut for a thread, or for an insert that is pressed in")
        self.fit.setAccessibleName("Screw holes")
        for code, words in (("clearance", "screws slide through"), ("tapped", "threads are cut"), ("press", "inserts pressed in")):
            self.fit.addItem(words, code)
        self.tabs = QCheckBox("tabs", objectName="cut-tabs")
        self.tabs.setToolTip("Four tabs that hold a milled part in its sheet, marked on its outline")
        self.clamp = QCheckBox("slit", objectName="cut-clamp")
        self.clamp.setToolTip("The motor plate is slit at the axle, to be pinched")
        self.fit.activated.connect(lambda _k: self.refresh())
        for box in (self.tabs, self.clamp):
            box.toggled.connect(lambda _on: self.refresh())
        ways = QHBoxLayout()
        for part in (self.fit, self.tabs, self.clamp):
            ways.addWidget(part)
        ways.addStretch(1)
        self.card = QLabel(wordWrap=True, objectName="cut-card", textFormat=Qt.TextFormat.PlainText)
        self.card.setFont(font(12))
        self.card.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        self.save_button = QPushButton("Save as …", objectName="save-sheet")
        self.save_button.setToolTip("DXF, SVG, STL, or PDF at 1:1")
        self.save_button.clicked.connect(self._ask)
        column = QVBoxLayout(self)
        column.setContentsMargins(6, 6, 6, 4)
        column.setSpacing(5)
        column.addWidget(self.parts)
        column.addWidget(self.flat, 2)
        column.addLayout(row)
        column.addLayout(ways)
        told = QWidget()
        lines = QVBoxLayout(told)
        lines.setContentsMargins(0, 0, 4, 0)
        lines.setSpacing(4)
        for text in (self.card, self.notes):
            lines.addWidget(text)
        lines.addStretch(1)
        area = QScrollArea(widgetResizable=True, frameShape=QFrame.Shape.NoFrame)
        area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        area.setWidget(told)
        area.setMinimumHeight(60)
        column.addWidget(area, 1)
        column.addWidget(self.save_button)

    def options(self) -> Options:
        """As typed.  Raises InputError naming the field."""

        def mm(name: str, least: float, most: float) -> float | None:
            text = self.fields[name].text().strip()
            if not text:
                return None
            value = 1e3 * parse(text if not text[-1].isdigit() else f"{text} mm", "length", field=self.fields[name].toolTip().split(";")[0])
            from wattagon.errors import InputError

            if not least <= value <= most:
                raise InputError(name, text, f"{least:g} to {most:g} mm")
            return value

        return Options(
            kerf_mm=mm("kerf", 0.0, 5.0) or 0.0,
            thickness_mm=mm("thickness", 0.2, 100.0),
            loose_mm=mm("loose", 0.0, 0.6),
            holes_by_mm=mm("holes", -1.0, 2.0),
            chamfer_mm=mm("chamfer", 0.0, 1.0) or 0.0,
            fit=self.fit.currentData(),
            tabs=4 if self.tabs.isChecked() else 0,
            clamp=self.clamp.isChecked(),
        )

    def refresh(self) -> None:
        """The parts of the design as it is; nothing is worked out while another side is in view."""
        if not self.isVisible():
            self._sheets = []
            return
        found, before = self._drawing.found, self.parts.currentData()
        problem, missing = "", []
        self._sheets = []
        if found is not None:
            try:
                options = self.options()
                self._sheets, missing = sheets(found, options), refused(found, options)
            except WattagonError as refusal:
                problem = str(refusal)
        self.parts.blockSignals(True)
        self.parts.clear()
        for one in self._sheets:
            self.parts.addItem(one.name, one.id)
        at = self.parts.findData(before)
        self.parts.setCurrentIndex(max(at, 0) if self._sheets else -1)
        self.parts.blockSignals(False)
        self._missing = problem or "; ".join(f"{code}: {why}" for code, why in missing)
        self._chosen()

    def _chosen(self, _index: int = 0) -> None:
        one = next((sheet for sheet in self._sheets if sheet.id == self.parts.currentData()), None)
        self.flat.sheet = one
        self.save_button.setEnabled(one is not None)
        words = [*(one.notes if one is not None else ()), *([self._missing] if getattr(self, "_missing", "") else []), CAUTION]
        self.card.setText("; ".join(f"{name}: {told}" for name, told in one.card if name != "which way up") if one is not None else "")
        self.card.setVisible(one is not None and bool(one.card))
        self.notes.setText(" ".join(words) if one is not None else (getattr(self, "_missing", "") or "This drive needs no part cut."))
        self.flat.update()

    def showEvent(self, event: object) -> None:
        super().showEvent(event)  # type: ignore[arg-type]
        self.refresh()

    def _ask(self) -> None:
        one = self.flat.sheet
        if one is None:
            return
        name, _ = QFileDialog.getSaveFileName(self, "Save the part", f"{one.id}.dxf", FORMATS)
        if name:
            self.save(Path(name), one.id)

    def save(self, path: Path, part: str) -> None:
        """A part into a file by its ending; a refusal is told."""
        from wattagon.exchange.cut import write_part

        one = next((sheet for sheet in self._sheets if sheet.id == part), None)
        if one is None:
            return
        try:
            write_part(one, path)
        except WattagonError as refusal:
            self._session.told.emit(str(refusal), True)
            return
        self._session.told.emit(f"Saved: {path.name}", False)
