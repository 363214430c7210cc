"""The brief bench: drawing, measuring list and shelf above, goals below."""

from __future__ import annotations

from PySide6.QtWidgets import QComboBox, QHBoxLayout, QStackedWidget, QTabWidget, QVBoxLayout, QWidget

from wattagon.design.boats import BOATS
from wattagon.design.kinds import KINDS
from wattagon.design.paths import Edit, place
from wattagon.design.quantity import Quantity
from wattagon.design.tree import VehicleKind
from wattagon.desk.bench import Bench
from wattagon.desk.brief.cases import CasesPanel
from wattagon.desk.brief.drawing import Drawing
from wattagon.desk.brief.goal_cards import GoalCards
from wattagon.desk.brief.history import HistoryPanel
from wattagon.desk.brief.hull_sketch import HullSketch
from wattagon.desk.brief.measure_list import MeasureList
from wattagon.desk.brief.measures import is_assumed, measures_for
from wattagon.desk.brief.next_list import NextList
from wattagon.desk.brief.shelf import Shelf
from wattagon.desk.brief.sketch import Sketch
from wattagon.desk.brief.tow import TowPanel
from wattagon.desk.brief.workshop import WorkshopPanel
from wattagon.desk.fields import ChoiceField, ElidedLabel, ValueField, beside, heading, scrolled
from wattagon.desk.session import Session
from wattagon.desk.theme import font

MOST_TOLD = 3  # measures to be taken first
VEHICLE_WORDS = {kind: facts.words for kind, facts in KINDS.items()} | {kind: facts.words for kind, facts in BOATS.items()}


