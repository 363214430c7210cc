"""The pack bench: cells and volts in one picture, below it what is asked of them and what was read."""

from __future__ import annotations

import math

from PySide6.QtWidgets import QHBoxLayout, QTabWidget, QWidget

from wattagon.desk.bench import Bench
from wattagon.desk.fields import heading, soft_line
from wattagon.desk.following import Following
from wattagon.desk.pack.picture import PackPicture
from wattagon.desk.pack.tab import Tab
from wattagon.desk.pack.tabs import TABS
from wattagon.desk.pack.tabs_told import BricksTab
from wattagon.desk.session import Session
from wattagon.errors import WattagonError
from wattagon.study.pack.study import PackStudy, study_pack

HINT = "Arrows step series and parallel; drag the blue handles, or Page up and down, Home and End: the window of charge."
FIRST_WORDS = "The pack is being worked out: its rides first."

# as they stand on the ladder
RUNGS = {
    "full": "full",
    "nominal": "half",
    "storage": "storage",
    "cut_start": "cut back from",
    "cut_end": "cut back to nothing",
    "empty": "empty",
    "sag": "half, all that settings ask for",
}


class PackBench(Following, Bench):
    """Cells, volts, currents, charging, checks."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self.setObjectName("pack-bench")
        self.drawing = PackPicture(session)
        self.picture = self.drawing
        self.headline = soft_line()
        head = QHBoxLayout()
        head.addWidget(heading("Pack"))
        head.addWidget(self.headline, 1)
        self.tabs = QTabWidget(documentMode=True, objectName="pack-tabs")
        self.pages: list[Tab] = [page(session) for page in TABS]
        for page in self.pages:
            self.tabs.addTab(page, page.title)
        bricks = next(page for page in self.pages if isinstance(page, BricksTab))
        self.drawing.chosen_changed.connect(bricks.choose)
        self.drawing.chosen_changed.connect(lambda _k: self.tabs.setCurrentWidget(bricks))
        self.put_together(head, self.drawing, self.tabs, (350, 200), HINT)
        for signal in (session.design_changed, session.looks_changed, session.moment_changed):
            signal.connect(self.followed)
        session.schedule.arrived.connect(lambda code: self.followed() if code == "pack" else None)
        self._last: PackStudy | None = None
        self._behind = True

    @property
    def found(self) -> PackStudy | None:
        """What is shown."""
        return self.drawing.found

    @property
    def busy(self) -> bool:
        return self._session.schedule.busy

    def refresh(self) -> None:
        session, found, problem = self._session, None, ""
        session.schedule.hurry("pack")
        if not session.docs or session.study is None:
            problem = session.problem or "No vehicle is open."
            self._last = None
        else:
            arrived = session.schedule.results.get("pack")
            study = arrived.study if arrived is not None else None
            try:
                found = self._fresh(study)
            except WattagonError as refusal:
                problem = str(refusal)
            problem = problem or FIRST_WORDS
        self.drawing.show_pack(found, problem)
        for page in self.pages:
            page.show_pack(found)
        self.headline.setText(self._says(found))

    def _fresh(self, study: PackStudy | None) -> PackStudy | None:
        """The study of this design where it has come; else what can be told at once, over the last one of the same vehicle."""
        session = self._session
        assert session.study is not None
        if study is not None and "pack" not in session.schedule.stale and study.design.active == session.design.active:
            self._last = study
        last = self._last if self._last is not None and self._last.design.vehicle.name == session.design.vehicle.name else study
        if last is None:
            return study_pack(session.design, session.stock, session.study)
        if last is study and "pack" not in session.schedule.stale:
            return last
        return study_pack(session.design, session.stock, session.study, last=last)

    def _says(self, found: PackStudy | None) -> str:
        if found is None:
            return ""
        variant, say = found.resolved.variant, self._session.say
        words = f"{variant.id} {variant.name}: {say(found.usable_wh, 'energy')} in the window"
        over = [rung.name for rung in found.rungs if rung.status.value == "over"]
        if over:
            words += f", full volts over: {', '.join(over)}"
        elif found.ridden is not None and math.isfinite(float(found.resolved.train.pack.continuous_a)):
            share = found.ridden.lasting_a / float(found.resolved.train.pack.continuous_a)
            words += f", rides ask for {share:.0%} of what the cells bear for long"
        return words

    def show_link(self, link: str) -> None:
        self.show_target("cells")
        self.drawing.setFocus()

    def show_target(self, what: str) -> None:
        self.refresh()
        for page in self.pages:
            if page.title.lower().startswith(what) and what:
                self.tabs.setCurrentWidget(page)

    def table(self) -> list[list[str]]:
        if self.found is None:
            return []
        say, rows = self._session.say, [["rung", "volts", "status"]]
        volts = self.found.volts
        rows += [[words, say(getattr(volts, name), "voltage"), ""] for name, words in RUNGS.items()]
        for rung in self.found.rungs:
            rows.append([rung.name, say(rung.volts, "voltage") if math.isfinite(rung.volts) else "", rung.status.value])
        return rows
