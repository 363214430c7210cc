"""In plain words: a list to search, and two sentences with this design's own number."""

from __future__ import annotations

import re
from collections.abc import Sequence

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QDialog, QHBoxLayout, QLineEdit, QListWidget, QListWidgetItem, QVBoxLayout, QWidget

from wattagon.desk.fields import heading, lines_of_text, soft_line
from wattagon.desk.session import Session
from wattagon.desk.theme import font
from wattagon.study.plain.terms import Term, explain, terms, values_of

NAME = Qt.ItemDataRole.UserRole
NOBODY = "No vehicle is open: the sentences are without numbers of a design."


def on_screen(words: Sequence[str]) -> set[str]:
    """Names of the terms that stand in some texts."""
    text = " ".join(words).lower()
    found = set()
    for term in terms():
        for spelling in (term.name, *term.also):
            if re.search(rf"(?<![a-z]){re.escape(spelling.lower())}s?(?![a-z])", text):
                found.add(term.name)
    return found


class WordsWindow(QDialog):
    """Follows the session while it is open."""

    def __init__(self, session: Session, seen: Sequence[str] = (), parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self._seen = on_screen(seen)
        self.setWindowTitle("In plain words")
        self.setObjectName("plain-words")
        self.resize(640, 420)
        self.search = QLineEdit(objectName="words-search", placeholderText="Which word?", clearButtonEnabled=True)
        self.search.textChanged.connect(self._fill)
        self.list = QListWidget(objectName="words-list")
        self.list.setAccessibleName("Terms, those on the screen first")
        self.list.currentItemChanged.connect(self._show)
        self.title = heading("")
        self.says = lines_of_text("words-says")
        self.says.setFont(font(14))
        self.also = soft_line("", 12)
        left = QVBoxLayout()
        left.addWidget(self.search)
        left.addWidget(self.list, 1)
        right = QVBoxLayout()
        right.addWidget(self.title)
        right.addWidget(self.says)
        right.addWidget(self.also)
        right.addStretch(1)
        layout = QHBoxLayout(self)
        layout.addLayout(left, 2)
        layout.addLayout(right, 3)
        session.design_changed.connect(self._again)
        session.looks_changed.connect(self._again)
        self._fill("")

    def _fitting(self) -> list[Term]:
        docs = self._session.docs
        floats = self._session.design.vehicle.kind.floats if docs else None
        made = [one for one in terms() if floats is None or one.fits(floats=floats)]
        return sorted(made, key=lambda one: one.name not in self._seen)

    def _fill(self, text: str) -> None:
        wanted = text.lower().split()
        now = self.term
        self.list.clear()
        for one in self._fitting():
            spelled = " ".join((one.name, *one.also)).lower()
            if all(word in spelled for word in wanted):
                item = QListWidgetItem(one.name, self.list)
                item.setData(NAME, one.name)
                item.setFont(font(13, 600 if one.name in self._seen else 400))
        names = [self.list.item(k).data(NAME) for k in range(self.list.count())]
        if names:
            self.list.setCurrentRow(names.index(now.name) if now is not None and now.name in names else 0)
        else:
            self._show()

    @property
    def term(self) -> Term | None:
        """The one in hand."""
        item = self.list.currentItem()
        return next((one for one in terms() if item is not None and one.name == item.data(NAME)), None)

    def choose(self, name: str) -> None:
        """One by its name."""
        self.search.clear()
        for k in range(self.list.count()):
            if self.list.item(k).data(NAME) == name:
                self.list.setCurrentRow(k)

    def _again(self, _paths: object = None) -> None:
        self._show()

    def _show(self, *_items: object) -> None:
        term, study = self.term, self._session.study if self._session.docs else None
        if term is None:
            self.title.setText("")
            self.says.setText("There is no such word here; the list has those that stand on the screens.")
            self.also.setText("")
            return
        self.title.setText(term.name)
        self.says.setText(explain(term, values_of(study, self._session.say)) if study is not None else term.says)
        self.also.setText(f"also: {', '.join(term.also)}" if term.also else "" if study is not None else NOBODY)
