"""The history of the build as a line of time: what is due above today, what was below it."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QColor, QFocusEvent, QKeyEvent, QMouseEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import QFileDialog, QHBoxLayout, QLineEdit, QMenu, QPushButton, QScrollArea, QVBoxLayout, QWidget

from wattagon.design.paths import Edit
from wattagon.design.tree import Entry, EntryKind, Incident
from wattagon.desk.brief.entry import EntryDialog
from wattagon.desk.chart.ink import pen, put_text, wrapped
from wattagon.desk.chart.painted import painted
from wattagon.desk.following import Following
from wattagon.desk.passing import ask
from wattagon.desk.session import Session
from wattagon.desk.theme import THEMES, Theme, font
from wattagon.errors import WattagonError
from wattagon.exchange.history_csv import write_history
from wattagon.study.history.rules import today
from wattagon.study.history.study import Due, due, fresh_id, in_order, search, suspects, version_of

LINE, GAP, LEFT = 15.0, 9.0, 22.0
MOST_DUE = 2  # above today, before the entries are pushed out of sight
REST = "@due"  # stands for the place that shows the others; no entry can be called that
NOTHING = "Nothing yet. What was measured, ordered, ridden or broken goes here by date; what is due and what is suspect follows."
KIND_WORDS = {kind: kind.value.replace("_", " ") for kind in EntryKind}


class TimeLine(QWidget):
    """Painted: dots on a line, newest first; a click or Return opens an entry."""

    opened = Signal(str)  # id of an entry

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self.words = ""
        self.focused = 0
        self.all_due = False
        self._places: list[tuple[QRectF, str]] = []
        self.setObjectName("time-line")
        self.setAccessibleName("History of the build")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)

    def entries(self) -> list[Entry]:
        """Those that have the words that are searched for, newest first."""
        history = self._session.design.history if self._session.docs else ()
        return (search(history, self.words) if self.words.strip() else in_order(history))[::-1]

    def due(self) -> list[Due]:
        """What is to be done, the overdue last so that it stands next to today."""
        return due(self._session.design, today())[::-1] if self._session.docs and not self.words.strip() else []

    def spoken(self) -> str:
        """Its values as text."""
        told = [f"due {_when(one, self._session)}: {one.text}" for one in self.due()]
        return "; ".join([*told, *(f"{entry.date} {KIND_WORDS[entry.kind]}: {entry.text}" for entry in self.entries())])

    def show_words(self, words: str) -> None:
        """Only entries with these words."""
        self.words = words
        self.focused = 0
        self.refresh()

    def refresh(self) -> None:
        self.setAccessibleDescription(f"{len(self.entries())} entries, {len(self.due())} due")
        self.setMinimumHeight(int(self._laid_out(None)) + 6)
        self.update()

    def place(self, entry_id: str) -> QRectF:
        """Where an entry is painted."""
        return next((area for area, ident in self._places if ident == entry_id), QRectF())

    def resizeEvent(self, event: object) -> None:
        self.refresh()

    @painted
    def paintEvent(self, event: QPaintEvent, painter: QPainter) -> None:
        theme = THEMES[self._session.theme_name]
        painter.fillRect(event.rect(), theme.paper)
        self._laid_out(painter)

    def _laid_out(self, p: QPainter | None) -> float:
        """Paint, or only measure; the height."""
        theme, y = THEMES[self._session.theme_name], 4.0
        self._places = []
        if p is not None:
            p.setPen(pen(theme.rule, 1.6))
            p.drawLine(QPointF(8, 4), QPointF(8, self.height() - 6))
        every = self.due()
        hidden = 0 if self.all_due else max(len(every) - MOST_DUE, 0)
        if hidden:
            if p is not None:
                p.setPen(theme.electrical)
                put_text(p, LEFT, y + 11, f"{hidden} more {'is' if hidden == 1 else 'are'} due: show", font(12, 600))
            self._places.append((QRectF(2, y - 2, self.width() - 6, LINE + GAP), REST))
            y += LINE + GAP
        for one in every[hidden:]:
            colour = theme.over if one.overdue else theme.tight if one.soon else theme.soft
            y = self._block(p, theme, y, colour, _when(one, self._session), f"{one.text}: {one.how}" if one.how else one.text, hollow=True)
        now = self._session.docs and bool(self._session.design.history)
        if now and p is not None:
            p.setPen(pen(theme.electrical, 1.4))
            p.drawLine(QPointF(2, y + 2), QPointF(self.width() - 6, y + 2))
            p.setPen(theme.electrical)
            put_text(p, LEFT, y + 14, f"today, {today().isoformat()}", font(11, 600))
        y += 22.0 if now else 0.0
        doubted = {suspect.entry.id for suspect in suspects(self._session.design.history)} if self._session.docs else set()
        for entry in self.entries():
            colour = theme.tight if entry.id in doubted else theme.over if entry.kind is EntryKind.INCIDENT else theme.mechanical
            what = f"{entry.date}  {KIND_WORDS[entry.kind]}" + (f", {entry.incident}" if entry.incident else "")
            top = y
            told = entry.text + (f"  ({', '.join(entry.on)})" if entry.on else "")
            told += f"  {len(entry.pictures)} picture{'s' if len(entry.pictures) > 1 else ''}" if entry.pictures else ""
            y = self._block(p, theme, y, colour, what, told + (" - suspect until tested" if entry.id in doubted else ""))
            area = QRectF(2, top - 2, self.width() - 6, y - top - 2)
            self._places.append((area, entry.id))
            if p is not None and self.hasFocus() and len(self._places) - 1 == self.focused:
                p.setPen(pen(theme.electrical, 1.4))
                p.setBrush(Qt.BrushStyle.NoBrush)
                p.drawRoundedRect(area, 4, 4)
        if not self._session.docs or not self._session.design.history:
            words = NOTHING
            for line in wrapped(words, font(12), self.width() - LEFT - 10):
                if p is not None:
                    p.setPen(theme.soft)
                    put_text(p, LEFT, y + 12, line, font(12))
                y += LINE
        return y

    def _block(self, p: QPainter | None, theme: Theme, y: float, colour: QColor, head: str, text: str, *, hollow: bool = False) -> float:
        lines = wrapped(text, font(12), self.width() - LEFT - 12)
        if p is not None:
            p.setPen(pen(colour, 1.8))
            p.setBrush(theme.paper if hollow else colour)
            p.drawEllipse(QPointF(8, y + 7), 4.5, 4.5)
            p.setPen(colour if hollow else theme.soft)
            put_text(p, LEFT, y + 11, head, font(11, 600))
            p.setPen(theme.ink)
            for k, line in enumerate(lines):
                put_text(p, LEFT, y + 11 + LINE * (k + 1), line, font(12))
        return y + LINE * (len(lines) + 1) + GAP

    def mousePressEvent(self, event: QMouseEvent) -> None:
        found = next((ident for area, ident in self._places if area.contains(event.position())), "")
        if found:
            self.focused = [ident for _, ident in self._places].index(found)
            self._open(found)

    def _open(self, ident: str) -> None:
        if ident == REST:
            self.all_due = True
            self.refresh()
        else:
            self.update()
            self.opened.emit(ident)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down) and self._places:
            step = 1 if event.key() == Qt.Key.Key_Down else -1
            self.focused = min(max(self.focused + step, 0), len(self._places) - 1)
            self.update()
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.focused < len(self._places):
            self._open(self._places[self.focused][1])
        else:
            super().keyPressEvent(event)

    def focusInEvent(self, event: QFocusEvent) -> None:
        self.update()

    def focusOutEvent(self, event: QFocusEvent) -> None:
        self.update()


def _when(one: Due, session: Session) -> str:
    told = [one.day] if one.day else []
    told += [f"at {one.hours:g} h"] if one.hours == one.hours else []
    told += [f"at {session.say(one.distance, 'distance')}"] if one.distance == one.distance else []
    return f"{'overdue' if one.overdue else 'due'} {', '.join(told)}" + (", as usual" if one.usual else "")


class HistoryPanel(Following, QWidget):
    """The line of time, with what is looked for and a button for one more entry."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self.setObjectName("history")
        self.setMinimumWidth(270)
        self.line = TimeLine(session)
        self.line.opened.connect(self.open_entry)
        self.wanted = QLineEdit(objectName="history-search")
        self.wanted.setPlaceholderText("Search")
        self.wanted.setAccessibleName("Search the history")
        self.wanted.textChanged.connect(self.line.show_words)
        add = QPushButton("Add", objectName="add-entry")
        menu = QMenu(add)
        for kind, words in KIND_WORDS.items():
            menu.addAction(words.capitalize()).triggered.connect(lambda _on=False, kind=kind: self.add(kind))
        add.setMenu(menu)
        export = QPushButton("CSV", objectName="export-history")
        export.setToolTip("Write the history as a table")
        export.clicked.connect(self.export)
        head = QHBoxLayout()
        for widget in (self.wanted, add, export):
            head.addWidget(widget, 1 if widget is self.wanted else 0)
        area = QScrollArea(widgetResizable=True)
        area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        area.setWidget(self.line)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 4, 0, 0)
        layout.setSpacing(4)
        layout.addLayout(head)
        layout.addWidget(area, 1)
        session.design_changed.connect(self.followed)
        session.looks_changed.connect(self.followed)
        self.refresh()

    def refresh(self) -> None:
        self.line.refresh()

    def add(self, kind: EntryKind, told: Callable[[EntryDialog], object] = ask) -> None:
        """One more entry of a kind, asked for in a dialog."""
        if not self._session.docs:
            return
        design = self._session.design
        variant = design.variant()
        fresh = Entry(
            id=fresh_id(design.history),
            date=today().isoformat(),
            kind=kind,
            variant=variant.id,
            version=version_of(variant),
            incident=Incident.SHORT if kind is EntryKind.INCIDENT else None,
        )
        self._edit(fresh, f"Add to the history: {KIND_WORDS[kind]}", told)

    def open_entry(self, ident: str, told: Callable[[EntryDialog], object] = ask) -> None:
        """One entry, to be changed or taken out."""
        entry = next((entry for entry in self._session.design.history if entry.id == ident), None)
        if entry is not None:
            self._edit(entry, f"Change an entry of {entry.date}", told)

    def _edit(self, entry: Entry, label: str, told: Callable[[EntryDialog], object]) -> None:
        dialog = EntryDialog(self._session, entry, self)
        told(dialog)
        history = self._session.design.history
        if dialog.removed:
            kept = tuple(one for one in history if one.id != entry.id)
            self._session.try_apply(Edit(label="Take an entry out", changes=(("history", kept),)))
        elif dialog.made is not None:
            made = dialog.made
            there = any(one.id == entry.id for one in history)
            changed = tuple(made if one.id == entry.id else one for one in history) if there else (*history, made)
            self._session.try_apply(Edit(label=label, changes=(("history", changed),)))

    def export(self) -> None:
        """Write the entries that are shown as a table."""
        name, _ = QFileDialog.getSaveFileName(self, "Write the history", "history.csv", "Table (*.csv)")
        if name:
            self.export_to(name)

    def export_to(self, name: str) -> None:
        """Write them to a file; a refusal is told."""
        from pathlib import Path

        try:
            write_history(self.line.entries()[::-1], Path(name))
            self._session.told.emit(f"Wrote {name}", False)
        except WattagonError as refusal:
            self._session.told.emit(str(refusal), True)
