"""Why: the number large, its equation, what stands in it with values and marks, opened as deep as one likes, and the way to the fields."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Any

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QCloseEvent, QGuiApplication
from PySide6.QtWidgets import (
    QCompleter,
    QDialog,
    QHBoxLayout,
    QHeaderView,
    QLabel,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QPushButton,
    QTreeWidget,
    QTreeWidgetItem,
    QVBoxLayout,
    QWidget,
)

from wattagon.desk.fields import heading, lines_of_text, soft_line
from wattagon.desk.session import Session
from wattagon.desk.theme import font
from wattagon.desk.why.match import matches
from wattagon.desk.why.read import Read
from wattagon.desk.work import Worker
from wattagon.errors import WattagonError
from wattagon.exchange.why.answers import HOW, Numbers, gather, no_band, text_of, value_text, working_of
from wattagon.exchange.why.sampled import goal_of, sampled
from wattagon.exchange.why.subjects import Asked
from wattagon.study.drive.study import point_at
from wattagon.study.drive.words import goal_name
from wattagon.study.why.words import field_of
from wattagon.study.why.working import Term, Working, readable

NAME, TERM, FILLED = (Qt.ItemDataRole.UserRole + k for k in range(3))
WORKING = "It is being worked out once more, with every step taken down."
NOT_FOUND = "No number of this bench's studies is {0} to the digits that are shown. Those that there are can be looked for above."
CHOOSE = "Point at a number on the bench and press F4, or type the name of one above."
BETWEEN = "four times of six between {} and {}"
# which studies a bench shows
OF_BENCH = {
    "ride": ("", "ride"),
    "layout": ("", "layout"),
    "strength": ("", "strength"),
    "pack": ("", "pack"),
    "wiring": ("", "pack", "wiring"),
    "controller": ("", "settings"),
    "winding": ("", "winding"),
    "commission": ("", "commission"),
}


class WhyWindow(QDialog):
    """Follows the session while it is open."""

    asked = Signal(str, str)  # a bench, and what of it: where a field stands

    def __init__(self, session: Session, bench: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session, self._bench = session, bench
        self.numbers: Numbers | None = None
        self._read: Read | None = None
        self._wanted = ""
        self.shown = ""  # name of the number in hand
        self._trail: list[str] = []
        self.setWindowTitle("Why this number")
        self.setObjectName("why-window")
        self.resize(760, 560)
        self.search = QLineEdit(
            objectName="why-search", placeholderText="Which number?  such as top speed, goals, motor …", clearButtonEnabled=True
        )
        self.search.setAccessibleName("Name of a number")
        self.search.returnPressed.connect(self._typed)
        self.title, self.path, self.value = heading(""), soft_line("", 12), QLabel(objectName="why-value")
        self.value.setFont(font(26, 600))
        self.value.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        self.band = soft_line("", 13)
        self.band.setObjectName("why-band")
        self.says = lines_of_text("why-says")
        self.equation = lines_of_text("why-equation")
        self.equation.setFont(font(14))
        self.others = QListWidget(objectName="why-others")
        self.others.setAccessibleName("Other numbers that are shown so")
        self.others.setMaximumHeight(96)
        self.others.itemActivated.connect(self._other)
        self.others.itemClicked.connect(self._other)
        self.tree = QTreeWidget(objectName="why-terms", columnCount=4, uniformRowHeights=True)
        self.tree.setHeaderLabels(["stands for", "here", "known", "of the doubt"])
        self.tree.setAccessibleName("What stands in the equation")
        header = self.tree.header()
        header.setStretchLastSection(False)
        header.setSectionResizeMode(0, QHeaderView.ResizeMode.Stretch)
        for column in (1, 2, 3):
            header.setSectionResizeMode(column, QHeaderView.ResizeMode.ResizeToContents)
        self.tree.itemExpanded.connect(self._fill)
        self.tree.itemActivated.connect(self._opened)
        self.hint = soft_line("Return on a field goes to where it is entered; an arrow opens what is worked out.", 12)
        foot = QHBoxLayout()
        foot.addWidget(self.hint, 1)
        self.copy_button = QPushButton("Copy as text", objectName="why-copy", autoDefault=False)
        self.copy_button.clicked.connect(self.copy)
        close = QPushButton("Close", autoDefault=False)
        close.clicked.connect(self.close)
        foot.addWidget(self.copy_button)
        foot.addWidget(close)
        layout = QVBoxLayout(self)
        for part in (self.search, self.title, self.path, self.value, self.band, self.says, self.equation):
            layout.addWidget(part)
        layout.addWidget(self.tree, 1)
        layout.addWidget(self.others)
        layout.addLayout(foot)
        self.worker, self.sampler = Worker(self), Worker(self)
        self.worker.arrived.connect(self._arrived)
        self.sampler.arrived.connect(self._sampled)
        self._shares: dict[str, float] = {}
        session.design_changed.connect(self._changed)
        session.looks_changed.connect(self._relooked)
        self._say_only(CHOOSE)

    # what is asked

    def ask(self, bench: str, read: Read | None = None, name: str = "") -> None:
        """A number that was read on a bench, or one by its name; with neither the list of all."""
        self._bench, self._read, self._wanted = bench, read, name
        self._gather()

    def _gather(self) -> None:
        session = self._session
        if not session.docs or session.study is None:
            self.worker.cancel()
            self.numbers = None
            self._say_only(session.problem if session.docs else "No vehicle is open.")
            return
        self._say_only(WORKING)
        self.worker.start(_work(session, OF_BENCH.get(self._bench, ("",))))

    def _arrived(self, found: Any) -> None:
        if isinstance(found, str):
            self._say_only(found)
            return
        self.numbers = found
        names = list(found.results)
        completer = QCompleter(names, self, filterMode=Qt.MatchFlag.MatchContains, caseSensitivity=Qt.CaseSensitivity.CaseInsensitive)
        completer.activated.connect(self._chosen)
        self.search.setCompleter(completer)
        if self._wanted:
            self.show_number(self._wanted)
        elif self._read is not None:
            self._match(self._read)
        else:
            self._say_only(CHOOSE)

    def _match(self, read: Read) -> None:
        assert self.numbers is not None
        session = self._session
        heads = ("point", *(code for code in OF_BENCH.get(self._bench, ()) if code))
        found = matches(self.numbers, read, session.unit_set, session.design.brief.currency, heads)
        if not found:
            self._say_only(NOT_FOUND.format(read.text))
            return
        self.show_number(found[0], others=found[1:])

    def _changed(self, _paths: object = None) -> None:
        if self.isVisible():
            self._wanted, self._read = self.shown, None
            self._gather()

    def _relooked(self) -> None:
        if self.isVisible() and self.shown and self.numbers is not None:
            self.show_number(self.shown)

    def _typed(self) -> None:
        if self.numbers is None:
            return
        text = self.search.text().strip().lower().replace(" ", "_")
        name = next((one for one in self.numbers.results if one.lower() == text), "")
        name = name or next((one for one in self.numbers.results if text and text in one.lower()), "")
        if name:
            self.show_number(name)
        else:
            self._say_only(NOT_FOUND.format(f"called {self.search.text().strip()!r}"))

    def _chosen(self, name: str) -> None:
        self.show_number(name)

    def _other(self, item: QListWidgetItem) -> None:
        names = [self.others.item(k).data(NAME) for k in range(self.others.count())]
        chosen = item.data(NAME)
        self.show_number(chosen, others=[self.shown, *(name for name in names if name != chosen)])

    # what is shown

    def _say_only(self, words: str) -> None:
        self.shown = ""
        self.title.setText("Why this number")
        self.path.setText("")
        self.band.setText("")
        self.value.setText("")
        self.says.setText(words)
        self.equation.setText("")
        self.tree.clear()
        self.others.clear()
        self.others.hide()
        self.copy_button.setEnabled(False)

    def show_number(self, name: str, others: list[str] | None = None) -> None:
        """The working of one of the numbers."""
        assert self.numbers is not None
        try:
            node = self.numbers.node(name)
        except WattagonError as refusal:
            self._say_only(str(refusal))
            return
        self.shown = name
        one = working_of(node, name)
        self.title.setText(self._title(name))
        self.path.setText(f"{name}, as the terminal calls it")
        self.value.setText(self._value(one.value, name))
        self._show_band(name)
        words = " ".join(part for part in (one.says, HOW.get(one.how, "")) if part)
        self.says.setText(words)
        self.says.setVisible(bool(words))
        self.equation.setText(self._equation(one))
        self.equation.setVisible(bool(one.equation))
        self.tree.clear()
        self._rows(one, self.tree.invisibleRootItem())
        for k in range(self.tree.topLevelItemCount()):
            item = self.tree.topLevelItem(k)
            assert item is not None
            item.setExpanded(self.tree.topLevelItemCount() <= 9)
        self.others.clear()
        for other in others or ():
            told = f"{self._value(float(self.numbers.node(other)), other)}: {self.numbers.said(other).name}   ·   {other}"
            item_there = QListWidgetItem(told, self.others)
            item_there.setData(NAME, other)
        self.others.setVisible(bool(others))
        self.copy_button.setEnabled(True)

    def _show_band(self, name: str) -> None:
        """By the derivatives where they hold, else by sampling on the thread, where that is known how."""
        assert self.numbers is not None
        found = self.numbers.spread(name)
        self._shares = dict(found.shares) if found.whole else {}
        ends = [self._value(end, name) for end in (found.low, found.high)] if found.whole and found.width else []
        self.band.setText(BETWEEN.format(*ends) if ends else "")
        self.sampler.cancel()
        if found.whole:
            return
        design, stock = self.numbers.design, self.numbers.stock
        if goal_of(design, name) is None:
            self.band.setText(f"no band: {no_band(found)}")
            return
        self.band.setText("its band is being sampled")

        def work(cancelled: Callable[[], bool]) -> object:
            try:
                return name, sampled(design, stock, name, cancelled)
            except WattagonError:
                return name, None

        self.sampler.start(work)

    def _sampled(self, result: Any) -> None:
        name, one = result
        if name != self.shown or self.numbers is None:
            return
        ends = [] if one is None else [self._value(end, name) if math.isfinite(end) else "never" for end in (one.low, one.high)]
        self.band.setText(BETWEEN.format(*ends) if ends else "no band: the inputs contradict each other")

    def _title(self, name: str) -> str:
        """What it is called; of a goal with the goal's own words."""
        assert self.numbers is not None
        word = self.numbers.said(name).name
        goal = next((one for one in self._session.design.brief.goals if name.startswith(f"goals.{one.id}.")), None)
        return f"{goal_name(goal, self._session.say)}: {word}" if goal is not None else word[:1].upper() + word[1:]

    def _value(self, value: float, source: str) -> str:
        assert self.numbers is not None
        return value_text(self.numbers, value, source, self._session.say)

    def _equation(self, one: Working) -> str:
        assert self.numbers is not None
        return f"= {readable(one.equation, {term.symbol: self._label(term) for term in one.terms})}" if one.equation else ""

    def _label(self, term: Term) -> str:
        """A term's name in an equation: short, and its own where another is called so."""
        assert self.numbers is not None
        number = term.symbol.rsplit("_", 1)[-1]
        name = self.numbers.said(term.source).name.split(",")[0].split(" (")[0] if term.source else "part"
        return f"{name} {number}" if number.isdigit() else name

    def _rows(self, one: Working, under: QTreeWidgetItem) -> None:
        assert self.numbers is not None
        for term in one.terms:
            said, mark = self.numbers.said(term.source), self.numbers.mark(term.node)
            name = said.name if term.source else "part of it"
            label = self._label(term)
            words = name if name.startswith(label) else f"{label}: {name}"
            known = "" if mark is None else str(mark) if term.given else f"rests on {mark}"
            share = self._shares.get(term.source, 0.0)
            item = QTreeWidgetItem(under, [words, self._value(term.value, term.source), known, f"{share:.0%}" if share >= 0.005 else ""])
            item.setData(0, TERM, term)
            item.setTextAlignment(1, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
            item.setToolTip(0, term.source or "a part of the equation that has no name of its own")
            if term.given:
                item.setFont(0, font(13, 600))
            if term.opens:
                item.setChildIndicatorPolicy(QTreeWidgetItem.ChildIndicatorPolicy.ShowIndicator)

    def _fill(self, item: QTreeWidgetItem) -> None:
        """What a term is made of, when it is first opened."""
        term = item.data(0, TERM)
        if item.data(0, FILLED) or term is None or not term.opens:
            return
        item.setData(0, FILLED, True)
        one = working_of(term.node, term.source)
        line = QTreeWidgetItem(item, [self._equation(one), "", "", ""])
        line.setFont(0, font(13))
        line.setFlags(Qt.ItemFlag.ItemIsEnabled)
        line.setFirstColumnSpanned(True)
        line.setToolTip(0, one.says)
        self._rows(one, item)

    def _opened(self, item: QTreeWidgetItem, _column: int = 0) -> None:
        term = item.data(0, TERM)
        if term is None or self.numbers is None:
            return
        if not term.given:
            item.setExpanded(not item.isExpanded())
            return
        there = field_of(term.source, self._session.stock, self._session.design.active)
        if there is not None:
            self.asked.emit(*there)

    def copy(self) -> None:
        """The working as text, two levels deep."""
        if self.numbers is not None and self.shown:
            QGuiApplication.clipboard().setText(text_of(self.numbers, self.shown, self._session.say))
            self._session.told.emit("The working is copied as text.", False)

    def closeEvent(self, event: QCloseEvent) -> None:
        self.worker.stop()
        self.sampler.stop()
        super().closeEvent(event)


def _work(session: Session, codes: tuple[str, ...]) -> Callable[[Callable[[], bool]], object]:
    """What runs on the thread: everything it needs is taken from the session beforehand."""
    design, stock, say, moment = session.design, session.stock, session.say, session.moment
    ridden = moment.ridden

    def at(asked: Asked) -> Any:
        if ridden is not None:
            from wattagon.study.ride.study import point_of

            return point_of(asked.ride, ridden.row)
        return point_at(asked.drive.resolved, speed_m_s=moment.speed_m_s, grade=moment.grade, charge=moment.charge)

    def work(_cancelled: Callable[[], bool]) -> object:
        try:
            return gather(design, stock, codes, say, at, ridden.ride if ridden is not None else None)
        except WattagonError as refusal:
            return str(refusal)

    return work
