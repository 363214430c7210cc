"""The workshop that there is: machines with their sizes, hours, and places that do jobs."""

from __future__ import annotations

import functools
from collections.abc import Callable

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QCheckBox, QGridLayout, QLabel, QPushButton, QScrollArea, QToolButton, QVBoxLayout, QWidget

from wattagon.design.paths import Edit
from wattagon.design.tree.workshop import JobPlace, Lathe, Mill, Printer, PrintMaterial
from wattagon.desk.fields import ValueField
from wattagon.desk.following import Following
from wattagon.desk.passing import swap_contents
from wattagon.desk.session import Session
from wattagon.desk.theme import font

BASE = "brief.workshop"
# machines with sizes: name, words, a fresh one, its sizes
MACHINES: tuple[tuple[str, str, Callable[[], object], tuple[str, ...]], ...] = (
    ("printer", "printer", Printer, ("bed_x", "bed_y", "height", "loose", "holes_by")),
    ("mill", "mill or router", Mill, ("field_x", "field_y", "cutter")),
    ("lathe", "lathe", Lathe, ("swing", "between")),
)
TOOLS = (
    ("drill_press", "drill press"),
    ("welder", "welder"),
    ("crimper", "crimper"),
    ("spot_welder", "spot welder"),
    ("soldering", "soldering iron"),
)
SIZE_WORDS = {"bed_x": "across", "bed_y": "deep", "height": "high", "field_x": "across", "field_y": "deep", "cutter": "cutter"}
SIZE_WORDS |= {"swing": "diameter", "between": "between", "loose": "flanks", "holes_by": "bores +"}


