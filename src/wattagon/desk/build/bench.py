"""The bench of parts and steps: the calendar above, the step in hand below; money and balance over the parts list; water and dirt."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

from PySide6.QtWidgets import QFileDialog, QHBoxLayout, QPushButton, QSplitter, QStackedWidget, QTabWidget, QWidget

from wattagon import files
from wattagon.design.paths import Edit
from wattagon.desk.bands import first_to_measure
from wattagon.desk.bench import Bench
from wattagon.desk.build.calendar import CalendarPicture
from wattagon.desk.build.parts_tab import PartsTab
from wattagon.desk.build.purse import PursePicture
from wattagon.desk.build.step_tab import StepTab
from wattagon.desk.build.tab import Tab
from wattagon.desk.build.wet_tab import WetPicture, WetTab
from wattagon.desk.fields import heading, soft_line
from wattagon.desk.following import Following
from wattagon.desk.session import Session
from wattagon.errors import WattagonError
from wattagon.study.build.mark import build_of
from wattagon.study.build.mass import take_balance
from wattagon.study.build.study import Base, BuildStudy, study_build
from wattagon.study.drive.cases import strongest

HINT = "Arrows choose a step, Space ticks it; Return on a part changes its state. Nothing is ordered before what it must fit is measured."
FIRST_WORDS = "Parts and steps are gathered from the benches."
SHARES = (0.66, 0.44, 0.42)  # of the height that each page leaves to its drawing
KINDS = "Parts to print (*.pdf);;Parts as a table (*.csv);;Steps for a calendar (*.ics)"


class BuildBench(Following, Bench):
    """Parts, steps, water and dirt."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self.setObjectName("build-bench")
        self.calendar, self.purse, self.wet = CalendarPicture(session), PursePicture(session), WetPicture(session)
        self.picture = self.calendar
        self.headline = soft_line()
        head = QHBoxLayout()
        head.addWidget(heading("Parts and steps"))
        head.addWidget(self.headline, 1)
        self.doubt = QPushButton("", objectName="build-doubt")
        self.doubt.clicked.connect(self._to_doubt)
        self.doubt.hide()
        head.addWidget(self.doubt)
        self.step_tab, self.parts_tab = StepTab(session), PartsTab(session)
        self.wet_tab = WetTab(session, self.wet)
        self.tabs = QTabWidget(documentMode=True, objectName="build-tabs")
        self.pages: list[Tab] = [self.step_tab, self.parts_tab, self.wet_tab]
        self.pictures: list[QWidget] = [self.calendar, self.purse, self.wet]
        self.drawings = QStackedWidget()
        for page, drawing in zip(self.pages, self.pictures, strict=True):
            self.tabs.addTab(page, page.title)
            self.drawings.addWidget(drawing)
        self.tabs.setCornerWidget(self.step_tab.week)
        self.tabs.currentChanged.connect(self._turned)
        self.calendar.chosen_changed.connect(self._chosen)
        self.calendar.tick_asked.connect(lambda _code: self.step_tab.tick())
        self.step_tab.bench_asked.connect(self._asked)
        self.step_tab.row_asked.connect(self._to_row)
        self.parts_tab.measure_asked.connect(lambda path: self.asked.emit("layout" if "layout" in path else "brief", path))
        self.put_together(head, self.drawings, self.tabs, (390, 190), HINT)
        for signal in (session.design_changed, session.looks_changed):
            signal.connect(self.followed)
        session.schedule.arrived.connect(lambda code: self.followed() if code == "build" else None)
        session.schedule.arrived.connect(self._weighed)
        self.found: BuildStudy | None = None
        self._base: Base | None = None
        self._behind = True

    def _weighed(self, code: str) -> None:
        if code == "bands":
            self._show_doubt()

    def _show_doubt(self) -> None:
        """Before anything is ordered: what to measure, where a goal may as well be missed."""
        step = (
            first_to_measure(self._session)
            if self.found is not None and any(part.state.value == "to_order" for part in self.found.parts)
            else None
        )
        self.doubt.setVisible(step is not None)
        if step is not None:
            self.doubt.setText(f"Before you order: measure {step.name}, {step.minutes} min")
            self.doubt.setToolTip(f"It makes {step.share:.0%} of what is doubtful about the goals. {step.how} Tool: {step.tool}.")

    def _to_doubt(self) -> None:
        step = first_to_measure(self._session)
        if step is not None:
            self.asked.emit(step.bench, step.what)

    @property
    def busy(self) -> bool:
        return self._session.schedule.busy

    def _turned(self, page: int) -> None:
        self.drawings.setCurrentIndex(page)
        self.picture = (self.calendar, self.purse, self.wet)[page]
        self.step_tab.week.setVisible(page == 0)
        split = self.findChild(QSplitter)
        if split is not None:
            whole = sum(split.sizes())
            drawing = round(SHARES[page] * whole)
            split.setSizes([drawing, whole - drawing])
        if page == 2:
            self.wet_tab.refresh()

    def refresh(self) -> None:
        session = self._session
        session.schedule.hurry("build")
        self.found, problem = None, ""
        if not session.docs or session.study is None:
            problem, self._base = session.problem or "No vehicle is open.", None
        else:
            arrived = session.schedule.results.get("build")
            if arrived is not None:
                self._base = arrived.study.base
            base = self._base
            same = (
                base is not None and base.design.vehicle.name == session.design.vehicle.name and base.design.active == session.design.active
            )
            problem = FIRST_WORDS
            if same and base is not None:
                try:
                    self.found = study_build(base, strongest(session.design), self.step_tab.today, session.stock)
                except WattagonError as refusal:
                    problem = str(refusal)
        old = "build" in session.schedule.stale
        arrived = session.schedule.results.get("build")
        self.calendar.shorter = arrived.shorter if arrived is not None and not old else ()
        self.calendar.show_build(self.found, problem, old=old)
        self.purse.show_build(self.found, problem)
        self.step_tab.code = self.calendar.chosen
        for page in self.pages:
            page.show_build(self.found)
        if self.tabs.currentIndex() == 2:
            self.wet_tab.refresh()
        self.headline.setText(self._says())
        self._show_doubt()

    def _says(self) -> str:
        found, say = self.found, self._session.say
        if found is None:
            return ""
        done = sum(task.state.value == "done" for task in found.tasks)
        bought = sum(part.here for part in found.parts)
        closed = sum(bool(part.missing) and part.state.value == "to_order" for part in found.parts)
        gate = f", {closed} wait for a measure" if closed else ""
        money = f"; {say(found.spent, 'money')} spent, {say(found.to_spend, 'money')} to spend"
        return f"{done} of {len(found.tasks)} steps done, {bought} of {len(found.parts)} parts here{gate}{money}"

    def _chosen(self, code: str) -> None:
        self.step_tab.choose(code)

    def _asked(self, bench: str, what: str) -> None:
        if bench:
            self.asked.emit(bench, what)
        else:
            self.calendar.choose(what)

    def _to_row(self, row: str) -> None:
        self.tabs.setCurrentWidget(self.parts_tab)
        self.parts_tab.choose(row)

    # what the menus offer

    def ask_save(self) -> None:
        """Where to; what by its ending."""
        name, _ = QFileDialog.getSaveFileName(self, "Save parts or steps", "parts.pdf", KINDS)
        if name:
            self.save(Path(name))

    def save(self, path: Path) -> None:
        """Parts as PDF or CSV, steps as a calendar."""
        from wattagon.exchange.build_json import parts_csv
        from wattagon.exchange.build_out import parts_pdf, steps_ics

        found, session = self.found, self._session
        if found is None:
            session.told.emit("The build is still being gathered", True)
            return
        makers = {
            ".pdf": lambda: parts_pdf(found, session.unit_set),
            ".csv": lambda: parts_csv(found).encode(),
            ".ics": lambda: steps_ics(found),
        }
        make = makers.get(path.suffix.lower())
        if make is None:
            session.told.emit(f"{path.name} ends in {path.suffix or 'nothing'}; accepted: .pdf, .csv, .ics", True)
            return
        try:
            files.write_bytes(path, make())
        except WattagonError as refusal:
            session.told.emit(str(refusal), True)
            return
        session.told.emit(f"Written: {path}", False)

    def take_balance(self) -> None:
        """Where the weight sits with this drive, for one who measured it before the drive was on."""
        found = self.found
        if found is None or found.base.mass.added is None or found.design.vehicle.kind.floats:
            self._session.told.emit("There is no balance to take: nothing of it is placed, or it floats", True)
            return
        self._session.try_apply(take_balance(self._session.design, found.base.mass, found.base.mass.after))

    def takes_out(self, what: str) -> None:
        """Whether it is a conversion, and of what."""
        words = {"engine": "an engine is taken out", "drive": "an old electric drive is taken out", "nothing": "nothing is taken out"}[what]
        build = replace(build_of(self._session.design), takes_out=what)
        self._session.try_apply(Edit(label=f"Build: {words}", changes=(("variant.build", build),)))

    # what the window asks

    def show_target(self, what: str) -> None:
        self.refresh()
        pages = {"parts": self.parts_tab, "wet": self.wet_tab, "step": self.step_tab, "steps": self.step_tab, "water": self.wet_tab}
        if what in pages:
            self.tabs.setCurrentWidget(pages[what])
            return
        if self.found is not None and any(task.step.id == what for task in self.found.tasks):
            self.tabs.setCurrentWidget(self.step_tab)
            self.calendar.choose(what)
        elif self.found is not None and any(part.row.id == what for part in self.found.parts):
            self._to_row(what)

    def table(self) -> list[list[str]]:
        if self.found is None:
            return []
        say = self._session.say
        if self.tabs.currentWidget() is self.parts_tab:
            rows = [["part", "how many", "where", "price", "state", "measure first"]]
            for part in self.found.parts:
                price = say(part.row.count * part.price, "money")
                rows.append([part.row.name, f"{part.row.count:g}", part.row.used, price, part.state.value, " ".join(part.missing)])
            return rows
        rows = [["step", "hours", "state", "waits for"]]
        rows += [[task.step.title, f"{task.hours[1]:.2g}", task.state.value, " ".join(task.blocked)] for task in self.found.tasks]
        return rows
