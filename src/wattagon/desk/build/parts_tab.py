"""The parts list as a table: state, gate, money, delivery; a row is opened by Return, its notes stand beside it."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QBrush, QKeyEvent
from PySide6.QtWidgets import (
    QAbstractItemView,
    QGridLayout,
    QHBoxLayout,
    QHeaderView,
    QInputDialog,
    QLabel,
    QLineEdit,
    QMenu,
    QPushButton,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from wattagon.design.gate import measure_first
from wattagon.design.paths import Edit
from wattagon.design.tree import OwnPart, PartState
from wattagon.desk.build.tab import Tab
from wattagon.desk.fields import lines_of_text, refuse, scrolled, soft_line
from wattagon.desk.session import Session
from wattagon.desk.theme import THEMES, font
from wattagon.errors import InputError, WattagonError
from wattagon.exchange import units
from wattagon.study.build.drags import others
from wattagon.study.build.mark import mark_part, note_part, words_of
from wattagon.study.build.study import BuildStudy, Part

HEADS = ("state", "part", "count", "price", "comes", "measure first")
ORDER = (PartState.SHELF, PartState.TO_ORDER, PartState.ORDERED, PartState.ARRIVED, PartState.FITTED)


class _Table(QTableWidget):
    """Return and Space open the states of a row."""

    opened = Signal()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space):
            self.opened.emit()
        else:
            super().keyPressEvent(event)


class PartsTab(Tab):
    """All rows, and one of them beside."""

    title = "Parts"
    measure_asked = Signal(str)

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.table = _Table(0, len(HEADS), objectName="parts-table")
        self.table.setAccessibleName("parts list")
        self.table.setHorizontalHeaderLabels(HEADS)
        self.table.verticalHeader().hide()
        self.table.verticalHeader().setDefaultSectionSize(23)
        self.table.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.table.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        self.table.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.table.setShowGrid(False)
        self.table.horizontalHeader().setSectionResizeMode(1, QHeaderView.ResizeMode.Stretch)
        for k, wide in ((0, 78), (2, 46), (3, 86), (4, 62), (5, 132)):
            self.table.setColumnWidth(k, wide)
        self.table.itemSelectionChanged.connect(self._chosen)
        self.table.opened.connect(self._menu)
        self.table.doubleClicked.connect(lambda _at: self._menu())
        self.side = self._beside()
        row = QHBoxLayout(self)
        row.setContentsMargins(6, 2, 6, 2)
        row.addWidget(self.table, 1)
        row.addWidget(self.side)
        self._shown: object = None

    def _beside(self) -> QWidget:
        side = QWidget()
        self.name = QLabel(wordWrap=True)
        self.name.setFont(font(13, 600))
        self.state = QPushButton("", objectName="part-state")
        self.state.clicked.connect(self._menu)
        self.measure = QPushButton("", objectName="part-measure")
        self.measure.clicked.connect(self._measure)
        self.reason = lines_of_text("part-reason")
        self.asks = lines_of_text("part-asks")
        grid = QGridLayout()
        grid.setVerticalSpacing(3)
        self.fields = {}
        for k, (key, words) in enumerate((("price", "paid for one"), ("lead_days", "comes in, days"), ("seller", "seller, note"))):
            grid.addWidget(soft_line(words, 12), k, 0)
            field = QLineEdit(objectName=f"part-{key}")
            field.setAccessibleName(words)
            field.setFixedWidth(116)
            field.editingFinished.connect(partial(self._typed, key, field))
            self.fields[key] = field
            grid.addWidget(field, k, 1)
        own = QPushButton("A row of your own …", flat=True, objectName="own-part")
        own.clicked.connect(self.ask_own)
        inner = QVBoxLayout(side)
        inner.setContentsMargins(4, 0, 0, 0)
        inner.setSpacing(4)
        for one in (self.name, self.state, self.measure, self.reason):
            inner.addWidget(one)
        inner.addLayout(grid)
        inner.addWidget(self.asks)
        inner.addStretch(1)
        inner.addWidget(own)
        area = scrolled(side)
        area.setFixedWidth(252)
        return area

    @property
    def part(self) -> Part | None:
        """The chosen row."""
        rows = self.table.selectionModel().selectedRows()
        if self.found is None or not rows:
            return None
        code = self.table.item(rows[0].row(), 0).data(Qt.ItemDataRole.UserRole)
        return next((one for one in self.found.parts if one.row.id == code), None)

    def choose(self, row: str) -> None:
        """Bring a row into view."""
        for k in range(self.table.rowCount()):
            if self.table.item(k, 0).data(Qt.ItemDataRole.UserRole) == row:
                self.table.selectRow(k)
                self.table.scrollToItem(self.table.item(k, 0))
                return

    def show_build(self, found: BuildStudy | None) -> None:
        super().show_build(found)
        if found is None:
            self.table.setRowCount(0)
            self._chosen()
            return
        shown = (found.parts, self.session.unit_set, self.session.theme_name)
        if shown != self._shown:
            self._shown = shown
            kept = self.part.row.id if self.part is not None else found.parts[0].row.id if found.parts else ""
            self.table.blockSignals(True)
            self.table.setRowCount(len(found.parts))
            for k, part in enumerate(found.parts):
                self._fill(k, part)
            self.choose(kept)
            self.table.blockSignals(False)
        self._chosen()

    def _fill(self, k: int, part: Part) -> None:
        theme, say, row = THEMES[self.session.theme_name], self.session.say, part.row
        closed = part.missing and part.state is PartState.TO_ORDER
        first = ", ".join(_named(path) for path in part.missing)
        if part.mark.reason:
            first = f"{part.mark.reason} ({first})" if first else part.mark.reason
        made = "≈ " if row.assumed else ""
        cells = (
            words_of(part, part.state),
            row.name,
            f"{row.count:g}{f' {row.unit}' if row.unit else ''}",
            "" if part.owned >= row.count else f"{made}{say(row.count * part.price, 'money')}",
            "here" if part.here else "made" if row.made else f"{part.lead_days} days",
            first,
        )
        for j, text in enumerate(cells):
            item = QTableWidgetItem(text)
            item.setFont(font(12, 600 if j == 0 and part.state is PartState.TO_ORDER else 400))
            if j in (2, 3, 4):
                item.setTextAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
            if j == 0:
                item.setData(Qt.ItemDataRole.UserRole, row.id)
            if j == 5 and (closed or part.mark.reason):
                item.setForeground(QBrush(theme.tight))
            elif part.here:
                item.setForeground(QBrush(theme.soft))
            item.setToolTip(f"{text}: {row.used}" if j == 1 else text)
            self.table.setItem(k, j, item)

    def _chosen(self) -> None:
        part = self.part
        self.side.setEnabled(part is not None)
        if part is None:
            return
        self.name.setText(part.row.name)
        since = f", {part.mark.date}" if part.mark.date else ""
        self.state.setText(f"{words_of(part, part.state).capitalize()}{since} …")
        missing = part.missing
        self.measure.setVisible(bool(missing))
        if missing:
            self.measure.setText(f"Measure first: {_named(missing[0])}")
        reason = f"Ordered before it was measured: {part.mark.reason}" if part.mark.reason and part.missing else part.mark.reason
        self.reason.setText(reason)
        self.reason.setVisible(bool(reason))
        say = self.session.say
        _put(self.fields["price"], "" if part.mark.price is None else say(part.mark.price, "money"), say(part.row.price, "money"))
        _put(self.fields["lead_days"], "" if part.mark.lead_days is None else str(part.mark.lead_days), str(part.row.lead_days))
        _put(self.fields["seller"], part.mark.seller, "")
        asks = [f"for: {part.row.used}", *(f"asks for {words}" for words in part.row.drags)]
        sooner = others(self.session.stock, part.row.part) if part.row.part and not part.here else []
        asks += [f"sooner: {one.name}, {one.lead_days} days, {say(one.price, 'money')}" for one in sooner[:2]]
        self.asks.setText("\n".join(asks))

    # what a hand does

    def _menu(self) -> None:
        part = self.part
        if part is None:
            return
        menu = QMenu(self)
        for state in ORDER:
            action = menu.addAction(words_of(part, state), partial(self.mark, state))
            action.setCheckable(True)
            action.setChecked(part.state is state)
        menu.exec(self.table.viewport().mapToGlobal(self.table.visualItemRect(self.table.currentItem()).bottomLeft()))

    def mark(self, state: PartState) -> None:
        """Another state; a closed gate asks for a reason or opens the measure."""
        part = self.part
        if part is None:
            return
        design = self.session.design
        missing = measure_first(design, design.variant(), part.row.id)
        if state in (PartState.ORDERED, PartState.ARRIVED) and missing and not part.mark.reason and not part.row.made:
            self._ask_reason(part, state, missing)
            return
        self.take(lambda: mark_part(design, part, state, self.today))

    def _ask_reason(self, part: Part, state: PartState, missing: tuple[str, ...]) -> None:
        names = ", ".join(_named(path) for path in missing)
        text, good = QInputDialog.getText(
            self, part.row.name, f"Not measured yet: {names}.\nMeasure it first, or give a reason that stays with the part:"
        )
        if good:
            self.mark_with(state, text)

    def mark_with(self, state: PartState, reason: str) -> bool:
        """A state with a reason; without one it is refused."""
        part = self.part
        return part is not None and self.take(lambda: mark_part(self.session.design, part, state, self.today, reason))

    def _measure(self) -> None:
        part = self.part
        if part is not None and part.missing:
            self.measure_asked.emit(part.missing[0])

    def _typed(self, key: str, field: QLineEdit) -> None:
        part = self.part
        if part is None or not field.isModified():
            return
        text = field.text().strip()
        try:
            value: object = text
            if key == "price":
                value = None if not text else units.parse(text, "money", field="paid for one")
            elif key == "lead_days":
                value = None if not text else units.whole(text, "days", "comes in, days")
        except WattagonError as refusal:
            self.session.told.emit(str(refusal), True)
            refuse(field, True)
            return
        taken = self.take(lambda: note_part(self.session.design, part, **{key: value}))
        refuse(field, not taken)
        field.setModified(not taken)

    def ask_own(self) -> None:
        """Name, count, price, mass."""
        text, good = QInputDialog.getText(
            self, "A row of your own", "Name; how many; price of one; mass of one, such as: basket; 1; 30; 0.8 kg"
        )
        if good:
            self.own(text)

    def own(self, text: str) -> bool:
        """From `name; count; price; mass`."""

        def made() -> Edit:
            name, count, price, mass = (*(word.strip() for word in text.split(";")), "", "", "", "")[:4]
            if not name:
                raise InputError("name", "nothing", "what it is")
            have = self.session.design.variant().own_parts
            stem = "".join(c if c.isascii() and c.isalnum() else "-" for c in name.lower()).strip("-")[:30] or "part"
            stem = stem if not stem.isdigit() else f"part-{stem}"
            code = next(c for c in (stem, *(f"{stem}-{k}" for k in range(2, 300))) if c not in {one.id for one in have})
            part = OwnPart(
                id=code,
                name=name,
                count=units.whole(count, "number", "how many") if count else 1,
                price=units.parse(price, "money", field="price") if price else 0.0,
                mass=units.parse(mass, "mass", self.session.unit_set, field="mass") if mass else 0.0,
            )
            return Edit(label=f"Own part: {name}", changes=(("variant.own_parts", (*have, part)),))

        return self.take(made)


def _named(path: str) -> str:
    return "where the motor stands" if path == "variant.layout.motor" else path.rsplit(".", 1)[-1].replace("_", " ")


def _put(field: QLineEdit, text: str, hint: str) -> None:
    if field.hasFocus() and field.isModified():
        return
    field.setText(text)
    field.setPlaceholderText(hint)
    refuse(field, False)
