"""The winding bench: the stator coil by coil above, below it options, the work, measures, readings, sensors."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtWidgets import QFileDialog, QHBoxLayout, QTabWidget, QWidget

from wattagon import files
from wattagon.desk.bench import Bench
from wattagon.desk.fields import heading, soft_line
from wattagon.desk.following import Following
from wattagon.desk.session import Session
from wattagon.desk.winding.halls_tab import HallsTab
from wattagon.desk.winding.iron_tab import IronTab
from wattagon.desk.winding.options_tab import OptionsTab
from wattagon.desk.winding.picture import WindingPicture
from wattagon.desk.winding.read_tab import AfterTab, BeforeTab
from wattagon.desk.winding.tab import Tab
from wattagon.desk.winding.wind_tab import WindTab
from wattagon.errors import WattagonError
from wattagon.study.winding.study import WindingStudy, laid_over

HINT = "Space: this coil is wound, Backspace takes it back; up and down count its turns; left and right turn the rotor."
FIRST_WORDS = "The winding is being worked out."
KINDS = "Pattern sheet at 1:1 (*.pdf);;Drawing at 1:1 (*.svg)"


class WindingBench(Following, Bench):
    """Stator, options, guide, sensors, readings."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self.setObjectName("winding-bench")
        self.drawing = WindingPicture(session)
        self.picture = self.drawing
        self.headline = soft_line()
        head = QHBoxLayout()
        head.addWidget(heading("Winding"))
        head.addWidget(self.headline, 1)
        self.options, self.wind, self.iron = OptionsTab(session), WindTab(session), IronTab(session)
        self.before, self.halls, self.after = BeforeTab(session), HallsTab(session), AfterTab(session)
        self.pages: list[Tab] = [self.options, self.iron, self.before, self.wind, self.halls, self.after]
        self.tabs = QTabWidget(documentMode=True, objectName="winding-tabs")
        for page in self.pages:
            self.tabs.addTab(page, page.title)
        self.put_together(head, self.drawing, self.tabs, (330, 250), HINT)
        self.drawing.tick_asked.connect(self.wind.tick)
        self.drawing.untick_asked.connect(self.wind.untick)
        self.drawing.turn_asked.connect(self.wind.turn)
        self.iron.measure_shown.connect(self.drawing.show_measure)
        for signal in (session.design_changed, session.looks_changed):
            signal.connect(self.followed)
        session.schedule.arrived.connect(lambda code: self.followed() if code == "winding" else None)
        self.found: WindingStudy | None = None
        self._last: WindingStudy | None = None
        self._behind = True

    @property
    def busy(self) -> bool:
        return self._session.schedule.busy or self.options.worker.running

    def refresh(self) -> None:
        session = self._session
        session.schedule.hurry("winding")
        found, problem, refusal = None, FIRST_WORDS, ""
        if not session.docs or session.study is None:
            problem = session.problem or "No vehicle is open."
            self._last = None
        else:
            arrived = session.schedule.results.get("winding")
            stale = "winding" in session.schedule.stale
            if arrived is not None and not stale:
                self._last = arrived.study
                refusal = arrived.refusal
                problem = refusal or problem
            if self._last is not None:
                found = laid_over(self._last, session.design, session.stock)
        self.found = found
        self.drawing.show_winding(found, problem, stale=found is None)
        for page in self.pages:
            page.show_winding(found)
        self.headline.setText(refusal or self._says())

    def _says(self) -> str:
        found = self.found
        if found is None:
            return ""
        say = self._session.say
        if found.guide is not None and found.chosen is not None:
            many = f"{len(found.guide.done)} of {len(found.guide.jobs)} coils wound"
            carried = ", in the drive" if found.told.was is not None else ""
            return f"{found.chosen.name}: {say(found.chosen.kv, 'kv')}{carried}; {many}"
        if found.told.kv is not None:
            return f"{say(float(found.base.motor.kv_rpm_per_v), 'kv')} now, {say(found.wanted_kv, 'kv')} wanted: decide on an option"
        return f"{say(float(found.base.motor.kv_rpm_per_v), 'kv')} now; type the kv that you want, or measure what it is"

    # what the menus offer

    def ask_save(self) -> None:
        """Where to."""
        name, _ = QFileDialog.getSaveFileName(self, "Save the pattern sheet", "winding.pdf", KINDS)
        if name:
            self.save(Path(name))

    def save(self, path: Path) -> None:
        """At 1:1, as PDF or SVG by its ending."""
        from wattagon.exchange.winding_sheet import winding_pdf, winding_svg

        if self.found is None:
            self._session.told.emit("The winding is still being worked out", True)
            return
        try:
            svg = path.suffix.lower() == ".svg"
            files.write_bytes(path, winding_svg(self.found).encode() if svg else winding_pdf(self.found))
        except WattagonError as refusal:
            self._session.told.emit(str(refusal), True)
            return
        self._session.told.emit(f"Written: {path}", False)

    def best_kv(self) -> None:
        """Which kv fits the goals best."""
        self.tabs.setCurrentWidget(self.options)
        self.options.ask_best()

    # what the window asks

    def show_target(self, what: str) -> None:
        self.refresh()
        for page in self.pages:
            if what and page.title.lower().startswith(what):
                self.tabs.setCurrentWidget(page)
        if what == "best":
            self.best_kv()
        elif what.startswith("part:"):
            self.options.look_at_part(what.removeprefix("part:"))
            self.tabs.setCurrentWidget(self.before)

    def table(self) -> list[list[str]]:
        if self.found is None:
            return []
        return self._option_table(self.found) if self.found.offers else self._motor_table(self.found)

    def _option_table(self, found: WindingStudy) -> list[list[str]]:
        say = self._session.say
        rows = [["turns", "strands", "wire", "connection", "paths", "kv", "resistance", "fill", "lasting"]]
        for one, effect in found.offers:
            coils = one.coils
            made = [f"{coils.turns:g}", f"{coils.strands:g}", say(coils.wire_m, "length"), coils.connection.value, str(coils.paths)]
            gives = [say(one.kv, "kv"), say(one.ohm, "resistance"), f"{one.fill:.2f}", say(effect.lasting_a, "current")]
            rows.append([*made, *gives])
        return rows

    def _motor_table(self, found: WindingStudy) -> list[list[str]]:
        say, base, layout = self._session.say, found.base, found.layout
        coils, effect = base.coils, found.ways[0].effect
        rows = [
            ["motor", base.part.name],
            ["iron", base.iron.name],
            ["pattern", layout.pattern.text if layout is not None else found.why_not],
            ["winding factor", f"{layout.factor:.4f}" if layout is not None else ""],
            ["kv", say(float(base.motor.kv_rpm_per_v), "kv")],
            ["resistance between leads", say(float(base.motor.resistance_ohm), "resistance")],
            ["turns of a coil", f"{coils.turns:g}"],
            ["wire", f"{coils.strands:g} × {say(coils.wire_m, 'length')}"],
            ["connection", coils.connection.value],
            ["electrical at the top speed", say(found.hz, "frequency")],
            ["lasting current", say(effect.lasting_a, "current")],
            ["lasting torque", say(effect.lasting_nm, "torque")],
        ]
        return [["what", "value"], *rows]
