"""What rides along, beside its drawing: a line each, and the fields of the one in hand."""

from __future__ import annotations

from dataclasses import replace
from functools import partial

from PySide6.QtCore import QSignalBlocker, Qt
from PySide6.QtWidgets import (
    QFormLayout,
    QHBoxLayout,
    QHeaderView,
    QMenu,
    QPushButton,
    QScrollArea,
    QToolButton,
    QTreeWidget,
    QTreeWidgetItem,
    QVBoxLayout,
    QWidget,
)

from wattagon.design.tree import BODIES, HELD, SIDES, Body
from wattagon.desk.fields import ChoiceField, ValueField, soft_line
from wattagon.desk.layout.drawing import LayoutDrawing
from wattagon.desk.passing import swap_contents
from wattagon.desk.session import Session
from wattagon.desk.theme import THEMES, font
from wattagon.exchange.units import number_text
from wattagon.study.layout.aboard import Aboard, with_body
from wattagon.study.layout.edits import with_layout

FIELDS = (
    ("x", "ahead"),
    ("y", "left"),
    ("z", "up"),
    ("length", "length"),
    ("width", "width"),
    ("height", "height"),
    ("mass", "mass"),
    ("plug_room", "room for plugs"),
)
CHOICES: tuple[tuple[str, str, list[tuple[object, str]]], ...] = (
    ("plugs", "plugs at", [("", "not told"), *[(side, side) for side in SIDES]]),
    ("out", "comes out at", [("", "not told"), *[(side, side) for side in SIDES]]),
    ("held", "held by", [("", "not told"), *[(how, how) for how in HELD]]),
)
WORDS = {"port": "charge port"}


