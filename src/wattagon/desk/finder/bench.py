"""The finder bench: goals and what they remove, the found drives, the chosen one against the present, one press to take it."""

from __future__ import annotations

from dataclasses import replace

from PySide6.QtCore import Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QComboBox, QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from wattagon.design.paths import Edit
from wattagon.desk.fields import ElidedLabel
from wattagon.desk.finder.book import AXES, FinderBook
from wattagon.desk.finder.compare import Compare
from wattagon.desk.finder.scatter import Scatter
from wattagon.desk.finder.strangle import Strangle
from wattagon.desk.session import Session
from wattagon.desk.theme import font
from wattagon.study.finder.words import count_words, drive_words

SHELF = (("prefer", "shelf is free"), ("only", "shelf only"), ("ignore", "all at their price"))


class FinderBench(QWidget):
    """Searches when asked; a hit becomes a variant that undo takes back."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self.setObjectName("finder-bench")
        self.book = FinderBook(session, self)
        self.scatter, self.goals = Scatter(session, self.book), Strangle(session, self.book)
        self.picture = self.scatter
        layout = QVBoxLayout(self)
        layout.setContentsMargins(6, 2, 6, 4)
        layout.setSpacing(4)
        layout.addLayout(self._head())
        body = QHBoxLayout()
        body.setSpacing(6)
        body.addWidget(self.goals)
        body.addWidget(self.scatter, 1)
        layout.addLayout(body, 1)
        layout.addLayout(self._chosen())
        self.book.changed.connect(self._show)
        session.looks_changed.connect(self._show)
        session.design_changed.connect(self._show)
        self._show()

    def _head(self) -> QHBoxLayout:
        row = QHBoxLayout()
        row.setSpacing(4)
        title = QLabel("Finder")
        title.setFont(font(14, 600))
        row.addWidget(title)
        self.go = QPushButton("Search", objectName="finder-go")
        self.go.clicked.connect(self._go)
        row.addWidget(self.go)
        self.shelf = QComboBox(objectName="finder-shelf")
        self.shelf.setAccessibleName("What is owned")
        for code, words in SHELF:
            self.shelf.addItem(words, code)
        self.shelf.activated.connect(self._shelf_chosen)
        row.addWidget(self.shelf)
        self.state = ElidedLabel()
        self.state.setProperty("voice", "soft")
        row.addWidget(self.state, 1)
        self.axes: list[QComboBox] = []
        for k, words in enumerate(("across", "up")):
            label = QLabel(words)
            label.setProperty("voice", "soft")
            box = QComboBox(objectName=f"finder-{words}")
            box.setAccessibleName(f"Axis {words}")
            for code, (name, _) in AXES.items():
                box.addItem(name, code)
            box.setCurrentIndex(k)
            box.activated.connect(self._axes_chosen)
            row.addWidget(label)
            row.addWidget(box)
            self.axes.append(box)
        return row

    def _chosen(self) -> QVBoxLayout:
        column = QVBoxLayout()
        column.setSpacing(3)
        row = QHBoxLayout()
        self.words = ElidedLabel()
        self.words.setFont(font(13, 600))
        row.addWidget(self.words, 1)
        self.take = QPushButton("Take as variant", objectName="finder-take")
        self.take.setToolTip("A new variant with this drive, made active; undo takes it back")
        self.take.clicked.connect(self.take_it)
        row.addWidget(self.take)
        column.addLayout(row)
        self.compare = Compare(self._session, self.book)
        column.addWidget(self.compare)
        self.note = ElidedLabel()
        self.note.setProperty("voice", "soft")
        self.note.setFont(font(12))
        column.addWidget(self.note)
        return column

    # what is asked

    def _go(self) -> None:
        if self.book.running:
            self.book.cancel()
        else:
            self.book.search()

    def _shelf_chosen(self, index: int) -> None:
        self.book.shelf = str(self.shelf.itemData(index))
        self.book.search()

    def _axes_chosen(self) -> None:
        x, y = (str(box.currentData()) for box in self.axes)
        again = self.book.found is not None and not {x, y} <= {"cost", "mass", "margin", *self.book.axes}
        self.book.set_axes(x, y)
        if again:  # the non-dominated set is another one
            self.book.search()

    def take_it(self) -> None:
        """The chosen drive as a variant."""
        found, k = self.book.found, self.book.chosen
        if found is None or not 0 <= k < len(found.hits):
            return
        design, hit = self._session.design, found.hits[k]
        fresh = design.free_variant_id()
        base = design.variant()
        made = replace(
            hit.variant, id=fresh, name=f"Found for {self._session.say(hit.cost, 'money')}", based_on=base.id,
            note=f"From a search of {count_words(found.searched)} combinations: {drive_words(hit.variant, self._session.stock)}.",
        )  # fmt: skip
        if self._session.try_apply(
            Edit(label=f"Take {fresh} from the finder", changes=(("variants", (*design.variants, made)), ("active", fresh)))
        ):
            self._session.told.emit(f"Variant {fresh} is what you work on now", False)

    # what is shown

    def _show(self, _paths: object = None) -> None:
        book, session = self.book, self._session
        if not session.docs:
            return
        self.go.setText("Stop" if book.running else "Search again" if book.found is not None else "Search")
        found = book.found
        if book.problem:
            words = book.problem
        elif found is None:
            words = "every motor, tooth, cell and controller in stock"
        else:
            fit = (
                f"about {count_words(found.feasible)} fit" if found.feasible else "very few fit" if found.hits else "none fits"
            )
            words = f"{count_words(found.searched)} searched, {fit}" + (f", {found.front} worth a look" if found.hits else "")
            if book.stale:
                words = "The brief has changed since: search again. " + words
        self.state.setText(f"  {words}")
        self.state.setToolTip(words)
        self.note.setText(
            ""
            if found is None
            else f"Not searched: {', '.join(found.left_out)}."
            + (
                " Solid ones are beaten by none in cost, mass and margin. Press or arrow keys choose, Return takes."
                if found.hits
                else ""
            )
        )
        hit = found.hits[book.chosen] if found is not None and 0 <= book.chosen < len(found.hits) else None
        for part in (self.words, self.take, self.compare):
            part.setVisible(hit is not None)
        self.take.setEnabled(hit is not None and not book.running)
        self.words.setText(drive_words(hit.variant, session.stock) if hit is not None else "")

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Escape and self.book.running:
            self.book.cancel()
            return
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.scatter.hasFocus():
            self.take_it()
            return
        super().keyPressEvent(event)
