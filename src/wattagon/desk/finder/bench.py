"""The finder bench: what is asked for, the found drives, the chosen one against the present, its freedom, several compared."""

from __future__ import annotations

from dataclasses import replace

from PySide6.QtCore import Qt
from PySide6.QtGui import QHideEvent, QKeyEvent, QShowEvent
from PySide6.QtWidgets import QButtonGroup, QHBoxLayout, QLabel, QPushButton, QStackedWidget, QVBoxLayout, QWidget

from wattagon.design.paths import Edit
from wattagon.desk.bench import Bench
from wattagon.desk.fields import ElidedLabel, heading, soft_line
from wattagon.desk.finder.book import FinderBook
from wattagon.desk.finder.compare import HEIGHT as GOALS_HEIGHT
from wattagon.desk.finder.compare import Compare
from wattagon.desk.finder.differences import Differences
from wattagon.desk.finder.freedom import FreedomView
from wattagon.desk.finder.limits import Limits
from wattagon.desk.finder.pulls import PullsMap
from wattagon.desk.finder.scatter import Scatter
from wattagon.desk.finder.strangle import Strangle
from wattagon.desk.session import Session
from wattagon.desk.theme import font
from wattagon.study.finder.words import count_words, drive_words, estimate_words, missed_words

LEFT_WIDTH = 214
TALL = (GOALS_HEIGHT, 126, 44)  # of the views below the picture
TOO_MANY = 0.01  # of all combinations
HINT = "Ctrl and a press, or Space, marks to compare."


