"""The layout bench: the drawing, beside it gaps, stages and cutting sheets."""

from __future__ import annotations

import math
from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtGui import QShowEvent
from PySide6.QtWidgets import (
    QComboBox,
    QHBoxLayout,
    QHeaderView,
    QPushButton,
    QSlider,
    QTabWidget,
    QTreeWidget,
    QTreeWidgetItem,
    QVBoxLayout,
    QWidget,
)

from wattagon.design.paths import Edit
from wattagon.desk.bench import Bench
from wattagon.desk.fields import beside, heading, soft_line
from wattagon.desk.following import Following
from wattagon.desk.layout.aboard import AboardPanel
from wattagon.desk.layout.drawing import LayoutDrawing
from wattagon.desk.layout.frame import FramePanel
from wattagon.desk.layout.gaps import ROLE, SPAN_M, GapBars
from wattagon.desk.layout.shafts import ShaftsPanel
from wattagon.desk.layout.sheets import SheetsPanel
from wattagon.desk.layout.stages import StagesPanel
from wattagon.desk.session import Session
from wattagon.desk.theme import THEMES
from wattagon.exchange.units import number_text
from wattagon.study.findings.status import URGENCY, Status
from wattagon.study.layout.found import Found
from wattagon.study.layout.sweep import sweeps

HINT = "Drag the motor: it snaps where a loop of stock lies. Pull a span for an idler; the wheel zooms, arrows nudge, page keys step teeth."
HINT_AFLOAT = "Drag what rides along; hull, transom, propeller and tail are measured in the Brief. The wheel zooms, arrows nudge, 0 fits."
SIDES = ("gaps", "stages", "shafts", "aboard", "frame", "sheets")
MARKS = {Status.OVER: "▼", Status.TIGHT: "–", Status.CLEAR: "○", Status.NOT_CHECKED: "·"}


