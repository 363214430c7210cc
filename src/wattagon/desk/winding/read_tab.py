"""What a meter and a drill tell, before and after winding: readings, what they make of the motor, and what is likely wrong."""

from __future__ import annotations

import re
from functools import partial

from PySide6.QtWidgets import QHBoxLayout, QPushButton

from wattagon.design.paths import Edit
from wattagon.desk.fields import lines_of_text
from wattagon.desk.session import Session
from wattagon.desk.winding.entry import Entry
from wattagon.desk.winding.tab import Tab, beside_words, field_grid, put_entry
from wattagon.errors import InputError
from wattagon.exchange import units
from wattagon.study.findings.status import Status
from wattagon.study.winding.enter import read, take_readings, told_of
from wattagon.study.winding.identify import says
from wattagon.study.winding.study import WindingStudy

FIELDS: tuple[tuple[str, str, str], ...] = (
    ("ab", "A to B", "resistance"),
    ("bc", "B to C", "resistance"),
    ("ca", "C to A", "resistance"),
    ("copper", "copper at", "temperature"),
    ("rpm", "spun at", "rpm"),
    ("v_ab", "AC volts A to B", "voltage"),
    ("v_bc", "B to C", "voltage"),
    ("v_ca", "C to A", "voltage"),
    ("hz", "their frequency", "frequency"),
    ("free_v", "running free, volts", "voltage"),
    ("free_a", "amps", "current"),
    ("free_rpm", "speed", "rpm"),
)
HINTS = {"ab": "mΩ, V at A", "copper": "20 °C", "v_ab": "rms", "hz": "tells magnets"}
_AT = re.compile(r"^(?P<volts>.+?)\s*(?:\bat\b|@|/)\s*(?P<amps>.+)$", re.IGNORECASE)
MARKS = {Status.CLEAR: "○", Status.TIGHT: "▮", Status.OVER: "◣"}


class ReadTab(Tab):
    """Fields and what they tell."""

    which = "before"

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        page, grid = field_grid()
        self.fields: dict[str, Entry] = {}
        for k, (name, words, dimension) in enumerate(FIELDS):
            take = partial(self._read, name, words, dimension)
            self.fields[name] = put_entry(grid, k % 6, 2 * (k // 6), session, f"{self.which}-{name}", words, take, 124)
        self.take = QPushButton("Take it into the motor", objectName=f"{self.which}-take")
        self.take.setToolTip("kv, resistance and magnets as measured, in one step that can be undone")
        self.take.clicked.connect(self.take_it)
        grid.setRowStretch(6, 1)
        self.words = lines_of_text(f"{self.which}-words")
        beside_words(QHBoxLayout(self), page, self.words, self.take)

    def show_winding(self, found: WindingStudy | None) -> None:
        super().show_winding(found)
        if not self.session.docs:
            return
        told = getattr(told_of(self.session.design), self.which)
        for name, _, dimension in FIELDS:
            value = getattr(told, name)
            text = self.session.say(value.value, dimension) if value is not None else ""
            self.fields[name].show_text(text, HINTS.get(name, ""), f"read {value.date}" if value is not None and value.date else "")
        self.take.setEnabled(found is not None and take_readings(found, self.which, self.today) is not None)
        self.words.setText("<br>".join(self.lines(found)))

    def lines(self, found: WindingStudy | None) -> list[str]:
        """What they tell."""
        if found is None:
            return []
        made = list(says(found.base, found.told, found.read_before, found.guesses))
        first = "Spin it by a drill at a steady speed, leads open; AC volts of all three pairs. Resistance by a known current of 1 to 5 A."
        if len(found.guesses) > 1:
            others = "; ".join(f"{one.turns} {one.connection.value}: {100 * one.share:.0f}" for one in found.guesses[:3])
            made.append(f"of 100: {others}")
        return [f"<b>{line}</b>" for line in made] + [first]

    def _read(self, name: str, words: str, dimension: str, text: str) -> Edit:
        design = self.session.design
        if not text:
            return read(design, self.which, name, None, self.today)
        return read(design, self.which, name, self._figure(words, dimension, text), self.today)

    def _figure(self, words: str, dimension: str, text: str) -> float:
        """As typed; a resistance may be volts at a known current."""
        parse = lambda one, kind: units.parse(one, kind, self.session.unit_set, field=words)
        both = _AT.match(text) if dimension == "resistance" else None
        if both is not None and re.search(r"[aA]\s*$", both["amps"]):
            amps = parse(both["amps"], "current")
            if not amps > 0.0:
                raise InputError(words, units.quoted(text), "volts at a current above 0 A")
            return parse(both["volts"], "voltage") / amps
        return parse(text, dimension)

    def take_it(self) -> None:
        """Into the motor as measured."""
        if self.found is not None:
            self.apply(take_readings(self.found, self.which, self.today))


class BeforeTab(ReadTab):
    """What it is."""

    title = "What it is"


class AfterTab(ReadTab):
    """Against the forecast."""

    title = "Measure"
    which = "after"

    def lines(self, found: WindingStudy | None) -> list[str]:
        if found is None or found.chosen is None or found.after is None:
            return ["Decide on an option first: readings are held against its forecast."]
        one, say, made = found.chosen, self.session.say, []
        made.append(f"forecast: {say(one.kv, 'kv')}, {say(one.ohm, 'resistance')} of each pair at 20 °C, the same within 2 %")
        for check in found.after.checks:
            made.append(f"{MARKS.get(check.status, '·')} <b>{check.name}</b>: {check.words}")
        for cause in found.after.causes:
            made.append(f"{100 * cause.share:.0f} of 100: <b>{cause.words}</b>. Decides: {cause.test}.")
        made.append("Core tests with controller, sensors and thermistor unplugged; AC high-voltage tests are for people equipped for them.")
        return made
