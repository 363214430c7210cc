"""The levers: each value with one step down and one up, and what either would do, before it is taken."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QPointF, QRectF, Qt, QTimer, Signal
from PySide6.QtGui import QFocusEvent, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPolygonF, QResizeEvent
from PySide6.QtWidgets import QLineEdit, QSizePolicy, QToolTip, QWidget

from wattagon.design.paths import Edit
from wattagon.desk.chart.bars import paint_bars
from wattagon.desk.chart.ink import elided, pen, put_right, put_text, status_mark, straight, text_width
from wattagon.desk.chart.painted import painted
from wattagon.desk.drive.lever_words import Effect, effect, value_text
from wattagon.desk.session import Session
from wattagon.desk.theme import THEMES, Theme, font, with_alpha
from wattagon.errors import WattagonError
from wattagon.exchange import units
from wattagon.study.drive.levers import Lever, Preview
from wattagon.study.drive.words import goal_name, reached_words
from wattagon.study.findings.status import Status

CELL_H, LEAST_W, DRAG_PX = 92.0, 94.0, 26.0
ROOMY_W, TALL = 116.0, 740
STALE_MS = 150
ELECTRICAL = ("motor", "pack", "controller")


class LeverPanel(QWidget):
    """One cell a lever.  Keys: arrows left and right choose, up and down step, Enter types or picks.  Dragging a value steps it."""

    pointed = Signal(object)  # Preview of the step under the pointer or the keys, or None
    picking = Signal(str)  # a lever whose value is a part from stock

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self.focused = 0
        self._hover: tuple[int, int] | None = None  # cell, side
        self._drag: tuple[int, float, int, int] | None = None  # cell, x of the last step, gesture, steps
        self.editor: QLineEdit | None = None
        self._effects: dict[tuple[str, int], Effect | None] = {}
        self._shown: list[Lever] = []
        self._stale = False  # what is painted is older than the design, and the new has not come at once
        self._stale_timer = QTimer(self, singleShot=True, interval=STALE_MS)
        self._stale_timer.timeout.connect(self._grow_stale)
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)  # paints its own ground: quicker than letting five parents do it
        self.setObjectName("levers")
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName("Levers")
        self._fit()
        session.design_changed.connect(self._redesigned)
        for signal in (session.previews_changed, session.findings_changed, session.looks_changed):
            signal.connect(self.refresh)

    # layout

    def _columns(self) -> int:
        n = max(len(self._session.levers), 1)
        # one row more is worth it for words that can be read, where the window has the height
        least = ROOMY_W if self.window().height() >= TALL else LEAST_W
        most = max(1, int(self.width() / least))
        rows = max(1, -(-n // most))
        return -(-n // rows)

    def _rows(self) -> int:
        return -(-max(len(self._session.levers), 1) // self._columns())

    def _fit(self) -> None:
        self.setFixedHeight(int(self._rows() * CELL_H))

    def cell(self, k: int) -> QRectF:
        """Where the lever k is painted."""
        columns = self._columns()
        width = self.width() / columns
        return QRectF((k % columns) * width, (k // columns) * CELL_H, width, CELL_H).adjusted(2, 2, -3, -3)

    def half(self, k: int, side: int) -> QRectF:
        """Where the step down (0) or up (1) of lever k is painted and clicked."""
        area = self.cell(k)
        return QRectF(area.left() + side * area.width() / 2, area.top() + 20, area.width() / 2, area.height() - 20)

    def resizeEvent(self, event: QResizeEvent) -> None:
        self._fit()

    def _redesigned(self) -> None:
        """After an edit only cells whose own values changed are painted again; effects follow when they are known."""
        levers, before = self._session.levers, self._shown
        self.focused = min(self.focused, max(len(levers) - 1, 0))
        if [lever.code for lever in levers] != [lever.code for lever in before] or not self._session.previews:
            self._effects = {}
            self._fit()
            self.update()
        else:
            for k, (now, was) in enumerate(zip(levers, before, strict=True)):
                if (now.value, now.down_value, now.up_value) != (was.value, was.down_value, was.up_value):
                    self.update(self.cell(k).toAlignedRect())
        self._shown = list(levers)
        self._stale_timer.start()

    def _grow_stale(self) -> None:
        if self._session.previews_stale:
            self._stale = True
            self.update()

    def refresh(self) -> None:
        if not self._session.previews_stale:
            self._stale = False
            self._stale_timer.stop()
            self._effects = {(lever.code, side): effect(self._session, lever, side) for lever in self._session.levers for side in (0, 1)}
        if self.hasFocus():
            self._describe()
        if self._hover is not None and self._drag is None:
            self._point(*self._hover)
        self.update()

    def _describe(self) -> None:
        levers = self._session.levers
        if not levers:
            self.setAccessibleDescription("")
            return
        lever = levers[self.focused]
        parts = [f"{lever.label} {value_text(self._session, lever, lever.value)}"]
        for side, word in ((0, "down"), (1, "up")):
            found = self._effects.get((lever.code, side))
            if found is not None:
                parts.append(f"{word} to {value_text(self._session, lever, (lever.down_value, lever.up_value)[side])}: {found.words}")
        self.setAccessibleDescription("; ".join(parts))

    # painting

    @painted
    def paintEvent(self, event: QPaintEvent, painter: QPainter) -> None:
        painter.fillRect(event.rect(), THEMES[self._session.theme_name].paper)
        theme = THEMES[self._session.theme_name]
        dirty = QRectF(event.rect())
        for k, lever in enumerate(self._session.levers):
            if dirty.intersects(self.cell(k)):
                self._paint_cell(painter, theme, k, lever)

    def _paint_cell(self, painter: QPainter, theme: Theme, k: int, lever: Lever) -> None:
        area = self.cell(k)
        chosen = self.hasFocus() and k == self.focused
        painter.fillRect(area, theme.panel)
        tint = theme.electrical if lever.group in ELECTRICAL else theme.mechanical
        painter.fillRect(QRectF(area.left(), area.top(), area.width(), 2.0), with_alpha(tint, 0.75))
        if self._hover is not None and self._hover[0] == k and self._hover[1] in (0, 1):
            painter.fillRect(self.half(k, self._hover[1]).adjusted(0, 22, 0, 0), with_alpha(theme.chosen, 0.8))
        if chosen:
            painter.setPen(pen(theme.electrical, 1.6))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(area.adjusted(0.5, 0.5, -0.5, -0.5))
        left, width = area.left() + 7, area.width() - 14
        small, big = font(12), font(16, 600)
        painter.setPen(theme.soft)
        mark = {"stated": "typed", "assumed": "≈"}.get(lever.mark, lever.mark)
        room = width - (text_width(mark, small) + 6 if mark else 0)
        put_text(painter, left, area.top() + 16, elided(lever.label, small, room), small)
        if mark:
            painter.setPen(theme.clear if lever.mark == "measured" else theme.soft)
            put_right(painter, area.right() - 7, area.top() + 16, mark, small)
        painter.setPen(theme.ink)
        text = value_text(self._session, lever, lever.value)
        for face in (big, font(13, 600), font(12, 600)):
            if text_width(text, face) <= width - 30:
                break
        text = elided(text, face, width - 26)
        put_text(painter, area.center().x() - text_width(text, face) / 2, area.top() + 36, text, face)
        for side in (0, 1):
            self._paint_step(painter, theme, k, lever, side)
        straight(painter, area.center().x(), area.top() + 46, area.center().x(), area.bottom() - 3, pen(theme.rule, 1.0))

    def _paint_step(self, painter: QPainter, theme: Theme, k: int, lever: Lever, side: int) -> None:
        edit, value = ((lever.down, lever.down_value), (lever.up, lever.up_value))[side]
        half, area = self.half(k, side), self.cell(k)
        x = area.left() + 10 if side == 0 else area.right() - 10
        tip = -4.5 if side == 0 else 4.5
        arrow = QPolygonF([QPointF(x + tip, area.top() + 31), QPointF(x - tip, area.top() + 26), QPointF(x - tip, area.top() + 36)])
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.rule if edit is None else theme.ink)
        painter.drawPolygon(arrow)
        if edit is None:
            painter.setFont(font(11))
            painter.setPen(theme.soft)
            painter.drawText(half.adjusted(4, 24, -4, -14), Qt.AlignmentFlag.AlignCenter, "none")
            return
        left, width = half.left() + 5, half.width() - 9
        found = self._effects.get((lever.code, side))
        stale = self._stale
        words = "" if found is None else found.words
        if isinstance(value, str):
            head, face = value, font(11)
        else:
            head, face = units.number_text(value or 0.0, lever.dimension, self._session.unit_set), font(12, 600)
        painter.setPen(theme.ink)
        head = elided(head, face, width)
        put_text(painter, left, half.top() + 36, head, face)
        if found is None:
            return
        used = text_width(head, face)
        if not isinstance(value, str):
            paint_bars(painter, theme, QRectF(left + used + 5, half.top() + 24, max(width - used - 5, 0), 15), found.bars, stale=stale)
        colour = {Status.OVER: theme.over, Status.CLEAR: theme.clear}.get(found.status, theme.soft)
        if stale:
            colour = with_alpha(colour, 0.45)
        offset = 0.0
        if found.status in (Status.OVER, Status.CLEAR):
            status_mark(painter, QPointF(left + 4, half.top() + 50), found.status, theme, 4.0)
            offset = 11.0
        painter.setPen(colour)
        self._two_lines(painter, QPointF(left, half.top() + 54), offset, words, width)

    def _two_lines(self, painter: QPainter, at: QPointF, offset: float, words: str, width: float) -> None:
        tiny = font(11)
        first, rest = "", words.split()
        while rest and text_width(f"{first} {rest[0]}".strip(), tiny) <= width - offset:
            first = f"{first} {rest.pop(0)}".strip()
        if not first:
            first, rest = (rest[0] if rest else ""), rest[1:]
        put_text(painter, at.x() + offset, at.y(), elided(first, tiny, width - offset), tiny)
        if rest:
            put_text(painter, at.x(), at.y() + 11, elided(" ".join(rest), tiny, width), tiny)

    # pointing

    def _where(self, at: QPointF) -> tuple[int, int] | None:
        """(lever, 0 step down, 1 step up, 2 the value) under a point."""
        for k in range(len(self._session.levers)):
            area = self.cell(k)
            if area.contains(at):
                if at.y() < area.top() + 44 and area.left() + 18 < at.x() < area.right() - 18:
                    return k, 2
                return k, 0 if at.x() < area.center().x() else 1
        return None

    def _step_of(self, k: int, side: int) -> Edit | None:
        lever = self._session.levers[k]
        return (lever.down, lever.up)[side] if side in (0, 1) else None

    def _point(self, k: int, side: int) -> None:
        """Tell the goal strip and the map what is pointed at."""
        lever = self._session.levers[k] if k < len(self._session.levers) else None
        edit = self._step_of(k, side) if lever is not None else None
        preview: Preview | None = self._session.previews.get(lever.code, (None, None))[side] if lever and edit else None
        self.pointed.emit(preview)
        self._session.set_trial(edit)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._drag is not None:
            self._drag_to(event.position().x())
            return
        found = self._where(event.position())
        if found == self._hover:
            return
        self._hover = found
        self.update()
        if found is None or found[1] == 2:
            self.pointed.emit(None)
            self._session.set_trial(None)
            if found is not None:
                self.setCursor(Qt.CursorShape.SizeHorCursor)
            else:
                self.unsetCursor()
            return
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self._point(*found)
        QToolTip.showText(event.globalPosition().toPoint(), self.tip(*found), self)

    def tip(self, k: int, side: int) -> str:
        """All that a step would do."""
        lever, say = self._session.levers[k], self._session.say
        edit = self._step_of(k, side)
        if edit is None:
            return f"{lever.label}: no further step in stock"
        preview = self._session.previews.get(lever.code, (None, None))[side]
        lines = [edit.label]
        if preview is not None and preview.refused:
            lines.append(preview.refused)
        elif preview is not None and self._session.study is not None:
            for a, b in zip(self._session.study.goals, preview.beside(self._session.study.goals), strict=False):
                if a.reached != b.reached:
                    flip = "" if a.met == b.met else " (met)" if b.met else " (missed)"
                    lines.append(f"{goal_name(a.goal, say)}: {reached_words(a, say)} → {reached_words(b, say)}{flip}")
        broken = self._session.broken.get((lever.code, side))
        if broken is not None:
            lines.append(f"Over: {broken.title}")
        return "\n".join(lines)

    def leaveEvent(self, event: QEvent) -> None:
        self._hover = None
        self.pointed.emit(None)
        self._session.set_trial(None)
        self.update()

    # stepping

    def mousePressEvent(self, event: QMouseEvent) -> None:
        found = self._where(event.position())
        if event.button() is not Qt.MouseButton.LeftButton or found is None:
            return
        self._focus_on(found[0])
        self._drag = (found[0], event.position().x(), self._session.gesture(), 0)
        self.update()

    def _drag_to(self, x: float) -> None:
        assert self._drag is not None
        k, last, gesture, steps = self._drag
        if abs(x - last) < DRAG_PX:
            return
        self._session.hold_ghost()
        side = 1 if x > last else 0
        edit = self._step_of(k, side)
        self._session.set_trial(None)
        if edit is not None:
            self._session.try_apply(Edit(label=edit.label, changes=edit.changes, gesture=gesture))
        self._drag = (k, last + (DRAG_PX if side else -DRAG_PX), gesture, steps + 1)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if self._drag is None:
            return
        k, _, _, steps = self._drag
        self._drag = None
        self._session.drop_ghost()
        found = self._where(event.position())
        if steps == 0 and found is not None and found[0] == k and found[1] in (0, 1):
            self._take(k, found[1])

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        found = self._where(event.position())
        if found is not None and found[1] == 2:
            self._drag = None
            self.edit(found[0])
        else:
            self.mousePressEvent(event)

    def _take(self, k: int, side: int) -> None:
        edit = self._step_of(k, side)
        self._session.set_trial(None)
        if edit is not None:
            self._session.try_apply(edit)

    def _focus_on(self, k: int) -> None:
        self.focused = k
        self._session.take_in_hand(self._session.levers[k].code)

    def focusInEvent(self, event: QFocusEvent) -> None:
        if self._session.levers:
            self._focus_on(self.focused)
        self._describe()
        self.update()

    def focusOutEvent(self, event: QFocusEvent) -> None:
        self._session.drop_ghost()
        self.update()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        n, key = len(self._session.levers), Qt.Key(event.key())
        if not n:
            super().keyPressEvent(event)
        elif key in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            self._focus_on((self.focused + (1 if key == Qt.Key.Key_Right else -1)) % n)
            self._describe()
            self.update()
        elif key in (Qt.Key.Key_Up, Qt.Key.Key_Down, Qt.Key.Key_Plus, Qt.Key.Key_Minus):
            if not event.isAutoRepeat():
                self._session.drop_ghost()
            self._session.hold_ghost()
            self._take(self.focused, 1 if key in (Qt.Key.Key_Up, Qt.Key.Key_Plus) else 0)
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_F2):
            self.edit(self.focused)
        elif key == Qt.Key.Key_Escape and self.editor is not None:
            self._close_editor()
            self.setFocus()
        else:
            super().keyPressEvent(event)

    def keyReleaseEvent(self, event: QKeyEvent) -> None:
        if not event.isAutoRepeat() and event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down, Qt.Key.Key_Plus, Qt.Key.Key_Minus):
            self._session.drop_ghost()
        super().keyReleaseEvent(event)

    # free entry

    def edit(self, k: int) -> None:
        """Type a value with any unit, or pick the part from stock."""
        lever = self._session.levers[k]
        self._focus_on(k)
        if lever.dimension == "part":
            self.picking.emit(lever.code)
            return
        self._close_editor()
        area = self.cell(k)
        editor = QLineEdit(self, objectName="lever-entry")
        editor.setFont(font(14))
        editor.setText(value_text(self._session, lever, lever.value))
        editor.setGeometry(QRectF(area.left() + 4, area.top() + 18, area.width() - 8, 27).toRect())
        editor.setAccessibleName(lever.label)
        editor.selectAll()
        editor.show()
        editor.setFocus()
        editor.returnPressed.connect(self._typed)
        editor.editingFinished.connect(self._left_editor)
        self.editor = editor

    def _typed(self) -> None:
        editor = self.editor
        if editor is None:
            return
        if self.focused >= len(self._session.levers):  # the design changed under the entry
            self._close_editor()
            return
        lever = self._session.levers[self.focused]
        text = editor.text()
        try:
            if lever.dimension in ("teeth", "count", "S", "P"):
                value: float = units.whole(text, lever.dimension, lever.label)
            else:
                value = units.parse(text, lever.dimension, self._session.unit_set, field=lever.label)
            self._session.apply(Edit(label=f"{lever.label} {text.strip()}", changes=((lever.path, value),)))
        except WattagonError as refusal:
            editor.setProperty("refused", True)
            editor.style().polish(editor)
            self._session.told.emit(str(refusal), True)
            return
        self._close_editor()
        self.setFocus()

    def _left_editor(self) -> None:
        if self.editor is not None and not self.editor.hasFocus():
            self._close_editor()

    def _close_editor(self) -> None:
        if self.editor is not None:
            editor, self.editor = self.editor, None
            editor.hide()
            editor.deleteLater()
