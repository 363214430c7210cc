"""The work in order, with a mark where something is over or tight; below it the open vehicles and their variants."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import QSizePolicy, QToolTip, QWidget

from wattagon.design.paths import Edit
from wattagon.desk.benches import GROUPS, Entry
from wattagon.desk.chart.ink import elided, pen, status_mark
from wattagon.desk.chart.painted import painted
from wattagon.desk.session import Session
from wattagon.desk.theme import THEMES, font
from wattagon.study.findings.status import Status

WIDTH, ROW, HEAD = 148, 30.0, 18.0


class WorkList(QWidget):
    """Painted list: benches, then vehicles with the variants of the active one."""

    asked = Signal(str)

    def __init__(self, session: Session, benches: Sequence[Entry], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session, self._benches = session, benches
        self.current = benches[0].code
        self.places: list[tuple[QRectF, str, str]] = []  # area, kind, key
        self._heads: list[tuple[float, str]] = []  # baseline, group
        self._focused = 0
        self._shown: tuple[object, ...] = ()
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)  # paints its own ground: quicker than letting five parents do it
        self.setObjectName("work-list")
        self.setFixedWidth(WIDTH)
        self.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Expanding)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setAccessibleName("Work in order, vehicles and variants")
        for signal in (session.design_changed, session.documents_changed, session.looks_changed, session.findings_changed):
            signal.connect(self._refresh)
        self._lay_out()

    def _refresh(self) -> None:
        session = self._session
        shown = (
            session.theme_name,
            self.current,
            tuple((self.status_of(entry.code), self._why_not(entry)) for entry in self._benches),
            session.docs and session.doc.key,
            tuple((doc.key, doc.unsaved, doc.design.vehicle.name) for doc in session.docs),
            session.docs and tuple((v.id, v.name) for v in session.design.variants),
            session.docs and session.design.variant().id,
        )
        if shown != self._shown:
            self._shown = shown
            self._lay_out()
            self.update()

    def show_bench(self, code: str) -> None:
        """Mark the bench that is shown."""
        self.current = code
        self.update()

    def status_of(self, bench: str) -> Status | None:
        """The worst that a bench's findings hold; missing measures on the brief are told there."""
        for status in (Status.OVER, Status.TIGHT):
            if any(f.status is status and f.bench == bench for f in self._session.findings):
                return status
        return None

    def _why_not(self, entry: Entry) -> str:
        return entry.why_not(self._session.design) if self._session.docs else ""

    def spoken(self) -> str:
        """Its values as text."""
        told = []
        for entry in self._benches:
            status = self.status_of(entry.code)
            told.append(
                entry.name + (" in view" if entry.code == self.current else "") + (f", {status.value}" if status is not None else "")
            )
        session = self._session
        return "; ".join(
            (*told, *(f"vehicle {doc.design.vehicle.name}{' in front' if doc is session.doc else ''}" for doc in session.docs))
        )

    def _lay_out(self) -> None:
        self.places, self._heads, y = [], [], 4.0
        for group in GROUPS:
            inside = [entry for entry in self._benches if entry.group == group]
            if not inside:
                continue
            self._heads.append((y + 13, group))
            y += HEAD
            for entry in inside:
                self.places.append((QRectF(0, y, self.width(), ROW - 2), "bench", entry.code))
                y += ROW
            y += 4
        y += 8
        for k, doc in enumerate(self._session.docs):
            self.places.append((QRectF(0, y + 20, self.width(), 24), "doc", str(k)))
            y += 26
            if doc is self._session.doc:
                for variant in doc.design.variants:
                    self.places.append((QRectF(14, y + 20, self.width() - 14, 22), "variant", variant.id))
                    y += 23
                self.places.append((QRectF(14, y + 20, self.width() - 14, 22), "new", ""))
                y += 27

    @painted
    def paintEvent(self, event: QPaintEvent, p: QPainter) -> None:
        p.fillRect(event.rect(), THEMES[self._session.theme_name].paper)
        theme, session = THEMES[self._session.theme_name], self._session
        entries = {entry.code: entry for entry in self._benches}
        p.setFont(font(12))
        p.setPen(theme.soft)
        for at, words in self._heads:
            p.drawText(QPointF(12, at), words)
        for k, (area, kind, key) in enumerate(self.places):
            on = (kind == "bench" and key == self.current) or (
                kind == "variant" and bool(session.docs) and key == session.design.variant().id
            )
            if on:
                p.setPen(Qt.PenStyle.NoPen)
                p.setBrush(theme.chosen)
                p.drawRoundedRect(area.adjusted(2, 0, -2, 0), 4, 4)
            if kind == "bench":
                if on:
                    p.fillRect(QRectF(area.left() + 2, area.top(), 3, area.height()), theme.ink)
                p.setFont(font(14, 600 if on else 400))
                p.setPen(theme.soft if self._why_not(entries[key]) else theme.ink)
                p.drawText(area.adjusted(16, 0, 0, 0), Qt.AlignmentFlag.AlignVCenter, entries[key].name)
                status = self.status_of(key)
                if status is not None:
                    status_mark(p, QPointF(area.right() - 16, area.center().y()), status, theme)
            elif kind == "doc":
                doc = session.docs[int(key)]
                active = doc is session.doc
                p.setFont(font(13, 600 if active else 400))
                p.setPen(theme.ink if active else theme.soft)
                name = f"{doc.design.vehicle.name}{' *' if doc.unsaved else ''}"
                p.drawText(area.adjusted(12, 0, -4, 0), Qt.AlignmentFlag.AlignVCenter, elided(name, font(13, 600), area.width() - 18))
            elif kind == "variant":
                variant = session.design.variant(key)
                p.setFont(font(12, 600 if on else 400))
                p.setPen(theme.ink if on else theme.soft)
                text = f"{variant.id}  {variant.name}"
                p.drawText(area.adjusted(8, 0, -4, 0), Qt.AlignmentFlag.AlignVCenter, elided(text, font(12, 600), area.width() - 14))
            else:
                p.setFont(font(12))
                p.setPen(theme.electrical)
                p.drawText(area.adjusted(8, 0, 0, 0), Qt.AlignmentFlag.AlignVCenter, "+ new variant")
            if self.hasFocus() and k == self._focused:
                p.setPen(pen(theme.electrical, 1.5))
                p.setBrush(Qt.BrushStyle.NoBrush)
                p.drawRoundedRect(area.adjusted(3, 1, -3, -1), 4, 4)
        first = next((area for area, kind, _ in self.places if kind == "doc"), None)
        if first is not None:
            p.setFont(font(12))
            p.setPen(theme.soft)
            p.drawText(QPointF(12, first.top() - 6), "Vehicles")

    def act(self, kind: str, key: str) -> None:
        """What a click or Return on a row does."""
        session = self._session
        if kind == "bench":
            self.asked.emit(key)
        elif kind == "doc":
            session.activate(int(key))
        elif kind == "variant" and key != session.design.variant().id:
            variant = session.design.variant(key)
            session.try_apply(Edit(label=f"Work on {variant.id} {variant.name}".rstrip(), changes=(("active", key),)))
        elif kind == "new":
            self.asked.emit("new-variant")

    def mousePressEvent(self, event: QMouseEvent) -> None:
        for area, kind, key in self.places:
            if area.contains(event.position()):
                self.act(kind, key)
                return

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        for area, kind, key in self.places:
            if area.contains(event.position()):
                self.setCursor(Qt.CursorShape.PointingHandCursor)
                if kind == "bench":
                    reason = next(self._why_not(entry) for entry in self._benches if entry.code == key)
                    QToolTip.showText(event.globalPosition().toPoint(), reason, self)
                if kind == "variant":
                    variant = self._session.design.variant(key)
                    QToolTip.showText(event.globalPosition().toPoint(), f"{variant.id} {variant.name}\n{variant.note}".strip(), self)
                elif kind == "doc":
                    doc = self._session.docs[int(key)]
                    QToolTip.showText(event.globalPosition().toPoint(), str(doc.path or "not saved yet"), self)
                return
        self.unsetCursor()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        n = len(self.places)
        if n and event.key() in (Qt.Key.Key_Down, Qt.Key.Key_Up):
            self._focused = (self._focused + (1 if event.key() == Qt.Key.Key_Down else -1)) % n
            self.update()
        elif n and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space):
            _, kind, key = self.places[min(self._focused, n - 1)]
            self.act(kind, key)
        else:
            super().keyPressEvent(event)