class AboardPanel(QWidget):
    """Bodies of the layout."""

    def __init__(self, session: Session, drawing: LayoutDrawing) -> None:
        super().__init__()
        self._session, self._drawing = session, drawing
        self.setObjectName("layout-aboard")
        self.rows = QTreeWidget(objectName="bodies", rootIsDecorated=False, uniformRowHeights=True)
        self.rows.setHeaderLabels(["", "size", "mass"])
        self.rows.setAccessibleName("What rides along")
        self.rows.setFont(font(12))
        head = self.rows.header()
        head.setStretchLastSection(False)
        head.setSectionResizeMode(0, QHeaderView.ResizeMode.Stretch)
        for column in (1, 2):
            head.setSectionResizeMode(column, QHeaderView.ResizeMode.ResizeToContents)
        self.rows.currentItemChanged.connect(self._chosen)
        self.add_button = QToolButton(text="Add", objectName="add-body", popupMode=QToolButton.ToolButtonPopupMode.InstantPopup)
        menu = QMenu(self.add_button)
        for kind in BODIES:
            menu.addAction(WORDS.get(kind, kind).capitalize()).triggered.connect(partial(self.add, kind))
        self.add_button.setMenu(menu)
        self.remove_button = QPushButton("Remove", objectName="remove-body")
        self.remove_button.clicked.connect(self.remove)
        self.take_button = QPushButton("Take as drawn", objectName="take-body")
        self.take_button.setToolTip("Writes the proposed place and size down, to be corrected by measuring")
        self.take_button.clicked.connect(self.take)
        self.balance = soft_line("", 12)
        self.form = QScrollArea(objectName="body-form", widgetResizable=True)
        self.form.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self._shown: tuple[object, ...] | None = None
        row = QHBoxLayout()
        for button in (self.add_button, self.take_button, self.remove_button):
            row.addWidget(button)
        row.addStretch(1)
        rows = QVBoxLayout(self)
        rows.setContentsMargins(6, 6, 6, 4)
        rows.setSpacing(4)
        rows.addWidget(self.rows, 2)
        rows.addWidget(self.balance)
        rows.addLayout(row)
        rows.addWidget(self.form, 3)

    def _bodies(self) -> tuple[Aboard, ...]:
        found = self._drawing.found
        return found.scene.bodies if found is not None else ()

    def refresh(self) -> None:
        """The rows of the design, the fields of the one in hand."""
        bodies, say, hand = self._bodies(), self._session.say, self._drawing.body
        with QSignalBlocker(self.rows):
            self.rows.clear()
            for k, one in enumerate(bodies):
                flat = [number_text(side, "length", self._session.unit_set) for side in (one.length, one.width)]
                item = QTreeWidgetItem([one.name, " × ".join([*flat, say(one.height, "length")]), say(one.mass_kg, "mass")])
                item.setTextAlignment(2, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
                if one.missing:
                    soft = THEMES[self._session.theme_name].soft
                    for column in range(3):
                        item.setForeground(column, soft)
                    item.setToolTip(0, f"its {one.missing} is only proposed")
                self.rows.addTopLevelItem(item)
                if k == hand:
                    self.rows.setCurrentItem(item)
        found = self._drawing.found
        if found is not None:
            at, origin = found.balance, "axle" if found.scene.berth is None else "transom"
            aside = "" if abs(at.y) < 5e-4 else f", {say(abs(at.y), 'length')} {'left' if at.y > 0 else 'right'}"
            mass, ahead = say(at.mass_kg, "mass"), say(at.x, "length")
            self.balance.setText(f"Drive and what rides along: {mass}, {ahead} ahead of the {origin}{aside}")
        held = bodies[hand] if 0 <= hand < len(bodies) else None
        self.take_button.setEnabled(held is not None and bool(held.missing))
        self.remove_button.setEnabled(held is not None and held.index >= 0)
        shown = (held.index, held.kind) if held is not None else ()
        if shown != self._shown:
            self._shown = shown
            self._build(held)

    def _build(self, one: Aboard | None) -> None:
        page = QWidget()
        form = QFormLayout(page)
        form.setContentsMargins(0, 4, 4, 4)
        form.setVerticalSpacing(3)
        if one is None or one.index < 0:
            words = "Choose a line, or a box on the drawing." if one is None else "Drag it where it goes, or take it as it is drawn."
            form.addRow(soft_line(words, 12))
        else:
            base = f"variant.layout.bodies.{one.index}"
            form.addRow("name", ValueField(self._session, f"{base}.name", "name", fallback=one.kind))
            for name, words in FIELDS:
                form.addRow(words, ValueField(self._session, f"{base}.{name}", words, fallback=self._usual(one, name)))
            for name, words, choices in CHOICES:
                form.addRow(words, ChoiceField(self._session, f"{base}.{name}", words, choices))
        swap_contents(self.form, page)

    def _usual(self, one: Aboard, name: str) -> str:
        value = {"mass": one.mass_kg, "plug_room": 0.035}.get(name)
        return self._session.say(value if value is not None else getattr(one, name), "mass" if name == "mass" else "length")

    def _chosen(self, item: QTreeWidgetItem | None) -> None:
        self._drawing.take_body(self.rows.indexOfTopLevelItem(item) if item is not None else -1)
        self.refresh()

    def add(self, kind: str, _on: bool = False) -> None:
        """One more of a kind where such things commonly go."""
        layout = self._drawing.layout_now()
        if self._session.try_apply(
            with_layout(self._session.design, replace(layout, bodies=(*layout.bodies, Body(kind=kind))), f"{kind.capitalize()} aboard")
        ):
            bodies = self._bodies()
            last = max((k for k, one in enumerate(bodies) if one.index == len(layout.bodies)), default=-1)
            self._drawing.take_body(last)
            self.take()

    def take(self) -> None:
        """The proposal in hand, written down."""
        hand, bodies = self._drawing.body, self._bodies()
        if 0 <= hand < len(bodies):
            kind, name = bodies[hand].kind, bodies[hand].name
            layout = with_body(self._drawing.layout_now(), bodies, hand)
            self._session.try_apply(with_layout(self._session.design, layout, f"{name[0].upper()}{name[1:]} as drawn"))
            self._hold(kind, name)

    def _hold(self, kind: str, name: str) -> None:
        self._drawing.take_body(next((k for k, one in enumerate(self._bodies()) if (one.kind, one.name) == (kind, name)), -1))
        self.refresh()

    def remove(self) -> None:
        """The one in hand."""
        hand, bodies, layout = self._drawing.body, self._bodies(), self._drawing.layout_now()
        if 0 <= hand < len(bodies) and bodies[hand].index >= 0:
            index = bodies[hand].index
            kept = layout.bodies[:index] + layout.bodies[index + 1 :]
            name = bodies[hand].name
            self._drawing.take_body(-1)
            self._session.try_apply(
                with_layout(self._session.design, replace(layout, bodies=kept), f"{name[0].upper()}{name[1:]} taken off")
            )
            self.refresh()