class BriefBench(Bench):
    """What the vehicle is, how well it is known, and what is wanted of it."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self._doc = ""
        self.setObjectName("brief-bench")
        self.sketch, self.hull, self.measures = Sketch(session), HullSketch(session), MeasureList(session)
        self.goals, self.shelf, self.cases = GoalCards(session), Shelf(session), CasesPanel(session)
        self.workshop, self.history = WorkshopPanel(session), HistoryPanel(session)
        self.tow = TowPanel(session)
        self.picture: Drawing = self.sketch
        self.pictures = QStackedWidget()
        for drawing in (self.sketch, self.hull):
            self.pictures.addWidget(drawing)
            drawing.chosen.connect(self._chosen_on_sketch)
            self.measures.chosen.connect(drawing.select)
            drawing.select(self.measures.path)
        self.side = QTabWidget(documentMode=True, objectName="brief-side")
        self.side.addTab(self.measures, "Measures")
        self.next = NextList(session)
        self.next.asked.connect(self._go_to)
        self.side.addTab(scrolled(self.next), "Next")
        self.side.addTab(self.tow, "Tow")
        self.side.addTab(self.shelf, "Shelf")
        self.shelf.what_asked.connect(self._what_is_it)
        self.side.addTab(self.cases, "Loads")
        self.side.addTab(self.workshop, "Workshop")
        self.side.addTab(self.history, "History")
        self.side.tabBar().setFont(font(11))
        self.side.tabBar().setStyleSheet("QTabBar::tab { padding: 4px 3px; }")
        upper = beside(self.pictures, self.side, stretch=(1, 0), widths=(560, 310))
        self._head = QHBoxLayout()
        layout = QVBoxLayout(self)
        layout.setContentsMargins(6, 2, 6, 4)
        layout.setSpacing(4)
        layout.addLayout(self._head)
        layout.addWidget(upper, 1)
        layout.addWidget(self.goals)
        self._build_head()

    def _build_head(self) -> None:
        title = heading("Vehicle")
        self.name = ValueField(self._session, "vehicle.name", "Name of the vehicle")
        self.name.setMaximumWidth(170)
        on_wheels: list[tuple[object, str]] = [(kind, facts.words) for kind, facts in KINDS.items()]
        afloat: list[tuple[object, str]] = [(kind, facts.words) for kind, facts in BOATS.items()]
        self.kind = ChoiceField(self._session, "vehicle.kind", "Kind of vehicle", on_wheels)
        self.boat = ChoiceField(self._session, "vehicle.kind", "Kind of boat", afloat)
        self.water = ChoiceField(self._session, "vehicle.hull.salt", "Water", [(False, "fresh water"), (True, "salt water")])
        self.axle = ChoiceField(
            self._session, "vehicle.driven_axle", "Driven axle", [("rear", "rear drive"), ("front", "front drive"), ("all", "all driven")]
        )
        self.wheels: QComboBox = ChoiceField(
            self._session,
            "vehicle.axle_wheels",
            "Wheels on the driven axle",
            [(1, "1 wheel on it"), (2, "2 wheels on it"), (3, "3 wheels on it"), (4, "4 wheels on it")],
        )
        self._head.addWidget(title)
        in_all: list[tuple[object, str]] = [(None, "usual wheels"), *((n, f"{n} wheels in all") for n in range(2, 7))]
        self.all_wheels = ChoiceField(self._session, "vehicle.wheels", "Wheels in all", in_all)
        self.name.setMinimumWidth(96)
        for box, widest in ((self.kind, 156), (self.axle, 112), (self.wheels, 122), (self.all_wheels, 124)):
            box.setMinimumWidth(min(widest, 140) - 8)
            box.setMaximumWidth(widest)
        self.all_wheels.setToolTip("Of three wheels the track counts less against tipping sideways")
        for box in (self.boat, self.water):
            box.setMinimumWidth(112)
        for field in (self.name, self.kind, self.axle, self.wheels, self.all_wheels, self.boat, self.water):
            self._head.addWidget(field)
        self.state = ElidedLabel()
        self.state.setProperty("voice", "soft")
        self._head.addWidget(self.state, 1)
        self._session.design_changed.connect(self._count)
        self._session.schedule.arrived.connect(self._weighed)
        self._count()

    def _weighed(self, code: str) -> None:
        if code == "measure_first":
            self._count()

    def first(self) -> tuple[str, ...]:
        """What to measure first, by its short names; nothing while that is not worked out for this design."""
        schedule = self._session.schedule
        if "measure_first" in schedule.stale:
            return ()
        names = {measure.path: measure.short for measure in measures_for(self._session.design.vehicle.kind)}
        weights = schedule.results.get("measure_first") or ()
        return tuple(names[weight.path] for weight in weights if weight.path in names)[:MOST_TOLD]

    def _count(self) -> None:
        if self._session.docs:
            asked = measures_for(self._session.design.vehicle.kind)
            assumed = sum(is_assumed(self._session, measure.path) for measure in asked)
            self._show_kind()
            words = f"{assumed} of {len(asked)} values assumed (≈)" if assumed else "every value measured or stated"
            first = self.first() if assumed else ()
            told = f"measure first: {', '.join(first)}"
            self.state.shorter = (told, f"first: {', '.join(first)}", f"first: {first[0]}") if first else (words.partition(" (")[0],)
            self.state.setText(f"{told}; {words}" if first else words)
            self.state.setToolTip(self.state.text())

    def _show_kind(self) -> None:
        """What a boat has, or a vehicle on wheels."""
        kind = self._session.design.vehicle.kind
        for box in (self.kind, self.axle, self.wheels):
            box.setVisible(not kind.floats)
        for box in (self.boat, self.water):
            box.setVisible(kind.floats)
        self.all_wheels.setVisible(not kind.floats and not KINDS[kind].leans)
        self.picture = self.hull if kind.floats else self.sketch
        self.pictures.setCurrentWidget(self.picture)
        self.side.setTabVisible(self.side.indexOf(self.tow), kind.floats)
        self.side.setTabVisible(self.side.indexOf(self.cases), not kind.floats)

    def _go_to(self, bench: str, what: str) -> None:
        if bench == "brief":
            self.show_target(what)
        else:
            self.asked.emit(bench, what)

    def _what_is_it(self, part: str) -> None:
        self.asked.emit("winding", f"part:{part}")

    def _chosen_on_sketch(self, path: str) -> None:
        self.measures.select(path)
        self.measures.focus_value()

    def table(self) -> list[list[str]]:
        """Every measure with how it is known."""
        session = self._session
        rows = [["measure", "value", "known"]]
        for measure in measures_for(session.design.vehicle.kind):
            found = place(session.design, measure.path)
            if isinstance(found.value, Quantity) and found.spec is not None:
                rows.append([found.spec.label, session.say(found.value.value, found.spec.dimension), str(found.value.known)])
        return rows

    def show_target(self, what: str) -> None:
        """Ready to change one goal, or to take one measure."""
        if what.startswith("vehicle."):
            self.side.setCurrentWidget(self.measures)
            self._chosen_on_sketch(what)
            return
        self.goals.focus_goal(what)

    def focus_first(self) -> None:
        """The keys stay where they are: which measure comes first is for the hand to say."""

    def set_kind(self, kind: VehicleKind) -> None:
        """Another kind of vehicle; measures stay."""
        self._session.try_apply(Edit(label=f"Kind: {VEHICLE_WORDS[kind]}", changes=(("vehicle.kind", kind),)))