class LayoutBench(Following, Bench):
    """The drive to scale on its vehicle."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self.setObjectName("layout-bench")
        self.drawing = LayoutDrawing(session)
        self.picture = self.drawing
        self.gaps = QTreeWidget(objectName="gaps", rootIsDecorated=False, uniformRowHeights=True)
        self.gaps.setHeaderLabels(["", "between", "room / at worst", "wanted"])
        head = self.gaps.header()
        head.setStretchLastSection(False)
        head.setMinimumSectionSize(20)
        for column in (0, 2, 3):
            head.setSectionResizeMode(column, QHeaderView.ResizeMode.ResizeToContents)
        head.setSectionResizeMode(1, QHeaderView.ResizeMode.Stretch)
        self.gaps.setItemDelegateForColumn(2, GapBars(session))
        self.gaps.currentItemChanged.connect(self._gap_chosen)
        self.stages = StagesPanel(session, self.drawing)
        self.aboard = AboardPanel(session, self.drawing)
        self.frame = FramePanel(session, self.drawing)
        self.sheets = SheetsPanel(session, self.drawing)
        self.side = QTabWidget(documentMode=True)
        self.shafts = ShaftsPanel(session, self.drawing)
        panels = {"Gaps": self.gaps, "Stages": self.stages, "Shafts": self.shafts, "Aboard": self.aboard, "Frame": self.frame}
        for words, widget in {**panels, "Cutting": self.sheets}.items():
            self.side.addTab(widget, words)
        self.side.currentChanged.connect(self._side_chosen)
        self.drawing.picked.connect(lambda _what: self.show_side("aboard"))
        self.split = beside(self.drawing, self.side, stretch=(5, 2), widths=(560, 300))
        layout = QVBoxLayout(self)
        layout.setContentsMargins(6, 2, 6, 4)
        layout.setSpacing(3)
        layout.addLayout(self._head())
        layout.addWidget(self.split, 1)
        self.hint = soft_line(HINT, 12)
        layout.addWidget(self.hint)
        for signal in (session.design_changed, session.looks_changed):
            signal.connect(self.followed)
        self._behind = True

    def _head(self) -> QHBoxLayout:
        row = QHBoxLayout()
        self._ashore: list[QPushButton] = []  # what only a drive beside its wheel has
        row.setSpacing(4)
        row.addWidget(heading("Layout"))
        self._variant = soft_line()
        row.addWidget(self._variant, 1)
        self.sweep_kind = QComboBox(objectName="sweep-kind")
        self.sweep_kind.setToolTip("What moves: swept by the slider, with the gaps on its way")
        self.sweep_kind.setAccessibleName("What moves")
        self.sweep_kind.activated.connect(lambda _k: self._swept(0))
        self.sweep = QSlider(Qt.Orientation.Horizontal, objectName="sweep", minimum=0, maximum=100)
        self.sweep.setFixedWidth(90)
        self.sweep.setAccessibleName("How far it moves")
        self.sweep.valueChanged.connect(self._swept)
        row.addWidget(self.sweep_kind)
        row.addWidget(self.sweep)
        for name, words, tip, act in (
            ("fit", "Fit", "The drive in view (0)", lambda: self.drawing.show_whole(False)),
            ("whole", "Whole", "The whole vehicle with what rides along in view (W)", lambda: self.drawing.show_whole(True)),
            ("tape", "Tape", "Measure between any two places (T)", lambda: self.drawing.tape(not self.drawing.taping)),
            ("idler", "Idler", "An idler on the back of the slack strand (I)", self.drawing.idler_by_key),
            ("propose", "Place anew", "Forget where things were put: all is proposed again", self.propose),
        ):
            button = QPushButton(words, objectName=f"layout-{name}")
            button.setToolTip(tip)
            button.clicked.connect(act)
            row.addWidget(button)
            if name in ("idler", "propose"):
                self._ashore.append(button)
        return row

    # what it shows

    def refresh(self) -> None:
        self.drawing.refresh()
        session, found = self._session, self.drawing.found
        variant = session.design.variant() if session.docs else None
        proposed = found is not None and any(shaft.proposed for shaft in found.shafts)
        words = f"{variant.id} {variant.name}".strip() if variant is not None else ""
        self._variant.setText(f"{words}, {'proposed where dotted' if proposed else 'as drawn'}" if found is not None else words)
        self._fill_sweeps()
        for button in self._ashore:
            button.setVisible(found is None or found.scene.can_stands)
        self.hint.setText(HINT_AFLOAT if found is not None and found.scene.berth is not None else HINT)
        self._refresh_side()

    def _refresh_side(self, _index: int = 0) -> None:
        """Only the side in view: a drag repaints within a frame."""
        panels = (self.stages, self.shafts, self.aboard, self.frame, self.sheets)
        (self._fill_gaps, *(panel.refresh for panel in panels))[self.side.currentIndex()]()

    def _side_chosen(self, index: int) -> None:
        """What rides along stands on the whole vehicle: that comes into view, unless a hand has zoomed."""
        whole = SIDES[index] == "aboard"
        if whole != self.drawing.whole and not self.drawing.own_view:
            self.drawing.show_whole(whole)
        self._refresh_side()

    def _fill_gaps(self) -> None:
        chosen, found, say = self.drawing.chosen, self.drawing.found, self._session.say
        theme, units = THEMES[self._session.theme_name], self._session.unit_set
        self.gaps.blockSignals(True)
        self.gaps.clear()
        ordered = sorted(found.gaps, key=lambda one: (URGENCY[one.status], one.margin)) if found is not None else []
        for one in ordered:
            known = math.isfinite(one.nominal)
            cells = [
                MARKS[one.status],
                one.between,
                f"{number_text(round(one.nominal, 4), 'length', units)} / {say(round(one.worst, 4), 'length')}" if known else "not checked",
                say(round(one.wanted, 4), "length") if known else "",
            ]
            item = QTreeWidgetItem(cells)
            item.setForeground(0, theme.of(one.status))
            if one.status in (Status.OVER, Status.TIGHT):
                item.setForeground(2, theme.of(one.status))
            item.setToolTip(1, one.because or one.swept or one.between)
            if known:
                item.setData(2, ROLE, one)
                item.setToolTip(2, self._how_sure(one))
            item.setData(0, Qt.ItemDataRole.UserRole, one.code)
            for column in (2, 3):
                item.setTextAlignment(column, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
            self.gaps.addTopLevelItem(item)
            if one.code == chosen:
                self.gaps.setCurrentItem(item)
        self.gaps.blockSignals(False)

    def _how_sure(self, gap: Found) -> str:
        say = lambda metres: self._session.say(round(metres, 4), "length")
        ends = (
            f"{say(gap.likely)} to {say(2.0 * gap.nominal - gap.likely)} if the measures are off independently, {say(gap.worst)} at worst."
        )
        return (
            f"{gap.between}: {say(gap.nominal)}. {ends}\nThe bar is {say(SPAN_M)} long, solid to the worst; the stroke is what is wanted."
        )

    def _gap_chosen(self, item: QTreeWidgetItem | None) -> None:
        self.drawing.chosen = str(item.data(0, Qt.ItemDataRole.UserRole)) if item is not None else ""
        self.drawing.update()

    def _fill_sweeps(self) -> None:
        """The ways that something moves on this vehicle."""
        found = self.drawing.found
        made = sweeps(found.scene) if found is not None else []
        codes = [one.code for one in made]
        if codes != [self.sweep_kind.itemData(k) for k in range(self.sweep_kind.count())]:
            self.sweep_kind.clear()
            for one in made:
                self.sweep_kind.addItem(one.words, one.code)
            self.sweep.setValue(0)
        for part in (self.sweep, self.sweep_kind):
            part.setVisible(bool(made))
        self._swept(self.sweep.value())

    def _swept(self, hundredths: int) -> None:
        """The drawing where the sweep in hand stands, with the gaps there and the least on the way."""
        found, code = self.drawing.found, self.sweep_kind.currentData()
        one = next((way for way in sweeps(found.scene) if way.code == code), None) if found is not None else None
        self.drawing.swept = None if one is None or not hundredths else (one.code, one.most * hundredths / 100.0)
        self.drawing.swept_words = ""
        if one is not None and hundredths:
            say, at = self._session.say, one.most * hundredths / 100.0
            far = lambda value: f"{math.degrees(value):.0f}°" if one.dimension == "angle" else say(round(value, 4), "length")
            here = ", ".join(f"{gap.between} {say(round(gap.nominal, 4), 'length')}" for gap in one.at(at))
            least = one.least()
            self.drawing.swept_words = f"{one.words} {far(at)}: {here}"
            if least is not None:
                where, gap = least
                self.drawing.swept_words += f"; least {say(round(gap.nominal, 4), 'length')} at {far(where)} ({gap.between})"
        self.drawing.update()

    def show_side(self, name: str) -> None:
        """One of SIDES."""
        self.side.setCurrentIndex(SIDES.index(name))

    def show_target(self, what: str) -> None:
        """A finding of this bench, by the code of its gap; or the motor, to be placed."""
        if what.startswith("variant.layout"):
            self.show_side("gaps")
            self.drawing.setFocus()
            self._session.told.emit("Drag the motor to where it stands; it snaps where a loop of stock lies", False)
            return
        self.drawing.chosen = what
        self.refresh()

    def show_link(self, link: str) -> None:
        self.show_side("stages")

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        self._fill_gaps()

    def propose(self) -> None:
        """Forget the placement: all is proposed again."""
        if self._session.docs and self._session.design.variant().layout is not None:
            self._session.try_apply(Edit(label="Place the drive anew", changes=(("variant.layout", None),)))

    def table(self) -> list[list[str]]:
        found, say = self.drawing.found, self._session.say
        if found is None:
            return []
        rows = [["between", "room", "at worst", "wanted", "status"]]
        for one in found.gaps:
            if math.isfinite(one.nominal):
                lengths = [say(value, "length") for value in (one.nominal, one.worst, one.wanted)]
                rows.append([one.between, *lengths, one.status.value])
            else:
                rows.append([one.between, "", "", "", one.because])
        return rows

    def save_sheet(self, path: Path, part: str) -> None:
        """One part into a file, by its ending."""
        self.sheets.save(path, part)
