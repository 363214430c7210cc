"""Schools: the cheapest drive of each way to drive, searched on demand, beside a vehicle that could be bought."""

from __future__ import annotations

from functools import partial
from typing import Any

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QGridLayout, QHBoxLayout, QLabel, QLineEdit, QPushButton, QVBoxLayout, QWidget

from wattagon.design.paths import Edit
from wattagon.design.tree import ReadyMade
from wattagon.desk.compare.table import CompareTable
from wattagon.desk.fields import ValueField, scrolled, soft_line
from wattagon.desk.session import Session
from wattagon.desk.work import Worker
from wattagon.errors import WattagonError
from wattagon.study.compare.schools import Schooled, schools
from wattagon.study.compare.schools_words import ASSUMED, heads, school_rows

SEARCH = "Search the schools"
FIRST = "Each way to drive, its cheapest drive for this brief, what it asks of its maker. It takes some seconds."
OLD = "The design has changed since these were searched."
FIGURES = (
    ("price", "price"),
    ("mass", "mass"),
    ("unsprung", "on the driven axle"),
    ("top_speed", "top speed"),
    ("grade", "starts on"),
    ("range", "range"),
    ("upkeep", "upkeep in 1000 km"),
    ("hours", "hours until it rolls"),
)
WORDS = (("name", "called"), ("tools", "tools it needs"), ("wet", "hard in the wet"))