class FinderBench(Bench):
    """Searches when asked; a hit becomes a variant that undo takes back."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self.setObjectName("finder-bench")
        self.book = FinderBook(session, self)
        self.scatter, self.goals = Scatter(session, self.book), Strangle(session, self.book)
        self.limits, self.pulls = Limits(session, self.book), PullsMap(session, self.book)
        self.compare, self.freedom = Compare(session, self.book), FreedomView(session, self.book)
        self.differences = Differences(session, self.book)
        self.picture = self.scatter
        layout = QVBoxLayout(self)
        layout.setContentsMargins(6, 2, 6, 4)
        layout.setSpacing(4)
        layout.addLayout(self._head())
        body = QHBoxLayout()
        body.setSpacing(6)
        body.addWidget(self._asked())
        pictures = QHBoxLayout()
        pictures.setSpacing(4)
        pictures.addWidget(self.scatter, 3)
        pictures.addWidget(self.pulls, 2)
        body.addLayout(pictures, 1)
        layout.addLayout(body, 1)
        layout.addLayout(self._chosen())
        self.book.changed.connect(self._show)
        self.book.detailed.connect(self._tell_findings)
        session.looks_changed.connect(self._show)
        session.design_changed.connect(self._show)
        self._show()

    def _head(self) -> QHBoxLayout:
        row = QHBoxLayout()
        row.setSpacing(6)
        row.addWidget(heading("Finder"))
        self.go = QPushButton("Search", objectName="finder-go")
        self.go.clicked.connect(self._go)
        row.addWidget(self.go)
        self.state = soft_line()
        row.addWidget(self.state, 1)
        self.kv = QPushButton("Which kv would fit?", objectName="finder-kv")
        self.kv.setToolTip("Of the present motor's frame, rewound: tries every kv against the goals on the winding bench")
        self.kv.clicked.connect(self.ask_kv)
        row.addWidget(self.kv)
        return row

    def _switch(self, names: tuple[str, ...], prefix: str) -> tuple[QHBoxLayout, list[QPushButton]]:
        """A row of buttons of which one is down."""
        row, group, made = QHBoxLayout(), QButtonGroup(self), []
        row.setSpacing(3)
        for name in names:
            button = QPushButton(name, checkable=True, objectName=f"{prefix}-{name.lower()}")
            button.setProperty("size", "small")
            group.addButton(button)
            row.addWidget(button)
            made.append(button)
        made[0].setChecked(True)
        return row, made

    def _asked(self) -> QWidget:
        box = QWidget()
        box.setFixedWidth(LEFT_WIDTH)
        column = QVBoxLayout(box)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        row, self.pages = self._switch(("Goals", "Limits"), "finder-page")
        column.addLayout(row)
        self._left = QStackedWidget()
        self._left.addWidget(self.goals)
        self._left.addWidget(self.limits)
        for k, button in enumerate(self.pages):
            button.clicked.connect(lambda _=False, k=k: self._left.setCurrentIndex(k))
        column.addWidget(self._left, 1)
        return box

    def _chosen(self) -> QVBoxLayout:
        column = QVBoxLayout()
        column.setSpacing(3)
        row = QHBoxLayout()
        row.setSpacing(3)
        self.words = ElidedLabel()
        self.words.setFont(font(13, 600))
        row.addWidget(self.words, 1)
        self.back, self.which, self.on = QPushButton("<"), QLabel(), QPushButton(">")
        self.which.setFont(font(12))
        for button, by, words in ((self.back, -1, "Previous of the near-equal drives"), (self.on, 1, "Next of the near-equal drives")):
            button.setProperty("size", "small")
            button.setAccessibleName(words)
            button.setToolTip(words)
            button.clicked.connect(lambda _=False, by=by: self._along_row(by))
        self.take = QPushButton("Take as variant", objectName="finder-take")
        self.take.setToolTip("A new variant with this drive, made active; undo takes it back")
        self.take.clicked.connect(self.take_it)
        column.addLayout(row)
        second = QHBoxLayout()
        switch, self.views = self._switch(("Against now", "Freedom", "Differences"), "finder-view")
        second.addLayout(switch)
        self.note = soft_line()
        self.note.setFont(font(12))
        second.addWidget(self.note, 1)
        for part in (self.back, self.which, self.on, self.take):
            second.addWidget(part)
        column.addLayout(second)
        self._lower = QStackedWidget()
        for view in (self.compare, self.freedom, self.differences):
            self._lower.addWidget(view)
        for k, button in enumerate(self.views):
            button.clicked.connect(lambda _=False, k=k: self.show_view(k))
        column.addWidget(self._lower)
        self.show_view(0)
        return column

    def table(self) -> list[list[str]]:
        """The found drives, the best of each kind."""
        found, say = self.book.found, self._session.say
        if found is None:
            return []
        axes = self.book.axes_there()
        rows = [["drive", *(name for name, _ in axes.values())]]
        for row in found.rows:
            hit = found.hits[row[0]]
            figures = [say(hit.value(axis), dimension) for axis, (_, dimension) in axes.items()]
            rows.append([drive_words(hit.variant, self._session.stock), *figures])
        return rows

    def show_view(self, k: int) -> None:
        """0: the goals against now, 1: freedom, 2: differences."""
        self.views[k].setChecked(True)
        self._lower.setCurrentIndex(k)
        self._lower.setFixedHeight(self.differences.wanted_height() if k == 2 and self.book.marked else TALL[k])

    # what is asked

    def _go(self) -> None:
        if self.book.running:
            self.book.cancel()
        else:
            self.book.search()

    def ask_kv(self) -> None:
        """The winding bench tells which kv of this frame fits best."""
        if self._session.docs:
            self.asked.emit("winding", "best")

    def _along_row(self, by: int) -> None:
        row = self.book.row_of(self.book.chosen)
        self.book.choose(row[(row.index(self.book.chosen) + by) % len(row)])

    def take_it(self) -> None:
        """The chosen drive as a variant."""
        found, hit = self.book.found, self.book.hit
        if found is None or hit is None or self.book.running:
            return
        design = self._session.design
        fresh = design.free_variant_id()
        base = design.variant()
        missing = ""
        if hit.fails:
            name, missed = missed_words(design, found, hit, self._session.say)
            missing = f" It misses {name}: {missed}."
        made = replace(
            hit.variant,
            id=fresh,
            name=f"Found for {self._session.say(round(hit.cost), 'money')}",
            based_on=base.id,
            note=f"From a search of {count_words(found.searched)} combinations: {drive_words(hit.variant, self._session.stock)}.{missing}",
        )
        if self._session.try_apply(
            Edit(label=f"Take {fresh} from the finder", changes=(("variants", (*design.variants, made)), ("active", fresh)))
        ):
            self._session.told.emit(f"Variant {fresh} is what you work on now", False)

    def compare_marked(self) -> None:
        """The marked drives, else the chosen one, in the window that compares, beside the variant."""
        book, design = self.book, self._session.design
        marked = book.marked or ([book.chosen] if book.hit is not None and book.chosen is not None else [])
        if not marked:
            self._session.told.emit("Mark drives in the finder first: they are compared with the variant.", True)
            return
        made = []
        for n, k in enumerate(marked[:3]):
            variant = replace(book.points[k].variant, id=design.free_variant_id(), name=f"found {n + 1}")
            made.append((f"found {n + 1}", replace(design, variants=(*design.variants, variant), active=variant.id)))
        self.side_by_side.emit(made)

    # what is shown

    def _state_words(self) -> str:
        book, found = self.book, self.book.found
        if book.problem:
            return book.problem
        if found is None:
            floats = self._session.design.vehicle.kind.floats
            parts = "every motor, propeller" if floats else "every motor, one or two stages of teeth"
            return "searching ..." if book.running else f"{parts}, cell and controller in stock"
        if book.running:
            return f"searching {count_words(found.searched)} combinations, {len(found.hits)} found so far"
        fit = (
            f"{estimate_words(found.feasible, found.feasible_error)} fit"
            if found.feasible
            else "very few fit"
            if found.hits
            else "none fits"
        )
        words = (
            f"{count_words(found.searched)} searched, {fit}"
            + (f", {found.front} worth a look" if found.hits else "")
            + (f" among {len(found.rows)} kinds" if len(found.rows) > 1 else "")
        )
        if found.feasible > TOO_MANY * found.searched:
            words += "; more goals or limits would tell them apart"
        if not found.done:
            words = f"stopped early, {len(found.hits)} found so far"
        return f"Asked for something else since: search again. {words}" if book.stale else words

    def _show(self, _paths: object = None) -> None:
        book, session = self.book, self._session
        if not session.docs:
            return
        self.go.setText("Stop" if book.running else "Search again" if book.found is not None else "Search")
        words = self._state_words()
        self.state.setText(words)
        self.state.setToolTip(words)
        hit, found = book.hit, book.found
        left_out = f"Not searched: {', '.join(found.left_out)}." if found is not None else ""
        if found is not None and found.no_middle is not None:
            left_out = f"Through the bike's gears none: {found.no_middle(session.say)}. {left_out}"
        self.note.setText(HINT if hit is not None else left_out)
        self.note.setToolTip(
            f"Solid: none is better in both axes; hollow: the best of its kind; triangles give up one goal. {HINT} {left_out}"
        )
        for part in (self.words, self.take, self._lower, *self.views):
            part.setVisible(hit is not None)
        row = book.row_of(book.chosen)
        for part in (self.back, self.which, self.on):
            part.setVisible(hit is not None and len(row) > 1)
        if hit is not None:
            self.which.setText(f"{row.index(book.chosen) + 1} of {len(row)} alike")
            self.words.setText(drive_words(hit.variant, session.stock))
        self.take.setEnabled(hit is not None and not book.running)
        self.views[2].setText(f"Differences ({len(book.marked)})" if book.marked else "Differences")
        many = len(book.marked) > 1
        if many != self.pulls.isVisibleTo(self):
            self.pulls.setVisible(many)
            self.show_view(2 if many else 0)
        elif many and self._lower.currentIndex() == 2:
            self.show_view(2)
        self._tell_findings()

    def _tell_findings(self) -> None:
        """The findings of the chosen hit for the panel beside the bench; those of the design while there is none."""
        hit, detail = self.book.hit, self.book.detail
        if not self.isVisible() or hit is None:
            self.other_findings.emit(None)
        elif detail is not None and detail.row == hit.row:
            note = "Of the chosen drive, not of the variant. Rides are not among them: take it as a variant for those."
            self.other_findings.emit((detail.findings, "Findings: chosen", note))

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        self.book.watch(True)
        self._tell_findings()

    def hideEvent(self, event: QHideEvent) -> None:
        super().hideEvent(event)
        self.book.watch(False)
        self.other_findings.emit(None)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Escape and self.book.running:
            self.book.cancel()
            return
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.scatter.hasFocus():
            self.take_it()
            return
        super().keyPressEvent(event)
