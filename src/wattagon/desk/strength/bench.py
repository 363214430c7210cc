"""The strength bench: the load path, and for the element in hand its working, other ways, how it is made, and its proof."""

from __future__ import annotations

import math
from dataclasses import replace
from functools import partial

from PySide6.QtCore import Qt, QTimer
from PySide6.QtWidgets import (
    QFormLayout,
    QFrame,
    QHBoxLayout,
    QLabel,
    QMenu,
    QPushButton,
    QScrollArea,
    QSplitter,
    QTabWidget,
    QVBoxLayout,
    QWidget,
)

from wattagon.design.parts import MaterialPart
from wattagon.design.paths import Edit
from wattagon.design.tree import Joint, Strength
from wattagon.design.tree.strength import GRADES, PLACES, SECONDS
from wattagon.desk.bench import Bench
from wattagon.desk.fields import ChoiceField, ValueField, heading, soft_line
from wattagon.desk.following import Following
from wattagon.desk.passing import swap_contents
from wattagon.desk.session import Session
from wattagon.desk.strength.picture import LoadPath
from wattagon.desk.strength.proofs import ProofCard
from wattagon.desk.strength.sketch import Sketch
from wattagon.desk.strength.sources import sources
from wattagon.desk.theme import font
from wattagon.errors import WattagonError
from wattagon.exchange.working import in_units
from wattagon.study.strength.element import Element
from wattagon.study.strength.loads import Met, met_on
from wattagon.study.strength.study import INSTEAD, WORDS, StrengthStudy, study_strength
from wattagon.study.strength.ways import others, with_joint

HINT = "Arrows choose an element. Its bar ends where it gives way; the mark on it is the best guess, the fade how sure that is."
# fields of a joint that count, by its kind
FIELDS: dict[str, tuple[str, ...]] = {
    "set_screw": ("screw", "count", "flat", "torque"),
    "key": ("length",),
    "d_bore": ("flat", "length"),
    "clamp": ("screw", "count", "torque", "diameter", "points"),
    "coupling": ("screw", "count", "torque", "diameter", "offset"),
    "pin": ("diameter",),
    "bolts": ("screw", "count", "radius", "torque", "length"),
    "spokes": ("count", "radius"),
    "slots": ("screw", "count", "radius", "torque", "length"),
    "arms": ("screw", "count", "radius", "lever", "thickness", "width", "edge", "temperature", "walls", "fill"),
    "plate": ("thickness", "width", "temperature", "walls", "fill"),
    "bracket": ("thickness", "width", "lever", "points", "temperature", "walls", "fill"),
    "dropout": ("diameter", "inner", "thickness"),
    "torque_arm": ("diameter", "inner", "thickness", "lever"),
    "freewheel": ("bears",),
    "bearing": ("outboard",),
    "shaft": ("diameter", "flat", "outboard"),
    "axle": ("diameter",),
    "spline": ("count", "diameter", "length"),
    "gear": ("count", "thickness", "width"),
    "weld": ("length", "width", "thickness", "lever"),
    "glue": ("length", "width", "thickness", "lever"),
    "corner": ("screw", "count", "radius", "torque", "lever"),
    "tube": ("diameter", "thickness", "inner", "lever"),
    "blade": ("count", "width", "thickness", "inner"),
    "transom": ("count", "length", "torque"),
    "pivot": ("diameter",),
}
# fields that mean something else in one kind
OF_KIND: dict[tuple[str, str], str] = {
    ("slots", "length"): "thread engaged",
    ("bolts", "length"): "thread engaged",
    ("spokes", "radius"): "flange's radius",
    ("spline", "count"): "teeth",
    ("gear", "count"): "teeth",
    ("gear", "thickness"): "module",
    ("weld", "width"): "seams apart",
    ("weld", "thickness"): "throat",
    ("glue", "width"): "faces apart",
    ("glue", "thickness"): "faces wide",
    ("tube", "thickness"): "wall",
    ("tube", "inner"): "hole",
    ("blade", "count"): "blades",
    ("blade", "width"): "chord at the root",
    ("blade", "inner"): "hub's radius",
    ("transom", "length"): "height of its jaws",
}
MADE_OF = (
    *("key", "d_bore", "pin", "arms", "plate", "bracket", "dropout", "torque_arm", "shaft", "axle", "bolts"),
    *("spline", "gear", "weld", "glue", "tube", "blade", "pivot"),
)
GRADED = ("clamp", "bolts", "slots", "coupling", "corner")