class ReadyFields(QWidget):
    """What its seller states, field by field; nothing where none is told."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._grid = QGridLayout(self)
        self._grid.setContentsMargins(0, 4, 0, 0)
        self._made_for: tuple[str, bool] = ("", False)
        self.words: dict[str, QLineEdit] = {}
        self.add = QPushButton(objectName="ready-add", autoDefault=False)
        self.add.clicked.connect(self._toggle)
        # hidden without one, and to be there as soon as there is one
        session.design_changed.connect(self._again)
        session.documents_changed.connect(self._again)
        self.refresh()

    def _again(self, _paths: object = None) -> None:
        self.refresh()

    @property
    def ready(self) -> ReadyMade | None:
        """The one of the brief."""
        return self._session.design.brief.ready if self._session.docs else None

    def refresh(self) -> None:
        self.add.setText("Leave the ready-made one out" if self.ready is not None else "Beside a ready-made vehicle …")
        key = (self._session.doc.key if self._session.docs else "", self.ready is not None)
        if key != self._made_for:
            self._made_for = key
            self._make()
        for name, field in self.words.items():
            if self.ready is not None and not field.hasFocus():
                field.setText(getattr(self.ready, name))

    def _make(self) -> None:
        while self._grid.count():
            item = self._grid.takeAt(0)
            widget = item.widget() if item is not None else None
            if widget is not None:
                widget.hide()
                widget.deleteLater()
        self.words = {}
        self.setVisible(self.ready is not None)
        if self.ready is None:
            return
        for k, (name, label) in enumerate((*WORDS, *FIGURES)):
            row, column = divmod(k, 6)
            title = QLabel(label)
            title.setProperty("voice", "soft")
            field: QWidget
            if (name, label) in WORDS:
                words = QLineEdit(objectName=f"ready-{name}", maxLength=120)
                words.editingFinished.connect(partial(self._named, name))
                field = self.words[name] = words
            else:
                field = ValueField(self._session, f"brief.ready.{name}", label)
                field.setObjectName(f"ready-{name}")
            field.setAccessibleName(f"{label} of the ready-made vehicle")
            self._grid.addWidget(title, 2 * row, column)
            self._grid.addWidget(field, 2 * row + 1, column)

    def _named(self, name: str) -> None:
        text = self.words[name].text().strip()
        if self.ready is not None and text != getattr(self.ready, name):
            self._session.try_apply(Edit(label="Ready-made vehicle", changes=((f"brief.ready.{name}", text),)))

    def _toggle(self) -> None:
        fresh = ReadyMade() if self.ready is None else None
        words = "A ready-made vehicle to weigh against" if fresh is not None else "Without the ready-made vehicle"
        self._session.try_apply(Edit(label=words, changes=(("brief.ready", fresh),)))


class SchoolsView(QWidget):
    """A table of them; what was found stays until it is searched again."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.found: tuple[Schooled, ...] = ()
        self._found_for: Any = None
        self.search = QPushButton(SEARCH, objectName="schools-search", autoDefault=False)
        self.search.clicked.connect(self.start)
        self.says = soft_line(FIRST, 12)
        self.table_view = CompareTable(session)
        self.fields = ReadyFields(session)
        self.keeps: list[QPushButton] = []
        head = QHBoxLayout()
        head.addWidget(self.search)
        head.addWidget(self.says, 1)
        head.addWidget(self.fields.add)
        self._foot = QHBoxLayout()
        self._foot.addStretch(1)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 6, 0, 0)
        layout.addLayout(head)
        layout.addWidget(self.fields)
        layout.addWidget(scrolled(self.table_view), 1)
        layout.addLayout(self._foot)
        self.worker = Worker(self)
        self.worker.arrived.connect(self._arrived)
        session.design_changed.connect(self._changed)
        session.looks_changed.connect(self._show)
        self._show()

    def start(self) -> None:
        """Search them, on a thread; a second time gives it up."""
        session = self._session
        if self.worker.running:
            self.worker.cancel()
            self.search.setText(SEARCH)
            self.says.setText("Given up.")
            return
        if not session.docs:
            return
        design, stock, say = session.design, session.stock, session.say
        self._found_for = design

        def work(cancelled: Any) -> object:
            try:
                return schools(design, stock, say, cancelled=cancelled)
            except WattagonError as refusal:
                return str(refusal)

        self.search.setText("Give up")
        self.says.setText("Searching one school after the other …")
        self.worker.start(work)

    def _arrived(self, result: object) -> None:
        self.search.setText(SEARCH)
        if isinstance(result, str):
            self.found = ()
            self._show(result)
        elif isinstance(result, tuple):
            self.found = result
            self._show()

    def _changed(self, _paths: object = None) -> None:
        self._show()

    def _show(self, problem: str = "") -> None:
        session = self._session
        ready = session.design.brief.ready if session.docs else None
        for button in self.keeps:
            self._foot.removeWidget(button)
            button.hide()
            button.deleteLater()
        self.keeps = []
        if not self.found:
            self.table_view.show_rows([], [], problem or (FIRST if session.docs else "No vehicle is open."))
            return
        self.table_view.show_rows(heads(self.found, ready), school_rows(self.found, ready, session.stock, session.say))
        same = session.docs and self._found_for is not None and _asks_alike(self._found_for, session.design)
        self.says.setText(ASSUMED if same else OLD)
        for one in self.found if same else ():
            if one.side is not None and one.school.code != "roller":
                button = QPushButton(f"Keep {one.school.name}", objectName=f"schools-keep-{one.school.code}", autoDefault=False)
                button.setToolTip("As a variant of this design")
                button.clicked.connect(partial(self._keep, one), Qt.ConnectionType.QueuedConnection)
                self._foot.addWidget(button)
                self.keeps.append(button)

    def _keep(self, one: Schooled, _checked: bool = False) -> None:
        from dataclasses import replace

        assert one.side is not None
        design = self._session.design
        fresh = design.free_variant_id()
        made = replace(one.side.design.variant(), id=fresh, name=one.school.name, note="The cheapest of its school.", based_on="")
        changes = (("variants", (*design.variants, made)), ("active", fresh))
        self._session.try_apply(Edit(label=f"Variant {fresh}: {one.school.name}", changes=changes))


def _asks_alike(before: Any, now: Any) -> bool:
    """Whether what a search goes by is the same; a ready-made vehicle beside it is not asked."""
    from dataclasses import replace

    return bool(replace(before.brief, ready=None) == replace(now.brief, ready=None) and before.vehicle == now.vehicle)