class WorkshopPanel(Following, QWidget):
    """Machines are ticked; a machine that is there has its sizes beside it."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self._shown: object = None
        self.setObjectName("workshop")
        self.setMinimumWidth(270)
        note = QLabel("What you can make yourself, and who makes the rest", wordWrap=True)
        note.setProperty("voice", "soft")
        note.setFont(font(12))
        self._area = QScrollArea(widgetResizable=True)
        self._area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 4, 0, 0)
        layout.setSpacing(4)
        layout.addWidget(note)
        layout.addWidget(self._area, 1)
        session.design_changed.connect(self.followed)
        self.refresh()

    def refresh(self) -> None:
        if not self._session.docs:
            return
        shop = self._session.design.brief.workshop
        shape = (
            self._session.doc.key,
            [getattr(shop, name) is not None for name, *_ in MACHINES],
            [getattr(shop, name) for name, _ in TOOLS],
            shop.printer.materials if shop.printer is not None else (),
            shop.mill is not None and shop.mill.metal,
            [place.id for place in shop.places],
        )
        if shape == self._shown:
            return
        self._shown = shape
        swap_contents(self._area, self._contents())

    def _contents(self) -> QWidget:
        body = QWidget()
        grid = QGridLayout(body)
        grid.setContentsMargins(2, 2, 6, 2)
        grid.setSpacing(4)
        shop, row = self._session.design.brief.workshop, 0
        for name, words, fresh, sizes in MACHINES:
            there = getattr(shop, name) is not None
            self._tick(grid, row, 0, 4, f"has-{name}", words, there, functools.partial(self._machine, name, words, fresh))
            row += 1
            if not there:
                continue
            for k, size in enumerate(sizes):
                label = QLabel(SIZE_WORDS[size])
                label.setProperty("voice", "soft")
                label.setFont(font(11))
                grid.addWidget(label, row, k)
                grid.addWidget(ValueField(self._session, f"{BASE}.{name}.{size}", f"{words}: {SIZE_WORDS[size]}"), row + 1, k)
            row += 2
            if name == "printer":
                assert shop.printer is not None
                for k, material in enumerate(PrintMaterial):
                    on, words_ = material in shop.printer.materials, material.value.replace("_", " ")
                    self._tick(
                        grid, row + k // 4, k % 4, 1, f"prints-{material.value}", words_, on, functools.partial(self._prints, material)
                    )
                row += 2
            if name == "mill":
                assert shop.mill is not None
                on = shop.mill.metal
                self._tick(grid, row, 0, 2, "mills-metal", "metal too", on, lambda is_on: self._put("Mill", f"{BASE}.mill.metal", is_on))
                row += 1
        for k, (name, words) in enumerate(TOOLS):
            there = bool(getattr(shop, name))
            then = functools.partial(self._tool, name, words)
            self._tick(grid, row + k // 2, 2 * (k % 2), 2, f"has-{name}", words, there, then)
        row += (len(TOOLS) + 1) // 2
        label = QLabel("hours a week")
        label.setProperty("voice", "soft")
        grid.addWidget(label, row, 0, 1, 2)
        grid.addWidget(ValueField(self._session, f"{BASE}.hours_a_week", "Hours a week", fallback="not said"), row, 2)
        row += 1
        for place in shop.places:
            base, name = f"{BASE}.places.{place.id}", place.name or place.id
            grid.addWidget(ValueField(self._session, f"{base}.name", "Place that does jobs", fallback="place"), row, 0, 1, 3)
            off = QToolButton(text="×", objectName=f"remove-place-{place.id}", autoRaise=True)
            off.setAccessibleName(f"Remove {name}")
            off.clicked.connect(functools.partial(self.remove_place, place.id))
            grid.addWidget(off, row, 3)
            grid.addWidget(ValueField(self._session, f"{base}.does", f"{name}: what it does", fallback="what it does"), row + 1, 0, 1, 2)
            grid.addWidget(ValueField(self._session, f"{base}.days", f"{name}: days", fallback="days"), row + 1, 2)
            grid.addWidget(ValueField(self._session, f"{base}.price", f"{name}: price", fallback="price"), row + 1, 3)
            row += 2
        more = QPushButton("A place that does jobs", objectName="add-place")
        more.clicked.connect(self.add_place)
        grid.addWidget(more, row, 0, 1, 3)
        grid.setRowStretch(row + 1, 1)
        return body

    @staticmethod
    def _tick(grid: QGridLayout, row: int, column: int, span: int, name: str, words: str, on: bool, then: Callable[[bool], None]) -> None:
        box = QCheckBox(words, objectName=name)
        box.setFont(font(12))
        box.setChecked(on)
        box.clicked.connect(lambda is_on: then(is_on))
        grid.addWidget(box, row, column, 1, span)

    def _put(self, label: str, path: str, value: object) -> None:
        changes: tuple[tuple[str, object], ...] = ((path, value), (f"{BASE}.stated", True))
        if not self._session.try_apply(Edit(label=f"Workshop: {label}", changes=changes)):
            self._shown = None
            self.refresh()

    def _machine(self, name: str, words: str, fresh: Callable[[], object], on: bool) -> None:
        self._put(words if on else f"no {words}", f"{BASE}.{name}", fresh() if on else None)

    def _tool(self, name: str, words: str, on: bool) -> None:
        self._put(words if on else f"no {words}", f"{BASE}.{name}", on)

    def _prints(self, material: PrintMaterial, on: bool) -> None:
        printer = self._session.design.brief.workshop.printer
        assert printer is not None
        kept = tuple(one for one in PrintMaterial if (one in printer.materials and one is not material) or (one is material and on))
        self._put(material.value, f"{BASE}.printer.materials", kept)

    def add_place(self) -> None:
        """One more place that does jobs for money."""
        places = self._session.design.brief.workshop.places
        taken = {place.id for place in places}
        ident = next(name for name in (f"place-{k}" for k in range(1, len(taken) + 2)) if name not in taken)
        self._put("a place that does jobs", f"{BASE}.places", (*places, JobPlace(id=ident)))

    def remove_place(self, ident: str, _on: bool = False) -> None:
        """Take a place out."""
        kept = tuple(place for place in self._session.design.brief.workshop.places if place.id != ident)
        self._put("a place less", f"{BASE}.places", kept)
