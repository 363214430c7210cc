"""A drawing with measures on it: values written where they belong, a click on one chooses it."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import QSizePolicy, QToolTip, QWidget

from wattagon.design.paths import place
from wattagon.design.quantity import Known, Quantity
from wattagon.desk.brief.measure import Measure
from wattagon.desk.brief.measures import is_assumed, measure_of, measures_for, shown
from wattagon.desk.chart.ink import pen, text_width
from wattagon.desk.chart.painted import painted
from wattagon.desk.session import Session
from wattagon.desk.theme import THEMES, Theme, font, with_alpha

TICK = 4.0


class Drawing(QWidget):
    """The base: `paint_on` draws and calls the marks, which remember where each measure is written."""

    chosen = Signal(str)  # path of a measure that was clicked

    def __init__(self, session: Session, name: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self.hits: list[tuple[QRectF, Measure]] = []
        self.selected = ""
        self.area = QRectF()  # that is painted on
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)  # paints its own ground: quicker than letting five parents do it
        self.setObjectName(name)
        self.setMinimumSize(380, 280)
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName("Vehicle with its measures")
        for signal in (session.design_changed, session.looks_changed):
            signal.connect(self._refresh)

    def _refresh(self) -> None:
        self.update()

    def select(self, path: str) -> None:
        """Show one measure as the chosen one."""
        self.selected = path
        self.update()

    def spoken(self) -> str:
        """Its values as text."""
        session = self.session
        if not session.docs:
            return ""
        told = []
        for measure in measures_for(session.design.vehicle.kind):
            value = place(session.design, measure.path)
            if isinstance(value.value, Quantity) and value.spec is not None:
                mark = " assumed" if value.value.known is Known.ASSUMED else ""
                told.append(f"{measure.short} {session.say(value.value.value, value.spec.dimension)}{mark}")
        return "; ".join(told)

    def hit(self, path: str) -> QRectF:
        """Where a measure is written; empty when it is not on the drawing."""
        return next((area for area, measure in self.hits if measure.path == path), QRectF())

    @painted
    def paintEvent(self, event: QPaintEvent, painter: QPainter) -> None:
        painter.fillRect(event.rect(), THEMES[self.session.theme_name].paper)
        self.paint_on(painter, QRectF(self.rect()))
        if self.hasFocus():
            painter.setPen(pen(THEMES[self.session.theme_name].electrical, 1.5))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(QRectF(self.rect()).adjusted(1, 1, -2, -2))

    def paint_on(self, p: QPainter, rect: QRectF) -> None:
        """Draw into any rectangle: here only the paper, each drawing puts its own on it."""
        self.area = rect
        p.fillRect(rect, THEMES[self.session.theme_name].paper)

    # marks

    def across(self, p: QPainter, theme: Theme, x0: float, x1: float, y: float, path: str) -> None:
        p.setPen(pen(theme.soft, 1.0))
        p.drawLine(QPointF(x0, y), QPointF(x1, y))
        for x in (x0, x1):
            p.drawLine(QPointF(x - TICK / 2, y + TICK), QPointF(x + TICK / 2, y - TICK))
        self.chip(p, theme, QPointF((x0 + x1) / 2, y - 8), path, centre=True, with_name=True)

    def upright(
        self,
        p: QPainter,
        theme: Theme,
        x: float,
        y0: float,
        y1: float,
        path: str,
        *,
        left: bool = False,
        share: float = 0.5,
        below: bool = False,
    ) -> None:
        self.dimension(p, theme, x, y0, y1)
        y = y0 + (y1 - y0) * share + (14 if below else -8)
        self.chip(p, theme, QPointF(x - 4 if below else x - 6 if left else x + 6, y), path, right=left, with_name=True)

    def dimension(self, p: QPainter, theme: Theme, x: float, y0: float, y1: float) -> None:
        p.setPen(pen(theme.soft, 1.0))
        p.drawLine(QPointF(x, y0), QPointF(x, y1))
        for y in (y0, y1):
            p.drawLine(QPointF(x - TICK, y + TICK / 2), QPointF(x + TICK, y - TICK / 2))

    def chip(
        self, p: QPainter, theme: Theme, at: QPointF, path: str, *, right: bool = False, centre: bool = False, with_name: bool = False
    ) -> QRectF:
        """A measure's value; soft with a mark when it is assumed, framed when it is chosen."""
        session = self.session
        measure = measure_of(session.design.vehicle.kind, path)
        assumed = is_assumed(session, path)
        value = shown(session, path)
        value = f"≈ {value}" if assumed and value != "not known" else value
        face, small = font(13, 400 if assumed else 600), font(12)
        name = f"{measure.short} " if with_name else ""
        width = text_width(name, small) + text_width(value, face)
        x = at.x() - (width if right else width / 2 if centre else 0.0)
        x = min(max(x, self.area.left() + 8.0), self.area.right() - 10.0 - width)
        area = QRectF(x - 3, at.y(), width + 6, 17)
        p.setPen(pen(theme.electrical, 1.4) if path == self.selected else Qt.PenStyle.NoPen)
        p.setBrush(theme.chosen if path == self.selected else with_alpha(theme.panel, 0.85))
        p.drawRoundedRect(area, 3, 3)
        base = area.top() + 13
        p.setFont(small)
        p.setPen(theme.soft)
        p.drawText(QPointF(x, base), name)
        p.setFont(face)
        p.setPen(theme.soft if assumed else theme.ink)
        p.drawText(QPointF(x + text_width(name, small), base), value)
        self.hits.append((area.adjusted(-2, -2, 2, 2), measure))
        return area

    # choosing

    def _under(self, at: QPointF) -> Measure | None:
        return next((measure for area, measure in reversed(self.hits) if area.contains(at)), None)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        found = self._under(event.position())
        if found is not None:
            self.chosen.emit(found.path)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        found = self._under(event.position())
        self.setCursor(Qt.CursorShape.PointingHandCursor if found is not None else Qt.CursorShape.ArrowCursor)
        if found is not None:
            QToolTip.showText(event.globalPosition().toPoint(), f"{found.how} Click to change it.", self)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        paths = [measure.path for _, measure in self.hits]
        if paths and event.key() in (Qt.Key.Key_Left, Qt.Key.Key_Right, Qt.Key.Key_Up, Qt.Key.Key_Down):
            back = event.key() in (Qt.Key.Key_Left, Qt.Key.Key_Up)
            now = paths.index(self.selected) if self.selected in paths else -1
            self.chosen.emit(paths[(now + (-1 if back else 1)) % len(paths)])
            self.setFocus()
        else:
            super().keyPressEvent(event)
