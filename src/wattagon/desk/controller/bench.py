"""The controller bench: limits and throttle in one picture, below it the sheet, the throttle's fields, failures, a sheet read back."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtWidgets import QFileDialog, QHBoxLayout, QStackedWidget, QTabWidget, QWidget

from wattagon import files
from wattagon.desk.bench import Bench
from wattagon.desk.controller.compare_tab import CompareTab
from wattagon.desk.controller.picture import ControllerPicture
from wattagon.desk.controller.sheet_tab import SheetTab
from wattagon.desk.controller.stand_picture import StandPicture
from wattagon.desk.controller.stand_tab import StandTab
from wattagon.desk.controller.tab import Tab
from wattagon.desk.controller.throttle_tab import FailTab, ThrottleTab
from wattagon.desk.fields import heading, soft_line
from wattagon.desk.following import Following
from wattagon.desk.session import Session
from wattagon.errors import WattagonError
from wattagon.study.controller.study import ControllerStudy
from wattagon.study.findings.status import Status

HINT = "Drag a setting: it stops at the first bound; arrows choose and step; G: another gesture. On the stand they push the lever."
FIRST_WORDS = "Bounds are being worked out."
PAGES: tuple[type[Tab], ...] = (SheetTab, ThrottleTab, FailTab, CompareTab, StandTab)
KINDS = "PDF (*.pdf);;JSON (*.json);;CSV (*.csv);;Label (*.txt);;Throttle map, C (*.c);;Throttle map, table (*.map.csv)"


class ControllerBench(Following, Bench):
    """Settings with reasons, the feel of the lever."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self.setObjectName("controller-bench")
        self.drawing = ControllerPicture(session)
        self.picture = self.drawing
        self.headline = soft_line()
        head = QHBoxLayout()
        head.addWidget(heading("Controller"))
        head.addWidget(self.headline, 1)
        self.tabs = QTabWidget(documentMode=True, objectName="controller-tabs")
        self.pages: list[Tab] = [page(session) for page in PAGES]
        for page in self.pages:
            self.tabs.addTab(page, page.title)
        self.bed = StandPicture(session)
        self.both = QStackedWidget()
        self.both.addWidget(self.drawing)
        self.both.addWidget(self.bed)
        self.stand.changed.connect(self.bed.show_stand)
        self.bed.pushed.connect(self.stand.push)
        self.tabs.currentChanged.connect(self._turned)
        self.put_together(head, self.both, self.tabs, (350, 200), HINT)
        for signal in (session.design_changed, session.looks_changed):
            signal.connect(self.followed)
        session.schedule.arrived.connect(lambda code: self.followed() if code == "controller" else None)
        self._behind = True

    @property
    def found(self) -> ControllerStudy | None:
        """What is shown."""
        return self.drawing.found

    @property
    def busy(self) -> bool:
        return self._session.schedule.busy or self.compare.busy or self.stand.busy

    @property
    def stand(self) -> StandTab:
        """The page of the test stand."""
        return next(page for page in self.pages if isinstance(page, StandTab))

    def _turned(self, _page: int) -> None:
        """The stand has a picture of its own."""
        stands = self.tabs.currentWidget() is self.stand
        self.both.setCurrentWidget(self.bed if stands else self.drawing)
        self.picture = self.bed if stands else self.drawing

    @property
    def compare(self) -> CompareTab:
        """The page of a sheet that was read back."""
        return next(page for page in self.pages if isinstance(page, CompareTab))

    def refresh(self) -> None:
        session, found, problem = self._session, None, ""
        session.schedule.hurry("controller")
        if not session.docs or session.study is None:
            problem = session.problem or "No vehicle is open."
        else:
            arrived = session.schedule.results.get("controller")
            found = arrived.study if arrived is not None else None
            if found is not None and (
                found.design.vehicle.name != session.design.vehicle.name or found.design.active != session.design.active
            ):
                found = None
            problem = FIRST_WORDS
        self.drawing.show_controller(found, problem, old="controller" in session.schedule.stale)
        for page in self.pages:
            page.show_controller(found)
        self.headline.setText(self._says(found))

    def _says(self, found: ControllerStudy | None) -> str:
        if found is None:
            return ""
        variant = found.drive.resolved.variant
        over = [one.name for one in found.settings if one.status is Status.OVER]
        own = sum(one.overridden for one in found.settings)
        words = f"{variant.id} {variant.name}: {found.school.name}"
        if over:
            return f"{words}; out of bounds: {', '.join(over[:4])}"
        return f"{words}; all within bounds{f', {own} chosen otherwise than worked out' if own else ''}"

    # paper

    def ask_save(self) -> None:
        """Where to, and as what by its ending."""
        name, chosen = QFileDialog.getSaveFileName(self, "Save the settings sheet", "settings.pdf", KINDS)
        if name:
            self.save(Path(name), "table" if "map.csv" in (chosen or "") or name.endswith(".map.csv") else "")

    def save(self, path: Path, form: str = "") -> None:
        """Into a file; a refusal is told."""
        from wattagon.exchange.settings_json import label_text, settings_csv, settings_json
        from wattagon.exchange.settings_pdf import settings_pdf
        from wattagon.study.controller.throttle import small_program, table_csv

        found, session = self.found, self._session
        if found is None:
            session.told.emit("The sheet is still being worked out", True)
            return
        form = form or path.suffix.lower().lstrip(".")
        makers = {
            "pdf": lambda: settings_pdf(found, session.unit_set),
            "json": lambda: settings_json(found).encode(),
            "csv": lambda: settings_csv(found).encode(),
            "txt": lambda: label_text(found, session.unit_set).encode(),
            "c": lambda: small_program(found.throttle).encode(),
            "table": lambda: table_csv(found.throttle).encode(),
        }
        if form not in makers:
            session.told.emit(f"{path.name} ends in .{form}; accepted: .pdf, .json, .csv, .txt, .c", True)
            return
        try:
            files.write_bytes(path, makers[form]())
        except WattagonError as refusal:
            session.told.emit(str(refusal), True)
            return
        session.told.emit(f"Written: {path}", False)

    def ask_compare(self) -> None:
        """A sheet that was read back."""
        self.tabs.setCurrentWidget(self.compare)
        self.compare.ask()

    # what the window asks

    def show_link(self, link: str) -> None:
        self.drawing.setFocus()

    def show_target(self, what: str) -> None:
        self.refresh()
        for page in self.pages:
            if what and page.title.lower().startswith(what):
                self.tabs.setCurrentWidget(page)
                return
        sheet = self.pages[0]
        if isinstance(sheet, SheetTab) and what:
            self.tabs.setCurrentWidget(sheet)
            sheet.focus_line(what)

    def table(self) -> list[list[str]]:
        if self.found is None:
            return []
        say = self._session.say
        told = lambda one, value: say(value, one.dimension) if isinstance(value, (int, float)) else str(value or "")
        rows = [["setting", "value", "from", "to", "because"]]
        for one in self.found.settings:
            low = f"{told(one, one.low)} {one.low_from}" if one.low is not None else ""
            high = f"{told(one, one.high)} {one.high_from}" if one.high is not None else ""
            rows.append([one.name, told(one, one.value), low, high, one.cannot or one.because])
        return rows
