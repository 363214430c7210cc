"""The work of winding: what is done before and after, where starts and ends go, and the core tests of each phase."""

from __future__ import annotations

from functools import partial

from PySide6.QtWidgets import QGridLayout, QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from wattagon.design.paths import Edit
from wattagon.design.quantity import Known, Quantity
from wattagon.desk.fields import lines_of_text, scrolled
from wattagon.desk.session import Session
from wattagon.desk.theme import THEMES, font
from wattagon.desk.winding.entry import Entry
from wattagon.desk.winding.inks import ink_of
from wattagon.desk.winding.tab import Tab, small
from wattagon.exchange import units
from wattagon.study.winding.after import core_status
from wattagon.study.winding.enter import core_test, megohm_of, put, tick, told_of, turn, untick
from wattagon.study.winding.guide import EYES, MEGGER, before_and_after
from wattagon.study.winding.study import WindingStudy

TIMES = ("before", "after", "cured")


class WindTab(Tab):
    """Ticks, joints, core tests, resin."""

    title = "Wind"

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.done = QPushButton("This coil is wound", objectName="winding-tick")
        self.done.setToolTip("Space")
        self.done.clicked.connect(self.tick)
        self.back = QPushButton("Take the last back", objectName="winding-untick")
        self.back.setToolTip("Backspace")
        self.back.clicked.connect(self.untick)
        self.less, self.more = QPushButton("−", objectName="winding-less"), QPushButton("+", objectName="winding-more")
        for button, step in ((self.less, -1), (self.more, 1)):
            button.setFixedWidth(34)
            button.clicked.connect(partial(self._stepped, step))
        self.turns = QLabel("")
        row = QHBoxLayout()
        row.setContentsMargins(4, 3, 4, 0)
        row.addWidget(self.done)
        row.addWidget(self.back)
        row.addSpacing(12)
        row.addWidget(self.less)
        row.addWidget(self.turns)
        row.addWidget(self.more)
        row.addStretch(1)
        self.caution = lines_of_text("winding-caution")
        self.joints = lines_of_text("winding-joints")
        self.work = lines_of_text("winding-work")
        self.tests: dict[tuple[str, str], Entry] = {}
        grid_box = QWidget()
        grid = QGridLayout(grid_box)
        grid.setContentsMargins(6, 2, 6, 2)
        grid.setVerticalSpacing(3)
        grid.addWidget(small("core, MΩ"), 0, 0)
        for k, when in enumerate(TIMES):
            grid.addWidget(small(when), 0, 1 + k)
        self.names = []
        for r, phase in enumerate("ABC"):
            name = QLabel(f"phase {phase}")
            name.setFont(font(12, 600))
            self.names.append(name)
            grid.addWidget(name, 1 + r, 0)
            for k, when in enumerate(TIMES):
                entry = Entry(session, f"core-{phase}-{when}", f"insulation of phase {phase} {when}", partial(self._core, phase, when), 78)
                grid.addWidget(entry, 1 + r, 1 + k)
                self.tests[phase, when] = entry
        self.cover = Entry(session, "winding-cover", "resin over the tips", self._cover, 78)
        grid.addWidget(small("resin on tips"), 4, 0)
        grid.addWidget(self.cover, 4, 1)
        self.left = small()
        grid.addWidget(self.left, 4, 2, 1, 2)
        grid.setRowStretch(5, 1)
        words = QWidget()
        column = QVBoxLayout(words)
        column.setContentsMargins(6, 2, 6, 2)
        column.addWidget(self.caution)
        column.addWidget(self.joints)
        column.addWidget(self.work)
        column.addStretch(1)
        body = QHBoxLayout()
        body.addWidget(scrolled(grid_box), 2)
        body.addWidget(scrolled(words), 3)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(2)
        layout.addLayout(row)
        layout.addLayout(body, 1)

    def show_winding(self, found: WindingStudy | None) -> None:
        super().show_winding(found)
        guide = found.guide if found is not None else None
        theme = THEMES[self.session.theme_name]
        for phase, name in enumerate(self.names):
            name.setStyleSheet(f"color: {ink_of(theme, phase).name()}")
        self.done.setEnabled(guide is not None and not guide.finished)
        self.back.setEnabled(guide is not None and bool(guide.done))
        self.less.setEnabled(guide is not None and guide.turns_on > 0)
        self.more.setEnabled(guide is not None and guide.job is not None and guide.turns_on < guide.turns)
        self.caution.setText(f"<b>Caution:</b> {EYES} {MEGGER} Local rules and licensed practice come first.")
        if guide is None or found is None:
            self.turns.setText("")
            self.joints.setText("Decide on an option first: then coils, leads and joints appear here in their order.")
            self.work.setText("")
        else:
            self.turns.setText(f"turn {guide.turns_on} of {guide.turns}" if guide.job is not None else "all coils wound")
            joined = "; ".join(f"<b>{joint.name}</b>: {' + '.join(joint.ends)}" for joint in guide.joints)
            cut = f"{guide.pieces} strands of {self.session.say(guide.piece_m, 'height')} each, spare in it."
            self.joints.setText(f"{cut}<br>Joined in {found.coils.connection.value}: {joined}")
            steps = before_and_after(flooded=found.wet)
            self.work.setText("<br>".join(f"<b>{what}</b> {how}" for what, how in steps))
        if self.session.docs:
            self._show_tests(found)

    def _show_tests(self, found: WindingStudy | None) -> None:
        told = told_of(self.session.design)
        for (phase, when), entry in self.tests.items():
            one = next((test for test in told.tests if (test.phase, test.when) == (phase, when)), None)
            text = f"{one.megohm:g}" if one is not None else ""
            tip = "10 MΩ and more at 250 or 500 V DC"
            if one is not None:
                tip = f"{one.megohm:g} MΩ at {one.volts:g} V, {one.date}: {core_status(one).value}"
            entry.show_text(text, "> 10", tip)
        say = self.session.say
        cover = say(told.cover.value, "length") if told.cover is not None else ""
        self.cover.show_text(cover, "0.1 mm", "tape on the tips, turned by hand: what just does not touch")
        if found is not None and told.cover is not None:
            left = found.base.iron.air_gap_m - told.cover.value
            self.left.setText(f"{say(max(left, 0.0), 'length')} of air left")
        else:
            self.left.setText("")

    def _core(self, phase: str, when: str, text: str) -> Edit:
        design = self.session.design
        if not text:
            kept = tuple(one for one in told_of(design).tests if (one.phase, one.when) != (phase, when))
            return put(design, f"Phase {phase} {when}: not tested", tests=kept)
        return core_test(design, phase, when, megohm_of(text, f"insulation of phase {phase}"), 500.0, self.today)

    def _cover(self, text: str) -> Edit:
        if not text:
            return put(self.session.design, "Resin on the tips not told", cover=None)
        value = units.parse(text, "length", self.session.unit_set, field="resin over the tips")
        return put(self.session.design, "Resin on the tips", cover=Quantity(value=value, known=Known.MEASURED, date=self.today.isoformat()))

    def tick(self) -> None:
        """The coil in hand is wound."""
        if self.found is not None:
            self.apply(tick(self.found))

    def untick(self) -> None:
        """The last one is not."""
        if self.found is not None:
            self.apply(untick(self.found))

    def turn(self, step: int) -> None:
        """A turn more or less."""
        if self.found is not None:
            self.apply(turn(self.found, step))

    def _stepped(self, step: int, _checked: bool = False) -> None:
        self.turn(step)