# what can be added, by where it is
EXTRA: dict[str, tuple[str, ...]] = {
    "On the motor's shaft": ("key", "clamp", "pin", "set_screw", "d_bore", "spline", "coupling"),
    "At the wheel": ("arms", "bolts", "spokes", "freewheel", "key", "pin"),
    "Of the mount": ("bracket", "clamp", "weld", "glue", "corner", "tube", "plate", "bolts"),
    "Of the axle": ("torque_arm", "dropout", "axle"),
}
PLACE_OF = {"On the motor's shaft": "motor", "At the wheel": "wheel", "Of the mount": "mount", "Of the axle": "axle"}


class StrengthBench(Following, Bench):
    """Will it hold, and what gives way first."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self.setObjectName("strength-bench")
        self.path = LoadPath(session)
        self.picture = self.path
        self.path.chosen_changed.connect(lambda _code: self._show_element())
        self._others_soon = QTimer(self, singleShot=True, interval=120)
        self._others_soon.timeout.connect(self._fill_others)
        self._variant = soft_line()
        head = QHBoxLayout()
        head.addWidget(heading("Strength"))
        head.addWidget(self._variant, 1)
        self.more = QPushButton("Add an element", objectName="add-element", flat=True)
        self.more.setToolTip("One that stands beside the path: a drilled tube, a glued bracket, a second clamp")
        menu = QMenu(self.more)
        for place, kinds in EXTRA.items():
            section = menu.addMenu(place)
            for kind in kinds:
                section.addAction(WORDS[kind], partial(self.add, kind, PLACE_OF[place]))
        self.more.setMenu(menu)
        head.addWidget(self.more)
        self.words = QLabel(wordWrap=True, objectName="working")
        self.words.setTextInteractionFlags(Qt.TextInteractionFlag.TextBrowserInteraction)
        self.words.linkActivated.connect(self.follow)
        self.words.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.words.setFont(font(12))
        self.sketch = Sketch(session)
        working = QWidget()
        line = QHBoxLayout(working)
        line.setContentsMargins(8, 6, 8, 4)
        lines = QScrollArea(objectName="working-lines", widgetResizable=True, frameShape=QFrame.Shape.NoFrame)
        lines.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        lines.setWidget(self.words)
        line.addWidget(lines, 3)
        line.addWidget(self.sketch, 2)
        self.made = QScrollArea(objectName="as-made", widgetResizable=True, frameShape=QFrame.Shape.NoFrame)
        self.proof = ProofCard(session)
        self.tabs = QTabWidget(documentMode=True)
        for widget, words in ((working, "Working"), (self.made, "As it is made"), (self.proof, "Proof")):
            self.tabs.addTab(widget, words)
        self.others = QScrollArea(objectName="other-ways", widgetResizable=True, frameShape=QFrame.Shape.NoFrame)
        self.others.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        side = QWidget()
        column = QVBoxLayout(side)
        column.setContentsMargins(4, 4, 2, 2)
        column.addWidget(heading("Other ways"))
        column.addWidget(self.others, 1)
        low = QSplitter(Qt.Orientation.Horizontal, childrenCollapsible=False, handleWidth=8)
        low.addWidget(self.tabs)
        low.addWidget(side)
        low.setStretchFactor(0, 5)
        low.setStretchFactor(1, 3)
        low.setSizes([520, 300])
        self.held = QScrollArea(objectName="path-scroll", widgetResizable=True, frameShape=QFrame.Shape.NoFrame)
        self.held.setWidget(self.path)
        self.held.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.put_together(head, self.held, low, (360, 210), HINT)
        self._shown: tuple[object, ...] = ()
        for signal in (session.design_changed, session.looks_changed, session.moment_changed):
            signal.connect(self.followed)
        self._behind = True

    # what it shows

    @property
    def found(self) -> StrengthStudy | None:
        """What is shown."""
        return self.path.found

    def refresh(self) -> None:
        session, found, problem = self._session, None, ""
        if not session.docs or session.study is None:
            problem = session.problem or "No vehicle is open."
        else:
            try:
                found = study_strength(session.design, session.stock, session.study, met=self._met())
            except WattagonError as refusal:
                problem = str(refusal)
        self.path.show(found, problem)
        variant = session.design.variant() if session.docs else None
        first = found.first if found is not None else None
        words = f"{variant.id} {variant.name}".strip() if variant is not None else ""
        if first is not None:
            words += f": first to give way is the {first.name}, at {session.say(first.fails_at_nm, 'torque')} {self.path.where}"
        self._variant.setText(words)
        self._show_element()

    def _met(self) -> Met | None:
        """What the ride in view met, if there is one."""
        ridden = self._session.moment.ridden
        return met_on(ridden.ride) if ridden is not None else None

    def _element(self) -> Element | None:
        return self.found.element(self.path.chosen) if self.found is not None else None

    def _show_element(self) -> None:
        one, row = self._element(), self.path.row_of(self.path.chosen)
        if not row.isEmpty():
            self.held.ensureVisible(0, round(row.center().y()), 0, 24)
        self.sketch.element = one
        self.sketch.update()
        self.words.setText(self._working(one) if one is not None else "")
        shown = (one.code, one.own, one.kind, self._session.design.active) if one is not None else ()
        if shown != self._shown:
            self._shown = shown
            self._build_made(one)
        self.proof.show_element(self.found, one)
        self._others_soon.start()

    def _working(self, one: Element) -> str:
        say = self._session.say
        lines = [f"<b>{one.name[0].upper()}{one.name[1:]}</b>", *(in_units(line, self._session.unit_set) for line in one.bears.working)]
        factor = f"{one.factor:.2f}" if math.isfinite(one.factor) else "not known"
        at = f", gives way at {say(one.fails_at_nm, 'torque')} {self.path.where}" if math.isfinite(one.fails_at_nm) else ""
        lines.append(f"factor {factor}, {one.bears.wanted:g} wanted ({in_units(one.bears.why, self._session.unit_set)}){at}")
        if one.bears.assumed:
            lines.append(f"assumed: {', '.join(one.bears.assumed)}; tell it under “As it is made”")
        if one.proved:
            lines.append(f"proof: {one.proved}")
        lines.append(f"source: {one.bears.source}")
        if self.found is not None and (rests := sources(self._session, self.found, one)):
            lines.append(f"rests on: {rests}")
        return "<br>".join(lines)

    def follow(self, link: str) -> None:
        """From a value of the working to where it is entered."""
        bench, _, what = link.partition(":")
        if bench == "strength":
            self.tabs.setCurrentIndex(1)
        else:
            self.asked.emit(bench, what)

    # other ways

    def _fill_others(self) -> None:
        one, session = self._element(), self._session
        page = QWidget()
        column = QVBoxLayout(page)
        column.setContentsMargins(0, 0, 4, 0)
        column.setSpacing(3)
        ways = (
            others(self.found, one, session.stock, session.study, self._met())
            if one is not None and self.found is not None and session.study
            else []
        )
        for k, way in enumerate(ways):
            turned = math.isfinite(way.fails_at_nm) and one is not None and math.isfinite(one.fails_at_nm)
            before, after = (one.fails_at_nm, way.fails_at_nm) if turned and one is not None else (0.0, way.factor)
            to = f"{session.say(before, 'torque').split(' ')[0]} → {session.say(after, 'torque')}" if turned else f"factor {way.factor:.1f}"
            button = QPushButton(f"{in_units(way.words, session.unit_set)}:  {to}", objectName=f"way-{k}", flat=True)
            button.setStyleSheet("text-align: left")
            button.setToolTip("Make it so")
            button.clicked.connect(partial(self._take, way.edit))
            column.addWidget(button)
        if not ways:
            column.addWidget(
                soft_line("Nothing of stock bears more here." if one is not None and one.joint is not None else "See its own bench.", 12)
            )
        column.addStretch(1)
        swap_contents(self.others, page)

    def _take(self, edit: Edit, _on: bool = False) -> None:
        self._session.try_apply(edit)

    # as it is made

    def _build_made(self, one: Element | None) -> None:
        page = QWidget()
        form = QFormLayout(page)
        form.setContentsMargins(8, 6, 8, 4)
        form.setVerticalSpacing(3)
        if one is None or one.joint is None:
            form.addRow(soft_line("It follows from drive and layout.", 12))
        elif one.own < 0:
            form.addRow(soft_line("Typical of such a drive; nobody told how it is made.", 12))
            button = QPushButton("Tell how it is made", objectName="tell-joint")
            button.clicked.connect(self.tell)
            form.addRow(button)
        else:
            base = f"variant.strength.joints.{one.own}"
            alike = sorted({kind for group in INSTEAD if one.kind in group for kind in group} | {one.kind}, key=tuple(WORDS).index)
            if len(alike) > 1:
                form.addRow("made as", ChoiceField(self._session, f"{base}.kind", "made as", [(kind, WORDS[kind]) for kind in alike]))
            if one.code.startswith("own."):
                form.addRow("place", ChoiceField(self._session, f"{base}.place", "place", [(place, place) for place in PLACES]))
            for name in FIELDS.get(one.kind, ()):
                label = OF_KIND.get((one.kind, name), LABELS[name])
                form.addRow(label, ValueField(self._session, f"{base}.{name}", label, fallback="typical"))
            if one.kind in GRADED:
                form.addRow("grade", ChoiceField(self._session, f"{base}.grade", "grade", [(grade, grade) for grade in GRADES]))
            if one.kind == "set_screw":
                form.addRow("second screw", ChoiceField(self._session, f"{base}.second", "second screw", [(way, way) for way in SECONDS]))
            if one.kind in MADE_OF:
                choices: list[tuple[object, str]] = [("", "typical")]
                choices += [(part.id, part.name) for part in self._session.stock.all(MaterialPart)]
                form.addRow("made of", ChoiceField(self._session, f"{base}.material", "made of", choices))
                ways: list[tuple[object, str]] = [(False, "along its layers"), (True, "across its layers")]
                form.addRow("loaded", ChoiceField(self._session, f"{base}.across", "loaded", ways))
            locks: list[tuple[object, str]] = [(False, "no"), (True, "yes")]
            form.addRow("threads locked", ChoiceField(self._session, f"{base}.locked", "threads locked", locks))
            button = QPushButton("Forget: typical again", objectName="forget-joint")
            button.clicked.connect(self.forget)
            form.addRow(button)
        swap_contents(self.made, page)

    def tell(self) -> None:
        """The typical joint in hand, written down to be corrected."""
        one = self._element()
        if one is not None and one.joint is not None:
            self._session.try_apply(with_joint(self._session.design, one, one.joint, "as it is made"))

    def add(self, kind: str, place: str) -> None:
        """An element of the user's own, in hand at once; it stands for a typical one of its kind at its place, if there is one."""
        told = self._told()
        self._put(replace(told, joints=(*told.joints, Joint(kind=kind, place=place))), f"add {WORDS[kind]}")
        added = next((one for one in self.found.elements if one.own == len(told.joints)), None) if self.found is not None else None
        if added is not None:
            self.path.choose(added.code)
            self.tabs.setCurrentIndex(1)

    def forget(self) -> None:
        """Typical again."""
        one, told = self._element(), self._told()
        if one is not None and one.own >= 0:
            kept = told.joints[: one.own] + told.joints[one.own + 1 :]
            self._put(replace(told, joints=kept), f"{one.name}: typical again")

    def _told(self) -> Strength:
        return self._session.design.variant().strength or Strength()

    def _put(self, told: Strength, label: str) -> None:
        self._session.try_apply(Edit(label=label, changes=(("variant.strength", told),)))

    def weakest(self) -> None:
        """What gives way first, in hand."""
        first = self.found.first if self.found is not None else None
        if first is not None:
            self.path.choose(first.code)

    # what the window asks

    def show_target(self, what: str) -> None:
        self.refresh()
        self.path.choose(what)

    def show_link(self, link: str) -> None:
        self.path.setFocus()

    def table(self) -> list[list[str]]:
        if self.found is None:
            return []
        say, rows = self._session.say, [["element", "kind", "factor", "wanted", "gives way at", "status"]]
        for one in self.found.elements:
            at = say(one.fails_at_nm, "torque") if math.isfinite(one.fails_at_nm) else ""
            factor = f"{one.factor:.2f}" if math.isfinite(one.factor) else ""
            rows.append([one.name, one.kind, factor, f"{one.bears.wanted:g}", at, one.status.value])
        return rows


LABELS = {
    "screw": "screw, M",
    "count": "how many",
    "flat": "flat, deep",
    "torque": "tightened with",
    "length": "length",
    "diameter": "diameter",
    "inner": "across its flats",
    "radius": "on a radius of",
    "lever": "lever",
    "thickness": "thickness",
    "width": "width",
    "edge": "hole to edge",
    "temperature": "works at",
    "points": "points that hold",
    "outboard": "outboard bearing beyond",
    "bears": "bears by its maker",
    "offset": "shafts off line",
    "walls": "walls of the print",
    "fill": "infill",
}
