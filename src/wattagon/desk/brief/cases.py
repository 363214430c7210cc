"""Who and what rides along: load cases with their pieces, and modes of the drive by place."""

from __future__ import annotations

import functools
from collections.abc import Callable
from dataclasses import replace

from PySide6.QtCore import Qt
from PySide6.QtWidgets import (
    QCheckBox,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QMenu,
    QPushButton,
    QScrollArea,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from wattagon.design.paths import Edit
from wattagon.design.quantity import Quantity
from wattagon.design.tree import Carried, Design, LoadCase, Mode
from wattagon.desk.fields import ValueField
from wattagon.desk.following import Following
from wattagon.desk.in_view import InView
from wattagon.desk.passing import swap_contents
from wattagon.desk.session import Session
from wattagon.desk.theme import THEMES, font
from wattagon.study.drive.cases import stands
from wattagon.study.findings.status import Status


def _carried(name: str, mass: float, x: float, y: float, *, towed: bool = False) -> Carried:
    at = Quantity(value=round(x, 2)), Quantity(value=round(y, 2))
    return Carried(name=name, mass=Quantity(value=mass), behind_front=at[0], height=at[1], towed=towed)


def _passenger(design: Design) -> LoadCase:
    v = design.vehicle
    piece = _carried("passenger", 65.0, 0.9 * v.wheelbase.value, v.cm_height.value)
    return LoadCase(id="passenger", name="passenger", carried=(piece,))


def _cargo(design: Design) -> LoadCase:
    v = design.vehicle
    return LoadCase(id="cargo", name="cargo", carried=(_carried("cargo", 30.0, v.wheelbase.value, 0.8 * v.cm_height.value),))


def _trailer(design: Design) -> LoadCase:
    v = design.vehicle
    piece = _carried("trailer", 40.0, v.wheelbase.value + 0.25, v.tyre_diameter.value / 2 + 0.05, towed=True)
    return LoadCase(id="trailer", name="trailer", carried=(piece,))


def _in_front(design: Design) -> LoadCase:
    v = design.vehicle
    longer = Quantity(value=round(v.wheelbase.value + 0.35, 2))
    return LoadCase(id="in-front", name="hung in front", wheelbase=longer, carried=(_carried("piece in front", 12.0, -0.35, 0.4),))


def _without_pack(_design: Design) -> LoadCase:
    return LoadCase(id="without-pack", name="without the pack", rider=False, load=False, pack=False)


FRESH: tuple[tuple[str, Callable[[Design], LoadCase]], ...] = (
    ("A passenger", _passenger),
    ("Cargo", _cargo),
    ("A trailer", _trailer),
    ("Something hung in front", _in_front),
    ("Without the pack, to be carried", _without_pack),
)


class CasesPanel(Following, QWidget):
    """The load case in view with its pieces, and the modes."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self._shown: object = None
        self.setObjectName("cases")
        self.setMinimumWidth(270)
        note = QLabel("Goals count in the worst case")
        note.setProperty("voice", "soft")
        note.setFont(font(12))
        note.setMinimumWidth(20)
        add = QPushButton("Add", objectName="add-case")
        menu = QMenu(add)
        for words, make in FRESH:
            menu.addAction(words).triggered.connect(lambda _on=False, make=make: self.add_case(make))
        menu.addSeparator()
        menu.addAction("A mode by place").triggered.connect(lambda _on=False: self.add_mode())
        add.setMenu(menu)
        head = QHBoxLayout()
        self.view, self.mode = InView(session, "case"), InView(session, "mode")
        head.addWidget(note, 1)
        head.addWidget(add)
        self._area = QScrollArea(widgetResizable=True)
        self._area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 4, 0, 0)
        layout.setSpacing(4)
        layout.addLayout(head)
        layout.addWidget(self.view)
        layout.addWidget(self._area, 1)
        layout.addWidget(self.mode)
        session.design_changed.connect(self.followed)
        session.looks_changed.connect(self.followed)
        self.refresh()

    # what is shown

    def refresh(self) -> None:
        if not self._session.docs:
            return
        brief = self._session.design.brief
        case = brief.load_case()
        shape = (
            self._session.doc.key,
            brief.case,
            [(one.id, len(one.carried)) for one in brief.cases],
            [mode.id for mode in brief.modes],
            case and ([item.towed for item in case.carried], case.wheelbase is not None),
        )
        if shape != self._shown:
            self._shown = shape
            swap_contents(self._area, self._contents(case))
        self._tell()

    def _contents(self, case: LoadCase | None) -> QWidget:
        body = QWidget()
        column = QVBoxLayout(body)
        column.setContentsMargins(2, 2, 6, 2)
        column.setSpacing(4)
        if case is None:
            words = (
                "The usual load: rider and load as they are measured. Pick a case above to see it on the drawing."
                if self._session.design.brief.cases
                else "Nothing but the usual load. Add a passenger, cargo, a trailer or what else there will be: "
                "lifting, tipping and the goals are then judged with it."
            )
            said = QLabel(words, wordWrap=True)
            said.setProperty("voice", "soft")
            column.addWidget(said)
        else:
            column.addLayout(self._case(case))
        self.verdict = QLabel(wordWrap=True, objectName="case-stands")
        self.verdict.setFont(font(12))
        column.addWidget(self.verdict)
        if self._session.design.brief.modes:
            column.addLayout(self._modes())
        column.addStretch(1)
        return body

    def _case(self, case: LoadCase) -> QGridLayout:
        session, base = self._session, f"brief.cases.{case.id}"
        grid = QGridLayout()
        grid.setSpacing(4)
        for column in range(3):
            grid.setColumnStretch(column, 1)
        grid.addWidget(ValueField(session, f"{base}.name", "Name of the load case"), 0, 0, 1, 3)
        remove = self._button("×", "Remove this load case", f"remove-case-{case.id}", lambda: self.remove_case(case.id))
        grid.addWidget(remove, 0, 3)
        checks = QHBoxLayout()
        for what, words in (("rider", "rider"), ("load", "usual load"), ("pack", "pack")):
            box = QCheckBox(words, objectName=f"case-{what}")
            box.setChecked(getattr(case, what))
            box.clicked.connect(lambda on, path=f"{base}.{what}", words=words: self._aboard(path, words, on))
            checks.addWidget(box)
        checks.addStretch(1)
        grid.addLayout(checks, 1, 0, 1, 4)
        for k, words in enumerate(("mass", "behind front axle", "height")):
            label = QLabel(words)
            label.setProperty("voice", "soft")
            label.setFont(font(11))
            grid.addWidget(label, 2, k)
        row = 3
        for k, item in enumerate(case.carried):
            piece = f"{base}.carried.{k}"
            name = ValueField(session, f"{piece}.name", f"Piece {k + 1}")
            grid.addWidget(name, row, 0, 1, 2)
            towed = QCheckBox("on its own wheels", objectName=f"towed-{k}")
            towed.setFont(font(11))
            towed.setChecked(item.towed)
            towed.clicked.connect(lambda on, piece=piece: self._put("On its own wheels" if on else "Carried", f"{piece}.towed", on))
            grid.addWidget(towed, row, 2)
            off = self._button(
                "×", f"Take off {item.name or 'this piece'}", f"remove-piece-{k}", functools.partial(self.remove_piece, case.id, k)
            )
            grid.addWidget(off, row, 3)
            fields = ["mass", "behind_front", "height"]
            for column, what in enumerate(fields):
                grid.addWidget(ValueField(session, f"{piece}.{what}", f"{item.name or 'piece'}: {what.replace('_', ' ')}"), row + 1, column)
            row += 2
            if item.towed:
                for column, (what, words) in enumerate((("hitch_share", "on the hitch"), ("rolling", "rolls"), ("drag_area", "drag"))):
                    grid.addWidget(ValueField(session, f"{piece}.{what}", f"{item.name}: {words}", fallback=words), row, column)
                row += 1
        more = QPushButton("One more piece", objectName="add-piece")
        more.clicked.connect(lambda: self.add_piece(case.id))
        grid.addWidget(more, row, 0, 1, 2)
        if case.wheelbase is not None:
            grid.addWidget(ValueField(session, f"{base}.wheelbase", "Wheelbase in this case"), row, 2)
        return grid

    def _modes(self) -> QGridLayout:
        grid = QGridLayout()
        grid.setSpacing(4)
        for k, words in enumerate(("mode", "speed", "motor amps", "pack amps")):
            label = QLabel(words)
            label.setProperty("voice", "soft")
            label.setFont(font(11))
            grid.addWidget(label, 0, k)
        for row, mode in enumerate(self._session.design.brief.modes, 1):
            base, name = f"brief.modes.{mode.id}", mode.name or mode.id
            for column, (what, words) in enumerate(
                (("name", "Name of the mode"), ("top_speed", "speed"), ("motor_current_a", "motor amps"), ("pack_current_a", "pack amps"))
            ):
                told = words if what == "name" else f"{name}: {words}"
                grid.addWidget(ValueField(self._session, f"{base}.{what}", told, fallback="" if what == "name" else "as set"), row, column)
            remove = self._button("×", f"Remove the mode {name}", f"remove-mode-{mode.id}", functools.partial(self.remove_mode, mode.id))
            grid.addWidget(remove, row, 4)
        return grid

    @staticmethod
    def _button(text: str, tip: str, name: str, then: Callable[[], None]) -> QToolButton:
        button = QToolButton(text=text, objectName=name, autoRaise=True)
        button.setToolTip(tip)
        button.setAccessibleName(tip)
        button.clicked.connect(lambda _on=False: then())
        return button

    def _tell(self) -> None:
        """How the vehicle stands in the case in view."""
        session, case = self._session, self._session.design.brief.load_case()
        finding = next((f for f in session.findings if case is not None and f.code == f"case.stands.{case.id}"), None)
        if case is None:
            self.verdict.setText("")
            return
        if session.study is None:
            self.verdict.setText(session.problem)
            return
        stand = stands(session.design, session.study.resolved, case.id)
        status = finding.status if finding is not None else Status.CLEAR if stand.stands else Status.OVER
        theme = THEMES[session.theme_name]
        self.verdict.setStyleSheet(f"color: {theme.of(status).name()};")
        words = [finding.title] if finding is not None else []
        if not case.pack:
            words.append("Without the pack nothing drives")
        if session.study.resolved.case != case.id:
            words.append("Map and rides show the usual load.")
        self.verdict.setText(". ".join(words))

    # what is done

    def _put(self, label: str, path: str, value: object) -> None:
        if not self._session.try_apply(Edit(label=label, changes=((path, value),))):
            self._shown = None
            self.refresh()

    def _aboard(self, path: str, words: str, on: bool) -> None:
        self._put(f"{words}: {'aboard' if on else 'left'}", path, on)

    def add_case(self, make: Callable[[Design], LoadCase]) -> None:
        """One more load case, in view at once."""
        design = self._session.design
        fresh = make(design)
        ident = _free(fresh.id, [case.id for case in design.brief.cases])
        cases = (*design.brief.cases, replace(fresh, id=ident))
        label = f"Add load case: {fresh.name}"
        self._session.try_apply(Edit(label=label, changes=(("brief.cases", cases), ("brief.case", ident))))

    def remove_case(self, ident: str) -> None:
        """Take a load case out; goals that name it are judged in the worst case again."""
        brief = self._session.design.brief
        cases = tuple(case for case in brief.cases if case.id != ident)
        goals = tuple(replace(goal, case="") if goal.case == ident else goal for goal in brief.goals)
        changes = (("brief.case", ""), ("brief.cases", cases), ("brief.goals", goals))
        self._session.try_apply(Edit(label="Remove a load case", changes=changes))

    def add_piece(self, ident: str) -> None:
        """One more thing that rides along in a case."""
        design = self._session.design
        case = next(case for case in design.brief.cases if case.id == ident)
        piece = _carried("piece", 10.0, design.vehicle.cm_behind_front.value, design.vehicle.cm_height.value)
        self._put("Add a piece", f"brief.cases.{ident}.carried", (*case.carried, piece))

    def remove_piece(self, ident: str, k: int) -> None:
        """Take a piece off a case."""
        case = next(case for case in self._session.design.brief.cases if case.id == ident)
        self._put("Take a piece off", f"brief.cases.{ident}.carried", (*case.carried[:k], *case.carried[k + 1 :]))

    def add_mode(self) -> None:
        """One more mode of the drive."""
        modes = self._session.design.brief.modes
        ident = _free("public-way" if not modes else "mode", [mode.id for mode in modes])
        fresh = Mode(id=ident, name="public way" if not modes else ident, top_speed=25 / 3.6)
        self._put("Add a mode", "brief.modes", (*modes, fresh))

    def remove_mode(self, ident: str) -> None:
        """Take a mode out; limits that name it hold in the strongest again."""
        brief = self._session.design.brief
        modes = tuple(mode for mode in brief.modes if mode.id != ident)
        goals = tuple(replace(goal, mode="") if goal.mode == ident else goal for goal in brief.goals)
        changes = (("brief.mode", ""), ("brief.modes", modes), ("brief.goals", goals))
        self._session.try_apply(Edit(label="Remove a mode", changes=changes))


def _free(wanted: str, taken: list[str]) -> str:
    return next(name for name in (wanted, *(f"{wanted}-{k}" for k in range(2, 100))) if name not in taken)
